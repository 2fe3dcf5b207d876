"""Hooped or floated, and basted down or not."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.cloth.hoops import RING, loose_thickness_mm
from clothyard.core.house.document import GoodsClass, HoldKind, House
from clothyard.core.methods.backing import density
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making

PERFORATED = 100
"""Stitches/cm² over which leather-like cloth tears."""
THICK_MM = 3.0
"""Looser than this the foot pushes the layers about."""


def _why(goods: GoodsClass) -> str:
    if goods.hold == "float":
        return "A hoop would mark it, or cannot hold it: float it on hooped backing."
    if goods.frame == "cap":
        return "A structured cap goes on the cap frame."
    if goods.hooping == "tight-tube":
        return "A narrow tube: hoop it in the smallest hoop that fits, and stay with it."
    if goods.hooping == "awkward-toy":
        return "Awkward to hoop: keep the rest of it clear of the needle."
    return "It hoops flat: hooping holds best."


def propose(wish: Wish) -> Proposal:
    """Propose what the goods class asks for."""
    return Proposal(wish.goods.hold, _why(wish.goods))


def propose_baste(hold: HoldKind, goods: GoodsClass) -> Proposal:
    """Propose basting for what is floated, and bears it."""
    if hold == "float" and not goods.pierce:
        why = "Basting would leave holes that stay: hold its margin with tape or clips."
        return Proposal("false", why)
    if hold == "float":
        return Proposal("true", "Floated goods are basted down.")
    return Proposal("false", "Hooped goods hold still.")


def settle(chosen: Chosen) -> tuple[HoldKind, bool]:
    """Settle how it is held: (hoop or float, basted or not)."""
    hold: HoldKind = "float" if chosen.settle("hold", propose(chosen.wish)) == "float" else "hoop"
    return hold, chosen.yes("baste", propose_baste(hold, chosen.wish.goods))


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other way of holding, where the goods need no frame of their own."""
    if making.goods.frame == "cap":
        return
    if making.hold == "hoop":
        why = "Stick it on hooped backing and baste it: no hoop marks."
        yield Offer("hold", "float", why)
    elif not making.goods.marks:
        yield Offer("hold", "hoop", "Hoop the goods themselves: the firmest hold.")


def offer_baste(making: Making, house: House) -> Iterator[Offer]:
    """Offer basting, or to go without, for what is floated."""
    if making.hold == "float" and (making.baste or making.goods.pierce):
        why = "Held by adhesive alone." if making.baste else "Basted down: it cannot creep."
        yield Offer("baste", str(not making.baste).lower(), why)


def _of_piercing(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of what leaves holes or a ring that stay.

    Source: handbook checks, pierce.
    """
    goods = making.goods
    if goods.pierce:
        return
    if making.baste:
        yield warned(
            "pierce",
            "warn",
            f"Basting leaves holes in {goods.label.lower()} that stay.",
            "Float it on a tacky backing, its margin held with tape or clips.",
            about="methods.baste",
            baste=False,
        )
    # a hoop that does not do is changed for one that may leave its ring
    sits = making.hoop is not None and making.hoop_id in making.fitting
    ring = not sits or (making.hoop is not None and making.hoop.kind in RING)
    if goods.marks and making.hold == "hoop" and ring:
        yield warned(
            "pierce",
            "warn",
            f"A hoop leaves its ring in {goods.label.lower()}, and the ring stays.",
            "Float it on a tacky backing, its margin held with tape or clips.",
            about="methods.hold",
            hold="float",
            baste=False,
            hoop=None,
        )
    if goods.marks and density(wish) > PERFORATED:
        yield warned(
            "pierce",
            "warn",
            f"{density(wish):.0f} stitches/cm² perforate {goods.label.lower()}: it tears there.",
            "Use a lighter design, or sew it on a patch.",
            about="design",
        )


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of thick loose layers, of a cap on a flat hoop, of holes that stay."""
    yield from _of_piercing(making, wish)
    loose = loose_thickness_mm(making.goods)
    if loose > THICK_MM:
        said = f"{loose:g} mm lie loose under the foot."
        yield warned(
            "layers-thick", "warn", said, "Slow down, and leave out batting.", about="methods.hold"
        )
    if making.goods.is_cap and making.goods.frame != "cap":
        yield warned(
            "cap-flat",
            "warn",
            "A cap on a flat hoop suits soft caps only, small designs, no lettering.",
            "For a batch use a cap frame, or sew a patch and fix it on.",
            about="methods.hold",
        )
