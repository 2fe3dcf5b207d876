"""Tables that were dropped as files, as the text that their readers read."""

from __future__ import annotations

from dataclasses import asdict
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, TooLarge
from clothyard.files.guarded import shared_reader
from clothyard.files.name_lists import read_name_list

MAX_SHEET_BYTES = 5_000_000
SHEET = ".xlsx"


def sheet_text(data: bytes, name: str) -> str:
    """Return a table as text, its cells between tabs, or as the file has them.

    Parameters
    ----------
    data : bytes
    name : str
        File name; .xlsx is read as a sheet, all else as text.

    Raises
    ------
    BadInput
        If it is too large, no sheet, or no text.
    """
    if len(data) > MAX_SHEET_BYTES:
        raise TooLarge(
            "the file is over 5 MB.",
            where=name,
            remedy="Save the one sheet alone.",
            code="sheet-huge",
        )
    if name.lower().endswith(SHEET):
        return shared_reader().sheet_text(data, name)
    for encoding in ("utf-8-sig", "cp1252"):
        try:
            text = data.decode(encoding)
        except UnicodeDecodeError:
            continue
        if "\x00" not in text:
            return text
    raise BadInput(
        "it is no table of text.",
        where=name,
        remedy="Save it as .xlsx, or as .csv.",
        code="sheet-damaged",
    )


class NameList(BaseModel):
    """A list of pieces to read: names, sizes, colours; `colours` the blank comes in."""

    model_config = ConfigDict(extra="forbid")

    text: str = Field(max_length=600_000)
    colours: list[Annotated[str, Field(max_length=200)]] = Field(
        default_factory=list, max_length=200
    )


class ReadCell(BaseModel):
    """Pieces of one size and colour, and the names on the first of them."""

    size: str
    colour: str
    quantity: int
    names: list[str]


def read_names(asked: NameList) -> list[ReadCell]:
    """Read a list of who wants which size.

    Raises
    ------
    BadInput
    """
    found = read_name_list(asked.text, colours=asked.colours)
    return [ReadCell(**asdict(cell)) for cell in found]
