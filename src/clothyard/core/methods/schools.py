"""Other schools: what good people do otherwise, for which goods, and what it changes."""

from __future__ import annotations

from typing import Any

from clothyard.core.house.document import House, School
from clothyard.core.methods.hold import hoopable
from clothyard.core.methods.making import Making

UNCHANGED = "-"
"""Stands in a school for what it leaves as it is."""


def _is_for(school: School, making: Making) -> bool:
    """Whether a school is for these goods: by class or family, stretch, pile, back and hold."""
    goods = making.goods
    wanted = school.goods.split()
    return (
        any(name in wanted for name in ("*", making.goods_id, goods.family))
        and goods.stretch >= school.stretch_from
        and goods.pile >= school.pile_from
        and school.back_seen in {"any", goods.back_seen}
        and school.hold in {"any", making.hold}
        and goods.frame != "cap"
    )


def _bears(school: School, making: Making, house: House) -> bool:
    """Whether these goods bear what a school does.

    Nothing fused where both sides are seen or pile would melt flat, nothing that stays in sight,
    no hooping of what a hoop marks. Source: handbook checks, fixes hold.
    """
    goods, backing = making.goods, house.backings.get(school.backing)
    if school.holds == "hoop" and (
        goods.marks
        or not hoopable(goods, making.layout.size_mm, making.cloth_mm, house, all_round=True)
    ):
        return False
    if school.holds == "float" and backing is None and making.backing is None:
        return False
    taken = [each for each in (backing, house.backings.get(school.second)) if each is not None]
    if any(each.fused for each in taken) and not goods.bears_fusing:
        return False
    if taken and goods.only_soluble:
        return False
    return not (goods.back_seen == "yes" and any(each.removal == "trim" for each in taken))


def schools_for(making: Making, house: House) -> list[tuple[str, School]]:
    """List the other schools that are for these goods and would change something.

    Parameters
    ----------
    making : Making
        How the placement is made.
    house : House
        The standards.

    Returns
    -------
    list[tuple[str, School]]
    """
    now = {
        "backing": making.backing_id,
        "layers": making.layers,
        "second_backing": making.second_id,
        "second_layers": making.second_layers,
        "topping": making.topping_id,
        "hold": making.hold,
        "knock_down": making.knock_down,
        "bobbin": making.bobbin,
    }
    return [
        (school_id, school)
        for school_id, school in house.schools.items()
        if _is_for(school, making)
        and _bears(school, making, house)
        and any(now[key] != value for key, value in school_methods(school).items())
    ]


def school_methods(school: School) -> dict[str, Any]:
    """Return the methods that a school takes, as in a job."""
    found: dict[str, Any] = {}
    for key, value in (
        ("backing", school.backing),
        ("second_backing", school.second),
        ("topping", school.topping),
        ("hold", school.holds),
        ("bobbin", school.bobbin),
    ):
        if value != UNCHANGED:
            found[key] = value
    if school.layers:
        found["layers"] = school.layers
    if school.second_layers:
        found["second_layers"] = school.second_layers
    if school.knock_down != UNCHANGED:
        found["knock_down"] = school.knock_down == "true"
    return found
