"""By when: a draft due too soon, a way out taken, sent with its day, planned, pinned, undone."""

import re

import icalendar
from playwright.sync_api import Page, expect

from tests.browser.conftest import axe
from tests.browser.test_ready import api, fits

JOB = {
    "lines": [
        {
            "goods": {"class": "tunic", "unit_cost": "11.00", "supplied_by": "customer"},
            "quantity": 14,
            "placements": [
                {"design": {"stitches": 15_000, "colours": 2, "width_mm": 90, "height_mm": 70}}
            ],
            "sample": {"pieces": 0},
        }
    ]
}

DAYS = b"""BEGIN:VCALENDAR\r
VERSION:2.0\r
PRODID:-//x//y//EN\r
BEGIN:VEVENT\r
UID:1\r
DTSTART;VALUE=DATE:20991225\r
SUMMARY:Too far\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:2\r
DTSTART;VALUE=DATE:{day}\r
SUMMARY:Harbour fair\r
END:VEVENT\r
END:VCALENDAR\r
"""


def test_a_day_is_promised_planned_pinned_and_closed(page: Page, address: str, said: list[str]):
    plan = api(page, address, "GET", "/plan")
    soon = just_missed(page, address, plan)
    head = {"customer": "Petrel Surgery", "email": "", "due_on": soon, "job": JOB}
    quote = api(page, address, "POST", "/quotes", head)
    takes_the_cheapest(page, address, quote["id"], soon)
    order = is_sent_and_accepted(page, address, quote["id"], soon)
    is_pinned_and_let_go(page, address, order)
    closes_a_day(page, address, working(plan, 12))  # no overtime was taken so far ahead
    stands_in_today(page, quote["number"])
    assert said == []


def just_missed(page: Page, address: str, plan: dict) -> str:
    """The last day of work before the one that is safe, however full the weeks are by now."""
    quote = api(page, address, "POST", "/quotes", {"customer": "Petrel Surgery", "job": JOB})
    safe = api(page, address, "GET", f"/quotes/{quote['id']}/promise")["safe"]
    api(page, address, "DELETE", f"/quotes/{quote['id']}")
    day, n = working(plan, 1), 1
    while (later := working(plan, n + 1)) < safe:
        day, n = later, n + 1
    assert day < safe
    return day


def working(plan: dict, n: int) -> str:
    """The n-th day from today on which somebody works."""
    first = plan["from_day"]
    rest = set(plan["rest_days"])
    import datetime as dt

    day, found = dt.date.fromisoformat(first), 0
    while found < n:
        day += dt.timedelta(days=1)
        found += day.isoformat() not in rest
    return day.isoformat()


def takes_the_cheapest(page: Page, address: str, quote: int, wanted: str) -> None:
    page.goto(f"/quotes/{quote}")
    when = page.get_by_role("region", name="By when?")
    expect(when.get_by_role("note")).to_contain_text("It is wanted by")
    ways = when.get_by_role("list", name="What would make it").get_by_role("listitem")
    first = ways.first.get_by_role("button", name="Take it")
    label = first.get_attribute("aria-label")
    assert axe(page) == []
    first.press("Enter")
    expect(when.get_by_role("note")).to_have_count(0)
    expect(when.get_by_role("heading", name="By when?")).to_be_focused()
    held = api(page, address, "GET", f"/quotes/{quote}/promise")
    assert held["safe"] <= wanted, label
    expect(when.get_by_label("Promised")).to_have_value(held["stated"])
    fits(page)


def is_sent_and_accepted(page: Page, address: str, quote: int, promised: str) -> str:
    now = api(page, address, "GET", f"/quotes/{quote}")
    sent = api(page, address, "POST", f"/quotes/{quote}/send", seen=now["revision"])
    link = api(page, address, "POST", f"/quotes/{quote}/link")["path"]
    page.goto(link)
    expect(page.locator("main")).to_contain_text("With you by")
    page.goto("/")  # the customer's page is its own
    yes = {"answer": "accepted"}
    api(page, address, "POST", f"/quotes/{quote}/answer", yes, seen=sent["revision"])
    page.goto("/orders/plan")
    row = page.get_by_role("row", name=re.compile(f"^{now['number']}"))
    expect(row).to_be_visible()
    orders = {row["number"]: row for row in api(page, address, "GET", "/plan")["orders"]}
    assert orders[now["number"]]["promised_on"] == promised
    return now["number"]


