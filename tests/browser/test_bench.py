"""The bench in a real browser: from a dropped file to the tiers, by mouse and by keyboard."""

import os
import re

import pytest
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import axe
from tests.conftest import polos, price
from tests.core.test_orders import LABELS, TIE_BACKS, order

PRICE = re.compile(r"£\d+\.\d\d")


def drop(page: Page, name: str, data: bytes) -> None:
    """Drop a file anywhere on the bench."""
    transfer = page.evaluate_handle(
        """([name, bytes]) => { const t = new DataTransfer();
           t.items.add(new File([new Uint8Array(bytes)], name)); return t; }""",
        [name, list(data)],
    )
    page.dispatch_event(".bench", "drop", {"dataTransfer": transfer})


def ask(page: Page, goods="pique-polo", cost="6.40", quantity="24") -> None:
    page.get_by_label("Goods", exact=True).select_option(goods)
    if cost is not None:
        page.get_by_label("A blank costs, £").fill(cost)
    page.get_by_label("How many", exact=True).fill(quantity)


def count(page: Page, **fields: str) -> None:
    page.get_by_role("button", name="Count", exact=True).click()
    for label, value in ({"Stitches": "8200"} | fields).items():
        page.get_by_label(label, exact=True).fill(value)


def start(page: Page) -> None:
    """Make a new quote from the list."""
    page.goto("/quotes")
    page.get_by_role("button", name="New quote").click()
    expect(page.get_by_label("Goods", exact=True)).to_be_visible()


def saved(page: Page) -> None:
    """Wait until what was typed is kept by the server."""
    expect(page.get_by_label("This quote").get_by_role("status")).to_contain_text("Saved")


WORKED = {"Colours": "3", "Width": "85", "Height": "60", "Trims": "9"}


def unit(page: Page):
    return page.get_by_test_id("unit-price")


def method(page: Page, label: str):
    return page.get_by_label("The making").get_by_label(label, exact=True)


def test_start_drop_a_file_24_polos_change_the_backing_read_the_tiers(
    page: Page, said: list[str], crest_files
):
    start(page)
    expect(page).to_have_title(re.compile(r"^Q-\d{4} · Clothyard$"))
    expect(page.get_by_label("Price", exact=True)).to_contain_text(
        "For a price, say the goods, how many and the design."
    )
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    drop(page, "crest.vp3", crest_files["vp3"])
    expect(page.get_by_label("Or one that is here")).to_contain_text("crest.vp3, 4,832 stitches")
    ask(page)
    expect(unit(page)).to_have_text(PRICE)
    picture = page.get_by_role("img", name="The design, 58.2 × 66 mm, in hoop 100 × 100")
    expect(picture).to_be_visible()
    page.wait_for_function(
        """() => { const c = document.querySelector('canvas');
           const d = c?.getContext('2d').getImageData(0, 0, c.width, c.height).data ?? [];
           let n = 0; for (let i = 3; i < d.length; i += 4) n += d[i] > 0; return n > 3000; }"""
    )
    cards = page.get_by_label("Thread colours in sewing order")
    expect(cards).to_contain_text("1 Navy on the shelf")
    before = unit(page).inner_text()
    expect(page.get_by_text("cut-away stays for life")).to_be_visible()
    backing = method(page, "Backing")
    expect(backing).to_have_value("cut-away-medium")
    expect(backing.locator("option", has_text="Tear-away, medium")).to_contain_text(
        re.compile(r"\(−£\d+\.\d\d, −\d")
    )
    backing.select_option("tear-away-medium")
    expect(unit(page)).not_to_have_text(before)
    stretches = page.get_by_role("note").filter(has_text="The piqué polo stretches")
    expect(stretches).to_be_visible()
    page.get_by_role("button", name="Take medium cut-away.").click()
    # the fix is gone with its advice: the keyboard goes on at the panel's heading
    expect(page.get_by_role("heading", name="The making")).to_be_focused()
    expect(unit(page)).to_have_text(before)
    tape = page.get_by_label("How many, and price tiers")
    for quantity in ("1", "6", "12", "24", "50", "100", "250"):
        expect(tape.get_by_text(quantity, exact=True).first).to_be_visible()
    assert said == []


