"""Orders: made of accepted quotes, moved on, ready, paid; undone where nothing left the house."""

import copy
import json

import pytest

from clothyard.services.house.standards import change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.kept import all_here

URL = "/api/v1/orders"
HEAD = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "due_on": "2026-06-01"}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def accepted(shop, promised_on="", **changes):
    usual = {
        "line__cells": [
            {"size": "M", "colour": "navy", "quantity": 20},
            {"size": "L", "colour": "navy", "quantity": 4},
        ],
        "placement__design": {"text": "{name}"},
        "line__names": ["Ada", "Bo"],
    }
    job = polos(**usual | changes)
    draft = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD, promised_on=promised_on, job=job)
    )
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    return sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)


def put(client, view, **changes):
    body = {key: view[key] for key in ("state", "waits", "promised_on", "ready", "payments")}
    body |= {"anyway": True}
    return client.put(
        f"{URL}/{view['id']}", json=body | changes, headers={"If-Match": f'"r{view["revision"]}"'}
    )


def test_an_accepted_quote_is_an_order_with_what_it_needs(shop, client):
    quote = accepted(shop)
    [row] = client.get(URL).json()["items"]
    assert (row["number"], row["state"], row["promised_on"]) == ("Q-0001", "waiting", "2026-06-01")
    assert (row["waits"], row["pieces"]) == ("proof", {"waiting": 24})
    view = client.get(f"{URL}/{row['id']}").json()
    pieces = [(p["id"], p["size"], p["name"]) for p in view["piece_list"]]
    assert pieces[:3] == [("l1-1", "M", "Ada"), ("l1-2", "M", "Bo"), ("l1-3", "M", "")]
    assert [size for _, size, _ in pieces] == ["M"] * 20 + ["L"] * 4
    assert [unit["kind"] for unit in view["units"]] == [
        "wait",
        "wait",
        "wait",
        "sample",
        "look",
        "prepare",
        "sew",
        "finish",
        "pack",
    ]
    assert view["begin_by"] == "2026-06-01"  # a Monday, not the day before
    blanks = [n for n in view["needs"]["needs"] if n["kind"] == "blank"]
    assert [n["label"] for n in blanks] == ["Piqué polo, L navy", "Piqué polo, M navy"]
    assert view["money"]["to_pay"] == quote.estimate.total.to_pay
    assert view["money"]["due"] == view["money"]["to_pay"]


def test_it_is_moved_on_ticked_and_paid(shop, client):
    accepted(shop)
    view = client.put(f"{URL}/1/proof", json={"by": "by post"}).json()
    key = view["needs"]["needs"][0]["item"]
    waiting = put(client, view, state="waiting")
    assert waiting.status_code == 422
    assert "nothing says for what" in waiting.text
    view = put(client, view, state="waiting", waits="goods", ready=[key]).json()
    assert (view["state"], view["waits"], view["ready"]) == ("waiting", "goods", [key])
    paid = [{"on": "2026-05-04", "amount": "100", "kind": "deposit"}]
    view = put(client, view, state="ready", payments=paid).json()
    assert (view["state"], view["waits"]) == ("ready", "")  # it waits no more
    assert float(view["money"]["due"]) == float(view["money"]["to_pay"]) - 100
    wrong = [*paid, {"on": "2026-05-05", "amount": "20", "kind": "refund"}]
    assert "no refund" in put(client, view, payments=wrong).text
    stale = client.put(f"{URL}/1", json={"state": "done"}, headers={"If-Match": '"r1"'})
    assert stale.status_code == 412
    assert client.put(f"{URL}/1", json={"state": "done"}).status_code == 428


def test_an_answer_that_is_taken_back_leaves_no_open_order_and_comes_again(shop, client):
    quote = accepted(shop)
    assert client.get(URL).json()["total"] == 1
    back = sending.take_back_answer(shop, quote.id, seen=quote.revision)
    assert client.get(URL).json()["total"] == 0
    [row] = client.get(f"{URL}?state=cancelled").json()["items"]
    assert row["stands"] is False
    sending.answer_quote(shop, quote.id, "accepted", seen=back.revision)
    assert client.get(URL).json()["total"] == 1


