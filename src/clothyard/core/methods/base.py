"""The knock-down base: stitches that hold deep pile down under a design."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Wish
from clothyard.core.methods.making import Making


def propose(wish: Wish) -> Proposal:
    """Propose none: film is enough for most pile."""
    if wish.goods.pile == 2:
        why = "Film is enough for most pile; a base of stitches lasts through washes."
        return Proposal("false", why)
    return Proposal("false", "Only deep pile asks for a base of stitches.")


def settle(chosen: Chosen) -> bool:
    """Settle whether a base is sewn."""
    return chosen.yes("knock_down", propose(chosen.wish))


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer a base on deep pile, or to go without one."""
    if making.goods.pile != 2 and not making.knock_down:
        return
    why = (
        "Film alone keeps the stitches up until the first washes."
        if making.knock_down
        else "A base of stitches holds the pile down for good."
    )
    yield Offer("knock_down", str(not making.knock_down).lower(), why)
