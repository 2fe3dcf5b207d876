"""What the log teaches: factors, spreads, what is asked about; hands and machines in a house."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.advice.trouble import (
    STOP_FIRST,
    all_faults,
    every_setting,
    settings_of,
    troubles,
)
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import build_house
from clothyard.core.house.learnt import group_of, unlearnt, with_hands
from clothyard.core.job.check import job_from
from clothyard.core.log.learn import (
    Ratio,
    bobbins_counted,
    carried_share,
    learn,
    spoiled_share,
    weighed,
)
from clothyard.core.log.rows import (
    LogRow,
    Measured,
    ThreadWeighed,
    difference_words,
    puckered_by_goods,
    ratios_of,
)
from clothyard.core.log.rows import estimated_of as estimated
from clothyard.core.run.at_machine import Event, add_up
from tests.conftest import polos, price

SPREADS = (0.05, 0.12, 0.08, 0.35, 0.25, 0.20, 0.50)


def rows(*values, **more):
    return [Ratio(f"r{n}", value, **more) for n, value in enumerate(values)]


def test_the_handbooks_worked_examples():
    assert learn(rows(1.12, 1.12, 1.12), start=1, spread=0.05).factor == pytest.approx(
        1.0498, abs=5e-5
    )
    assert learn(rows(1.4, 1.4, 1.4), start=1.2, spread=0.12).factor == pytest.approx(
        1.2820, abs=5e-5
    )
    assert spoiled_share(2, 60, start=0.015) == pytest.approx(0.02875)


def test_with_no_job_it_is_the_start():
    found = learn([], start=1.2, spread=0.12)
    assert (found.factor, found.spread, found.jobs) == (pytest.approx(1.2), pytest.approx(0.12), 0)
    assert found.error == pytest.approx(0.06)  # four jobs' worth


ratios = st.lists(st.floats(0.34, 2.99), max_size=25)


@given(ratios, st.sampled_from(SPREADS), st.randoms(use_true_random=False))
def test_the_order_of_rows_does_not_matter(values, spread, chance):
    found = rows(*values)
    mixed = list(found)
    chance.shuffle(mixed)
    assert learn(found, start=1, spread=spread) == learn(mixed, start=1, spread=spread)


@given(ratios, st.sampled_from(SPREADS), st.floats(0.01, 100))
def test_one_wild_row_among_ten_moves_a_factor_by_less_than_a_tenth(values, spread, wild):
    nine = (values * 9)[:9] if values else [1.0] * 9
    near = [1 + 0.2 * (v - 1) for v in nine]  # jobs of one shop lie together
    before = learn(rows(*near), start=1, spread=spread).factor
    after = learn(rows(*near, wild), start=1, spread=spread).factor
    assert abs(after / before - 1) < 0.1


@given(ratios, st.sampled_from(SPREADS), st.floats(0.34, 2.99), st.floats(0.01, 1))
def test_no_row_moves_a_factor_by_a_tenth(values, spread, wild, weight):
    """In every group and at every count, the first one too, where jobs of a shop lie together."""
    near = rows(*(1 + spread * (v - 1) for v in values))
    before = learn(near, start=1, spread=spread).factor
    after = learn([*near, Ratio("w", wild, weight)], start=1, spread=spread).factor
    assert abs(after / before - 1) < 0.1


@given(ratios, st.sampled_from(SPREADS))
def test_true_factors_of_one_stay_at_one(values, spread):
    even = [v for value in values for v in (value, 1 / value)]  # as often over as under
    assert learn(rows(*even), start=1, spread=spread).factor == pytest.approx(1)


@given(st.floats(0.5, 2), st.sampled_from(SPREADS))
def test_more_rows_narrow_spread_and_error(value, spread):
    found = [learn(rows(*[value] * n), start=value, spread=spread) for n in (0, 1, 3, 10, 40)]
    for fewer, more in pairwise(found):
        assert more.spread < fewer.spread
        assert more.error < fewer.error


@given(ratios, st.sampled_from(SPREADS), st.floats(0.1, 9))
def test_it_lies_between_the_start_and_the_jobs(values, spread, start):
    found = learn(rows(*values), start=start, spread=spread).factor
    ends = [start, *values]
    assert min(ends) * (1 - 1e-9) <= found <= max(ends) * (1 + 1e-9)


def test_what_is_wild_is_asked_about_and_counts_once_confirmed():
    plain = learn(rows(1.0, 1.1), start=1, spread=0.2)
    wild = [*rows(1.0, 1.1), Ratio("w", 4.0)]
    found = learn(wild, start=1, spread=0.2)
    assert (found.factor, found.jobs, found.asked) == (plain.factor, 2, ("w",))
    said = learn([*rows(1.0, 1.1), Ratio("w", 4.0, confirmed=True)], start=1, spread=0.2)
    assert said.jobs == 3
    assert said.factor > plain.factor


def test_old_jobs_and_coarse_measures_count_less():
    old, fresh = (learn(rows(1.3, age_days=d), start=1, spread=0.25) for d in (366, 365))
    half = learn(rows(1.3, weight=0.5), start=1, spread=0.25)
    assert old.factor == half.factor < fresh.factor
    assert (weighed(2.0, 0.1), weighed(0.5, 0.1), weighed(-1, 0.1)) == (1.0, 0.25, 0.0)
    assert (bobbins_counted(5), bobbins_counted(12)) == (0.5, 1.0)


def test_puckered_pieces_say_what_backings_carry_on_a_class():
    """1 of 60 puckered of a class that spoils 1.5 %: 1 − 0.25 × (1/80 ÷ 0.015)."""
    assert carried_share(1, 60, spoil=0.015) == pytest.approx(1 - 0.25 * (1 / 80) / 0.015)
    assert carried_share(0, 60, spoil=0.015) == 1
    assert carried_share(20, 60, spoil=0.015) == 0.5  # never under half
    rows_ = [
        row(goods="fleece", reasons={"pucker": 2, "gap": 1}),
        row(goods="fleece", reasons={"pucker": 1}),
        row(goods="fleece", reasons={"pucker": 9}, excluded=True),
        row(goods="denim", reasons={"gap": 1}),
    ]
    assert puckered_by_goods(rows_) == {"fleece": 3}


def row(**changes):
    asked = {"needle_s": 600.0, "hooping_s": 300.0, "needle_m": 60.0, "bobbin_m": 20.0}
    usual = {
        "finished_on": "2026-05-04",
        "sewn": 6,
        "machine": "compact-10",
        "known": True,
        "estimated": Measured(**asked),
        "actual": Measured(**asked),
    }
    return LogRow(**usual | changes)


def test_only_designs_from_files_teach_thread_and_needle_time():
    assert {*ratios_of([("1", row(), 0)])} == {"needle", "bobbin", "sewing:compact-10", "hooping"}
    assert {*ratios_of([("1", row(known=False), 0)])} == {"hooping"}
    assert ratios_of([("1", row(excluded=True), 0)]) == {}


def test_thread_that_was_weighed_counts_by_its_grams():
    cone = ThreadWeighed(label="Navy", estimated_m=60, grams_before=500.0, grams_after=499.0)
    [ratio] = ratios_of([("1", row(threads=[cone]), 0)])["needle"]
    assert (ratio.value, ratio.weight) == (pytest.approx(1000 / 27 / 60), pytest.approx(0.5))
    typed = ThreadWeighed(label="Navy", estimated_m=60, metres=66.0)
    [ratio] = ratios_of([("1", row(threads=[typed]), 0)])["needle"]
    assert (ratio.value, ratio.weight) == (pytest.approx(1.1), 1.0)


def test_differences_are_said_in_words_the_largest_first():
    was = Measured(needle_s=660.0, hooping_s=420.0, needle_m=61.0)
    assert difference_words(row(actual=was)) == [
        "hooping 40 % longer: 7.0 instead of 5.0 min",
        "needle time 10 % longer: 11.0 instead of 10.0 min",
    ]


def test_hands_and_machine_go_into_every_figure_and_are_told():
    house = build_house(
        {
            "hands": {"hooping": "1.2", "order": "0.9"},
            "machines": {"compact-10": {"time_factor": "1.1"}},
        }
    )
    house = house.model_copy(update={"learnt": {"hands.hooping": "learnt from 7 jobs"}})
    plain, job = work_of(job_from(polos()), build_house(), {}), job_from(polos())
    found = work_of(job, house, {})
    [before], [after] = plain.passes[1:], found.passes[1:]
    sew = [sum(e.machine_s for e in p.events if e.task == "sew") for p in (before, after)]
    assert sew[1] == pytest.approx(1.1 * sew[0], rel=1e-6)
    for one, other in zip(before.tasks, after.tasks, strict=True):
        slower = 1.2 if one.before else 1.0
        assert other.first_s == pytest.approx(one.first_s * slower)
    told = with_hands(house)
    assert told.learnt["tasks.mark.seconds"] == "30 × 1.2, learnt from 7 jobs"
    assert told.learnt["tasks.customer.seconds"] == "1200 × 0.9, the shop's own"
    assert with_hands(told) is told  # nothing is taken twice
    assert work_of(job, unlearnt(house), {}) == work_of(job, unlearnt(build_house()), {})
    assert group_of(house.tasks["mark"]) == "hooping"
    assert group_of(house.tasks["thread-colour"]) == "order"


def test_a_learnt_figure_says_so_in_its_working():
    asked = polos(job__house={"hands": {"finishing": "1.25"}})
    told = price(asked, working=True)
    inputs = [i for line in told.lines for w in line.working for i in w.inputs]
    [said] = {i.source for i in inputs if i.standard == "tasks.check.seconds"}
    assert said == "15 × 1.25, the shop's own"


def test_what_a_pass_is_estimated_to_take_adds_up_to_its_work():
    work = work_of(job_from(polos()), build_house(), {})
    each = next(p for p in work.passes if not p.sample)
    found = estimated(work, each.id, build_house(), sewn=24)
    line = sum(t.total_s for line in work.lines for t in line.tasks)
    events = sum(e.operator_s for e in each.events if e.task not in {"sew", "break"})
    hands = each.hand_s + line + events + sum(t.total_s for t in work.once)
    assert found.hand_s() == pytest.approx(hands, rel=1e-6)
    assert (found.needle_m, found.bobbin_m) == (each.needle_m, each.bobbin_m)
    twice = estimated(work, each.id, build_house(), sewn=48)
    assert twice.needle_m == pytest.approx(2 * found.needle_m)
    assert twice.order_s == found.order_s  # once an order, however many are sewn


def test_events_add_up_once_each_and_what_is_taken_back_leaves_no_trace():
    told = [
        Event("a", "prepare", 0),
        Event("b", "prepared", 300),
        Event("c", "begun", 400, "p1"),
        Event("d", "broke", 450, "p1"),
        Event("e", "done", 900, "p1", {"needle_s": 420.0}),
        Event("f", "begun", 960, "p2"),
        Event("g", "spoiled", 1200, "p2", {"reason": "nest"}),
        Event("h", "paused", 1210, "", {"reason": "lunch"}),
        Event("i", "on", 4000),
        Event("j", "begun", 4010, "p3"),
        Event("k", "done", 4500, "p3", {"needle_s": 430.0}),
        Event("l", "weighed", 4600, "", {"label": "Navy", "grams": 500.0}),
        Event("m", "weighed", 4700, "", {"label": "Navy", "grams": 498.0, "after": True}),
    ]
    at = add_up(told)
    assert (at.done, dict(at.spoiled), at.breaks) == (("p1", "p3"), {"p2": "nest"}, 1)
    assert (at.prepare_s, at.needle_s, at.loading_s) == (300, 850, 60)  # no lunch in it
    assert at.weights["Navy"] == (500.0, 498.0)
    assert add_up([*told, *told]) == at
    undone = add_up([*told[:4], Event("x", "undo", 901, "", {"of": "d"}), *told[4:]])
    assert undone.breaks == 0
    assert add_up([*told, Event("y", "undo", 9, "", {"of": "g"})]).spoiled == {}
    again = [Event("n", "undo", 9, "", {"of": "d"}), Event("o", "undo", 9, "", {"of": "n"})]
    assert add_up([*told, *again]).breaks in {0, 1}  # taking back is not taken back by a press


def test_every_fault_has_causes_and_the_likeliest_for_a_piece_come_first():
    assert len(all_faults()) == 20
    work = work_of(job_from(polos()), build_house(), {})
    line = work.lines[0]
    settings = settings_of(line, line.placements[0], build_house())
    known = {
        name for fault in all_faults().values() for cause in fault.causes for name in cause.when
    }
    assert known <= {*every_setting(line, line.placements[0], build_house())}
    found = {t.fault.id: t for t in troubles(settings)}
    assert found["pucker"].causes[0] == "The cloth was stretched while it was hooped."
    bare = {t.fault.id: t for t in troubles(frozenset({"floated", "adhesive"}))}
    assert bare["gap"].causes[0].startswith("The cloth was not held")
    assert bare["gap"].likely == 1
    assert {t.fault.id for t in bare.values() if t.caution == STOP_FIRST} == {
        "nest",
        "break",
        "needle-break",
        "bobbin-out",
    }


def test_what_this_piece_cannot_have_is_left_out():
    work = work_of(job_from(polos()), build_house(), {})
    line = work.lines[0]
    known = {name for f in all_faults().values() for c in f.causes for name in c.only}
    assert known <= {*every_setting(line, line.placements[0], build_house())}
    found = {t.fault.id: t for t in troubles(settings_of(line, line.placements[0], build_house()))}
    assert "Metallic without its needle." not in found["break"].causes  # it is polyester
    assert "wrong-word" not in found  # no names
    bright = {t.fault.id: t for t in troubles(frozenset({"metallic", "floated", "adhesive"}))}
    assert bright["break"].causes[0] == "Metallic without its needle."
    assert "burn" not in bright  # no hoop closes on it
