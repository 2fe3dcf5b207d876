"""The plan: precedence, calendars and shares are never broken; the promise; the same plan again."""

import itertools
import os
import random
import statistics
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.plan.backward import BeginBy, begins_by
from clothyard.core.plan.calendar import SLOT_S, Calendar, Horizon, PersonWeek
from clothyard.core.plan.futures import late_counts, late_shares
from clothyard.core.plan.promise import Promiser, promise
from clothyard.core.plan.schedule import Pin, Planned, plan_orders
from clothyard.core.plan.units import GOODS, SetUp, Unit, wait_unit
from tests.tools.held_days import CHANCES, held

WEEK = (7, 7, 7, 7, 5, 0, 0)
MONDAY = "2026-05-04"


def person(id_="maker", hours=WEEK, **others):
    """Somebody who works from 9 so many hours a day, in one go."""
    week = tuple(((540, 540 + 60 * h),) if h else () for h in hours)
    return PersonWeek(id_, week, tuple(sorted(others.items())))


def closed_on(*days, people=1, **options):
    others = dict.fromkeys(days, ())
    return Calendar(tuple(person(str(n), **others) for n in range(people)), **options)


OPEN = closed_on()
SURE = replace(CHANCES, spreads=(0.0,) * 5, spoil=0.0, late=(1.0, 0.0, 0.0, 0.0))
SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
NOBODY = Calendar((person(hours=(0,) * 7),))


def unit(id_, kind, hours, *, after=(), machine="", person=None, until=""):
    seconds = hours * 3600
    return Unit(
        id_,
        kind,
        id_,
        machine,
        1,
        1,
        seconds if machine else 0.0,
        seconds if person is None else person * 3600,
        seconds,
        after,
        "pieces",
        "",
        until,
    )


def order(
    id_,
    sew=6.0,
    *,
    promised="",
    rank=0,
    before=1.0,
    after=1.0,
    waits="",
    dry=0.0,
    threads=0,
    pin=None,
):
    units = [unit("wait", "wait", 0, until=waits)] if waits else []
    first = ("wait",) if waits else ()
    units += [
        unit("prepare", "prepare", before, after=first),
        unit("sew", "sew", sew, after=("prepare",), machine="m", person=sew * 0.25),
        unit("finish", "finish", after, after=("sew",)),
    ]
    if dry:
        units.append(unit("dry", "dry", dry, after=("finish",)))
        units.append(unit("pack", "pack", 0.25, after=("dry",)))
    if threads:
        laid = SetUp(tuple(f"p|#{n:06x}" for n in range(threads)))
        units = [replace(u, set_up=laid) if u.kind == "sew" else u for u in units]
    return Planned(id_, tuple(units), promised, rank, pin or Pin())


def test_one_order_over_a_week_by_hand():
    """Monday 9: 1 h of preparing, 6 h at the machine to 16; Tuesday from 9 an hour of finishing."""
    plan = plan_orders([order("a")], OPEN, from_day=MONDAY)
    rows = {p.unit: (p.begin_day, p.begin_h, p.end_day, p.end_h) for p in plan.placed}
    assert rows["prepare"] == ("2026-05-04", 9.0, "2026-05-04", 10.0)
    assert rows["sew"] == ("2026-05-04", 10.0, "2026-05-04", 16.0)
    assert rows["finish"] == ("2026-05-05", 9.0, "2026-05-05", 10.0)
    [told] = plan.told
    assert (told.begin_day, told.end_day, told.late_days) == ("2026-05-04", "2026-05-05", 0)


def test_hands_work_beside_a_machine_that_sews():
    """The second order is prepared while the first is sewn: a quarter of a person is taken."""
    plan = plan_orders([order("a"), order("b", rank=1)], OPEN, from_day=MONDAY)
    rows = {(p.order, p.unit): p for p in plan.placed}
    begin = rows["b", "prepare"]
    assert (begin.begin_day, begin.begin_h) == ("2026-05-04", 10.0)
    assert begin.end_h == pytest.approx(10 + 1 / 0.75, abs=0.02)
    assert rows["b", "sew"].begin_day == "2026-05-05"


