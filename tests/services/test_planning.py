"""The plan of open orders over HTTP, and when a quote could be ready."""

import pytest

from clothyard.core.figure_text import day_text
from clothyard.services.house.standards import change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.kept import all_here, new_key
from tests.services.test_orders import HEAD, URL, accepted, moved, passes, put
from tests.services.test_shelf import API, NAVY, booked


@pytest.fixture(autouse=True)
def _a_monday_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def plan(client):
    return {row["number"]: row for row in client.get(f"{API}/plan").json()["orders"]}


def promised(client, quote_id):
    return client.get(f"{API}/quotes/{quote_id}/promise").json()


def test_orders_are_planned_by_what_holds_them(client, shop):
    HEAD["due_on"] = "2026-06-01"
    accepted(shop)
    row = plan(client)["Q-0001"]
    assert row["why"] == "waits for goods or materials until 11 May 2026"  # nobody counted any
    all_here(client)
    row = plan(client)["Q-0001"]
    assert row["why"] == "waits for the proof until 6 May 2026"  # two days, without a date
    assert (row["begin_day"], row["end_day"], row["late_days"]) == ("2026-05-06", "2026-05-06", 0)
    client.put(f"{URL}/1/proof", json={})
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-04"
    booked(client, NAVY, "counted", 1)
    row = plan(client)["Q-0001"]
    assert row["why"] == "waits for goods or materials until 11 May 2026"
    assert row["begin_day"] == "2026-05-12"  # five working days of the supplier's, then opening
    change_standard(shop, "suppliers.any.works", "mon tue wed thu fri sat")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-11"  # here on Saturday; nobody works
    change_standard(shop, "people.maker.sat", "9-15")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-11"
    change_standard(shop, "people.maker.sun", "9-15")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-10"
    change_standard(shop, "week.closed", "2026-05-10, 2026-05-11")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-12"


def test_what_is_sewn_is_done_and_what_is_finished_is_not_planned(client, shop):
    accepted(shop)
    client.put(f"{URL}/1/proof", json={})
    passes(client)

    def minutes():
        strips = client.get(f"{API}/plan").json()["strips"]
        return sum(s["end_h"] - s["begin_h"] for s in strips if s["kind"] == "sew")

    whole = minutes()
    moved(client, [f"l1-{n}" for n in range(1, 13)], ["waiting"], "sewn")
    assert minutes() == pytest.approx(whole / 2, abs=0.05)
    put(client, client.get(f"{URL}/1").json(), state="done")
    assert client.get(f"{API}/plan").json()["orders"] == []


def test_a_late_order_is_told_and_one_that_never_ends(client, shop, run):
    accepted(shop, promised_on="2026-05-04", line__quantity=400, line__names=[], line__cells=[])
    client.put(f"{URL}/1/proof", json={})
    row = plan(client)["Q-0001"]
    assert row["late_days"] > 0
    assert row["why"].startswith(f"{row['late_days']} day")
    for day in ("mon", "tue", "wed", "thu", "fri"):
        change_standard(shop, f"people.maker.{day}", "-")
    assert client.get(f"{API}/plan").json()["over"] == ["Q-0001"]
    shop.close()
    code, out, _ = run("plan", "--shop", shop.folder)
    assert (code, "does not end within four months" in out) == (0, True)


def test_a_quote_says_by_when_it_could_be_ready(client, shop):
    head = HEAD | {"due_on": "2026-05-04"}
    job = polos(design__stitches=30_000)
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    alone = promised(client, draft.id)
    assert alone["orders"] == 0
    assert "2026-05-04" < alone["likely"] <= alone["safe"]
    [tight] = alone["advice"]
    assert tight["code"] == "date-tight"
    assert tight["message"].startswith("It is wanted by 4 May 2026. It can be ready by ")
    accepted(shop, line__quantity=200, line__names=[], line__cells=[])
    client.put(f"{URL}/2/proof", json={})
    behind = promised(client, draft.id)
    assert (behind["orders"], behind["likely"] > alone["likely"]) == (1, True)
    later = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD | {"due_on": behind["safe"]}, job=job)
    )
    assert promised(client, later.id)["advice"] == []
    begun = quotes.create_quote(shop, quotes.QuoteDocument(customer="x", job={}))
    assert promised(client, begun.id)["likely"] == ""


