"""Quotes: kept, found, sent, answered, revised; papers, outbox, backups."""

import copy
import csv
import io
import json
import threading
import zipfile

import pytest
from pypdf import PdfReader

from clothyard.core.errors import BadInput, Conflict, NotFound, Stale
from clothyard.core.house.check import kept_house
from clothyard.core.job.check import job_from
from clothyard.demo.stitching import fill, stitch_file
from clothyard.documents.fonts import lacking, printable
from clothyard.services.customer_page import outbox
from clothyard.services.designs.library import keep_design
from clothyard.services.house.standards import NewRow, add_row, change_standard, shop_house
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes.estimates import price_job, pricing_of
from clothyard.services.sending import send as sending
from clothyard.services.sending.send import find_paper
from clothyard.services.workshop import backups
from clothyard.store import links
from clothyard.store.quotes import find_house, find_quote, find_version
from clothyard.store.shop import Shop
from tests.conftest import STUCK, polos
from tests.core.test_advice import apply_patch
from tests.core.test_orders import FLEECES, LABELS, TIE_BACKS, order
from tests.kept import reset_standards


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def document(**changes):
    head = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "notes": "Blue folders"}
    job = changes.pop("job", polos())
    return quotes.QuoteDocument(**(head | changes), job=job)


def made(shop, **changes):
    return quotes.create_quote(shop, document(**changes))


def sent(shop, **changes):
    draft = made(shop, **changes)
    return sending.send_quote(shop, draft.id, seen=draft.revision)


def paper(shop, kind, quote_id=1, version=1):
    return find_paper(shop, quote_id, version, kind).data


def pdf_text(data):
    return "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)


# keeping -----------------------------------------------------------------------------------


def test_a_draft_is_numbered_dated_and_priced(shop):
    one, two = made(shop), made(shop)
    assert (one.number, two.number, one.state, one.revision) == ("Q-0001", "Q-0002", "draft", 1)
    assert one.valid_until == "2026-06-03"  # 30 days on
    assert (one.total, one.summary) == ("364.80", "24 × Piqué polo")
    assert one.estimate.lines[0].price.unit == "15.20"
    again = quotes.find_quote(shop, one.id)
    assert again == one


def test_what_is_typed_is_kept_also_when_it_cannot_be_priced(shop):
    half = {"lines": [{"goods": {"class": "pique-polo"}, "quantity": "two dozen"}]}
    view = made(shop, job=half)
    kept = {"currency": "GBP", "lines": [{"id": "l1"} | half["lines"][0]]}
    assert view.job == kept
    assert view.estimate is None
    assert [p.where for p in view.problems] == ["lines[0].quantity"]
    assert view.lacks == ["what a blank costs", "the design"]
    assert quotes.find_quote(shop, view.id).job == kept
    empty = quotes.create_quote(shop, quotes.QuoteDocument())
    assert (empty.customer, empty.estimate) == ("", None)


def test_what_was_priced_stays_while_one_more_line_is_begun(shop):
    begun = polos()
    begun["lines"].append({"goods": {"class": "scarf"}, "placements": [{"design": {}}]})
    view = made(shop, job=begun)
    assert len(view.estimate.lines) == 1
    assert view.lacks == [
        "what a blank costs (line 2)",
        "how many (line 2)",
        "the design (line 2)",
    ]
    assert (view.total, view.summary) == ("", "")  # it is not a whole price yet
    with pytest.raises(Conflict, match="it lacks what a blank costs"):
        sending.send_quote(shop, view.id, seen=view.revision)


def test_the_save_answers_with_the_price_that_the_screen_shows(shop, monkeypatch):
    view = made(shop)
    priced = []
    price = quotes.pricing_of
    monkeypatch.setattr(quotes, "pricing_of", lambda *a: priced.append(a) or price(*a))
    shown = quotes.Shown(working=True, others=0)
    saved = quotes.save_quote(shop, view.id, document(), seen=view.revision, shown=shown)
    assert len(priced) == 1  # one pricing a change
    line = saved.estimate.lines[0]
    assert line.working
    assert any(method.others for method in line.methods)
    plain = quotes.find_quote(shop, view.id)
    assert len(priced) == 2  # and one when it is opened
    assert not plain.estimate.lines[0].working
    assert plain.estimate.total == saved.estimate.total


