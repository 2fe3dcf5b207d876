"""Costs, prices, spares and tiers: the handbook's whole order, others by hand, properties."""

from decimal import Decimal

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.estimate.make import estimate
from clothyard.core.estimate.pack_materials import split_money
from clothyard.core.house.check import build_house, default_house
from clothyard.core.job.check import job_from, job_json
from clothyard.core.job.document import Job
from clothyard.core.price.spares import expected_remakes, spares_needed
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.price.ways import margin_price, stitch_rate_at
from clothyard.core.units import exact, round_up_to_step
from tests.conftest import polos, price
from tests.core.test_advice import apply_patch

D = Decimal


def only(job):
    return price(job).lines[0]


def codes(found):
    return [advice.code for line in found.lines for advice in line.advice]


# the whole order ---------------------------------------------------------------------------


def test_the_whole_order():
    """Handbook, 'A whole order': every figure of it."""
    found = price(polos())
    line = found.lines[0]
    piece = line.per_piece
    assert (piece.stitches, piece.needle_m, piece.bobbin_m) == (8200, 51.954, 21.962)
    assert (piece.machine_min, piece.attend_min, piece.hand_min) == (11.68, 2.35, 3.07)
    assert (line.bobbins.pieces_per_bobbin, line.bobbins.count, line.spares) == (4, 6, 2)
    assert line.cost.model_dump() == {
        "goods": "153.60",
        "needle_thread": "1.62",
        "bobbin_thread": "1.20",
        "backing": "0.86",
        "topping": "0.24",
        "consumables": "0.00",
        "sheet_goods": "0.00",
        "machine": "11.68",
        "labour": "34.72",
        "set_up": "10.16",
        "overhead": "13.81",
        "packing": "4.80",
        "spoilage": "4.07",
        "total": "236.76",
    }
    assert line.tiers[3].unit_cost == "9.8648"
    assert (line.price.unit, line.price.line, line.price.margin) == ("15.20", "364.80", "0.3510")
    checks = line.price.cross_checks
    assert (checks.margin, checks.stitch_rate, checks.hour_rate) == ("15.18", "17.58", "13.86")
    assert [(t.quantity, t.unit) for t in line.tiers] == [
        (1, "30.65"),
        (6, "17.85"),
        (12, "16.10"),
        (24, "15.20"),
        (50, "14.70"),
        (100, "14.45"),
        (250, "14.30"),
    ]
    assert found.sendable
    assert (found.total.cost, found.total.price, found.total.to_pay) == (
        "236.76",
        "364.80",
        "364.80",
    )
    assert (found.total.deposit, found.total.charges, found.total.tax) == ("182.40", [], "0.00")
    methods = {m.key: m.value for m in line.methods}
    assert methods["hoop"] == "100x100"
    assert all(m.source == "proposed" and m.reason for m in line.methods)


def test_the_whole_order_stepped():
    """Handbook: where stepped tiers invert; smooth, none."""
    advice = only(polos(job__tier_mode="stepped")).advice
    says = [a.message.split(" cost")[0] for a in advice if a.code == "price-inversion"]
    assert says == ["4–5", "11", "23", "49", "99", "248–249"]
    assert not [a for a in only(polos()).advice if a.code == "price-inversion"]


# other whole orders, by hand ---------------------------------------------------------------


