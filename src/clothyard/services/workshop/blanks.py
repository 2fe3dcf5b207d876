"""Blanks: a supplier's price list is taken onto the shelf, and written out again."""

from __future__ import annotations

import re
from collections.abc import Sequence
from decimal import Decimal
from difflib import get_close_matches
from typing import Any

from pydantic import BaseModel, Field

from clothyard.core.errors import BadInput
from clothyard.core.house.check import check_value, house_json, usual_row
from clothyard.core.house.document import House
from clothyard.core.house.price_steps import read_sizes, read_steps, write_sizes, write_steps
from clothyard.core.units import read_amount
from clothyard.files.price_list import read_price_list, write_price_list
from clothyard.files.tables import TableRow
from clothyard.services.house.standards import MOST_ROWS, id_of, keep_values, shop_house
from clothyard.store.shop import Shop

_THOUSANDS = re.compile(r"\d{1,3}(?:\.\d{3})+")


def _amount(text: str, what: str, currency: str = "") -> Decimal:
    try:
        return read_amount(text, currency=currency)
    except ValueError:
        there = f" in {currency}" if currency else ""
        raise BadInput(
            f"{text[:20]!r} is no {what}{there}.", remedy="Enter digits, such as 25 or 6.40."
        ) from None


class PriceList(BaseModel):
    """A list as pasted; what can be read of it is taken when `keep` says so."""

    text: str = Field(max_length=500_000)
    keep: bool = False


class ListedBlank(BaseModel):
    """A blank that the list holds: new, or on the shelf already; its prices before and after."""

    line: int
    label: str
    id: str | None
    goods: str
    supplier: str
    prices: str
    was: str
    new_supplier: bool


class ListProblem(BaseModel):
    """A row that was not taken, and why."""

    line: int
    detail: str
    remedy: str


class ListRead(BaseModel):
    """What a list holds; `kept` says whether it is on the shelf now."""

    kept: bool
    blanks: list[ListedBlank]
    problems: list[ListProblem]


def _named(text: str, rows: dict[str, Any], *, what: str) -> str:
    """Find a row by its id or by what the shop calls it."""
    asked = text.strip().casefold()
    for key, row in rows.items():
        if asked in {key.casefold(), row.label.casefold()}:
            return key
    names = {row.label.casefold(): row.label for row in rows.values()}
    near = get_close_matches(asked, names, n=1, cutoff=0.5)
    raise BadInput(
        f"{text[:40]!r} is no {what}.",
        where=what,
        remedy=f"Did you mean {names[near[0]]}?" if near else f"Write the {what} as the shop does.",
        code="unknown-id",
    )


def _supplier(text: str, house: House) -> str | None:
    try:
        return _named(text, house.suppliers, what="supplier")
    except BadInput:
        return None


class _Reader:
    """Puts a list's rows together: those of one name are the price steps of one blank."""

    def __init__(self, house: House):
        self.house = house
        self.found: dict[str, tuple[TableRow, dict[str, Any]]] = {}
        self.problems: list[ListProblem] = []
        self.bad: set[str] = set()

    def read(self, row: TableRow) -> None:
        label = row.cells.get("label", "")
        name = label.casefold()
        try:
            if not label or len(label) > 80:
                raise BadInput("the row names no blank.", remedy="Name it, in 80 letters at most.")
            values = self._values(row)
            if name in self.found:
                self._more(self.found[name][1], values)
            else:
                self.found[name] = (row, values)
        except (BadInput, ValueError) as error:
            remedy = error.remedy if isinstance(error, BadInput) else "Mend the row."
            said = error.message if isinstance(error, BadInput) else f"{error}."
            self.refuse(row.line, said, remedy)
            self.bad.add(name)

    def refuse(self, line: int, detail: str, remedy: str) -> None:
        """Leave a line out, and say why."""
        self.problems.append(ListProblem(line=line, detail=detail, remedy=remedy))

    def _values(self, row: TableRow) -> dict[str, Any]:
        cells = {column: text for column, text in row.cells.items() if text}
        values: dict[str, Any] = {
            c: cells[c] for c in ("sizes", "colours", "supplier") if c in cells
        }
        currency = self.house.price.currency
        if "goods" in cells:
            values["goods"] = _named(cells["goods"], self.house.goods, what="class of goods")
        if "pack" in cells:
            values["pack"] = cells["pack"]
        for column in ("pack", "sizes", "colours"):
            if column in cells:
                check_value(f"blanks.one.{column}", cells[column], where=column)
        if "dearer" in cells:
            values["dearer"] = read_sizes(cells["dearer"], currency=currency)
        if "prices" in cells:
            values["prices"] = read_steps(cells["prices"], currency=currency)
        elif "each" in cells:
            each = _amount(cells["each"], "price", currency)
            first = cells.get("from", "1").removesuffix("+").strip()
            if _THOUSANDS.fullmatch(first):
                first = first.replace(".", "")  # pieces are whole: 1.200 is over a thousand
            first = f"{_amount(first, 'number of pieces'):f}"
            values["prices"] = read_steps({first: each})
        return values

    @staticmethod
    def _more(values: dict[str, Any], more: dict[str, Any]) -> None:
        steps, further = values.get("prices", {}), more.pop("prices", {})
        twice = steps.keys() & further.keys()
        if twice:
            raise BadInput(
                f"two prices hold from {min(twice, key=int)}.", remedy="Leave one of the rows out."
            )
        values.update(more)
        if further:
            values["prices"] = read_steps({**steps, **further})

    def blanks(self) -> list[tuple[ListedBlank, dict[str, Any]]]:
        """Say what becomes of each blank that has no row that was refused."""
        listed = []
        for name, (row, values) in self.found.items():
            if name in self.bad:
                continue
            label = row.cells["label"]
            known = next(
                (key for key, b in self.house.blanks.items() if b.label.casefold() == name), None
            )
            missing = next((c for c in ("goods", "prices") if c not in values), "")
            if known is None and missing:
                said = {"goods": "class of goods", "prices": "price"}[missing]
                self.refuse(row.line, f"{label} is new and has no {said}.", "Add the column.")
                continue
            before = self.house.blanks.get(known or "")
            supplier = values.get("supplier", "")
            listed.append(
                (
                    ListedBlank(
                        line=row.line,
                        label=label,
                        id=known,
                        goods=values.get("goods", before.goods if before else ""),
                        supplier=supplier or (before.supplier if before else "any"),
                        prices=write_steps(values.get("prices", before.prices if before else {})),
                        was=write_steps(before.prices) if before else "",
                        new_supplier=bool(supplier) and _supplier(supplier, self.house) is None,
                    ),
                    values,
                )
            )
        return listed


