"""The backing and its layers: what holds the goods under the needle."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

from clothyard.core.cloth.load import (
    Held,
    capacity,
    carries,
    firm_enough,
    held_together,
    ladder,
    load,
)
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

MATCHING = ("match", "nearest")
"""Bobbins that may be seen."""
_WHY = {
    "trim": "Stays for life; the rest is trimmed.",
    "tear": "Tears off; a clean back.",
    "rinse": "Rinses away: nothing is left behind.",
}


def _held(wish: Wish) -> Held:
    """The backing of the goods class, or what is firmer where it does not carry the design.

    At the end of its ladder the firmest.

    Source: docs/formulas.md 5.
    """
    goods, house = wish.goods, wish.house
    usual = Held(goods.backing, goods.layers)
    enough = firm_enough(usual, goods, wish.facts, house)
    return enough or ladder(usual, goods, house)[-1]


def _too_much(wish: Wish, held: Held) -> str:
    """Tell what a design asks for and what a backing carries, in words."""
    backing = wish.house.backings[held.backing_id]
    asked = load(wish.facts, wish.house)
    carried = capacity(backing, held.layers, wish.goods, wish.facts)
    layers = f"{held.layers} × " if held.layers > 1 else ""
    return f"a load of {asked:.0f}; {layers}{backing.label.lower()} carries {carried:.0f} here"


def propose(wish: Wish) -> Proposal:
    """Propose the backing of the goods class while it carries the design, else a firmer one."""
    goods, found = wish.goods, _held(wish)
    if found.backing_id == goods.backing:
        return Proposal(goods.backing, goods.why)
    usual = Held(goods.backing, goods.layers)
    return Proposal(found.backing_id, f"The design is heavy: {_too_much(wish, usual)}.")


def propose_layers(wish: Wish, backing_id: str) -> Proposal:
    """Propose as many layers as the goods class asks for, or as carry the design; none of none.

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
    goods, house = wish.goods, wish.house
    if backing_id == NONE:
        return Proposal("0", "Without a backing there is nothing to lay.")
    if wish.placement.methods.second_backing not in (None, NONE):
        return Proposal("1", "Another kind lies beside it.")
    usual = Held(backing_id, max(1, goods.layers) if backing_id == goods.backing else 1)
    if not carries(usual, goods, wish.facts, house):
        twice = Held(backing_id, 2)
        if twice in ladder(usual, goods, house) and usual.layers == 1:
            return Proposal("2", f"Laid crosswise: {_too_much(wish, usual)}.")
    why = "As the goods class asks." if usual.layers == 1 else "One layer is not enough here."
    return Proposal(str(usual.layers), why)


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


def settle_second(chosen: Chosen, backing_id: str) -> tuple[str, int]:
    """Settle a backing of another kind beside the first, and its layers: (id or none, layers).

    Parameters
    ----------
    chosen : Chosen
        What the placement chooses.
    backing_id : str
        Of the first, or "none": then there is no second.

    Raises
    ------
    BadInput
        If the shop has no roll of it.
    """
    wish = chosen.wish
    why = "One kind holds it." if backing_id != NONE else "There is no first to lay it to."
    known = [*wish.house.backings, NONE]
    second_id = chosen.settle("second_backing", Proposal(NONE, why), known=known)
    check_roll("second_backing", second_id, wish)
    if NONE in (backing_id, second_id):
        return NONE, 0
    layers = int(chosen.settle("second_layers", Proposal("1", "A single one beside the first.")))
    return (second_id, layers) if layers else (NONE, 0)


def with_backing(making: Making, backing_id: str, wish: Wish) -> Making:
    """Return the making with another backing: its layers follow, and nothing else.

    Parameters
    ----------
    making : Making
    backing_id : str
        Of the other, or "none".
    wish : Wish
        What is asked.
    """
    asked = wish.placement.methods.layers
    layers = int(propose_layers(wish, backing_id).value) if asked is None else asked
    if layers == 0 or backing_id == NONE:
        return replace(
            making,
            backing_id=NONE,
            backing=None,
            layers=0,
            second_id=NONE,
            second=None,
            second_layers=0,
        )
    backing = wish.house.backings[backing_id]
    return replace(making, backing_id=backing_id, backing=backing, layers=layers)


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


def offer_second(making: Making, house: House) -> Iterator[Offer]:
    """Offer to leave the second kind out; which one is taken beside the first, a school says."""
    if making.second is not None:
        yield Offer("second_backing", NONE, "One kind alone.")