def test_a_cushion_on_the_machine_threaded_by_hand():
    """10 cushion covers at 4.00; 2,000 fill, 2 colours, 60 x 60, 2 trims; sewn before.

    t = 0.6 + 0.2; needle bare 2000 (3.2 (1 + 2/3 x 0.1) + 1.6) = 10.026667 m, + wrap 0.5,
    + tails 2 x 0.06; hand changes (10 x 2 - 1) / 10 x 0.9 = 1.71: 12.356667 m.
    Bobbin bare 2000 x 3.2 (1 - 2/3 x 0.1) = 5.973333 + 0.5 + 0.03, x 1.2 = 7.804 m:
    floor(0.85 x 110 / 7.804) = 11 a bobbin, so one.
    Machine 25 + 2000 x 60 / 600 + 1.9 x 75 + 2 x 0.03 x 75 = 372 s. Practice over 10 p.
    Attending 35 p + 0.1 x 200 + 142.5 + 4.5; hand 55 + 8 + 6 + 240 / 40 + 2 x 4 + 90 p.
    """
    line = only(
        polos(
            goods__class="cushion-cover",
            goods__unit_cost="4.00",
            line__quantity=10,
            placement__position="centre",
            methods__machine="single-flat",
            design__stitches=2000,
            design__kind="fill",
            design__colours=2,
            design__width_mm=60,
            design__height_mm=60,
            design__trims=2,
            design__repeat=True,
        )
    )
    p = sum(max(0.6, n ** (-0.10469737866669323)) for n in range(1, 11)) / 10
    attend = 35 * p + 0.1 * 2000 * 60 / 600 + 142.5 + 4.5
    hand = 55 + 8 + (6 + 240 / 40) + 8 + 90 * p
    machine = 25 + 2000 * 60 / 600 + 142.5 + 4.5
    assert line.per_piece.needle_m == 12.357
    assert line.per_piece.bobbin_m == 7.804
    assert line.per_piece.machine_min == round(machine / 60, 2)
    assert line.per_piece.attend_min == round(attend / 60, 2)
    assert line.per_piece.hand_min == round(hand / 60, 2)
    labour = (hand + attend) * 10 / 3600 * 16
    set_up = 180 + 180 + 75 + 400  # the first colour only; no sample: sewn before
    # 180 x 180 backing: 2 across, 5 rows of 180 mm at 0.28 a metre
    bobbins = 78.04 * 0.25 / 110  # by the metre: 31.96 m go back to the shelf
    materials = 123.56667 * 0.0013 + bobbins + 0.9 * 0.28
    made = (materials + machine * 10 / 3600 * 1.2 + labour) / 10
    spoilage = 10 * 0.01 / 0.99 * (4 + made) + 10 * 0.01 * 600 / 3600 * 16
    expected = {
        "goods": 40,
        "needle_thread": 123.56667 * 0.0013,
        "bobbin_thread": bobbins,
        "backing": 0.252,
        "topping": 0,
        "machine": machine * 10 / 3600 * 1.2,
        "labour": labour,
        "set_up": set_up / 3600 * 16,
        "overhead": ((hand + attend) * 10 + set_up) / 3600 * 5,
        "packing": 2,
        "spoilage": spoilage,
    }
    for name, amount in expected.items():
        assert getattr(line.cost, name) == f"{amount:.2f}", name


def test_one_scarf_floated_and_matched():
    """A scarf at 9.00, 1,500 stitches in one colour, 80 x 20, no trims, bobbin matched.

    Sewn size 88 x 28; basting 2 (88 + 28) / 6 = 38.67: 39 stitches. t = 1 + 2 x 0.2 + 0.04.
    Smallest hoop for 88 x 28: 100x100; backing 180 x 180 x 2: 1 row of 2 across, 180 mm of 0.90.
    Topping 138 x 78: turned, 6 across: 138 mm; as it stands, 3 across: 78 mm of 0.30.
    Adhesive 0.04. A matching bobbin: metres at the needle's price, 75 s of winding.
    """
    line = only(
        polos(
            goods__class="scarf",
            goods__unit_cost="9.00",
            line__quantity=1,
            placement__position="centre",
            methods__bobbin="match",
            design__stitches=1500,
            design__colours=1,
            design__width_mm=80,
            design__height_mm=20,
            design__trims=0,
        )
    )
    t = 1.44
    needle = 1500 * (2.8 * 1.3 + 2 * t) + 39 * (6 + 2 * t) + 0.25 * 1539 + 60
    bobbin = (1500 * 2.8 * 0.7 + 39 * 6 + 0.25 * 1539 + 15) * 1.2
    assert line.per_piece.stitches == 1539
    assert line.per_piece.needle_m == round(needle / 1000, 3)
    assert (bobbin, line.per_piece.bobbin_m) == (pytest.approx(4288.5), 4.289)  # half up
    assert line.cost.bobbin_thread == f"{bobbin / 1000 * 0.0013:.2f}"
    assert (line.cost.backing, line.cost.topping, line.cost.consumables) == ("0.16", "0.02", "0.04")
    assert line.bobbins.capacity_m == 65.185
    hand = 10 + 10 + 30 + 15 + 20 + 30 + 16 + 75 + 20 + 20 + 40 + (8 + 16 / 4) + 10 + 75
    # rinsed: pressed; the hoop cleaned every sixth; its bobbin wound
    assert line.per_piece.hand_min == round(hand / 60 + 1e-9, 2)
    # basting: 15 s to begin, and its stitches at 400 spm
    machine = 25 + 1500 * 60 / 700 + 15 + 39 * 60 / 400 + 1.539 * 0.03 * 75
    assert line.per_piece.machine_min == round(machine / 60, 2)


