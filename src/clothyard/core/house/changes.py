"""What changed between two houses, in words."""

from __future__ import annotations

from collections.abc import Collection, Iterator, Mapping
from typing import Any

from clothyard.core.house.check import default_house, house_json, row_meta

NOT_PRICED_BY = {"shop", "thread_shelf", "on_hand", "papers", "buying", "week", "people"}
"""Who the shop is, the units it reads and the colours on its shelf move no price."""


def flat(value: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """List the leaves of a document with their dotted paths.

    Parameters
    ----------
    value : Any
        As it came, or as worked out.
    path : str, optional
        Where in the document.
    """
    if isinstance(value, Mapping):
        for key, item in value.items():
            yield from flat(item, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for i, item in enumerate(value):
            yield from flat(item, f"{path}[{i}]")
    else:
        yield path, value


def shown(value: Any) -> str:
    """Write a value as a change tells it; a content hash by its beginning."""
    if value in (None, "", [], {}):
        return "none"
    return f"{value[:12]}…" if isinstance(value, str) and len(value) == 64 else str(value)


def _name(key: str, *houses: Mapping[str, Any]) -> str:
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
        Those that the quote uses: others, and other suppliers, do not move its price.

    Returns
    -------
    list of str
        What a later release added and the shop has not changed is left out.

    >>> standards_changed({"price": {"margin": "0.35"}}, {"price": {"margin": "0.4"}})
    ['Pricing, margin: 0.35 became 0.4.']
    >>> standards_changed({}, {"price": {"currency": "GBP"}})
    []
    """
    old, new = dict(flat(before)), dict(flat(after))
    kept = [house.get("blanks", {}).get(blank, {}) for house in (before, after) for blank in blanks]
    used = {
        "blanks": set(blanks),
        "suppliers": {str(row["supplier"]) for row in kept if "supplier" in row},
    }
    usual = dict(flat(house_json(default_house())))

    def moves(key: str) -> bool:
        section, row, *_ = key.split(".")
        if key not in old and (key == "price.currency" or usual.get(key) == new[key]):
            return False
        return section not in NOT_PRICED_BY and (section not in used or row in used[section])

    return [
        f"{_name(key, after, before)}: {shown(old.get(key))} became {shown(new.get(key))}."
        for key in dict.fromkeys([*old, *new])
        if old.get(key) != new.get(key) and moves(key)
    ]
