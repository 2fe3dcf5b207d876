"""The run sheet: what is laid out, set and watched at the machine, a page for each placement."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any, Literal

from pydantic import BaseModel
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.units import mm
from reportlab.platypus import KeepTogether, PageBreak, Spacer, Table, TableStyle

from clothyard.core.estimate.document import Estimate, EstimateLine, WayIn, WherePlaced
from clothyard.core.figure_text import counted, duration_text
from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK, Job, Line
from clothyard.core.job.names import piece_kinds, piece_names
from clothyard.core.measures import size_text, thread_text
from clothyard.core.methods.settle import goods_name
from clothyard.core.run.files import file_names
from clothyard.core.run.needles import Needled, Threaded, order_needles
from clothyard.core.run.stitch_files import numbered_name
from clothyard.core.thread.called import thread_called
from clothyard.core.work.cautions import cautions_for
from clothyard.core.work.document import LineTold, PassTold, PlacementTold, Work
from clothyard.core.work.holding import after_sewing, how_held
from clothyard.documents.bundle import PaperHead, as_the_shop_writes, day, piece_drawn
from clothyard.documents.fonts import BOLD
from clothyard.documents.layout import (
    DesignDrawing,
    Picture,
    WayDrawing,
    alone,
    heading,
    not_yet_band,
    pdf,
    side_by_side,
    swatches,
    table,
    text,
    tick_list,
)


class SheetNeedle(BaseModel):
    """A needle and its thread; `change` where the pass before had another there; `block` in order.

    `needle` is None where colours take turns on one needle; `stitches` are of a piece, `metres` of
    the whole pass.
    """

    needle: int | None
    block: int
    colour: str | None
    name: str
    thread: str
    stitches: int
    metres: str
    change: bool


class SheetCut(BaseModel):
    """Backing or topping: what, how large a piece, how many layers, how many pieces."""

    what: str
    label: str
    size: str
    layers: int
    count: int


class SheetStep(BaseModel):
    """What hands do, and when."""

    when: str
    label: str
    per: Literal["piece", "hooping"]
    seconds: float


class SheetAfter(BaseModel):
    """What is done once it is sewn, and why then or so."""

    what: str
    why: str


class SheetMark(BaseModel):
    """Where the centre goes, for which sizes ("" for all)."""

    sizes: str
    words: str


class SheetPiece(BaseModel):
    """A piece in sewing order: its number, size and colour, name ("" for none), and the file that
    sews it where each name has its own."""

    n: int
    kind: str
    name: str
    file: str = ""


class SheetPass(BaseModel):
    """A placement at the machine: place, hoop, file, needles, cuts, steps, cautions, pieces."""

    id: str
    sample: bool
    line: str
    placement: str
    goods: str
    place: str
    pieces: int
    count: str
    marks: list[SheetMark]
    hoop: str
    hooping: str
    file_name: str
    design: str
    stitches: int
    size: str
    machine: str
    cycle: str
    cycles: int
    needles: list[SheetNeedle]
    cuts: list[SheetCut]
    needle: str
    speed: str
    bobbin: str
    held: list[str] = []
    way: str = ""
    way_in: WayIn | None = None
    steps: list[SheetStep]
    after: list[SheetAfter] = []
    stand_by: str
    cautions: list[str]
    piece_list: list[SheetPiece]
    sha256: str | None
    not_yet: list[str] = []
    """Why it must not be worked from yet."""


class RunSheet(BaseModel):
    """The run sheet of an order, or, as a look ahead, of a draft (clothyard-run-sheet/1)."""

    format: Literal["clothyard-run-sheet/1"] = "clothyard-run-sheet/1"
    number: str
    version: int
    customer: str
    promised_on: str
    notes: str
    ahead: bool
    passes: list[SheetPass]


def _needles(
    each: PassTold, house: House, needled: Needled, changed: Collection[int]
) -> list[SheetNeedle]:
    """List a pass's needles, those `changed` that are threaded anew before it."""
    pieces = sum(of.pieces for of in each.of)
    found = []
    for row in each.threads:
        colour = row.colour
        name = thread_called(colour, house, otherwise=f"colour {row.block}")
        needle = needled.of.get(row.block)
        kind = house.threads[row.thread].label if row.thread in house.threads else row.thread
        found.append(
            SheetNeedle(
                needle=needle,
                block=row.block,
                colour=colour,
                name=name,
                thread=kind,
                stitches=round(row.stitches / max(1, pieces)),
                metres=thread_text(row.needle_m, units=house.shop.units),
                change=needle is None or needle in changed,
            )
        )
    return found


