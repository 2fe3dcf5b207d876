"""The shelf kept as moves, what is to buy, the simulated supplier, and what orders take."""

import json
import random
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal

import pytest

from clothyard.core.errors import OutOfRange
from clothyard.core.stock.buying import lacking
from clothyard.core.stock.ledger import Move, uncovered
from clothyard.ports.supplier import Asked
from clothyard.services.house.standards import NewRow, add_row, change_standard, shop_house
from clothyard.services.orders import follow as orders
from clothyard.services.stock import shelf
from clothyard.standins.scale import SimulatedScale, scale_app, simulated_grams
from clothyard.standins.supplier import answer, supplier_app
from clothyard.store import stock
from clothyard.store.orders import find_order
from tests.kept import book, new_key, set_standards
from tests.services.many_orders import many_orders
from tests.services.test_orders import HEAD, URL, accepted, passes, put
from tests.standin import free_port, served

API = "/api/v1"
NAVY = "blank|pique-polo|M navy"
THREAD = "thread|polyester|#1d3b6f"


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def booked(client, item, why, amount, *, key=None, **more):
    body = {"key": key or new_key(), "item": item, "why": why, "amount": str(amount)} | more
    return client.post(f"{API}/stock/moves", json=body)


def approved(client, order_id=1):
    return client.put(f"{URL}/{order_id}/proof", json={"by": "by telephone"}).json()


def test_moves_are_booked_once_counted_and_weighed(client, shop):
    key = new_key()
    assert booked(client, THREAD, "received", 5000, key=key).status_code == 201
    found = booked(client, THREAD, "received", 5000, key=key).json()  # asked again: booked once
    assert (found["on_hand"], len(found["moves"])) == ("5000", 1)
    assert booked(client, THREAD, "wasted", 40, note="tangled").json()["on_hand"] == "4960"
    found = booked(client, THREAD, "counted", "4700").json()
    assert (found["on_hand"], found["moves"][0]["amount"]) == ("4700", "-260")
    # 27 tex, a cone of 62 g: 143 g gross are 3,000 m
    found = booked(client, THREAD, "weighed", "143", putup="cone-5000").json()
    assert found["on_hand"] == "3000"
    assert found["moves"][0]["note"] == "143 g on a cone"
    found = booked(client, THREAD, "weighed", "143", putup="cone-5000", full=2).json()
    assert (found["on_hand"], found["moves"][0]["note"]) == ("13000", "143 g on a cone and 2 full")
    assert [row["full"] for row in found["putups"]] == [2, 12, 64]
    booked(client, THREAD, "counted", 3000)
    assert "only thread is weighed" in booked(client, NAVY, "weighed", 10, putup="cone-5000").text
    assert "no item of this shop" in booked(client, "blank|submarine|", "received", 1).text
    below = booked(client, THREAD, "taken", 3100).json()
    assert below["on_hand"] == "-100"  # allowed, shown
    [row] = client.get(f"{API}/stock?only=below-zero").json()["items"]
    assert (row["item"], row["value"]) == (THREAD, "0.00")
    with pytest.raises(OutOfRange):
        book(shop, [("wrong-way", Move(THREAD, Decimal(-1), "received", "", "2026-05-04"))])


def test_the_scale_shows_grams_with_its_noise(client, shop):
    booked(client, THREAD, "received", 3000)
    asked = {"item": THREAD, "putup": "cone-5000"}
    assert client.get(f"{API}/stock/weight", params=asked).json()["code"] == "scale-deaf"
    with served(scale_app(SimulatedScale(3))) as address:
        set_standards(shop, {"devices.scale_address": address})
        assert client.get(f"{API}/stock/item", params={"item": THREAD}).json()["scale"]
        shown = client.get(f"{API}/stock/weight", params=asked).json()
    assert shown["grams"] == pytest.approx(143, abs=0.8)
    assert client.get(f"{API}/stock/weight", params=asked).json()["code"] == "scale-away"
    again = [simulated_grams(3000, tex=27, tare_g=62, of=THREAD, seed=s) for s in range(60)]
    assert len(set(again)) > 3
    assert sum(again) / 60 == pytest.approx(143, abs=0.15)


