"""From yes to ready: an accepted quote as an order, ticked, moved on, paid; by keyboard."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_rest_of_bench import make


def is_asked(page: Page) -> None:
    """Ready with nothing counted: asked, done all the same; counted by a press, asked no more."""
    ready = page.get_by_label("Get ready")
    state = page.get_by_label("State")
    state.select_option("ready")  # nobody has counted what it needs: it is asked
    asked = page.get_by_text("Not all that it needs is here")
    expect(asked).to_be_visible()
    page.get_by_role("button", name="It is so all the same").press("Enter")
    expect(state).to_have_value("ready")
    expect(asked).to_have_count(0)
    state.select_option("waiting")
    page.get_by_label("Waits for", exact=True).select_option("goods")
    expect(state).to_have_value("waiting")
    held = page.get_by_label("It waits for")
    expect(held).to_contain_text("Not counted: Piqué polo, sizes not said")
    assert axe(page) == []
    ready.get_by_text("One by one").click()
    here = ready.get_by_role("button", name="Here, enough: Piqué polo, sizes not said")
    here.press("Enter")
    expect(here).to_have_count(0)
    ready.get_by_role("button", name="All of it is here").press("Enter")
    expect(ready.get_by_role("button", name="All of it is here")).to_have_count(0)
    expect(ready.get_by_role("heading", name="Get ready")).to_be_focused()
    expect(held).to_have_count(0)


def test_an_accepted_quote_is_got_ready_and_paid(page: Page, address: str, said: list[str]):
    page.goto(make(page, address, email="a@orrin.example", customer="Hollow Lane Choir"))
    page.get_by_role("button", name="Send", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Send it").click()
    bar = page.get_by_label("This quote")
    expect(bar).to_contain_text("sent")
    bar.get_by_role("button", name="Accepted").click()
    expect(bar).to_contain_text("accepted")
    page.keyboard.press("Alt+o")
    expect(page.get_by_role("heading", name="Orders")).to_be_visible()
    page.get_by_label("Search").fill("hollow lane")
    row = page.get_by_role("row", name="Hollow Lane Choir")
    expect(row).to_contain_text("24 × Piqué polo")
    assert axe(page) == []
    row.get_by_role("link").press("Enter")
    ready = page.get_by_label("Get ready")
    polos = ready.get_by_role("checkbox", name="Piqué polo, sizes not said 26 pieces")
    polos.press("Space")
    expect(polos).to_be_checked()
    still = ready.get_by_role("status")
    boxes = ready.get_by_role("checkbox")
    boxes.nth(1).click()
    boxes.nth(2).click()  # at once: none is lost
    expect(still).to_contain_text("4 of 7 still to lay out")
    page.get_by_label("State").select_option("waiting")
    page.get_by_label("Waits for", exact=True).select_option("goods")
    expect(page.get_by_text("waits.")).to_be_visible()
    is_asked(page)
    page.get_by_label("State").select_option("ready")
    expect(page.get_by_text("is ready.")).to_be_visible()
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_label("State")).to_have_value("waiting")
    expect(page.get_by_label("Waits for", exact=True)).to_have_value("goods")
    page.get_by_label("State").select_option("ready")
    expect(page.get_by_text("is ready.").last).to_be_visible()
    money = page.get_by_label("Money")
    money.get_by_label("of", exact=True).fill("100")
    page.keyboard.press("Enter")
    expect(money).to_contain_text("payment £100.00")
    expect(money).to_contain_text("Paid£100.00")
    page.get_by_role("button", name="Undo").last.click()
    expect(money).to_contain_text("Paid£0.00")
    page.reload()
    expect(page.get_by_label("State")).to_have_value("ready")
    expect(polos).to_be_checked()
    for width in (390, 320):
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("() => document.documentElement.scrollWidth") <= width
    assert axe(page) == []
    page.goto("/orders/9999")
    expect(page.get_by_role("alert")).to_contain_text("is no order")
    assert [line for line in said if "404" not in line and "409" not in line] == []
