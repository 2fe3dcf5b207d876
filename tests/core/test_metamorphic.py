"""What must hold between two estimates: dearer is never cheaper, order and units change nothing,
and what is promised of another way is what it comes to."""

import copy
import random
from collections.abc import Callable
from decimal import Decimal
from typing import Any

import pytest

from clothyard.core.errors import BadInput
from clothyard.core.estimate import comparing
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import Pricing
from clothyard.core.house.check import house_json
from clothyard.core.job.check import job_from
from tests.conftest import price
from tests.core.random_jobs import HOUSE, JOBS, SOAK, random_job
from tests.core.test_advice import apply_patch
from tests.core.test_orders import FLEECES, LABELS, SCARF, TIE_BACKS, order

D = Decimal
TREE = house_json(HOUSE)
ENDS = {"bobbin_plan": {"shelf_m": 0}}
"""Every bobbin end goes to the shelf: a longer one, kept, may cost less than a shorter one."""
NOISE = D("1e-6")
"""Of sums of minutes and metres."""
PARTS = 4
EACH = JOBS // PARTS // (1 if SOAK else 3)
"""Jobs of a part: in CI the three properties share the thousand, in a soak each has them all."""
"""Runs that the jobs are shared over."""


def several(chance: random.Random) -> dict:
    """One to three lines in one order; some of them alike."""
    job = random_job(chance)
    for _ in range(chance.choice([0, 0, 1, 2])):
        same = chance.random() < 0.4
        line = copy.deepcopy(job["lines"][0]) if same else random_job(chance)["lines"][0]
        job["lines"].append(line | {"quantity": chance.choice([1, 3, 8])})
    return job


def pinned(job: dict, found: Estimate) -> dict:
    """The same job with every method and place as it was made: nothing is proposed anew."""
    job = copy.deepcopy(job)
    for line, made in zip(job["lines"], found.lines, strict=True):
        for n, placement in enumerate(line["placements"]):
            chosen = {m.key: m.value for m in made.methods if m.placement == n}
            for key in ("baste", "knock_down"):
                if key in chosen:
                    chosen[key] = chosen[key] == "true"
            if "layers" in chosen:
                chosen["layers"] = int(chosen["layers"])
            if chosen.get("hoop") in {None, "", "none"}:
                chosen.pop("hoop", None)
            placement["methods"] = chosen
            placement["position"] = made.places[n].position
    return job


def cost(job: dict, house: dict | None = None) -> Decimal:
    """Of all lines, unrounded: rounded for show, a part of a line may fall as another rises."""
    changed = job_from(job | {"house": merged(ENDS, house or {})})
    return Pricing(changed, HOUSE, {}).cost


def merged(one: dict, other: dict) -> dict:
    found = dict(one)
    for key, value in other.items():
        found[key] = merged(found.get(key, {}), value) if isinstance(value, dict) else value
    return found


def grown(section: str, column: str, factor: float) -> dict:
    """A house in which one column of one table is so many times as large."""
    return {
        section: {
            row: {column: str(round(D(str(values[column])) * D(str(factor)), 6))}
            for row, values in TREE[section].items()
        }
    }


def scaled_rules(section: str, keys: tuple[str, ...], factor: float) -> dict:
    return {section: {k: str(D(str(TREE[section][k])) * D(str(factor))) for k in keys}}


DEARER = [
    grown("rolls", "price", 1.2),
    grown("sheets", "price", 1.2),
    grown("putups", "price", 1.2),
    grown("bobbins", "price", 1.2),
    grown("machines", "rate_per_h", 1.3),
    scaled_rules("rates", ("labour_per_h", "overhead_per_h"), 1.1),
    scaled_rules("consumables", ("packing", "adhesive", "soft_cover"), 1.5),
]
SLOWER = [
    grown("tasks", "seconds", 1.25),
    grown("machines", "set_spm", 0.8),
    grown("goods", "cap_spm", 0.8),
    grown("threads", "break_rate", 1.5),
    grown("goods", "spoil", 1.4),
    scaled_rules(
        "events",
        ("load_machine_s", "load_operator_s", "change_auto_s", "change_hand_s", "trim_auto_s"),
        1.2,
    ),
    scaled_rules("thread_use", ("factor_needle", "factor_bobbin"), 1.1),
    {"practice": {"doubling": "0.98"}},
]


def more_of(job: dict, chance: random.Random) -> dict:
    """It with more stitches, dearer goods, heavier or one more piece, in every line alike.

    A line that is changed alone leaves its batch, and five pieces by themselves need no sample.
    """
    more = copy.deepcopy(job)
    what = chance.choice(["stitches", "goods", "quantity", "weight"])
    for line in more["lines"]:
        if what == "stitches":
            for placement in line["placements"]:
                placement["design"]["stitches"] = int(placement["design"]["stitches"] * 1.07) + 5
        elif what == "goods":
            line["goods"]["unit_cost"] = "4.60"
        elif what == "weight":
            line["goods"]["weight_g"] = 2400
        else:
            line["quantity"] += 1
    return more


def priced_jobs(seed: int):
    chance = random.Random(f"metamorphic {seed}")
    for _ in range(EACH):
        job = several(chance)
        try:
            found = price(job, compare=False)
        except BadInput:
            continue
        yield chance, job, found


