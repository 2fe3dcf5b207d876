"""Money, shares and measures: how they are read, rounded and written."""

from __future__ import annotations

import math
import re
from decimal import ROUND_CEILING, ROUND_FLOOR, ROUND_HALF_UP, Decimal, InvalidOperation
from functools import lru_cache
from typing import Annotated, Any

from babel.core import get_global
from babel.numbers import (
    get_currency_name,
    get_currency_precision,
    get_currency_symbol,
    get_territory_currencies,
    list_currencies,
)
from pydantic import BeforeValidator, Field, PlainSerializer, WithJsonSchema

LENGTH_EPSILON = 1e-6
"""Added before every floor of a ratio of lengths (calculations)."""

NOT_A_NUMBER = "must be a number"
NOT_WHOLE = "must be a whole number"
SHARE_PLACES = Decimal("0.0001")
MAX_MONEY = Decimal(10_000_000)
_DECIMAL_TEXT = r"^-?\d{1,12}(\.\d{1,12})?$"


def read_decimal(value: Any) -> Decimal:
    """Read a decimal number given as text or as a JSON number; refuse anything else."""
    if isinstance(value, bool) or not isinstance(value, int | float | str | Decimal):
        raise ValueError(NOT_A_NUMBER)
    text = str(value).strip()
    if len(text) > 40:
        raise ValueError("has too many digits")
    try:
        number = Decimal(text)
    except InvalidOperation:
        raise ValueError(NOT_A_NUMBER) from None
    if not number.is_finite():
        raise ValueError("must be a finite number")
    if number.adjusted() > 12:
        raise ValueError("is too large")
    if number and number.adjusted() < -400:  # less than any float
        raise ValueError("is too small")
    return number if not number or number.adjusted() >= -12 else Decimal(0)


def read_number(value: Any) -> float:
    """Read a number of a document as a float: a JSON number, or text as people write it."""
    return float(read_typed(value))


_GROUPED = re.compile(r"\d{1,3}(?:[, ’']\d{3})+(?:\.\d+)?")
_GROUPED_COMMA = re.compile(r"\d{1,3}(?:[. ’']\d{3})+,\d+")
_COMMA = re.compile(r"\d+,\d+")
_DIGITS = re.compile(r"\d+(?:\.\d+)?|\.\d+")
_SPACES = str.maketrans("\u00a0\u202f", "  ")


def _bare_digits(text: str) -> str:
    """Write digits as people group them with a point alone; a comma before three is a thousand."""
    if _DIGITS.fullmatch(text):
        return text
    if _GROUPED.fullmatch(text) and not text.startswith("0,"):
        return re.sub(r"[, ’']", "", text)
    if _GROUPED_COMMA.fullmatch(text):
        return re.sub(r"[. ’']", "", text).replace(",", ".")
    if _COMMA.fullmatch(text):
        return text.replace(",", ".")
    raise ValueError(NOT_A_NUMBER)


def without_sign(text: str, currency: str) -> str:
    """Take the currency's code or sign off; "US$" is also written "$".

    Parameters
    ----------
    text : str
        As typed.
    currency : str
        ISO code.

    Returns
    -------
    str
    """
    if currency not in known_currencies():
        return text
    symbol = get_currency_symbol(currency, locale="en_GB")
    for mark in (currency, symbol, re.sub("[A-Z]", "", symbol)):
        text = text.removeprefix(mark).removesuffix(mark).strip()
    return text


def read_amount(text: str, *, currency: str = "") -> Decimal:
    """Read a number as people write it.

    Parameters
    ----------
    text : str
        "6.40", "6,40", "1,234.50", "1.234,50", "8.2k", "£6.40". A comma before three digits is a
        thousand.
    currency : str
        Whose sign or code may stand at it; any other is refused.

    Raises
    ------
    ValueError
        If it is no number.

    >>> read_amount("6,40 €", currency="EUR"), read_amount("1,200"), read_amount("0,125")
    (Decimal('6.40'), Decimal('1200'), Decimal('0.125'))
    >>> read_amount("$5.05", currency="USD"), read_amount("US$5.05", currency="USD")
    (Decimal('5.05'), Decimal('5.05'))
    >>> read_amount("8.2k")
    Decimal('8200.0')
    """
    bare = text.strip().translate(_SPACES)
    bare = without_sign(bare, currency)
    thousand = bare[-1:] in {"k", "K"}
    bare = bare[:-1].strip() if thousand else bare
    if not bare.isascii() and "’" not in bare:
        raise ValueError(NOT_A_NUMBER)
    return read_decimal(_bare_digits(bare)) * (1000 if thousand else 1)


