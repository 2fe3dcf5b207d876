"""The full-size template: a placement to cut out and lay on the piece, 1:1, tiled over pages.

Everything is drawn in millimetres of the piece: x to the viewer's right and y down from the
design's centre. Large ones tile over pages that overlap, with marks to lay them by.
"""

from __future__ import annotations

import io
import math
from collections.abc import Sequence
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from reportlab.lib.colors import HexColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from clothyard.core.estimate.document import WherePlaced
from clothyard.core.house.document import Hoop, House
from clothyard.core.measures import length_text, size_text
from clothyard.core.record import record
from clothyard.documents.fonts import BOLD, TEXT, printable, register
from clothyard.documents.layout import INK, PAGES, PLAIN_THREAD, SOFT, Picture, alone

MARGIN_MM = 12.0
FOOT_MM = 26.0
"""Under each page: the bar to measure, and what it is."""

OVERLAP_MM = 15.0
BAR_MM = 100.0
AROUND_MM = 6.0
LABEL_MM = 4.0
"""From one line of words to the next."""
FURTHEST_MM = 1000.0
"""A reference further away than this is told in words only."""

Point = tuple[float, float]


@record
class TemplateOf:
    """What is drawn: the design, where it goes, in which hoop, and how it is called.

    `reference` and `side` are what the measures are taken from.
    """

    title: str
    what: str
    picture: Picture
    where: WherePlaced
    hoop: Hoop | None
    reference: str
    side: str


@record
class Drawn:
    """The template's geometry. [mm] from the design's centre, y down.

    `references` are (y, which sizes, how far); `sides` the same across.
    """

    hull: tuple[Point, ...]
    runs: tuple[tuple[str | None, tuple[Point, ...]], ...]
    hoop: tuple[Point, ...]
    references: tuple[tuple[float, str, float], ...]
    sides: tuple[tuple[float, str, float], ...]
    box: tuple[float, float, float, float]


Points = NDArray[np.float64]
"""Shape (n, 2). [mm]"""


def _turned(points: Points, degrees: float, *, mirror: bool = False) -> Points:
    """Turn points with the clock on the piece (y is down), after mirroring them."""
    if mirror:
        points = points * np.array([-1.0, 1.0])
    a = math.radians(degrees)
    turned: Points = points @ np.array([[math.cos(a), math.sin(a)], [-math.sin(a), math.cos(a)]])
    return turned


def _hull(points: Points) -> tuple[Point, ...]:
    """Return the hull of points, the box of them where they lie in one line."""
    hull = shapely.MultiPoint(points).convex_hull
    if hull.geom_type != "Polygon":
        hull = shapely.box(*hull.buffer(0.05).bounds)
    return tuple((float(x), float(y)) for x, y in list(hull.exterior.coords)[:-1])


def _corners(width: float, height: float) -> Points:
    half = np.array([width / 2, height / 2])
    corners: Points = np.array([(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)]) * half
    return corners


def drawn(of: TemplateOf) -> Drawn:
    """Work out a template's geometry.

    Parameters
    ----------
    of : TemplateOf
    """
    where, picture = of.where, of.picture
    turn = where.turn + where.tilt_deg
    half = np.array([picture.width_mm / 2, picture.height_mm / 2])
    runs = []
    for colour, parts in picture.blocks:
        for run in parts:
            points = _turned(np.array(run, dtype=float) - half, turn, mirror=where.mirror)
            runs.append((colour, tuple((float(x), float(y)) for x, y in points)))
    whole = np.array([p for _, run in runs for p in run]) if runs else None
    if whole is None or len(whole) < 3:
        given = [tuple(corner) for corner in where.corners_mm]
        whole = np.array(given) if given else _corners(picture.width_mm, picture.height_mm)
    hull = _hull(whole)
    hoop: tuple[Point, ...] = ()
    if of.hoop is not None:
        opening = _corners(float(of.hoop.opening_width_mm), float(of.hoop.opening_height_mm))
        hoop = tuple(
            (float(x), float(y)) for x, y in _turned(opening, where.hoop_way + where.tilt_deg)
        )
    references, sides = _references(where)
    xs = [x for x, _ in (*hull, *hoop)] + [x for x, _, _ in sides]
    ys = [y for _, y in (*hull, *hoop)] + [y for y, _, _ in references]
    box = (min(xs) - AROUND_MM, min(ys) - AROUND_MM, max(xs) + AROUND_MM, max(ys) + AROUND_MM)
    return Drawn(hull, tuple(runs), hoop, references, sides, box)


def _references(
    where: WherePlaced,
) -> tuple[tuple[tuple[float, str, float], ...], tuple[tuple[float, str, float], ...]]:
    down: dict[float, list[str]] = {}
    across: dict[float, list[str]] = {}
    for mark in where.marks:
        if mark.from_reference_mm is not None and 0 < abs(mark.y_mm) <= FURTHEST_MM:
            down.setdefault(-mark.y_mm, []).append(mark.sizes)
        if 0 < abs(mark.x_mm) <= FURTHEST_MM:
            across.setdefault(-mark.x_mm, []).append(mark.sizes)
    return tuple(
        tuple((at, "; ".join(filter(None, sizes)), abs(at)) for at, sizes in rows.items())
        for rows in (down, across)
    )  # type: ignore[return-value]


