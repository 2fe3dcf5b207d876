"""Quotes in a real browser: left and returned to, two tabs, a lost line, sent and revised."""

import io

import pytest
from playwright.sync_api import BrowserContext, Page, expect
from pypdf import PdfReader

from clothyard.services.customer_page.links import CustomerAnswer, answer_link, make_link
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes.drafts import list_quotes
from clothyard.services.sending import send as sending
from clothyard.store.shop import Shop
from tests.browser.conftest import axe
from tests.browser.test_bench import WORKED, ask, count, method, saved, start, unit
from tests.conftest import polos


def worked(page: Page) -> None:
    start(page)
    count(page, **WORKED)
    ask(page)
    expect(unit(page)).to_have_text("£15.20")


def bar(page: Page):
    return page.get_by_label("This quote")


def test_make_leave_and_return(page: Page, said: list[str]):
    worked(page)
    bar(page).get_by_label("Customer", exact=True).fill("Tern Street Bakers")
    saved(page)
    number = bar(page).get_by_role("heading").inner_text().split()[0]
    expect(page).to_have_title(f"{number} Tern Street Bakers · Clothyard")
    page.get_by_role("link", name="Quotes").click()
    page.get_by_label("Search").fill("tern street")
    row = page.get_by_role("row", name=number)
    expect(row).to_contain_text("24 × Piqué polo")
    expect(row).to_contain_text("draft")
    page.reload()
    expect(page.get_by_label("Search")).to_have_value("tern street")
    page.get_by_role("link", name=number).click()
    expect(unit(page)).to_have_text("£15.20")
    expect(bar(page).get_by_label("Customer", exact=True)).to_have_value("Tern Street Bakers")
    expect(page.get_by_label("Trims", exact=True)).to_have_value("9")
    page.get_by_label("How many", exact=True).fill("50")
    saved(page)
    page.reload()
    expect(unit(page)).to_have_text("£14.70")
    page.keyboard.press("Alt+z")  # undo outlives the reload
    expect(page.get_by_label("How many", exact=True)).not_to_have_value("50")
    assert said == []


def test_left_at_once_nothing_typed_is_lost(page: Page):
    worked(page)
    page.get_by_label("How many", exact=True).fill("77")
    page.wait_for_timeout(60)  # under the time that saving waits
    page.reload()
    expect(page.get_by_label("How many", exact=True)).to_have_value("77")
    saved(page)


@pytest.mark.parametrize("choice", ["Keep mine", "Take what is there"])
def test_two_tabs_notice_each_other(page: Page, context: BrowserContext, choice):
    worked(page)
    saved(page)
    other = context.new_page()
    other.goto(page.url)
    expect(unit(other)).to_have_text("£15.20")
    page.route("**/api/v1/quotes/*", lambda route: route.abort())  # this one cannot save yet
    page.get_by_label("How many", exact=True).fill("30")
    expect(bar(page)).to_contain_text("Kept here")
    other.get_by_label("How many", exact=True).fill("40")
    saved(other)
    page.unroute("**/api/v1/quotes/*")
    dialog = page.get_by_role("dialog", name="Changed in another place")
    expect(dialog).to_be_visible(timeout=10_000)
    dialog.get_by_role("button", name=choice).click()
    expect(dialog).to_be_hidden()
    kept = "30" if choice == "Keep mine" else "40"
    expect(page.get_by_label("How many", exact=True)).to_have_value(kept)
    saved(page)
    page.reload()
    expect(page.get_by_label("How many", exact=True)).to_have_value(kept)


def test_a_lost_line_keeps_typed_work_and_sends_it_later(page: Page):
    worked(page)
    saved(page)
    page.route("**/api/**", lambda route: route.abort())
    page.get_by_label("How many", exact=True).fill("100")
    expect(bar(page)).to_contain_text("Kept here; sent when the server is back")
    page.unroute("**/api/**")
    expect(unit(page)).to_have_text("£14.45", timeout=10_000)
    saved(page)
    page.reload()
    expect(unit(page)).to_have_text("£14.45")


LATE = """() => {
  const ask = window.fetch;
  const wait = (ms) => new Promise((done) => setTimeout(done, ms));
  window.fetch = async (asked, how) => {
    if (!window.late) return ask(asked, how);
    const { method, url } = asked instanceof Request ? asked : new Request(asked, how);
    if (method !== "GET") await wait(500);
    const answer = await ask(asked, how);
    if (url.includes("/quotes/")) await wait(1000);
    return answer;
  };
}"""
"""A write reaches the server after half a second; a quote that was read before comes after it."""


