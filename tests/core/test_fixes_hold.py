"""Fixes hold: over random jobs a pressed fix takes its advice away, and nothing takes it back."""

import json
import random

import pytest

from clothyard.core.errors import BadInput
from tests.conftest import price
from tests.core.random_jobs import JOBS, SOAK, random_job
from tests.core.test_advice import apply_patch

RULES = {
    "back-stretch",
    "back-seen",
    "back-load",
    "top-pile",
    "pierce",
    "lace-backing",
    "layers-none",
    "hoop-none",
    "room-none",
    "roll-none",
    "press-spoils",
    "show-through",
    "cap-flat",
    "float-nothing",
    "hoop-off",
    "way-up",
    "pen-stays",
    "needle-wrong",
}
"""What a class asks for: a fix of one thing never breaks another of these."""


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
            broken = [a for a in broken if a.code != "back-load" or a.apply]
            codes = {a.code for a in before.values()}
            assert not [a for a in broken if a.code not in codes], (case, broken)
            for other in new.values():
                if other.apply:
                    back = apply_patch(mended, other.apply)
                    assert settled(back, price(back, compare=False)) != was, (case, other)
    assert pressed > JOBS // 8
    if SOAK:
        print(f"{JOBS // 4} random jobs, {pressed} fixes pressed: all held")


PROPOSED_FREE = {
    "back-stretch",
    "float-nothing",
    "hoop-off",
    "way-up",
    "pen-stays",
    "needle-wrong",
    "top-pile",
    "lace-backing",
    "show-through",
}
"""What is proposed is never warned of by another rule; nor is a design that could be backed."""


@pytest.mark.parametrize("part", range(2))
def test_nothing_proposed_is_warned_of(part):
    chance = random.Random(100 + part)
    seen = 0
    for _ in range(JOBS // 4):
        job = random_job(chance)
        for placement in job["lines"][0]["placements"]:
            placement.pop("methods", None)
        try:
            found = price(job, compare=False)
        except BadInput:
            continue
        seen += 1
        advice = found.lines[0].advice
        assert not [a for a in advice if a.code in PROPOSED_FREE], job
        assert not [a for a in advice if a.code == "back-load" and a.apply], job
    assert seen > JOBS // 8
