"""Selling: goods by breaks, tax, discounts, endings, charges, kits, machines, rates; by hand."""

import copy
from decimal import ROUND_CEILING, Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.house.check import default_house
from clothyard.core.price.digitising import digitising_even
from clothyard.core.price.goods import goods_bought, plan_supplies, spares_at
from clothyard.core.price.rates import MachineYear, Year, yearly_rates
from clothyard.core.time.needles import plan_needles
from clothyard.core.work.pass_run import PassRun, pass_seconds
from tests.conftest import polos, price
from tests.core.test_advice import apply_patch
from tests.core.test_orders import FLEECES, LABELS, LINES, SCARF, money, order, practised

D = Decimal

COST = 9.8648  # the worked order, a piece
NET = COST / 0.65  # 15.1766


def house(**changes):
    return {"job__house": changes}


def line_of(job, **options):
    return price(job, **options).lines[0]


# goods --------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("goods", "quantity", "bought", "total"),
    [
        # one spare with 23, two from 24 on: what is bought is what is needed
        ({}, 23, 24, "147.20"),
        ({"price_breaks": [{"quantity": 25, "unit_cost": "5.90"}]}, 20, 21, "128.00"),
        # 25 at 5.90 are 147.50, 24 at 6.40 are 153.60; two go to the shelf
        ({"price_breaks": [{"quantity": 25, "unit_cost": "5.90"}]}, 23, 25, "135.70"),
        ({"price_breaks": [{"quantity": 24, "unit_cost": "5.90"}]}, 25, 27, "147.50"),
        ({"pack": 12, "price_breaks": [{"quantity": 25, "unit_cost": "5.00"}]}, 24, 36, "120.00"),
        ({"pack": 6}, 23, 24, "147.20"),
        ({"pack": 6, "delivery": "7.50"}, 24, 30, "161.10"),
        ({"pack": 10, "price_breaks": [{"quantity": 24, "unit_cost": "5.00"}]}, 21, 30, "105.00"),
        ({"supplied_by": "customer"}, 23, 23, "0"),
    ],
)
def test_goods_by_breaks_and_packs(goods, quantity, bought, total):
    from clothyard.core.job.check import job_from

    job = polos(line__quantity=quantity)
    job["lines"][0]["goods"] |= goods
    line = line_of(job, compare=False)
    needed = spares_at(
        job_from(job).lines[0], quantity, spoil=0.015, rules=default_house().spoilage
    )
    [supply] = plan_supplies(job_from(job), default_house(), lambda _: [(needed,)])
    found = goods_bought(supply, quantity, needed)
    assert (found.bought, found.total) == (bought, D(total))
    assert line.cost.goods == money(float(total))
    assert line.goods_bought == bought


def test_cells_follow_the_breaks_in_proportion():
    """12 at 6.40 and 12 at 8.00, mean 7.20; from 24 a tenth off: 24 x 6.48."""
    job = polos(
        line__cells=[
            {"size": "M", "quantity": 12},
            {"size": "3XL", "quantity": 12, "unit_cost": "8.00"},
        ],
        goods__price_breaks=[{"quantity": 24, "unit_cost": "5.76"}],
    )
    assert line_of(job, compare=False).cost.goods == money(24 * 7.20 * 0.9)


def test_spares_that_cannot_be_sold_are_charged():
    plain = line_of(polos(), compare=False)
    kept = line_of(polos(goods__spares_unsaleable=True), compare=False)
    assert float(kept.cost.goods) - float(plain.cost.goods) == pytest.approx(2 * 6.40)
    packed = line_of(polos(goods__pack=10), compare=False)
    assert (packed.spares, packed.goods_bought) == (6, 30)  # three packs for 24 and 2 spares


# tax, rounding, discount --------------------------------------------------------------------