def test_what_is_missing_is_told_before_sending(page: Page, said: list[str]):
    page.add_init_script(f"({LATE})()")
    worked(page)
    page.get_by_role("button", name="Send", exact=True).click()
    dialog = page.get_by_role("dialog")
    missing = dialog.get_by_label("Before it goes out")
    expect(missing).to_contain_text("It is for nobody yet.")
    expect(dialog.get_by_role("button", name="Send it")).to_have_attribute("aria-disabled", "true")
    expect(missing).to_contain_text("9 of the 9 rates of this price are guesses")
    dialog.get_by_label("For", exact=True).fill("Tern Street Bakers")
    dialog.get_by_label("E-mail").fill("bread@tern-street.example")
    expect(missing).to_contain_text("opens on this machine only")
    expect(dialog.get_by_role("button", name="Send it")).to_have_attribute("aria-disabled", "false")
    assert axe(page) == []
    with page.context.expect_page() as opened:
        missing.get_by_role("link", name="their page").click()
    ahead = opened.value
    expect(ahead.get_by_role("heading", name="24 × Piqué polo")).to_be_visible()
    expect(ahead.get_by_role("status")).to_contain_text("Nothing is sent by looking")
    expect(ahead.get_by_role("button", name="Accept this quote")).to_have_count(0)
    ahead.close()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="9 of 9 rates guessed").click()
    told = page.get_by_role("dialog")
    told.get_by_role("link", name="Labour per h").click()
    page.get_by_label("labour per h", exact=True).fill("17")
    # back on the bench before the write is answered: the quote read as it was is asked for again
    page.evaluate("() => void (window.late = true)")
    page.get_by_label("labour per h", exact=True).press("Enter")
    page.go_back()
    page.get_by_role("button", name="8 of 9 rates guessed").click()
    page.goto("/workshop/standards?search=rates.labour_per_h")
    page.get_by_role("button", name="Reset", exact=True).click()
    expect(page.get_by_label("labour per h", exact=True)).to_have_value("16")