def test_goods_weekends_closing_days_and_a_machine_out_of_service():
    waits = plan_orders([order("a", waits="2026-05-08")], OPEN, from_day=MONDAY)
    assert [p.begin_day for p in waits.placed if p.unit == "prepare"] == ["2026-05-08"]
    assert waits.told[0].end_day == "2026-05-11"  # over the weekend
    closed = closed_on("2026-05-04", "2026-05-05")
    assert plan_orders([order("a")], closed, from_day=MONDAY).told[0].begin_day == "2026-05-06"
    out = closed_on(out=(("m", frozenset({"2026-05-04", "2026-05-05"})),))
    sewn = next(
        p for p in plan_orders([order("a")], out, from_day=MONDAY).placed if p.unit == "sew"
    )
    assert sewn.begin_day == "2026-05-06"
    plan = plan_orders([order("a")], NOBODY, from_day=MONDAY)
    assert (plan.placed, plan.over) == ((), ("a",))


def test_an_order_larger_than_a_month_and_one_that_dries():
    big = plan_orders([order("a", sew=200.0)], OPEN, from_day=MONDAY)
    assert big.told[0].end_day == "2026-06-15"  # of 202 h six weeks take 198, Monday the rest
    dried = plan_orders([order("a", sew=5.0, dry=20.0)], OPEN, from_day=MONDAY)
    assert dried.told[0].end_day == "2026-05-05"  # it dries overnight


def test_the_promise_is_what_is_needed_first_and_insertion_mends_what_is_late():
    line = [order("a", 20.0, promised="2026-05-29"), order("b", 5.0, promised="2026-05-05", rank=1)]
    told = {t.order: t for t in plan_orders(line, OPEN, from_day=MONDAY).told}
    assert told["b"].late_days == 0
    assert told["a"].late_days == 0
    late = [order(n, 6.0, promised="2026-05-05", rank=k) for k, n in enumerate("abc")]
    plan = plan_orders(late, OPEN, from_day=MONDAY)
    assert sum(t.late_days for t in plan.told) > 0
    assert plan == plan_orders(late, OPEN, from_day=MONDAY)


def test_the_promise_of_a_draft():
    """With nothing else planned it is the run's length over the calendar; behind others, later."""
    draft = order("draft", 6.0)
    alone = promise(draft, [], OPEN, from_day=MONDAY, chances=CHANCES)
    assert alone.likely == plan_orders([draft], OPEN, from_day=MONDAY).told[0].end_day
    assert alone.safe >= alone.likely
    behind = promise(draft, [order("a", 30.0)], OPEN, from_day=MONDAY, chances=CHANCES)
    assert behind.likely > alone.likely
    assert promise(draft, [], NOBODY, from_day=MONDAY, chances=CHANCES).likely == ""


def test_the_safe_day_draws_the_queue_too():
    """Held against other futures than those it was drawn of, over some weeks; 200 in the bench."""
    found = [held(seed) for seed in range(12 if not SOAK else 60)]
    whole, before = (statistics.mean(rates) for rates in zip(*found, strict=True))
    assert whole >= 75
    assert before < 80
    draft = order("draft", 6.0)
    queue = [order("a", 30.0), order("b", 12.0, rank=1)]
    one, again = (promise(draft, queue, OPEN, from_day=MONDAY, chances=CHANCES) for _ in "ab")
    assert one == again  # the same futures each time
    sure = promise(draft, queue, OPEN, from_day=MONDAY, chances=SURE)
    assert sure.safe == sure.likely == one.likely
    assert one.safe >= one.likely


def test_suppliers_that_come_late_make_the_safe_day_later():
    waiting = order("draft", 6.0, waits="2026-05-11")
    waits = replace(waiting.units[0], id=GOODS)
    draft = replace(
        waiting,
        units=(
            waits,
            *(replace(u, after=(GOODS,)) if u.after == ("wait",) else u for u in waiting.units[1:]),
        ),
    )
    in_time, late = (
        promise(draft, [], OPEN, from_day=MONDAY, chances=replace(SURE, late=late_shares(counts)))
        for counts in ((400, 0, 0, 0), (0, 0, 0, 400))
    )
    assert in_time.safe == in_time.likely == late.likely
    assert late.safe > in_time.safe
    assert late_counts([("2026-05-08", "2026-05-15"), ("2026-05-08", "2026-05-07")]) == (1, 0, 0, 1)


