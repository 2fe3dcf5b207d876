"""Where a design goes on the piece: the centre mark in numbers, in words, and as geometry."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping

from clothyard.core.cloth.hoops import Fit
from clothyard.core.house.document import Hoop, PlaceSize, Position
from clothyard.core.job.document import Band, Place
from clothyard.core.measures import Units, length_text
from clothyard.core.record import record

Point = tuple[float, float]


@record
class Mark:
    """The centre mark of some sizes.

    Attributes
    ----------
    sizes : str
        Which sizes it holds for, in words; "" for all.
    gap_mm : float or None
        From the reference to the part of the design that the position measures to; None where only
        a share is known. [mm]
    from_reference_mm : float or None
        From the reference to the centre of the design; None where only a share is known. [mm]
    side_mm : float
        From the centre line, towards the side the position names. [mm]
    x_mm, y_mm : float
        The mark seen from the front: right and down of the reference on its centre line; of a
        corner, along its two edges. [mm]
    words : str
        For the maker.
    """

    sizes: str
    gap_mm: float | None
    from_reference_mm: float | None
    side_mm: float
    x_mm: float
    y_mm: float
    words: str


@record
class Placed:
    """A design in its place.

    `corners_mm` are the design's own corners round the mark, turned and tilted, from its top
    left with the clock; `hoop_way` is how far the design lies round from upright in the hoop: its
    turn on the piece, and the way the piece goes in; `nearest_rim` is the side of the opening that
    the sewn area comes nearest to, and by how much. [mm, degrees]
    """

    marks: tuple[Mark, ...]
    corners_mm: tuple[Point, ...]
    turn: int
    tilt_deg: float
    mirror: bool
    hoop_way: int
    nearest_rim: tuple[str, float] | None


def corner_edge_mm(along_mm: float, *, corner_deg: float) -> float:
    """Distance from each edge of a point on a corner's bisector: d · sin(α/2). [mm]

    Parameters
    ----------
    along_mm : float
        From the corner. [mm]
    corner_deg : float
        Of the corner. [degrees]

    Returns
    -------
    float
        [mm]

    Source
    ------
    docs/formulas.md 6.

    >>> round(corner_edge_mm(125, corner_deg=90), 1)
    88.4
    """
    return along_mm * math.sin(math.radians(corner_deg) / 2)


def lying_size(size_mm: tuple[float, float], place: Place) -> tuple[float, float]:
    """Return the box that a turned and tilted design takes up on the piece. [mm]

    Parameters
    ----------
    size_mm : tuple[float, float]
        Sewn width and height of the design. [mm]
    place : Place
        Turn, tilt and mirror as asked.

    Returns
    -------
    tuple[float, float]
    """
    w, h = size_mm if place.turn in {0, 180} else size_mm[::-1]
    if not place.tilt_deg:
        return w, h
    a = math.radians(abs(place.tilt_deg))
    return w * math.cos(a) + h * math.sin(a), w * math.sin(a) + h * math.cos(a)


def hooped_size(
    size_mm: tuple[float, float], place: Place, position: Position | None
) -> tuple[float, float]:
    """Return the box that a design takes up in its hoop and in its room. [mm]

    At a corner both lie on the diagonal with it; elsewhere as the piece does.

    Parameters
    ----------
    size_mm : tuple[float, float]
        Sewn width and height of the design. [mm]
    place : Place
        Turn, tilt and mirror as asked.
    position : Position | None
        The place on the piece.

    Returns
    -------
    tuple[float, float]
    """
    if position is not None and position.corner_deg:
        place = place.model_copy(update={"tilt_deg": 0.0})
    return lying_size(size_mm, place)


def turned_corners(size_mm: tuple[float, float], place: Place) -> tuple[Point, ...]:
    """Return the design's corners round its centre, turned with the clock. [mm]

    Parameters
    ----------
    size_mm : tuple[float, float]
        Sewn width and height of the design. [mm]
    place : Place
        Turn, tilt and mirror as asked.

    Returns
    -------
    tuple[Point, ...]
    """
    angle = math.radians(place.turn + place.tilt_deg)
    c, s = math.cos(angle), math.sin(angle)
    w, h = size_mm[0] / 2, size_mm[1] / 2
    # y points down, so a turn with the clock has the usual sign
    return tuple((x * c - y * s, x * s + y * c) for x, y in ((-w, -h), (w, -h), (w, h), (-w, h)))


def size_group(
    size: str, position_id: str, sizes: Mapping[str, PlaceSize]
) -> tuple[str, PlaceSize] | None:
    """Find the measures for a size: the group that lists it, else the one with a star.

    Parameters
    ----------
    size : str
        As the cell names it.
    position_id : str
        The place on the piece.
    sizes : Mapping[str, PlaceSize]
        The positions' measures by size.

    Returns
    -------
    tuple[str, PlaceSize] | None
        The group's id and measures; None where the position has no sizes.
    """
    own = {key: row for key, row in sizes.items() if row.position == position_id}
    wanted = size.strip().lower()
    for key, row in own.items():
        listed = row.sizes.lower().split()
        if wanted and (wanted in listed or any(word in listed for word in wanted.split())):
            return key, row
    return next(((k, row) for k, row in own.items() if "*" in row.sizes.split()), None)


def _band_words(position: Position, mark: float, band: Band, units: Units) -> str:
    """Say where the line of a band's motifs runs, and where it is begun."""
    line = length_text(mark, units=units)
    where = f"The motifs' middle line runs {line} {position.direction} {position.reference}"
    if band.closed:
        return f"{where}, all the way round."
    if band.start == "end" and not band.fill:
        return f"{where}, begun at one end."
    return f"{where}, marked from {position.side_reference} both ways."


