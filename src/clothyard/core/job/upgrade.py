"""Jobs of every release are read: a chain of upgrades on the plain document, oldest first.

Each step takes a job as it may have been written before it and returns it as it is written now; on
a job of today it changes nothing. What is no job at all is left for the reader to refuse.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from typing import Any

Plain = dict[str, Any]
_PLACE = re.compile(r"placements\[(\d{1,3})\]")


def _parts(holder: Mapping[str, Any], key: str) -> list[Any]:
    found = holder.get(key)
    return list(found) if isinstance(found, list | tuple) else []


def _numbered(rows: list[Any], prefix: str, taken: set[str]) -> list[Any]:
    """Give rows that have no id the one of their position, or the next that is free."""
    found = []
    for n, row in enumerate(rows, 1):
        if not isinstance(row, Mapping) or row.get("id") is not None:
            found.append(row)
            continue
        at = n
        while f"{prefix}{at}" in taken:
            at += 1
        taken.add(f"{prefix}{at}")
        found.append({"id": f"{prefix}{at}"} | dict(row))
    return found


def _ids(rows: list[Any]) -> Iterator[str]:
    for row in rows:
        if isinstance(row, Mapping) and isinstance(row.get("id"), str):
            yield row["id"]


def with_ids(job: Plain) -> Plain:
    """Give lines, places and cells ids by position: l1, l1.p1, l1.c1."""
    lines = _parts(job, "lines")
    if not lines:
        return job
    taken = set(_ids(lines))
    for line in lines:
        if isinstance(line, Mapping):
            for key in ("placements", "cells"):
                taken |= set(_ids(_parts(line, key)))
    lines = _numbered(lines, "l", taken)
    for line in lines:
        if not isinstance(line, dict):
            continue
        for key, letter in (("placements", "p"), ("cells", "c")):
            if _parts(line, key):
                line[key] = _numbered(_parts(line, key), f"{line['id']}.{letter}", taken)
    return job | {"lines": lines}


def _id_at(rows: list[Any], at: Any) -> str:
    """Id of a row that was named by its position; its number where there is no such row."""
    ids = list(_ids(rows))
    return ids[at] if 0 <= at < len(ids) else str(at)


def _is_position(value: Any) -> bool:
    return isinstance(value, int) and not isinstance(value, bool)


def _reason_by_id(reason: Any, lines: list[Any]) -> Any:
    if not isinstance(reason, Mapping):
        return reason
    line, where = reason.get("line", 0), reason.get("where")
    if not _is_position(line):
        return reason
    found = dict(reason) | {"line": _id_at(lines, line)}
    place = _PLACE.fullmatch(where) if isinstance(where, str) else None
    if place and 0 <= line < len(lines) and isinstance(lines[line], Mapping):
        found["where"] = _id_at(_parts(lines[line], "placements"), int(place.group(1)))
    return found


def by_id(job: Plain) -> Plain:
    """Let kits and reasons name lines and places by their ids, not by their positions."""
    lines = _parts(job, "lines")
    found = dict(job)
    if _parts(job, "overruled"):
        found["overruled"] = [_reason_by_id(r, lines) for r in _parts(job, "overruled")]
    if _parts(job, "kits"):
        found["kits"] = [
            kit
            if not isinstance(kit, Mapping)
            else dict(kit)
            | {"lines": [_id_at(lines, n) if _is_position(n) else n for n in _parts(kit, "lines")]}
            for kit in _parts(job, "kits")
        ]
    return found


def _marked(place: Any) -> Any:
    if not isinstance(place, Mapping) or "jig" not in place:
        return place
    found = {key: value for key, value in place.items() if key != "jig"}
    if place["jig"] is True:
        methods = found.get("methods")
        known = dict(methods) if isinstance(methods, Mapping) else {}
        found["methods"] = {"marking": "jig"} | known
    return found


def marked_by(job: Plain) -> Plain:
    """Let a jig be one of the ways of marking, where it was a wish of its own."""
    lines = _parts(job, "lines")
    if not any(
        isinstance(place, Mapping) and "jig" in place
        for line in lines
        if isinstance(line, Mapping)
        for place in _parts(line, "placements")
    ):
        return job
    found = [
        dict(line) | {"placements": [_marked(place) for place in _parts(line, "placements")]}
        if isinstance(line, Mapping) and _parts(line, "placements")
        else line
        for line in lines
    ]
    return job | {"lines": found}


CHAIN: tuple[Callable[[Plain], Plain], ...] = (with_ids, by_id, marked_by)
"""Oldest first: 0.1 wrote no ids, and positions where 0.2 writes ids."""


def upgraded(job: Any) -> Any:
    """Return a plain job as this release writes it.

    Parameters
    ----------
    job : dict or anything
        A clothyard-job/1 document of any release; it is not changed.

    Returns
    -------
    dict
        What is no object is returned as it is.

    >>> upgraded({"lines": [{"quantity": 2, "placements": [{}]}]})["lines"][0]["placements"]
    [{'id': 'l1.p1'}]
    """
    if not isinstance(job, Mapping):
        return job
    found: Plain = dict(job)
    for step in CHAIN:
        found = step(found)
    return found
