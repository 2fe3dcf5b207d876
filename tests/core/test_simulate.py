"""The simulated run: against the closed form, nobody in two places, more help never later."""

import itertools
import random
from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.estimate.make import Pricing, estimate, work_of
from clothyard.core.house.check import build_house, default_house
from clothyard.core.job.check import job_from
from clothyard.core.run.simulate import (
    PassPlan,
    RunPlan,
    best,
    bottleneck,
    instead,
    plan_hash,
    run_plan,
    simulate,
    spread,
    spreads_of,
)
from tests.conftest import polos
from tests.core.random_jobs import random_job

HOUSE = default_house()


def planned(document, house=HOUSE):
    work = work_of(job_from(document, currency="GBP"), house, {})
    return run_plan(work, house), work


def closed(work):
    return sum(part.seconds for part in work.run.parts[1:])


def test_the_worked_order_takes_what_the_closed_form_says():
    """24 polos: 89.13 s until the first is hooped, 24 cycles of 710.61 s, 2,282 s of finishing."""
    plan, work = planned(polos())
    result = simulate(plan)
    assert not result.waits
    assert result.elapsed_s == pytest.approx(closed(work), abs=1e-4)
    machine, hands = result.lanes
    assert machine.total("wait for a piece") == pytest.approx(89.134, abs=0.001)
    assert hands.total("finish") == pytest.approx(24 * (29.3333 + 20.75 + 45), abs=0.01)
    assert hands.total("prepare") == pytest.approx(24 * 89.13375)
    assert bottleneck(result) == "Hands wait 194 min for the machine: it is what holds the run up."


@pytest.mark.parametrize("finishing", ["batch", "piece"])
def test_one_pass_of_any_job_is_the_closed_form_where_nobody_waits(finishing):
    """Over random jobs of one pass: the same to the second, or longer by who waited for whom."""
    chance, exact = random.Random(9), 0
    house = build_house({"run": {"finishing": finishing}})
    for _ in range(60):
        try:
            plan, work = planned(random_job(chance), house)
        except BadInput:
            continue
        if len(plan.passes) != 1:
            continue
        result = simulate(plan)
        for lane in result.lanes:
            check_lane(lane, result.elapsed_s)
        each = plan.passes[0]
        hands = each.load_s + each.attend_s + each.before_s
        hands += sum(person_s * often for _, person_s, often in each.served)
        if finishing == "piece" or hands > each.machine_s:
            continue
        assert result.elapsed_s >= closed(work) - 0.01  # hands wait for the machine, never less
        if not result.waits:
            exact += 1
            assert result.elapsed_s == pytest.approx(closed(work), abs=0.01)
    assert finishing == "piece" or exact > 5


def check_lane(lane, elapsed):
    """One thing at a time, from begin to end."""
    rows = sorted(lane.intervals, key=lambda i: (i.start_s, i.end_s))
    for one, other in itertools.pairwise(rows):
        assert one.end_s <= other.start_s + 1e-6, (lane.id, one, other)
    assert sum(i.end_s - i.start_s for i in rows) <= elapsed + 1e-6
    assert all(0 <= i.start_s <= i.end_s <= elapsed + 1e-6 for i in rows)


PASSES = st.builds(
    PassPlan,
    st.just("p"),
    st.just("x"),
    st.sampled_from(["m1", "m2"]),
    st.integers(1, 5),
    st.floats(20, 900),
    st.floats(0, 60),
    st.floats(0, 200),
    st.lists(st.tuples(st.floats(5, 60), st.floats(5, 60), st.floats(0, 2)), max_size=2).map(tuple),
    st.floats(0, 400),
    st.floats(0, 300),
    st.integers(1, 3),
)


def _own_ids(passes):
    return tuple(replace(each, id=f"p{n}") for n, each in enumerate(passes))


PLANS = st.builds(
    RunPlan,
    st.lists(PASSES, min_size=1, max_size=3).map(_own_ids),
    st.integers(1, 3),
    st.booleans(),
)


@given(PLANS, st.integers(0, 99))
def test_nobody_is_in_two_places_and_the_same_seed_is_the_same_run(plan, seed):
    one = simulate(plan, seed=seed, spreads=spreads_of(HOUSE))
    assert one == simulate(plan, seed=seed, spreads=spreads_of(HOUSE))
    for lane in one.lanes:
        check_lane(lane, one.elapsed_s)
    result = simulate(plan)
    for each in plan.passes:
        own = [lane for lane in result.lanes if lane.id == each.machine]
        sewn = [i for i in own[0].intervals if i.of == each.id and i.cause == "sew"]
        assert {i.cycle for i in sewn} <= set(range(1, each.cycles + 1))
    hands = [lane for lane in result.lanes if lane.kind == "hands"]
    prepared = sum(lane.total("prepare") for lane in hands)
    assert prepared == pytest.approx(sum(p.before_s * p.cycles for p in plan.passes), abs=1e-3)
    loaded = sum(lane.total("load", "stand by", "serve") for lane in hands)
    asked = sum(
        p.cycles * (p.load_s + p.attend_s + sum(o * n for _, o, n in p.served)) for p in plan.passes
    )
    assert loaded == pytest.approx(asked, rel=1e-6, abs=1e-3)


