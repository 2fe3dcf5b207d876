"""Cutting pieces of backing or topping from rolls."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from clothyard.core.house import Roll
from clothyard.core.units import LENGTH_EPSILON, exact, floor_ratio


@dataclass(frozen=True, slots=True)
class Cut:
    """How a count of equal pieces is cut from one roll.

    Attributes
    ----------
    roll : str
        Its id.
    fits : bool
        False: the piece is wider than the roll, and is joined from strips.
    turned : bool
        The piece lies a quarter turn round.
    across, rows : int
        Pieces side by side, rows along the roll.
    step_mm, length_mm : float
        From row to row; used of the roll in all. [mm]
    rolls : int
        Rolls to open.
    waste : float
        Share of the used length that is not piece.
    cost : Decimal
        Length × price. Not rounded.
    """

    roll: str
    fits: bool
    turned: bool
    across: int
    rows: int
    step_mm: float
    length_mm: float
    rolls: int
    waste: float
    cost: Decimal


def _one_way(w: float, h: float, *, count: int, roll: Roll) -> tuple[int, int, float] | None:
    across = floor_ratio(roll.width_mm, w)
    if across < 1:
        return None
    step = h
    if roll.perforation_mm > 0:
        step = math.ceil(h / roll.perforation_mm - LENGTH_EPSILON) * roll.perforation_mm
    if floor_ratio(roll.length_m * 1000, step) < 1:
        return None
    return across, math.ceil(count / across), step


def _joined(w: float, h: float, *, count: int, roll: Roll) -> tuple[bool, float]:
    ways = [
        (turned, math.ceil(a / roll.width_mm - LENGTH_EPSILON) * b)
        for turned, a, b in ((False, w, h), (True, h, w))
    ]
    turned, length = min(ways, key=lambda way: way[1])
    return turned, length * count


@lru_cache(maxsize=4096)
def cut_from_roll(
    width_mm: float, height_mm: float, *, count: int, roll_id: str, roll: Roll
) -> Cut:
    """Cut equal pieces from a roll, whichever way round uses less of it.

    Parameters
    ----------
    width_mm, height_mm : float
        The piece. [mm]
    count : int
        Pieces, 1 or more.
    roll_id, roll : str, Roll
        What it is cut from.

    Returns
    -------
    Cut
        Equal lengths: as it stands. When the piece fits neither way round, `fits` is False and
        it is joined from strips.

    Source
    ------
    docs/formulas.md 4.
    """
    ways = []
    for turned, w, h in ((False, width_mm, height_mm), (True, height_mm, width_mm)):
        way = _one_way(w, h, count=count, roll=roll)
        if way:
            across, rows, step = way
            ways.append((rows * step, turned, across, rows, step))
    if ways:
        length, turned, across, rows, step = min(ways, key=lambda way: way[0])
        rolls = math.ceil(rows / floor_ratio(roll.length_m * 1000, step))
    else:
        turned, length = _joined(width_mm, height_mm, count=count, roll=roll)
        across, rows, step = 1, count, length / count
        rolls = math.ceil(length / (roll.length_m * 1000) - LENGTH_EPSILON)
    waste = 1 - count * width_mm * height_mm / (length * roll.width_mm)
    cost = exact(length) * roll.price / (exact(roll.length_m) * 1000)
    return Cut(roll_id, bool(ways), turned, across, rows, step, length, rolls, waste, cost)


def cut_from_best(
    width_mm: float, height_mm: float, *, count: int, rolls: Mapping[str, Roll]
) -> Cut:
    """Cut from the roll that costs least; when the piece fits none, from the widest.

    Parameters
    ----------
    rolls : mapping of id to Roll, at least one
        The rolls of the material.
    """
    cuts = [
        cut_from_roll(width_mm, height_mm, count=count, roll_id=roll_id, roll=roll)
        for roll_id, roll in rolls.items()
    ]
    fitting = [cut for cut in cuts if cut.fits]
    if fitting:
        return min(fitting, key=lambda cut: cut.cost)
    return max(cuts, key=lambda cut: rolls[cut.roll].width_mm)
