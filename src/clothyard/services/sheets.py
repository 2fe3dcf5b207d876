"""Tables that were dropped as files, as the text that their readers read."""

from __future__ import annotations

from clothyard.core.errors import BadInput, TooLarge
from clothyard.files.guarded import SHEET, shared_reader

MAX_SHEET_BYTES = 5_000_000


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
            "the file is over 5 MB.", where=name, remedy="Save the one sheet alone.",
            code="sheet-huge",
        )  # fmt: skip
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
        "it is no table of text.", where=name, remedy="Save it as .xlsx, or as .csv.",
        code="sheet-damaged",
    )  # fmt: skip
