"""Standards: every default, what the shop has made of it, and the house that results."""

from __future__ import annotations

import json
import re
import unicodedata
from collections.abc import Iterable, Mapping
from dataclasses import replace
from functools import lru_cache
from typing import Any

from babel import Locale
from pydantic import BaseModel, Field

from clothyard.core.errors import BadInput, ClothyardError, Conflict, unknown_id
from clothyard.core.house.check import build_house, check_value, house_json, row_meta, usual_row
from clothyard.core.house.document import OWN_DRAWING, House
from clothyard.core.house.price_steps import read_sizes, read_steps, write_sizes, write_steps
from clothyard.core.house.week_text import READERS
from clothyard.core.plain import check_plain
from clothyard.core.record import record
from clothyard.core.standards import Standard, all_standards, default_tree, table_columns
from clothyard.core.units import current_currencies, read_share, read_typed
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.store.blobs import content_hash
from clothyard.store.settings import read_setting
from clothyard.store.shop import Shop
from clothyard.store.standards import change_rows, change_standards, read_changes, reset_standards
from clothyard.store.stock import free_thread
from clothyard.store.unit import Reads, Unit

ADDABLE = (
    "goods",
    "machines",
    "hoops",
    "threads",
    "thread_shelf",
    "putups",
    "bobbins",
    "backings",
    "rolls",
    "sheet_goods",
    "sheets",
    "hardware",
    "suppliers",
    "blanks",
)
"""Tables that a shop adds rows of its own to."""

MOST_ROWS = {"blanks": 400}
"""Rows that a table may have, 60 unless said."""


class NewRow(BaseModel):
    """A row to add under its own name: like another one of its table, but for some values."""

    section: str = Field(max_length=40)
    like: str = Field(default="", max_length=80)
    label: str = Field(min_length=1, max_length=80)
    values: dict[str, Any] = Field(default_factory=dict, max_length=30)


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
    choice_names: list[str]
    basis: str
    reason: str
    added: bool = False
    set_aside: str = ""
    """Why the shop's own value cannot be used: the default is, until it is changed or reset."""


_MAPS: dict[str, Any] = {
    "price steps": (read_steps, write_steps),
    "size sums": (read_sizes, write_sizes),
}
"""Units whose values are maps; kept and shown as the text that they are typed as."""


def _plain(value: Any, unit: str, currency: str = "") -> Any:
    """Write a standard's value as it is kept and shown: numbers as decimal text.

    Numbers are read as people write them; the currency's sign may stand at a price.
    """
    if unit in {"text", "address", "id", "choice", "yes/no", "colour", "currency", *READERS}:
        return value
    if unit == "quantities":
        if isinstance(value, str):
            value = [part for part in value.replace(",", " ").split() if part]
        if not isinstance(value, list | tuple):
            raise BadInput(
                "must be a list of quantities.", where="value", remedy="Enter such as 1, 6, 12."
            )
        return [_plain(part, "pieces") for part in value]
    if unit in _MAPS:
        read, write = _MAPS[unit]
        try:
            return write(read(value, currency=currency))
        except ValueError as error:
            raise BadInput(
                f"{error}.", where="value", remedy="Nothing was changed.", code="not-a-price"
            ) from None
    try:
        read = read_share(value) if unit == "share" else read_typed(value, currency=currency)
        number = format(read, "f")
    except ValueError as error:
        raise BadInput(
            f"{error}.", where="value", remedy="Enter digits.", code="not-a-number"
        ) from None
    number = number.rstrip("0").rstrip(".") if "." in number else number
    return f"{number}0" if unit.startswith("money") and re.search(r"\.\d$", number) else number


def _choices(standard: Standard, house: House) -> list[tuple[str, str]]:
    """List what may be chosen: (value, as the shop calls it)."""
    if standard.unit == "yes/no":
        return [("true", "yes"), ("false", "no")]
    if standard.unit == "currency":
        return current_currencies()
    if standard.key == "shop.locale":
        return [
            (key, Locale.parse(key, sep="-").get_display_name("en") or key)
            for key in standard.choices
        ]
    if standard.choices:
        return [(choice, choice.replace("-", " ")) for choice in standard.choices]
    if not standard.id_of:
        return []
    rows = [row for table in standard.id_of.split(" or ") for row in getattr(house, table).items()]
    named = [(key, str(row.label)) for key, row in rows]
    return [*named, ("none", "none")] if standard.id_of in {"backings", "toppings"} else named


