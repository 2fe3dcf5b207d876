"""Bobbins: how many, when they are changed, where each ends."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from clothyard.core.house.document import BobbinPlan, BobbinPolicy
from clothyard.core.record import record
from clothyard.core.units import LENGTH_EPSILON, floor_ratio

FINE_TEX = 16.0
"""The bobbin thread that capacities are stated for."""
MOST_ENDS_LISTED = 2_000


@record
class BobbinRun:
    """The bobbins of one thread over one pass.

    Attributes
    ----------
    capacity_m : float
        A full bobbin. [m]
    pieces_per_bobbin : int
        0 when one bobbin does not last a piece, or when bobbins are run out.
    count : int
        Bobbins opened.
    ends_m : tuple of (float, int)
        What is left on bobbins, and on how many of them. [m]
    changes : int
        Stops to change.
    change_s : float
        Each stop. [s]
    """

    capacity_m: float
    pieces_per_bobbin: int
    count: int
    ends_m: tuple[tuple[float, int], ...]
    changes: int
    change_s: float

    @property
    def left_m(self) -> float:
        """Left on the first that is not sewn empty. [m]"""
        return self.ends_m[0][0] if self.ends_m else 0.0

    @property
    def rest_m(self) -> float:
        """Left on all of them. [m]"""
        return sum(each * number for each, number in self.ends_m)

    def waste_m(self, shelf_m: float) -> float:
        """Left in ends too short for the shelf. [m]"""
        return sum(each * number for each, number in self.ends_m if each < shelf_m)


def bobbin_capacity_m(capacity_fine_m: float, *, tex: float = FINE_TEX) -> float:
    """Return how much of a thread of this fineness a bobbin holds. [m]

    Parameters
    ----------
    capacity_fine_m : float
        Of thread of 16 tex. [m]
    tex : float, optional
        Grams of 1000 m.

    Returns
    -------
    float
        [m]

    Source
    ------
    docs/formulas.md 3: C = C16 · 16 / tex.

    >>> round(bobbin_capacity_m(110, tex=27), 1)
    65.2
    """
    return capacity_fine_m * FINE_TEX / tex


def plan_bobbins(
    use_m: float,
    *,
    pieces: int,
    capacity_m: float,
    policy: BobbinPolicy,
    plan: BobbinPlan,
    heads: int = 1,
) -> BobbinRun:
    """Plan the bobbins of one thread over a pass.

    Parameters
    ----------
    use_m : float
        Bobbin thread of one piece in this pass. [m]
    pieces : int
        Pieces in the pass, 1 or more.
    capacity_m : float
        A full bobbin. [m]
    policy : between-pieces or run-out
    plan : BobbinPlan
        The house's fill share and change times.
    heads : int
        Heads of the machine; each sews its share of the pieces.

    Returns
    -------
    BobbinRun
        The first bobbin is in when the run begins, so changes = bobbins of a head - 1.

    Source
    ------
    docs/formulas.md 3 and 14. Run out, too, a bobbin is counted on for its fill.
    """
    per_head = math.ceil(pieces / heads)
    extra = plan.extra_head_s * (heads - 1)
    whole = floor_ratio(plan.fill * capacity_m, use_m) if use_m > 0 else pieces
    if policy == "between-pieces" and whole > 0:
        whole = min(whole, per_head) if use_m <= 0 else whole
        count = math.ceil(per_head / whole)
        ends = (
            (capacity_m - whole * use_m, (count - 1) * heads),
            (capacity_m - (per_head - whole * (count - 1)) * use_m, heads),
        )
        return BobbinRun(
            capacity_m, whole, count * heads, _ends(ends), count - 1, plan.change_between_s + extra
        )
    counted = plan.fill * capacity_m
    count = max(1, math.ceil(per_head * use_m / counted - LENGTH_EPSILON))
    left = _ends([(count * counted - per_head * use_m, heads)])
    return BobbinRun(capacity_m, 0, count * heads, left, count - 1, plan.change_within_s + extra)


def _ends(ends: Sequence[tuple[float, int]]) -> tuple[tuple[float, int], ...]:
    """Leave out what no bobbin has left."""
    return tuple((left, number) for left, number in ends if number and left > LENGTH_EPSILON)


def plan_own_bobbins(
    use_m: Sequence[float], *, capacity_m: float, policy: BobbinPolicy, plan: BobbinPlan
) -> BobbinRun:
    """Plan the bobbins of pieces that each use their own length, in sewing order, on one head.

    Parameters
    ----------
    use_m : sequence of float, shape (pieces,)
        Bobbin thread of each piece. [m]

    Returns
    -------
    BobbinRun
        Between pieces: each bobbin is filled up in order; `pieces_per_bobbin` is the smallest,
        the last bobbin left out unless it is the only one; 0 when one does not last a piece, and
        then bobbins are run out.

    Source
    ------
    docs/formulas.md 3 and 14.
    """
    total, full = sum(use_m), plan.fill * capacity_m + LENGTH_EPSILON
    if policy == "between-pieces" and max(use_m) <= full:
        filled, ends, held, on_it = [], [], 0.0, 0
        for use in use_m:
            if on_it and held + use > full:
                filled.append(on_it)
                ends.append((capacity_m - held, 1))
                held, on_it = 0.0, 0
            held, on_it = held + use, on_it + 1
        count = len(filled) + 1
        ends.append((capacity_m - held, 1))
        least = min(filled) if filled else max(on_it, floor_ratio(full, max(use_m)))
        return BobbinRun(capacity_m, least, count, _ends(ends), count - 1, plan.change_between_s)
    counted = plan.fill * capacity_m
    count = max(1, math.ceil(total / counted - LENGTH_EPSILON))
    ends = [(count * counted - total, 1)]
    return BobbinRun(capacity_m, 0, count, _ends(ends), count - 1, plan.change_within_s)


def bobbin_ends(
    uses_m: Sequence[Sequence[float]], *, pieces: int, capacity_m: float
) -> list[tuple[int, int, float]]:
    """Tell where each run-out bobbin ends, the last one left out.

    Parameters
    ----------
    uses_m : sequence, shape (pieces, n_blocks) or (1, n_blocks)
        Bobbin thread of each colour block, in sewing order, of each piece or of all. [m]
    pieces : int
    capacity_m : float
        Counted on. [m]

    Returns
    -------
    list of (piece from 1, block from 1, metres into the piece)

    Source
    ------
    docs/formulas.md 3.
    """
    each = np.asarray(uses_m, dtype=float)
    if len(each) == 1:
        each = np.broadcast_to(each, (pieces, each.shape[1]))
    sewn = np.cumsum(each.ravel())
    if sewn[-1] <= 0:
        return []
    bobbins = max(1, math.ceil(float(sewn[-1]) / capacity_m - LENGTH_EPSILON))
    blocks = each.shape[1]
    ends = []
    for n in range(1, min(bobbins, MOST_ENDS_LISTED + 1)):
        at = n * capacity_m
        step = min(int(np.searchsorted(sewn, at - LENGTH_EPSILON)), sewn.size - 1)
        piece, block = divmod(step, blocks)
        before = float(sewn[piece * blocks - 1]) if piece else 0.0
        ends.append((piece + 1, block + 1, at - before))
    return ends
