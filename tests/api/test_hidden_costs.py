"""With costs hidden nothing tells one: every route, every key, every message is walked."""

import json

import pytest

from clothyard.core.job.hidden import COST_KEYS
from tests.conftest import polos

URL = "/api/v1/quotes"
HIDDEN = {"X-Costs": "hidden"}
TOLD = {
    "unit cost": "71.37",
    "break": "61.17",
    "delivery": "41.43",
    "liability": "31.29",
    "margin": "0.2718",
    "labour": "23.93",
    "overhead": "7.79",
    "packing": "0.83",
}
REFUSED = {
    "/api/v1/standards",
    "/api/v1/standards/{key}",
    "/api/v1/standard-rows",
    "/api/v1/standard-rows/{section}/{row}",
    "/api/v1/price-lists",
    "/api/v1/rates",
    "/api/v1/price-lists/blanks.csv",
}
COSTS_IN_ANSWERS = {
    "unit_cost",
    "cost",
    "used_cost",
    "bought_cost",
    "floor",
    "margin",
    "safe_discount",
    "cost_difference",
    "minutes_difference",
    "delivery",
    "liability",
    "discount",
    "set_up",
}
NO_NUMBER = ("", None, "full", "variable")
"""The last two name a rule of the house."""


def costly(**changes):
    breaks = [{"quantity": 25, "unit_cost": TOLD["break"]}]
    goods = {
        "goods__unit_cost": TOLD["unit cost"],
        "goods__price_breaks": breaks,
        "goods__delivery": TOLD["delivery"],
        "goods__liability": TOLD["liability"],
    }
    return polos(**goods | {"job__margin": TOLD["margin"]} | changes)


def leaves(value, path=""):
    if isinstance(value, dict):
        for key, part in value.items():
            yield from leaves(part, f"{path}.{key}")
    elif isinstance(value, list):
        for n, part in enumerate(value):
            yield from leaves(part, f"{path}[{n}]")
    else:
        yield path, value


def bare(answer):
    """No key of costs holds anything, and no cost stands in any word."""
    for what, figure in TOLD.items():
        assert figure not in answer.text, what
    documents = []
    if "json" in answer.headers.get("content-type", ""):
        documents = [json.loads(line) for line in answer.text.splitlines()]
    for document in documents:
        for path, value in leaves(document):
            key = path.rpartition(".")[2].split("[")[0]
            if key in COSTS_IN_ANSWERS or ".cost." in path or ".piece_cost." in path:
                assert value in NO_NUMBER or float(value) == 0, (path, value)
    return answer


@pytest.fixture
def secretive(client):
    """A shop whose costs are all figures that stand nowhere else."""
    for key, figure in (
        ("rates.labour_per_h", "labour"),
        ("rates.overhead_per_h", "overhead"),
        ("consumables.packing", "packing"),
        ("price.margin", "margin"),
    ):
        kept = client.put(f"/api/v1/standards/{key}", json={"value": TOLD[figure]})
        assert kept.status_code == 200
    return client


def routes(client):
    """Every route of the API: (method, path)."""
    paths = client.get("/api/v1/openapi.json").json()["paths"]
    return [(method.upper(), path) for path, methods in paths.items() for method in methods]


