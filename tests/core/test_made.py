"""Whole jobs of sheet goods and steps, to the penny: the arithmetic of the handbook, by hand.

Every figure is written out from the handbook's defaults: 16.00 an hour of hands, 5.00 overhead,
2.50 the machine, 6.50 a cone of 5,000 m, 28.00 a roll of 100 m × 500 mm of tear-away.
"""

import math
from decimal import ROUND_HALF_UP, Decimal

import pytest

from clothyard.core.errors import SeveralBadInputs
from clothyard.core.estimate.make import estimate
from clothyard.core.job.check import job_from
from clothyard.core.job.starts import STARTS, start_line
from tests.core.random_jobs import HOUSE
from tests.core.test_advice import apply_patch
from tests.core.test_orders import film, tear


def penny(value):
    return str(Decimal(repr(value)).quantize(Decimal("0.01"), ROUND_HALF_UP))


def practised(n):
    """Mean share of the first one's time over n: 0.93 as often again at twice as many."""
    return sum(max(0.6, k ** (-0.10469737866669293)) for k in range(1, n + 1)) / n


def thread(stitches, t, *, trims, blocks):
    """Metres of needle and bobbin thread: mixed, 2.8 mm, satin share 0.45 of one third each way."""
    needle = stitches * (2.8 * 1.3 + 2 * t + 0.25) + 40 * trims + 60 * blocks
    bobbin = stitches * (2.8 * 0.7 + 0.25) + 15 * trims + 15 * blocks
    return needle / 1000, bobbin * 1.2 / 1000


def whole(
    line, *, goods, metres, backing, machine, hands, once, p, topping=0.0, glue=0.0, sheets=0.0
):
    """Every part of a line's cost to the penny, from money and seconds by hand."""
    q = line.quantity
    needle, bobbin = (q * metres[0] * 6.5 / 5000, q * metres[1] * 0.25 / 110)
    run = q * machine / 3600 * 2.50, q * hands / 3600 * 16
    spent = q * goods + needle + bobbin + backing + topping + glue + sheets + sum(run)
    expected = {
        "goods": q * goods,
        "needle_thread": needle,
        "bobbin_thread": bobbin,
        "backing": backing,
        "topping": topping,
        "consumables": glue,
        "sheet_goods": sheets,
        "machine": run[0],
        "labour": run[1],
        "set_up": once / 3600 * 16,
        "overhead": (q * hands + once) / 3600 * 5,
        "packing": q * 0.20,
        "spoilage": p / (1 - p) * spent + q * p * 600 / 3600 * 16,
    }
    found = line.cost.model_dump()
    total = found.pop("total")
    assert found == {name: penny(value) for name, value in expected.items()}
    assert Decimal(total) == sum(Decimal(value) for value in found.values())


def priced(line, **job):
    document = {"format": "clothyard-job/1", "currency": "GBP", "lines": [line], **job}
    return estimate(job_from(document), HOUSE, {}, compare=False).lines[0]


def tabs():
    """Ten key tabs, two a hooping, each with snap and ring."""
    line = start_line("key-tab", quantity=10)
    put = line["placements"][0]
    put["together"] = {"columns": 2, "rows": 1, "spacing_mm": 10}
    put["methods"] = {"bobbin": "white", "hoop": "magnetic-125"}
    return line | {"digitising": "none", "sample": {"pieces": 0}}


