"""Appliqué in a plan: an outline sewn twice and a wide satin on it, as cloth is laid between."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from pydantic import BaseModel, ConfigDict

from clothyard.core.stitches.stitch_plan import TRIM, StitchPlan

LEAST_POINTS = 12
"""An outline of fewer penetrations is too small to lay cloth on."""
LEAST_MM = 15.0
FIRST_RUNS = 8
"""Cloth is laid before most else: so many runs are looked at."""
SHARP_COS = 0.0
"""A turn of more than 90°: none along an outline but at its corners, most of a satin."""
MOST_SHARP, LEAST_SHARP = 0.15, 0.7
SAME_MM, CLOSED_MM = 1.5, 4.0
SATIN_MM = 2.0


class Applique(BaseModel):
    """Where cloth seems to be laid.

    `shown` is the block whose line shows where, `tacked` the one that sews it down, both from 1;
    one block for both where the file does not stop between. `outline_mm` is what is trimmed.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")
    shown: int
    tacked: int
    outline_mm: float


def _sharp(points: NDArray[np.float64]) -> tuple[float, float]:
    """Share of turns over 90°, and the middle stitch: (share, [mm])."""
    steps = np.diff(points, axis=0)
    length = np.hypot(steps[:, 0], steps[:, 1])
    product = length[:-1] * length[1:]
    along = (steps[:-1] * steps[1:]).sum(axis=1)
    turns = along[product > 0]
    share = float((turns < SHARP_COS).mean()) if turns.size else 0.0
    return share, float(np.median(length))


def _is_outline(points: NDArray[np.float64]) -> bool:
    if len(points) < LEAST_POINTS or np.ptp(points, axis=0).min() < LEAST_MM:
        return False
    closed = float(np.hypot(*(points[-1] - points[0]))) <= CLOSED_MM
    return closed and _sharp(points)[0] <= MOST_SHARP


def _box(points: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.concatenate((points.min(axis=0), points.max(axis=0)))


def _is_satin_on(points: NDArray[np.float64], outline: NDArray[np.float64]) -> bool:
    if len(points) < LEAST_POINTS:
        return False
    share, wide = _sharp(points)
    apart = np.abs(_box(points) - _box(outline)).max()
    return share >= LEAST_SHARP and wide >= SATIN_MM and bool(apart <= wide + SAME_MM)


def find_applique(plan: StitchPlan) -> Applique | None:
    """Find where cloth seems to be laid in a plan; None where nothing looks so.

    Parameters
    ----------
    plan : StitchPlan

    Source
    ------
    Handbook checks, applique-like: one outline twice and a wide satin on it.
    """
    ends = np.flatnonzero(plan.gaps >= TRIM) + 1
    starts = [0, *ends[: FIRST_RUNS + 2].tolist()]
    stops = [*ends[: FIRST_RUNS + 2].tolist(), len(plan.points_mm)]
    runs = [
        (int(plan.block_of[a]) + 1, plan.points_mm[a:b])
        for a, b in zip(starts, stops[: len(starts)], strict=True)
    ]
    for (shown, one), (tacked, two), (_, three) in zip(runs, runs[1:], runs[2:], strict=False):
        if (
            _is_outline(one)
            and _is_outline(two)
            and np.abs(_box(one) - _box(two)).max() <= SAME_MM
            and _is_satin_on(three, two)
        ):
            steps = np.diff(two, axis=0)
            around = float(np.hypot(steps[:, 0], steps[:, 1]).sum())
            return Applique(shown=shown, tacked=tacked, outline_mm=around)
    return None