def test_two_people_at_once_lose_no_move(client, shop):
    def take(n):
        book(shop, [(f"key-{n:04d}", Move(THREAD, Decimal(1), "received", "", "x"))])
        with shop.unit() as unit:
            stock.add_count(unit, f"count-{n:04d}", NAVY, Decimal(n), why="counted", note="")

    with ThreadPoolExecutor(8) as many:
        list(many.map(take, range(60)))
    assert stock.on_hand(shop)[THREAD] == 60
    moves = stock.list_moves(shop, item=NAVY, limit=100)
    assert len(moves) == 60
    assert stock.on_hand(shop)[NAVY] == sum(move.amount for move in moves)


def test_an_order_takes_what_it_needs_when_done_and_gives_it_back(client):
    accepted_view = approved(client) if accepted(client.app.state.shop) else None
    needs = {row["item"]: row for row in accepted_view["needs"]["needs"]}
    booked(client, NAVY, "received", 30)
    view = client.get(f"{URL}/1").json()
    row = next(r for r in view["needs"]["needs"] if r["item"] == NAVY)
    assert (row["amount"], row["free"], row["short"]) == (needs[NAVY]["amount"], row["amount"], "0")
    booked(client, NAVY, "taken", 5, order=1)  # five are on the bench already
    view = client.get(f"{URL}/1").json()
    done = put(client, view, state="done").json()
    [navy] = [r for r in client.get(f"{API}/stock").json()["items"] if r["item"] == NAVY]
    assert navy["on_hand"] == str(30 - int(needs[NAVY]["amount"]))
    assert all(r["taken"] == r["amount"] for r in done["needs"]["needs"])
    back = put(client, done, state="in-work").json()
    [navy] = [r for r in client.get(f"{API}/stock").json()["items"] if r["item"] == NAVY]
    assert navy["on_hand"] == "25"  # what was taken by hand stays taken
    cancelled = put(client, back, state="cancelled").json()
    assert Decimal(cancelled["cost_so_far"]["materials"]) == 0  # this blank has no price
    assert client.get(f"{API}/stock/item", params={"item": NAVY}).json()["needs"] == []


def test_offcuts_worth_keeping_come_to_the_shelf_and_go_again(client, shop):
    """60 backings of 180 × 180 off a roll 500 wide leave a strip of 140 along it."""
    quote = accepted(
        shop,
        line__quantity=60,
        line__cells=[],
        line__names=[],
        placement__design={"stitches": 9000, "width_mm": 85, "height_mm": 60},
    )
    cuts = quote.estimate.lines[0].cuts
    kept_ = [piece for cut in cuts for piece in cut.offcuts]
    assert kept_
    view = client.get(f"{URL}/1").json()
    done = put(client, view, state="done").json()
    rows = client.get(f"{API}/stock?kind=offcut").json()["items"]
    assert sum(int(row["on_hand"]) for row in rows) == len(kept_)
    assert "offcut" in rows[0]["label"]
    put(client, done, state="accepted")
    rows = client.get(f"{API}/stock?kind=offcut").json()["items"]
    assert all(row["on_hand"] == "0" for row in rows)


