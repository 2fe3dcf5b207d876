"""Design facts: what an estimate needs of a design, so that it never touches single stitches."""

from __future__ import annotations

import math
from typing import Literal

import numpy as np
import shapely
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from clothyard.core.limits import DesignKind
from clothyard.core.stitches.applique import Applique, find_applique
from clothyard.core.stitches.stitch_plan import FLOW, JUMP, STOP, TRIM, StitchPlan

BACK_SHARE = 1 / 3
"""Share of a satin column's back where bobbin thread shows under balanced tension."""
PULL = (1 - BACK_SHARE) / 2
"""s: how far each needle loop is drawn toward the middle of its two neighbours."""
LONG_STITCH_MM = 12.7
NARROW_SATIN_MM = 1.5
NARROW_TURN_COS = float(np.cos(np.radians(135)))
JUMP_STEP_MM = 12.0
HAND_CLIP_MM = 2.0
SHORT_STITCH_MM = 0.4
CELL_MM = 5.0
LOCK_STITCHES = 3

Count = int | float
"""A count; of the mean of several designs, not whole."""


class Lengths(BaseModel):
    """Stitch lengths as a histogram: each length that occurs and how often. [mm]"""

    model_config = ConfigDict(frozen=True, extra="forbid")
    mm: tuple[float, ...] = ()
    count: tuple[Count, ...] = ()


class BlockFacts(BaseModel):
    """One colour block, all sums bare: linear in thickness, nothing added yet.

    `needle_mm` leaves out the thickness: the bare needle length is
    needle_mm + 2 t (stitches). `trim_gap_mm` is the distance over its trims, which becomes
    a float on a machine that does not trim.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    colour: str | None
    stitches: Count
    trims: Count
    jumps: Count
    stops: int
    needle_mm: float
    bobbin_mm: float
    trim_gap_mm: float
    jump_turns: Count
    trim_turns: Count
    clips: Count
    lengths: Lengths
    narrow: Lengths
    width_mm: float | None = None
    height_mm: float | None = None
    """Of its penetrations; unknown without geometry."""

    role: Literal["design", "base"] = "design"


class DesignFacts(BaseModel):
    """A whole design. Sizes in mm; `band` is the share by which an estimate may be off.

    `outward` and `upward` are how far the sewing goes from the middle out and from the bottom up,
    as correlations of place with order, −1 to 1. `hull_mm2` and `hull_edge_mm` are area and edge of
    the convex outline round all penetrations.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    source: Literal["file", "count", "words"]
    sha256: str | None
    name: str
    kind: DesignKind | None
    band: float
    width_mm: float
    height_mm: float
    letter_height_mm: float | None
    stitches: Count
    longest_stitch_mm: float | None
    short_share: float | None
    outward: float | None = None
    upward: float | None = None
    hottest_cell: int | None
    median_cell: float | None
    hull_mm2: float | None = None
    hull_edge_mm: float | None = None
    fill_share: float | None = None
    """Of the penetrations of a file, those in the midst of a filled area; None without geometry."""

    told: tuple[str, ...] = ()
    """What was odd about its file, in sentences."""

    trims_kept: bool = True
    """Whether its kind of file holds trims at all."""

    applique: Applique | None = None
    """Where cloth seems to be laid; None where nothing looks so."""

    blocks: tuple[BlockFacts, ...]

    @property
    def trims(self) -> Count:
        """Trims between two runs of one block, over all blocks."""
        return sum(block.trims for block in self.blocks)

    @property
    def jumps(self) -> Count:
        """Untrimmed jumps, over all blocks."""
        return sum(block.jumps for block in self.blocks)

    @property
    def stops(self) -> int:
        """Stops inside blocks."""
        return sum(block.stops for block in self.blocks)

    @property
    def colour_changes(self) -> int:
        """Blocks less one."""
        return len(self.blocks) - 1

    @property
    def colour_keys(self) -> tuple[str, ...]:
        """A key per block; equal keys are the same thread. Unknown colours all differ."""
        first = 1 - sum(b.role == "base" for b in self.blocks)
        return tuple(
            "base" if b.role == "base" else b.colour or f"colour {i}"
            for i, b in enumerate(self.blocks, first)
        )

    @property
    def identity(self) -> str:
        """What tells a design from another one: its content, or all that was said of it.

        Of names, one a piece, it is what is sewn round them, not how long they are.
        """
        if "{name}" in self.name:
            return f"names {self.name} {self.letter_height_mm} {len(self.blocks)}"
        size = f"{self.width_mm:.3f}x{self.height_mm:.3f}"
        said = f"{self.source} {self.kind} {self.name} {size} {self.letter_height_mm}"
        return self.sha256 or f"{said} {len(self.blocks)} {self.trims}"


