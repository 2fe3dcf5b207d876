"""Other methods: what else could be chosen for a placement, and why one might."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from clothyard.core.cloth.hoops import fit_in
from clothyard.core.house import House, School
from clothyard.core.making import NONE, Making

UNCHANGED = "-"
"""Stands in a school for what it leaves as it is."""


def _sensible_backing(backing_id: str, making: Making, house: House) -> bool:
    """Whether a backing suits how the goods are held and whether their back is seen."""
    if backing_id == NONE:
        return True
    for_cap = backing_id == "cap-tear-away"
    if for_cap != making.on_cap_frame:
        return False
    if house.backings[backing_id].removal == "rinse":
        return making.goods.back_seen != "no" or making.goods.stretch == 0
    sticky = backing_id in {"sticky-tear-away", "water-activated", "fusible-tear-away"}
    return making.hold == "float" or not sticky


def alternatives(making: Making, house: House) -> list[tuple[str, str, str]]:
    """List what else could be chosen, the sensible ones only.

    Returns
    -------
    list of (key, value, reason)
    """
    found = []
    stocked = {roll.material for roll in house.rolls.values()} | {NONE}
    for value in [*house.backings, NONE]:
        offered = value in stocked and _sensible_backing(value, making, house)
        if offered and value != making.backing_id:
            found.append(("backing", value, _why_backing(value, making, house)))
    for value in [*house.toppings, NONE]:
        if value != making.topping_id and value in stocked:
            why = "Leave it out." if value == NONE else "Keeps stitches on top of pile."
            found.append(("topping", value, why))
    for n in (making.layers - 1, making.layers + 1):
        if making.backing and n > 0:
            found.append(("layers", str(n), "Thinner." if n < making.layers else "Firmer."))
    other = "float" if making.hold == "hoop" else "hoop"
    if making.goods.frame != "cap":
        found.append(("hold", other, _why_hold(other)))
    for hoop_id in making.fitting:
        if hoop_id != making.hoop_id:
            found.append(("hoop", hoop_id, "It fits too."))
    for machine_id, machine in house.machines.items():
        if machine_id != making.machine_id:
            found.append(("machine", machine_id, _why_machine(machine.auto_change)))
    for colour in ("white", "black", "match"):
        if colour != making.bobbin:
            found.append(("bobbin", colour, _WHY_BOBBIN[colour]))
    policy = "run-out" if making.bobbin_policy == "between-pieces" else "between-pieces"
    found.append(("bobbin_policy", policy, _WHY_POLICY[policy]))
    for thread_id, thread in house.threads.items():
        if thread_id != making.thread_id:
            found.append(
                ("thread", thread_id, f"{thread.tex:g} tex, up to {thread.cap_spm:g} spm.")
            )
    for needle_id, needle in house.needles.items():
        if needle_id != making.needle_id:
            found.append(("needle", needle_id, needle.why))
    if making.hold == "float":
        why = "Held by adhesive alone." if making.baste else "Basted down: it cannot creep."
        found.append(("baste", str(not making.baste).lower(), why))
    if making.goods.pile == 2 or making.knock_down:
        why = (
            "Film alone keeps the stitches up until the first washes."
            if making.knock_down
            else "A base of stitches holds the pile down for good."
        )
        found.append(("knock_down", str(not making.knock_down).lower(), why))
    return found


def schools_for(making: Making, house: House) -> list[tuple[str, School]]:
    """List the other schools that are for these goods and would change something."""
    goods = making.goods
    found = []
    for school_id, school in house.schools.items():
        wanted = school.goods.split()
        suits = (
            (making.goods_id in wanted or "*" in wanted)
            and goods.stretch >= school.stretch_from
            and goods.pile >= school.pile_from
            and school.back_seen in {"any", goods.back_seen}
            and school.hold in {"any", making.hold}
            and goods.frame != "cap"
        )
        now = {
            "backing": making.backing_id,
            "layers": making.layers,
            "topping": making.topping_id,
            "hold": making.hold,
            "knock_down": making.knock_down,
            "bobbin": making.bobbin,
        }
        if suits and any(now[key] != value for key, value in school_methods(school).items()):
            found.append((school_id, school))
    return found


def school_methods(school: School) -> dict[str, Any]:
    """Return the methods that a school takes, as in a job."""
    found: dict[str, Any] = {}
    for key, value in (
        ("backing", school.backing), ("topping", school.topping), ("hold", school.holds),
        ("bobbin", school.bobbin),
    ):  # fmt: skip
        if value != UNCHANGED:
            found[key] = value
    if school.layers:
        found["layers"] = school.layers
    if school.knock_down != UNCHANGED:
        found["knock_down"] = school.knock_down == "true"
    return found


def with_other(making: Making, key: str, value: str, house: House) -> Making | None:
    """Return the making with one method changed; None for a change that re-opens others.

    Holding, basting and the machine decide size, hoop and more: they are settled anew.
    """
    changes: dict[str, dict[str, Any]] = {
        "backing": {
            "backing_id": value,
            "backing": house.backings.get(value),
            "layers": 0 if value == NONE else max(making.layers, 1),
        },
        "layers": {"layers": int(value) if key == "layers" else 0},
        "topping": {"topping_id": value, "topping": house.toppings.get(value)},
        "bobbin": {"bobbin": value},
        "bobbin_policy": {"bobbin_policy": value},
        "needle": {"needle_id": value},
    }
    if key == "thread":
        changes[key] = {"thread_id": value, "thread": house.threads[value]}
    if key == "hoop" and making.layout.kind == "single":
        hoop = house.hoops[value]
        changes[key] = {"hoop_id": value, "hoop": hoop, "fit": fit_in(*making.sewn_mm, hoop)}
    return replace(making, **changes[key]) if key in changes else None


_WHY_BOBBIN = {
    "white": "For light goods.",
    "black": "For dark goods.",
    "match": "Match every colour where both sides are seen.",
}
_WHY_POLICY = {
    "run-out": "Uses each bobbin up; some end inside a piece.",
    "between-pieces": "Never ends a bobbin inside a piece.",
}


def _why_backing(value: str, making: Making, house: House) -> str:
    if value == NONE:
        return "Leave it out."
    backing = house.backings[value]
    if making.goods.stretch and not backing.stays:
        return "Goes after sewing: nothing holds the stretch then."
    return {
        "trim": "Stays for life; the rest is trimmed.",
        "tear": "Tears off; a clean back.",
        "rinse": "Rinses away: nothing is left behind.",
    }[backing.removal]


def _why_hold(hold: str) -> str:
    if hold == "float":
        return "Stick it on hooped backing and baste it: no hoop marks."
    return "Hoop the goods themselves: the firmest hold."


def _why_machine(auto: bool) -> str:
    return "Changes and trims by itself." if auto else "Threaded, changed and trimmed by hand."
