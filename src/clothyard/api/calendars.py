"""Routes of calendars: the plan to take along, a link to subscribe to, days off read."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Path, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import ServedAt
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.turns import PRICING
from clothyard.core.days import SetDay
from clothyard.files.calendars import MAX_BYTES
from clothyard.services.plan import calendars

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)
by_link = APIRouter(responses=RESPONSES)

ICS = "text/calendar; charset=utf-8"
ICS_OK: dict[int | str, dict[str, Any]] = {
    200: {"content": {"text/calendar": {"schema": {"type": "string"}}}}
}


class ClosedDays(BaseModel):
    """Days on which the shop is closed from now on; ISO."""

    model_config = ConfigDict(extra="forbid")

    days: list[SetDay] = Field(max_length=1000)


class ClosedNow(BaseModel):
    """All closing days as they stand in the standards."""

    closed: str


@router.get("/plan.ics", response_class=Response, responses=ICS_OK, dependencies=PRICING)
def plan_ics(shop: ShopDep) -> Response:
    """Write the plan as a calendar."""
    headers = {"content-disposition": 'attachment; filename="plan.ics"'}
    return Response(calendars.plan_ics(shop), media_type=ICS, headers=headers)


@router.get("/plan/link")
def plan_link(shop: ShopDep) -> calendars.PlanLink:
    """Say whether the plan can be subscribed to."""
    return calendars.plan_link(shop)


@router.post("/plan/link", status_code=201)
def make_plan_link(shop: ShopDep, at: ServedAt) -> calendars.PlanLink:
    """Make a link to subscribe to the plan; the one before opens nothing any more."""
    return calendars.make_plan_link(shop, served_at=at)


@router.delete("/plan/link", status_code=204)
def withdraw_plan_link(shop: ShopDep) -> None:
    """Withdraw the link to the plan."""
    calendars.withdraw_plan_link(shop)


@router.post("/calendar-days")
async def read_calendar(shop: ShopDep, file: UploadFile) -> calendars.DaysRead:
    """Read the days of a calendar (.ics); nothing is taken by it."""
    data = await file.read(MAX_BYTES + 1)
    return await run_in_threadpool(calendars.read_calendar, shop, data)


@router.post("/closed-days")
def close_days(shop: ShopDep, closed: ClosedDays) -> ClosedNow:
    """Add closing days."""
    return ClosedNow(closed=calendars.close_days(shop, closed.days))


@by_link.get(
    "/calendar/{token}.ics", response_class=Response, responses=ICS_OK, dependencies=PRICING
)
def plan_by_link(token: Annotated[str, Path(max_length=100)], shop: ShopDep) -> Response:
    """Read the plan by the link that it is subscribed to."""
    return Response(calendars.plan_by_link(shop, token), media_type=ICS)
