"""What the PDF papers share: page, styles, tables, the design's picture, the yard."""

from __future__ import annotations

import io
import threading
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import wraps
from typing import Any, ParamSpec, TypeVar
from xml.sax.saxutils import escape

from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4, LETTER
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from clothyard.core.estimate.document import WayIn
from clothyard.core.measures import Units, length_text
from clothyard.core.units import minor_units
from clothyard.documents.fonts import BOLD, HEAD, TEXT, printable, register

INK, SOFT, LINE, BRASS = (HexColor(c) for c in ("#20262E", "#4B525C", "#D3C8B4", "#7E5F1C"))
LINEN = HexColor("#F3EDE1")
PLAIN_THREAD = "#6b6257"
CELL_PT = 9
MOST_LINES = 30
"""Of a table's row: what is longer goes on in the next, so that rows flow over pages."""

ONE_PAPER = threading.Lock()
"""The library that sets papers keeps things of its own between calls: one thread at a time."""


P = ParamSpec("P")
R = TypeVar("R")


def alone(make: Callable[P, R]) -> Callable[P, R]:
    """Let one thread at a time make a paper."""

    @wraps(make)
    def made(*args: P.args, **kwargs: P.kwargs) -> R:
        with ONE_PAPER:
            return make(*args, **kwargs)

    return made


YARD = (
    ("goods", ("goods",), "#5C3F2A"),
    ("needle thread", ("needle_thread",), "#A42A55"),
    ("bobbin thread", ("bobbin_thread",), "#C9667A"),
    ("backing, topping", ("backing", "topping"), "#9C7F06"),
    ("consumables, packing", ("consumables", "packing"), "#857A6E"),
    ("sheet goods", ("sheet_goods",), "#BA6124"),
    ("machine", ("machine",), "#4383AA"),
    ("handwork", ("labour",), "#2E3F82"),
    ("set-up", ("set_up",), "#57835B"),
    ("overhead", ("overhead",), "#56626D"),
    ("spoilage", ("spoilage",), "#9A57A6"),
)


@dataclass(frozen=True, slots=True)
class Picture:
    """A design to draw: size in mm, and per block its colour and runs of points. [mm]"""

    width_mm: float
    height_mm: float
    blocks: tuple[tuple[str | None, tuple[tuple[tuple[float, float], ...], ...]], ...]


def style(size: float, *, font: str = TEXT, colour: Any = INK, after: float = 2) -> ParagraphStyle:
    """Build a paragraph style."""
    register()
    return ParagraphStyle(
        f"{font}{size}{colour}",
        fontName=font,
        fontSize=size,
        leading=size * 1.4,
        textColor=colour,
        spaceAfter=after,
    )


def text(words: str, size: float = 9.5, **options: Any) -> Paragraph:
    """Build a paragraph from plain words."""
    return Paragraph(escape(printable(words)).replace("\n", "<br/>"), style(size, **options))


def heading(words: str, size: float = 13) -> Paragraph:
    """Build a heading."""
    return text(words, size, font=HEAD, after=4)


def _cut(cell: str, width_mm: float) -> list[str]:
    """Cut what a cell says into parts of so many lines as a row may have."""
    if len(cell) < MOST_LINES * 4:
        return [cell]
    lines = simpleSplit(printable(cell), TEXT, CELL_PT, width_mm * mm)
    parts = [lines[k : k + MOST_LINES] for k in range(0, len(lines), MOST_LINES)]
    return [" ".join(part) for part in parts] if len(parts) > 1 else [cell]


def _flowing(row: Sequence[str], widths_mm: Sequence[float]) -> list[list[str]]:
    """Cut a row into as many as its longest cell needs."""
    cut = [_cut(cell, width) for cell, width in zip(row, widths_mm, strict=True)]
    return [
        [parts[k] if k < len(parts) else "" for parts in cut] for k in range(max(map(len, cut)))
    ]


def table(
    rows: Sequence[Sequence[str]],
    widths_mm: Sequence[float],
    *,
    right: Sequence[int] = (),
    head: bool = True,
) -> Table:
    """Build a ruled table; columns in `right` are set right; long rows flow over pages."""
    flowing = [part for row in rows for part in _flowing(row, widths_mm)]
    cells = [
        [text(cell, CELL_PT, font=BOLD if head and r == 0 else TEXT, after=0) for cell in row]
        for r, row in enumerate(flowing)
    ]
    for row in cells:
        for column in right:
            row[column].style = row[column].style.clone("r", alignment=2)
    widths = [w * mm for w in widths_mm]
    found = Table(cells, colWidths=widths, repeatRows=1 if head else 0, hAlign="LEFT")
    found.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.5, LINE),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ]
        )
    )
    return found


