"""Steps on the bench: appliqué and things made in the hoop, whole jobs by keyboard."""

import copy
import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_bench import PRICE, ask, count, drop, saved, start, unit
from tests.conftest import price
from tests.core.test_made import apron, ears, runner, tabs
from tests.services.test_steps_kept import leaf, stopping


def steps(page: Page):
    return page.get_by_label("Steps by hand")


def editor(page: Page):
    return steps(page).get_by_role("group", name="The step")


def pick(page: Page, label: str, *letters: str, within=None) -> None:
    """Choose in a list by typing how the choice begins, with the keyboard alone."""
    field = (within or editor(page)).get_by_label(label, exact=True)
    field.focus()
    for each in letters:
        page.keyboard.type(each)


def fill(page: Page, label: str, value: str) -> None:
    field = editor(page).get_by_label(label, exact=True)
    field.focus()
    page.keyboard.press("Control+a")
    page.keyboard.type(value)


def add(page: Page, does: str) -> None:
    pick(page, "Add", does, within=steps(page))
    page.keyboard.press("Enter")
    steps(page).get_by_role("button", name="Add the step").focus()
    page.keyboard.press("Enter")
    expect(editor(page).get_by_label("What", exact=True)).to_be_focused()


def kept(page: Page) -> dict:
    saved(page)
    return page.request.get(page.url.replace("/quotes/", "/api/v1/quotes/")).json()


def test_twelve_aprons_with_three_patches_by_keyboard(page: Page, said: list[str]):
    """The order of tests/core/test_made.py, made on the screen; its price is the core's."""
    start(page)
    count(page, Stitches="9000", Colours="6", Width="120", Height="110", Trims="6")
    ask(page, "twill", "5.50", "12")
    expect(unit(page)).to_have_text(PRICE)
    for n, (sheet, size) in enumerate((("Cotton", 110), ("Felt", 90), ("Cotton", 70))):
        add(page, "Lay")
        pick(page, "When", "Before" if n == 0 else f"After colour {2 * n}")
        expect(editor(page).get_by_label("When", exact=True)).to_be_focused()
        pick(page, "Material", sheet)
        pick(page, "For", "each piece, as usual")
        fill(page, "Cut wide", str(size))
        fill(page, "Cut high", str(size))
        add(page, "Trim")
        fill(page, "Outline", str(4 * (size - 30)))
        page.keyboard.press("Escape")
    chips = steps(page).locator("[data-step]")
    expect(chips).to_have_count(6)
    expect(chips.first).to_contain_text("Lay a patch")
    expect(chips.first).to_contain_text("Cotton fabric, 20 s")
    wanted = apron()
    job = {"format": "clothyard-job/1", "currency": "GBP", "lines": [wanted]}
    del wanted["placements"][0]["design"]["thread_colours"], wanted["placements"][0]["methods"]
    del wanted["digitising"], wanted["sample"]
    expect(unit(page)).to_have_text(f"£{price(job, compare=False).lines[0].price.unit}")
    found = kept(page)["job"]["lines"][0]["placements"][0]["steps"]
    told = [(s["do"], int(s["after_block"]), float(s.get("width_mm", 0))) for s in found]
    assert told == [
        (s["do"], s["after_block"], float(s.get("width_mm", 0)))
        for s in wanted["placements"][0]["steps"]
    ]
    expect(page.get_by_label("Cut plans")).to_contain_text("Cotton fabric: 12 pieces of 110 mm")
    expect(page.get_by_text("Layers, from the top")).to_be_visible()
    # an order that does not work is told, and mended by one press
    chips.nth(1).focus()
    page.keyboard.press("Alt+ArrowLeft")
    piece = page.get_by_label("The piece")
    expect(piece).to_contain_text("Trim comes before the tack-down")
    piece.get_by_role("button", name=re.compile("Trim after block 1")).click()
    expect(piece).not_to_contain_text("Trim comes before the tack-down")
    # undo takes that back, and Delete one away
    page.keyboard.press("Alt+z")
    expect(piece).to_contain_text("Trim comes before the tack-down")
    chips.nth(5).focus()
    page.keyboard.press("Delete")
    expect(chips).to_have_count(5)
    expect(chips.nth(4)).to_be_focused()
    assert axe(page) == []
    assert said == []


