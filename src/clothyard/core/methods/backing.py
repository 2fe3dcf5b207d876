"""The backing and its layers: what holds the goods under the needle."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from clothyard.core.house.document import Backing, House
from clothyard.core.methods.choice import (
    Chosen,
    Offer,
    Proposal,
    Warned,
    Wish,
    check_roll,
    stocked,
    warned,
)
from clothyard.core.methods.making import NONE, Making

_WHY = {
    "trim": "Stays for life; the rest is trimmed.",
    "tear": "Tears off; a clean back.",
    "rinse": "Rinses away: nothing is left behind.",
}
GROWN_MM = 5.0
"""A design's box is grown by this on each side before its density is measured."""


def propose(wish: Wish) -> Proposal:
    """Propose the backing of the goods class."""
    return Proposal(wish.goods.backing, wish.goods.why)


def propose_layers(wish: Wish, backing_id: str) -> Proposal:
    """Propose as many layers as the goods class asks for; none of no backing.

    Parameters
    ----------
    wish : Wish
        What is asked.
    backing_id : str
        Of the backing, or "none".

    Returns
    -------
    Proposal
    """
    goods = wish.goods
    why = "As the goods class asks." if goods.layers == 1 else "One layer is not enough here."
    return Proposal(str(goods.layers if backing_id != NONE else 0), why)


def settle(chosen: Chosen) -> tuple[str, int]:
    """Settle backing and layers: (id or none, layers).

    Raises
    ------
    BadInput
        If the shop has no roll of it.
    """
    wish = chosen.wish
    backing_id = chosen.settle("backing", propose(wish), known=[*wish.house.backings, NONE])
    layers = int(chosen.settle("layers", propose_layers(wish, backing_id)))
    if layers == 0 or backing_id == NONE:
        return NONE, 0
    check_roll("backing", backing_id, wish)
    return backing_id, layers


def _suits(backing: Backing, making: Making) -> bool:
    """Whether a backing suits how the goods are held and whether their back is seen."""
    goods = making.goods
    if (backing.frame == "cap") != making.on_cap_frame:
        return False
    if goods.only_soluble and backing.removal != "rinse":
        return False
    if backing.fused and not goods.bears_fusing:
        return False
    if goods.back_seen == "yes" and backing.removal == "trim":
        return False
    if backing.removal == "rinse":
        return making.goods.back_seen != "no" or making.goods.stretch == 0
    return making.hold == "float" or not backing.sticky


def _why(backing: Backing, making: Making) -> str:
    if making.goods.stretch and not backing.stays:
        return "Goes after sewing: nothing holds the stretch then."
    return _WHY[backing.removal]


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other backings on the shelf that suit, none, and a layer fewer or more."""
    here = stocked(house)
    for value, backing in house.backings.items():
        if value in here and value != making.backing_id and _suits(backing, making):
            yield Offer("backing", value, _why(backing, making))
    if making.backing_id != NONE and not making.goods.only_soluble:
        yield Offer("backing", NONE, "Leave it out.")


def offer_layers(making: Making, house: House) -> Iterator[Offer]:
    """Offer a layer fewer, and one more."""
    for n in (making.layers - 1, making.layers + 1):
        if making.backing and n > 0:
            yield Offer("layers", str(n), "Thinner." if n < making.layers else "Firmer.")


def _firmer(making: Making, wish: Wish) -> tuple[str, dict[str, Any], float]:
    """The backing that mends stretch and density: (name, methods, what it holds).

    Of a class whose back is seen it is the one that rinses out, twice; on a cap frame nothing else
    fits, so there is none.
    """
    if making.on_cap_frame or making.goods.only_soluble:
        return "", {}, 0.0
    seen = making.goods.back_seen == "yes"
    proposals = wish.house.proposals
    backing_id = proposals.rinsed_backing if seen else proposals.firm_backing
    firm = wish.house.backings.get(backing_id)
    if firm is None:
        return "", {}, 0.0
    kind, _, grade = firm.label.lower().partition(", ")  # "Cut-away, medium" is medium cut-away
    methods = {"backing": backing_id, "layers": 2 if seen else 1}
    return f"{grade} {kind}".strip(), methods, firm.dense_more if seen else firm.dense_one


def _of_stretch(making: Making, wish: Wish) -> Iterator[Warned]:
    goods, backing = making.goods, making.backing
    if goods.stretch >= 1 and (backing is None or backing.removal == "tear"):
        what = f"only {backing.label.lower()}" if backing else "no backing"
        name, mends, _ = _firmer(making, wish)
        yield warned(
            "back-stretch",
            "warn",
            f"The {goods.label.lower()} stretches and has {what}: the design will lose its shape "
            "in wear and wash.",
            f"Take {name}." if name else "Take a backing that stays.",
            about="methods.backing",
            **mends,
        )


def density(wish: Wish) -> float:
    """Stitches of a design over its box, grown. [stitches/cm²]

    Repeats lie beside each other: of one design.

    Source: handbook checks, back-dense.
    """
    facts = wish.facts
    box_cm2 = (facts.width_mm + 2 * GROWN_MM) * (facts.height_mm + 2 * GROWN_MM) / 100
    return facts.stitches / box_cm2


def _of_density(making: Making, wish: Wish) -> Iterator[Warned]:
    backing = making.backing
    if backing is None:
        return
    limit = backing.dense_one if making.layers == 1 else backing.dense_more
    found = density(wish)
    if found <= limit:
        return
    name, firmer, holds = _firmer(making, wish)
    more = making.layers == 1 and found <= backing.dense_more
    cured: dict[str, Any] = {"layers": 2} if more else firmer if found <= holds else {}
    other = f"Take {name}, or a lighter design." if cured else "Have a lighter design made."
    yield warned(
        "back-dense",
        "warn",
        f"{found:.0f} stitches/cm² are more than {making.layers} × {backing.label.lower()} holds "
        f"({limit:g}).",
        "Add a layer." if more else other,
        about="methods.backing",
        **cured,
    )


def _of_back(making: Making, wish: Wish) -> Iterator[Warned]:
    stays = making.backing is not None and making.backing.removal == "trim"
    if making.goods.back_seen != "yes" or (not stays and making.bobbin == "match"):
        return
    wrong = ["the backing stays in view"] if stays else []
    wrong += ["the bobbin does not match"] if making.bobbin != "match" else []
    mends: dict[str, Any] = {"bobbin": "match"}
    if stays:
        mends |= {"backing": wish.house.proposals.rinsed_backing, "layers": 2}
    yield warned(
        "back-seen",
        "warn",
        f"The back is seen, and {' and '.join(wrong)}.",
        "Match the bobbin" + (" and rinse the backing out." if stays else "."),
        about="methods.backing",
        **mends,
    )


def _of_lace(making: Making, wish: Wish) -> Iterator[Warned]:
    """Stop lace on anything that does not wash away. Source: handbook checks, lace-backing."""
    backing = making.backing
    if not making.goods.only_soluble or (backing is not None and backing.removal == "rinse"):
        return
    what = backing.label.lower() if backing else "nothing"
    yield warned(
        "lace-backing",
        "stop",
        f"{making.goods.label} stands by itself: on {what} it cannot.",
        "Sew it on two layers that wash away.",
        about="methods.backing",
        backing=wish.house.proposals.rinsed_backing,
        layers=2,
    )


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of stretch without hold, of too dense a design, of what stays in view."""
    yield from _of_lace(making, wish)
    yield from _of_stretch(making, wish)
    yield from _of_density(making, wish)
    yield from _of_back(making, wish)
