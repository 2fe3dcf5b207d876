"""What would make a day: taken, each way keeps what it said; without a shop or a database."""

import copy
from dataclasses import replace
from decimal import Decimal

import pytest

from clothyard.core.estimate.make import Pricing
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.order.ways import (
    Draft,
    Lacks,
    before,
    charged_otherwise,
    express,
    machines,
    overtime,
    part,
    quicker,
    units_of,
    ways,
)
from clothyard.core.plan.calendar import calendar_of, handed_over_by
from clothyard.core.plan.schedule import plan_orders
from tests.conftest import polos
from tests.core.test_schedule import MONDAY, order

HOUSE = default_house()
SAFE = 1.25
"""How much longer the draft's own time is on its safe day."""


def draft_of(plain, *, house=HOUSE, others=(), lacks=(), sends_express=False):
    """A draft beside open orders, from Monday at eight."""
    job = job_from(plain, currency="GBP")
    calendar = calendar_of(house)
    line = plan_orders(others, calendar, from_day=MONDAY, from_h=8).line
    return Draft(
        job=job,
        estimate=Pricing(job, house, {}).estimate(compare=False, pieces=False),
        house=house,
        designs={},
        units=units_of(job, house, {}),
        lacks=lacks,
        express=sends_express,
        planned=tuple(others),
        line=line,
        numbers={other.id: f"Q-{other.id:0>4}" for other in others},
        day=MONDAY,
        hour=8.0,
        factor=SAFE,
        simulated={},
    )


def safe(draft, goes_before=""):
    return draft.there(draft.own_place(goes_before, factor=draft.factor))


def patched(plain, patch):
    """A plain job with methods as a JSON Patch sets them."""
    for step in patch:
        assert step["op"] == "add"
        *path, key = step["path"].strip("/").split("/")
        at = plain
        for name in path:
            at = at[int(name)] if isinstance(at, list) else at.setdefault(name, {})
        at[key] = step["value"]
    return plain


def day_before(day):
    """The last day that is too soon for what is there on a day."""
    year, month, rest = day.split("-")
    return f"{year}-{month}-{int(rest) - 1:02d}"


MACHINE = next(unit.machine for unit in draft_of(polos()).units if unit.machine)


def sewn_here(other):
    """An order whose work is sewn on the draft's machine."""
    units = tuple(replace(u, machine=MACHINE) if u.machine else u for u in other.units)
    return replace(other, units=units)


BUSY = tuple(sewn_here(order(str(n), 12.0, rank=n, promised="2026-06-30")) for n in (7, 8))


def test_overtime_is_taken_by_its_hours_and_costs_them():
    plain = polos(line__quantity=60)
    draft = draft_of(plain, others=BUSY)
    for wanted in (day_before(safe(draft)), handed_over_by(safe(draft), HOUSE)):
        [way] = overtime(draft, wanted) or [None]
        if way is None:
            continue
        ((key, text),) = way.standards
        section, person, column = key.split(".")
        people = HOUSE.people | {person: HOUSE.people[person].model_copy(update={column: text})}
        changed = HOUSE.model_copy(update={section: people})
        assert safe(draft_of(plain, house=changed, others=BUSY)) == way.day <= wanted
        rate = HOUSE.rates.labour_per_h + HOUSE.rates.overhead_per_h
        hours = way.cost / rate
        assert hours == int(hours) > 0  # whole hours, on whole days
        return
    pytest.fail("no day that overtime makes was asked for")


def test_it_goes_before_the_last_order_that_makes_it_and_says_who_is_late():
    draft = draft_of(polos(), others=BUSY)
    alone = safe(draft_of(polos()))
    [way] = before(draft, alone)
    assert way.day <= alone < safe(draft)
    first = str(dict(way.head)["goes_before"])
    assert safe(draft, first) == way.day
    assert way.late == ()  # there is time until the end of June
    pressed = tuple(replace(each, promised_on=day_before(alone)) for each in BUSY)
    [late] = before(draft_of(polos(), others=pressed), alone)
    assert set(late.late) <= {"Q-0007", "Q-0008"}
    assert late.late


def test_another_machine_and_a_quicker_way_keep_their_day_and_their_cost():
    plain = polos(line__quantity=120, methods__baste=True, methods__backing="cut-away-medium")
    draft = draft_of(plain)
    wanted = safe(draft)  # all that is as quick makes it
    found = machines(draft, wanted) + quicker(draft, wanted)
    assert {way.kind for way in found} >= {"quicker"}
    for way in found:
        other = draft_of(patched(copy.deepcopy(plain), way.patch))
        assert safe(other) == way.day <= wanted, way.label
        more = Decimal(other.estimate.total.cost) - Decimal(draft.estimate.total.cost)
        assert more == way.cost, way.label


def test_as_many_as_are_ready_are_a_part_and_one_more_is_not():
    draft = draft_of(polos(line__quantity=200))
    wanted = day_before(safe(draft))
    [way] = part(draft, wanted)
    count = dict(way.head)["first_part"]
    by = handed_over_by(wanted, HOUSE)
    assert 0 < count < 200
    assert draft.part_day(count) <= by < draft.part_day(count + 1)
    assert way.cost == 0
    assert dict(way.head)["promised_on"] == ""


def test_goods_sent_express_are_charged_and_can_be_taken_back():
    supplier = next(iter(HOUSE.suppliers))
    row = HOUSE.suppliers[supplier].model_copy(
        update={"express": Decimal("12.00"), "express_days": 1, "days": 9}
    )
    house = HOUSE.model_copy(update={"suppliers": HOUSE.suppliers | {supplier: row}})
    lacks = (Lacks(supplier, "2026-05-18"),)
    draft = draft_of(polos(), house=house, lacks=lacks)
    [way] = express(draft, safe(draft))
    assert way.cost == 12
    assert way.patch == ({"op": "add", "path": "/delivery", "value": "12.00"},)
    assert dict(way.head) == {"express": True}
    taken = draft_of(patched(polos(), way.patch), house=house, lacks=lacks, sends_express=True)
    assert safe(taken) == way.day < safe(draft)
    assert express(taken, safe(draft)) == []
    assert charged_otherwise(taken)[0]["value"] == "0.00"


def test_what_makes_it_stands_first_and_a_part_behind_what_is_whole():
    draft = draft_of(polos(line__quantity=200), others=BUSY)
    found = ways(draft, day_before(safe(draft)))
    assert found
    ranks = [(not way.makes_it, way.kind == "part", way.cost) for way in found]
    assert ranks == sorted(ranks)
