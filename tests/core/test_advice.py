"""Methods and advice: what is proposed, what is warned of, and that a fix mends it."""

import copy

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.house.check import default_house
from tests.conftest import polos, price
from tests.core.test_orders import LINES, order


def codes(job):
    return {(a.code, a.level) for a in price(job, compare=False).lines[0].advice}


def methods(job, **options):
    return {m.key: m for m in price(job, **options).lines[0].methods}


def apply_patch(job, patch):
    """Apply the adds, replaces and removes of a JSON Patch to a copy of a job."""
    job = copy.deepcopy(job)
    for step in patch:
        assert step["op"] in {"add", "replace", "remove", "move"}
        *path, last = step["path"].strip("/").split("/")
        place = job
        for part in path:
            place = place[int(part)] if isinstance(place, list) else place[part]
        if step["op"] == "move":  # within one list
            assert step["from"].rpartition("/")[0] == step["path"].rpartition("/")[0]
            place.insert(int(last), place.pop(int(step["from"].rpartition("/")[2])))
            continue
        if step["op"] != "add":
            assert last in place
        if step["op"] == "remove":
            del place[last]
        else:
            place[last] = step["value"]
    return job


@pytest.mark.parametrize(
    ("goods", "proposed"),
    [
        (
            "pique-polo",
            {
                "backing": "cut-away-medium",
                "layers": "1",
                "topping": "film",
                "hold": "hoop",
                "needle": "ballpoint-75-11",
                "bobbin": "white",
            },
        ),
        ("twill", {"backing": "tear-away-medium", "topping": "none", "needle": "sharp-90-14"}),
        (
            "table-linen",
            {"backing": "wash-away-mesh", "layers": "2", "hold": "float", "baste": "true"},
        ),
        ("structured-cap", {"backing": "cap-tear-away", "hoop": "cap-130x60", "baste": "false"}),
        ("toy-thin-part", {"bobbin": "match", "topping": "film"}),
        ("robe", {"backing": "tear-away-medium", "layers": "2"}),
    ],
)
def test_proposals_by_goods(goods, proposed):
    found = methods(
        polos(
            goods__class=goods,
            placement__position=None,
            design__stitches=4000,
            design__width_mm=60,
            design__height_mm=45,
        )
    )
    for key, value in proposed.items():
        assert (found[key].value, found[key].source) == (value, "proposed")
        assert found[key].reason


