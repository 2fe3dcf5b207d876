"""Lengths as people write them: read from words, written metric or imperial."""

from __future__ import annotations

import re
from fractions import Fraction
from typing import Literal

from clothyard.core.errors import BadInput
from clothyard.core.units import read_number, round_half_up

Units = Literal["metric", "imperial"]
MM_PER_INCH = 25.4
M_PER_YARD = 0.9144
_MM = {
    "mm": 1.0,
    "cm": 10.0,
    "m": 1000.0,
    "in": MM_PER_INCH,
    "inch": MM_PER_INCH,
    "inches": MM_PER_INCH,
    '"': MM_PER_INCH,
    "ft": 12 * MM_PER_INCH,
    "'": 12 * MM_PER_INCH,
    "yd": 1000 * M_PER_YARD,
    "yard": 1000 * M_PER_YARD,
    "yards": 1000 * M_PER_YARD,
}
_GLYPHS = {
    "½": " 1/2",
    "¼": " 1/4",
    "¾": " 3/4",
    "⅛": " 1/8",
    "⅜": " 3/8",
    "⅝": " 5/8",
    "⅞": " 7/8",
    "″": '"',
    "′": "'",
    "”": '"',
    "’": "'",
}
_UNIT_MARKS = "\"'″′”’"
_NUMBER = r"(\d+/\d+|\d+(?:[.,]\d+)?(?:\s+\d+/\d+)?|[.,]\d+)"
_PART = re.compile(rf"\s*{_NUMBER}\s*([a-z\"']*)", re.IGNORECASE)


def _amount(text: str) -> float:
    return sum(
        float(Fraction(part)) if "/" in part else float(part.replace(",", "."))
        for part in text.split()
    )


def read_length_mm(text: str, *, units: Units = "metric") -> float:
    """Read a length as it was written.

    Parameters
    ----------
    text : str
        "90", "9cm", "3 1/2 in", "3½\\"", "1 ft 6 in", "1.2 m".
    units : metric or imperial
        What a bare number means: millimetres or inches.

    Returns
    -------
    float
        [mm]

    Raises
    ------
    BadInput
        If it is no length.

    >>> read_length_mm("3 1/2 in"), read_length_mm("9cm"), read_length_mm("2", units="imperial")
    (88.9, 90.0, 50.8)
    """
    clean = text.strip().lower()
    for glyph, plain in _GLYPHS.items():
        clean = clean.replace(glyph, plain)
    at, total = 0, 0.0
    while clean and at < len(clean):
        found = _PART.match(clean, at)
        unit = found.group(2) if found else ""
        if found is None or (unit and unit not in _MM):
            break
        try:
            amount = _amount(found.group(1))
        except ZeroDivisionError:
            break
        total += amount * (_MM[unit] if unit else (1.0 if units == "metric" else MM_PER_INCH))
        at = found.end()
    if not clean or clean[at:].strip():
        raise BadInput(
            f"{text.strip()[:40]!r} is no length.",
            remedy="Write it like 90, 9cm or 3 1/2 in.",
            code="not-a-length",
        )
    return round(total, 6)  # 0.236220472 in are 6 mm


def read_mm(value: object) -> float:
    """Take a length of a document: a number of millimetres, also as text, or text with its unit.

    Raises
    ------
    ValueError
        In words, for the document's reader to place.
    """
    if not isinstance(value, str) or not any(c.isalpha() or c in _UNIT_MARKS for c in value):
        return read_number(value)
    minus = value.strip()[:1] in {"-", "−"}
    try:
        return -read_length_mm(value.strip()[1:]) if minus else read_length_mm(value)
    except BadInput as problem:
        raise ValueError(f"{problem.message} {problem.remedy}".rstrip(".")) from problem


def length_text(mm: float, *, units: Units = "metric") -> str:
    """Write a short length: millimetres, or inches in sixteenths; decimal under the first.

    Parameters
    ----------
    mm : float
        A length. [mm]
    units : Units, optional
        Metric, or inches and yards.

    Returns
    -------
    str

    >>> length_text(88.9), length_text(88.9, units="imperial"), length_text(3.2, units="imperial")
    ('88.9 mm', '3 1/2 in', '1/8 in')
    >>> length_text(85, units="imperial"), length_text(0.5, units="imperial")
    ('3 3/8 in', '0.02 in')
    """
    if units == "metric":
        return f"{round_half_up(mm, 1):g} mm"
    inches = mm / MM_PER_INCH
    sixteenths = int(round_half_up(abs(inches) * 16, 0))
    if abs(inches) * 16 < 1:
        return f"{round_half_up(inches, 2):g} in"
    whole, rest = divmod(sixteenths, 16)
    parts = [str(whole)] if whole else []
    if rest:
        parts.append(str(Fraction(rest, 16)))
    return f"{'-' if inches < 0 else ''}{' '.join(parts)} in"


def size_text(size_mm: tuple[float, float], *, units: Units = "metric") -> str:
    """Write two lengths, across and down.

    Parameters
    ----------
    size_mm : tuple[float, float]
        Across and down. [mm]
    units : Units, optional
        Metric, or inches and yards.

    Returns
    -------
    str

    >>> size_text((85, 60)), size_text((85, 50.8), units="imperial")
    ('85 × 60 mm', '3 3/8 × 2 in')
    """
    across, down = (length_text(mm, units=units) for mm in size_mm)
    return f"{across.rsplit(' ', 1)[0]} × {down}"


def thread_text(m: float, *, units: Units = "metric") -> str:
    """Write a length of thread: metres, or yards.

    Parameters
    ----------
    m : float
        A length. [m]
    units : Units, optional
        Metric, or inches and yards.

    Returns
    -------
    str

    >>> thread_text(5000), thread_text(5000, units="imperial")
    ('5,000.000 m', '5,468.066 yd')
    """
    if units == "metric":
        return f"{round_half_up(m, 3):,.3f} m"
    return f"{round_half_up(m / M_PER_YARD, 3):,.3f} yd"