class _Sheet:
    """Draws one template over as many pages as it takes."""

    def __init__(
        self,
        canvas: Any,
        of: TemplateOf,
        page: str,
        house: House,
        *,
        mirrored: bool,
        not_yet: Sequence[str],
    ):
        self.canvas, self.of, self.house, self.mirrored = canvas, of, house, mirrored
        self.not_yet = not_yet
        self.geometry = drawn(of)
        self.wide, self.high = (side / mm for side in PAGES[page])
        left, top, right, bottom = self.geometry.box
        if mirrored:
            left, right = -right, -left
        self.left, self.top = left, top
        self.room = (self.wide - 2 * MARGIN_MM, self.high - MARGIN_MM - FOOT_MM)
        self.columns = self._tiles(right - left, self.room[0])
        self.rows = self._tiles(bottom - top, self.room[1])

    @staticmethod
    def _tiles(length: float, room: float) -> int:
        return 1 if length <= room else math.ceil((length - OVERLAP_MM) / (room - OVERLAP_MM))

    def draw(self) -> None:
        """Draw every page."""
        for row in range(self.rows):
            for column in range(self.columns):
                self._page(row, column)
                self.canvas.showPage()

    def _page(self, row: int, column: int) -> None:
        canvas, k = self.canvas, mm
        step_x, step_y = self.room[0] - OVERLAP_MM, self.room[1] - OVERLAP_MM
        x0, y0 = self.left + column * step_x, self.top + row * step_y
        canvas.saveState()
        frame = canvas.beginPath()
        frame.rect(MARGIN_MM * k, FOOT_MM * k, self.room[0] * k, self.room[1] * k)
        canvas.clipPath(frame, stroke=0, fill=0)
        # from here on a unit is a millimetre of the piece, y down, the origin the design's centre
        canvas.transform(k, 0, 0, -k, (MARGIN_MM - x0) * k, (self.high - MARGIN_MM + y0) * k)
        self._design()
        canvas.restoreState()
        self._joins(row, column)
        self._foot(row, column)

    def _x(self, x: float) -> float:
        return -x if self.mirrored else x

    def _line(self, x0: float, y0: float, x1: float, y1: float) -> None:
        self.canvas.line(self._x(x0), y0, self._x(x1), y1)

    def _path(self, points: Sequence[Point], *, close: bool) -> None:
        path = self.canvas.beginPath()
        for i, (x, y) in enumerate(points):
            (path.lineTo if i else path.moveTo)(self._x(x), y)
        if close:
            path.close()
        self.canvas.drawPath(path)

    def _words(self, x: float, y: float, words: str, *, size: float = 8) -> None:
        canvas = self.canvas
        canvas.saveState()
        canvas.translate(self._x(x), y)
        canvas.scale(1 / mm, -1 / mm)
        canvas.setFont(TEXT, size)
        canvas.setFillColor(INK)
        if self.mirrored:
            canvas.drawRightString(0, 0, printable(words))
        else:
            canvas.drawString(0, 0, printable(words))
        canvas.restoreState()

    def _design(self) -> None:
        canvas, g = self.canvas, self.geometry
        canvas.setLineJoin(1)
        canvas.setLineWidth(0.2)
        for colour, run in g.runs:
            canvas.setStrokeColor(HexColor(colour or PLAIN_THREAD))
            self._path(run, close=False)
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.35)
        self._path(g.hull, close=True)
        if g.hoop:
            canvas.setDash(4, 2)
            self._path(g.hoop, close=True)
            canvas.setDash()
            x, y = min(g.hoop, key=lambda p: (p[1], p[0]))
            self._words(x + 2, y + 4, f"opening of {self.of.hoop.label if self.of.hoop else ''}")
        self._cross()
        self._marks()

    def _cross(self) -> None:
        """Draw the centre: axes over the whole design, a cross, and the arrow that points up."""
        canvas, g = self.canvas, self.geometry
        left, right = min(x for x, _ in g.hull) - 5, max(x for x, _ in g.hull) + 5
        top, bottom = min(y for _, y in g.hull) - 5, max(y for _, y in g.hull) + 5
        canvas.setLineWidth(0.15)
        canvas.setStrokeColor(SOFT)
        canvas.setDash(6, 2)
        self._line(left, 0, right, 0)
        self._line(0, top, 0, bottom)
        canvas.setDash()
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.5)
        self._line(-5, 0, 5, 0)
        self._line(0, -5, 0, 5)
        self._line(0, top - 1, 0, top + 5)
        self._line(0, top - 1, -2, top + 2)
        self._line(0, top - 1, 2, top + 2)
        self._words(2.5, top + 1, "up", size=9)

    def _marks(self) -> None:
        """Draw the edges that the centre is measured from, each with its distance and sizes.

        Words of edges that lie close together stand below each other, those of sides in rows.
        """
        canvas, g, units = self.canvas, self.geometry, self.house.shop.units
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.4)
        x0, y0, x1, y1 = g.box
        at = -math.inf
        for y, sizes, far in sorted(g.references):
            self._line(x0, y, x1, y)
            of = f" ({sizes})" if sizes else ""
            at = max(y + LABEL_MM, at + LABEL_MM)
            self._words(
                max(x0 + 2, -60),
                at,
                f"{self.of.reference}{of}: {length_text(far, units=units)} to the centre",
            )
        for n, (x, sizes, far) in enumerate(sorted(g.sides)):
            self._line(x, y0, x, y1)
            of = f" ({sizes})" if sizes else ""
            self._words(
                x + 1.5,
                y1 - 3 - LABEL_MM * n,
                f"{self.of.side}{of}: {length_text(far, units=units)}",
            )

    def _joins(self, row: int, column: int) -> None:
        """Mark where the next page is laid over this one: a line at the overlap, and its name."""
        canvas, k = self.canvas, mm
        canvas.setStrokeColor(SOFT)
        canvas.setFillColor(SOFT)
        canvas.setLineWidth(0.5)
        canvas.setDash(1, 2)
        canvas.setFont(TEXT, 8)
        right, top = self.wide - MARGIN_MM, self.high - MARGIN_MM
        if column:
            x = MARGIN_MM + OVERLAP_MM
            canvas.line(x * k, FOOT_MM * k, x * k, top * k)
            canvas.drawString(
                (x + 1) * k, (top - 4) * k, f"to here over {self._name(row, column - 1)}"
            )
        if column < self.columns - 1:
            x = right - OVERLAP_MM
            canvas.line(x * k, FOOT_MM * k, x * k, top * k)
        if row:
            y = top - OVERLAP_MM
            canvas.line(MARGIN_MM * k, y * k, right * k, y * k)
            canvas.drawString(
                (MARGIN_MM + 1) * k, (y + 1) * k, f"to here over {self._name(row - 1, column)}"
            )
        if row < self.rows - 1:
            y = FOOT_MM + OVERLAP_MM
            canvas.line(MARGIN_MM * k, y * k, right * k, y * k)
        canvas.setDash()

    def _name(self, row: int, column: int) -> str:
        return f"{'ABCDEFGHIJKLMNOPQRSTUVWXYZ'[row % 26]}{column + 1}"

    def _foot(self, row: int, column: int) -> None:
        """Draw the bar to measure, and say what it is."""
        canvas, k, of = self.canvas, mm, self.of
        y = 15.0
        canvas.setStrokeColor(INK)
        canvas.setFillColor(INK)
        canvas.setLineWidth(0.8)
        canvas.line(MARGIN_MM * k, y * k, (MARGIN_MM + BAR_MM) * k, y * k)
        for n in range(11):
            tall = 3 if n % 5 == 0 else 1.5
            at = (MARGIN_MM + n * 10) * k
            canvas.line(at, y * k, at, (y + tall) * k)
        canvas.setFont(TEXT, 8)
        canvas.drawString(
            (MARGIN_MM + BAR_MM + 3) * k, y * k, "100 mm: print at 100%, then measure it"
        )
        canvas.setFont(BOLD, 9)
        if self.not_yet:
            said = f"NOT TO BE WORKED FROM YET: {', '.join(self.not_yet)}"
            canvas.drawString(MARGIN_MM * k, 4.5 * k, said)
        size = size_text((of.picture.width_mm, of.picture.height_mm), units=self.house.shop.units)
        pages = f", page {self._name(row, column)} of {self.rows * self.columns}"
        mirrored = ", mirrored: for the wrong side" if self.mirrored else ""
        canvas.drawString(
            MARGIN_MM * k,
            9 * k,
            printable(
                f"{of.title}: {of.what}, {size}{mirrored}"
                + (pages if self.rows * self.columns > 1 else "")
            ),
        )


@alone
def template_pdf(
    templates: Sequence[TemplateOf],
    house: House,
    *,
    title: str,
    not_yet: Sequence[str] = (),
    page: str = "",
    mirrored: bool = False,
) -> bytes:
    """Set templates 1:1, each on its own pages.

    Parameters
    ----------
    templates : sequence of TemplateOf
    house : House
    not_yet : sequence of str
        Why they must not be worked from yet.
    page : "a4" or "letter", "" as the shop has it
    mirrored : bool
        For marking from the wrong side.
    """
    register()
    page = page or house.papers.size
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=PAGES[page], invariant=1)
    canvas.setTitle(printable(title))
    canvas.setCreator("Clothyard")
    for of in templates:
        _Sheet(canvas, of, page, house, mirrored=mirrored, not_yet=not_yet).draw()
    canvas.save()
    return stream.getvalue()
