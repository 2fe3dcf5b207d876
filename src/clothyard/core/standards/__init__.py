"""The shop's default standards, held as data beside this module, each with its reason."""

from __future__ import annotations

import tomllib
from decimal import Decimal
from functools import cache
from importlib.resources import files
from typing import Any

from clothyard.core.record import record

ORDER = (
    "rules",
    "goods",
    "backings",
    "toppings",
    "rolls",
    "hoops",
    "machines",
    "threads",
    "thread_shelf",
    "putups",
    "bobbins",
    "needles",
    "positions",
    "place_sizes",
    "rooms",
    "room_sizes",
    "sheet_goods",
    "sheets",
    "hardware",
    "suppliers",
    "blanks",
    "kinds",
    "speed_profile",
    "tasks",
    "stitch_rates",
    "rush",
    "schools",
    "people",
)


@record
class Standard:
    """One default and what is known of it.

    Attributes
    ----------
    key : str
        Dotted place in the house: "goods.pique-polo.thickness_mm".
    topic : str
        Heading it is listed under.
    of : str
        Which row it belongs to, in words; "" for a rule.
    value
        The default: text, number, yes/no, or a list of quantities.
    unit : str
        "mm", "share", "money/h", "choice", "id", "text", "yes/no", "currency" …
    low, high : Decimal or None
        What a shop may enter, both included.
    whole : bool
        Whole numbers only.
    choices : tuple of str
        For a choice.
    id_of : str
        For an id: which table it points to.
    basis : str
        derived, measured, trade default or guess.
    reason : str
    """

    key: str
    topic: str
    of: str
    value: Any
    unit: str
    low: Decimal | None
    high: Decimal | None
    whole: bool
    choices: tuple[str, ...]
    id_of: str
    basis: str
    reason: str


def _standard(key: str, topic: str, of: str, value: Any, meta: dict[str, Any]) -> Standard:
    def bound(name: str) -> Decimal | None:
        return Decimal(str(meta[name])) if name in meta else None

    return Standard(
        key=key,
        topic=topic,
        of=of,
        value=value,
        unit=meta["unit"],
        low=bound("low"),
        high=bound("high"),
        whole=bool(meta.get("whole", False)),
        choices=tuple(meta.get("choices", ())),
        id_of=meta.get("of", ""),
        basis=meta["basis"],
        reason=meta["reason"],
    )


def _read(name: str) -> dict[str, Any]:
    text = files(__package__).joinpath(f"{name}.toml").read_text(encoding="utf-8")
    return tomllib.loads(text, parse_float=Decimal)


def _table(data: dict[str, Any]) -> list[Standard]:
    section, columns = data["section"], data["columns"]
    found = []
    for row_id, row in data["rows"].items():
        cells = data.get("defaults", {}) | row
        for column, meta in columns.items():
            found.append(
                _standard(
                    f"{section}.{row_id}.{column}",
                    data["title"],
                    cells.get("label", row_id),
                    cells[column],
                    meta,
                )
            )
    return found


def _rules(data: dict[str, Any]) -> list[Standard]:
    return [
        _standard(f"{section}.{name}", rules["title"], "", meta["value"], meta)
        for section, rules in data.items()
        if isinstance(rules, dict)
        for name, meta in rules.items()
        if name != "title"
    ]


@cache
def all_standards() -> dict[str, Standard]:
    """Return every default by its dotted key, in the order of the standards page."""
    found: list[Standard] = []
    for name in ORDER:
        data = _read(name)
        found += _table(data) if "rows" in data else _rules(data)
    return {standard.key: standard for standard in found}


@cache
def table_columns(section: str) -> dict[str, Standard]:
    """Return a table's columns, each as the standard of a new row with the column's default.

    Parameters
    ----------
    section : str
        Such as "blanks"; {} for what is no table. A column's default is the table's own, else
        that of its first row.
    """
    if section not in ORDER or section == "rules":
        return {}
    data = _read(section)
    first = next(iter(data["rows"].values()), {}) | data.get("defaults", {})
    return {
        column: _standard(f"{section}.{column}", data["title"], "", first.get(column, ""), meta)
        for column, meta in data["columns"].items()
    }


@cache
def later_columns(section: str) -> dict[str, Any]:
    """Return a table's columns that came after the first release: column to default.

    Rows of documents that were written before have these values.
    """
    if section not in ORDER or section == "rules":
        return {}
    data = _read(section)
    return {
        column: data["defaults"][column]
        for column, meta in data["columns"].items()
        if "since" in meta
    }


@cache
def _default_tree() -> dict[str, Any]:
    tree: dict[str, Any] = {"format": "clothyard-house/1"}
    tree |= {name: {} for name in ORDER if name != "rules"}
    for key, standard in all_standards().items():
        *path, last = key.split(".")
        place = tree
        for part in path:
            place = place.setdefault(part, {})
        place[last] = standard.value
    return tree


def default_tree() -> dict[str, Any]:
    """Return the default house as a nested document; share it, do not change it."""
    return _default_tree()
