"""Lines alike as one batch, bobbins and their ends, what an order takes once, faults of prices."""

import copy
import json
from decimal import Decimal
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.colours import seen_difference
from clothyard.core.errors import BadInput
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.stitches.count import count_facts
from clothyard.core.stitches.facts import recoloured
from clothyard.core.work.document import work_bytes
from clothyard.core.work.events import hand_changes
from tests.conftest import polos, price
from tests.core.test_advice import apply_patch, codes
from tests.core.test_orders import FLEECES, LABELS, PENNANTS, SCARF, TIE_BACKS, order

D = Decimal


def lines_of(job, *quantities):
    [line] = job["lines"]
    return job | {"lines": [copy.deepcopy(line) | {"quantity": q} for q in quantities]}


# lines alike ------------------------------------------------------------------------------------


@pytest.mark.parametrize("split", [[24], [3] * 8, [6] * 4, [1] * 24, [1, 23]])
def test_the_whole_order_costs_the_same_however_it_is_split(split):
    """Handbook: the same as eight lines of three, or four of six."""
    found = price(lines_of(polos(), *split), compare=False)
    assert (found.total.cost, found.total.price) == ("236.76", "364.80")
    assert found.run.elapsed_min == price(polos(), compare=False).run.elapsed_min
    assert [line.batch_quantity for line in found.lines] == [24] * len(split)
    assert {tuple(line.batch) for line in found.lines} == {tuple(x.id for x in found.lines)}


WHOLE = [FLEECES | {"cells": []}, PENNANTS, TIE_BACKS, LABELS, polos()["lines"][0]]


@settings(max_examples=60)
@given(
    line=st.sampled_from(WHOLE),
    counts=st.lists(st.integers(1, 40), min_size=2, max_size=5),
    policy=st.sampled_from([None, "run-out"]),
    heads=st.sampled_from([1, 4]),
)
def test_split_or_joined_the_cost_is_the_same(line, counts, policy, heads):
    line = copy.deepcopy(line)
    line["placements"][0]["methods"] = {"bobbin_policy": policy} if policy else {}
    house = {"machines": {"compact-10": {"heads": heads}}}
    job = order(line, house=house)
    several = price(lines_of(job, *counts), compare=False)
    one = price(lines_of(job, sum(counts)), compare=False)
    assert several.total.parts == one.total.parts
    assert several.run == one.run
    assert sum(each.spares for each in several.lines) >= one.lines[0].spares
    for known, shown in zip(one.threads, several.threads, strict=True):
        assert shown.needle_m == pytest.approx(known.needle_m, abs=0.002)
    [work, other] = [
        json.loads(work_bytes(work_of(job_from(lines_of(job, *n)), default_house(), {})))
        for n in ([sum(counts)], counts)
    ]
    for told, joined in zip(work["passes"], other["passes"], strict=True):
        assert sum(of["pieces"] for of in joined["of"]) == told["of"][0]["pieces"]
        for key in ("machine_s", "hand_s", "needle_m", "cycles", "hoopings", "bobbins"):
            assert joined[key] == told[key], key
        if told["sample"] is False:  # the list has each line's own spares
            assert [c["length_mm"] for c in joined["cuts"]] == [
                c["length_mm"] for c in told["cuts"]
            ]


def test_lines_that_differ_are_not_one_batch():
    [line] = polos()["lines"]
    for change in (
        {"goods": {"class": "sweatshirt", "unit_cost": "6.40"}},
        {"finishing": ["press"]},
        {"placements": [line["placements"][0] | {"place": {"gap_mm": 180}}]},
        {"placements": [line["placements"][0] | {"methods": {"layers": 2}}]},
    ):
        found = price(order(line, copy.deepcopy(line) | change), compare=False)
        assert [each.batch_quantity for each in found.lines] == [24, 24], change
    # a name that the others' hoop does not take is sewn by itself
    short, long = (SCARF | {"names": [n], "quantity": 1} for n in ("Ada", "Maximiliane Rose"))
    both = price(order(short, long), compare=False)
    assert [each.batch_quantity for each in both.lines] == [1, 1]


