"""What is sewn in one hooping: a design once, a band's motifs, several pieces, or a part."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from typing import Literal

from clothyard.core.cloth.hoops import Fit, accepts, fit_in, frame_rank
from clothyard.core.cloth.room import RoomNow, goes_in, reaches
from clothyard.core.house.document import ANY, GoodsClass, HoldKind, Hoop, Machine
from clothyard.core.job.document import Band, Blocks, Placement, Split, Together
from clothyard.core.record import record
from clothyard.core.units import LENGTH_EPSILON, floor_ratio

MAX_GRID = 100

Kind = Literal["single", "band", "blocks", "together", "split"]
Size = tuple[float, float]


@record
class Layout:
    """What one hooping holds.

    Attributes
    ----------
    kind : single, band, blocks, together or split
    copies : int
        How often the design is sewn on a piece: the motifs of a band, the blocks of a quilt.
    hoopings : int
        Hoopings a piece takes (1 where several pieces share one).
    pieces : int
        Pieces that share a hooping.
    columns, rows : int
        Motifs, pieces or parts side by side and one below the other; of a split, in all.
    gap_mm : float
        Between motifs or pieces; of blocks, from one design to the next across; of a split, the
        overlap. [mm]
    size_mm : (float, float)
        Sewn size of the largest hooping, before basting. [mm]
    closed : bool
        A band round a ring: its last hooping meets the first.
    mitres : int
        Corners of a band where motifs are cut off and meet: each is one more joint.
    """

    kind: Kind
    copies: int
    hoopings: int
    pieces: int
    columns: int
    rows: int
    gap_mm: float
    size_mm: Size
    closed: bool = False
    mitres: int = 0

    @property
    def joints(self) -> int:
        """Hoopings of a piece that must meet another: of a band or a split.

        Source: docs/formulas.md 7.
        """
        if self.kind not in ("band", "split") or self.hoopings < 2:
            return 0
        return self.hoopings - (0 if self.closed else 1) + self.mitres

    def hoopings_of(self, pieces: int) -> int:
        """Hoopings of a number of pieces."""
        return self.hoopings * pieces if self.pieces == 1 else math.ceil(pieces / self.pieces)

    def between_of(self, pieces: int) -> int:
        """Gaps between motifs or pieces that lie in one hooping, over a number of pieces."""
        if self.kind == "split":
            return 0
        return max(0, self.copies * pieces - self.hoopings_of(pieces))


def band_motifs(
    length_mm: float, motif_mm: float, *, gap_mm: float, closed: bool, fill: bool
) -> tuple[int, float]:
    """Count the motifs along a band and the gap between them.

    Parameters
    ----------
    length_mm, motif_mm, gap_mm : float
        The band, one motif along it, the gap wanted. [mm]
    closed : bool
        Round a ring: as many gaps as motifs.
    fill : bool
        Stretch an open band's gaps so that it is filled to both ends.

    Returns
    -------
    (motifs, gap_mm)
        0 motifs when one is longer than the band; one motif on an open band is centred.

    Source
    ------
    docs/formulas.md 5.

    >>> n, gap = band_motifs(1400, 90, gap_mm=10, closed=False, fill=True)
    >>> n, round(gap, 2)
    (14, 10.77)
    >>> band_motifs(560, 90, gap_mm=10, closed=True, fill=True)
    (5, 22.0)
    """
    pitch = motif_mm + gap_mm
    if closed:
        n = floor_ratio(length_mm, pitch)
        return n, (length_mm / n - motif_mm if n else gap_mm)
    n = floor_ratio(length_mm + gap_mm, pitch)
    if fill and n > 1:
        return n, (length_mm - n * motif_mm) / (n - 1)
    return n, gap_mm


def _usable(hoop: Hoop, margin_mm: float) -> Size:
    """What may be sewn in a hoop, its clearance and the basting kept. [mm]"""
    return (
        min(hoop.field_width_mm, hoop.opening_width_mm - 2 * hoop.clearance_mm) - 2 * margin_mm,
        min(hoop.field_height_mm, hoop.opening_height_mm - 2 * hoop.clearance_mm) - 2 * margin_mm,
    )


def _ways(hoop: Hoop, margin_mm: float) -> list[Size]:
    across = _usable(hoop, margin_mm)
    return [across, (across[1], across[0])] if hoop.turns else [across]


def _how_many(length_mm: float, part_mm: float, gap_mm: float) -> int:
    return min(MAX_GRID, max(0, floor_ratio(length_mm + gap_mm, part_mm + gap_mm)))


def _row_mm(n: int, part_mm: float, gap_mm: float) -> float:
    return n * part_mm + (n - 1) * gap_mm


@record
class Sides:
    """How corners part a band: equal sides, what of each its motifs may take. [mm]

    `turned` motifs lie on corners, of `mitred` ones they are cut off; `ring`: one round without a
    corner. `lead_mm` is where the motifs of a side may begin, from its own start.
    """

    count: int
    side_mm: float
    run_mm: float
    lead_mm: float
    turned: int
    mitred: int
    ring: bool


def band_sides(band: Band, motif_mm: float) -> Sides:
    """Part a band at its corners.

    Parameters
    ----------
    band : Band
    motif_mm : float
        One motif along it. [mm]

    Source
    ------
    docs/formulas.md 5.
    """
    corners = band.corners
    if not corners:
        return Sides(1, band.length_mm, band.length_mm, 0.0, 0, 0, band.closed)
    count = corners if band.closed else corners + 1
    side = band.length_mm / count
    if band.corner == "mitred":
        return Sides(count, side, side, 0.0, 0, corners, ring=False)
    half = motif_mm / 2 + band.gap_mm  # of the motif on the corner, and the gap to it
    ends = 1 if corners == 1 and not band.closed else 2
    lead = half if ends == 2 else 0.0
    return Sides(count, side, side - ends * half, lead, corners, 0, ring=False)


@record
class BandLaid:
    """Where the motifs of a band lie, straightened out. [mm]

    `starts_mm` of the motifs, in the order of the hoopings that `hoopings` says of each (from 0);
    `corners_mm` lie along it; `left_mm` is over on each side, at its ends.
    """

    starts_mm: tuple[float, ...]
    hoopings: tuple[int, ...]
    corners_mm: tuple[float, ...]
    left_mm: float


MOST_MOTIFS = 600
"""Of a band that is drawn."""


def lie_band(band: Band, layout: Layout, motif_mm: float) -> BandLaid:
    """Say where the motifs of a band lie.

    Parameters
    ----------
    band : Band
    layout : Layout
        As of `lay_band`.
    motif_mm : float
        One motif along it. [mm]

    Source
    ------
    docs/formulas.md 5.
    """
    sides, per, pitch = band_sides(band, motif_mm), layout.columns, motif_mm + layout.gap_mm
    n = (layout.copies - sides.turned) // sides.count
    row = _row_mm(n, motif_mm, layout.gap_mm)
    over = 0.0 if sides.ring else max(0.0, sides.run_mm - row)
    slack = over if n > 1 and band.fill else over / 2 if band.start == "middle" or n == 1 else 0.0
    slack = 0.0 if band.fill and n > 1 else slack
    starts: list[float] = []
    hoopings: list[int] = []
    first_corner = 0 if band.closed else 1
    corners = [(k + first_corner) * sides.side_mm for k in range(band.corners)]
    hooping = -1
    for side in range(sides.count):
        at = side * sides.side_mm
        if sides.turned and at in corners:
            hooping += 1
            starts.append(at - motif_mm / 2)
            hoopings.append(hooping)
        one_end = sides.turned == 1 and not band.closed and side == 1
        lead = motif_mm / 2 + band.gap_mm if one_end else sides.lead_mm
        for k in range(min(n, MOST_MOTIFS)):
            hooping += k % per == 0
            starts.append(at + lead + slack + k * pitch)
            hoopings.append(hooping)
    return BandLaid(tuple(starts), tuple(hoopings), tuple(corners), 0.0 if band.fill else over)


def block_order(blocks: Blocks) -> list[tuple[int, int]]:
    """List a quilt's blocks in the order that they are sewn: (column, row), from 0.

    From the middle outwards, ring by ring, each ring with the clock; or row by row.
    """
    cells = [(c, r) for r in range(blocks.rows) for c in range(blocks.columns)]
    if blocks.order == "rows":
        return cells
    middle = (blocks.columns - 1) / 2, (blocks.rows - 1) / 2

    def out(cell: tuple[int, int]) -> tuple[float, float]:
        x, y = cell[0] - middle[0], cell[1] - middle[1]
        return max(abs(x), abs(y)), math.atan2(x, -y) % (2 * math.pi)

    return sorted(cells, key=out)


def lay_band(band: Band, size_mm: Size, hoop: Hoop | None, margin_mm: float) -> Layout:
    """Lay a band's motifs into hoopings: as many to a field as its pitch allows.

    Parameters
    ----------
    band : Band
        As asked. [mm]
    size_mm : Size
        Sewn width and height of the design. [mm]
    hoop : Hoop | None
        None: not hooped.
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    Layout

    Source
    ------
    docs/formulas.md 5: per field = ⌊(field + gap)/pitch⌋, hoopings = ⌈n/per field⌉ of each side,
    and one of each corner that a motif is turned onto.
    """
    width, height = size_mm
    sides = band_sides(band, width)
    n, gap = band_motifs(sides.run_mm, width, gap_mm=band.gap_mm, closed=sides.ring, fill=band.fill)
    n, per = max(1, n), 1
    if hoop is not None:
        fits = [
            _how_many(along, width, gap)
            for along, across in _ways(hoop, margin_mm)
            if height <= across + LENGTH_EPSILON
        ]
        per = max(1, min(n, max(fits, default=1)))
    hoopings = math.ceil(n / per)
    per = math.ceil(n / hoopings)
    size = (_row_mm(per, width, gap), height)
    return Layout(
        "band",
        n * sides.count + sides.turned,
        hoopings * sides.count + sides.turned,
        1,
        per,
        1,
        gap,
        size,
        band.closed,
        sides.mitred,
    )


def lay_blocks(blocks: Blocks, size_mm: Size, hoop: Hoop | None, margin_mm: float) -> Layout:
    """Lay a design into each block of a grid: as many blocks to a hooping as the hoop takes.

    Parameters
    ----------
    blocks : Blocks
        As asked; without a size, each is as large as the design. [mm]
    size_mm : Size
        Sewn width and height of the design. [mm]
    hoop : Hoop | None
        None: not hooped.
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    Layout
        Blocks are marked each by itself, so that no hooping meets another.

    Source
    ------
    docs/formulas.md 5.
    """
    w, h = size_mm
    gaps = (max(0.0, (blocks.width_mm or w) - w), max(0.0, (blocks.height_mm or h) - h))
    columns, rows = 1, 1
    if hoop is not None:
        grids = [
            (
                max(1, min(blocks.columns, _how_many(along, w, gaps[0]))),
                max(1, min(blocks.rows, _how_many(across, h, gaps[1]))),
            )
            for along, across in _ways(hoop, margin_mm)
        ]

        def hoopings(grid: tuple[int, int]) -> int:
            return math.ceil(blocks.columns / grid[0]) * math.ceil(blocks.rows / grid[1])

        columns, rows = min(grids, key=hoopings)
    count = math.ceil(blocks.columns / columns) * math.ceil(blocks.rows / rows)
    size = (_row_mm(columns, w, gaps[0]), _row_mm(rows, h, gaps[1]))
    return Layout("blocks", blocks.columns * blocks.rows, count, 1, columns, rows, gaps[0], size)


def lay_together(
    wish: Together, size_mm: Size, hoop: Hoop | None, margin_mm: float, *, most: int
) -> Layout:
    """Lay several pieces into one hooping, both ways round, `most` at the most.

    Parameters
    ----------
    wish : Together
        What is asked.
    size_mm : Size
        Sewn width and height of the design. [mm]
    hoop : Hoop | None
        None: not hooped.
    margin_mm : float
        What basting or a base adds on each side. [mm]
    most : int
        Pieces that there are to lay.

    Returns
    -------
    Layout

    Source
    ------
    docs/formulas.md 5.
    """
    (w, h), gap = size_mm, wish.spacing_mm
    columns, rows = wish.columns or 1, wish.rows or 1
    if wish.columns is None and hoop is not None:
        grids = [
            (_how_many(along, w, gap), _how_many(across, h, gap))
            for along, across in _ways(hoop, margin_mm)
        ]
        columns, rows = max(grids, key=lambda grid: grid[0] * grid[1])
        columns, rows = max(1, columns), max(1, rows)
        if columns * rows > most:
            columns = min(columns, most)
            rows = min(rows, math.ceil(most / columns))
    size = (_row_mm(columns, w, gap), _row_mm(rows, h, gap))
    return Layout("together", 1, 1, columns * rows, columns, rows, gap, size)


def lay_split(wish: Split, size_mm: Size, hoop: Hoop | None, margin_mm: float) -> Layout:
    """Split a design over as few hoopings as the hoop allows, each overlapping the next.

    Parameters
    ----------
    wish : Split
        What is asked.
    size_mm : Size
        Sewn width and height of the design. [mm]
    hoop : Hoop | None
        None: not hooped.
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    Layout

    Source
    ------
    docs/formulas.md 5.
    """
    lap = wish.overlap_mm
    columns, rows = wish.columns or 1, wish.rows or 1
    if wish.columns is None and hoop is not None:
        grids = [
            tuple(
                max(1, math.ceil((part - lap) / max(room - lap, 1.0) - LENGTH_EPSILON))
                for part, room in zip(size_mm, way, strict=True)
            )
            for way in _ways(hoop, margin_mm)
        ]
        columns, rows = min(grids, key=lambda grid: grid[0] * grid[1])
    size = tuple(
        (part + (n - 1) * lap) / n for part, n in zip(size_mm, (columns, rows), strict=True)
    )
    n = columns * rows
    return Layout("split", 1, n, 1, columns, rows, lap, (size[0], size[1]))


def lay_out(
    placement: Placement, size_mm: Size, hoop: Hoop | None, *, margin_mm: float, most: int
) -> Layout:
    """Lay a placement's design into hoopings of one hoop.

    Parameters
    ----------
    placement : Placement
        Its band, blocks, together or split; none of them is a single design.
    size_mm : (float, float)
        The design as it lies on the piece. [mm]
    hoop : Hoop or None
        None: nothing fits; what was typed is kept, else one at a time.
    margin_mm : float
        Basting or base outside the sewn area, each side. [mm]
    most : int
        Pieces in all.
    """
    if placement.band is not None:
        return lay_band(placement.band, size_mm, hoop, margin_mm)
    if placement.blocks is not None:
        return lay_blocks(placement.blocks, size_mm, hoop, margin_mm)
    if placement.together is not None:
        return lay_together(placement.together, size_mm, hoop, margin_mm, most=most)
    if placement.split is not None:
        return lay_split(placement.split, size_mm, hoop, margin_mm)
    return Layout("single", 1, 1, 1, 1, 1, 0.0, size_mm)


def grown(size_mm: Size, margin_mm: float) -> Size:
    """Grow a size by a margin on each side. [mm]

    Parameters
    ----------
    size_mm : Size
        Sewn width and height of the design. [mm]
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    Size
    """
    return size_mm[0] + 2 * margin_mm, size_mm[1] + 2 * margin_mm


@record
class HoopTry:
    """One hoop tried: how the design lies in it, and why the hoop is not for it ("" if it is).

    `goes_in` says whether its outside goes into the tube, `held` whether the cloth reaches it.
    """

    hoop_id: str
    layout: Layout
    fit: Fit
    refusal: str
    goes_in: bool = True
    held: bool = True

    @property
    def does(self) -> bool:
        """Whether the design can be sewn in it."""
        return not self.refusal and self.fit.fits


def try_hoops(
    placement: Placement,
    size_mm: Size,
    *,
    hoops: Mapping[str, Hoop],
    machine: Machine,
    goods: GoodsClass,
    hold: HoldKind,
    margin_mm: float,
    most: int,
    room: RoomNow | None = None,
    machine_id: str = ANY,
) -> list[HoopTry]:
    """Try every hoop: those that do first, the proposed one at the head, then the nearest misses.

    Fewest hoopings first, then the frames the goods ask for, then the least opening area (ties:
    the shorter longer side).

    Parameters
    ----------
    placement : Placement
        As asked.
    size_mm : Size
        Sewn width and height of the design. [mm]
    hoops : Mapping[str, Hoop]
        The shop's, by id.
    machine : Machine
        That it is to go on.
    goods : GoodsClass
        The class that is sewn on.
    hold : HoldKind
        How the goods are held.
    margin_mm : float
        What basting or a base adds on each side. [mm]
    most : int
        Pieces that there are to lay.
    room : RoomNow or None
        Of the place: what goes into its tube.
    machine_id : str
        The machine's; "any" where that is not asked.

    Returns
    -------
    list[HoopTry]

    Source
    ------
    docs/formulas.md 5.
    """

    cloth_mm = room.cloth_mm if room else None

    def tries() -> Iterator[HoopTry]:
        for hoop_id, hoop in hoops.items():
            layout = lay_out(placement, size_mm, hoop, margin_mm=margin_mm, most=most)
            fit = fit_in(*grown(layout.size_mm, margin_mm), hoop)
            refusal = accepts(hoop, machine=machine, goods=goods, hold=hold, machine_id=machine_id)
            inside = goes_in(hoop, fit, room)
            if not refusal and not inside and room is not None:
                refusal = f"its outside does not go into the tube ({room.tube_mm:g} mm at most)"
            held = hold == "float" or reaches(hoop, cloth_mm, turned=fit.turned)
            if not refusal and not held:
                refusal = "the cloth does not reach into its ring"
            yield HoopTry(hoop_id, layout, fit, refusal, inside, held)

    def rank(tried: HoopTry) -> tuple[bool, bool, float, float, tuple[int, float, float]]:
        each = tried.layout.hoopings_of(most)
        miss = 0.0 if tried.does else tried.fit.miss_mm
        order = frame_rank(hoops[tried.hoop_id], goods, hold)
        return not tried.does, bool(tried.refusal), miss, each, order

    return sorted(tries(), key=rank)