def _histogram(lengths_mm: NDArray[np.float64]) -> Lengths:
    values, counts = np.unique(np.round(lengths_mm, 6), return_counts=True)
    return Lengths(mm=tuple(values.tolist()), count=tuple(counts.tolist()))


def _narrow_satin(
    steps: NDArray[np.float64], length: NDArray[np.float64], sewn: NDArray[np.bool_]
) -> NDArray[np.bool_]:
    """Mark the stitches under 1.5 mm that turn by more than 135° at both ends."""
    product = length[:-1] * length[1:]
    turn = np.full(product.shape, 1.0)
    np.divide((steps[:-1] * steps[1:]).sum(axis=1), product, out=turn, where=product > 0)
    sharp = (turn < NARROW_TURN_COS) & sewn[:-1] & sewn[1:]
    narrow: NDArray[np.bool_] = np.zeros(length.shape, dtype=bool)
    narrow[1:-1] = sharp[:-1] & sharp[1:]
    return narrow & (length < NARROW_SATIN_MM) & sewn


def _cells(points: NDArray[np.float64]) -> tuple[int, float]:
    """Count penetrations in 5 mm cells: the fullest, and the median of cells with at least 5."""
    cell = np.floor((points - points.min(axis=0)) / CELL_MM + 1e-6).astype(np.int64)
    counts = np.bincount(cell[:, 0] * (cell[:, 1].max() + 1) + cell[:, 1])
    used = counts[counts >= 5]
    return int(counts.max()), float(np.median(used)) if used.size else 0.0


FILL_TURN_COS = float(np.cos(np.radians(45)))
ROW_MM = 0.6
"""Rows of a filled area lie no further apart."""
GRID_MM = ROW_MM / 2
_NEAR = [(x, y) for x in range(-2, 3) for y in range(-2, 3) if x * x + y * y <= 5]
_MARGIN = 3
"""Cells round the sewn area, so that none has neighbours outside."""


def _fill_share(
    points: NDArray[np.float64], steps: NDArray[np.float64], sewn: NDArray[np.bool_]
) -> float:
    """Share of penetrations in the midst of filled area: straight on twice, beside another row.

    Source: docs/formulas.md 5. Rows are looked for on a grid of half their distance.
    """
    length = np.hypot(steps[:, 0], steps[:, 1])
    product = length[:-1] * length[1:]
    turn = np.full(product.shape, -1.0)
    np.divide((steps[:-1] * steps[1:]).sum(axis=1), product, out=turn, where=product > 0)
    straight = np.zeros(len(points), dtype=bool)
    straight[1:-1] = (turn > FILL_TURN_COS) & sewn[:-1] & sewn[1:]
    twice = np.zeros_like(straight)
    twice[1:-1] = straight[1:-1] & (straight[:-2] | straight[2:])
    found = np.flatnonzero(twice)
    if not found.size:
        return 0.0
    flow = np.flatnonzero(sewn)
    parts = np.maximum(1, np.ceil(length[flow] / GRID_MM)).astype(np.int64)
    segment = np.repeat(flow, parts)
    along = (np.arange(segment.size) - np.repeat(np.cumsum(parts) - parts, parts) + 0.5) / (
        np.repeat(parts, parts)
    )
    places = points[segment] + steps[segment] * along[:, None]
    origin = points.min(axis=0)
    cells = np.floor((places - origin) / GRID_MM).astype(np.int64) + _MARGIN
    across = int(np.floor(np.ptp(points[:, 0]) / GRID_MM)) + 2 * _MARGIN + 1
    down = int(np.floor(np.ptp(points[:, 1]) / GRID_MM)) + 2 * _MARGIN + 1
    flat = cells[:, 1] * across + cells[:, 0]
    # segments come in their order, so that what is written last into a cell is the latest
    latest = np.full(across * down, -1, dtype=np.int64)
    latest[flat] = segment
    earliest = np.full(across * down, len(points) + 9, dtype=np.int64)
    earliest[flat[::-1]] = segment[::-1]
    own = np.floor((points[found] - origin) / GRID_MM).astype(np.int64) + _MARGIN
    here = own[:, 1] * across + own[:, 0]
    near = here[:, None] + np.array([y * across + x for x, y in _NEAR])
    beside = (earliest[near] < found[:, None] - 2).any(axis=1)
    beside |= (latest[near] > found[:, None] + 1).any(axis=1)
    return float(np.count_nonzero(beside)) / len(points)