def read_typed(value: Any, *, currency: str = "") -> Decimal:
    """Read a number of a document: a JSON number, decimal text, or text as people write it.

    A minus sign may stand before it.

    Parameters
    ----------
    value : Any
        As it came, or as worked out.
    currency : str, optional
        ISO code.

    Returns
    -------
    Decimal

    Raises
    ------
    ValueError
        In words, for the document's reader to place.
    """
    if not isinstance(value, str):
        return read_decimal(value)
    try:
        return read_decimal(value)
    except ValueError as error:
        if str(error) != NOT_A_NUMBER:
            raise
        bare = value.strip()
        minus = bare[:1] in {"-", "−"}
        number = read_amount(bare[1:] if minus else bare, currency=currency)
        return -number if minus else number


def read_count(value: Any) -> int:
    """Read a whole number: 24, "24", "8,200", "8.2k".

    Raises
    ------
    ValueError
        If it is no whole number.

    >>> read_count("8.2k"), read_count(24)
    (8200, 24)
    """
    try:
        number = read_typed(value)
    except ValueError as error:
        raise ValueError(NOT_WHOLE if str(error) == NOT_A_NUMBER else str(error)) from None
    if number != number.to_integral_value():
        raise ValueError(NOT_WHOLE)
    return int(number)


def read_share(value: Any) -> Decimal:
    """Read a share: 0.35, "0.35", "35 %".

    >>> read_share("12,5 %"), read_share("0.35")
    (Decimal('0.125'), Decimal('0.35'))
    """
    if isinstance(value, str) and value.rstrip().endswith("%"):
        return read_typed(value.rstrip()[:-1].strip()) / 100
    return read_typed(value)


def _plain(number: Decimal) -> str:
    return format(number, "f")


_AS_TEXT = (
    BeforeValidator(read_typed),
    PlainSerializer(_plain, return_type=str),
)
_SHARE_AS_TEXT = (
    BeforeValidator(read_share),
    PlainSerializer(_plain, return_type=str),
)
Money = Annotated[
    Decimal,
    Field(ge=0, le=MAX_MONEY),
    *_AS_TEXT,
    WithJsonSchema({"type": "string", "pattern": _DECIMAL_TEXT, "title": "Money"}),
]
"""An amount of money, zero or more, in the job's currency. In: text or number; out: text."""

MoneyOut = Annotated[str, Field(pattern=_DECIMAL_TEXT, json_schema_extra={"title": "Money"})]
"""An amount of money on its way out, already written with the currency's minor units."""

Share = Annotated[
    Decimal,
    Field(ge=0, lt=1),
    *_SHARE_AS_TEXT,
    WithJsonSchema({"type": "string", "pattern": _DECIMAL_TEXT, "title": "Share"}),
]
"""A share from 0 up to, not including, 1."""

Rate = Annotated[
    Decimal,
    Field(ge=0, le=1),
    *_SHARE_AS_TEXT,
    WithJsonSchema({"type": "string", "pattern": _DECIMAL_TEXT, "title": "Rate"}),
]
"""A rate from 0 to 1, both included."""

Factor = Annotated[
    Decimal,
    Field(ge=0, le=100),
    *_AS_TEXT,
    WithJsonSchema({"type": "string", "pattern": _DECIMAL_TEXT, "title": "Factor"}),
]
"""A plain multiplier."""


@lru_cache
def minor_units(currency: str) -> int:
    """Return how many decimal places the currency has (GBP 2, JPY 0, KWD 3)."""
    return get_currency_precision(currency)


@lru_cache
def known_currencies() -> frozenset[str]:
    """Return the currency codes that can be used."""
    return frozenset(list_currencies())


