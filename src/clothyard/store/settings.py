"""Settings of the shop's own housekeeping, by name."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy.dialects.sqlite import insert

from clothyard.store.models import Setting
from clothyard.store.shop import Shop


def read_setting(shop: Shop, name: str) -> Any:
    """Return a setting, None where it was never set or cannot be read."""
    with shop.reading() as session:
        row = session.get(Setting, name)
    try:
        return json.loads(row.value) if row else None
    except ValueError:
        return None


def write_setting(shop: Shop, name: str, value: Any) -> None:
    """Keep a setting; `value` as JSON has it."""
    kept = json.dumps(value)
    row = insert(Setting).values(name=name, value=kept)
    with shop.writing() as session:
        session.execute(row.on_conflict_do_update(index_elements=["name"], set_={"value": kept}))
