"""Figures as people say them: £28.83, 1 h 9 min, 35.0 %, 2.04 m."""

from __future__ import annotations

from collections.abc import Callable
from decimal import Decimal
from functools import cache
from typing import Any

from babel.numbers import get_currency_symbol

from clothyard.core.measures import Units, length_text, thread_text
from clothyard.core.units import exact, minor_units, money_text

LONG_MM = 1000
FINE_LOSS = Decimal("0.005")
"""An amount that rounding to the minor unit would move by more than this is told finer."""


def counted(number: float, one: str, many: str = "") -> str:
    """Write a count with its word: 1 piece, 2 pieces.

    >>> counted(1, "piece"), counted(1200, "stitch", "stitches")
    ('1 piece', '1,200 stitches')
    """
    return f"{number:,} {one if number == 1 else many or one + 's'}"


def amount_text(amount: Decimal) -> str:
    """Write an amount without trailing zeros."""
    return f"{amount.normalize():f}" if amount else "0"


def day_text(iso: str) -> str:
    """Write an ISO day as people say it; "" for none.

    >>> day_text("2026-05-10"), day_text("")
    ('10 May 2026', '')
    """
    if not iso:
        return ""
    year, month, day = (int(part) for part in iso[:10].split("-"))
    return f"{day} {_MONTHS[month - 1]} {year}"


_MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")


def duration_text(seconds: float) -> str:
    """Write a time.

    >>> duration_text(41.3), duration_text(700.6), duration_text(4179.21)
    ('41.3 s', '11 min 41 s', '1 h 10 min')
    """
    if abs(seconds) < 60:
        return f"{_plain(seconds, 1)} s"
    if abs(seconds) < 3600:
        minutes, rest = divmod(round(seconds), 60)
        return f"{minutes} min {rest} s" if rest else f"{minutes} min"
    hours, minutes = divmod(round(seconds / 60), 60)
    return f"{hours:,} h {minutes} min" if minutes else f"{hours:,} h"


@cache
def _sign(currency: str) -> str:
    return get_currency_symbol(currency, locale="en_GB")


def currency_text(amount: Decimal, currency: str) -> str:
    """Write an amount with its sign; a small one as fine as it needs.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    currency : str
        ISO code.

    Returns
    -------
    str

    >>> currency_text(Decimal("28.8269"), "GBP"), currency_text(Decimal("0.0013"), "GBP")
    ('£28.83', '£0.0013')
    >>> currency_text(Decimal("1200"), "JPY"), currency_text(Decimal("-3"), "EUR")
    ('JP¥1,200', '−€3.00')
    """
    sign = _sign(currency)
    minus = "−" if amount < 0 else ""
    size = abs(amount)
    shown = Decimal(money_text(size, currency))
    if size and abs(shown - size) > size * FINE_LOSS:
        places = max(minor_units(currency), -size.adjusted() + 1)
        return f"{minus}{sign}{size:,.{places}f}"
    return f"{minus}{sign}{shown:,.{minor_units(currency)}f}"


def _plain(value: Any, most: int) -> str:
    text = f"{value:,.{most}f}" if not isinstance(value, int) else f"{value:,}"
    return text.rstrip("0").rstrip(".") if "." in text else text


def _long(value: float, units: Units) -> str:
    if units == "metric" and value >= LONG_MM:
        return thread_text(value / 1000).replace(".000", "")
    return length_text(value, units=units)


_SAID: dict[str, Callable[[Any, str, Units], str]] = {
    "money": lambda v, currency, _: currency_text(v, currency),
    "money/m": lambda v, currency, _: f"{currency_text(v, currency)} a metre",
    "money/h": lambda v, currency, _: f"{currency_text(v, currency)} an hour",
    "money/1000": lambda v, currency, _: f"{currency_text(v, currency)} a thousand",
    "s": lambda v, _, __: duration_text(float(v)),
    "m": lambda v, _, units: thread_text(float(v), units=units),
    "mm": lambda v, _, units: _long(float(v), units),
    "share": lambda v, _, __: f"{_plain(float(v) * 100, 2)} %",
    "": lambda v, _, __: _plain(v, 4),
}


COUNTED = frozenset(
    (
        "pieces",
        "bobbins",
        "trims",
        "stitches",
        "colours",
        "layers",
        "rows",
        "hoopings",
        "cycles",
        "stops",
        "names",
        "motifs",
        "heads",
        "needles",
        "sheets",
        "days",
    )
)
"""Units that are counted: of one they lose their ending."""


def figure_text(value: Any, unit: str, *, currency: str, units: Units = "metric") -> str:
    """Write a figure as people say it.

    Parameters
    ----------
    value : number or text
        Text is kept as it is.
    unit : str
        "money", "money/h", "s", "m", "mm", "share", or a word that follows the number.
    currency : str
    units : metric or imperial

    >>> figure_text(Decimal("16"), "money/h", currency="GBP")
    '£16.00 an hour'
    >>> figure_text(1, "bobbins", currency="GBP"), figure_text(1, "stitches", currency="GBP")
    ('1 bobbin', '1 stitch')
    >>> figure_text(24, "pieces", currency="GBP"), figure_text(0.0667, "cycles", currency="GBP")
    ('24 pieces', '0.0667 cycles')
    """
    if isinstance(value, str):
        return f"{value} {unit}".strip()
    if unit.startswith("money") and not isinstance(value, Decimal):
        value = exact(float(value))
    said = _SAID.get(unit)
    if said:
        return said(value, currency, units)
    plain = _plain(value, 4)
    if plain == "1" and unit in COUNTED:
        unit = "stitch" if unit == "stitches" else unit.removesuffix("s")
    return f"{plain} {unit}"
