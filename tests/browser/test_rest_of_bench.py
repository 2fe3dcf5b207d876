"""More of the bench: drawings of all goods, sets, supplier's prices, sent quotes, lost servers."""

from __future__ import annotations

import re

from playwright.sync_api import Page, Route, expect

from clothyard.core.house.check import default_house
from clothyard.demo.stitching import fill, stitch_file
from tests.browser.conftest import axe
from tests.browser.test_bench import WORKED, ask, count, drop, saved, start, unit
from tests.conftest import polos

PRICE = re.compile(r"£\d+\.\d\d")
SMALL = [(0.0, 0.0), (30.0, 0.0), (30.0, 20.0), (0.0, 20.0)]
LARGE = [(0.0, 0.0), (42.0, 0.0), (42.0, 30.0), (0.0, 30.0)]


def make(page: Page, address: str, **head: object) -> str:
    """Make a quote over HTTP; returns its page."""
    made = page.request.post(
        f"{address}/api/v1/quotes",
        data={"customer": "Orrin Hill", "job": polos(), **head},
        headers={"origin": address},
    ).json()
    return f"/quotes/{made['id']}"


def test_every_class_of_goods_is_drawn_with_its_usual_place(page: Page, said: list[str]):
    """Of each class: chosen by pointing, and its default position is on the drawing."""
    house = default_house()
    start(page)
    for goods in house.goods.values():
        picker = page.get_by_role("region", name="How to begin")
        expect(picker.get_by_role("button", name=goods.label, exact=True)).to_be_visible()
    picker.get_by_role("button", name="Tunic", exact=True).click()
    count(page, Stitches="900", Width="20", Height="15")
    ask(page)
    piece = page.get_by_role("region", name="The piece")
    for goods_id, goods in house.goods.items():
        page.get_by_label("Goods", exact=True).select_option(goods_id)
        label = house.positions[goods.position].label
        held = piece.get_by_role("button", name=re.compile(f"^{label}: "))
        expect(held, goods_id).to_be_visible()
        drawn = held.bounding_box()
        frame = piece.get_by_label("Drawn to scale").bounding_box()
        assert drawn["x"] >= frame["x"] - 1, goods_id
        assert drawn["x"] + drawn["width"] <= frame["x"] + frame["width"] + 1, goods_id
        assert drawn["y"] >= frame["y"] - 1, goods_id
        assert drawn["y"] + drawn["height"] <= frame["y"] + frame["height"] + 1, goods_id
    assert said == []


def test_a_place_that_the_drawing_lacks_says_so_and_holds(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page, "belt")
    expect(unit(page)).to_have_text(PRICE)
    piece = page.get_by_role("region", name="The piece")
    piece.get_by_label("Place", exact=True).select_option("cap-front")
    expect(piece).to_contain_text("has no peak seam in our drawing")
    expect(piece).to_contain_text("Centre mark 45 mm above the peak seam")


def test_two_lines_are_sold_as_a_set(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page, "pique-polo", "6.40", "12")
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_role("button", name="copy this line").click()
    page.get_by_label("Goods", exact=True).select_option("terry-towel")
    lines = page.get_by_label("Lines of the order")
    expect(lines).to_contain_text("12 × Terry towel")
    lines.get_by_role("button", name="sell together").click()
    lines.get_by_label("as a").fill("Club box")
    lines.get_by_role("button", name="12 of them").click()
    expect(lines).to_contain_text("sold as 12 × Club box")
    saved(page)
    page.reload()
    expect(lines).to_contain_text("sold as 12 × Club box")
    lines.get_by_role("button", name="12 × Terry towel").click()
    lines.get_by_role("button", name="remove this line").click()
    expect(lines.get_by_text("Club box")).to_have_count(0)
    expect(unit(page)).to_have_text(PRICE)
    assert said == []