def is_pinned_and_let_go(page: Page, address: str, order: str) -> None:
    """A strip is dragged to another day, and that undone; then it is pinned by keys."""
    before = api(page, address, "GET", "/plan")
    row = page.get_by_role("row", name=re.compile(f"^{order}"))
    strip = row.locator(f"[data-strip='{order}']").first
    days = [cell.get_attribute("data-day") for cell in row.locator("[data-day]").all()]
    stood = next(o for o in before["orders"] if o["number"] == order)
    begins, as_pinned = stood["begin_day"], stood["pin"]
    to = next(d for d in days if d > begins and d not in before["rest_days"])
    strip.scroll_into_view_if_needed()
    box, goal = strip.bounding_box(), row.locator(f"[data-day='{to}']").bounding_box()
    assert box
    assert goal
    page.mouse.move(box["x"] + 1, box["y"] + 4)
    page.mouse.down()
    page.mouse.move(goal["x"] + goal["width"] / 2, goal["y"] + 10, steps=4)
    page.mouse.up()
    expect(page.get_by_text(f"{order} begins on")).to_be_visible()
    now = {o["number"]: o for o in api(page, address, "GET", "/plan")["orders"]}
    assert now[order]["pin"]["day"] == to
    assert now[order]["begin_day"] == to
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_text(re.compile(f"{order} (lies where it lies best|goes)"))).to_be_visible()
    again = {o["number"]: o for o in api(page, address, "GET", "/plan")["orders"]}
    assert again[order]["pin"] == as_pinned
    assert again[order]["begin_day"] == begins
    pin = row.get_by_role("button", name=re.compile(f"^Pin(ned)? {order}"))
    pin.press("Enter")
    held = page.get_by_role("group", name=f"Where {order} is held")
    if not as_pinned["first"]:
        held.get_by_label("before all others").click()
    expect(row.get_by_role("button", name=f"Pinned {order}")).to_be_visible()
    assert axe(page) == []
    held.get_by_role("button", name="Let it go").click()
    expect(row.get_by_role("button", name=f"Pin {order}")).to_be_visible()
    page.get_by_role("button", name="Machines and hands").click()
    expect(page.get_by_role("row", name=re.compile("Hands"))).to_be_visible()
    with page.expect_download() as got:
        page.get_by_role("link", name="As a calendar (.ics)").click()
    read = icalendar.Calendar.from_ical(got.value.path().read_bytes())
    assert any(order in str(event["SUMMARY"]) for event in read.walk("VEVENT"))
    fits(page)


def closes_a_day(page: Page, address: str, day: str) -> None:
    """A day of a calendar that is read back is closed; a week is drawn and that undone."""
    page.goto("/workshop/days")
    ics = DAYS.replace(b"{day}", day.replace("-", "").encode())
    page.get_by_label("Take days from a calendar").set_input_files(
        {"name": "fair.ics", "mimeType": "text/calendar", "buffer": ics}
    )
    days = page.get_by_role("group", name="Days of the calendar")
    expect(days).to_contain_text("Harbour fair")
    days.get_by_role("button", name="Close on 1 day").click()
    expect(page.get_by_text("1 closing day taken.")).to_be_visible()
    assert day in api(page, address, "GET", "/plan")["rest_days"]
    track = page.locator("[data-day='people.maker.sat']")
    track.scroll_into_view_if_needed()
    box = track.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] * 4 / 18, box["y"] + 15)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 7 / 18, box["y"] + 15, steps=4)
    page.mouse.up()
    expect(page.get_by_text("Saturday: 9-12.")).to_be_visible()
    page.get_by_role("button", name="Undo").last.click()
    expect(page.get_by_role("textbox", name="Maker, sat")).to_have_value("-")
    assert axe(page) == []
    fits(page)


def stands_in_today(page: Page, number: str) -> None:
    page.get_by_role("link", name="Today").click()
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(page.locator("main")).to_contain_text(number)
    assert axe(page) == []
    came = page.get_by_role("button", name=re.compile("^It came: Petrel Surgery"))
    came.press("Enter")
    expect(page.get_by_text("The deposit is noted for today.")).to_be_visible()
    expect(page.get_by_role("heading", name="Today")).to_be_focused()
    expect(came).to_have_count(0)
    page.get_by_role("button", name="Undo").last.click()
    expect(came).to_be_visible()
    fits(page)
