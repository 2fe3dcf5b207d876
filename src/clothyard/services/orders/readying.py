"""Getting ready: what an order needs of the shelf, and what else is laid out before it begins."""

from __future__ import annotations

from decimal import Decimal
from pathlib import Path

from pydantic import BaseModel

from clothyard.core.estimate.make import settled, work_of
from clothyard.core.figure_text import amount_text
from clothyard.core.house.document import FINE_BOBBINS, House
from clothyard.core.job.document import Job
from clothyard.core.run.files import file_names
from clothyard.core.stock.buying import cover
from clothyard.core.stock.key import Item
from clothyard.core.stock.needs import Need, needs_of
from clothyard.core.stock.shelf import NeedNow
from clothyard.core.work.document import Work
from clothyard.services.house.standards import shop_house
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.services.quotes.estimates import read_job_file, work_job
from clothyard.services.stock.shelf import QuoteShelf, shelf_for
from clothyard.store.quotes import find_quote as find_kept_quote
from clothyard.store.shop import Shop


class BuyRow(BaseModel):
    """So many of a put-up, a roll or a pack."""

    name: str
    count: int


class NeedRow(BaseModel):
    """An item and how much of it is needed, with samples and spares; what would cover what lacks.

    `pieces` of `cut_mm` are cut from it, where it is cut to one size. Of an order, what it does not
    have yet is `free` on the shelf, beyond what orders promised earlier need, or `short`; `coming`
    was ordered, for `coming_on` ("" where no day is known). Of a job alone these are "".
    """

    kind: str
    item: str
    label: str
    amount: str
    unit: str
    pieces: int
    cut_mm: list[float] | None
    buy: list[BuyRow]
    taken: str = ""
    free: str = ""
    short: str = ""
    on_hand: str = ""
    coming: str = ""
    coming_on: str = ""


class FileRow(BaseModel):
    """A design to load on a machine, and what it is called there."""

    machine: str
    design: str
    stitches: int
    called: str = ""


class WindRow(BaseModel):
    """Bobbins that are wound with their needle's thread."""

    machine: str
    colour: str
    count: int


class GetReady(BaseModel):
    """All that lies ready before an order begins."""

    needs: list[NeedRow]
    files: list[FileRow]
    hoops: list[str]
    needles: list[str]
    wind: list[WindRow]


def buy_rows(item: Item, amount: Decimal, house: House) -> list[BuyRow]:
    """Say what to buy for an amount of an item."""
    return [BuyRow(name=pack.name, count=count) for pack, count in cover(item, amount, house)]


def _row(need: Need, house: House) -> NeedRow:
    return NeedRow(
        kind=need.item.kind,
        item=need.item.key,
        label=need.label,
        amount=amount_text(need.amount),
        unit=need.item.unit,
        pieces=need.pieces,
        cut_mm=list(need.cut_mm) if need.cut_mm else None,
        buy=buy_rows(need.item, need.amount, house),
    )


def need_row(now: NeedNow) -> NeedRow:
    """Tell what an order needs of an item, with what of that lies there."""
    need = now.need
    return NeedRow(
        kind=need.item.kind,
        item=need.item.key,
        label=need.label,
        amount=amount_text(need.amount),
        unit=need.item.unit,
        pieces=need.pieces,
        cut_mm=list(need.cut_mm) if need.cut_mm else None,
        buy=[BuyRow(name=pack.name, count=count) for pack, count in now.buy],
        taken=amount_text(now.taken),
        free=amount_text(now.free),
        short=amount_text(now.short),
        on_hand=amount_text(now.on_hand),
        coming=amount_text(now.coming),
        coming_on=now.coming_on,
    )


def called_of(number: str, work: Work, house: House) -> dict[str, str]:
    """Say what each design's file is called on the machine, by the shop's pattern."""
    rows = [
        (
            p.design.name,
            {"order": number, "line": str(n), "place": p.position, "design": p.design.name},
        )
        for n, line in enumerate(work.lines, 1)
        for p in line.placements
    ]
    names = file_names([row for _, row in rows], house.papers)
    return dict(zip((name for name, _ in rows), names, strict=True))


def get_ready(job: Job, work: Work, house: House, *, number: str = "") -> GetReady:
    """List what an order needs and what is laid out for it.

    Parameters
    ----------
    job : Job
        As asked; its currency settled.
    work : Work
        What is done for it.
    house : House
        As the job changes it.
    number : str
        Of the order: its files are called after it; "" for a job alone.
    """
    called = called_of(number, work, house) if number else {}
    own = frozenset(line.id for line in job.lines if line.goods.supplied_by == "customer")
    put = {p.id: p for line in work.lines for p in line.placements}
    files = {
        (each.machine, put[of.placement].design.name): put[of.placement].design.stitches
        for each in work.passes
        for of in each.of
        if of.placement in put
    }
    wind: dict[tuple[str, str], int] = {}
    for each in work.passes:
        for row in each.bobbins:
            if row.colour not in FINE_BOBBINS:
                key = each.machine, row.colour
                wind[key] = wind.get(key, 0) + row.count
    machines = house.machines
    return GetReady(
        needs=[_row(need, house) for need in needs_of(work, house, customers=own)],
        files=[
            FileRow(
                machine=machines[machine].label,
                design=name,
                stitches=stitches,
                called=called.get(name, ""),
            )
            for (machine, name), stitches in files.items()
        ],
        hoops=sorted({house.hoops[p.hoop].label for p in put.values() if p.hoop}),
        needles=sorted({house.needles[p.methods["needle"]].label for p in put.values()}),
        wind=[
            WindRow(machine=machines[machine].label, colour=colour, count=count)
            for (machine, colour), count in wind.items()
        ],
    )


def quote_shelf(shop: Shop, quote_id: int) -> QuoteShelf:
    """Say what a quote would need of the shelf, and what of that is there.

    Raises
    ------
    NotFound
    """
    quote = find_kept_quote(shop, quote_id)
    house = shop_house(shop)
    priced = price_typed(shop, quote.job, house, Shown(), first=True)
    if priced.job is None:
        return QuoteShelf(kept=True, rows=[], advice=[])
    job, changed = settled(priced.job, house)
    own = frozenset(line.id for line in job.lines if line.goods.supplied_by == "customer")
    needs = needs_of(work_job(shop, job, house), changed, customers=own)
    return shelf_for(shop, needs, changed, wanted_by=quote.due_on)


def get_ready_file(path: Path, *, shop: Shop | None = None) -> GetReady:
    """Say what a job document on disk needs; without a shop by the default house."""
    job, house, designs = read_job_file(path, shop)
    job, changed = settled(job, house)
    return get_ready(job, work_of(job, house, designs), changed)
