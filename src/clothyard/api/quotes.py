"""Routes of quotes, their versions and documents, the outbox and backups."""

from __future__ import annotations

import re
from collections.abc import AsyncIterator, Callable, Iterator
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Header, Path, Query, Request, Response, UploadFile
from fastapi.responses import FileResponse, StreamingResponse
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import iterate_in_threadpool

from clothyard.api.problems import RESPONSES, Problem, problem_body
from clothyard.api.routes import Costs, Cursor, ShopDep, refuse_hidden, same_shop
from clothyard.api.turns import PRICING
from clothyard.core.errors import BadInput, RevisionNeeded
from clothyard.core.estimate.customer import tells_cost, without_costs
from clothyard.core.estimate.document import Estimate
from clothyard.core.job.hidden import without_costs_in
from clothyard.documents.bundle import CUSTOMERS_PAPERS
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.customer_page import links, outbox
from clothyard.services.designs.library import DesignPath
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import aside, backup_plan, backups, readiness

router = APIRouter(prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop)])

QuoteId = Annotated[int, Path(ge=1, le=2**53)]
Pieces = Annotated[int | None, Query(ge=1, le=100_000)]
Number = Annotated[int, Path(ge=1, le=2**31)]
IfMatch = Annotated[str | None, Header(alias="If-Match")]


Index = Annotated[int, Path(ge=0, le=10_000)]


def _served_at(request: Request) -> str:
    """The address that this shop is served at just now; its host was checked."""
    return str(request.base_url)


ServedAt = Annotated[str, Depends(_served_at)]
"""Where links lead, unless the shop states another address."""


class Answer(BaseModel):
    """What the customer said."""

    answer: Literal["accepted", "declined"]


def seen_revision(if_match: str | None) -> int:
    """Read the revision that a write is based on, "r17".

    Raises
    ------
    RevisionNeeded, BadInput
    """
    if if_match is None:
        raise RevisionNeeded(
            "the revision this is based on is not said.",
            where="If-Match",
            remedy='Send If-Match with the quote\'s ETag, such as "r17".',
            code="revision-needed",
        )
    found = re.fullmatch(r'"r(\d{1,15})"', if_match.strip())
    if not found:
        raise BadInput(
            f"{if_match[:40]!r} is no revision.",
            where="If-Match",
            remedy='Send it as "r17".',
            code="revision-bad",
        )
    return int(found.group(1))


async def _shown(
    response: Response, costs: Costs = "shown"
) -> Callable[[quotes.QuoteView], quotes.QuoteView]:
    """Tag a quote with its revision; with `X-Costs: hidden` nothing in it tells a cost."""

    def show(view: quotes.QuoteView) -> quotes.QuoteView:
        response.headers["etag"] = f'"r{view.revision}"'
        if costs == "shown":
            return view
        estimate = without_costs(view.estimate) if view.estimate else None
        hidden = {
            "estimate": estimate,
            "standards_changed": [],
            "rates": None,
            "job": without_costs_in(view.job),
        }
        told = [row for row in view.problems if not tells_cost(row.where)]
        return view.model_copy(update=hidden | {"problems": told})

    return show


async def _wanted(
    working: Literal["none", "full"] = "none",
    others: Annotated[int, Query(ge=-1, le=199)] = -1,
) -> quotes.Shown:
    """What the answer's estimate shows: workings, and what else could be done of one line."""
    return quotes.Shown(working=working == "full", others=others if others >= 0 else False)


async def _kept_costs(shop: ShopDep, costs: Costs = "shown") -> Whole:
    """Put back what a screen without costs was not told; elsewhere a document is as it came."""

    def whole(quote_id: int, document: quotes.QuoteDocument) -> quotes.QuoteDocument:
        if costs == "shown":
            return document
        job = quotes.with_costs(shop, quote_id, document.job)
        return document.model_copy(update={"job": job})

    return whole


Whole = Callable[[int, quotes.QuoteDocument], quotes.QuoteDocument]
KeptCosts = Annotated[Whole, Depends(_kept_costs)]
Wanted = Annotated[quotes.Shown, Depends(_wanted)]
Show = Annotated[Callable[[quotes.QuoteView], quotes.QuoteView], Depends(_shown)]


class Listed(BaseModel):
    """Which quotes are listed; `down` turns a sort round, `customer` lists theirs alone."""

    model_config = ConfigDict(extra="forbid")

    search: str = Field(default="", max_length=200)
    state: Literal["", "draft", "sent", "accepted", "declined", "expired", "change", "deleted"] = ""
    sort: quotes.Sort = "changed"
    down: bool | None = None
    customer: int | None = Field(default=None, ge=1, le=2**53)


