"""Shops that were made by what is released: brought up, every route opens, what is kept holds."""

import gzip
import os
import sqlite3
import zipfile
from contextlib import closing
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from clothyard.api.app import create_app
from clothyard.services.log.rows import NewLogRow, write_row
from clothyard.store import stock
from clothyard.store.shop import DATABASE, Shop
from tests.walk import Walk

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))

SHOPS = Path(__file__).parents[1] / "fixtures/shops"
"""A sample shop, cut down, of each release, and of the last days before orders were worked once."""

API = "/api/v1"
OLD = Path(__file__).parents[1] / "fixtures/release-0.2/shop.sql.gz"
TWICE = {
    "supplier": "gull-reel",
    "rows": [{"item": "thread|polyester|#000001", "pack_id": "cone-5000", "count": 1}],
    "send": False,
}


@pytest.fixture
def old(tmp_path, monkeypatch):
    """The old shop, brought up, and what its database held before."""
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    (tmp_path / "shop").mkdir()
    with closing(sqlite3.connect(tmp_path / "shop" / DATABASE)) as database:
        database.executescript(gzip.decompress(OLD.read_bytes()).decode())
        on_hand = "SELECT item, sum(amount) FROM stock_move GROUP BY item ORDER BY item"
        before = database.execute(on_hand).fetchall()
    shop = Shop(tmp_path / "shop")
    with shop.reading() as session:
        after = session.connection().exec_driver_sql(on_hand).fetchall()
        lost = session.connection().exec_driver_sql("PRAGMA foreign_key_check").fetchall()
    assert ([tuple(row) for row in after], lost) == (before, [])
    yield shop
    shop.close()


@pytest.mark.parametrize("made", ["2026-11-25", "2026-11-26", "2026-11-30"])
def test_every_route_opens_on_a_shop_of_each_release(made, tmp_path, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    with zipfile.ZipFile(SHOPS / f"{made}.zip") as kept:
        kept.extractall(tmp_path / "shop")
    shop = Shop(tmp_path / "shop")
    headers = {"origin": "http://127.0.0.1"}
    client = TestClient(
        create_app(shop),
        base_url="http://127.0.0.1",
        headers=headers,
        raise_server_exceptions=False,
    )
    walk = Walk(shop, client).every(quick=not SOAK)
    shop.close()
    assert walk.shut == []
    assert walk.opened > 100


def test_every_page_of_an_old_shop_opens_and_its_work_is_kept(old):
    client = TestClient(create_app(old), base_url="http://127.0.0.1")
    found = client.get(f"{API}/orders").json()["items"]
    assert {row["state"] for row in found} == {"done", "accepted"}
    pages = ["plan", "today", "log", "learning", "pays", "pays?by=goods", "stock", "to-buy"]
    for order in (1, 2):
        [row] = client.get(f"{API}/orders/{order}/passes").json()
        at = f"orders/{order}/passes/{row['pass_id']}"
        pages += [f"orders/{order}", f"orders/{order}/run", f"orders/{order}/to-log", at]
        pages += [f"{at}/log", f"order-documents/{order}.json"]
    for page in (*pages, "purchases", "customers", "quotes", "outbox", "standards"):
        assert client.get(f"{API}/{page}").status_code == 200, page
    with old.reading() as session:
        read = session.connection().exec_driver_sql
        assert read("SELECT count(*) FROM order_work").scalar() == 2
        assert read("SELECT quote_id FROM order_result").scalars().all() == [1]
    [logged] = client.get(f"{API}/log").json()["items"]
    assert (logged["order_id"], logged["row"]["customer"]) == (1, "Orrin Hill Choir")
    assert client.get(f"{API}/orders/1").json()["pieces"]["sewn"] == 1


def test_what_was_booked_is_given_back_and_ids_go_on(old):
    headers = {"origin": "http://127.0.0.1"}
    client = TestClient(create_app(old), base_url="http://127.0.0.1", headers=headers)
    assert client.get(f"{API}/orders").json()["total"] == 2
    [logged] = client.get(f"{API}/log").json()["items"]
    items = [thread["item"] for thread in logged["row"]["threads"]]
    assert sum(stock.on_hand(old, items).values()) == -30
    assert client.delete(f"{API}/log/{logged['id']}").status_code == 204
    assert set(stock.on_hand(old, items).values()) == {0}
    again = write_row(old, NewLogRow.model_validate({"order_id": 1, "row": logged["row"]}))
    assert again.id == logged["id"] + 1  # its keys are not those of the row that is gone
    assert sum(stock.on_hand(old, items).values()) == -30
    made = client.post(f"{API}/purchases", json=TWICE).json()
    assert made["id"] > 1
    assert client.get(f"{API}/purchases").json()["total"] == 2
