"""Customers in a real browser: offered, kept, agreed with, taken from a list, joined, erased."""

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_bench import ask, count, saved, start, unit


def opened(page: Page, name: str) -> None:
    page.goto("/customers")
    page.get_by_label("Search").fill(name)
    page.get_by_role("link", name=name, exact=True).click()
    expect(page.get_by_role("heading", level=1)).to_have_text(name)


def kept(page: Page) -> None:
    expect(page.get_by_role("main").get_by_role("status").first).to_have_text("Saved")


def test_a_known_customer_is_offered_with_address_and_agreed_price(page: Page, said: list[str]):
    start(page)
    field = page.get_by_label("Customer", exact=True)
    field.fill("brackwater")
    offered = page.locator("datalist option[value='Brackwater Rowing Club']").first
    expect(offered).to_be_attached()
    field.fill("Brackwater Rowing Club")
    ask(page)
    count(page)
    expect(
        page.get_by_text("£15.00 a piece was agreed with Brackwater Rowing Club")
    ).to_be_visible()
    page.get_by_role("button", name="Take it", exact=True).click()
    expect(unit(page)).to_have_text("£15.00")
    page.get_by_role("button", name="Price it as worked out").click()
    expect(unit(page)).not_to_have_text("£15.00")
    page.get_by_role("button", name="Send", exact=True).click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("E-mail")).to_have_value("kit@brackwater-rowing.example")
    page.keyboard.press("Escape")
    field.fill("Somebody new")
    saved(page)
    page.get_by_role("button", name="Send", exact=True).click()
    expect(dialog.get_by_label("E-mail")).to_have_value("")  # it went with whom it came with
    page.keyboard.press("Escape")
    assert axe(page) == []
    assert said == []


def test_a_customer_is_written_down_and_wrong_fields_are_told(page: Page, said: list[str]):
    page.goto("/quotes")
    expect(page.get_by_role("heading", name="Quotes")).to_be_visible()
    page.keyboard.press("Alt+c")
    page.get_by_role("button", name="New customer").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="New customer")).to_be_focused()
    page.keyboard.press("Enter")
    page.keyboard.type("Slip & Daughter")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_have_text("Slip & Daughter")
    page.get_by_label("E-mail", exact=True).fill("slip@")
    wrong = page.get_by_label("E-mail", exact=True)
    expect(wrong).to_have_attribute("aria-invalid", "true")
    expect(wrong).to_have_accessible_description(re.compile("Mend it"))
    wrong.fill("slip@daughter.example")
    kept(page)
    page.get_by_role("button", name="+ price").click()
    page.get_by_label("A piece, price 1").fill("nine")
    expect(page.get_by_role("alert")).to_contain_text("'nine' is no price. Enter digits")
    page.get_by_label("A piece, price 1").fill("9,5")
    kept(page)
    page.get_by_role("button", name="+ person").click()
    expect(page.get_by_label("Who, person 1")).to_be_focused()
    page.get_by_role("button", name="Remove person 1").click()
    expect(page.get_by_role("button", name="+ person")).to_be_focused()
    page.keyboard.press("Enter")
    page.get_by_label("Who, person 1").fill("Io")
    kept(page)
    assert axe(page) == []
    page.reload()
    expect(page.get_by_label("A piece, price 1")).to_have_value("9.50")
    expect(page.get_by_label("Who, person 1")).to_have_value("Io")
    page.goto("/customers")
    page.get_by_role("button", name="New customer").click()
    page.keyboard.type("SLIP & daughter")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Another customer goes by")
    assert [line for line in said if "409" not in line] == []


def test_a_list_is_taken_over_two_are_joined_and_one_is_erased(page: Page, said: list[str]):
    page.goto("/customers")
    page.get_by_role("button", name="Take over a list").click()
    box = page.get_by_role("region", name="Take over a list")
    with page.expect_file_chooser() as chooser:
        box.get_by_text("A file (.csv, .xlsx)").click()
    chooser.value.set_files(
        {
            "name": "people.csv",
            "mimeType": "text/csv",
            "buffer": b"Name;E-mail\nQuay Florists;leaf@quay.example\nQuay Florist;\nTorn;x@\n",
        }
    )
    expect(box.get_by_role("textbox")).to_have_value(
        "Name;E-mail\nQuay Florists;leaf@quay.example\nQuay Florist;\nTorn;x@\n"
    )
    box.get_by_role("button", name="Read it").click()
    expect(box.get_by_role("row").nth(3)).to_contain_text("Not taken.")
    box.get_by_role("button", name="Keep 2 customers").click()
    pairs = page.get_by_role("region", name="May be one customer")
    told = pairs.get_by_text("Quay Florist").first
    expect(told).to_be_visible()
    pairs.get_by_role("paragraph").filter(has_text="Quay").get_by_role(
        "button", name="Join them"
    ).click()
    expect(page.get_by_role("status").filter(has_text="They are one")).to_be_visible()
    page.get_by_label("Search").fill("quay")
    expect(page.get_by_role("row")).to_have_count(2)
    page.get_by_role("link", name="Quay Florist").click()
    page.get_by_role("button", name="Erase this customer").click()
    expect(page.get_by_role("button", name="Yes, erase them")).to_be_focused()
    page.keyboard.press("Enter")
    expect(page.get_by_role("status").filter(has_text="Erased from 0 quotes")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_have_text("Customers")
    expect(page.get_by_role("link", name="Quay Florist")).to_have_count(0)
    page.get_by_label("Search").fill("")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="XLSX").click()
    assert waiting.value.suggested_filename == "customers.xlsx"
    assert axe(page) == []


def test_lists_sort_by_their_heads_and_keep_their_filters(page: Page, said: list[str]):
    page.goto("/quotes?search=brackwater")
    first = page.get_by_role("row").nth(1)
    page.get_by_role("button", name="To pay").click()
    most = page.get_by_role("columnheader", name="To pay")
    expect(most).to_have_attribute("aria-sort", "descending")
    expect(first).to_contain_text("£885.62")
    page.get_by_role("button", name="To pay").click()
    expect(most).to_have_attribute("aria-sort", "ascending")
    expect(first).not_to_contain_text("£885.62")
    page.get_by_role("button", name="accepted", exact=True).click()
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Shelf")
    page.get_by_role("link", name="Quotes", exact=True).click()
    expect(page.get_by_role("button", name="accepted", exact=True)).to_have_attribute(
        "aria-pressed", "true"
    )
    expect(most).to_have_attribute("aria-sort", "ascending")
    with page.expect_download() as waiting:
        page.get_by_role("link", name="CSV").click()
    text = waiting.value.path().read_text(encoding="utf-8-sig")
    assert text.startswith("Number,Version,Customer")
    assert "draft" not in text  # as it is filtered
    assert said == []
