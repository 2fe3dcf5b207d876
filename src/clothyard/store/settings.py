"""Settings of the shop's own housekeeping, by name; each has a revision."""

from __future__ import annotations

import json
from typing import Any

from sqlalchemy.dialects.sqlite import insert

from clothyard.core.errors import Stale
from clothyard.store.models import Setting
from clothyard.store.unit import Reads, Unit


def read_setting(at: Reads, name: str) -> Any:
    """Return a setting, None where it was never set or cannot be read."""
    return read_kept(at, name)[0]


def read_kept(at: Reads, name: str) -> tuple[Any, int]:
    """Return a setting and its revision, (None, 0) where it was never set."""
    with at.reading() as session:
        row = session.get(Setting, name)
    try:
        return (json.loads(row.value), row.revision) if row else (None, 0)
    except ValueError:
        return None, row.revision if row else 0


def write_setting(unit: Unit, name: str, value: Any, *, seen: int | None = None) -> int:
    """Keep a setting; `value` as JSON has it. Returns its revision.

    Parameters
    ----------
    seen : int, optional
        The revision that the change is based on; None for one that does not depend on it.

    Raises
    ------
    Stale
        If it was changed since; nothing is kept then.
    """
    was, revision = read_kept(unit, name)
    if seen is not None and seen != revision:
        raise Stale(
            "this was changed elsewhere since.",
            kept=was,
            where="revision",
            remedy="Load it again, then change it.",
        )
    values = {"value": json.dumps(value), "revision": revision + 1}
    row = insert(Setting).values(name=name, **values)
    unit.session.execute(row.on_conflict_do_update(index_elements=["name"], set_=values))
    return revision + 1