def test_customers_own_goods():
    """Goods, spares 0; spoilage N p (materials + machine + labour + liability), and repairs."""
    line = only(polos(goods__supplied_by="customer", goods__liability="20.00"))
    shop = only(polos())
    assert (line.cost.goods, line.spares) == ("0.00", 0)
    taken = sum(
        float(getattr(shop.cost, name))
        for name in ("needle_thread", "bobbin_thread", "backing", "topping", "machine", "labour")
    )
    assert float(line.cost.spoilage) == pytest.approx(
        24 * 0.015 * (taken / 24 + 20) + 0.96, abs=0.011
    )
    plain = only(polos(goods__supplied_by="customer"))
    assert plain.price.unit == "5.20"  # handbook


@pytest.mark.parametrize(
    ("currency", "unit", "line"), [("JPY", "16", "384"), ("KWD", "15.177", "364.248")]
)
def test_currencies_with_other_minor_units(currency, unit, line):
    """9.8648 / 0.65 = 15.1766: a step of 1 gives 16; without a step half up (KWD: +0.0005)."""
    step = "1" if currency == "JPY" else "0.001"
    found = only(polos(job__currency=currency, job__house={"price": {"round_to": step}}))
    assert (found.price.unit, found.price.line) == (unit, line)


def test_a_job_is_in_the_shops_currency_unless_it_says_another():
    """Another is never converted: it is told once, with the way back."""
    yen = build_house({"price": {"currency": "JPY", "round_to": "0"}})
    two = polos()
    two["lines"] *= 2
    found = estimate(job_from(two), yen, {}, compare=False)
    assert (found.currency, found.lines[0].price.unit) == ("JPY", "15")
    assert "currency-differs" not in codes(found)
    pounds = two | {"currency": "GBP"}
    found = estimate(job_from(pounds), yen, {}, compare=False)
    assert codes(found).count("currency-differs") == 1
    [said] = [a for a in found.lines[0].advice if a.code == "currency-differs"]
    assert "in GBP and the shop's rates are in JPY" in said.message
    fixed = estimate(job_from(apply_patch(pounds, said.apply)), yen, {}, compare=False)
    assert fixed.currency == "JPY"
    assert "currency-differs" not in codes(fixed)


def test_a_price_under_its_cost_is_told_in_the_currencys_own_units():
    yen = polos(line__unit_price="5", job__house={"price": {"currency": "JPY"}})
    [told] = [a for a in only(yen).advice if a.code == "price-floor"]
    assert told.message == "5 a piece is under what the piece itself costs (7)."


def test_a_currency_that_is_none_is_refused():
    with pytest.raises(BadInput, match="unknown currency 'POUNDS'"):
        build_house({"price": {"currency": "POUNDS"}})
    with pytest.raises(BadInput, match="unknown currency"):
        build_house({"price": {"currency": ["GBP"]}})