class ListedPage(Listed):
    """A page of them."""

    cursor: str = Field(default="", pattern=r"^[0-9]{0,9}$")
    limit: int = Field(default=50, ge=1, le=200)


@router.get("/quotes")
def list_quotes(shop: ShopDep, wanted: Annotated[ListedPage, Query()]) -> quotes.QuotePage:
    """List quotes, a page at a time."""
    return quotes.list_quotes(shop, **wanted.model_dump())


@router.get("/quote-lists/quotes.{kind}", response_class=Response)
def quotes_sheet(kind: SheetKind, shop: ShopDep, wanted: Annotated[Listed, Query()]) -> Response:
    """Write the quotes of a list as a table."""
    headers = {"content-disposition": f'attachment; filename="quotes.{kind}"'}
    data = quotes.quotes_sheet(shop, kind, **wanted.model_dump())
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.post("/quotes", status_code=201, dependencies=PRICING)
def create_quote(
    document: quotes.QuoteDocument, shop: ShopDep, show: Show, wanted: Wanted
) -> quotes.QuoteView:
    """Make a draft under the next number."""
    return show(quotes.create_quote(shop, document, shown=wanted))


@router.get("/quotes/{quote_id}", dependencies=PRICING)
def find_quote(quote_id: QuoteId, shop: ShopDep, show: Show, wanted: Wanted) -> quotes.QuoteView:
    """Open a quote; with `X-Costs: hidden` its estimate holds no cost."""
    return show(quotes.find_quote(shop, quote_id, shown=wanted))


IN_STEPS = "application/x-ndjson"
"""Asked for by Accept: a line as soon as it is kept and priced, one with the alternatives."""


@router.put("/quotes/{quote_id}", dependencies=PRICING)
def save_quote(
    quote_id: QuoteId,
    document: quotes.QuoteDocument,
    shop: ShopDep,
    show: Show,
    wanted: Wanted,
    whole: KeptCosts,
    if_match: IfMatch = None,
    accept: Annotated[str, Header(include_in_schema=False)] = "*/*",
) -> quotes.QuoteView:
    """Keep a draft as it now stands, whole; answers with its new revision and estimate.

    With `Accept: application/x-ndjson` it answers a quote a line: as soon as it is kept, with its
    price; then with what else could be done.
    """
    seen, document = seen_revision(if_match), whole(quote_id, document)
    if accept != IN_STEPS:
        return show(quotes.save_quote(shop, quote_id, document, seen=seen, shown=wanted))
    steps = quotes.save_in_steps(shop, quote_id, document, seen=seen, shown=wanted)
    first = show(next(steps))  # what is wrong is raised here, before anything is answered
    rest = (f"{show(view).model_dump_json()}\n" for view in steps)

    async def lines() -> AsyncIterator[str]:
        yield f"{first.model_dump_json()}\n"
        async for line in iterate_in_threadpool(rest):
            yield line

    return StreamingResponse(  # type: ignore[return-value] # the same quote, a line each
        lines(),
        media_type=IN_STEPS,
        headers={"etag": f'"r{first.revision}"', "content-encoding": "identity"},  # not held back
    )


@router.delete("/quotes/{quote_id}")
def delete_quote(quote_id: QuoteId, shop: ShopDep) -> quotes.QuoteRow:
    """Mark a quote as deleted; it can be brought back for 30 days."""
    return quotes.delete_quote(shop, quote_id)


@router.post("/quotes/{quote_id}/restore")
def restore_quote(quote_id: QuoteId, shop: ShopDep) -> quotes.QuoteRow:
    """Bring a deleted quote back."""
    return quotes.restore_quote(shop, quote_id)


@router.post("/quotes/{quote_id}/copy", status_code=201, dependencies=PRICING)
def copy_quote(
    quote_id: QuoteId, shop: ShopDep, show: Show, pieces: Pieces = None
) -> quotes.QuoteView:
    """Make a new draft with the same customer and job."""
    return show(quotes.copy_quote(shop, quote_id, pieces=pieces))


class SendLine(BaseModel):
    """A line of a sending in steps: how far it is; at the end what was sent, or what is wrong."""

    step: sending.Step | None = None
    quote: quotes.QuoteView | None = None
    problem: Problem | None = None