def _words(
    position: Position, mark: float, gap: float, side: float, height: float, units: Units
) -> str:
    def said(mm: float) -> str:
        return length_text(mm, units=units)

    where = f"{said(mark)} {position.direction} {position.reference}"
    if position.corner_deg:
        edge = corner_edge_mm(mark, corner_deg=position.corner_deg)
        return (
            f"Centre mark {said(mark)} in from {position.reference} along its bisector: "
            f"{said(edge)} from each edge."
        )
    text = f"Centre mark {where}, {_side_words(position, side, units)}"
    if position.anchor == "centre":
        return text + "."
    return (
        f"{text}: the design's {position.anchor} is {said(gap)} {position.direction} it, "
        f"half its height ({said(height / 2)}) more to the mark."
    )


def _sideways(position: Position, side: float) -> float:
    """To the viewer's right, which is the wearer's left. [mm]"""
    return -side if position.side == "wearer's right" else side


def _side_words(position: Position, side: float, units: Units) -> str:
    if not side:
        return f"on {position.side_reference}"
    whose = {"centre": "right as you look at it"}.get(position.side, position.side)
    if side < 0:
        one, other = ("left", "right") if "left" in whose else ("right", "left")
        whose = whose.replace(one, other)
    return f"{length_text(abs(side), units=units)} from {position.side_reference}, on the {whose}"


def _mark(
    position: Position,
    place: Place,
    height_mm: float,
    group: tuple[str, PlaceSize] | None,
    units: Units,
    band: Band | None,
) -> Mark:
    row = group[1] if group else None
    gap = position.gap_mm if row is None else row.gap_mm
    side = position.side_mm if row is None else row.side_mm
    gap = gap if place.gap_mm is None else place.gap_mm
    side = side if place.side_mm is None else place.side_mm
    label = row.label if row else ""
    if position.share and place.gap_mm is None:
        share = {0.5: "half", 0.3333: "a third of"}.get(position.share, f"{position.share:.0%} of")
        words = f"Centre mark {share} the way down from {position.reference}, "
        words += f"{_side_words(position, side, units)}."
        return Mark(label, None, None, side, _sideways(position, side), 0.0, words)
    mark = gap if position.anchor == "centre" else gap + height_mm / 2
    (gx, gy), (sx, sy) = moves(position)
    x, y = mark * gx + side * sx, mark * gy + side * sy
    if band is not None and not position.corner_deg:
        words = _band_words(position, mark, band, units)
    else:
        words = _words(position, mark, gap, side, height_mm, units)
    return Mark(label, gap, mark, side, x, y, words)


