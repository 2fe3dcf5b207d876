"""The routes: unpack, call once, pack."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Header, Path, Query, Request, Response, UploadFile
from pydantic import BaseModel, ConfigDict, Field
from starlette.concurrency import run_in_threadpool

from clothyard import __version__
from clothyard.api.build import build_of
from clothyard.api.problems import RESPONSES
from clothyard.api.safety import SAFE_METHODS
from clothyard.api.turns import PRICING, READING
from clothyard.core.errors import Conflict, Refused
from clothyard.core.estimate.customer import house_without_costs, without_costs
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.house.document import House
from clothyard.core.job import starts
from clothyard.core.job.check import job_from, read_job, read_plain
from clothyard.core.job.document import Millimetres, Quantity
from clothyard.core.job.starts import STARTS
from clothyard.core.price import rates
from clothyard.core.price.rates import Rates, Year
from clothyard.core.work.document import Work, work_bytes
from clothyard.files.kinds import MAX_FILE_BYTES, readable_kinds
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.designs import library as designs
from clothyard.services.designs import words
from clothyard.services.house import standards
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes import estimates
from clothyard.services.workshop import beginning, blanks, sheets, trials
from clothyard.store.shop import Shop


async def _shop(request: Request) -> Shop:
    shop: Shop = request.app.state.shop
    return shop


ShopDep = Annotated[Shop, Depends(_shop)]


async def same_shop(
    request: Request,
    response: Response,
    shop: ShopDep,
    x_shop: Annotated[str | None, Header(include_in_schema=False)] = None,
) -> None:
    """Tell which shop answers; refuse a write from a page that was opened on another.

    Raises
    ------
    Conflict
        Also where a backup was gone back to since the page was opened.
    """
    now = shop.identity()
    response.headers["x-shop"] = now
    response.headers["x-build"] = build_of(request.app.state.frontend)
    if x_shop not in (None, now) and request.method not in SAFE_METHODS:
        raise Conflict(
            "this page was opened on another shop, or before a backup was gone back to.",
            where="X-Shop",
            remedy="Reload the page: what you typed is kept in this browser.",
            code="another-shop",
        )


router = APIRouter(prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop)])
Costs = Annotated[Literal["shown", "hidden"], Header(alias="X-Costs")]
Cursor = Annotated[str, Query(pattern=r"^[0-9]{0,9}$")]
Limit = Annotated[int, Query(ge=1, le=200)]
WordsText = Annotated[str, Query(min_length=1, max_length=words.MAX_LETTERS)]
HeightMm = Annotated[str | None, Query(max_length=40)]
"""Of the capitals: millimetres, or with its unit."""


async def costs_shown(costs: Costs = "shown") -> None:
    """Refuse what tells costs to a screen that hides them, see `refuse_hidden`."""
    refuse_hidden(costs)


def refuse_hidden(costs: str) -> None:
    """Refuse what tells costs to a screen that hides them.

    Raises
    ------
    Refused
    """
    if costs == "hidden":
        raise Refused(
            "costs are hidden on this screen.",
            where="X-Costs",
            remedy="Show costs first.",
            code="costs-hidden",
        )


TELLS_COSTS = [Depends(costs_shown)]
"""Of a route that is refused while costs are hidden."""


class About(BaseModel):
    """What this server is and reads."""

    name: str
    version: str
    file_kinds: list[str]


class NewValue(BaseModel):
    """A standard's new value."""

    value: Any


@router.get("/about")
def about() -> About:
    """Tell the version and the kinds of stitch file that are read."""
    return About(name="Clothyard", version=__version__, file_kinds=list(readable_kinds()))


_JOB_BODY = {
    "requestBody": {
        "required": True,
        "content": {"application/json": {"schema": {"$ref": "#/components/schemas/Job"}}},
    }
}
"""A job is read by the core, so that it is refused in the core's words."""


@router.post("/estimates", response_model=Estimate, openapi_extra=_JOB_BODY, dependencies=PRICING)
async def estimate_job(
    request: Request,
    shop: ShopDep,
    working: Literal["none", "full"] = "none",
    others: Annotated[int | None, Query(ge=-1, le=199)] = None,
    costs: Costs = "shown",
    quote: Annotated[int | None, Query(ge=1, le=2**53)] = None,
) -> Response:
    """Price a job without keeping it; `others` of one line only (from 0), or of none (−1).

    With `X-Costs: hidden` no cost, margin or difference is answered: for a screen that a customer
    looks at; what such a screen does not know of the job it sends is taken from the `quote`.
    """
    house = await run_in_threadpool(standards.shop_house, shop)
    currency = house.price.currency
    if costs == "hidden" and quote is not None:
        typed = quotes.with_costs(shop, quote, read_plain(await request.body()))
        job = job_from(typed, currency=currency)
    else:
        job = read_job(await request.body(), currency=currency)
    compare = True if others is None else (others if others >= 0 else False)
    found = await run_in_threadpool(
        estimates.price_job, shop, job, house, working=working == "full", compare=compare
    )
    if costs == "hidden":
        found = without_costs(found)
    return Response(estimate_bytes(found), media_type="application/json")