def test_a_save_tells_all_of_the_open_line_and_keeps_what_it_needs_of_all(shop):
    """The list's words, its drawing and the rates are of every line, whichever is open."""
    job = polos()
    job["lines"].append(copy.deepcopy(job["lines"][0]))
    job["lines"][1]["placements"][0]["design"] = {"text": "Orrin Hill", "height_mm": 12}
    job["lines"][1]["placements"][0]["methods"] = {"backing": "mesh"}
    view = made(shop, job=job)
    told = []
    for line in (0, 1):
        shown = quotes.Shown(others=line)
        saved = quotes.save_quote(shop, view.id, document(job=job), seen=view.revision, shown=shown)
        assert [each.whole for each in saved.estimate.lines] == [line == 0, line == 1]
        assert [bool(each.places) for each in saved.estimate.lines] == [line == 0, line == 1]
        opened = quotes.find_quote(shop, view.id, shown=shown)
        assert all(each.whole for each in opened.estimate.lines)
        assert opened.estimate.total == saved.estimate.total
        assert (opened.rates, opened.drawn) == (saved.rates, saved.drawn)
        told.append((saved.rates, saved.drawn))
        assert [row.id for row in quotes.list_quotes(shop, search="orrin hill").items] == [view.id]
        view = saved
    assert told[0] == told[1]
    cut_from = {key for key, roll in shop_house(shop).rolls.items() if roll.material == "mesh"}
    assert {f"rolls.{key}.price" for key in cut_from} & {rate.key for rate in told[0][0].rates}


def test_a_version_keeps_the_house_that_priced_it(shop, monkeypatch):
    """A rate changes while papers are drawn: what is kept is what the figures came from."""
    view = made(shop)
    drawn = outbox.pictures

    def slow(*arguments):
        change_standard(shop, "rates.labour_per_h", "40")
        return drawn(*arguments)

    monkeypatch.setattr(outbox, "pictures", slow)
    sending.send_quote(shop, view.id, seen=view.revision)
    version = find_version(shop, view.id, 1)
    house = kept_house(find_house(shop, version.house_sha256))
    assert str(house.rates.labour_per_h) == "16.00"
    again = price_job(shop, job_from(version.job), house, compare=False)
    assert again.total.to_pay == version.estimate["total"]["to_pay"]
    # so is a draft's, when the rate changes while it is saved
    draft = made(shop)
    monkeypatch.setattr(
        quotes,
        "pricing_of",
        lambda *a: (change_standard(shop, "rates.labour_per_h", "50"), pricing_of(*a))[1],
    )
    quotes.save_quote(shop, draft.id, document(), seen=draft.revision)
    with_forty = find_house(shop, find_quote(shop, draft.id).house_sha256)
    assert with_forty["rates"]["labour_per_h"] == "40"


def test_removing_a_line_leaves_every_reason_with_its_own(shop):
    """Two lines under their full cost, one on purpose: taking the first out moves no reason."""
    job = polos(line__unit_price="9.00")
    [line] = job["lines"]
    job["lines"] = [line | {"id": "first"}, line | {"id": "second"}, line | {"id": "third"}]
    job["overruled"] = [{"code": "price-floor", "line": "second", "reason": "goodwill"}]
    view = made(shop, job=job)

    def reasons(estimate):
        return {
            line.id: [a.overruled for a in line.advice if a.code == "price-floor"]
            for line in estimate.lines
        }

    assert reasons(view.estimate) == {"first": [""], "second": ["goodwill"], "third": [""]}
    fewer = view.job | {"lines": view.job["lines"][1:]}
    saved = quotes.save_quote(shop, view.id, document(job=fewer), seen=view.revision)
    assert reasons(saved.estimate) == {"second": ["goodwill"], "third": [""]}


def test_removing_a_place_leaves_every_reason_with_its_own(shop):
    small = {
        "stitches": 900,
        "kind": "lettering",
        "letter_height_mm": 4.2,
        "width_mm": 40,
        "height_mm": 6,
    }
    job = polos()
    job["lines"][0]["placements"] = [{"design": small}, {"design": small, "position": "full-back"}]
    # as the first release wrote it: by position
    job["overruled"] = [
        {"code": "letter-small", "where": "placements[1]", "line": 0, "reason": "they know"}
    ]
    view = made(shop, job=job)

    def reasons(estimate):
        return [(a.of, a.overruled) for a in estimate.lines[0].advice if a.code == "letter-small"]

    assert reasons(view.estimate) == [("l1.p1", ""), ("l1.p2", "they know")]
    assert view.job["overruled"][0] | {"reason": ""} == {
        "code": "letter-small",
        "where": "l1.p2",
        "line": "l1",
        "reason": "",
    }
    view.job["lines"][0]["placements"].pop(0)
    saved = quotes.save_quote(shop, view.id, document(job=view.job), seen=view.revision)
    assert reasons(saved.estimate) == [("l1.p2", "they know")]


