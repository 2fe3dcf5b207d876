"""From yes to ready: an accepted quote as an order, ticked, moved on, paid; by keyboard."""

from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_ready import api
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


def named(page: Page, address: str) -> tuple[int, str]:
    """A quote of three names that was sent, and the customer's link to it."""
    line = {
        "goods": {"class": "pique-polo", "unit_cost": "6.40"},
        "quantity": 3,
        "names": ["Ada", "Saoirse", "Kofi"],
        "placements": [{"design": {"text": "{name}", "height_mm": 12}}],
    }
    job = {"format": "clothyard-job/1", "lines": [line]}
    head = {"customer": "Fern Street Crew", "email": "", "due_on": "", "job": job}
    quote = api(page, address, "POST", "/quotes", head)["id"]
    sent(page, address, quote)
    return quote, api(page, address, "POST", f"/quotes/{quote}/link")["path"]


def revision(page: Page, address: str, quote: int) -> int:
    return api(page, address, "GET", f"/quotes/{quote}")["revision"]


def sent(page: Page, address: str, quote: int) -> None:
    api(page, address, "POST", f"/quotes/{quote}/send", seen=revision(page, address, quote))


def test_what_is_asked_stays_until_it_is_answered_and_a_name_is_corrected_at_its_piece(
    page: Page, address: str, said: list[str]
):
    quote, link = named(page, address)
    page.goto(link)
    form = page.get_by_label("Your answer")
    form.get_by_role("button", name="Ask for a change").click()
    form.get_by_role("textbox").first.fill("Navy, please, and one more.")
    form.get_by_label("Your name").fill("Io Quill")
    form.locator("button[type=submit]").press("Enter")
    expect(page.get_by_label("What you asked for")).to_contain_text("not answered it yet")
    seen = revision(page, address, quote)
    api(page, address, "POST", f"/quotes/{quote}/revise", seen=seen)
    page.goto(f"/quotes/{quote}")
    asked = page.get_by_label("Asked and not answered")
    expect(asked).to_contain_text("“Navy, please, and one more.”")
    asked.get_by_role("button", name="Not so").press("Enter")
    asked.get_by_label("Why not").fill("Navy is sold out.")
    page.keyboard.press("Enter")
    expect(asked).to_have_count(0)
    sent(page, address, quote)
    page.goto(link)  # of the version before: it leads to this one
    expect(page.get_by_text("A newer version was sent")).to_be_visible()
    expect(page.get_by_label("What you asked for")).to_contain_text("not so. Navy is sold out.")
    assert axe(page) == []
    seen = revision(page, address, quote)
    api(page, address, "POST", f"/quotes/{quote}/answer", {"answer": "accepted"}, seen=seen)
    page.goto(f"/orders/{quote}")
    page.get_by_role("button", name="Correct the name Saoirse").press("Enter")
    page.get_by_label("Saoirse is to be").fill("Saoirse B.")
    assert axe(page) == []
    page.keyboard.press("Enter")
    pieces = page.get_by_label("Pieces", exact=True)
    expect(pieces.get_by_role("checkbox", name="Saoirse B.")).to_be_visible()
    expect(pieces.get_by_role("heading", name="Pieces")).to_be_focused()
    assert said == []
