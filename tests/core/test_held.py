"""Held, turned, backed and marked as a master would: by load, by room, by where the rest lies."""

import pytest

from clothyard.core.cloth.load import Held, capacity, carries, fill_share, firm_enough, load
from clothyard.core.cloth.room import room_at
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Goods
from clothyard.core.stitches.count import count_facts
from clothyard.core.work.holding import after_sewing, how_held
from tests.conftest import polos, price
from tests.core.test_advice import apply_patch
from tests.core.test_thread import facts_of

HOUSE = default_house()
GOODS = HOUSE.goods


def methods(job):
    return {m.key: m for m in price(job).lines[0].methods}


def codes(job):
    return {a.code for a in price(job, compare=False).lines[0].advice}


def counted(stitches, kind, width_mm, height_mm):
    known = HOUSE.kinds[kind]
    return count_facts(
        stitches,
        kind=kind,
        mean_stitch_mm=known.mean_stitch_mm,
        satin_share=known.satin_share,
        width_mm=width_mm,
        height_mm=height_mm,
    )


# backing by load --------------------------------------------------------------------------------


def thick(mm):
    return GOODS["woven-shirt"].model_copy(update={"thickness_mm": mm})


def test_load_and_capacity_of_the_handbooks_examples():
    """8,200 mixed, 85 × 60: 8,200 / 66.5 × 0.73; 48,000 fill, 195 × 260; 8,600 fill, 80 × 80."""
    crest, back, solid = (
        counted(8200, "mixed", 85, 60),
        counted(48_000, "fill", 195, 260),
        counted(8600, "fill", 80, 80),
    )
    assert [round(load(d, HOUSE), 1) for d in (crest, back, solid)] == [90.0, 86.7, 106.2]

    def held(backing, layers, mm, design):
        return round(capacity(HOUSE.backings[backing], layers, thick(mm), design), 1)

    assert held("cut-away-medium", 1, 0.8, crest) == 172.8
    assert [held("tear-away-medium", n, 0.4, crest) for n in (1, 2)] == [82.5, 109.9]
    assert [held("tear-away-medium", n, 1.0, back) for n in (1, 2)] == [75.6, 100.8]
    assert held("tear-away-medium", 2, 0.35, solid) == pytest.approx(104, abs=0.5)
    assert held("cut-away-light", 1, 0.35, solid) == pytest.approx(96, abs=0.8)
    assert held("cut-away-medium", 1, 0.35, solid) == pytest.approx(133, abs=0.8)


@pytest.mark.parametrize(
    ("changes", "backing", "layers"),
    [
        ({}, "cut-away-medium", 1),
        ({"goods__class": "woven-shirt"}, "tear-away-medium", 2),
        (
            {
                "goods__class": "woven-shirt",
                "design__stitches": 8600,
                "design__kind": "fill",
                "design__width_mm": 80,
                "design__height_mm": 80,
            },
            "cut-away-medium",
            1,
        ),
        (
            {
                "goods__class": "denim",
                "placement__position": "full-back",
                "design__stitches": 48_000,
                "design__kind": "fill",
                "design__width_mm": 195,
                "design__height_mm": 260,
            },
            "tear-away-medium",
            2,
        ),
    ],
)
def test_a_heavy_design_is_proposed_a_firmer_backing(changes, backing, layers):
    job = polos(**changes)
    found = methods(job)
    assert (found["backing"].value, found["layers"].value) == (backing, str(layers))
    assert "back-load" not in codes(job)


def test_only_woven_shirt_curtain_and_quilt_leave_their_default_for_the_usual_crest():
    crest = counted(8200, "mixed", 85, 60)
    left = {
        name
        for name, goods in GOODS.items()
        if not carries(Held(goods.backing, goods.layers), goods, crest, HOUSE)
    }
    assert left == {"woven-shirt", "curtain", "quilt"}


