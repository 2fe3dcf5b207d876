"""Other papers of the workshop: labels, the proof, the get-ready list, order sheets."""

from __future__ import annotations

import io
from collections.abc import Sequence
from typing import Any

from reportlab.lib.units import mm
from reportlab.lib.utils import simpleSplit
from reportlab.pdfgen.canvas import Canvas
from reportlab.platypus import Spacer

from clothyard.core.estimate.document import Estimate
from clothyard.core.figure_text import counted
from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK, Job
from clothyard.core.job.names import piece_kinds, piece_names
from clothyard.core.measures import size_text
from clothyard.core.methods.settle import goods_name
from clothyard.core.record import record
from clothyard.documents.bundle import PaperHead, as_the_shop_writes, day, money, piece_drawn
from clothyard.documents.fonts import BOLD, TEXT, printable, register
from clothyard.documents.layout import (
    PAGES,
    DesignDrawing,
    Picture,
    alone,
    heading,
    pdf,
    side_by_side,
    swatches,
    table,
    text,
    tick_list,
)


@record
class Label:
    """What a piece's label says."""

    number: str
    goods: str
    kind: str
    name: str
    places: str
    note: str = ""


def labels_of(
    number: str, job: Job, estimate: Estimate, house: House, *, names_open: bool = False
) -> list[Label]:
    """List a job's labels, one a piece, in sewing order; what nobody approved yet says so."""
    found = []
    for line, priced in zip(job.lines, estimate.lines, strict=True):
        places = ", ".join(dict.fromkeys(place.label for place in priced.places))
        for kind, name in zip(piece_kinds(line), piece_names(line), strict=True):
            note = "NOT APPROVED" if name and names_open else ""
            found.append(Label(number, goods_name(line.goods, house), kind, name, places, note))
    return found


def _fitted(canvas: Any, words: str, font: str, size: float, width: float) -> float:
    """Return the size at which words fit a width."""
    wide = canvas.stringWidth(words, font, size)
    return size if wide <= width else max(5.0, size * width / wide)