def test_saving_raises_the_revision_and_a_stale_save_is_told(shop):
    view = made(shop)
    saved = quotes.save_quote(shop, view.id, document(customer="First"), seen=1)
    assert saved.revision == 2
    with pytest.raises(Stale) as stale:
        quotes.save_quote(shop, view.id, document(customer="Second"), seen=1)
    assert stale.value.kept.customer == "First"
    assert quotes.find_quote(shop, view.id).customer == "First"
    kept = quotes.save_quote(shop, view.id, document(customer="Second"), seen=2)
    assert (kept.revision, kept.customer) == (3, "Second")


@pytest.mark.parametrize("date", ["tomorrow", "2026-02-30", "1/2/2026"])
def test_dates_that_are_none(shop, date):
    with pytest.raises(BadInput, match="no date"):
        made(shop, due_on=date)


def test_only_one_of_many_writers_on_one_revision_wins(shop):
    view = made(shop)
    won, lost = [], []

    def write(n):
        try:
            won.append(quotes.save_quote(shop, view.id, document(customer=f"C{n}"), seen=1))
        except Stale:
            lost.append(n)

    threads = [threading.Thread(target=write, args=(n,)) for n in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert (len(won), len(lost)) == (1, 5)
    assert quotes.find_quote(shop, view.id).customer == won[0].customer


def test_the_list_is_searched_filtered_sorted_and_paged(shop, monkeypatch):
    for n, customer in enumerate(("Ebb & Flow", "Anchor 100%", "Gull_wing", "anchor house")):
        made(shop, customer=customer, due_on=f"2026-07-{10 - n:02d}" if n else "")

    def names(**query):
        return [row.customer for row in quotes.list_quotes(shop, **query).items]

    assert names() == ["anchor house", "Gull_wing", "Anchor 100%", "Ebb & Flow"]
    assert names(search="ANCHOR") == ["anchor house", "Anchor 100%"]
    assert names(search="anchor 100%") == ["Anchor 100%"]
    assert names(search="l_w") == ["Gull_wing"]
    assert names(search="q-0003 polo") == ["Gull_wing"]
    assert names(search="nobody") == []
    assert names(sort="customer") == ["Anchor 100%", "anchor house", "Ebb & Flow", "Gull_wing"]
    assert names(sort="due") == ["anchor house", "Gull_wing", "Anchor 100%", "Ebb & Flow"]
    assert names(sort="number")[-1] == "Ebb & Flow"
    assert len(names(sort="total")) == 4
    page = quotes.list_quotes(shop, limit=3)
    assert (len(page.items), page.total, page.next) == (3, 4, "3")
    assert quotes.list_quotes(shop, limit=3, cursor="3").next is None
    sending.send_quote(shop, 1, seen=1)
    assert names(state="sent") == ["Ebb & Flow"]
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-07-01")
    assert (names(state="sent"), names(state="expired")) == ([], ["Ebb & Flow"])
    assert quotes.find_quote(shop, 1).state == "expired"


def test_copy_delete_and_bring_back(shop, monkeypatch):
    view = made(shop)
    copy = quotes.copy_quote(shop, view.id)
    assert (copy.number, copy.job, copy.customer) == ("Q-0002", view.job, view.customer)
    assert quotes.delete_quote(shop, view.id).deleted
    assert [row.number for row in quotes.list_quotes(shop).items] == ["Q-0002"]
    assert not quotes.restore_quote(shop, view.id).deleted
    assert quotes.list_quotes(shop).total == 2
    quotes.delete_quote(shop, view.id)
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-06-20")
    quotes.delete_quote(shop, copy.id)  # purges what was deleted over 30 days ago
    with pytest.raises(NotFound):
        quotes.find_quote(shop, view.id)
    with pytest.raises(NotFound):
        quotes.delete_quote(shop, 99)


# life --------------------------------------------------------------------------------------


def test_sending_freezes_what_was_sent(shop):
    view = sent(shop)
    assert (view.state, view.version) == ("sent", 1)
    change_standard(shop, "rates.labour_per_h", "40")
    assert quotes.find_quote(shop, view.id).estimate.lines[0].price.unit == "15.20"
    version = find_version(shop, view.id, 1)
    assert version.estimate["lines"][0]["working"]
    assert made(shop).estimate.lines[0].price.unit != "15.20"
    with pytest.raises(Conflict, match="was sent"):
        quotes.save_quote(shop, view.id, document(), seen=view.revision)
    with pytest.raises(Conflict, match="sent already"):
        sending.send_quote(shop, view.id, seen=view.revision)


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"job": polos(**STUCK)}, "fits no hoop"),
        ({"job": polos(line__unit_price="5.00")}, "under what the piece itself costs"),
        ({"job": polos(line__quantity=0)}, "no price yet"),
        ({"job": {}}, "no price yet"),
        ({"customer": "  "}, "no customer"),
        ({"email": "a@b.example\nBcc: c@d.example"}, "no address that can be mailed"),
        ({"email": "chœur@orrin.example"}, "no address that can be mailed"),
        ({"valid_until": "2026-05-03"}, "date is past"),
    ],
)
def test_sending_is_refused(shop, changes, says):
    view = made(shop, **changes)
    with pytest.raises(Conflict, match=says):
        sending.send_quote(shop, view.id, seen=view.revision)
    assert quotes.find_quote(shop, view.id).state == "draft"
    assert outbox.list_mail(shop).items == []
    with pytest.raises(NotFound):
        find_version(shop, view.id, 1)