def test_orders_are_listed_searched_sorted_and_written(shop, client):
    for day in ("2026-06-09", "", "2026-05-20"):
        HEAD["due_on"] = day
        accepted(shop)
    HEAD["due_on"] = "2026-06-01"
    put(client, client.get(f"{URL}/2").json(), promised_on="")
    days = [row["promised_on"] for row in client.get(URL).json()["items"]]
    assert days == ["2026-05-20", "2026-06-09", ""]  # those without a day come last
    assert client.get(f"{URL}?search=orrin").json()["total"] == 3
    assert client.get(f"{URL}?search=nobody").json()["total"] == 0
    table = client.get("/api/v1/order-lists/orders.csv?sort=number").content.decode("utf-8-sig")
    assert [line.split(",")[0] for line in table.splitlines()] == [
        "Number",
        "Q-0003",
        "Q-0002",
        "Q-0001",
    ]
    assert client.get(f"{URL}/99").status_code == 404
    assert client.get(URL, headers={"X-Costs": "hidden"}).status_code == 403
    assert json.loads(client.get(f"{URL}?state=done").text)["total"] == 0


def passes(client, order_id=1):
    """Tick that an order's samples have passed."""
    view = client.get(f"{URL}/{order_id}").json()
    assert [row["passed"] for row in view["samples"]] == [False] * len(view["samples"])
    keys = [row["key"] for row in view["samples"]]
    return put(client, view, ready=[*view["ready"], *keys]).json()


def moved(client, ids, seen, to, **more):
    body = {"ids": ids, "seen": seen, "state": to} | more
    return client.post(f"{URL}/1/pieces", json=body)


def test_pieces_move_on_and_a_spoiled_one_is_made_again(shop, client):
    accepted(shop)
    held = moved(client, ["l1-1"], ["waiting"], "sewn")
    assert (held.status_code, held.json()["code"]) == (409, "proof-open")
    client.put(f"{URL}/1/proof", json={})
    ids = [f"l1-{n}" for n in range(1, 25)]
    view = moved(client, ids, ["waiting"], "prepared").json()
    held = moved(client, ids, ["prepared"], "sewn")
    assert (held.status_code, held.json()["code"]) == (409, "sample-open")
    view = passes(client)
    assert "sample" not in [unit["kind"] for unit in view["units"]]
    assert view["pieces"] == {"prepared": 24}
    view = moved(client, ids[:6], ["waiting", "prepared"], "sewn").json()
    assert view["pieces"] == {"prepared": 18, "sewn": 6}
    assert moved(client, ids[:6], ["waiting"], "sewn").status_code == 409  # seen no more
    assert "how the piece was spoiled" in moved(client, ids[:1], ["sewn"], "spoiled").text
    key = "blank|pique-polo|M navy"

    def needed(view):
        return int(next(n["amount"] for n in view["needs"]["needs"] if n["item"] == key))

    spare = needed(view) - 20
    for n in range(spare + 1):  # one more than there are spares: a blank more is needed
        view = moved(client, [ids[n]], ["sewn"], "spoiled", reason="holes").json()
        assert needed(view) == 20 + max(spare, n + 1)
    again = [p for p in view["piece_list"] if p["instead_of"]]
    assert [(p["name"], p["state"]) for p in again][:1] == [("Ada", "waiting")]
    assert view["pieces"]["spoiled"] == spare + 1
    view = moved(client, [ids[0]], ["spoiled"], "sewn").json()  # not spoiled after all
    assert not any(p["instead_of"] == "l1-1" for p in view["piece_list"])
    assert needed(view) == 20 + spare
    assert float(view["cost_so_far"]["work"]) > 0


def corrected(client, token, **said):
    body = {"name": "Mika", "spelling": True, "colours": True, "place": True, "size": True} | said
    return client.post(f"/api/v1/customer/{token}/proof", json=body)


