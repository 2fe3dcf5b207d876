"""Hooped or floated, and basted down or not."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from clothyard.core.cloth.hoops import RING, fit_in, loose_thickness_mm
from clothyard.core.cloth.load import Held, density, firm_enough
from clothyard.core.cloth.room import reaches
from clothyard.core.house.document import GoodsClass, HoldKind, House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, stocked, warned
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


def hoopable(
    goods: GoodsClass,
    size_mm: tuple[float, float],
    cloth_mm: tuple[float, float] | None,
    house: House,
    *,
    all_round: bool = False,
) -> bool:
    """Whether some hoop of the shop that takes a design grips the cloth round it, or all round it.

    Where no hoop takes it at all there is nothing that speaks against hooping.

    Source: docs/formulas.md 5, cloth in the ring.
    """
    if cloth_mm is None:
        return True
    found = [
        (hoop, fit)
        for hoop in house.hoops.values()
        if hoop.owned
        and (hoop.kind in RING if all_round else hoop.kind != "cap")
        and loose_thickness_mm(goods) <= hoop.takes_mm
        and (fit := fit_in(*size_mm, hoop)).fits
    ]
    return not found or any(reaches(hoop, cloth_mm, turned=fit.turned) for hoop, fit in found)


def propose(wish: Wish) -> Proposal:
    """Propose what the goods class asks for; to float what no hoop can grip."""
    goods, room = wish.goods, wish.room
    base = 2 * wish.house.knock_down.margin_mm if wish.placement.methods.knock_down else 0.0
    size = (wish.facts.width_mm + base, wish.facts.height_mm + base)
    if (
        goods.hold == "hoop"
        and room is not None
        and wish.placement.band is None
        and not hoopable(goods, size, room.cloth_mm, wish.house)
    ):
        why = f"{room.label} does not reach into a hoop's ring: float it on hooped backing."
        return Proposal("float", why)
    return Proposal(goods.hold, _why(goods))


def propose_baste(hold: HoldKind, goods: GoodsClass, *, misses: bool = False) -> Proposal:
    """Propose basting for what is floated, bears it, and leaves it room in the hoop."""
    if hold == "float" and misses:
        return Proposal("false", "Basting round it would miss the hoop: hold its margin with tape.")
    if hold == "float" and not goods.pierce:
        why = "Basting would leave holes that stay: hold its margin with tape or clips."
        return Proposal("false", why)
    if hold == "float":
        return Proposal("true", "Floated goods are basted down.")
    return Proposal("false", "Hooped goods hold still.")


def settle(chosen: Chosen) -> HoldKind:
    """Settle how it is held: hooped or floated."""
    return "float" if chosen.settle("hold", propose(chosen.wish)) == "float" else "hoop"


def settle_baste(chosen: Chosen, hold: HoldKind, *, misses: bool) -> bool:
    """Settle whether it is basted down; `misses` says that only basting would miss every hoop."""
    return chosen.yes("baste", propose_baste(hold, chosen.wish.goods, misses=misses))


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other way of holding, where the goods need no frame of their own."""
    if making.goods.frame == "cap":
        return
    if making.hold == "hoop":
        if making.backing is not None:
            why = "Stick it on hooped backing and baste it: no hoop marks."
            yield Offer("hold", "float", why)
    elif not making.goods.marks and hoopable(
        making.goods, making.layout.size_mm, making.cloth_mm, house
    ):
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
            **({} if making.backing is not None else _hooped_backing(making, wish)),
        )
    found = density(wish.facts)
    if goods.marks and found > PERFORATED:
        yield Warned(
            "pierce",
            "warn",
            f"{found:.0f} stitches/cm² perforate {goods.label.lower()}: it tears there.",
            "Use a lighter design, or sew it on a patch.",
            {},
            patch=True,
            about="design",
        )


def _hooped_backing(making: Making, wish: Wish) -> dict[str, Any]:
    """Propose what a piece is floated on where no backing is chosen; {} of a shop without any."""
    house, seen = wish.house, making.goods.back_seen == "yes" or making.goods.only_soluble
    here = stocked(house)
    wanted = (house.proposals.rinsed_backing, "mesh") if seen else ("mesh", making.goods.backing)
    on = next((name for name in wanted if name in here and name in house.backings), None)
    if on is None:
        return {}
    held = firm_enough(Held(on, 1), making.goods, wish.facts, house) or Held(on, 1)
    return {"backing": held.backing_id, "layers": held.layers}


def _of_nothing(making: Making, wish: Wish) -> Iterator[Warned]:
    """Stop what is floated on nothing. Source: handbook checks, float-nothing."""
    if making.hold != "float" or making.backing is not None:
        return
    mends = _hooped_backing(making, wish)
    name = wish.house.backings[mends["backing"]].label.lower() if mends else "a backing"
    yield warned(
        "float-nothing",
        "stop",
        "It is floated, and nothing is hooped for it to lie on.",
        f"Hoop {name} and float it on that, or hold the piece in a magnetic frame.",
        about="methods.backing",
        **mends,
    )


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of thick loose layers, of a cap on a flat hoop, of holes that stay."""
    yield from _of_nothing(making, wish)
    yield from _of_piercing(making, wish)
    loose = loose_thickness_mm(making.goods)
    if loose > THICK_MM:
        said = f"{loose:g} mm lie loose under the foot."
        yield warned(
            "layers-thick", "warn", said, "Slow down, and leave out batting.", about="methods.hold"
        )
    right = making.backing is not None and making.backing.wet and making.hold == "float"
    lettered = wish.facts.kind == "lettering" or wish.facts.source == "words"
    if making.goods.is_cap and making.goods.frame != "cap" and (lettered or not right):
        yield Warned(
            "cap-flat",
            "warn",
            "A cap on a flat hoop suits soft caps only, small designs, no lettering, stuck down on "
            "water-activated backing.",
            "Sew it as a patch and fix it on, or use a cap frame.",
            {},
            patch=True,
            about="methods.hold",
        )
