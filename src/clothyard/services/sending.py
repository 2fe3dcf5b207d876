"""Sending quotes: freeze a version, keep its answer, revise it, tell what was sent."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, Literal

from email_validator import EmailNotValidError, validate_email
from pydantic import BaseModel

from clothyard.core.errors import Conflict
from clothyard.core.estimate.changes import Sent, changes_between
from clothyard.core.estimate.customer import tells_cost
from clothyard.core.estimate.document import Estimate
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from, job_json
from clothyard.core.job.document import Job
from clothyard.core.job.hidden import OF_COSTS
from clothyard.documents.bundle import PAPERS, PaperHead, papers
from clothyard.services import outbox, promises
from clothyard.services.designs import DesignPath
from clothyard.services.links import (
    QuoteForCustomer,
    customers_view,
    link_url,
    list_said,
    new_token,
    path_in,
)
from clothyard.services.quotes import (
    Priced,
    QuoteView,
    Shown,
    find_quote,
    price_typed,
    state_of,
    valid_until,
)
from clothyard.services.standards import HouseNow, house_now, shop_house
from clothyard.store import quotes as kept
from clothyard.store.shop import Shop, now, today

SERVED_AT = "http://127.0.0.1:8642"
"""Where a shop is served unless another port is asked for."""

CUSTOMERS_PAPERS = ("quote", "message", "tiers")


class Step(BaseModel):
    """How far a sending is: what is done next, and how many of its steps are done."""

    next: str
    done: int
    of: int


class PaperRow(BaseModel):
    """A paper of a version; `trouble` is "missing" or "torn" where its file is, else ""."""

    kind: str
    name: str
    trouble: str


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
    documents: list[PaperRow]
    changes: list[str]
    unreadable: bool


class VersionsPage(BaseModel):
    """A page of a quote's versions, the last first."""

    items: list[VersionView]
    total: int
    next: str | None


def _whole(priced: Priced) -> tuple[Job, Estimate]:
    """Return a job and its price.

    Raises
    ------
    Conflict
        If it is only begun, or something in it is wrong.
    """
    if priced.job is not None and priced.estimate is not None:
        return priced.job, priced.estimate
    if priced.problems:
        first = priced.problems[0]
        raise Conflict(
            f"it has no price yet: {first.where or 'the job'} {first.detail}",
            where=first.where,
            remedy=first.remedy or "Say goods, how many and the design.",
            code="quote-unpriced",
            bare="it has no price yet." if tells_cost(first.where) else "",
        )
    raise Conflict(
        f"it has no price yet: it lacks {', '.join(priced.lacks)}.",
        where="job",
        remedy="Say goods, how many and the design.",
        code="quote-unpriced",
    )


def _check_stops(estimate: Estimate) -> None:
    for line in estimate.lines:
        for advice in line.advice:
            if advice.level == "stop" and not advice.overruled:
                raise Conflict(
                    f"it cannot be made so: {advice.message}",
                    where=advice.where,
                    remedy=advice.fix,
                    code="quote-stopped",
                    bare="its price is too low." if advice.code in OF_COSTS else "",
                )


def _check_head(quote: kept.KeptQuote) -> None:
    """Refuse to send to nobody, to no address, or past its own date."""
    if not quote.customer.strip():
        raise Conflict(
            "it has no customer.",
            where="customer",
            remedy="Say who it is for.",
            code="quote-unaddressed",
        )
    if quote.email:
        try:
            validate_email(quote.email, check_deliverability=False, allow_smtputf8=False)
        except EmailNotValidError as error:
            raise Conflict(
                f"{quote.email[:60]!r} is no address that can be mailed to ({error}).",
                where="email",
                remedy="Mend it, or leave it out.",
                code="quote-unaddressed",
            ) from None
    if quote.valid_until and quote.valid_until < today():
        raise Conflict(
            "its date is past.",
            where="valid_until",
            remedy="Let it be valid for longer.",
            code="quote-outdated",
        )


def _head(quote: kept.KeptQuote, promised_on: str) -> PaperHead:
    return PaperHead(
        number=quote.number,
        version=quote.version + 1,
        customer=quote.customer,
        email=quote.email,
        sent_on=today(),
        due_on=quote.due_on,
        valid_until=quote.valid_until,
        notes=quote.notes,
        promised_on=promised_on,
        first_part=quote.first_part,
    )


def _version(
    quote: kept.KeptQuote, head: PaperHead, job: Job, estimate: Estimate, house: HouseNow
) -> kept.KeptVersion:
    return kept.KeptVersion(
        quote_id=quote.id,
        version=head.version,
        head=head.as_text(),
        job=job_json(job),
        estimate=json.loads(estimate.model_dump_json()),
        house_sha256=house.sha256,
        sent_on=now(),
        answer="",
        answered_on="",
    )


