"""Settling a placement: every method chosen or proposed, each by its own module."""

from __future__ import annotations

from clothyard.core.cloth.hoops import fit_in
from clothyard.core.cloth.layout import grown
from clothyard.core.cloth.room import RoomNow, room_at
from clothyard.core.errors import unknown_id
from clothyard.core.house.document import GoodsClass, House
from clothyard.core.job.document import Goods, Line, Placement
from clothyard.core.methods import (
    backing,
    base,
    bobbin,
    hold,
    hoop,
    machine,
    marking,
    needle,
    patch,
    position,
    thread,
    topping,
    way,
)
from clothyard.core.methods.choice import Chosen, Wish
from clothyard.core.methods.making import Making
from clothyard.core.stitches.facts import DesignFacts

ALIASES = {
    "cut-away": "cut-away-medium",
    "tear-away": "tear-away-medium",
    "no-show-mesh": "mesh",
    "magnetic-118": "magnetic-125",
}


def goods_name(goods: Goods, house: House) -> str:
    """Name what is sewn on as the customer reads it: the shelf's blank, else the class.

    Parameters
    ----------
    goods : Goods
        The class that is sewn on.
    house : House
        The standards.

    Returns
    -------
    str
    """
    if goods.supplied_by == "shop" and goods.blank in house.blanks:
        return house.blanks[goods.blank].label
    known = house.goods.get(goods.class_)
    return known.label if known else goods.class_


def goods_class(line: Line, house: House, *, where: str) -> GoodsClass:
    """Look up a line's goods class.

    Parameters
    ----------
    line, house : Line, House
    where : str
        Path of the line, for errors.

    Raises
    ------
    BadInput
        If the shop has no such class; names the nearest.
    """
    if line.goods.class_ not in house.goods:
        raise unknown_id(
            line.goods.class_, house.goods, where=f"{where}.goods.class", what="goods class"
        )
    goods = house.goods[line.goods.class_]
    heavy = _borne(line, goods, house)
    if heavy > goods.standby:
        goods = goods.model_copy(update={"standby": heavy})
    if line.goods.spoil is not None:
        goods = goods.model_copy(update={"spoil": float(line.goods.spoil)})
    if not line.goods.once_only:
        return goods
    careful = {"cap_spm": max(LEAST_SPM, goods.cap_spm - ONCE_SLOWER_SPM), "standby": 1.0}
    return goods.model_copy(update=careful)


def _borne(line: Line, goods: GoodsClass, house: House) -> float:
    """Stand-by of goods of their weight: what hangs from the hoop is borne by someone.

    Source: docs/formulas.md 7.
    """
    weight, heavy = line.goods.weight_g, house.heavy
    if weight is None:
        return goods.standby
    over_g = max(0.0, weight - max(heavy.from_g, goods.weight_g))
    return min(1.0, goods.standby + heavy.standby_per_kg * over_g / 1000)


ONCE_SLOWER_SPM, LEAST_SPM = 100, 100
"""A piece that cannot be bought again is sewn so much slower, with a person by all the time."""


PATCH = "patch"
"""The class that a design sewn as a patch is sewn on."""


def wish_of(
    line: Line, placement: Placement, facts: DesignFacts, house: House, *, where: str
) -> Wish:
    """Say what a placement asks for, and of which goods.

    Parameters
    ----------
    line : Line
        As asked.
    placement : Placement
        As asked.
    facts : DesignFacts
        Of the design.
    house : House
        The standards.
    where : str
        Its place in the job, for errors.

    Returns
    -------
    Wish

    Raises
    ------
    BadInput
        If the shop has no such goods class.
    """
    goods = goods_class(line, house, where=where.split(".", maxsplit=1)[0])
    if placement.as_patch and PATCH in house.goods:
        goods = house.goods[PATCH].model_copy(update={"position": goods.position})
    elif placement.seam is not None and goods.flat_as in house.goods:
        of = line.goods.model_copy(update={"class_": goods.flat_as})
        flat = goods_class(line.model_copy(update={"goods": of}), house, where=where)
        held = {"hooping": flat.hooping, "cap_spm": flat.cap_spm, "standby": flat.standby}
        goods = goods.model_copy(update=held)
    room = room_there(line, placement, goods, house)
    return Wish(line, placement, facts, goods, house, where, room)


