"""The papers of a quote: for the customer, for the shop, and for other programs."""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Callable, Iterator, Mapping, Sequence
from contextvars import ContextVar
from dataclasses import asdict, dataclass, replace
from functools import wraps
from typing import Any, ParamSpec, TypeVar

from babel.dates import format_date
from babel.numbers import format_currency
from reportlab.lib.units import mm
from reportlab.platypus import PageBreak, Spacer

from clothyard.core.estimate.document import Estimate, EstimateLine, Method, estimate_bytes
from clothyard.core.figure_text import counted
from clothyard.core.house.document import OWN_DRAWING, House
from clothyard.core.job.check import job_json
from clothyard.core.job.document import NAME_MARK, Job
from clothyard.core.job.names import known_names, names_by_cell
from clothyard.core.measures import M_PER_YARD, Units, length_text, size_text, thread_text
from clothyard.core.methods.settle import goods_name
from clothyard.documents.fonts import BOLD
from clothyard.documents.layout import (
    DesignDrawing,
    Picture,
    YardDrawing,
    alone,
    heading,
    pdf,
    table,
    text,
)
from clothyard.documents.piece import PieceDrawing, Placed, drawings, spot_on, view_of
from clothyard.store.quotes import Document

_locale: ContextVar[str] = ContextVar("locale", default="en_GB")
"""How figures and dates are written just now: as the shop whose paper is set has it."""

PDF, JSON, CSV, TXT = "application/pdf", "application/json", "text/csv", "text/plain"


P = ParamSpec("P")
R = TypeVar("R")


@dataclass(frozen=True, slots=True)
class PaperHead:
    """Who a paper is for, and its dates (ISO text, "" for none)."""

    number: str
    version: int
    customer: str
    email: str
    sent_on: str
    due_on: str
    valid_until: str
    notes: str
    promised_on: str = ""
    first_part: int = 0

    @classmethod
    def told(cls, number: str, version: int, head: Mapping[str, str]) -> PaperHead:
        """Read it from what is kept of a version's head; what is lacking is ""."""
        names = ("customer", "email", "sent_on", "due_on", "valid_until", "notes")
        return cls(
            number=number,
            version=version,
            promised_on=head.get("promised_on", ""),
            first_part=int(head.get("first_part", 0) or 0),
            **{name: head.get(name, "") for name in names},
        )

    @property
    def promise(self) -> str:
        """Say by when it is ready, "" where no day is promised."""
        return promise_text(self.promised_on, self.due_on, self.first_part)

    def as_text(self) -> dict[str, str]:
        """Return it as plain text values."""
        return {name: str(value) for name, value in asdict(self).items()}


def money(amount: str, currency: str) -> str:
    """Write money as a customer reads it."""
    return format_currency(amount, currency, locale=_locale.get())


def day(iso: str) -> str:
    """Write a date as a customer reads it."""
    from datetime import date  # noqa: PLC0415 - parsing only; today is never asked here

    return format_date(date.fromisoformat(iso), "long", locale=_locale.get()) if iso else ""


def promise_text(promised_on: str, due_on: str, first_part: int) -> str:
    """Say by when a customer has it: all of it, or a first part and then the rest."""
    if not promised_on:
        return ""
    if first_part and due_on and due_on < promised_on:
        return f"{first_part} of it by {day(due_on)}, the rest by {day(promised_on)}"
    return f"With you by {day(promised_on)}"


def as_the_shop_writes(make: Callable[P, R]) -> Callable[P, R]:
    """Let a paper be written in the locale of the house among its arguments."""

    @wraps(make)
    def made(*args: P.args, **kwargs: P.kwargs) -> R:
        house = next(a for a in (*args, *kwargs.values()) if isinstance(a, House))
        before = _locale.set(house.shop.locale.replace("-", "_"))
        try:
            return make(*args, **kwargs)
        finally:
            _locale.reset(before)

    return made


