"""What changed between two versions of a quote, in words."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from clothyard.core.estimate.upgrade import upgraded as upgraded_estimate
from clothyard.core.house.changes import flat, shown
from clothyard.core.job.hidden import COST_KEYS
from clothyard.core.job.upgrade import upgraded as upgraded_job
from clothyard.core.record import record

Plain = dict[str, Any]
_HEAD = {
    "customer": "Customer",
    "due_on": "Wanted by",
    "valid_until": "Valid until",
    "notes": "Notes",
}
_BY_ID = {"lines": "line", "placements": "place", "cells": "cell"}
"""Lists whose rows have ids, and how one is named."""


@record
class Sent:
    """A version as it was sent, plain documents; of any release."""

    job: Plain
    estimate: Plain
    head: Mapping[str, str]

    @property
    def lines(self) -> dict[str, Plain]:
        """Its lines as priced, by id."""
        return {line["id"]: line for line in upgraded_estimate(self.estimate)["lines"]}

    @property
    def leaves(self) -> dict[str, Any]:
        """Its job, leaf by leaf; rows that have ids are named by them."""
        return dict(flat(_keyed(upgraded_job(self.job))))


def _keyed(value: Any) -> Any:
    """Turn lists of rows with ids into maps by id, and leave the ids themselves out."""
    if isinstance(value, list):
        if value and all(isinstance(row, Mapping) and "id" in row for row in value):
            return {f"[{row['id']}]": _keyed(row) for row in value}
        return [_keyed(row) for row in value]
    if isinstance(value, Mapping):
        return {k: _keyed(v) for k, v in value.items() if k not in {"id", "format"}}
    return value


def _name(path: str, order: Mapping[str, int]) -> str:
    """Name a path by its last key, and by line and place beyond the first ones."""
    last = path.rsplit(".", 1)[-1].replace("_", " ")
    name = f"{last[:1].upper()}{last[1:]}"
    rows = re.findall(r"(lines|placements)\.\[([^\]]+)\]", path)
    tags = [f"{_BY_ID[kind]} {order[row] + 1}" for kind, row in rows if order.get(row, 0) > 0]
    return f"{name} ({', '.join(tags)})" if tags else name


def _order(*sent: Sent) -> dict[str, int]:
    """Each line's and place's position, as last sent."""
    found: dict[str, int] = {}
    for version in sent:
        for n, line in enumerate(upgraded_job(version.job).get("lines", [])):
            found[line["id"]] = n
            found |= {p["id"]: k for k, p in enumerate(line.get("placements", []))}
    return found


def _of_prices(old: Sent, new: Sent, order: Mapping[str, int]) -> Iterator[str]:
    before, after = old.lines, new.lines
    several = max(len(before), len(after)) > 1
    for line_id in [key for key in before if key in after]:
        for key, name in (("unit", "A piece"), ("line", "The line")):
            was, now = before[line_id]["price"][key], after[line_id]["price"][key]
            if was != now:
                number = order.get(line_id, 0) + 1
                label = f"Line {number}, {name.lower()}" if several else name
                yield f"{label}: {was} became {now}."
    if len(before) != len(after):
        yield f"Lines: {len(before)} became {len(after)}."
    was, now = (v.estimate["total"]["to_pay"] for v in (old, new))
    if was != now:
        yield f"To pay: {was} became {now}."


def _of_head(old: Sent, new: Sent) -> Iterator[str]:
    for key, name in _HEAD.items():
        was, now = old.head.get(key, ""), new.head.get(key, "")
        if was != now:
            yield f"{name}: {shown(was)} became {shown(now)}."


def _of_job(old: Sent, new: Sent, order: Mapping[str, int], *, costs: bool) -> Iterator[str]:
    """Changed leaves of the job; lines that came or went are told by their number alone."""
    before, after = old.leaves, new.leaves
    both = set(old.lines) & set(new.lines)
    for path in dict.fromkeys([*before, *after]):
        was, now = before.get(path), after.get(path)
        line = re.match(r"lines\.\[([^\]]+)\]", path)
        if was == now or (line and line.group(1) not in both):
            continue
        if costs or not COST_KEYS & set(path.split(".")):
            yield f"{_name(path, order)}: {shown(was)} became {shown(now)}."


def _methods(sent: Sent) -> dict[tuple[str, int, str], str]:
    """Every settled method: (line id, placement, key) to its value."""
    return {
        (line_id, m["placement"], m["key"]): m["value"]
        for line_id, line in sent.lines.items()
        for m in line["methods"]
    }


def _of_methods(old: Sent, new: Sent, order: Mapping[str, int]) -> Iterator[str]:
    """Methods that are proposed otherwise now; those the job says are told with it."""
    told = {path.rsplit(".", 1)[-1] for path in {*old.leaves, *new.leaves}}
    before, after = _methods(old), _methods(new)
    several = max(len(old.lines), len(new.lines)) > 1
    for (line_id, place, key), value in after.items():
        was = before.get((line_id, place, key))
        if was is None or was == value or key in told:
            continue
        number = order.get(line_id, 0) + 1
        tag = f"Line {number}, place {place + 1}, " if several or place else ""
        name = key.replace("_", " ")
        yield f"{tag}{name if tag else name.capitalize()}: {was} became {value}."


def changes_between(old: Sent, new: Sent, *, costs: bool = True, methods: bool = True) -> list[str]:
    """Tell what changed from one version to the next, the price first.

    Parameters
    ----------
    old, new : Sent
    costs : bool
        False leaves out what tells a cost, a margin or the shop's own standards.
    methods : bool
        False leaves out how it is made.

    Returns
    -------
    list of str
        A sentence each; empty when nothing did.
    """
    order = _order(old, new)
    return [
        *_of_prices(old, new, order),
        *_of_head(old, new),
        *_of_job(old, new, order, costs=costs),
        *(_of_methods(old, new, order) if methods else ()),
    ]
