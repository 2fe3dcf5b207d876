"""Every verb writes once: whole, or, with a disk that fails at any of its writes, not at all.

The verbs are found by themselves: each route that is not read only must be on the tour.
"""

import errno
import hashlib
import io
import json
from contextlib import contextmanager

import pytest
from PIL import Image
from sqlalchemy import event

from tests.conftest import polos
from tests.kept import set_standards
from tests.standin import Supplier, served

API = "/api/v1"
HEAD = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "due_on": "2026-06-01"}
THREAD = "thread|polyester|#1d3b6f"

READ_ONLY = {
    "POST /estimates",
    "POST /work",
    "POST /starts/{start_id}",
    "POST /rates",
    "POST /sheets",
    "POST /name-lists",
    "POST /calendar-days",
    "POST /orders/{order_id}/passes/{pass_id}/machine/design",
    "POST /orders/{order_id}/passes/{pass_id}/machine/start",
    "POST /orders/{order_id}/passes/{pass_id}/machine/press/{what}",
    "POST /scale/weigh",
}
"""What is asked by a verb and writes nothing into the shop."""

FILES = {"POST /backups", "POST /backups/taken", "POST /backups/{name}/restore"}
"""What writes files and puts a whole database in another's place: tested where restores are."""

OUTSIDE = {
    "POST /purchases",
    "POST /quotes/{quote_id}/send",
    "POST /orders/{order_id}/corrections",
    "POST /orders/{order_id}/names",
}
"""What asks outside once it is kept, and then keeps the answer: a supplier, the post."""


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def kept(shop):
    """All that the database holds, as one hash."""
    with shop.reading() as session:
        dump = session.connection().connection.dbapi_connection.iterdump()
        rows = "\n".join(line for line in dump if "sqlite_sequence" not in line)
    return hashlib.sha256(rows.encode()).hexdigest()


class Disk:
    """The disk below the database: it fails at a write, and counts writes and transactions."""

    def __init__(self, shop):
        self.fails_at, self.writes, self.begun = 0, 0, 0
        event.listen(shop._write, "before_cursor_execute", self._write)
        event.listen(shop._write, "begin", self._begin)

    def _begin(self, _connection):
        self.begun += 1

    def _write(self, _connection, _cursor, statement, *_):
        if statement.lstrip().upper().startswith(("INSERT", "UPDATE", "DELETE", "REPLACE")):
            self.writes += 1
            if self.writes == self.fails_at:
                raise OSError(errno.EIO, "the disk did not write")

    @contextmanager
    def failing(self, at):
        self.fails_at, self.writes, self.begun = at, 0, 0
        yield
        self.fails_at = 0


class Tour:
    """Every verb once on one shop, in an order in which each has something to do."""

    def __init__(self, client, shop, crest_files):
        self.client, self.shop, self.files, self.seen = client, shop, crest_files, set()
        self.disk = Disk(shop)

    def go(self, verb, path, **sent):
        """Press a verb with a disk that fails at its first write, its second …; then whole."""
        method = verb.split()[0]
        self.seen.add(verb)
        self.client.get(f"{API}/orders")  # orders are made of what was accepted
        before, at = kept(self.shop), 0
        while True:
            at += 1
            with self.disk.failing(at):
                answer = self.client.request(method, f"{API}{path}", **sent)
                begun, writes = self.disk.begun, self.disk.writes
            if writes < at or (verb in OUTSIDE and begun > 1):
                break
            assert answer.status_code in {503, 507}, (verb, at, answer.text[:300])
            assert kept(self.shop) == before, (verb, f"by halves at write {at}")
            assert at < 400, verb
        assert answer.status_code in {200, 201, 204}, (verb, answer.status_code, answer.text[:400])
        assert begun <= (2 if verb in OUTSIDE else 1), (verb, f"{begun} transactions")
        return answer.json() if answer.content and "json" in answer.headers["content-type"] else {}

    def match(self, revision):
        return {"headers": {"If-Match": f'"r{revision}"'}}

    def quote(self, **changes):
        body = {**HEAD, "job": polos(**changes)}
        view = self.client.post(f"{API}/quotes", json=body).json()
        return view["id"], view["revision"]

    def sent(self, **changes):
        id_, revision = self.quote(**changes)
        answer = self.client.post(f"{API}/quotes/{id_}/send", **self.match(revision))
        assert answer.status_code == 200, answer.text
        return id_, json.loads(answer.text.strip().splitlines()[-1])["revision"]

    def order(self, **changes):
        id_, revision = self.sent(**changes)
        body = {"answer": "accepted"}
        self.client.post(f"{API}/quotes/{id_}/answer", json=body, **self.match(revision))
        self.client.get(f"{API}/orders")
        return id_

    def find(self, path):
        return self.client.get(f"{API}{path}").json()


