"""Quotes: make, keep, find, copy, delete, send, answer, revise."""

from __future__ import annotations

import json
import re
from datetime import date, timedelta
from typing import Any, Literal

from pydantic import BaseModel, Field

from clothyard.core.errors import BadInput, ClothyardError, Conflict, NotFound, SeveralBadInputs
from clothyard.core.estimate.changes import Sent, changes_between
from clothyard.core.estimate.document import Estimate
from clothyard.core.house.changes import standards_changed
from clothyard.core.job.check import job_from, job_json
from clothyard.core.job.document import Job
from clothyard.core.methods.settle import goods_name
from clothyard.documents.bundle import PaperHead, papers
from clothyard.services import outbox
from clothyard.services.customers import SaidView, list_said, make_link
from clothyard.services.designs import FileChanged, files_changed
from clothyard.services.estimates import price_job
from clothyard.services.standards import house_document, shop_house
from clothyard.store import quotes as kept
from clothyard.store.shop import Shop, now, today

State = Literal["draft", "sent", "accepted", "declined", "expired"]
Sort = Literal["changed", "number", "customer", "due", "total"]
Text200 = Field(default="", max_length=200)
MAX_JOB_TEXT = 500_000
PURGE_DAYS = 30
CUSTOMERS_PAPERS = ("quote", "message", "tiers")
EMPTY_JOB: dict[str, Any] = {"format": "clothyard-job/1", "lines": []}


class QuoteHead(BaseModel):
    """Who a quote is for, and until when; dates are ISO, "" for none."""

    customer: str = Text200
    email: str = Text200
    due_on: str = Field(default="", max_length=10)
    valid_until: str = Field(default="", max_length=10)
    notes: str = Field(default="", max_length=5000)


class QuoteDocument(QuoteHead):
    """A quote as it is saved: its head and the whole job, as typed."""

    job: dict[str, Any] = Field(default_factory=lambda: dict(EMPTY_JOB))


class FieldTold(BaseModel):
    """What is wrong at a place of the job."""

    code: str
    where: str
    detail: str
    remedy: str


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


class QuoteView(QuoteRow):
    """A quote, its job as typed, and the estimate of it when it can be priced."""

    job: dict[str, Any]
    estimate: Estimate | None
    problems: list[FieldTold]
    standards_changed: list[str]
    files_changed: list[FileChanged]
    said: list[SaidView]


class QuotePage(BaseModel):
    """A page of the list."""

    items: list[QuoteRow]
    total: int
    next: str | None


class VersionView(BaseModel):
    """A sent version: what the customer was told, and what came back."""

    version: int
    sent_on: str
    answer: str
    answered_on: str
    head: dict[str, str]
    unit: str
    line: str
    to_pay: str
    currency: str
    documents: list[dict[str, str]]
    changes: list[str]


def _state(quote: kept.KeptQuote) -> State:
    past = quote.valid_until and quote.valid_until < today()
    if quote.state == "sent" and past:
        return "expired"
    return quote.state  # type: ignore[return-value]


def _row(quote: kept.KeptQuote) -> dict[str, Any]:
    names = QuoteRow.model_fields
    values = {name: getattr(quote, name) for name in names if hasattr(quote, name)}
    return values | {"state": _state(quote), "deleted": quote.deleted_on is not None}


def _told(error: ClothyardError) -> list[FieldTold]:
    several = error.problems if isinstance(error, SeveralBadInputs) else [error]
    return [
        FieldTold(code=e.code, where=e.where, detail=e.message, remedy=e.remedy) for e in several
    ]


def _priced(
    shop: Shop, job: dict[str, Any], *, working: bool = False
) -> tuple[Job | None, Estimate | None, list[FieldTold]]:
    try:
        read = job_from(job)
        return read, price_job(shop, read, working=working, compare=working), []
    except (BadInput, NotFound) as error:
        return None, None, _told(error)


def _view(
    shop: Shop,
    quote: kept.KeptQuote,
    estimate: Estimate | None,
    problems: list[FieldTold],
    changed: list[str] | None = None,
    said: list[SaidView] | None = None,
) -> QuoteView:
    return QuoteView(
        **_row(quote),
        job=quote.job,
        estimate=estimate,
        problems=problems,
        standards_changed=changed or [],
        files_changed=files_changed(shop, quote.job, sent=quote.state != "draft"),
        said=said or [],
    )


