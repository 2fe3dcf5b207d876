"""Papers of the workshop: of an order, or as a look ahead of a draft or a job document."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from pathlib import Path
from typing import Literal

from clothyard.core.errors import BadInput, NotFound
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import estimate as estimated
from clothyard.core.estimate.make import settled, work_of
from clothyard.core.figure_text import amount_text, day_text, duration_text
from clothyard.core.house.document import House
from clothyard.core.job.document import Design, Job
from clothyard.core.measures import length_text, thread_text
from clothyard.core.methods.settle import goods_name
from clothyard.core.order.held import NAMES_OPEN, OF_TEMPLATES
from clothyard.core.run.needles import Threaded
from clothyard.core.work.document import Work
from clothyard.documents.bundle import PDF, PaperHead
from clothyard.documents.layout import Picture
from clothyard.documents.run_sheet import RunSheet, run_sheet, run_sheet_pdf
from clothyard.documents.template import TemplateOf, template_pdf
from clothyard.documents.workshop import (
    ReadyRow,
    get_ready_pdf,
    labels_of,
    labels_pdf,
    order_pdf,
    proof_pdf,
    purchase_pdf,
)
from clothyard.files.guarded import read_design
from clothyard.services.customer_page.links import link_base
from clothyard.services.customer_page.outbox import picture_for, picture_of, pictures
from clothyard.services.designs.inspection import read_file
from clothyard.services.designs.library import path_of
from clothyard.services.house.standards import shop_house
from clothyard.services.orders import buying
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.orders.readying import GetReady, NeedRow
from clothyard.services.quotes.estimates import read_job_file, work_job
from clothyard.services.run.sheet import not_yet_of
from clothyard.services.sending import send as sending
from clothyard.store import orders as kept
from clothyard.store.blobs import content_hash
from clothyard.store.quotes import Document
from clothyard.store.shop import Shop
from clothyard.store.threaded import threaded_machines

Paper = Literal["run-sheet", "template", "labels", "proof", "get-ready", "order"]
Page = Literal["", "a4", "letter"]


@dataclass(frozen=True, slots=True)
class _Made:
    """What papers are set from: head, job, its figures, its work, the house as the job has it."""

    head: PaperHead
    job: Job
    estimate: Estimate
    work: Work
    house: House
    drawn: list[list[Picture]]
    ahead: bool
    promised_on: str
    threaded: Mapping[str, Threaded]
    not_yet: Mapping[str, list[str]]

    @property
    def held(self) -> list[str]:
        """Why its papers must not be worked from yet, whatever the pass."""
        return list(dict.fromkeys(why for each in self.not_yet.values() for why in each))


def _of_order(shop: Shop, order_id: int) -> _Made:
    orders.keep_up(shop)
    order = kept.find_order(shop, order_id)
    opened = open_version(shop, order_id, order.version)
    head = PaperHead.told(order.number, order.version, opened.version.head)
    return _Made(
        head,
        opened.job,
        opened.estimate,
        opened.whole(),
        opened.changed,
        pictures(shop, opened.job, opened.changed),
        False,
        order.promised_on,
        threaded_machines(shop, opened.changed.machines),
        not_yet_of(shop, order, opened),
    )


def _of_quote(shop: Shop, quote_id: int) -> _Made:
    head, asked, estimate, house = sending.preview(shop, quote_id)
    job, changed = settled(asked, house)
    return _Made(
        head,
        job,
        estimate,
        work_job(shop, job, house),
        changed,
        pictures(shop, job, changed),
        True,
        head.due_on,
        threaded_machines(shop, changed.machines),
        {},
    )


def _templates(made: _Made) -> list[TemplateOf]:
    """List a job's templates, one a placement."""
    found = []
    for n, (asked, line) in enumerate(zip(made.job.lines, made.estimate.lines, strict=True)):
        hoops = {p.id: p.hoop for w in made.work.lines if w.id == line.id for p in w.placements}
        for k, where in enumerate(line.places):
            position = made.house.positions[where.position]
            hoop = hoops.get(asked.placements[k].id)
            found.append(
                TemplateOf(
                    made.head.number,
                    f"{where.label}, {goods_name(asked.goods, made.house)}",
                    made.drawn[n][k],
                    where,
                    made.house.hoops.get(hoop or ""),
                    position.reference,
                    position.side_reference or "the side",
                )
            )
    return found


def _amount(row_unit: str, amount: str, house: House) -> str:
    if row_unit == "m":
        return thread_text(float(amount), units=house.shop.units)
    return amount


def _ready_rows(needs: GetReady, ready: Sequence[str], house: House) -> list[ReadyRow]:
    rows = []
    for row in needs.needs:
        amount = _amount(row.unit, row.amount, house)
        if row.pieces:
            cut = ""
            if row.cut_mm:
                cut = " of " + " × ".join(
                    length_text(s, units=house.shop.units) for s in row.cut_mm
                )
            amount += f", cut as {row.pieces}{cut}"
        where = "there"
        if row.short not in {"", "0"}:
            where = f"{_amount(row.unit, row.short, house)} short"
            where += f", comes {day_text(row.coming_on)}" if row.coming_on else ""
        elif not row.free:
            where = ""
        rows.append(ReadyRow(row.label, amount, where, row.item in ready))
    return rows


