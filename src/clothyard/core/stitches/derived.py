"""Designs made from designs: the mean of several, and one on a knock-down base."""

from __future__ import annotations

import math
from collections.abc import Sequence
from itertools import chain
from typing import Any

import numpy as np

from clothyard.core.house.document import Kind, KnockDown, Patches
from clothyard.core.stitches.facts import PULL, BlockFacts, DesignFacts, Lengths

_SUMS = (
    "stitches",
    "trims",
    "jumps",
    "needle_mm",
    "bobbin_mm",
    "trim_gap_mm",
    "jump_turns",
    "trim_turns",
    "clips",
)


def _mean_lengths(several: Sequence[Lengths], n: int) -> Lengths:
    mm = np.fromiter(chain.from_iterable(lengths.mm for lengths in several), dtype=float)
    counts = np.fromiter(chain.from_iterable(lengths.count for lengths in several), dtype=float)
    ordered, at = np.unique(mm, return_inverse=True)
    means = np.bincount(at, weights=counts, minlength=len(ordered)) / n
    return Lengths.model_construct(mm=tuple(ordered.tolist()), count=tuple(means.tolist()))


def mean_design(designs: Sequence[DesignFacts], *, name: str) -> DesignFacts:
    """Average designs of equally many blocks, for pieces that each have their own.

    Sums and counts are means, so that thread and time of the mean are the means of theirs; sizes
    are the largest, since one hoop and one cut must do for all.

    Parameters
    ----------
    designs : Sequence[DesignFacts]
        With equally many blocks.
    name : str
        As people say it.

    Returns
    -------
    DesignFacts
    """
    n = len(designs)
    first = designs[0]
    if n == 1:
        return first.model_copy(update={"name": name})
    blocks = tuple(
        BlockFacts.model_construct(
            **(
                several[0].__dict__
                | {field: sum(getattr(b, field) for b in several) / n for field in _SUMS}
                | {
                    "lengths": _mean_lengths([b.lengths for b in several], n),
                    "narrow": _mean_lengths([b.narrow for b in several], n),
                    "width_mm": max(b.width_mm or 0.0 for b in several) or None,
                    "height_mm": max(b.height_mm or 0.0 for b in several) or None,
                }
            )
        )
        for several in zip(*(design.blocks for design in designs), strict=True)
    )
    largest = {
        field: max((getattr(d, field) or 0.0) for d in designs)
        for field in ("width_mm", "height_mm", "longest_stitch_mm", "short_share", "hottest_cell")
    }
    return first.model_copy(
        update=largest
        | {
            "name": name,
            "stitches": sum(d.stitches for d in designs) / n,
            "median_cell": max((d.median_cell or 0.0) for d in designs),
            "hull_mm2": sum(d.hull_mm2 or 0.0 for d in designs) / n,
            "hull_edge_mm": sum(d.hull_edge_mm or 0.0 for d in designs) / n,
            "blocks": blocks,
        }
    )


def scaled(facts: DesignFacts, scale: float) -> DesignFacts:
    """Build a design bigger or smaller with the same stitches: every length grows alike.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    scale : float
        1: as it is.

    Returns
    -------
    DesignFacts

    Source
    ------
    docs/formulas.md 1: the bare sums and stitch lengths are linear in the size; what is a
    jump, a long or a short stitch is as in the file.
    """
    if scale == 1:
        return facts

    def longer(lengths: Lengths) -> Lengths:
        return Lengths(mm=tuple(mm * scale for mm in lengths.mm), count=lengths.count)

    blocks = tuple(
        b.model_copy(
            update={
                "needle_mm": b.needle_mm * scale,
                "bobbin_mm": b.bobbin_mm * scale,
                "trim_gap_mm": b.trim_gap_mm * scale,
                "lengths": longer(b.lengths),
                "narrow": longer(b.narrow),
                "width_mm": None if b.width_mm is None else b.width_mm * scale,
                "height_mm": None if b.height_mm is None else b.height_mm * scale,
            }
        )
        for b in facts.blocks
    )
    grown: dict[str, Any] = {"blocks": blocks}
    for name in ("width_mm", "height_mm", "longest_stitch_mm", "letter_height_mm", "hull_edge_mm"):
        value = getattr(facts, name)
        grown[name] = None if value is None else value * scale
    grown["hull_mm2"] = None if facts.hull_mm2 is None else facts.hull_mm2 * scale**2
    return facts.model_copy(update=grown)