def test_send_revise_and_compare(page: Page, said: list[str]):
    worked(page)
    page.get_by_role("button", name="Send", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("For", exact=True).fill("Tern Street Bakers")
    dialog.get_by_label("E-mail").fill("bread@tern-street.example")
    dialog.get_by_role("button", name="Send it").click()
    expect(bar(page)).to_contain_text("sent")
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_role("button", name="Revise").click()
    page.get_by_label("How many", exact=True).fill("50")
    method(page, "Backing").select_option("tear-away-medium")
    expect(unit(page)).to_have_text("£14.55")
    page.get_by_role("button", name="Send", exact=True).click()
    page.get_by_role("dialog").get_by_role("button", name="Send it").click()
    expect(bar(page)).to_contain_text("v2")
    expect(bar(page)).to_contain_text("sent")
    page.get_by_role("button", name="Versions").click()
    second = page.get_by_role("dialog").get_by_label("Version 2")
    expect(second).to_contain_text("A piece: 15.20 became 14.55.")
    expect(second).to_contain_text("Quantity: 24 became 50.")
    with page.expect_download() as waiting:
        second.get_by_role("link", name="Customer's quote (PDF)").click()
    text = PdfReader(io.BytesIO(waiting.value.path().read_bytes())).pages[0].extract_text()
    assert "£14.55" in text
    assert "cost" not in text.lower()
    assert axe(page) == []
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Declined").click()
    expect(bar(page)).to_contain_text("declined")
    page.get_by_role("button", name="Take answer back").click()
    expect(bar(page)).to_contain_text("sent")
    page.get_by_role("button", name="Accepted").click()
    expect(bar(page)).to_contain_text("accepted")
    page.get_by_role("button", name="handwork").first.click()
    expect(page.get_by_label("Working", exact=True)).to_contain_text("(hand + standing by)")
    page.get_by_role("button", name="Same again").click()
    page.keyboard.press("Enter")
    expect(bar(page)).to_contain_text("draft")
    comes_from = page.get_by_label("Where it comes from")
    expect(comes_from).to_have_value("before")
    comes_from.select_option("Made for this order, here")
    expect(unit(page)).to_have_text("£14.55")
    page.get_by_role("link", name="Quotes").click()
    page.get_by_role("link", name="Outbox").click()
    page.get_by_role("row", name="bread@tern-street.example").get_by_role("button").first.click()
    expect(page.get_by_label("Message", exact=True)).to_contain_text("50 pieces at £14.55")
    assert axe(page) == []
    assert [line for line in said if "409" not in line] == []


def test_sending_is_refused_while_a_stop_stands(page: Page):
    page.goto("/quotes?search=Q-0009")
    page.get_by_role("link", name="Q-0009").click()
    expect(page.get_by_role("note").first).to_contain_text("fits no hoop")
    page.get_by_role("button", name="Send", exact=True).click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Before it goes out")).to_contain_text("fits no hoop")
    expect(dialog.get_by_role("button", name="Send it")).to_have_attribute("aria-disabled", "true")
    expect(dialog).to_contain_text("It cannot go out while a stop stands.")


def test_the_list_filters_copies_and_deletes_with_undo(page: Page):
    page.goto("/quotes")
    page.get_by_role("button", name="New quote").click()
    expect(page.get_by_label("Goods", exact=True)).to_be_visible()
    page.goto("/quotes")
    page.get_by_role("button", name="expired").click()
    expect(page.get_by_role("row")).to_have_count(2)
    expect(page.get_by_role("row").last).to_contain_text("Guest House at Pebble Stairs")
    page.get_by_role("button", name="Delete Q-0001").click()
    expect(page.get_by_text("No quote is like that.")).to_be_visible()
    page.get_by_role("button", name="Bring it back").click()
    expect(page.get_by_role("link", name="Q-0001")).to_be_visible()
    page.get_by_role("button", name="all", exact=True).click()
    page.get_by_role("button", name="Customer", exact=True).click()
    expect(page.get_by_role("row").nth(1)).to_contain_text("Brackwater Rowing Club")
    assert axe(page) == []
    page.get_by_role("button", name="Copy Q-0001").click()
    expect(page.get_by_label("Goods", exact=True)).to_have_value("cushion-cover")
    expect(bar(page)).to_contain_text("draft")


def test_no_quote_in_any_state_is_wider_than_its_window(page: Page, shop: Shop):
    sizes = [(1280, 800), (900, 700), (640, 400), (390, 844)]
    seen = set()
    for row in list_quotes(shop, limit=200).items:
        if (row.state, row.version > 0, row.heard) in seen:
            continue
        seen.add((row.state, row.version > 0, row.heard))
        page.goto(f"/quotes/{row.id}")
        expect(page.get_by_label("This quote")).to_contain_text(row.number)
        if row.total:
            expect(page.get_by_test_id("unit-price").last).to_be_attached()
        for width, height in sizes:
            page.set_viewport_size({"width": width, "height": height})
            page.wait_for_timeout(100)  # what is measured is laid out anew
            over = page.evaluate("() => document.documentElement.scrollWidth - window.innerWidth")
            assert over <= 0, (row.number, row.state, width)
    assert {"draft", "sent", "accepted", "declined", "expired"} <= {state for state, *_ in seen}


def test_a_quote_that_is_not_there(page: Page):
    page.goto("/quotes/9999")
    expect(page.get_by_role("alert")).to_contain_text("There is no quote 9999")


def test_back_up_and_go_back(page: Page):
    page.goto("/workshop/standards")
    page.get_by_role("link", name="Backups").click()
    page.get_by_role("button", name="Back up now").click()
    expect(page.get_by_role("listitem").first).to_contain_text("backup-")
    worked(page)
    saved(page)
    number = bar(page).get_by_role("heading").inner_text().split()[0]
    page.goto("/workshop/backups")
    page.get_by_role("button", name="Go back to it").last.click()
    assert axe(page) == []
    page.get_by_role("button", name="Yes, go back to it").click()
    told = page.get_by_role("status").filter(has_text="The shop is as it was")
    expect(told).to_be_visible()
    page.get_by_role("link", name="Quotes").click()
    expect(page.get_by_role("link", name="Q-0001")).to_be_visible()
    # gone, or untouched as it was before
    row = page.get_by_role("row").filter(has=page.get_by_role("link", name=number))
    expect(row.filter(has_text="24 × Piqué polo")).to_have_count(0)


def test_a_page_left_as_its_save_arrives_is_no_conflict(page: Page, said: list[str]):
    """What this browser could not yet mark as sent, though the server has it."""
    worked(page)
    page.get_by_label("Customer", exact=True).fill("Saltmarsh Wool Week")
    saved(page)
    number = int(page.url.rsplit("/", 1)[1])
    page.goto("/quotes")
    page.evaluate(
        """number => new Promise((done, failed) => {
          const open = indexedDB.open("keyval-store");
          open.onerror = () => failed(open.error);
          open.onsuccess = () => {
            const store = open.result.transaction("keyval", "readwrite").objectStore("keyval");
            const names = store.getAllKeys();
            names.onsuccess = () => {
              const name = names.result.find((each) => each.endsWith(`.${number}`));
              const read = store.get(name);
              read.onsuccess = () => {
                const kept = { ...read.result, unsent: true, base: "before it" };
                store.put(kept, name).onsuccess = () => done();
              };
            };
          };
        })""",
        number,
    )
    page.goto(f"/quotes/{number}")
    expect(unit(page)).to_have_text("£15.20")
    page.get_by_label("How many", exact=True).fill("25")
    saved(page)
    expect(page.get_by_role("button", name="Keep mine")).to_have_count(0)
    page.reload()
    expect(page.get_by_label("How many", exact=True)).to_have_value("25")
    assert said == []


def unsent(page: Page, pieces: str) -> None:
    """Type what the server cannot be told."""
    page.route(
        "**/api/v1/quotes/*",
        lambda route: route.abort() if route.request.method == "PUT" else route.continue_(),
    )
    page.get_by_label("How many", exact=True).fill(pieces)
    expect(bar(page)).to_contain_text("Kept here; sent when")


def test_a_draft_of_another_shop_at_the_same_address_is_not_seen(page: Page, said: list[str]):
    worked(page)
    page.get_by_label("Customer", exact=True).fill("Of this shop")
    saved(page)
    unsent(page, "77")
    said.clear()

    def other(route):
        answer = route.fetch()
        route.fulfill(response=answer, headers=answer.headers | {"x-shop": "other.first"})

    page.unroute("**/api/v1/quotes/*")
    page.route("**/api/**", other)
    page.reload()
    expect(page.get_by_label("How many", exact=True)).to_have_value("24")
    saved(page)
    page.unroute_all(behavior="wait")  # what is asked a little later is answered, too
    page.reload()
    expect(page.get_by_label("How many", exact=True)).to_have_value("77")  # it was kept
    saved(page)
    assert said == []


def test_a_backup_gone_back_to_under_an_open_page_is_noticed_and_both_are_shown(page: Page):
    worked(page)
    page.get_by_label("Customer", exact=True).fill("Before the backup")
    saved(page)
    number = page.url.rsplit("/", 1)[1]
    backup = page.request.post("/api/v1/backups").json()
    page.get_by_label("Customer", exact=True).fill("After the backup")
    saved(page)
    page.request.post(f"/api/v1/backups/{backup['name']}/restore")
    page.get_by_label("How many", exact=True).fill("31")
    mine = page.get_by_role("button", name="Keep mine")
    expect(mine).to_be_visible()
    expect(page.get_by_text("nothing is sent until you reload")).to_be_visible()
    there = page.request.get(f"/api/v1/quotes/{number}").json()
    assert (there["customer"], there["job"]["lines"][0]["quantity"]) == ("Before the backup", "24")
    page.reload()  # what was typed is kept, and still asked about
    expect(mine).to_be_visible()
    expect(page.get_by_label("How many", exact=True)).to_have_value("31")
    mine.click()
    saved(page)
    there = page.request.get(f"/api/v1/quotes/{number}").json()
    assert (there["customer"], there["job"]["lines"][0]["quantity"]) == ("After the backup", "31")


def test_a_draft_says_that_standards_changed_since(page: Page):
    worked(page)
    saved(page)
    here = page.url
    page.goto("/workshop/standards")
    page.get_by_label("Search").fill("labour rates")
    page.get_by_label("labour per h", exact=True).fill("32")
    page.get_by_label("labour per h", exact=True).press("Enter")
    expect(page.get_by_text("default 16", exact=True)).to_be_visible()
    page.goto(here)
    told = bar(page).get_by_text("1 standard changed since it was saved")
    told.click()
    expect(bar(page)).to_contain_text("Rates, labour per h: 16.00 became 32.")
    expect(unit(page)).to_have_text("£18.15")
    page.get_by_label("How many", exact=True).fill("25")
    saved(page)
    expect(told).to_be_hidden()


def test_a_deleted_quote_is_listed_and_brought_back(page: Page, shop: Shop, said: list[str]):
    worked(page)
    number = bar(page).get_by_role("heading").inner_text().split()[0]
    page.goto("/quotes")
    page.get_by_role("button", name=f"Delete {number}").click()
    expect(page.get_by_role("link", name=number)).to_have_count(0)
    page.get_by_role("button", name="deleted", exact=True).click()
    page.get_by_role("button", name=f"Bring {number} back").click()
    expect(page.get_by_role("link", name=number)).to_have_count(0)
    page.get_by_role("button", name="all", exact=True).click()
    expect(page.get_by_role("link", name=number)).to_be_visible()
    # a change that is asked for while the list is open is heard
    view = quotes.create_quote(shop, quotes.QuoteDocument(customer="Wren", job=polos()))
    sent = sending.send_quote(shop, view.id, seen=view.revision)
    link = make_link(shop, sent.id, served_at="http://127.0.0.1")
    page.get_by_role("button", name="change asked").click()
    asked = CustomerAnswer(kind="change", name="Wren", words="in blue, please")
    answer_link(shop, link.path.removeprefix("/q/"), asked)
    expect(page.get_by_role("link", name=sent.number)).to_be_visible()
    assert axe(page) == []
