"""What changed between two versions of a quote, in words."""

from __future__ import annotations

import re
from collections.abc import Collection
from typing import Any

from clothyard.core.house import row_meta

_HEAD = {
    "customer": "Customer", "due_on": "Wanted by", "valid_until": "Valid until", "notes": "Notes",
}  # fmt: skip
_SKIP = {"format"}
_TELLS_COSTS = {"unit_cost", "margin", "liability", "delivery", "discount", "price_method"}


def _flat(value: Any, path: str = "") -> dict[str, Any]:
    if isinstance(value, dict):
        found: dict[str, Any] = {}
        for key, item in value.items():
            if path or key not in _SKIP:
                found |= _flat(item, f"{path}.{key}" if path else key)
        return found
    if isinstance(value, list):
        found = {}
        for i, item in enumerate(value):
            found |= _flat(item, f"{path}[{i}]")
        return found
    return {path: value}


def _name(path: str) -> str:
    """Name a path by its last key, and by line and place beyond the first ones."""
    last = path.rsplit(".", 1)[-1].replace("_", " ")
    name = f"{last[:1].upper()}{last[1:]}"
    numbers = dict(re.findall(r"(lines|placements)\[(\d+)\]", path))
    tags = [
        f"{word} {int(numbers[key]) + 1}"
        for key, word in (("lines", "line"), ("placements", "place"))
        if numbers.get(key, "0") != "0"
    ]
    return f"{name} ({', '.join(tags)})" if tags else name


def _shown(value: Any) -> str:
    if value in (None, "", [], {}):
        return "none"
    return f"{value[:12]}…" if isinstance(value, str) and len(value) == 64 else str(value)


def _standard_name(key: str, *houses: dict[str, Any]) -> str:
    """Name a standard by what the shop calls its row, else by its heading, and by its column."""
    section, row, *column = key.split(".")
    named = [
        item["label"]
        for house in houses
        if isinstance(item := house.get(section, {}).get(row), dict) and "label" in item
    ]
    meta = row_meta(key)
    of = named[0] if named else meta.topic if meta else section
    name = " ".join(f"from {part}" if part.isdigit() else part for part in column or [row])
    return f"{of}, {name.replace('_', ' ')}"


def standards_changed(
    before: dict[str, Any], after: dict[str, Any], *, blanks: Collection[str] = ()
) -> list[str]:
    """Tell which standards that move prices differ between two houses, a sentence each.

    Parameters
    ----------
    before, after : dict
        Houses as documents.
    blanks : collection of str
        Those that the quote uses: others, and other suppliers, do not move its price. Who the
        shop is, the units it reads and the colours on its shelf never do.

    >>> standards_changed({"price": {"margin": "0.35"}}, {"price": {"margin": "0.4"}})
    ['Pricing, margin: 0.35 became 0.4.']
    >>> standards_changed({}, {"price": {"currency": "GBP"}})
    []
    """
    old, new = _flat(before), _flat(after)
    kept = [house.get("blanks", {}).get(blank, {}) for house in (before, after) for blank in blanks]
    used = {
        "blanks": set(blanks),
        "suppliers": {str(row["supplier"]) for row in kept if "supplier" in row},
        "shop": set(), "thread_shelf": set(),
    }  # fmt: skip

    def moves(key: str) -> bool:
        section, row, *_ = key.split(".")
        if key == "price.currency" and key not in old:
            return False  # from before a shop had one: each job said its own
        return section not in used or row in used[section]

    return [
        f"{_standard_name(key, after, before)}: {_shown(old.get(key))} became "
        f"{_shown(new.get(key))}."
        for key in dict.fromkeys([*old, *new])
        if old.get(key) != new.get(key) and moves(key)
    ]


def changes_between(
    job: dict[str, Any],
    estimate: dict[str, Any],
    head: dict[str, str],
    new_job: dict[str, Any],
    new_estimate: dict[str, Any],
    new_head: dict[str, str],
    *,
    costs: bool = True,
) -> list[str]:
    """Tell what changed from one version to the next, the price first.

    Parameters
    ----------
    job, estimate, head and the same, new
        Plain documents as they were sent.
    costs : bool
        False leaves out what tells a cost, a margin or the shop's own standards.

    Returns
    -------
    list of str
        A sentence each; empty when nothing did.
    """
    found = []
    old_lines, new_lines = estimate["lines"], new_estimate["lines"]
    several = max(len(old_lines), len(new_lines)) > 1
    for n, (old_line, new_line) in enumerate(zip(old_lines, new_lines, strict=False), 1):
        for key, name in (("unit", "A piece"), ("line", "The line")):
            before, after = old_line["price"][key], new_line["price"][key]
            if before != after:
                label = f"Line {n}, {name.lower()}" if several else name
                found.append(f"{label}: {before} became {after}.")
    if len(old_lines) != len(new_lines):
        found.append(f"Lines: {len(old_lines)} became {len(new_lines)}.")
    before, after = estimate["total"]["to_pay"], new_estimate["total"]["to_pay"]
    if before != after:
        found.append(f"To pay: {before} became {after}.")
    for key, name in _HEAD.items():
        if head.get(key, "") != new_head.get(key, ""):
            found.append(f"{name}: {_shown(head.get(key))} became {_shown(new_head.get(key))}.")
    old_flat, new_flat = _flat(job), _flat(new_job)
    for path in dict.fromkeys([*old_flat, *new_flat]):
        was, now = old_flat.get(path), new_flat.get(path)
        if not costs and (_TELLS_COSTS & set(path.split(".")) or path.startswith("house.")):
            continue
        if was != now:
            found.append(f"{_name(path)}: {_shown(was)} became {_shown(now)}.")
    told = {path.rsplit(".", 1)[-1] for path in {*old_flat, *new_flat}}
    old_methods, new_methods = _methods(old_lines), _methods(new_lines)
    for where, value in new_methods.items():
        was, key = old_methods.get(where), where[2]
        if was is not None and was != value and key not in told:
            tag = f"Line {where[0] + 1}, place {where[1] + 1}, " if several or where[1] else ""
            name = _name(key)
            found.append(f"{tag}{name.lower() if tag else name}: {was} became {value}.")
    return found


def _methods(lines: list[dict[str, Any]]) -> dict[tuple[int, int, str], str]:
    """Every settled method: (line, placement, key) to its value."""
    return {
        (n, m["placement"], m["key"]): m["value"]
        for n, line in enumerate(lines)
        for m in line["methods"]
    }