def _cuts(each: PassTold, methods: Mapping[str, str], house: House) -> list[SheetCut]:
    layers = {
        methods.get(of, ""): int(methods.get(count, "1") or 1)
        for of, count in (("backing", "layers"), ("second_backing", "second_layers"))
    }
    found = []
    for cut in each.cuts:
        found.append(
            SheetCut(
                what=cut.what,
                label=house.material_label(cut.material),
                count=cut.count,
                size=size_text((cut.width_mm, cut.height_mm), units=house.shop.units),
                layers=layers.get(cut.material, 1) if cut.what == "backing" else 1,
            )
        )
    return found


def _hooping(where: WherePlaced) -> str:
    """Say how it lies in the hoop, in words."""
    said = []
    if where.hoop_way % 360:
        said.append(f"the design lies {where.hoop_way}° round in it")
    if where.tilt_deg:
        said.append(f"tilted {where.tilt_deg:g}°")
    if where.mirror:
        said.append("mirrored")
    hooping = where.hooping
    if hooping.per_piece > 1:
        said.append(f"{hooping.per_piece} hoopings a piece")
    if hooping.pieces > 1:
        said.append(f"{hooping.pieces} pieces a hooping")
    return ", ".join(said) or "upright"


def _bobbin(each: PassTold, line: EstimateLine, house: House) -> str:
    rows = [
        f"{counted(b.count, 'bobbin')} of {thread_called(b.colour, house, otherwise='its thread')}"
        for b in each.bobbins
        if b.count
    ]
    policy = line.bobbins.policy.replace("-", " ")
    every = min((b.pieces_per_bobbin for b in each.bobbins if b.pieces_per_bobbin), default=0)
    when = f", a fresh one every {counted(every, 'piece')}" if every else ""
    return f"{', '.join(rows) or 'as loaded'}; changed {policy}{when}"


def _stand_by(line: LineTold, placed: PlacementTold, house: House) -> str:
    goods, standby = house.goods.get(line.goods), placed.standby
    if standby is None:
        standby = float(goods.standby) if goods else 0.0
    if not standby:
        return ""
    if placed.hoop is None or standby >= 1:
        return "A person stands by all the time it sews."
    return f"A person stands by for {standby:.0%} of the sewing."


def _piece_list(line: Line, placement: int, house: House) -> list[SheetPiece]:
    own = NAME_MARK in (line.placements[placement].design.text or "")
    pieces = zip(piece_kinds(line), piece_names(line), strict=True)
    return [
        SheetPiece(
            n=n,
            kind=kind,
            name=name,
            file=numbered_name(n, name, house.papers) if own and name else "",
        )
        for n, (kind, name) in enumerate(pieces, 1)
    ]


