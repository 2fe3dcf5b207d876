"""The plain face: each letter as joined strokes, and the way a needle goes along them."""

from __future__ import annotations

import math
import unicodedata
from functools import cache, lru_cache

import numpy as np
import shapely
from HersheyFonts import HersheyFonts
from numpy.typing import NDArray

from clothyard.core.record import record

CAP_UNITS = 21
"""Height of a capital in font units."""
_TOUCH_UNITS = 1.2
"""Strokes that end this near to another one are joined to it."""
_MEAN_OF = "abcdefghijklmnopqrstuvwxyz"

_FOLDED = {
    "ß": "ss",
    "æ": "ae",
    "Æ": "AE",
    "œ": "oe",
    "Œ": "OE",
    "ø": "o",
    "Ø": "O",
    "ł": "l",
    "Ł": "L",
    "đ": "d",
    "Đ": "D",
    "ı": "i",
    "þ": "th",
    "Þ": "Th",
    "ð": "d",
    "Ð": "D",
    "’": "'",
    "‘": "'",
    "“": '"',
    "”": '"',
    "–": "-",
    "—": "-",
    "…": "...",
    " ": " ",
    "\t": " ",
}

Stroke = tuple[tuple[float, float], ...]
# marks over or under a letter, x from its middle, y up from its top or down from the baseline
_OVER: dict[str, tuple[Stroke, ...]] = {
    "\u0300": (((-3, 7), (1, 3)),),
    "\u0301": (((3, 7), (-1, 3)),),
    "\u0302": (((-4, 3), (0, 7), (4, 3)),),
    "\u0303": (((-5, 4), (-2, 6), (2, 4), (5, 6)),),
    "\u0304": (((-4, 5), (4, 5)),),
    "\u0306": (((-4, 7), (-2, 4), (2, 4), (4, 7)),),
    "\u0307": (((-1, 4), (0, 5), (1, 4), (0, 3), (-1, 4)),),
    "\u0308": (
        ((-4, 4), (-3, 5), (-2, 4), (-3, 3), (-4, 4)),
        ((2, 4), (3, 5), (4, 4), (3, 3), (2, 4)),
    ),
    "\u030a": (((-2, 5), (0, 7), (2, 5), (0, 3), (-2, 5)),),
    "\u030b": (((0, 7), (-3, 3)), ((5, 7), (2, 3))),
    "\u030c": (((-4, 7), (0, 3), (4, 7)),),
}
_UNDER: dict[str, tuple[Stroke, ...]] = {
    "\u0327": (((0, 0), (2, 3), (0, 6), (-3, 6)),),
    "\u0328": (((0, 0), (-2, 3), (0, 6), (3, 6)),),
    "\u0326": (((1, 3), (-1, 7)),),
}


@record
class Walk:
    """One stretch of the needle's way along a letter's strokes, in font units.

    `satin` False: the underlay on the way out; True: the column on the way back.
    """

    points: NDArray[np.float64]
    satin: bool


@record
class Letter:
    """A letter: its advance, and per joined part the walks in sewing order. [font units]"""

    advance: float
    parts: tuple[tuple[Walk, ...], ...]


@cache
def _glyphs() -> dict[str, tuple[float, tuple[Stroke, ...]]]:
    """Read the face: character to (advance, strokes from its left side)."""
    face = HersheyFonts()
    face.load_default_font("futural")
    found = {}
    for char, glyph in face.all_glyphs.items():
        left = float(glyph.left_offset)
        strokes = tuple(tuple((x - left, float(y)) for x, y in s) for s in glyph.strokes)
        found[char] = (float(glyph.char_width), strokes)
    return found


def folded(text: str) -> str:
    """Replace what the face lacks but can be written otherwise (ß by ss, a curly quote)."""
    return "".join(_FOLDED.get(char, char) for char in unicodedata.normalize("NFC", text))


def _split_char(char: str) -> tuple[str, str]:
    parts = unicodedata.normalize("NFD", char)
    return parts[0], parts[1:]


@lru_cache(maxsize=4096)
def has_letter(char: str) -> bool:
    """Whether the face has a character, with its accents."""
    base, marks = _split_char(char)
    return base in _glyphs() and all(mark in _OVER or mark in _UNDER for mark in marks)


def lacking(text: str) -> str:
    """Return the characters of a text that the lettering lacks, each once."""
    missing = [char for char in folded(text) if char != "\n" and not has_letter(char)]
    return "".join(dict.fromkeys(missing))


@cache
def mean_letter() -> str:
    """Return the small letter whose width is nearest to the mean of all."""
    widths = {char: _glyphs()[char][0] for char in _MEAN_OF}
    mean = sum(widths.values()) / len(widths)
    return min(widths, key=lambda char: (abs(widths[char] - mean), char))