@pytest.mark.parametrize(
    ("amount", "step", "currency", "price"),
    [
        ("15.21", "0.05", "GBP", "15.25"),
        ("15.20", "0.05", "GBP", "15.20"),
        ("15.2000000001", "0.05", "GBP", "15.20"),
        ("15.2000001", "0.05", "GBP", "15.25"),
        ("15.185", "0", "GBP", "15.19"),
        ("15.21", "1", "GBP", "16.00"),
        ("15.46", "0.05", "JPY", "15"),
        ("15.50", "0", "JPY", "16"),
        ("15.1", "10", "JPY", "20"),
        ("15.1874", "0.05", "KWD", "15.200"),
        ("15.1874", "0", "KWD", "15.187"),
    ],
)
def test_rounding_up_to_the_step(amount, step, currency, price):
    assert str(round_up_to_step(D(amount), D(step), currency)) == price


def test_cells_carry_their_own_cost_and_spares():
    cells = [
        {"size": s, "quantity": n, "unit_cost": c}
        for s, n, c in (
            ("S", 3, None),
            ("M", 6, None),
            ("L", 7, None),
            ("XL", 5, None),
            ("XXL", 3, "7.90"),
        )
    ]
    line = only(polos(line__cells=[{k: v for k, v in c.items() if v} for c in cells]))
    assert line.cost.goods == "158.10"  # 21 x 6.40 + 3 x 7.90
    assert line.spares == 5  # handbook: one each


def test_digitising_is_a_charge_of_its_own():
    """Own: 1200 + 8.2 x 240 = 3168 s at 21.00 an hour = 18.48, / 0.65 = 28.43; bought: 49.20."""
    for how, cost, amount in (("own", "18.48", "28.43"), ("supplier", "49.20", "75.69")):
        found = price(polos(line__digitising=how))
        assert [c.amount for c in found.total.charges] == [amount]
        assert found.lines[0].price.unit == "15.20"
        assert D(found.total.cost) == D("236.76") + D(cost)
    assert price(polos(line__digitising="own", design__repeat=True)).total.charges == []


def test_fees_are_paid_out_of_the_price():
    """(9.8648 + 1 / 24) / (1 - 0.35 - 0.10) = 18.0118; 12.00 leaves 12 x 0.9 - 1 / 24 = 10.76."""
    fees = {"price": {"fee_share": "0.10", "fee_fixed": "1.00"}}
    line = only(polos(job__house=fees))
    assert (line.price.unit, line.price.cross_checks.margin) == ("18.05", "18.01")
    low = only(polos(job__house=fees, line__unit_price="10.95"))  # leaves 9.81, under 9.86
    assert ("price-floor", "warn") in {(a.code, a.level) for a in low.advice}
    charged = price(polos(job__house=fees, line__digitising="supplier"))
    assert charged.total.charges[0].amount == "89.45"  # 49.20 / 0.55


def test_typed_prices_and_other_ways():
    typed = only(polos(line__unit_price="13.50")).price
    assert (typed.method, typed.unit, typed.margin) == ("typed", "13.50", "0.2693")
    assert only(polos(job__price_method="stitch-rate")).price.unit == "17.60"
    assert only(polos(job__price_method="hour-rate")).price.unit == "13.90"


def test_a_sample_stated_is_sewn_at_every_tier():
    """None at 1 piece by default; stated, its cost (2.2292 + overhead) is in every tier."""
    default, stated = only(polos()), only(polos(line__sample={"pieces": 1, "wash": False}))
    none = only(polos(line__sample={"pieces": 0}))
    added = D(stated.tiers[0].unit_cost) - D(default.tiers[0].unit_cost)
    assert float(added) == pytest.approx(2.2292 + 343.36 / 3600 * 5, abs=2e-4)
    assert stated.cost == default.cost
    # the sample: 0.4807 machine + 1.5260 labour + 0.2225 materials
    assert D(default.cost.set_up) - D(none.cost.set_up) == D("2.23")
    washed = only(polos(line__sample={"pieces": 1, "wash": True}))
    assert D(washed.cost.set_up) - D(stated.cost.set_up) == D("0.27")  # 60 s more


