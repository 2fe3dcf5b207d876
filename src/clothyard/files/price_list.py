"""A supplier's price list as a table."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from clothyard.files.tables import TableRow, read_table, write_csv

COLUMNS = {
    "label": ("blank", "label", "name", "called", "article", "product", "description"),
    "goods": ("class", "goods", "kind"),
    "supplier": ("supplier", "from whom", "bought from"),
    "from": ("from", "quantity", "qty", "from quantity"),
    "each": ("each", "price", "cost", "unit price", "unit cost"),
    "prices": ("prices", "price steps"),
    "dearer": ("dearer", "some sizes more"),
    "pack": ("pack", "packs of", "pack size"),
    "sizes": ("sizes", "size"),
    "colours": ("colours", "colour", "colors", "color"),
}
"""What a column is called here, and the headings that are taken for it."""


def read_price_list(text: str) -> list[TableRow]:
    """Read a price list that was pasted or dropped; see `read_table`."""
    return read_table(text, COLUMNS, needed="label", example="Blank, Class, Supplier, From, Each")


def write_price_list(rows: Iterable[Mapping[str, str]]) -> str:
    """Write blanks as a price list that `read_price_list` reads: CSV, a line a blank."""
    heads = ["label", "goods", "supplier", "prices", "dearer", "pack", "sizes", "colours"]
    return write_csv(
        [COLUMNS[head][0].capitalize() for head in heads],
        ([row[head] for head in heads] for row in rows),
    )
