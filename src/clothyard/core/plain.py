"""Plain documents, as JSON holds them: whether they can be kept and read again."""

from __future__ import annotations

import math
from collections.abc import Iterator
from decimal import Decimal
from typing import Any

from clothyard.core.errors import BadInput

MAX_DEPTH = 40
MAX_INTEGER = 10**30


def _fault(value: Any) -> tuple[str, str]:
    """Say what keeps a value from being kept, and the remedy; ("", "") where nothing does."""
    if isinstance(value, str):
        if any("\ud800" <= char <= "\udfff" for char in value):
            return "holds half a character", "Type it anew."
        if "\x00" in value:
            return "holds a character that ends text", "Type it anew."
    elif isinstance(value, float | Decimal) and not math.isfinite(value):
        return "must be a finite number", "Enter digits."
    elif isinstance(value, int | Decimal) and not -MAX_INTEGER <= value <= MAX_INTEGER:
        return "is too large", "Enter less."
    return "", ""


def _parts(value: Any, where: str) -> Iterator[tuple[Any, str]]:
    if isinstance(value, dict):
        for key, part in value.items():
            at = f"{where}.{key[:60]}" if where else str(key)[:60]
            yield key, f"{at!r}"[1:-1]
            yield part, f"{at!r}"[1:-1]
    elif isinstance(value, list | tuple):
        for n, part in enumerate(value):
            yield part, f"{where}[{n}]"


def check_plain(value: Any, *, where: str = "") -> None:
    """Refuse what cannot be kept and read again: half characters, numbers without end, nests.

    Parameters
    ----------
    value : Any
        As JSON gives it: dicts, lists, text, numbers, true, false, null.
    where : str
        Its place in the document, for the error.

    Raises
    ------
    BadInput
        With the place of the first that cannot.

    >>> check_plain({"lines": [{"names": ["Ada", "Zoë"]}]})
    >>> check_plain({"margin": float("inf")})
    Traceback (most recent call last):
    clothyard.core.errors.BadInput: must be a finite number.
    """
    level = [(value, where)]
    for _ in range(MAX_DEPTH):
        for part, at in level:
            fault, remedy = _fault(part)
            if fault:
                raise BadInput(f"{fault}.", where=at, remedy=remedy, code="not-kept")
        level = [found for part, at in level for found in _parts(part, at)]
        if not level:
            return
    raise BadInput(
        f"is nested over {MAX_DEPTH} deep.",
        where=level[0][1][:80],
        remedy="Take it out.",
        code="not-kept",
    )
