"""Blanks: chosen from the shelf, kept on it from a quote, edited, taken from a pasted list."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from clothyard.services.house.standards import shop_house
from clothyard.store.shop import Shop
from tests.browser.conftest import axe
from tests.browser.test_bench import WORKED, ask, count, saved, start, unit

PRICE = re.compile(r"£\d+\.\d\d")


def test_a_blank_of_the_shelf_brings_its_prices(page: Page, said: list[str]):
    """24 Harbour polos: 25 at 5.95 cost less than 24 at 6.40, and the parcel's 6.50."""
    start(page)
    picker = page.get_by_role("region", name="How to begin")
    picker.get_by_role("button", name="Harbour polo", exact=True).click()
    expect(page.get_by_label("Goods", exact=True)).to_have_value("blank:harbour-polo")
    expect(picker).to_contain_text("Still asked: how many, the design.")
    page.get_by_label("How many", exact=True).fill("24")
    count(page, **WORKED)
    expect(unit(page)).to_have_text(PRICE)
    shelf = page.get_by_role("group", name="From the shelf")
    expect(shelf).to_contain_text("Saltmarsh Blanks · 3 days · delivery £6.50, free from £200.00")
    expect(shelf.get_by_role("img")).to_have_attribute(
        "aria-label", "Each: from 1 £6.40; from 25 £5.95, which holds now; from 100 £5.40"
    )
    expect(shelf).to_contain_text("2 spares are bought with them.")
    expect(page.get_by_label("A blank costs, £")).to_have_attribute("placeholder", "5.95")
    dock = page.get_by_label("Price", exact=True)
    expect(dock).to_contain_text("goods 149.30")  # 24 × 5.95 + 6.50; the spares go to the shelf
    expect(unit(page)).to_have_text("£14.90")
    page.get_by_label("A blank costs, £").fill("4")  # as typed, it goes before the shelf
    expect(dock).to_contain_text("goods 102.50")
    page.get_by_label("A blank costs, £").fill("")
    expect(unit(page)).to_have_text("£14.90")

    page.get_by_role("button", name="XS to 3XL").click()
    page.get_by_label("Pieces, row 1").fill("")
    for row, pieces in ((3, "20"), (7, "4"), (2, "")):
        page.get_by_label(f"Pieces, row {row}", exact=True).fill(pieces)
    # a dearer size moves the mean: 4 of 24 at 1.60 more
    expect(page.get_by_label("A blank costs, £")).to_have_attribute("placeholder", "6.22")
    page.get_by_label("Colour, row 3").fill("orange")
    expect(page.get_by_label("Ask")).to_contain_text("does not come in colour orange")
    saved(page)
    page.reload()
    expect(page.get_by_label("Lines of the order")).to_contain_text("24 × Harbour polo")
    expect(page.get_by_label("Size, row 2")).to_have_value("S")  # a size that waits for its pieces
    expect(page.get_by_label("Pieces, row 7")).to_have_value("4")
    assert said == []


def test_two_lines_of_a_blank_are_counted_together(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page, "blank:deckhand-sweatshirt", None, "6")
    expect(page.get_by_role("group", name="From the shelf").get_by_role("img")).to_have_attribute(
        "aria-label", re.compile("from 1 £11.20, which holds now")
    )
    page.get_by_role("button", name="copy this line").click()
    shelf = page.get_by_role("group", name="From the shelf")
    expect(shelf).to_contain_text("Counted with 7 more of them in this order, spares too.")
    expect(shelf.get_by_role("img")).to_have_attribute(
        "aria-label", re.compile("from 12 £10.60, which holds now")
    )


def test_what_was_typed_is_kept_on_the_shelf_and_chosen_the_next_time(
    page: Page, shop: Shop, said: list[str]
):
    start(page)
    count(page, **WORKED)
    ask(page, "denim", "9.50", "30")
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_text("Cheaper in bulk, packs, delivery").click()
    page.get_by_role("button", name="+ a cheaper price").click()
    page.get_by_label("Costs then, row 1").fill("8.80")
    dock = page.get_by_label("Price", exact=True)
    expect(dock).to_contain_text("goods 264.00")
    before = unit(page).inner_text()
    page.get_by_role("button", name="Keep this blank on the shelf").click()
    keep = page.get_by_role("group", name="Keep this blank on the shelf")
    keep.get_by_role("button", name="Keep", exact=True).click()
    expect(keep).to_contain_text("at least 1 character")
    keep.get_by_label("Called").fill("Slipway jacket 🧥")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Slipway jacket 🧥 is on the shelf")).to_be_visible()
    expect(page.get_by_label("Goods", exact=True)).to_have_value("blank:slipway-jacket")
    expect(unit(page)).to_have_text(before)
    row = shop_house(shop).blanks["slipway-jacket"]
    assert (row.goods, {k: str(v) for k, v in row.prices.items()}) == (
        "denim",
        {"1": "9.50", "25": "8.80"},
    )
    page.keyboard.press("Alt+z")  # undone here: the shelf keeps it
    expect(page.get_by_label("A blank costs, £")).to_have_value("9.50")
    assert said == []


