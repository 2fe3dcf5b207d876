"""Thread of a piece: the bare sums, what an estimate adds, and the shop's factors."""

from __future__ import annotations

import math

from clothyard.core.house.document import Basting, ThreadUse
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts

PARTS = ("bare", "wrap", "trims", "tails", "basting", "gaps")


@record
class DesignThread:
    """Thread of a design, block by block, before the shop's factors. [m]

    Attributes
    ----------
    of_copy, of_hooping, of_gap : tuple, one per block, of (needle parts, bobbin parts)
        What sewing the design once takes (bare, wrap, trims), what a hooping adds (tails, and
        basting in the first block), and what lies between two motifs or pieces of a hooping.
    factor_needle, factor_bobbin : float
        The shop's factors.
    """

    of_copy: tuple[tuple[dict[str, float], dict[str, float]], ...]
    of_hooping: tuple[tuple[dict[str, float], dict[str, float]], ...]
    of_gap: tuple[float, float]
    factor_needle: float
    factor_bobbin: float


@record
class PieceThread:
    """Thread of one piece in one pass, factors included, hand-change tails left out. [m]

    `needle_m` and `bobbin_m` are per colour block, in sewing order; basting is in the first.
    `needle_parts_m` and `bobbin_parts_m` are over all blocks, before the factor.
    """

    needle_m: tuple[float, ...]
    bobbin_m: tuple[float, ...]
    needle_parts_m: dict[str, float]
    bobbin_parts_m: dict[str, float]


def basting_stitches(width_mm: float, height_mm: float, basting: Basting) -> int:
    """Count the stitches of the basting rectangle round a design.

    Parameters
    ----------
    width_mm : float
        Across. [mm]
    height_mm : float
        Down. [mm]
    basting : Basting
        Its rules.

    Returns
    -------
    int

    Source
    ------
    docs/formulas.md 1 and 14: ⌈perimeter / 6⌉, 4 mm outside the design.
    """
    margin = 2 * basting.margin_mm
    perimeter = 2 * (width_mm + margin + height_mm + margin)
    return math.ceil(perimeter / basting.stitch_mm - 1e-6)


def design_thread(
    facts: DesignFacts,
    *,
    thickness_mm: float,
    use: ThreadUse,
    auto_trim: bool,
    baste_stitches: float,
    baste_stitch_mm: float,
    pitch_mm: float = 0.0,
) -> DesignThread:
    """Compute needle and bobbin thread of a design, block by block.

    Parameters
    ----------
    facts : DesignFacts
        With the bare sums, linear in thickness.
    thickness_mm : float
        t, pressed under the stitches: goods, backing layers, topping. [mm]
    use : ThreadUse
        What the house adds, and its factors.
    auto_trim : bool
        False: trims become floats, without tails.
    baste_stitches, baste_stitch_mm : float
        Basting of one hooping, sewn in the first colour; 0 stitches for none.
    pitch_mm : float
        From one motif or piece of a hooping to the next: the float where nothing trims it. [mm]

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    copies, hoopings = [], []
    for i, block in enumerate(facts.blocks):
        floats = 0.0 if auto_trim else block.trim_gap_mm
        baste = baste_stitches if i == 0 else 0
        cut = block.trims if auto_trim else 0
        copies.append(
            (
                {
                    "bare": block.needle_mm + 2 * thickness_mm * block.stitches + floats,
                    "wrap": use.wrap_needle_mm * block.stitches,
                    "trims": use.trim_needle_mm * cut,
                },
                {
                    "bare": block.bobbin_mm + floats,
                    "wrap": use.wrap_bobbin_mm * block.stitches,
                    "trims": use.trim_bobbin_mm * cut,
                },
            )
        )
        hoopings.append(
            (
                {
                    "wrap": use.wrap_needle_mm * baste,
                    "tails": use.block_needle_mm,
                    "basting": baste * (baste_stitch_mm + 2 * thickness_mm),
                },
                {
                    "wrap": use.wrap_bobbin_mm * baste,
                    "tails": use.block_bobbin_mm,
                    "basting": baste * baste_stitch_mm,
                },
            )
        )
    gap = (use.trim_needle_mm, use.trim_bobbin_mm) if auto_trim else (pitch_mm, pitch_mm)
    return DesignThread(tuple(copies), tuple(hoopings), gap, use.factor_needle, use.factor_bobbin)


def piece_thread(
    thread: DesignThread, *, copies: float = 1, hoopings: float = 1, gaps: float = 0
) -> PieceThread:
    """Add up a piece's thread.

    Parameters
    ----------
    copies, hoopings, gaps : float
        How often a piece has the design sewn, hoopings it takes (a share where several pieces
        lie in one), and gaps between motifs or pieces in one hooping.
    """
    totals = (dict.fromkeys(PARTS, 0.0), dict.fromkeys(PARTS, 0.0))
    blocks: tuple[list[float], list[float]] = ([], [])
    factors = (thread.factor_needle, thread.factor_bobbin)
    for side in (0, 1):
        sums, gap_mm = totals[side], thread.of_gap[side] * gaps
        for of_copy, of_hooping in zip(thread.of_copy, thread.of_hooping, strict=True):
            whole = gap_mm
            for of, often in ((of_copy[side], copies), (of_hooping[side], hoopings)):
                for name, mm in of.items():
                    sums[name] += mm * often / 1000
                    whole += mm * often
            sums["gaps"] += gap_mm / 1000
            blocks[side].append(whole / 1000 * factors[side])
    return PieceThread(tuple(blocks[0]), tuple(blocks[1]), *totals)


def metres_of_weight(grams: float, *, tex: float) -> float:
    """Turn weight into length: m = grams · 1000 / tex.

    Parameters
    ----------
    grams : float
        Net weight.
    tex : float
        Grams of 1000 m.

    Returns
    -------
    float
        [m]

    >>> round(metres_of_weight(3.4, tex=27), 2)
    125.93
    """
    return grams * 1000 / tex


def grams_of_length(length_m: float, *, tex: float) -> float:
    """Turn length into weight: g = m · tex / 1000.

    Parameters
    ----------
    length_m : float
        [m]
    tex : float
        Grams of 1000 m.

    Returns
    -------
    float
        [g]

    >>> round(grams_of_length(125.926, tex=27), 2)
    3.4
    """
    return length_m * tex / 1000
