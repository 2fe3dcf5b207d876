"""Never stuck on the screen: stopped sendings, a shut post, standards set aside, empty fields."""

from __future__ import annotations

import re
import threading

from playwright.sync_api import Page, expect

from clothyard.services.sending import send as sending
from clothyard.store.models import StandardChange
from clothyard.store.shop import Shop
from tests.browser.conftest import axe
from tests.browser.test_quotes import bar
from tests.browser.test_rest_of_bench import make
from tests.conftest import polos

NAMES = [f"Name {n:03d} of the long list" for n in range(400)]
CELLS = [{"size": f"S{n}", "colour": "navy", "quantity": 2} for n in range(200)]


def answered(page: Page, method: str, path: str, **data: object) -> dict:
    headers = {"origin": page.url.split("/", 3)[0] + "//" + page.url.split("/", 3)[2]}
    done = page.request.fetch(path, method=method, data=data or None, headers=headers)
    assert done.ok, done.text()
    return done.json()


def test_a_long_list_goes_out_is_stopped_waits_for_the_post_and_is_tried_again(
    page: Page, address: str, shop: Shop, monkeypatch, said: list[str]
):
    job = polos(
        line__quantity=400,
        line__names=NAMES,
        line__cells=CELLS,
        placement__design={"text": "{name}", "height_mm": 10},
    )
    page.goto(make(page, address, customer="Long List", email="list@long.example", job=job))
    made, going = sending.sent_paper, threading.Event()

    def slow(kind, sent):
        going.wait(20)
        return made(kind, sent)

    monkeypatch.setattr(sending, "sent_paper", slow)
    page.get_by_role("button", name="Send", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Send it").click()
    expect(dialog.get_by_role("progressbar")).to_be_visible()
    expect(dialog).to_contain_text("Making its papers")
    assert axe(page) == []
    page.keyboard.press("Escape")  # every way out stops it
    expect(dialog).to_contain_text("Stopped. Nothing was sent.")
    going.set()
    monkeypatch.setattr(sending, "sent_paper", made)
    closed = shop.folder / "outbox" / "closed"
    closed.touch()
    dialog.get_by_role("button", name="Send it").click()
    expect(bar(page)).to_contain_text("sent")
    expect(bar(page)).to_contain_text("v1")
    expect(page.locator("h1").first).to_be_focused()  # its dialog and its button are gone
    number = page.locator("h1").first.inner_text().split()[0]
    page.goto("/outbox")
    page.get_by_role("button", name="waits for the post").click()
    expect(page.get_by_role("row").filter(has_text=number)).to_contain_text("waits for the")
    page.get_by_role("button", name=f"Quote {number}").click()
    message = page.get_by_label("Message")
    expect(message).to_contain_text("Not posted yet: the post is shut.")
    expect(message).to_contain_text("Name 399 of the long list")
    assert axe(page) == []
    closed.unlink()
    message.get_by_role("button", name="Try again").click()
    expect(message).not_to_contain_text("Not posted yet")
    expect(message.get_by_role("heading")).to_be_focused()
    assert (shop.folder / "outbox" / f"{number}-v1.eml").exists()
    assert said == []


def test_a_torn_paper_and_a_torn_design_are_told(page: Page, address: str, shop: Shop):
    page.goto(make(page, address, email="a@torn.example"))
    page.get_by_role("button", name="Send", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Send it").click()
    expect(bar(page)).to_contain_text("sent")
    quote_id = int(page.url.rsplit("/", 1)[1])
    papers = answered(page, "GET", f"{address}/api/v1/quotes/{quote_id}/versions")
    assert [d["trouble"] for d in papers["items"][0]["documents"]] == [""] * 6
    with shop.reading() as session:
        sha256 = (
            session.connection()
            .exec_driver_sql(
                f"SELECT sha256 FROM quote_document WHERE kind = 'quote' AND quote_id = {quote_id}"
            )
            .scalar()
        )
    path = shop.documents.path(sha256)
    whole = path.read_bytes()
    path.write_bytes(b"torn")
    page.get_by_role("button", name="Versions").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_role("alert")).to_contain_text("Customer's quote")
    expect(dialog.get_by_role("alert")).to_contain_text("the file is torn")
    expect(dialog.get_by_role("link", name="Costing sheet (PDF, internal)")).to_be_visible()
    path.write_bytes(whole)  # the shop is every test's


def test_standards_that_cannot_be_used_are_told_with_the_way_out(page: Page, shop: Shop):
    with shop.unit() as unit, unit.reading() as session:
        session.add(StandardChange(key="price.margin", value='"2"', changed_on=""))
    page.goto("/workshop/rates")
    told = page.get_by_label("Set aside")
    expect(told).to_contain_text("One standard cannot be used as kept.")
    expect(told).to_contain_text("Pricing, margin: 2 is out of range.")
    assert axe(page) == []
    told.get_by_role("button", name="Go back to the default").click()
    expect(told).to_be_hidden()
    expect(page.get_by_role("heading", name="Workshop")).to_be_focused()


def test_the_pages_fit_the_narrowest_screens(page: Page, address: str):
    made = make(page, address, customer="Llanfair" * 9, job=polos(line__quantity=5000))
    for path, shown in (
        ("/quotes", page.get_by_role("cell", name="Llanfair").first),
        ("/outbox?mail=Q-0005-v2", page.get_by_role("heading").first),
        ("/workshop/rates", page.get_by_role("heading").first),
        ("/workshop/standards", page.get_by_label("Search")),
        ("/workshop/backups", page.get_by_role("heading").first),
        ("/customers", page.get_by_role("link", name="Brackwater Rowing Club")),
        ("/customers/1", page.get_by_label("Name", exact=True)),
        ("/begin/machines", page.get_by_label("Compact 10-needle", exact=True)),
        ("/begin/rates", page.get_by_label("Rates out of a year")),
        (made, page.get_by_role("region", name="Price")),
    ):
        page.goto(path)
        expect(shown).to_be_visible()
        for width in (320, 390, 460, 500, 640, 767):
            page.set_viewport_size({"width": width, "height": 800})
            wide = page.evaluate("() => document.documentElement.scrollWidth")
            assert wide <= width, (path, width, wide)


def test_a_customer_is_told_at_its_field(page: Page, address: str, said: list[str]):
    job = polos(line__names=["Ada", "Zoë"], placement__design={"text": "{name}", "height_mm": 12})
    page.goto(make(page, address, email="a@field.example", job=job))
    quote = f"{address}/api/v1/quotes/{page.url.rsplit('/', 1)[1]}"
    seen = page.request.get(quote).headers["etag"]
    sent = page.request.post(f"{quote}/send", headers={"origin": address, "if-match": seen})
    assert sent.ok
    link = answered(page, "POST", f"{quote}/link")["path"]
    page.goto(link)
    expect(page.get_by_text("Zoë", exact=True)).to_be_visible()  # names stand open to be read
    accept = page.get_by_role("button", name="Accept this quote")
    accept.click()
    name = page.get_by_label("Your name")
    expect(name).to_be_focused()
    expect(name).to_have_accessible_description("Type your name.")
    expect(page.get_by_role("alert")).to_have_count(2)
    assert axe(page) == []
    name.fill("A. Person")
    accept.click()
    tick = page.get_by_role("checkbox")
    expect(tick).to_be_focused()
    expect(tick).to_have_accessible_description(re.compile("Tick it when all of it is right"))
    page.get_by_role("button", name="Ask for a change").click()
    page.get_by_role("button", name="Send it to the shop").click()
    words = page.get_by_label("What is to be different")
    expect(words).to_be_focused()
    words.fill("Zoé with the other accent.")
    page.get_by_role("button", name="Send it to the shop").click()
    expect(page.get_by_label("What you said")).to_be_focused()
    expect(page.get_by_label("What you said")).to_contain_text("Zoé with the other accent.")
    answered(page, "DELETE", quote)
    page.reload()
    expect(page.get_by_role("status")).to_contain_text("The shop has taken this quote back.")
    expect(page.get_by_role("form", name="Your answer")).to_be_hidden()
    assert said == []
