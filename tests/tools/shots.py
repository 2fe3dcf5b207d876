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
from clothyard.services.house.standards import change_standard
from clothyard.services.papers.papers import order_paper
from clothyard.services.sending.send import find_paper
from clothyard.standins.machine import SimulatedMachine, Truths, machine_app
from tests.browser.conftest import CHROMIUM

FOLDER = Path(__file__).parents[2] / "docs" / "screenshots"
PORT = 8649


MACHINE = SimulatedMachine(1, Truths(breaks_1000=1e-9))
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


def customer_kept(page: Page) -> None:
    """A customer: how they are reached, what was agreed, what they order."""
    page.goto(f"{BASE}/customers")
    page.get_by_role("link", name="Brackwater Rowing Club").click()
    page.get_by_text("Their quotes").wait_for()
    page.get_by_role("link", name="Q-0009").wait_for()


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
    """An order that waits: its proof is corrected, blanks are short."""
    page.goto(f"{BASE}/orders/15")
    page.get_by_role("button", name="Take it, at the price as agreed").wait_for()


def stock(page: Page) -> None:
    """The shelf: on hand, promised, free, short, worth."""
    page.goto(f"{BASE}/shelf")
    page.get_by_role("link", name="Terry towel").wait_for()


def plan(page: Page) -> None:
    """Open orders over the coming days."""
    page.goto(f"{BASE}/orders/plan")
    page.get_by_role("link", name="Q-0018").wait_for()


def run(page: Page) -> None:
    """An order's run simulated: who waits for whom."""
    page.goto(f"{BASE}/orders/15")
    page.get_by_text("The run, simulated").click()
    page.get_by_label("At", exact=True).fill("2000")
    page.get_by_role("button", name="How far may it fall?").click()
    page.get_by_text("In 80 of 100 runs").wait_for()
    page.get_by_text("In 80 of 100 runs").scroll_into_view_if_needed()


def today(page: Page) -> None:
    """What needs the seller now, each row one press from done."""
    page.goto(f"{BASE}/")
    page.get_by_role("heading", name="On the machines").wait_for()


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


def at_machine(page: Page) -> None:
    """A pass at the machine, half of the piece sewn."""
    page.goto(f"{BASE}/orders/13/run/l1.p1.run")
    page.get_by_role("button", name="Send it the design").click()
    page.get_by_role("button", name="Start this piece").click()
    page.get_by_text("It sews, needle").wait_for()
    MACHINE.times = 60
    while MACHINE.told().stitch < 620:
        page.wait_for_timeout(20)
    MACHINE.times = 1
    page.wait_for_timeout(1200)


def the_log(page: Page) -> None:
    """Finished passes, estimated beside actual, in words."""
    page.goto(f"{BASE}/log")
    page.get_by_role("row", name="Q-0004").wait_for()


def learn(page: Page) -> None:
    """What the log teaches of hooping, and what it does to prices."""
    page.goto(f"{BASE}/log/learn")
    page.get_by_text("→").first.wait_for()


def pays(page: Page) -> None:
    """What is left for an hour of hands, by order, and what the price list should change."""
    page.goto(f"{BASE}/log/pays")
    page.get_by_text("What the price list should change").wait_for()


VIEWS: dict[str, tuple[tuple[int, int], Callable[[Page], None]]] = {
    "quotes": ((1280, 800), listing),
    "customers": ((1280, 800), customer_kept),
    "bench": ((1280, 800), polos),
    "bench-working": ((1280, 800), with_working),
    "bench-narrow": ((390, 844), polos),
    "bench-made": ((1280, 800), made),
    "customer": ((1280, 800), customers_page),
    "order": ((1280, 800), order),
    "workshop": ((1280, 800), workshop),
    "stock": ((1280, 800), stock),
    "today": ((1280, 800), today),
    "plan": ((1280, 800), plan),
    "run": ((1280, 800), run),
    "machine": ((1024, 768), at_machine),
    "log": ((1280, 800), the_log),
    "learn": ((1280, 800), learn),
    "pays": ((1280, 800), pays),
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
        made = uvicorn.Config(machine_app(MACHINE), port=PORT + 1, log_level="warning")
        threading.Thread(target=uvicorn.Server(made).run, daemon=True).start()
        change_standard(shop, "machines.compact-10.address", f"http://127.0.0.1:{PORT + 1}")
        browser = playwright.chromium.launch(executable_path=CHROMIUM)
        for name, ((width, height), show) in VIEWS.items():
            page = browser.new_page(viewport={"width": width, "height": height})
            show(page)
            page.wait_for_timeout(500)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
            print(f"docs/screenshots/{name}.png")
        browser.close()
        for kind, data in (
            ("quote", find_paper(shop, 5, 2, "quote").data),
            ("template", order_paper(shop, 15, "template", served_at=BASE).data),
        ):
            pdf = Path(folder) / f"{kind}.pdf"
            pdf.write_bytes(data)
            target = FOLDER / f"paper-{kind}"
            subprocess.run(["pdftoppm", "-png", "-r", "75", "-singlefile", pdf, target], check=True)
            print(f"docs/screenshots/paper-{kind}.png")
        server.should_exit = True


if __name__ == "__main__":
    main()