def test_ten_tabs_with_snap_and_ring_two_a_hooping(page: Page, said: list[str]):
    start(page)
    page.get_by_role("button", name="Key tab").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("How many of it")).to_be_focused()
    page.keyboard.type("10")
    page.keyboard.press("Enter")
    expect(unit(page)).to_have_text(PRICE)
    expect(page.get_by_role("button", name="Count", exact=True)).to_be_focused()
    expect(page.get_by_label("A blank costs, £")).to_have_count(0)
    for label, value in (("Columns", "2"), ("Rows", "1")):
        page.get_by_label(label, exact=True).focus()
        page.keyboard.type(value)
    saved(page)  # its choices stand as they are
    making = page.get_by_label("The making")
    bobbin = making.get_by_label("Bobbin", exact=True)
    wanted = tabs()
    del wanted["digitising"], wanted["sample"], wanted["placements"][0]["methods"]["hoop"]
    job = {"format": "clothyard-job/1", "currency": "GBP", "lines": [wanted]}
    matching = copy.deepcopy(job)
    del matching["lines"][0]["placements"][0]["methods"]["bobbin"]
    before = price(matching, compare=False).lines[0].price.unit
    expect(unit(page)).to_have_text(f"£{before}")
    page.wait_for_load_state("networkidle")  # what else could be done is known, too
    bobbin.focus()
    page.keyboard.type("White")
    expect(bobbin).to_have_value("white")
    expect(unit(page)).to_have_text(f"£{price(job, compare=False).lines[0].price.unit}")
    expect(page.get_by_role("img", name=re.compile("2 × 1 of it"))).to_be_visible()
    expect(making.get_by_label("Part 1", exact=True)).to_have_value("snap")
    expect(making.get_by_label("Part 2", exact=True)).to_have_value("ring")
    making.get_by_role("button", name="+ snap, ring, ribbon").click()
    expect(making.get_by_label("Part 3", exact=True)).to_be_focused()
    page.keyboard.type("Ribbon")
    page.get_by_label("Length of each", exact=True).fill("150")
    # 8.20 and 1.5 m of ribbon at 0.50
    expect(page.get_by_label("Price", exact=True)).to_contain_text("sheet goods 8.95")
    making.get_by_role("button", name="Remove part 3").click()
    expect(making.get_by_label("Part 1", exact=True)).to_be_focused()
    page.set_viewport_size({"width": 390, "height": 844})
    chip = steps(page).locator("[data-step]").first
    chip.click()
    wide = page.evaluate("() => document.documentElement.scrollWidth")
    assert wide <= 390
    assert axe(page) == []
    assert said == []


def test_a_patch_follows_its_colour_and_the_next_quote_offers_the_steps(page: Page, said):
    start(page)
    ask(page, "twill", "5.50", "3")
    drop(page, "leaf.vp3", leaf())
    expect(unit(page)).to_have_text(PRICE)
    add(page, "Lay")
    pick(page, "Follows the outline of", "colour 2")
    expect(editor(page).get_by_label("Cut wide")).to_have_attribute("placeholder", "90")
    expect(page.get_by_text("90 × 90 mm, 3 pieces for the line")).to_be_visible()
    add(page, "Trim")
    pick(page, "Follows the outline of", "colour 2")
    outline = editor(page).get_by_label("Outline", exact=True)
    expect(outline).to_have_value(re.compile(r"^18[789]$|^19\d$"))
    page.keyboard.press("Escape")
    expect(steps(page).locator("[data-step='1']")).to_be_focused()
    # dragged past colour 3, and back by undo
    chip = steps(page).locator("[data-step='1']")
    chip.drag_to(steps(page).locator("li", has_text=re.compile("^3$")))
    order = steps(page).get_by_label("In the order of the work").get_by_role("listitem")
    expect(order).to_contain_text(
        ["1", "Lay a patch", "2", "3", "Trim along it", "out of the hoop"]
    )
    page.keyboard.press("Alt+z")
    saved(page)
    start(page)
    ask(page, "twill", "5.50", "3")
    page.get_by_label("Or one that is here").select_option(index=1)
    expect(steps(page)).to_contain_text("As it was sewn last: lay a patch, trim along it.")
    steps(page).get_by_role("button", name="Take these steps").press("Enter")
    expect(steps(page).locator("[data-step='0']")).to_be_focused()
    expect(steps(page).locator("[data-step]")).to_have_count(2)
    assert said == []