def test_a_reason_lets_a_low_price_go_out(shop):
    low = polos(line__unit_price="5.00")
    with pytest.raises(Conflict):
        sent(shop, job=low)
    reason = {"code": "price-floor", "reason": "For the lifeboat fund."}
    view = sent(shop, job=low | {"overruled": [reason]})
    assert view.state == "sent"
    [kept] = [a for a in view.estimate.lines[0].advice if a.code == "price-floor"]
    assert kept.overruled == "For the lifeboat fund."


def test_answer_revise_and_send_again(shop):
    view = sent(shop)
    yes = sending.answer_quote(shop, view.id, "accepted", seen=view.revision)
    assert yes.state == "accepted"
    with pytest.raises(Conflict, match="nothing to answer"):
        sending.answer_quote(shop, view.id, "declined", seen=yes.revision)
    draft = sending.revise_quote(shop, view.id, seen=yes.revision)
    assert (draft.state, draft.version) == ("draft", 1)
    with pytest.raises(Conflict, match="a draft already"):
        sending.revise_quote(shop, view.id, seen=draft.revision)
    changed = document(
        due_on="2026-06-01", job=polos(line__quantity=50, methods__backing="tear-away")
    )
    saved = quotes.save_quote(shop, view.id, changed, seen=draft.revision)
    with pytest.raises(Stale):
        sending.send_quote(shop, view.id, seen=draft.revision)
    again = sending.send_quote(shop, view.id, seen=saved.revision)
    assert again.version == 2
    first, second = sending.list_versions(shop, view.id)
    assert (first.answer, first.changes, first.unit) == ("accepted", [], "15.20")
    assert second.answer == ""
    assert "A piece: 15.20 became 14.55." in second.changes
    assert "Quantity: 24 became 50." in second.changes
    assert "Wanted by: none became 2026-06-01." in second.changes
    assert "Backing: none became tear-away." in second.changes
    assert {d.kind for d in second.documents} == {
        "quote",
        "costing",
        "message",
        "tiers",
        "job",
        "estimate",
    }


def test_an_expired_quote_is_revised_with_a_new_date(shop, monkeypatch):
    view = sent(shop)
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-07-01")
    draft = sending.revise_quote(shop, view.id, seen=view.revision)
    assert draft.valid_until == "2026-07-31"
    sending.send_quote(shop, view.id, seen=draft.revision)
    changes = sending.list_versions(shop, view.id)[1].changes
    assert changes == ["Valid until: 2026-06-03 became 2026-07-31."]


def test_a_changed_default_never_moves_a_drafts_price_silently(shop):
    view = made(shop)
    assert quotes.find_quote(shop, view.id).standards_changed == []
    change_standard(shop, "rates.labour_per_h", "32")
    moved = quotes.find_quote(shop, view.id)
    assert moved.standards_changed == ["Rates, labour per h: 16.00 became 32."]
    assert moved.estimate.lines[0].price.unit == "18.15"
    saved = quotes.save_quote(shop, view.id, document(), seen=view.revision)
    assert saved.standards_changed == []
    assert quotes.find_quote(shop, view.id).standards_changed == []


# papers ------------------------------------------------------------------------------------


