"""The first hour: from an empty folder to a sent quote, by keyboard."""

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from clothyard.api.app import create_app
from clothyard.services.house.standards import shop_house
from clothyard.store.shop import Shop
from tests.browser.conftest import axe
from tests.browser.test_bench import PRICE, saved, unit
from tests.standin import served


@pytest.fixture
def fresh(tmp_path: Path) -> Iterator[Shop]:
    shop = Shop(tmp_path / "fresh")
    yield shop
    shop.close()


@pytest.fixture
def begun(fresh: Shop) -> Iterator[str]:
    with served(create_app(fresh)) as found:
        yield found


def tab_to(page: Page, what) -> None:
    for _ in range(200):
        if what.evaluate("e => e === document.activeElement"):
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"the keyboard does not come to {what}")


def typed(page: Page, label: str, text: str) -> None:
    """Come to a field by Tab, type over what is there, go on by Enter."""
    tab_to(page, page.get_by_label(label, exact=True))
    page.keyboard.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def go_on(page: Page, to: str, name: str = "Done, go on") -> None:
    tab_to(page, page.get_by_role("button", name=name))
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=2, name=to)).to_be_focused()


def test_from_an_empty_folder_to_a_sent_quote_by_keyboard(  # noqa: PLR0915 - one long hour
    page: Page, begun: str, fresh: Shop, said: list[str]
):
    page.goto(begun)
    expect(page.get_by_role("heading", level=1)).to_have_text("Set up the shop")
    assert axe(page) == []
    typed(page, "name", "Slip & Daughter")
    typed(page, "address", "2 Slipway, Brackwater")
    expect(page.get_by_label("currency", exact=True)).to_be_focused()  # Enter goes on
    typed(page, "tax rate", "20")
    go_on(page, "Machines")
    expect(page.get_by_label("Steps")).to_contain_text("The shop done")
    expect(page.get_by_label("A sample price")).to_contain_text("£15.20")
    tab_to(page, page.get_by_label("Single-needle flat", exact=True))
    page.keyboard.press("Space")
    expect(page.get_by_label("Single-needle flat, needles")).to_have_count(0)
    assert axe(page) == []
    page.get_by_label("Compact 10-needle", exact=True).focus()
    page.keyboard.press("Space")  # the last one stays
    expect(page.get_by_role("status").filter(has_text="owns none of its machines")).to_be_visible()
    expect(page.get_by_label("Compact 10-needle", exact=True)).to_be_checked()
    go_on(page, "Hoops")
    tab_to(page, page.get_by_label("200 × 300", exact=True))
    page.keyboard.press("Space")
    go_on(page, "Hours and pay")
    typed(page, "I want to take out, a month", "1800")
    tab_to(page, page.get_by_role("button", name="Work it out"))
    page.keyboard.press("Enter")
    take = page.get_by_role("button", name="Take them: £20.00 hands")
    tab_to(page, take)
    page.keyboard.press("Enter")
    expect(page.get_by_label(re.compile("^labour per h"))).to_have_value("20")
    go_on(page, "Thread and backing")
    tab_to(page, page.get_by_role("button", name="Straw"))
    page.keyboard.press("Space")
    expect(page.get_by_role("button", name="Straw")).to_have_attribute("aria-pressed", "false")
    assert axe(page) == []
    go_on(page, "Usual blanks", name="Skip for now")
    typed(page, "Called, blank 1", "Quay polo")
    tab_to(page, page.get_by_label("It costs, blank 1"))
    page.keyboard.type("6,40")
    tab_to(page, page.get_by_role("button", name="Keep on the shelf"))
    page.keyboard.press("Enter")
    expect(page.get_by_text("On the shelf: Quay polo.")).to_be_visible()
    go_on(page, "A first price")
    expect(page.get_by_label("A sample price")).to_contain_text("24 × Quay polo")
    assert axe(page) == []
    house = shop_house(fresh)
    assert (house.shop.name, str(house.terms.tax_rate)) == ("Slip & Daughter", "0.2")
    assert not house.machines["single-flat"].owned
    assert not house.hoops["200x300"].owned
    assert not house.thread_shelf["straw"].owned
    tab_to(page, page.get_by_role("button", name="Make the first quote"))
    page.keyboard.press("Enter")
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    page.get_by_label("Goods", exact=True).select_option("blank:quay-polo")
    typed(page, "How many", "24")
    tab_to(page, page.get_by_role("button", name="Count", exact=True))
    page.keyboard.press("Enter")
    typed(page, "Stitches", "8200")
    expect(unit(page)).to_have_text(PRICE)
    saved(page)
    tab_to(page, page.get_by_role("button", name="Send", exact=True))
    page.keyboard.press("Enter")
    expect(page.get_by_role("dialog").get_by_label("For", exact=True)).to_be_focused()
    page.keyboard.type("Tern Street Bakers")
    tab_to(page, page.get_by_role("button", name="Send it"))
    page.keyboard.press("Enter")
    expect(page.get_by_label("This quote")).to_contain_text("sent")
    page.goto(f"{begun}/quotes")
    expect(page.get_by_role("link", name="Tern Street Bakers")).to_be_visible()
    assert said == []


def test_later_leaves_the_steps_and_they_are_taken_up_again(page: Page, begun: str):
    page.goto(begun)
    page.get_by_role("button", name="Later: go to the quotes").click()
    expect(page.get_by_text("No quotes yet.")).to_be_visible()
    page.reload()
    expect(page.get_by_text("No quotes yet.")).to_be_visible()
    page.get_by_role("link", name="Workshop").click()
    page.get_by_role("link", name="Set up step by step").click()
    expect(page.get_by_role("heading", level=2).first).to_have_text("The shop")