def quotes_walked(tour):
    view = tour.go("POST /quotes", "/quotes", json={**HEAD, "job": polos()})
    id_ = view["id"]
    body = {**HEAD, "notes": "changed", "job": polos(line__quantity=30)}
    view = tour.go(
        "PUT /quotes/{quote_id}", f"/quotes/{id_}", json=body, **tour.match(view["revision"])
    )
    tour.go("POST /quotes/{quote_id}/copy", f"/quotes/{id_}/copy")
    tour.go("DELETE /quotes/{quote_id}", f"/quotes/{id_}")
    view = tour.go("POST /quotes/{quote_id}/restore", f"/quotes/{id_}/restore")
    tour.go("POST /quotes/{quote_id}/send", f"/quotes/{id_}/send", **tour.match(view["revision"]))
    view = tour.find(f"/quotes/{id_}")
    link = tour.go("POST /quotes/{quote_id}/link", f"/quotes/{id_}/link")
    tour.go("DELETE /quotes/{quote_id}/link", f"/quotes/{id_}/link")
    body = {"answer": "declined"}
    match = tour.match(view["revision"])
    view = tour.go("POST /quotes/{quote_id}/answer", f"/quotes/{id_}/answer", json=body, **match)
    match = tour.match(view["revision"])
    view = tour.go("DELETE /quotes/{quote_id}/answer", f"/quotes/{id_}/answer", **match)
    match = tour.match(view["revision"])
    tour.go("POST /quotes/{quote_id}/revise", f"/quotes/{id_}/revise", **match)
    id_, _ = tour.sent(placement__design={"text": "{name}"}, line__names=["Ada", "Bo"])
    link = tour.client.post(f"{API}/quotes/{id_}/link").json()["path"].rpartition("/")[2]
    said = {"kind": "accepted", "name": "A. Person", "agreed": True}
    tour.go("POST /customer/{token}/answer", f"/customer/{link}/answer", json=said)
    proof = {"name": "A. Person", "names": [{"line": "l1", "n": 0, "to": "Adah"}]}
    tour.go("POST /customer/{token}/proof", f"/customer/{link}/proof", json=proof)
    [ask] = tour.find(f"/quotes/{id_}/asks")
    asks, answered = "/quotes/{quote_id}/asks/{ask_id}", {"answered": "declined", "words": "Sewn."}
    tour.go(f"POST {asks}", f"/quotes/{id_}/asks/{ask['id']}", json=answered)
    tour.go(
        "POST /orders/{order_id}/corrections",
        f"/orders/{id_}/corrections",
        json={"price": "agreed"},
    )
    named = next(p for p in tour.find(f"/orders/{id_}")["piece_list"] if p["name"])
    body = {"piece": named["id"], "to": "Adahlia"}
    tour.go("POST /orders/{order_id}/names", f"/orders/{id_}/names", json=body)
    [mail, *_] = tour.find("/outbox")["items"]
    (tour.shop.folder / "outbox" / f"{mail['id']}.eml").unlink(missing_ok=True)
    with tour.shop.unit() as unit:
        unit.session.connection().exec_driver_sql("UPDATE mail SET posted_on = ''")
    tour.go("POST /outbox/{mail_id}/post", f"/outbox/{mail['id']}/post")


