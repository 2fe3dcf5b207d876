"""What finished jobs teach: a factor, how sure it is, and what is left to ask."""

from __future__ import annotations

import math
from collections.abc import Sequence

from clothyard.core.record import record

PRIOR_JOBS = 4.0
"""The starting factor counts for so many jobs."""
WILD = 3.0
"""Further from the estimate than this times is asked about, and left out until confirmed."""
CLIPPED = 1.5
"""What lies further from the factor than so many spreads counts as so many."""
SEEN = 0.7784652
"""Share of a normal variance that is left when what is beyond 1.5 spreads counts as 1.5."""
MOST_MOVED = 0.095
"""The most that one job's row moves a factor, of its logarithm, whatever the spread."""
OLD_DAYS = 365
PRIOR_PIECES = 20.0
ROUNDS = 200


@record
class Ratio:
    """What one job says of a factor.

    Attributes
    ----------
    of : str
        The log row it is of.
    value : float
        Actual ÷ estimated with a factor of 1.
    weight : float
        1 for a job, less where it was measured coarsely.
    age_days : int
        Since it was finished: after a year it counts half.
    confirmed : bool
        The seller says that it was so, however far off.
    """

    of: str
    value: float
    weight: float = 1.0
    age_days: int = 0
    confirmed: bool = False

    @property
    def counts(self) -> float:
        """Its weight, by its age too."""
        return self.weight * (0.5 if self.age_days > OLD_DAYS else 1.0)


@record
class Learnt:
    """A factor as the log has it.

    Attributes
    ----------
    factor : float
    spread : float
        Of the logarithm of one job's ratio.
    error : float
        The factor's own standard error, of its logarithm.
    jobs : int
        Behind it.
    weight : float
        Of those jobs.
    asked : tuple of str
        Rows so far off that they are asked about, and left out.
    """

    factor: float
    spread: float
    error: float
    jobs: int
    weight: float
    asked: tuple[str, ...] = ()

    @property
    def of_next(self) -> float:
        """The spread of the next job about this factor: a job's own, and the factor's error."""
        return math.hypot(self.spread, self.error)


def is_wild(value: float) -> bool:
    """Whether a ratio is so far off that it is asked about."""
    return not 1 / WILD <= value <= WILD


def _within(x: float, middle: float, reach: float) -> float:
    return min(max(x, middle - reach), middle + reach)


def learn(ratios: Sequence[Ratio], *, start: float, spread: float) -> Learnt:
    """Work a factor and its spread out from what jobs came to.

    Parameters
    ----------
    ratios : sequence of Ratio
        In any order.
    start : float
        The starting factor, which counts for four jobs.
    spread : float
        The starting spread of the logarithm.

    Returns
    -------
    Learnt
        With no ratio, the start.

    Source
    ------
    docs/formulas.md 12: factor = exp((n₀·ln f₀ + Σ w·ln r)/(n₀ + Σ w)), where what lies beyond
    min(1.5 spreads, 0.095·n₀/w) counts as that, so that no row moves it by a tenth; factor and
    spread are found together, and the spread is made good for what is cut off at 1.5.
    """
    asked = tuple(sorted(r.of for r in ratios if is_wild(r.value) and not r.confirmed))
    used = sorted(
        (math.log(r.value), r.counts)
        for r in ratios
        if r.value > 0 and r.counts > 0 and (r.confirmed or not is_wild(r.value))
    )
    weight = math.fsum(w for _, w in used)
    all_of_it = PRIOR_JOBS + weight
    at, wide = math.log(start), spread
    for _ in range(ROUNDS):
        reach = CLIPPED * wide
        near = [(_within(x, at, min(reach, MOST_MOVED * PRIOR_JOBS / w)), w) for x, w in used]
        moved = math.fsum([PRIOR_JOBS * math.log(start), *(w * x for x, w in near)]) / all_of_it
        off = math.fsum(w * (_within(x, at, reach) - moved) ** 2 for x, w in used) / SEEN
        wider = math.sqrt((PRIOR_JOBS * spread**2 + off) / all_of_it)
        still = abs(moved - at) < 1e-13 and abs(wider - wide) < 1e-13
        at, wide = moved, wider
        if still:
            break
    return Learnt(
        factor=math.exp(at),
        spread=wide,
        error=wide / math.sqrt(all_of_it),
        jobs=len(used),
        weight=weight,
        asked=asked,
    )


def spoiled_share(spoiled: int, pieces: int, *, start: float) -> float:
    """Return the share spoiled as the log has it; the start counts for 20 pieces.

    Source: docs/formulas.md 12.

    >>> round(spoiled_share(2, 60, start=0.015), 5)
    0.02875
    """
    return (spoiled + start * PRIOR_PIECES) / (pieces + PRIOR_PIECES)


PUCKER_SHARE, LEAST_CARRIED = 0.25, 0.5


def carried_share(puckered: int, pieces: int, *, spoil: float) -> float:
    """Return what backings carry on a class, against the standards, by what puckered of it.

    Parameters
    ----------
    puckered, pieces : int
        Of so many sewn; as many as the start of a share counts for are sewn well beside them.
    spoil : float
        The share of the class that is usually spoiled.

    Source
    ------
    docs/formulas.md 5: 1 − 0.25 × the share puckered over its spoil rate, never under half.

    >>> round(carried_share(1, 60, spoil=0.015), 4)
    0.7917
    """
    if not puckered or spoil <= 0:
        return 1.0 if not puckered else LEAST_CARRIED
    share = puckered / (pieces + PRIOR_PIECES)
    return max(LEAST_CARRIED, 1 - PUCKER_SHARE * share / spoil)


def weighed(grams: float, resolution_g: float) -> float:
    """Return what thread that was weighed counts for: coarse scales teach little.

    Source: docs/formulas.md 12.
    """
    return min(1.0, max(0.0, grams) / (20 * resolution_g))


def bobbins_counted(bobbins: float) -> float:
    """Return what bobbins that were counted count for. Source: docs/formulas.md 12."""
    return min(1.0, max(0.0, bobbins) / 10)