NAMES = ["Ada", "Bo", "Clementine", "Dee", "Eli", "Fern", "Gil", "Ada", "Ada", "Hal", "Ida"]


@settings(max_examples=25)
@given(
    names=st.lists(st.sampled_from(NAMES), min_size=2, max_size=30),
    cuts=st.sets(st.integers(1, 29), max_size=4),
    policy=st.sampled_from(["between-pieces", "run-out"]),
)
def test_names_on_several_lines_cost_what_they_cost_on_one(names, cuts, policy):
    """Each line's own names, loaded, practised, cut and wound for as one batch."""
    edges = [0, *sorted(n for n in cuts if n < len(names)), len(names)]
    parts = [names[a:b] for a, b in pairwise(edges)]
    line = copy.deepcopy(SCARF) | {"sample": {"pieces": 1}}
    line["placements"][0] |= {
        "design": {"text": "{name}", "height_mm": 12},
        "methods": {"bobbin_policy": policy, "hoop": "130x180"},
    }
    one = price(order(line | {"names": names, "quantity": len(names)}), compare=False)
    lines = [line | {"names": part, "quantity": len(part)} for part in parts]
    several = price(order(*lines), compare=False)
    assert {each.batch_quantity for each in several.lines} == {len(names)}
    assert several.total.parts == one.total.parts
    assert several.run == one.run
    assert sum(D(x.cost.total) for x in several.lines) == D(one.lines[0].cost.total)
    stitches = sum(x.per_piece.stitches * x.quantity for x in several.lines)
    whole = one.lines[0].per_piece.stitches * one.lines[0].quantity
    # the means are whole stitches: half of one lost a piece, on either side
    assert stitches == pytest.approx(whole, abs=len(names))


def test_equal_patches_of_one_fabric_are_cut_over_the_whole_order():
    """Two lines and two steps of them: 4 + 2 × 3 patches of 80 × 60, 6 across a 500 mm width."""
    roll = {
        "material": "felt-sheet",
        "width_mm": 500,
        "length_m": 10,
        "price": "20.00",
        "perforation_mm": 0,
    }
    house = {"sheets": {"felt-300x200": None}, "rolls": {"felt-500": roll}}
    patch = {"do": "lay", "sheet": "felt-sheet", "width_mm": 80, "height_mm": 60}
    line = copy.deepcopy(polos()["lines"][0])
    other = copy.deepcopy(line) | {"quantity": 3}
    other["goods"] = {"class": "twill", "unit_cost": "5.00"}
    line["quantity"] = 4
    line["placements"][0]["steps"] = [patch | {"after_block": 1}]
    other["placements"][0] |= {
        "position": "centre",
        "steps": [patch | {"after_block": 1}, patch | {"after_block": 2}],
    }
    found = price(order(line, other, house=house), compare=False)
    [cut] = [c for c in found.lines[0].cuts if c.what == "sheet"]
    assert (cut.count, cut.across, cut.rows, cut.length_mm) == (10, 6, 2, 120)
    # 120 mm of 20.00 for 10 m is 0.24: 4, and 3 and 3, of its 10 patches
    assert [x.cost.sheet_goods for x in found.lines] == ["0.10", "0.14"]
    alone = price(order(other, house=house), compare=False)
    assert alone.lines[0].cost.sheet_goods == "0.12"  # six in one row


def test_another_method_of_one_line_is_priced_as_it_leaves_the_batch():
    job = lines_of(polos(), 12, 12)
    found = price(job)
    [other] = [
        o
        for m in found.lines[0].methods
        if m.key == "backing"
        for o in m.others
        if o.value == "cut-away-heavy"
    ]
    job["lines"][0]["placements"][0]["methods"] = {"backing": "cut-away-heavy"}
    more = D(price(job, compare=False).total.cost) - D(found.total.cost)
    assert D(other.cost_difference) == pytest.approx(more, abs=D("0.05"))


