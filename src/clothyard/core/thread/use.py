"""Thread of a piece: the bare sums, what an estimate adds, and the shop's factors."""

from __future__ import annotations

import math
from dataclasses import dataclass

from clothyard.core.house import Basting, ThreadUse
from clothyard.core.stitches.facts import DesignFacts


@dataclass(frozen=True, slots=True)
class PieceThread:
    """Thread of one piece in one pass, factors included, hand-change tails left out. [m]

    `needle_m` and `bobbin_m` are per colour block, in sewing order; basting is in the first.
    The parts, before the factor: bare, wrap, trims, blocks, basting, floats.
    """

    needle_m: tuple[float, ...]
    bobbin_m: tuple[float, ...]
    needle_parts_m: dict[str, float]
    bobbin_parts_m: dict[str, float]


def basting_stitches(width_mm: float, height_mm: float, basting: Basting) -> int:
    """Count the stitches of the basting rectangle round a design.

    Source: docs/formulas.md 1 and 14: ⌈perimeter / 6⌉, 4 mm outside the design.
    """
    margin = 2 * basting.margin_mm
    perimeter = 2 * (width_mm + margin + height_mm + margin)
    return math.ceil(perimeter / basting.stitch_mm - 1e-6)


def piece_thread(
    facts: DesignFacts,
    *,
    thickness_mm: float,
    use: ThreadUse,
    auto_trim: bool,
    baste_stitches: int,
    baste_stitch_mm: float,
) -> PieceThread:
    """Compute needle and bobbin thread of one piece, block by block.

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
    baste_stitches, baste_stitch_mm : int, float
        Basting, sewn in the first colour; 0 stitches for none.

    Returns
    -------
    PieceThread

    Source
    ------
    docs/formulas.md 2 and 14.
    """
    needle, bobbin = [], []
    parts_n = dict.fromkeys(("bare", "wrap", "trims", "tails", "basting"), 0.0)
    parts_b = dict(parts_n)
    for i, block in enumerate(facts.blocks):
        floats = 0.0 if auto_trim else block.trim_gap_mm
        baste = baste_stitches if i == 0 else 0
        n = block.stitches + baste
        cut = block.trims if auto_trim else 0
        of_block_n = {
            "bare": block.needle_mm + 2 * thickness_mm * block.stitches + floats,
            "wrap": use.wrap_needle_mm * n,
            "trims": use.trim_needle_mm * cut,
            "tails": use.block_needle_mm,
            "basting": baste * (baste_stitch_mm + 2 * thickness_mm),
        }
        of_block_b = {
            "bare": block.bobbin_mm + floats,
            "wrap": use.wrap_bobbin_mm * n,
            "trims": use.trim_bobbin_mm * cut,
            "tails": use.block_bobbin_mm,
            "basting": baste * baste_stitch_mm,
        }
        for name in parts_n:
            parts_n[name] += of_block_n[name] / 1000
            parts_b[name] += of_block_b[name] / 1000
        needle.append(sum(of_block_n.values()) / 1000 * use.factor_needle)
        bobbin.append(sum(of_block_b.values()) / 1000 * use.factor_bobbin)
    return PieceThread(tuple(needle), tuple(bobbin), parts_n, parts_b)


def bare_sums_m(facts: DesignFacts, *, thickness_mm: float) -> list[tuple[float, float]]:
    """Return the bare (needle, bobbin) metres of each block. [m]

    Source: docs/formulas.md 2.
    """
    return [
        ((block.needle_mm + 2 * thickness_mm * block.stitches) / 1000, block.bobbin_mm / 1000)
        for block in facts.blocks
    ]


def metres_of_weight(grams: float, *, tex: float) -> float:
    """Turn weight into length: m = grams · 1000 / tex.

    >>> round(metres_of_weight(3.4, tex=27), 2)
    125.93
    """
    return grams * 1000 / tex
