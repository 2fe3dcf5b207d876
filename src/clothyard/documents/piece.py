"""The piece on paper: the goods as we draw them, in their colour, with the designs in their places.

The drawings are data, `drawings.json`, which the screens draw too: real millimetres at a middle
size, x to the viewer's right from the centre line, y down.
"""

from __future__ import annotations

import json
import re
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

from reportlab.lib.colors import Color, HexColor
from reportlab.lib.units import mm
from reportlab.platypus import Flowable

from clothyard.core.house.document import Position
from clothyard.documents.fonts import TEXT
from clothyard.documents.layout import INK, LINE, PLAIN_THREAD, SOFT, Picture

CLOTH = "#e6ddcc"
WASH = 0.72
"""How much of the cloth's own colour its wash has, so that lines stay to be seen."""

NAMED = (
    ("pocket", "pocket"),
    ("sole", "sole"),
    ("block", "block"),
    ("hood", "hood"),
    ("wing", "wing"),
    ("tip of", "tip"),
    ("fold of the (collar|brim)", "fold"),
    ("turned-down", "border"),
    ("edge of the back", "back"),
    ("edge of the side", "side"),
    ("waist", "waist"),
    ("strap", "end"),
    ("neck(line| seam)", "neckline"),
    ("collar", "collar"),
    ("peak", "peak"),
    ("cuff", "cuff"),
    ("border", "border"),
    ("corner", "corner"),
    (r"hem\b", "hem"),
    ("seam", "seam"),
    ("top|edge", "top"),
)
"""What a reference is called in the standards, and the point of the drawing that stands for it."""

View = dict[str, Any]
"""Of a drawing: side, paths (body, behind, over, lines, stitch), anchors, lengths. [mm]"""


@dataclass(frozen=True, slots=True)
class Placed:
    """A design on a piece: its picture, where its centre lies on which view, turned how. [mm]

    With `measured` its centre is marked, and what it says written at a line from `reference`.
    """

    picture: Picture
    view: int
    x_mm: float
    y_mm: float
    turn_deg: float
    mirror: bool
    reference: tuple[float, float] | None = None
    measured: str = ""


@lru_cache(maxsize=1)
def drawings() -> dict[str, list[View]]:
    """Return the views of every drawing, by class."""
    text = files("clothyard.documents").joinpath("drawings.json").read_text("utf-8")
    return {key: drawing["views"] for key, drawing in json.loads(text).items()}


def anchor_of(reference: str) -> str:
    """Name the point of a drawing that a reference is.

    >>> anchor_of("collar seam"), anchor_of("top edge of the band")
    ('collar', 'top')
    """
    return next((anchor for words, anchor in NAMED if re.search(words, reference)), "top")


def view_of(views: Sequence[View], position: Position) -> int | None:
    """Return which view shows a position: the back for what is measured on the back."""
    anchor = anchor_of(position.reference)
    showing = [n for n, view in enumerate(views) if anchor in view["anchors"]]
    side = "back" if "back" in position.side_reference else "front"
    side = "side" if anchor == "cuff" else side
    return next((n for n in showing if views[n]["side"] == side), showing[0] if showing else None)


def spot_on(
    view: View, position: Position, *, from_reference_mm: float | None, x_mm: float, y_mm: float
) -> tuple[float, float]:
    """Return where a design's centre lies on a view that shows its position, from its mark. [mm]"""
    anchor = anchor_of(position.reference)
    x, y = view["anchors"][anchor]
    if "right ear" in position.side_reference:
        x = -x  # ears are drawn both, and named by the wearer's side
    if from_reference_mm is None:
        down = view.get("lengths", {}).get(anchor, view.get("length", 0.0))
        return x, y + down * position.share
    way = -1 if anchor == "corner" else 1  # the drawn corner is the lower right one
    return x + way * x_mm, y + way * y_mm


def _segments(path: str) -> Iterator[tuple[str, list[float]]]:
    for at, rest in re.findall(r"([MLCQZ])([^MLCQZ]*)", path):
        yield at, [float(n) for n in re.findall(r"-?\d+(?:\.\d+)?", rest)]


def extent(view: View) -> tuple[float, float, float, float]:
    """Return the box round a view, from its paths' points: x, y, width, height. [mm]"""
    paths = "".join(view.get(key) or "" for key in ("body", "behind", "over", "lines"))
    numbers = [n for _, part in _segments(paths) for n in part]
    xs, ys = numbers[::2], numbers[1::2]
    return min(xs), min(ys), max(xs) - min(xs), max(ys) - min(ys)


def washed(cloth: str | None) -> Color:
    """Return the wash of a cloth's colour, "#rrggbb"; of undyed cloth where it is not known."""
    plain, own = HexColor(CLOTH), HexColor(cloth or CLOTH)
    mixed = [a * WASH + b * (1 - WASH) for a, b in zip(own.rgb(), plain.rgb(), strict=True)]
    return Color(*(0.75 * part + 0.25 for part in mixed))


