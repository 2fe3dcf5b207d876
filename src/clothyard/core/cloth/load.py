"""Load and capacity: what a design asks of its backing, and what backing and cloth carry."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Protocol

from clothyard.core.house.document import Backing, GoodsClass, House
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts

GROWN_MM = 5.0
"""A design's box is grown by this on each side before its density is measured."""
LEAST_SHARE, MORE_SHARE = 0.4, 0.6
"""Of a stitch's weight: what any stitch has, and what a filled area adds."""
SMALL_CM2 = 25.0
"""Up to this area a backing carries all it can; less for each tenfold, down to a least share."""
TENFOLD, LEAST_AREA_SHARE = 0.3, 0.6
CLOTH_LEAST, CLOTH_MOST = 0.8, 1.2


@record
class Held:
    """A backing in so many layers: one step of what is proposed, one firmer than the last."""

    backing_id: str
    layers: int


def box_cm2(facts: DesignFacts) -> float:
    """Return the area of a design's box, grown. [cm²]"""
    return (facts.width_mm + 2 * GROWN_MM) * (facts.height_mm + 2 * GROWN_MM) / 100


def density(facts: DesignFacts) -> float:
    """Stitches of a design over its box, grown; of repeats, of one. [stitches/cm²]

    The base under a design is left out: it holds the pile, not the cloth.

    Source: docs/formulas.md 5.
    """
    sewn = sum(block.stitches for block in facts.blocks if block.role == "design")
    return sewn / box_cm2(facts)


def fill_share(facts: DesignFacts, house: House) -> float:
    """Say how much of a design is filled area, 0 to 1: measured of a file, else by its kind.

    Source: docs/formulas.md 5.
    """
    if facts.fill_share is not None and facts.source != "words":
        return facts.fill_share
    kind = "lettering" if facts.source == "words" else facts.kind or "mixed"
    return house.kinds[kind].fill_share if kind in house.kinds else 0.0


def load(facts: DesignFacts, house: House) -> float:
    """Return what a design asks of its backing. [stitches/cm²]

    Source
    ------
    docs/formulas.md 5: density × (0.4 + 0.6 · share of fill).
    """
    return density(facts) * (LEAST_SHARE + MORE_SHARE * fill_share(facts, house))


def capacity(backing: Backing, layers: int, goods: GoodsClass, facts: DesignFacts) -> float:
    """Return what backing and cloth carry of a design this large. [stitches/cm²]

    Parameters
    ----------
    backing : Backing
    layers : int
        1 or more.
    goods : GoodsClass
        Thick cloth carries more itself.
    facts : DesignFacts
        A larger one pulls more.

    Source
    ------
    docs/formulas.md 5: base × a × c, × what the log of this class says.
    """
    base = backing.dense_one if layers == 1 else backing.dense_more
    area = 1 - TENFOLD * math.log10(max(1.0, box_cm2(facts) / SMALL_CM2))
    cloth = min(CLOTH_MOST, max(CLOTH_LEAST, 0.7 + 0.5 * goods.thickness_mm))
    return base * max(LEAST_AREA_SHARE, area) * cloth * goods.carries


class Layer(Protocol):
    """A backing in its layers."""

    @property
    def backing(self) -> Backing:
        """Its kind."""

    @property
    def layers(self) -> int:
        """How many."""


BESIDE_SHARE = 1 / 3
"""Of what a second kind carries alone, beside the first: as a second layer of tear-away adds."""


def held_together(laid: Sequence[Layer], goods: GoodsClass, facts: DesignFacts) -> float:
    """Return what backings of different kinds carry together. [stitches/cm²]

    The firmest counts whole, of each other a third.

    Source: docs/formulas.md 5.
    """
    each = sorted((capacity(one.backing, one.layers, goods, facts) for one in laid), reverse=True)
    return each[0] + BESIDE_SHARE * sum(each[1:]) if each else 0.0


def carries(held: Held, goods: GoodsClass, facts: DesignFacts, house: House) -> bool:
    """Whether a backing in its layers carries a design on these goods.

    What is made in the hoop, lace, and loose patches need not be asked: nothing puckers there.

    Source: docs/formulas.md 5.
    """
    backing = house.backings.get(held.backing_id)
    if backing is None or goods.made or goods.loose:
        return True
    return load(facts, house) <= capacity(backing, held.layers, goods, facts)


def ladder(held: Held, goods: GoodsClass, house: House) -> list[Held]:
    """List a backing and what is firmer, step by step, of what the shop has a roll of.

    Parameters
    ----------
    held : Held
        Where it begins.
    goods : GoodsClass
        Cut-away only where the back is not seen.
    house : House

    Returns
    -------
    list of Held
        The first as given.

    Source
    ------
    docs/formulas.md 5: once, twice crosswise, then the next firmer kind.
    """
    rolls = house.stocked
    found = [held]
    while (backing := house.backings.get(held.backing_id)) is not None:
        if held.layers == 1 and backing.twice:
            held = Held(held.backing_id, 2)
        elif backing.firmer in house.backings and backing.firmer in rolls:
            trimmed = house.backings[backing.firmer].removal == "trim"
            if trimmed and (goods.back_seen != "no" or goods.only_soluble):
                return found
            held = Held(backing.firmer, 1)
        else:
            return found
        if held in found:  # a shop's own rows may go round
            return found
        found.append(held)
    return found


def firm_enough(held: Held, goods: GoodsClass, facts: DesignFacts, house: House) -> Held | None:
    """Return the first step of the ladder that carries a design; None where none does."""
    if carries(held, goods, facts, house):
        return held
    further = ladder(held, goods, house)[1:]
    return next((step for step in further if carries(step, goods, facts, house)), None)