def _view(standard: Standard, changed: dict[str, Any], house: House) -> StandardView:
    default = _plain(standard.value, standard.unit)
    choices = _choices(standard, house)
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
        choices=[key for key, _ in choices],
        choice_names=[name for _, name in choices],
        basis=standard.basis,
        reason=standard.reason,
        added=standard.key not in all_standards(),
    )


def _patch(changed: dict[str, Any]) -> dict[str, Any]:
    patch: dict[str, Any] = {}
    for key, value in changed.items():
        *path, last = key.split(".")
        place = patch
        for part in path:
            place = place.setdefault(part, {})
        place[last] = value
    for section, row in _added(changed):
        # columns that came after the row was added have the table's default
        patch[section][row] = usual_row(section) | patch[section][row]
    return patch


def _added(changed: dict[str, Any]) -> list[tuple[str, str]]:
    """List the rows that the shop added: (section, id)."""
    tree = default_tree()
    rows = dict.fromkeys(tuple(key.split(".")[:2]) for key in changed if key.count(".") == 2)
    return [(s, row) for s, row in rows if s in ADDABLE and row not in tree[s]]


def _is_added(key: str) -> bool:
    section, *rest = key.split(".")
    return (
        section in ADDABLE
        and len(rest) == 2
        and key not in all_standards()
        and rest[0] not in default_tree()[section]
        and row_meta(key) is not None
    )


@lru_cache(maxsize=16)
def _known_of(rows: tuple[tuple[str, str], ...]) -> dict[str, Any]:
    """Changes as they are kept, read once; those of standards that there no longer are left out."""
    known = all_standards()
    kept = read_changes(rows).items()
    return {key: value for key, value in kept if key in known or _is_added(key)}


@lru_cache(maxsize=16)
def _usable_of(rows: tuple[tuple[str, str], ...]) -> dict[str, Any]:
    kept = _known_of(rows)
    aside = _aside(json.dumps(kept, sort_keys=True))
    return {key: value for key, value in kept.items() if key not in aside} if aside else kept


def _kept(shop: Reads) -> dict[str, Any]:
    """The shop's changes, those of standards that there no longer are left out."""
    return dict(_known_of(change_rows(shop)))


def _changed(shop: Reads) -> dict[str, Any]:
    """The shop's changes that can be used: one that cannot never shuts the shop."""
    return dict(_usable_of(change_rows(shop)))


def set_aside(shop: Reads, kept: dict[str, Any] | None = None) -> Mapping[str, str]:
    """Say which of the shop's changes cannot be used, and why: dotted key to words.

    They are as if they were not there until they are changed or reset.
    """
    return _aside(json.dumps(_kept(shop) if kept is None else kept, sort_keys=True))


def _why_not(changed: dict[str, Any]) -> str:
    """Say why a house cannot be made of some changes; "" when it can."""
    try:
        for key, value in changed.items():
            check_value(key, value, where=key)
        build_house(_patch(changed), where="standards")
    except ClothyardError as error:
        return error.message
    except (ValueError, TypeError, KeyError, AttributeError, ArithmeticError, LookupError):
        return "cannot be read."
    return ""


@lru_cache(maxsize=16)
def _aside(text: str) -> Mapping[str, str]:
    kept: dict[str, Any] = json.loads(text)
    if not _why_not(kept):
        return {}
    added = {f"{section}.{row}" for section, row in _added(kept)}
    groups: dict[str, dict[str, Any]] = {}
    for key, value in kept.items():  # a row of the shop's own stands or falls whole
        row = key.rpartition(".")[0]
        groups.setdefault(row if row in added else key, {})[key] = value
    used: dict[str, Any] = {}
    left, before = list(groups), 0
    while len(left) != before:  # what points to another row is tried again once that is there
        before, reasons = len(left), dict.fromkeys(left, "")
        for group in left:
            reasons[group] = _why_not(used | groups[group])
            if not reasons[group]:
                used |= groups[group]
        left = [group for group in left if reasons[group]]
    return {key: reasons[group] for group in left for key in groups[group]}


LEARNT = "learnt"
"""The setting that says which standards the log has taught: key to (value, words)."""