def test_suppliers_prices_and_what_is_owed_for_the_customers_own(page: Page, said: list[str]):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_text("Cheaper in bulk, packs, delivery").click()
    page.get_by_role("button", name="+ a cheaper price").click()
    page.get_by_label("Cheaper from, row 1").fill("20")
    page.get_by_label("Costs then, row 1").fill("5.40")
    expect(unit(page)).to_have_text("£13.65")  # (9.865 - 1.00) ÷ 0.65, up to the next 0.05
    page.get_by_label("Costs then, row 1").fill("cheap")
    expect(page.get_by_role("alert")).to_contain_text(
        "Not priced as typed. Unit cost: must be a number, not 'cheap'. Enter digits, such as 6.40."
    )
    page.get_by_role("button", name="Remove row 1 of the supplier's prices").click()
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_label("The customer brings the goods").check()
    owed = page.get_by_label("If one is spoiled, we owe (each)")
    expect(unit(page)).not_to_have_text("£15.20")
    without = unit(page).inner_text()
    owed.fill("80")
    expect(unit(page)).not_to_have_text(without)
    assert axe(page) == []
    assert said == []


def test_a_sent_quote_takes_no_file_and_lies_beside_its_revision(
    page: Page, address: str, crest_files, said: list[str]
):
    here = make(page, address)
    page.goto(here)
    page.get_by_role("button", name="Send", exact=True).click()
    page.get_by_role("button", name="Send it").click()
    expect(page.get_by_role("button", name="Revise")).to_be_visible()
    page.evaluate(
        """() => {
          const files = new DataTransfer();
          files.items.add(new File(['x'], 'other.dst'));
          const drop = new DragEvent('drop', { dataTransfer: files, bubbles: true });
          document.querySelector('.bench').dispatchEvent(drop);
        }"""
    )
    expect(page.locator(".toasts")).to_contain_text("other.dst is not taken in. Revise")
    held = page.get_by_label("Drawn to scale").get_by_role("img", name=re.compile("Left chest"))
    expect(held).to_be_visible()  # to look at, not to drag
    page.get_by_role("button", name="Revise").click()
    page.get_by_label("How many", exact=True).fill("48")
    expect(page.get_by_label("Lines of the order")).to_contain_text("48 × ")
    page.get_by_role("button", name="side by side").click()
    page.get_by_label("Lay beside it").select_option("version 1")
    sent = page.get_by_role("dialog").get_by_role("group", name="v1, as sent", exact=True)
    expect(sent).to_contain_text("24 pieces")
    expect(sent).to_contain_text("£15.20")
    assert said == []


