"""Quotes: make, keep, find, copy, delete."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from datetime import date, timedelta
from typing import Any, Literal

from pydantic import BaseModel, Field

from clothyard.core.errors import (
    BadInput,
    ClothyardError,
    Conflict,
    NotFound,
    SeveralBadInputs,
    Stale,
)
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import Pricing
from clothyard.core.house.changes import standards_changed
from clothyard.core.house.document import House
from clothyard.core.job.begun import counted, lacking, priceable
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Job
from clothyard.core.job.hidden import with_costs_of
from clothyard.core.job.upgrade import upgraded
from clothyard.core.methods.settle import goods_name
from clothyard.core.plain import check_plain
from clothyard.core.record import record
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.services.customer_page.links import SaidView, drawn_as, list_said
from clothyard.services.designs.library import FileChanged, files_changed, steps_to_remember
from clothyard.services.house.guesses import Rates, rates_of
from clothyard.services.house.standards import HouseNow, house_now
from clothyard.services.quotes.estimates import pricing_of
from clothyard.store import quotes as kept
from clothyard.store.customers import customer_ids, key_of
from clothyard.store.designs import remember_steps
from clothyard.store.shop import Shop, now, today

State = Literal["draft", "sent", "accepted", "declined", "expired"]
Sort = Literal["changed", "number", "customer", "what", "due", "total", "state"]
Text200 = Field(default="", max_length=200)
MAX_JOB_TEXT = 500_000
PURGE_DAYS = 30
DAYS = ("due_on", "valid_until", "promised_on")
MOST_WRITTEN = 100_000
EMPTY_JOB: dict[str, Any] = {"format": "clothyard-job/1", "lines": []}


class QuoteHead(BaseModel):
    """Who a quote is for, and until when; dates are ISO, "" for none.

    `promised_on` is the day that its papers state, "" for the safe one. It is kept by going before
    an order (its id, 0 for none), by goods sent express, by a first part of so many pieces.
    """

    customer: str = Text200
    email: str = Text200
    due_on: str = Field(default="", max_length=10)
    valid_until: str = Field(default="", max_length=10)
    notes: str = Field(default="", max_length=5000)
    promised_on: str = Field(default="", max_length=10)
    goes_before: int = Field(default=0, ge=0, le=2**53)
    express: bool = False
    first_part: int = Field(default=0, ge=0, le=100_000)


class QuoteDocument(QuoteHead):
    """A quote as it is saved: its head and the whole job, as typed."""

    job: dict[str, Any] = Field(default_factory=lambda: dict(EMPTY_JOB))


class FieldTold(BaseModel):
    """What is wrong at a place of the job."""

    code: str
    where: str
    detail: str
    remedy: str


class Drawn(BaseModel):
    """What a list draws of a quote: its first line's goods, in their colour, and its threads."""

    drawing: str
    cloth: str = ""
    threads: list[str] = Field(default_factory=list)


class QuoteRow(QuoteHead):
    """A quote in the list."""

    id: int
    number: str
    state: State
    revision: int
    version: int
    summary: str
    total: str
    currency: str
    changed_on: str
    heard: str
    deleted: bool
    drawn: Drawn | None = None
    customer_id: int | None = None
    """Of the customer who goes by that name; of none while they are only typed."""


class QuoteView(QuoteRow):
    """A quote, its job as typed, and the estimate of it, or of what of it can be priced.

    `lacks` says what is still asked for a whole price, `counted` the pieces of each line, 0 where
    they cannot be read.
    """

    job: dict[str, Any]
    estimate: Estimate | None
    lacks: list[str]
    counted: list[int]
    problems: list[FieldTold]
    standards_changed: list[str]
    files_changed: list[FileChanged]
    said: list[SaidView]
    rates: Rates | None = None
    """The rates its price is made of, and which of them are guesses; of drafts."""


class QuoteThere(QuoteRow):
    """A quote as it is kept, where a write of another came too late: not priced."""

    job: dict[str, Any]


class QuotePage(BaseModel):
    """A page of the list."""

    items: list[QuoteRow]
    total: int
    next: str | None


def state_of(quote: kept.KeptQuote) -> State:
    """Return a quote's state; one that was sent and is past its date has expired."""
    past = quote.valid_until and quote.valid_until < today()
    if quote.state == "sent" and past:
        return "expired"
    return quote.state  # type: ignore[return-value]


