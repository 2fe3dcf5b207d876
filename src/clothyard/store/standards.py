"""The defaults that a shop has changed, in the database."""

from __future__ import annotations

import json
from collections.abc import Collection, Mapping
from typing import Any

from sqlalchemy import delete, select
from sqlalchemy.dialects.sqlite import insert

from clothyard.store.models import StandardChange
from clothyard.store.shop import now
from clothyard.store.unit import Reads, Unit


def _read(value: str) -> Any:
    try:
        return json.loads(value)
    except ValueError:
        return value


def change_rows(at: Reads) -> tuple[tuple[str, str], ...]:
    """Return the changed defaults as they are kept, by key: (dotted key, JSON text)."""
    query = select(StandardChange.key, StandardChange.value).order_by(StandardChange.key)
    with at.reading() as session:
        return tuple((key, value) for key, value in session.execute(query).all())


def changed_standards(at: Reads) -> dict[str, Any]:
    """Return the changed defaults: dotted key to value; what is unreadable as its text."""
    return read_changes(change_rows(at))


def read_changes(rows: tuple[tuple[str, str], ...]) -> dict[str, Any]:
    """Read changed defaults as they are kept; what is unreadable as its text."""
    return {key: _read(value) for key, value in rows}


def change_standards(unit: Unit, values: Mapping[str, Any]) -> None:
    """Keep changed defaults: dotted key to value."""
    for key, value in values.items():
        kept = json.dumps(value)
        row = insert(StandardChange).values(key=key, value=kept, changed_on=now())
        unit.session.execute(
            row.on_conflict_do_update(
                index_elements=["key"], set_={"value": kept, "changed_on": now()}
            )
        )


def reset_standards(unit: Unit, keys: Collection[str]) -> None:
    """Go back to the defaults for these keys."""
    unit.session.execute(delete(StandardChange).where(StandardChange.key.in_(keys)))