def test_ten_tabs_with_snap_and_ring_two_a_hooping():
    """2 × 45 + 10 = 100 wide, 110 high; layers 130 × 140: two of a sheet of 300 × 200."""
    line = priced(tabs())
    stitches, per = 2600, 2
    sewn = stitches * 60 / 700  # the class's cap
    trims = 3 + 3 * 0.5  # its own, and a block's over the gap between two
    steps = (20 + 30 + 20) / per  # lay, turn, lay
    breaks = stitches / 1000 * 0.03 * 75
    machine = 25 / per + sewn + 2 * 8 / per + trims * 6 + steps + breaks
    attend = 35 * practised(5) / per + 0.6 * sewn + steps + breaks
    hand = (
        8 / per
        + 2 * 40 / per
        + 30 * practised(5) / per  # backing, two layers, the hoop
        + tear(45, 110)
        + 0.35 * 310
        + 20
        + 10
        + 15
        + 20  # tear, cut out, snap, ring, check, pack
    )
    assert line.per_piece.machine_min == pytest.approx(machine / 60, abs=0.005)
    assert line.per_piece.attend_min == pytest.approx(attend / 60, abs=0.005)
    assert line.per_piece.hand_min == pytest.approx(hand / 60, abs=0.005)
    layers = 2 * (5 / 2) * 1.10  # five a side, two of a sheet
    assert line.cost.sheet_goods == penny(layers + 10 * 0.12 + 10 * 0.15) == "8.20"
    assert line.cost.machine == penny(10 * machine / 3600 * 2.50)
    assert line.cost.labour == penny(10 * (hand + attend) / 3600 * 16)
    once = 180 + 180 + 3 * 75 + 1200  # measuring, file, three threads, customer
    # 1.2 of layers and 0.2 of tear-away; its blocks and a gap are shared by the two of a hooping
    metres = thread(stitches, 1.4, trims=trims, blocks=3 / per)
    backing = 3 * 207 / 100_000 * 28  # five of 207, two across 500: three rows
    whole(
        line,
        goods=0,
        metres=metres,
        backing=backing,
        sheets=layers + 2.70,
        machine=machine,
        hands=hand + attend,
        once=once,
        p=0.02,
    )


def apron():
    """Twelve aprons with three patches: fabric, felt, fabric; a count of six blocks."""

    def patch(sheet, after, size):
        return [
            {
                "do": "lay",
                "after_block": after,
                "sheet": sheet,
                "width_mm": size,
                "height_mm": size,
            },
            {"do": "trim", "after_block": after + 1, "outline_mm": 4 * (size - 30)},
        ]

    steps = [*patch("fabric", 0, 110), *patch("felt-sheet", 2, 90), *patch("fabric", 4, 70)]
    design = {
        "stitches": 9000,
        "colours": 6,
        "width_mm": 120,
        "height_mm": 110,
        "trims": 6,
        "thread_colours": ["#20262e"] * 6,
    }
    put = {"position": "bib", "design": design, "steps": steps, "methods": {"bobbin": "white"}}
    return {
        "goods": {"class": "twill", "unit_cost": "5.50"},
        "quantity": 12,
        "placements": [put],
        "digitising": "none",
        "sample": {"pieces": 0},
    }


def test_twelve_aprons_in_three_fabrics():
    """Fabric 1,100 mm wide at 5.50 a metre: 10 across of 110, 15 of 70; felt 6 of a sheet of 90."""
    line = priced(apron())
    fabric = (2 * 110 + 1 * 70) / 1000 * 5.50  # 12 of 110: two rows; 12 of 70: one row
    felt = 2 * 0.60  # 3 × 2 of 90 from 300 × 200
    assert line.cost.sheet_goods == penny(fabric + felt)
    sewn = 9000 * 60 / 850
    outlines = 4 * (80 + 60 + 40) * 0.35
    steps = 3 * 20 + outlines
    breaks = 9 * 0.03 * 75
    machine = 25 + sewn + 5 * 8 + 6 * 6 + steps + breaks
    assert line.per_piece.machine_min == pytest.approx((machine + bobbins(line)) / 60, abs=0.005)
    attend = 35 * practised(12) + 0.1 * sewn + steps + breaks + bobbins(line)
    assert line.per_piece.attend_min == pytest.approx(attend / 60, abs=0.005)
    prepare, marked = 3 * 40, (30 + 60) * practised(12)
    torn = tear(120, 110)
    hand = 10 + 8 + prepare + marked + torn + 10 + 15 + 20  # inspect, backing, tear, unmark, …
    assert line.per_piece.hand_min == pytest.approx(hand / 60, abs=0.005)
    assert line.cost.labour == penny(12 * (hand + attend) / 3600 * 16)
    once = 180 + 180 + 75 + 1200  # marking, file, one thread, customer
    assert line.cost.set_up == penny(once / 3600 * 16)
    # twill 0.7 and tear-away 0.2; 210 × 260 turned: two across, six rows of 260
    whole(
        line,
        goods=5.50,
        metres=thread(9000, 0.9, trims=6, blocks=6),
        backing=6 * 260 / 100_000 * 28,
        sheets=fabric + felt,
        machine=machine + bobbins(line),
        hands=hand + attend,
        once=once,
        p=0.01,
    )
    labels = [step.label for step in line.places[0].steps]
    assert labels == [
        "Lay a patch: cotton fabric",
        "Trim along an outline",
        "Lay a patch: felt",
        "Trim along an outline",
        "Lay a patch: cotton fabric",
        "Trim along an outline",
    ]