def _standards_changed(shop: Shop, quote: kept.KeptQuote) -> list[str]:
    """List the standards that changed since a draft was last saved: they move its price."""
    sha256, text = house_document(shop)
    if sha256 == quote.house_sha256:
        return []
    before = kept.find_house(shop, quote.house_sha256)
    return standards_changed(before, json.loads(text), blanks=_blanks_of(quote.job))


def _blanks_of(job: dict[str, Any]) -> set[str]:
    """List the shelf's blanks that a job, as typed, names."""
    goods = [line.get("goods") for line in job.get("lines", []) if isinstance(line, dict)]
    return {str(g["blank"]) for g in goods if isinstance(g, dict) and g.get("blank")}


def _check_dates(head: QuoteHead) -> None:
    for name in ("due_on", "valid_until"):
        text = getattr(head, name)
        try:
            if text:
                date.fromisoformat(text)
        except ValueError:
            raise BadInput(
                f"{text!r} is no date.", where=name, remedy="Enter it as 2026-05-31.",
                code="not-a-date",
            ) from None  # fmt: skip


def _columns(shop: Shop, document: QuoteDocument) -> tuple[dict[str, str], Any, Any]:
    """Work out what is kept of a document: columns, estimate, problems."""
    _check_dates(document)
    job_text = json.dumps(document.job)
    if len(job_text) > MAX_JOB_TEXT:
        raise BadInput("the job is too large to keep.", where="job", remedy="Split it.")
    read, estimate, problems = _priced(shop, document.job)
    labels = []
    for line in read.lines if read else ():
        labels.append(f"{line.quantity} × {goods_name(line.goods, shop_house(shop))}")
    summary = ", ".join(labels)
    words = [document.customer, document.email, document.notes, summary]
    columns = document.model_dump(exclude={"job"}) | {
        "job": job_text,
        "summary": summary,
        "total": estimate.total.to_pay if estimate else "",
        "currency": estimate.currency if estimate else shop_house(shop).price.currency,
        "search": " ".join(words).lower(),
    }
    columns["house_sha256"], columns["house"] = house_document(shop)
    return columns, estimate, problems


def create_quote(shop: Shop, document: QuoteDocument) -> QuoteView:
    """Make a draft under the next number.

    Unsaid, it is valid for the shop's usual days and in the shop's currency, which it keeps.
    """
    if "currency" not in document.job:
        job = {"currency": shop_house(shop).price.currency} | document.job
        document = document.model_copy(update={"job": job})
    if not document.valid_until:
        days = shop_house(shop).terms.valid_days
        until = date.fromisoformat(today()) + timedelta(days=days)
        document = document.model_copy(update={"valid_until": until.isoformat()})
    columns, estimate, problems = _columns(shop, document)
    quote = kept.add_quote(shop, **columns)
    return _view(shop, quote, estimate, problems)


def find_quote(shop: Shop, quote_id: int) -> QuoteView:
    """Open a quote, priced by today's standards while it is a draft, else as it was sent."""
    quote = kept.find_quote(shop, quote_id)
    if quote.state != "draft" and quote.version:
        version = kept.find_version(shop, quote_id, quote.version)
        sent = Estimate.model_validate(version.estimate)
        return _view(shop, quote, sent, [], said=list_said(shop, quote_id))
    _, estimate, problems = _priced(shop, quote.job)
    return _view(
        shop, quote, estimate, problems, _standards_changed(shop, quote), list_said(shop, quote_id)
    )


def list_quotes(
    shop: Shop,
    *,
    search: str = "",
    state: str = "",
    sort: Sort = "changed",
    cursor: str = "",
    limit: int = 50,
) -> QuotePage:
    """List quotes, a page at a time."""  # fmt: skip
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_quotes(
        shop, search=search, state=state, sort=sort, offset=offset, limit=limit
    )
    after = offset + len(found)
    return QuotePage(
        items=[QuoteRow(**_row(quote)) for quote in found],
        total=total,
        next=str(after) if after < total else None,
    )


