"""The bobbin: its colour, and when it is changed."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from clothyard.core.colours import is_dark
from clothyard.core.house.document import BobbinColour, BobbinPolicy, BobbinRule, House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making

THIN_MM = 0.5
"""Through cloth under this a dark bobbin shows."""
_WHY_COLOUR: dict[BobbinColour, str] = {
    "white": "For light goods.",
    "black": "For dark goods.",
    "match": "Match every colour where both sides are seen.",
    "nearest": "Fine thread in the nearest colour: nothing to wind, and it never loops.",
}
LOOPS = "40 weight in it may loop: loosen it a little, and look at the first piece."
POLICY_WHY: dict[BobbinPolicy, str] = {
    "run-out": "Uses each bobbin up; some end inside a piece.",
    "between-pieces": "Never ends a bobbin inside a piece.",
}


def propose(wish: Wish) -> Proposal:
    """Propose the class's own where it asks for one, else by how dark the goods are."""
    if wish.goods.back_seen == "yes":
        why = "The back is seen: the bobbin matches each colour."
        return Proposal("match", f"{why} {LOOPS}")
    if wish.goods.bobbin != "white":
        why = "The part is seen from both sides: the bobbin matches each colour."
        return Proposal(wish.goods.bobbin, f"{why} {LOOPS}")
    if _on_dark(wish):
        return Proposal("black", "Dark goods: a dark bobbin does not show through.")
    if any(cell.colour for cell in wish.line.cells):
        return Proposal("white", "Light for light goods, dark for dark goods.")
    return Proposal("white", "Light, as for light goods: no colour of the goods is said.")


def _on_dark(wish: Wish) -> bool:
    """Whether all goods are of a colour that is known to be dark."""
    colours = [cell.colour for cell in wish.line.cells if cell.colour]
    return bool(colours) and all(is_dark(colour) for colour in colours)


def propose_policy(wish: Wish) -> Proposal:
    """Propose the shop's policy; the cheaper one is found once the pass's use is known."""
    policy = wish.house.bobbin_plan.policy
    if policy == "cheaper":
        return Proposal(policy, "Whichever costs less in thread and time.")
    if policy == "between-pieces":
        return Proposal(policy, "Changed between pieces, a bobbin never ends inside one.")
    return Proposal(policy, "Run out, none is thrown away half full.")


def settle(chosen: Chosen) -> tuple[BobbinColour, BobbinRule]:
    """Settle colour and policy."""
    colour = chosen.settle("bobbin", propose(chosen.wish))
    policy = chosen.settle("bobbin_policy", propose_policy(chosen.wish))
    colours: tuple[BobbinColour, ...] = get_args(BobbinColour)
    policies: tuple[BobbinRule, ...] = get_args(BobbinRule)
    return colours[colours.index(colour)], policies[policies.index(policy)]


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other colours."""
    for colour, why in _WHY_COLOUR.items():
        if colour != making.bobbin:
            yield Offer("bobbin", colour, why)


def offer_policy(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other policy."""
    for policy, why in POLICY_WHY.items():
        if policy != making.bobbin_policy:
            yield Offer("bobbin_policy", policy, why)


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a dark bobbin under thin cloth."""
    if making.bobbin == "black" and making.goods.thickness_mm < THIN_MM and not _on_dark(wish):
        yield warned(
            "show-through",
            "warn",
            "A dark bobbin may show through light thin cloth.",
            "Use a light one unless the cloth is dark.",
            about="methods.bobbin",
            bobbin="white",
        )