def test_what_would_make_the_wanted_day_and_one_press_takes_it(client, shop):
    """Behind an order of some days, a quote wanted soon: overtime, going before it, a part …"""
    accepted(shop, line__quantity=150, line__names=[], line__cells=[])
    client.put(f"{URL}/1/proof", json={})
    passes(client)
    job = polos()
    head = HEAD | {"due_on": "2026-05-06"}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    all_here(client)
    rows = client.get(f"{API}/quotes/{draft.id}/shelf").json()["rows"]
    said = [{"item": row["item"], "said": "enough"} for row in rows]
    body = {"key": new_key(), "quote": draft.id, "rows": said}
    assert client.post(f"{API}/stock/said", json=body).json() == {"items": len(rows)}
    found = promised(client, draft.id)
    assert found["safe"] > "2026-05-06"
    assert found["stated"] == found["safe"]  # what the papers say, until another day is typed
    ways = {way["id"]: way for way in found["ways"]}
    assert [way["makes_it"] for way in found["ways"]] == sorted(
        (way["makes_it"] for way in found["ways"]), reverse=True
    )
    before = ways["before"]
    assert (before["label"], before["head"]) == ("Let it go before Q-0001", {"goes_before": 1})
    assert before["day"] <= "2026-05-06"
    taken = quotes.save_quote(
        shop, draft.id, quotes.QuoteDocument(**head | before["head"], job=job), seen=1
    )
    held = promised(client, draft.id)
    assert (held["advice"], held["safe"]) == ([], before["day"])
    assert held["taken"] == ["goes before Q-0001"]
    sent = sending.send_quote(shop, draft.id, seen=taken.revision)
    sending.answer_quote(shop, draft.id, "accepted", seen=sent.revision)
    client.put(f"{URL}/{draft.id}/proof", json={})
    assert client.get(f"{URL}/{draft.id}").json()["promised_on"] == "2026-05-06"
    rows = plan(client)
    assert rows["Q-0002"]["end_day"] <= rows["Q-0001"]["end_day"]
    assert "goes before Q-0001" in rows["Q-0002"]["why"]


def test_overtime_another_machine_express_goods_and_a_part(client, shop):
    job = polos(line__quantity=70, line__cells=[{"size": "M", "colour": "navy", "quantity": 70}])
    head = HEAD | {"due_on": "2026-05-06"}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    all_here(client, quote=draft.id)
    found = promised(client, draft.id)
    ways = {way["id"]: way for way in found["ways"]}
    part = ways["part"]
    assert 0 < part["head"]["first_part"] < 70
    over = ways["overtime"]
    assert over["day"] <= "2026-05-06"
    assert float(over["cost"]) > 0
    [standard] = over["standards"]
    change_standard(shop, standard["key"], standard["value"])
    assert promised(client, draft.id)["advice"] == []
    change_standard(shop, standard["key"], "-")
    booked(client, NAVY, "counted", 1)
    change_standard(shop, "suppliers.any.express_days", "1")
    change_standard(shop, "suppliers.any.express", "9")
    late = promised(client, draft.id)
    express = next(way for way in late["ways"] if way["id"] == "express")
    assert (express["cost"], express["head"]) == ("9.00", {"express": True})
    assert express["patch"] == [{"op": "add", "path": "/delivery", "value": "9.00"}]
    quotes.save_quote(
        shop,
        draft.id,
        quotes.QuoteDocument(**head, express=True, job=job | {"delivery": "13.50"}),
        seen=1,
    )
    held = promised(client, draft.id)
    assert held["taken"] == ["goods are sent express"]
    assert held["waits_until"] == "2026-05-05"
    assert held["let_go"] == [{"op": "add", "path": "/delivery", "value": "4.50"}]
    assert "here by 5 May 2026" in express["label"]


def test_a_part_is_told_on_what_is_sent(client, shop):
    draft = quotes.create_quote(
        shop,
        quotes.QuoteDocument(
            **HEAD | {"due_on": "2026-05-06"}, promised_on="2026-05-12", first_part=10, job=polos()
        ),
    )
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    link = client.post(f"{API}/quotes/{sent.id}/link").json()
    seen = client.get(f"{API}/customer/{link['path'].rpartition('/')[2]}").json()
    assert seen["promise"] == "10 of it by 6 May 2026, the rest by 12 May 2026"
    many = polos(line__quantity=400, line__cells=[])
    big = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD | {"due_on": "2026-05-05"}, first_part=200, job=many)
    )
    [tight] = promised(client, big.id)["advice"]
    assert tight["message"].startswith("200 pieces of it are promised for 5 May 2026.")
    paper = client.get(f"{API}/quotes/{sent.id}/versions/1/documents/quote-pdf")
    assert paper.status_code in {200, 404}


def test_an_order_is_pinned_and_let_go_and_what_moved_is_told(client, shop):
    for day in ("2026-05-20", "2026-05-21"):
        HEAD["due_on"] = day
        accepted(shop)
    HEAD["due_on"] = "2026-06-01"
    for n in (1, 2):
        client.put(f"{URL}/{n}/proof", json={})
        passes(client, n)
    client.put(f"{API}/plan/seen")
    before = plan(client)
    pinned = client.put(f"{URL}/1/pin", json={"day": "2026-05-14"}).json()
    row = next(r for r in pinned["orders"] if r["number"] == "Q-0001")
    assert (row["begin_day"], row["pin"]["day"], row["unpinned"]) == ("2026-05-14",) * 2 + ("",)
    [moved_] = [m for m in pinned["moved"] if m["number"] == "Q-0001"]
    assert moved_ == {"number": "Q-0001", "was": before["Q-0001"]["end_day"], "now": row["end_day"]}
    client.put(f"{API}/plan/seen")
    assert client.get(f"{API}/plan").json()["moved"] == []
    sunday = client.put(f"{URL}/1/pin", json={"day": "2026-05-17"}).json()
    row = next(r for r in sunday["orders"] if r["number"] == "Q-0001")
    assert row["unpinned"].startswith("not begun on 17 May 2026: nobody")
    flat = client.put(f"{URL}/1/pin", json={"machine": "single-flat"}).json()
    assert {s["machine"] for s in flat["strips"] if s["number"] == "Q-0001" and s["machine"]} == {
        "single-flat"
    }
    client.put(f"{URL}/1/pin", json={})
    assert plan(client)["Q-0001"]["begin_day"] == before["Q-0001"]["begin_day"]
    bad = client.put(f"{URL}/1/pin", json={"machine": "none-such"})
    assert (bad.status_code, bad.json()["code"]) == (422, "unknown-id")
    bad = client.put(f"{URL}/1/pin", json={"day": "someday"})
    assert (bad.status_code, bad.json()["code"]) == (422, "not-a-date")


