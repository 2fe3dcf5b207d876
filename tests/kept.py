"""Writing past the services, as tests do: each call is a unit of work of its own."""

from __future__ import annotations

import uuid
from collections.abc import Iterable, Mapping
from typing import Any

from clothyard.core.stock.ledger import Move
from clothyard.store import standards, stock
from clothyard.store.shop import Shop


def set_standards(shop: Shop, values: Mapping[str, Any]) -> None:
    """Keep changed standards, unchecked."""
    with shop.unit() as unit:
        standards.change_standards(unit, values)


def reset_standards(shop: Shop, keys: Iterable[str]) -> None:
    """Let changed standards go."""
    with shop.unit() as unit:
        standards.reset_standards(unit, list(keys))


def book(shop: Shop, moves: Iterable[tuple[str, Move]]) -> int:
    """Book moves."""
    with shop.unit() as unit:
        return stock.add_moves(unit, moves)


def new_key() -> str:
    """Make the key of a press."""
    return uuid.uuid4().hex


def all_here(client: Any, *, quote: int = 0) -> None:
    """Say that all that nobody has counted is here: what open orders need, or a quote too."""
    if quote:
        needs = client.get(f"/api/v1/quotes/{quote}/shelf").json()["rows"]
    else:
        needs = [r for s in client.get("/api/v1/to-buy").json()["suppliers"] for r in s["rows"]]
    rows = [{"item": item, "said": "enough"} for item in {r["item"] for r in needs if r["unknown"]}]
    if rows:
        body = {"key": new_key(), "quote": quote, "rows": rows}
        assert client.post("/api/v1/stock/said", json=body).status_code == 201