def _learnt(shop: Reads, changed: Mapping[str, Any]) -> dict[str, str]:
    """Say which of the shop's changes the log has taught, in words; not those typed over."""
    kept = read_setting(shop, LEARNT)
    if not isinstance(kept, dict):
        return {}
    return {
        key: str(row["said"])
        for key, row in kept.items()
        if str(changed.get(key, "")) == str(row["value"])
    }


@lru_cache(maxsize=16)
def _house_of(text: str) -> House:
    changed, learnt = json.loads(text)
    house = build_house(_patch(changed), where="standards")
    return house.model_copy(update={"learnt": learnt}) if learnt else house


def _changes_text(shop: Reads) -> str:
    changed = _changed(shop)
    return json.dumps([changed, _learnt(shop, changed)], sort_keys=True)


@lru_cache(maxsize=16)
def _house_text_of(text: str) -> tuple[str, str]:
    document = json.dumps(house_json(_house_of(text)), sort_keys=True)
    return content_hash(document.encode()), document


@record
class HouseNow:
    """A shop's house as it is at one moment: read once a request and passed down.

    `text` is its document, `sha256` the hash of that.
    """

    house: House
    sha256: str
    text: str


def house_now(shop: Reads) -> HouseNow:
    """Read the house: the defaults with the shop's changes laid over them."""
    changed = _changes_text(shop)
    house = _house_of(changed)
    if house.thread_use.charge != "bought":
        return HouseNow(house, *_house_text_of(changed))
    house = _with_shelf(shop, house)
    document = json.dumps(house_json(house), sort_keys=True)
    return HouseNow(house, content_hash(document.encode()), document)


def _with_shelf(shop: Reads, house: House) -> House:
    """Lay what lies free on the shelf into a house that charges what must be bought."""
    return house.model_copy(update={"on_hand": free_thread(shop)})


def shop_house(shop: Reads) -> House:
    """Read the house, where its document is not asked for."""
    house = _house_of(_changes_text(shop))
    return _with_shelf(shop, house) if house.thread_use.charge == "bought" else house


class StandardsPage(BaseModel):
    """A page of the standards."""

    items: list[StandardView]
    total: int
    next: str | None


def page_standards(shop: Shop, *, cursor: str = "", limit: int = 500) -> StandardsPage:
    """List standards, a page at a time, in the order of the page."""
    found = _views_of(shop, json.dumps(_kept(shop), sort_keys=True))
    offset = int(cursor) if cursor.isdigit() else 0
    after = min(offset + limit, len(found))
    return StandardsPage(
        items=found[offset:after], total=len(found), next=str(after) if after < len(found) else None
    )


def standards_sheet(
    shop: Shop, kind: SheetKind, *, search: str = "", topic: str = "", changed: bool = False
) -> bytes:
    """Write standards as a table: those with all words of `search`, of a topic, changed here."""
    words = search.lower().split()
    rows = []
    for view in list_standards(shop):
        text = " ".join((view.key, view.topic, view.of, view.name, view.reason)).lower()
        fits = topic in {"", view.topic} and ((view.changed and not view.added) or not changed)
        if fits and all(word in text for word in words):
            rows.append(
                [
                    view.topic,
                    view.of,
                    view.name.replace("_", " "),
                    _told(view.value),
                    view.unit,
                    _told(view.default),
                    "yes" if view.changed else "",
                    view.basis,
                    view.reason,
                    view.key,
                ]
            )
    heads = ["Topic", "Of", "Name", "Value", "Unit", "Default", "Changed", "Basis", "Reason", "Key"]
    return write_sheet(heads, rows, kind=kind, title="Standards")


def _told(value: object) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return ", ".join(str(each) for each in value)
    return "" if value is None else str(value)


@lru_cache(maxsize=4)
def _views_of(shop: Shop, _changes: str) -> list[StandardView]:
    """The views as of some changes: pages of one listing are cut from one."""
    return list_standards(shop)


def standards_of(shop: Shop, keys: Iterable[str]) -> list[StandardView]:
    """View some standards by their keys, in that order; those that there are none of left out."""
    changed, house = _changed(shop), shop_house(shop)
    known = all_standards()
    return [
        _view(known.get(key) or _known(key, changed), changed, house)
        for key in keys
        if key in known or _is_added(key)
    ]


def list_standards(shop: Shop) -> list[StandardView]:
    """List every standard in the order of the page."""
    changed, house = _changed(shop), shop_house(shop)
    found = [_view(standard, changed, house) for standard in all_standards().values()]
    for section, row in _added(changed):
        for column in table_columns(section):
            found.append(_view(_known(f"{section}.{row}.{column}", changed), changed, house))
    return _with_aside(shop, found, house)