def linked(client, quote_id=1):
    return client.post(f"/api/v1/quotes/{quote_id}/link").json()["path"].split("/")[-1]


def test_a_proof_is_approved_on_the_customers_page(shop, client):
    accepted(shop)
    client.get(URL)
    token = linked(client)
    page = client.get(f"/api/v1/customer/{token}").json()
    assert [name["name"] for name in page["proof"]["lines"][0]["names"]] == ["Ada", "Bo"]
    assert client.get(f"/api/v1/customer/{token}/proof.pdf").content.startswith(b"%PDF")
    assert "is not ticked" in corrected(client, token, colours=False).text
    assert "name is empty" in corrected(client, token, name=" ").text
    wrong = corrected(client, token, names=[{"line": "l1", "n": 7, "to": "X"}])
    assert "no such name" in wrong.text
    assert corrected(client, token).json()["proof"]["state"] == "approved"
    view = client.get(f"{URL}/1").json()
    assert (view["state"], view["waits"], view["proof"]["said_by"]) == ("accepted", "", "Mika")
    assert corrected(client, token).status_code == 409
    client.delete(f"{URL}/1/proof")
    again = put(client, client.get(f"{URL}/1").json(), state="ready")
    assert again.json()["code"] == "proof-open"


def test_what_a_customer_says_is_of_the_proof_that_they_saw(shop, client):
    """A page left open does not approve over a correction; nor is a cancelled order answered."""
    accepted(shop)
    client.get(URL)
    token = linked(client)
    for name in (" ", "\x00\x01", "...", "12"):
        assert "name is empty" in corrected(client, token, name=name).text
    names = [{"line": "l1", "n": 1, "to": "Beatrix"}]
    told = corrected(client, token, seen="", name="Mi\x07ka  Thorne", names=names).json()
    assert (told["proof"]["state"], told["proof"]["said_by"]) == ("corrected", "Mika Thorne")
    stale = corrected(client, token, seen="", name="Tam")  # another tab, as it was before
    assert (stale.status_code, stale.json()["code"]) == (409, "proof-moved")
    seen = told["proof"]["said_on"]
    over = corrected(client, token, seen=seen, name="Tam")
    assert (over.status_code, over.json()["code"]) == (409, "proof-corrected")
    kept = client.get(f"/api/v1/customer/{token}").json()["proof"]
    assert (kept["state"], kept["said_by"]) == ("corrected", "Mika Thorne")
    put(client, client.get(f"{URL}/1").json(), state="cancelled")
    late = corrected(client, token, seen=seen, names=names)
    assert (late.status_code, late.json()["code"]) == (409, "order-cancelled")


@pytest.mark.parametrize("price", ["agreed", "new"])
def test_a_corrected_name_is_a_new_version_with_its_price(shop, client, price):
    accepted(shop)
    client.put(f"{URL}/1/proof", json={})
    passes(client)
    moved(client, ["l1-1", "l1-2", "l1-3"], ["waiting"], "sewn")
    client.delete(f"{URL}/1/proof")
    names = [{"line": "l1", "n": 1, "to": "Boadicea Longname"}]
    token = linked(client)
    assert corrected(client, token, names=names).json()["proof"]["state"] == "corrected"
    view = client.get(f"{URL}/1").json()
    assert "corrected the proof" in view["waiting_for"][0]
    told = client.get(f"{URL}/1/corrections").json()
    assert told["changes"] == ["Bo → Boadicea Longname"]
    assert float(told["more"]) > 0
    view = client.post(f"{URL}/1/corrections", json={"price": price}).json()
    if price == "new":  # the customer accepts the new price first
        assert (view["stands"], view["version"], view["changing"]) == (True, 1, "sent")
        [row] = client.get(URL).json()["items"]  # meanwhile the first stands, as it was accepted
        assert (row["total"], row["version"]) == (told["before"], 1)
        page = client.get(f"/api/v1/customer/{linked(client)}").json()
        assert (page["state"], page["to_pay"]) == ("open", told["after"])
        answer = {"kind": "accepted", "name": "Mika", "agreed": True}
        client.post(f"/api/v1/customer/{linked(client)}/answer", json=answer)
        view = client.get(f"{URL}/1").json()
    assert (view["stands"], view["version"], view["proof"]["state"]) == (True, 2, "approved")
    assert view["money"]["to_pay"] == (told["before"] if price == "agreed" else told["after"])
    assert any("Boadicea" in words for words in view["changed"])
    # Ada's and the nameless one stay sewn; what was sewn as Bo is wanted no more
    assert view["pieces"] == {"sewn": 2, "surplus": 1, "waiting": 22}
    assert view["sewn_before"] == ["M navy Bo"]
    first = client.get("/api/v1/quotes/1/versions").json()["items"][-1]
    assert first["to_pay"] == told["before"]  # what was told stays as it was