def test_tax_is_added_to_the_sum_once():
    """364.80 at 20 %: 72.96; a line at 5 % beside it: rounded once a rate."""
    found = price(polos(**house(terms={"tax_rate": "0.20"})), compare=False)
    assert (found.total.price, found.total.tax, found.total.to_pay) == ("364.80", "72.96", "437.76")
    assert found.total.deposit == "218.88"
    assert found.lines[0].price.unit == "15.20"
    job = polos(**house(terms={"tax_rate": "0.20"}))
    job["lines"].append(copy.deepcopy(job["lines"][0]) | {"tax_rate": "0.05"})
    two = price(job, compare=False)
    assert [(t.rate, t.on, t.tax) for t in two.total.taxes] == [
        ("0.0500", two.lines[1].price.line, money(float(two.lines[1].price.line) * 0.05)),
        ("0.2000", two.lines[0].price.line, money(float(two.lines[0].price.line) * 0.20)),
    ]


def test_tax_in_the_price_is_rounded_as_the_customer_reads_it():
    """15.1766 x 1.2 = 18.2119, so 18.25; net 15.21; 438.00 hold 73.00 of tax."""
    found = price(
        polos(**house(terms={"tax_rate": "0.20", "prices_include_tax": True})), compare=False
    )
    line = found.lines[0]
    assert (line.price.unit, line.price.net, line.price.line) == ("18.25", "15.21", "438.00")
    assert float(line.price.margin) == pytest.approx(1 - COST / (18.25 / 1.2), abs=1e-4)
    assert (found.total.tax, found.total.to_pay) == ("73.00", "438.00")


def test_a_fee_on_the_amount_paid():
    """2 % of the amount with 20 % tax is 2.4 % of the net price: 9.8648 / (1 - .35 - .024)."""
    terms = {"terms": {"tax_rate": "0.20"}, "price": {"fee_share": "0.02", "fee_on_tax": True}}
    line = line_of(polos(**house(**terms)), compare=False)
    assert float(line.price.cross_checks.margin) == pytest.approx(COST / 0.626, abs=0.006)


@pytest.mark.parametrize(("ending", "unit"), [("0.95", "15.95"), ("0.99", "15.99")])
def test_prices_that_end_so(ending, unit):
    assert line_of(polos(**house(price={"ending": ending})), compare=False).price.unit == unit


@pytest.mark.parametrize(
    ("discount", "margin", "unit"),
    [
        ("0.05", "0.35", "14.45"),  # 15.20 less 5 % is 14.44
        ("0.10", "0.35", "13.70"),
        ("0.10", "0.02", "9.90"),  # 10.10 less 10 % is under the floor of 9.8648
        ("0.10", "0.00", "9.90"),
    ],
)
def test_a_discount_never_goes_under_the_floor(discount, margin, unit):
    job = polos(line__discount=discount, job__margin=margin)
    line = line_of(job, compare=False)
    assert line.price.unit == unit
    assert line.price.floor == "9.86"
    safe = 1 - COST / float(unit)
    assert float(line.price.safe_discount) == pytest.approx(safe, abs=1e-4)


def test_more_than_the_most_is_refused():
    with pytest.raises(BadInput) as refused:
        price(polos(line__discount="0.11"))
    assert refused.value.where == "lines[0].discount"


# charges ------------------------------------------------------------------------------------


def charges(job):
    return {c.name: c.amount for c in price(job, compare=False).total.charges}


def test_small_orders_rush_and_delivery():
    """Lines 364.80: rush within five days 15 % is 54.72; delivery 6; up to 500 lack 74.48."""
    job = polos(job__rush_days=4, job__delivery="6.00", **house(price={"minimum_order": "500"}))
    assert charges(job) == {"Rush, 4 days": "54.72", "Delivery": "6.00", "Small order": "74.48"}
    assert price(job, compare=False).total.to_pay == "500.00"
    assert charges(polos(job__rush_days=2)) == {"Rush, 2 days": "109.44"}
    assert charges(polos(job__rush_days=6)) == {}
    [even] = [b for b in line_of(job, compare=False).break_evens if b.name == "Small order"]
    assert even.at == "33 pieces"  # 500 / 15.20 = 32.8


def test_set_up_as_its_own_line():
    """Set-up 10.16 and its overhead of 2,128.36 s x 5: 13.12 in all, at the margin 20.18."""
    whole = 10.1625 + (1785 + 343.36) / 3600 * 5
    job = polos(**house(price={"set_up_shown": "line"}))
    assert charges(job) == {"Set-up": money(whole / 0.65)}
    line = line_of(job, compare=False)
    assert float(line.price.cross_checks.margin) == pytest.approx(
        (COST - whole / 24) / 0.65, abs=0.006
    )
    left = 1 - (COST - whole / 24) / float(line.price.unit)
    assert float(line.price.margin) == pytest.approx(left, abs=1e-4)
    # per piece at every tier: what is apart is not in the price, so bulk saves less
    units = [float(t.unit) for t in line.tiers]
    assert units[0] < 30.65 - 15
    assert float(line.tiers[3].set_up) == pytest.approx(whole / 24, abs=1e-3)