def test_earlier_promises_come_first_and_what_lacks_is_bought(client, shop):
    HEAD["due_on"] = "2026-06-10"
    accepted(shop)
    HEAD["due_on"] = "2026-06-01"
    accepted(shop)
    booked(client, NAVY, "received", 30)
    later, sooner = (client.get(f"{URL}/{n}").json() for n in (1, 2))
    short = [
        next(r for r in v["needs"]["needs"] if r["item"] == NAVY)["short"] for v in (sooner, later)
    ]
    amount = int(next(r for r in sooner["needs"]["needs"] if r["item"] == NAVY)["amount"])
    assert short == ["0", str(2 * amount - 30)]
    rows = [r for s in client.get(f"{API}/to-buy").json()["suppliers"] for r in s["rows"]]
    [navy] = [r for r in rows if r["item"] == NAVY]
    assert (navy["count"], navy["orders"]) == (2 * amount - 30, ["Q-0001"])
    listed = {row["number"]: row["lacks"] for row in client.get(URL).json()["items"]}
    assert listed["Q-0001"] == listed["Q-0002"] + 1
    table = client.get(f"{API}/to-buy-lists/to-buy.csv").content.decode("utf-8-sig")
    assert "Piqué polo, M navy" in table


def test_every_question_of_what_is_short_has_the_same_answer(shop):
    """Over random orders, needs and moves: of an order, of an item, of all, added up, counted."""
    chance = random.Random(3)
    items = [NAVY, THREAD, "backing|cut-away-medium-500|"]
    first = accepted(shop)
    orders.keep_up(shop)
    many_orders(shop, first.id, orders=30, moves=200, items=items, chance=chance)
    needs = stock.open_needs(shop)
    ranks = [(n.promised_on == "", n.promised_on, n.order) for n in needs]
    assert ranks == sorted(ranks)
    assert len(set(ranks)) > 20
    house = shop_house(shop)
    begins = {n.order: orders.begin_by(find_order(shop, n.order), house).goods for n in needs}
    assert len(set(begins.values())) > 5
    shorts = uncovered([(n.item, n.needed) for n in needs], stock.on_hand(shop))
    assert [n.short for n in needs] == shorts
    assert any(s > 0 for s in shorts)
    assert any(n.needed > n.short for n in needs)
    for order in {n.order for n in needs}:
        mine = {n.item: (n.needed - n.short, n.short) for n in needs if n.order == order}
        assert stock.shares_of(shop, order) == mine
        assert stock.count_lacks(shop).get(order, 0) == sum(s > 0 for _, s in mine.values())
    for item in items:
        assert stock.open_needs(shop, item=item) == [n for n in needs if n.item == item]
    added = {
        row.item: row
        for row in lacking((n.item, n.number, n.short, begins[n.order]) for n in needs)
    }
    assert {row.item: row for row in orders.lacking_items(shop, house)} == added
    taken = stock.taken_for(shop, first.id)
    kept = dict(stock.needs_kept(shop, first.id))
    left = {item: amount - taken.get(item, 0) for item, amount in kept.items()}
    assert {n.item: n.needed for n in needs if n.order == first.id} == {
        item: amount for item, amount in left.items() if amount > 0
    }


def with_supplier(shop, **values):
    add_row(
        shop,
        NewRow(
            section="suppliers",
            label="Gull & Reel",
            values={"delivery": "4.50", "free_from": "60", "days": 3, "sells": "thread bobbin"}
            | values,
        ),
    )


def test_minimums_are_bought_by_who_sells_them_and_a_free_delivery_is_filled(client, shop):
    with_supplier(shop)
    body = {"minimum": "2000", "place": "drawer 3"}
    view = client.put(f"{API}/stock/item", params={"item": THREAD}, json=body).json()
    assert (view["below"], view["supplier"], view["place"]) == (True, "gull-reel", "drawer 3")
    [found] = client.get(f"{API}/to-buy").json()["suppliers"]
    [row] = found["rows"]
    assert (found["name"], row["pack"], row["count"], row["cost"]) == (
        "Gull & Reel",
        "King spool",
        2,
        "4.80",
    )
    assert (found["delivery"], found["to_free"]) == ("4.50", "55.20")
    assert found["fill"] is None  # 55.20 of thread to save 4.50
    change_standard(shop, "suppliers.gull-reel.delivery", "60")
    [found] = client.get(f"{API}/to-buy").json()["suppliers"]
    assert found["fill"]["more"] == 23
    body = {"minimum": "2000", "supplier": "nobody"}
    refused = client.put(f"{API}/stock/item", params={"item": THREAD}, json=body)
    assert refused.status_code == 422