def _row(quote: kept.KeptQuote) -> dict[str, Any]:
    names = QuoteRow.model_fields
    values = {name: getattr(quote, name) for name in names if hasattr(quote, name)}
    try:
        drawn = Drawn.model_validate_json(quote.drawn) if quote.drawn else None
    except ValueError:  # what the list draws is torn: the quote itself is told elsewhere
        drawn = None
    return values | {
        "state": state_of(quote),
        "deleted": quote.deleted_on is not None,
        "drawn": drawn,
    }


def _told(error: ClothyardError) -> list[FieldTold]:
    several = error.problems if isinstance(error, SeveralBadInputs) else [error]
    return [
        FieldTold(code=e.code, where=e.where, detail=e.message, remedy=e.remedy) for e in several
    ]


@record
class Shown:
    """What an answer's estimate shows: the working, what else could be done, each piece's figures.

    `others` of one line (from 0), the open one, or of none (False).
    """

    working: bool = False
    others: int | bool = False
    pieces: bool = False

    @property
    def open_line(self) -> int | None:
        """The line that is open: of it all is told with a save, of others an overview."""
        return None if isinstance(self.others, bool) else self.others


@record
class Priced:
    """A job as typed, read and priced by one house, as far as it goes."""

    job: Job | None
    estimate: Estimate | None
    lacks: list[str]
    problems: list[FieldTold]
    pricing: Pricing | None = None
    """What the estimate was written from; more of it can be."""


_ONLY_BEGUN = {"missing", "design-source", "bad-value"}
"""Codes of what is not there yet, which `lacks` tells."""


def _unreadable(typed: dict[str, Any], house: House) -> list[FieldTold]:
    """Tell what of a job that is only begun cannot be read."""
    try:
        job_from(typed, currency=house.price.currency)
    except BadInput as error:
        return [told for told in _told(error) if told.code not in _ONLY_BEGUN]
    return []


def price_typed(
    shop: Shop, typed: dict[str, Any], house: House, shown: Shown, *, first: bool = False
) -> Priced:
    """Price a job as typed, or the part of it that can be priced while the rest is only begun.

    `first` leaves out what else could be done: it follows.
    """
    made = [class_id for class_id, goods in house.goods.items() if goods.made]
    lacks, part = lacking(typed, made=made), priceable(typed, made=made)
    if part is None:
        return Priced(None, None, lacks, _unreadable(typed, house))
    try:
        job = job_from(dict(part), currency=house.price.currency)
        pricing = pricing_of(shop, job, house)
        found = pricing.estimate(
            working=shown.working,
            compare=False if first else shown.others,
            pieces=shown.pieces,
            open_line=shown.open_line if first else None,
        )
    except (BadInput, NotFound) as error:
        return Priced(None, None, lacks, _told(error))
    return Priced(None if lacks else job, found, lacks, [], pricing)


def _view(
    shop: Shop,
    quote: kept.KeptQuote,
    priced: Priced,
    changed: list[str] | None = None,
    said: list[SaidView] | None = None,
) -> QuoteView:
    job = upgraded(quote.job)
    return QuoteView(
        **_row(quote),
        job=job,
        estimate=priced.estimate,
        lacks=priced.lacks,
        counted=counted(job),
        problems=priced.problems,
        standards_changed=changed or [],
        files_changed=files_changed(shop, job, sent=quote.state != "draft"),
        said=said or [],
        rates=_rates(shop, quote, priced),
    )


def _rates(shop: Shop, quote: kept.KeptQuote, priced: Priced) -> Rates | None:
    if quote.state != "draft" or priced.pricing is None:
        return None
    return rates_of(shop, priced.pricing)


def _standards_changed(shop: Shop, quote: kept.KeptQuote, house: HouseNow) -> list[str]:
    """List the standards that changed since a draft was last saved: they move its price."""
    if house.sha256 == quote.house_sha256:
        return []
    before = kept.find_house(shop, quote.house_sha256)
    return standards_changed(before, json.loads(house.text), blanks=_blanks_of(quote.job))


def _blanks_of(job: dict[str, Any]) -> set[str]:
    """List the shelf's blanks that a job, as typed, names."""
    lines = job.get("lines")
    rows = lines if isinstance(lines, list) else []
    goods = [line.get("goods") for line in rows if isinstance(line, dict)]
    return {str(g["blank"]) for g in goods if isinstance(g, dict) and g.get("blank")}


def _checked(document: QuoteDocument) -> QuoteDocument:
    """Refuse what could not be read again, before anything is kept; write its dates one way.

    Raises
    ------
    BadInput
    """
    check_plain(document.job, where="job")
    days = {name: read_day(getattr(document, name), name) for name in DAYS}
    return document.model_copy(update=days)