@alone
def labels_pdf(labels: Sequence[Label], house: House, *, title: str, page: str = "") -> bytes:
    """Set labels on sheets of the shop's label size.

    Parameters
    ----------
    labels : sequence of Label
    house : House
        Its papers say how large a label is, and how many stand on a sheet.
    page : "a4" or "letter", "" as the shop has it
    """
    register()
    papers = house.papers
    wide, high = PAGES[page or papers.size]
    width, height = float(papers.label_width_mm) * mm, float(papers.label_height_mm) * mm
    left, top = float(papers.label_left_mm) * mm, float(papers.label_top_mm) * mm
    step = width + float(papers.label_gap_mm) * mm
    stream = io.BytesIO()
    canvas = Canvas(stream, pagesize=(wide, high), invariant=1)
    canvas.setTitle(printable(title))
    canvas.setCreator("Clothyard")
    each = papers.label_columns * papers.label_rows
    for n, label in enumerate(labels):
        at = n % each
        if n and at == 0:
            canvas.showPage()
        x = left + at % papers.label_columns * step
        y = high - top - (at // papers.label_columns + 1) * height
        _label(canvas, label, x, y, width, height)
    canvas.save()
    return stream.getvalue()


def _label(canvas: Any, label: Label, x: float, y: float, width: float, height: float) -> None:
    pad = 2.5 * mm
    room = width - 2 * pad
    name = printable(label.name or label.kind or label.goods)
    size = _fitted(canvas, name, BOLD, min(16.0, height / 3.2), room)
    canvas.setFont(BOLD, size)
    canvas.drawString(x + pad, y + height - pad - size, name)
    below = y + height - pad - size - 11
    rows = [
        label.note,
        label.kind if label.name else "",
        label.goods if name != label.goods else "",
        label.places,
    ]
    for row in filter(None, rows):
        if below < y + pad + 9:
            break
        fitting = simpleSplit(printable(row), TEXT, 8, room)
        canvas.setFont(TEXT, 8)
        canvas.drawString(x + pad, below, fitting[0] if fitting else "")
        below -= 10
    canvas.setFont(TEXT, 7)
    canvas.drawString(x + pad, y + pad, printable(label.number))


@as_the_shop_writes
@alone
def proof_pdf(
    head: PaperHead,
    job: Job,
    estimate: Estimate,
    house: House,
    pictures: Sequence[Sequence[Picture]],
    *,
    page: str = "",
) -> bytes:
    """Set the proof for the customer: the piece, colours, sizes, every name as it will be sewn."""
    story: list[Any] = [
        text(house.shop.name, 12, font=BOLD),
        text(house.shop.address, 9),
        Spacer(1, 4 * mm),
        heading(
            f"Proof of {head.number}" + (f", version {head.version}" if head.version > 1 else ""),
            18,
        ),
        text(f"For {head.customer}", 11),
        text(
            "Please read every word and name letter by letter, look at colours, places and sizes, "
            "and approve it or say what is to be different. What is sewn as approved is final."
        ),
    ]
    for n, (asked, line) in enumerate(zip(job.lines, estimate.lines, strict=True)):
        story += [
            Spacer(1, 3 * mm),
            heading(f"{line.quantity} × {goods_name(asked.goods, house)}", 13),
        ]
        piece = piece_drawn(line, job, n, house, pictures[n], high_mm=58)
        designs = [DesignDrawing(picture, 50, units=house.shop.units) for picture in pictures[n]]
        story += side_by_side([*piece, *designs])
        rows = [["", "Place", "Words", "Size", "Thread colours"]]
        colours: list[str | None] = []
        for placement, where, design in zip(
            asked.placements, line.places, line.designs, strict=True
        ):
            first = next((b.colour for b in design.blocks if b.colour), None)
            colours.append(first)
            rows.append(
                [
                    "",
                    where.label,
                    (placement.design.text or "").replace(NAME_MARK, "each own name"),
                    size_text((design.width_mm, design.height_mm), units=house.shop.units),
                    ", ".join(dict.fromkeys(b.colour_name for b in design.blocks)),
                ]
            )
        story += [Spacer(1, 3 * mm), swatches(table(rows, (7, 30, 50, 30, 53)), colours)]
        named = any(NAME_MARK in (p.design.text or "") for p in asked.placements)
        labels = labels_of(head.number, job, estimate, house) if named else []
        at = sum(x.quantity for x in job.lines[:n])
        mine = labels[at : at + line.quantity]
        if mine:
            cells = [f"{x.name or '(no name)'}" + (f"  ({x.kind})" if x.kind else "") for x in mine]
            story += [Spacer(1, 3 * mm), heading("Names, as they are sewn", 11), tick_list(cells)]
    ticks = [
        "Every word and name is spelt right",
        "The colours are right",
        "The places are right",
        "The sizes are right",
    ]
    story += [
        Spacer(1, 5 * mm),
        tick_list(ticks, columns=2),
        Spacer(1, 6 * mm),
        text("Name and date: ________________________________________"),
    ]
    return pdf(
        story,
        title=f"Proof {head.number}",
        page=page or house.papers.size,
        footer=f"{head.number} v{head.version}",
    )


@record
class ReadyRow:
    """A row of the get-ready list: what, how much, where it is, whether it lies there already."""

    label: str
    amount: str
    where: str
    ready: bool


@as_the_shop_writes
@alone
def get_ready_pdf(
    title: str,
    rows: Sequence[ReadyRow],
    laid: Sequence[tuple[str, str]],
    house: House,
    *,
    promised_on: str = "",
    page: str = "",
) -> bytes:
    """Set the list of what is laid out before an order, or several, begin."""
    story: list[Any] = [heading(f"Get ready: {title}", 18)]
    if promised_on:
        story.append(text(f"Promised for {day(promised_on)}", 11))
    cells = [["", "What", "How much", "Shelf"]]
    cells += [["✓" if r.ready else "", r.label, r.amount, r.where] for r in rows]
    story.append(table(cells, (8, 82, 40, 40)))
    story += [Spacer(1, 4 * mm), heading("Laid out", 12)]
    story.append(table([[name, words] for name, words in laid], (35, 135), head=False))
    boxes = [r.label for r in rows if not r.ready]
    if boxes:
        story += [Spacer(1, 4 * mm), heading("Still to lay out", 12), tick_list(boxes, columns=2)]
    return pdf(
        story, title=f"Get ready {title}", page=page or house.papers.size, footer="For the workshop"
    )


@as_the_shop_writes
@alone
def order_pdf(
    head: PaperHead,
    job: Job,
    estimate: Estimate,
    house: House,
    *,
    units: Sequence[tuple[str, str]],
    paid: str,
    due: str,
    promised_on: str,
    page: str = "",
) -> bytes:
    """Set the order sheet: who, what, by when, the work in its order, and what is still due."""
    currency = estimate.currency
    story: list[Any] = [
        heading(f"Order {head.number}", 20),
        text(f"{head.customer}, {head.email}" if head.email else head.customer, 11),
    ]
    if promised_on:
        story.append(text(f"Promised for {day(promised_on)}", 11))
    for asked, line in zip(job.lines, estimate.lines, strict=True):
        story += [
            Spacer(1, 3 * mm),
            heading(f"{line.quantity} × {goods_name(asked.goods, house)}", 13),
        ]
        rows = [
            [
                where.label,
                size_text((d.width_mm, d.height_mm), units=house.shop.units),
                d.name.replace(NAME_MARK, "each own name") or "words",
            ]
            for where, d in zip(line.places, line.designs, strict=True)
        ]
        story.append(table([["Place", "Size", "Design"], *rows], (60, 50, 60)))
        cells = [
            f"{c.quantity} × {' '.join(x for x in (c.size, c.colour) if x)}" for c in asked.cells
        ]
        if cells:
            story.append(text(", ".join(cells)))
        names = [name for name in asked.names if name.strip()]
        if names:
            story.append(text(f"{counted(len(names), 'name')}: {', '.join(names)}"))
    story += [Spacer(1, 3 * mm), heading("The work, in its order", 12)]
    story.append(table([["What", "Takes"], *([a, b] for a, b in units)], (130, 40)))
    story += [Spacer(1, 3 * mm), heading("Money", 12)]
    money_rows = [
        ["To pay", money(estimate.total.to_pay, currency)],
        ["Paid", money(paid, currency)],
        ["Due", money(due, currency)],
    ]
    story.append(table(money_rows, (60, 40), right=(1,), head=False))
    if head.notes:
        story += [Spacer(1, 3 * mm), heading("Notes", 12), text(head.notes)]
    return pdf(
        story,
        title=f"Order {head.number}",
        page=page or house.papers.size,
        footer=f"{head.number} v{head.version}, for the workshop",
    )


@as_the_shop_writes
@alone
def purchase_pdf(
    number: str,
    supplier: str,
    rows: Sequence[tuple[str, str, str, str]],
    house: House,
    *,
    ordered_on: str,
    currency: str,
    goods: str,
    page: str = "",
) -> bytes:
    """Set an order sheet to a supplier; `rows` are item, pack, how many, price each."""
    story: list[Any] = [
        text(house.shop.name, 12, font=BOLD),
        text(house.shop.address, 9),
        Spacer(1, 5 * mm),
        heading(f"Order {number}", 20),
        text(f"To {supplier}, {day(ordered_on)}", 11),
        Spacer(1, 4 * mm),
        table(
            [
                ["Item", "Pack", "How many", "Price"],
                *([a, b, c, money(d, currency)] for a, b, c, d in rows),
            ],
            (90, 34, 22, 24),
            right=(2, 3),
        ),
        text(f"Together {money(goods, currency)}, before delivery and tax."),
        Spacer(1, 4 * mm),
        text("Please confirm the day of delivery and the prices."),
    ]
    return pdf(story, title=f"Order {number}", page=page or house.papers.size, footer=number)