def orders_walked(tour):
    names = {"placement__design": {"text": "{name}"}, "line__names": ["Ada", "Bo"]}
    id_ = tour.order(line__quantity=6, **names)
    tour.go("PUT /orders/{order_id}/proof", f"/orders/{id_}/proof", json={"by": "by telephone"})
    tour.go("DELETE /orders/{order_id}/proof", f"/orders/{id_}/proof")
    tour.client.put(f"{API}/orders/{id_}/proof", json={})
    view = tour.find(f"/orders/{id_}")
    body = {k: view[k] for k in ("state", "waits", "promised_on", "ready", "payments")}
    body |= {"state": "in-work", "ready": [row["key"] for row in view["samples"]]}
    match = tour.match(view["revision"])
    view = tour.go("PUT /orders/{order_id}", f"/orders/{id_}", json=body, **match)
    change = {"ids": ["l1-1"], "seen": ["waiting"], "state": "spoiled", "reason": "caught"}
    tour.go("POST /orders/{order_id}/pieces", f"/orders/{id_}/pieces", json=change)
    [row] = tour.find(f"/orders/{id_}/passes")
    at = f"/orders/{id_}/passes/{row['pass_id']}"
    pressed = [
        {"id": f"event-{n}00000", "kind": "done", "at": "2026-05-04T09:00:00Z", "piece": f"l1-{n}"}
        for n in (2, 3)
    ]
    passes = "/orders/{order_id}/passes/{pass_id}"
    tour.go(f"POST {passes}/events", f"{at}/events", json={"events": pressed})
    set_ = {"needles": [{"needle": 7, "thread": THREAD.removeprefix("thread|")}]}
    tour.client.put(f"{API}/standards/threads.polyester.owned", json={"value": True})
    tour.go(f"PUT {passes}/threaded", f"{at}/threaded", json=set_)
    begun = tour.find(f"{at}/log")["row"]
    begun["actual"] |= {
        "needle_m": 30.0,
        "hooping_s": begun["estimated"]["hooping_s"],
        "bobbins": 1,
    }
    tour.client.put(f"{API}/learning/by-itself?key=hooping", json={"on": True})
    logged = tour.go(f"POST {passes}/log", f"{at}/log", json=begun)
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#7a3b1d").save(out, "JPEG")
    sent = {"file": ("p.jpg", out.getvalue())}
    tour.go("POST /orders/{order_id}/photos", f"/orders/{id_}/photos", files=sent)
    view = tour.find(f"/orders/{id_}")
    body |= {"state": "done", "anyway": True}
    match = tour.match(view["revision"])
    tour.go("PUT /orders/{order_id}", f"/orders/{id_}", json=body, **match)
    log_walked(tour, logged)
    pressed = {"do": "hand-over", "order": id_}
    tour.go("POST /today", "/today", json=pressed)
    other = tour.order(line__quantity=8)
    pin = {"first": True, "day": "2026-05-20", "machine": "", "before": 0}
    tour.go("PUT /orders/{order_id}/pin", f"/orders/{other}/pin", json=pin)
    tour.go("PUT /plan/seen", "/plan/seen")
    tour.go("POST /plan/link", "/plan/link")
    tour.go("DELETE /plan/link", "/plan/link")
    tour.go("DELETE /set-aside", "/set-aside")
    tour.go("POST /documents", "/documents", files={"file": ("o.json", exported(tour, other))})


def exported(tour, order):
    return tour.client.get(f"{API}/order-documents/{order}.json").content


def log_walked(tour, logged):
    row = logged["row"] | {"note": "went well"}
    row["actual"]["bobbins"] = 2
    match = tour.match(logged["revision"])
    tour.go("PUT /log/{row_id}", f"/log/{logged['id']}", json=row, **match)
    tour.go("DELETE /log/{row_id}", f"/log/{logged['id']}")
    own = row | {"order": "", "pass_id": "", "threads": []}
    tour.go("POST /log", "/log", json={"order_id": 0, "row": own})
    document = tour.client.get(f"{API}/log-documents/log.json").json()
    document["rows"][0]["note"] = "from elsewhere"
    sent = {"file": ("log.json", json.dumps(document).encode())}
    tour.go("POST /log-documents", "/log-documents", files=sent)
    tour.go("PUT /learning/by-itself", "/learning/by-itself?key=hooping", json={"on": False})
    tour.go("POST /learning/taken", "/learning/taken?key=hooping")
    tour.go("DELETE /learning/taken", "/learning/taken?key=hooping")