def test_the_worked_order_on_screen_is_the_cores(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    expect(page.get_by_test_id("line-price")).to_have_text("£364.80")
    expect(page.get_by_label("Price", exact=True)).to_contain_text("margin 35.1%")
    tiers = [tier.unit for tier in price(polos(), compare=False).lines[0].tiers]
    texts = page.get_by_label("How many, and price tiers").locator("text").all_text_contents()
    assert [t for t in tiers if t in texts] == tiers
    # its working, opened from the yard
    page.get_by_role("button", name="handwork 1.45: open its working").click()
    sheet = page.get_by_label("Working", exact=True)
    expect(sheet).to_contain_text("(hand + standing by) × rate of an hour")
    expect(sheet.locator(".result")).to_have_text("£34.72")
    # its inputs open theirs, down to what a hand does and to the standard; and back
    sheet.get_by_role("button", name="1 h 14 min").click()
    expect(sheet.get_by_role("heading", name="Handwork, all pieces")).to_be_focused()
    sheet.get_by_role("button", name="Back to handwork").click()
    expect(sheet.get_by_role("link", name="house default")).to_have_attribute(
        "href", "/workshop/standards?search=rates.labour_per_h"
    )
    sheet.get_by_label("Another figure").select_option("placements[0].backing_cut")
    expect(sheet).to_contain_text("180 × 180")
    page.keyboard.press("Escape")
    expect(sheet).to_be_hidden()


def test_by_keyboard_alone(page: Page):
    """Goods, cost, how many, count: Enter moves on; then the price by its end and the tape."""
    page.goto("/quotes")
    expect(page.get_by_role("link", name="Q-0001")).to_be_visible()
    page.keyboard.press("Alt+n")
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    page.keyboard.type("Piq")
    page.keyboard.press("Enter")
    page.keyboard.type("6.40")
    page.keyboard.press("Enter")
    page.keyboard.type("24")
    for _ in range(3):  # past whose goods, past the file, to the count
        page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.get_by_label("Stitches", exact=True).focus()
    page.keyboard.type("8.2k")
    saved(page)  # and with it the price of the last letter
    worked_out = unit(page).inner_text()
    end = page.get_by_role("slider", name="Price of a piece")
    end.focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    expect(unit(page)).to_have_text(f"£{float(worked_out[1:]) + 0.55:.2f}")
    page.keyboard.press("Escape")
    expect(unit(page)).to_have_text(worked_out)
    page.get_by_role("slider", name="How many pieces").focus()
    page.keyboard.press("ArrowRight")
    expect(page.get_by_label("How many", exact=True)).to_have_value("25")
    page.keyboard.press("Alt+z")
    expect(page.get_by_label("How many", exact=True)).to_have_value("24")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("new quote")
    page.keyboard.press("Escape")
    saved(page)
    here = page.url
    page.keyboard.press("Alt+n")
    expect(page.get_by_label("A blank costs, £")).to_have_value("")
    assert page.url != here


def test_pulling_the_end_under_cost_says_so(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    end = page.get_by_role("slider", name="Price of a piece")
    rod = page.locator(".yard").first.bounding_box()
    box = end.bounding_box()
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 22)
    page.mouse.down()
    page.mouse.move(rod["x"] + rod["width"] * 0.4, box["y"] + 22, steps=4)
    page.mouse.up()
    expect(page.locator(".yard").first).to_contain_text("short")
    expect(page.get_by_text("is under its full cost")).to_be_visible()
    page.get_by_role("button", name="as worked out").click()
    expect(unit(page)).to_have_text("£15.20")


@pytest.mark.parametrize(
    ("label", "value", "says"),
    [
        ("How many", "0", "Enter at least 1."),
        (
            "How many",
            "two dozen",
            "whole number, not 'two dozen'. Enter digits, such as 24.",
        ),
        ("How many", "-5", "Enter at least 1."),
        ("A blank costs, £", "cheap", "Must be a number"),
        ("A blank costs, £", "-1", "Enter at least 0."),
        ("Margin, %", "100", "Enter less than 1."),
        ("Stitches", "9999999", "Enter at most 500000."),
        ("Width", "wide", "is no length. Write it like 90, 9cm"),
        ("Width", "9m", "Enter at most 3000."),
    ],
)
def test_bad_input_is_told_at_its_field_and_nothing_is_lost(page: Page, label, value, says):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    field = page.get_by_label(label, exact=True)
    field.fill(value)
    expect(field).to_have_attribute("aria-describedby", re.compile("about"))
    about = page.locator(f"[id='{field.get_attribute('aria-describedby')}']")
    expect(about).to_contain_text(says)
    expect(page.get_by_role("alert")).to_contain_text("of what was there before")
    expect(unit(page)).to_have_text("£15.20")
    saved(page)
    page.reload()
    expect(page.get_by_label(label, exact=True)).to_have_value(value)
    expect(page.get_by_label("Goods", exact=True)).to_have_value("pique-polo")


def test_bad_files_are_told_and_the_good_one_stays(page: Page, crest_files):
    start(page)
    ask(page)
    page.get_by_label("Or one that is here").select_option(index=1)
    expect(unit(page)).to_have_text(PRICE)
    before = unit(page).inner_text()
    for name, data, says in (
        ("none.dst", b"", "none.dst: the file is empty."),
        ("crest.dst", crest_files["pes"], "begins like a .pes"),
        ("crest.pes", crest_files["pes"][:900], "ends in the middle"),
        ("notes.txt", b"hello", "no kind of stitch file"),
    ):
        drop(page, name, data)
        expect(page.get_by_role("alert")).to_contain_text(says)
        expect(unit(page)).to_have_text(before)


def test_what_cannot_be_made_is_priced_with_stop_advice(page: Page):
    start(page)
    count(page, **{"Width": "150", "Height": "60"})
    ask(page, goods="structured-cap")
    expect(page.get_by_role("note").first).to_contain_text("fits no hoop")
    expect(page.get_by_label("This quote").get_by_role("status")).to_contain_text("1 stop, 2 warn")
    expect(unit(page)).to_have_text(PRICE)


def test_a_lost_server_keeps_what_was_typed(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    page.route("**/api/v1/quotes/*", lambda route: route.abort())
    page.get_by_label("How many", exact=True).fill("50")
    expect(page.get_by_text("does not answer")).to_be_visible()
    page.unroute("**/api/v1/quotes/*")
    expect(unit(page)).to_have_text("£14.70", timeout=8000)


def test_standards_are_searched_changed_and_reset(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    saved(page)
    quote = page.url
    page.goto("/workshop/standards")
    page.get_by_label("Search").fill("labour rates")
    field = page.get_by_label("labour per h", exact=True)
    field.fill("lots")
    field.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("Must be a number")
    field.fill("32")
    field.press("Enter")
    expect(page.get_by_text("default 16", exact=True)).to_be_visible()
    page.goto(quote)
    expect(unit(page)).to_have_text("£18.15")
    page.goto("/workshop/standards")
    page.get_by_label("Changed here (2)").check()
    expect(page.get_by_text("1 of ")).to_be_visible()
    page.get_by_role("button", name="Reset", exact=True).click()
    expect(page.get_by_text("Nothing is called that.")).to_be_visible()
    page.goto(quote)
    expect(unit(page)).to_have_text("£15.20")
    assert said == []


SIZES = [(1280, 800), (390, 844)]
MORE_SIZES = [(1440, 900), (900, 700), (640, 400)] if os.environ.get("CLOTHYARD_SOAK") else []


@pytest.mark.parametrize("size", [*SIZES, *MORE_SIZES])
def test_every_size_is_usable_and_axe_clean(page: Page, size):
    width, height = size
    page.set_viewport_size({"width": width, "height": height})
    start(page)
    assert axe(page) == []
    count(page, **WORKED)
    ask(page)
    method_label = page.get_by_label("The making")
    expect(unit(page)).to_have_text("£15.20")
    if width == 900:
        expect(method_label).to_be_hidden()
        page.get_by_role("button", name="Making", exact=True).click()
    method(page, "Backing").select_option("tear-away-medium")
    expect(page.get_by_text("The piqué polo stretches")).to_be_visible()
    assert axe(page) == []
    if width == 390:
        bar = page.locator(".price-bar")
        expect(bar).to_be_in_viewport()
        bar.get_by_role("button", name="One more").click()
        expect(bar).to_contain_text("25")
    across = page.evaluate("() => document.documentElement.scrollWidth - window.innerWidth")
    assert across <= 0
    page.goto("/workshop/standards")
    expect(page.get_by_role("heading", name="Standards")).to_be_visible()
    page.get_by_label("Search").fill("price")
    assert axe(page) == []
    page.goto("/shelf/blanks")
    expect(page.get_by_label("Harbour polo, prices")).to_be_visible()
    assert axe(page) == []
    across = page.evaluate("() => document.documentElement.scrollWidth - window.innerWidth")
    assert across <= 0
    page.goto("/parts")
    page.get_by_role("button", name="Go against it").first.click()
    assert axe(page) == []


def test_an_order_of_lines_places_sizes_and_names(page: Page, said: list[str]):
    start(page)
    ask(page, "fleece", "11.20", "60")
    count(page, Stitches="6000", Colours="2")
    expect(unit(page)).to_have_text(PRICE)
    # sizes and colours: the count follows them
    page.get_by_role("button", name="+ size or colour").click()
    page.get_by_label("Size, row 1").fill("M")
    page.get_by_label("Pieces, row 1").fill("36")
    page.get_by_role("button", name="+ size or colour").click()
    page.get_by_label("Size, row 2").fill("XL")
    page.get_by_label("Pieces, row 2").fill("24")
    page.get_by_label("Costs, row 2").fill("10.80")
    expect(page.get_by_label("How many", exact=True)).to_have_value("60")
    marks = page.get_by_label("The piece")
    expect(marks).to_contain_text("XL and up: Centre mark 215 mm below")
    # a second place: a name on each back
    page.get_by_role("button", name="+ place").click()
    expect(page.get_by_text("Not in this price yet: the design of place 2.")).to_be_visible()
    page.get_by_role("button", name="Words", exact=True).click()
    page.get_by_role("button", name="A name each").click()
    page.get_by_label("Place", exact=True).select_option("full-back")
    page.get_by_label("Names on M", exact=True).fill("Ada\n\nZoë")
    expect(marks).to_contain_text("3 names for 60 pieces")
    expect(page.get_by_text("3 of 36")).to_be_visible()
    one = unit(page).inner_text()
    # a second line, and the order in all
    page.get_by_role("button", name="copy this line").click()
    page.get_by_label("Goods", exact=True).select_option("sweatshirt")
    expect(page.get_by_label("Lines of the order")).to_contain_text("60 × Sweatshirt")
    expect(page.get_by_text("this line £")).to_be_visible()
    page.get_by_label("Lines of the order").get_by_role("button", name="60 × Fleece").click()
    expect(unit(page)).not_to_have_text(one)  # what is done once is shared now
    saved(page)
    page.reload()
    expect(page.get_by_label("Lines of the order")).to_contain_text("60 × Sweatshirt")
    page.get_by_role("button", name="Full back").click()
    expect(page.get_by_label("Names on M", exact=True)).to_have_value("Ada\n\nZoë")
    assert axe(page) == []
    page.get_by_role("button", name="remove this line").click()
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_role("button", name="Full back").click()
    page.get_by_role("button", name="remove this place").click()
    expect(page.get_by_role("button", name="Full back")).to_have_count(0)
    assert said == []


def test_what_the_bench_does_not_edit_is_kept(page: Page, address: str):
    """A band with steps and hardware, made elsewhere: opened, changed, still whole."""
    made = page.request.post(
        f"{address}/api/v1/quotes",
        data={"customer": "Tie Backs", "job": order(TIE_BACKS, LABELS)},
        headers={"origin": address},
    ).json()
    page.goto(f"/quotes/{made['id']}")
    expect(page.get_by_label("The piece")).to_contain_text("14 motifs, 10.8 mm apart")
    page.get_by_label("How many", exact=True).fill("4")
    expect(page.get_by_label("Lines of the order")).to_contain_text("4 × Belt")
    saved(page)
    job = page.request.get(f"{address}/api/v1/quotes/{made['id']}").json()["job"]
    first, second = job["lines"]
    assert first["quantity"] == "4"
    assert first["placements"][0]["band"] == TIE_BACKS["placements"][0]["band"]
    assert second["placements"][0]["steps"] == LABELS["placements"][0]["steps"]
    assert second["hardware"] == LABELS["hardware"]
    assert second["placements"][0]["together"] == LABELS["placements"][0]["together"]


def test_costs_out_of_sight(page: Page, said: list[str]):
    """One key turns the screen to a customer: prices only, and no cost in what the server says."""
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    saved(page)
    answers: list[str] = []
    asked = re.compile("/(estimates|house)")
    page.on("response", lambda r: answers.append(r.text()) if asked.search(r.url) else None)
    page.keyboard.press("Alt+m")
    expect(page.get_by_role("button", name="Show costs")).to_be_visible()
    expect(unit(page)).to_have_text("£15.20")
    expect(page.get_by_role("img", name="A piece: £15.20")).to_be_visible()
    expect(page.get_by_label("A blank costs, £")).to_have_count(0)
    expect(page.get_by_text("margin")).to_have_count(0)
    page.get_by_label("How many", exact=True).fill("50")
    expect(unit(page)).to_have_text("£14.70")
    assert answers
    assert any('"labour_per_h":"0"' in answer for answer in answers)
    for told in ("9.8718", "0.3505", '"labour":"35.24"', '"labour_per_h":"16.00"'):
        assert not any(told in answer for answer in answers)
    assert axe(page) == []
    expect(page.get_by_role("link", name="Workshop")).to_have_count(0)
    page.set_viewport_size({"width": 390, "height": 844})  # a telephone has its price bar too
    page.get_by_role("button", name="One more").click()
    expect(page.get_by_label("How many", exact=True)).to_have_value("51")
    page.set_viewport_size({"width": 1280, "height": 800})
    page.keyboard.press("Alt+m")
    expect(page.get_by_label("A blank costs, £")).to_have_value("6.40")
    expect(page.get_by_text("margin 35")).to_be_visible()
    assert said == []


def test_a_design_is_dragged_typed_and_stepped_into_place(page: Page, said: list[str]):
    """24 polos: 200 below the collar point, 100 from the centre, at 0.3 px a mm."""
    start(page)
    page.get_by_role("region", name="How to begin").get_by_role("button", name="Piqué polo").click()
    count(page, **WORKED)
    ask(page)
    piece = page.get_by_role("region", name="The piece")
    held = piece.get_by_role("button", name=re.compile("Left chest: "))
    below, beside = (
        page.get_by_label(n, exact=True) for n in ("Below collar point", "From centre front")
    )
    expect(below).to_have_attribute("placeholder", "200")
    box = held.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 40, y + 30, steps=5)
    page.keyboard.press("Escape")  # left in mid-drag: nothing has moved
    page.mouse.up()
    expect(below).to_have_value("")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 40, steps=5)
    page.mouse.up()
    expect(below).to_have_value(re.compile(r"^3\d\d$"))  # 40 px down is over 100 mm
    expect(beside).to_have_value("100")  # drawn to the usual line
    expect(piece).to_contain_text(f"Centre mark {below.input_value()} mm below the point")
    start_at = int(below.input_value())
    held.press("ArrowUp")
    held.press("Shift+ArrowLeft")
    expect(below).to_have_value(str(start_at - 1))
    expect(beside).to_have_value("90")
    below.fill("7 1/2 in")
    expect(piece).to_contain_text("Centre mark 190.5 mm below")
    below.fill("seven")
    expect(piece).to_contain_text("'seven' is no length. Write it like 90")
    below.fill("18cm")
    page.get_by_label("Turn", exact=True).select_option("90")
    page.get_by_label("Mirror", exact=True).check()
    expect(piece).to_contain_text("lies 270° round in the hoop")
    # the seller's units, turned in place; the other side of the piece
    piece.get_by_role("button", name="mm: show lengths in inches").first.click()
    expect(piece).to_contain_text("3 3/8 × 2 3/8 in")
    expect(piece).to_contain_text(re.compile(r"Centre mark 7 1/16 in below.* yd", re.S))
    expect(beside).to_have_value("3 9/16")
    piece.get_by_role("button", name="in: show lengths in millimetres").first.click()
    piece.get_by_role("button", name="Back", exact=True).click()
    expect(piece).to_contain_text("on another side of the piece")
    saved(page)
    page.reload()
    expect(below).to_have_value("18cm")
    page.get_by_role("button", name="Back to usual").click()
    expect(piece).to_contain_text("Centre mark 200 mm below")
    assert said == []


def test_advice_is_gone_against_threads_assigned_keys_and_undo(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    method(page, "Backing").select_option("tear-away-medium")
    making = page.get_by_label("The making", exact=True)
    making.get_by_role("button", name="Go against it").first.click()
    making.get_by_label("Because").fill("worn once, for a play")
    making.get_by_role("button", name="Keep").click()
    expect(making).to_contain_text("Because: worn once, for a play")
    making.get_by_role("button", name="Heed it after all").click()
    expect(making.get_by_text("gone against")).to_have_count(0)
    cards = making.get_by_label("Thread colours in sewing order")
    cards.get_by_text("2 colour 2").click()
    cards.get_by_role("button", name="Poppy").click()
    expect(cards).to_contain_text("2 Poppy on the shelf")
    cards.get_by_text("3 colour 3").click()
    cards.get_by_label("Thread 3, colour 3: another colour").fill("#c8102e")
    expect(cards).to_contain_text("3 red")
    page.keyboard.press("Escape")
    expect(making.get_by_role("button", name="the file's own")).to_be_visible()
    # figures change, nothing moves
    page.evaluate(
        "() => { window.shift = 0; new PerformanceObserver((list) => { for (const e of"
        " list.getEntries()) window.shift += e.value; }).observe({type: 'layout-shift'}); }"
    )
    for pieces in ("36", "250", "8"):
        page.get_by_label("How many", exact=True).fill(pieces)
        expect(page.get_by_label("Lines of the order")).to_contain_text(f"{pieces} × ")
        saved(page)
    assert page.evaluate("() => window.shift") < 0.01
    page.keyboard.press("Alt+4")
    assert page.evaluate("() => document.activeElement.closest('.dock') !== null")
    page.keyboard.press("Alt+3")
    expect(making.get_by_role("button", name="Take medium cut-away.")).to_be_focused()
    page.keyboard.press("Alt+w")
    page.get_by_role("link", name="All standards").click()
    # what was changed can be undone where it is said
    page.get_by_label("Search").fill("rates labour")
    field = page.get_by_label(re.compile("labour"), exact=False).first
    was = field.input_value()
    field.fill("21.00")
    field.press("Enter")
    told = page.locator(".toasts")
    expect(told).to_contain_text("became 21.00")
    told.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Changed here (1)")).to_be_visible()
    expect(field).to_have_value(was)
    assert said == []


def test_what_is_typed_while_a_file_is_read_is_kept(page: Page, crest_files):
    """A file that takes its time lands where it was dropped; nothing typed since is lost."""
    start(page)
    count(page)
    ask(page, quantity="6")
    expect(unit(page)).to_have_text(PRICE)
    held: list[Route] = []
    page.route(
        "**/api/v1/designs",
        lambda route: held.append(route) if route.request.method == "POST" else route.continue_(),
    )
    drop(page, "slow-crest.pes", crest_files["pes"])
    ask(page, "sweatshirt", "11.00", "7")
    page.get_by_role("button", name="+ line").click()  # the file is the first line's
    while not held:
        page.wait_for_timeout(20)
    held[0].continue_()
    expect(page.get_by_label("Goods", exact=True)).to_have_value("")
    page.get_by_label("Lines of the order").get_by_role("button", name="7 × Sweatshirt").click()
    chosen = page.get_by_label("Or one that is here").locator("option:checked")
    expect(chosen).to_contain_text("slow-crest.pes")
    expect(page.get_by_label("A blank costs, £")).to_have_value("11.00")
