"""Methods: what is proposed for goods and design, why, and what else could be chosen."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from clothyard.core.cloth.hoops import accepts, fit_in
from clothyard.core.cloth.layout import HoopTry, Layout, grown, lay_out, try_hoops
from clothyard.core.cloth.place import lying_size
from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house import BobbinColour, GoodsClass, House
from clothyard.core.job import Goods, Line, Methods, Placement
from clothyard.core.making import NONE, Choice, Making
from clothyard.core.measures import size_text
from clothyard.core.stitches.facts import DesignFacts

ALIASES = {
    "cut-away": "cut-away-medium",
    "tear-away": "tear-away-medium",
    "no-show-mesh": "mesh",
}
_DARK = ("black", "navy", "charcoal", "dark", "brown", "maroon", "burgundy", "bottle", "graphite")


@dataclass
class _Chooser:
    """Settles one key after the other and remembers where each value came from."""

    methods: Methods
    where: str
    choices: list[Choice]

    def settle(self, key: str, proposed: str, reason: str, *, known: Iterable[str] = ()) -> str:
        given = getattr(self.methods, key)
        if given is None:
            self.choices.append(Choice(key, proposed, "proposed", reason))
            return proposed
        value = str(given).lower() if isinstance(given, bool) else str(given)
        names = list(known)
        if names and value not in names:
            value = ALIASES.get(value, value)
            if value not in names:
                raise unknown_id(value, names, where=f"{self.where}.{key}", what=key)
        why = reason if value == proposed else f"Chosen; proposed was {proposed}: {reason}"
        self.choices.append(Choice(key, value, "chosen", why))
        return value


def goods_name(goods: Goods, house: House) -> str:
    """Name what is sewn on as the customer reads it: the shelf's blank, else the class."""
    if goods.supplied_by == "shop" and goods.blank in house.blanks:
        return house.blanks[goods.blank].label
    known = house.goods.get(goods.class_)
    return known.label if known else goods.class_


def goods_class(line: Line, house: House, *, where: str) -> GoodsClass:
    """Look up a line's goods class.

    Raises
    ------
    BadInput
        If the shop has no such class; names the nearest.
    """
    if line.goods.class_ not in house.goods:
        raise unknown_id(
            line.goods.class_, house.goods, where=f"{where}.goods.class", what="goods class"
        )
    return house.goods[line.goods.class_]


def _proposed_bobbin(line: Line, goods: GoodsClass) -> tuple[BobbinColour, str]:
    if goods.bobbin != "white":
        return goods.bobbin, "The part is seen from both sides: the bobbin matches each colour."
    colours = [cell.colour.lower() for cell in line.cells if cell.colour]
    if colours and all(any(word in colour for word in _DARK) for colour in colours):
        return "black", "Dark goods: a dark bobbin does not show through."
    return "white", "Light for light goods, dark for dark goods."


def _needle(goods: GoodsClass, thread_id: str, house: House) -> tuple[str, str]:
    wanted = house.threads[thread_id].needle
    if wanted not in house.needles:
        wanted = goods.needle
    return wanted, house.needles[wanted].why


def _topping_reason(goods: GoodsClass) -> str:
    if goods.topping == NONE:
        return "Smooth cloth: stitches stay on top without one."
    return ("Deep pile", "Texture")[goods.pile < 2] + ": film keeps the stitches on top of it."


def _hold_reason(goods: GoodsClass) -> str:
    if goods.hold == "float":
        return "A hoop would mark it, or cannot hold it: float it on hooped backing."
    if goods.frame == "cap":
        return "A structured cap goes on the cap frame."
    if goods.hooping == "tight-tube":
        return "A narrow tube: hoop it in the smallest hoop that fits, and stay with it."
    if goods.hooping == "awkward-toy":
        return "Awkward to hoop: keep the rest of it clear of the needle."
    return "It hoops flat: hooping holds best."