def read_day(text: str, where: str) -> str:
    """Read a date in any ISO form (2026-05-31, 20260531, 2026W227) and write it as 2026-05-31."""
    try:
        return date.fromisoformat(text.strip()).isoformat() if text.strip() else ""
    except ValueError:
        raise BadInput(
            f"{text!r} is no date.",
            where=where,
            remedy="Enter it as 2026-05-31.",
            code="not-a-date",
        ) from None


def _columns(document: QuoteDocument, priced: Priced, house: HouseNow) -> dict[str, Any]:
    """Work out the columns that are kept of a document."""
    job_text = json.dumps(document.job)
    if len(job_text) > MAX_JOB_TEXT:
        raise BadInput("the job is too large to keep.", where="job", remedy="Split it.")
    lines = priced.job.lines if priced.job else ()
    summary = ", ".join(f"{n.quantity} × {goods_name(n.goods, house.house)}" for n in lines)
    whole = priced.estimate if priced.job else None
    words = [document.customer, document.email, document.notes, summary]
    if whole and priced.pricing:
        words += [p.facts.name for line in priced.pricing.lines for p in line.plan.placements]
        words.append(whole.total.to_pay)
    return document.model_dump(exclude={"job"}) | {
        "drawn": _drawn(priced, house.house),
        "job": job_text,
        "summary": summary,
        "total": whole.total.to_pay if whole else "",
        "currency": whole.currency if whole else house.house.price.currency,
        "search": " ".join(words).lower(),
        "house_sha256": house.sha256,
        "house": house.text,
    }


def columns_of(
    shop: Shop, document: QuoteDocument, house: HouseNow, *, number: str
) -> dict[str, Any]:
    """Say what is kept of a quote that stands so: its head, its job, what the list shows of it."""
    document = _checked(document)
    priced = price_typed(shop, document.job, house.house, Shown())
    columns = _columns(document, priced, house)
    return columns | {"search": f"{number.lower()} {columns['search']}"}


def beginning(number: str, columns: Mapping[str, Any]) -> kept.KeptQuote:
    """Return a quote as it will be kept under the next number."""
    names = kept.KeptQuote.__dataclass_fields__.keys() & columns.keys()
    return kept.KeptQuote(
        **{name: columns[name] for name in names}
        | {"id": 0, "number": number, "state": "draft", "revision": 1, "version": 0, "heard": ""}
        | {"changed_on": now(), "deleted_on": None, "job": json.loads(columns["job"])},
    )


MOST_THREADS = 6


def _drawn(priced: Priced, house: House) -> str:
    if priced.estimate is None or priced.pricing is None or not priced.pricing.job.lines:
        return ""
    asked, line = priced.pricing.job.lines[0], priced.estimate.lines[0]
    placed = priced.pricing.lines[0].plan.placements
    colours = [block.colour for p in placed for block in p.facts.blocks if block.colour]
    return Drawn(
        drawing=drawn_as(asked.goods.class_, house),
        cloth=line.cloth or "",
        threads=list(dict.fromkeys(colours))[:MOST_THREADS],
    ).model_dump_json()


def create_quote(shop: Shop, document: QuoteDocument, *, shown: Shown = Shown()) -> QuoteView:
    """Make a draft under the next number.

    Unsaid, it is valid for the shop's usual days and in the shop's currency, which it keeps. With
    nothing said at all, a draft that nothing was written into is taken up, if there is one.

    Parameters
    ----------
    shop : Shop
    document : QuoteDocument
    shown : Shown
        What the answer's estimate shows.

    Raises
    ------
    BadInput
        If a date is none, or the job too large; what is typed in it is kept as it is.
    """
    document = _checked(document)
    house = house_now(shop)
    nothing_said = document == QuoteDocument()
    document = _begun(document, house)
    begun = json.dumps(document.job)
    if nothing_said and (untouched := kept.find_untouched(shop, begun)):
        return _renewed(shop, untouched, house)
    priced = price_typed(shop, document.job, house.house, shown)
    with shop.unit() as unit:
        # pressed twice, the other press may just have made it
        quote = kept.find_untouched(unit, begun) if nothing_said else None
        quote = quote or kept.add_quote(unit, **_columns(document, priced, house))
    return _view(shop, quote, priced)


def _begun(document: QuoteDocument, house: HouseNow) -> QuoteDocument:
    """Begin a quote: in the shop's currency, valid for its usual days, unless it says otherwise."""
    job = {"currency": house.house.price.currency} | document.job
    until = document.valid_until or valid_until(house.house)
    return document.model_copy(update={"job": job, "valid_until": until})