def send_in_steps(
    shop: Shop, quote_id: int, *, seen: int, served_at: str = SERVED_AT
) -> Iterator[Step | QuoteView]:
    """Send a draft: freeze it as the next version, with its figures, house and documents.

    The house is read once: what prices it is what is kept and what its papers are set by. The
    version, its papers, the customer's link and the message are kept in one step, all or none;
    then the message is given to the post, and waits where that does not take it. A sending that
    is not followed to its end before that step has sent nothing.

    Parameters
    ----------
    shop : Shop
    quote_id : int
    seen : int
        The revision it is based on.
    served_at : str
        The address that this shop is served at just now: where the customer's link leads, unless
        the shop states another.

    Yields
    ------
    Step
        Before each step; the last is the QuoteView of what was sent.

    Raises
    ------
    Conflict
        While stop advice stands, or something is missing; nothing is sent then.
    Stale
        If it was changed since the revision seen.
    """
    quote = kept.find_quote(shop, quote_id)
    if quote.state != "draft":
        raise Conflict(
            f"{quote.number} was sent already.",
            where="state",
            remedy="Revise it first.",
            code="quote-sent",
        )
    if quote.revision != seen:
        raise kept.stale(quote)
    _check_head(quote)
    of = PAPERS + 2
    yield Step(next="pricing", done=0, of=of)
    house = house_now(shop)
    priced = price_typed(
        shop, quote.job, house.house, Shown(working=True, others=True, pieces=True)
    )
    job, estimate = _whole(priced)
    _check_stops(estimate)
    head = _head(quote, promises.stated_day(shop, quote, house.house, job))
    files: list[kept.Document] = []
    yield Step(next="papers", done=1, of=of)
    for paper in papers(head, job, estimate, house.house, outbox.pictures(shop, job, house.house)):
        files.append(paper)
        yield Step(next="papers", done=1 + len(files), of=of)
    token, mail = "", None
    if quote.email:
        token = new_token()
        mail, message = outbox.write_message(
            head, files, link=link_url(shop, token, served_at=served_at)
        )
        shop.documents.keep(message)
    kept.freeze_version(
        shop,
        quote_id,
        seen=seen,
        version=_version(quote, head, job, estimate, house),
        house=house.text,
        documents=files,
        token=token,
        mail=mail,
    )
    if mail:
        outbox.hand_over(shop, mail.id)
    yield find_quote(shop, quote_id)


def send_quote(shop: Shop, quote_id: int, *, seen: int, served_at: str = SERVED_AT) -> QuoteView:
    """Send a draft; see `send_in_steps`, which this follows to its end."""
    *_, view = send_in_steps(shop, quote_id, seen=seen, served_at=served_at)
    assert isinstance(view, QuoteView)
    return view


def answer_quote(
    shop: Shop, quote_id: int, answer: Literal["accepted", "declined"], *, seen: int
) -> QuoteView:
    """Keep what the customer said.

    Raises
    ------
    Conflict
        If it was not sent, or was answered.
    """
    quote = kept.find_quote(shop, quote_id)
    state = state_of(quote)
    if state not in {"sent", "expired"}:
        raise Conflict(
            f"{quote.number} is {state}: there is nothing to answer.",
            where="state",
            remedy="Send it first.",
            code="quote-not-sent",
        )
    kept.answer_version(shop, quote_id, seen=seen, answer=answer)
    return find_quote(shop, quote_id)


def take_back_answer(shop: Shop, quote_id: int, *, seen: int) -> QuoteView:
    """Undo an answer that was noted here by mistake: the quote waits for one again.

    Raises
    ------
    Conflict
        If nothing was answered, or the customer accepted it on their own page.
    """
    quote = kept.find_quote(shop, quote_id)
    if quote.state not in {"accepted", "declined"}:
        raise Conflict(
            f"{quote.number} is {state_of(quote)}: there is no answer to take back.",
            where="state",
            remedy="Nothing is to be done.",
            code="quote-not-answered",
        )
    said = list_said(shop, quote_id, quote.version)
    if any(word.kind == "accepted" for word in said):
        raise Conflict(
            "the customer accepted it on their page: that stands.",
            where="state",
            remedy="Revise it, and agree on the new version.",
            code="answer-theirs",
        )
    kept.answer_version(shop, quote_id, seen=seen, answer="")
    return find_quote(shop, quote_id)


