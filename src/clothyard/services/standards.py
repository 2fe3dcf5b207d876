"""Standards: every default, what the shop has made of it, and the house that results."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from pydantic import BaseModel

from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house import House, build_house, check_value, house_json
from clothyard.core.standards import Standard, all_standards
from clothyard.core.units import read_decimal
from clothyard.store.blobs import content_hash
from clothyard.store.shop import Shop


class StandardView(BaseModel):
    """A standard as shown: the default, the shop's own value, unit, range, basis, reason."""

    key: str
    topic: str
    of: str
    name: str
    default: Any
    value: Any
    changed: bool
    unit: str
    low: str | None
    high: str | None
    choices: list[str]
    basis: str
    reason: str


def _plain(value: Any, unit: str) -> Any:
    """Write a standard's value as it is kept and shown: numbers as decimal text."""
    if unit in {"text", "id", "choice", "yes/no"}:
        return value
    if unit == "quantities":
        if isinstance(value, str):
            value = [part for part in value.replace(",", " ").split() if part]
        if not isinstance(value, list | tuple):
            raise BadInput(
                "must be a list of quantities.", where="value", remedy="Enter such as 1, 6, 12."
            )
        return [_plain(part, "pieces") for part in value]
    try:
        number = format(read_decimal(value), "f")
    except ValueError as error:
        raise BadInput(
            f"{error}.", where="value", remedy="Enter digits.", code="not-a-number"
        ) from None
    return number.rstrip("0").rstrip(".") if "." in number else number


def _choices(standard: Standard, house: House) -> list[str]:
    if standard.choices:
        return list(standard.choices)
    if not standard.id_of:
        return []
    ids = [i for table in standard.id_of.split(" or ") for i in getattr(house, table)]
    return [*ids, "none"] if standard.id_of in {"backings", "toppings"} else ids


def _view(standard: Standard, changed: dict[str, Any], house: House) -> StandardView:
    default = _plain(standard.value, standard.unit)
    return StandardView(
        key=standard.key,
        topic=standard.topic,
        of=standard.of,
        name=standard.key.rsplit(".", 1)[-1].replace("_", " "),
        default=default,
        value=changed.get(standard.key, default),
        changed=standard.key in changed,
        unit=standard.unit,
        low=None if standard.low is None else str(standard.low),
        high=None if standard.high is None else str(standard.high),
        choices=_choices(standard, house),
        basis=standard.basis,
        reason=standard.reason,
    )


def _patch(changed: dict[str, Any]) -> dict[str, Any]:
    patch: dict[str, Any] = {}
    for key, value in changed.items():
        *path, last = key.split(".")
        place = patch
        for part in path:
            place = place.setdefault(part, {})
        place[last] = value
    return patch


def _changed(shop: Shop) -> dict[str, Any]:
    """The shop's changes, those of standards that there no longer are left out."""
    known = all_standards()
    return {key: value for key, value in shop.changed_standards().items() if key in known}


@lru_cache(maxsize=16)
def _house_of(text: str) -> House:
    return build_house(_patch(json.loads(text)), where="standards")


@lru_cache(maxsize=16)
def _house_text_of(text: str) -> tuple[str, str]:
    document = json.dumps(house_json(_house_of(text)), sort_keys=True)
    return content_hash(document.encode()), document


def house_document(shop: Shop) -> tuple[str, str]:
    """Return the house as JSON and its hash: (sha256, text)."""
    return _house_text_of(json.dumps(_changed(shop), sort_keys=True))


def shop_house(shop: Shop) -> House:
    """Return the house: the defaults with the shop's changes laid over them."""
    return _house_of(json.dumps(_changed(shop), sort_keys=True))


def list_standards(shop: Shop) -> list[StandardView]:
    """List every standard in the order of the page."""
    changed, house = _changed(shop), shop_house(shop)
    return [_view(standard, changed, house) for standard in all_standards().values()]


def _known(key: str) -> Standard:
    if key not in all_standards():
        raise unknown_id(key, all_standards(), where="key", what="standard")
    return all_standards()[key]


def change_standard(shop: Shop, key: str, value: Any) -> StandardView:
    """Change a default, checked against its range and against the rest of the house.

    Raises
    ------
    BadInput
        If the key is unknown, or the value out of range; nothing is kept then.
    """
    standard = _known(key)
    value = _plain(value, standard.unit)
    check_value(key, value, where=key)
    changed = _changed(shop) | {key: value}
    build_house(_patch(changed), where="standards")
    if value == _plain(standard.value, standard.unit):
        shop.reset_standards([key])
        changed.pop(key)
    else:
        shop.change_standard(key, value)
    return _view(standard, changed, shop_house(shop))


def reset_standard(shop: Shop, key: str) -> StandardView:
    """Go back to a default."""
    standard = _known(key)
    shop.reset_standards([key])
    return _view(standard, _changed(shop), shop_house(shop))


def reset_all(shop: Shop) -> int:
    """Go back to every default; returns how many were changed."""
    changed = list(_changed(shop))
    shop.reset_standards(changed)
    return len(changed)