def run_sheet(
    head: PaperHead,
    job: Job,
    estimate: Estimate,
    work: Work,
    house: House,
    *,
    threaded: Mapping[str, Threaded],
    not_yet: Mapping[str, Sequence[str]],
    first: str = "",
    ahead: bool = False,
    promised_on: str = "",
) -> RunSheet:
    """Write an order's run sheet: every figure of it is the estimate's or the work's.

    Parameters
    ----------
    head : PaperHead
    job, estimate, work, house
        As priced, the house as the job changes it.
    threaded : mapping of machine to Threaded
        What is on each machine's needles now.
    not_yet : mapping of pass id to words
        Why each must not be worked from yet, () for what may.
    first : str
        The pass that is sewn now, "" where all are to come.
    ahead : bool
        Of a draft: nothing is agreed yet.
    """
    lines = {line.id: line for line in work.lines}
    order = {line.id: n for n, line in enumerate(estimate.lines)}
    rows: list[tuple[PassTold, str, str]] = [
        (each, of.line, of.placement)
        for each in sorted(work.passes, key=lambda one: not one.sample)  # samples come first
        for of in each.of
    ]
    placed_of = {p.id: p for line in work.lines for p in line.placements}
    called = file_names(
        [
            {
                "order": head.number,
                "line": str(order[line_id] + 1),
                "place": placed_of[place_id].position,
                "design": placed_of[place_id].design.name,
                "name": head.customer,
            }
            for line_id, place_id in dict.fromkeys((row[1], row[2]) for row in rows)
        ],
        house.papers,
    )
    names = dict(zip(dict.fromkeys((row[1], row[2]) for row in rows), called, strict=True))
    needles = order_needles(work, house, threaded, first=first)
    begun: set[str] = set()
    passes = []
    for each, line_id, place_id in rows:
        line, placed = lines[line_id], placed_of[place_id]
        priced = estimate.lines[order[line_id]]
        k = next(n for n, p in enumerate(line.placements) if p.id == place_id)
        where, asked = priced.places[k], job.lines[order[line_id]]
        hoop = house.hoops.get(placed.hoop or "")
        of = next(o for o in each.of if (o.line, o.placement) == (line_id, place_id))
        needle = placed.methods.get("needle", "")
        passes.append(
            SheetPass(
                id=each.id,
                sample=each.sample,
                line=line_id,
                placement=place_id,
                goods=goods_name(asked.goods, house),
                place=where.label,
                pieces=of.pieces,
                count=counted(of.pieces, "sample" if each.sample else "piece"),
                marks=[SheetMark(sizes=m.sizes, words=m.words) for m in where.marks],
                hoop=hoop.label if hoop else "no hoop fits",
                hooping=_hooping(where),
                file_name=names[line_id, place_id],
                design=placed.design.name.replace(NAME_MARK, "each own name"),
                stitches=placed.design.stitches,
                size=size_text(
                    (placed.design.width_mm, placed.design.height_mm), units=house.shop.units
                ),
                machine=house.machines[each.machine].label,
                cycle=duration_text(each.machine_s / max(1, each.cycles)),
                cycles=each.cycles,
                needles=_needles(
                    each,
                    house,
                    needles[each.id],
                    () if each.id in begun else needles[each.id].changed,
                ),
                cuts=_cuts(each, placed.methods, house),
                needle=house.needles[needle].label if needle in house.needles else needle,
                speed=f"at most {placed.cap_spm:.0f} stitches a minute",
                bobbin=_bobbin(each, priced, house),
                held=how_held(line, each, placed, house),
                way=placed.way,
                way_in=where.way,
                after=[
                    SheetAfter(what=step.what, why=step.why) for step in after_sewing(line, each)
                ],
                steps=[
                    SheetStep(when=s.when, label=s.label, per=s.per, seconds=s.seconds)
                    for s in where.steps
                ],
                stand_by=_stand_by(line, placed, house),
                cautions=cautions_for(line, placed, house),
                piece_list=[] if each.sample else _piece_list(asked, k, house),
                sha256=placed.design.sha256,
                not_yet=list(not_yet.get(each.id, ())),
            )
        )
        begun.add(each.id)
    return RunSheet(
        number=head.number,
        version=head.version,
        customer=head.customer,
        promised_on=promised_on or head.promised_on or head.due_on,
        notes=head.notes,
        ahead=ahead,
        passes=passes,
    )


def _code(words: str, side_mm: float = 22) -> Drawing:
    """Draw a code to scan."""
    widget = QrCodeWidget(words)
    x0, y0, x1, y1 = widget.getBounds()
    k = side_mm * mm / max(x1 - x0, y1 - y0)
    drawing = Drawing(side_mm * mm, side_mm * mm, transform=[k, 0, 0, k, 0, 0])
    drawing.add(widget)
    return drawing


def _tally(pieces: Sequence[SheetPiece]) -> list[Any]:
    """Set boxes to tick, with names in sewing order."""
    if not pieces:
        return []
    named = any(piece.name or piece.kind for piece in pieces)
    cells = [
        f"{p.n}"
        + (f"  {p.name or '–'}" if named else "")
        + (f"  ({p.kind})" if p.kind else "")
        + (f"  {p.file}" if p.file else "")
        for p in pieces
    ]
    return [heading("Tally, in sewing order", 11), tick_list(cells, columns=3 if named else 8)]


