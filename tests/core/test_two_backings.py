"""Two kinds of backing in one making: each cut, priced, torn or trimmed, carried, told."""

from decimal import Decimal

import pytest

from clothyard.core.cloth.load import capacity
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.stock.needs import needs_of
from clothyard.core.work.holding import how_held
from tests.conftest import polos, price
from tests.core.test_held import codes, counted

HOUSE = default_house()
MESH_AND_TEAR = {
    "methods__backing": "fusible-mesh",
    "methods__second_backing": "tear-away-medium",
}


def both(**changes):
    return polos(**MESH_AND_TEAR, **changes)


def test_both_kinds_are_cut_priced_and_worked():
    """24 polos in the 100 hoop: 180 × 180 of each; 12 rows of two are 2.16 m of each roll."""
    line = price(both(), working=True).lines[0]
    cuts = [(c.material, c.count, c.length_mm) for c in line.cuts if c.what == "backing"]
    assert cuts == [("fusible-mesh", 24, 2160), ("tear-away-medium", 24, 2160)]
    rows = {m.item: Decimal(m.cost) for m in line.materials if m.kind == "backing"}
    # 2.16 m of 80.00 and of 28.00 a hundred metres: 1.728 and 0.605, 2.33 together
    assert sum(rows.values()) == Decimal(line.cost.backing) == Decimal("2.33")
    worked = {figure.id: figure for figure in line.working}
    assert [i.value for i in worked["cost.backing"].inputs] == ["1.728", "0.6048"]
    assert worked["placements[0].thickness"].value == "1.24"  # 0.8 + 0.2 + 0.2 + film 0.04
    assert {"placements[0].backing_cut", "placements[0].backing_second_cut"} <= set(worked)


def test_hands_cut_fuse_tear_and_trim_each_kind():
    work = work_of(job_from(both()), HOUSE, {})
    tasks = {t.task: t for t in work.passes[0].tasks}
    assert tasks["cut-backing"].times == 2 * 24
    assert tasks["fuse"].first_s == pytest.approx(20 + 10 * 18 * 18 / 100)
    assert {"tear-backing", "trim-backing"} <= set(tasks)
    once = {t.task: t for t in work_of(job_from(polos()), HOUSE, {}).passes[0].tasks}
    assert "tear-backing" not in once
    needed = {need.label for need in needs_of(work, HOUSE) if need.item.kind == "backing"}
    assert len(needed) == 2


def test_layers_of_each_kind_are_its_own():
    job = both(methods__second_layers=2)
    line = price(job).lines[0]
    assert [c.count for c in line.cuts if c.what == "backing"] == [24, 48]
    assert {m.key: m.value for m in line.methods}["second_layers"] == "2"


def test_what_they_carry_together():
    """The firmer whole, of the other a third: mesh 110 and tear-away 105 make 145, as ×2 do."""
    crest, polo = counted(8200, "mixed", 85, 60), HOUSE.goods["pique-polo"]
    one, two = (
        capacity(HOUSE.backings[name], 1, polo, crest)
        for name in ("fusible-mesh", "tear-away-medium")
    )
    heavy = round((one + two / 4) * 66.5 / 0.73)  # more than the mesh carries, less than both
    alone = polos(methods__backing="fusible-mesh", methods__layers=1, design__stitches=heavy)
    assert "back-load" in codes(alone)
    assert "back-load" not in codes(both(design__stitches=heavy))
    over = round((one + two / 2) * 66.5 / 0.73)
    told = [a for a in price(both(design__stitches=over)).lines[0].advice if a.code == "back-load"]
    assert "both kinds carry 139" in told[0].message


def test_a_mesh_that_stays_holds_stretch_though_the_other_tears():
    assert "back-stretch" not in codes(both())
    tears = polos(methods__backing="tear-away-medium", methods__second_backing="tear-away-light")
    assert "back-stretch" in codes(tears)


def test_where_the_back_is_seen_a_second_that_stays_is_told_and_the_press_takes_it_out():
    job = polos(
        goods__class="plush-blanket",
        placement__position="corner",
        methods__second_backing="cut-away-light",
    )
    told = [a for a in price(job).lines[0].advice if a.code == "back-seen"]
    assert told
    fixed = {patch["path"].rpartition("/")[2]: patch["value"] for patch in told[0].apply}
    assert fixed["second_backing"] is None


def test_without_a_first_there_is_no_second():
    job = polos(methods__backing="none", methods__second_backing="tear-away-medium")
    line = price(job).lines[0]
    assert [c for c in line.cuts if c.what == "backing"] == []
    assert "second_layers" not in {m.key for m in line.methods}


def test_the_sheet_tells_what_is_fused_and_what_is_hooped():
    work = work_of(job_from(both()), HOUSE, {})
    said = how_held(work.lines[0], work.passes[0], work.lines[0].placements[0], HOUSE)
    assert "Fuse the fusible mesh to the back first." in said
    assert "Hoop the piece with tear-away, medium." in said
    work = work_of(job_from(both(methods__hold="float")), HOUSE, {})
    said = how_held(work.lines[0], work.passes[0], work.lines[0].placements[0], HOUSE)
    assert "Hoop tear-away, medium, and only that." in said


def test_others_take_two_kinds_and_a_press_does():
    found = {s.id: s for s in price(polos()).lines[0].schools}
    school = found["knits-mesh-tear"]
    assert school.apply[0]["value"]["second_backing"] == "tear-away-medium"
    assert "knits-mesh-tear" not in {s.id for s in price(both()).lines[0].schools}
    blanket = polos(goods__class="plush-blanket", placement__position="corner")
    found = {s.id for s in price(blanket).lines[0].schools}
    assert "knits-mesh-tear" not in found  # nothing fused where pile melts
    assert "bobbin-nearest" in found


def test_a_fine_bobbin_in_the_nearest_colour_may_be_seen_and_costs_as_a_fine_one():
    blanket = {"goods__class": "plush-blanket", "placement__position": "corner"}
    near = price(polos(**blanket, methods__bobbin="nearest")).lines[0]
    white = price(polos(**blanket, methods__bobbin="white")).lines[0]
    assert near.cost == white.cost
    assert "back-seen" in {a.code for a in white.advice} - {a.code for a in near.advice}
    proposed = {m.key: m for m in price(polos(**blanket)).lines[0].methods}["bobbin"]
    assert proposed.value == "match"
    assert "may loop" in proposed.reason
