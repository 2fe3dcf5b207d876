"""The place on the piece: which one, and what of it is too wide or too high there."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.errors import unknown_id
from clothyard.core.methods.choice import Warned, Wish, warned
from clothyard.core.methods.making import Making


def settle(wish: Wish) -> str:
    """Settle the position: the job's, else the class's default.

    Raises
    ------
    BadInput
        If the shop has no such position.
    """
    position_id = wish.placement.position or wish.goods.position
    known = wish.house.positions
    if position_id not in known:
        raise unknown_id(position_id, known, where=f"{wish.where}.position", what="position")
    return position_id


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a design too high for a crown, or too wide for its place."""
    facts, crown = wish.facts, making.goods.crown_mm
    if making.goods.is_cap and facts.height_mm > crown + 1e-6:
        yield warned(
            "cap-tall",
            "warn",
            f"{wish.said(facts.height_mm)} is too high for this crown; {wish.said(crown)} is the "
            "most.",
            "Make it lower.",
            about="place",
        )
    place = wish.house.positions[making.position_id]
    if facts.width_mm > place.max_width_mm + 1e-6 and not wish.named:
        yield warned(
            "place-big",
            "warn",
            f"{wish.said(facts.width_mm)} is wide for {place.label.lower()}; "
            f"{wish.said(place.max_width_mm)} is the most.",
            "Make it smaller, or put it elsewhere.",
            about="place",
        )