def moves(position: Position) -> tuple[Point, Point]:
    """Say how the mark moves for a millimetre more of each measure: (of the gap, sideways).

    To the viewer's right and down, from the reference; at a corner along its edges.

    Source: docs/formulas.md 6.
    """
    if position.corner_deg:
        edge = corner_edge_mm(1, corner_deg=position.corner_deg)
        return (edge, edge), (0.0, 0.0)
    down = -1.0 if position.direction == "above" else 1.0
    return (0.0, down), (_sideways(position, 1.0), 0.0)


def place_marks(
    position_id: str,
    position: Position,
    place: Place,
    *,
    height_mm: float,
    cell_sizes: Iterable[str],
    sizes: Mapping[str, PlaceSize],
    units: Units = "metric",
    band: Band | None = None,
) -> tuple[Mark, ...]:
    """Return the centre mark, one for each group of sizes ordered.

    Parameters
    ----------
    position_id, position : str, Position
    place : Place
        Typed measures go before the position's own.
    height_mm : float
        Of the design as it lies. [mm]
    cell_sizes : iterable of str
        Sizes ordered; empty: the usual group.
    sizes : mapping of str to PlaceSize
    units : metric or imperial
        What the words are in.
    band : Band, optional
        That the design is repeated along: its line is told then.

    Source
    ------
    docs/formulas.md 6: centre mark = reference + gap + design height / 2.
    """
    groups: dict[str, tuple[str, PlaceSize] | None] = {}
    for size in list(cell_sizes) or [""]:
        group = size_group(size, position_id, sizes)
        groups.setdefault(group[0] if group else "", group)
    typed = place.gap_mm is not None and place.side_mm is not None
    chosen = [None] if typed else list(groups.values())
    return tuple(_mark(position, place, height_mm, group, units, band) for group in chosen)


def put_in_place(
    position_id: str,
    position: Position,
    place: Place,
    *,
    size_mm: tuple[float, float],
    sewn_mm: tuple[float, float],
    cell_sizes: Iterable[str],
    sizes: Mapping[str, PlaceSize],
    hoop: Hoop | None,
    fit: Fit | None,
    way: int = 0,
    units: Units = "metric",
    band: Band | None = None,
) -> Placed:
    """Put a design in its place: marks, corners, the way up in the hoop, the nearest rim.

    Parameters
    ----------
    size_mm : (float, float)
        The design before it is turned. [mm]
    sewn_mm : (float, float)
        What is sewn in one hooping, as it lies. [mm]
    hoop, fit : Hoop, Fit, optional
        None when nothing fits.
    way : int
        How far piece and design are turned together as they go in. [degrees]
    band : Band, optional
        That the design is repeated along.
    """
    lying = lying_size(size_mm, place)
    rim = None
    if hoop and fit:
        w, h = sewn_mm if not fit.turned else sewn_mm[::-1]
        rims = {
            "left and right": (hoop.opening_width_mm - w) / 2,
            "top and bottom": (hoop.opening_height_mm - h) / 2,
        }
        side = min(rims, key=lambda name: rims[name])
        rim = (side, rims[side])
    return Placed(
        marks=place_marks(
            position_id,
            position,
            place,
            height_mm=lying[1],
            cell_sizes=cell_sizes,
            sizes=sizes,
            units=units,
            band=band,
        ),
        corners_mm=turned_corners(size_mm, place),
        turn=place.turn,
        tilt_deg=place.tilt_deg,
        mirror=place.mirror,
        hoop_way=(place.turn + way) % 360,
        nearest_rim=rim,
    )
