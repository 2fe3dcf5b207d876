"""Bobbins: how many, when they are changed, where each ends."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from clothyard.core.house import BobbinPlan, BobbinPolicy
from clothyard.core.units import LENGTH_EPSILON, floor_ratio

FINE_TEX = 16.0
"""The bobbin thread that capacities are stated for."""
MOST_ENDS_LISTED = 2_000


@dataclass(frozen=True, slots=True)
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
    left_m : float
        Left on each full one (between pieces), or on the last (run out). [m]
    changes : int
        Stops to change.
    change_s : float
        Each stop. [s]
    """

    capacity_m: float
    pieces_per_bobbin: int
    count: int
    left_m: float
    changes: int
    change_s: float


def bobbin_capacity_m(capacity_fine_m: float, *, tex: float = FINE_TEX) -> float:
    """Return how much of a thread of this fineness a bobbin holds. [m]

    Source: docs/formulas.md 3: C = C16 · 16 / tex.

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
    docs/formulas.md 3 and 14.
    """
    per_head = math.ceil(pieces / heads)
    extra = plan.extra_head_s * (heads - 1)
    whole = floor_ratio(plan.fill * capacity_m, use_m) if use_m > 0 else pieces
    if policy == "between-pieces" and whole > 0:
        whole = min(whole, per_head) if use_m <= 0 else whole
        count = math.ceil(per_head / whole)
        left = capacity_m - whole * use_m
        return BobbinRun(
            capacity_m, whole, count * heads, left, count - 1, plan.change_between_s + extra
        )
    count = max(1, math.ceil(per_head * use_m / capacity_m - LENGTH_EPSILON))
    left = count * capacity_m - per_head * use_m
    return BobbinRun(capacity_m, 0, count * heads, left, count - 1, plan.change_within_s + extra)


def bobbin_ends(
    block_use_m: Sequence[float], *, pieces: int, capacity_m: float
) -> list[tuple[int, int, float]]:
    """Tell where each run-out bobbin ends, the last one left out.

    Parameters
    ----------
    block_use_m : sequence of float, shape (n_blocks,)
        Bobbin thread of each colour block of a piece, in sewing order. [m]
    pieces : int
    capacity_m : float
        [m]

    Returns
    -------
    list of (piece from 1, block from 1, metres into the piece)

    Source
    ------
    docs/formulas.md 3.
    """
    use = sum(block_use_m)
    if use <= 0:
        return []
    bobbins = max(1, math.ceil(pieces * use / capacity_m - LENGTH_EPSILON))
    ends = []
    for n in range(1, min(bobbins, MOST_ENDS_LISTED + 1)):
        at = n * capacity_m
        piece = min(pieces, math.ceil(at / use - LENGTH_EPSILON))
        into = at - (piece - 1) * use
        block, sewn = len(block_use_m), 0.0
        for i, metres in enumerate(block_use_m, 1):
            sewn += metres
            if into <= sewn + LENGTH_EPSILON:
                block = i
                break
        ends.append((piece, block, into))
    return ends