def settle_methods(
    line: Line, placement: Placement, facts: DesignFacts, house: House, *, where: str
) -> Making:
    """Settle every method of a placement: the chosen ones kept, the rest proposed.

    Parameters
    ----------
    line, placement : Line, Placement
    facts : DesignFacts
        Of the placement's design.
    house : House
    where : str
        Path of the placement, for errors.

    Returns
    -------
    Making
        With a reason for each choice. `hoop` is None when nothing fits.

    Raises
    ------
    BadInput
        If a chosen id is unknown, or a material has no roll.
    """
    goods = goods_class(line, house, where=where.split(".", maxsplit=1)[0])
    chosen = _Chooser(placement.methods, f"{where}.methods", [])
    first_machine = min(house.machines, key=lambda m: house.machines[m].order)
    machine_id = chosen.settle(
        "machine", first_machine, "The shop's first machine.", known=house.machines
    )
    machine = house.machines[machine_id]
    first = "polyester" if "polyester" in house.threads else next(iter(house.threads))
    thread_id = chosen.settle(
        "thread", first, "Polyester is strong and colourfast.", known=house.threads
    )
    backing_id = chosen.settle("backing", goods.backing, goods.why, known=[*house.backings, NONE])
    layers = int(
        chosen.settle(
            "layers",
            str(goods.layers if backing_id != NONE else 0),
            "As the goods class asks." if goods.layers == 1 else "One layer is not enough here.",
        )
    )
    if layers == 0 or backing_id == NONE:
        layers, backing_id = 0, NONE
    topping_id = chosen.settle(
        "topping", goods.topping, _topping_reason(goods), known=[*house.toppings, NONE]
    )
    hold = chosen.settle("hold", goods.hold, _hold_reason(goods))
    baste = (
        chosen.settle(
            "baste",
            str(hold == "float").lower(),
            "Floated goods are basted down." if hold == "float" else "Hooped goods hold still.",
        )
        == "true"
    )
    knock_down = (
        chosen.settle(
            "knock_down",
            "false",
            "Film is enough for most pile; a base of stitches lasts through washes."
            if goods.pile == 2
            else "Only deep pile asks for a base of stitches.",
        )
        == "true"
    )
    margin = max(
        house.basting.margin_mm if baste else 0.0,
        house.knock_down.margin_mm if knock_down else 0.0,
    )
    lying = lying_size((facts.width_mm, facts.height_mm), placement.place)
    tries = try_hoops(
        placement,
        lying,
        hoops=house.hoops,
        machine=machine,
        goods=goods,
        hold=hold,  # type: ignore[arg-type]
        margin_mm=margin,
        most=line.quantity,
    )
    hoop_id, layout = _settle_hoop(chosen, tries, placement, lying, margin, line.quantity, house)
    hoop = house.hoops.get(hoop_id)
    sewn = grown(layout.size_mm, margin)
    needle, needle_why = _needle(goods, thread_id, house)
    bobbin, bobbin_why = _proposed_bobbin(line, goods)
    needle_id = chosen.settle("needle", needle, needle_why, known=house.needles)
    bobbin = chosen.settle("bobbin", bobbin, bobbin_why)  # type: ignore[assignment]
    policy = chosen.settle(
        "bobbin_policy",
        house.bobbin_plan.policy,
        "Changed between pieces, a bobbin never ends inside one."
        if house.bobbin_plan.policy == "between-pieces"
        else "Run out, none is thrown away half full.",
    )
    position_id = placement.position or goods.position
    if position_id not in house.positions:
        raise unknown_id(position_id, house.positions, where=f"{where}.position", what="position")
    _check_rolls(house, backing_id, topping_id, where)
    return Making(
        goods_id=line.goods.class_,
        goods=goods,
        machine_id=machine_id,
        machine=machine,
        hold=hold,  # type: ignore[arg-type]
        hoop_id=hoop_id,
        hoop=hoop,
        fit=fit_in(*sewn, hoop) if hoop else None,
        backing_id=backing_id,
        backing=house.backings.get(backing_id),
        layers=layers,
        topping_id=topping_id,
        topping=house.toppings.get(topping_id),
        thread_id=thread_id,
        thread=house.threads[thread_id],
        needle_id=needle_id,
        bobbin=bobbin,
        bobbin_policy=policy,  # type: ignore[arg-type]
        baste=baste,
        knock_down=knock_down,
        position_id=position_id,
        layout=layout,
        tries=tuple(tries),
        sewn_mm=sewn,
        choices=tuple(chosen.choices),
    )


def _settle_hoop(
    chosen: _Chooser,
    tries: list[HoopTry],
    placement: Placement,
    lying_mm: tuple[float, float],
    margin_mm: float,
    quantity: int,
    house: House,
) -> tuple[str, Layout]:
    best = tries[0] if tries and tries[0].does else None
    reason = "No hoop of this machine fits the design."
    if best:
        size = size_text(grown(best.layout.size_mm, margin_mm), units=house.shop.units)
        reason = f"The smallest that fits {size} and its clearance."
        if best.layout.kind != "single":
            reason = f"The fewest hoopings, in the smallest hoop that fits {size}."
    hoop_id = chosen.settle("hoop", best.hoop_id if best else NONE, reason, known=house.hoops)
    found = next((tried for tried in tries if tried.hoop_id == hoop_id), None)
    if found:
        return hoop_id, found.layout
    return NONE, lay_out(placement, lying_mm, None, margin_mm=margin_mm, most=quantity)


def _check_rolls(house: House, backing_id: str, topping_id: str, where: str) -> None:
    stocked = {roll.material for roll in house.rolls.values()}
    for key, material in (("backing", backing_id), ("topping", topping_id)):
        if material != NONE and material not in stocked:
            raise BadInput(
                f"the shop has no roll of {material!r}.",
                where=f"{where}.methods.{key}",
                remedy="Choose another, or add a roll of it to the house.",
                code="roll-unknown",
            )


def hoop_refusal(making: Making) -> str:
    """Tell why the chosen hoop does not do; "" when it does, or there is none."""
    if making.hoop is None:
        return ""
    return accepts(making.hoop, machine=making.machine, goods=making.goods, hold=making.hold)