def _short_share(length: NDArray[np.float64], sewn: NDArray[np.bool_]) -> float:
    """Share of stitches under 0.4 mm, the locks at both ends of each run left out."""
    breaks = np.flatnonzero(~sewn)
    position = np.arange(length.size)
    before = np.concatenate(([-1], breaks))
    since = position - before[np.searchsorted(breaks, position, side="left")]
    after = np.concatenate((breaks, [length.size]))
    until = after[np.searchsorted(breaks, position, side="left")] - position
    inner = sewn & (since > LOCK_STITCHES) & (until > LOCK_STITCHES)
    return float((length[inner] < SHORT_STITCH_MM).mean()) if inner.any() else 0.0


def _goes(place: NDArray[np.float64]) -> float:
    """Correlate a place with the order of sewing: 1 when it grows all the way, 0 if it cannot."""
    n = place.size
    off = place - place.mean()
    spread = float(off @ off)
    if spread < n * 1e-19:
        return 0.0
    order = np.arange(n) - (n - 1) / 2
    return float(order @ off) / math.sqrt(spread * n * (n * n - 1) / 12)


def _drawn_loops(
    plan: StitchPlan, length: NDArray[np.float64]
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Work out the interlock model over a plan.

    Q is the loop on the back, drawn to its neighbours' middle unless it is fixed: at the ends of a
    run, of a jump and of a long segment.

    Returns
    -------
    loop, back : arrays of float
        Both ways of each penetration's loop, (n,), and the way on the back from one Q to the next,
        (n - 1,). [mm]
    """
    points, gaps = plan.points_mm, plan.gaps
    held = (gaps >= JUMP) | (length > LONG_STITCH_MM)
    fixed = np.ones(len(points), dtype=bool)
    fixed[1:-1] = held[:-1] | held[1:]
    pull = np.zeros_like(points)
    pull[1:-1] = PULL * ((points[:-2] + points[2:]) / 2 - points[1:-1])
    pull[fixed] = 0.0
    back_steps = np.diff(points + pull, axis=0)
    return 2 * np.hypot(pull[:, 0], pull[:, 1]), np.hypot(back_steps[:, 0], back_steps[:, 1])


def _blocks_of(plan: StitchPlan, steps: NDArray[np.float64]) -> tuple[BlockFacts, ...]:
    """Take the facts of each block; `steps` (n - 1, 2) lead between penetrations. [mm]"""
    gaps, block_of, n_blocks = plan.gaps, plan.block_of, len(plan.colours)
    length = np.hypot(steps[:, 0], steps[:, 1])
    loop, back = _drawn_loops(plan, length)

    def per_block(weights: NDArray[np.float64], where: NDArray[np.bool_]) -> list[float]:
        chosen = block_of[:-1][where]
        sums: list[float] = np.bincount(chosen, weights[where], minlength=n_blocks).tolist()
        return sums

    in_run, is_jump, is_trim, sewn = gaps <= JUMP, gaps == JUMP, gaps == TRIM, gaps == FLOW
    ones = np.ones_like(length)
    turns = np.ceil(length / JUMP_STEP_MM - 1e-6)
    counts = {kind: per_block(ones, gaps == kind) for kind in (JUMP, TRIM, STOP)}
    needle = np.add(per_block(length, in_run), np.bincount(block_of, loop, minlength=n_blocks))
    bobbin, trim_gap = per_block(back, in_run), per_block(length, is_trim)
    jump_turns, trim_turns = per_block(turns, is_jump), per_block(turns, is_trim)
    clips = per_block(ones, is_jump & (length > HAND_CLIP_MM))
    stitches = np.bincount(block_of, minlength=n_blocks).tolist()
    speed_length = np.concatenate(([0.0], np.where(sewn, length, 0.0)))
    slow = np.concatenate(([False], _narrow_satin(steps, length, sewn)))
    starts = np.searchsorted(block_of, np.arange(n_blocks + 1)).tolist()
    first = starts[:-1]
    points = plan.points_mm
    spans = np.maximum.reduceat(points, first) - np.minimum.reduceat(points, first)
    blocks = []
    for i, colour in enumerate(plan.colours):
        here = slice(starts[i], starts[i + 1])
        blocks.append(
            BlockFacts.model_construct(
                colour=colour,
                stitches=stitches[i],
                trims=int(counts[TRIM][i]),
                jumps=int(counts[JUMP][i]),
                stops=int(counts[STOP][i]),
                needle_mm=float(needle[i]),
                bobbin_mm=bobbin[i],
                trim_gap_mm=trim_gap[i],
                jump_turns=int(jump_turns[i]),
                trim_turns=int(trim_turns[i]),
                clips=int(clips[i]),
                lengths=_histogram(speed_length[here][~slow[here]]),
                narrow=_histogram(speed_length[here][slow[here]]),
                width_mm=float(spans[i, 0]),
                height_mm=float(spans[i, 1]),
            )
        )
    return tuple(blocks)


def analyse(
    plan: StitchPlan,
    *,
    sha256: str | None = None,
    name: str = "",
    told: tuple[str, ...] = (),
    trims_kept: bool = True,
) -> DesignFacts:
    """Take the facts of a stitch plan.

    Parameters
    ----------
    plan : StitchPlan
    sha256 : str, optional
        Of the file it came from.
    name : str
        What a seller calls it.
    told : tuple of str
        What was odd about its file.
    trims_kept : bool
        Whether its kind of file holds trims.

    Returns
    -------
    DesignFacts
        Exact, no band. Per block the bare sums of the interlock model at b = 1/3.

    Source
    ------
    docs/formulas.md 1 and 2.
    """
    points, sewn = plan.points_mm, plan.gaps == FLOW
    steps = np.diff(points, axis=0)
    length = np.hypot(steps[:, 0], steps[:, 1])
    hottest, median = _cells(points)
    hull = shapely.LineString(points).convex_hull
    width, height = np.ptp(points, axis=0).tolist()
    return DesignFacts(
        source="file",
        sha256=sha256,
        name=name,
        kind=None,
        band=0.0,
        width_mm=width,
        height_mm=height,
        letter_height_mm=None,
        stitches=len(points),
        longest_stitch_mm=float(length[sewn].max()) if sewn.any() else 0.0,
        short_share=_short_share(length, sewn),
        hottest_cell=hottest,
        median_cell=median,
        outward=_goes(np.abs(points[:, 0] - points[:, 0].mean())),
        upward=_goes(-points[:, 1]),
        hull_mm2=hull.area,
        hull_edge_mm=hull.length,
        fill_share=_fill_share(points, steps, sewn),
        told=told,
        trims_kept=trims_kept,
        applique=find_applique(plan),
        blocks=_blocks_of(plan, steps),
    )


def recoloured(facts: DesignFacts, colours: tuple[str, ...]) -> DesignFacts:
    """Lay the seller's own colour list over the file's, block by block.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    colours : tuple[str, ...]
        In sewing order.

    Returns
    -------
    DesignFacts
    """
    blocks = tuple(
        block.model_copy(update={"colour": colours[i]}) if i < len(colours) else block
        for i, block in enumerate(facts.blocks)
    )
    return facts.model_copy(update={"blocks": blocks})