def test_digitising_spread_into_the_price():
    """Own: 1200 + 240 x 8.2 s at 21 an hour, 18.48, over 24 pieces."""
    cost = (1200 + 240 * 8.2) / 3600 * 21
    job = polos(line__digitising="own", **house(price={"digitising_shown": "spread"}))
    assert charges(job) == {}
    line = line_of(job, compare=False)
    assert float(line.price.cross_checks.margin) == pytest.approx(
        (COST + cost / 24) / 0.65, abs=0.006
    )


def test_names_by_letters():
    """Ten letters are held: Bartholomew has one more; four pieces, 0.20 on one of them."""
    job = order(SCARF | {"names": ["Ada", "Bartholomew", "Zoë", "Kim"], "quantity": 4})
    mean = price(job, compare=False)
    letters = price(job | {"house": {"price": {"names_way": "letters"}}}, compare=False)
    assert {c.name: c.amount for c in letters.total.charges} == {"Further letters": "0.20"}
    checks = [float(e.lines[0].price.cross_checks.margin) for e in (mean, letters)]
    assert checks[0] - checks[1] == pytest.approx(0.20 / 4, abs=0.011)


def test_a_kit_has_one_price():
    """12 kits of two polos and a scarf: both lines' prices together, rounded up once."""
    scarf = SCARF | {"quantity": 12, "names": ["Ada"] * 12}
    job = polos()
    job["lines"].append(copy.deepcopy(scarf))
    job["kits"] = [{"name": "Crew box", "quantity": 12, "lines": [0, 1]}]
    found = price(job, compare=False)
    [kit] = found.total.kits
    whole = sum(Decimal(line.price.line) for line in found.lines)
    step = Decimal("0.05")
    assert Decimal(kit.unit) == (whole / 12 / step).to_integral_value(ROUND_CEILING) * step
    assert kit.line == found.total.lines == money(float(kit.unit) * 12)
    ending = price(job | {"house": {"price": {"ending": "0.99"}}}, compare=False)
    assert ending.total.kits[0].unit.endswith(".99")
    for lines, says in (([0, 2], "no line"), ([0, 0], "in a kit already")):
        with pytest.raises(BadInput, match=says):
            price(job | {"kits": [{"name": "x", "quantity": 12, "lines": lines}]})
    with pytest.raises(BadInput, match="do not share out"):
        price(job | {"kits": [{"name": "x", "quantity": 7, "lines": [0]}]})


def test_an_agreed_price_holds_until_its_day():
    agreed = {"unit_price": "13.50", "until": "2026-06-30"}
    held = line_of(polos(line__agreed=agreed, job__on="2026-06-30"), compare=False)
    assert (held.price.method, held.price.unit) == ("agreed", "13.50")
    over = line_of(polos(line__agreed=agreed, job__on="2026-07-01"), compare=False)
    assert (over.price.method, over.price.unit) == ("margin", "15.20")
    assert "agreed-over" in {a.code for a in over.advice}


def test_a_reason_lifts_a_price_under_the_floor():
    low = polos(line__unit_price="5.00")
    assert not price(low, compare=False).sendable
    reason = {"code": "price-floor", "reason": "The lifeboat fund."}
    kept = price(low | {"overruled": [reason]}, compare=False)
    assert kept.sendable
    [advice] = [a for a in kept.lines[0].advice if a.code == "price-floor"]
    assert advice.overruled == "The lifeboat fund."
    big = polos(goods__class="structured-cap", design__width_mm=150, design__height_mm=40)
    no = price(big | {"overruled": [{"code": "hoop-none", "reason": "It will do."}]})
    assert not no.sendable  # what cannot be made stays a stop
    told = {a.code: a.against for f in (no, price(low)) for a in f.lines[0].advice}
    assert (told["hoop-none"], told["price-floor"]) == (False, True)


