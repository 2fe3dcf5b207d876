"""Job and House documents: what is refused, and in which words; defaults and their metadata."""

import json
from decimal import Decimal

import pytest

from clothyard.core.errors import BadInput, ClothyardError, NotFound, SeveralBadInputs
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import build_house, default_house, house_json, merge_patch
from clothyard.core.house.document import House
from clothyard.core.house.week_text import READERS
from clothyard.core.job.check import job_from, read_job
from clothyard.core.standards import all_standards
from tests.conftest import polos, price

BAD_JOBS = [
    ({"line__quantity": 0}, "lines[0].quantity", "at least 1"),
    ({"line__quantity": -3}, "lines[0].quantity", "at least 1"),
    ({"line__quantity": 2.5}, "lines[0].quantity", "whole number"),
    ({"line__quantity": "2 dozen"}, "lines[0].quantity", "not '2 dozen'"),
    ({"line__quantity": "2,5"}, "lines[0].quantity", "whole number"),
    ({"line__quantity": True}, "lines[0].quantity", "must be a whole number"),
    ({"line__quantity": 10**9}, "lines[0].quantity", "at most 100000"),
    ({"line__quantity": None}, "lines[0].quantity", "is needed"),
    ({"goods__unit_cost": "-1"}, "lines[0].goods.unit_cost", "at least 0"),
    ({"goods__unit_cost": "cheap"}, "lines[0].goods.unit_cost", "must be a number"),
    ({"goods__unit_cost": "NaN"}, "lines[0].goods.unit_cost", "finite"),
    ({"goods__unit_cost": "1e30"}, "lines[0].goods.unit_cost", "too large"),
    ({"goods__unit_cost": True}, "lines[0].goods.unit_cost", "must be a number"),
    ({"goods__unit_cost": None}, "lines[0].goods.unit_cost", "is needed"),
    ({"goods__class": "pique-polos"}, "lines[0].goods.class", "Did you mean 'pique-polo'?"),
    ({"goods__clas": "x"}, "lines[0].goods.clas", "Did you mean 'class'?"),
    ({"job__margn": "0.3"}, "margn", "Did you mean 'margin'?"),
    ({"job__margin": "1"}, "margin", "less than 1"),
    ({"job__margin": 1.0}, "margin", "less than 1"),
    ({"job__margin": "-0.1"}, "margin", "at least 0"),
    ({"job__currency": "GPB"}, "currency", "unknown currency 'GPB'"),
    ({"job__tiers": [0]}, "tiers[0]", "at least 1"),
    ({"job__tiers": []}, "tiers", "at least 1 item"),
    ({"job__tier_mode": "wavy"}, "tier_mode", "'smooth' or 'stepped'"),
    ({"job__format": "clothyard-job/9"}, "format", "clothyard-job/1"),
    ({"job__lines": []}, "lines", "at least 1 item"),
    ({"job__house": {"price": {"margin": "2"}}}, "house.price.margin", "from 0 to 0.99"),
    ({"job__house": {"price": {"margn": "2"}}}, "house.price.margn", "'price.margin'"),
    (
        {"job__house": {"goods": {"pique-polo": {"stretch": 1.5}}}},
        "house.goods.pique-polo.stretch",
        "a whole number",
    ),
    (
        {"job__house": {"goods": {"pique-polo": {"backing": "felt"}}}},
        "house.goods.pique-polo.backing",
        "unknown id 'felt'",
    ),
    ({"job__house": {"tasks": {"pack": None}}}, "house.tasks", "'pack' is missing"),
    (
        {"job__house": {"putups": {"cone-5000": None, "king-1000": None, "spool-200": None}}},
        "house.putups",
        "no putups",
    ),
    ({"job__house": {"goods": {"new": {"label": "x"}}}}, "house.goods.new.backing", "is needed"),
    (
        {"job__house": {"price": {"fee_share": "0.45"}}, "job__margin": "0.6"},
        "margin",
        "whole price",
    ),
    ({"line__unit_price": "13.505"}, "lines[0].unit_price", "at most 2"),
    ({"line__cells": [{"quantity": 5}]}, "lines[0].cells", "hold 5 pieces, the line 24"),
    ({"line__names": ["Ada"] * 25}, "lines[0].names", "25 names for 24"),
    ({"line__finishing": ["pres"]}, "lines[0].finishing[0]", "Did you mean 'press'?"),
    ({"placement__position": "left-chst"}, "lines[0].placements[0].position", "'left-chest'"),
    ({"methods__backing": "cutaway"}, "lines[0].placements[0].methods.backing", "'cut-away"),
    ({"methods__hoop": "90x90"}, "lines[0].placements[0].methods.hoop", "unknown hoop"),
    ({"methods__hold": "glue"}, "lines[0].placements[0].methods.hold", "'hoop' or 'float'"),
    ({"methods__layers": 9}, "lines[0].placements[0].methods.layers", "at most 6"),
    ({"design__stitches": None}, "lines[0].placements[0].design", "needs just one of"),
    ({"design__sha256": "0" * 64}, "lines[0].placements[0].design", "sha256 and stitches"),
    ({"design__stitches": 600_000}, "lines[0].placements[0].design.stitches", "at most 500000"),
    ({"design__width_mm": "-"}, "lines[0].placements[0].design.width_mm", "must be a number"),
    ({"design__width_mm": "9 hands"}, "lines[0].placements[0].design.width_mm", "no length. Write"),
    ({"design__width_mm": "4 m"}, "lines[0].placements[0].design.width_mm", "at most 3000"),
    ({"design__stitches": 2}, "lines[0].placements[0].design.colours", "more colours"),
    (
        {"design__stitches": None, "design__text": "{name}"},
        "lines[0].placements[0].design.colours",
        "tells it itself",
    ),
    ({"placement__design": {"text": "{number}"}}, "lines[0].placements[0].design.text", "braces"),
    (
        {"placement__design": {"text": "Ada", "face": "plane"}},
        "lines[0].placements[0].design.face",
        "Did you mean 'plain'",
    ),
    ({"placement__design": {"text": " \n"}}, "lines[0].placements[0].design.text", "no words"),
    (
        {"placement__design": {"text": "{name}"}, "line__names": [" "] * 24},
        "lines[0].names",
        "blank",
    ),
    (
        {"placement__band": {"length_mm": 900}, "placement__split": {}},
        "lines[0].placements[0].split",
        "one of band, blocks, together and split",
    ),
    ({"placement__together": {"rows": 2}}, "lines[0].placements[0].together", "both"),
    (
        {"placement__steps": [{"do": "lay", "after_block": 1, "width_mm": 9, "height_mm": 9}]},
        "lines[0].placements[0].steps[0].sheet",
        "needed to lay",
    ),
    ({"placement__steps": [{"do": "turn"}]}, "lines[0].placements[0].steps[0]", "say when"),
    (
        {"placement__steps": [{"do": "turn", "after_block": 4}]},
        "lines[0].placements[0].steps[0].after_block",
        "3 colour blocks",
    ),
    (
        {"placement__steps": [{"do": "turn", "at_stop": 1}]},
        "lines[0].placements[0].steps[0].at_stop",
        "0 stops",
    ),
    (
        {"placement__steps": [{"do": "insert", "after_block": 1, "hardware": "rink"}]},
        "lines[0].placements[0].steps[0].hardware",
        "Did you mean 'ring'",
    ),
    ({"line__hardware": [{"item": "snip"}]}, "lines[0].hardware[0].item", "snap"),
]


