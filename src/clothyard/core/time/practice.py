"""Practice: a hand gets quicker over a run."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np

from clothyard.core.house.document import Practice


def practice_share(n: int, *, practice: Practice) -> float:
    """Return what the n-th piece takes, as a share of the first.

    Parameters
    ----------
    n : int
        From 1.
    practice : Practice
        Its rules.

    Returns
    -------
    float
        0 to 1.

    Source
    ------
    docs/formulas.md 8: max(0.6, n^log₂ 0.93).
    """
    return max(practice.least, math.pow(n, math.log2(practice.doubling)))


@lru_cache(maxsize=16)
def _running_sums(doubling: float, least: float) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    n = np.arange(1, 2049, dtype=float)
    sums: np.ndarray[tuple[int], np.dtype[np.float64]] = np.cumsum(
        np.maximum(least, n ** math.log2(doubling))
    )
    return sums


def mean_practice(pieces: int, *, practice: Practice) -> float:
    """Return the mean share over pieces 1 … n.

    Parameters
    ----------
    pieces : int
        How many.
    practice : Practice
        Its rules.

    Returns
    -------
    float
        0 to 1.

    >>> from clothyard.core.house.check import default_house
    >>> round(24 * 45 * mean_practice(24, practice=default_house().practice), 1)
    853.6
    """
    sums = _running_sums(practice.doubling, practice.least)
    if pieces <= sums.size:
        return float(sums[pieces - 1]) / pieces
    total = float(sums[-1])
    if practice_share(sums.size, practice=practice) <= practice.least:
        return (total + (pieces - sums.size) * practice.least) / pieces
    n = np.arange(sums.size + 1, pieces + 1, dtype=float)
    exponent = math.log2(practice.doubling)
    return (total + float(np.maximum(practice.least, n**exponent).sum())) / pieces
