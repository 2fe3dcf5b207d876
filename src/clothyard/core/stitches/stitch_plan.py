"""A stitch plan: penetrations in sewing order and what lies between them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from clothyard.core.errors import BadInput
from clothyard.core.limits import MAX_BLOCKS, MAX_STITCHES

MAX_SPAN_MM = 3_000.0

FLOW, JUMP, TRIM, STOP, CHANGE = 0, 1, 2, 3, 4
"""What lies between two penetrations: nothing, a jump, a trim, a stop, a colour change."""


@dataclass(frozen=True, slots=True)
class StitchPlan:
    """Needle penetrations in sewing order.

    Attributes
    ----------
    points_mm : float array, shape (n, 2), read-only
        Penetrations, x to the right and y down. [mm]
    gaps : int8 array, shape (n - 1,), read-only
        What lies between penetrations k and k + 1: FLOW, JUMP, TRIM, STOP or CHANGE.
    block_of : int32 array, shape (n,), read-only
        Colour block of each penetration, from 0.
    colours : tuple of (str or None), one per block
        "#rrggbb" when the file has it.
    """

    points_mm: NDArray[np.float64]
    gaps: NDArray[np.int8]
    block_of: NDArray[np.int32]
    colours: tuple[str | None, ...]


def plan_from_records(
    x_mm: NDArray[np.float64],
    y_mm: NDArray[np.float64],
    kinds: NDArray[np.int8],
    *,
    colour_of_change: tuple[str | None, ...],
) -> StitchPlan:
    """Reduce a file's records to penetrations and the gaps between them.

    Parameters
    ----------
    x_mm, y_mm : float array, shape (n_records,)
        Where each record puts the needle. [mm]
    kinds : int8 array, shape (n_records,)
        FLOW for a penetration, else JUMP, TRIM, STOP or CHANGE (a colour change or needle set).
    colour_of_change : tuple of (str or None), shape (n_changes + 1,)
        The colour that is on after that many CHANGE records.

    Returns
    -------
    StitchPlan
        Empty blocks dropped; leading and trailing records that are no penetrations ignored.

    Raises
    ------
    BadInput
        If there are no penetrations, too many of them, or the design is absurdly large.

    Source
    ------
    docs/formulas.md 1.
    """
    at = np.flatnonzero(kinds == FLOW)
    if at.size < 2:
        raise BadInput(
            "the design has no stitches.",
            remedy="Save it again from the program it was made with, stitches included.",
            code="design-empty",
        )
    if at.size > MAX_STITCHES:
        raise BadInput(
            f"the design has {at.size:,} stitches; {MAX_STITCHES:,} is the most.",
            remedy="Split it into parts and price each.",
            code="design-huge",
        )
    points = np.column_stack((x_mm[at], y_mm[at]))
    if not np.isfinite(points).all() or np.ptp(points, axis=0).max() > MAX_SPAN_MM:
        raise BadInput(
            "the stitches lie metres apart: the file is damaged or has the wrong ending.",
            remedy="Check that its name ends as its kind does, or fetch it again.",
            code="file-damaged",
        )
    if np.ptp(points, axis=0).max() <= 0:
        raise BadInput(
            "all stitches lie on one point: the design has no size.",
            remedy="Save it again from the program it was made with.",
            code="design-empty",
        )
    gaps = np.zeros(at.size - 1, dtype=np.int8)
    for kind in (JUMP, TRIM, STOP, CHANGE):  # the later, the stronger
        seen = np.cumsum(kinds == kind)
        gaps[seen[at[1:]] > seen[at[:-1]]] = kind
    block_of = np.concatenate(([0], np.cumsum(gaps == CHANGE))).astype(np.int32)
    if block_of[-1] >= MAX_BLOCKS:
        raise BadInput(
            f"the design has {block_of[-1] + 1:,} colour blocks; {MAX_BLOCKS:,} is the most.",
            remedy="Check that its name ends as its kind does, or sort its colours.",
            code="design-huge",
        )
    changes = np.cumsum(kinds == CHANGE)[at]
    first_of_block = np.searchsorted(block_of, np.arange(block_of[-1] + 1))
    colours = tuple(
        colour_of_change[n] if n < len(colour_of_change) else None
        for n in changes[first_of_block].tolist()
    )
    for array in (points, gaps, block_of):
        array.setflags(write=False)
    return StitchPlan(points, gaps, block_of, colours)
