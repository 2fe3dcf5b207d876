"""Estimates of every release are read: what was sent is upgraded as it is read, never rewritten."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

Plain = dict[str, Any]


def with_ids(estimate: Plain) -> Plain:
    """Give lines and places ids by position, and let kits name lines by them."""
    lines = estimate.get("lines")
    if not isinstance(lines, list):
        return estimate
    found: list[Any] = []
    for n, line in enumerate(lines, 1):
        if not isinstance(line, Mapping) or line.get("id"):
            found.append(line)
            continue
        places = [
            place if not isinstance(place, Mapping) else {"id": f"l{n}.p{k}"} | dict(place)
            for k, place in enumerate(line.get("places") or [], 1)
        ]
        found.append(dict(line) | {"id": f"l{n}", "places": places})
    return estimate | {"lines": found}


def kits_by_id(estimate: Plain) -> Plain:
    """Name the lines of kits by their ids."""
    total = estimate.get("total")
    if not isinstance(total, Mapping) or not total.get("kits"):
        return estimate
    ids = [line["id"] for line in estimate["lines"]]
    kits = [
        dict(kit) | {"lines": [ids[n] if isinstance(n, int) else n for n in kit["lines"]]}
        for kit in total["kits"]
    ]
    return estimate | {"total": dict(total) | {"kits": kits}}


CHAIN: tuple[Callable[[Plain], Plain], ...] = (with_ids, kits_by_id)
"""Oldest first: 0.1 wrote no ids, and positions where 0.2 writes ids."""


def upgraded(estimate: Any) -> Any:
    """Return a plain estimate as this release writes it.

    Parameters
    ----------
    estimate : dict or anything
        A clothyard-estimate/1 document of any release; it is not changed.
    """
    if not isinstance(estimate, Mapping):
        return estimate
    found: Plain = dict(estimate)
    for step in CHAIN:
        found = step(found)
    return found
