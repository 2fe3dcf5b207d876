"""Today: what needs the seller, each row one press from done; calendars out and in."""

import icalendar
import pytest

from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.kept import all_here
from tests.services.test_orders import HEAD, URL, accepted, moved, passes
from tests.services.test_shelf import API, NAVY, booked


@pytest.fixture(autouse=True)
def _a_monday_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def sections(client):
    return {row["id"]: row["rows"] for row in client.get(f"{API}/today").json()["sections"]}


def pressed(client, do, order=1):
    found = client.post(f"{API}/today", json={"do": do, "order": order})
    assert found.status_code == 200, found.text
    return {row["id"]: row["rows"] for row in found.json()["sections"]}


def test_an_empty_shop_says_so_and_a_lapsing_quote_stands_there(client, shop):
    assert client.get(f"{API}/today").json() == {
        "day": "2026-05-04",
        "sections": [],
        "empty": True,
    }
    draft = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD | {"valid_until": "2026-05-06"}, job=polos())
    )
    assert client.get(f"{API}/today").json()["empty"] is False
    sending.send_quote(shop, draft.id, seen=draft.revision)
    [row] = sections(client)["lapsing"]
    assert row["text"] == "Q-0001 for Orrin Hill Choir holds until 6 May 2026"
    assert (row["href"], row["go"]) == ("/quotes/1", "Remind, or hold it longer")


def test_an_order_from_yes_to_handed_over_by_presses(client, shop):
    HEAD["due_on"] = "2026-05-08"
    accepted(shop, promised_on="2026-05-08")
    HEAD["due_on"] = "2026-06-01"
    all_here(client)
    found = sections(client)
    assert found["heard"][0]["go"] == "Get it ready"
    assert found["promised"][0]["text"] == "Q-0001 for Orrin Hill Choir, promised 8 May 2026"
    client.put(f"{URL}/1/proof", json={})
    passes(client)
    [row] = [r for r in sections(client)["machines"] if r["press"]]
    assert row["text"].startswith("Compact 10-needle: sew, left chest of Q-0001, 4 May 2026")
    assert "Lay ready: " in row["hint"]
    found = pressed(client, "begin")
    assert client.get(f"{URL}/1").json()["state"] == "in-work"
    assert found["machines"][0]["text"].endswith(", now")
    pressed(client, "unbegin")
    assert client.get(f"{URL}/1").json()["state"] == "ready"
    booked(client, NAVY, "counted", 1)
    [short] = [r for r in sections(client)["short"] if "24" in r["text"] or "short" in r["text"]][
        :1
    ]
    assert (short["hint"], short["href"]) == ("stops Q-0001", "/shelf/to-buy")
    moved(client, [f"l1-{n}" for n in range(1, 25)], ["waiting", "prepared"], "sewn")
    pressed(client, "begin")
    [sewn] = sections(client)["sewn"]
    assert sewn["text"] == "Q-0001 for Orrin Hill Choir: all 24 pieces are sewn"
    assert (sewn["href"], sewn["go"]) == ("/log/new?order=1", "Log it")
    [done] = pressed(client, sewn["press"]["do"])["sewn"]
    assert done["text"] == "Q-0001 for Orrin Hill Choir is done, and not in the log"
    assert (done["go"], done["press"]) == ("Log it", None)
    assert "sewn" in pressed(client, "undone")
    pressed(client, "done")
    [over] = sections(client)["over"]
    assert over["press"] == {"do": "hand-over", "order": 1, "label": "Handed over"}
    assert "over" not in pressed(client, "hand-over")
    assert "over" in pressed(client, "unhand-over")


