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


ASIDE_MM = 0.15
"""So far a record may lie beside the straight line: coordinates are tenths of a millimetre."""


def _split(
    x_mm: NDArray[np.float64],
    y_mm: NDArray[np.float64],
    kinds: NDArray[np.int8],
    at: NDArray[np.intp],
    most_mm: float,
) -> NDArray[np.bool_]:
    """Mark the gaps whose jumps are but the beginning of a stitch too long for one record.

    All records of such a gap go the same way, the last one penetrates, and there are no more of
    them than it takes.

    Source: docs/formulas.md 1.
    """
    moves = np.flatnonzero((kinds == FLOW) | (kinds == JUMP))
    moves = moves[(moves >= at[0]) & (moves <= at[-1])]
    steps = np.column_stack((np.diff(x_mm[moves]), np.diff(y_mm[moves])))
    first = np.searchsorted(moves, at[:-1])  # of each gap, its first step
    whole = np.column_stack((np.diff(x_mm[at]), np.diff(y_mm[at])))
    length = np.hypot(whole[:, 0], whole[:, 1])
    count = np.diff(np.append(first, len(steps)))
    of = np.repeat(np.arange(len(first)), count)
    safe = np.where(length > 0, length, 1.0)[of]
    along = (steps * whole[of]).sum(axis=1) / safe
    aside = np.abs(steps[:, 0] * whole[of, 1] - steps[:, 1] * whole[of, 0]) / safe
    ahead = (along > 0) & (aside <= ASIDE_MM) & (np.abs(steps).max(axis=1) <= most_mm + 1e-6)
    found: NDArray[np.bool_] = np.logical_and.reduceat(ahead, first)
    return found & (length > most_mm) & (count <= np.ceil(length / most_mm - 1e-6))


def plan_from_records(
    x_mm: NDArray[np.float64],
    y_mm: NDArray[np.float64],
    kinds: NDArray[np.int8],
    *,
    colour_of_change: tuple[str | None, ...],
    split_mm: float | None = None,
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
    split_mm : float, optional
        How far one record of the file's kind reaches along x or y; None: any length. [mm]

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
    if split_mm is not None:
        gaps[_split(x_mm, y_mm, kinds, at, split_mm) & (gaps == JUMP)] = FLOW
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
