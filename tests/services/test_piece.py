"""The piece on paper: the same drawings and the same places as on the screens."""

import io

import pytest
from pypdf import PdfReader

from clothyard.core.house.check import default_house
from clothyard.core.house.document import OWN_DRAWING
from clothyard.documents.piece import anchor_of, drawings, extent, spot_on, view_of, washed
from clothyard.services.quotes.drafts import QuoteDocument, create_quote
from clothyard.services.sending import send as sending
from tests.conftest import polos

HOUSE = default_house()


def test_every_class_has_a_drawing_and_every_place_a_view_or_none():
    known = drawings()
    for class_id, goods in HOUSE.goods.items():
        views = known[class_id if goods.drawing == OWN_DRAWING else goods.drawing]
        for view in views:
            x, y, width, height = extent(view)
            assert width > 20
            assert height > 20
            for ax, ay in view["anchors"].values():
                assert x - 60 <= ax <= x + width + 60, (class_id, view["side"])
                assert y - 60 <= ay <= y + height + 60, (class_id, view["side"])


def test_a_place_is_shown_on_its_side_and_its_mark_lies_where_it_is_measured():
    views, position = drawings()["t-shirt"], HOUSE.positions["left-chest"]
    n = view_of(views, position)
    assert views[n]["side"] == "front"
    x, y = spot_on(views[n], position, from_reference_mm=200, x_mm=100, y_mm=200)
    ax, ay = views[n]["anchors"][anchor_of(position.reference)]
    assert (x, y) == (ax + 100, ay + 200)
    back = HOUSE.positions["full-back"]
    assert views[view_of(views, back)]["side"] == "back"


@pytest.mark.parametrize("corner", [True, False])
def test_a_corner_is_measured_inwards(corner):
    views = drawings()["table-linen"]
    position = HOUSE.positions["corner" if corner else "centre"]
    n = view_of(views, position)
    x, y = spot_on(views[n], position, from_reference_mm=10, x_mm=10, y_mm=10)
    ax, ay = views[n]["anchors"][anchor_of(position.reference)]
    assert (x < ax) == corner
    assert (y < ay) == corner


def test_a_wash_is_lighter_than_its_cloth_and_undyed_without_one():
    navy, plain = washed("#17284d"), washed(None)
    assert 0x17 / 255 < navy.red < plain.red
    assert plain.red == pytest.approx(0.75 * 0xE6 / 255 + 0.25)


def test_the_customers_paper_draws_the_piece(shop):
    job = polos(line__cells=[{"colour": "navy", "quantity": 24}])
    made = create_quote(shop, QuoteDocument(customer="Tern", job=job))
    paper = sending.preview_paper(shop, made.id)
    drawn = PdfReader(io.BytesIO(paper.data)).pages[0].get_contents().get_data().decode("latin-1")
    red, green, blue = washed("#17284d").rgb()
    assert f"{red:.6f}"[:5].lstrip("0") in drawn
    assert drawn.count(" c ") > 20  # the polo's curves
    assert green < blue
