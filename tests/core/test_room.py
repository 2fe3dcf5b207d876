"""Room at a place: what is larger than cloth allows, or goes into no tube, stops and says so."""

import pytest

from clothyard.core.cloth.room import room_at
from clothyard.core.errors import BadInput
from clothyard.core.house.check import build_house, default_house, house_json
from clothyard.core.job.document import Goods
from tests.conftest import polos, price
from tests.core.test_advice import apply_patch


def asked(goods, width, height, **changes):
    """A piece of a class at its usual place with a design of that size."""
    design = {"design__width_mm": width, "design__height_mm": height, "design__stitches": 3000}
    return polos(**{"goods__class": goods, "placement__position": None} | design | changes)


def told(job, *codes):
    line = price(job).lines[0]
    return {a.code: a for a in line.advice if a.code in (codes or ("room-none", "place-big"))}


@pytest.mark.parametrize(
    ("goods", "width", "height", "takes"),
    [
        ("closed-sleeve", 248, 20, "80 × 160 mm"),
        ("toy-thin-part", 280, 180, "55 × 115 mm"),
        ("stuffed-toy", 290, 180, "90 × 90 mm"),
        ("belt", 60, 190, "32 mm high"),
    ],
)
def test_what_is_larger_than_cloth_allows_stops(goods, width, height, takes):
    found = price(asked(goods, width, height))
    assert not found.sendable
    messages = [a.message for a in found.lines[0].advice if a.code == "room-none"]
    assert any(takes in message for message in messages)
    assert price(asked(goods, 40, 25)).sendable


def test_what_goes_into_no_tube_stops_and_a_room_of_custom_warns():
    """A bodysuit: tube 200 × 1.1 − 10 = 210; the hoop for 190 × 250 measures 240 outside."""
    job = asked("infant-bodysuit", 190, 250)
    assert not price(job).sendable
    found = told(job)
    assert "a hoop's outside may measure 210 mm across" in found["room-none"].message
    assert found["place-big"].level == "warn"
    for size, says in (((110, 60), "75 mm is the most"), ((60, 95), "100 × 90 mm")):
        chest = asked("infant-bodysuit", *size, placement__position="infant-chest")
        line = price(chest).lines[0]
        [said] = [a for a in line.advice if a.code == "place-big"]  # told once, not twice
        assert says in said.message


def test_a_cap_is_told_of_its_height_and_of_its_width_once_each():
    for size, code in (((100, 60), "cap-tall"), ((140, 40), "place-big")):
        advice = price(asked("soft-cap", *size)).lines[0].advice
        assert [a.code for a in advice if a.code in ("cap-tall", "place-big")] == [code]


def test_the_hoop_is_one_whose_outside_goes_in():
    """A sleeve of 135 takes 125: the narrow hoop (110 outside), not 100 × 100 (140)."""
    [hoop] = [m for m in price(asked("closed-sleeve", 60, 80)).lines[0].methods if m.key == "hoop"]
    assert hoop.value == "70x160"
    chosen = told(asked("closed-sleeve", 60, 80, methods__hoop="100x100"), "hoop-none")
    assert "does not go into the tube (125 mm at most)" in chosen["hoop-none"].message
    assert chosen["hoop-none"].apply[0]["value"] == "70x160"


def test_a_name_across_a_sleeve_is_told_by_name():
    names = {"line__names": ["Ada", "Maximiliana Featherstonehaugh"], "line__quantity": 2}
    words = {"placement__design": {"text": "{name}", "height_mm": 20}}
    found = told(
        asked("closed-sleeve", 1, 1)
        | polos(goods__class="closed-sleeve", placement__position="sleeve", **names, **words)
    )
    assert "“Maximiliana Featherstonehaugh”" in found["room-none"].message


def test_the_smallest_size_ordered_has_the_least_room():
    cells = [{"size": "M", "quantity": 12}, {"size": "7-8", "quantity": 12}]
    job = asked("closed-sleeve", 70, 100, line__cells=cells)
    assert "64 × 128 mm" in told(job)["room-none"].message
    cells[1]["size"] = "L"
    assert told(job) == {}


def test_an_opened_seam_lies_flat_and_a_copy_has_its_class_s_room():
    opened = asked("closed-sleeve", 120, 80, placement__seam={"length_mm": 300})
    assert "room-none" not in told(opened)
    goods = house_json(default_house())["goods"]["closed-sleeve"]
    own = goods | {"label": "Own", "drawing": "closed-sleeve"}
    house = build_house({"goods": {"own-sleeve": own}})
    goods_of = Goods.model_validate({"class": "own-sleeve"})
    assert room_at(goods_of, "sleeve", house).width_mm == 80
    assert room_at(goods_of, "left-chest", house).width_mm == 80  # no wider elsewhere


def test_too_wide_for_its_place_is_put_where_it_fits_by_one_press():
    """250 x 200 typed at the left chest of a jacket: the back takes it, and the warning is gone."""
    job = asked("softshell", 250, 200, placement__position="left-chest")
    [told_of] = [a for a in price(job).lines[0].advice if a.code == "place-big"]
    assert told_of.fix == "Put it on the full back, or make it smaller."
    after = price(apply_patch(job, told_of.apply)).lines[0]
    assert after.places[0].position == "full-back"
    assert not {"place-big", "room-none"} & {a.code for a in after.advice}


@pytest.mark.parametrize("goods", ["in-the-hoop", "lace"])
def test_no_blank_is_asked_for_what_is_made_in_the_hoop(goods):
    job = asked(goods, 60, 60, goods__unit_cost=None)
    job["lines"][0]["cells"] = [
        {"colour": "red", "quantity": 10},
        {"colour": "blue", "quantity": 14},
    ]
    job["lines"].append(dict(job["lines"][0]) | {"id": "more"})
    found = price(job, compare=False)
    assert [line.cost.goods for line in found.lines] == ["0.00", "0.00"]
    assert all(float(line.price.unit) > 0 for line in found.lines)
    with pytest.raises(BadInput, match="is needed"):
        price(asked("felt", 60, 60, goods__unit_cost=None))
