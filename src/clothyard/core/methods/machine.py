"""The machine: which one sews it, and which colours its needles hold."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making
from clothyard.core.time.needles import plan_needles


def propose(wish: Wish) -> Proposal:
    """Propose the first machine that the shop owns."""
    machines = wish.house.machines
    owned = [m for m, machine in machines.items() if machine.owned]
    return Proposal(min(owned, key=lambda m: machines[m].order), "The shop's first machine.")


def settle(chosen: Chosen) -> str:
    """Settle which machine sews it: its id."""
    return chosen.settle("machine", propose(chosen.wish), known=chosen.wish.house.machines)


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer every other machine that the shop owns."""
    for machine_id, machine in house.machines.items():
        if machine.owned and machine_id != making.machine_id:
            why = "Changes and trims by itself."
            if not machine.auto_change:
                why = "Threaded, changed and trimmed by hand."
            yield Offer("machine", machine_id, why)


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Tell where hand changes fall when there are more colours than needles."""
    machine = making.machine
    needles = plan_needles(wish.facts.colour_keys, machine.needles)
    if machine.auto_change and needles.rotating:
        colours = len(set(wish.facts.colour_keys))
        falls = ", ".join(str(n) for n in needles.changes_at)
        yield warned(
            "needle-few",
            "note",
            f"{colours} colours on {machine.needles} needles: the last one is threaded by hand "
            f"before blocks {falls}.",
            "Let near colours share a thread, or plan for the stops.",
            about="methods.machine",
        )
