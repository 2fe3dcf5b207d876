"""Reading a house: a patch over the defaults, every value in its range, no id to nothing."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Mapping
from functools import lru_cache
from typing import Any

from pydantic import ValidationError

from clothyard.core.checking import bad_input_from
from clothyard.core.errors import BadInput, SeveralBadInputs, unknown_id
from clothyard.core.house.document import ANY, COLOUR, House
from clothyard.core.house.price_steps import read_sizes, read_steps
from clothyard.core.house.week_text import READERS
from clothyard.core.standards import (
    Standard,
    all_standards,
    default_tree,
    later_columns,
    table_columns,
)
from clothyard.core.units import known_currencies, read_decimal


def merge_patch(target: Any, patch: Any) -> Any:
    """Apply a JSON merge patch (RFC 7396); neither input is changed.

    Parameters
    ----------
    target : Any
        A JSON value.
    patch : Any
        What is laid over it; null takes out.

    Returns
    -------
    Any
    """
    if not isinstance(patch, Mapping):
        return patch
    merged = dict(target) if isinstance(target, Mapping) else {}
    for key, value in patch.items():
        if value is None:
            merged.pop(key, None)
        else:
            merged[key] = merge_patch(merged.get(key), value)
    return merged


def row_meta(key: str) -> Standard | None:
    """Find what is known of a key; a row the shop added borrows its table's column."""
    known = all_standards()
    if key in known:
        return known[key]
    parts = key.split(".")
    return table_columns(parts[0]).get(parts[2]) if len(parts) == 3 else None


_READ_MAP = {"price steps": read_steps, "size sums": read_sizes}
"""Units whose values are maps, and what reads them."""


def _refused(message: str, where: str, remedy: str = "", code: str = "out-of-range") -> BadInput:
    return BadInput(message, where=where, remedy=remedy, code=code)


def _check_yes_no(_: Standard, value: Any, where: str) -> None:
    if not isinstance(value, bool):
        raise _refused("must be yes or no.", where)


def _check_colour(_: Standard, value: Any, where: str) -> None:
    if not isinstance(value, str) or not re.fullmatch(COLOUR, value):
        said = f"{str(value)[:40]!r} is no colour."
        raise _refused(said, where, "Write it as #1d3b6f.", "not-a-colour")


def _check_map(meta: Standard, value: Any, where: str) -> None:
    try:
        _READ_MAP[meta.unit](value)
    except ValueError as error:
        raise _refused(f"{error}.", where, "Write each with its price.", "not-a-price") from None


def _check_currency(_: Standard, value: Any, where: str) -> None:
    if not isinstance(value, str) or value not in known_currencies():
        raise unknown_id(str(value), known_currencies(), where=where, what="currency")


def _check_text(meta: Standard, value: Any, where: str) -> None:
    if not isinstance(value, str) or not value.strip() or len(value) > MAX_TEXT:
        raise _refused("must be some text.", where)
    if meta.choices and value not in meta.choices:
        raise unknown_id(value, meta.choices, where=where, what="choice")


_ADDRESS = re.compile(r"https?://[A-Za-z0-9.-]+(:\d{1,5})?/?")


def _check_address(_: Standard, value: Any, where: str) -> None:
    if value != "-" and not (isinstance(value, str) and _ADDRESS.fullmatch(value)):
        raise _refused(
            "must be an address, or a dash for none.", where, "Write it like https://shop.example."
        )


def _check_number(meta: Standard, value: Any, where: str) -> None:
    try:
        amount = read_decimal(value)
    except ValueError as error:
        raise _refused(f"{error}, not {str(value)[:40]!r}.", where, code="not-a-number") from None
    too_low = meta.low is not None and amount < meta.low
    too_high = meta.high is not None and amount > meta.high
    if too_low or too_high or (meta.whole and amount != int(amount)):
        kind = "a whole number" if meta.whole else "a number"
        unit = meta.unit
        if unit == "share" and meta.low is not None and meta.high is not None:
            unit = f"{meta.low * 100:g} to {meta.high * 100:g} %"
        remedy = f"Enter {kind} from {meta.low} to {meta.high} ({unit})."
        raise _refused(f"{value} is out of range.", where, remedy)


def _check_numbers(meta: Standard, value: Any, where: str) -> None:
    for number in value if isinstance(value, list | tuple) else [value]:
        _check_number(meta, number, where)


def _check_typed(meta: Standard, value: Any, where: str) -> None:
    read, remedy = READERS[meta.unit]
    if not isinstance(value, str) or len(value) > MAX_DATES:
        raise _refused("must be some text.", where, remedy)
    try:
        read(value)
    except ValueError as error:
        raise _refused(f"{error}.", where, remedy, f"not-{meta.unit.replace(' ', '-')}") from None


MAX_TEXT = 500
MAX_DATES = 5000
_CHECKS: dict[str, Callable[[Standard, Any, str], None]] = (
    {
        "yes/no": _check_yes_no,
        "colour": _check_colour,
        "currency": _check_currency,
        "address": _check_address,
        "text": _check_text,
        "id": _check_text,
        "choice": _check_text,
    }
    | dict.fromkeys(_READ_MAP, _check_map)
    | dict.fromkeys(READERS, _check_typed)
)
"""What a value is checked by, by its unit; any other unit is of numbers."""