ORDERS = st.lists(
    st.builds(
        order,
        st.uuids().map(str),
        st.floats(0.3, 30),
        promised=st.sampled_from(["", "2026-05-06", "2026-05-12", "2026-06-01"]),
        rank=st.integers(0, 9),
        before=st.floats(0.1, 4),
        after=st.floats(0.1, 4),
        dry=st.sampled_from([0.0, 4.0]),
        waits=st.sampled_from(["", "2026-05-07"]),
        threads=st.integers(0, 4),
        pin=st.sampled_from(
            [Pin(), Pin(), Pin(), Pin(first=True), Pin(day="2026-05-08"), Pin(day="2026-05-09")]
        ),
    ),
    min_size=1,
    max_size=6,
)


@given(ORDERS, st.integers(1, 3), st.sets(st.sampled_from(["2026-05-05", "2026-05-11"])))
def test_precedence_calendars_and_shares_are_never_broken(orders, people, closed):
    calendar = closed_on(*closed, people=people)
    plan = plan_orders(orders, calendar, from_day=MONDAY, tries=20)
    horizon = Horizon(calendar, MONDAY, 120)

    def moment(day, hour):
        return horizon.moment(day) + hour * 3600

    by_order = {o.id: {u.id: u for u in o.units} for o in orders}
    rows = {(p.order, p.unit): p for p in plan.placed}
    for (owner, key), row in rows.items():
        begin, end = moment(row.begin_day, row.begin_h), moment(row.end_day, row.end_h)
        for before in by_order[owner][key].after:
            was = rows[owner, before]
            assert begin >= moment(was.end_day, was.end_h) - 40
        if row.kind not in {"wait", "dry"}:
            assert row.begin_day not in closed
            assert end >= begin + by_order[owner][key].elapsed_s + row.change_s - 40
            assert end >= begin
            weekday = (int(np.datetime64(row.begin_day, "D").astype(int)) + 3) % 7
            assert WEEK[weekday] > 0
            assert 9.0 <= row.begin_h < 9.0 + WEEK[weekday]
    sewn = sorted(
        (moment(p.begin_day, p.begin_h), moment(p.end_day, p.end_h))
        for p in plan.placed
        if p.kind == "sew"
    )
    work = sum(u.elapsed_s for o in orders for u in o.units if u.kind == "sew")
    if sewn:
        spent = sum(SLOT_S for at in horizon.at if sewn[0][0] <= at < max(end for _, end in sewn))
        assert spent >= work - SLOT_S  # one machine sews one thing at a time
    turns = sorted(
        (moment(p.begin_day, p.begin_h), moment(p.end_day, p.end_h))
        for p in plan.placed
        if p.machine
    )
    for (_, end), (begin, _) in itertools.pairwise(turns):
        assert begin >= end - 40  # no two on a machine at once, nor one within another
    assert {t.order for t in plan.told} | set(plan.over) == {o.id for o in orders}
    pins = {o.id: o.pin for o in orders}
    for told in plan.told:
        if pins[told.order].day:  # a pin is kept, or its impossibility told
            assert (told.begin_day == pins[told.order].day) != bool(told.unpinned)


def threaded(id_, sew, threads, *, rank=0, promised="", after="", **pin):
    sewn = replace(
        unit("sew", "sew", sew, machine="m", person=sew * 0.25),
        set_up=SetUp(tuple(threads), "screw", "sharp"),
    )
    return Planned(id_, (sewn,), promised, rank, Pin(**pin))