@pytest.mark.parametrize(("changes", "where", "says"), BAD_JOBS)
def test_bad_jobs_are_refused_by_place(changes, where, says):
    with pytest.raises(BadInput) as refused:
        price(polos(**changes))
    problems = getattr(refused.value, "problems", [refused.value])
    found = {problem.where: problem.line() for problem in problems}
    assert where in found, found
    assert says in found[where]
    assert "\n" not in refused.value.line()


def test_all_problems_are_told_at_once():
    with pytest.raises(SeveralBadInputs) as refused:
        job_from(polos(line__quantity=0, goods__unit_cost="x", job__margin="3"))
    assert [p.where for p in refused.value.problems] == [
        "lines[0].goods.unit_cost",
        "lines[0].quantity",
        "margin",
    ]


@pytest.mark.parametrize("text", ["", "{", "[]", "7", '{"lines": NaN}', "[" * 9999])
def test_what_is_no_job(text):
    with pytest.raises(BadInput, match="JSON"):
        read_job(text)


def test_a_job_over_2_mb():
    with pytest.raises(BadInput, match="over 2 MB"):
        read_job(" " * 2_000_001)


def test_money_is_read_as_decimal_text():
    as_number = read_job(json.dumps(polos(goods__unit_cost=6.10)))
    as_text = read_job(json.dumps(polos(goods__unit_cost="6.10")))
    assert as_number.lines[0].goods.unit_cost == as_text.lines[0].goods.unit_cost == Decimal("6.1")


def test_a_design_that_was_not_read():
    job = polos()
    job["lines"][0]["placements"][0]["design"] = {"sha256": "a" * 64}
    with pytest.raises(NotFound, match="not here"):
        price(job)


