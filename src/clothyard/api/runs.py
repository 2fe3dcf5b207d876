"""Routes of runs and the plan: simulated, placed over the coming days, promised."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Path, Query
from fastapi.responses import StreamingResponse

from clothyard.api.problems import RESPONSES
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.turns import PRICING
from clothyard.services.plan import planning, promises
from clothyard.services.run import simulated as runs
from clothyard.services.today import today as todays
from clothyard.store.shop import Shop

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)

Id = Annotated[int, Path(ge=1, le=2**53)]
Seed = Annotated[int | None, Query(ge=0, le=2**31)]
NDJSON = "application/x-ndjson"


@router.get("/orders/{order_id}/run", dependencies=PRICING)
def order_run(order_id: Id, shop: ShopDep, seed: Seed = None) -> runs.RunDocument:
    """Simulate an order's run: lanes, the bottleneck, what else would save."""
    return runs.order_run(shop, order_id, seed=seed)


@router.get("/quotes/{quote_id}/run", dependencies=PRICING)
def quote_run(quote_id: Id, shop: ShopDep, seed: Seed = None) -> runs.RunDocument:
    """Simulate a quote's run."""
    return runs.quote_run(shop, quote_id, seed=seed)


@router.get("/plan", dependencies=PRICING)
def plan(shop: ShopDep) -> planning.PlanDocument:
    """Plan open orders over the coming days."""
    return planning.plan_shop(shop)


@router.put("/plan/seen", dependencies=PRICING, status_code=204)
def plan_seen(shop: ShopDep) -> None:
    """Note that the plan was looked at: what moves from now on is told."""
    planning.plan_seen(shop)


@router.put("/orders/{order_id}/pin", dependencies=PRICING)
def pin_order(order_id: Id, pin: planning.PlanPin, shop: ShopDep) -> planning.PlanDocument:
    """Pin an order on the plan, or let it go."""
    return planning.pin_order(shop, order_id, pin)


@router.get("/quotes/{quote_id}/promise", dependencies=PRICING)
def promise(quote_id: Id, shop: ShopDep) -> promises.PromiseView:
    """Say when a quote could be ready: likely, and safely; what would make the wanted day."""
    return promises.promise_quote(shop, quote_id)


def _lines(shop: Shop, of: Literal["orders", "quotes"], id_: int, many: int) -> Iterator[str]:
    for step in runs.spread_in_steps(shop, of, id_, runs=many):
        yield step.model_dump_json() + "\n"


@router.get(
    "/{of}/{id_}/run/spread",
    response_class=StreamingResponse,
    responses={200: {"content": {NDJSON: {}}, "model": runs.SpreadStep}},
    dependencies=PRICING,
)
def spread(
    of: Literal["orders", "quotes"],
    id_: Id,
    shop: ShopDep,
    many: Annotated[int, Query(ge=10, le=runs.MOST_RUNS)] = 200,
) -> StreamingResponse:
    """Simulate a run many times: a line a step, the times in 10, 50 and 90 of 100 at the end."""
    steps = _lines(shop, of, id_, many)
    first = next(steps)  # what is wrong with it is told before anything is answered

    def rest() -> Iterator[str]:
        yield first
        yield from steps

    return StreamingResponse(rest(), media_type=NDJSON)


@router.get("/today", dependencies=PRICING)
def today(shop: ShopDep) -> todays.TodayDocument:
    """List what needs the seller now."""
    return todays.todays(shop)


@router.post("/today", dependencies=PRICING)
def press_today(pressed: todays.Pressed, shop: ShopDep) -> todays.TodayDocument:
    """Do what a press of a row does, or take it back."""
    return todays.press(shop, pressed)