def test_a_draft_keeps_the_currency_it_was_begun_in(shop):
    change_standard(shop, "price.currency", "EUR")
    view = made(shop)
    assert (view.currency, view.job["currency"], view.estimate.currency) == ("EUR", "EUR", "EUR")
    sending.send_quote(shop, view.id, seen=view.revision)
    assert "€15.20" in pdf_text(paper(shop, "quote"))
    assert "goods 6.40" in pdf_text(paper(shop, "costing"))
    change_standard(shop, "price.currency", "GBP")
    assert quotes.find_quote(shop, view.id).currency == "EUR"
    draft = sending.revise_quote(shop, view.id, seen=quotes.find_quote(shop, view.id).revision)
    assert "currency-differs" in {a.code for a in draft.estimate.lines[0].advice}
    assert draft.standards_changed == ["Pricing, currency: EUR became GBP."]


def test_the_customers_paper_has_the_prices_and_no_cost(shop, crest_files):
    kept = keep_design(shop, crest_files["vp3"], "crest.vp3")
    job = polos(line__digitising="own")
    job["lines"][0]["placements"][0]["design"] = {"sha256": kept.sha256}
    view = sent(shop, job=job)
    line = view.estimate.lines[0]
    data = paper(shop, "quote")
    text = pdf_text(data)
    for amount in (line.price.unit, view.estimate.total.to_pay, *(t.unit for t in line.tiers)):
        assert f"£{amount}" in text, amount
    for words in (
        "Quote Q-0001",
        "Orrin Hill Choir",
        "24 × Piqué polo",
        "Left chest",
        "58.2 × 66 mm",
        "navy",
        "3 June 2026",
        "Blue folders",
        "deposit of 50%",
    ):
        assert words in text, words
    assert "#1d3b6f" not in text  # threads go by their names
    told = text + str(PdfReader(io.BytesIO(data)).metadata) + paper(shop, "message").decode()
    for secret in (
        line.cost.total,
        line.cost.labour,
        line.cost.goods,
        line.piece_cost.total,
        line.price.margin,
        "margin",
        "labour",
        "overhead",
        "cost",
    ):
        assert secret not in told.lower(), secret
    assert paper(shop, "quote") == data  # the bytes that were sent


def test_amounts_on_paper_have_the_currencys_own_decimals(shop):
    change_standard(shop, "price.currency", "JPY")
    sent(shop)
    costing = pdf_text(paper(shop, "costing")).splitlines()
    assert {"goods 6", "JP¥154"} <= {line.strip() for line in costing}


def test_a_shop_that_works_in_inches_writes_them(shop, crest_files):
    change_standard(shop, "shop.units", "imperial")
    view = sent(shop)
    text = pdf_text(paper(shop, "quote")).splitlines()
    assert {"3 3/8 × 2 3/8 in", "3 3/8 in", "2 3/8 in"} <= set(text)
    costing = pdf_text(paper(shop, "costing"))
    yards = f"{view.estimate.threads[0].needed_m / 0.9144:.1f}"
    assert f"Yards\nTo open or buy\n As used\n As bought\npolyester colour 1\n {yards}" in costing
    assert "7 7/8 in below the point" in costing
    marks = view.estimate.lines[0].places[0].marks[0]
    assert (marks.from_reference_mm, marks.side_mm) == (200.0, 100.0)  # figures stay in mm


def test_an_order_of_lines_places_and_names_on_paper(shop):
    """Every line, place, word and name stands on the customer's paper; totals stand once."""
    two_places = copy.deepcopy(FLEECES) | {"names": ["Ada", "", "Zoë"]}
    two_places["placements"][1] = {
        "position": "full-back",
        "design": {"text": "{name}\nROWING", "height_mm": 20},
    }
    view = sent(shop, job=order(two_places, TIE_BACKS, LABELS))
    lines = view.estimate.lines
    words = " ".join(pdf_text(paper(shop, "quote")).split())
    for said in (
        "60 × Fleece",
        "36 × M navy",
        "Left chest",
        "Full back",
        "each own name ROWING",
        "Names on M navy Ada, (blank), Zoë; 33 still to come",
        "14 times along the band",
        "30 × Made in the hoop",
        *(f"£{line.price.unit}" for line in lines),
        f"£{float(view.estimate.total.to_pay):,.2f}",
    ):
        assert said in words, said
    assert words.count("To pay") == 1
    for line in lines:
        assert line.tiers[0].unit_cost[:-2] not in words
    costing = " ".join(pdf_text(paper(shop, "costing")).split())
    assert "Thread of the order" in costing
    assert "Centre mark 200 mm below" in costing
    message = paper(shop, "message").decode()
    assert message.count("By quantity:") == 3
    assert "Names on M navy: Ada, (blank), Zoë; 33 still to come" in message
    rows = list(csv.DictReader(io.StringIO(paper(shop, "tiers").decode())))
    assert {row["line"] for row in rows} == {"1", "2", "3"}
    # the next version: what changed is told with its line
    again = sending.revise_quote(shop, view.id, seen=view.revision)
    job = order(two_places, TIE_BACKS | {"quantity": 6}, LABELS)
    kept = quotes.save_quote(
        shop,
        view.id,
        quotes.QuoteDocument.model_validate(again.model_dump() | {"job": job}),
        seen=again.revision,
    )
    sending.send_quote(shop, view.id, seen=kept.revision)
    changes = sending.list_versions(shop, view.id)[1].changes
    assert "Quantity (line 2): 2 became 6." in changes
    assert any(change.startswith("Line 2, the line:") for change in changes), changes


