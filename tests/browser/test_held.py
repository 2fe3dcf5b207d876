"""Held as a master would: asked, pressed, shown on the bench, the order, the shop's own hoops."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.conftest import polos


def _quote(page: Page, address: str, job: dict) -> None:
    made = page.request.post(
        f"{address}/api/v1/quotes", data={"job": job}, headers={"origin": address}
    ).json()
    page.goto(f"/quotes/{made['id']}")
    expect(page.get_by_label("The piece")).to_be_visible()


def test_two_kinds_of_backing_are_taken_by_a_press_and_left_again(page: Page, address: str):
    _quote(page, address, polos())
    school = page.get_by_label("Other schools").locator("div").filter(has_text="tear-away under it")
    school.get_by_role("button").last.click()
    making = page.get_by_label("The making")
    expect(making.get_by_label("Beside it", exact=True)).to_have_value("tear-away-medium")
    expect(making.get_by_label("Backing", exact=True)).to_have_value("fusible-mesh")
    expect(page.get_by_role("button", name="tear-away, medium 180")).to_be_visible()
    making.get_by_label("Beside it", exact=True).select_option("none")
    expect(making.get_by_label("Its layers", exact=True)).to_have_count(0)


def test_the_cloths_colour_is_asked_once_and_the_bobbin_follows(page: Page, address: str):
    _quote(page, address, polos())
    making = page.get_by_label("The making")
    bobbin = making.get_by_label("Bobbin", exact=True)
    expect(bobbin).to_have_value("white")
    asked = making.get_by_label("What colour is the cloth?")
    asked.fill("midnight blue")
    asked.press("Enter")
    expect(bobbin).to_have_value("black")
    expect(asked).to_have_count(0)
    expect(bobbin).to_be_focused()
    expect(page.get_by_label("Colour, row 1")).to_have_value("midnight blue")
    expect(page.get_by_label("How many", exact=True)).to_have_value("24")


def test_the_better_blank_is_taken_with_its_minutes_and_what_was_spoiled(page: Page, address: str):
    for blank, price, minutes, spoiled in (("Firm panel", "4.80", 9, 0), ("Low", "2.90", 14, 1)):
        trial = {"goods": "structured-cap", "blank": blank, "price": price, "minutes": minutes}
        page.request.post(
            f"{address}/api/v1/trials",
            data=trial | {"tried": 4, "spoiled": spoiled},
            headers={"origin": address},
        )
    cap = polos(goods__class="structured-cap", placement__position="cap-front")
    _quote(page, address, cap)
    tried = page.get_by_label("By trial")
    rows = tried.get_by_role("listitem")
    expect(rows.first).to_contain_text("Firm panel")
    rows.first.get_by_role("button", name="Take it Firm panel").click()
    expect(page.get_by_label("A blank costs, £")).to_have_value("4.80")
    expect(page.get_by_label("A piece takes, min")).to_have_value("9")
    expect(page.get_by_label("Spoiled of it, %")).to_have_value("2.5")  # (0 + 0.6) of 24
    expect(rows.first).to_contain_text("taken")
    expect(page.get_by_label("Goods", exact=True)).to_be_focused()
    assert axe(page) == []


def test_a_hoop_of_the_shops_own_is_said_on_one_form(page: Page, address: str):
    page.goto("/workshop/machines")
    page.locator("[data-begin=hoop]").click()
    form = page.get_by_label("A hoop of your own")
    expect(form.get_by_label("Kind", exact=True)).to_be_focused()
    page.keyboard.press("Escape")
    expect(page.locator("[data-begin=hoop]")).to_be_focused()
    page.keyboard.press("Enter")
    form.get_by_label("Kind", exact=True).select_option("magnetic")
    form.get_by_label("Goes on").select_option("compact-10")
    form.get_by_label("Field wide").fill("150")
    form.get_by_label("Field high").fill("90")
    expect(form.get_by_label("Opening wide")).to_have_attribute("placeholder", "162")
    form.get_by_label("Outside wide").fill("200")
    assert axe(page) == []
    form.get_by_role("button", name="Add the hoop").click()
    expect(page.get_by_text("Magnetic 150 × 90 is added.")).to_be_visible()
    house = page.request.get(f"{address}/api/v1/house").json()
    [hoop] = [h for h in house["hoops"].values() if h["label"] == "Magnetic 150 × 90"]
    assert (hoop["kind"], hoop["machine"], hoop["opening_width_mm"]) == (
        "magnetic",
        "compact-10",
        162,
    )
    assert (hoop["outer_width_mm"], hoop["outer_height_mm"], hoop["takes_mm"]) == (200, 132, 6)


def test_an_order_shows_how_each_place_is_held(page: Page, address: str):
    found = page.request.get(f"{address}/api/v1/orders").json()["items"]
    page.goto(f"/orders/{found[0]['id']}")
    held = page.get_by_label("How it is held")
    held.locator("summary").first.click()
    expect(held.get_by_role("figure").first).to_be_visible()
    expect(held.get_by_label("After sewing").first).to_contain_text("Look: straight")
    assert axe(page) == []