def save_quote(shop: Shop, quote_id: int, document: QuoteDocument, *, seen: int) -> QuoteView:
    """Keep a draft as it now stands, whole.

    Raises
    ------
    Stale
        If it was changed since the revision seen: both are then told.
    Conflict
        If it was sent: revise it first.
    """
    before = kept.find_quote(shop, quote_id)
    columns, estimate, problems = _columns(shop, document)
    if before.state != "draft" and before.revision == seen:
        raise Conflict(
            f"{before.number} was sent: it is not changed.",
            where="state",
            remedy="Revise it: that makes the next version.",
            code="quote-sent",
        )
    columns["search"] = f"{before.number.lower()} {columns['search']}"
    quote = kept.change_quote(shop, quote_id, seen=seen, **columns)
    return _view(shop, quote, estimate, problems)


def copy_quote(shop: Shop, quote_id: int, *, pieces: int | None = None) -> QuoteView:
    """Make a new draft with the same customer and job.

    Parameters
    ----------
    pieces : int, optional
        The same work again, so many of its first line and the others in proportion: designs
        are sewn before; in another number sizes and names are asked anew. What the shop's
        standards changed since it was sent is told.
    """
    quote = kept.find_quote(shop, quote_id)
    job = quote.job if pieces is None else _again(quote.job, pieces)
    made = create_quote(
        shop, QuoteDocument(customer=quote.customer, email=quote.email, notes=quote.notes, job=job)
    )
    if pieces is None or quote.version == 0:
        return made
    sent_under = kept.find_version(shop, quote_id, quote.version).house_sha256
    kept.change_quote(shop, made.id, seen=made.revision, house_sha256=sent_under)
    return find_quote(shop, made.id)


def _again(job: dict[str, Any], pieces: int) -> dict[str, Any]:
    """Take a job as sewn once, so many of its first line and the others in proportion."""
    again: dict[str, Any] = json.loads(json.dumps(job))
    lines = again.get("lines", [])
    first = lines[0].get("quantity") if lines else None
    for line in lines:
        before = line.get("quantity")
        if isinstance(first, int) and isinstance(before, int):
            line["quantity"] = max(1, int(before * pieces / first + 0.5))
        else:
            line["quantity"] = pieces
        line.pop("unit_price", None)
        line.pop("sample", None)
        if line["quantity"] != before:
            line.pop("cells", None)
            line.pop("names", None)
        for placement in line.get("placements", []):
            if isinstance(placement.get("design"), dict):
                placement["design"]["repeat"] = True
    if pieces != first:
        again.pop("kits", None)
    return again


def delete_quote(shop: Shop, quote_id: int) -> QuoteRow:
    """Mark a quote as deleted; it can be brought back for 30 days."""
    limit = date.fromisoformat(today()) - timedelta(days=PURGE_DAYS)
    kept.purge_deleted(shop, before=limit.isoformat())
    return QuoteRow(**_row(kept.change_quote(shop, quote_id, seen=None, deleted_on=now())))


def restore_quote(shop: Shop, quote_id: int) -> QuoteRow:
    """Bring a deleted quote back."""
    return QuoteRow(**_row(kept.change_quote(shop, quote_id, seen=None, deleted_on=None)))