def check_value(key: str, value: Any, *, where: str) -> None:
    """Refuse a standard's value that is of the wrong sort or out of its range.

    Parameters
    ----------
    key : str
        Its dotted place in the house.
    value
        As it came: text, number, yes/no, a list of quantities, a map of prices.
    where : str
        How to name its place in errors.

    Raises
    ------
    BadInput
        Names the place and the range.
    """
    meta = row_meta(key)
    if meta is None:
        raise unknown_id(key, all_standards(), where=where, what="standard")
    _CHECKS.get(meta.unit, _check_numbers)(meta, value, where)


def _check_patch(patch: Mapping[str, Any], prefix: str, where: str) -> None:
    for name, value in patch.items():
        key = f"{prefix}{name}"
        if value is None:
            continue
        meta = row_meta(key) if isinstance(value, Mapping) else None
        if meta and meta.unit in _READ_MAP:
            kept = {name: part for name, part in value.items() if part is not None}
            if kept:
                check_value(key, kept, where=f"{where}.{key}")
        elif isinstance(value, Mapping):
            _check_patch(value, f"{key}.", where)
        elif key != "format":
            check_value(key, value, where=f"{where}.{key}")


_POINTERS = (
    ("goods", "backing", ("backings",)),
    ("goods", "topping", ("toppings",)),
    ("goods", "needle", ("needles",)),
    ("goods", "position", ("positions",)),
    ("machines", "bobbin", ("bobbins",)),
    ("thread_shelf", "thread", ("threads",)),
    ("hoops", "machine", ("machines",)),
    ("rolls", "material", ("backings", "toppings", "sheet_goods")),
    ("sheets", "material", ("backings", "toppings", "sheet_goods")),
    ("place_sizes", "position", ("positions",)),
    ("rooms", "position", ("positions",)),
    ("blanks", "goods", ("goods",)),
    ("blanks", "supplier", ("suppliers",)),
)


def _check_pointers(house: House, where: str) -> None:
    """Refuse ids that point to nothing, and a shop with nothing to sew on."""
    for section, column, tables in _POINTERS:
        known = {"none"} if column in {"backing", "topping"} else set()
        known |= {ANY} if section == "hoops" else set()
        for table in tables:
            known |= set(getattr(house, table))
        for row_id, row in getattr(house, section).items():
            value = getattr(row, column)
            if value not in known:
                raise unknown_id(
                    value, known, where=f"{where}.{section}.{row_id}.{column}", what="id"
                )
    for section in ("machines", "putups", "goods", "speed_profile", "stitch_rates", "people"):
        if not getattr(house, section):
            raise BadInput(
                f"the shop has no {section}.",
                where=f"{where}.{section}",
                remedy="Add one.",
                code="house-incomplete",
            )
    for section in ("machines", "hoops"):
        rows = getattr(house, section)
        if rows and not any(row.owned for row in rows.values()):
            raise BadInput(
                f"the shop owns none of its {section}.",
                where=f"{where}.{section}",
                remedy="Leave one.",
                code="house-incomplete",
            )
    missing = default_tree()["tasks"].keys() - house.tasks.keys()
    if missing:
        raise BadInput(
            f"the task {sorted(missing)[0]!r} is missing.",
            where=f"{where}.tasks",
            remedy="Set its seconds to 0 instead of removing it.",
            code="house-incomplete",
        )


def build_house(
    patch: Mapping[str, Any] | None = None, *, on: House | None = None, where: str = "house"
) -> House:
    """Lay a merge patch over a house.

    Parameters
    ----------
    patch : mapping, optional
        RFC 7396, on the clothyard-house/1 document. Ids are kept as they are.
    on : House, optional
        What it is laid over; the default standards when left out.
    where : str
        How to name the patch in errors.

    Raises
    ------
    BadInput
        If a key is unknown, a value out of range, or an id points to nothing.
    """
    if not patch:
        return on or default_house()
    _check_patch(patch, "", where)
    try:
        tree = default_tree() if on is None or on is default_house() else house_json(on)
        house = House.model_validate(merge_patch(tree, _own_rows_whole(patch, tree)))
    except ValidationError as error:
        raise SeveralBadInputs(bad_input_from(error, where=where, model=House)) from None
    _check_pointers(house, where)
    return house


@lru_cache(maxsize=1)
def default_house() -> House:
    """Return the house of a shop that has changed nothing."""
    house = House.model_validate(default_tree())
    _check_pointers(house, "house")
    return house


def usual_row(section: str) -> dict[str, Any]:
    """Return what a new row of a table is, but for its name: column to default."""
    return {column: standard.value for column, standard in table_columns(section).items()}


def _own_rows_whole(document: Mapping[str, Any], tree: Mapping[str, Any]) -> dict[str, Any]:
    """Fill the rows that a document adds to a tree with the columns that came after its release."""
    whole = dict(document)
    for section, rows in document.items():
        later, there = later_columns(section), tree.get(section)
        if not later or not isinstance(rows, Mapping) or not isinstance(there, Mapping):
            continue
        whole[section] = {
            key: {**later, **row} if key not in there and isinstance(row, Mapping) else row
            for key, row in rows.items()
        }
    return whole


def kept_house(document: Mapping[str, Any]) -> House:
    """Read a house that was kept with a quote; keys that came after it take today's default.

    Parameters
    ----------
    document : mapping
        A clothyard-house/1 document of any release.
    """
    today = house_json(default_house())
    return House.model_validate(merge_patch(today, _own_rows_whole(document, today)))


def house_json(house: House) -> dict[str, Any]:
    """Write a house as a plain document."""
    document: dict[str, Any] = json.loads(house.model_dump_json())
    return document
