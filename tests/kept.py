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
