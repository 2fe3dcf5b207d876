"""Tables in and out: text and sheets read row by row under known headings, written safe to open."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal

from clothyard.core.errors import BadInput

if TYPE_CHECKING:
    from _csv import Reader

FORMULA = tuple("=+-@\t\r")
MAX_LINES = 2000
MAX_TEXT_BYTES = 500_000
MAX_COLUMNS = 100

SheetKind = Literal["csv", "xlsx"]
MEDIA_TYPES: dict[SheetKind, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}

Columns = Mapping[str, tuple[str, ...]]
"""What a column is called here, and the headings that are taken for it, lower case."""


@dataclass
class TableRow:
    """A row of a table: its line in the text (from 1), and its cells by column."""

    line: int
    cells: dict[str, str] = field(default_factory=dict)


def _dialect(head: str) -> str:
    """The sign between cells: the one that the first line has most of; a tab where none."""
    return max("\t;,|", key=head.count)


def read_table(text: str, columns: Columns, *, needed: str, example: str) -> list[TableRow]:
    """Read a table that was pasted or dropped: a line of headings, then a row a line.

    Parameters
    ----------
    text : str
        Cells between tabs, semicolons, commas or bars; quoted as spreadsheets do.
    columns : Columns
    needed : str
        The column that must have a heading.
    example : str
        Headings that would do, for the remedy.

    Returns
    -------
    list of TableRow
        Rows with something in them; cells stripped, keyed as `columns`.

    Raises
    ------
    BadInput
        If it is too long, has no heading for what is needed, or one stands twice.
    """
    if len(text.encode()) > MAX_TEXT_BYTES:
        raise BadInput(
            "the list is over 500 kB.", where="text", remedy="Take a part of it.", code="list-huge"
        )
    lines = text.lstrip("\ufeff").splitlines()
    start = next((n for n, line in enumerate(lines) if line.strip()), None)
    if start is None:
        raise BadInput(
            "the list is empty.",
            where="text",
            remedy="Paste its headings and rows.",
            code="list-empty",
        )
    mark = _dialect(lines[start])
    table = csv.reader(io.StringIO("\n".join(lines[start:])), delimiter=mark)
    known = {name: column for column, names in columns.items() for name in names}
    rows = _rows(table, start)
    heads = [" ".join(cell.strip().lower().split()) for cell in next(rows)]
    found_columns = [known.get(head, "") for head in heads]
    if needed not in found_columns:
        raise BadInput(
            f"no heading says which column is the {columns[needed][0]}.",
            where="line 1",
            remedy=f"Begin with headings: {example}.",
            code="list-heads",
        )
    twice = [c for c in found_columns if c and found_columns.count(c) > 1]
    if twice:
        raise BadInput(
            f"two columns are headed as {twice[0]}.",
            where="line 1",
            remedy="Rename or remove one.",
            code="list-heads",
        )
    found = []
    for cells in rows:
        row = {c: _bare(cell) for c, cell in zip(found_columns, cells, strict=False) if c}
        if any(row.values()):
            found.append(TableRow(start + table.line_num, row))
    if len(found) > MAX_LINES:
        raise BadInput(
            f"the list has {len(found)} rows.",
            where="text",
            remedy=f"Take at most {MAX_LINES}.",
            code="list-huge",
        )
    return found


def _rows(table: Reader, start: int) -> Iterator[list[str]]:
    """Read a table's rows, its headings first; what is torn is told by its line."""
    try:
        yield from table
    except csv.Error as error:
        raise BadInput(
            f"it cannot be read as a table ({error}).",
            where=f"line {start + table.line_num}",
            remedy="Mend that line.",
            code="list-torn",
        ) from None


def text_of_sheet(data: bytes, name: str) -> str:
    """Return the first sheet of an .xlsx file as tab-separated text: runs in the child process.

    Raises
    ------
    BadInput
        If it is none, or has too many rows.
    """
    import openpyxl  # noqa: PLC0415 - only the child needs it

    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        sheet = book.worksheets[0]
        stream = io.StringIO()
        writer = csv.writer(stream, delimiter="\t", lineterminator="\n")
        for n, row in enumerate(sheet.iter_rows(values_only=True, max_col=MAX_COLUMNS)):
            if n > MAX_LINES:
                break
            writer.writerow(["" if cell is None else " ".join(str(cell).split()) for cell in row])
    except MemoryError:
        raise
    except Exception:  # the reader raises whatever the bytes make it
        raise BadInput(
            "it cannot be read as a sheet.",
            where=name,
            remedy="Save it anew as .xlsx, or as .csv.",
            code="sheet-damaged",
        ) from None
    return stream.getvalue()


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


def write_csv(heads: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Write a table as CSV that opens anywhere: nothing in it is taken for a formula."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\r\n")
    writer.writerow(heads)
    for row in rows:
        writer.writerow([_safe(cell) for cell in row])
    return stream.getvalue()


def write_sheet(
    heads: Sequence[str], rows: Iterable[Sequence[str]], *, kind: SheetKind, title: str
) -> bytes:
    """Write a table as a file.

    Parameters
    ----------
    heads, rows : texts
        What looks like a figure (6.40) is a number in an .xlsx; all else stays text, no formula.
    kind : SheetKind
    title : str
        Of the sheet, at most 31 letters.
    """
    if kind == "csv":
        return write_csv(heads, rows).encode("utf-8-sig")
    import openpyxl  # noqa: PLC0415 - takes a while to load, and few ask for it
    from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE  # noqa: PLC0415
    from openpyxl.styles import Font  # noqa: PLC0415

    book = openpyxl.Workbook()
    sheet = book.active
    sheet.title = title
    for n, text in enumerate(heads, start=1):
        sheet.cell(row=1, column=n, value=text).font = Font(bold=True)
        sheet.column_dimensions[sheet.cell(row=1, column=n).column_letter].width = 18
    for r, row in enumerate(rows, start=2):
        for n, text in enumerate(row, start=1):
            cell = sheet.cell(row=r, column=n)
            plain = ILLEGAL_CHARACTERS_RE.sub("", text)
            if _FIGURE.fullmatch(plain):
                cell.value = float(plain)
                cell.number_format = (
                    "0." + "0" * len(plain.partition(".")[2]) if "." in plain else "0"
                )
            else:
                cell.value = plain
                cell.data_type = "s"
    sheet.freeze_panes = "A2"
    stream = io.BytesIO()
    book.save(stream)
    return stream.getvalue()


_FIGURE = re.compile(r"-?(0|[1-9]\d{0,11})(\.\d{1,4})?")