class DesignDrawing(Flowable):  # type: ignore[misc]
    """A design's stitches, at most so large, with its measures."""

    def __init__(self, picture: Picture, most_mm: float = 60, *, units: Units = "metric"):
        super().__init__()
        largest = max(picture.width_mm, picture.height_mm, 1)
        self.picture, self.units = picture, units
        self.k = min(most_mm / largest, 1.0) * mm
        self.width = picture.width_mm * self.k + 14 * mm
        self.height = picture.height_mm * self.k + 7 * mm

    def draw(self) -> None:
        """Draw it."""
        canvas, k, p, u = self.canv, self.k, self.picture, self.units
        canvas.saveState()
        canvas.translate(0, 7 * mm)
        top = p.height_mm * k
        canvas.setLineCap(1)
        canvas.setLineJoin(1)
        for colour, runs in p.blocks:
            canvas.setStrokeColor(HexColor(colour or PLAIN_THREAD))
            canvas.setLineWidth(max(0.35 * k, 0.2))
            for run in runs:
                path = canvas.beginPath()
                for i, (x, y) in enumerate(run):
                    (path.lineTo if i else path.moveTo)(x * k, top - y * k)
                canvas.drawPath(path)
        if not p.blocks:
            canvas.setStrokeColor(SOFT)
            canvas.setDash(3, 2)
            canvas.rect(0, 0, p.width_mm * k, top)
        canvas.setDash()
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.5)
        canvas.line(0, -1.5 * mm, p.width_mm * k, -1.5 * mm)
        canvas.line(p.width_mm * k + 1.5 * mm, 0, p.width_mm * k + 1.5 * mm, top)
        canvas.setFont(TEXT, 8)
        canvas.setFillColor(INK)
        canvas.drawCentredString(p.width_mm * k / 2, -5 * mm, length_text(p.width_mm, units=u))
        canvas.drawString(p.width_mm * k + 2.5 * mm, top / 2, length_text(p.height_mm, units=u))
        canvas.restoreState()


class WayDrawing(Flowable):  # type: ignore[misc]
    """How a piece goes in, seen from the machine's front."""

    def __init__(self, way: WayIn, high_mm: float = 20):
        super().__init__()
        self.way, self.k = way, high_mm * mm / 100
        self.width, self.height = 1.2 * high_mm * mm, high_mm * mm

    def draw(self) -> None:
        """Draw machine, arm, hoop, the rest of the piece, its opening, and which way is up."""
        pen, way, k = self.canv, self.way, self.k
        pen.saveState()
        pen.translate(0, self.height)
        pen.scale(k, -k)
        pen.setLineWidth(1.5)
        pen.setStrokeColor(INK)
        pen.setFillColor(HexColor("#D9D4C7"))
        pen.roundRect(4, 2, 112, 11, 2, fill=1)
        if way.arm:
            pen.rect(50, 13, 20, 52, fill=1)
        if way.bulk:
            pen.setFillColor(HexColor("#EFE9DA"))
            pen.roundRect(*_REST[way.bulk], 5, fill=1)
        pen.setFillColor(HexColor("#FFFFFF"))
        pen.roundRect(42, 36, 36, 36, 5, fill=1)
        if way.opening:
            pen.setLineWidth(3)
            pen.line(*_EDGE[way.opening])
        pen.translate(60, 54)
        pen.rotate(way.turned)
        pen.scale(1, -1)
        pen.setFillColor(INK)
        pen.setFont(BOLD, 20)
        pen.drawCentredString(0, -7, "R")
        pen.restoreState()


_REST = {
    "head": (42, 16, 36, 14),
    "foot": (42, 78, 36, 18),
    "left": (6, 38, 32, 32),
    "right": (82, 38, 32, 32),
}
_EDGE = {
    "head": (38, 31, 82, 31),
    "foot": (38, 77, 82, 77),
    "left": (37, 32, 37, 76),
    "right": (83, 32, 83, 76),
}


