"""A processor slowed six times, every button pressed twice: each press counts once."""

import re

import pytest
from playwright.sync_api import Page, expect

from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.store import orders as kept
from clothyard.store.log import list_events
from tests.browser.test_at_machine import free
from tests.browser.test_rest_of_bench import make
from tests.core.random_jobs import SOAK


def slowed(page: Page):
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 6})


@pytest.mark.skipif(not SOAK, reason="a slowed processor is under make soak")
def test_what_is_pressed_twice_is_done_once(page: Page, address: str, shop):
    slowed(page)
    page.goto("/quotes")
    before = quotes.list_quotes(shop).total
    page.get_by_role("button", name="New quote").dblclick()
    expect(page).to_have_url(re.compile(r"/quotes/\d+$"))
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    assert quotes.list_quotes(shop).total == before + 1
    page.goto(make(page, address, customer="Twice Pressed", email=""))
    id_ = int(page.url.rsplit("/", 1)[1])
    page.get_by_role("button", name=re.compile("^Send")).first.dblclick()
    page.get_by_role("dialog").get_by_role("button", name="Send it").dblclick()
    expect(page.get_by_role("button", name="Accepted")).to_be_visible(timeout=30_000)
    assert len(sending.list_versions(shop, id_)) == 1
    page.get_by_role("button", name="Accepted").dblclick()
    expect(page.get_by_text("Accepted", exact=False).first).to_be_visible()
    page.wait_for_timeout(1500)
    assert quotes.find_quote(shop, id_).state == "accepted"
    page.goto("/workshop/backups")
    page.get_by_role("button", name="Back up now").dblclick()
    expect(page.get_by_text(re.compile(r"backup-.*\.zip")).first).to_be_visible(timeout=30_000)
    page.wait_for_timeout(500)
    assert len(backups.list_backups(shop)) == 1


@pytest.mark.skipif(not SOAK, reason="a slowed processor is under make soak")
def test_at_the_machine_each_press_is_a_piece_however_slow(page: Page, shop):
    order, at = free(shop)
    slowed(page)
    page.goto(at)
    expect(page.get_by_text(re.compile("^Piece 1 of "))).to_be_visible()
    page.get_by_role("button", name="Piece done").dblclick()
    expect(page.get_by_text("Piece 3 of 6")).to_be_visible(timeout=15_000)
    page.get_by_role("button", name="Thread broke").dblclick()
    page.get_by_role("button", name="Take back").dblclick()
    expect(page.get_by_text("kept in this browser")).to_be_hidden(timeout=15_000)
    for _ in range(100):  # what was pressed last may be on its way still
        sewn = [p.state for p in kept.list_pieces(shop, order)].count("sewn")
        if sewn == 2 and page.get_by_text("kept in this browser").is_hidden():
            break
        page.wait_for_timeout(100)
    told = [(e.id[-4:], e.kind, e.piece, e.data) for e in list_events(shop, order)]
    assert sewn == 2, told
    expect(page.get_by_role("alert")).to_have_count(0)


def test_nothing_but_our_own_scripts_runs(page: Page):
    page.goto("/quotes")
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    found = page.evaluate(
        """() => new Promise((done) => {
          const said = [];
          document.addEventListener("securitypolicyviolation", (event) =>
            said.push(event.effectiveDirective));
          const inline = document.createElement("script");
          inline.textContent = "window.ran = true";
          document.head.append(inline);
          const image = new Image();
          image.src = "http://127.0.0.1:9/pixel.png";
          fetch("http://127.0.0.1:9/").catch(() => undefined);
          const frame = document.createElement("iframe");
          frame.src = "https://elsewhere.example/";
          document.body.append(frame);
          setTimeout(() => done({ said, ran: window.ran === true }), 500);
        })"""
    )
    assert not found["ran"]
    assert {"script-src-elem", "img-src", "connect-src", "frame-src"} <= set(found["said"])
