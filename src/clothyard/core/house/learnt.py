"""What the log has taught, laid into a house: hands that are slower or quicker than standard."""

from __future__ import annotations

from typing import Any, Literal

from clothyard.core.house.document import Hands, House, Task

Group = Literal["loading", "hooping", "finishing", "order"]
GROUPS: tuple[Group, ...] = ("loading", "hooping", "finishing", "order")

AT_MACHINE = {
    "events": (
        "load_machine_s",
        "load_operator_s",
        "load_head_s",
        "baste_s",
        "joint_machine_s",
        "joint_operator_s",
        "change_hand_s",
        "stop_s",
        "name_file_s",
        "template_s",
    ),
    "bobbin_plan": ("change_between_s", "change_within_s", "extra_head_s"),
}
"""The seconds of *loading*: what hands do at the machine, thread breaks apart."""


def group_of(task: Task) -> Group:
    """Return the group that a hand task is clocked in: before the needle, after it, per order."""
    if "order" in task.per or task.per == "name":
        return "order"
    return "hooping" if task.before else "finishing"


def with_hands(house: House) -> House:
    """Lay the factors of the shop's hands over the seconds that they are of.

    Parameters
    ----------
    house : House

    Returns
    -------
    House
        The same where every factor is 1. Else its tasks and events take so much longer, its
        factors are 1, so that nothing is taken twice, and `learnt` says of each what was done.

    Source
    ------
    docs/formulas.md 12.
    """
    hands = house.hands
    if hands == _EVEN:
        return house
    learnt = dict(house.learnt)

    def scaled(key: str, seconds: float, group: Group) -> float:
        factor: float = getattr(hands, group)
        if factor == 1:
            return seconds
        known = house.learnt.get(f"hands.{group}", "the shop's own")
        learnt[key] = f"{seconds:g} × {factor:.4g}, {known}"
        return seconds * factor

    tasks = {}
    for id_, task in house.tasks.items():
        seconds = scaled(f"tasks.{id_}.seconds", task.seconds, group_of(task))
        factor: float = getattr(hands, group_of(task))
        grown = {name: getattr(task, name) / factor for name in _GROWN}
        tasks[id_] = task.model_copy(update={"seconds": seconds, **grown})
    found: dict[str, Any] = {"hands": _EVEN, "tasks": tasks, "learnt": learnt}
    for section, names in AT_MACHINE.items():
        rules = getattr(house, section)
        changed = {
            name: scaled(f"{section}.{name}", getattr(rules, name), "loading") for name in names
        }
        found[section] = rules.model_copy(update=changed)
    return house.model_copy(update=found)


def unlearnt(house: House) -> House:
    """Return a house whose factors are all 1: what the log's figures are held against.

    Source: docs/formulas.md 12.
    """
    use = house.thread_use.model_copy(update={"factor_needle": 1.0, "factor_bobbin": 1.0})
    machines = {
        id_: machine.model_copy(update={"time_factor": 1.0})
        for id_, machine in house.machines.items()
    }
    changed = {"hands": _EVEN, "thread_use": use, "machines": machines, "learnt": {}}
    return house.model_copy(update=changed)


_EVEN = Hands()
_GROWN = ("round_mm", "area_cm2", "deep_cm2")