def conditions(job: Job, estimate: Estimate, house: House) -> list[str]:
    """List what a quote holds by."""
    found = []
    band = max((d.band for line in estimate.lines for d in line.designs), default=0)
    if band:
        found.append(
            f"The stitches are estimated (within {band:.0%}). The price holds if the finished "
            "file is within 10% of them."
        )
    else:
        found.append("The price holds if the finished file is within 10% of the stitches quoted.")
    found.append("Two proofs are included; further ones are charged.")
    found.append("Spelling, colours, size and place as approved are final.")
    if any(line.goods.supplied_by == "customer" for line in job.lines):
        limits = [line.goods.liability for line in job.lines if line.goods.liability]
        share = f"up to {money(str(limits[0]), estimate.currency)} a piece" if limits else "nothing"
        found.append(
            f"Of goods you bring a few may be spoiled; we replace {share}, and the count may be "
            "short. Please bring spares."
        )
    if house.terms.deposit:
        found.append(
            f"A deposit of {house.terms.deposit:.0%} is due on acceptance: "
            f"{money(estimate.total.deposit, estimate.currency)}."
        )
    found.append(
        "Personalised goods usually cannot be returned because of a change of mind; your rights "
        "on faulty goods remain."
    )
    return found


def _place_rows(line: EstimateLine, job: Job, index: int, house: House) -> list[list[str]]:
    """Tell each placement: where, how large, in which thread, which words."""
    asked, rows = job.lines[index], []
    for i, placement in enumerate(asked.placements):
        tag = f" {i + 1}" if len(asked.placements) > 1 else ""
        design = line.designs[i]
        place_id = placement.position or house.goods[asked.goods.class_].position
        label = house.positions[place_id].label if place_id in house.positions else place_id
        if i < len(line.places) and line.places[i].hooping.copies > 1:
            blocks, copies = placement.blocks, line.places[i].hooping.copies
            label += (
                f", {copies} times along the band"
                if blocks is None
                else (f", in {blocks.columns} × {blocks.rows} blocks")
            )
        colours = [block.colour_name for block in design.blocks]
        rows.append([f"Place{tag}", label])
        if placement.design.text is not None:
            rows.append([f"Words{tag}", placement.design.text.replace(NAME_MARK, "each own name")])
        size = size_text((design.width_mm, design.height_mm), units=house.shop.units)
        if placement.design.text is not None and NAME_MARK in placement.design.text:
            size += ", the longest name"
        rows.append([f"Size{tag}", size])
        rows.append([f"Thread colours{tag}, in order", ", ".join(colours)])
    return rows


def _what(line: EstimateLine, job: Job, index: int, house: House) -> list[list[str]]:
    asked = job.lines[index]
    rows = [["Pieces", f"{line.quantity} × {goods_name(asked.goods, house)}"]]
    cells = [f"{c.quantity} × {' '.join(x for x in (c.size, c.colour) if x)}" for c in asked.cells]
    if cells:
        rows.append(["Sizes and colours", ", ".join(cells)])
    rows += _place_rows(line, job, index, house)
    if known_names(asked) and any(NAME_MARK in (p.design.text or "") for p in asked.placements):
        for part in names_by_cell(asked):
            names = ", ".join(name or "(blank)" for name in part.names)
            more = f"{part.to_come} still to come" if part.to_come else ""
            on = f" on {part.kind}" if part.kind else ", as they are sewn"
            rows.append([f"Names{on}", "; ".join(text for text in (names, more) if text)])
    if asked.goods.supplied_by == "customer":
        rows.append(["Goods", "supplied by you"])
    return rows