def test_a_deposit_comes_by_one_press_and_is_taken_back(client, shop):
    accepted(shop)
    [row] = sections(client)["money"]
    assert row["press"]["label"] == "It came"
    assert "money" not in pressed(client, "deposit")
    [paid] = client.get(f"{URL}/1").json()["payments"]
    assert (paid["kind"], paid["on"]) == ("deposit", "2026-05-04")
    again = client.post(f"{API}/today", json={"do": "deposit", "order": 1})
    assert (again.status_code, again.json()["code"]) == (422, "deposit-there")
    assert "money" in pressed(client, "undeposit")
    none = client.post(f"{API}/today", json={"do": "undeposit", "order": 1})
    assert (none.status_code, none.json()["code"]) == (404, "deposit-none")


DAYS = b"""BEGIN:VCALENDAR\r
VERSION:2.0\r
PRODID:-//x//y//EN\r
BEGIN:VEVENT\r
UID:1\r
DTSTART;VALUE=DATE:20260525\r
DTEND;VALUE=DATE:20260527\r
SUMMARY:Spring fair\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:2\r
DTSTART:20260601T090000\r
DTEND:20260601T100000\r
RRULE:FREQ=WEEKLY;COUNT=3\r
EXDATE:20260608T090000\r
SUMMARY:Market\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:4\r
DTSTART:20200106T090000\r
RRULE:FREQ=DAILY;UNTIL=20260505T090000\r
SUMMARY:Every day for years\r
END:VEVENT\r
BEGIN:VEVENT\r
UID:3\r
DTSTART;VALUE=DATE:20240101\r
SUMMARY:Long past\r
END:VEVENT\r
END:VCALENDAR\r
"""


def test_closing_days_come_from_a_calendar(client):
    found = client.post(f"{API}/calendar-days", files={"file": ("days.ics", DAYS)}).json()["days"]
    assert [(row["day"], row["name"]) for row in found] == [
        ("2026-05-04", "Every day for years"),
        ("2026-05-05", "Every day for years"),
        ("2026-05-25", "Spring fair"),
        ("2026-05-26", "Spring fair"),
        ("2026-06-01", "Market"),
        ("2026-06-15", "Market"),
    ]
    days = [row["day"] for row in found[2:4]]
    closed = client.post(f"{API}/closed-days", json={"days": days}).json()["closed"]
    assert closed == "2026-05-25..2026-05-26"
    again = client.post(f"{API}/calendar-days", files={"file": ("days.ics", DAYS)}).json()["days"]
    assert [row["closed"] for row in again] == [False, False, True, True, False, False]
    for bad in (b"", b"not a calendar", b"\xff\xfe\x00", b"BEGIN:VEVENT\r\nEND:VEVENT\r\n"):
        answer = client.post(f"{API}/calendar-days", files={"file": ("x.ics", bad)})
        assert (answer.status_code, answer.json()["code"]) == (422, "calendar-unreadable"), bad


def test_the_plan_goes_out_and_its_link_is_withdrawn(client, shop):
    HEAD["due_on"] = "2026-05-20"
    accepted(shop)
    HEAD["due_on"] = "2026-06-01"
    answer = client.get(f"{API}/plan.ics")
    assert answer.headers["content-type"].startswith("text/calendar")
    events = {
        str(e["SUMMARY"]): e for e in icalendar.Calendar.from_ical(answer.content).walk("VEVENT")
    }
    assert events["Promised: Q-0001 Orrin Hill Choir"]["DTSTART"].dt.isoformat() == "2026-05-20"
    sewn = next(e for name, e in events.items() if "Sew, left chest" in name)
    assert sewn["DTSTART"].dt.tzinfo is None  # the time on the shop's wall
    made = client.post(f"{API}/plan/link").json()
    path = made["url"].partition("//")[2].partition("/")[2]
    opened = client.get(f"/{path}")
    assert (opened.status_code, opened.headers["referrer-policy"]) == (200, "no-referrer")
    assert client.get(f"{API}/plan/link").json() == {
        "there": True,
        "url": "",
        "made_on": "2026-05-04",
    }
    assert client.delete(f"{API}/plan/link").status_code == 204
    assert client.get(f"/{path}").status_code == 404
    assert client.get("/calendar/guess.ics").status_code == 404