@router.post("/work", response_model=Work, openapi_extra=_JOB_BODY, dependencies=PRICING)
async def work_of_job(request: Request, shop: ShopDep) -> Response:
    """Say what is done for a job, without money (clothyard-work/1)."""
    house = await run_in_threadpool(standards.shop_house, shop)
    job = read_job(await request.body(), currency=house.price.currency)
    found = await run_in_threadpool(estimates.work_job, shop, job, house)
    return Response(work_bytes(found), media_type="application/json")


@router.get("/designs")
def list_designs(
    shop: ShopDep,
    search: Annotated[str, Query(max_length=200)] = "",
    cursor: Cursor = "",
    limit: Limit = 50,
) -> designs.DesignsPage:
    """List the kept designs, newest first, a page at a time."""
    return designs.list_designs(shop, search=search, cursor=cursor, limit=limit)


@router.post("/designs", status_code=201, dependencies=READING)
async def keep_design(file: UploadFile, shop: ShopDep) -> designs.KeptDesign:
    """Read a stitch file and keep it; the same content is kept once."""
    data = await file.read(MAX_FILE_BYTES + 1)
    return await run_in_threadpool(designs.keep_design, shop, data, file.filename or "")


@router.get("/designs/{sha256}")
def find_design(sha256: str, shop: ShopDep) -> designs.KeptDesign:
    """Find a kept design by its content's hash."""
    return designs.find_design(shop, sha256)


@router.get("/designs/{sha256}/outlines", dependencies=READING)
def design_outlines(sha256: str, shop: ShopDep) -> list[designs.BlockOutlined]:
    """Outline a design's colour blocks: what patches are tacked down along."""
    return designs.design_outlines(shop, sha256)


@router.get("/designs/{sha256}/path", dependencies=READING)
def design_path(sha256: str, shop: ShopDep) -> designs.DesignPath:
    """Return a kept design's path, to draw it to scale."""
    return designs.design_path(shop, sha256)


@router.get("/words", dependencies=PRICING)
def letter_words(
    shop: ShopDep, text: WordsText, height_mm: HeightMm = None, face: str = "plain"
) -> words.LetteredWords:
    """Letter words in one of our faces: stitches, size, thread, and the path to draw."""
    return words.letter_words(standards.shop_house(shop), text, height_mm=height_mm, face=face)


@router.get(
    "/words/sample",
    response_class=Response,
    responses={200: {"content": {"application/octet-stream": {}}}},
)
def words_sample(
    shop: ShopDep,
    text: WordsText,
    kind: str = "dst",
    height_mm: HeightMm = None,
    face: str = "plain",
) -> Response:
    """Write words as a sample stitch file, to sew one before the digitiser's is there."""
    house = standards.shop_house(shop)
    data = words.sample_file(house, text, kind, height_mm=height_mm, face=face)
    headers = {"Content-Disposition": f'attachment; filename="sample.{kind}"'}
    return Response(data, media_type="application/octet-stream", headers=headers)


class StartThere(BaseModel):
    """A thing that is made in the hoop, and its usual size. [mm]"""

    id: str
    label: str
    says: str
    width_mm: float
    height_mm: float


class StartAsked(BaseModel):
    """How many of it, and how large; the usual size where unsaid. [mm]"""

    model_config = ConfigDict(extra="forbid")

    quantity: Quantity = 1
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None


@router.get("/starts")
def list_starts() -> list[StartThere]:
    """List what can be begun as made in the hoop."""
    names = StartThere.model_fields
    return [StartThere(**{name: getattr(s, name) for name in names}) for s in STARTS.values()]


@router.post("/starts/{start_id}")
def start_line(start_id: str, asked: StartAsked) -> dict[str, Any]:
    """Write the line of a job that makes it: layers, hardware, cutting out, turning, closing."""
    return starts.start_line(start_id, **asked.model_dump())


@router.post("/rates", dependencies=TELLS_COSTS)
def yearly_rates(shop: ShopDep, year: Year) -> Rates:
    """Work the rates of an hour out of a year's figures, with the working."""
    currency = year.currency or standards.shop_house(shop).price.currency
    return rates.yearly_rates(year.model_copy(update={"currency": currency}))


@router.get("/house")
def house(shop: ShopDep, costs: Costs = "shown") -> House:
    """Return the shop's standards as one document (clothyard-house/1)."""
    found = standards.shop_house(shop)
    return house_without_costs(found) if costs == "hidden" else found


@router.get("/beginning", dependencies=TELLS_COSTS)
def read_beginning(shop: ShopDep) -> beginning.BeginningView:
    """Tell how far the setting up of the shop is, and whether it opens on that."""
    return beginning.read_beginning(shop)


@router.put("/beginning", dependencies=TELLS_COSTS)
def change_beginning(now: beginning.Beginning, shop: ShopDep) -> beginning.BeginningView:
    """Keep how far it is."""
    return beginning.change_beginning(shop, now)