def _sums(estimate: Estimate, job: Job, house: House) -> list[list[str]]:
    """Sum the order up: each line or kit, the charges, the tax, what is to pay."""
    currency, total = estimate.currency, estimate.total
    in_kits = {i for kit in total.kits for i in kit.lines}
    rows = []
    for i, line in enumerate(estimate.lines):
        if line.id in in_kits:
            continue
        goods = goods_name(job.lines[i].goods, house)
        what = (
            f"{line.quantity} × {goods}" if len(job.lines) > 1 else counted(line.quantity, "piece")
        )
        rows.append([what, money(line.price.unit, currency), money(line.price.line, currency)])
    for kit in total.kits:
        what = f"{kit.quantity} × {kit.name}"
        rows.append([what, money(kit.unit, currency), money(kit.line, currency)])
    rows += [[c.name, "once", money(c.amount, currency)] for c in total.charges]
    for tax in total.taxes:
        rate = f"{float(tax.rate):.1%}"
        held = house.terms.prices_include_tax
        rows.append(
            [f"of it tax at {rate}" if held else f"Tax at {rate}", "", money(tax.tax, currency)]
        )
    rows.append(["To pay", "", money(total.to_pay, currency)])
    return rows


@as_the_shop_writes
@alone
def quote_pdf(
    head: PaperHead,
    job: Job,
    estimate: Estimate,
    house: House,
    pictures: Sequence[Sequence[Picture]],
) -> bytes:
    """Set the customer's quote: no cost, no margin, in its text or its metadata."""
    currency = estimate.currency
    story = [
        text(house.shop.name, 12, font=BOLD),
        text(house.shop.address, 9),
        Spacer(1, 6 * mm),
        heading(
            f"Quote {head.number}" + (f", version {head.version}" if head.version > 1 else ""), 20
        ),
        text(f"For {head.customer}", 11),
        text(f"{day(head.sent_on)}, valid until {day(head.valid_until)}"),
    ]
    if head.due_on:
        story.append(text(f"Wanted by {day(head.due_on)}"))
    if head.promise:
        story.append(text(head.promise))
    story.append(Spacer(1, 5 * mm))
    for i, line in enumerate(estimate.lines):
        story.append(table(_what(line, job, i, house), (45, 125), head=False))
        story += piece_drawn(line, job, i, house, pictures[i])
        story += _drawings(pictures[i], house.shop.units, 45)
        rows = [["Quantity", "A piece", "In all"]]
        rows += [
            [str(t.quantity), money(t.unit, currency), money(t.line, currency)] for t in line.tiers
        ]
        story += [heading("Price by quantity"), table(rows, (30, 35, 40), right=(1, 2))]
        story.append(Spacer(1, 4 * mm))
    rows = [["Your order", "A piece", "In all"], *_sums(estimate, job, house)]
    story.append(table(rows, (60, 35, 40), right=(1, 2)))
    story += [Spacer(1, 5 * mm), heading("What this holds by")]
    story += [
        text(f"{n}. {words}", 9) for n, words in enumerate(conditions(job, estimate, house), 1)
    ]
    if head.notes:
        story += [Spacer(1, 3 * mm), heading("Notes"), text(head.notes)]
    return pdf(story, title=f"Quote {head.number}", footer=f"{head.number} v{head.version}")


def piece_drawn(
    line: EstimateLine,
    job: Job,
    index: int,
    house: House,
    pictures: Sequence[Picture],
    *,
    only: int | None = None,
    high_mm: float = 62,
    measured: bool = False,
) -> list[Any]:
    """Draw the piece with its designs in their places; nothing where it has no drawing.

    Parameters
    ----------
    only : int, optional
        The one placement to show.
    high_mm : float
        On paper.
    measured : bool
        With centre marks and distances, as the workshop reads them.
    """
    class_id = job.lines[index].goods.class_
    own = house.goods[class_id].drawing
    views = drawings().get(class_id if own == OWN_DRAWING else own, [])
    found: list[Placed] = []
    for k, (place, picture) in enumerate(zip(line.places, pictures, strict=True)):
        position, mark = house.positions[place.position], place.marks[0]
        n = view_of(views, position)
        if n is None or only not in {None, k}:
            continue
        x_mm, y_mm = spot_on(
            views[n],
            position,
            from_reference_mm=mark.from_reference_mm,
            x_mm=mark.x_mm,
            y_mm=mark.y_mm,
        )
        reference, words = None, ""
        if measured:
            gap = mark.from_reference_mm
            words = length_text(gap, units=house.shop.units) if gap is not None else "centre"
            if gap is not None:
                reference = (x_mm - mark.x_mm, y_mm - mark.y_mm)
        found.append(
            Placed(
                picture, n, x_mm, y_mm, place.turn + place.tilt_deg, place.mirror, reference, words
            )
        )
    shown = sorted({placed.view for placed in found})
    if not shown:
        return []
    here = [replace(placed, view=shown.index(placed.view)) for placed in found]
    drawing = PieceDrawing([views[n] for n in shown], here, cloth=line.cloth, high_mm=high_mm)
    return [Spacer(1, 4 * mm), drawing]