@pytest.mark.parametrize("part", range(PARTS))
def test_dearer_or_slower_is_never_cheaper(part):
    tried = 0
    for chance, job, found in priced_jobs(part):
        fixed = pinned(job, found)
        base = cost(fixed)
        for house in (chance.choice(DEARER), chance.choice(SLOWER)):
            assert cost(fixed, house) >= base - NOISE, (fixed, house)
        more = more_of(fixed, chance)
        assert cost(more) >= base - NOISE, (fixed, more)
        tried += 1
    assert tried > EACH // 2


@pytest.mark.parametrize("part", range(PARTS))
def test_order_and_units_change_nothing(part):
    tried = 0
    for chance, job, found in priced_jobs(part + PARTS):
        turned = job | {"lines": job["lines"][::-1]}
        again = price(turned, compare=False)
        case = (job, turned)
        assert D(again.total.cost) == pytest.approx(D(found.total.cost), abs=D("0.03")), case
        assert again.run.elapsed_min == pytest.approx(found.run.elapsed_min, abs=0.01), case
        inches = copy.deepcopy(job)
        for line in inches["lines"]:
            for placement in line["placements"]:
                for part_of in (placement["design"], placement.get("place", {})):
                    for key in [k for k in part_of if k.endswith("_mm")]:
                        part_of[key] = f"{part_of[key] / 25.4:.9f} in"
        inches["house"] = {"shop": {"units": "imperial"}}
        other = price(inches, compare=False)
        assert (other.total.cost, other.total.price) == (found.total.cost, found.total.price), case
        assert [line.tiers for line in other.lines] == [line.tiers for line in found.lines], case
        tried += bool(chance)
    assert tried > EACH // 2


def with_method(job: dict, at: int, placement: int, key: str, value: str) -> dict:
    """A job with another value of one method; holding differently leaves hoop and basting open."""
    other = copy.deepcopy(job)
    methods = other["lines"][at]["placements"][placement].setdefault("methods", {})
    if key == "hold":
        methods.pop("baste", None)
        methods.pop("hoop", None)
    methods[key] = value == "true" if key in {"baste", "knock_down"} else value
    if key == "layers":
        methods[key] = int(value)
    return other


@pytest.mark.parametrize("part", range(PARTS))
def test_what_is_promised_of_another_way_is_what_it_comes_to(part):
    tried = 0
    for chance, job, _ in priced_jobs(part + 2 * PARTS):
        found = price(job)
        base = D(found.total.cost)
        rounding = D("0.02") + D("0.03") * len(job["lines"])  # every part of every line
        at = chance.randrange(len(job["lines"]))
        line = found.lines[at]
        promised = [
            (other.cost_difference, with_method(job, at, m.placement, m.key, other.value))
            for m in line.methods
            for other in m.others
        ]
        promised += [(s.cost_difference, apply_patch(job, s.apply)) for s in line.schools]
        for difference, other in chance.sample(promised, min(3, len(promised))):
            came_to = D(price(other, compare=False).total.cost) - base
            assert abs(came_to - D(difference)) <= rounding, (job, other, difference, came_to)
            tried += 1
        machine = chance.choice(found.machines)
        moved = copy.deepcopy(job)  # the chosen one is told as the order is made
        for each in moved["lines"] if not machine.chosen else ():
            for placement in each["placements"]:
                methods = placement.setdefault("methods", {})
                methods.pop("hoop", None)
                methods["machine"] = machine.id
        came_to = D(price(moved, compare=False).total.cost)
        assert abs(came_to - D(machine.cost)) <= rounding, (job, machine, came_to)
    assert tried > EACH


NAMES = {"quantity": 5, "names": ["Ada", "Wilhelmina", "Bo", "Ada", ""]}
SOME = range(400 if SOAK else 40)


@pytest.mark.parametrize("part", range(PARTS))
def test_of_the_open_line_all_is_told_and_of_others_the_same_in_short(part):
    short = 0
    for seed in SOME[part::PARTS]:
        job = several(random.Random(seed))
        try:
            whole = price(job, compare=False)
        except BadInput:
            continue
        for n in range(len(whole.lines)):
            found = Pricing(job_from(job), HOUSE, {}).estimate(compare=False, open_line=n)
            assert found.total == whole.total
            assert found.lines[n] == whole.lines[n]
            for told, full in zip(found.lines, whole.lines, strict=True):
                for name, value in told if not told.whole else ():
                    assert name == "whole" or not value or value == getattr(full, name), name
                    short += 1
    assert short > 100


@pytest.mark.parametrize("part", range(PARTS))
def test_what_is_taken_over_from_the_making_as_it_is_comes_out_as_worked_anew(part, monkeypatch):
    def dropping(work: Callable[..., Any]) -> Callable[..., Any]:
        return lambda *given, **named: work(*given, **named | {"like": None})

    jobs = [several(random.Random(seed)) for seed in SOME[part::PARTS]]
    jobs.append(order((FLEECES, LABELS, SCARF | NAMES, TIE_BACKS)[part]))
    taken_over = [told(job) for job in jobs]
    for name in ("settle_methods", "plan_place"):
        monkeypatch.setattr(comparing, name, dropping(getattr(comparing, name)))
    assert [told(job) for job in jobs] == taken_over
    assert any(taken_over)


def told(job: dict) -> Estimate | None:
    """A job's estimate with all that else could be done; None where it cannot be made."""
    try:
        return price(job)
    except BadInput:
        return None
