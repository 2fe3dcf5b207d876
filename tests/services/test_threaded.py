"""What is threaded: sheet, page, plan and the start at the machine read the same needles."""

import pytest

from clothyard.services.plan.planning import open_orders
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.services.test_log import HEAD, event, let_go, pressed
from tests.services.test_orders import URL

API = "/api/v1"
COLOURS = ["#17284d", "#c9972b", "#c4222b"]
SLEEVE = ["#c4222b", "#2f8a45"]


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def coloured(colours, mm=60):
    blocks = [{"colour": colour} for colour in colours]
    return {
        "stitches": 3000,
        "colours": len(colours),
        "width_mm": mm,
        "height_mm": mm,
        "thread_colours": [block["colour"] for block in blocks],
    }


def ordered(shop, client):
    """Polos with a chest of three colours and a sleeve that shares one of them."""
    job = polos(line__quantity=6)
    chest = job["lines"][0]["placements"][0] | {"design": coloured(COLOURS)}
    sleeve = {"design": coloured(SLEEVE, 40), "position": "left-sleeve"}
    job["lines"][0]["placements"] = [chest, sleeve]
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    order = sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision).id
    let_go(client, order)
    return order


def needles(client, order, pass_id):
    """The needle, name and whether it is threaded anew, of each block on the page."""
    view = client.get(f"{URL}/{order}/passes/{pass_id}").json()
    return [(row["needle"], row["name"], row["change"]) for row in view["needles"]]


def sheet(client, order, place):
    found = client.get(f"{URL}/{order}/run-sheet").json()["passes"]
    each = next(p for p in found if place in p["place"].casefold() and not p["sample"])
    return each["id"], [(row["needle"], row["name"], row["change"]) for row in each["needles"]]


def test_the_sleeve_goes_on_from_the_chest_and_the_next_order_from_both(client, shop):
    order = ordered(shop, client)
    chest, _ = sheet(client, order, "chest")
    sleeve, told = sheet(client, order, "sleeve")
    names = [name for _, name, _ in needles(client, order, chest)]
    assert names == ["navy", "Gold", "red"]  # by their names, never by a code
    red = next(n for n, name, _ in needles(client, order, chest) if name == "red")
    assert told[0] == (red, "red", False)
    piece = client.get(f"{URL}/{order}/passes/{chest}").json()["pieces"][0]["id"]
    pressed(client, f"{URL}/{order}/passes/{chest}", event("begun", piece))
    assert all(not change for *_, change in needles(client, order, chest))  # they are on now
    assert [row[2] for row in needles(client, order, sleeve)] == [False, True]
    pressed(client, f"{URL}/{order}/passes/{sleeve}", event("begun", piece))
    another = ordered(shop, client)
    chest_too, told = sheet(client, another, "chest")
    assert all(not change for *_, change in told)
    assert told == needles(client, another, chest_too)
    on = dict(open_orders(shop).threaded)
    machine = client.get(f"{URL}/{order}/passes/{chest}").json()["machine"]
    assert {*on[machine]} == {f"polyester|{colour}" for colour in [*COLOURS, *SLEEVE]}


def test_what_a_hand_sets_is_read_by_all(client, shop):
    order = ordered(shop, client)
    chest, told = sheet(client, order, "chest")
    url = f"{URL}/{order}/passes/{chest}/threaded"
    view = client.get(url).json()
    assert [row["thread"] for row in view["needles"]] == [""] * 10
    assert [c["called"] for c in view["choices"]][:3] == ["navy", "Gold", "red"]
    gold = view["choices"][1]["thread"]
    view = client.put(url, json={"needles": [{"needle": 9, "thread": gold}]}).json()
    assert view["needles"][8]["thread"] == gold
    assert needles(client, order, chest)[1] == (9, "Gold", False)
    assert sheet(client, order, "chest")[1][1] == (9, "Gold", False)
    view = client.put(url, json={"needles": [{"needle": 9, "thread": ""}]}).json()
    assert sheet(client, order, "chest")[1] == told


@pytest.mark.parametrize(
    ("row", "code"),
    [
        ({"needle": 11, "thread": ""}, "out-of-range"),
        ({"needle": 1, "thread": "silk|#ffffff"}, "thread-unknown"),
        ({"needle": 0, "thread": ""}, "needle"),
    ],
)
def test_what_cannot_be_on_a_needle_is_refused(client, shop, row, code):
    order = ordered(shop, client)
    chest, _ = sheet(client, order, "chest")
    found = client.put(f"{URL}/{order}/passes/{chest}/threaded", json={"needles": [row]})
    assert (found.status_code, code in found.text) == (422, True)


def test_a_sheet_says_why_it_must_not_be_worked_from_yet(client, shop):
    names = [f"Name {n}" for n in range(6)]
    words = {"text": "{name}", "height_mm": 12}
    job = polos(line__quantity=6, line__names=names, placement__design=words)
    job["lines"].append(polos()["lines"][0] | {"quantity": 6, "id": "other"})
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    order = sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision).id
    said = {
        (each["line"], each["sample"]): each["not_yet"]
        for each in client.get(f"{URL}/{order}/run-sheet").json()["passes"]
    }
    assert said["l1", False][0] == "names not approved"
    assert "file missing" in said["other", False]  # a count is a price, not a design
    let_go(client, order)
    each = client.get(f"{URL}/{order}/run-sheet").json()["passes"]
    assert [p["not_yet"] for p in each if p["line"] == "l1" and not p["sample"]] == [[]]
    [named] = [p for p in each if p["line"] == "l1" and not p["sample"]]
    assert [p["file"] for p in named["piece_list"]][:2] == ["001-NAME", "002-NAME"]
    assert b"%PDF" in client.get(f"{URL}/{order}/papers/labels.pdf").content[:8]