def _laid(needs: GetReady) -> list[tuple[str, str]]:
    found = [
        (
            "Files",
            ", ".join(f"{f.called or f.design or 'a count'} on {f.machine}" for f in needs.files),
        ),
        ("Hoops", ", ".join(needs.hoops) or "none fits"),
        ("Needles", ", ".join(needs.needles)),
    ]
    if needs.wind:
        found.append(("Wind", ", ".join(f"{w.count} of {w.called}" for w in needs.wind)))
    return found


def ahead_sheet(shop: Shop, quote_id: int) -> RunSheet:
    """Return a quote's run sheet as a look ahead.

    Raises
    ------
    NotFound
    Conflict
        If it has no price yet.
    """
    return _sheet(_of_quote(shop, quote_id))


def _sheet(made: _Made) -> RunSheet:
    return run_sheet(
        made.head,
        made.job,
        made.estimate,
        made.work,
        made.house,
        threaded=made.threaded,
        not_yet=made.not_yet,
        ahead=made.ahead,
        promised_on=made.promised_on,
    )


@dataclass(frozen=True, slots=True)
class _Asked:
    """How a paper is set: where its code leads, its page, and its order, if it has one."""

    link: str
    page: Page
    mirrored: bool
    view: orders.OrderView | None = None


def _run_sheet(made: _Made, asked: _Asked) -> bytes:
    return run_sheet_pdf(
        _sheet(made),
        made.job,
        made.estimate,
        made.house,
        made.drawn,
        link=asked.link,
        page=asked.page,
    )


def _template(made: _Made, asked: _Asked) -> bytes:
    return template_pdf(
        _templates(made),
        made.house,
        title=f"Template {made.head.number}",
        not_yet=[why for why in made.held if why in OF_TEMPLATES],
        page=asked.page,
        mirrored=asked.mirrored,
    )


def _labels(made: _Made, asked: _Asked) -> bytes:
    open_ = NAMES_OPEN in made.held
    labels = labels_of(made.head.number, made.job, made.estimate, made.house, names_open=open_)
    return labels_pdf(labels, made.house, title=f"Labels {made.head.number}", page=asked.page)


def _proof(made: _Made, asked: _Asked) -> bytes:
    return proof_pdf(made.head, made.job, made.estimate, made.house, made.drawn, page=asked.page)


def _get_ready(made: _Made, asked: _Asked) -> bytes:
    view = asked.view
    if view is None or view.needs is None:
        raise _no_such_paper()
    return get_ready_pdf(
        f"{view.number} {view.customer}",
        _ready_rows(view.needs, view.ready, made.house),
        _laid(view.needs),
        made.house,
        promised_on=view.promised_on,
        page=asked.page,
    )


def _order(made: _Made, asked: _Asked) -> bytes:
    view = asked.view
    if view is None:
        raise _no_such_paper()
    units = [
        (unit.label, duration_text(unit.elapsed_min * 60) if unit.elapsed_min else unit.until)
        for unit in view.units
    ]
    return order_pdf(
        made.head,
        made.job,
        made.estimate,
        made.house,
        units=units,
        paid=view.money.paid,
        due=view.money.due,
        promised_on=view.promised_on,
        page=asked.page,
    )


def _no_such_paper() -> NotFound:
    return NotFound(
        "only an order has that paper.",
        where="kind",
        remedy="Look at the order.",
        code="paper-unknown",
    )


_PAPERS: dict[Paper, Callable[[_Made, _Asked], bytes]] = {
    "run-sheet": _run_sheet,
    "template": _template,
    "labels": _labels,
    "proof": _proof,
    "get-ready": _get_ready,
    "order": _order,
}
"""Every paper of the workshop, and what sets it."""

_OF_ORDERS: frozenset[Paper] = frozenset({"get-ready", "order"})
"""Those that need what is kept of an order: the shelf, its money, its units."""


def order_paper(
    shop: Shop,
    order_id: int,
    kind: Paper,
    *,
    served_at: str,
    page: Page = "",
    mirrored: bool = False,
) -> Document:
    """Set a paper of an order.

    Raises
    ------
    NotFound
    BadInput
        If its work cannot be told any more.
    """
    made = _of_order(shop, order_id)
    link = f"{link_base(shop, served_at)}/orders/{order_id}/run-sheet"
    view = orders.find_order(shop, order_id) if kind in _OF_ORDERS else None
    data = _PAPERS[kind](made, _Asked(link, page, mirrored, view))
    return Document(kind, f"{made.head.number}-{kind}.pdf", PDF, data)


