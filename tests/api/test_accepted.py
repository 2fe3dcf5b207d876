"""A property: whatever a route accepts, every page opens after it."""

import contextlib
import zipfile
from pathlib import Path

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from schemathesis.core.result import Ok
from starlette.testclient import TestClient

from clothyard.api.app import create_app
from clothyard.store.shop import Shop
from tests.core.random_jobs import SOAK
from tests.walk import SQL, Walk

SHOPS = Path(__file__).parents[1] / "fixtures/shops"
LEFT_OUT = ("backup", "/machine/", "scale", "/ask", "designs", "sheets", "photos", "price-lists")
"""Routes that go back in time, ask a device, or take files: their own tests."""


@pytest.fixture
def shop(tmp_path, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")
    with zipfile.ZipFile(SHOPS / "2026-11-30.zip") as kept:
        kept.extractall(tmp_path / "shop")
    shop = Shop(tmp_path / "shop")
    yield shop
    shop.close()


def test_every_page_opens_after_what_was_accepted(shop):
    app = create_app(shop)
    headers = {"origin": "http://127.0.0.1"}
    client = TestClient(
        app, base_url="http://127.0.0.1", headers=headers, raise_server_exceptions=False
    )
    schema = schemathesis.openapi.from_dict(client.get("/api/v1/openapi.json").json())
    taken = {}
    for found in schema.get_all_operations():
        operation = found.ok() if isinstance(found, Ok) else None
        if operation is None or operation.method.upper() == "GET":
            continue
        if any(part in operation.path for part in LEFT_OUT):
            continue
        taken[operation.label] = accepted(operation, shop, client)
        if SOAK and taken[operation.label]:
            assert Walk(shop, client).every(quick=True).shut == [], operation.label
    assert Walk(shop, client).every(quick=True).shut == []
    print(f"{sum(taken.values())} accepted of {sum(1 for n in taken.values() if n)} routes")
    assert sum(1 for n in taken.values() if n) > 15


def ids_of(shop, name):
    with shop.reading() as session:
        return [row[0] for row in session.connection().exec_driver_sql(SQL[name])]


def accepted(operation, shop, client):
    """Send what the schema allows to a route, to what there is; returns how often it was taken."""
    count = 0

    @seed(7)
    @settings(
        max_examples=40 if SOAK else 2,
        database=None,
        deadline=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    @given(case=operation.as_strategy())
    def send(case):
        nonlocal count
        for n, name in enumerate(case.path_parameters or {}):
            if ids := (ids_of(shop, name) if name in SQL else []):
                case.path_parameters[name] = ids[(count + n) % len(ids)]
        at = case.formatted_path
        headers = {"host": "127.0.0.1"}
        with contextlib.suppress(Exception):
            headers["if-match"] = client.get(at).headers["etag"]
        answer = client.request(
            case.method,
            at,
            params=case.query,
            headers=headers,
            **({} if case.body is schemathesis.core.NOT_SET else {"json": case.body}),
        )
        assert answer.status_code < 500, (case.method, at, case.body, answer.text)
        count += answer.status_code < 300

    send()
    return count
