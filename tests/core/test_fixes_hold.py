"""Fixes hold: over random jobs a pressed fix takes its advice away, and nothing takes it back."""

import json
import os
import random

import pytest

from clothyard.core.errors import BadInput
from clothyard.core.house.check import default_house
from tests.conftest import price
from tests.core.test_advice import apply_patch

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
JOBS = 20_000 if SOAK else 1_000
HOUSE = default_house()
RULES = {
    "back-stretch", "back-seen", "back-dense", "top-pile", "pierce", "lace-backing", "layers-none",
    "hoop-none", "room-none", "roll-none", "press-spoils", "show-through", "cap-flat",
}  # fmt: skip
"""What a class asks for: a fix of one thing never breaks another of these."""


def random_job(chance: random.Random) -> dict:
    """A line of any class, as a hurried seller might make it."""
    pick = chance.choice
    design = {
        "stitches": pick([900, 3000, 9000, 25_000, 60_000]), "colours": pick([1, 1, 3, 12]),
        "width_mm": pick([20, 35, 60, 90, 120, 260]), "height_mm": pick([15, 30, 55, 90, 150, 320]),
        "kind": pick(["mixed", "lettering", "fill"]),
    }  # fmt: skip
    if chance.random() < 0.2:
        design["letter_height_mm"] = pick([3, 4.5, 6, 12])
    options = {
        "backing": [*HOUSE.backings, "none"], "layers": [0, 1, 2, 3], "topping": ["film", "none"],
        "hoop": list(HOUSE.hoops), "hold": ["hoop", "float"], "thread": list(HOUSE.threads),
        "needle": list(HOUSE.needles), "bobbin": ["white", "black", "match"],
        "bobbin_policy": ["run-out", "between-pieces"], "baste": [True, False],
        "knock_down": [True, False], "machine": list(HOUSE.machines),
    }  # fmt: skip
    methods = {key: pick(values) for key, values in options.items() if chance.random() < 0.25}
    placement = {"design": design, "methods": methods}
    if chance.random() < 0.4:
        placement["position"] = pick(list(HOUSE.positions))
    if chance.random() < 0.3:
        placement["place"] = {"gap_mm": pick([0, 10, 40, 120]), "side_mm": pick([0, 15, 60])}
    if chance.random() < 0.2:
        placement["steps"] = [{"do": "trim", "after_block": 1, "outline_mm": 300}]
    line = {
        "goods": {"class": pick(list(HOUSE.goods)), "unit_cost": "4.00"},
        "quantity": pick([1, 5, 12, 40]), "placements": [placement], "digitising": "none",
        "finishing": pick([[], [], ["press"], ["pins"], ["press", "wash"]]),
    }  # fmt: skip
    if chance.random() < 0.1:
        line["unit_price"] = pick(["2.00", "9.00", "400.00"])
    if chance.random() < 0.2:
        line["sample"] = {"pieces": 0}
    job = {"format": "clothyard-job/1", "lines": [line]}
    if chance.random() < 0.2:
        job["tier_mode"] = "stepped"
    return job


def told(found):
    return {(a.code, a.of, a.where): a for a in found.lines[0].advice}


def settled(job, found):
    """What is made and asked, whatever is typed and whatever proposed."""
    line = job["lines"][0]
    kept = {k: v for k, v in line["placements"][0].items() if k not in {"methods", "position"}}
    methods = [(m.key, m.value) for m in found.lines[0].methods]
    rest = {k: v for k, v in line.items() if k != "placements"}
    return json.dumps(
        [methods, found.lines[0].places[0].position, kept, rest, job.get("tier_mode")]
    )


@pytest.mark.parametrize("part", range(4))
def test_a_fix_that_is_pressed_holds(part):
    chance = random.Random(part)
    pressed = 0
    for _ in range(JOBS // 4):
        job = random_job(chance)
        try:
            found = price(job, compare=False)
        except BadInput:
            continue
        before, was = told(found), settled(job, found)
        for key, advice in before.items():
            if not advice.apply:
                continue
            pressed += 1
            mended = apply_patch(job, advice.apply)
            then = price(mended, compare=False)
            after = told(then)
            case = (advice.code, advice.fix, job)
            assert key not in after, case
            new = {k: a for k, a in after.items() if k not in before}
            broken = [a for a in new.values() if a.code in RULES and a.level != "note"]
            # a design that no backing of the class holds is told of whichever is taken
            broken = [a for a in broken if a.code != "back-dense" or a.apply]
            codes = {a.code for a in before.values()}
            assert not [a for a in broken if a.code not in codes], (case, broken)
            for other in new.values():
                if other.apply:
                    back = apply_patch(mended, other.apply)
                    assert settled(back, price(back, compare=False)) != was, (case, other)
    assert pressed > JOBS // 8
    if SOAK:
        print(f"{JOBS // 4} random jobs, {pressed} fixes pressed: all held")
