"""Routes of the log: its rows, what they teach, what pays, what was done last time."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Depends, Path, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field

from clothyard.api.orders import OrderId
from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import IfMatch, seen_revision
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.turns import PRICING
from clothyard.core.errors import BadInput
from clothyard.core.log.rows import LogDocument, LogRow
from clothyard.files.guarded import shared_reader
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.log import last_time, learning, pays
from clothyard.services.log import rows as log

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)

RowId = Annotated[int, Path(ge=1, le=2**53)]
Key = Annotated[str, Query(min_length=1, max_length=120)]
Search = Annotated[str, Query(max_length=200)]
MAX_LOG_BYTES = 8_000_000


class ByItself(BaseModel):
    """Whether a factor follows the log by itself."""

    model_config = ConfigDict(extra="forbid")

    on: bool


class Alike(BaseModel):
    """What is priced now, to be found again in the log."""

    model_config = ConfigDict(extra="forbid")

    customer: str = Field(default="", max_length=200)
    design: str = Field(default="", max_length=200)
    goods: str = Field(default="", max_length=80)
    place: str = Field(default="", max_length=80)


@router.get("/log")
def list_log(
    shop: ShopDep,
    search: Search = "",
    cursor: Annotated[str, Query(pattern=r"^[0-9]{0,9}$")] = "",
    limit: Annotated[int, Query(ge=1, le=200)] = 50,
) -> log.LogPage:
    """List the log, the last finished first."""
    return log.list_log(shop, search=search, cursor=cursor, limit=limit)


@router.post("/log", status_code=201, dependencies=PRICING)
def write_row(new: log.NewLogRow, shop: ShopDep) -> log.LogView:
    """Write a row to the log."""
    return log.write_row(shop, new, follow=learning.follow)


@router.get("/log/{row_id}")
def find_log(row_id: RowId, shop: ShopDep) -> log.LogView:
    """Return a row."""
    return log.find_log(shop, row_id)


@router.put("/log/{row_id}", dependencies=PRICING)
def change_row(row_id: RowId, row: LogRow, shop: ShopDep, if_match: IfMatch = None) -> log.LogView:
    """Change a row; what it was is kept."""
    seen = seen_revision(if_match)
    return log.change_row(shop, row_id, row, seen=seen, follow=learning.follow)


@router.delete("/log/{row_id}", status_code=204)
def remove_row(row_id: RowId, shop: ShopDep) -> None:
    """Remove a row, and give back what it had booked."""
    log.remove_row(shop, row_id, follow=learning.follow)


@router.get("/log/{row_id}/history")
def log_history(row_id: RowId, shop: ShopDep) -> list[log.RowWas]:
    """List what a row was before it was changed."""
    return log.log_history(shop, row_id)


@router.get("/log-lists/log.{kind}", response_class=Response)
def log_sheet(kind: SheetKind, shop: ShopDep, search: Search = "") -> Response:
    """Write the log as a table, which can be read back."""
    headers = {"content-disposition": f'attachment; filename="log.{kind}"'}
    data = log.log_sheet(shop, kind, search=search)
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/log-documents/log.json")
def log_document(shop: ShopDep) -> LogDocument:
    """Write the log as a document (clothyard-log/1)."""
    return log.log_document(shop)


@router.post("/log-documents", status_code=201)
async def read_log(file: UploadFile, shop: ShopDep) -> log.LogRead:
    """Read a log: a clothyard-log/1 document, or a table as CSV or XLSX."""
    data = await file.read(MAX_LOG_BYTES + 1)
    if len(data) > MAX_LOG_BYTES:
        raise BadInput(
            "the log is too large.",
            where="log",
            code="too-large",
            remedy=f"Send one of at most {MAX_LOG_BYTES // 1_000_000} MB.",
        )
    return await run_in_threadpool(_read, shop, data, file.filename or "")


def _read(shop: ShopDep, data: bytes, name: str) -> log.LogRead:
    lower = name.lower()
    if lower.endswith(".json"):
        return log.read_log_document(shop, data, follow=learning.follow)
    if lower.endswith(".xlsx"):
        text = shared_reader().sheet_text(data, name)
    else:
        text = data.decode("utf-8-sig", "replace")
    return log.read_log_table(shop, text, follow=learning.follow)


@router.get("/orders/{order_id}/to-log", dependencies=PRICING)
def passes_to_log(order_id: OrderId, shop: ShopDep) -> list[log.PassToLog]:
    """List an order's passes, each with a row begun."""
    return log.passes_to_log(shop, order_id)


@router.get("/learning")
def list_factors(shop: ShopDep) -> list[learning.FactorView]:
    """List what the log teaches, factor by factor."""
    return learning.list_factors(shop)


@router.get("/learning/effects", dependencies=PRICING)
def effects(
    key: Key, shop: ShopDep, value: Annotated[float | None, Query(ge=0.0, le=5)] = None
) -> learning.Effects:
    """Price the last quotes as they are and as a factor would make them."""
    return learning.effects(shop, key, value)


@router.post("/learning/taken")
def take_factor(key: Key, shop: ShopDep) -> list[learning.FactorView]:
    """Make prices with what the log says of a factor."""
    return learning.take_factor(shop, key)


@router.delete("/learning/taken")
def undo_factor(key: Key, shop: ShopDep) -> list[learning.FactorView]:
    """Go back to what a factor was before."""
    return learning.undo_factor(shop, key)


@router.put("/learning/by-itself")
def move_by_itself(key: Key, how: ByItself, shop: ShopDep) -> list[learning.FactorView]:
    """Let a factor follow the log, or no longer."""
    return learning.move_by_itself(shop, key, on=how.on)


@router.get("/pays", dependencies=PRICING)
def what_pays(shop: ShopDep, by: pays.By = "order") -> pays.PaysView:
    """Say what pays, and what a price list should change."""
    return pays.pays(shop, by)


@router.get("/pays-lists/what-pays.{kind}", response_class=Response, dependencies=PRICING)
def pays_sheet(kind: SheetKind, shop: ShopDep, by: pays.By = "order") -> Response:
    """Write what pays as a table."""
    headers = {"content-disposition": f'attachment; filename="what-pays.{kind}"'}
    return Response(pays.pays_sheet(shop, kind, by), media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/last-time")
def find_last_time(shop: ShopDep, alike: Annotated[Alike, Query()]) -> list[last_time.LastTime]:
    """Find what was done before for something alike."""
    return last_time.last_time(shop, **alike.model_dump())
