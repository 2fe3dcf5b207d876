"""In any light and size: dark, forced colours, paper, small windows; told once, never covered."""

import pytest
from playwright.sync_api import Page, expect

from clothyard.store.shop import Shop
from tests.browser.conftest import axe
from tests.browser.test_bench import PRICE, ask, count, drop, saved, start, unit
from tests.browser.test_rest_of_bench import make
from tests.kept import set_standards

PLACES = ("/quotes", "/quotes/11", "/customers/1", "/begin/shelf", "/workshop", "/workshop/backups")


def shown(page: Page, path: str) -> None:
    page.goto(path)
    expect(page.get_by_role("heading", level=1)).to_be_visible()
    expect(page.locator("[aria-busy=true]")).to_have_count(0)


@pytest.mark.parametrize("light", [{"color_scheme": "dark"}, {"forced_colors": "active"}])
def test_every_place_can_be_read_in_the_dark_and_in_forced_colours(page: Page, light: dict):
    page.emulate_media(**light)
    for path in (*PLACES, "/shelf", "/shelf/to-buy", "/orders/plan"):
        shown(page, path)
        assert axe(page) == [], path
        ground = page.evaluate("() => getComputedStyle(document.body).backgroundColor")
        assert ground != "rgb(243, 237, 225)", path


def test_a_page_on_paper_holds_what_is_read_and_nothing_to_press(page: Page):
    shown(page, "/quotes/11")
    expect(unit(page)).to_have_text(PRICE)
    page.emulate_media(media="print")
    expect(page.get_by_role("navigation", name="Places")).to_be_hidden()
    expect(page.get_by_role("button", name="Send", exact=True)).to_be_hidden()
    for name in ("Ask", "The piece", "The making", "Price"):
        region = page.get_by_role("region", name=name, exact=True)
        expect(region).to_be_visible()
        cut = region.evaluate("e => e.scrollHeight - e.clientHeight")
        assert cut <= 2 or region.evaluate("e => getComputedStyle(e).overflowY") == "visible", name


COVERED = """() => {
  const on = document.activeElement;
  if (!on || on === document.body) return null;
  const box = on.getBoundingClientRect();
  if (!box.width || !box.height || on.closest('.price-bar')) return '';
  const bar = document.querySelector('.price-bar')?.getBoundingClientRect();
  const middle = box.top + Math.min(box.height, 40) / 2;
  const under = bar && middle > bar.top && box.left < bar.right;
  return under ? (on.getAttribute('aria-label') ?? on.id ?? on.tagName) : '';
}"""


def test_the_price_bar_never_covers_the_field_in_focus(page: Page):
    page.set_viewport_size({"width": 390, "height": 700})
    shown(page, "/quotes/11")
    expect(unit(page)).to_have_text(PRICE)
    seen = 0
    for _ in range(90):
        page.keyboard.press("Tab")
        covered = page.evaluate(COVERED)
        if covered is None:
            break
        assert covered == "", covered
        seen += 1
    assert seen > 40