# bobbins ----------------------------------------------------------------------------------------


def test_twelve_towels_never_drop_sixty_metres_a_time():
    """Handbook: at 49.5 m each, run out, 7 bobbins of 93.5 m are opened, not 12."""
    towels = polos(
        goods__class="terry-towel",
        line__quantity=12,
        design__stitches=18_585,
        design__width_mm=95,
        design__height_mm=95,
        placement__position=None,
    )
    found = price(towels).lines[0]
    assert found.per_piece.bobbin_m == pytest.approx(49.5, abs=0.1)
    assert (found.bobbins.policy, found.bobbins.count, found.bobbins.waste_m) == ("run-out", 7, 0)
    assert len(found.bobbins.ends) == 6
    [policy] = [m for m in found.methods if m.key == "bobbin_policy"]
    assert (policy.value, policy.source) == ("run-out", "proposed")
    # 12 bobbins and 11 changes of 40 s against 7 and 6 of 90 s, at 23.50 an hour
    assert "saves 0.60 GBP" in policy.reason
    assert [o.value for o in policy.others] == ["between-pieces"]
    kept = price(polos()).lines[0]
    assert kept.bobbins.policy == "between-pieces"
    assert kept.bobbins.shelf_m == pytest.approx(660 - 24 * 21.962, abs=0.02)


@pytest.mark.parametrize("shelf", [0, 15, 200])
def test_ends_too_short_for_the_shelf_are_charged(shelf):
    """22.15 m are left on each of six bobbins: kept from 15 m on, else charged."""
    job = polos(job__house={"bobbin_plan": {"shelf_m": shelf, "policy": "between-pieces"}})
    line = price(job, compare=False).lines[0]
    used, whole = 24 * 21.96204, 6 * 110
    charged = whole if shelf == 200 else used
    assert float(line.cost.bobbin_thread) == pytest.approx(charged * 0.25 / 110, abs=0.006)
    assert line.bobbins.waste_m == pytest.approx(charged - used, abs=0.01)
    assert line.bobbins.shelf_m == pytest.approx(whole - charged, abs=0.01)


def test_a_short_end_is_carried_to_the_next_place_that_takes_it():
    """Backs of 100 m leave 10 m of each bobbin; chests of 3.4 m are sewn from it, two of each."""
    plan = {"policy": "between-pieces", "fill": 0.95}
    job = polos(line__quantity=4, job__house={"bobbin_plan": plan})
    [line] = job["lines"]
    [back] = copy.deepcopy(line["placements"])
    back |= {"position": "full-back"}
    back["design"] |= {"stitches": 37_500, "width_mm": 200, "height_mm": 150}
    small = copy.deepcopy(line["placements"][0])
    small["design"] |= {"stitches": 1280}
    alone = price(order(line | {"placements": [back]}, **_rest(job)), compare=False).lines[0]
    both = price(order(line | {"placements": [back, small]}, **_rest(job)), compare=False).lines[0]
    end = alone.bobbins.waste_m / 4
    assert 0 < end < 15
    use = both.per_piece.bobbin_m - alone.per_piece.bobbin_m
    assert both.bobbins.waste_m == pytest.approx(4 * (end % use), abs=0.02)


def _rest(job):
    return {key: value for key, value in job.items() if key not in ("lines", "format")}


def test_changes_go_by_the_assigned_thread():
    """Six blocks in one thread need no change; a, a, b, a: two inside a piece, none between."""
    facts = count_facts(
        900,
        kind="mixed",
        mean_stitch_mm=2.8,
        satin_share=0.45,
        colours=6,
    )
    assert hand_changes(facts, 24) == 143
    assert hand_changes(recoloured(facts, ("#112233",) * 6), 24) == 0
    mixed = ["#112233", "#112233", "#445566", "#112233", "#112233", "#112233"]
    assert hand_changes(recoloured(facts, tuple(mixed)), 24) == 48
    one = polos(
        design__colours=6,
        design__thread_colours=["#112233"] * 6,
        methods__bobbin="match",
        methods__machine="single-flat",
    )
    line = price(one, compare=False).lines[0]
    labels = [m.label for m in line.minutes]
    assert "Colour change by hand" not in labels
    assert len(line.bobbins.by_colour) == 1  # a bobbin a thread