def test_every_route_is_bare_or_refused(secretive):
    client = secretive
    made = client.post(URL, json={"customer": "Ada", "email": "a@b.example", "job": costly()})
    here = f"{URL}/{made.json()['id']}"
    client.post(f"{here}/send", headers={"if-match": '"r1"'})
    client.post(f"{here}/revise", headers={"if-match": '"r2"'})
    client.put(
        here,
        json={"customer": "Ada", "email": "a@b.example", "job": costly(line__quantity=30)},
        headers={"if-match": '"r3"'},
    )
    client.post(f"{here}/send", headers={"if-match": '"r4"'})
    token = client.post(f"{here}/link").json()["path"].removeprefix("/q/")
    ids = {
        "quote_id": "1",
        "version": "2",
        "token": token,
        "mail_id": "Q-0001-v2",
        "line": "0",
        "place": "0",
        "key": "price.margin",
        "section": "blanks",
        "row": "x",
        "sha256": "0" * 64,
        "name": "none.zip",
        "path": "x",
        "kind": "quote",
    }
    seen = 0
    for method, path in routes(client):
        at = path
        for name, value in ids.items():
            at = at.replace(f"{{{name}}}", value)
        answer = client.request(method, at, headers=HIDDEN | {"if-match": '"r5"'})
        if path in REFUSED:
            assert (answer.status_code, answer.json()["code"]) == (403, "costs-hidden"), path
        bare(answer)
        assert answer.status_code < 500, path
        seen += 1
    assert seen > 35
    for kind in ("costing", "job"):
        refused = client.get(f"{here}/versions/2/{kind}", headers=HIDDEN)
        assert (refused.status_code, refused.json()["code"]) == (403, "costs-hidden")
    changes = client.get(f"{here}/versions", headers=HIDDEN).json()["items"][0]["changes"]
    assert "Quantity: 24 became 30." in changes


def test_a_quote_is_worked_on_while_costs_are_hidden_and_keeps_them(secretive):
    client = secretive
    low = {"code": "price-floor", "line": "l1", "reason": "For the lifeboat fund."}
    job = costly(
        job__overruled=[low],
        line__cells=[{"size": "M", "quantity": 24, "unit_cost": TOLD["unit cost"]}],
    )
    made = client.post(URL, json={"customer": "Ada", "email": "a@b.example", "job": job}).json()
    here, total = f"{URL}/{made['id']}", made["total"]
    seen = bare(client.get(here, headers=HIDDEN)).json()
    assert not COST_KEYS & {path.rpartition(".")[2] for path, _ in leaves(seen["job"])}
    assert seen["job"]["overruled"] == []
    body = {"customer": "Ada", "email": "a@b.example", "job": seen["job"]}
    saved = bare(client.put(here, json=body, headers=HIDDEN | {"if-match": '"r1"'}))
    assert saved.json()["total"] == total
    assert client.get(here).json()["job"] == made["job"]
    priced = bare(
        client.post("/api/v1/estimates", json=seen["job"], params={"quote": 1}, headers=HIDDEN)
    )
    assert priced.json()["total"]["to_pay"] == total
    twice = seen["job"]["lines"][0] | {"quantity": 48, "cells": []}
    body["job"] = seen["job"] | {"lines": [twice]}
    late = bare(client.put(here, json=body, headers=HIDDEN | {"if-match": '"r1"'}))
    assert late.status_code == 412
    assert late.json()["documents"]["there"]["customer"] == "Ada"
    lines = {"accept": "application/x-ndjson", "if-match": '"r2"'}
    told = bare(client.put(here, json=body, headers=HIDDEN | lines))
    assert told.status_code == 200
    assert client.get(here).json()["job"]["lines"][0]["goods"]["unit_cost"] == TOLD["unit cost"]


def test_no_refusal_tells_a_cost(secretive):
    client = secretive
    under = costly(line__unit_price="5.00")
    made = client.post(URL, json={"customer": "Ada", "job": under})
    here = f"{URL}/{made.json()['id']}"
    for accept in ("*/*", "application/x-ndjson"):
        match = {"if-match": '"r1"', "accept": accept}
        refused = bare(client.post(f"{here}/send", headers=HIDDEN | match))
        assert "its price is too low" in refused.text
    assert (
        "under what the piece itself costs"
        in client.post(f"{here}/send", headers={"if-match": '"r1"'}).text
    )
    bad = costly(goods__delivery=f"{TOLD['delivery']}x")
    odd = client.post(URL, json={"customer": "Ada", "email": "a@b.example", "job": bad}).json()
    assert odd["problems"]
    seen = bare(client.get(f"{URL}/{odd['id']}", headers=HIDDEN))
    assert seen.json()["problems"] == []
    bare(client.post(f"{URL}/{odd['id']}/send", headers=HIDDEN | {"if-match": '"r1"'}))
    bare(
        client.post(
            "/api/v1/estimates",
            json=seen.json()["job"],
            headers=HIDDEN,
            params={"quote": odd["id"]},
        )
    )
