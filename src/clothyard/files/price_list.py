"""A supplier's price list as a table of text: read row by row, written safe to open anywhere."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from clothyard.core.errors import BadInput

if TYPE_CHECKING:
    from _csv import Reader

FORMULA = tuple("=+-@\t\r")
MAX_LINES = 2000
MAX_LIST_BYTES = 500_000

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


@dataclass
class ListRow:
    """A row of a price list: its line in the text (from 1), and its cells by column."""

    line: int
    cells: dict[str, str] = field(default_factory=dict)


def _dialect(head: str) -> str:
    """The sign between cells: the one that the first line has most of; a tab where none."""
    return max("\t;,|", key=head.count)


def read_price_list(text: str) -> list[ListRow]:
    """Read a price list that was pasted or dropped: a line of headings, then a row a line.

    Parameters
    ----------
    text : str
        Cells between tabs, semicolons, commas or bars; quoted as spreadsheets do.

    Returns
    -------
    list of ListRow
        Rows with something in them; cells stripped, keyed by `COLUMNS`.

    Raises
    ------
    BadInput
        If it is too long, has no heading for what is listed, or one stands twice.
    """
    if len(text.encode()) > MAX_LIST_BYTES:
        raise BadInput(
            "the list is over 500 kB.", where="text", remedy="Paste a part of it.", code="list-huge"
        )
    lines = text.lstrip("\ufeff").splitlines()
    start = next((n for n, line in enumerate(lines) if line.strip()), None)
    if start is None:
        raise BadInput(
            "the list is empty.", where="text", remedy="Paste its headings and rows.",
            code="list-empty",
        )  # fmt: skip
    mark = _dialect(lines[start])
    table = csv.reader(io.StringIO("\n".join(lines[start:])), delimiter=mark)
    known = {name: column for column, names in COLUMNS.items() for name in names}
    rows = _rows(table, start)
    heads = [" ".join(cell.strip().lower().split()) for cell in next(rows)]
    columns = [known.get(head, "") for head in heads]
    if "label" not in columns:
        raise BadInput(
            "no heading says which column names the blank.", where="line 1",
            remedy="Begin with headings: Blank, Class, Supplier, From, Each.", code="list-heads",
        )  # fmt: skip
    twice = [c for c in columns if c and columns.count(c) > 1]
    if twice:
        raise BadInput(
            f"two columns are headed as {twice[0]}.", where="line 1",
            remedy="Rename or remove one.", code="list-heads",
        )  # fmt: skip
    found = []
    for cells in rows:
        row = {c: _bare(cell) for c, cell in zip(columns, cells, strict=False) if c}
        if any(row.values()):
            found.append(ListRow(start + table.line_num, row))
    if len(found) > MAX_LINES:
        raise BadInput(
            f"the list has {len(found)} rows.", where="text", remedy=f"Paste at most {MAX_LINES}.",
            code="list-huge",
        )  # fmt: skip
    return found


def _rows(table: Reader, start: int) -> Iterator[list[str]]:
    """Read a table's rows, its headings first; what is torn is told by its line."""
    try:
        yield from table
    except csv.Error as error:
        raise BadInput(
            f"it cannot be read as a table ({error}).", where=f"line {start + table.line_num}",
            remedy="Mend that line.", code="list-torn",
        ) from None  # fmt: skip


_UNMARKED = re.compile(r"([;|\t\r\n]\s*)(?=[=+\-@])")
_MARKED = re.compile(r"([;|\t\r\n]\s*)'(?=[=+\-@])")


def _bare(cell: str) -> str:
    """Take off the mark that keeps a cell from being a formula."""
    text = _MARKED.sub(r"\1", cell.strip())
    return text[1:] if text[:1] == "'" and text[1:2] in FORMULA else text


def _safe(cell: str) -> str:
    """Keep a cell from being taken for a formula, also where a sheet splits it at another mark."""
    cell = _UNMARKED.sub(r"\1'", cell)
    return f"'{cell}" if cell[:1] in FORMULA else cell


def write_price_list(rows: Iterable[Mapping[str, str]]) -> str:
    """Write blanks as a price list that `read_price_list` reads: CSV, a line a blank."""
    stream = io.StringIO()
    heads = ["label", "goods", "supplier", "prices", "dearer", "pack", "sizes", "colours"]
    writer = csv.writer(stream, lineterminator="\r\n")
    writer.writerow([COLUMNS[head][0].capitalize() for head in heads])
    for row in rows:
        writer.writerow([_safe(row[head]) for head in heads])
    return stream.getvalue()