class PieceDrawing(Flowable):  # type: ignore[misc]
    """Views of a piece side by side, to one scale, with its designs in their places.

    Parameters
    ----------
    views : list of View
    placed : list of Placed
        `view` counts the views given.
    cloth : str or None
        What it looks like, "#rrggbb".
    high_mm : float
        Of the tallest view on paper.
    """

    def __init__(
        self,
        views: Sequence[View],
        placed: Sequence[Placed],
        *,
        cloth: str | None = None,
        high_mm: float = 62,
        wide_mm: float = 168,
    ):
        super().__init__()
        self.views, self.placed, self.cloth = views, placed, cloth
        self.boxes = [extent(view) for view in views]
        gaps = 8.0 * (len(views) - 1)
        wide, high = sum(b[2] for b in self.boxes), max(b[3] for b in self.boxes)
        self.k = min(high_mm / high, (wide_mm - gaps) / wide) * mm
        self.width = wide * self.k + gaps * mm
        self.height = high * self.k + 2 * mm

    def draw(self) -> None:
        """Draw it."""
        left = 0.0
        for n, (view, (x, y, width, _)) in enumerate(zip(self.views, self.boxes, strict=True)):
            canvas = self.canv
            canvas.saveState()
            canvas.translate(left - x * self.k, self.height - 1 * mm + y * self.k)
            canvas.scale(self.k, -self.k)
            self._goods(view)
            for placed in self.placed:
                if placed.view == n:
                    self._design(placed)
                    if placed.measured:
                        self._measure(placed)
            canvas.restoreState()
            left += width * self.k + 8 * mm

    def _path(self, d: str) -> Any:
        path, x, y = self.canv.beginPath(), 0.0, 0.0
        for at, n in _segments(d):
            if at == "Z":
                path.close()
                continue
            size = {"M": 2, "L": 2, "Q": 4, "C": 6}[at]
            for i in range(0, len(n) - size + 1, size):
                part = n[i : i + size]
                if at in "ML":
                    (path.moveTo if at == "M" and i == 0 else path.lineTo)(*part)
                elif at == "C":
                    path.curveTo(*part)
                else:  # a quadratic curve as a cubic one
                    (cx, cy), (ex, ey) = part[:2], part[2:]
                    path.curveTo(
                        x + 2 / 3 * (cx - x),
                        y + 2 / 3 * (cy - y),
                        ex + 2 / 3 * (cx - ex),
                        ey + 2 / 3 * (cy - ey),
                        ex,
                        ey,
                    )
                x, y = part[-2:]
        return path

    def _goods(self, view: View) -> None:
        canvas, hair = self.canv, 1 / self.k
        canvas.setLineJoin(1)
        canvas.setStrokeColor(INK)
        if view.get("behind"):
            canvas.setFillColor(HexColor("#cfc3ac"))
            canvas.setLineWidth(0.6 * hair)
            canvas.drawPath(self._path(view["behind"]), stroke=1, fill=1)
        canvas.setFillColor(washed(self.cloth))
        canvas.setLineWidth(0.9 * hair)
        if view.get("body"):
            canvas.drawPath(self._path(view["body"]), stroke=1, fill=1)
        if view.get("over"):
            canvas.drawPath(self._path(view["over"]), stroke=1, fill=1)
        canvas.setLineWidth(0.5 * hair)
        if view.get("lines"):
            canvas.drawPath(self._path(view["lines"]))
        if view.get("stitch"):
            canvas.setStrokeColor(SOFT)
            canvas.setDash(3 * hair, 2 * hair)
            canvas.drawPath(self._path(view["stitch"]))
            canvas.setDash()

    def _design(self, placed: Placed) -> None:
        canvas, hair, picture = self.canv, 1 / self.k, placed.picture
        canvas.saveState()
        canvas.translate(placed.x_mm, placed.y_mm)
        canvas.rotate(placed.turn_deg)
        if placed.mirror:
            canvas.scale(-1, 1)
        canvas.translate(-picture.width_mm / 2, -picture.height_mm / 2)
        canvas.setLineCap(1)
        canvas.setLineWidth(max(0.4, 0.25 * hair))
        for colour, runs in picture.blocks:
            canvas.setStrokeColor(HexColor(colour or PLAIN_THREAD))
            for run in runs:
                path = canvas.beginPath()
                for i, (x, y) in enumerate(run):
                    (path.lineTo if i else path.moveTo)(x, y)
                canvas.drawPath(path)
        if not picture.blocks:
            canvas.setStrokeColor(LINE)
            canvas.setDash(3 * hair, 2 * hair)
            canvas.rect(0, 0, picture.width_mm, picture.height_mm)
        canvas.restoreState()

    def _measure(self, placed: Placed) -> None:
        """Mark the centre, and draw how far it lies from its reference."""
        canvas, hair = self.canv, 1 / self.k
        x, y, arm = placed.x_mm, placed.y_mm, 9 * hair
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.8 * hair)
        canvas.line(x - arm, y, x + arm, y)
        canvas.line(x, y - arm, x, y + arm)
        if placed.reference is None:
            return
        rx, ry = placed.reference
        canvas.setDash(3 * hair, 2 * hair)
        canvas.line(rx - arm, ry, rx + arm, ry)
        canvas.line(x, ry, x, y)
        if abs(rx - x) > hair:
            canvas.line(rx, y, x, y)
        canvas.setDash()
        canvas.saveState()
        canvas.translate(x + 3 * hair, (ry + y) / 2)
        canvas.scale(hair, -hair)
        canvas.setFont(TEXT, 8)
        canvas.setFillColor(INK)
        canvas.drawString(0, -3, placed.measured)
        canvas.restoreState()
