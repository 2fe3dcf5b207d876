"""What could not be read and was set aside: told, written out, let go."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from clothyard.store import aside as kept
from clothyard.store.shop import Shop


class AsideRow(BaseModel):
    """What was set aside: what it is and which, why, when, and what it was."""

    id: int
    what: str
    row: str
    why: str
    set_on: str
    document: dict[str, Any]


def list_aside(shop: Shop) -> list[AsideRow]:
    """List what was set aside, the last first."""
    return [AsideRow.model_validate(row, from_attributes=True) for row in kept.list_aside(shop)]


def let_aside_go(shop: Shop) -> None:
    """Let go of all that was set aside."""
    with shop.unit() as unit:
        kept.let_aside_go(unit)