def test_the_shelf_shows_what_a_supplier_does_to_a_price(page: Page, shop: Shop, said: list[str]):
    page.goto("/shelf/blanks")
    sample = page.get_by_role("region", name="A sample price")
    page.get_by_label("Harbour polo, pack").focus()
    expect(sample).to_contain_text("24 × Harbour polo")
    prices = page.get_by_label("Harbour polo, prices")
    prices.fill("6.40, 25: cheap")
    prices.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("'25: cheap' is no price step")
    prices.fill("7.40; from 12 £6.90")
    prices.press("Enter")
    expect(prices).to_have_value("1: 7.40, 12: 6.90")
    expect(sample).to_contain_text(re.compile(r"£\d+\.\d\d became £\d+\.\d\d"))
    page.get_by_label("Harbour polo, supplier").select_option(label="Loom & Ladder Wholesale")
    expect(page.get_by_role("status").filter(has_text="supplier").last).to_be_visible()
    assert shop_house(shop).blanks["harbour-polo"].supplier == "loom-ladder-wholesale"
    page.get_by_label("Loom & Ladder Wholesale, delivery").fill("9 pounds")
    page.get_by_label("Loom & Ladder Wholesale, delivery").press("Enter")
    refused = page.locator(".invalid-feedback")
    expect(refused).to_contain_text("Must be a number")
    page.keyboard.press("Escape")

    page.get_by_role("button", name="Remove Watch hat").click()
    expect(page.get_by_label("Watch hat, prices")).to_have_count(0)
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_label("Watch hat, prices")).to_have_value("1: 3.60, 20: 3.20, 100: 2.75")
    assert axe(page) == []
    assert said == []


def test_a_price_list_is_pasted_read_and_kept(page: Page, shop: Shop, said: list[str]):
    page.goto("/shelf/blanks")
    page.get_by_role("button", name="Paste a price list").click()
    paste = page.get_by_role("region", name="Paste a price list")
    field = paste.get_by_label("From a sheet or a mail")
    field.fill("red\tgreen\n1\t2")
    paste.get_by_role("button", name="Read it").click()
    expect(paste.get_by_role("alert")).to_contain_text("no heading says which column")
    field.fill(
        "Blank\tClass\tSupplier\tFrom\tEach\n"
        "Harbour polo\t\t\t1\t6.60\n"
        "Bib apron\tWorkwear twill, apron\tNorth Quay Textiles\t1\t4.80\n"
        "Trug bag\tcanvas bags\t\t1\t5\n"
    )
    paste.get_by_role("button", name="Read it").click()
    expect(paste).to_contain_text("was 1: 6.40, 25: 5.95, 100: 5.40")
    expect(paste).to_contain_text("North Quay Textiles is a new supplier")
    expect(paste).to_contain_text("Did you mean Canvas bag?")
    assert axe(page) == []
    assert "bib-apron" not in shop_house(shop).blanks
    paste.get_by_role("button", name="Keep 2 blanks").click()
    expect(page.get_by_label("Bib apron, prices")).to_have_value("1: 4.80")
    expect(page.get_by_label("North Quay Textiles, days")).to_have_value("5")
    with page.expect_download() as download:
        page.get_by_role("link", name="Take them out as a list").click()
    assert 'Bib apron,"Workwear twill, apron"' in download.value.path().read_text()
    assert said == []


def test_a_class_of_goods_of_the_shops_own(page: Page, said: list[str]):
    """A copy of the nearest is drawn, priced and warned of as that one, until it is changed."""
    page.goto("/shelf/goods")
    page.get_by_role("button", name="+ one of your own").click()
    page.get_by_label("Called").fill("Rowing polo")
    page.get_by_label("and otherwise like").select_option(label="Piqué polo")
    page.get_by_role("button", name="Add", exact=True).click()
    row = page.get_by_role("row", name=re.compile("Remove Rowing polo"))
    drawn = row.locator("svg g.goods")  # as what it is a copy of
    expect(drawn).to_be_visible(timeout=60_000)  # all classes of goods are drawn anew first
    start(page)
    page.get_by_label("Goods", exact=True).select_option(label="Rowing polo")
    page.get_by_label("A blank costs, £").fill("6.40")
    page.get_by_label("How many", exact=True).fill("24")
    count(page, **WORKED)
    expect(unit(page)).to_have_text("£15.20")
    expect(page.get_by_role("region", name="The piece").locator("g.goods").first).to_be_visible()
    assert said == []
