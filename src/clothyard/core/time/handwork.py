"""Handwork: which tasks a piece and an order take."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from clothyard.core.errors import unknown_id
from clothyard.core.house import House
from clothyard.core.making import Making
from clothyard.core.stitches.facts import DesignFacts

FINISHING = ("press", "label", "soft-cover", "wash")


@dataclass(frozen=True, slots=True)
class TaskUse:
    """A task and how often a piece (or an order) takes it; `seconds` is one, unpractised."""

    task: str
    label: str
    seconds: float
    times: float
    practised: bool

    @property
    def total_s(self) -> float:
        """All of it, unpractised. [s]"""
        return self.seconds * self.times


def _use(house: House, task: str, times: float = 1.0) -> TaskUse:
    found = house.tasks[task]
    return TaskUse(task, found.label, found.seconds, times, found.practised)


def check_finishing(finishing: Iterable[str], *, where: str) -> None:
    """Refuse finishing tasks that are not known, naming the nearest."""
    for i, task in enumerate(finishing):
        if task not in FINISHING:
            raise unknown_id(task, FINISHING, where=f"{where}.finishing[{i}]", what="finishing")


def hooping_task(making: Making) -> str:
    """Name the hooping task: by how the goods are held, else by the hoop's kind."""
    if making.hold == "float":
        return "hoop-float"
    if making.goods.hooping != "plain":
        return f"hoop-{making.goods.hooping}"
    if making.hoop is None:
        return "hoop-cap" if making.on_cap_frame else "hoop-screw"
    return f"hoop-{making.hoop.kind}"


def covered(making: Making, finishing: Iterable[str]) -> bool:
    """Whether a soft cover is ironed over the back."""
    return making.goods.soft_cover or "soft-cover" in finishing


def placement_tasks(making: Making, facts: DesignFacts, house: House) -> list[TaskUse]:
    """List the tasks of one placement on one piece, in the order of the work.

    Source: docs/formulas.md 8 and 14. A machine trim needs no hand clip; a jump over 2 mm left
    untrimmed does, on each seen side.
    """
    tasks = [_use(house, "mark")]
    if making.layers:
        tasks.append(_use(house, "cut-backing", making.layers))
    tasks.append(_use(house, hooping_task(making)))
    if making.on_cap_frame:
        tasks.append(_use(house, "cap-form"))
    clips = sum(b.clips + (0 if making.machine.auto_trim else b.trims) for b in facts.blocks)
    if clips:
        sides = 2 if making.goods.back_seen == "yes" else 1
        tasks.append(_use(house, "clip", clips * sides))
    if making.baste:
        tasks.append(_use(house, "unbaste"))
    if making.backing:
        if making.backing.removal == "tear":
            tasks.append(_use(house, "tear-backing", making.layers))
        elif making.backing.removal == "trim":
            tasks.append(_use(house, "trim-backing"))
        else:
            tasks += [_use(house, "cut-wash-away"), _use(house, "rinse-wash-away")]
    if making.topping:
        tasks.append(_use(house, "film"))
    return tasks


def piece_tasks(
    makings: Iterable[Making], finishing: tuple[str, ...], house: House
) -> list[TaskUse]:
    """List the tasks that a piece takes once, whatever its placements.

    Source: docs/formulas.md 8 and 14.
    """
    makings = list(makings)
    tasks = [_use(house, "inspect"), _use(house, "unmark")]
    covers = sum(covered(making, finishing) for making in makings)
    if covers:
        tasks.append(_use(house, "soft-cover", covers))
    rinsed = any(m.backing and m.backing.removal == "rinse" for m in makings)
    if "wash" in finishing:
        tasks.append(_use(house, "wash"))
    if rinsed or "press" in finishing:
        tasks.append(_use(house, "press"))
    tasks.append(_use(house, "check"))
    if "label" in finishing:
        tasks.append(_use(house, "label"))
    tasks.append(_use(house, "pack"))
    return tasks


def order_tasks(
    makings: Iterable[Making], colours: int, designs: int, house: House
) -> list[TaskUse]:
    """List the tasks an order takes once, repeats too.

    Parameters
    ----------
    makings : the placements' makings
    colours : int
        Thread colours to thread, over all designs.
    designs : int
        Files to load.

    Source
    ------
    docs/formulas.md 14. A machine threaded by hand: the first colour only.
    """
    makings = list(makings)
    by_hand = not any(making.machine.auto_change for making in makings)
    tasks = [
        _use(house, "measure"),
        _use(house, "load-file", designs),
        _use(house, "thread-colour", 1 if by_hand else colours),
        _use(house, "customer"),
    ]
    if any(making.on_cap_frame for making in makings):
        tasks.append(_use(house, "cap-driver"))
    return tasks