def test_orders_that_share_threads_stand_together():
    """Of five threads 375 s; four of them stay, the fifth takes 75 s; a needle of four changes."""
    calendar = closed_on(needles=(("m", 10),))
    red, blue = ["p|#a00000", "p|#b00000", "p|#c00000", "p|#d00000"], ["p|#00000a", "p|#00000b"]
    line = [
        threaded("a", 1, [*red, "p|#e00000"]),
        threaded("b", 1, blue * 1, rank=1),
        threaded("c", 1, [*red, "p|#00ff00"], rank=2),
    ]
    plan = plan_orders(line, calendar, from_day=MONDAY)
    rows = {p.order: p for p in plan.placed}
    assert (rows["a"].change_s, rows["a"].behind) == (375.0, "")
    assert (rows["c"].stay, rows["c"].change_s) == (4, 75.0)  # they stay on the other needles
    one = closed_on(needles=(("m", 5),))  # with five needles blue takes two of them away
    assert plan_orders(line[:2], one, from_day=MONDAY).change_s == 375.0 + 150.0
    plan = plan_orders(line, one, from_day=MONDAY)
    order_of = [p.order for p in sorted(plan.placed, key=lambda p: (p.begin_day, p.begin_h))]
    assert order_of.index("c") - order_of.index("a") in {1, -1}  # moved side by side
    unknown = [threaded("a", 1, ["?1"]), threaded("b", 1, ["?1"], rank=1)]
    assert plan_orders(unknown, one, from_day=MONDAY).change_s == 150.0  # like no other


def test_another_needle_a_hoop_and_the_driver_are_changed_over_to():
    def of(id_, rank, **set_up):
        first = unit("sew", "sew", 1, machine="m", person=0.25)
        return Planned(id_, (replace(first, set_up=SetUp(**set_up)),), "", rank)

    line = [
        of("a", 0, hoop="screw", needle="sharp"),
        of("b", 1, hoop="magnetic", needle="sharp"),
        of("c", 2, hoop="magnetic", needle="ball"),
        of("d", 3, hoop="cap", cap_driver=True, needle="ball"),
    ]
    plan = plan_orders(line, OPEN, from_day=MONDAY, tries=0)
    assert [p.change_s for p in plan.placed] == [0.0, 60.0, 90.0, 600.0]


def test_pins_hold_or_say_why_not():
    line = [order("a", promised="2026-05-08"), order("b", promised="2026-05-07", rank=1)]
    first = [line[0], replace(line[1], pin=Pin(first=True))]
    assert plan_orders(first, OPEN, from_day=MONDAY).line == ("b", "a")
    later = replace(line[1], pin=Pin(day="2026-05-06"))
    told = {t.order: t for t in plan_orders([line[0], later], OPEN, from_day=MONDAY).told}
    assert (told["b"].begin_day, told["b"].unpinned) == ("2026-05-06", "")
    waits = replace(order("c", waits="2026-05-08"), pin=Pin(day="2026-05-06"))
    [row] = plan_orders([waits], OPEN, from_day=MONDAY).told
    assert (row.begin_day, row.unpinned) == ("2026-05-08", "wait")
    before = replace(order("z", promised="2026-06-30", rank=9), pin=Pin(before="b"))
    found = plan_orders([*line, before], OPEN, from_day=MONDAY).line
    assert found.index("z") < found.index("b")
    begun = replace(order("y", promised="2026-06-30", rank=9), begun=True)
    assert plan_orders([*line, begun], OPEN, from_day=MONDAY).line[0] == "y"


def test_what_would_make_a_day_is_known_of_every_place_in_line():
    line = [order("a", 30.0, promised="2026-05-15"), order("b", 5.0, promised="2026-05-06", rank=1)]
    promiser = Promiser(line, OPEN, from_day=MONDAY)
    draft = order("draft", 3.0)
    behind = promiser.day(draft)
    places = list(promiser.before(draft))
    blocks = [promiser.line.orders[n].id for n in promiser.line.blocks()]
    assert [other for other, _, _ in places] == blocks[::-1]
    assert min(day for _, day, _ in places) < behind
    assert all(promiser.day_before(draft, other) == day for other, day, _ in places)
    assert all(set(late) <= {"a", "b"} for _, _, late in places)
    assert promiser.day(draft) == behind  # trying changed nothing
    assert len(list(promiser.before(draft, most=1))) == 1