@pytest.fixture
def supplier(shop):
    """The simulated supplier, served beside."""
    with_supplier(shop)
    with served(supplier_app(3)) as address:
        change_standard(shop, "buying.supplier_address", address)
        yield


ROWS = [
    {"item": f"thread|polyester|#{n:06x}", "pack_id": "cone-5000", "count": 6} for n in range(1, 25)
]


def test_an_order_is_sent_answered_and_arrives(client, supplier):
    body = {"supplier": "gull-reel", "rows": ROWS}
    bought = client.post(f"{API}/purchases", json=body).json()
    states = [row["state"] for row in bought["rows"]]
    assert {"confirmed", "part", "late", "out-of-stock"} <= set(states)
    part, gone = states.index("part"), states.index("out-of-stock")
    assert bought["rows"][part]["confirmed"] == 4  # two thirds of six
    assert bought["rows"][gone]["closed"]
    # what comes is not bought again; what does not come is
    key = bought["rows"][part]["item"]
    client.put(f"{API}/stock/item", params={"item": key}, json={"minimum": "30000"})
    [buy] = [r for s in client.get(f"{API}/to-buy").json()["suppliers"] for r in s["rows"]]
    assert (buy["item"], buy["wanted"]) == (key, "10000")
    seen = {"If-Match": f'"r{bought["revision"]}"'}
    first = {"rows": [{"row": 0, "count": 2}]}
    at = f"{API}/purchases/{bought['id']}/arrivals"
    view = client.post(at, json=first, headers=seen).json()
    assert view["rows"][0]["arrived"] == 2
    assert client.post(at, json=first, headers=seen).status_code == 412
    seen = {"If-Match": f'"r{view["revision"]}"'}
    view = client.post(at, json={}, headers=seen).json()  # all that is still to come
    assert view["state"] == "open"  # the part that was not promised stays open
    assert [r["arrived"] for r in view["rows"]] == [r["confirmed"] for r in view["rows"]]
    seen = {"If-Match": f'"r{view["revision"]}"'}
    closing = {"rows": [{"row": n, "count": 0, "close": True} for n in range(len(ROWS))]}
    view = client.post(at, json=closing, headers=seen).json()
    assert view["state"] == "closed"
    there = client.get(f"{API}/stock/item", params={"item": key}).json()
    assert there["on_hand"] == "20000"
    assert client.delete(f"{API}/purchases/{bought['id']}").status_code == 409


def test_a_changed_price_can_become_the_shelfs(client, supplier):
    bought = client.post(f"{API}/purchases", json={"supplier": "gull-reel", "rows": ROWS}).json()
    n, row = next((n, r) for n, r in enumerate(bought["rows"]) if r["offer"])
    assert row["price"] != row["asked_price"] == "6.50"
    at = f"{API}/purchases/{bought['id']}/rows/{n}/price"
    view = client.post(at, headers={"If-Match": f'"r{bought["revision"]}"'}).json()
    assert not view["rows"][n]["offer"]
    assert client.get(f"{API}/house").json()["putups"]["cone-5000"]["price"] == row["price"]


def test_a_supplier_that_is_away_loses_nothing(client, supplier, shop):
    change_standard(shop, "buying.supplier_address", f"http://127.0.0.1:{free_port()}")
    body = {"supplier": "gull-reel", "rows": ROWS[:1]}
    bought = client.post(f"{API}/purchases", json=body).json()
    assert "does not answer" in bought["trouble"]
    assert client.get(f"{API}/stock").json()["items"] == []  # nothing is said to come
    change_standard(shop, "buying.supplier_address", "-")
    again = client.post(f"{API}/purchases/{bought['id']}/ask")
    assert again.status_code == 409
    assert client.delete(f"{API}/purchases/{bought['id']}").status_code == 204
    refused = client.post(f"{API}/purchases", json=body)
    assert "no supplier's service" in refused.text
    by_hand = client.post(f"{API}/purchases", json=body | {"send": False}).json()
    assert by_hand["message"].startswith("Order P-000")
    assert "6 × Polyester 40, black, Cone" in by_hand["message"]
    sheet = client.get(f"{API}/purchase-lists/{by_hand['id']}.csv").content.decode("utf-8-sig")
    assert sheet.splitlines()[1].startswith(f"{by_hand['number']},")
    paper = client.get(f"{API}/purchases/{by_hand['id']}/order.pdf?page=letter")
    assert paper.content.startswith(b"%PDF")