@settings(max_examples=60)
@given(
    quantity=st.integers(1, 300),
    goods=st.sampled_from(
        [
            {},
            {"pack": 6},
            {
                "price_breaks": [
                    {"quantity": 24, "unit_cost": "5.90"},
                    {"quantity": 100, "unit_cost": "5.20"},
                ],
                "delivery": "9.00",
            },
        ]
    ),
    rules=st.sampled_from(
        [
            {},
            {"price": {"set_up_shown": "line"}},
            {"price": {"ending": "0.95"}},
            {"price": {"minimum_order": "150"}},
            {"terms": {"tax_rate": "0.2", "prices_include_tax": True}},
        ]
    ),
    discount=st.sampled_from(["0", "0.05"]),
)
def test_nobody_pays_more_for_fewer(quantity, goods, rules, discount):
    """What the customer pays never falls when one more is ordered, whatever the house's rules."""

    def pays(q):
        job = polos(line__quantity=q, line__discount=discount, job__house=rules)
        job["lines"][0]["goods"] |= goods
        found = price(job, compare=False)
        line = found.lines[0]
        assert float(line.price.net) >= float(line.price.floor) - 0.01
        return found

    one, more = pays(quantity), pays(quantity + 1)
    tiers = {1, 6, 12, 24, 50, 100, 250}
    if quantity + 1 in tiers:
        assert float(one.total.to_pay) <= float(more.total.to_pay) + 0.01
    assert float(one.lines[0].price.unit) >= float(more.lines[0].price.unit)


@given(margin=st.floats(0, 0.8), more=st.floats(0, 0.15))
def test_more_margin_never_lowers_a_price(margin, more):
    low, high = (
        float(line_of(polos(job__margin=f"{m:.4f}"), compare=False).price.unit)
        for m in (margin, margin + more)
    )
    assert high >= low


# machines, needles, the run -----------------------------------------------------------------


def test_colours_beyond_the_needles_take_turns_on_the_last():
    """12 colours on 10 needles: 9 stay, 3 take turns; over 24 pieces 3 x 24 - 1 changes."""
    keys = [str(n) for n in range(12)]
    plan = plan_needles(keys, 10)
    assert (len(plan.fixed), plan.rotating, plan.changes_at) == (9, ("9", "10", "11"), (10, 11, 12))
    assert plan.changes(24) == 71
    back = plan_needles(list("abcabdabc"), 3)  # c, d, c: the last needle begins as it ended
    assert (back.fixed, back.changes_at, back.changes(10)) == (("a", "b"), (3, 6, 9), 20)
    line = line_of(polos(design__colours=12), compare=False)
    shared = line.needles[-1]
    assert (shared.needle, len(shared.colours), shared.changes) == (10, 3, 71)
    seconds = 25 + 8200 * 60 / 850 + 11 * 8 + 54 + 18.45 + 71 * 75 / 24
    swaps = line.bobbins.count - 1
    assert line.per_piece.machine_min == pytest.approx((seconds + 40 * swaps / 24) / 60, abs=0.006)
    [told] = [a for a in line.advice if a.code == "needle-few"]
    assert "before blocks 10, 11, 12" in told.message
    # threaded before the run: the nine, and the first that takes a turn
    ten, twelve = (
        line_of(polos(design__colours=n, line__sample={"pieces": 0}), compare=False).cost.set_up
        for n in (10, 12)
    )
    assert ten == twelve == money((180 + 180 + 10 * 75 + 1200) / 3600 * 16)


def test_the_run_in_closed_form_by_hand():
    """24 polos: a cycle takes the machine's 700.61 s, hands need less; finishing after."""
    found = price(polos(), compare=False)
    p = practised(24)
    machine = 700.6073  # a piece, bobbin changes shared (handbook)
    before = 10 + 8 + 90 * p
    after = 10 + 290 / 15 + 8 + 51 / 4 + 10 + 15 + 20
    set_up = 1785 + (692.27 + 203.0833)  # the sample: its machine, then its handwork
    elapsed = set_up + before + 24 * (machine + 10) + 24 * after  # 10 s before it starts
    assert found.run.elapsed_min == pytest.approx(elapsed / 60, abs=0.05)
    told = {w.id: w for w in price(polos(), working=True, compare=False).lines[0].working}
    entry = told["run.elapsed"]
    assert sum(float(row.value) for row in entry.inputs) == pytest.approx(float(entry.value))
    assert float(entry.value) / 60 == pytest.approx(found.run.elapsed_min, abs=0.006)
    assert found.run.machine_min == pytest.approx((24 * machine + 692.27) / 60, abs=0.02)