def test_days_on_which_clocks_change_have_their_hours_and_nothing_is_begun_in_the_past():
    for sunday in ("2026-03-29", "2026-10-25"):
        always = Calendar((person(hours=(7,) * 7),))
        plan = plan_orders([order("a", 5.0)], always, from_day=sunday)
        assert plan.told[0].end_day == sunday
        assert [p.begin_h for p in plan.placed] == [9.0, 10.0, 15.0]
    late = plan_orders([order("a")], OPEN, from_day=MONDAY, from_h=14.1)
    assert (late.placed[0].begin_day, late.placed[0].begin_h) == (MONDAY, 14.25)


def test_nobody_for_three_days_two_people_and_hours_of_their_own():
    away = closed_on("2026-05-04", "2026-05-05", "2026-05-06")
    assert plan_orders([order("a", 3.0)], away, from_day=MONDAY).told[0].begin_day == "2026-05-07"
    early = Calendar((person(**{"2026-05-04": ((360, 540),)}),))  # that Monday from 6 to 9 only
    rows = {p.unit: p for p in plan_orders([order("a", 2.0)], early, from_day=MONDAY).placed}
    assert (rows["prepare"].begin_h, rows["sew"].end_h) == (6.0, 9.0)
    assert rows["finish"].begin_day == "2026-05-05"


def random_week(chance):
    """A shop's orders of some week: people who come and go, two machines, one at times broken."""
    hours = [tuple(chance.choice([0, 3, 5, 7, 8]) for _ in range(7)) for _ in range(3)]
    people = tuple(
        person(str(n), h) for n, h in enumerate(hours[: chance.randint(1, 3)]) if any(h)
    ) or (person(),)
    out = (("m", frozenset({"2026-05-05"})),) if chance.random() < 0.3 else ()
    calendar = Calendar(people, out, (("m", 4), ("k", 6)))
    orders = []
    for n in range(chance.randint(2, 7)):
        made = order(
            str(n),
            sew=chance.choice([0.5, 2.0, 6.0, 15.0]),
            promised=chance.choice(["", "2026-05-06", "2026-05-12"]),
            rank=n,
            before=chance.choice([0.25, 1.0, 4.0]),
            after=chance.choice([0.25, 2.0]),
            waits=chance.choice(["", "", "2026-05-07"]),
            dry=chance.choice([0.0, 0.0, 4.0]),
            threads=chance.randint(0, 6),
            pin=Pin(first=chance.random() < 0.1, day=chance.choice(["", "", "2026-05-06"])),
        )
        share = chance.choice([0.1, 0.4, 0.8, 1.0])
        machine = chance.choice("mmk")
        units = tuple(
            replace(u, machine=machine, person_s=u.elapsed_s * share) if u.kind == "sew" else u
            for u in made.units
        )
        orders.append(replace(made, units=units, begun=chance.random() < 0.15))
    return orders, calendar


WEEKS = 2000 if os.environ.get("CLOTHYARD_SOAK") else 160