# once an order ----------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("changes", "seconds"),
    [
        ({}, 1200),
        ({"design__repeat": True}, 400),
        ({"job__enquiry": "counter"}, 300),
        ({"design__repeat": True, "job__enquiry": "counter"}, 300),
    ],
)
def test_the_customer_takes_less_of_what_was_sewn_before_or_at_the_counter(changes, seconds):
    job = polos(line__sample={"pieces": 0}, **changes)
    set_up = float(price(job, compare=False).lines[0].cost.set_up)
    assert set_up == pytest.approx((180 + 180 + 225 + seconds) / 3600 * 16, abs=0.006)


@pytest.mark.parametrize(("closed", "joints"), [(False, 4), (True, 5)])
def test_each_joint_of_a_border_costs_its_minutes(closed, joints):
    """Five hoopings of a joined border: four joints on a length, five round a ring; 30 and 120."""
    design = {"stitches": 1800, "width_mm": 100, "height_mm": 30, "trims": 1, "colours": 1}
    line = {
        "goods": {"class": "belt", "unit_cost": "3.00"},
        "quantity": 1,
        "digitising": "none",
        "placements": [
            {
                "design": design,
                "band": {"length_mm": 1000, "gap_mm": 0, "closed": closed},
                "methods": {"hoop": "200x300"},
            }
        ],
    }
    found = price(order(line), compare=False).lines[0]
    assert found.places[0].hooping.gap_mm == 0
    [told] = [m for m in found.minutes if m.label == "Line a joint up"]
    assert found.places[0].hooping.per_piece == 5
    assert (told.seconds, told.attend_s) == (30 * joints, 120 * joints)


def test_equal_names_sorted_together_save_the_changes_they_say():
    """Ada, Bo, Ada, Bo, blank, Ada: four changes, one when sorted; 30 s each."""
    names = ["Ada", "Bo", "Ada", "Bo", "", "Ada"]
    job = polos(
        goods__class="scarf",
        line__quantity=6,
        line__names=names,
        placement__position=None,
        placement__design={"text": "{name}", "height_mm": 12},
    )
    before = price(job, compare=False).lines[0]
    [told] = [a for a in before.advice if a.code == "names-sort"]
    assert told.message == (
        "Equal names sewn one after the other save 3 changes of file: 1.5 min at the machine."
    )
    sorted_job = apply_patch(job, told.apply)
    assert sorted_job["lines"][0]["names"] == ["Ada", "Ada", "Ada", "Bo", "Bo", ""]
    after = price(sorted_job, compare=False).lines[0]
    assert "names-sort" not in {a.code for a in after.advice}
    saved = (before.per_piece.machine_min - after.per_piece.machine_min) * 6
    assert saved == pytest.approx(1.5, abs=0.04)


# faults of prices -------------------------------------------------------------------------------


def test_a_kit_over_two_tax_rates_is_taxed_part_by_part():
    """Polos at 20 % and scarves at nothing: tax on the polos' share of the kit's one price."""
    job = polos(job__house={"terms": {"tax_rate": "0.20"}}, line__quantity=12)
    scarf = SCARF | {"quantity": 12, "names": ["Ada"] * 12, "tax_rate": "0"}
    job["lines"].append(copy.deepcopy(scarf))
    job["kits"] = [{"name": "Crew box", "quantity": 12, "lines": [0, 1]}]
    found = price(job, compare=False)
    [kit] = found.total.kits
    polo, alone = (D(line.price.line) for line in found.lines)
    share = round(D(kit.line) * polo / (polo + alone), 2)
    [tax] = found.total.taxes
    assert abs(D(tax.on) - share) <= D("0.01")
    assert D(tax.tax) == round(D(tax.on) * D("0.2"), 2)