def test_a_cycle_takes_the_longer_of_machine_and_hands():
    rules = default_house().run
    run = PassRun(
        "m", 10, machine_s=1000, attend_s=300, before_s=600, after_s=400, second_hoop=True
    )
    assert pass_seconds(run, rules) == (60 + 10 * 100, 400)
    one_hoop = PassRun("m", 10, 1000, 300, 600, 400, second_hoop=False)
    assert pass_seconds(one_hoop, rules) == (10 * 160, 400)
    slow = PassRun("m", 10, 1000, 300, 1200, 400, second_hoop=True)
    assert pass_seconds(slow, rules) == (120 + 10 * 150, 400)
    by_piece = rules.model_copy(update={"finishing": "piece"})
    assert pass_seconds(run, by_piece) == (60 + 10 * 130, 40)
    two = rules.model_copy(update={"operators": 2})
    assert pass_seconds(slow, two) == (120 + 10 * 100, 200)


def test_the_order_on_each_machine():
    found = price(polos())
    by = {m.id: m for m in found.machines}
    assert by["compact-10"].chosen
    assert by["compact-10"].cheapest
    assert by["compact-10"].soonest
    assert float(by["compact-10"].cost) == pytest.approx(float(found.total.cost), abs=0.07)
    hand = price(polos(methods__machine="single-flat"), compare=False)
    assert float(by["single-flat"].cost) == pytest.approx(float(hand.total.cost), abs=0.07)
    assert by["single-flat"].elapsed_min == pytest.approx(hand.run.elapsed_min)
    caps = price(polos(goods__class="structured-cap", design__width_mm=60, design__height_mm=45))
    assert {m.id: m.fits for m in caps.machines} == {"compact-10": True, "single-flat": False}


def test_a_machine_of_four_heads():
    """24 pieces in 6 cycles: load, sew and change once for four; breaks on each head."""
    heads = {"machines": {"compact-10": {"heads": 4}}}
    line = line_of(polos(job__house=heads), compare=False)
    heads_s = 3 * 15 * practised(24)  # each further head is loaded, practised too
    cycle = 25 + heads_s + 8200 * 60 / 850 + 16 + 54 + 4 * 18.45
    swaps = 130 * (line.bobbins.count // 4 - 1)  # 40 and 30 for each further head
    assert line.per_piece.machine_min == pytest.approx((cycle / 4 + swaps / 24) / 60, abs=0.006)
    threaded = 3 * 75 + 3 * 3 * 40  # three colours, and on three further heads each
    samples = line_of(polos(job__house=heads, line__sample={"pieces": 0}), compare=False)
    assert samples.cost.set_up == money((180 + 180 + threaded + 1200) / 3600 * 16)


# handwork drivers ---------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "more_s"),
    [
        ({"line__finishing": ["restuff"]}, 150),
        ({"placement__seam": {"length_mm": 200}}, 2 * (30 + 45)),
        ({"placement__seam": {"length_mm": 200, "felled": True}}, 2 * 75 * 2.5),
        ({"methods__marking": "jig"}, -20),
        ({"methods__marking": "template"}, 5),
        ({"line__finishing": ["soak"]}, 15 - (8 + 51 / 4)),
    ],
)
def test_hand_drivers(changes, more_s):
    base = line_of(polos(line__quantity=1), compare=False).per_piece.hand_min
    found = line_of(polos(line__quantity=1, **changes), compare=False).per_piece.hand_min
    assert (found - base) * 60 == pytest.approx(more_s, abs=0.7)


def test_pins_and_a_wash_test():
    floated = {"line__quantity": 1, "methods__hold": "float"}
    base = line_of(polos(**floated), compare=False).per_piece.hand_min
    pinned = line_of(polos(**floated, line__finishing=["pins"]), compare=False).per_piece.hand_min
    assert (pinned - base) * 60 == pytest.approx(30, abs=0.7)
    dry, wet = (
        float(line_of(polos(line__sample={"pieces": 1, "wash": wash}), compare=False).cost.set_up)
        for wash in (False, True)
    )
    assert wet - dry == pytest.approx(60 / 3600 * 16, abs=0.011)