def test_the_supplier_answers_by_its_seed_alone():
    asked = Asked(
        number="P-0001",
        supplier="x",
        ordered_on="2026-05-04",
        days=3,
        rows=[
            {"ref": str(n), "item": f"i{n}", "name": "Cone", "count": 9, "price": "6.50"}
            for n in range(200)
        ],
    )
    one = answer(asked, seed=1)
    assert one == answer(asked, seed=1) != answer(asked, seed=2)
    kinds = [row.answer for row in one.rows]
    assert 0.4 < kinds.count("confirmed") / 200 < 0.85
    assert all(row.count == 0 for row in one.rows if row.answer == "out-of-stock")
    assert all(row.expected_on > "2026-05-07" for row in one.rows if row.answer == "late")


def test_a_quote_knows_what_the_shelf_lacks(client, shop):
    from clothyard.services.quotes import drafts as quotes
    from tests.conftest import polos

    job = polos(line__cells=[{"size": "M", "colour": "navy", "quantity": 24}])
    draft = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD | {"due_on": "2026-05-06"}, job=job)
    )
    at = f"{API}/quotes/{draft.id}/shelf"
    nothing = client.get(at).json()  # nobody counted: it is asked, nothing is said to lack
    assert (nothing["advice"], {r["unknown"] for r in nothing["rows"]}) == ([], {True})
    booked(client, NAVY, "received", 20)
    found = client.get(at).json()
    navy = next(row for row in found["rows"] if row["item"] == NAVY)
    assert (navy["free"], navy["short"], navy["by"]) == ("20", "6", "2026-05-11")
    [advice] = found["advice"]
    assert advice["code"] == "stock-short"
    assert "Piqué polo, M navy 6" in advice["message"]
    assert "It is wanted by 6 May 2026." in advice["message"]


def test_what_lies_on_the_shelf_is_not_charged_as_bought(client, shop):
    """Of 3 threads one cone lies there: only the others' put-ups are charged beyond their use."""
    from tests.conftest import polos

    change_standard(shop, "thread_use.charge", "bought")
    job = polos(design__thread_colours=["#1d3b6f", "#e3d6bb", "#c9972b"])
    before = client.post(f"{API}/estimates", json=job).json()
    rows = before["threads"]
    booked(client, THREAD, "received", 5000)
    after = client.post(f"{API}/estimates", json=job).json()
    beyond = Decimal(rows[0]["bought_cost"]) - Decimal(rows[0]["used_cost"])
    saved = Decimal(before["lines"][0]["cost"]["set_up"]) - Decimal(
        after["lines"][0]["cost"]["set_up"]
    )
    assert rows[0]["colour"] == "#1d3b6f"
    assert saved == pytest.approx(beyond, abs=Decimal("0.02"))
    assert saved > 0