def test_cloth_that_puckered_carries_less_and_is_proposed_a_firmer_backing():
    """Woven shirt, two layers of tear-away for the usual crest; at 0.7 of that, cut-away."""
    job = polos(goods__class="woven-shirt")
    job["house"] = {"goods": {"woven-shirt": {"carries": 0.7}}}
    found = methods(job)
    assert (found["backing"].value, found["layers"].value) == ("cut-away-medium", "1")


def test_where_the_back_is_seen_nothing_that_stays_is_proposed_and_the_end_is_told():
    heavy = {"design__stitches": 30_000, "goods__class": "table-linen"}
    found = price(polos(**heavy, placement__position=None)).lines[0]
    [told] = [a for a in found.advice if a.code == "back-load"]
    assert told.apply is None
    assert "lighter design" in told.fix
    assert {m.value for m in found.methods if m.key == "backing"} == {"wash-away-mesh"}
    dense = counted(30_000, "fill", 85, 60)
    assert firm_enough(Held("tear-away-medium", 1), GOODS["twill"], dense, HOUSE) is None


def test_how_much_of_a_design_is_filled_is_measured():
    """Rows 0.4 apart of stitches of 3.5 mm are fill; a column 4 wide and one long line are not."""
    rows = [
        (3.5 * k, 0.4 * r) for r in range(50) for k in (range(9) if r % 2 else range(8, -1, -1))
    ]
    column = [(60 + 4 * (n % 2), 0.4 * n) for n in range(200)]
    line = [(80 + 2.5 * n, 0.0) for n in range(60)]
    filled, satin, running = (facts_of(points) for points in (rows, column, line))
    assert filled.fill_share == pytest.approx(7 / 9, abs=0.02)  # all but the ends of its rows
    assert (satin.fill_share, running.fill_share) == (0, 0)
    assert fill_share(filled, HOUSE) == filled.fill_share
    assert fill_share(counted(900, "outline", 40, 40), HOUSE) == 0


# hoop, room, float ------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("goods", "position", "size", "kind"),
    [
        ("plush-blanket", "end", (268, 53), "single"),
        ("table-linen", "centre", (300, 300), "split"),
        ("table-runner", "centre", (200, 280), "single"),
        ("curtain", "centre", (400, 150), "split"),
    ],
)
def test_ordinary_large_work_on_flat_goods_is_priced_and_can_be_sent(goods, position, size, kind):
    job = polos(
        goods__class=goods,
        placement__position=position,
        design__width_mm=size[0],
        design__height_mm=size[1],
        design__kind="lettering",
    )
    found = price(job)
    assert found.sendable
    assert found.lines[0].places[0].hooping.kind == kind
    assert ("split-join" in codes(job)) is (kind == "split")


def test_a_flat_piece_bounds_its_places_by_its_own_size():
    napkin = polos(goods__class="table-linen", placement__position="centre", design__width_mm=420)
    assert "room-none" not in codes(napkin)
    napkin["lines"][0]["goods"] |= {"width_mm": 450, "height_mm": 450}  # 410 between its hems
    assert "room-none" in codes(napkin)
    scarf = Goods.model_validate({"class": "scarf", "width_mm": 300})
    assert room_at(scarf, "along", HOUSE).height_mm == 280


def test_the_room_of_this_piece_goes_before_the_usual_one():
    job = polos(goods__class="canvas-bag", placement__position="front")
    job["lines"][0]["placements"][0] |= {"position": "pocket"}
    assert "room-none" not in codes(job)
    job["lines"][0]["placements"][0]["room"] = {"width_mm": 70, "height_mm": 100}
    assert "room-none" in codes(job)