def test_a_design_built_smaller():
    from clothyard.core.estimate.make import estimate
    from clothyard.core.job.check import job_from
    from tests.core.test_thread import facts_of

    facts = facts_of([(i % 2 * 3.0, i * 0.4) for i in range(200)])
    job = polos(placement__design={"file": "a.dst"})
    half = polos(placement__design={"file": "a.dst", "scale": 0.7})
    one, two = (
        estimate(job_from(j), default_house(), {"a.dst": facts}, compare=False).lines[0]
        for j in (job, half)
    )
    assert two.designs[0].width_mm == pytest.approx(one.designs[0].width_mm * 0.7, abs=0.01)
    assert two.per_piece.stitches == one.per_piece.stitches
    fixed_m = 200 * (2 * 1.19 + 0.25) / 1000 + 0.06  # what does not shrink: cloth, bends, tails
    assert two.per_piece.needle_m - fixed_m == pytest.approx(
        0.7 * (one.per_piece.needle_m - fixed_m), abs=2e-3
    )
    [told] = [a for a in two.advice if a.code == "resize"]
    assert (told.level, told.apply[0]["op"]) == ("stop", "remove")
    fixed = apply_patch(half, told.apply)
    assert "scale" not in fixed["lines"][0]["placements"][0]["design"]
    with pytest.raises(BadInput, match="give its size"):
        price(polos(design__scale=0.9))


# schools and rates --------------------------------------------------------------------------


def test_other_schools_cost_what_taking_them_costs():
    towel = polos(goods__class="terry-towel")
    base = price(towel)
    schools = {s.id: s for s in base.lines[0].schools}
    assert set(schools) == {"towels-cut-away", "always-float", "pile-base", "pile-both"}
    for school in schools.values():
        after = price(apply_patch(towel, school.apply), compare=False)
        differs = float(after.total.cost) - float(base.total.cost)
        assert float(school.cost_difference) == pytest.approx(differs, abs=0.08), school.id
        assert school.why
        assert school.question
    assert float(schools["pile-both"].cost_difference) > 0
    polo = {s.id for s in price(polos()).lines[0].schools}
    assert polo == {
        "knits-mesh",
        "knits-mesh-tear",
        "always-float",
    }  # no deep pile, no back that is seen
    taken = price(apply_patch(towel, schools["pile-both"].apply))
    assert "pile-both" not in {s.id for s in taken.lines[0].schools}


@pytest.mark.parametrize("line", LINES, ids=lambda line: line["goods"]["class"])
def test_a_piece_s_minutes_add_up(line):
    """Hand, sewing and machine stretches are the piece's own minutes, in the order of the work."""
    found = price(order(line), compare=False).lines[0]
    sums = {"hand": 0.0, "machine": 0.0, "attend": 0.0}
    for minute in found.minutes:
        sums["hand" if minute.kind == "hand" else "machine"] += minute.seconds
        sums["attend"] += minute.attend_s
    for name, whole in sums.items():
        assert whole / 60 == pytest.approx(getattr(found.per_piece, f"{name}_min"), abs=0.012)
    labels = [minute.label for minute in found.minutes]
    assert labels[0] == ("Cut backing" if line is LABELS else "Inspect")
    assert labels[-1] == "Fold and pack"
    sewn = next(i for i, minute in enumerate(found.minutes) if minute.kind == "sew")
    before = "Hoop, screw" if line is LABELS else "Mark the place"
    assert labels.index(before) < sewn < labels.index("Check")