@router.post("/quotes/{quote_id}/send", dependencies=PRICING)
def send_quote(
    quote_id: QuoteId,
    shop: ShopDep,
    show: Show,
    at: ServedAt,
    if_match: IfMatch = None,
    costs: Costs = "shown",
    accept: Annotated[str, Header(include_in_schema=False)] = "*/*",
) -> quotes.QuoteView:
    """Send a draft: freeze it as the next version and post it.

    With `Accept: application/x-ndjson` it answers a SendLine a step; one that is closed before
    the last sends nothing.
    """
    seen = seen_revision(if_match)
    if accept != IN_STEPS:
        return show(sending.send_quote(shop, quote_id, seen=seen, served_at=at))
    steps = sending.send_in_steps(shop, quote_id, seen=seen, served_at=at)
    first = next(steps)  # what is wrong at once is raised here, before anything is answered
    assert isinstance(first, sending.Step)

    def lines() -> Iterator[str]:
        yield _line(SendLine(step=first))
        try:
            for found in steps:
                if isinstance(found, sending.Step):
                    yield _line(SendLine(step=found))
                else:
                    yield _line(SendLine(quote=show(found)))
        except Exception as error:  # the answer has begun: what is wrong is its last line
            yield _line(SendLine(problem=problem_body(error, costs=costs == "shown")))

    return StreamingResponse(  # type: ignore[return-value] # the same quote, after its steps
        iterate_in_threadpool(lines()),
        media_type=IN_STEPS,
        headers={"content-encoding": "identity"},  # not held back
    )


def _line(line: SendLine) -> str:
    return f"{line.model_dump_json(exclude_none=True)}\n"


@router.post("/quotes/{quote_id}/answer")
def answer_quote(
    quote_id: QuoteId,
    answer: Answer,
    shop: ShopDep,
    show: Show,
    if_match: IfMatch = None,
) -> quotes.QuoteView:
    """Keep what the customer said."""
    view = sending.answer_quote(shop, quote_id, answer.answer, seen=seen_revision(if_match))
    return show(view)


@router.delete("/quotes/{quote_id}/answer")
def take_back_answer(
    quote_id: QuoteId, shop: ShopDep, show: Show, if_match: IfMatch = None
) -> quotes.QuoteView:
    """Undo an answer that was noted by mistake; one given on the customer's page stands."""
    return show(sending.take_back_answer(shop, quote_id, seen=seen_revision(if_match)))


@router.get("/quotes/{quote_id}/sending", dependencies=PRICING)
def before_sending(
    quote_id: QuoteId, shop: ShopDep, at: ServedAt, costs: Costs = "shown"
) -> readiness.SendingView:
    """Look a draft over before it goes out: what is missing, what is guess, where links lead."""
    refuse_hidden(costs)
    return readiness.before_sending(shop, quote_id, served_at=at)


@router.get("/quotes/{quote_id}/preview", dependencies=PRICING)
def preview(quote_id: QuoteId, shop: ShopDep) -> links.QuoteForCustomer:
    """Return a draft as its customer will see it on their page."""
    return sending.preview_view(shop, quote_id)


@router.get("/quotes/{quote_id}/preview/lines/{line}/places/{place}/path", dependencies=PRICING)
def preview_path(quote_id: QuoteId, line: Index, place: Index, shop: ShopDep) -> DesignPath:
    """Return the path of a design of a draft, to draw it."""
    return sending.preview_path(shop, quote_id, line, place)


@router.get(
    "/quotes/{quote_id}/preview/quote.pdf",
    dependencies=PRICING,
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}},
)
def preview_paper(quote_id: QuoteId, shop: ShopDep) -> Response:
    """Return the customer's paper of a draft, as it would go out just now."""
    paper = sending.preview_paper(shop, quote_id)
    headers = {"content-disposition": f'inline; filename="{paper.name}"'}
    return Response(paper.data, media_type=paper.media_type, headers=headers)


@router.post("/quotes/{quote_id}/revise")
def revise_quote(
    quote_id: QuoteId, shop: ShopDep, show: Show, if_match: IfMatch = None
) -> quotes.QuoteView:
    """Open a sent quote as a draft again."""
    return show(sending.revise_quote(shop, quote_id, seen=seen_revision(if_match)))


@router.get("/quotes/{quote_id}/versions/{version}/estimate")
def version_estimate(
    quote_id: QuoteId, version: Number, shop: ShopDep, costs: Costs = "shown"
) -> Estimate:
    """Return the figures of a sent version, as they were."""
    found = sending.version_estimate(shop, quote_id, version)
    return without_costs(found) if costs == "hidden" else found


@router.get("/quotes/{quote_id}/versions")
def list_versions(
    quote_id: QuoteId,
    shop: ShopDep,
    cursor: Cursor = "",
    limit: Annotated[int, Query(ge=1, le=100)] = 20,
    costs: Costs = "shown",
) -> sending.VersionsPage:
    """List what was sent, the last first: what changed since the one before, and its papers."""
    return sending.page_versions(shop, quote_id, costs=costs == "shown", cursor=cursor, limit=limit)