@pytest.mark.parametrize("delivery", ["4.99", "5.00", "7.77", "0.01"])
def test_an_amount_typed_with_tax_stands_as_typed(delivery):
    terms = {"tax_rate": "0.175", "prices_include_tax": True}
    house = {"terms": terms, "price": {"minimum_order": "500"}}
    found = price(polos(job__delivery=delivery, job__house=house), compare=False)
    assert {c.name: c.amount for c in found.total.charges}["Delivery"] == delivery
    assert found.total.to_pay == "500.00"


def test_put_ups_bought_count_at_each_tier_by_its_own_need():
    """The put-ups that 250 pieces need are the same whether 24 or 250 are asked for."""
    job = polos(job__house={"thread_use": {"charge": "bought"}}, job__tiers=[24, 250])
    at_24, at_250 = price(job, compare=False).lines[0].tiers
    alone = price(polos(line__quantity=250, **{"job__house": job["house"]}), compare=False)
    assert at_250.unit_cost == next(t.unit_cost for t in alone.lines[0].tiers if t.quantity == 250)
    assert at_24.quantity == 24


def test_a_typed_price_is_not_contradicted_by_its_table():
    """14.00 typed at 24: six and twelve are no less, fifty and more no more; told if it inverts."""
    low = price(polos(line__unit_price="14.00"), compare=False).lines[0]
    assert {t.quantity: t.unit for t in low.tiers} == {
        1: "30.65",
        6: "17.85",
        12: "16.10",
        24: "14.00",
        50: "14.00",
        100: "14.00",
        250: "14.00",
    }
    high = price(polos(line__unit_price="31.00", line__quantity=23), compare=False).lines[0]
    assert {t.quantity: t.unit for t in high.tiers}[12] == "31.00"
    [told] = [a for a in high.advice if a.code == "price-inversion"]
    assert told.message == ("23 at the typed price come to 713.00, 24 only to 364.80: offer 24.")
    mended = price(apply_patch(polos(line__unit_price="31.00", line__quantity=23), told.apply))
    assert "price-inversion" not in {a.code for a in mended.lines[0].advice}


@settings(max_examples=25)
@given(
    tiers=st.permutations([1, 6, 12, 24, 50]),
    q=st.integers(1, 60),
    lined=st.booleans(),
    mode=st.sampled_from(["smooth", "stepped"]),
)
def test_a_table_never_rises_and_its_order_does_not_matter(tiers, q, lined, mode):
    job = polos(job__tiers=tiers, line__quantity=q, job__tier_mode=mode)
    if lined:
        job = lines_of(job, q, 24)
    found = price(job, compare=False)
    assert found == price(job | {"tiers": sorted(tiers)}, compare=False)
    for line in found.lines:
        told = [(t.quantity, D(t.unit)) for t in line.tiers]
        asked = line.batch_quantity  # of lines alike the table counts all
        known = dict(told) | {asked: D(line.price.unit)}
        units = [known[n] for n in sorted(known)]
        assert units == sorted(units, reverse=True)
        if mode == "smooth":
            later = [n * unit for n, unit in told if n > asked]
            assert all(asked * D(line.price.unit) <= whole for whole in later)


@pytest.mark.parametrize("method", ["margin", "stitch-rate"])
def test_two_lines_of_three_cost_what_one_of_six_does(method):
    """Handbook: a line in a batch has the tiers and the unit of the batch."""
    one = price(polos(line__quantity=6, job__price_method=method), compare=False)
    two = price(lines_of(polos(job__price_method=method), 3, 3), compare=False)
    assert two.total.price == one.total.price
    assert [line.tiers for line in two.lines] == [one.lines[0].tiers] * 2