# prices ------------------------------------------------------------------------------------


def test_margin():
    """Handbook: 9.10 at 35% is 14.00; with 9.5% fees 16.40."""
    cost = margin_price(D("9.10"), margin=D("0.35"))
    assert round_up_to_step(cost, D("0.05"), "GBP") == D("14.00")
    fees = margin_price(D("9.10"), margin=D("0.35"), fee_share=D("0.095"))
    assert round_up_to_step(fees, D("0.05"), "GBP") == D("16.40")


@pytest.mark.parametrize(
    ("quantity", "rate"), [(1, "1.20"), (11, "1.20"), (12, "1.10"), (49, "1.00"), (900, "0.75")]
)
def test_stitch_rates_step(quantity, rate):
    assert stitch_rate_at(default_house(), quantity) == D(rate)


HANDBOOK_TIERS = {1: "19.50", 6: "15.00", 12: "13.20", 24: "12.10", 50: "11.40"}


def ladder(mode, raw=None):
    table = {q: D(u) for q, u in HANDBOOK_TIERS.items()}

    def stairs(q):
        return table[max(t for t in table if t <= q)]

    return PriceLadder(tuple(table), raw or stairs, mode=mode, currency="GBP")


def test_handbook_inversions():
    found = [(i.first, i.last, i.offer) for i in ladder("stepped").inversions()]
    assert found == [(5, 5, 6), (11, 11, 12), (23, 23, 24), (48, 49, 50)]
    smooth = ladder("smooth")
    assert smooth.unit(5) == D("18.00")  # 6 x 15.00 / 5
    assert smooth.unit(48) == D("11.87")  # 570 / 48 = 11.875, rounded down


@given(
    raws=st.lists(
        st.integers(100, 4000), min_size=82, max_size=82
    ),  # a block's end may lie past 60
    tiers=st.sets(st.integers(1, 60), min_size=1, max_size=6),
)
def test_smooth_prices_never_rise_and_never_invert(raws, tiers):
    prices = PriceLadder(tuple(tiers), lambda q: D(raws[q]) / 100, mode="smooth", currency="GBP")
    first = min(tiers)
    units = {q: prices.unit(q) for q in range(first, 61)}
    for q in range(first, 60):
        assert units[q + 1] <= units[q]
    for q, unit in units.items():
        assert all(q * unit <= t * units[t] for t in tiers if t > q)
    raised = {t: max(D(raws[u]) / 100 for u in tiers if u >= t) for t in tiers}
    for t in tiers:
        assert units[t] == raised[t] or any(t * raised[t] > u * units[u] for u in tiers if u > t)


def test_far_beyond_the_last_tier():
    """Steps of cost that saw up and down: the unit price never rises all the way."""
    prices = ladder("smooth", lambda q: D(2000 - (q % 7)) / 100 - D(q) / 10000)
    units = [prices.unit(q) for q in (50, 51, 250, 251, 400, 800, 3000)]
    assert units == sorted(units, reverse=True)


def test_a_split_amount_adds_up():
    assert sum(split_money(D("10.00"), [1.0, 1.0, 1.0], "GBP")) == D("10.00")
    assert split_money(D("1.50"), [0.0], "GBP") == [D("1.50")]


# spares ------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("cells", "spoil", "spares"),
    [
        ([24], 0.015, [2]),
        ([24], 0.05, [3]),
        ([6], 0.10, [2]),
        ([3, 6, 7, 5, 3], 0.015, [1] * 5),
        ([10], 0.0, [0]),
    ],
)
def test_spares(cells, spoil, spares):
    assert spares_needed(cells, spoil=spoil, confidence=0.95) == spares