@router.get(
    "/quotes/{quote_id}/versions/{version}/{kind}",
    responses={200: {"content": {"application/octet-stream": {}}}},
    response_class=Response,
)
def version_document(
    quote_id: QuoteId,
    version: Number,
    kind: Literal["quote", "costing", "message", "tiers", "job", "estimate"],
    shop: ShopDep,
    costs: Costs = "shown",
) -> Response:
    """Return a document of a version, the bytes that were sent, to be saved."""
    if kind not in CUSTOMERS_PAPERS:
        refuse_hidden(costs)
    found = sending.find_paper(shop, quote_id, version, kind)
    return Response(
        found.data,
        media_type=found.media_type,
        headers={"content-disposition": f'attachment; filename="{found.name}"'},
    )


class Mails(BaseModel):
    """Which messages, in which order."""

    model_config = ConfigDict(extra="forbid")

    search: str = Field("", max_length=200)
    sort: outbox.Sort = "sent"
    down: bool | None = None
    waits: bool = False


class MailsPage(Mails):
    """A page of them."""

    cursor: str = Field(default="", pattern=r"^[0-9]{0,9}$")
    limit: int = Field(default=50, ge=1, le=200)


@router.get("/outbox")
def list_mail(shop: ShopDep, wanted: Annotated[MailsPage, Query()]) -> outbox.MailPage:
    """List the outbox, newest first, a page at a time."""
    return outbox.list_mail(shop, **wanted.model_dump())


@router.get("/outbox-lists/outbox.{kind}", response_class=Response)
def outbox_sheet(kind: SheetKind, shop: ShopDep, wanted: Annotated[Mails, Query()]) -> Response:
    """Write the messages of a list as a table."""
    data = outbox.outbox_sheet(shop, kind, **wanted.model_dump())
    headers = {"content-disposition": f'attachment; filename="outbox.{kind}"'}
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/outbox/{mail_id}")
def read_mail(mail_id: str, shop: ShopDep) -> outbox.MailView:
    """Open a message of the outbox."""
    return outbox.read_mail(shop, mail_id)


@router.post("/outbox/{mail_id}/post")
def post_mail(mail_id: str, shop: ShopDep) -> outbox.MailRow:
    """Give a message that waits to the post once more."""
    return outbox.post_mail(shop, mail_id)


@router.get("/set-aside")
def list_aside(shop: ShopDep, costs: Costs = "shown") -> list[aside.AsideRow]:
    """List what was kept, could not be read and was set aside."""
    refuse_hidden(costs)
    return aside.list_aside(shop)


@router.delete("/set-aside", status_code=204)
def let_aside_go(shop: ShopDep, costs: Costs = "shown") -> None:
    """Let go of what was set aside."""
    refuse_hidden(costs)
    aside.let_aside_go(shop)


@router.get("/backups")
def list_backups(shop: ShopDep) -> list[backups.BackupRow]:
    """List the backups, newest first."""
    return backups.list_backups(shop)


@router.post("/backups", status_code=201)
def make_backup(shop: ShopDep) -> backups.BackupRow:
    """Make a backup of database and files, consistent while running."""
    return backups.make_backup(shop)


@router.get("/backup-plan")
def read_plan(shop: ShopDep) -> backup_plan.PlanView:
    """Tell how the shop backs itself up, and when it last did."""
    return backup_plan.read_plan(shop)


@router.put("/backup-plan")
def change_plan(plan: backup_plan.BackupPlan, shop: ShopDep) -> backup_plan.PlanView:
    """Say how the shop backs itself up."""
    return backup_plan.change_plan(shop, plan)


@router.post("/backups/taken", status_code=201)
def take_backup(file: UploadFile, shop: ShopDep) -> backups.BackupRow:
    """Take a backup in from elsewhere; nothing is gone back to yet."""
    return backups.take_backup(shop, iter(lambda: file.file.read(1 << 20), b""))


@router.get("/backups/{name}", response_class=Response)
def download_backup(name: str, shop: ShopDep, costs: Costs = "shown") -> FileResponse:
    """Return a backup, to be kept elsewhere."""
    refuse_hidden(costs)
    path = backups.find_backup(shop, name)
    return FileResponse(path, media_type="application/zip", filename=path.name)


@router.post("/backups/{name}/restore")
def restore_backup(name: str, shop: ShopDep) -> backups.BackupRow:
    """Go back to a backup; what is there now is backed up first."""
    return backups.restore_backup(shop, name)