def send_quote(shop: Shop, quote_id: int, *, seen: int) -> QuoteView:
    """Send a draft: freeze it as the next version, with its figures, house and documents.

    The message goes to the simulated outbox.

    Raises
    ------
    Conflict
        While stop advice stands, or something is missing; nothing is sent then.
    """
    quote = kept.find_quote(shop, quote_id)
    if quote.state != "draft":
        raise Conflict(
            f"{quote.number} was sent already.", where="state", remedy="Revise it first.",
            code="quote-sent",
        )  # fmt: skip
    read, estimate, problems = _priced(shop, quote.job, working=True)
    if read is None or estimate is None:
        first = problems[0]
        raise Conflict(
            f"it has no price yet: {first.where or 'the job'} {first.detail}",
            where=first.where,
            remedy=first.remedy or "Say goods, how many and the design.",
            code="quote-unpriced",
        )
    stops = [
        a for line in estimate.lines for a in line.advice if a.level == "stop" and not a.overruled
    ]
    if stops:
        raise Conflict(
            f"it cannot be made so: {stops[0].message}", where=stops[0].where,
            remedy=stops[0].fix, code="quote-stopped",
        )  # fmt: skip
    if not quote.customer.strip():
        raise Conflict(
            "it has no customer.", where="customer", remedy="Say who it is for.",
            code="quote-unaddressed",
        )  # fmt: skip
    if quote.email and not re.fullmatch(r"[!-?A-~]+@[!-?A-~]+", quote.email):
        raise Conflict(
            f"{quote.email[:60]!r} is no e-mail address.", where="email",
            remedy="Mend it, or leave it out.", code="quote-unaddressed",
        )  # fmt: skip
    if quote.valid_until and quote.valid_until < today():
        raise Conflict(
            "its date is past.", where="valid_until", remedy="Let it be valid for longer.",
            code="quote-outdated",
        )  # fmt: skip
    house = shop_house(shop)
    house_sha256, house_text = house_document(shop)
    head = PaperHead(
        number=quote.number,
        version=quote.version + 1,
        customer=quote.customer,
        email=quote.email,
        sent_on=today(),
        due_on=quote.due_on,
        valid_until=quote.valid_until,
        notes=quote.notes,
    )
    files = papers(head, read, estimate, house, outbox.pictures(shop, read, house))
    version = kept.KeptVersion(
        quote_id=quote_id,
        version=head.version,
        head=head.as_text(),
        job=job_json(read),
        estimate=json.loads(estimate.model_dump_json()),
        house_sha256=house_sha256,
        sent_on=now(),
        answer="",
        answered_on="",
    )
    sent = kept.freeze_version(
        shop, quote_id, seen=seen, version=version, house=house_text, documents=files
    )
    link = make_link(shop, quote_id)
    outbox.post(shop, head, files, link=link.url)
    return _view(shop, sent, estimate, [])


def answer_quote(
    shop: Shop, quote_id: int, answer: Literal["accepted", "declined"], *, seen: int
) -> QuoteView:
    """Keep what the customer said."""
    quote = kept.find_quote(shop, quote_id)
    if _state(quote) not in {"sent", "expired"}:
        raise Conflict(
            f"{quote.number} is {_state(quote)}: there is nothing to answer.",
            where="state",
            remedy="Send it first.",
            code="quote-not-sent",
        )
    kept.answer_version(shop, quote_id, seen=seen, answer=answer)
    return find_quote(shop, quote_id)


def revise_quote(shop: Shop, quote_id: int, *, seen: int) -> QuoteView:
    """Open a sent quote as a draft again; the version that was sent stays as it was."""
    quote = kept.find_quote(shop, quote_id)
    if quote.state == "draft":
        raise Conflict(
            f"{quote.number} is a draft already.", where="state", remedy="Change it as it is.",
            code="quote-draft",
        )  # fmt: skip
    values: dict[str, str] = {"state": "draft", "heard": ""}
    if _state(quote) == "expired":
        days = shop_house(shop).terms.valid_days
        until = date.fromisoformat(today()) + timedelta(days=days)
        values["valid_until"] = until.isoformat()
    kept.change_quote(shop, quote_id, seen=seen, **values)
    return find_quote(shop, quote_id)


def version_estimate(shop: Shop, quote_id: int, version: int) -> Estimate:
    """Return the figures of a sent version, as they were."""
    return Estimate.model_validate(kept.find_version(shop, quote_id, version).estimate)


def list_versions(shop: Shop, quote_id: int, *, costs: bool = True) -> list[VersionView]:
    """List what was sent, the first first, each with what changed since the one before.

    Parameters
    ----------
    costs : bool
        False: only the papers and changes that a customer may see.
    """
    kept.find_quote(shop, quote_id)
    found: list[VersionView] = []
    before: Sent | None = None
    for version in kept.list_versions(shop, quote_id):
        estimate = version.estimate
        price = estimate["lines"][0]["price"]
        sent = Sent(version.job, estimate, version.head)
        changes = changes_between(before, sent, costs=costs) if before else []
        found.append(
            VersionView(
                version=version.version,
                sent_on=version.sent_on,
                answer=version.answer,
                answered_on=version.answered_on,
                head=version.head,
                unit=price["unit"],
                line=price["line"],
                to_pay=estimate["total"]["to_pay"],
                currency=estimate["currency"],
                documents=[
                    {"kind": kind, "name": name}
                    for kind, name in kept.list_documents(shop, quote_id, version.version)
                    if costs or kind in CUSTOMERS_PAPERS
                ],
                changes=changes,
            )
        )
        before = sent
    return found