def test_several_orders_are_got_ready_together(shop, client):
    accepted(shop)
    accepted(shop)
    one = client.get(f"{URL}/1").json()["needs"]["needs"]
    both = client.get("/api/v1/get-ready?orders=1&orders=2").json()["needs"]
    assert [float(n["amount"]) for n in both] == [2 * float(n["amount"]) for n in one]
    assert client.get("/api/v1/get-ready.pdf?orders=1&orders=2").content.startswith(b"%PDF")
    assert client.get("/api/v1/get-ready?orders=9").status_code == 404


def test_what_can_hardly_be_is_asked_and_done_all_the_same(client, shop):
    """Ready with goods short, made with nothing sewn, a spoiled piece called good; a cancelled
    order's pieces stay."""
    accepted(shop, line__names=[])
    client.put(f"{URL}/1/proof", json={})
    view = client.get(f"{URL}/1").json()
    asked = put(client, view, state="ready", anyway=False)
    assert (asked.status_code, asked.json()["code"]) == (409, "goods-short")
    all_here(client)
    passes(client)
    view = client.get(f"{URL}/1").json()
    assert put(client, view, state="ready", anyway=False).status_code == 200
    for state in ("done", "handed-over"):
        view = client.get(f"{URL}/1").json()
        asked = put(client, view, state=state, anyway=False)
        assert (asked.status_code, asked.json()["code"]) == (409, "not-sewn")
        assert "none of its pieces is sewn" in asked.json()["detail"]
    assert client.get(f"{URL}/1").json()["state"] == "ready"
    ids = [piece["id"] for piece in view["piece_list"]]
    moved(client, ids[:1], ["waiting"], "spoiled", reason="pucker")
    body = {"ids": ids, "seen": ["waiting", "spoiled"], "state": "good"}
    asked = client.post(f"{URL}/1/pieces", json=body)
    assert (asked.status_code, asked.json()["code"]) == (409, "piece-spoiled")
    assert client.get(f"{URL}/1").json()["pieces"] == {"waiting": 24, "spoiled": 1}
    whole = client.post(f"{URL}/1/pieces", json=body | {"seen": ["waiting"]}).json()
    assert whole["pieces"] == {"good": 23, "spoiled": 1, "waiting": 1}
    asked = put(client, whole, state="done", anyway=False).json()
    assert asked["detail"] == "only 23 of 24 are sewn."
    view = put(client, whole, state="cancelled").json()
    refused = client.post(f"{URL}/1/pieces", json=body | {"anyway": True})
    assert (refused.status_code, refused.json()["code"]) == (409, "order-cancelled")
    assert view["pieces"] == client.get(f"{URL}/1").json()["pieces"]