def bobbins(line):
    """Seconds of a piece: 40 a change between pieces."""
    return 40 * (line.bobbins.count - 1) / line.quantity


@pytest.mark.parametrize("start", STARTS)
def test_every_starting_point_is_priced_whole_at_any_size(start):
    usual = priced(start_line(start, quantity=6))
    assert [a for a in usual.advice if a.level != "note"] == []
    small = priced(start_line(start, quantity=6, width_mm=40, height_mm=60))
    assert not any(a.level == "stop" for a in small.advice)
    assert Decimal(small.cost.total) < Decimal(usual.cost.total)
    assert any(step.when == "after sewing" for step in usual.places[0].steps)


def test_a_layer_is_as_large_as_its_hooping_and_patches_of_neighbours_do_not_overlap():
    line = tabs()
    [laid, *_] = [s for s in priced(line).places[0].steps if s.piece_mm]
    assert (laid.piece_mm, laid.count, laid.per) == ([130, 140], 5, "hooping")
    step = line["placements"][0]["steps"][0]
    step |= {"per": "piece", "width_mm": 75, "height_mm": 140}
    [advice] = [a for a in priced(line).advice if a.code == "patch-overlap"]
    assert "55 × 120 mm apart" in advice.message
    assert [p["op"] for p in advice.apply] == ["remove", "remove", "add"]
    step |= {"width_mm": 50}  # less than they lie apart: none of them reaches another
    assert [a for a in priced(line).advice if a.code == "patch-overlap"] == []


def ears(**more):
    """A toy's two ears: a motif on one, a name on the other, each opened and closed again."""
    seam = {"length_mm": 80, "side": "below"}
    places = [
        {
            "position": side,
            "seam": seam | more,
            "methods": {"bobbin": "white"},
            "design": {"stitches": 2000, "colours": 1, "width_mm": 40, "height_mm": 60, "trims": 1},
        }
        for side in ("left-ear", "right-ear")
    ]
    return {
        "goods": {"class": "toy-thin-part", "unit_cost": "9.00"},
        "quantity": 1,
        "placements": places,
        "digitising": "none",
        "sample": {"pieces": 0},
    }


def test_a_two_sided_toy_ear_pair():
    """Twice opened, hooped, sewn and closed; the second hooping is one more chance to spoil."""
    line = priced(ears())
    sewn = 2 * 2000 * 60 / 700
    breaks = 4 * 0.03 * 75
    machine = 2 * 25 + sewn + 2 * 6 + breaks
    basted = sum(m.seconds for m in line.minutes if m.label.startswith("Baste"))
    assert basted == 0
    assert line.per_piece.machine_min == pytest.approx(machine / 60, abs=0.005)
    attend = 2 * 35 + sewn + breaks  # somebody stands by all the time
    assert line.per_piece.attend_min == pytest.approx(attend / 60, abs=0.005)
    opened = 2 * 0.8 * (30 + 45)
    tasks = {m.label: m.seconds for m in line.minutes}
    assert tasks["Hoop an awkward toy"] == 180
    pulled = 2 * film(40, 60, pile=2)  # it lies on top; underneath it is torn off with nothing
    both = 2 * (30 + 180)
    known = 10 + 10 + 15 + 20 + both + opened + pulled + 2 * 8 + 20 + 40  # cut it, dab it out
    assert line.per_piece.hand_min == pytest.approx(known / 60, abs=0.005)
    # toy 0.9, film under 0.08 and on top 0.04; twice 207 of a roll at 85.00, and 90 at 30.00
    metres = thread(4000, 1.02, trims=2, blocks=2)
    whole(
        line,
        goods=9,
        metres=metres,
        backing=2 * 207 / 100_000 * 85,
        topping=2 * 90 / 100_000 * 30,
        machine=machine,
        hands=known + attend,
        once=180 + 180 + 75 + 1200,
        p=1 - 0.94 * 0.99,
    )
    lined = priced(ears(lining=True))
    assert lined.per_piece.hand_min - line.per_piece.hand_min == pytest.approx(6, abs=0.005)


