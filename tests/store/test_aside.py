"""What is kept and cannot be read is set aside when the shop is opened; no page is shut by it."""

import sqlite3
import zipfile
from collections import Counter
from contextlib import closing
from pathlib import Path

import pytest
from starlette.testclient import TestClient

from clothyard.api.app import create_app
from clothyard.services.workshop.backups import check_folder
from clothyard.store.shop import DATABASE, Shop
from tests.walk import API, Walk

SHOPS = Path(__file__).parents[1] / "fixtures/shops"
GOOD = {"id": "abcdefgh", "kind": "done", "at": "2026-05-04T09:00:00Z", "piece": "", "person": ""}
NONE = '{"at": "2026-99-99T99:99:99Z"}'

SPOILED = (
    ("stock_move", "cost", "abc"),
    ("stock_move", "cost", "1e999999"),
    ("stock_move", "cost", "NaN"),
    ("stock_move", "cost", "-4"),
    ("stock_move", "made_on", "2026-99-99"),
    ("log_row", "document", "{"),
    ("log_row", "document", "{}"),
    ("log_row", "document", '"\\ud83d"'),
    ("work_order", "payments", '[{"on": "2026-05-04", "amount": "NaN"}]'),
    ("work_order", "payments", "null"),
    ("work_order", "ready", "{}"),
    ("work_order", "promised_on", "garbage"),
    ("work_order", "waits", "rain"),
    ("purchase", "rows", '[{"item": 3}]'),
    ("customer", "contacts", '["Ada"]'),
    ("customer", "agreed", '{"x": 1}'),
    ("customer", "keep_until", "some day"),
)
EVENTS = (
    {"at": "2026-99-99T99:99:99Z"},
    {"kind": "danced"},
    {"data": "null"},
    {"data": '{"grams": "heavy"}'},
    {"data": "{"},
)


@pytest.fixture
def folder(tmp_path, monkeypatch):
    """A shop's folder, up to date, that nobody has open."""
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    with zipfile.ZipFile(SHOPS / "2026-11-30.zip") as kept:
        kept.extractall(tmp_path / "shop")
    Shop(tmp_path / "shop").close()
    return tmp_path / "shop"


def spoil(folder):
    with closing(sqlite3.connect(folder / DATABASE)) as database, database:
        for n in range(3):
            database.execute(
                "INSERT INTO log_row (key, quote_id, finished_on, revision, document, search)"
                " SELECT key || ?, quote_id, finished_on, 1, document, '' FROM log_row LIMIT 1",
                (f"-{n}",),
            )
        rows = Counter()
        for table, column, value in SPOILED:
            row = f"(SELECT rowid FROM {table} ORDER BY rowid DESC LIMIT 1 OFFSET {rows[table]})"
            change = f"UPDATE {table} SET {column} = ? WHERE rowid = {row}"
            database.execute(change, (value,))
            rows[table] += 1
        [order] = database.execute("SELECT quote_id FROM work_order WHERE state = 'in-work'")
        for n, wrong in enumerate(EVENTS):
            event = GOOD | {"id": f"abcdefgh{n}", "data": "{}", "pass_id": "l1.p1.run"} | wrong
            names = ", ".join(event)
            database.execute(
                f"INSERT INTO run_event (quote_id, {names}) VALUES (?{', ?' * len(event)})",
                (order[0], *event.values()),
            )


def client_of(shop):
    headers = {"origin": "http://127.0.0.1"}
    return TestClient(
        create_app(shop),
        base_url="http://127.0.0.1",
        headers=headers,
        raise_server_exceptions=False,
    )


def test_what_cannot_be_read_is_put_away_and_told_and_every_page_opens(folder):
    spoil(folder)
    unread = check_folder(folder)
    assert {finding.where.rpartition(" (")[0] for finding in unread} == {
        "customer",
        "move of the shelf",
        "row of the log",
        "event at the machine",
        "order",
        "order to a supplier",
    }
    shop = Shop(folder)
    client = client_of(shop)
    assert Walk(shop, client).every(quick=True).shut == []
    told = client.get(f"{API}/set-aside").json()
    assert len(told) == len(unread) >= len(EVENTS) + 12
    assert {each["why"] for each in told} >= {
        "cost: is no cost that there is",
        "data at: is no moment that there is",
    }
    assert [each["document"] for each in told if each["document"].get("kind") == "danced"]
    [section] = [s for s in client.get(f"{API}/today").json()["sections"] if s["id"] == "aside"]
    assert f"{len(told)} records set aside" in section["rows"][0]["text"]
    shop.close()
    assert check_folder(folder) == []
    again = Shop(folder)  # nothing is set aside twice
    assert len(client_of(again).get(f"{API}/set-aside").json()) == len(told)
    again.close()


def test_what_was_set_aside_can_be_let_go_and_costs_stay_hidden(folder):
    spoil(folder)
    shop = Shop(folder)
    client = client_of(shop)
    hidden = client.get(f"{API}/set-aside", headers={"x-costs": "hidden"})
    assert (hidden.status_code, hidden.json()["code"]) == (403, "costs-hidden")
    assert client.delete(f"{API}/set-aside").status_code == 204
    assert client.get(f"{API}/set-aside").json() == []
    ids = {section["id"] for section in client.get(f"{API}/today").json()["sections"]}
    assert "aside" not in ids
    shop.close()


def test_a_sound_row_is_never_put_away(folder):
    with closing(sqlite3.connect(folder / DATABASE)) as database:
        count = "SELECT (SELECT count(*) FROM stock_move), (SELECT count(*) FROM log_row)"
        before = database.execute(count).fetchone()
    shop = Shop(folder)
    with shop.reading() as session:
        after = session.connection().exec_driver_sql(count).fetchone()
    assert tuple(after) == before
    assert client_of(shop).get(f"{API}/set-aside").json() == []
    shop.close()
