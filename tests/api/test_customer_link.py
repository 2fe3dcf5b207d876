"""The customer's page: by link alone, never a cost, answered once."""

import json
import re

import pytest

from tests.conftest import polos
from tests.core.test_orders import SCARF, order

URL = "/api/v1/quotes"


def sent(client, monkeypatch, **head):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
    body = {
        "customer": "Orrin Hill Choir",
        "email": "choir@orrin.example",
        "job": polos(),
        "valid_until": "2026-06-03",
    } | head
    here = f"{URL}/{client.post(URL, json=body).json()['id']}"
    assert client.post(f"{here}/send", headers={"if-match": '"r1"'}).json()["state"] == "sent"
    return here


def page_of(client, here):
    made = client.post(f"{here}/link").json()
    return "/api/v1/customer/" + made["path"].removeprefix("/q/")


def accept(name="A. Person", **more):
    return {"kind": "accepted", "name": name, "words": "", "agreed": True} | more


def test_read_ask_for_a_change_and_accept(client, monkeypatch):
    here = sent(client, monkeypatch)
    page = page_of(client, here)
    seen = client.get(page)
    assert seen.headers["referrer-policy"] == "no-referrer"
    view = seen.json()
    assert (view["state"], view["to_pay"], view["deposit"]) == ("open", "364.80", "182.40")
    [line] = view["lines"]
    assert (line["unit"], line["places"][0]["label"]) == ("15.20", "Left chest")
    known = re.findall(r'"[a-z_]*(?:cost|margin|floor|labour)[a-z_]*"', json.dumps(view))
    assert known == [], "nothing that a cost could hide in"
    asked = client.post(f"{page}/answer", json={"kind": "change", "name": "Ada", "words": "blue?"})
    assert asked.json()["state"] == "open"
    quote = client.get(here).json()
    assert (quote["state"], quote["heard"]) == ("sent", "change")
    assert [(w["name"], w["words"], w["version"]) for w in quote["said"]] == [("Ada", "blue?", 1)]
    done = client.post(f"{page}/answer", json=accept())
    assert done.json()["state"] == "accepted"
    assert client.get(here).json()["state"] == "accepted"
    [version] = client.get(f"{here}/versions").json()["items"]
    assert version["answer"] == "accepted"
    again = client.post(f"{page}/answer", json=accept())
    assert (again.status_code, again.json()["code"]) == (409, "quote-not-open")
    assert len(client.get(here).json()["said"]) == 2
    paper = client.get(f"{page}/quote.pdf")
    assert paper.content.startswith(b"%PDF")


@pytest.mark.parametrize(
    ("answer", "where"),
    [
        (accept(name="  "), "name"),
        (accept(agreed=False), "agreed"),
        ({"kind": "change", "name": "Ada"}, "words"),
        (accept() | {"price": "1"}, "price"),
        (accept(name="x" * 300), "name"),
    ],
)
def test_an_answer_says_who_and_what(client, monkeypatch, answer, where):
    here = sent(client, monkeypatch)
    refused = client.post(f"{page_of(client, here)}/answer", json=answer)
    assert refused.status_code == 422
    assert where in json.dumps(refused.json())
    assert client.get(here).json()["said"] == []


def test_links_that_open_nothing_or_no_answer(client, monkeypatch):
    here = sent(client, monkeypatch)
    page = page_of(client, here)
    for guessed in ("x", "A" * 32, page.rsplit("/", 1)[1][:-1], "..%2Fquotes%2F1"):
        assert client.get(f"/api/v1/customer/{guessed}").status_code in {404, 405}
    newer = page_of(client, here)
    assert client.get(page).status_code == 404, "an older link opens nothing"
    assert client.delete(f"{here}/link").status_code == 204
    assert client.get(page).status_code == 200, "a new link was taken back"
    assert client.delete(f"{here}/link").json()["code"] == "link-first"
    newer = page_of(client, here)
    assert client.get(page).status_code == 404
    [mail] = client.get("/api/v1/outbox").json()["items"]
    body = client.get(f"/api/v1/outbox/{mail['id']}").json()["body"]
    assert newer.rsplit("/", 1)[1] not in body
    assert "/q/" in body
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-06-04")
    assert client.get(newer).json()["state"] == "expired"
    late = client.post(f"{newer}/answer", json=accept())
    assert (late.status_code, late.json()["detail"]) == (409, "this quote is past its date.")
    tag = client.get(here).headers["etag"]
    client.post(f"{here}/revise", headers={"if-match": tag})
    assert client.get(newer).json()["state"] == "replaced"
    assert client.post(f"{newer}/answer", json=accept()).status_code == 409
    assert client.post(f"{here}/link").json()["code"] == "quote-not-sent"


def test_the_designs_of_the_quote_are_drawn_and_no_others(client, monkeypatch):
    named = order(SCARF | {"quantity": 2, "names": ["Ada", "Bartholomew"]})
    page = page_of(client, sent(client, monkeypatch, job=named))
    assert client.get(page).json()["lines"][0]["names"] == [
        {"kind": "", "names": ["Ada", "Bartholomew"], "to_come": 0}
    ]
    path = client.get(f"{page}/lines/0/places/0/path").json()
    assert path["width"] > 900, "the longest name, in tenths of a millimetre"
    assert client.get(f"{page}/lines/0/places/7/path").status_code == 404
    counted = page_of(client, sent(client, monkeypatch))
    assert client.get(f"{counted}/lines/0/places/0/path").json()["code"] == "no-drawing"


def test_same_again_in_another_number(client, monkeypatch):
    here = sent(client, monkeypatch)
    seen = {"If-Match": f'"r{client.get(here).json()["revision"]}"'}
    assert client.post(f"{here}/answer", json={"answer": "accepted"}, headers=seen).is_success
    client.put("/api/v1/standards/rates.labour_per_h", json={"value": "18.00"})
    again = client.post(f"{here}/copy", params={"pieces": 12}).json()
    [line] = again["job"]["lines"]
    assert (line["quantity"], line["placements"][0]["design"]["repeat"]) == (12, True)
    assert again["customer"] == "Orrin Hill Choir"
    assert any("labour" in change and "18" in change for change in again["standards_changed"])
    assert client.post(f"{here}/copy", params={"pieces": 0}).status_code == 422


def test_a_set_is_shown_at_its_one_price(client, monkeypatch):
    """Two lines of 24 sold as 24 boxes: what is summed up adds to what is to pay."""
    [line] = polos()["lines"]
    job = polos() | {
        "lines": [line, line],
        "kits": [{"name": "Box", "quantity": 24, "lines": [0, 1]}],
    }
    view = client.get(page_of(client, sent(client, monkeypatch, job=job))).json()
    assert [row["name"] for row in view["sums"]] == ["24 × Box"]
    assert all(shown["tiers"] == [] for shown in view["lines"])
    amounts = [float(row["amount"]) for row in view["sums"] + view["charges"]]
    assert sum(amounts) == pytest.approx(float(view["to_pay"]))


def test_the_page_speaks_the_shops_currency_and_units(client, monkeypatch):
    for key, value in (("shop.units", "imperial"), ("price.currency", "EUR")):
        client.put(f"/api/v1/standards/{key}", json={"value": value})
    view = client.get(page_of(client, sent(client, monkeypatch))).json()
    assert (view["currency"], view["units"]) == ("EUR", "imperial")
    assert " in below" in view["lines"][0]["places"][0]["marks"][0]
    rates = client.post("/api/v1/rates", json={"drawings": "21600", "paid_hours": 1800}).json()
    assert rates["working"][1]["unit"] == "EUR/h"
