"""Stitch files as they go to the machine: turned as the piece goes in, scaled, called in order."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from clothyard.core.house.document import Papers
from clothyard.core.run.files import cased, plain_letters
from clothyard.core.stitches.stitch_plan import StitchPlan


def turned(plan: StitchPlan, degrees: float) -> StitchPlan:
    """Turn a plan with the clock about the middle of its box.

    Parameters
    ----------
    plan : StitchPlan
    degrees : float

    Returns
    -------
    StitchPlan
        The same stitches; whole quarters are exact.
    """
    if degrees % 360 == 0:
        return plan
    quarters = {90: (0.0, 1.0), 180: (-1.0, 0.0), 270: (0.0, -1.0)}
    angle = math.radians(degrees)
    cos, sin = quarters.get(int(degrees) % 360, (math.cos(angle), math.sin(angle)))
    if degrees % 90:
        cos, sin = math.cos(angle), math.sin(angle)
    points = plan.points_mm
    middle = (points.min(axis=0) + points.max(axis=0)) / 2
    x, y = (points - middle).T
    found = np.column_stack((x * cos - y * sin, x * sin + y * cos)) + middle
    found.setflags(write=False)
    return replace(plan, points_mm=found)


def sized(plan: StitchPlan, scale: float) -> StitchPlan:
    """Return a plan at a scale: as many stitches, longer or shorter."""
    if scale == 1:
        return plan
    points = plan.points_mm * scale
    points.setflags(write=False)
    return replace(plan, points_mm=points)


def coloured(plan: StitchPlan, colours: Sequence[str | None]) -> StitchPlan:
    """Return a plan with its blocks in other colours; its own where None, or none is given."""
    given = [*colours, *([None] * len(plan.colours))]
    both = zip(given, plan.colours, strict=False)
    return replace(plan, colours=tuple(new or own for new, own in both))


def numbered_name(number: int, name: str, papers: Papers) -> str:
    """Call the file of one name of a list: its number in sewing order, then the name.

    >>> from clothyard.core.house.check import default_house
    >>> numbered_name(7, "Zoë", default_house().papers)
    '007-ZOE'
    """
    return cased(f"{number:03d}-{plain_letters(name)}"[: papers.file_letters].rstrip("-"), papers)