def _renewed(shop: Shop, quote: kept.KeptQuote, house: HouseNow) -> QuoteView:
    """Take up a draft that nothing was written into: it leaves no number behind."""
    until = valid_until(house.house)
    if quote.valid_until != until:
        with shop.unit() as unit:
            quote = kept.change_quote(unit, quote.id, seen=quote.revision, valid_until=until)
    return _view(shop, quote, price_typed(shop, quote.job, house.house, Shown()))


def valid_until(house: House) -> str:
    """Return the last day of a quote that is made today, ISO text."""
    until = date.fromisoformat(today()) + timedelta(days=house.terms.valid_days)
    return until.isoformat()


def find_quote(shop: Shop, quote_id: int, *, shown: Shown = Shown()) -> QuoteView:
    """Open a quote, priced by today's standards while it is a draft, else as it was sent.

    Raises
    ------
    NotFound
    """
    quote = kept.find_quote(shop, quote_id)
    said = list_said(shop, quote_id)
    if quote.state != "draft" and quote.version:
        version = kept.find_version(shop, quote_id, quote.version)
        sent = Estimate.model_validate(version.estimate)
        return _view(shop, quote, Priced(None, sent, [], []), said=said)
    house = house_now(shop)
    priced = price_typed(shop, quote.job, house.house, shown)
    return _view(shop, quote, priced, _standards_changed(shop, quote, house), said)


def list_quotes(
    shop: Shop,
    *,
    search: str = "",
    state: str = "",
    sort: Sort = "changed",
    cursor: str = "",
    limit: int = 50,
    customer: int | None = None,
    down: bool | None = None,
) -> QuotePage:
    """List quotes, a page at a time; `down` the other way round than usual, or not."""
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_quotes(
        shop,
        search=search,
        state=state,
        sort=sort,
        offset=offset,
        limit=limit,
        customer=customer,
        down=down,
    )
    after = offset + len(found)
    whose = customer_ids(shop, [key_of(quote.customer) for quote in found])
    return QuotePage(
        items=[
            QuoteRow(**_row(quote), customer_id=whose.get(key_of(quote.customer)))
            for quote in found
        ],
        total=total,
        next=str(after) if after < total else None,
    )


def quotes_sheet(shop: Shop, kind: SheetKind, **wanted: Any) -> bytes:
    """Write the quotes of a list as a table; `wanted` as of `list_quotes`."""
    rows = list_quotes(shop, **wanted, limit=MOST_WRITTEN).items
    heads = [
        "Number",
        "Version",
        "Customer",
        "E-mail",
        "What",
        "To pay",
        "Currency",
        "Wanted by",
        "Valid until",
        "State",
        "Changed",
    ]
    table = [
        [
            row.number,
            str(row.version),
            row.customer,
            row.email,
            row.summary,
            row.total,
            row.currency,
            row.due_on,
            row.valid_until,
            row.state,
            row.changed_on[:10],
        ]
        for row in rows
    ]
    return write_sheet(heads, table, kind=kind, title="Quotes")


def with_costs(shop: Shop, quote_id: int, job: dict[str, Any]) -> dict[str, Any]:
    """Put back into a job what a screen without costs was not told of a quote; see core.job.hidden.

    Raises
    ------
    NotFound
    """
    return with_costs_of(job, kept.find_quote(shop, quote_id).job)


def save_in_steps(
    shop: Shop, quote_id: int, document: QuoteDocument, *, seen: int, shown: Shown = Shown()
) -> Iterator[QuoteView]:
    """Keep a draft as it now stands, whole; answer with its revision and price, then with more.

    What else could be done takes longer than the price itself; both come of one pricing.

    Parameters
    ----------
    shop : Shop
    quote_id : int
    document : QuoteDocument
    seen : int
        The revision it is based on.
    shown : Shown
        What the answer's estimate shows.

    Yields
    ------
    QuoteView
        As soon as it is kept; then, where it can be priced and `shown` asks for them, with the
        others.

    Raises
    ------
    Stale
        If it was changed since the revision seen: both are then told.
    Conflict
        If it was sent: revise it first.
    """
    before = kept.find_quote(shop, quote_id)
    if before.state != "draft" and before.revision == seen:
        raise Conflict(
            f"{before.number} was sent: it is not changed.",
            where="state",
            remedy="Revise it: that makes the next version.",
            code="quote-sent",
        )
    document = _checked(document)
    house = house_now(shop)
    priced = price_typed(shop, document.job, house.house, shown, first=True)
    columns = _columns(document, priced, house)
    columns["search"] = f"{before.number.lower()} {columns['search']}"
    steps = steps_to_remember(shop, priced.pricing.job) if priced.pricing else {}
    try:
        with shop.unit() as unit:
            quote = kept.change_quote(unit, quote_id, seen=seen, **columns)
            remember_steps(unit, steps)
    except Stale as error:
        raise _both(error, document) from None
    view = _view(shop, quote, priced)
    yield view
    if priced.pricing and shown.others is not False:
        whole = priced.pricing.estimate(
            working=shown.working,
            compare=shown.others,
            pieces=shown.pieces,
            open_line=shown.open_line,
        )
        yield view.model_copy(update={"estimate": whole})


