"""The bare sums of a design: what its thread takes before anything is added."""

from __future__ import annotations

from clothyard.core.stitches.facts import DesignFacts


def bare_sums_m(facts: DesignFacts, *, thickness_mm: float) -> list[tuple[float, float]]:
    """Return the bare (needle, bobbin) metres of each block. [m]

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    thickness_mm : float
        Under the stitches. [mm]

    Returns
    -------
    list[tuple[float, float]]

    Source
    ------
    docs/formulas.md 2.
    """
    return [
        ((block.needle_mm + 2 * thickness_mm * block.stitches) / 1000, block.bobbin_mm / 1000)
        for block in facts.blocks
    ]
