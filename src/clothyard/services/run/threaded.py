"""What is threaded on a pass's machine: needle by needle, as it was left or as a hand sets it."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput
from clothyard.core.house.document import House
from clothyard.core.stock.key import read_name, thread_key
from clothyard.core.stock.needs import thread_on
from clothyard.core.thread.called import thread_called
from clothyard.services.house.standards import shop_house
from clothyard.services.log.rows import PassOf
from clothyard.store.shop import Shop
from clothyard.store.threaded import read_threaded, write_threaded


class ThreadChoice(BaseModel):
    """A thread that may be on a needle: its name in the shop, colour and kind."""

    thread: str
    called: str
    colour: str
    kind: str


class ThreadedNeedle(BaseModel):
    """A needle and the thread on it, "" for none or nobody knows which."""

    needle: int
    thread: str


class ThreadedView(BaseModel):
    """What is on a machine, and what could be: the order's threads first, then the shelf's."""

    machine: str
    label: str
    needles: list[ThreadedNeedle]
    choices: list[ThreadChoice]


class NeedleSet(BaseModel):
    """A needle as a hand set it; "" takes its thread off."""

    model_config = ConfigDict(extra="forbid")

    needle: int = Field(ge=1, le=60)
    thread: Annotated[str, Field(max_length=200)]


class ThreadedIn(BaseModel):
    """What is on the needles of a machine; those that are not named stay."""

    model_config = ConfigDict(extra="forbid")

    needles: list[NeedleSet] = Field(min_length=1, max_length=60)


def _choice(name: str, house: House) -> ThreadChoice:
    kind, colour = read_name(name)
    return ThreadChoice(
        thread=name,
        called=thread_called(colour, house, otherwise="a thread"),
        colour=colour,
        kind=house.threads[kind].label if kind in house.threads else kind,
    )


def _view(shop: Shop, of: PassOf, pass_id: str) -> ThreadedView:
    told, house = of.told(pass_id), shop_house(shop)
    machine = house.machines.get(told.machine)
    on = read_threaded(shop, told.machine)
    mine = [thread_on(laid) for each in of.sewn.passes for laid in each.threads if laid.colour]
    shelf = [thread_key(row.thread, row.colour).name for row in house.thread_shelf.values()]
    names = dict.fromkeys([*mine, *on.values(), *shelf])
    count = max([machine.needles if machine else 1, *on])
    return ThreadedView(
        machine=told.machine,
        label=machine.label if machine else told.machine,
        needles=[ThreadedNeedle(needle=n, thread=on.get(n, "")) for n in range(1, count + 1)],
        choices=[_choice(name, house) for name in names],
    )


def find_threaded(shop: Shop, order_id: int, pass_id: str) -> ThreadedView:
    """Tell what is on the needles of a pass's machine.

    Raises
    ------
    NotFound, BadInput
    """
    return _view(shop, PassOf(shop, order_id), pass_id)


def set_threaded(shop: Shop, order_id: int, pass_id: str, asked: ThreadedIn) -> ThreadedView:
    """Set by hand what is on the needles of a pass's machine: sheet, page and plan follow.

    Raises
    ------
    NotFound
    BadInput
        If the machine has no such needle, or the shop no such thread.
    """
    of = PassOf(shop, order_id)
    view = _view(shop, of, pass_id)
    known = {each.thread for each in view.choices} | {""}
    for n, row in enumerate(asked.needles):
        if row.needle > len(view.needles):
            raise BadInput(
                f"{view.label} has {len(view.needles)} needles, not {row.needle}.",
                where=f"needles[{n}].needle",
                remedy="Choose one that it has.",
                code="out-of-range",
            )
        if row.thread not in known:
            raise BadInput(
                f"there is no thread {row.thread[:60]!r} here.",
                where=f"needles[{n}].thread",
                remedy="Choose one of the order's or of the shelf's.",
                code="thread-unknown",
            )
    with shop.unit() as unit:
        on = read_threaded(unit, view.machine)
        for row in asked.needles:
            on.pop(row.needle, None)
            if row.thread:
                on[row.needle] = row.thread
        write_threaded(unit, view.machine, on)
    return _view(shop, of, pass_id)
