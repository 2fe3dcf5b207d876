"""Whole jobs on the real screen: by keyboard, by mouse, and on the customer's page."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_bench import WORKED, ask, count, method, saved, start, unit

# the browser's own typing of thousands of lines takes minutes; a paste sets the value at once
PASTE = """(field, text) => {
  Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, 'value').set.call(field, text);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}"""
PRICE = re.compile(r"£\d+\.\d\d")


def test_a_scarf_with_a_name_in_few_keys(page: Page, said: list[str]):
    """After the goods: cost 4, tab 1, how many 1, words, a name: 15 presses at most but letters."""
    start(page)
    page.get_by_label("Goods", exact=True).select_option("scarf")
    keys = 0

    def press(*names: str) -> None:
        nonlocal keys
        for name in names:
            page.keyboard.press(name)
            keys += 1

    page.get_by_label("Goods", exact=True).focus()
    press("Enter", "9", "Enter", "1", "Tab", "Tab", "Tab", "Tab", "Enter", "Tab")
    page.keyboard.type("Zoë")
    expect(unit(page)).to_have_text(PRICE)
    assert keys < 15
    expect(page.get_by_label(re.compile("^Words;"))).to_have_value("Zoë")
    assert said == []


def test_forty_names_onto_dog_coats_in_three_sizes(page: Page, said: list[str]):
    start(page)
    page.get_by_role("region", name="How to begin").get_by_role(
        "button", name="Dog coat", exact=True
    ).click()
    page.get_by_label("A blank costs, £").fill("7.90")
    for n, (size, pieces) in enumerate((("S", "12"), ("M", "20"), ("L", "8")), 1):
        page.get_by_role("button", name="+ size or colour").click()
        page.get_by_label(f"Size, row {n}").fill(size)
        page.get_by_label(f"Pieces, row {n}").fill(pieces)
    expect(page.get_by_label("How many", exact=True)).to_have_value("40")
    page.get_by_role("button", name="Words", exact=True).click()
    page.get_by_role("button", name="A name each").click()
    page.get_by_label("Place", exact=True).select_option("full-back")
    pasted = "\n".join(f"\tDog {chr(65 + i % 26)}{i}  " for i in range(39)) + "\n🐾 Pip"
    small = page.get_by_label("Names on S", exact=True)
    small.fill(pasted)  # what S has no room for goes on to M and L
    for told in ("12 of 12;", "20 of 20;", "8 of 8$"):
        expect(page.get_by_text(re.compile(f"^{told}"), exact=False).first).to_be_visible()
    piece = page.get_by_role("region", name="The piece")
    expect(piece).to_contain_text("🐾")  # told where the lettering lacks it
    expect(piece.get_by_role("button", name=re.compile("Full back: "))).to_be_visible()
    expect(unit(page)).to_have_text(PRICE)
    small.evaluate(PASTE, "\n".join(f"Name {i}" for i in range(5000)))
    expect(page.get_by_text("5,028 names for 40").first).to_be_visible()  # M and L keep theirs
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("5,028 names for 40")).to_have_count(0)
    expect(unit(page)).to_have_text(PRICE)
    assert axe(page) == []
    assert said == []


def test_a_band_with_repeats_and_several_in_a_hooping(page: Page, said: list[str]):
    start(page)
    ask(page, "belt", "3.20", "6")
    count(page, Stitches="1200", Width="40", Height="25")
    expect(unit(page)).to_have_text(PRICE)
    piece = page.get_by_role("region", name="The piece")
    expect(piece).to_contain_text("40 × 25 mm")
    saved(page)
    once = unit(page).inner_text()
    piece.get_by_label("Sewn", exact=True).select_option("band")
    piece.get_by_label("Band long").fill("60cm")
    expect(piece).to_contain_text("12 motifs, 10.9 mm apart")
    expect(unit(page)).not_to_have_text(once)
    piece.get_by_label("Band long").fill("long")
    expect(piece).to_contain_text("'long' is no length")
    piece.get_by_label("Sewn", exact=True).select_option("together")
    expect(piece).to_contain_text("pieces in a hooping")
    piece.get_by_label("Sewn", exact=True).select_option("once")
    expect(unit(page)).to_have_text(once)
    assert said == []


def test_the_price_opened_and_side_by_side(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    making = page.get_by_label("The making", exact=True)
    expect(making.get_by_label("Cut plans")).to_contain_text("24 pieces of 180 mm by 180 mm")
    page.get_by_role("button", name="more on it").click()
    expect(
        page.get_by_label("The price, opened").get_by_role("button", name="Close")
    ).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="more on it")).to_be_focused()
    page.keyboard.press("Enter")
    sheet = page.get_by_label("The price, opened")
    expect(sheet).to_contain_text("before a piece falls to its floor")
    expect(
        sheet.get_by_role("img", name=re.compile("Price of a piece by how many"))
    ).to_be_visible()
    assert axe(page) == []
    rate = sheet.get_by_role("button", name="price by it").first
    rate.click()
    expect(unit(page)).not_to_have_text("£15.20")
    page.keyboard.press("Alt+z")
    expect(unit(page)).to_have_text("£15.20")
    sheet.get_by_label("Discount on this line, %").fill("5")
    expect(unit(page)).to_have_text("£14.45")
    sheet.get_by_label("Discount on this line, %").fill("")
    expect(unit(page)).to_have_text("£15.20")
    sheet.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="side by side").click()
    page.get_by_label("Lay beside it").select_option("machine single-flat")
    beside = page.get_by_role("dialog")
    expect(beside.get_by_role("group", name="Single-needle flat", exact=True)).to_contain_text("£")
    page.get_by_label("or as many as").fill("50")
    beside.get_by_role("button", name="Lay beside", exact=True).click()
    expect(beside.get_by_role("group", name="50 pieces", exact=True)).to_contain_text("£14.70")
    assert axe(page) == []
    beside.get_by_role("button", name="Take 50 pieces away").click()
    expect(beside.get_by_role("group", name="50 pieces", exact=True)).to_have_count(0)
    assert said == []


def test_send_read_ask_accept_and_the_same_again(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_label("Customer", exact=True).fill("Orrin Hill Choir")
    saved(page)
    page.get_by_role("button", name="Send", exact=True).click()
    page.get_by_role("button", name="Send it").click()
    page.get_by_role("button", name="Customer's page").click()
    page.get_by_role("button", name="Make a new link").click()
    link = page.get_by_label("The new link, shown this once")
    expect(link).to_have_value(re.compile("/q/"))
    bench, address = page.url, link.input_value()
    assert axe(page) == []
    page.goto(address)
    expect(page.get_by_role("heading", name=re.compile("Quote Q-"))).to_be_visible()
    assert axe(page) == []
    read = page.locator("main").inner_text().lower()
    assert not [word for word in ("cost", "margin", "labour", "floor") if word in read]
    page.get_by_role("button", name="Accept this quote").click()
    expect(page.get_by_role("alert").first).to_be_visible()
    page.get_by_role("button", name="Ask for a change").click()
    page.get_by_label("What is to be different").fill("Could the crest be 10 mm lower?")
    page.get_by_label("Your name").fill("A. Person")
    page.get_by_role("button", name="Send it to the shop").click()
    expect(page.get_by_label("What you said")).to_contain_text("10 mm lower")
    page.goto("/quotes")
    expect(page.get_by_text("asks for a change").first).to_be_visible()
    page.goto(bench)
    page.get_by_role("button", name="asks for a change").click()
    expect(page.get_by_role("dialog")).to_contain_text("A. Person, of v1: asks for a change.")
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(address)
    page.get_by_role("button", name="Accept it").click()
    page.get_by_label("Your name").fill("A. Person")
    page.get_by_label(re.compile("every word as spelt")).check()
    page.get_by_role("button", name="Accept this quote").click()
    expect(page.get_by_text("Accepted: thank you.")).to_be_visible()
    assert axe(page) == []
    assert page.evaluate("() => document.documentElement.scrollWidth - window.innerWidth") <= 0
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(bench)
    expect(page.get_by_label("This quote")).to_contain_text("accepted")
    page.get_by_role("button", name="Same again").click()
    page.get_by_label("Pieces", exact=True).fill("12")
    page.keyboard.press("Enter")
    expect(page.get_by_label("Lines of the order")).to_contain_text("12 × Piqué polo")
    expect(page.get_by_label("Where it comes from")).to_have_value("before")
    assert said == []


def test_a_guessed_link_opens_nothing(page: Page):
    page.goto("/q/guessed-it")
    expect(page.get_by_role("heading", name="No quote here")).to_be_visible()
    expect(page.get_by_role("alert")).to_contain_text("Ask the shop for a new one.")


def test_the_workshop_shows_what_a_change_does(page: Page, said: list[str]):
    page.goto("/workshop/machines")
    sample = page.get_by_label("A sample price")
    expect(sample).to_contain_text("£15.20")
    rate = page.get_by_label("Compact 10-needle, rate per h")
    rate.fill("fast")
    rate.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Must be a number")
    rate.press("Escape")
    rate.fill("6.50")
    rate.press("Enter")
    expect(sample).to_contain_text("£15.20 became £16.45")
    assert axe(page) == []
    page.locator(".toasts").get_by_role("button", name="Undo").click()
    expect(sample).to_contain_text("what you change shows here")
    # a hoop of the shop's own, and away again
    hoops = page.get_by_role("region", name="Hoops")
    hoops.get_by_role("button", name="+ one of your own").click()
    for label, value in (("Called", "Square 90"), ("Field wide", "100"), ("Field high", "100")):
        hoops.get_by_label(label).fill(value)
    hoops.get_by_role("button", name="Add the hoop").click()
    expect(hoops.get_by_label("Square 90, field width mm")).to_have_value("100")
    hoops.get_by_role("button", name="Remove Square 90").click()
    expect(hoops.get_by_label("Square 90, field width mm")).to_have_count(0)
    page.goto("/workshop/rates")
    page.get_by_role("button", name="Work my rates out of a year").click()
    page.get_by_label("I want to take out, a month").fill("1800")
    page.get_by_role("button", name="Work it out").click()
    wizard = page.get_by_label("Rates out of a year")
    expect(wizard).to_contain_text("20 GBP/h")  # 1,800 × 12 ÷ (1,800 h × 60%)
    assert axe(page) == []
    wizard.get_by_role("button", name=re.compile("Take them")).click()
    expect(page.get_by_label("labour per h")).to_have_value("20")
    # what is shown is an order that the changed row has a part in
    page.goto("/workshop/machines")
    flat = page.get_by_label("Single-needle flat, rate per h")
    flat.fill("9")
    expect(sample).to_contain_text("24 polos, single-needle flat")
    flat.press("Enter")
    expect(sample).to_contain_text("became")
    page.goto("/shelf/goods")
    page.get_by_label("Denim, standby").fill("90")
    expect(sample).to_contain_text("24 × Denim")
    page.get_by_label("Denim, standby").press("Enter")
    expect(sample).to_contain_text("became")
    page.get_by_role("link", name="Backing and topping").click()
    expect(sample).to_contain_text("24 polos, 8,200 stitches")
    page.get_by_label(re.compile(", price$")).first.focus()
    expect(sample).to_contain_text(re.compile("24 polos, cut"))
    for table in (
        "Threads and bobbins",
        "Backing and topping",
        "Blanks",
        "Classes of goods",
        "Sheet goods",
    ):
        page.get_by_role("link", name=re.compile(f"^{table}")).click()
        expect(page.locator("table").first).to_be_visible()
    assert axe(page) == []
    assert said == []


def test_methods_by_keyboard(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    page.keyboard.press("Alt+3")
    expect(method(page, "Backing")).to_be_focused()
    page.keyboard.press("ArrowDown")
    expect(method(page, "Backing")).not_to_have_value("cut-away-medium")