def test_tiers_count_all_pieces_with_one_design():
    """30 polos and 30 sweatshirts with one crest are 60: 0.85 a thousand, not 1.00."""
    job = polos(line__quantity=30)
    sweat = copy.deepcopy(job["lines"][0]) | {"goods": {"class": "sweatshirt", "unit_cost": "9"}}
    job["lines"].append(sweat)
    two = price(job, compare=False)
    assert [line.tier_quantity for line in two.lines] == [60, 60]
    set_up = float(two.lines[0].cost.set_up) / 30
    stitched = max(4.50, 8.2 * 0.85) + 6.40 * 1.4 + set_up
    assert float(two.lines[0].price.cross_checks.stitch_rate) == pytest.approx(stitched, abs=0.011)
    stepped = price(job | {"tier_mode": "stepped"}, compare=False).lines[0]
    by = {t.quantity: t.unit for t in stepped.tiers}
    assert stepped.price.unit == by[50] < by[24]
    sweat["placements"][0]["position"] = "sleeve"
    apart = price(job | {"tier_mode": "stepped"}, compare=False).lines[0]
    assert (apart.tier_quantity, apart.price.unit) == (
        30,
        {t.quantity: t.unit for t in apart.tiers}[24],
    )


def test_rates_from_a_year():
    """24,000 drawings and 4,800 on-costs over 60 % of 1,800 h: 26.67; 5,400 over 1,080 h: 5."""
    year = Year(
        drawings=D(24000),
        on_costs=D(4800),
        paid_hours=D(1800),
        rent=D(3600),
        insurance=D(600),
        software=D(400),
        advertising=D(500),
        other=D(300),
        machines={
            "compact-10": MachineYear(
                price=D(7500),
                resale=D(1500),
                life_hours=D(4000),
                service_per_h=D("0.90"),
                power_kw=D("0.3"),
                tariff_per_kwh=D("0.30"),
            )
        },
    )
    found = yearly_rates(year)
    assert (found.productive_hours, found.labour_per_h, found.overhead_per_h) == (
        "1080.00",
        "26.67",
        "5.00",
    )
    assert found.machine_per_h == {"compact-10": "2.49"}  # 1.50 + 0.90 + 0.09
    assert [w.id for w in found.working] == [
        "productive_hours",
        "labour_per_h",
        "overhead_per_h",
        "machines.compact-10",
    ]
    with pytest.raises(BadInput, match="no hour"):
        yearly_rates(year.model_copy(update={"productive": D("1e-300")}))


def test_bought_against_own_digitising():
    """Own 7.00 + 1.40 a thousand never meets 6.00 a thousand, least 20; at 1.00 it does."""
    house_ = default_house()
    assert digitising_even(house_) is None
    cheap = house_.digitising.model_copy(update={"supplier_per_1000": D("1.00")})
    assert digitising_even(house_.model_copy(update={"digitising": cheap})) == 9285  # 13 / 1.40
    [even] = line_of(polos(), compare=False).break_evens
    assert (even.one_amount, even.other_amount) == (money(7 + 1.4 * 8.2), "49.20")
    assert even.at == "own costs less at any size"


def test_the_next_step():
    """24 at 15.20, 50 at 14.70: 26 more save 0.50 each."""
    step = line_of(polos(), compare=False).next_step
    assert step.model_dump() == {
        "quantity": 50,
        "more": 26,
        "unit": "14.70",
        "saves_each": "0.50",
    }


def test_one_line_can_be_compared_alone():
    two = price(order(FLEECES, FLEECES), compare=1)
    assert not any(m.others for m in two.lines[0].methods)
    assert any(m.others for m in two.lines[1].methods)


@pytest.mark.parametrize("goods", ["structured-cap", "plush-blanket", "robe", "denim"])
@pytest.mark.parametrize(("stitches", "colours"), [(3000, 8), (60_000, 3)])
def test_where_put_ups_are_bought_the_table_is_one_and_no_unit_price_rises(
    goods, stitches, colours
):
    """Each tier buys by its own need and spares, whoever asks; 5 and 6 once came the wrong way."""

    def at(quantity):
        job = polos(
            goods__class=goods,
            goods__unit_cost="320",
            placement__position="centre",
            design__stitches=stitches,
            design__colours=colours,
            line__quantity=quantity,
        )
        job["house"] = {"thread_use": {"charge": "bought"}}
        return price(job, compare=False).lines[0]

    lines = [at(n) for n in (4, 5, 6, 7, 12, 13)]
    units = [float(line.price.unit) for line in lines]
    assert units == sorted(units, reverse=True)
    assert len({tuple((t.quantity, t.unit) for t in line.tiers) for line in lines}) == 1