def test_tax_kits_and_charges_on_paper(shop):
    change_standard(shop, "terms.tax_rate", "0.20")
    job = polos() | {"rush_days": 4}
    job["kits"] = [{"name": "Crew box", "quantity": 12, "lines": [0]}]
    view = sent(shop, job=job)
    total = view.estimate.total
    words = " ".join(pdf_text(paper(shop, "quote")).split())
    message = paper(shop, "message").decode()
    assert f"12 × Crew box £{total.kits[0].unit} £{total.kits[0].line}" in words
    assert f"Rush, 4 days once £{total.charges[0].amount}" in words
    assert f"Tax at 20.0% £{total.tax}" in words
    assert f"Tax at 20.0%: £{total.tax}" in message
    assert f"12 × Crew box at £{total.kits[0].unit}: £{total.kits[0].line}" in message
    assert f"To pay: £{total.to_pay}" in message


def test_the_costing_sheet_has_every_cost_and_the_working(shop):
    view = sent(shop)
    text = pdf_text(paper(shop, "costing"))
    for amount in view.estimate.lines[0].cost.model_dump().values():
        assert f"£{amount}" in text
    assert "(hand + standing by) × rate of an hour" in text
    assert "cut-away stays for life" in text.replace("\n", " ")


def test_papers_for_other_programs(shop):
    view = sent(shop)
    rows = list(csv.reader(io.StringIO(paper(shop, "tiers").decode())))
    assert rows[0] == ["line", "quantity", "unit", "total", "currency"]
    assert rows[4] == ["1", "24", "15.20", "364.80", "GBP"]
    assert json.loads(paper(shop, "job"))["format"] == "clothyard-job/1"
    estimate = json.loads(paper(shop, "estimate"))
    assert estimate["lines"][0]["price"]["unit"] == view.estimate.lines[0].price.unit
    assert "24 pieces at £15.20: £364.80" in paper(shop, "message").decode()


def test_what_the_quote_holds_by_for_customers_own_goods(shop):
    sent(shop, job=polos(goods__supplied_by="customer", goods__liability="12.00"))
    text = paper(shop, "message").decode()
    assert "up to £12.00 a piece" in text
    assert "Goods: supplied by you" in text
    assert "within 10%" in text


def test_letters_the_fonts_lack_are_replaced_not_lost_silently(shop):
    sent(shop, customer="Łódź & Őr 🧵 名")
    assert "Łódź & Őr ? ?" in pdf_text(paper(shop, "quote"))
    assert lacking("Ada £5 × ½ 名") == ["名"]
    assert printable("é\n名") == "é\n?"


def test_the_outbox_holds_readable_messages(shop):
    sent(shop)
    [row] = outbox.list_mail(shop).items
    assert (row.id, row.to, row.subject) == ("Q-0001-v1", "choir@orrin.example", "Quote Q-0001")
    mail = outbox.read_mail(shop, row.id)
    assert mail.attachments == ["Q-0001-v1.pdf"]
    assert "To pay: £364.80" in mail.body
    with pytest.raises(NotFound):
        outbox.read_mail(shop, "../shop")


# backups -----------------------------------------------------------------------------------


def test_backup_and_restore(shop, crest_files):
    sent(shop)
    keep_design(shop, crest_files["dst"], "crest.dst")
    backup = backups.make_backup(shop)
    quotes.delete_quote(shop, 1)
    made(shop)
    assert [row.number for row in quotes.list_quotes(shop).items] == ["Q-0002"]
    backups.restore_backup(shop, backup.name)
    assert [row.number for row in quotes.list_quotes(shop).items] == ["Q-0001"]
    assert paper(shop, "quote").startswith(b"%PDF")
    assert len(backups.list_backups(shop)) == 2  # what was there before is kept too
    assert made(shop).number == "Q-0002"  # and it can be written to again
    with pytest.raises(NotFound):
        backups.restore_backup(shop, "backup-none.zip")


