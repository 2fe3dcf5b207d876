"""Sending quotes: freeze a version, keep its answer, revise it, tell what was sent."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any, Literal

from email_validator import EmailNotValidError, validate_email
from pydantic import BaseModel

from clothyard.core.errors import Conflict, NotFound
from clothyard.core.estimate.changes import Sent as SentDocuments
from clothyard.core.estimate.changes import changes_between
from clothyard.core.estimate.customer import tells_cost
from clothyard.core.estimate.document import Estimate
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from, job_json
from clothyard.core.job.document import Job
from clothyard.core.job.hidden import OF_COSTS
from clothyard.core.record import record
from clothyard.documents.bundle import CUSTOMERS_PAPERS, SENT_PAPERS, PaperHead, Sent, sent_paper
from clothyard.services.customer_page import outbox
from clothyard.services.customer_page.links import (
    QuoteForCustomer,
    customers_view,
    link_url,
    list_said,
    new_token,
    path_in,
)
from clothyard.services.designs.library import DesignPath
from clothyard.services.house.standards import HouseNow, house_now, shop_house
from clothyard.services.orders.opened import Opened, opened_of, worked_out
from clothyard.services.plan import promises
from clothyard.services.quotes.drafts import (
    Priced,
    QuoteView,
    Shown,
    find_quote,
    price_typed,
    state_of,
    valid_until,
)
from clothyard.store import quotes as kept
from clothyard.store.mail import KeptMail
from clothyard.store.order_work import KeptWork, write_work
from clothyard.store.shop import Shop, now, today
from clothyard.store.unit import Unit

SERVED_AT = "http://127.0.0.1:8642"
"""Where a shop is served unless another port is asked for."""


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


def _head(quote: kept.KeptQuote, promised_on: str, *, sent_on: str = "") -> PaperHead:
    return PaperHead(
        number=quote.number,
        version=quote.version + 1,
        customer=quote.customer,
        email=quote.email,
        sent_on=sent_on or today(),
        due_on=quote.due_on,
        valid_until=quote.valid_until,
        notes=quote.notes,
        promised_on=promised_on,
        first_part=quote.first_part,
    )


@record
class Before:
    """When a quote went out that comes from elsewhere, and the day that it promised; ISO days."""

    sent_on: str
    promised_on: str


@record
class Prepared:
    """A sending, ready to be written: all that a version is, but for the quote's own row."""

    head: PaperHead
    job: Job
    estimate: Estimate
    house: HouseNow
    documents: tuple[tuple[kept.Document, str], ...]
    work: KeptWork
    token: str
    mail: KeptMail | None

    def version(self, quote_id: int) -> kept.KeptVersion:
        """Return it as a version of a quote."""
        return kept.KeptVersion(
            quote_id=quote_id,
            version=self.head.version,
            head=self.head.as_text(),
            job=job_json(self.job),
            estimate=json.loads(self.estimate.model_dump_json()),
            house_sha256=self.house.sha256,
            sent_on=now(),
            answer="",
            answered_on="",
        )

    def opened(self, quote_id: int) -> Opened:
        """Open it as an order is."""
        return opened_of(self.version(quote_id), self.job, self.house.house, self.work)

    def write(self, unit: Unit, quote_id: int, *, seen: int) -> kept.KeptQuote:
        """Keep the version with its work, papers, link and message.

        Raises
        ------
        Stale
            If the quote was changed since; nothing is sent then.
        """
        version = self.version(quote_id)
        quote = kept.freeze_version(
            unit,
            quote_id,
            seen=seen,
            version=version,
            house=self.house.text,
            documents=self.documents,
            token=self.token,
            mail=self.mail,
        )
        write_work(unit, quote_id, version.version, self.work)
        return quote


def prepare(
    shop: Shop,
    quote: kept.KeptQuote,
    typed: dict[str, Any],
    house: HouseNow,
    *,
    served_at: str = SERVED_AT,
    before: Before | None = None,
) -> Iterator[Step | Prepared]:
    """Prepare a sending: price it, set the customer's papers, write the message.

    Parameters
    ----------
    shop : Shop
    quote : KeptQuote
        As it is sent; its next version is made.
    typed : dict
        Its job.
    house : HouseNow
        What prices it is what is kept and what its papers are set by.
    before : Before, optional
        It went out elsewhere: it is neither stopped nor mailed here, and its days are those.

    Yields
    ------
    Step
        Before each step; the last is what is to be written.

    Raises
    ------
    Conflict
        While stop advice stands, or something is missing.
    """
    if before is None:
        _check_head(quote)
    of = len(CUSTOMERS_PAPERS) + 2
    yield Step(next="pricing", done=0, of=of)
    shown = Shown(working=True, others=True, pieces=True)
    job, estimate = _whole(price_typed(shop, typed, house.house, shown))
    if before is None:
        _check_stops(estimate)
        head = _head(quote, promises.stated_day(shop, quote, house.house, job))
    else:
        head = _head(quote, before.promised_on, sent_on=before.sent_on)
    yield Step(next="papers", done=1, of=of)
    files: list[tuple[kept.Document, str]] = []
    sent = Sent(head, job, estimate, house.house, outbox.pictures(shop, job, house.house))
    for kind in CUSTOMERS_PAPERS:
        paper = sent_paper(kind, sent)
        files.append((paper, shop.documents.keep(paper.data)))
        yield Step(next="papers", done=1 + len(files), of=of)
    token, mail = "", None
    if quote.email and before is None:
        token = new_token()
        mail, message = outbox.write_message(
            head,
            [paper for paper, _ in files],
            link=link_url(shop, token, served_at=served_at),
        )
        shop.documents.keep(message)
    work = worked_out(shop, job, house.house)
    yield Prepared(head, job, estimate, house, tuple(files), work, token, mail)


