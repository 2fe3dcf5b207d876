"""What is pressed twice, by many, or on what has moved on: kept once, or refused whole."""

import os
import random
import threading
from collections import Counter
from decimal import Decimal

import pytest

from clothyard.core.errors import ClothyardError, Stale
from clothyard.services.log import rows as log
from clothyard.services.orders import follow
from clothyard.services.quotes import drafts as quotes
from clothyard.services.stock import shelf
from clothyard.store import stock
from clothyard.store.log import list_events
from tests.kept import new_key, set_standards
from tests.services.test_log import (
    API,
    URL,
    event,
    let_go,
    opened,
    ordered,
    pressed,
    put,
)
from tests.services.test_shelf import with_supplier
from tests.standin import Supplier, served

THREAD = "thread|polyester|#1d3b6f"
WANTED = {"item": "thread|polyester|#000001", "pack_id": "cone-5000", "count": 3}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch, shop):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
    with_supplier(shop)


def together(count, work):
    """Do `work(n)` at once in so many threads: what each gave, or what it raised."""
    found, start = [None] * count, threading.Barrier(count)

    def go(n):
        start.wait()
        try:
            found[n] = work(n)
        except ClothyardError as error:
            found[n] = error

    threads = [threading.Thread(target=go, args=(n,)) for n in range(count)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return found


@pytest.fixture
def order(client, shop, crest_files):
    """An order whose proof and sample let it go: its id and the address of its pass."""
    id_ = ordered(shop, crest_files)
    let_go(client, id_)
    return id_, opened(client, id_)


def begun(client, url, **actual):
    found = client.get(f"{url}/log").json()["row"]
    found["actual"] |= actual
    for thread in found["threads"]:
        thread["metres"] = 30.0
    return found


# The log -----------------------------------------------------------------------------------------


def test_thirty_who_log_one_pass_log_it_once(client, shop, order):
    id_, url = order
    new = log.NewLogRow(order_id=id_, row=begun(client, url))
    found = together(30, lambda _: log.write_row(shop, new))
    kept = [each for each in found if not isinstance(each, Exception)]
    assert len(kept) == 1
    assert {each.code for each in found if isinstance(each, Exception)} == {"logged-already"}
    [row] = client.get(f"{API}/log").json()["items"]
    moves = stock.list_moves(shop, item=row["row"]["threads"][0]["item"], limit=100)
    assert len(moves) == 1


def test_thirty_who_change_one_row_lose_nothing(client, shop, order):
    id_, url = order
    kept = log.write_row(shop, log.NewLogRow(order_id=id_, row=begun(client, url)))
    metres = [30.0 + n for n in range(30)]

    def change(n):
        threads = [t.model_copy(update={"metres": metres[n]}) for t in kept.row.threads]
        row = kept.row.model_copy(update={"threads": threads})
        return log.change_row(shop, kept.id, row, seen=kept.revision)

    found = together(30, change)
    [won] = [each for each in found if not isinstance(each, Exception)]
    assert all(isinstance(each, Stale) for each in found if each is not won)
    assert log.find_log(shop, kept.id).row.actual.needle_m == won.row.actual.needle_m
    booked = stock.on_hand(shop, [t.item for t in won.row.threads])
    assert booked == {t.item: -Decimal(str(t.used_m)) for t in won.row.threads}


def test_a_row_that_was_removed_is_logged_again_and_booked_again(client, shop, order):
    _, url = order
    body = begun(client, url)
    taken = []
    for _ in range(3):
        kept = client.post(f"{url}/log", json=body)
        assert kept.status_code == 201, kept.text
        items = [t["item"] for t in kept.json()["row"]["threads"]]
        taken.append(stock.on_hand(shop, items))
        assert client.delete(f"{API}/log/{kept.json()['id']}").status_code == 204
        assert set(stock.on_hand(shop, items).values()) == {Decimal(0)}
    assert taken[0] == taken[1] == taken[2]
    assert all(amount < 0 for amount in taken[0].values())
    together(30, lambda n: log.remove_row(shop, 1 + n % 3) if n else None)
    assert client.get(f"{API}/log").json()["total"] == 0


def test_a_search_in_the_log_counts_what_it_found(client, shop, order):
    _, url = order
    row = begun(client, url) | {"order": "", "pass_id": "", "threads": []}
    for n in range(7):
        name = "Fell Farm" if n < 4 else "Harbour Vets"
        sent = {"order_id": 0, "row": row | {"customer": name}}
        assert client.post(f"{API}/log", json=sent).status_code == 201
    found = client.get(f"{API}/log", params={"search": "Fell", "limit": 3}).json()
    assert (len(found["items"]), found["total"]) == (3, 4)
    rest = client.get(f"{API}/log", params={"search": "Fell", "limit": 3, "cursor": found["next"]})
    assert (len(rest.json()["items"]), rest.json()["next"]) == (1, None)


# At the machine ----------------------------------------------------------------------------------


def test_an_event_that_says_something_else_the_second_time_is_refused(client, shop, order):
    id_, url = order
    pressed(client, url, event("broke", "l1-1", id_="event-own-1", at=1))
    pressed(client, url, event("broke", "l1-1", id_="event-own-1", at=1))
    other = event("broke", "l1-2", id_="event-own-1", at=1)
    found = client.post(f"{url}/events", json={"events": [event("broke", "l1-3"), other]})
    assert (found.status_code, found.json()["code"]) == (409, "event-taken")
    assert [e.piece for e in list_events(shop, id_)] == ["l1-1"]  # nothing of the batch is kept


def test_many_who_press_at_once_keep_every_piece(client, shop, order):
    id_, url = order
    ids = [p["id"] for p in client.get(url).json()["pieces"]]
    answers = together(
        12,
        lambda n: (
            client.post(
                f"{url}/events",
                json={"events": [event("done", ids[n % 6], id_=f"press-0{n % 6}", at=n % 6)]},
            ).status_code
        ),
    )
    assert set(answers) == {200}
    assert len(list_events(shop, id_)) == 6
    view = client.get(f"{URL}/{id_}").json()
    assert {p["state"] for p in view["piece_list"] if p["id"] in ids} == {"sewn"}
    assert view["state"] == "in-work"


def test_what_was_used_of_a_done_order_stays_used_when_it_is_cancelled(client, shop, order):
    id_, _ = order
    client.post(
        f"{API}/stock/moves",
        json={"key": new_key(), "item": THREAD, "why": "received", "amount": "5000"},
    )
    view = put(client, client.get(f"{URL}/{id_}").json(), state="done").json()
    used = stock.on_hand(shop)
    assert any(amount < 0 for amount in used.values())
    put(client, view, state="cancelled")
    assert stock.on_hand(shop) == used


# Bought ------------------------------------------------------------------------------------------


@pytest.fixture
def supplier(shop):
    """A supplier that answers, each pack a little dearer than it was."""
    answering = Supplier()
    with served(answering.app) as address:
        set_standards(shop, {"buying.supplier_address": address})
        yield answering


def purchase(client, **changes):
    body = {"supplier": "gull-reel", "rows": [WANTED], "send": False} | changes
    return client.post(f"{API}/purchases", json=body)


def test_a_purchase_that_is_pressed_twice_is_made_once(client, supplier):
    key = new_key()
    answers = together(6, lambda _: purchase(client, key=key, send=True).json())
    assert len({each["id"] for each in answers}) == 1
    assert client.get(f"{API}/purchases").json()["total"] == 1
    assert len(supplier.asked) == 1
    other = purchase(client, key=key, rows=[WANTED | {"count": 4}])
    assert (other.status_code, other.json()["code"]) == (409, "key-taken")
    assert purchase(client, key=new_key()).json()["id"] != answers[0]["id"]


def test_the_number_of_a_purchase_is_never_given_again(client):
    numbers = []
    for _ in range(3):
        made = purchase(client).json()
        numbers.append((made["id"], made["number"]))
        assert client.delete(f"{API}/purchases/{made['id']}").status_code == 204
    assert len(set(numbers)) == 3


def test_an_arrival_is_booked_once_and_a_row_told_twice_is_refused_whole(client, shop):
    made = purchase(client).json()
    at, seen = f"{API}/purchases/{made['id']}/arrivals", {"If-Match": f'"r{made["revision"]}"'}
    twice = {"rows": [{"row": 0, "count": 1}, {"row": 0, "count": 2}]}
    found = client.post(at, json=twice, headers=seen)
    assert (found.status_code, found.json()["code"]) == (422, "row-twice")
    assert stock.on_hand(shop) == {}
    answers = together(
        8, lambda _: client.post(at, json={"rows": [{"row": 0, "count": 2}]}, headers=seen)
    )
    assert sorted(each.status_code for each in answers) == [200] + [412] * 7
    assert stock.on_hand(shop)[WANTED["item"]] == 2 * 5000


def test_a_price_taken_on_a_stale_page_changes_nothing(client, supplier):
    made = purchase(client, send=True).json()
    assert made["rows"][0]["offer"]
    before = client.get(f"{API}/house").json()["putups"]["cone-5000"]["price"]
    price = f"{API}/purchases/{made['id']}/rows/0/price"
    stale = client.post(price, headers={"If-Match": f'"r{made["revision"] - 1}"'})
    assert stale.status_code == 412
    assert client.get(f"{API}/house").json()["putups"]["cone-5000"]["price"] == before
    assert client.get(f"{API}/purchases/{made['id']}").json() == made
    seen = {"If-Match": f'"r{made["revision"]}"'}
    answers = together(6, lambda _: client.post(price, headers=seen).status_code)
    assert sorted(answers) == [200, 412, 412, 412, 412, 412]
    assert client.get(f"{API}/house").json()["putups"]["cone-5000"]["price"] != before


# On the shelf and in the order -------------------------------------------------------------------

WRITERS, BOOKINGS = (30, 8) if os.environ.get("CLOTHYARD_SOAK") else (10, 1)


def test_many_who_book_and_note_payments_sum_up_exactly(client, shop, order):
    """Every acknowledged booking and payment is there, once; what an order took stands beside its
    need."""
    id_, _ = order
    needs = dict(stock.needs_kept(shop, id_))
    items = sorted(needs)[:3]
    before = stock.on_hand(shop, items)

    def busy(n):
        chance, done, paid = random.Random(n), Counter(), 0
        for turn in range(BOOKINGS):
            item, why = chance.choice(items), chance.choice(["taken", "returned", "received"])
            amount = Decimal(chance.randint(1, 9))
            whose = 0 if why == "received" else id_
            press = {"item": item, "why": why, "amount": str(amount), "order": whose}
            booking = shelf.Booking(key=f"storm-{n:04d}-{turn:04d}", **press)
            for _ in range(2):  # pressed twice
                shelf.book(shop, booking)
            done[item, bool(whose)] += -amount if why == "taken" else amount
            while True:
                seen = follow.find_order(shop, id_)
                document = follow.OrderDocument(
                    state=seen.state,
                    promised_on=seen.promised_on,
                    ready=seen.ready,
                    payments=[*seen.payments, follow.Payment(on="2026-05-04", amount="1.00")][:100],
                )
                if len(seen.payments) == len(document.payments):
                    break
                try:
                    follow.save_order(shop, id_, document, seen=seen.revision)
                    paid += 1
                    break
                except Stale:
                    continue
        return done, paid

    found = together(WRITERS, busy)
    booked = Counter()
    for done, _ in found:
        for key, amount in done.items():
            booked[key] += amount
    now = stock.on_hand(shop, items)
    for item in items:
        more = booked[item, True] + booked[item, False]
        assert now.get(item, 0) - before.get(item, 0) == more, item
    taken = stock.taken_for(shop, id_)
    assert {item: -taken.get(item, 0) for item in items} == {
        item: booked[item, True] for item in items
    }
    left = {need.item: need.needed for need in stock.open_needs(shop) if need.order == id_}
    for item in items:
        assert left.get(item, 0) == max(0, needs[item] + booked[item, True]), item
    assert len(follow.find_order(shop, id_).payments) == sum(paid for _, paid in found) > 0


def test_new_quote_pressed_by_ten_at_once_begins_one(shop):
    made = together(10, lambda _: quotes.create_quote(shop, quotes.QuoteDocument()).id)
    assert len(set(made)) == 1