def shelf_walked(tour):
    settings = {"minimum": "200", "supplier": "", "place": "the left wall"}
    tour.go("PUT /stock/item", f"/stock/item?item={THREAD.replace('#', '%23')}", json=settings)
    for n, why in enumerate(("received", "counted")):
        move = {"key": f"press-000{n}", "item": THREAD, "why": why, "amount": "400"}
        tour.go("POST /stock/moves", "/stock/moves", json=move)
    said = {"key": "press-said", "rows": [{"item": THREAD, "said": "enough"}]}
    tour.go("POST /stock/said", "/stock/said", json=said)
    supplier = next(iter(tour.find("/to-buy")["suppliers"]), None)
    assert supplier, "nothing to buy"
    rows = [{"item": r["item"], "count": r["count"]} for r in supplier["rows"]]
    new = {"supplier": supplier["supplier"], "rows": rows, "send": False}
    made = tour.go("POST /purchases", "/purchases", json=new | {"key": "press-by-hand"})
    at = f"/purchases/{made['id']}"
    match = tour.match(made["revision"])
    part = {"rows": [{"row": 0, "count": 1}]}
    tour.go("POST /purchases/{purchase_id}/arrivals", f"{at}/arrivals", json=part, **match)
    made = tour.client.post(f"{API}/purchases", json=new | {"key": "press-again"}).json()
    tour.go("DELETE /purchases/{purchase_id}", f"/purchases/{made['id']}")
    shut = Supplier()
    with served(shut.app) as address:
        set_standards(tour.shop, {"buying.supplier_address": address})
        shut.away = True
        made = tour.client.post(f"{API}/purchases", json=new | {"send": True}).json()
        shut.away = False
        answered = tour.go("POST /purchases/{purchase_id}/ask", f"/purchases/{made['id']}/ask")
        assert answered["rows"][0]["offer"], answered
        match = tour.match(answered["revision"])
        price = "/purchases/{purchase_id}/rows/{row}/price"
        tour.go(f"POST {price}", f"/purchases/{made['id']}/rows/0/price", **match)


def workshop_walked(tour):
    sent = {"file": ("crest.dst", tour.files["dst"])}
    tour.go("POST /designs", "/designs", files=sent)
    tour.go("PUT /beginning", "/beginning", json={"done": ["shop"], "closed": False})
    tour.go("PUT /standards/{key}", "/standards/price.margin", json={"value": "0.4"})
    tour.go("DELETE /standards/{key}", "/standards/price.margin")
    row = {"section": "thread_shelf", "like": "", "label": "Plum", "values": {"colour": "#5a2d55"}}
    rows = tour.go("POST /standard-rows", "/standard-rows", json=row)
    [_, id_, _] = rows[0]["key"].split(".")
    gone = "/standard-rows/{section}/{row}"
    tour.go(f"DELETE {gone}", f"/standard-rows/thread_shelf/{id_}")
    tour.client.put(f"{API}/standards/price.margin", json={"value": "0.4"})
    tour.go("DELETE /standards", "/standards")
    trial = {"blank": "crew polo", "goods": "pique-polo", "minutes": 12, "tried": 4, "spoiled": 1}
    tour.go("POST /trials", "/trials", json=trial)
    tour.go("PUT /trials/{trial_id}", "/trials/t1", json=trial | {"spoiled": 2})
    tour.go("DELETE /trials/{trial_id}", "/trials/t1")
    text = tour.client.get(f"{API}/price-lists/blanks.csv").text
    tour.go("POST /price-lists", "/price-lists", json={"text": text, "keep": True})
    tour.go("POST /closed-days", "/closed-days", json={"days": ["2026-12-24"]})
    plan = {"every_days": 0, "keep": 5, "folder": ""}
    tour.go("PUT /backup-plan", "/backup-plan", json=plan)


def customers_walked(tour):
    document = {"name": "Harbour Vets", "email": "vets@harbour.example"}
    made = tour.go("POST /customers", "/customers", json=document)
    at, match = f"/customers/{made['id']}", tour.match(made["revision"])
    tour.go("PUT /customers/{customer_id}", at, json=document | {"notes": "two dogs"}, **match)
    other = tour.client.post(f"{API}/customers", json={"name": "Harbour Vetz"}).json()
    join = "/customers/{customer_id}/join"
    tour.go(f"POST {join}", f"{at}/join", json={"other": other["id"]})
    asked = {"text": "Name;Notes\nFell Farm;wool\nHarbour Vets;x", "keep": True}
    tour.go("POST /customer-lists", "/customer-lists", json=asked)
    choir = next(c for c in tour.find("/customers")["items"] if c["name"].startswith("Orrin"))
    at = f"/customers/{choir['id']}"
    tour.go("DELETE /customers/{customer_id}/names", f"{at}/names")
    tour.go("DELETE /customers/{customer_id}", at)


WALKS = (workshop_walked, quotes_walked, orders_walked, shelf_walked, customers_walked)


def test_every_verb_writes_once_and_whole(client, shop, crest_files):
    tour = Tour(client, shop, crest_files)
    for walk in WALKS:
        walk(tour)
    there = {
        f"{method.upper()} {path.removeprefix(API)}"
        for path, methods in client.app.openapi()["paths"].items()
        for method in methods
        if method not in {"get", "head"}
    }
    assert there - tour.seen - READ_ONLY - FILES == set()
    assert tour.seen - there == set()