def test_the_steps_of_a_stitch_rate_are_tiers():
    """At 24 the rate steps down: 23 may cost no more than 24 do."""
    asked = {"job__price_method": "stitch-rate", "job__tiers": [10, 25, 50]}
    less, more = (price(polos(line__quantity=n, **asked), compare=False).lines[0] for n in (23, 24))
    assert D(less.price.line) <= D(more.price.line)
    assert [tier.quantity for tier in more.tiers] == [1, 10, 12, 24, 25, 50, 100]


def test_bought_put_ups_at_a_tier_use_that_tiers_spares():
    """The price of fifty is the same whether five or fifty are asked for."""
    bought = {"job__house": {"thread_use": {"charge": "bought"}}}
    asked = [
        {t.quantity: t.unit_cost for t in price(polos(line__quantity=n, **bought)).lines[0].tiers}
        for n in (1, 250)
    ]
    assert {n: asked[0][n] for n in (6, 12, 24, 50)} == {n: asked[1][n] for n in (6, 12, 24, 50)}


@pytest.mark.parametrize("goods", ["pique-polo", "terry-towel", "structured-cap", "stuffed-toy"])
def test_passing_over_what_lies_under_its_bound_changes_no_price(goods, monkeypatch):
    jobs = [
        polos(
            goods__class=goods,
            line__quantity=q,
            placement__position=None,
            design__width_mm=60,
            design__height_mm=40,
        )
        for q in (2, 7, 29, 60, 110, 201)
    ]
    bounded = [price(job, compare=False).lines[0].price.unit for job in jobs]
    monkeypatch.setattr("clothyard.core.price.selling.Pricer.bounded", False)
    assert [price(job, compare=False).lines[0].price.unit for job in jobs] == bounded


# where a design comes from ----------------------------------------------------------------------


@pytest.mark.parametrize(
    ("design", "cost", "names"),
    [
        # 12.00 over five orders
        ({"origin": {"kind": "bought", "price": "12.00", "orders": 5}}, "2.40", ["Design, bought"]),
        ({"origin": {"kind": "digitised", "price": "30.00"}}, "30.00", ["Digitising, bought"]),
        # without an asked price, the supplier's: 8.2 thousands at 6.00
        ({"origin": {"kind": "digitised"}}, "49.20", ["Digitising, bought"]),
        ({"origin": {"kind": "built-in"}}, "0.00", []),
        ({"origin": {"kind": "customer"}}, "1.75", ["Stitch file check"]),  # 300 s at 21.00
        ({"origin": {"kind": "bought", "price": "12.00"}, "repeat": True}, "0.00", []),
    ],
)
def test_a_design_costs_what_its_origin_asks(design, cost, names):
    job = polos(line__digitising="own")
    job["lines"][0]["placements"][0]["design"] |= design
    if design.get("repeat"):
        job["lines"][0]["sample"] = {"pieces": 1}
    found = price(job, compare=False)
    assert [charge.name for charge in found.total.charges] == names
    lines = sum(D(line.cost.total) for line in found.lines)
    assert D(found.total.cost) - lines == D(cost)


def test_a_bought_design_is_sold_as_its_terms_let():
    origin = {"kind": "bought", "price": "9.00", "terms": "not for resale as a file"}
    assert ("design-terms", "note") in codes(polos(design__origin=origin))
    assert ("design-terms", "warn") in codes(polos(design__origin=origin | {"pieces_most": 20}))
    # two lines with one design in one place are counted together
    two = lines_of(polos(design__origin={**origin, "terms": "", "pieces_most": 24}), 12, 13)
    assert {("design-terms", "warn")} <= codes(two)
    with pytest.raises(BadInput, match="bought"):
        price(polos(design__origin={"kind": "bought"}))


def test_the_run_waits_until_its_sample_has_passed():
    def waits(job):
        work = work_of(job_from(job), default_house(), {})
        return [(told.sample, told.after) for told in work.passes]

    assert waits(polos()) == [(False, "l1.p1.sample"), (True, None)]
    assert waits(polos(line__sample={"passed": True})) == [(False, None), (True, None)]
    assert waits(polos(line__sample={"pieces": 0})) == [(False, None)]