class YardDrawing(Flowable):  # type: ignore[misc]
    """The yard of a piece: costs to scale, margin hatched, the price at the end."""

    def __init__(self, parts: dict[str, str], price: float, currency: str, width_mm: float = 170):
        super().__init__()
        self.width, self.height = width_mm * mm, 20 * mm
        self.price, self.currency = price, currency
        self.lengths = [
            (name, sum(float(parts[key]) for key in keys), colour) for name, keys, colour in YARD
        ]

    def draw(self) -> None:
        """Draw it."""
        canvas = self.canv
        cost = sum(amount for _, amount, _ in self.lengths)
        k = self.width / max(cost, self.price, 0.01)
        y, h, x = 7 * mm, 8 * mm, 0.0
        clear = -1.0
        for name, amount, colour in self.lengths:
            if amount <= 0:
                continue
            canvas.setFillColor(HexColor(colour))
            canvas.rect(x, y, max(amount * k - 0.5, 0.2), h, stroke=0, fill=1)
            label = f"{name} {amount:.{minor_units(self.currency)}f}"
            wide = canvas.stringWidth(label, TEXT, 6.5)
            if x >= clear and amount * k > 10 * mm:
                canvas.setFont(TEXT, 6.5)
                canvas.drawString(x, y - 3.5 * mm, label)
                clear = x + wide + 6
            x += amount * k
        if self.price > cost:
            canvas.setStrokeColor(SOFT)
            canvas.setFillColor(LINEN)
            canvas.rect(x, y, (self.price - cost) * k, h, stroke=1, fill=1)
        canvas.setFillColor(BRASS)
        canvas.rect(self.price * k - 1, y - 1.5 * mm, 2, h + 3 * mm, stroke=0, fill=1)


def swatches(rows: Table, colours: Sequence[str | None]) -> Table:
    """Fill the first cell of each row but the head with its thread's colour."""
    style = [
        ("BACKGROUND", (0, n), (0, n), HexColor(colour or PLAIN_THREAD))
        for n, colour in enumerate(colours, 1)
    ]
    rows.setStyle(TableStyle(style))
    return rows


def side_by_side(parts: Sequence[Any], *, gap_mm: float = 8) -> list[Any]:
    """Set drawings side by side where they fit, else below each other."""
    drawings = [part for part in parts if getattr(part, "width", 0)]
    widths = [part.width + gap_mm * mm for part in drawings]
    if not drawings or sum(widths) > 172 * mm:
        return list(parts)
    found = Table([drawings], colWidths=widths, hAlign="LEFT")
    found.setStyle(
        TableStyle([("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LEFTPADDING", (0, 0), (-1, -1), 0)])
    )
    return [found]


class TickBox(Flowable):  # type: ignore[misc]
    """An empty box to tick."""

    def __init__(self, side_mm: float = 3.6):
        super().__init__()
        self.width = self.height = side_mm * mm

    def draw(self) -> None:
        """Draw it."""
        self.canv.setStrokeColor(INK)
        self.canv.setLineWidth(0.7)
        self.canv.rect(0, 0, self.width, self.height)


def tick_list(cells: Sequence[str], *, columns: int = 3, width_mm: float = 170) -> Table:
    """Build a list to tick, row by row in columns."""
    each = width_mm / columns
    rows = []
    for i in range(0, len(cells), columns):
        row: list[Any] = []
        for cell in cells[i : i + columns]:
            row += [TickBox(), text(cell, CELL_PT, after=0)]
        rows.append(row + [""] * (2 * columns - len(row)))
    found = Table(rows, colWidths=[6 * mm, (each - 6) * mm] * columns, hAlign="LEFT")
    found.setStyle(
        TableStyle(
            [
                ("LINEBELOW", (0, 0), (-1, -1), 0.4, LINE),
                ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ]
        )
    )
    return found


PAGES = {"a4": A4, "letter": LETTER}
"""The sheets that papers are set on."""


def not_yet_band(why: Sequence[str]) -> list[Any]:
    """Set a band across a paper's head that must not be worked from yet; nothing without a why."""
    if not why:
        return []
    said = text(f"NOT TO BE WORKED FROM YET: {', '.join(why)}", 12, font=BOLD)
    band = Table([[said]], colWidths=[170 * mm], hAlign="LEFT")
    band.setStyle(
        TableStyle(
            [
                ("BOX", (0, 0), (-1, -1), 1.5, INK),
                ("BACKGROUND", (0, 0), (-1, -1), HexColor("#f0d8d0")),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 6),
            ]
        )
    )
    return [band, Spacer(1, 3 * mm)]


def pdf(story: list[Any], *, title: str, footer: str, page: str = "a4") -> bytes:
    """Set a story on "a4" or "letter"; the same story gives the same bytes."""
    size = PAGES[page]

    def _foot(canvas: Any, document: Any) -> None:
        canvas.setFont(TEXT, 7.5)
        canvas.setFillColor(SOFT)
        canvas.drawString(20 * mm, 12 * mm, printable(footer))
        canvas.drawRightString(size[0] - 20 * mm, 12 * mm, f"page {document.page}")

    stream = io.BytesIO()
    document = SimpleDocTemplate(
        stream,
        pagesize=size,
        leftMargin=20 * mm,
        rightMargin=20 * mm,
        topMargin=18 * mm,
        bottomMargin=22 * mm,
        title=printable(title),
        author="",
        subject="",
        creator="Clothyard",
        invariant=1,
    )
    document.build(story, onFirstPage=_foot, onLaterPages=_foot)
    return stream.getvalue()