def _as_text(value: Any) -> Any:
    return value if isinstance(value, str | int | float) else json.dumps(value)


def _with_aside(shop: Shop, views: list[StandardView], house: House) -> list[StandardView]:
    """Tell which of the shop's changes cannot be used; the rows of its own among them, too."""
    kept = _kept(shop)
    aside = set_aside(shop, kept)
    if not aside:
        return views
    told = [
        view.model_copy(
            update={
                "value": _as_text(kept[view.key]),
                "changed": True,
                "set_aside": aside[view.key],
            }
        )
        if view.key in aside
        else view
        for view in views
    ]
    there = {view.key for view in views}
    for key in aside:
        if key not in there:
            view = _view(_known(key, kept), {}, house)
            told.append(
                view.model_copy(update={"value": _as_text(kept[key]), "set_aside": aside[key]})
            )
    return told


def _known(key: str, changed: dict[str, Any]) -> Standard:
    """Find a standard, or the column of a row that the shop added."""
    if key in all_standards():
        return all_standards()[key]
    section, row, *_ = [*key.split("."), "", ""]
    meta = row_meta(key) if (section, row) in _added(changed) else None
    if meta is None:
        raise unknown_id(key, all_standards(), where="key", what="standard")
    column = key.rsplit(".", 1)[-1]
    return replace(
        meta,
        key=key,
        of=str(changed.get(f"{section}.{row}.label", row)),
        value=changed.get(key, usual_row(section)[column]),
        basis="typed",
    )


@record
class Change:
    """What a change of the shop's standards writes: values kept, keys that go back to defaults.

    `changed` is everything that the shop has changed, with this.
    """

    sets: dict[str, Any]
    resets: tuple[str, ...]
    changed: dict[str, Any]

    def write(self, unit: Unit) -> None:
        """Keep it."""
        change_standards(unit, self.sets)
        reset_standards(unit, self.resets)


def changing(shop: Reads, values: Mapping[str, Any]) -> Change:
    """Work out a change of defaults, checked against ranges and against the rest of the house.

    Parameters
    ----------
    shop : Shop
    values : mapping
        Dotted key to what was typed; None goes back to the default.

    Raises
    ------
    BadInput
        If a key is unknown, or a value out of range.
    """
    check_plain(dict(values))
    before = _changed(shop)
    currency = shop_house(shop).price.currency
    sets: dict[str, Any] = {}
    resets = []
    for key, typed in values.items():
        standard = _known(key, before)
        if typed is None:
            resets.append(key)
            continue
        value = _plain(typed, standard.unit, currency)
        check_value(key, value, where=key)
        if not _is_added(key) and value == _plain(standard.value, standard.unit):
            resets.append(key)
        else:
            sets[key] = value
    changed = {k: v for k, v in (before | sets).items() if k not in resets}
    build_house(_patch(changed), where="standards")
    return Change(sets, tuple(resets), changed)


def taking(shop: Reads, values: Mapping[str, Any], *, rows_alone: bool = False) -> Change:
    """Work out taking another shop's changes over, its own rows too; what is changed here stays.

    Parameters
    ----------
    rows_alone : bool
        In a shop that has changes of its own take only rows that the other added.

    Raises
    ------
    BadInput
        If one is out of its range, or points to nothing; keys of other releases are left out.
    """
    check_plain(dict(values))
    before = _changed(shop)
    known, own = all_standards(), rows_alone and bool(before)
    sets = {
        key: value
        for key, value in values.items()
        if key not in before and ((key in known and not own) or _is_added(key))
    }
    for key, value in sets.items():
        check_value(key, value, where=key)
    changed = before | sets
    build_house(_patch(changed), where="standards")
    return Change(sets, (), changed)


def change_standard(shop: Shop, key: str, value: Any) -> StandardView:
    """Change a default, checked against its range and against the rest of the house.

    Raises
    ------
    BadInput
        If the key is unknown, or the value out of range; nothing is kept then.
    """
    change = changing(shop, {key: value})
    with shop.unit() as unit:
        change.write(unit)
    return _view(_known(key, change.changed), change.changed, shop_house(shop))