def _drawings(pictures: Sequence[Picture], units: Units, most_mm: float = 60) -> list[Any]:
    """Set a line's designs below each other, each to scale."""
    found: list[Any] = []
    for picture in pictures:
        found += [Spacer(1, 4 * mm), DesignDrawing(picture, most_mm, units=units)]
    return [*found, Spacer(1, 4 * mm)]


def _thread_rows(estimate: Estimate, units: Units) -> list[list[str]]:
    """The order's thread by colour: how long, and the put-ups that hold it."""
    name, long_m = ("Metres", 1.0) if units == "metric" else ("Yards", M_PER_YARD)
    rows = [["Thread", name, "To open or buy", "As used", "As bought"]]
    for row in estimate.threads:
        put_ups = ", ".join(f"{p.count} × {p.label.lower()}" for p in row.put_ups)
        rows.append(
            [
                f"{row.thread} {row.colour_name}",
                f"{row.needed_m / long_m:.1f}",
                put_ups,
                money(row.used_cost, estimate.currency),
                money(row.bought_cost, estimate.currency),
            ]
        )
    return rows


COSTS_SAID = {"labour": "handwork", "set_up": "set-up"}
"""Costs that are called otherwise than in the documents."""


def _line_costing(
    line: EstimateLine,
    what: list[list[str]],
    pictures: Sequence[Picture],
    currency: str,
    house: House,
) -> list[Any]:
    """Set one line of the costing: the yard, every cost, tiers, methods, and the working."""
    pieces, whole = line.piece_cost.model_dump(), line.cost.model_dump()
    costs = [["Cost", "A piece", "The line"]]
    costs += [
        [
            COSTS_SAID.get(name, name.replace("_", " ")),
            f"{float(pieces[name]):.4f}",
            money(whole[name], currency),
        ]
        for name in whole
    ]
    tiers = [["Quantity", "A piece", "Cost", "Margin"]]
    tiers += [
        [str(t.quantity), money(t.unit, currency), t.unit_cost, f"{float(t.margin):.1%}"]
        for t in line.tiers
    ]
    marks = [["Place", "Centre mark", "Hoopings"]]
    for place in line.places:
        for mark in place.marks:
            label = f"{place.label}, {mark.sizes}" if mark.sizes else place.label
            marks.append([label, mark.words, str(place.hooping.total)])
    methods = [["", "", "Why"]]
    methods += [[capital(m.key), method_words(m, house), m.reason] for m in line.methods]
    return [
        Spacer(1, 3 * mm),
        table(what, (45, 125), head=False),
        Spacer(1, 3 * mm),
        YardDrawing(pieces, float(line.price.unit), currency),
        table(costs, (60, 35, 40), right=(1, 2)),
        Spacer(1, 4 * mm),
        table(_takes(line, house), (35, 135), head=False),
        Spacer(1, 4 * mm),
        table(tiers, (30, 35, 35, 30), right=(1, 2, 3)),
        *_drawings(pictures, house.shop.units, 45),
        table(marks, (35, 115, 20), right=(2,)),
        heading("Methods"),
        table(methods, (30, 40, 100)),
        PageBreak(),
        heading("Working"),
        *_working(line),
    ]