def test_restoring_into_an_empty_shop(shop, tmp_path, crest_files):
    keep_design(shop, crest_files["dst"], "crest.dst")
    sent(shop)
    backups.write_backup(shop, tmp_path / "all.zip")
    other = Shop(tmp_path / "other")
    backups.restore_from(other, tmp_path / "all.zip")
    assert quotes.find_quote(other, 1).state == "sent"
    assert paper(other, "quote") == paper(shop, "quote")
    assert outbox.list_mail(other).items[0].id == "Q-0001-v1"
    other.close()


@pytest.mark.parametrize("what", ["noise", "no database", "outside", "no sqlite"])
def test_what_is_no_backup_changes_nothing(shop, tmp_path, what):
    made(shop)
    path = tmp_path / "bad.zip"
    if what == "noise":
        path.write_bytes(b"PK not really")
    else:
        with zipfile.ZipFile(path, "w") as archive:
            if what == "no database":
                archive.writestr("designs/a", "x")
            else:
                archive.writestr("shop.sqlite3", "not a database at all" * 99)
            if what == "outside":
                archive.writestr("../evil", "x")
    with pytest.raises(BadInput, match="no backup"):
        backups.restore_from(shop, path)
    assert quotes.list_quotes(shop).total == 1
    assert not (tmp_path / "evil").exists()


def test_backup_from_the_command_line(run, shop, tmp_path):
    made(shop)
    code, out, _ = run("backup", tmp_path / "b.zip", "--shop", shop.folder)
    assert (code, "b.zip" in out) == (0, True)
    code, _, _ = run("restore", tmp_path / "b.zip", "--shop", tmp_path / "new")
    assert code == 0
    again = Shop(tmp_path / "new")
    assert quotes.list_quotes(again).total == 1
    again.close()
    assert run("restore", tmp_path / "gone.zip", "--shop", tmp_path / "new")[0] == 2
    assert run("backup", tmp_path / "no" / "b.zip", "--shop", shop.folder)[0] == 2


def test_two_answers_at_once_are_one(shop: Shop):
    """The page checks before it writes; the store says no to whoever comes second all the same."""
    quote = sent(shop)
    word = links.KeptWord(1, "accepted", "A. Person", "", "2026-05-04T10:00:00")
    with shop.unit() as unit:
        links.keep_word(unit, quote.id, word)
    with pytest.raises(Conflict), shop.unit() as unit:
        links.keep_word(unit, quote.id, word)
    assert len(links.list_words(shop, quote.id)) == 1


def test_the_same_again_in_another_number_asks_sizes_and_names_anew(shop: Shop):
    cells = [{"size": "M", "quantity": 20}, {"size": "L", "quantity": 4}]
    quote = sent(shop, job=polos(line__cells=cells))
    [same] = quotes.copy_quote(shop, quote.id, pieces=24).job["lines"]
    assert [cell["size"] for cell in same["cells"]] == ["M", "L"]
    [fewer] = quotes.copy_quote(shop, quote.id, pieces=12).job["lines"]
    assert (fewer["quantity"], "cells" in fewer, "names" in fewer) == (12, False, False)


def test_a_row_added_before_a_column_was_there_still_makes_a_house(shop: Shop):
    add_row(shop, NewRow(section="hoops", like="100x100", label="Old"))
    reset_standards(shop, ["hoops.old.takes_mm"])  # as from a release without it
    hoops = shop_house(shop).hoops
    assert hoops["old"].takes_mm == next(iter(hoops.values())).takes_mm


# files under quotes -------------------------------------------------------------------------


def crest(shop, rows, name="crest.dst"):
    """Keep a fill of so many rows, 0.4 mm each, under a name."""
    points = fill([(0, 0), (20, 0), (20, rows * 0.4), (0, rows * 0.4)])
    data = stitch_file([("#223344", [points])], "dst")
    return keep_design(shop, data, name)


def of_file(shop, sha256, **more):
    job = polos() | more
    job["lines"][0]["placements"][0]["design"] = {"sha256": sha256}
    return made(shop, job=job)