def test_a_stop_of_the_file_asks_what_happens_there(page: Page, said: list[str]):
    start(page)
    ask(page, "twill", "5.50", "3")
    drop(page, "stop.pes", stopping())
    expect(unit(page)).to_have_text(PRICE)
    steps(page).get_by_role("button", name="Stop 1 what happens here?").press("Enter")
    expect(editor(page).get_by_label("What", exact=True)).to_be_focused()
    expect(editor(page).get_by_label("When", exact=True)).to_have_value("stop 1")
    pick(page, "What", "Tape")
    expect(steps(page).get_by_role("button", name="Tape down 10 s")).to_be_visible()
    expect(steps(page).get_by_role("button", name="what happens here?")).to_have_count(0)
    assert said == []


def type_in(page: Page, label: str, value: str) -> None:
    field = page.get_by_role("textbox", name=label, exact=True)
    field.focus()
    page.keyboard.press("Control+a")
    page.keyboard.type(value)


def test_a_two_sided_toy_ear_pair_by_keyboard(page: Page, said: list[str]):
    """tests/core/test_made.py: two ears, each opened, sewn and closed; the price is the core's."""
    start(page)
    count(page, Stitches="2000", Colours="1", Width="40", Height="60", Trims="1")
    ask(page, "toy-thin-part", "9.00", "1")
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_role("button", name="+ place").press("Enter")
    count(page, Stitches="2000", Colours="1", Width="40", Height="60", Trims="1")
    places = page.get_by_role("group", name="Places")
    expect(places.get_by_role("button", name="Left ear")).to_have_count(2)
    pick(page, "Place", "Right ear", within=page.get_by_label("The piece"))
    expect(places.get_by_role("button", name="Right ear")).to_be_visible()
    for ear in ("Right ear", "Left ear"):
        places.get_by_role("button", name=ear).press("Enter")
        type_in(page, "Seam opened", "80")
        pick(page, "Seam lies", "below", within=page.get_by_label("The piece"))
        grip = page.get_by_role("slider", name="Seam opened")
        expect(grip).to_have_attribute("aria-valuenow", "80")
    wanted = ears()
    del wanted["digitising"], wanted["sample"]
    for put in wanted["placements"]:
        del put["methods"]
    job = {"format": "clothyard-job/1", "currency": "GBP", "lines": [wanted]}
    cost = price(job, compare=False).lines[0]
    expect(unit(page)).to_have_text(f"£{cost.price.unit}")
    grip.focus()
    page.keyboard.press("Shift+ArrowUp")
    expect(page.get_by_role("textbox", name="Seam opened")).to_have_value("90")
    page.keyboard.press("Alt+z")
    expect(grip).to_have_attribute("aria-valuenow", "80")
    # the other ear first, and back
    order = page.get_by_role("group", name="Order of the places")
    expect(order).to_contain_text("sewn 1 of 2, front")
    order.get_by_role("button", name="later").press("Enter")
    expect(order).to_contain_text("sewn 2 of 2")
    expect(places.get_by_role("button").first).to_have_text("Right ear")
    order.get_by_role("checkbox").press("Space")
    expect(page.get_by_label("The piece")).to_contain_text("cannot share a hooping")
    order.get_by_role("checkbox").press("Space")
    expect(unit(page)).to_have_text(f"£{cost.price.unit}")
    assert axe(page) == []
    assert said == []


