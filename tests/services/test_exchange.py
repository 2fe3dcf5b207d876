"""What goes out comes in: a quote, an order, a whole shop, with the same figures; or nothing."""

import json

import pytest
from starlette.testclient import TestClient

from clothyard.api.app import create_app
from clothyard.core.errors import BadInput, ClothyardError
from clothyard.services.exchange.incoming import import_file
from clothyard.services.exchange.outgoing import export_order, export_quote, export_shop
from tests.core.random_jobs import SOAK
from tests.walk import API, Walk

NAMED = ("number", "id", "revision", "version", "quote_id")


def client_of(shop):
    return TestClient(
        create_app(shop),
        base_url="http://127.0.0.1",
        headers={"origin": "http://127.0.0.1"},
        raise_server_exceptions=False,
    )


def rows(shop, text):
    with shop.reading() as session:
        return [tuple(row) for row in session.connection().exec_driver_sql(text)]


def everything(shop):
    """Every row of a shop's tables, but what only says which shop it is."""
    tables = rows(shop, "SELECT name FROM sqlite_master WHERE type = 'table'")
    left_out = {"shop_identity", "sqlite_sequence"}
    return {name: rows(shop, f"SELECT * FROM {name}") for (name,) in tables if name not in left_out}


def test_a_whole_shop_comes_into_a_new_one_with_the_same_figures(there, shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    said = import_file(shop, export_shop(there), where="shop.json")
    assert "another sum" not in said
    before, here = client_of(there), client_of(shop)
    totals = "SELECT customer, state, total, summary FROM quote WHERE deleted_on IS NULL ORDER BY 1"
    assert sorted(rows(shop, totals)) == sorted(rows(there, totals))
    for old, new in mapped(there, shop):
        was, now = (c.get(f"{API}/orders/{id_}").json() for c, id_ in ((before, old), (here, new)))
        for key in ("state", "waits", "promised_on", "pieces", "ready", "money", "customer"):
            assert now[key] == was[key], (key, was["number"])
        passes = [c.get(f"{API}/orders/{n}/passes").json() for c, n in ((before, old), (here, new))]
        assert passes[0] == passes[1]
    shelf = "SELECT item, sum(amount) FROM stock_move GROUP BY item ORDER BY item"
    assert rows(shop, shelf) == rows(there, shelf)
    taken = "SELECT item, sum(taken) FROM order_need GROUP BY item ORDER BY item"
    assert rows(shop, taken) == rows(there, taken)
    logged = "SELECT q.customer, l.finished_on FROM log_row l LEFT JOIN quote q ON q.id = quote_id"
    assert sorted(rows(shop, logged), key=str) == sorted(rows(there, logged), key=str)
    numbers = rows(shop, "SELECT id, number FROM quote")
    for row in here.get(f"{API}/log").json()["items"]:
        assert not row["order_id"] or (row["order_id"], row["row"]["order"]) in numbers
    standards = "SELECT key, value FROM standard_change ORDER BY key"
    assert rows(shop, standards) == rows(there, standards)
    assert Walk(shop, here).every(quick=True).shut == []
    assert list(shop.folder.glob("outbox/*")) == []  # nobody is written to again


def mapped(there, shop):
    """Pair the orders of two shops: (id there, id here), by who they are for and when accepted."""
    listed = (
        "SELECT q.id FROM work_order w JOIN quote q ON q.id = w.quote_id"
        " ORDER BY q.customer, q.summary, q.total"
    )
    pairs = [(a, b) for (a,), (b,) in zip(rows(there, listed), rows(shop, listed), strict=True)]
    assert len(pairs) > 4
    return pairs


def test_each_order_and_quote_comes_in_alone_under_a_number_of_its_own(there, shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    here = client_of(shop)
    kept = rows(there, "SELECT id, number, total FROM quote ORDER BY id DESC")
    for n, (id_, number, total) in enumerate(kept if SOAK else kept[1:4], 1):
        data = export_quote(there, id_)
        assert import_file(shop, data, where="x") == f"{number} is Q-{n:04d} here."
        assert here.get(f"{API}/quotes/{n}").json()["total"] == total
    assert Walk(shop, here).every(quick=True).shut == []


def spoiled(document, change):
    found = json.loads(document)
    change(found)
    return json.dumps(found).encode()


def _two_pieces(found):
    found["orders"][-1]["pieces"] = [found["orders"][-1]["pieces"][0]] * 2


def _bad_move(found):
    found["stock"]["moves"][-1]["amount"] = "many"


def _torn_design(found):
    found["designs"][-1]["data"] = "AAAA"


def _no_house(found):
    found["orders"][-1]["house"] = 99


def _bad_standard(found):
    found["standards"]["price.margin"] = "12"


def _bad_log(found):
    found["log"][-1]["sewn"] = 0


def _no_design(found):
    found["designs"] = []


EARLY = [_bad_move, _torn_design, _no_house, _bad_standard, _bad_log]
LATE = [_two_pieces, _no_design]  # found once much of it was read in


def test_what_is_refused_leaves_nothing_behind(there, shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    document, before = export_shop(there), everything(shop)
    for change in (*EARLY, *LATE[: None if SOAK else 1]):
        with pytest.raises(ClothyardError) as told:
            import_file(shop, spoiled(document, change), where="shop.json")
        assert told.value.remedy or told.value.message
        assert everything(shop) == before, change.__name__
    assert import_file(shop, export_order(there, 2), where="x") == "Q-0002 is Q-0001 here."


def test_a_shop_is_not_read_into_itself(there):
    with pytest.raises(BadInput) as told:
        import_file(there, export_shop(there), where="shop.json")
    assert told.value.code == "shop-same"


def test_an_order_comes_twice_as_two_orders(there, shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    data = export_order(there, 13)  # in work: events come with it
    assert import_file(shop, data, where="x") == "Q-0013 is Q-0001 here."
    assert import_file(shop, data, where="x") == "Q-0013 is Q-0002 here."
    assert Walk(shop, client_of(shop)).every(quick=True).shut == []


@pytest.mark.parametrize("deep", ["[" * 200_000, '{"a":' * 50_000, "NaN", '{"format": ["x"]}'])
def test_what_is_no_document_is_refused(shop, deep):
    with pytest.raises(BadInput):
        import_file(shop, deep.encode(), where="x")


def test_rows_of_another_shops_log_are_of_no_order_here(there, shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    import_file(shop, export_order(there, 17), where="x")  # Q-0001 here is another than there
    data = client_of(there).get(f"{API}/log-documents/log.json").content
    assert import_file(shop, data, where="log.json") == "9 rows of the log added, 0 were there"
    found = client_of(shop).get(f"{API}/log").json()["items"]
    assert {(row["order_id"], row["row"]["order"]) for row in found} == {(0, "")}
