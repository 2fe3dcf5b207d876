"""Design facts from a count alone, when no file exists yet."""

from __future__ import annotations

import math
from functools import lru_cache

from clothyard.core.limits import DesignKind
from clothyard.core.stitches.facts import PULL, BlockFacts, DesignFacts, Lengths

COUNT_BAND = 0.10
STITCHES_PER_MM2 = 1.6
LETTER_STROKE = 0.14
LETTER_SATIN_SHARE_KNOWN = 0.9


@lru_cache(maxsize=512)
def count_facts(
    stitches: int,
    *,
    kind: DesignKind,
    mean_stitch_mm: float,
    satin_share: float,
    colours: int = 1,
    width_mm: float | None = None,
    height_mm: float | None = None,
    trims: int | None = None,
    letter_height_mm: float | None = None,
) -> DesignFacts:
    """Estimate the facts of a design from its stitch count.

    Parameters
    ----------
    stitches : int
        1 to 500,000.
    kind : outline, lettering, mixed or fill
        What the stitches mostly are.
    mean_stitch_mm, satin_share : float
        The house's mean stitch length and share of satin for the kind. [mm, 1]
    colours : int
        Blocks; stitches are shared equally over them.
    width_mm, height_mm : float, optional
        Unstated: a square of side √(stitches / 1.6); one stated: the other from that area.
    trims : int, optional
        Unstated: stitches / 1000, rounded half up.
    letter_height_mm : float, optional
        For lettering: the satin's width follows from it.

    Returns
    -------
    DesignFacts
        Marked with a band of ±10 %. Floats have no length, colours all differ.

    Source
    ------
    docs/formulas.md 1, 2 and 14.
    """
    length_mm, satin = mean_stitch_mm, satin_share
    if kind == "lettering" and letter_height_mm is not None:
        length_mm = max(1.0, LETTER_STROKE * letter_height_mm) + 0.1
        satin = LETTER_SATIN_SHARE_KNOWN
    area = stitches / STITCHES_PER_MM2
    width = width_mm or (area / height_mm if height_mm else math.sqrt(area))
    height = height_mm or (area / width_mm if width_mm else math.sqrt(area))
    n_trims = math.floor(stitches / 1000 + 0.5) if trims is None else trims
    blocks = []
    for i in range(colours):
        n = stitches // colours + (1 if i < stitches % colours else 0)
        cut = n_trims // colours + (1 if i < n_trims % colours else 0)
        share = stitches / colours
        blocks.append(
            BlockFacts(
                colour=None,
                stitches=n,
                trims=cut,
                jumps=0,
                stops=0,
                needle_mm=share * length_mm * (1 + 2 * PULL * satin),
                bobbin_mm=share * length_mm * (1 - 2 * PULL * satin),
                trim_gap_mm=0.0,
                jump_turns=0,
                trim_turns=0,
                clips=0,
                lengths=Lengths(mm=(length_mm,), count=(n,)),
                narrow=Lengths(),
            )
        )
    return DesignFacts(
        source="count",
        sha256=None,
        name="1 stitch" if stitches == 1 else f"{stitches:,} stitches",
        kind=kind,
        band=COUNT_BAND,
        width_mm=width,
        height_mm=height,
        letter_height_mm=letter_height_mm,
        stitches=stitches,
        longest_stitch_mm=None,
        short_share=None,
        hottest_cell=None,
        median_cell=None,
        blocks=tuple(blocks),
    )