def base_area_mm2(facts: DesignFacts, *, margin_mm: float) -> float:
    """Area of a knock-down base: the design's outline grown by a margin. [mm²]

    The outline is convex, with round corners once grown; of a count, whose outline is not known,
    it is the box.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    float
        [mm²]

    Source
    ------
    docs/formulas.md 1.
    """
    if facts.hull_mm2 and facts.hull_edge_mm:
        return facts.hull_mm2 + facts.hull_edge_mm * margin_mm + math.pi * margin_mm**2
    return (facts.width_mm + 2 * margin_mm) * (facts.height_mm + 2 * margin_mm)


def outline_mm(facts: DesignFacts, *, margin_mm: float) -> float:
    """Length of a design's outline grown by a margin; of a count, of its box. [mm]

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    margin_mm : float
        Beyond it, each side. [mm]

    Source
    ------
    docs/formulas.md 8.
    """
    edge = facts.hull_edge_mm or 2 * (facts.width_mm + facts.height_mm)
    return edge + 2 * math.pi * margin_mm


def bordered(facts: DesignFacts, *, rule: Patches) -> DesignFacts:
    """Put a satin border round a design, sewn last, in the thread of its last block.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    rule : Patches
        Its width, how far out it lies, its spacing and underlay. [mm]

    Source
    ------
    docs/formulas.md 8: two stitches a spacing along the outline over a line of underlay.
    """
    way = outline_mm(facts, margin_mm=rule.margin_mm)
    satin, under = math.ceil(2 * way / rule.spacing_mm - 1e-6), math.ceil(way / rule.underlay_mm)
    across = math.hypot(rule.border_mm, rule.spacing_mm / 2)
    last = facts.blocks[-1]
    lengths = Lengths(
        mm=(*last.lengths.mm, across, rule.underlay_mm), count=(*last.lengths.count, satin, under)
    )
    block = last.model_copy(
        update={
            "stitches": last.stitches + satin + under,
            "trims": last.trims + 1,
            "needle_mm": last.needle_mm + satin * across * (1 + 2 * PULL) + way,
            "bobbin_mm": last.bobbin_mm + satin * across * (1 - 2 * PULL) + way,
            "trim_gap_mm": last.trim_gap_mm + rule.margin_mm,
            "trim_turns": last.trim_turns + 1,
            "lengths": lengths,
        }
    )
    return facts.model_copy(
        update={"stitches": facts.stitches + satin + under, "blocks": (*facts.blocks[:-1], block)}
    )


def on_base(facts: DesignFacts, *, rule: KnockDown, fill: Kind) -> DesignFacts:
    """Put a design on a knock-down base: a block of its own, sewn before all else.

    Parameters
    ----------
    rule : KnockDown
        Margin and stitches a mm².
    fill : Kind
        Mean stitch and satin share of fill.

    Source
    ------
    docs/formulas.md 1.
    """
    area = base_area_mm2(facts, margin_mm=rule.margin_mm)
    n = math.ceil(area * rule.stitches_per_mm2 - 1e-6)
    length = fill.mean_stitch_mm
    base = BlockFacts(
        colour=None,
        stitches=n,
        trims=0,
        jumps=0,
        stops=0,
        needle_mm=n * length * (1 + 2 * PULL * fill.satin_share),
        bobbin_mm=n * length * (1 - 2 * PULL * fill.satin_share),
        trim_gap_mm=0.0,
        jump_turns=0,
        trim_turns=0,
        clips=0,
        lengths=Lengths(mm=(length,), count=(n,)),
        narrow=Lengths(),
        role="base",
    )
    return facts.model_copy(
        update={"stitches": facts.stitches + n, "blocks": (base, *facts.blocks)}
    )
