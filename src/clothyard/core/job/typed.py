"""How typed text was read: what of a job was written as people write numbers, and its value."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from decimal import Decimal, InvalidOperation
from typing import Any, Literal

from pydantic import BaseModel

from clothyard.core.record import record

MOST_TOLD = 400


@record
class Typed:
    """A number or length that was typed.

    Attributes
    ----------
    where : str
        Its place in the job: "lines[0].quantity".
    typed : str
        As it stands in the job.
    value : str
        As it was read, plain digits; lengths in millimetres, shares of one.
    unit : "mm" or ""
    """

    where: str
    typed: str
    value: str
    unit: Literal["mm", ""]


def _plain(value: float | Decimal) -> str:
    text = format(Decimal(str(value)), "f")
    return text.rstrip("0").rstrip(".") if "." in text else text


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float | Decimal) and not isinstance(value, bool)


def _says(text: str, value: float | Decimal) -> bool:
    """Whether a text is the plain number that was read of it: "6.40" is 6.4."""
    try:
        return Decimal(text.strip()) == Decimal(str(value))
    except InvalidOperation:
        return False


def _pairs(raw: Any, read: Any) -> Iterator[tuple[str, Any, Any]]:
    """Pair the parts of a plain document with what was read of them: (step of the path, …)."""
    if isinstance(read, BaseModel) and isinstance(raw, Mapping):
        for name, field in type(read).model_fields.items():
            key = field.alias or name
            if key in raw:
                yield f".{key}", raw[key], getattr(read, name)
    elif isinstance(read, tuple) and isinstance(raw, list | tuple):
        for n, pair in enumerate(zip(raw, read, strict=False)):
            yield f"[{n}]", *pair


def _walk(raw: Any, read: Any, where: str) -> Iterator[Typed]:
    for step, part, value in _pairs(raw, read):
        at = f"{where}{step}".removeprefix(".")
        if isinstance(part, str):
            if _is_number(value) and not _says(part, value):
                yield Typed(at, part.strip(), _plain(value), "mm" if at.endswith("_mm") else "")
        else:
            yield from _walk(part, value, at)


def how_read(raw: Any, read: BaseModel) -> tuple[Typed, ...]:
    """List what was typed otherwise than as plain digits, and how it was read.

    Parameters
    ----------
    raw : dict
        The plain document.
    read : BaseModel
        What it was read as.

    Returns
    -------
    tuple of Typed
        In the document's order; no more than MOST_TOLD.
    """
    found = []
    for typed in _walk(raw, read, ""):
        found.append(typed)
        if len(found) == MOST_TOLD:
            break
    return tuple(found)
