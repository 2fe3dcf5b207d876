"""Whole jobs of sheet goods and steps, to the penny: the arithmetic of the handbook, by hand.

Every figure is written out from the handbook's defaults: 16.00 an hour of hands, 5.00 overhead,
2.50 the machine, 6.50 a cone of 5,000 m, 28.00 a roll of 100 m × 500 mm of tear-away.
"""

from decimal import ROUND_HALF_UP, Decimal

import pytest

from clothyard.core.estimate.make import estimate
from clothyard.core.job.check import job_from
from clothyard.core.job.starts import STARTS, start_line
from tests.core.random_jobs import HOUSE


def penny(value):
    return str(Decimal(repr(value)).quantize(Decimal("0.01"), ROUND_HALF_UP))


def practised(n):
    """Mean share of the first one's time over n: 0.93 as often again at twice as many."""
    return sum(max(0.6, k ** (-0.10469737866669293)) for k in range(1, n + 1)) / n


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
        8 / per + 2 * 40 / per + 30 * practised(5) / per  # backing, two layers, the hoop
        + 15 + 0.2 * 310 + 20 + 10 + 15 + 20  # tear, cut out, snap, ring, check, pack
    )  # fmt: skip
    assert line.per_piece.machine_min == pytest.approx(machine / 60, abs=0.005)
    assert line.per_piece.attend_min == pytest.approx(attend / 60, abs=0.005)
    assert line.per_piece.hand_min == pytest.approx(hand / 60, abs=0.005)
    layers = 2 * (5 / 2) * 1.10  # five a side, two of a sheet
    assert line.cost.sheet_goods == penny(layers + 10 * 0.12 + 10 * 0.15) == "8.20"
    assert line.cost.machine == penny(10 * machine / 3600 * 2.50)
    assert line.cost.labour == penny(10 * (hand + attend) / 3600 * 16)
    once = 180 + 3 * 75 + 1200  # file, three threads, customer: nothing is marked
    assert line.cost.set_up == penny(once / 3600 * 16)
    assert line.cost.overhead == penny((10 * (hand + attend) + once) / 3600 * 5)
    assert (line.cost.goods, line.cost.packing) == ("0.00", "2.00")


def apron():
    """Twelve aprons with three patches: fabric, felt, fabric; a count of six blocks."""

    def patch(sheet, after, size):
        return [
            {"do": "lay", "after_block": after, "sheet": sheet, "width_mm": size,
             "height_mm": size},
            {"do": "trim", "after_block": after + 1, "outline_mm": 4 * (size - 30)},
        ]  # fmt: skip

    steps = [*patch("fabric", 0, 110), *patch("felt-sheet", 2, 90), *patch("fabric", 4, 70)]
    design = {"stitches": 9000, "colours": 6, "width_mm": 120, "height_mm": 110, "trims": 6,
              "thread_colours": ["#20262e"] * 6}  # fmt: skip
    put = {"position": "bib", "design": design, "steps": steps, "methods": {"bobbin": "white"}}
    return {"goods": {"class": "twill", "unit_cost": "5.50"}, "quantity": 12, "placements": [put],
            "digitising": "none", "sample": {"pieces": 0}}  # fmt: skip


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
    hand = 10 + 8 + prepare + marked + 15 + 10 + 15 + 20  # inspect, backing, tear, unmark, …
    assert line.per_piece.hand_min == pytest.approx(hand / 60, abs=0.005)
    assert line.cost.labour == penny(12 * (hand + attend) / 3600 * 16)
    once = 180 + 180 + 75 + 1200  # marking, file, one thread, customer
    assert line.cost.set_up == penny(once / 3600 * 16)
    labels = [step.label for step in line.places[0].steps]
    assert labels == ["Lay a patch: cotton fabric", "Trim along an outline", "Lay a patch: felt",
                      "Trim along an outline", "Lay a patch: cotton fabric",
                      "Trim along an outline"]  # fmt: skip


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
