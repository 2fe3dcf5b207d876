"""The documents' fonts: shipped with the application, checked for missing characters."""

from __future__ import annotations

import threading
from functools import cache
from importlib.resources import files

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

TEXT, BOLD, HEAD = "ClothyardText", "ClothyardTextBold", "ClothyardHead"
_FILES = {TEXT: "text-regular.ttf", BOLD: "text-bold.ttf", HEAD: "head-bold.ttf"}
STAND_IN = "?"
_REGISTERING = threading.Lock()


def register() -> frozenset[int]:
    """Register the fonts once; return the code points that all of them have."""
    with _REGISTERING:
        return _registered()


@cache
def _registered() -> frozenset[int]:
    known: set[int] | None = None
    for name, file in _FILES.items():
        font = TTFont(name, str(files(__package__).joinpath("fonts", file)))
        pdfmetrics.registerFont(font)
        glyphs = set(font.face.charToGlyph)
        known = glyphs if known is None else known & glyphs
    pdfmetrics.registerFontFamily(TEXT, normal=TEXT, bold=BOLD, italic=TEXT, boldItalic=BOLD)
    return frozenset(known or ())


IN_WORDS = {"⌈": "rounded up (", "⌊": "rounded down (", "⌉": ")", "⌋": ")", "Σ": "the sum of"}
"""Signs of formulas that the fonts lack."""


def printable(text: str) -> str:
    """Return text with a question mark for each character that the fonts lack."""
    known = register()
    for sign, words in IN_WORDS.items():
        text = text.replace(sign, words)
    return "".join(c if ord(c) in known or c == "\n" else STAND_IN for c in text)


def lacking(text: str) -> list[str]:
    """List the characters of a text that would not print."""
    known = register()
    return sorted({c for c in text if ord(c) not in known and c not in "\n\r\t"})
