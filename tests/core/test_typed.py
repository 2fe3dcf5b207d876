"""What people type is read by the core alone, and the answer shows how it was read."""

import pytest

from clothyard.core.errors import BadInput
from clothyard.core.job.begun import lacking, priceable
from clothyard.core.job.check import job_from
from tests.conftest import polos, price

TYPED = [
    ("line__quantity", "8.2k", "lines[0].quantity", "8200", ""),
    ("line__quantity", "1 200", "lines[0].quantity", "1200", ""),
    ("goods__unit_cost", "£6.40", "lines[0].goods.unit_cost", "6.4", ""),
    ("goods__unit_cost", "6,40", "lines[0].goods.unit_cost", "6.4", ""),
    ("goods__unit_cost", "1.234,50", "lines[0].goods.unit_cost", "1234.5", ""),
    ("job__margin", "35 %", "margin", "0.35", ""),
    ("line__discount", "7,5%", "lines[0].discount", "0.075", ""),
    ("design__width_mm", "3 1/2 in", "lines[0].placements[0].design.width_mm", "88.9", "mm"),
    ("design__height_mm", "6cm", "lines[0].placements[0].design.height_mm", "60", "mm"),
    ("design__stitches", "8,200", "lines[0].placements[0].design.stitches", "8200", ""),
    ("placement__place", {"tilt_deg": "−2,5"}, "lines[0].placements[0].place.tilt_deg", "-2.5", ""),
]


@pytest.mark.parametrize(("key", "typed", "where", "value", "unit"), TYPED)
def test_typed_text_is_read_and_told(key, typed, where, value, unit):
    found = price(polos(job__currency="GBP", **{key: typed}), compare=False)
    said = next(iter(typed.values())) if isinstance(typed, dict) else typed
    assert [r.model_dump() for r in found.read] == [
        {"where": where, "typed": said, "value": value, "unit": unit}
    ]


def test_plain_digits_are_not_told():
    found = price(polos(line__quantity="24", goods__unit_cost="6.40", design__width_mm="85"))
    assert found.read == []
    same = price(polos())
    assert found.total == same.total


@pytest.mark.parametrize(
    ("key", "typed", "says"),
    [
        ("goods__unit_cost", "€6.40", "must be a number, not '€6.40'"),
        ("goods__unit_cost", "6.40 USD", "must be a number"),
        ("line__quantity", "24 pcs", "must be a whole number, not '24 pcs'"),
        ("line__quantity", "2,5", "must be a whole number"),
        ("line__quantity", "1,2,3", "must be a whole number"),
        ("job__margin", "a third", "must be a number"),
        ("job__margin", "100 %", "less than 1"),
        ("design__trims", "🧵", "must be a whole number"),
    ],
)
def test_what_is_no_number_stays_as_typed_and_is_refused(key, typed, says):
    with pytest.raises(BadInput) as refused:
        price(polos(**{key: typed}))
    assert says in refused.value.line()


def test_the_sign_of_the_jobs_currency_alone_is_taken_off():
    assert job_from(polos(job__currency="EUR", goods__unit_cost="6,40 €"))
    assert job_from(polos(goods__unit_cost="$5"), currency="USD")
    with pytest.raises(BadInput):
        job_from(polos(job__currency="EUR", goods__unit_cost="£6.40"))


def test_cells_say_how_many_when_the_line_does_not():
    cells = [{"size": "M", "quantity": "1k"}, {"size": "L", "quantity": 24}]
    assert job_from(polos(line__quantity=None, line__cells=cells)).lines[0].quantity == 1024
    with pytest.raises(BadInput) as refused:
        job_from(polos(line__quantity=None, line__cells=[{"quantity": "some"}]))
    assert "lines[0].cells[0].quantity" in refused.value.line()


LACKS = [
    ({}, ["the goods", "how many", "the design"]),
    (polos(goods__unit_cost=None), ["what a blank costs"]),
    (polos(goods__unit_cost=None, goods__supplied_by="customer"), []),
    (polos(goods__unit_cost=" ", goods__blank="harbour-polo"), []),
    (polos(line__quantity=""), ["how many"]),
    (polos(line__quantity=None, line__cells=[{"quantity": 3}]), []),
    (polos(goods__unit_cost=None, line__cells=[{"quantity": 24, "unit_cost": "6"}]), []),
    (polos(placement__design={"sha256": "", "repeat": True}), ["the design"]),
]


@pytest.mark.parametrize(("job", "lacks"), LACKS)
def test_what_is_still_asked(job, lacks):
    assert lacking(job) == lacks
    assert (priceable(job) is not None) == (not lacks)


def test_what_is_done_is_priced_while_a_place_is_begun():
    job = polos()
    job["lines"][0]["placements"].append({"design": {"text": " "}})
    assert lacking(job) == ["the design of place 2"]
    assert len(priceable(job)["lines"][0]["placements"]) == 1
    assert priceable(job | {"kits": [{"lines": ["l1"]}]}) is None
    assert priceable({"lines": [{}, *polos()["lines"]]}) is None  # the first is only begun
