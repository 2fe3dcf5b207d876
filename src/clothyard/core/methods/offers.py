"""What else could be chosen for a placement, and the making that results."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from clothyard.core.cloth.hoops import fit_in
from clothyard.core.house.document import House
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
from clothyard.core.methods.choice import Offer, Warned, Wish
from clothyard.core.methods.making import Making

OFFERS: tuple[Callable[[Making, House], Iterator[Offer]], ...] = (
    backing.offer,
    topping.offer,
    backing.offer_layers,
    backing.offer_second,
    hold.offer,
    hoop.offer,
    machine.offer,
    bobbin.offer,
    bobbin.offer_policy,
    thread.offer,
    needle.offer,
    hold.offer_baste,
    base.offer,
    marking.offer,
    way.offer,
    patch.offer,
)
WARNINGS: tuple[Callable[[Making, Wish], Iterator[Warned]], ...] = (
    hoop.warn,
    backing.warn,
    topping.warn,
    machine.warn,
    thread.warn,
    needle.warn,
    hold.warn,
    position.warn,
    bobbin.warn,
    marking.warn,
    way.warn,
    patch.warn,
)


def offers(making: Making, house: House) -> list[Offer]:
    """List what else could be chosen, the sensible ones only."""
    return [found for offer in OFFERS for found in offer(making, house)]


def warnings(making: Making, wish: Wish) -> list[Warned]:
    """List what is likely to go wrong with a making, choice by choice."""
    return [found for warn in WARNINGS for found in warn(making, wish)]


def _with_hoop(making: Making, value: str, house: House) -> dict[str, Any]:
    """Take another hoop: its backing is cut otherwise; which way a piece goes in costs nothing."""
    if making.layout.kind != "single":
        return {}
    taken = house.hoops[value]
    return {"hoop_id": value, "hoop": taken, "fit": fit_in(*making.sewn_mm, taken)}


_CHANGES: dict[str, Callable[[Making, str, House], dict[str, Any]]] = {
    "layers": lambda _, value, __: {"layers": int(value)},
    "topping": lambda _, value, house: {"topping_id": value, "topping": house.toppings.get(value)},
    "bobbin": lambda _, value, __: {"bobbin": value},
    "bobbin_policy": lambda _, value, __: {"bobbin_policy": value},
    "needle": lambda _, value, house: {"needle_id": value, "needle": house.needles[value]},
    "thread": lambda _, value, house: {"thread_id": value, "thread": house.threads[value]},
    "hoop": _with_hoop,
    "way": lambda _, value, __: {"way": int(value)},
    "marking": lambda _, value, __: {"marking": value},
    "set_by": lambda _, value, __: {"set_by": value},
}


def with_other(making: Making, key: str, value: str, house: House) -> Making | None:
    """Return the making with one method changed; None for a change that re-opens others.

    Backing decides its layers; holding, basting and the machine size, hoop and more: they are
    settled anew.

    Parameters
    ----------
    making : Making
    key, value : str
        As in the job's methods.
    house : House
    """
    change = _CHANGES[key](making, value, house) if key in _CHANGES else {}
    return replace(making, **change) if change else None