def test_a_runner_with_a_joined_border_of_nine_repeats(page: Page, said: list[str]):
    start(page)
    count(page, Stitches="1200", Colours="1", Width="90", Height="40", Trims="0")
    ask(page, "table-runner", "12.00", "1")
    expect(unit(page)).to_have_text(PRICE)
    piece = page.get_by_label("The piece")
    pick(page, "Place", "Along the border", within=piece)
    pick(page, "Sewn", "Repeated", within=piece)
    type_in(page, "Band long", "81cm")
    type_in(page, "Between motifs", "0")
    wanted = runner()
    del wanted["digitising"], wanted["sample"]
    wanted["placements"][0]["methods"] = {}
    job = {"format": "clothyard-job/1", "currency": "GBP", "lines": [wanted]}
    cost = price(job, compare=False).lines[0]
    expect(unit(page)).to_have_text(f"£{cost.price.unit}")
    laid = cost.places[0]
    told = f"9 motifs, {laid.hooping.per_piece} hoopings, {laid.band.joints} joints"
    expect(piece.get_by_role("img", name=re.compile(told))).to_be_visible()
    type_in(page, "Corners", "2")
    pick(page, "At a corner", "motifs are mitred", within=piece)
    expect(piece.get_by_role("img", name=re.compile("2 corners"))).to_be_visible()
    page.get_by_label("Fill it to both ends", exact=True).press("Space")
    pick(page, "Begins", "at an end", within=piece)
    for width in (390, 320):
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("() => document.documentElement.scrollWidth") <= width
    assert axe(page) == []
    assert said == []


def test_blanks_compared_by_trial_stand_beside_the_cap(page: Page, said: list[str]):
    page.goto("/shelf/blanks")
    trials = page.get_by_label("Trials")
    for blank, minutes, spoiled, cost in (("Firm", "9", "0", "4.80"), ("Low", "14", "5", "2.90")):
        for label, value in (
            ("Blank", blank),
            ("Minutes", minutes),
            ("Tried", "4"),
            ("Spoiled", spoiled),
            ("Price", cost),
            ("Thread, backing", "0"),
        ):
            trials.get_by_label(label, exact=True).fill(value)
        trials.get_by_role("button", name="Add the trial").press("Enter")
        if blank == "Low":
            expect(trials.get_by_role("alert")).to_contain_text("5 spoiled of 4 tried")
            trials.get_by_label("Spoiled", exact=True).fill("1")
            trials.get_by_role("button", name="Add the trial").press("Enter")
        expect(trials.get_by_role("row", name=blank)).to_be_visible()
        expect(trials.get_by_label("Blank", exact=True)).to_be_focused()
    expect(trials.get_by_role("row", name="Firm")).to_contain_text("£8.33the cheapest")
    assert axe(page) == []
    start(page)
    count(page, Stitches="4500", Width="90", Height="45")
    ask(page, "structured-cap", "4.80", "12")
    making = page.get_by_label("The making")
    tried = page.get_by_label("By trial").get_by_role("listitem").first
    expect(tried).to_contain_text("Firm£8.33 a good one")
    expect(tried).to_contain_text("9 min, 0 of 4 spoiled")
    making.get_by_role("button", name="Take it").last.press("Enter")
    expect(page.get_by_label("Sewn as a patch, fixed on after")).to_be_checked()
    expect(steps(page)).to_contain_text("Lay a patch")
    page.goto("/shelf/blanks")
    trials.get_by_role("button", name="Remove the trial of Firm").press("Enter")
    page.get_by_role("button", name="Bring it back").click()
    expect(trials.get_by_role("row", name="Firm")).to_be_visible()
    trials.get_by_role("button", name="Remove the trial of Firm").click()
    trials.get_by_role("button", name="Remove the trial of Low").click()
    assert said == [] or all("422" in each for each in said)