@pytest.mark.parametrize("part", range(2))
def test_over_random_weeks_resources_precedence_and_calendars_hold(part):
    """One order at a time on a machine, its pauses too; nothing before what it waits for; only
    while somebody is there; nobody works more than they are there."""
    chance = random.Random(part)
    shared = 0
    for n in range(WEEKS // 2):
        orders, calendar = random_week(chance)
        plan = plan_orders(
            orders, calendar, from_day=MONDAY, from_h=chance.choice([0, 10.5]), tries=6
        )
        horizon = Horizon(calendar, MONDAY, 120)
        rows = {(p.order, p.unit): p for p in plan.placed}
        at = {k: (horizon.moment(p.begin_day) + p.begin_h * 3600) for k, p in rows.items()}
        to = {k: (horizon.moment(p.end_day) + p.end_h * 3600) for k, p in rows.items()}
        units = {(o.id, u.id): u for o in orders for u in o.units if (o.id, u.id) in rows}
        for machine in "mk":
            turns = sorted((at[k], to[k], k) for k, u in units.items() if u.machine == machine)
            shared += len(turns) > 1
            for (_, end, one), (begin, _, other) in itertools.pairwise(turns):
                assert end <= begin + 40, (part, n, one, other)  # hours are told to 0.01
        hands = np.zeros(120)
        for k, u in units.items():
            for before in u.after:
                assert to[k[0], before] <= at[k] + 40, (part, n, k)
            if u.kind in {"wait", "dry"}:
                continue
            there = horizon.at[(horizon.at >= at[k] - 40) & (horizon.at < to[k] - 40)]
            need = u.elapsed_s if u.machine else 0
            assert len(there) * SLOT_S + 40 >= need, (part, n, k)
            assert there[0] <= at[k] + 40, (part, n, k)
            assert there[-1] + SLOT_S >= to[k] - 40, (part, n, k)
            out = dict(calendar.out).get(u.machine, ())
            assert not {rows[k].begin_day, rows[k].end_day} & set(out)
            if rows[k].begin_day == rows[k].end_day:
                hands[int(at[k] // 86_400)] += u.person_s
        for day, seconds in enumerate(hands):
            there = horizon.people[(horizon.at >= day * 86_400) & (horizon.at < (day + 1) * 86_400)]
            assert seconds <= there.sum() * SLOT_S + 60, (part, n, day)
    assert shared > WEEKS // 4


@pytest.mark.parametrize(
    ("due", "collect_h", "begin", "goods"),
    [
        # an hour of finishing, six at the machine, one of preparing, back from Friday at 14
        ("2026-05-08", 0, "2026-05-07", "2026-05-06"),
        ("2026-05-11", 0, "2026-05-08", "2026-05-07"),  # on Monday from 9 all but the preparing
        ("2026-05-10", 0, "2026-05-07", "2026-05-06"),  # a Sunday: it is packed on Friday
        ("2026-05-05", 1, "2026-05-04", "2026-05-03"),  # fetched from 15 on Tuesday
        ("2026-05-05", 7, "2026-05-01", "2026-04-30"),
        ("", 0, "", ""),
    ],
)
def test_begun_at_the_latest_is_a_day_that_is_worked(due, collect_h, begin, goods):
    calendar = replace(OPEN, collect_h=collect_h)
    assert begins_by(order("a").units, calendar, due) == BeginBy(begin, goods)


def test_begun_then_it_is_in_time_and_a_day_later_it_is_not():
    """The pass back and the plan on agree, over shops that work as they like."""
    chance = random.Random(4)
    for _ in range(60):
        orders, calendar = random_week(chance)
        alone = replace(orders[0], pin=Pin(), promised_on="", begun=False)
        units = tuple(u for u in alone.units if u.kind != "wait")
        units = tuple(replace(u, after=tuple(a for a in u.after if a != "wait")) for u in units)
        by = begins_by(units, calendar, "2026-06-12")
        ends = [
            plan_orders([replace(alone, units=units)], calendar, from_day=day).told[0].end_day
            for day in (by.begin, str(np.datetime64(by.begin, "D") + 1))
        ]
        assert ends[0] <= "2026-06-12", (units, calendar, by)
        assert ends[1] >= ends[0]


def test_what_arrives_is_used_from_the_next_opening_and_fetched_only_if_packed_in_time():
    goods = wait_unit("wait", "goods", "2026-05-05", until_h=24.0)
    units = (goods, *order("a", waits="2026-05-05").units[1:])
    plan = plan_orders([Planned("a", units, "2026-05-08", 0)], OPEN, from_day=MONDAY)
    rows = {p.unit: p for p in plan.placed}
    assert rows["wait"].end_day == "2026-05-05"
    assert rows["prepare"].begin_day == "2026-05-06"
    [told] = plan.told  # ready at 10 on Thursday
    assert (told.end_day, told.late_days) == ("2026-05-07", 0)
    early = replace(OPEN, collect_h=6.5)  # nothing is fetched from half past nine on
    [told] = plan_orders([Planned("a", units, "2026-05-07", 0)], early, from_day=MONDAY).told
    assert (told.end_day, told.late_days) == ("2026-05-08", 1)
