"""Marking: how the place is marked, and how the needle is brought onto the mark."""

from __future__ import annotations

from collections.abc import Iterator
from typing import get_args

from clothyard.core.house.document import House, Marking
from clothyard.core.job.document import SetBy
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making

_WHY: dict[Marking, str] = {
    "pen": "A soluble pen, tried at a seam first: it washes out.",
    "crease": "A folded crease shows the middle and leaves nothing.",
    "tape": "Tape or a sticker: ink would stay in this cloth.",
    "template": "A paper template and pins: a pen is lost in this cloth.",
    "chalk": "Chalk shows on dark firm cloth and brushes off.",
    "jig": "A jig finds the same place on every piece.",
}
_TASKS: dict[Marking, str] = {"pen": "mark"}
_SET: dict[SetBy, str] = {
    "hoop-marks": "The hoop's own marks are near enough.",
    "template": "Over a paper template, hole upon mark: as near as a needle.",
}


def task_of(marking: Marking) -> str:
    """Name the hand task of a way of marking."""
    return _TASKS.get(marking, f"mark-{marking}")


def propose(wish: Wish) -> Proposal:
    """Propose what the goods bear; a jig where one was asked for."""
    if wish.goods.made:
        return Proposal(wish.goods.marking, "Made in the hoop, it needs no mark.")
    return Proposal(wish.goods.marking, _WHY[wish.goods.marking])


def propose_set(wish: Wish) -> Proposal:
    """Propose the hoop's marks; a template for what cannot be bought again."""
    if wish.line.goods.once_only:
        return Proposal("template", "It cannot be bought again: set the needle on the very mark.")
    return Proposal("hoop-marks", _SET["hoop-marks"])


def settle(chosen: Chosen) -> tuple[Marking, SetBy]:
    """Settle how it is marked, and how the needle is set."""
    marking = chosen.settle("marking", propose(chosen.wish))
    by = chosen.settle("set_by", propose_set(chosen.wish))
    markings: tuple[Marking, ...] = get_args(Marking)
    ways: tuple[SetBy, ...] = get_args(SetBy)
    return markings[markings.index(marking)], ways[ways.index(by)]


def _inks(marking: Marking) -> bool:
    return marking in ("pen", "chalk")


def _pins(marking: Marking) -> bool:
    return marking == "template"


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer a jig, what the goods bear best, and the other way of setting the needle."""
    goods = making.goods
    if goods.made:
        return
    marking: Marking
    for marking in ("jig", goods.marking):
        if marking != making.marking:
            yield Offer("marking", marking, _WHY[marking])
    for by, why in _SET.items():
        if by != making.set_by:
            yield Offer("set_by", by, why)


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a mark that stays. Source: handbook checks, pen-stays."""
    goods = making.goods
    if goods.made or goods.pierce:
        return
    if _inks(making.marking):
        said = f"Ink and chalk stay in {goods.label.lower()}."
    elif _pins(making.marking):
        said = f"Pins leave holes in {goods.label.lower()} that stay."
    else:
        return
    yield warned(
        "pen-stays",
        "warn",
        said,
        "Mark it with tape.",
        about="methods.marking",
        marking="tape",
    )