def test_expected_remakes():
    assert expected_remakes(24, spoil=0.05) == pytest.approx(1.263, abs=5e-4)


def test_spares_of_a_huge_run():
    """100,000 at 1.5%: mean 1,523 lost, sd 39.3; 95% lies 1.645 sd above."""
    [spares] = spares_needed([100_000], spoil=0.015, confidence=0.95)
    assert spares == pytest.approx(1523 + 1.645 * 39.3, abs=3)


# properties --------------------------------------------------------------------------------

GOODS = sorted(default_house().goods)
jobs = st.builds(
    polos,
    goods__class=st.sampled_from(GOODS),
    goods__unit_cost=st.decimals(0, 200, places=2).map(str),
    line__quantity=st.integers(1, 400),
    line__digitising=st.sampled_from(["none", "own", "supplier", None]),
    design__stitches=st.integers(50, 60_000),
    design__colours=st.integers(1, 12),
    design__kind=st.sampled_from(["outline", "lettering", "mixed", "fill"]),
    design__width_mm=st.one_of(st.none(), st.integers(10, 290)),
    methods__machine=st.sampled_from(["compact-10", "single-flat"]),
    methods__bobbin=st.sampled_from(["white", "match"]),
    job__price_method=st.sampled_from(["margin", "stitch-rate", "hour-rate"]),
    job__margin=st.decimals(0, "0.9", places=2).map(str),
)


@settings(max_examples=60)
@given(job=jobs)
def test_totals_add_up_to_the_penny(job):
    found = price(job, compare=False)
    line = found.lines[0]
    parts = line.cost.model_dump()
    total = D(parts.pop("total"))
    assert sum(map(D, parts.values())) == total
    assert D(line.price.line) == D(line.price.unit) * line.quantity
    charges = sum(D(c.amount) for c in found.total.charges)
    assert D(found.total.price) == D(line.price.line) + charges == D(found.total.to_pay)
    for kind, part in (
        ("goods", "goods"),
        ("needle-thread", "needle_thread"),
        ("bobbin-thread", "bobbin_thread"),
        ("backing", "backing"),
    ):
        rows = [D(m.cost) for m in line.materials if m.kind == kind]
        assert sum(rows) == D(parts[part]), kind
    units = [D(t.unit) for t in line.tiers]
    assert units == sorted(units, reverse=True)
    assert all(t.unit == line.price.unit for t in line.tiers if t.quantity == line.quantity)


@settings(max_examples=40)
@given(job=jobs, more=st.integers(1, 5000))
def test_more_stitches_never_cost_less(job, more):
    design = job["lines"][0]["placements"][0]["design"]
    design["width_mm"] = design.get("width_mm", 70)
    few = price(job, compare=False).lines[0]
    design["stitches"] += more
    many = price(job, compare=False).lines[0]
    assert D(many.piece_cost.total) >= D(few.piece_cost.total)


@settings(max_examples=40)
@given(job=jobs, steps=st.lists(st.integers(1, 60), min_size=2, max_size=4))
def test_unit_price_never_rises_with_quantity(job, steps):
    before = None
    quantity = 0
    for step in steps:
        quantity += step
        job["lines"][0]["quantity"] = quantity
        unit = D(price(job, compare=False).lines[0].price.unit)
        assert before is None or unit <= before
        before = unit


@settings(max_examples=30)
@given(job=jobs)
def test_documents_round_trip(job):
    read = job_from(job)
    assert job_from(job_json(read)) == read
    assert Job.model_validate_json(read.model_dump_json(by_alias=True)) == read
    found = price(job, compare=False)
    assert estimate_bytes(Estimate.model_validate_json(estimate_bytes(found))) == estimate_bytes(
        found
    )


@given(st.floats(0, 1e6, allow_nan=False))
def test_exact_drops_binary_noise_only(value):
    assert abs(float(exact(value)) - value) <= 5e-10 + 1e-15 * value
