"""A job that is only begun: what is still asked of it, and what of it can be priced already."""

from __future__ import annotations

from collections.abc import Callable, Collection, Mapping
from typing import Any

from clothyard.core.units import read_count

Plain = Mapping[str, Any]


def _said(value: Any) -> bool:
    """Whether something was typed: "0" and 0 are, blanks are not."""
    return value is not None and str(value).strip() != ""


def _part(holder: Any, key: str) -> Plain:
    found = holder.get(key) if isinstance(holder, Mapping) else None
    return found if isinstance(found, Mapping) else {}


def _parts(holder: Any, key: str) -> list[Any]:
    found = holder.get(key) if isinstance(holder, Mapping) else None
    return list(found) if isinstance(found, list | tuple) else []


def _has_design(placement: Any) -> bool:
    design = _part(placement, "design")
    return any(_said(design.get(key)) for key in ("file", "sha256", "stitches", "text"))


def _is_priced(line: Any, made: Collection[str]) -> bool:
    """Whether it is known what a blank costs: typed, of the shelf, of each cell, or not ours."""
    goods, cells = _part(line, "goods"), _parts(line, "cells")
    return (
        goods.get("supplied_by") == "customer"
        or goods.get("class") in made
        or any(_said(goods.get(key)) for key in ("unit_cost", "blank"))
        or (bool(cells) and all(_said(_part({"c": c}, "c").get("unit_cost")) for c in cells))
    )


def _lacks(line: Any, made: Collection[str]) -> list[str]:
    found = []
    if not _said(_part(line, "goods").get("class")):
        found.append("the goods")
    elif not _is_priced(line, made):
        found.append("what a blank costs")
    counted = any(_said(_part({"c": c}, "c").get("quantity")) for c in _parts(line, "cells"))
    if not _said(line.get("quantity") if isinstance(line, Mapping) else None) and not counted:
        found.append("how many")
    placements = _parts(line, "placements") or [{}]
    for k, placement in enumerate(placements, 1):
        if not _has_design(placement):
            found.append("the design" if k == 1 else f"the design of place {k}")
    return found


def lacking(job: Plain, *, made: Collection[str] = ()) -> list[str]:
    """Say what is still asked for a price, of every line.

    Parameters
    ----------
    job : mapping
        A plain job, as typed so far.
    made : collection of str
        Classes that are made in the hoop: no blank of them is bought.

    Returns
    -------
    list of str
        In words: "how many", "the design of place 2 (line 3)"; empty when it can be priced.

    >>> lacking({"lines": [{"goods": {"class": "felt", "unit_cost": "2"}, "quantity": ""}]})
    ['how many', 'the design']
    """
    lines = _parts(job, "lines") or [{}]
    told = [(n, what) for n, line in enumerate(lines, 1) for what in _lacks(line, made)]
    return [what if len(lines) == 1 else f"{what} (line {n})" for n, what in told]


def counted(job: Plain) -> list[int]:
    """Count the pieces of every line: as typed, else its cells added up; 0 where that is unread.

    >>> counted({"lines": [{"cells": [{"quantity": "12"}, {"quantity": 20}]}, {"quantity": "1k"}]})
    [32, 1000]
    """
    found = []
    for line in _parts(job, "lines"):
        typed = _part({"line": line}, "line").get("quantity")
        rows = (
            [typed]
            if _said(typed)
            else [_part({"cell": cell}, "cell").get("quantity") for cell in _parts(line, "cells")]
        )
        try:
            found.append(sum(read_count(row) for row in rows if _said(row)))
        except ValueError:
            found.append(0)
    return found


def _until_done(parts: list[Any], done: Callable[[Any], bool]) -> list[Any]:
    """A list up to its last part that is done."""
    last = max((i for i, part in enumerate(parts) if done(part)), default=-1)
    return parts[: last + 1]


def priceable(job: Plain, *, made: Collection[str] = ()) -> Plain | None:
    """Return what of a job can be priced: all but the last lines and places that are only begun.

    What was priced so stays in sight while one more is begun. None when that is not enough, or
    when lines are sold as a set.
    """
    if not lacking(job, made=made):
        return job
    if _parts(job, "kits"):
        return None
    lines = [
        {**line, "placements": _until_done(_parts(line, "placements"), _has_design)}
        for line in _parts(job, "lines")
        if isinstance(line, Mapping)
    ]
    lines = _until_done(lines, lambda line: bool(line["placements"]) and not _lacks(line, made))
    part = {**job, "lines": lines}
    return part if lines and not lacking(part, made=made) else None