def ahead_paper(
    shop: Shop,
    quote_id: int,
    kind: Paper,
    *,
    served_at: str,
    page: Page = "",
    mirrored: bool = False,
) -> Document:
    """Set a paper of a quote, before it is an order: run sheet, template, labels, proof.

    Raises
    ------
    NotFound
        For a paper that only an order has.
    Conflict
        If it has no price yet.
    """
    made = _of_quote(shop, quote_id)
    link = f"{link_base(shop, served_at)}/quotes/{quote_id}"
    data = _PAPERS[kind](made, _Asked(link, page, mirrored))
    return Document(kind, f"{made.head.number}-{kind}.pdf", PDF, data)


def together(shop: Shop, order_ids: Sequence[int]) -> GetReady:
    """Add up what several orders need, earlier promises first on the shelf.

    Raises
    ------
    NotFound
    """
    views = [orders.find_order(shop, order_id) for order_id in dict.fromkeys(order_ids)]
    needs: dict[str, NeedRow] = {}
    for row in (row for view in views if view.needs for row in view.needs.needs):
        known = needs.get(row.item)
        needs[row.item] = row if known is None else _both(known, row)
    found = [view.needs for view in views if view.needs]
    return GetReady(
        needs=list(needs.values()),
        files=[f for each in found for f in each.files],
        hoops=sorted({hoop for each in found for hoop in each.hoops}),
        needles=sorted({needle for each in found for needle in each.needles}),
        wind=[w for each in found for w in each.wind],
    )


def _both(one: NeedRow, other: NeedRow) -> NeedRow:
    """Add up what two orders need of an item."""
    sums = {
        name: amount_text(Decimal(getattr(one, name) or 0) + Decimal(getattr(other, name) or 0))
        for name in ("amount", "taken", "free", "short")
    }
    cut = one.cut_mm if one.cut_mm == other.cut_mm else None
    return one.model_copy(
        update={**sums, "pieces": one.pieces + other.pieces, "buy": [], "cut_mm": cut}
    )


def together_paper(shop: Shop, order_ids: Sequence[int], *, page: Page = "") -> Document:
    """Set the get-ready list of several orders.

    Raises
    ------
    NotFound
    """
    house = shop_house(shop)
    found = together(shop, order_ids)
    numbers = [kept.find_order(shop, order_id).number for order_id in dict.fromkeys(order_ids)]
    ready = {key for order_id in order_ids for key in kept.find_order(shop, order_id).ready}
    data = get_ready_pdf(
        ", ".join(numbers), _ready_rows(found, sorted(ready), house), _laid(found), house, page=page
    )
    return Document("get-ready", "get-ready.pdf", PDF, data)


def purchase_paper(shop: Shop, purchase_id: int, *, page: Page = "") -> Document:
    """Set an order sheet to a supplier.

    Raises
    ------
    NotFound
    """
    view = buying.find_purchase(shop, purchase_id)
    data = purchase_pdf(
        view.number,
        view.name,
        [(r.label, r.pack, str(r.count), r.price) for r in view.rows],
        shop_house(shop),
        ordered_on=view.ordered_on,
        currency=view.currency,
        goods=view.goods,
        page=page,
    )
    return Document("order", f"{view.number}.pdf", PDF, data)


def job_paper(
    path: Path, kind: Paper, *, page: Page = "", mirrored: bool = False, shop: Shop | None = None
) -> bytes:
    """Set a paper of a job document on disk; its stitch files lie relative to it.

    Raises
    ------
    BadInput
    """
    asked, house, designs = read_job_file(path, shop)
    job, changed = settled(asked, house)
    priced = estimated(asked, house, designs)
    head = PaperHead(path.stem, 1, "", "", "", "", "", "")
    drawn = [
        [
            _drawn_beside(path, placement.design, line.names, house, shop)
            for placement in line.placements
        ]
        for line in job.lines
    ]
    made = _Made(head, job, priced, work_of(job, house, designs), changed, drawn, True, "", {}, {})
    return _PAPERS[kind](made, _Asked(path.name, page, mirrored))


def _drawn_beside(
    path: Path, design: Design, names: Sequence[str], house: House, shop: Shop | None
) -> Picture:
    """Draw a design of a job document: its file lies beside it."""
    if design.file:
        at = path.parent / design.file
        data = read_file(at)
        plan, _ = read_design(data, at.name, sha256=content_hash(data))
        return picture_of(path_of(plan), design.thread_colours)
    return picture_for(shop, design, names, house)


def paper_of(
    what: str, kind: Paper, *, shop: Shop | None, page: Page = "", mirrored: bool = False
) -> bytes:
    """Set a paper of an order, named by its number, or of a job document on disk.

    Raises
    ------
    BadInput
    NotFound
    """
    if what.lower().endswith(".json"):
        return job_paper(Path(what), kind, page=page, mirrored=mirrored, shop=shop)
    if shop is None:
        raise BadInput(
            "an order is in a shop.",
            where="--shop",
            remedy="Name the shop's folder, or a job document.",
            code="folder",
        )
    order_id = orders.order_numbered(shop, what)
    paper = order_paper(
        shop, order_id, kind, served_at=sending.SERVED_AT, page=page, mirrored=mirrored
    )
    return paper.data