def test_a_house_patch_prices_the_job_its_own_way():
    dearer = price(polos(job__house={"rates": {"labour_per_h": "32.00"}})).lines[0]
    assert dearer.cost.labour == "69.44"  # 2.20267 h x 32
    own = {
        "goods": {"sash": house_json(default_house())["goods"]["scarf"] | {"label": "Sash"}},
        "hoops": {"tiny": house_json(default_house())["hoops"]["40x40"]},
    }
    assert price(polos(job__house=own, goods__class="sash")).lines[0].quantity == 24


def test_no_roll_of_a_material():
    gone = {"rolls": {"mesh-500": None}}
    with pytest.raises(BadInput, match="no roll of 'mesh'"):
        price(polos(job__house=gone, methods__backing="mesh"))


# the house ---------------------------------------------------------------------------------


def leaves(document, prefix=""):
    for key, value in document.items():
        if isinstance(value, dict):
            yield from leaves(value, f"{prefix}{key}.")
        else:
            yield f"{prefix}{key}"


def test_every_default_has_its_metadata_and_none_is_left_over():
    document = house_json(default_house())
    assert document.pop("format") == "clothyard-house/1"
    assert set(leaves(document)) == set(all_standards())
    assert not any(isinstance(v, list) for k, v in document.items() if k != "price")
    for standard in all_standards().values():
        assert standard.reason, standard.key
        assert standard.basis in {"derived", "measured", "trade default", "guess"}
        words = {"text", "id", "choice", "colour", "yes/no", "currency", "address", *READERS}
        numeric = standard.unit not in words
        assert (standard.low is not None and standard.high is not None) == numeric, standard.key


def test_defaults_lie_inside_their_ranges():
    for standard in all_standards().values():
        values = standard.value if isinstance(standard.value, list) else [standard.value]
        if standard.low is not None and standard.high is not None:
            assert all(standard.low <= Decimal(str(v)) <= standard.high for v in values), standard


def test_all_goods_classes_of_the_trade():
    """Ids as the contract lists them."""
    named = (
        "t-shirt pique-polo sweatshirt infant-bodysuit closed-sleeve woven-shirt twill denim "
        "canvas-bag table-linen kitchen-cloth terry-towel robe plush-blanket stuffed-toy "
        "toy-thin-part structured-cap soft-cap knitted-hat softshell vinyl in-the-hoop fleece "
        "lined-jacket kit-bag scarf cushion-cover tunic felt dog-coat work-vest belt stocking "
        "jeans quilt curtain table-runner bib patch lace"
    )
    house = default_house()
    assert " ".join(house.goods) == named
    contract = "left-chest infant-chest full-back cap-front sleeve towel corner bag centre"
    assert set(contract.split()) < set(house.positions)
    assert " ".join(house.machines) == "compact-10 single-flat"
    assert " ".join(house.hoops) == (
        "40x40 70x160 100x100 130x180 160x260 200x300 magnetic-125 cap-130x60"
    )
    towel = house.goods["terry-towel"]
    assert (towel.thickness_mm, towel.pile, towel.back_seen, towel.cap_spm, towel.spoil) == (
        1.1,
        2,
        "partly",
        750,
        0.02,
    )


def test_every_goods_class_gives_a_sendable_estimate():
    """A small design in its usual place: proposals that work for every class."""
    for goods in default_house().goods:
        job = polos(
            goods__class=goods,
            placement__position=None,
            design__stitches=3000,
            design__width_mm=50,
            design__height_mm=30,
        )
        if goods == "in-the-hoop":
            job["lines"][0]["placements"][0]["steps"] = [
                {
                    "do": "lay",
                    "after_block": 0,
                    "sheet": "felt-sheet",
                    "width_mm": 80,
                    "height_mm": 60,
                }
            ]
        assert price(job, compare=False).sendable, goods


def test_merge_patch_is_rfc_7396():
    target = {"a": {"b": 1, "c": 2}, "d": [1]}
    assert merge_patch(target, {"a": {"b": None, "e": 3}, "d": [2]}) == {
        "a": {"c": 2, "e": 3},
        "d": [2],
    }
    assert target == {"a": {"b": 1, "c": 2}, "d": [1]}
    assert merge_patch({"a": 1}, "text") == "text"


def test_the_house_round_trips():
    house = default_house()
    assert House.model_validate(house_json(house)) == house
    assert build_house({}) is house


def test_errors_are_one_family():
    assert issubclass(NotFound, ClothyardError)
    with pytest.raises(ClothyardError):
        estimate(job_from(polos(goods__class="x")), default_house(), {})
