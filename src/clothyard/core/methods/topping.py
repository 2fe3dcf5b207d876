"""The topping: film that keeps stitches on top of texture and pile."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
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

SMALL_LETTERS_MM = 10.0
"""Lower letters sink into texture."""


def propose(wish: Wish) -> Proposal:
    """Propose the topping of the goods class."""
    goods = wish.goods
    if goods.topping == NONE and goods.pile == 1:
        letters = wish.facts.letter_height_mm
        small = letters is not None and letters < SMALL_LETTERS_MM
        film = wish.house.proposals.pile_topping
        if small and film in stocked(wish.house):
            return Proposal(film, "Small letters sink into texture: film keeps them on top of it.")
        return Proposal(NONE, "Texture this low takes all but small letters without one.")
    if goods.topping == NONE:
        return Proposal(NONE, "Smooth cloth: stitches stay on top without one.")
    pile = "Texture" if goods.pile < 2 else "Deep pile"
    return Proposal(goods.topping, f"{pile}: film keeps the stitches on top of it.")


def settle(chosen: Chosen) -> str:
    """Settle the topping: its id, or none.

    Raises
    ------
    BadInput
        If the shop has no roll of it.
    """
    wish = chosen.wish
    topping_id = chosen.settle("topping", propose(wish), known=[*wish.house.toppings, NONE])
    check_roll("topping", topping_id, wish)
    return topping_id


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other toppings on the shelf, and none."""
    here = stocked(house)
    for value in house.toppings:
        if value != making.topping_id and value in here:
            yield Offer("topping", value, "Keeps stitches on top of pile.")
    if making.topping_id != NONE:
        yield Offer("topping", NONE, "Leave it out.")


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of deep pile with neither a topping nor a base."""
    if making.goods.pile == 2 and making.topping is None and not making.knock_down:
        yield warned(
            "top-pile",
            "warn",
            "Deep pile without a topping swallows the stitches.",
            "Lay soluble film on top.",
            about="methods.topping",
            topping=wish.house.proposals.pile_topping,
        )