def test_what_was_accepted_stands_while_it_is_changed(client, shop):
    """Revised, sent, declined, accepted, taken back: the order is what was accepted last."""
    quote = accepted(shop, line__names=[])
    client.put(f"{URL}/1/proof", json={})
    all_here(client)
    passes(client)

    def now():
        view = client.get(f"{URL}/1").json()
        rows = [r["number"] for r in client.get("/api/v1/plan").json()["orders"]]
        sheet = client.get(f"{URL}/1/run-sheet").status_code
        assert (view["stands"], rows, sheet) == (True, ["Q-0001"], 200)
        held = client.get(f"{URL}/1/passes/l1.p1.run").json()["held"]
        assert held == ""
        return view["version"], view["changing"], view["pieces"]

    assert now() == (1, "", {"waiting": 24})
    view = sending.revise_quote(shop, quote.id, seen=quote.revision)
    assert now() == (1, "draft", {"waiting": 24})
    more = copy.deepcopy(view.job)
    more["lines"][0]["quantity"] = 30
    more["lines"][0]["cells"][0]["quantity"] += 6
    document = quotes.QuoteDocument(**HEAD, job=more)
    view = quotes.save_quote(shop, quote.id, document, seen=view.revision)
    [row] = client.get(URL).json()["items"]
    assert row["summary"].startswith("24 × ")
    assert now() == (1, "draft", {"waiting": 24})
    sent = sending.send_quote(shop, quote.id, seen=view.revision)
    assert now() == (1, "sent", {"waiting": 24})
    no = sending.answer_quote(shop, quote.id, "declined", seen=sent.revision)
    assert now() == (1, "declined", {"waiting": 24})
    back = sending.take_back_answer(shop, quote.id, seen=no.revision)
    assert now() == (1, "sent", {"waiting": 24})
    yes = sending.answer_quote(shop, quote.id, "accepted", seen=back.revision)
    client.put(f"{URL}/1/proof", json={})
    assert now() == (2, "", {"waiting": 30})
    sending.take_back_answer(shop, quote.id, seen=yes.revision)
    assert now() == (1, "sent", {"waiting": 24})


def test_a_cancelled_order_keeps_what_it_used_and_is_settled_in_words(client, shop):
    """Six of 24 are sewn, one more spoiled: seven polos are off the shelf, and stay so; it is
    charged at price, what was paid beyond goes back; taken up again nothing is booked twice."""
    accepted(shop, line__names=[], line__cells=[{"size": "M", "colour": "navy", "quantity": 24}])
    client.put(f"{URL}/1/proof", json={})
    all_here(client)
    passes(client)
    navy = "blank|pique-polo|M navy"

    def there(item):
        return float(client.get("/api/v1/stock/item", params={"item": item}).json()["on_hand"])

    view = client.get(f"{URL}/1").json()
    thread = next(n["item"] for n in view["needs"]["needs"] if n["kind"] == "thread")
    before = there(navy), there(thread)
    ids = [piece["id"] for piece in view["piece_list"]]
    moved(client, ids[:6], ["waiting"], "sewn")
    moved(client, ids[6:7], ["waiting"], "spoiled", reason="pucker")
    paid = [{"on": "2026-05-04", "amount": "300", "kind": "deposit"}]
    view = client.get(f"{URL}/1").json()
    assert view["settlement"] == []
    view = put(client, view, state="cancelled", payments=paid).json()
    assert there(navy) == before[0] - 7
    assert there(thread) == pytest.approx(before[1] * (1 - 7 / 24), abs=0.01)
    used, unused, settled = view["settlement"]
    assert used.startswith("7 of 24 pieces sewn or spoiled: £")
    assert unused == "Not used, and on the shelf or to go back: 19 Piqué polo, M navy."
    assert settled.startswith("What was used is charged at its price: £")
    assert settled.endswith(" goes back.")
    assert client.get("/api/v1/to-buy").json()["suppliers"] == []
    change_standard(shop, "cancel.charge", "nothing")
    told = client.get(f"{URL}/1").json()["settlement"][-1]
    assert told == "Nothing is charged: £0.00; £300.00 was paid, £300.00 goes back."
    view = put(client, client.get(f"{URL}/1").json(), state="in-work").json()
    assert (there(navy), there(thread)) == before
    view = put(client, view, state="cancelled").json()
    assert there(navy) == before[0] - 7
    put(client, view, state="done")
    assert there(navy) == before[0] - 26  # all it needs, spares too: what is left is counted