@given(PLANS)
def test_more_hoops_or_hands_are_never_later(plan):
    now = best(plan)[1].elapsed_s
    more = replace(plan, passes=tuple(replace(p, hoops=p.hoops + 1) for p in plan.passes))
    assert best(more)[1].elapsed_s <= now + 1e-6
    if plan.hands < 3:
        assert best(replace(plan, hands=plan.hands + 1))[1].elapsed_s <= now + 1e-6


def test_what_would_save_is_simulated_again_and_the_spread_holds_the_expected():
    plan, _ = planned(polos())
    used, result = best(plan)
    ways = {way.id: way for way in instead(plan, result)}
    assert ways["machine"].saved_s > 7000
    assert ways["hands"].saved_s == pytest.approx(1141, abs=0.01)  # half of the finishing
    assert ways["hoop"].saved_s == pytest.approx(0, abs=1e-6)
    found = spread(used, spreads_of(HOUSE), runs=60)
    assert found.p10_s < result.elapsed_s * 1.15
    assert found.p10_s < found.p50_s < found.p90_s
    assert found == spread(used, spreads_of(HOUSE), runs=60)
    stopped = spread(used, spreads_of(HOUSE), runs=60, told=lambda n: n < 7)
    assert stopped.runs == 7


def test_two_who_are_asked_for_at_one_moment_are_one_person():
    """No sewing before the first stop: who stands by and who serves are asked for at once."""
    each = PassPlan("p", "x", "m", 1, 20.0, 0.0, 1.0, ((10.0, 5.0, 2.0),), 0.0, 0.0, 1)
    lanes = simulate(RunPlan((each,), 2, False)).lanes
    hands = [lane for lane in lanes if lane.kind == "hands"]
    assert sum(lane.total("stand by", "serve") for lane in hands) == pytest.approx(11.0)


def test_clipping_afterwards_frees_the_machine():
    """216 trims of 6 s leave the machine, 216 clips of 4 s come to the hands' finishing."""
    plan, _ = planned(polos())
    result = best(plan)[1]
    ways = {way.id: way for way in instead(plan, result)}
    assert ways["clipping"].saved_s == pytest.approx(216 * 6 - 216 * 4)
    by_hand, _ = planned(polos(methods__machine="single-flat"))
    assert "clipping" not in {way.id for way in instead(by_hand, best(by_hand)[1])}


def test_an_estimate_uses_a_run_only_where_it_is_its_own():
    plan, _ = planned(polos())
    job = job_from(polos(), currency="GBP")
    found = Pricing(job, HOUSE, {}, simulated={plan_hash(plan): 30_000.0}).estimate(compare=False)
    assert (found.run.basis, found.run.elapsed_min) == (
        "simulated",
        544.67,
    )  # 44.67 of set-up and sample
    other = job_from(polos(line__quantity=23, line__cells=[]), currency="GBP")
    found = Pricing(other, HOUSE, {}, simulated={plan_hash(plan): 30_000.0}).estimate(compare=False)
    assert found.run.basis == "closed-form"


def test_labour_by_elapsed_time_charges_what_hands_wait():
    """Hands wait 194 min for the machine: charged at the hour's labour and overhead."""
    busy, elapsed = (
        estimate(
            job_from(polos() | {"house": {"run": {"labour": how}}}, currency="GBP"),
            HOUSE,
            {},
            working=True,
            compare=False,
        )
        for how in ("busy", "elapsed")
    )
    waits = elapsed.run.operator_min - busy.run.operator_min
    assert waits == pytest.approx(193.56, abs=0.01)
    rates = HOUSE.rates
    more = Decimal(elapsed.lines[0].cost.labour) - Decimal(busy.lines[0].cost.labour)
    assert float(more) == pytest.approx(waits / 60 * float(rates.labour_per_h), abs=0.01)
    sheet = {row.id: row for row in elapsed.lines[0].working}
    assert "waiting for the machine" in {row.name for row in sheet["cost.labour"].inputs}
    assert elapsed.run.elapsed_min == busy.run.elapsed_min


def test_a_run_over_http_and_at_the_command_line(client, shop, run, tmp_path):
    import json

    from tests.services.test_orders import URL, accepted

    accepted(shop)
    client.get(URL)
    found = client.get(f"{URL}/1/run").json()
    assert found["format"] == "clothyard-run/1"
    assert client.get("/api/v1/quotes/1/run").json()["plan_sha256"] == found["plan_sha256"]
    for lane in found["lanes"]:
        assert lane["busy_s"] + lane["waiting_s"] == pytest.approx(found["elapsed_s"], abs=0.02)
    seeded = client.get(f"{URL}/1/run?seed=4").json()
    assert seeded["elapsed_s"] != found["elapsed_s"]
    steps = client.get(f"{URL}/1/run/spread?many=20").text.splitlines()
    last = json.loads(steps[-1])
    assert [json.loads(step)["done"] for step in steps] == [0, 10, 20]
    assert last["p10_s"] <= last["p50_s"] <= last["p90_s"]
    assert client.get(f"{URL}/9/run/spread").status_code == 404
    job = tmp_path / "job.json"
    job.write_text(json.dumps(polos()))
    code, out, _ = run("simulate", job)
    assert (code, "a second machine like it saves" in out) == (0, True)
    one = run("simulate", job, "--seed", "7", "--json")[1]
    assert one == run("simulate", job, "--seed", "7", "--json")[1]