def _both(error: Stale, yours: QuoteDocument) -> Stale:
    """Hold both documents: as the quote is kept now, and as it came too late."""
    there = error.kept
    assert isinstance(there, kept.KeptQuote)
    return Stale(
        error.message,
        kept=QuoteThere(**_row(there), job=there.job),
        yours=yours,
        where=error.where,
        remedy=error.remedy,
    )


def save_quote(
    shop: Shop, quote_id: int, document: QuoteDocument, *, seen: int, shown: Shown = Shown()
) -> QuoteView:
    """Keep a draft as it now stands; see `save_in_steps`, whose last answer this is."""
    *_, view = save_in_steps(shop, quote_id, document, seen=seen, shown=shown)
    return view


def copy_quote(shop: Shop, quote_id: int, *, pieces: int | None = None) -> QuoteView:
    """Make a new draft with the same customer and job.

    Parameters
    ----------
    pieces : int, optional
        The same work again, so many of its first line and the others in proportion; in another
        number sizes and names are asked anew. Of an accepted quote the designs are sewn before;
        of one that was only sent they keep their digitising. What the shop's standards changed
        since it was sent is told.
    """
    quote = kept.find_quote(shop, quote_id)
    sewn = quote.state == "accepted"
    job = quote.job if pieces is None else _again(quote.job, pieces, sewn=sewn)
    head = {"customer": quote.customer, "email": quote.email, "notes": quote.notes}
    document = QuoteDocument.model_validate(head | {"job": job})
    if pieces is None or quote.version == 0:
        return create_quote(shop, document)
    house = house_now(shop)
    document = _begun(_checked(document), house)
    columns = _columns(document, price_typed(shop, document.job, house.house, Shown()), house)
    columns["house_sha256"] = kept.find_version(shop, quote_id, quote.version).house_sha256
    with shop.unit() as unit:
        made = kept.add_quote(unit, **columns)
    return find_quote(shop, made.id)


def _again(job: dict[str, Any], pieces: int, *, sewn: bool) -> dict[str, Any]:
    """Take a job once more, so many of its first line and the others in proportion."""
    again: dict[str, Any] = json.loads(json.dumps(job))
    lines = again.get("lines")
    lines = [line for line in lines if isinstance(line, dict)] if isinstance(lines, list) else []
    first = lines[0].get("quantity") if lines else None
    for line in lines:
        before = line.get("quantity")
        if isinstance(first, int) and isinstance(before, int):
            line["quantity"] = max(1, int(before * pieces / first + 0.5))
        else:
            line["quantity"] = pieces
        line.pop("unit_price", None)
        if sewn:
            line.pop("sample", None)
        if line["quantity"] != before:
            line.pop("cells", None)
            line.pop("names", None)
        places = line.get("placements")
        for placement in places if isinstance(places, list) else []:
            if sewn and isinstance(placement, dict) and isinstance(placement.get("design"), dict):
                placement["design"]["repeat"] = True
    if pieces != first:
        again.pop("kits", None)
    return again


def delete_quote(shop: Shop, quote_id: int) -> QuoteRow:
    """Mark a quote as deleted; it can be brought back for 30 days."""
    limit = date.fromisoformat(today()) - timedelta(days=PURGE_DAYS)
    with shop.unit() as unit:
        kept.purge_deleted(unit, before=limit.isoformat())
        deleted = kept.mark_deleted(unit, quote_id, now())
    return QuoteRow(**_row(deleted))


def restore_quote(shop: Shop, quote_id: int) -> QuoteRow:
    """Bring a deleted quote back."""
    with shop.unit() as unit:
        restored = kept.mark_deleted(unit, quote_id, None)
    return QuoteRow(**_row(restored))