SECTIONS = (
    ("Thread", r"\.(thickness|stitches|needle(?!_time)|bobbin|bobbins)(_|$)"),
    ("Cuts", r"\.(backing|topping|sheet)[a-z_]*cut"),
    ("Machine time", r"needle_time|practice|\.machine|\.attend"),
    ("Handwork", r"task|hand_time"),
    ("Cost", r"^(cost|run|sample|once|spoil|remakes|made|repairs|spares|unit_cost|charge)"),
    ("How sure", r"^sure"),
    ("Price", r"^(way|price)"),
)
"""Of the working, in the order that it is read: a figure is of the first that its id fits."""


def _working(line: EstimateLine) -> Iterator[Any]:
    """Set the working section by section."""
    found: dict[str, list[list[str]]] = {}
    for entry in line.working:
        name = next((name for name, ids in SECTIONS if re.search(ids, entry.id)), "Else")
        inputs = "; ".join(f"{x.name} {x.text} ({x.source})" for x in entry.inputs)
        found.setdefault(name, []).append([entry.name, f"{entry.formula}\n{inputs}", entry.text])
    for name in [*(name for name, _ in SECTIONS), "Else"]:
        if name in found:
            yield heading(name, 11)
            yield table([["Figure", "How", "Is"], *found[name]], (40, 100, 30))


def capital(key: str) -> str:
    """Write a key as the first word of a row: "bobbin_policy" is "Bobbin policy"."""
    return key.replace("_", " ").capitalize()


_NAMED_IN = {
    "machine": ("machines",),
    "thread": ("threads",),
    "backing": ("backings",),
    "topping": ("toppings",),
    "hoop": ("hoops",),
    "needle": ("needles",),
}


def method_words(method: Method, house: House) -> str:
    """Write what was chosen as the shop calls it: "Cut-away, medium", "yes"."""
    if method.value in {"true", "false"}:
        return "yes" if method.value == "true" else "no"
    for section in _NAMED_IN.get(method.key, ()):
        row = getattr(house, section).get(method.value)
        if row is not None:
            return str(row.label)
    return method.value.replace("-", " ")


def _takes(line: EstimateLine, house: House) -> list[list[str]]:
    """Say what a piece takes, in words: minutes, metres, bobbins, cuts."""
    piece, units = line.per_piece, house.shop.units
    rows = [
        [
            "A piece takes",
            f"{piece.machine_min:.1f} min at the machine, {piece.hand_min:.1f} min "
            f"of hands, {piece.attend_min:.1f} min standing by",
        ],
        [
            "Thread",
            f"needle {thread_text(piece.needle_m, units=units)}, bobbin "
            f"{thread_text(piece.bobbin_m, units=units)} a piece",
        ],
    ]
    if line.bobbins.count:
        changed = line.bobbins.policy.replace("-", " ")
        rows.append(["Bobbins", f"{counted(line.bobbins.count, 'bobbin')}, changed {changed}"])
    for cut in line.cuts:
        what = house.material_label(cut.material)
        size = size_text((cut.piece_mm[0], cut.piece_mm[1]), units=units)
        length = thread_text(cut.length_mm / 1000, units=units)
        rows.append(
            [
                "Cut",
                f"{counted(cut.count, 'piece')} of {what}, {size}"
                + ("" if cut.on_sheets else f", {length} of the roll"),
            ]
        )
    return rows


@as_the_shop_writes
@alone
def costing_pdf(
    head: PaperHead,
    job: Job,
    estimate: Estimate,
    house: House,
    pictures: Sequence[Sequence[Picture]],
) -> bytes:
    """Set the internal costing sheet: each line's yard, costs, methods and working."""
    story = [
        heading(f"Costing of {head.number} v{head.version}", 18),
        text(f"{head.customer}, {day(head.sent_on)}. For the workshop only.", 10),
    ]
    for i, line in enumerate(estimate.lines):
        what = _what(line, job, i, house)
        story += _line_costing(line, what, pictures[i], estimate.currency, house)
    story += [Spacer(1, 5 * mm), heading("Thread of the order")]
    story.append(
        table(_thread_rows(estimate, house.shop.units), (60, 20, 45, 22, 23), right=(1, 3, 4))
    )
    return pdf(story, title=f"Costing {head.number}", footer=f"{head.number}, internal")


