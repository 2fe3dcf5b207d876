"""What lies near a design: the seam, hem or border it is measured from, and a front's opening."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.cloth.place import Mark, corner_edge_mm
from clothyard.core.house.document import GoodsClass, Position
from clothyard.core.record import record

NOISE_MM = 1e-6


@record
class Near:
    """What a sewn area comes near to.

    `left_mm` is less than nothing where it lies over it. `measure` is the place's own measure that
    moves it away ("gap_mm" or "side_mm"), and `to_mm` what that would be to leave enough. [mm]
    """

    what: str
    left_mm: float
    measure: str
    to_mm: float


def _from_reference(
    position: Position, mark: Mark, size_mm: tuple[float, float], least: float
) -> Near | None:
    if not position.seam or mark.from_reference_mm is None:
        return None
    if position.corner_deg:
        edge = corner_edge_mm(mark.from_reference_mm, corner_deg=position.corner_deg)
        left = edge - max(size_mm) / 2
        one = corner_edge_mm(1, corner_deg=position.corner_deg)
        return Near("an edge", left, "gap_mm", mark.from_reference_mm + (least - left) / one)
    left = mark.from_reference_mm - size_mm[1] / 2
    gap = left if position.anchor != "centre" else mark.from_reference_mm
    return Near(position.reference, left, "gap_mm", gap + least - left)


def _from_opening(
    position: Position, mark: Mark, goods: GoodsClass, size_mm: tuple[float, float], least: float
) -> Near | None:
    """The placket or zip down the middle of the front, as far as it goes."""
    half, wide = goods.opening_mm / 2, size_mm[0] / 2
    in_front = "centre front" in position.side_reference
    if not goods.opening_to_mm or not in_front or mark.from_reference_mm is None:
        return None
    if mark.from_reference_mm - size_mm[1] / 2 >= goods.opening_to_mm + least:
        return None
    left = abs(mark.side_mm) - wide - half
    away = half + least + wide
    return Near("the front's opening", left, "side_mm", -away if mark.side_mm < 0 else away)


def nearest_seam(
    position: Position,
    goods: GoodsClass,
    marks: Sequence[Mark],
    *,
    size_mm: tuple[float, float],
    least_mm: float,
) -> Near | None:
    """Find what a design comes nearer to than is safe; None when nothing is.

    Parameters
    ----------
    position, goods : Position, GoodsClass
        Whether its reference is a seam; how wide the opening of the front is, and how long.
    marks : sequence of Mark
        Its centre, for each group of sizes.
    size_mm : (float, float)
        As it lies on the piece. [mm]
    least_mm : float
        Nearer than this a seam may be caught. [mm]

    Source
    ------
    docs/formulas.md 6; handbook checks, seam-near.
    """
    found = [
        near
        for mark in marks
        for near in (
            _from_reference(position, mark, size_mm, least_mm),
            _from_opening(position, mark, goods, size_mm, least_mm),
        )
        if near and near.left_mm < least_mm - NOISE_MM
    ]
    return min(found, key=lambda near: near.left_mm, default=None)
