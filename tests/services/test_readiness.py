"""Before sending: what is missing, what is guess, how the customer will see it, and ways back."""

import io

import pytest
from pypdf import PdfReader

from clothyard.core.errors import BadInput, Conflict
from clothyard.services.customer_page.links import CustomerAnswer, answer_link, make_link
from clothyard.services.house.standards import change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes.drafts import QuoteDocument, create_quote, list_quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import readiness
from tests.conftest import polos

AT = "http://127.0.0.1:9001/"


def looked_over(shop, job=None, **head):
    document = QuoteDocument(customer="Ada", job=polos() if job is None else job, **head)
    view = create_quote(shop, document)
    found = readiness.before_sending(shop, view.id, served_at=AT)
    return view, found, {each.code: each for each in found.missing}


def test_a_first_quote_of_a_new_shop_is_told_what_it_lacks(shop):
    _, found, missing = looked_over(shop)
    assert found.ready  # warned of, not stopped
    assert set(missing) == {
        "no-shop-name",
        "no-shop-address",
        "guesses",
        "thread-open",
        "no-email",
    }
    assert "“Your workshop”" in missing["no-shop-name"].message
    # hours 2, thread, machine, bobbin, two rolls, packing, margin
    assert (found.rates.guessed, found.rates.of) == (9, 9)
    assert found.rates.rates[0].key == "rates.labour_per_h"
    assert missing["guesses"].message.startswith("9 of the 9 rates of this price are guesses: ")


def test_what_is_set_is_missing_no_longer(shop):
    change_standard(shop, "shop.name", "Tidewell Stitching")
    change_standard(shop, "shop.address", "3 Rope Walk")
    change_standard(shop, "rates.labour_per_h", "17")
    job = polos(design__thread_colours=["#102030", "#ffffff", "#c4222b"])
    view, found, missing = looked_over(shop, job, email="ada@tidewell.example")
    assert (found.rates.guessed, found.rates.of) == (8, 9)
    assert set(missing) == {"guesses", "link-local"}
    assert (
        "http://127.0.0.1:9001, which opens on this machine only" in missing["link-local"].message
    )
    assert quotes.find_quote(shop, view.id).rates == found.rates  # the bench tells the same
    change_standard(shop, "shop.public_address", "https://tidewell.example")
    again = readiness.before_sending(shop, view.id, served_at=AT)
    assert (again.link, again.link_is_local) == ("https://tidewell.example", False)
    sending.send_quote(shop, view.id, seen=view.revision, served_at=AT)
    link = make_link(shop, view.id, served_at=AT)
    assert link.url.startswith("https://tidewell.example/q/")


@pytest.mark.parametrize("address", ["tidewell.example", "http://", "https://a/b", "ftp://a", ""])
def test_an_address_that_leads_nowhere_is_refused(shop, address):
    with pytest.raises(BadInput):
        change_standard(shop, "shop.public_address", address)


def test_what_stops_it_and_what_is_gone_against_are_listed(shop):
    low = polos(line__unit_price="2.00")
    _, found, missing = looked_over(shop, low)
    assert not found.ready
    assert missing["price-floor"].level == "stop"
    view = create_quote(shop, QuoteDocument(customer="Ada", job=low))
    line = view.job["lines"][0]["id"]
    reasoned = low | {"overruled": [{"code": "price-floor", "line": line, "reason": "goodwill"}]}
    _, found, missing = looked_over(shop, reasoned)
    assert found.ready
    assert (missing["price-floor"].level, missing["price-floor"].reason) == ("note", "goodwill")
    _, found, missing = looked_over(shop, {"lines": [{"goods": {"class": "twill"}}]})
    assert (found.ready, missing["unpriced"].level) == (False, "stop")
    view = create_quote(shop, QuoteDocument(customer=" ", job=polos()))
    found = readiness.before_sending(shop, view.id, served_at=AT)
    assert [each.code for each in found.missing if each.level == "stop"] == ["no-customer"]