def test_what_no_ring_can_grip_is_floated_and_no_school_says_otherwise():
    pocket = {"goods__class": "jeans", "placement__position": "back-pocket"}
    job = polos(**pocket, design__width_mm=60, design__height_mm=45, design__stitches=3000)
    found = price(job).lines[0]
    [hold] = [m for m in found.methods if m.key == "hold"]
    assert (hold.value, hold.source) == ("float", "proposed")
    assert "does not reach" in hold.reason
    assert "always-hoop" not in {school.id for school in found.schools}
    assert "hoop" not in {other.value for other in hold.others}
    belt = price(polos(goods__class="belt", placement__position="along", design__height_mm=20))
    assert "always-hoop" not in {school.id for school in belt.lines[0].schools}


def test_basting_that_alone_would_miss_every_hoop_is_left_out():
    wide = {"goods__class": "table-linen", "placement__position": "centre"}
    found = methods(polos(**wide, design__width_mm=200, design__height_mm=300))
    assert (found["hold"].value, found["baste"].value) == ("float", "false")
    assert "miss the hoop" in found["baste"].reason


def test_infants_rooms_go_by_their_months():
    goods = Goods.model_validate({"class": "infant-bodysuit"})
    rooms = {
        size: room_at(goods, "infant-chest", HOUSE, sizes=[size]).width_mm
        for size in ("newborn", "0-3 months", "3-6m", "6-12", "12-18 mo")
    }
    assert rooms == {
        "newborn": 75,
        "0-3 months": 75,
        "3-6m": 85,
        "6-12": 95,
        "12-18 mo": pytest.approx(105),
    }


# which way it goes in ---------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("goods", "position", "arm", "flat", "says"),
    [
        ("knitted-hat", "fold", "0", "0", "inner face"),
        ("stocking", "stocking-cuff", "180", "270", "inner face"),
        ("pique-polo", "left-chest", "180", "0", "hem goes on first"),
        ("closed-sleeve", "sleeve", "180", "90", "cuff goes on first"),
        ("plush-blanket", "end", "180", "270", "in front"),
        ("toy-thin-part", "left-ear", "0", "0", "to the left"),
        ("toy-thin-part", "right-ear", "180", "180", "to the left"),
        ("twill", "bib", "0", "0", "in front"),
    ],
)
def test_which_way_it_goes_in(goods, position, arm, flat, says):
    """Handbook, which way: arm / flat bed."""
    asked = {
        "goods__class": goods,
        "placement__position": position,
        "design__width_mm": 30,
        "design__height_mm": 30,
        "design__stitches": 900,
    }
    ways = [
        methods(polos(**asked, methods__machine=machine))["way"]
        for machine in ("compact-10", "single-flat")
    ]
    assert [way.value for way in ways] == [arm, flat]
    assert says in ways[0].reason
    assert "way-up" not in codes(polos(**asked))


def test_another_way_is_warned_of_and_a_press_turns_it_back():
    upright = price(polos(methods__way=0)).lines[0]
    [told] = [a for a in upright.advice if a.code == "way-up"]
    assert told.message == "Turned 0°, the hem lies in front, toward you."
    assert told.apply[0]["value"] == 180
    assert upright.places[0].hoop_way == 0
    assert price(polos()).lines[0].places[0].hoop_way == 180


def test_a_blanket_that_the_hoop_takes_only_across_lies_aside():
    wide = polos(
        goods__class="plush-blanket",
        placement__position="end",
        design__width_mm=268,
        design__height_mm=53,
    )
    way = methods(wide)["way"]
    assert (way.value, way.reason) == ("270", "The rest of it lies to the left.")


# bobbin, needle, film, marks --------------------------------------------------------------------


@pytest.mark.parametrize(
    ("colour", "bobbin"),
    [
        ("Midnight blue", "black"),
        ("light brown", "white"),
        ("Navy", "black"),
        ("Heather grey", "white"),
        ("Bottle green", "black"),
        ("Puce", "white"),
        (None, "white"),
    ],
)
def test_the_bobbin_goes_by_how_light_the_cloth_is(colour, bobbin):
    cells = [{"quantity": 24, **({"colour": colour} if colour else {})}]
    job = polos(line__cells=cells)
    assert methods(job)["bobbin"].value == bobbin
    job["lines"][0]["goods"]["class"] = "woven-shirt"
    assert "show-through" not in codes(job)