def _page(
    sheet: RunSheet,
    each: SheetPass,
    drawn: list[Any],
    picture: Picture | None,
    link: str,
    house: House,
) -> list[Any]:
    """Set a placement."""
    kind = "Sample: " if each.sample else ""
    own = any(piece.file for piece in each.piece_list)
    file = "Files below, each name its own" if own else f"File {each.file_name}"
    called = file + (f" ({each.design})" if each.design else "")
    title = [
        text(f"{sheet.number}   {kind}{each.place}", 18, font=BOLD, after=2),
        text(f"{each.count} · {each.goods}", 12),
        text(
            f"{sheet.customer}"
            + (f", promised for {day(sheet.promised_on)}" if sheet.promised_on else "")
        ),
        text(called, 11, font=BOLD),
    ]
    head = Table([[title, _code(link)]], colWidths=[146 * mm, 24 * mm], hAlign="LEFT")
    head.setStyle(
        TableStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0)])
    )
    facts = [
        [
            "Mark the centre",
            "\n".join(f"{m.sizes}: {m.words}" if m.sizes else m.words for m in each.marks),
        ],
        ["Hoop", f"{each.hoop}; {each.hooping}"],
        *([["How it goes in", each.way]] if each.way and not each.way_in else []),
        ["Held", " ".join(each.held)],
        ["Machine", f"{each.machine}, {each.speed}"],
        [
            "Stitches",
            f"{each.stitches:,}, {each.size}; a cycle {each.cycle}, "
            f"{counted(each.cycles, 'cycle')}",
        ],
        ["Needle", each.needle],
        ["Bobbin", each.bobbin],
    ]
    if each.stand_by:
        facts.append(["Standing by", each.stand_by])
    facts += [
        [
            cut.what.capitalize(),
            f"{cut.label}, {cut.size}, {counted(cut.count, 'piece')}"
            + (f", {cut.layers} layers each" if cut.layers > 1 else ""),
        ]
        for cut in each.cuts
    ]
    needles = [["", "Needle", "Thread", "Stitches", "Takes", "Before"]]
    needles += [
        [
            "",
            str(n.needle or "by hand"),
            f"{n.name}, {n.thread}",
            f"{n.stitches:,}",
            n.metres,
            "change it" if n.change else "stays",
        ]
        for n in each.needles
    ]
    steps = [["When", "What", "Time"]]
    steps += [[s.when, s.label, f"{s.seconds:.0f} s a {s.per}"] for s in each.steps]
    story: list[Any] = [*not_yet_band(each.not_yet), head]
    design = [DesignDrawing(picture, 48, units=house.shop.units)] if picture else []
    story += [*side_by_side([*drawn, *design]), Spacer(1, 3 * mm)]
    if each.way_in:
        goes = Table(
            [[WayDrawing(each.way_in), text(f"How it goes in: {each.way_in.words}")]],
            colWidths=[32 * mm, 138 * mm],
            hAlign="LEFT",
        )
        goes.setStyle(
            TableStyle([("VALIGN", (0, 0), (-1, -1), "MIDDLE"), ("LEFTPADDING", (0, 0), (0, 0), 0)])
        )
        story.append(goes)
    story += [
        table(facts, (32, 138), head=False),
        Spacer(1, 3 * mm),
        swatches(
            table(needles, (8, 16, 72, 22, 24, 28), right=(3, 4)), [n.colour for n in each.needles]
        ),
    ]
    if each.steps:
        story += [heading("Steps and stops, in order", 11), table(steps, (48, 96, 26))]
    if each.after:
        after = [["", "After sewing, in order", "Why"]]
        after += [[str(n), step.what, step.why] for n, step in enumerate(each.after, 1)]
        story += [Spacer(1, 2 * mm), table(after, (8, 102, 60))]
    story += [Spacer(1, 2 * mm), *_tally(each.piece_list)]
    story.append(
        KeepTogether(
            [heading("Take care", 11), *(text(f"• {words}", 8) for words in each.cautions)]
        )
    )
    return story


@as_the_shop_writes
@alone
def run_sheet_pdf(
    sheet: RunSheet,
    job: Job,
    estimate: Estimate,
    house: House,
    pictures: Sequence[Sequence[Picture]],
    *,
    link: str,
    page: str = "",
) -> bytes:
    """Set a run sheet, a placement a page where it fits.

    Parameters
    ----------
    sheet : RunSheet
    job, estimate, house
    pictures : one a placement, for each line
    link : str
        Where the screen for it is, for the code to scan.
    page : "a4" or "letter", "" as the shop has it
    """
    order = {line.id: n for n, line in enumerate(estimate.lines)}
    story: list[Any] = []
    for each in sheet.passes:
        n = order[each.line]
        k = next(i for i, p in enumerate(job.lines[n].placements) if p.id == each.placement)
        drawn = piece_drawn(
            estimate.lines[n], job, n, house, pictures[n], only=k, high_mm=48, measured=True
        )
        if story:
            story.append(PageBreak())
        story += _page(sheet, each, drawn, pictures[n][k], f"{link}?pass={each.id}", house)
    if sheet.notes:
        story += [heading("Notes", 11), text(sheet.notes)]
    ahead = ", look ahead" if sheet.ahead else ""
    return pdf(
        story,
        title=f"Run sheet {sheet.number}",
        page=page or house.papers.size,
        footer=f"{sheet.number} v{sheet.version}{ahead}, for the workshop",
    )