def chest(shares):
    """A crest on the chest and words under it, 60 lower: in one hooping, or in two."""
    design = {"stitches": 3000, "colours": 1, "width_mm": 60, "height_mm": 40, "trims": 2}
    words = {"stitches": 1500, "colours": 1, "width_mm": 70, "height_mm": 10, "trims": 2}
    places = [
        {"position": "left-chest", "design": design},
        {"position": "left-chest", "design": words, "place": {"gap_mm": 240}},
    ]
    places[1] |= {"shares": True} if shares else {}
    return {
        "goods": {"class": "twill", "unit_cost": "5.50"},
        "quantity": 10,
        "placements": places,
        "digitising": "none",
        "sample": {"pieces": 0},
    }


def test_places_that_share_a_hooping_are_hooped_loaded_and_backed_once():
    apart, together = priced(chest(shares=False)), priced(chest(shares=True))
    # crest 180 to 220, words 235 to 245 below the shoulder: 70 × 65 in one hoop
    assert together.places[0].hooping.sewn_mm == [70, 65]
    assert together.places[1].steps == []
    p = practised(10)
    saved_machine = 25
    assert (apart.per_piece.machine_min - together.per_piece.machine_min) * 60 == pytest.approx(
        saved_machine + bobbins(apart) - bobbins(together), abs=0.6
    )
    torn = tear(60, 40) + tear(70, 10) - tear(70, 65)
    saved_hand = 8 + 60 * p + torn  # backing cut, hooped and torn off
    assert (apart.per_piece.hand_min - together.per_piece.hand_min) * 60 == pytest.approx(
        saved_hand, abs=0.6
    )
    assert len([c for c in together.cuts if c.what == "backing"]) == 1
    hoops = {m.value for m in together.methods if m.key == "hoop"}
    assert len(hoops) == 1
    assert Decimal(together.cost.spoilage) < Decimal(apart.cost.spoilage)


def test_only_places_measured_from_one_point_share_a_hooping():
    line = chest(shares=True)
    line["placements"][1]["position"] = "full-back"
    [advice] = [a for a in priced(line).advice if a.code == "hooping-shared"]
    assert advice.level == "stop"
    assert advice.apply[0]["value"] is False


@pytest.mark.parametrize(
    ("change", "at"),
    [
        ({0: {"shares": True}}, "placements[0].shares"),
        ({1: {"together": {}}}, "placements[1].shares"),
        ({0: {"band": {"length_mm": 300}}}, "placements[1].shares"),
    ],
)
def test_a_hooping_is_shared_with_the_place_before_alone(change, at):
    line = chest(shares=True)
    for n, more in change.items():
        line["placements"][n] |= more
    with pytest.raises(SeveralBadInputs) as refused:
        priced(line)
    assert any(at in problem.where for problem in refused.value.problems)


def runner():
    """A runner with a joined border of nine repeats."""
    design = {"stitches": 1200, "colours": 1, "width_mm": 90, "height_mm": 40, "trims": 0}
    put = {
        "position": "border",
        "design": design,
        "band": {"length_mm": 810, "gap_mm": 0},
        "methods": {"hoop": "130x180", "bobbin": "white"},
    }
    return {
        "goods": {"class": "table-runner", "unit_cost": "12.00"},
        "quantity": 1,
        "placements": [put],
        "digitising": "none",
        "sample": {"pieces": 0},
    }