def test_a_lost_server_is_said_in_the_frame_and_gone_when_it_is_back(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")

    def lost(route: Route) -> None:
        route.abort()

    page.route("**/api/**", lost)
    page.get_by_label("How many", exact=True).fill("30")
    strip = page.get_by_text("What you type is kept in this browser and sent")
    expect(strip).to_be_visible()
    assert axe(page) == []
    page.unroute("**/api/**", lost)
    expect(strip).to_be_hidden(timeout=15_000)
    expect(page.get_by_label("Lines of the order")).to_contain_text("30 × ")


def test_the_goods_own_colour_tints_the_drawing(page: Page):
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    wash = page.get_by_label("Drawn to scale").locator("path[opacity='0.75']")
    expect(wash).to_have_attribute("fill", "var(--cloth)")
    page.get_by_role("button", name="+ size or colour").click()
    page.get_by_label("Pieces, row 1").fill("24")
    page.get_by_label("Colour, row 1").fill("navy")
    expect(wash).to_have_attribute("fill", re.compile("#17284d"))
    page.get_by_label("Colour, row 1").fill("storm at sea")
    expect(wash).to_have_attribute("fill", "var(--cloth)")


def test_a_file_replaced_under_quotes_is_told_on_each(page: Page, address: str, said: list[str]):
    """The same name, another content: a draft may take it, what was sent stands as it was."""
    old, new = (stitch_file([("#223344", [fill(box)])], "dst") for box in (SMALL, LARGE))
    start(page)
    drop(page, "ferry.dst", old)
    ask(page)
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_label("Customer", exact=True).fill("Orrin Hill School Choir")
    saved(page)
    drafted = page.url
    page.goto("/quotes")
    page.get_by_role("row", name=re.compile("Orrin Hill School Choir")).first.wait_for()
    start(page)
    drop(page, "ferry.dst", old)
    ask(page)
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_label("Customer", exact=True).fill("Guest House at Pebble Stairs")
    saved(page)
    page.get_by_role("button", name="Send").click()
    page.get_by_role("button", name="Send it").click()
    expect(page.get_by_label("This quote")).to_contain_text("sent")
    gone = page.url

    start(page)
    drop(page, "ferry.dst", new)
    ask(page)
    expect(unit(page)).to_have_text(PRICE)
    saved(page)
    page.goto(gone)
    piece = page.get_by_role("region", name="The piece")
    expect(piece).to_contain_text(re.compile(r"Another ferry.dst came in on .* over 10%"))
    expect(piece).to_contain_text("Revise the quote to take it.")
    expect(piece.get_by_role("button", name="Take the later file.")).to_have_count(0)
    page.goto(drafted)
    before = unit(page).inner_text()
    piece.get_by_role("button", name="Take the later file.").click()
    expect(unit(page)).not_to_have_text(before)
    expect(piece).not_to_contain_text("Another ferry.dst")
    saved(page)
    page.reload()
    expect(unit(page)).to_have_text(PRICE)
    expect(piece).not_to_contain_text("Another ferry.dst")
    assert said == []


def test_what_was_priced_stays_in_sight_while_one_more_is_begun(page: Page, said: list[str]):
    """A place and a line begun are left out and told; back at the first all is there."""
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_role("button", name="+ place").click()
    begun = page.get_by_role("region", name="How to begin")
    expect(begun).to_contain_text("Still asked: the design of place 2.")
    expect(unit(page)).to_have_text("£15.20")
    expect(page.get_by_text("Not in this price yet: the design of place 2.")).to_be_visible()
    expect(page.get_by_role("button", name="Send", exact=True)).to_be_disabled()
    begun.get_by_role("button", name="Left chest").first.click()
    expect(page.get_by_role("region", name="The piece")).to_contain_text("85 × 60 mm")
    page.get_by_role("button", name="+ line").click()
    expect(begun).to_contain_text("What is it sewn on?")
    lines = page.get_by_label("Lines of the order")
    lines.get_by_role("button", name="24 × Piqué polo").click()
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_role("button", name="side by side").click()
    expect(page.get_by_text("Side by side once you have said")).to_be_visible()
    lines.get_by_role("button", name="Line 2").click()
    lines.get_by_role("button", name="remove this line").click()
    page.get_by_role("group", name="Places").get_by_role("button").nth(1).click()
    begun.get_by_role("button", name="remove this place").click()
    expect(page.get_by_role("button", name="Send", exact=True)).to_be_enabled()
    assert said == []


def test_a_shop_in_euros_that_writes_commas(page: Page, address: str, said: list[str]):
    """What was begun in pounds keeps them, and says so; what is typed with a comma is read."""
    pounds = make(page, address)
    page.goto("/workshop/rates")
    page.get_by_label("currency", exact=True).select_option("EUR")
    expect(page.get_by_label("A sample price")).to_contain_text("€15.20")
    margin = page.get_by_label("margin", exact=True)
    margin.fill("40 %")
    margin.press("Enter")
    expect(margin).to_have_value("40")
    page.get_by_label("round to", exact=True).fill("0,5")
    page.get_by_label("round to", exact=True).press("Enter")
    expect(page.get_by_label("A sample price")).to_contain_text("€15.20 became €16.50")
    page.get_by_role("button", name="Work my rates out of a year").click()
    wizard = page.get_by_label("Rates out of a year")
    wizard.get_by_label("A kWh costs").fill("30 cents")
    page.get_by_role("button", name="Work it out").click()
    expect(wizard.get_by_label("A kWh costs")).to_have_accessible_description(
        re.compile("Must be a number")
    )
    wizard.get_by_label("A kWh costs").fill("0,30")
    wizard.get_by_label("I want to take out, a month").fill("1.800,00")
    page.get_by_role("button", name="Work it out").click()
    expect(wizard).to_contain_text("20 EUR/h")
    expect(wizard.get_by_role("button", name=re.compile("^Take them: €20.00"))).to_be_visible()
    start(page)
    count(page, **WORKED)
    page.get_by_label("Goods", exact=True).select_option("pique-polo")
    page.get_by_label("A blank costs, €").fill("6,40")
    page.get_by_label("How many", exact=True).fill("24")
    expect(unit(page)).to_have_text("€16.50")
    page.goto(pounds)
    dock = page.get_by_label("Price", exact=True)
    expect(unit(page)).to_have_text(PRICE)
    expect(page.get_by_text("the shop's rates are in EUR: nothing is converted")).to_be_visible()
    page.get_by_role("button", name="Quote it in EUR.").click()
    expect(dock).to_contain_text("€16.50")
    expect(page.get_by_text("nothing is converted")).to_have_count(0)
    assert [line for line in said if "400" not in line] == []


def test_a_design_over_the_placket_is_moved_clear_by_one_press(page: Page, address: str):
    job = polos(placement__place={"side_mm": 10})
    page.goto(make(page, address, job=job))
    piece = page.get_by_role("region", name="The piece")
    expect(piece).to_contain_text("The sewn area lies over the front's opening")
    piece.get_by_role("button", name="Leave 10 mm: move it.").click()
    expect(piece.get_by_label("From centre front")).to_have_value("70")
    expect(piece.get_by_role("button", name="Left chest: ")).to_be_visible()
    expect(piece).not_to_contain_text("opening")
    # dragged over it again: told while nothing is lost
    piece.get_by_label("From centre front").fill("40")
    expect(piece).to_contain_text("lies over the front's opening")


def test_what_is_typed_key_by_key_stays_as_typed(page: Page, address: str):
    """No field rewrites a number on its way: "12.0" before "12.05", "1,2" before "1,200"."""
    page.goto(make(page, address))
    piece = page.get_by_role("region", name="The piece")

    def typed(field, text: str) -> None:
        field.fill("")
        field.press_sequentially(text)
        expect(field).to_have_value(text)

    typed(piece.get_by_label("Below collar point"), "200.05")
    expect(piece).to_contain_text("Centre mark 200.1 mm below")
    typed(piece.get_by_label("Tilt"), "10.05")
    page.get_by_text("Cheaper in bulk, packs, delivery").click()
    page.get_by_role("button", name="+ a cheaper price").click()
    typed(page.get_by_label("Cheaper from, row 1"), "1,200")
    typed(page.get_by_label("Costs then, row 1"), "5,05")
    typed(page.get_by_label("Delivery to us"), "10.05")
    page.get_by_text("more on it").click()
    typed(page.get_by_label("Discount on this line, %"), "1.05")
    typed(page.get_by_label("Delivery, charged once"), "7,05")
    saved(page)
    kept = page.request.get(f"{address}/api/v1{page.url.removeprefix(address)}").json()
    line = kept["job"]["lines"][0]
    assert line["goods"]["price_breaks"] == [{"quantity": "1,200", "unit_cost": "5,05"}]
    assert (line["goods"]["delivery"], line["discount"]) == ("10.05", "1.05 %")
    assert kept["job"]["delivery"] == "7,05"
    place = line["placements"][0]["place"]
    assert (place["gap_mm"], place["tilt_deg"]) == ("200.05", "10.05")
    # kept as typed; the core reads it, and says how
    read = {each["typed"]: each["value"] for each in kept["estimate"]["read"]}
    assert read == {"1,200": "1200", "5,05": "5.05", "7,05": "7.05", "1.05 %": "0.0105"}
    charged = page.get_by_label("Delivery, charged once")
    expect(charged).to_have_accessible_description("read as 7.05")
    page.reload()
    page.get_by_text("more on it").click()
    expect(page.get_by_label("Discount on this line, %")).to_have_value("1.05")
    # another currency's sign is no number here
    page.get_by_role("button", name="Close").click()
    page.get_by_label("A blank costs, £").fill("€6.40")
    expect(page.get_by_role("region", name="Ask")).to_contain_text("Must be a number")
    page.get_by_label("A blank costs, £").fill("£6.40")
    expect(page.get_by_role("region", name="Ask")).not_to_contain_text("Must be a number")


def test_a_draft_opened_with_something_unreadable_can_be_mended(page: Page, address: str):
    """Its field may be out of sight, for there is no price yet: what is wrong is taken out."""
    job = polos(placement__place={"gap_mm": "seven", "side_mm": 90})
    page.goto(make(page, address, job=job))
    alert = page.get_by_role("alert")
    expect(alert).to_contain_text("Gap: 'seven' is no length. Write it like 90")
    dock = page.get_by_label("Price", exact=True)
    expect(dock).to_contain_text("No price until that is mended.")
    alert.get_by_role("button", name="Take it out").click()
    expect(unit(page)).to_have_text("£15.20")
    piece = page.get_by_role("region", name="The piece")
    expect(piece.get_by_label("From centre front")).to_have_value("90")
    expect(alert).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(alert).to_contain_text("'seven' is no length")
    expect(alert).to_contain_text("The price below is of what was there before.")


def _quote(page: Page, address: str, job) -> None:
    made = page.request.post(
        f"{address}/api/v1/quotes", data={"job": job}, headers={"origin": address}
    ).json()
    page.goto(f"/quotes/{made['id']}")
    expect(page.get_by_label("The piece")).to_be_visible()


def test_a_blankets_name_is_priced_whole_and_its_room_can_be_typed(page: Page, address: str):
    """“Rosalind” on a blanket's end: no refusal; a narrow blanket bounds it by its own size."""
    words = {"text": "Rosalind", "height_mm": 53}
    named = polos(
        goods__class="plush-blanket",
        line__quantity=1,
        placement__position="end",
        placement__design=words,
    )
    _quote(page, address, named)
    expect(page.get_by_label("This quote").get_by_role("status")).not_to_contain_text("stop")
    making = page.get_by_label("The making")
    expect(making.get_by_label("Goes in", exact=True)).to_have_value("270")
    drawn = page.get_by_role("img", name="The rest of it lies to the left.")
    expect(drawn).to_be_visible()
    page.get_by_label("Piece wide", exact=True).fill("250")
    told = page.get_by_label("The piece").get_by_role("note").first
    expect(told).to_contain_text("is larger than its place")


def test_a_turned_hat_is_shown_how_it_goes_in(page: Page, address: str):
    hat = polos(goods__class="knitted-hat", placement__position="fold", design__height_mm=40)
    _quote(page, address, hat)
    drawn = page.get_by_role("figure").filter(has_text="inner face")
    expect(drawn).to_contain_text("The edge, turned up, goes on first")
    way = page.get_by_label("The making").get_by_label("Goes in", exact=True)
    expect(way).to_have_value("0")
    way.select_option("180")
    told = page.get_by_role("note").filter(has_text="Turned 180°")
    expect(told).to_contain_text("lies in front")
    told.get_by_role("button", name="Turn it 0°").click()
    expect(way).to_have_value("0")
    expect(told).to_have_count(0)
    assert axe(page) == []