@pytest.mark.parametrize(
    ("key", "value", "code"),
    [
        ("people.maker.mon", "9-12, 11-15", "not-day-hours"),
        ("people.maker.mon", "late", "not-day-hours"),
        ("people.maker.off", "2026-02-30", "not-dates"),
        ("people.maker.off", "2026-05-10..2026-05-01", "not-dates"),
        ("people.maker.also", "2026-05-10 25-26", "not-own-hours"),
        ("suppliers.any.works", "mon funday", "not-weekdays"),
    ],
)
def test_a_week_that_cannot_be_read_is_refused(client, key, value, code):
    answer = client.put(f"{API}/standards/{key}", json={"value": value})
    assert (answer.status_code, answer.json()["code"]) == (422, code)


def test_the_carrier_takes_days_of_its_own(client, shop):
    """Ready on Monday 4 May; two days of a carrier that does not work on Tuesdays: Thursday."""
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=polos(line__quantity=6)))
    all_here(client, quote=draft.id)
    assert promised(client, draft.id)["likely"] == "2026-05-04"
    change_standard(shop, "week.carrier_days", "2")
    change_standard(shop, "week.carrier_works", "mon wed thu fri")
    assert promised(client, draft.id)["likely"] == "2026-05-07"
    accepted(shop, promised_on="2026-05-07")
    assert plan(client)["Q-0002"]["hand_over_by"] == "2026-05-04"


def test_nobody_counted_so_nothing_is_promised_out_of_nothing(client, shop):
    """A fresh shop waits for its suppliers, on every page alike, until a press says it is here."""
    HEAD["due_on"] = ""
    job = polos(line__names=[], design__stitches=4000)
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=job))
    found = promised(client, draft.id)
    shelf = client.get(f"{API}/quotes/{draft.id}/shelf").json()
    assert shelf["advice"] == []  # nothing lacks that was counted
    assert {(row["unknown"], row["by"]) for row in shelf["rows"]} == {(True, "2026-05-11")}
    assert (found["waits_until"], found["uncounted"]) == ("2026-05-11", len(shelf["rows"]))
    assert found["likely"] == "2026-05-12"  # opened on the day after it came
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    link = client.post(f"{API}/quotes/{sent.id}/link").json()
    told = client.get(f"{API}/customer/{link['path'].rpartition('/')[2]}").json()
    assert told["promise"].endswith(day_text(found["safe"]))
    sending.answer_quote(shop, draft.id, "accepted", seen=sent.revision)
    order = client.get(f"{URL}/{draft.id}").json()
    assert order["promised_on"] == found["safe"]
    assert [said.split(":")[0] for said in order["waiting_for"]] == ["Not counted"]
    assert {need["unknown"] for need in order["needs"]["needs"]} == {True}
    row = plan(client)["Q-0001"]
    assert (row["end_day"], row["late_days"]) == (found["likely"], 0)
    today = {s["id"]: s["rows"] for s in client.get(f"{API}/today").json()["sections"]}
    assert today["short"][0]["text"].endswith("things not counted: is it here?")
    wanted = client.get(f"{API}/to-buy").json()["suppliers"]
    assert all(r["unknown"] for s in wanted for r in s["rows"])
    some = order["needs"]["needs"][0]["item"]
    body = {"key": new_key(), "rows": [{"item": some, "said": "none"}]}
    client.post(f"{API}/stock/said", json=body)
    client.post(f"{API}/stock/said", json=body)  # the same press again
    now = client.get(f"{URL}/{draft.id}").json()["needs"]["needs"]
    assert {n["item"] for n in now if not n["unknown"] and n["short"] != "0"} == {some}
    all_here(client)
    body["rows"] = [{"item": some, "said": "counted", "amount": "5000"}]
    client.post(f"{API}/stock/said", json=body | {"key": new_key()})
    assert client.get(f"{URL}/{draft.id}").json()["waiting_for"] == []
    assert plan(client)["Q-0001"]["end_day"] == "2026-05-04"
    assert client.get(f"{API}/to-buy").json()["suppliers"] == []
    wrong = {"key": new_key(), "rows": [{"item": "thread|none|x", "said": "enough"}]}
    assert client.post(f"{API}/stock/said", json=wrong).status_code == 422
    HEAD["due_on"] = "2026-06-01"
