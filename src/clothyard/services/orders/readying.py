"""Getting ready: what an order needs of the shelf, and what else is laid out before it begins."""

from __future__ import annotations

from decimal import Decimal
from pathlib import Path
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.estimate.make import settled, work_of
from clothyard.core.figure_text import amount_text
from clothyard.core.house.document import FINE_BOBBINS, House
from clothyard.core.job.document import Job
from clothyard.core.run.files import file_names
from clothyard.core.stock.buying import cover
from clothyard.core.stock.key import Item
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.needs import Need, needs_of
from clothyard.core.stock.shelf import NeedNow, check_item
from clothyard.core.thread.called import thread_called
from clothyard.core.work.document import Work
from clothyard.services.house.standards import shop_house
from clothyard.services.quotes.drafts import Shown, price_typed
from clothyard.services.quotes.estimates import read_job_file, work_job
from clothyard.services.stock.shelf import Amount, QuoteShelf, read_shelf, shelf_for
from clothyard.store import stock
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
    was ordered, for `coming_on` ("" where no day is known). Of a job alone these are "". What is
    `unknown` is short, and may be here: nobody has counted it.
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
    unknown: bool = False


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
    called: str
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
        unknown=now.unknown and now.short > ZERO,
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
            WindRow(
                machine=machines[machine].label,
                colour=colour,
                called=thread_called(colour, house, otherwise="its thread"),
                count=count,
            )
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
        return QuoteShelf(rows=[], advice=[])
    needs, changed = _needs_of_job(shop, priced.job, house)
    return shelf_for(shop, needs, changed, wanted_by=quote.due_on)


def _needs_of_job(shop: Shop, asked: Job, house: House) -> tuple[list[Need], House]:
    """List what a job needs of the shelf, and the house as it changes it."""
    job, changed = settled(asked, house)
    own = frozenset(line.id for line in job.lines if line.goods.supplied_by == "customer")
    return needs_of(work_job(shop, job, house), changed, customers=own), changed


class SaidRow(BaseModel):
    """Whether an item is here: enough for what needs it, so much, or not at all."""

    model_config = ConfigDict(extra="forbid")

    item: str = Field(min_length=1, max_length=200)
    said: Literal["enough", "counted", "none"]
    amount: Amount = ZERO


class Said(BaseModel):
    """What is said of items that nobody has counted; `key` is made by who presses.

    `quote` is one whose needs count beside those of open orders, 0 for none.
    """

    model_config = ConfigDict(extra="forbid")

    key: str = Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9-]+$")
    rows: list[SaidRow] = Field(min_length=1, max_length=500)
    quote: int = Field(default=0, ge=0, le=2**53)


class Counted(BaseModel):
    """How many items were counted by what was said."""

    items: int


_NOTES = {"enough": "said to be here, enough", "none": "said not to be here", "counted": ""}


def say_here(shop: Shop, said: Said) -> Counted:
    """Count what somebody says is here, or not.

    Raises
    ------
    NotFound
    BadInput
        If an item is none of the shop's.
    """
    house = shop_house(shop)
    shelf, more = read_shelf(shop, house), dict[str, Decimal]()
    if said.quote:
        quote = find_kept_quote(shop, said.quote)
        priced = price_typed(shop, quote.job, house, Shown(), first=True)
        if priced.job is not None and quote.state != "accepted":
            needs, _ = _needs_of_job(shop, priced.job, house)
            more = {need.item.key: need.amount for need in needs}
    for row in said.rows:
        check_item(row.item, house, there=shelf.all_items)
    with shop.unit() as unit:
        for n, row in enumerate(said.rows):
            amount = row.amount if row.said == "counted" else ZERO
            if row.said == "enough":
                amount = shelf.enough(row.item, more.get(row.item, ZERO))
            key, note = f"{said.key}:{n}", _NOTES[row.said]
            stock.add_count(unit, key, row.item, amount, why="counted", note=note)
    return Counted(items=len(said.rows))


def get_ready_file(path: Path, *, shop: Shop | None = None) -> GetReady:
    """Say what a job document on disk needs; without a shop by the default house."""
    job, house, designs = read_job_file(path, shop)
    job, changed = settled(job, house)
    return get_ready(job, work_of(job, house, designs), changed)