def room_there(line: Line, placement: Placement, goods: GoodsClass, house: House) -> RoomNow | None:
    """Return the room of the place that is asked, for the sizes that are ordered; see room_at.

    A seam that is opened lets the place lie flat: nothing bounds it then.

    Parameters
    ----------
    line, placement : Line, Placement
        As asked.
    goods : GoodsClass
        That is sewn on: its usual place where none is asked.
    house : House
    """
    if placement.seam is not None or placement.as_patch:
        return None
    position = placement.position or goods.position
    sizes = [cell.size for cell in line.cells]
    return room_at(line.goods, position, house, sizes=sizes, measured=placement.room)


def settle_methods(
    line: Line,
    placement: Placement,
    facts: DesignFacts,
    house: House,
    *,
    where: str,
    like: Making | None = None,
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
    like : Making, optional
        Of the same placement with other methods: hoops are not tried again where they were tried
        so.

    Returns
    -------
    Making
        With a reason for each choice. `hoop` is None when nothing fits.

    Raises
    ------
    BadInput
        If a chosen id is unknown, or a material has no roll.

    Source
    ------
    docs/formulas.md 5 and 14.
    """
    wish = wish_of(line, placement, facts, house, where=where)
    chosen = Chosen(wish, aliases=ALIASES)
    machine_id = machine.settle(chosen)
    thread_id = thread.settle(chosen)
    backing_id, layers = backing.settle(chosen)
    second_id, second_layers = backing.settle_second(chosen, backing_id)
    topping_id = topping.settle(chosen)
    taken_on = house.machines[machine_id]
    held = hold.settle(chosen)
    knock_down = base.settle(chosen)
    finish = patch.settle(chosen)
    flat = house.knock_down.margin_mm if knock_down else 0.0
    flat = max(flat, patch.reach_mm(finish, house))
    basted = max(house.basting.margin_mm, flat)
    misses = hoop.only_basting_misses(wish, taken_on, held, (flat, basted), like)
    baste = hold.settle_baste(chosen, held, misses=misses)
    margin = basted if baste else flat
    found = hoop.settle(chosen, machine=taken_on, hold=held, margin_mm=margin, like=like)
    needle_id = needle.settle(chosen, thread_id)
    colour, policy = bobbin.settle(chosen)
    marked, set_by = marking.settle(chosen)
    sewn = grown(found.layout.size_mm, margin)
    taken = house.hoops.get(found.hoop_id)
    turned = way.settle(chosen, machine=taken_on, hoop=taken, size_mm=sewn)
    fit = way.fit_as(fit_in(*sewn, taken) if taken else None, taken, sewn, turned, wish)
    return Making(
        goods_id=PATCH if placement.as_patch else line.goods.class_,
        goods=wish.goods,
        machine_id=machine_id,
        machine=taken_on,
        hold=held,
        hoop_id=found.hoop_id,
        hoop=taken,
        fit=fit,
        backing_id=backing_id,
        backing=house.backings.get(backing_id),
        layers=layers,
        second_id=second_id,
        second=house.backings.get(second_id),
        second_layers=second_layers,
        topping_id=topping_id,
        topping=house.toppings.get(topping_id),
        thread_id=thread_id,
        thread=house.threads[thread_id],
        needle_id=needle_id,
        needle=house.needles[needle_id],
        bobbin=colour,
        bobbin_policy=policy,
        baste=baste,
        knock_down=knock_down,
        finish=finish,
        marking=marked,
        set_by=set_by,
        way=turned,
        way_words=way.words(wish, taken_on, turned),
        way_sides=way.sides(wish, turned),
        position_id=position.settle(wish),
        layout=found.layout,
        tries=found.tries,
        sewn_mm=sewn,
        choices=tuple(chosen.choices),
        cloth_mm=wish.room.cloth_mm if wish.room else None,
    )
