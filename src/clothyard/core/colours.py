"""Plain names for thread colours, so that a colour is never told by its picture alone."""

from __future__ import annotations

from functools import lru_cache

NAMES = {
    "black": "#101010", "charcoal": "#3c4044", "grey": "#84888c", "silver": "#bfc2c4",
    "white": "#fbfbf8", "cream": "#f2e6c4", "beige": "#d6c19a", "tan": "#b78e5b",
    "brown": "#6b4423", "rust": "#9a4a1d", "orange": "#e5801f", "gold": "#c9972b",
    "yellow": "#f0cf2e", "lemon": "#f5ee7e", "olive": "#6d6b2a", "lime": "#8fc33a",
    "green": "#2f8a45", "dark green": "#1d4a2e", "mint": "#a5dcc0", "teal": "#1f7377",
    "turquoise": "#35b6b4", "sky blue": "#7fb2d6", "blue": "#2a5fae", "royal blue": "#123f9c",
    "navy": "#17284d", "lilac": "#b2afd4", "purple": "#5f3a86", "plum": "#6c2348",
    "pink": "#eaa0b4", "rose": "#cf4f77", "red": "#c4222b", "burgundy": "#771c2a",
}  # fmt: skip
"""Working defaults: a word for each part of the range of thread."""


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
