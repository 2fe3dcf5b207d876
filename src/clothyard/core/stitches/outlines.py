"""Outlines of colour blocks: the shape that a patch is tacked down along, and cut to."""

from __future__ import annotations

import numpy as np
import shapely
from numpy.typing import NDArray

from clothyard.core.record import record
from clothyard.core.stitches.stitch_plan import FLOW, StitchPlan

REACH_MM = 1.5
"""Stitches so near to each other are one outline: half a zigzag or a double run lies within."""

SMOOTH_MM = 0.3
MOST_STITCHES = 4000
"""A tack-down is no larger; of more, the box alone is told."""

Points = tuple[tuple[float, float], ...]


@record
class BlockOutline:
    """A colour block's box and, if it is sewn along one, its outer outline. [mm]

    `x_mm`, `y_mm` is the box's corner from the design's own; `points` the outline from there, ()
    where it is none; `length_mm` all round it.
    """

    block: int
    stitches: int
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    length_mm: float
    points: Points


def _outline(points: NDArray[np.float64], gaps: NDArray[np.int8]) -> tuple[float, Points]:
    """The outer edge of what is sewn, filled: (its length, its corners)."""
    ends = np.flatnonzero(gaps != FLOW) + 1
    runs = [run for run in np.split(points, ends) if len(run) > 1]
    if not runs:
        return 0.0, ()
    drawn = shapely.MultiLineString([run.tolist() for run in runs]).simplify(0.05)
    grown = drawn.buffer(REACH_MM, quad_segs=4)
    parts = list(grown.geoms) if isinstance(grown, shapely.MultiPolygon) else [grown]
    largest = max(parts, key=lambda part: part.area)
    if not isinstance(largest, shapely.Polygon) or largest.is_empty:
        return 0.0, ()
    shape = shapely.Polygon(largest.exterior).buffer(-REACH_MM).simplify(SMOOTH_MM)
    if not isinstance(shape, shapely.Polygon) or shape.is_empty:
        return 0.0, ()
    corners = tuple((float(x), float(y)) for x, y in shape.exterior.coords)
    return float(shape.exterior.length), corners


def block_outlines(plan: StitchPlan) -> list[BlockOutline]:
    """Outline every colour block of a plan.

    Parameters
    ----------
    plan : StitchPlan

    Returns
    -------
    list of BlockOutline
        In sewing order. A patch is cut as large as the outline of its tack-down and its margin; its
        length is what is trimmed.

    Source
    ------
    docs/formulas.md 8.
    """
    origin = plan.points_mm.min(axis=0)
    found = []
    for block in range(len(plan.colours)):
        at = np.flatnonzero(plan.block_of == block)
        points = plan.points_mm[at] - origin
        low, span = points.min(axis=0), np.ptp(points, axis=0)
        length, corners = (
            _outline(points, plan.gaps[at[:-1]]) if len(at) <= MOST_STITCHES else (0.0, ())
        )
        found.append(
            BlockOutline(
                block=block + 1,
                stitches=len(at),
                x_mm=float(low[0]),
                y_mm=float(low[1]),
                width_mm=float(span[0]),
                height_mm=float(span[1]),
                length_mm=length,
                points=corners,
            )
        )
    return found