def test_a_runner_with_a_joined_border_of_nine_repeats():
    """Basted 4 mm outside, 90 takes 98 of 180: nine hoopings, eight lined up on a joint."""
    line = priced(runner())
    put = line.places[0]
    assert (put.hooping.copies, put.hooping.per_piece, put.band.joints) == (9, 9, 8)
    assert put.band.starts_mm == [90 * k for k in range(9)]
    joint = next(m for m in line.minutes if m.label == "Line a joint up")
    assert (joint.seconds, joint.attend_s) == (8 * 30, 8 * 120)
    baste = 49  # 4 mm outside of 90 × 40: 2 (98 + 48) / 6 = 48.7
    stitches = 9 * (1200 + baste)
    assert line.per_piece.stitches == stitches
    p, sew = practised(9), 9 * 1200 * 60 / 700
    breaks = stitches / 1000 * 0.03 * 75
    machine = 9 * (25 + 15 + baste * 60 / 400) + sew + 8 * 30 + breaks
    attend = 9 * (35 * p + 15) + 0.3 * sew + 8 * 120 + breaks
    # marked by a crease; one wash rinses and presses
    hand = 9 * ((20 + 75) * p + 2 * 8 + 20 + 10) + 10 + 20 + 60 + 15 + 20
    # runner 0.5 and two of mesh 0.2; basting is thread without satin; the motifs touch
    t = 0.9
    needle, bobbin = thread(9 * 1200, t, trims=0, blocks=9)
    needle += 9 * baste * (6 + 2 * t + 0.25) / 1000
    bobbin += 9 * baste * (6 + 0.25) / 1000 * 1.2
    # 18 of 210 × 260 on a roll of 500 at 90.00: two across, nine rows of 260
    whole(
        line,
        goods=12,
        metres=(needle, bobbin),
        backing=9 * 260 / 100_000 * 90,
        glue=9 * 0.04,
        machine=machine,
        hands=hand + attend,
        once=180 + 180 + 75 + 1200,
        p=1 - 0.98 * 0.99**8,
    )


def test_a_lining_is_loosened_and_a_back_sewn_before_the_front():
    line = chest(shares=False)
    front, back = line["placements"]
    back |= {"position": "full-back"}
    [advice] = [a for a in priced(line).advice if a.code == "place-order"]
    assert "Full back comes after the front" in advice.message
    assert advice.apply == [
        {"op": "move", "from": "/lines/0/placements/1", "path": "/lines/0/placements/0"}
    ]
    line["placements"] = [back, front]
    assert not any(a.code == "place-order" for a in priced(line).advice)
    front |= {"seam": {"length_mm": 100, "lining": True}}
    [advice] = [a for a in priced(line).advice if a.code == "place-order"]
    assert "The lining is loosened for the left chest after" in advice.message


def caps(quantity=12, goods="structured-cap"):
    design = {"stitches": 4500, "colours": 2, "width_mm": 90, "height_mm": 45, "trims": 4}
    put = {"position": "cap-front", "design": design, "methods": {"bobbin": "white"}}
    return {
        "goods": {"class": goods, "unit_cost": "4.80"},
        "quantity": quantity,
        "placements": [put],
        "digitising": "none",
        "sample": {"pieces": 0},
    }


@pytest.mark.parametrize("goods", ["structured-cap", "soft-cap"])
def test_a_sewn_patch_is_the_other_way_for_a_cap_with_what_it_really_comes_to(goods):
    line = caps(goods=goods)
    document = {"format": "clothyard-job/1", "currency": "GBP", "lines": [line]}
    found = estimate(job_from(document), HOUSE, {})
    [school] = [s for s in found.lines[0].schools if s.id == "as-patch"]
    then = apply_patch(document, school.apply)
    other = estimate(job_from(then), HOUSE, {}, compare=False)
    more = Decimal(other.total.cost) - Decimal(found.total.cost)
    assert Decimal(school.cost_difference) == pytest.approx(more, abs=Decimal("0.05"))
    patch = other.lines[0]
    tasks = {m.label: m.seconds for m in patch.minutes}
    assert tasks["Cut out along the shape"] == pytest.approx(
        0.35 * (2 * (90 + 45) + 2 * math.pi * (3 + 3.5 / 2)), abs=0.01
    )
    assert tasks["Fix the patch on"] == 60
    assert "Hoop on the cap frame" not in tasks
    assert patch.places[0].hooping.pieces > 1
    assert [a.level for a in patch.advice if a.level == "stop"] == []
    # a spoiled patch costs no cap: it hangs on 1 % of what a patch takes
    assert Decimal(patch.cost.spoilage) < Decimal(found.lines[0].cost.spoilage) / 2
    assert all(s.id != "as-patch" for s in estimate(job_from(then), HOUSE, {}).lines[0].schools)


def test_a_patch_without_cloth_of_its_own_is_not_whole():
    line = caps()
    line["placements"][0]["as_patch"] = True
    [advice] = [a for a in priced(line).advice if a.code == "layers-none"]
    assert advice.message.startswith("It is sewn as a patch")