def test_nothing_runs_over_at_any_width_nor_at_twice_the_size(page: Page, address: str):
    """Nor with a customer whose name is one word of 72 letters."""
    name, origin = "Llanfair" * 9, {"origin": address}
    quote = make(page, address, customer=name)
    to = f"{address}/api/v1/customers"
    customer = page.request.post(to, data={"name": name}, headers=origin).json()["id"]
    try:
        for path in (*PLACES, "/shelf/blanks", "/customers", quote, f"/customers/{customer}"):
            shown(page, path)
            for width, zoom in ((390, 1), (768, 1), (1280, 1), (1280, 2), (1920, 1)):
                page.set_viewport_size({"width": width // zoom, "height": 800 // zoom})
                wide = page.evaluate("() => document.documentElement.scrollWidth")
                assert wide <= width // zoom, (path, wide)
    finally:
        page.request.delete(f"{to}/{customer}", headers=origin)
        page.request.delete(f"{address}/api/v1{quote}", headers=origin)


CUT = """() => {
  const found = new Set(), range = document.createRange();
  const walker = document.createTreeWalker(document.querySelector('main'), NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    if (node.parentElement.closest('pre')) continue;
    for (const { 0: word, index } of node.textContent.matchAll(/[A-Za-z]{3,}/g)) {
      range.setStart(node, index);
      range.setEnd(node, index + word.length);
      const lines = new Set([...range.getClientRects()].map((box) => Math.round(box.top)));
      if (lines.size > 1 && word.length < 15) found.add(word);
    }
  }
  return [...found];
}"""
"""Words of a usual length that go over two lines."""


def test_no_usual_word_is_cut_in_a_list(page: Page):
    for path in ("/quotes", "/customers", "/orders", "/shelf", "/shelf/to-buy", "/log"):
        shown(page, path)
        expect(page.locator("main li, main tbody tr").first).to_be_visible()
        for width in (320, 390, 768, 1280):
            page.set_viewport_size({"width": width, "height": 800})
            assert page.evaluate(CUT) == [], (path, width)


def test_the_new_price_is_told_once_when_it_has_come_to_rest(page: Page, said: list[str]):
    start(page)
    ask(page)
    count(page)
    expect(unit(page)).to_have_text(PRICE)
    told = page.get_by_role("status", name="The price")
    page.get_by_label("How many", exact=True).fill("50")
    saved(page)
    expect(told).to_contain_text("a piece at 50 pieces")
    price = unit(page).inner_text()
    assert told.inner_text().startswith(f"{price} a piece")
    assert said == []


def test_a_picture_or_a_list_as_a_design_says_what_to_do_instead(page: Page):
    start(page)
    for name, words in (
        ("logo.png", "a picture holds no stitches. Have it digitised"),
        ("logo.pdf", "a PDF holds no stitches."),
        ("names.xlsx", "A list of names and sizes goes into Paste a list"),
    ):
        drop(page, name, b"anything")
        expect(page.get_by_role("alert").filter(has_text=words)).to_be_visible()


def test_the_lines_of_a_large_order_at_a_glance(page: Page, said: list[str]):
    start(page)
    ask(page)
    count(page)
    expect(unit(page)).to_have_text(PRICE)
    for _ in range(4):
        page.get_by_role("button", name="copy this line").click()
    page.get_by_label("Goods", exact=True).select_option("terry-towel")
    saved(page)
    page.get_by_role("button", name="All 5 lines").click()
    table = page.get_by_role("dialog")
    expect(table.get_by_role("row")).to_have_count(6)
    expect(table).to_contain_text("to pay for all")
    assert axe(page) == []
    page.keyboard.type("terry")
    expect(table.get_by_role("row")).to_have_count(2)
    table.get_by_role("button", name="Line 5").click()
    expect(table).to_have_count(0)
    expect(page.get_by_label("Goods", exact=True)).to_have_value("terry-towel")
    assert said == []


def test_figures_and_dates_as_the_shop_writes_them(page: Page, shop: Shop):
    set_standards(shop, {"shop.locale": "de-DE"})
    page.goto("/quotes?search=kit bag")
    row = page.get_by_role("row").nth(1)
    expect(row).to_contain_text("885,62 £")
    page.goto("/quotes/11")
    expect(unit(page)).to_have_text("18,80 £")
    page.get_by_label("A blank costs, £").fill("8,5")  # what is typed is read either way
    saved(page)
    expect(page.get_by_label("Price", exact=True)).to_contain_text("goods")
    page.get_by_role("button", name="Undo").click()
    saved(page)


def test_focus_goes_on_where_the_work_does(page: Page, said: list[str]):
    start(page)
    ask(page)
    count(page)
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_role("button", name="+ place").click()
    expect(page.get_by_role("button", name="Stitch file", exact=True)).to_be_focused()
    page.get_by_role("button", name="remove this place").click()
    expect(page.get_by_role("button", name="Left chest", exact=True)).to_be_focused()
    page.get_by_role("button", name="+ line").click()
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    page.get_by_role("button", name="remove this line").click()
    expect(page.get_by_role("button", name="24 × Piqué polo")).to_be_focused()
    page.get_by_role("button", name="copy this line").click()
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    page.get_by_text("Cheaper in bulk, packs, delivery").click()
    page.get_by_role("button", name="+ a cheaper price").click()
    expect(page.get_by_label("Cheaper from, row 1")).to_be_focused()
    page.get_by_role("button", name="Remove row 1 of the supplier's prices").click()
    expect(page.get_by_role("button", name="+ a cheaper price")).to_be_focused()
    page.get_by_role("button", name="Send", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_visible()  # it opens once what was typed is kept
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Send", exact=True)).to_be_focused()
    assert said == []


SMALL = """() => [...document.querySelectorAll('button, a, input, select, textarea, [role=slider]')]
  .filter((e) => e.offsetParent !== null || e instanceof SVGElement)
  .map((e) => [e, (e.type === 'checkbox' ? e.closest('.form-check') ?? e : e)
    .getBoundingClientRect()])
  .filter(([e, box]) => box.width > 1 && box.height > 1)
  .filter(([e]) => !(e.tagName === 'A' && getComputedStyle(e).display === 'inline'))
  .filter(([, box]) => box.height < 23.5 || box.width < 15.5)
  .map(([e, box]) => `${e.getAttribute('aria-label') ?? e.textContent.slice(0, 30)} ${e.id} ` +
    `${Math.round(box.width)} × ${Math.round(box.height)}`)"""


def test_what_is_pressed_is_large_enough_for_a_finger(page: Page):
    page.set_viewport_size({"width": 390, "height": 844})
    for path in (*PLACES, "/shelf/blanks"):
        shown(page, path)
        assert page.evaluate(SMALL) == [], path
