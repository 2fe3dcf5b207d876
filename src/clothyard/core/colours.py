"""Plain names for thread colours, so that a colour is never told by its picture alone."""

from __future__ import annotations

from functools import lru_cache

from coloraide import Color

NAMES = {
    "black": "#101010",
    "charcoal": "#3c4044",
    "grey": "#84888c",
    "silver": "#bfc2c4",
    "white": "#fbfbf8",
    "cream": "#f2e6c4",
    "beige": "#d6c19a",
    "tan": "#b78e5b",
    "brown": "#6b4423",
    "rust": "#9a4a1d",
    "orange": "#e5801f",
    "gold": "#c9972b",
    "yellow": "#f0cf2e",
    "lemon": "#f5ee7e",
    "olive": "#6d6b2a",
    "lime": "#8fc33a",
    "green": "#2f8a45",
    "dark green": "#1d4a2e",
    "mint": "#a5dcc0",
    "teal": "#1f7377",
    "turquoise": "#35b6b4",
    "sky blue": "#7fb2d6",
    "blue": "#2a5fae",
    "royal blue": "#123f9c",
    "navy": "#17284d",
    "lilac": "#b2afd4",
    "purple": "#5f3a86",
    "plum": "#6c2348",
    "pink": "#eaa0b4",
    "rose": "#cf4f77",
    "red": "#c4222b",
    "burgundy": "#771c2a",
}
"""Working defaults: a word for each part of the range of thread."""


CLOTHS = {
    "moss": "#6b7a35",
    "bottle green": "#12402c",
    "forest": "#1f4a30",
    "sage": "#9aa88a",
    "khaki": "#8a8256",
    "oat": "#ded0b1",
    "oatmeal": "#d8cdb8",
    "ecru": "#e6dcc3",
    "natural": "#e8dec8",
    "stone": "#c9bfab",
    "sand": "#d9c7a0",
    "chalk": "#f5f2ea",
    "ivory": "#f6f0de",
    "slate": "#56626d",
    "ash": "#c4c6c6",
    "graphite": "#4a4e53",
    "sky": "#9cc3e0",
    "denim": "#4a6488",
    "aqua": "#7cc7c7",
    "brick": "#9c4230",
    "terracotta": "#bb6143",
    "mustard": "#c99a2e",
    "peach": "#f2c3a0",
    "coral": "#e4705c",
    "wine": "#5c1a2c",
    "maroon": "#6a1a26",
    "lavender": "#b7aed8",
    "chocolate": "#4a2f22",
    "camel": "#bb8e5a",
    "marl": "#a9acad",
    "heather": "#a2a5ab",
    "gray": "#84888c",
}
"""Further words that blanks are sold by."""


def _rgb(colour: str) -> tuple[int, int, int]:
    return int(colour[1:3], 16), int(colour[3:5], 16), int(colour[5:7], 16)


@lru_cache(maxsize=1024)
def colour_name(colour: str) -> str:
    """Return the nearest plain name of a colour given as "#rrggbb".

    Nearness weighs red and blue by how light the pair is, a common low-cost approximation of
    seen difference.

    >>> colour_name("#1d3b6f")
    'navy'
    """
    r, g, b = _rgb(colour)

    def distance(other: str) -> float:
        r2, g2, b2 = _rgb(NAMES[other])
        mean = (r + r2) / 2
        red, blue = 2 + mean / 256, 2 + (255 - mean) / 256
        return red * (r - r2) ** 2 + 4 * (g - g2) ** 2 + blue * (b - b2) ** 2

    return min(NAMES, key=distance)


def colour_of(said: str) -> str | None:
    """Return the colour that a word stands for, "#rrggbb"; None for a word that is not known.

    Of several words the longest known one at their end counts: "heather navy" is navy.

    >>> colour_of("Heather Navy"), colour_of("#AA0000"), colour_of("oatmeal mix")
    ('#17284d', '#aa0000', None)
    >>> colour_of("bottle green"), colour_of("Moss")
    ('#12402c', '#6b7a35')
    """
    words = said.strip().lower().split()
    for at in range(len(words)):
        name = " ".join(words[at:])
        if name in NAMES or name in CLOTHS:
            return NAMES.get(name) or CLOTHS[name]
    return said.strip().lower() if len(words) == 1 and _is_hex(words[0]) else None


def _is_hex(said: str) -> bool:
    return len(said) == 7 and said[0] == "#" and all(c in "0123456789abcdef" for c in said[1:])


DARK_L = 40.0
"""Cloth darker than this (CIELAB lightness, 0 black to 100 white) hides a dark bobbin."""
SHADES = {"dark": -18.0, "deep": -14.0, "midnight": -25.0, "light": 18.0, "pale": 22.0}
"""How far such a word before a colour moves its lightness."""


@lru_cache(maxsize=1024)
def is_dark(said: str) -> bool | None:
    """Say whether cloth of a colour, as it is sold, is dark; None for a word that is not known.

    >>> is_dark("Midnight blue"), is_dark("light brown"), is_dark("French navy"), is_dark("Moss")
    (True, False, True, False)
    """
    found = colour_of(said)
    if found is None:
        return None
    lightness = float(Color(found).convert("lab")["lightness"])
    words = said.strip().lower().split()
    named = colour_name_known(words)
    lightness += sum(SHADES.get(word, 0.0) for word in words[: len(words) - named])
    return lightness < DARK_L


def colour_name_known(words: list[str]) -> int:
    """Count the words at the end that name the colour."""
    for at in range(len(words)):
        name = " ".join(words[at:])
        if name in NAMES or name in CLOTHS:
            return len(words) - at
    return len(words)


@lru_cache(maxsize=1024)
def seen_difference(one: str, other: str) -> float:
    """How far two colours, "#rrggbb", lie apart for the eye: 0 the same, 100 black and white.

    Source: CIEDE2000, by `coloraide`.
    """
    return float(Color(one).delta_e(other, method="2000"))
