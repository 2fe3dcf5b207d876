"""Renew docs/screenshots: one current picture of each main view, from the demo data."""

from __future__ import annotations

import os
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable
from pathlib import Path

import uvicorn
from playwright.sync_api import Page, sync_playwright

from clothyard.api.app import create_app
from clothyard.demo.build import demo_shop
from clothyard.store.quotes import find_document

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"
PORT = 8649


BASE = f"http://127.0.0.1:{PORT}"


def listing(page: Page) -> None:
    """The list of quotes, in every state."""
    page.goto(f"{BASE}/quotes")
    page.get_by_role("link", name="Q-0001").wait_for()


def polos(page: Page) -> None:
    """24 polos with the rowing club's crest, priced."""
    page.goto(f"{BASE}/quotes")
    page.get_by_role("button", name="New quote").click()
    page.get_by_label("Goods", exact=True).select_option("blank:harbour-polo")
    page.get_by_label("How many", exact=True).fill("24")
    page.get_by_label("Or one that is here").select_option(
        label="rowing-club-crest.pes, 4,832 stitches"
    )
    page.get_by_label("Customer", exact=True).fill("Brackwater Rowing Club")
    page.get_by_test_id("unit-price").wait_for()
    page.get_by_text("Saved", exact=True).wait_for()


def with_working(page: Page) -> None:
    """The same, another backing chosen, a working opened."""
    polos(page)
    page.get_by_label("The making").get_by_label("Backing", exact=True).select_option(
        "tear-away-medium"
    )
    page.get_by_text("stretches").wait_for()
    page.get_by_role("button", name="handwork").first.click()
    page.get_by_label("Working", exact=True).get_by_text("rate").first.wait_for()


def names(page: Page) -> None:
    """24 dog coats in three sizes, a paw and a name on each."""
    page.goto(f"{BASE}/quotes/11")
    page.get_by_label("Places").get_by_role("button").nth(1).click()
    page.get_by_label("Names on S moss").scroll_into_view_if_needed()
    page.get_by_text("3 of 5").wait_for()


def hidden(page: Page) -> None:
    """Costs out of sight: what a customer may look at."""
    page.goto(f"{BASE}/quotes/11")
    page.get_by_test_id("unit-price").wait_for()
    page.keyboard.press("Alt+m")
    page.get_by_role("button", name="Show costs").wait_for()
    page.get_by_test_id("unit-price").wait_for()


def versions(page: Page) -> None:
    """A quote sent twice: what changed, and its papers."""
    page.goto(f"{BASE}/quotes/5")
    page.get_by_role("button", name="Versions").click()
    page.get_by_role("dialog").get_by_text("became").first.wait_for()


def customer_kept(page: Page) -> None:
    """A customer: how they are reached, what was agreed, what they order."""
    page.goto(f"{BASE}/customers")
    page.get_by_role("link", name="Brackwater Rowing Club").click()
    page.get_by_text("Their quotes").wait_for()
    page.get_by_role("link", name="Q-0009").wait_for()


def first_hour(page: Page) -> None:
    """A step of the first hour: thread and backing."""
    page.goto(f"{BASE}/begin/shelf")
    page.get_by_role("button", name="Marigold").wait_for()
    page.get_by_text("what you change shows here").wait_for()


def made(page: Page) -> None:
    """Ten key tabs made in the hoop: layers, what hands do, all that share the hoop."""
    page.goto(f"{BASE}/quotes")
    page.get_by_role("button", name="New quote").click()
    page.get_by_role("button", name="Key tab").click()
    page.get_by_label("How many of it").fill("10")
    page.get_by_role("button", name="Begin", exact=True).click()
    page.get_by_test_id("unit-price").wait_for()
    page.get_by_label("Steps by hand").wait_for()


def order(page: Page) -> None:
    """An order: what it needs, its pieces, its money."""
    page.goto(f"{BASE}/orders")
    page.locator("tbody a").first.click()
    page.get_by_label("Get ready").wait_for()