def _strokes(char: str) -> tuple[float, list[Stroke]]:
    base, marks = _split_char(char)
    advance, drawn = _glyphs()[base]
    strokes = [s for s in drawn if len(s) > 1]
    if marks and base in "ij" and any(mark in _OVER for mark in marks):
        strokes = [s for s in strokes if max(y for _, y in s) > 0]  # the dot gives way
    top = min((y for s in strokes for _, y in s), default=0.0)
    middle = advance / 2
    for mark in marks:
        for stroke in _OVER.get(mark, ()):
            strokes.append(tuple((middle + x, top - y) for x, y in stroke))
        for stroke in _UNDER.get(mark, ()):
            strokes.append(tuple((middle + x, 9 + y) for x, y in stroke))
    return advance, strokes


def _joined(strokes: list[Stroke]) -> list[NDArray[np.float64]]:
    """Cut strokes where they meet; ends that nearly touch another stroke are drawn onto it."""
    lines = [shapely.LineString(s) for s in strokes]
    drawn = []
    for i, line in enumerate(lines):
        coords = list(line.coords)
        for end in (0, -1):
            point = shapely.Point(coords[end])
            near = [other for k, other in enumerate(lines) if k != i]
            other = min(near, key=point.distance, default=None)
            if other is not None and 0 < point.distance(other) < _TOUCH_UNITS:
                coords[end] = other.interpolate(other.project(point)).coords[0]
        drawn.append(shapely.LineString(coords))
    union = shapely.unary_union(drawn, grid_size=0.001)
    parts = (
        shapely.get_parts(shapely.line_merge(union)) if union.geom_type != "LineString" else [union]
    )
    return [np.asarray(part.coords, dtype=float) for part in parts]


def _walk(edges: list[NDArray[np.float64]]) -> list[tuple[Walk, ...]]:
    """Find the needle's way: out along each stroke as underlay, back along it as satin.

    Every joined part is entered and left at its lowest left end, without travel of its own.
    """
    ends = [(tuple(np.round(e[0], 2)), tuple(np.round(e[-1], 2))) for e in edges]
    incident: dict[tuple[float, ...], list[int]] = {}
    for i, pair in enumerate(ends):
        for node in dict.fromkeys(pair):
            incident.setdefault(node, []).append(i)
    seen_edges: set[int] = set()
    seen_nodes: set[tuple[float, ...]] = set()

    def visit(node: tuple[float, ...], walks: list[Walk]) -> None:
        seen_nodes.add(node)
        for i in incident[node]:
            if i in seen_edges:
                continue
            seen_edges.add(i)
            there = edges[i] if ends[i][0] == node else edges[i][::-1]
            far = ends[i][1] if ends[i][0] == node else ends[i][0]
            walks.append(Walk(there, satin=False))
            if far not in seen_nodes:
                visit(far, walks)
            walks.append(Walk(there[::-1], satin=True))

    parts = []
    for node in sorted(incident, key=lambda n: (n[0] - n[1], n[0])):
        if node not in seen_nodes:
            walks: list[Walk] = []
            visit(node, walks)
            parts.append(tuple(walks))
    return parts


@cache
def letter(char: str) -> Letter:
    """Return a letter of the plain face.

    Raises
    ------
    KeyError
        If the face lacks it; see `has_letter`.
    """
    advance, strokes = _strokes(char)
    return Letter(advance, tuple(_walk(_joined(strokes)))) if strokes else Letter(advance, ())


def resampled(points: NDArray[np.float64], pieces: int) -> NDArray[np.float64]:
    """Cut a polyline into equal pieces: all ends, shape (pieces + 1, 2).

    Parameters
    ----------
    points : NDArray[np.float64]
        Shape (n, 2). [mm]
    pieces : int
        How many.

    Returns
    -------
    NDArray[np.float64]
    """
    steps = np.hypot(*np.diff(points, axis=0).T)
    along = np.concatenate(([0.0], np.cumsum(steps)))
    at = np.linspace(0.0, along[-1], pieces + 1)
    return np.column_stack((np.interp(at, along, points[:, 0]), np.interp(at, along, points[:, 1])))


def length_of(points: NDArray[np.float64]) -> float:
    """Length of a polyline."""
    return float(np.hypot(*np.diff(points, axis=0).T).sum())


def pieces_of(length: float, step: float) -> int:
    """Number of stitches of at most `step` along a length.

    Parameters
    ----------
    length : float
        [mm]
    step : float
        0: none.

    Returns
    -------
    int
    """
    return max(1, math.ceil(length / step - 1e-6))
