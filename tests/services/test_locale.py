"""Figures and dates as the shop has them; documents for other programs stay exact."""

import csv
import io

import pytest
from pypdf import PdfReader

from clothyard.core.errors import BadInput
from clothyard.services.house.standards import change_standard
from clothyard.services.quotes.drafts import QuoteDocument, create_quote
from clothyard.services.sending import send as sending
from clothyard.services.sending.send import find_paper
from tests.conftest import polos


def words(data: bytes) -> str:
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    return " ".join(text.split())


@pytest.mark.parametrize(
    ("locale", "price", "day"),
    [
        ("en-GB", "£15.20", "4 May 2026"),
        ("en-US", "£15.20", "May 4, 2026"),
        ("de-DE", "15,20 £", "4. Mai 2026"),
        ("fr-FR", "15,20 £GB", "4 mai 2026"),
    ],
)
def test_a_paper_is_written_as_the_shop_writes(shop, monkeypatch, locale, price, day):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
    change_standard(shop, "shop.locale", locale)
    made = create_quote(shop, QuoteDocument(customer="Tern", job=polos()))
    sending.send_quote(shop, made.id, seen=made.revision)
    text = words(find_paper(shop, made.id, 1, "quote").data)
    assert price in text
    assert day in text
    table = find_paper(shop, made.id, 1, "tiers").data.decode()
    assert {row["unit"] for row in csv.DictReader(io.StringIO(table))} >= {"15.20"}
    assert sending.preview_view(shop, made.id).locale == locale


def test_a_locale_that_there_is_none_of_is_refused(shop):
    with pytest.raises(BadInput):
        change_standard(shop, "shop.locale", "xx-XX")