@router.get("/standards", dependencies=[*TELLS_COSTS, *PRICING])
def list_standards(
    shop: ShopDep,
    cursor: Cursor = "",
    limit: Annotated[int, Query(ge=1, le=1000)] = 500,
) -> standards.StandardsPage:
    """List the standards: default, own value, unit, range, basis, reason; a page at a time."""
    return standards.page_standards(shop, cursor=cursor, limit=limit)


class StandardsWanted(BaseModel):
    """Which standards: with all words of `search`, of one topic, those changed here alone."""

    model_config = ConfigDict(extra="forbid")

    search: str = Field("", max_length=200)
    topic: str = Field("", max_length=200)
    changed: bool = False


@router.get(
    "/standard-lists/standards.{kind}", response_class=Response, dependencies=[*TELLS_COSTS]
)
def standards_sheet(
    kind: SheetKind, shop: ShopDep, wanted: Annotated[StandardsWanted, Query()]
) -> Response:
    """Write the standards of a list as a table."""
    data = standards.standards_sheet(shop, kind, **wanted.model_dump())
    headers = {"content-disposition": f'attachment; filename="standards.{kind}"'}
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.delete("/standards", dependencies=TELLS_COSTS)
def reset_standards(shop: ShopDep) -> int:
    """Go back to every default; returns how many were changed. The shop's own rows stay."""
    return standards.reset_all(shop)


@router.post("/standard-rows", status_code=201, dependencies=[*TELLS_COSTS, *PRICING])
def add_row(new: standards.NewRow, shop: ShopDep) -> list[standards.StandardView]:
    """Add a row of the shop's own to a table: a machine, a hoop, a roll …"""
    return standards.add_row(shop, new)


@router.delete("/standard-rows/{section}/{row}", dependencies=TELLS_COSTS)
def remove_row(section: str, row: str, shop: ShopDep) -> int:
    """Remove a row that the shop added."""
    return standards.remove_row(shop, section, row)


TrialId = Annotated[str, Path(pattern=r"^t[0-9]{1,9}$")]


@router.get("/trials", dependencies=TELLS_COSTS)
def list_trials(shop: ShopDep) -> list[trials.TrialView]:
    """List the trials of blanks, the cheapest good piece of each class first."""
    return trials.list_trials(shop)


@router.post("/trials", status_code=201, dependencies=TELLS_COSTS)
def add_trial(trial: trials.Trial, shop: ShopDep) -> list[trials.TrialView]:
    """Keep a trial of a blank; returns all."""
    return trials.add_trial(shop, trial)


@router.put("/trials/{trial_id}", dependencies=TELLS_COSTS)
def change_trial(trial_id: TrialId, trial: trials.Trial, shop: ShopDep) -> list[trials.TrialView]:
    """Change a trial; returns all."""
    return trials.change_trial(shop, trial_id, trial)


@router.delete("/trials/{trial_id}", dependencies=TELLS_COSTS)
def remove_trial(trial_id: TrialId, shop: ShopDep) -> list[trials.TrialView]:
    """Remove a trial; returns the others."""
    return trials.remove_trial(shop, trial_id)


@router.post("/price-lists", dependencies=[*TELLS_COSTS, *PRICING])
def take_price_list(asked: blanks.PriceList, shop: ShopDep) -> blanks.ListRead:
    """Read a supplier's price list; what can be read of it is kept when that is asked for."""
    return blanks.take_price_list(shop, asked)


class SheetText(BaseModel):
    """A file's table as text, its cells between tabs."""

    text: str


@router.post("/sheets", dependencies=READING)
async def read_sheet(file: UploadFile) -> SheetText:
    """Read a table that was dropped, .csv or .xlsx, as text."""
    data = await file.read(sheets.MAX_SHEET_BYTES + 1)
    return SheetText(text=await run_in_threadpool(sheets.sheet_text, data, file.filename or ""))


@router.post("/name-lists")
def read_names(asked: sheets.NameList) -> list[sheets.ReadCell]:
    """Read a list of who wants which size: names, sizes, colours, pieces."""
    return sheets.read_names(asked)


@router.get(
    "/price-lists/blanks.csv",
    dependencies=TELLS_COSTS,
    response_class=Response,
    responses={200: {"content": {"text/csv": {}}}},
)
def price_list(shop: ShopDep) -> Response:
    """Write the shelf's blanks as a price list that can be read again."""
    headers = {"Content-Disposition": 'attachment; filename="blanks.csv"'}
    return Response(blanks.price_list(shop), media_type="text/csv; charset=utf-8", headers=headers)


@router.put("/standards/{key}", dependencies=[*TELLS_COSTS, *PRICING])
def change_standard(key: str, new: NewValue, shop: ShopDep) -> standards.StandardView:
    """Change a default."""
    return standards.change_standard(shop, key, new.value)


@router.delete("/standards/{key}", dependencies=TELLS_COSTS)
def reset_standard(key: str, shop: ShopDep) -> standards.StandardView:
    """Go back to a default."""
    return standards.reset_standard(shop, key)