def prepared(
    shop: Shop,
    quote: kept.KeptQuote,
    typed: dict[str, Any],
    house: HouseNow,
    *,
    served_at: str = SERVED_AT,
    before: Before | None = None,
) -> Prepared:
    """Prepare a sending to its end; see `prepare`."""
    *_, found = prepare(shop, quote, typed, house, served_at=served_at, before=before)
    assert isinstance(found, Prepared)
    return found


def send_in_steps(
    shop: Shop, quote_id: int, *, seen: int, served_at: str = SERVED_AT
) -> Iterator[Step | QuoteView]:
    """Send a draft: freeze it as the next version, with its figures, house, work and papers.

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
    for step in prepare(shop, quote, quote.job, house_now(shop), served_at=served_at):
        if isinstance(step, Step):
            yield step
            continue
        with shop.unit() as unit:
            step.write(unit, quote_id, seen=seen)
        if step.mail:
            outbox.hand_over(shop, step.mail.id)
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
    with shop.unit() as unit:
        kept.answer_version(unit, quote_id, seen=seen, answer=answer)
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
    with shop.unit() as unit:
        kept.answer_version(unit, quote_id, seen=seen, answer="")
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
    return sent_paper("quote", Sent(head, job, estimate, house, drawn))


def find_paper(shop: Shop, quote_id: int, version: int, kind: str) -> kept.Document:
    """Return a paper of a version: what was sent, or made of that when it is first asked for.

    Raises
    ------
    NotFound
        If there is no such version, or it was made by a release that has no such paper.
    Conflict
        If its file is missing or torn.
    """
    found = kept.find_document(shop, quote_id, version, kind)
    if found is not None:
        return found
    sent = kept.find_version(shop, quote_id, version)
    if kind in CUSTOMERS_PAPERS:  # the customer's were made as it was sent: erased since
        raise NotFound(
            f"there is no {kind} of version {version}.",
            where="document",
            remedy="Look at the documents of the version.",
            code="document-unknown",
        )
    house = kept_house(kept.find_house(shop, sent.house_sha256))
    job = job_from(sent.job)
    estimate = Estimate.model_validate(sent.estimate)
    number = kept.find_quote(shop, quote_id).number
    head = PaperHead.told(number, version, sent.head)
    made = sent_paper(kind, Sent(head, job, estimate, house, outbox.pictures(shop, job, house)))
    sha256 = shop.documents.keep(made.data)
    with shop.unit() as unit:
        kept.add_document(unit, quote_id, version, made, sha256)
    return made


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
    values = revising(quote, shop_house(shop))
    with shop.unit() as unit:
        kept.change_quote(unit, quote_id, seen=seen, **values)
    return find_quote(shop, quote_id)


def revising(quote: kept.KeptQuote, house: House) -> dict[str, str]:
    """Say what of a sent quote changes as it is a draft again: one that expired holds anew."""
    values = {"state": "draft", "heard": ""}
    if state_of(quote) == "expired":
        values["valid_until"] = valid_until(house)
    return values


def version_estimate(shop: Shop, quote_id: int, version: int) -> Estimate:
    """Return the figures of a sent version, as they were."""
    return Estimate.model_validate(kept.find_version(shop, quote_id, version).estimate)


_UNREAD = {"lines": [{"price": {"unit": "", "line": ""}}], "total": {"to_pay": ""}, "currency": ""}


def _told(
    shop: Shop, number: str, version: kept.KeptVersion, changes: list[str], *, costs: bool
) -> VersionView:
    estimate: dict[str, Any] = version.estimate or _UNREAD
    price = estimate["lines"][0]["price"]
    there = {
        kind: PaperRow(kind=kind, name=name, trouble=trouble)
        for kind, name, trouble in kept.list_documents(shop, version.quote_id, version.version)
    }
    stem = f"{number}-v{version.version}"
    for kind, paper in SENT_PAPERS.items():  # the shop's own are made when they are asked for
        if not paper.customers and version.estimate:
            there.setdefault(kind, PaperRow(kind=kind, name=f"{stem}{paper.ending}", trouble=""))
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
            row
            for kind in SENT_PAPERS
            if (row := there.get(kind)) and (costs or kind in CUSTOMERS_PAPERS)
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
    number = kept.find_quote(shop, quote_id).number
    found: list[VersionView] = []
    earlier: SentDocuments | None = None
    for version in kept.list_versions(shop, quote_id, before=before, limit=limit + 1):
        sent = (
            SentDocuments(version.job, version.estimate, version.head) if version.estimate else None
        )
        changes = changes_between(earlier, sent, costs=costs) if earlier and sent else []
        found.append(_told(shop, number, version, changes, costs=costs))
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
