"""A job without what things cost or earn, and with it again: for a screen that a customer sees."""

from __future__ import annotations

import copy
from collections.abc import Iterator
from typing import Any

from clothyard.core.job.upgrade import upgraded

COST_KEYS = frozenset(
    {
        "unit_cost",
        "margin",
        "liability",
        "delivery",
        "discount",
        "price_method",
        "price_breaks",
        "house",
    }
)
"""Keys of a job that tell what things cost or earn."""

OF_COSTS = ("price-floor", "price-margin", "price-crosscheck", "loss-chance")
"""Advice that tells it."""

Plain = dict[str, Any]


def _of_costs(row: Any) -> bool:
    return isinstance(row, dict) and row.get("code") in OF_COSTS


def without_costs_in(value: Any) -> Any:
    """Take every key that tells a cost out of a plain job, and reasons that are about costs.

    Parameters
    ----------
    value : dict
        As typed, of any release.
    """
    if isinstance(value, dict):
        found = {k: without_costs_in(v) for k, v in value.items() if k not in COST_KEYS}
        if isinstance(found.get("overruled"), list):
            found["overruled"] = [row for row in found["overruled"] if not _of_costs(row)]
        return found
    if isinstance(value, list):
        return [without_costs_in(part) for part in value]
    return value


def _pairs(typed: Any, kept: Any) -> Iterator[tuple[Any, Any]]:
    """Pair the parts of two values that are the same part: by key, by id, or by place."""
    if isinstance(typed, dict) and isinstance(kept, dict):
        for key in typed.keys() & kept.keys():
            yield typed[key], kept[key]
    elif isinstance(typed, list) and isinstance(kept, list):
        by_id = {row["id"]: row for row in kept if isinstance(row, dict) and row.get("id")}
        for n, row in enumerate(typed):
            row_id = row.get("id") if isinstance(row, dict) else None
            if isinstance(row_id, str) and row_id:
                yield row, by_id.get(row_id)
            elif n < len(kept):
                yield row, kept[n]


def with_costs_of(typed: Plain, kept: Plain) -> Plain:
    """Put back into a job what a screen without costs was not told; what it says itself stands.

    Parameters
    ----------
    typed : dict
        As the screen sends it.
    kept : dict
        As it is kept, whole.

    >>> kept = {"margin": "0.4", "lines": [{"id": "l1", "goods": {"unit_cost": "6.40"}}]}
    >>> with_costs_of({"lines": [{"id": "l1", "goods": {}, "quantity": 9}]}, kept)
    {'lines': [{'id': 'l1', 'goods': {'unit_cost': '6.40'}, 'quantity': 9}], 'margin': '0.4'}
    """
    found: Plain = copy.deepcopy(upgraded(typed))
    kept = upgraded(kept)
    pairs: list[tuple[Any, Any]] = [(found, kept)]
    while pairs:
        mine, theirs = pairs.pop()
        if isinstance(mine, dict) and isinstance(theirs, dict):
            for key in theirs.keys() & COST_KEYS - mine.keys():
                mine[key] = copy.deepcopy(theirs[key])
        pairs += _pairs(mine, theirs)
    reasons = [row for row in kept.get("overruled") or () if _of_costs(row)]
    if reasons:
        found["overruled"] = [*(found.get("overruled") or ()), *reasons]
    return found