def test_dark_goods_take_a_dark_bobbin():
    def cells(*colours):
        return [{"colour": colour, "quantity": 24 // len(colours)} for colour in colours]

    assert methods(polos(line__cells=cells("navy", "black")))["bobbin"].value == "black"
    assert methods(polos(line__cells=cells("navy", "white")))["bobbin"].value == "white"


@pytest.mark.parametrize(
    ("thread", "needle"), [("metallic", "large-eye-90-14"), ("polyester-60", "fine-65-9")]
)
def test_thread_asks_for_its_needle(thread, needle):
    assert methods(polos(methods__thread=thread))["needle"].value == needle


def test_chosen_methods_say_so_and_the_price_follows():
    job = polos(methods__backing="tear-away", methods__thread="rayon")
    found = methods(job)
    assert (found["backing"].value, found["backing"].source) == ("tear-away-medium", "chosen")
    assert "proposed was cut-away-medium" in found["backing"].reason
    assert price(job).lines[0].cost.backing == "0.60"  # 2.16 m at 0.28


def test_no_backing_and_no_topping():
    line = price(polos(methods__backing="none", methods__topping="none")).lines[0]
    assert (line.cost.backing, line.cost.topping) == ("0.00", "0.00")
    assert {m.kind for m in line.materials} == {"goods", "needle-thread", "bobbin-thread"}


def test_others_cost_what_choosing_them_costs():
    """Each difference shown is the difference of two whole estimates."""
    base = price(polos())
    for method in base.lines[0].methods:
        for other in method.others:
            typed = {"layers": int, "way": int, "baste": lambda v: v == "true"}.get(method.key, str)
            job = polos(**{f"methods__{method.key}": typed(other.value)})
            line = price(job, compare=False).lines[0]
            money = float(line.piece_cost.total) - float(base.lines[0].piece_cost.total)
            assert float(other.cost_difference) == pytest.approx(money * 24, abs=0.02), (
                method.key,
                other.value,
            )


def test_others_of_a_float_and_of_a_cap():
    house = default_house()
    floated = methods(polos(goods__class="scarf"))
    assert [o.value for o in floated["baste"].others] == ["false"]
    capped = methods(polos(goods__class="structured-cap", design__height_mm=50))
    assert {o.value for o in capped["backing"].others} == {"none"}
    assert not capped["hold"].others
    assert house.goods["scarf"].hold == "float"


SMALL = {"design__width_mm": 60, "design__height_mm": 45}
ADVICE = [
    ({"goods__class": "structured-cap", "design__width_mm": 150}, "hoop-none", "stop"),
    ({"design__width_mm": 300, "design__height_mm": 310}, "split-join", "warn"),
    ({"methods__hold": "float", "methods__backing": "none"}, "float-nothing", "stop"),
    (
        {
            "goods__class": "jeans",
            "placement__position": "back-pocket",
            "methods__hold": "hoop",
            "methods__hoop": "100x100",
        },
        "hoop-off",
        "stop",
    ),
    ({"methods__way": 0}, "way-up", "warn"),
    ({"goods__class": "vinyl", "methods__marking": "pen"}, "pen-stays", "warn"),
    ({"methods__needle": "sharp-90-14"}, "needle-wrong", "warn"),
    ({"goods__class": "denim", "methods__needle": "ballpoint-75-11"}, "needle-wrong", "warn"),
    ({"methods__hoop": "40x40"}, "hoop-none", "stop"),
    ({"methods__hoop": "cap-130x60"}, "hoop-none", "stop"),
    (
        {"goods__class": "structured-cap", "methods__machine": "single-flat", **SMALL},
        "hoop-none",
        "stop",
    ),
    ({"design__width_mm": 99, "design__height_mm": 99}, "hoop-tight", "warn"),
    ({"methods__hoop": "130x180"}, "hoop-big", "note"),
    ({"job__house": {"rolls": {"cut-away-medium-500": {"width_mm": 150}}}}, "roll-none", "stop"),
    ({"methods__backing": "tear-away"}, "back-stretch", "warn"),
    ({"methods__backing": "none"}, "back-stretch", "warn"),
    ({"design__stitches": 30_000}, "back-load", "warn"),
    ({"goods__class": "scarf", "methods__bobbin": "white"}, "back-seen", "warn"),
    (
        {"goods__class": "felt", "methods__backing": "cut-away", "methods__bobbin": "match"},
        "back-seen",
        "warn",
    ),
    ({"goods__class": "terry-towel", "methods__topping": "none"}, "top-pile", "warn"),
    ({"design__letter_height_mm": 4.5}, "letter-small", "warn"),
    ({"design__letter_height_mm": 3.4}, "letter-small", "stop"),
    ({"design__letter_height_mm": 6.0, "goods__class": "terry-towel"}, "letter-small", "warn"),
    ({"design__letter_height_mm": 3.9, "methods__thread": "polyester-60"}, "letter-small", "warn"),
    ({"methods__thread": "metallic", "methods__needle": "sharp-75-11"}, "speed-metallic", "warn"),
    (
        {"job__house": {"goods": {"pique-polo": {"thickness_mm": 3.5}}}, "methods__hold": "float"},
        "layers-thick",
        "warn",
    ),
    ({"goods__class": "soft-cap", "design__kind": "lettering", **SMALL}, "cap-flat", "warn"),
    (
        {"goods__class": "structured-cap", "design__width_mm": 50, "design__height_mm": 58},
        "cap-tall",
        "warn",
    ),
    ({"design__width_mm": 111}, "place-big", "warn"),
    ({"placement__place": {"side_mm": 60}}, "seam-near", "warn"),
    ({"goods__class": "woven-shirt", "methods__bobbin": "black"}, "show-through", "warn"),
    ({"methods__bobbin_policy": "run-out"}, "bobbin-mid", "note"),
    ({"design__colours": 11}, "needle-few", "note"),
    ({"line__sample": {"pieces": 0}}, "sample-none", "note"),
    ({"goods__class": "kit-bag", "line__quantity": 1}, "spare-none", "note"),
    ({"goods__class": "kit-bag", "goods__supplied_by": "customer"}, "spare-none", "warn"),
    ({"goods__class": "t-shirt"}, "skin-cover", "note"),
    ({"goods__class": "work-vest"}, "wear-special", "warn"),
    ({"line__unit_price": "6.00"}, "price-floor", "stop"),
    ({"line__unit_price": "9.00"}, "price-floor", "warn"),
    ({"line__unit_price": "12.00"}, "price-margin", "warn"),
    ({"line__unit_price": "40.00"}, "price-crosscheck", "note"),
    ({"job__tier_mode": "stepped"}, "price-inversion", "warn"),
]


@pytest.mark.parametrize(("changes", "code", "level"), ADVICE)
def test_advice(changes, code, level):
    job = polos(**changes)
    found = price(job, compare=False)
    assert (code, level) in {(a.code, a.level) for a in found.lines[0].advice}
    assert found.sendable == all(a.level != "stop" for a in found.lines[0].advice)
    assert (code, level) not in codes(polos())  # and only then
    assert all(a.message and a.fix for a in found.lines[0].advice)


@pytest.mark.parametrize(
    ("goods", "position", "place", "size", "said", "fixed"),
    [
        # 85 wide on a placket 34 wide that ends at 190: 69.5 is 42.5 + 17 + 10
        ("pique-polo", "left-chest", {"side_mm": 69.5}, (85, 60), None, None),
        ("pique-polo", "left-chest", {"side_mm": 68}, (85, 60), "within 8.5 mm", {"side_mm": 70}),
        ("pique-polo", "left-chest", {"side_mm": -20}, (85, 60), "lies over", {"side_mm": -70}),
        ("pique-polo", "left-chest", {"side_mm": 0, "gap_mm": 230}, (85, 60), None, None),
        (
            "pique-polo",
            "left-chest",
            {"side_mm": 0, "gap_mm": 229},
            (85, 60),
            "lies over",
            {"gap_mm": 229, "side_mm": 70},
        ),
        ("t-shirt", "left-chest", {"side_mm": 0}, (85, 60), None, None),
        ("pique-polo", "left-chest", {}, (190, 60), None, None),  # place-big says it
        ("lined-jacket", "full-back", {}, (200, 60), None, None),
        ("structured-cap", "cap-front", {"gap_mm": 10}, (60, 40), None, None),
        (
            "structured-cap",
            "cap-front",
            {"gap_mm": 6},
            (60, 40),
            "within 6 mm of the peak seam",
            {"gap_mm": 10},
        ),
        ("closed-sleeve", "sleeve", {}, (40, 110), "within 5 mm of the cuff", {"gap_mm": 65}),
        (
            "closed-sleeve",
            "sleeve",
            {"turn": 90},
            (110, 40),
            "within 5 mm of the cuff",
            {"turn": 90, "gap_mm": 65},
        ),
        # 125 in along the bisector of a square corner is 88.39 from each edge; on the diagonal
        # 150 x 60 takes (150 + 60) / 1.414 = 148.5 each way
        ("table-linen", "corner", {}, (150, 60), None, None),
        (
            "table-linen",
            "corner",
            {"turn": 0},
            (100, 160),
            "within 8.4 mm of an edge",
            {"turn": 0, "gap_mm": 128},
        ),
        ("table-linen", "corner", {}, (100, 100), None, None),
        ("table-linen", "corner", {}, (100, 130), "within 7.1 mm of an edge", {"gap_mm": 130}),
        ("canvas-bag", "bag", {}, (150, 60), None, None),
        ("canvas-bag", "bag", {"gap_mm": 25}, (150, 60), "lies over the top edge", {"gap_mm": 40}),
    ],
)
def test_what_a_seam_is_near_to(goods, position, place, size, said, fixed):
    job = polos(
        goods__class=goods,
        placement__position=position,
        placement__place=place,
        design__width_mm=size[0],
        design__height_mm=size[1],
    )
    told = [a for a in price(job, compare=False).lines[0].advice if a.code == "seam-near"]
    assert [said in a.message for a in told] == ([True] if said else [])
    for advice in told:
        assert (advice.apply[0]["value"] if advice.apply else None) == fixed
        if fixed:
            assert ("seam-near", "warn") not in codes(apply_patch(job, advice.apply))


def test_a_youths_chest_is_nearer_to_the_placket():
    """Youth is 75 from the centre front: 75 - 55 - 17 leave 3 mm; M to L 100 leave 28."""
    job = polos(design__width_mm=110, line__cells=[{"size": "M", "quantity": 24}])
    assert ("seam-near", "warn") not in codes(job)
    job["lines"][0]["cells"] = [{"size": "M", "quantity": 20}, {"size": "9-10", "quantity": 4}]
    [told] = [a for a in price(job, compare=False).lines[0].advice if a.code == "seam-near"]
    assert "within 3 mm of the front's opening" in told.message


def test_of_two_seams_the_nearer_is_told():
    job = polos(
        placement__position="infant-chest", placement__place={"gap_mm": 5}, design__width_mm=70
    )
    [told] = [a for a in price(job, compare=False).lines[0].advice if a.code == "seam-near"]
    assert "lies over the front's opening" in told.message


def test_a_design_too_wide_to_move_aside_is_not_offered_to():
    wide = {"positions": {"infant-chest": {"max_width_mm": 400}}}
    job = polos(
        goods__class="softshell",
        placement__position="infant-chest",
        design__width_mm=280,
        job__house=wide,
    )
    [told] = [a for a in price(job, compare=False).lines[0].advice if a.code == "seam-near"]
    assert (told.fix, told.apply) == (
        "Leave 10 mm: make it smaller, or put it elsewhere.",
        None,
    )


def test_the_longest_name_is_what_comes_near():
    named = polos(
        goods__class="woven-shirt",
        placement__position="left-chest",
        placement__place={"side_mm": 60},
        placement__methods={"backing": "none"},
        placement__design={"text": "{name}", "height_mm": 12},
        line__names=["Al", "Bo"] * 12,
    )
    assert ("seam-near", "warn") not in codes(named)
    named["lines"][0]["names"][5] = "Wilhelmina"
    assert ("seam-near", "warn") in codes(named)


def test_a_seam_that_is_opened_is_meant_to_be_sewn_over():
    near = polos(placement__place={"side_mm": 0})
    assert ("seam-near", "warn") in codes(near)
    near["lines"][0]["placements"][0]["seam"] = {"length_mm": 120}
    assert ("seam-near", "warn") not in codes(near)
    round_it = polos(placement__place={"side_mm": 0}, placement__band={"length_mm": 400})
    assert ("seam-near", "warn") not in codes(round_it)


def test_no_hoop_and_no_roll_still_give_a_full_estimate():
    """No hoop: backing is cut from the design + 2 x 5 + 40 mm: 200 x 90, one across of 110."""
    caps = {"goods__class": "structured-cap", "placement__position": None}
    line = price(polos(**caps, design__width_mm=150, design__height_mm=40)).lines[0]
    cut = next(m for m in line.materials if m.kind == "backing")
    assert cut.quantity == 24 * 200  # turned: 200 along
    assert float(line.price.unit) > 0
    narrow = {"rolls": {"cut-away-medium-500": {"width_mm": 150}}}
    joined = price(polos(job__house=narrow)).lines[0]
    assert next(m for m in joined.materials if m.kind == "backing").quantity == 24 * 2 * 180


def test_stops_come_first():
    found = price(polos(design__width_mm=300, methods__backing="tear-away")).lines[0].advice
    ranks = [("stop", "warn", "note").index(a.level) for a in found]
    assert ranks == sorted(ranks)


@pytest.mark.parametrize("line", LINES, ids=lambda line: line["goods"]["class"])
@pytest.mark.parametrize(
    "changes",
    [
        {"hoop": "40x40"},
        {"backing": "none"},
        {"topping": "none"},
        {"hold": "float"},
        {"machine": "single-flat"},
        {"bobbin": "black"},
        {"thread": "metallic"},
    ],
    ids=str,
)
def test_fixes_mend_orders_of_every_shape(line, changes):
    job = order(copy.deepcopy(line))
    for placement in job["lines"][0]["placements"]:
        placement.setdefault("methods", {}).update(changes)
    before = price(job, compare=False).lines[0].advice
    stops = {(a.code, a.where) for a in before if a.level == "stop"}
    fixes = [a for a in before if a.apply is not None]
    for advice in fixes:
        after = price(apply_patch(job, advice.apply), compare=False).lines[0].advice
        left = {(a.code, a.where, a.message) for a in after}
        assert (advice.code, advice.where, advice.message) not in left
        assert {(a.code, a.where) for a in after if a.level == "stop"} <= stops


@settings(max_examples=80)
@given(
    changes=st.sampled_from([changes for changes, *_ in ADVICE]),
    also=st.sampled_from([{}, {"methods__layers": 1}, {"line__quantity": 7}]),
)
def test_a_fix_removes_its_advice_and_adds_no_stop(changes, also):
    job = polos(**(changes | also))
    before = price(job, compare=False)
    stops = {a.code for a in before.lines[0].advice if a.level == "stop"}
    for advice in before.lines[0].advice:
        if advice.apply is None:
            continue
        after = price(apply_patch(job, advice.apply), compare=False).lines[0].advice
        assert (advice.code, advice.message) not in {(a.code, a.message) for a in after}
        assert {a.code for a in after if a.level == "stop"} <= stops