def test_small_letters_on_texture_get_film():
    cloth = {"goods__class": "kitchen-cloth", "placement__position": None}
    small = methods(polos(**cloth, design__kind="lettering", design__letter_height_mm=8))
    assert (small["topping"].value, small["topping"].source) == ("film", "proposed")
    large = methods(polos(**cloth, design__kind="lettering", design__letter_height_mm=14))
    assert large["topping"].value == "none"
    assert "all but small letters" in large["topping"].reason


@pytest.mark.parametrize(
    ("goods", "marking", "seconds"),
    [
        ("pique-polo", "pen", 30),
        ("table-linen", "crease", 20),
        ("softshell", "tape", 25),
        ("terry-towel", "template", 35),
        ("denim", "chalk", 25),
    ],
)
def test_a_place_is_marked_as_its_cloth_bears(goods, marking, seconds):
    job = polos(goods__class=goods, placement__position=None, line__quantity=1)
    found = price(job).lines[0]
    assert {m.value for m in found.methods if m.key == "marking"} == {marking}
    [told] = [m for m in found.minutes if m.label.startswith("Mark")]
    assert told.seconds == seconds


def test_the_needle_is_set_over_a_template_at_every_piece_and_at_no_sample():
    plain, set_ = (
        price(polos(**more), compare=False).lines[0]
        for more in ({}, {"methods__set_by": "template"})
    )
    more = set_.per_piece.machine_min - plain.per_piece.machine_min
    assert more == pytest.approx(70 / 60, abs=0.011)
    assert set_.cost.set_up == plain.cost.set_up
    once = polos(goods__once_only=True, line__quantity=1)
    assert methods(once)["set_by"].value == "template"


# arithmetic -------------------------------------------------------------------------------------


def test_matching_bobbins_that_run_out_inside_a_colour_stop_the_machine():
    """24 blankets, 45,000 stitches in two colours: neither bobbin lasts one piece's colour."""
    blankets = polos(
        goods__class="plush-blanket",
        placement__position="end",
        design__stitches=45_000,
        design__colours=2,
        design__width_mm=190,
        design__height_mm=190,
    )
    line = price(blankets, compare=False).lines[0]
    opened = sum(each.count for each in line.bobbins.by_colour)
    assert opened > 2 * 24
    [told] = [m for m in line.minutes if m.label == "Bobbin change"]
    within = 24 + opened - 2
    assert told.seconds == pytest.approx((within * 90 + 23 * 40) / 24, abs=0.1)


def test_a_sample_winds_no_bobbins_of_its_own():
    """12 polos in six colours: what a sample adds has no winding."""
    matched = {"methods__bobbin": "match", "design__colours": 6, "line__quantity": 12}
    work = work_of(job_from(polos(**matched), currency="GBP"), HOUSE, {})
    sample = next(p for p in work.passes if p.sample)
    run = next(p for p in work.passes if not p.sample)
    assert (sample.winding_s, run.winding_s > 0) == (0, True)


def test_an_opened_leg_is_flat():
    legs = {"goods__class": "jeans", "placement__position": "calf", "line__quantity": 1}
    closed, opened = (
        price(polos(**legs, **more), compare=False).lines[0]
        for more in ({}, {"placement__seam": {"length_mm": 300}})
    )
    labels = {m.label for m in opened.minutes}
    assert "Hoop a tight tube" in {m.label for m in closed.minutes}
    assert "Hoop a tight tube" not in labels
    assert opened.per_piece.attend_min < closed.per_piece.attend_min / 2


def test_blocks_needle_seconds_are_the_machines():
    """Of four heads the machine sews a block once for four pieces."""
    for heads in (1, 4):
        house = {"machines": {"compact-10": {"heads": heads}}}
        work = work_of(job_from(polos(job__house=house), currency="GBP"), HOUSE, {})
        run = next(p for p in work.passes if not p.sample)
        sewing = sum(e.machine_s for e in run.events if e.task == "sew")
        assert sum(t.needle_s for t in run.threads) == pytest.approx(sewing)


