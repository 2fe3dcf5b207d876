"""Orders: made of accepted quotes, moved on, ready, paid; undone where nothing left the house."""

import json

import pytest

from clothyard.services import quotes, sending
from tests.conftest import polos

URL = "/api/v1/orders"
HEAD = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "due_on": "2026-06-01"}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def accepted(shop, **changes):
    job = polos(
        line__cells=[{"size": "M", "colour": "navy", "quantity": 20},
                     {"size": "L", "colour": "navy", "quantity": 4}],
        placement__design={"text": "{name}"}, line__names=["Ada", "Bo"], **changes,
    )  # fmt: skip
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    return sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)


def put(client, view, **changes):
    body = {key: view[key] for key in ("state", "waits", "promised_on", "ready", "payments")}
    return client.put(
        f"{URL}/{view['id']}", json=body | changes, headers={"If-Match": f'"r{view["revision"]}"'}
    )


def test_an_accepted_quote_is_an_order_with_what_it_needs(shop, client):
    quote = accepted(shop)
    [row] = client.get(URL).json()["items"]
    assert (row["number"], row["state"], row["promised_on"]) == ("Q-0001", "accepted", "2026-06-01")
    view = client.get(f"{URL}/{row['id']}").json()
    assert [(p["size"], p["pieces"], p["names"]) for p in view["pieces"]] == [
        ("M", 20, ["Ada", "Bo"]), ("L", 4, []),
    ]  # fmt: skip
    blanks = [n for n in view["needs"]["needs"] if n["kind"] == "blank"]
    assert [n["label"] for n in blanks] == ["Piqué polo, L navy", "Piqué polo, M navy"]
    assert view["money"]["to_pay"] == quote.estimate.total.to_pay
    assert view["money"]["due"] == view["money"]["to_pay"]


def test_it_is_moved_on_ticked_and_paid(shop, client):
    accepted(shop)
    view = client.get(f"{URL}/1").json()
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
    days = [row["promised_on"] for row in client.get(URL).json()["items"]]
    assert days == ["2026-05-20", "2026-06-09", ""]  # those without a day come last
    assert client.get(f"{URL}?search=orrin").json()["total"] == 3
    assert client.get(f"{URL}?search=nobody").json()["total"] == 0
    table = client.get("/api/v1/order-lists/orders.csv?sort=number").content.decode("utf-8-sig")
    assert [line.split(",")[0] for line in table.splitlines()] == [
        "Number", "Q-0003", "Q-0002", "Q-0001",
    ]  # fmt: skip
    assert client.get(f"{URL}/99").status_code == 404
    assert client.get(URL, headers={"X-Costs": "hidden"}).status_code == 403
    assert json.loads(client.get(f"{URL}?state=done").text)["total"] == 0