def take_price_list(shop: Shop, asked: PriceList) -> ListRead:
    """Read a price list, and keep what can be read of it.

    A blank of the same name gets the list's prices; others of its values stay unless the list
    has them. A supplier that is not known yet is added.

    Raises
    ------
    BadInput
        If it is no table, or has no headings; nothing is kept then.
    """
    house = shop_house(shop)
    reader = _Reader(house)
    for row in read_price_list(asked.text):
        reader.read(row)
    listed = reader.blanks()
    room = MOST_ROWS["blanks"] - len(house.blanks)
    taken = []
    for blank, values in listed:
        room -= blank.id is None
        if blank.id is None and room < 0:
            reader.refuse(
                blank.line,
                f"{blank.label} is one more than the shelf holds.",
                "Take others off first.",
            )
        else:
            taken.append((blank, values))
    found = [blank for blank, _ in taken]
    if asked.keep and taken:
        ids, keys = _rows(taken, house)
        keep_values(shop, keys)
        found = [b.model_copy(update={"id": i}) for b, i in zip(found, ids, strict=True)]
    problems = sorted(reader.problems, key=lambda p: p.line)
    return ListRead(kept=asked.keep, blanks=found, problems=problems)


def _rows(
    taken: Sequence[tuple[ListedBlank, dict[str, Any]]], house: House
) -> tuple[list[str], dict[str, Any]]:
    """Turn blanks into rows of the shelf, new suppliers first: (the blanks' ids, key to value)."""
    keys: dict[str, Any] = {}
    suppliers: dict[str, str] = {}
    blanks, ids = set(house.blanks), []
    for blank, values in taken:
        row = dict(values)
        if name := values.get("supplier"):
            known = suppliers.get(name.casefold()) or _supplier(name, house)
            if known is None:
                known = id_of(name, {*house.suppliers, *suppliers.values()})
                for column, value in (usual_row("suppliers") | {"label": name}).items():
                    keys[f"suppliers.{known}.{column}"] = value
            row["supplier"] = suppliers[name.casefold()] = known
        if blank.id is None:
            row = usual_row("blanks") | row | {"label": blank.label}
        ids.append(blank.id or id_of(blank.label, blanks))
        blanks.add(ids[-1])
        keys |= {f"blanks.{ids[-1]}.{column}": value for column, value in row.items()}
    return ids, keys


def price_list(shop: Shop) -> str:
    """Write the shelf's blanks as a price list (CSV)."""
    house = shop_house(shop)
    rows = house_json(house)["blanks"]
    return write_price_list(
        {
            "label": row["label"],
            "goods": house.goods[row["goods"]].label,
            "supplier": house.suppliers[row["supplier"]].label,
            "prices": write_steps(house.blanks[key].prices),
            "dearer": write_sizes(house.blanks[key].dearer),
            "pack": str(row["pack"]),
            "sizes": row["sizes"],
            "colours": row["colours"],
        }
        for key, row in rows.items()
    )