def test_a_draft_is_seen_as_its_customer_will_see_it(shop):
    view = create_quote(shop, QuoteDocument(customer="Ada", job=polos(), notes="By the quay."))
    ahead = sending.preview_view(shop, view.id)
    paper = PdfReader(io.BytesIO(sending.preview_paper(shop, view.id).data))
    assert (ahead.customer, ahead.notes, ahead.state) == ("Ada", "By the quay.", "open")
    assert "364.80" in paper.pages[0].extract_text()
    sent = sending.send_quote(shop, view.id, seen=view.revision)
    change_standard(shop, "price.margin", "0.5")  # what was sent is shown as it was
    after = sending.preview_view(shop, sent.id)
    assert (after.to_pay, after.lines) == (ahead.to_pay, ahead.lines)
    with pytest.raises(Conflict, match="no price"):
        sending.preview_view(shop, create_quote(shop, QuoteDocument(customer="B")).id)


@pytest.mark.parametrize("answer", ["accepted", "declined"])
def test_an_answer_noted_by_mistake_is_taken_back(shop, answer):
    view = create_quote(shop, QuoteDocument(customer="Ada", job=polos()))
    sent = sending.send_quote(shop, view.id, seen=view.revision)
    noted = sending.answer_quote(shop, sent.id, answer, seen=sent.revision)
    assert noted.state == answer
    back = sending.take_back_answer(shop, sent.id, seen=noted.revision)
    assert back.state == "sent"
    [version] = sending.list_versions(shop, sent.id)
    assert (version.answer, version.answered_on) == ("", "")
    with pytest.raises(Conflict, match="no answer"):
        sending.take_back_answer(shop, sent.id, seen=back.revision)
    # it waits again, and the customer's own acceptance stands
    link = make_link(shop, sent.id, served_at=AT)
    yes = CustomerAnswer(kind="accepted", name="Ada", agreed=True)
    answer_link(shop, link.path.removeprefix("/q/"), yes)
    now = quotes.find_quote(shop, sent.id)
    with pytest.raises(Conflict, match="their page"):
        sending.take_back_answer(shop, sent.id, seen=now.revision)


def test_the_list_filters_changes_asked_for_and_deleted_quotes(shop):
    view = create_quote(shop, QuoteDocument(customer="Ada", job=polos()))
    other = create_quote(shop, QuoteDocument(customer="Bo", job=polos()))
    sent = sending.send_quote(shop, view.id, seen=view.revision)
    link = make_link(shop, sent.id, served_at=AT)
    asked = CustomerAnswer(kind="change", name="Ada", words="in blue, please")
    answer_link(shop, link.path.removeprefix("/q/"), asked)
    assert [row.id for row in list_quotes(shop, state="change").items] == [view.id]
    quotes.delete_quote(shop, other.id)
    assert [row.id for row in list_quotes(shop).items] == [view.id]
    [gone] = list_quotes(shop, state="deleted").items
    assert (gone.id, gone.deleted) == (other.id, True)
    quotes.restore_quote(shop, other.id)
    assert list_quotes(shop, state="deleted").total == 0


def test_the_list_is_searched_by_design_words_and_amount(shop):
    named = polos(placement__design={"text": "Harbour Crew", "height_mm": 12})
    view = create_quote(shop, QuoteDocument(customer="Ada", job=named))
    create_quote(shop, QuoteDocument(customer="Bo", job=polos()))
    for words in ("harbour", "crew ada", view.total):
        assert [row.id for row in list_quotes(shop, search=words).items] == [view.id], words


def test_the_same_again_of_what_was_only_sent_keeps_its_digitising(shop):
    view = create_quote(shop, QuoteDocument(customer="Ada", job=polos(line__digitising="own")))
    sent = sending.send_quote(shop, view.id, seen=view.revision)

    def charged():
        again = quotes.copy_quote(shop, sent.id, pieces=24)
        return [charge.name for charge in again.estimate.total.charges]

    assert charged() == ["Digitising"]
    sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)
    assert charged() == []  # sewn before


def test_a_day_that_is_too_tight_stands_in_the_sending_dialog(shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
    _, found, missing = looked_over(shop, due_on="2026-05-05")
    assert (found.ready, missing["date-tight"].level) == (True, "warn")
    assert missing["date-tight"].message.startswith("It is wanted by 5 May 2026.")
    assert "date-tight" not in looked_over(shop, due_on="2026-06-30")[2]
