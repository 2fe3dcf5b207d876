"""Prices from a number on, and sums for some sizes: how a supplier's list is read and written."""

from __future__ import annotations

import itertools
import re
from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, Any

from pydantic import BeforeValidator, WithJsonSchema

from clothyard.core.units import Money, read_amount, read_decimal

MOST_STEPS = 30
MAX_FROM = 100_000
MAX_PRICE = Decimal(10_000)

_STEP = re.compile(r"(?:from\s+)?(?:(\d{1,6})\s*(?::|=|\+|\s)\s*)?(\S.*)", re.I)
_SIZE = re.compile(r"(\S+?)\s*(?::|=|\+|\s)\s*\+?\s*(\S.*)")
_CENTS = re.compile(r"\d{1,2}")


def _parts(text: str) -> list[str]:
    """Split at semicolons, tabs and lines where there are any, else at commas.

    Raises
    ------
    ValueError
        If a comma between digits may have been meant for a decimal point.
    """
    if re.search(r"[;\n\t]", text):
        return [part.strip() for part in re.split(r"[;\n\t]+", text) if part.strip()]
    parts = [part.strip() for part in text.split(",") if part.strip()]
    for before, part in itertools.pairwise(parts):
        if _CENTS.fullmatch(part):
            raise ValueError(
                f"'{before[:20]},{part}' may be one price or two: write a point, or set them "
                "apart by semicolons"
            )
    return parts


def _amount(text: str, currency: str) -> Decimal | None:
    try:
        return read_amount(text, currency=currency)
    except ValueError:
        return None


def _price(value: Any, of: str) -> Decimal:
    amount = read_decimal(value)
    if not 0 <= amount <= MAX_PRICE:
        raise ValueError(f"{of} costs {amount}: a price is from 0 to {MAX_PRICE}")
    return amount


def read_steps(value: Any, *, currency: str = "") -> dict[str, Decimal]:
    """Read what one costs from each number on.

    Parameters
    ----------
    value : str or mapping
        "6.40, 25: 5.90, 100: 5.40", "6,40; 25: 5,90", or {"1": "6.40", "25": "5.90"}; a price
        without a number holds from 1.
    currency : str
        Whose sign may stand at a price; any other is refused.

    Returns
    -------
    dict
        Number, as text, to price; the smallest number first. Its first is the least that is sold.

    Raises
    ------
    ValueError
        If it is neither, a number stands twice, or a price is out of range.

    >>> read_steps("6.40, 25: 5.90")
    {'1': Decimal('6.40'), '25': Decimal('5.90')}
    """
    found: dict[int, Decimal] = {}
    if isinstance(value, str):
        rows: list[tuple[Any, Any]] = []
        for part in _parts(value):
            read = _STEP.fullmatch(part)
            price = _amount(read[2], currency) if read else None
            if not read or price is None:
                raise ValueError(f"{part[:40]!r} is no price step: write 6.40, 25: 5.90, 100: 5.40")
            rows.append((read[1] or "1", price))
    elif isinstance(value, Mapping):
        rows = list(value.items())
    else:
        raise ValueError("must be price steps such as 6.40, 25: 5.90")
    for number, price in rows:
        text = str(number).strip()
        if not text.isascii() or not text.isdigit() or not 1 <= int(text) <= MAX_FROM:
            raise ValueError(f"{text[:20]!r} is no number of pieces from 1 to {MAX_FROM}")
        if int(text) in found:
            raise ValueError(f"two prices hold from {int(text)}")
        found[int(text)] = _price(price, f"from {text} one")
    if not 1 <= len(found) <= MOST_STEPS:
        raise ValueError(f"needs 1 to {MOST_STEPS} prices, such as 6.40, 25: 5.90")
    return {str(number): found[number] for number in sorted(found)}


def write_steps(steps: Mapping[str, Decimal]) -> str:
    """Write price steps as they are typed.

    >>> write_steps({"1": Decimal("6.40"), "25": Decimal("5.90")})
    '1: 6.40, 25: 5.90'
    """
    return ", ".join(f"{number}: {price:f}" for number, price in steps.items())


def read_sizes(value: Any, *, currency: str = "") -> dict[str, Decimal]:
    """Read what some sizes cost more.

    Parameters
    ----------
    value : str or mapping
        "2XL 1.20, 3XL 2.40", or {"2XL": "1.20"}; "none" or nothing for no size.
    currency : str
        Whose sign may stand at a sum; any other is refused.

    Raises
    ------
    ValueError
        If it is neither, a size stands twice, or a sum is out of range.

    >>> read_sizes("2XL +1.20")
    {'2XL': Decimal('1.20')}
    """
    if isinstance(value, str):
        rows: list[tuple[Any, Any]] = []
        text = "" if value.strip().lower() == "none" else value
        for part in _parts(text):
            read = _SIZE.fullmatch(part)
            more = _amount(read[2], currency) if read else None
            if not read or more is None:
                raise ValueError(f"{part[:40]!r} is no size and sum: write 2XL 1.20, 3XL 2.40")
            rows.append((read[1], more))
    elif isinstance(value, Mapping):
        rows = list(value.items())
    else:
        raise ValueError("must be sizes and sums such as 2XL 1.20")
    found: dict[str, Decimal] = {}
    for size, more in rows:
        name = str(size).strip()
        if not 1 <= len(name) <= 40:
            raise ValueError(f"{name[:40]!r} is no size")
        if name.casefold() in {known.casefold() for known in found}:
            raise ValueError(f"{name} stands twice")
        found[name] = _price(more, name)
    if len(found) > MOST_STEPS:
        raise ValueError(f"has more than {MOST_STEPS} sizes")
    return found


def write_sizes(sizes: Mapping[str, Decimal]) -> str:
    """Write what some sizes cost more, as it is typed."""
    return ", ".join(f"{size} {more:f}" for size, more in sizes.items()) or "none"


def _schema(title: str) -> WithJsonSchema:
    return WithJsonSchema(
        {"type": "object", "additionalProperties": {"type": "string"}, "title": title}
    )


PriceSteps = Annotated[dict[str, Money], BeforeValidator(read_steps), _schema("PriceSteps")]
"""Number of pieces, as text, to what one costs from there on."""
SizeSums = Annotated[dict[str, Money], BeforeValidator(read_sizes), _schema("SizeSums")]
"""Size to what it costs more."""