def test_the_shelf_goes_out_and_comes_in_once(client, shop, tmp_path):
    booked(client, THREAD, "received", 5000)
    booked(client, THREAD, "taken", 12)
    client.put(f"{API}/stock/item", params={"item": THREAD}, json={"minimum": "1000"})
    data = client.get(f"{API}/stock-documents/stock.json").content
    document = json.loads(data)
    assert document["format"] == "clothyard-stock/1"
    assert document["items"][0]["on_hand"] == "4988"
    other = type(shop)(tmp_path / "other")
    from clothyard.services.exchange.incoming import import_file

    assert import_file(other, data, where="x") == "2 moves booked, 0 were there already."
    assert import_file(other, data, where="x") == "0 moves booked, 2 were there already."
    assert stock.on_hand(other)[THREAD] == 4988
    assert stock.list_items(other)[THREAD].minimum == 1000
    # a press of that shop's own with the same key is another booking
    [(key, _)] = [(m["key"], m) for m in document["moves"] if m["why"] == "taken"]
    shelf.book(other, shelf.Booking(key=key, item=THREAD, why="taken", amount="5"))
    assert stock.on_hand(other)[THREAD] == 4983
    other.close()


@pytest.mark.parametrize(
    ("place", "value"),
    [
        ("why", "lost"),
        ("cost", "abc"),
        ("cost", "1e999999"),
        ("cost", "NaN"),
        ("cost", "-1"),
        ("amount", ""),
        ("amount", "Infinity"),
        ("made_on", "2026-99-99T99:99:99Z"),
        ("item", ""),
        ("item", "cloud|a|b"),
    ],
)
def test_a_shelf_that_cannot_be_is_refused_whole(client, shop, place, value):
    booked(client, THREAD, "received", 5000)
    document = json.loads(client.get(f"{API}/stock-documents/stock.json").content)
    good, bad = ({**document["moves"][0], "key": key} for key in ("good-one", "bad-one"))
    wrong = document | {"moves": [good, bad | {place: value}]}
    sent = {"file": ("stock.json", json.dumps(wrong).encode())}
    refused = client.post(f"{API}/documents", files=sent)
    assert refused.status_code == 422
    assert f"moves.1.{place}" in refused.text
    assert stock.on_hand(shop)[THREAD] == 5000  # the good one is not there either
    for path in ("stock", "to-buy", "today", "plan"):
        assert client.get(f"{API}/{path}").status_code == 200


@pytest.mark.parametrize("day", ["2026-99-99", "2026-02-30"])
def test_a_day_that_is_none_is_refused_wherever_it_is_sent(client, shop, day):
    accepted(shop)
    view = client.get(f"{URL}/1").json()
    body = {key: view[key] for key in ("state", "waits", "promised_on", "ready", "payments")}
    sent = {"headers": {"If-Match": f'"r{view["revision"]}"'}}
    paid = body | {"payments": [{"on": day, "amount": "1", "kind": "payment"}]}
    assert client.put(f"{URL}/1", json=paid, **sent).status_code == 422
    assert client.put(f"{URL}/1", json=body | {"promised_on": day}, **sent).status_code == 422
    assert client.post(f"{API}/closed-days", json={"days": [day]}).status_code == 422
    event = {"id": "event-none", "kind": "broke", "at": f"{day}T09:00:00Z", "piece": "l1-1"}
    passes_of = client.get(f"{URL}/1/passes").json()
    at = f"{URL}/1/passes/{passes_of[0]['pass_id']}"
    assert client.post(f"{at}/events", json={"events": [event]}).status_code == 422
    for path in (f"{URL}/1", URL, f"{at}", f"{API}/log", f"{API}/today", f"{API}/plan"):
        assert client.get(path).status_code == 200, path


def test_an_order_goes_out_and_comes_in_as_one(client, shop):
    accepted(shop)
    approved(client)
    view = passes(client)
    ids = [piece["id"] for piece in view["piece_list"][:2]]
    client.post(f"{URL}/1/pieces", json={"ids": ids, "seen": ["waiting"], "state": "sewn"})
    data = client.get(f"{API}/order-documents/1.json").content
    said = client.post(f"{API}/documents", files={"file": ("order.json", data)}).json()
    assert said == {"said": "Q-0001 is Q-0002 here."}
    there = client.get(f"{URL}/2").json()
    assert there["pieces"] == {"sewn": 2, "waiting": 22}
    assert there["proof"]["state"] == "approved"
    assert there["money"]["to_pay"] == view["money"]["to_pay"]