def picker(page: Page) -> None:
    """A new quote: what is it sewn on?"""
    page.goto(f"{BASE}/quotes")
    page.get_by_role("button", name="New quote").click()
    page.get_by_role("button", name="Harbour polo").wait_for()


def price_opened(page: Page) -> None:
    """The price opened: three ways, the curve."""
    polos(page)
    page.get_by_role("button", name="more on it").click()
    page.get_by_label("The price, opened").wait_for()


def side_by_side(page: Page) -> None:
    """The same on another machine, floated, and more of them."""
    polos(page)
    page.get_by_role("button", name="side by side").click()
    page.get_by_label("Lay beside it").select_option("machine single-flat")
    page.get_by_label("Lay beside it").select_option("hold float")
    page.get_by_label("or as many as").fill("60")
    page.get_by_role("button", name="Lay beside", exact=True).click()
    page.get_by_role("group", name="60 pieces", exact=True).wait_for()


def customers_page(page: Page) -> None:
    """What a customer reads, by link."""
    found = page.request.post(f"{BASE}/api/v1/quotes/5/link", headers={"origin": BASE}).json()
    page.goto(f"{BASE}{found['path']}")
    page.get_by_role("heading", name="Quote Q-0005").wait_for()
    page.wait_for_timeout(500)


def workshop(page: Page) -> None:
    """Machines and hoops, a rate changed, and what it does to a sample price."""
    page.goto(f"{BASE}/workshop/machines")
    rate = page.get_by_label("Compact 10-needle, rate per h")
    rate.fill("4.50")
    rate.press("Enter")
    page.get_by_text("became £").wait_for()
    page.locator(".toasts").get_by_role("button", name="Close this message").click()


def shelf(page: Page) -> None:
    """Blanks: what they cost from each number on, and what a dearer one does to a price."""
    page.request.delete(f"{BASE}/api/v1/standards", headers={"origin": BASE})
    page.goto(f"{BASE}/shelf/blanks")
    page.get_by_text("what you change shows here").wait_for()
    prices = page.get_by_label("Harbour polo, prices")
    prices.fill("6.40, 50: 5.95, 100: 5.40")
    prices.press("Enter")
    page.get_by_text("became").first.wait_for()


VIEWS: dict[str, tuple[tuple[int, int], Callable[[Page], None]]] = {
    "quotes": ((1280, 800), listing),
    "versions": ((1280, 800), versions),
    "customers": ((1280, 800), customer_kept),
    "first-hour": ((1280, 800), first_hour),
    "bench": ((1280, 800), polos),
    "bench-working": ((1280, 800), with_working),
    "bench-narrow": ((390, 844), polos),
    "bench-names": ((1280, 800), names),
    "bench-made": ((1280, 800), made),
    "bench-customer": ((1280, 800), hidden),
    "bench-goods": ((1280, 800), picker),
    "bench-price": ((1280, 800), price_opened),
    "bench-compare": ((1280, 800), side_by_side),
    "customer": ((1280, 800), customers_page),
    "order": ((1280, 800), order),
    "workshop": ((1280, 800), workshop),
    "shelf": ((1280, 800), shelf),
}


def main() -> None:
    """Serve a fresh sample shop and photograph each view."""
    os.environ["CLOTHYARD_TODAY"] = "2026-05-04"
    FOLDER.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        shop = demo_shop(Path(folder) / "demo")
        server = uvicorn.Server(uvicorn.Config(create_app(shop), port=PORT, log_level="warning"))
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.05)
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium")
        for name, ((width, height), show) in VIEWS.items():
            page = browser.new_page(viewport={"width": width, "height": height})
            show(page)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
            print(f"docs/screenshots/{name}.png")
        browser.close()
        for kind in ("quote", "costing"):
            document = find_document(shop, 5, 2, kind)
            pdf = Path(folder) / document.name
            pdf.write_bytes(document.data)
            target = FOLDER / f"paper-{kind}"
            subprocess.run(["pdftoppm", "-png", "-r", "75", "-singlefile", pdf, target], check=True)
            print(f"docs/screenshots/paper-{kind}.png")
        server.should_exit = True


if __name__ == "__main__":
    main()
