"""A copy of a goods class, under another id, prices and warns as the one it is a copy of."""

import pytest

from clothyard.core.house.check import default_house, house_json
from clothyard.services.house.standards import NewRow, add_row, list_standards
from clothyard.services.quotes.drafts import QuoteDocument, create_quote
from tests.conftest import polos, price

TREE = house_json(default_house())
SEWN = {
    "structured-cap": {"design__height_mm": 58, "design__width_mm": 60, "design__colours": 12},
    "soft-cap": {"design__height_mm": 51, "design__width_mm": 60},
    "terry-towel": {},
    "robe": {},
    "work-vest": {},
    "t-shirt": {},
    "in-the-hoop": {},
    "toy-thin-part": {"design__width_mm": 40, "design__height_mm": 40},
    "pique-polo": {},
}
LETTERS = {"design__kind": "lettering", "design__letter_height_mm": 6}


def told(found):
    line = found.lines[0].model_dump(exclude={"working", "materials"})
    return line | {"total": found.total.model_dump(), "run": found.run.model_dump()}


@pytest.mark.parametrize("goods", SEWN)
def test_a_copy_of_a_class_prices_and_warns_alike(goods):
    house = {"goods": {"our-own": TREE["goods"][goods] | {"drawing": goods}}}
    asked = SEWN[goods] | LETTERS
    one = price(polos(goods__class=goods, **asked), compare=0)
    two = price(polos(goods__class="our-own", job__house=house, **asked), compare=0)
    assert told(one) == told(two)


def test_a_shop_adds_a_class_from_a_copy_of_the_nearest(shop):
    rows = add_row(shop, NewRow(section="goods", like="terry-towel", label="Beach towel"))
    assert {view.key for view in rows} >= {"goods.beach-towel.pile", "goods.beach-towel.family"}
    drawn = next(view for view in rows if view.key == "goods.beach-towel.drawing")
    assert drawn.value == "terry-towel"  # the copy is drawn as what it was copied from
    job = polos(goods__class="beach-towel")
    view = create_quote(shop, QuoteDocument(customer="A", job=job))
    assert view.summary == "24 × Beach towel"
    same = polos(goods__class="terry-towel")
    assert view.total == create_quote(shop, QuoteDocument(customer="A", job=same)).total
    assert any(v.key == "goods.beach-towel.cap_spm" for v in list_standards(shop))