def reset_standard(shop: Shop, key: str) -> StandardView:
    """Go back to a default."""
    standard = _known(key, _changed(shop))
    if _is_added(key):
        raise Conflict(
            f"{standard.of} is the shop's own: it has no default.",
            where="key",
            remedy="Change it, or remove the row.",
            code="row-own",
        )
    with shop.unit() as unit:
        reset_standards(unit, [key])
    return _view(standard, _changed(shop), shop_house(shop))


def id_of(label: str, taken: set[str]) -> str:
    """Make an id of a row's name that no other row of its table has."""
    plain = unicodedata.normalize("NFKD", label).encode("ascii", "ignore").decode().lower()
    stem = re.sub(r"[^a-z0-9]+", "-", plain).strip("-") or "own"
    number = 2
    found = stem
    while found in taken:
        found, number = f"{stem}-{number}", number + 1
    return found


def add_row(shop: Shop, new: NewRow) -> list[StandardView]:
    """Add a row of the shop's own to a table, like another row of it.

    Raises
    ------
    BadInput
        If the table takes no rows, there is no such row to be like, or a value is none.
    """
    if new.section not in ADDABLE:
        raise unknown_id(new.section, ADDABLE, where="section", what="table")
    house = house_json(shop_house(shop))
    rows = house[new.section]
    if new.like and new.like not in rows:
        raise unknown_id(new.like, rows, where="like", what="row")
    columns = table_columns(new.section)
    for column in new.values:
        if column not in columns:
            raise unknown_id(column, columns, where=f"values.{column}", what="column")
    if len(rows) >= MOST_ROWS.get(new.section, 60):
        raise BadInput(
            f"the table has {len(rows)} rows.",
            where="section",
            remedy="Remove one first.",
            code="out-of-range",
        )
    label = new.label.strip()
    if not label:
        raise BadInput("the name is empty.", where="label", remedy="Type one.", code="no-name")
    row = (rows[new.like] if new.like else usual_row(new.section)) | new.values | {"label": label}
    if row.get("drawing") == OWN_DRAWING and new.like:
        row["drawing"] = new.like  # a copy is drawn as what it was copied from
    if "order" in row:
        row["order"] = max(int(r["order"]) for r in rows.values()) + 1
    row_id = id_of(label, set(rows))
    keys = {f"{new.section}.{row_id}.{column}": value for column, value in row.items()}
    changed = keep_values(shop, keys)
    house_now = shop_house(shop)
    return [_view(_known(key, changed), changed, house_now) for key in keys]


def keep_values(shop: Shop, values: Mapping[str, Any]) -> dict[str, Any]:
    """Keep values of rows of the shop's own, new ones too: all of them or none.

    Parameters
    ----------
    values : mapping
        "blanks.polo.prices" and others to what was typed; a new row has all its columns.

    Returns
    -------
    dict
        Everything that the shop has changed, these values with it.

    Raises
    ------
    BadInput
        If one is out of its range, or points to nothing.
    """
    check_plain(dict(values))
    currency = shop_house(shop).price.currency
    keys = {}
    for key, value in values.items():
        section, _, column = key.split(".")
        keys[key] = _plain(value, table_columns(section)[column].unit, currency)
        check_value(key, keys[key], where=key)
    changed = _changed(shop) | keys
    build_house(_patch(changed), where="standards")
    with shop.unit() as unit:
        change_standards(unit, keys)
    return changed


def remove_row(shop: Shop, section: str, row: str) -> int:
    """Remove a row that the shop added; returns how many values went.

    Raises
    ------
    BadInput
        If it is none of the shop's own, or something still points to it.
    """
    changed, kept = _changed(shop), _kept(shop)
    if (section, row) not in _added(kept):
        own = [f"{s}.{r}" for s, r in _added(kept)]
        raise unknown_id(f"{section}.{row}", own, where="row", what="own row")
    keys = [key for key in kept if key.startswith(f"{section}.{row}.")]
    rest = {key: value for key, value in changed.items() if key not in keys}
    build_house(_patch(rest), where="standards")
    with shop.unit() as unit:
        reset_standards(unit, keys)
    return len(keys)


def reset_all(shop: Shop) -> int:
    """Go back to every default; returns how many were changed. Rows of the shop's own stay."""
    changed = [key for key in _kept(shop) if not _is_added(key)]
    with shop.unit() as unit:
        reset_standards(unit, changed)
    return len(changed)