def offer_layers(making: Making, house: House) -> Iterator[Offer]:
    """Offer a layer fewer, and one more."""
    for n in (making.layers - 1, making.layers + 1):
        if making.backing and n > 0:
            yield Offer("layers", str(n), "Thinner." if n < making.layers else "Firmer.")


def _firm(making: Making, wish: Wish, held: Held) -> tuple[str, dict[str, Any]]:
    """Return a step of the ladder that mends, from one on: (in words, methods); none: ("", {})."""
    found = firm_enough(held, making.goods, wish.facts, wish.house)
    if found is None:
        return "", {}
    kind, _, grade = wish.house.backings[found.backing_id].label.lower().partition(", ")
    name = f"{grade} {kind}".strip()  # "Cut-away, medium" is medium cut-away
    said = f"two layers of {name}" if found.layers == 2 else name
    return said, {"backing": found.backing_id, "layers": found.layers}


def _of_stretch(making: Making, wish: Wish) -> Iterator[Warned]:
    goods, backing = making.goods, making.backing
    torn = all(laid.backing.removal == "tear" for laid in making.laid)
    if goods.stretch >= 1 and torn:
        what = f"only {backing.label.lower()}" if backing else "no backing"
        name = ""
        mends: dict[str, Any] = {}
        if not making.on_cap_frame and not goods.only_soluble:
            seen = goods.back_seen == "yes"
            proposals = wish.house.proposals
            firm = proposals.rinsed_backing if seen else proposals.firm_backing
            held = Held(firm, 2 if seen else 1)
            name, mends = _firm(making, wish, held)
            if not mends and firm in wish.house.backings:
                label = wish.house.backings[firm].label.lower()
                name, mends = label, {"backing": firm, "layers": held.layers}
        yield warned(
            "back-stretch",
            "warn",
            f"The {goods.label.lower()} stretches and has {what}: the design will lose its shape "
            "in wear and wash.",
            f"Take {name}." if name else "Take a backing that stays.",
            about="methods.backing",
            **mends,
        )


def _of_load(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a design that is too much for its backing. Source: handbook checks, back-load."""
    held = Held(making.backing_id, making.layers)
    if making.backing is None or carries(held, making.goods, wish.facts, wish.house):
        return
    carried = held_together(making.laid, making.goods, wish.facts)
    if making.second is not None and load(wish.facts, wish.house) <= carried:
        return
    name, mends = _firm(making, wish, held)
    said = _too_much(wish, held)
    if making.second is not None:
        said = f"a load of {load(wish.facts, wish.house):.0f}; both kinds carry {carried:.0f} here"
    yield warned(
        "back-load",
        "warn",
        f"The design is too heavy for its backing: {said}. It puckers.",
        f"Take {name}, or a lighter design."
        if mends
        else "Have a lighter design made, take another backing, or split it.",
        about="methods.backing",
        **mends,
    )


def _of_back(making: Making, wish: Wish) -> Iterator[Warned]:
    trimmed = [laid.backing_id for laid in making.laid if laid.backing.removal == "trim"]
    stays = bool(trimmed)
    matched = making.bobbin in MATCHING
    if making.goods.back_seen != "yes" or (not stays and matched):
        return
    wrong = ["the backing stays in view"] if stays else []
    wrong += [] if matched else ["the bobbin does not match"]
    mends: dict[str, Any] = {} if matched else {"bobbin": "match"}
    if stays:
        mends |= {"backing": wish.house.proposals.rinsed_backing, "layers": 2}
        mends |= {"second_backing": None} if making.second is not None else {}
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
    if not making.goods.only_soluble or (
        backing is not None and all(laid.backing.removal == "rinse" for laid in making.laid)
    ):
        return
    wrong = [laid.backing.label.lower() for laid in making.laid if laid.backing.removal != "rinse"]
    what = " and ".join(wrong) or "nothing"
    yield warned(
        "lace-backing",
        "stop",
        f"{making.goods.label} stands by itself: on {what} it cannot.",
        "Sew it on two layers that wash away.",
        about="methods.backing",
        backing=wish.house.proposals.rinsed_backing,
        layers=2,
        **({"second_backing": None} if making.second is not None else {}),
    )


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of stretch without hold, of too dense a design, of what stays in view."""
    yield from _of_lace(making, wish)
    yield from _of_stretch(making, wish)
    yield from _of_load(making, wish)
    yield from _of_back(making, wish)