# told to whoever sews it ------------------------------------------------------------------------


def told(**changes):
    work = work_of(job_from(polos(**changes), currency="GBP"), HOUSE, {})
    line = work.lines[0]
    each = next(p for p in work.passes if not p.sample)
    return how_held(line, each, line.placements[0], HOUSE), [
        step.what for step in after_sewing(line, each)
    ]


def test_floated_linen_is_told_whole():
    held, after = told(goods__class="table-linen", placement__position="corner")
    assert held == [
        "Mark it with a folded crease.",
        "Hoop 2 layers of wash-away mesh, crosswise, and only that.",
        "Mist it with adhesive away from the machine, and lay the piece on.",
        "Baste it down 4 mm outside the design.",
        "Loosen the bobbin case a little: 40 weight in the bobbin may loop.",
    ]
    assert [words.split(":")[0].split(".")[0] for words in after] == [
        "Take the piece out of the hoop",
        "Basting out",
        "Cut the wash-away close",
        "Wash, and press",
        "Look",
    ]


def test_film_comes_off_before_backing_and_jumps_are_clipped_before_both():
    _, after = told(methods__machine="single-flat")
    order = [words.split(":")[0].split(" ")[0] for words in after]
    assert order == ["Clip", "Take", "Film", "Trim", "Marks", "Look"]


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"goods__class": "soft-cap", "placement__position": "cap-front"}, "Wet the backing"),
        ({"goods__class": "kitchen-cloth", "placement__position": "end"}, "fuse it"),
        ({"goods__class": "infant-bodysuit", "placement__position": None}, "Fuse the fusible mesh"),
        (
            {"goods__class": "canvas-bag", "placement__position": None},
            "Close the magnetic frame on the piece",
        ),
        ({"goods__class": "vinyl", "placement__position": None}, "tape or clips"),
        ({"methods__set_by": "template"}, "over the paper template"),
        ({"placement__seam": {"length_mm": 100}}, "Open the seam"),
    ],
)
def test_how_it_is_held_is_told_in_words(changes, says):
    held, _ = told(**changes, design__width_mm=60, design__height_mm=40, design__stitches=2500)
    assert says in " ".join(held)


# turned before it is moved; a band's own words ---------------------------------------------------


def test_a_design_too_wide_for_an_ear_is_turned_before_it_is_moved():
    job = polos(
        goods__class="toy-thin-part",
        placement__position="left-ear",
        design__width_mm=100,
        design__height_mm=40,
        design__stitches=3000,
    )
    [told_] = [a for a in price(job, compare=False).lines[0].advice if a.code == "room-none"]
    assert told_.fix.startswith("Turn it")
    assert told_.apply[0]["value"] == {"turn": 90}
    assert "room-none" not in codes(apply_patch(job, told_.apply))


def test_where_custom_alone_bounds_it_nobody_turns_it():
    job = polos(design__width_mm=130, design__height_mm=60)
    [big] = [a for a in price(job, compare=False).lines[0].advice if a.code == "place-big"]
    assert "Turn" not in big.fix


@pytest.mark.parametrize(
    ("band", "says"),
    [
        ({}, "marked from the middle of that side both ways."),
        ({"start": "end", "fill": False}, "begun at one end."),
        ({"closed": True}, "all the way round."),
    ],
)
def test_a_band_along_a_quilt_is_marked_by_its_line(band, says):
    job = polos(
        goods__class="quilt",
        placement__position="binding",
        placement__band={"length_mm": 1200} | band,
        design__width_mm=60,
        design__height_mm=40,
    )
    [mark] = price(job, compare=False).lines[0].places[0].marks
    assert mark.words == f"The motifs' middle line runs 50 mm above the binding, {says}"