def preview(shop: Shop, quote_id: int) -> tuple[PaperHead, Job, Estimate, House]:
    """Return a draft as it would go out just now, or a sent quote as it went: head, job, price,
    house.

    Raises
    ------
    Conflict
        If it has no price yet.
    """
    quote = kept.find_quote(shop, quote_id)
    if quote.state != "draft":
        version = kept.find_version(shop, quote_id, quote.version)
        house = kept_house(kept.find_house(shop, version.house_sha256))
        head = PaperHead.told(quote.number, version.version, version.head)
        return head, job_from(version.job), Estimate.model_validate(version.estimate), house
    house = shop_house(shop)
    job, estimate = _whole(price_typed(shop, quote.job, house, Shown()))
    return _head(quote, promises.stated_day(shop, quote, house, job)), job, estimate, house


def preview_view(shop: Shop, quote_id: int) -> QuoteForCustomer:
    """Return a draft as its customer will see it on their page."""
    head, job, estimate, house = preview(shop, quote_id)
    return customers_view(
        job,
        estimate,
        house,
        number=head.number,
        version=head.version,
        head=head.as_text(),
        state="open",
        said=[],
    )


def preview_path(shop: Shop, quote_id: int, line: int, place: int) -> DesignPath:
    """Return the path of a design of a draft, as its customer will see it."""
    _, job, _, house = preview(shop, quote_id)
    return path_in(shop, job, house, line, place)


def preview_paper(shop: Shop, quote_id: int) -> kept.Document:
    """Return the customer's paper of a draft, as it would go out just now."""
    head, job, estimate, house = preview(shop, quote_id)
    drawn = outbox.pictures(shop, job, house)
    return next(iter(papers(head, job, estimate, house, drawn)))


def revise_quote(shop: Shop, quote_id: int, *, seen: int) -> QuoteView:
    """Open a sent quote as a draft again; the version that was sent stays as it was.

    Raises
    ------
    Conflict
        If it is a draft already.
    """
    quote = kept.find_quote(shop, quote_id)
    if quote.state == "draft":
        raise Conflict(
            f"{quote.number} is a draft already.",
            where="state",
            remedy="Change it as it is.",
            code="quote-draft",
        )
    values: dict[str, str] = {"state": "draft", "heard": ""}
    if state_of(quote) == "expired":
        values["valid_until"] = valid_until(shop_house(shop))
    kept.change_quote(shop, quote_id, seen=seen, **values)
    return find_quote(shop, quote_id)


def version_estimate(shop: Shop, quote_id: int, version: int) -> Estimate:
    """Return the figures of a sent version, as they were."""
    return Estimate.model_validate(kept.find_version(shop, quote_id, version).estimate)


_UNREAD = {"lines": [{"price": {"unit": "", "line": ""}}], "total": {"to_pay": ""}, "currency": ""}


def _told(shop: Shop, version: kept.KeptVersion, changes: list[str], *, costs: bool) -> VersionView:
    estimate: dict[str, Any] = version.estimate or _UNREAD
    price = estimate["lines"][0]["price"]
    papers_kept = kept.list_documents(shop, version.quote_id, version.version)
    return VersionView(
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
            PaperRow(kind=kind, name=name, trouble=trouble)
            for kind, name, trouble in papers_kept
            if costs or kind in CUSTOMERS_PAPERS
        ],
        changes=changes,
        unreadable=not version.estimate,
    )


def list_versions(
    shop: Shop, quote_id: int, *, costs: bool = True, before: int = 2**31, limit: int = 1000
) -> list[VersionView]:
    """List what was sent, the first first, each with what changed since the one before.

    Parameters
    ----------
    shop : Shop
    quote_id : int
    costs : bool
        False: only the papers and changes that a customer may see.
    before, limit : int
        The last so many below that version.
    """
    kept.find_quote(shop, quote_id)
    found: list[VersionView] = []
    earlier: Sent | None = None
    for version in kept.list_versions(shop, quote_id, before=before, limit=limit + 1):
        sent = Sent(version.job, version.estimate, version.head) if version.estimate else None
        changes = changes_between(earlier, sent, costs=costs) if earlier and sent else []
        found.append(_told(shop, version, changes, costs=costs))
        earlier = sent
    return found[-limit:]


def page_versions(
    shop: Shop, quote_id: int, *, costs: bool = True, cursor: str = "", limit: int = 20
) -> VersionsPage:
    """List what was sent, the last first, a page at a time; see `list_versions`."""
    before = int(cursor) if cursor else 2**31
    found = list_versions(shop, quote_id, costs=costs, before=before, limit=limit)
    first = found[0].version if found else 1
    return VersionsPage(
        items=found[::-1],
        total=kept.find_quote(shop, quote_id).version,
        next=str(first) if first > 1 else None,
    )