@lru_cache
def current_currencies() -> list[tuple[str, str]]:
    """Return the currencies in use somewhere today: code and name, by name.

    >>> current_currencies()[0]
    ('AFN', 'Afghan Afghani, AFN')
    """
    territories = get_global("territory_currencies")
    codes = {code for place in territories for code in get_territory_currencies(place)}
    named = [(code, f"{get_currency_name(code, locale='en_GB')}, {code}") for code in codes]
    return sorted(named, key=lambda pair: pair[1])


@lru_cache(maxsize=8192)
def exact(quantity: float) -> Decimal:
    """Turn a computed quantity into a Decimal, dropping binary noise below 1e-9."""
    return Decimal(f"{quantity:.9f}")


@lru_cache
def _minor_step(currency: str) -> Decimal:
    return Decimal(1).scaleb(-minor_units(currency))


def round_money(amount: Decimal, currency: str) -> Decimal:
    """Round half up to the currency's minor unit.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    currency : str
        ISO code.

    Returns
    -------
    Decimal
    """
    return amount.quantize(_minor_step(currency), ROUND_HALF_UP)


def floor_money(amount: Decimal, currency: str) -> Decimal:
    """Round down to the currency's minor unit.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    currency : str
        ISO code.

    Returns
    -------
    Decimal
    """
    return amount.quantize(_minor_step(currency), ROUND_FLOOR)


def round_up_to_step(amount: Decimal, step: Decimal, currency: str) -> Decimal:
    """Round a price up to the shop's step; without a step, half up to the minor unit.

    A step finer than the minor unit (0.05 in yen) is none.

    Noise below 1e-9 is dropped first, so that a price that sits on a step stays there.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    step : Decimal
        0: none.
    currency : str
        ISO code.

    Returns
    -------
    Decimal
        With the minor units of the currency.
    """
    if step < _minor_step(currency):
        return round_money(amount, currency)
    clean = amount.quantize(Decimal("1e-9"), ROUND_HALF_UP)
    steps = (clean / step).to_integral_value(ROUND_CEILING)
    return round_money(steps * step, currency)


def round_up_to_ending(amount: Decimal, ending: Decimal, currency: str) -> Decimal:
    """Round a price up to the next one that ends so: 12.40 to 12.95.

    A currency without minor units has no endings.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    ending : Decimal
        0.95, 0.99 …; 0: none.
    currency : str
        ISO code.

    Returns
    -------
    Decimal
        With the minor units of the currency.

    >>> round_up_to_ending(Decimal("12.96"), Decimal("0.95"), "GBP")
    Decimal('13.95')
    """
    if not minor_units(currency):
        return round_up_to_step(amount, Decimal(1), currency)
    clean = amount.quantize(Decimal("1e-9"), ROUND_HALF_UP)
    whole = (clean - ending).to_integral_value(ROUND_CEILING)
    return round_money(max(whole, Decimal(0)) + ending, currency)


def share_text(share: Decimal) -> str:
    """Write a share with four places."""
    return str(share.quantize(SHARE_PLACES, ROUND_HALF_UP) + 0)  # no minus zero, no exponent


def money_text(amount: Decimal, currency: str) -> str:
    """Write an amount with the currency's minor units.

    Parameters
    ----------
    amount : Decimal
        Before rounding.
    currency : str
        ISO code.

    Returns
    -------
    str
    """
    return str(round_money(amount, currency) + 0)  # no minus zero, and never an exponent


def metres(length_m: float) -> float:
    """Round a length in metres for show, three places."""
    return round_half_up(length_m, 3)


_SCALES = (1, 10, 100, 1_000, 10_000)
_HALF = 0.5 + 5e-7
"""A half, and the binary noise that a sum of floats may lack to it."""


def round_half_up(value: float, places: int) -> float:
    """Round a float half up, as a person would, free of binary noise.

    Parameters
    ----------
    value : float
        As it came, or as worked out.
    places : int
        Decimals.

    Returns
    -------
    float
    """
    scale = _SCALES[places]
    return math.floor(value * scale + _HALF) / scale


def floor_ratio(length: float, part: float) -> int:
    """Count whole parts in a length: floor of the ratio, 1e-6 added first.

    Parameters
    ----------
    length : float
        [mm]
    part : float
        [mm]

    Returns
    -------
    int
    """
    return math.floor(length / part + LENGTH_EPSILON)
