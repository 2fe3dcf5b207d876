"""The plan: precedence, calendars and shares are never broken; the promise; the same plan again."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.work.schedule import (
    SLOT_S,
    Calendar,
    Horizon,
    Planned,
    plan_orders,
    promise,
)
from clothyard.core.work.units import Unit

WEEK = (7.0, 7.0, 7.0, 7.0, 5.0, 0.0, 0.0)
MONDAY = "2026-05-04"
OPEN = Calendar(9.0, WEEK, frozenset(), 1, {})


def unit(id_, kind, hours, *, after=(), machine="", person=None, until=""):
    seconds = hours * 3600
    return Unit(
        id_, kind, id_, machine, 1, 1, seconds if machine else 0.0,
        seconds if person is None else person * 3600, seconds, after, "pieces", "", until,
    )  # fmt: skip


def order(id_, sew=6.0, *, promised="", rank=0, before=1.0, after=1.0, waits="", dry=0.0):
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
    return Planned(id_, tuple(units), promised, rank)


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
    closed = Calendar(9.0, WEEK, frozenset({"2026-05-04", "2026-05-05"}), 1, {})
    assert plan_orders([order("a")], closed, from_day=MONDAY).told[0].begin_day == "2026-05-06"
    out = Calendar(9.0, WEEK, frozenset(), 1, {"m": frozenset({"2026-05-04", "2026-05-05"})})
    sewn = next(
        p for p in plan_orders([order("a")], out, from_day=MONDAY).placed if p.unit == "sew"
    )
    assert sewn.begin_day == "2026-05-06"
    nobody = Calendar(9.0, (0.0,) * 7, frozenset(), 1, {})
    plan = plan_orders([order("a")], nobody, from_day=MONDAY)
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
    alone = promise(draft, [], OPEN, from_day=MONDAY, spread=0.2)
    assert alone.likely == plan_orders([draft], OPEN, from_day=MONDAY).told[0].end_day
    assert alone.safe >= alone.likely
    behind = promise(draft, [order("a", 30.0)], OPEN, from_day=MONDAY, spread=0.2)
    assert behind.likely > alone.likely
    nobody = Calendar(9.0, (0.0,) * 7, frozenset(), 1, {})
    assert promise(draft, [], nobody, from_day=MONDAY, spread=0.2).likely == ""


ORDERS = st.lists(
    st.builds(
        order, st.uuids().map(str), st.floats(0.3, 30), promised=st.sampled_from(
            ["", "2026-05-06", "2026-05-12", "2026-06-01"]), rank=st.integers(0, 9),
        before=st.floats(0.1, 4), after=st.floats(0.1, 4), dry=st.sampled_from([0.0, 4.0]),
        waits=st.sampled_from(["", "2026-05-07"]),
    ),
    min_size=1, max_size=6,
)  # fmt: skip


@given(ORDERS, st.integers(1, 3), st.sets(st.sampled_from(["2026-05-05", "2026-05-11"])))
def test_precedence_calendars_and_shares_are_never_broken(orders, people, closed):
    calendar = Calendar(9.0, WEEK, frozenset(closed), people, {})
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
            assert end >= begin + by_order[owner][key].elapsed_s - 40
            weekday = (int(np.datetime64(row.begin_day, "D").astype(int)) + 3) % 7
            assert calendar.hours[weekday] > 0
            assert 9.0 <= row.begin_h < 9.0 + calendar.hours[weekday]
    sewn = sorted(
        (moment(p.begin_day, p.begin_h), moment(p.end_day, p.end_h))
        for p in plan.placed
        if p.kind == "sew"
    )
    work = sum(u.elapsed_s for o in orders for u in o.units if u.kind == "sew")
    if sewn:
        spent = sum(SLOT_S for at in horizon.at if sewn[0][0] <= at < max(end for _, end in sewn))
        assert spent >= work - SLOT_S  # one machine sews one thing at a time
    assert {t.order for t in plan.told} | set(plan.over) == {o.id for o in orders}