def tiers_csv(estimate: Estimate) -> bytes:
    """Write the price table as CSV: quantities and prices, no cost."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\r\n")
    writer.writerow(["line", "quantity", "unit", "total", "currency"])
    for n, line in enumerate(estimate.lines, 1):
        for tier in line.tiers:
            writer.writerow([n, tier.quantity, tier.unit, tier.line, estimate.currency])
    return stream.getvalue().encode()


@as_the_shop_writes
def message(head: PaperHead, job: Job, estimate: Estimate, house: House) -> str:
    """Write the quote as plain words, to paste into a message."""
    currency = estimate.currency
    lines = [f"Quote {head.number} for {head.customer}", f"from {house.shop.name}", ""]
    for i, line in enumerate(estimate.lines):
        lines += [f"{name}: {value}" for name, value in _what(line, job, i, house)]
        lines += ["", "By quantity:"]
        lines += [f"  {t.quantity}: {money(t.unit, currency)} a piece" for t in line.tiers]
        lines.append("")
    for what, each, whole in _sums(estimate, job, house):
        at = {"": "", "once": ", once"}.get(each, f" at {each}")
        lines.append(f"{what}{at}: {whole}")
    lines += ["", f"Valid until {day(head.valid_until)}."]
    lines += [f"- {words}" for words in conditions(job, estimate, house)]
    return "\n".join(lines) + "\n"


@dataclass(frozen=True, slots=True)
class Sent:
    """What the papers of a version are made of; the estimate with its working."""

    head: PaperHead
    job: Job
    estimate: Estimate
    house: House
    pictures: Sequence[Sequence[Picture]]

    def quote(self) -> bytes:
        """Set the quote."""
        return quote_pdf(self.head, self.job, self.estimate, self.house, self.pictures)

    def costing(self) -> bytes:
        """Set the costing."""
        return costing_pdf(self.head, self.job, self.estimate, self.house, self.pictures)

    def message(self) -> bytes:
        """Write the message."""
        return message(self.head, self.job, self.estimate, self.house).encode()

    def tiers(self) -> bytes:
        """Write the tiers."""
        return tiers_csv(self.estimate)

    def job_document(self) -> bytes:
        """Write the job."""
        return json.dumps(job_json(self.job), ensure_ascii=False, indent=1).encode()

    def estimate_document(self) -> bytes:
        """Write the estimate."""
        return estimate_bytes(self.estimate)


@dataclass(frozen=True, slots=True)
class SentPaper:
    """A paper of a version: what it is called, and how it is made.

    `customers` says whether the customer may have it: then it is made as the version is sent.
    The others are made when they are asked for.
    """

    ending: str
    media_type: str
    customers: bool
    make: Callable[[Sent], bytes]


SENT_PAPERS: Mapping[str, SentPaper] = {
    "quote": SentPaper(".pdf", PDF, True, Sent.quote),
    "costing": SentPaper("-costing.pdf", PDF, False, Sent.costing),
    "message": SentPaper(".txt", TXT, True, Sent.message),
    "tiers": SentPaper("-tiers.csv", CSV, True, Sent.tiers),
    "job": SentPaper("-job.json", JSON, False, Sent.job_document),
    "estimate": SentPaper("-estimate.json", JSON, False, Sent.estimate_document),
}
"""The papers of a version, by kind."""

CUSTOMERS_PAPERS = tuple(kind for kind, paper in SENT_PAPERS.items() if paper.customers)


def sent_paper(kind: str, sent: Sent) -> Document:
    """Make a paper of a version."""
    paper = SENT_PAPERS[kind]
    stem = f"{sent.head.number}-v{sent.head.version}"
    return Document(kind, f"{stem}{paper.ending}", paper.media_type, paper.make(sent))