def test_a_heavy_piece_is_borne_while_it_is_sewn():
    def attended(**goods):
        job = polos(line__quantity=1, placement__position=None)
        job["lines"][0]["goods"] |= goods
        line = price(job, working=True, compare=False).lines[0]
        [sewing] = [w for w in line.working if w.id == "placements[0].attend.1"]
        return next(float(i.value) for i in sewing.inputs if i.name == "stand-by")

    assert attended() == attended(weight_g=800) == 0.15
    assert attended(weight_g=2800) == pytest.approx(0.15 + 2 * 0.25)
    assert attended(weight_g=9000) == 1.0
    quilt = {"class": "quilt"}  # usually 1500 g: its stand-by of 0.5 is meant so
    assert attended(**quilt) == attended(**quilt, weight_g=1500) == 0.5
    assert attended(**quilt, weight_g=2500) == 0.75


def test_a_design_in_every_block_of_a_quilt():
    """Blocks of 200 x 200, four by five: the largest hoop takes two side by side."""
    job = polos(
        goods__class="quilt",
        line__quantity=1,
        placement__position=None,
        placement__blocks={"columns": 4, "rows": 5},
        design__width_mm=90,
        design__height_mm=90,
    )
    line = price(job, compare=False).lines[0]
    [place] = line.places
    assert (place.position, place.hooping.copies, place.hooping.per_piece) == ("block", 20, 10)
    assert (place.hooping.columns, place.hooping.rows) == (2, 1)
    assert line.per_piece.stitches >= 20 * 8200
    labels = {m.label for m in line.minutes}
    assert "Line a joint up" not in labels
    small = price(
        job
        | {
            "lines": [
                job["lines"][0]
                | {
                    "placements": [
                        job["lines"][0]["placements"][0]
                        | {
                            "blocks": {"columns": 4, "rows": 5, "width_mm": 60, "height_mm": 60},
                            "design": {"stitches": 900, "width_mm": 40, "height_mm": 40},
                        }
                    ]
                }
            ]
        },
        compare=False,
    ).lines[0]
    [place] = small.places
    assert place.hooping.copies == 20
    held = place.hooping.columns * place.hooping.rows
    assert held > 1
    across, down = place.hooping.columns, place.hooping.rows
    assert place.hooping.per_piece == -(-4 // across) * -(-5 // down)
    assert place.hooping.sewn_mm[0] >= across * 40 + (across - 1) * 20  # basted a little beyond


# threads ----------------------------------------------------------------------------------------


def test_threads_that_are_open_or_hardly_seen_are_told():
    assert ("thread-open", "note") in codes(polos())
    on_navy = polos(
        design__thread_colours=["#18284f", "#ffffff", "#c4222b"],
        line__cells=[{"size": "M", "colour": "Heather Navy", "quantity": 24}],
    )
    [faint] = [
        a for a in price(on_navy, compare=False).lines[0].advice if a.code.startswith("thread")
    ]
    assert (faint.code, faint.level) == ("thread-faint", "note")
    assert faint.message == "Navy thread will hardly be seen on Heather Navy."
    on_white = copy.deepcopy(on_navy)
    on_white["lines"][0]["cells"][0]["colour"] = "red wine mix"  # a word it does not know
    assert not [c for c, _ in codes(on_white) if c.startswith("thread")]


@pytest.mark.parametrize(
    ("one", "other", "apart"),
    [  # published test pairs of CIEDE2000 in sRGB terms: alike, black and white, near greys
        ("#17284d", "#17284d", 0),
        ("#000000", "#ffffff", 100),
        ("#777777", "#787878", 0.4),
    ],
)
def test_seen_difference(one, other, apart):
    assert seen_difference(one, other) == pytest.approx(apart, abs=0.1)