def test_a_file_replaced_under_a_quote_is_told_and_taken_by_one_press(shop, monkeypatch):
    first = crest(shop, 50)
    draft, second = of_file(shop, first.sha256), of_file(shop, first.sha256)
    assert quotes.find_quote(shop, draft.id).files_changed == []
    gone = sending.send_quote(shop, second.id, seen=second.revision)
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-09")
    crest(shop, 90, "other.dst")
    assert quotes.find_quote(shop, draft.id).files_changed == []
    later = crest(shop, 60, "Crest.DST")
    (told,) = quotes.find_quote(shop, draft.id).files_changed
    assert (told.line, told.placement, told.sha256) == ("l1", "l1.p1", first.sha256)
    advice, before, after = told.advice, first.inspection.stitches, later.inspection.stitches
    said = (advice.code, advice.level, advice.where)
    assert said == ("file-changed", "warn", "placements[0].design")
    assert f"came in on 2026-05-09: {before:,} stitches were quoted" in advice.message
    assert (
        f"it has {after:,} ({after / before - 1:+.1%}; over 10%: price it anew)" in advice.message
    )
    taken = apply_patch(draft.job, advice.apply)
    kept = quotes.save_quote(shop, draft.id, document(job=taken), seen=draft.revision)
    assert kept.files_changed == []
    # what was sent stands: it is told, and nothing can be pressed
    (told,) = quotes.find_quote(shop, gone.id).files_changed
    assert (told.advice.apply, told.advice.fix) == (None, "Revise the quote to take it.")
    # the first file again is the newest again
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-11")
    crest(shop, 50)
    assert quotes.find_quote(shop, gone.id).files_changed == []


def test_a_reason_to_keep_the_earlier_file_is_kept(shop, monkeypatch):
    first = crest(shop, 100)
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-09")
    crest(shop, 101)
    against = {"code": "file-changed", "where": "placements[0]", "line": 0, "reason": "as sewn"}
    (told,) = of_file(shop, first.sha256, overruled=[against]).files_changed
    assert told.advice.overruled == "as sewn"
    assert "the price holds within 10%" in told.advice.message
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-10")
    crest(shop, 40)  # far less is to be priced anew too
    (told,) = of_file(shop, first.sha256).files_changed
    assert "over 10%: price it anew" in told.advice.message


@pytest.mark.parametrize(
    "job",
    [
        {},
        {"lines": None},
        {"lines": [3, {"placements": 4}, {"placements": [None]}]},
        {"lines": [{"placements": [{"design": {"sha256": 7}}, {"design": []}]}]},
        {"lines": [{"placements": [{"design": {"sha256": "f" * 64}}]}], "overruled": 5},
    ],
)
def test_what_is_no_job_yet_has_no_files(shop, job):
    assert made(shop, job=job).files_changed == []


def test_the_outbox_is_searched_sorted_and_written_as_a_table(shop, client):
    for who in ("bread@tern.example", "cake@amber.example"):
        quote = quotes.create_quote(shop, document(email=who))
        sending.send_quote(shop, quote.id, seen=quote.revision)
    asked = "/api/v1/outbox?sort=to"
    assert [m["to"][:5] for m in client.get(asked).json()["items"]] == ["bread", "cake@"]
    turned = client.get(f"{asked}&down=true").json()["items"]
    assert [m["to"][:5] for m in turned] == ["cake@", "bread"]
    assert client.get("/api/v1/outbox?search=AMBER").json()["total"] == 1
    assert client.get("/api/v1/outbox?waits=true").json()["total"] == 0
    table = client.get("/api/v1/outbox-lists/outbox.csv?search=amber").content.decode("utf-8-sig")
    heads, row = table.splitlines()
    assert heads == "Message,Sent,To,Subject,Post,Trouble"
    assert row.startswith("Q-0002-v1,")
    assert row.endswith(",cake@amber.example,Quote Q-0002,posted,")


def test_standards_are_written_as_a_table(client):
    asked = "/api/v1/standard-lists/standards.csv"
    client.put("/api/v1/standards/rates.labour_per_h", json={"value": "17"})
    changed = client.get(f"{asked}?changed=true").content.decode("utf-8-sig").splitlines()
    assert [row.split(",")[3] for row in changed] == ["Value", "17"]
    whole = client.get(asked).content.decode("utf-8-sig").splitlines()
    found = client.get(f"{asked}?search=labour+per+h").content.decode("utf-8-sig").splitlines()
    assert 1 < len(found) < 20 < len(whole)
    assert client.get(asked, headers={"X-Costs": "hidden"}).status_code == 403
