"""From yes to ready: accepted, corrected, short, bought, arrived, laid out, sewn."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from clothyard.standins.scale import SimulatedScale, scale_app
from clothyard.standins.supplier import supplier_app
from tests.browser.conftest import axe
from tests.kept import set_standards
from tests.standin import served


@pytest.fixture
def supplier(shop) -> Iterator[str]:
    """The simulated supplier, served beside; the seed answers this order in part and late."""
    with served(supplier_app(11)) as address:
        set_standards(shop, {"buying.supplier_address": address})
        yield address


@pytest.fixture
def scale(shop) -> Iterator[str]:
    """The simulated scale, served beside."""
    with served(scale_app(SimulatedScale(2))) as address:
        set_standards(shop, {"devices.scale_address": address})
        yield address


def api(page: Page, address: str, method: str, path: str, body=None, *, seen=0) -> dict:
    """Ask the server, as the page would."""
    headers = {"origin": address} | ({"If-Match": f'"r{seen}"'} if seen else {})
    more = {} if body is None else {"data": body}
    answer = page.request.fetch(f"{address}/api/v1{path}", method=method, headers=headers, **more)
    assert answer.ok, answer.text()
    return answer.json()


JOB = {
    "lines": [
        {
            "goods": {"class": "pique-polo", "blank": "harbour-polo"},
            "quantity": 3,
            "names": ["Pernilla", "Gust", "Oda"],
            "cells": [{"size": "S", "colour": "white", "quantity": 3}],
            "placements": [
                {"design": {"text": "{name}", "height_mm": 12, "thread_colours": ["#6a2f5b"]}}
            ],
            "sample": {"pieces": 0},
        }
    ]
}


def test_from_yes_to_ready(page: Page, address: str, said: list[str], supplier: str):
    head = {"customer": "Gannet Sailing School", "email": "", "due_on": "2026-12-20", "job": JOB}
    quote = api(page, address, "POST", "/quotes", head)
    sent = api(page, address, "POST", f"/quotes/{quote['id']}/send", seen=quote["revision"])
    assert sent["state"] == "sent"
    accepts_and_corrects(page, api(page, address, "POST", f"/quotes/{quote['id']}/link")["path"])
    order = f"/orders/{quote['id']}"
    takes_the_correction(page, order)
    is_short(page, order, quote["number"])
    buys_and_books(page)
    for item in (BLANK, THREAD):  # what did not come is brought by hand
        counts(page, item, "900")
    lays_out(page, order, address)
    sews(page, order)
    fits(page)
    assert [line for line in said if "409" not in line and "422" not in line] == []


BLANK, THREAD = "blank|harbour-polo|S white", "thread|polyester|#6a2f5b"


def fits(page: Page) -> None:
    """Nothing runs out of a narrow page."""
    for width in (390, 320):
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("() => document.documentElement.scrollWidth") <= width
    page.set_viewport_size({"width": 1280, "height": 800})


def accepts_and_corrects(page: Page, link: str) -> None:
    """The customer accepts on their page, and corrects a name on the proof."""
    page.goto(link)
    answer = page.get_by_role("form", name="Your answer")
    answer.get_by_label("Your name").fill("Pernilla Gant")
    answer.get_by_label("The pieces, places, colours").check()
    answer.get_by_role("button", name="Accept this quote").click()
    proof = page.get_by_role("form", name="The proof")
    expect(proof).to_be_visible()
    assert axe(page) == []
    proof.get_by_label("Your name").fill("Pernilla Gant")
    proof.get_by_role("button", name="Approve the proof").click()
    expect(proof.get_by_role("alert")).to_contain_text("Tick it")
    expect(proof.get_by_label("Every word and name")).to_be_focused()
    other = page.context.new_page()  # somebody else has the same link
    other.goto(link)
    proof.get_by_role("button", name="Correct Gust").press("Enter")
    field = proof.get_by_label("Gust is to be")
    expect(field).to_be_focused()
    field.fill("Gustav")
    field.press("Enter")
    expect(proof.get_by_text("stood as “Gust”")).to_be_visible()
    proof.get_by_role("button", name="Send 1 correction").press("Enter")
    expect(page.get_by_text("Your corrections are with the shop")).to_be_visible()
    fits(page)
    late = other.get_by_role("form", name="The proof")
    late.get_by_label("Your name").fill("Orla Gant")
    late.get_by_label("Anything else that is to be different (may stay empty)").fill("Red!")
    late.get_by_role("button", name="Send 1 correction").click()
    expect(late.get_by_role("alert")).to_contain_text("Pernilla Gant said something of it")
    expect(
        other.get_by_text("Your corrections are with the shop")
    ).to_be_visible()  # both are shown
    expect(late.get_by_role("button", name="Send 1 correction")).to_be_visible()
    other.close()


def takes_the_correction(page: Page, order: str) -> None:
    """The seller sees it at the order, which cannot begin, and takes it."""
    page.goto(order)
    expect(page.get_by_label("It waits for")).to_contain_text("The customer corrected the proof")
    page.get_by_label("State").select_option("ready")
    expect(page.get_by_role("alert")).to_contain_text("not approved")
    part = page.get_by_role("region", name="The proof")
    expect(part).to_contain_text("“Gust” is to be “Gustav”")
    part.get_by_role("button", name="Take it, at the price as agreed").click()
    expect(part).to_contain_text("by Pernilla Gant")
    expect(page.get_by_text("not approved")).to_have_count(0)  # mended, it is said no more
    expect(page.get_by_label("Changed since yes")).to_contain_text("Gustav")
    expect(page.get_by_role("region", name="Pieces")).to_contain_text("Gustav")


def counts(page: Page, item: str, amount: str) -> None:
    """Count what lies there of an item."""
    page.goto(f"/shelf/item?item={item.replace('|', '%7C').replace('#', '%23')}")
    page.get_by_label(re.compile("How much")).fill(amount)
    page.get_by_label(re.compile("How much")).press("Enter")
    expect(page.get_by_label("Moves").get_by_role("listitem").first).to_contain_text("counted")


def is_short(page: Page, order: str, number: str) -> None:
    """A short cone and two short blanks, told at the order."""
    counts(page, BLANK, "2")
    counts(page, THREAD, "3")
    expect(page.get_by_label("Who needs it")).to_contain_text(number)
    assert axe(page) == []
    page.goto(order)
    held = page.get_by_label("It waits for")
    expect(held).to_contain_text("Harbour polo, S white: 2 short, not ordered yet.")
    expect(held).to_contain_text("Polyester 40, Plum")
    held.get_by_role("link", name="To the buying list").click()


def buys_and_books(page: Page) -> None:
    """Ordered of both suppliers; what was answered stands there; it arrives, in part and whole."""
    expect(page.get_by_role("heading", name="Saltmarsh Blanks").first).to_be_visible()
    assert axe(page) == []
    whole = page.get_by_label("Ordered", exact=True)
    for name in ("Saltmarsh Blanks", "Gull & Reel"):
        bought = page.get_by_role("region", name=name, exact=True)
        bought.get_by_role("button", name="Order it").click()
        ordered = whole.get_by_role("region", name=re.compile(rf"P-\d+ {re.escape(name)}")).first
        expect(ordered).to_contain_text(re.compile("confirmed|in part|late|none left"))
        came = ordered.get_by_label(re.compile("How many of .* came"))
        assert came.count() > 0, "choose a seed of which something comes"
        if name.startswith("Gull"):
            came.first.fill("1")
            ordered.get_by_role("button", name="Book what came").click()
            expect(page.get_by_text("the rest stays open").last).to_be_visible()
        else:
            ordered.get_by_role("button", name="All of it came").click()
            expect(page.get_by_text("All that was to come").last).to_be_visible()


def lays_out(page: Page, order: str, address: str) -> None:
    """It is ready, and its papers are printed and looked at."""
    page.goto(order)
    expect(page.get_by_role("region", name="Get ready")).to_be_visible()
    page.get_by_label("State").select_option("ready")
    expect(page.get_by_text("is ready.")).to_be_visible()
    for name in ("Run sheet", "Template", "Labels"):
        href = page.get_by_label("Papers").get_by_role("link", name=name).get_attribute("href")
        got = page.request.get(f"{address}{href}")
        assert got.body().startswith(b"%PDF"), name
    papers = page.get_by_role("region", name="Papers")
    page.route(
        "**/papers/labels.pdf",
        lambda route: route.fulfill(
            status=422,
            json={"detail": "the labels are wider than the sheet.", "remedy": "Measure."},
        ),
    )
    papers.get_by_role("link", name="Labels").click()
    expect(papers.get_by_role("alert")).to_have_text(
        "The labels are wider than the sheet. Measure."
    )
    held = []
    page.route("**/papers/template.pdf", lambda route: held.append(route))  # noqa: PLW0108
    papers.get_by_role("link", name="Template").click()
    expect(papers.get_by_role("status")).to_contain_text("Template is being set")
    papers.get_by_role("button", name="Stop").click()
    expect(papers.get_by_role("status")).to_be_empty()
    page.unroute_all(behavior="ignoreErrors")
    with page.expect_popup() as opened:
        papers.get_by_role("link", name="Proof").click()
    expect(papers.get_by_role("status")).to_be_empty()
    opened.value.close()
    papers.get_by_role("link", name="on screen").click()
    expect(page.get_by_label("Pieces in sewing order")).to_contain_text("Gustav")
    expect(page.get_by_label("Take care")).to_contain_text("moving needle")
    assert axe(page) == []
    fits(page)


def sews(page: Page, order: str) -> None:
    """The run is looked at; then sewn, one spoiled: a piece more is made, and that is undone."""
    page.goto(order)
    page.get_by_text("The run, simulated").click()
    expect(page.get_by_role("img", name=re.compile("hands 1: busy"))).to_be_visible()
    page.get_by_label("At", exact=True).fill("60")
    expect(page.get_by_text(re.compile("^0:01: .*hands 1 prepare, piece 1"))).to_be_visible()
    page.get_by_role("button", name="How far may it fall?").click()
    expect(page.get_by_text("In 80 of 100 runs it takes")).to_be_visible()
    assert axe(page) == []
    pieces = page.get_by_role("region", name="Pieces")
    pieces.get_by_role("button", name="Choose all").click()
    press = pieces.get_by_role("button", name="Move them")
    press.press("Enter")
    expect(pieces.get_by_role("status")).to_have_text("3 sewn")
    expect(press).to_be_focused()  # it rested while it worked
    press.press("Enter")
    expect(page.get_by_text("Choose the pieces first.")).to_be_visible()
    pieces.get_by_role("checkbox", name=re.compile("^Oda")).check()
    pieces.get_by_label("1 chosen piece to").select_option("spoiled")
    pieces.get_by_role("button", name="Move them").click()
    expect(pieces.get_by_role("alert")).to_contain_text("how the piece was spoiled")
    pieces.get_by_label("How it was spoiled").select_option("holes")
    pieces.get_by_role("button", name="Move them").click()
    expect(pieces.get_by_role("status")).to_have_text("1 waiting, 2 sewn, 1 spoiled")
    page.get_by_role("button", name="Undo").last.click()
    expect(pieces.get_by_role("status")).to_have_text("3 sewn")


def test_the_shelf_is_searched_weighed_and_undone(page: Page, said: list[str], scale: str):
    page.goto("/shelf")
    expect(page.get_by_role("row", name="Polyester 40, Gold")).to_be_visible()
    assert axe(page) == []
    page.get_by_label("Which", exact=True).first.select_option("short")
    expect(page.get_by_role("row", name="Terry towel")).to_be_visible()
    expect(page.get_by_role("row", name="Polyester 40, Gold")).to_have_count(0)
    page.get_by_label("Which", exact=True).first.select_option("")
    page.get_by_label("Search").fill("drawer 1 gold")
    page.get_by_role("link", name="Polyester 40, Gold").press("Enter")
    figures = page.locator("dl").first
    before = figures.inner_text()
    page.get_by_label("What happened").select_option("weighed")
    page.get_by_role("button", name="Read the scale").click()
    expect(page.get_by_label("How much, in g")).not_to_have_value("")
    page.get_by_label("How much, in g").fill("143")
    page.get_by_label("Full ones beside it").fill("0")
    page.get_by_role("button", name="Book it").click()
    expect(figures).to_contain_text("3,000.0 m")
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_label("Moves")).to_contain_text("taken back")
    assert figures.inner_text() == before
    page.get_by_label("How much").fill("many")
    page.get_by_label("What happened").select_option("received")
    page.get_by_role("button", name="Book it").click()
    expect(page.get_by_role("alert")).to_contain_text("Must be a number")
    page.get_by_label("Buy more below").fill("700")
    page.get_by_label("Buy more below").press("Tab")
    page.goto("/shelf/to-buy")
    expect(page.get_by_role("row", name="Polyester 40, Gold").first).to_contain_text("its minimum")
    if (here := page.get_by_role("button", name="All of it is here")).count():
        here.click()  # of what other orders need
        expect(here).to_have_count(0)
    reel = page.get_by_role("region", name="Gull & Reel", exact=True)
    reel.get_by_role("button", name="Write it down").click()
    expect(page.get_by_text("to Gull & Reel is ordered.")).to_be_visible()
    expect(reel).to_have_count(0)
    page.get_by_role("button", name="Undo").last.press("Enter")  # nothing left the house
    expect(reel).to_be_visible()
    expect(page.get_by_role("heading", name="Shelf")).to_be_focused()
    expect(page.get_by_text("does not answer")).to_have_count(0)
    page.goto("/shelf")
    page.get_by_label("Not on the list:").select_option("hardware")
    page.get_by_role("button", name="Open it").click()
    expect(page.get_by_text("Nothing was booked yet.")).to_be_visible()
    for width in (390, 320):
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("() => document.documentElement.scrollWidth") <= width
    assert [line for line in said if "422" not in line] == []


def test_a_quote_looks_ahead_at_shelf_and_papers(page: Page, address: str, said: list[str]):
    job = {
        "lines": [
            JOB["lines"][0]
            | {
                "quantity": 30,
                "names": [],
                "placements": [{"design": {"stitches": 8000, "thread_colours": ["#c9972b"]}}],
                "cells": [{"size": "M", "colour": "navy", "quantity": 30}],
            }
        ]
    }
    quote = api(page, address, "POST", "/quotes", {"customer": "Look Ahead", "job": job})
    page.goto(f"/quotes/{quote['id']}")
    shelf = page.get_by_label("Does the shelf have it?")
    expect(shelf).to_contain_text("The shelf is short of Harbour polo, M navy")
    expect(shelf).to_contain_text("It can be here by")
    when = page.get_by_label("By when?")
    expect(when).to_contain_text("Likely")
    due = page.get_by_label("Due", exact=True)
    assert due.input_value() == ""
    promised = when.get_by_label("Promised")
    expect(promised).not_to_have_value("")  # the safe day, until another is typed
    safe = promised.input_value()
    promised.fill("2099-12-24")
    when.get_by_role("button", name="As worked out").click()
    expect(promised).to_have_value(safe)
    due.fill("2026-01-05")
    expect(when).to_contain_text("It is wanted by 5 Jan 2026.")
    ahead = page.get_by_text("Look ahead on paper")
    for name in ("run sheet", "template", "labels", "proof"):
        href = ahead.get_by_role("link", name=name).get_attribute("href")
        assert page.request.get(f"{address}{href}").body().startswith(b"%PDF"), name
    page.goto("/orders")
    expect(page.get_by_role("row", name=re.compile("Q-0013"))).to_be_visible()
    fits(page)
    page.goto("/orders/plan")
    expect(page.get_by_role("row", name=re.compile("Q-0013 Brackwater"))).to_be_visible()
    assert axe(page) == []
    fits(page)
    assert said == []
