"""Routes of orders: listed, opened, moved on."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Path, Query, Response
from pydantic import BaseModel, ConfigDict, Field

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import IfMatch, seen_revision
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.turns import PRICING
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services import orders

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)

OrderId = Annotated[int, Path(ge=1, le=2**53)]


class Listed(BaseModel):
    """Which orders are listed: without a state those that are open."""

    model_config = ConfigDict(extra="forbid")

    search: str = Field(default="", max_length=200)
    state: Literal[
        "", "all", "accepted", "waiting", "ready", "in-work", "done", "handed-over", "cancelled"
    ] = ""
    sort: orders.Sort = "promise"
    down: bool | None = None


class ListedPage(Listed):
    """A page of them."""

    cursor: str = Field(default="", pattern=r"^[0-9]{0,9}$")
    limit: int = Field(default=50, ge=1, le=200)


@router.get("/orders")
def list_orders(shop: ShopDep, wanted: Annotated[ListedPage, Query()]) -> orders.OrdersPage:
    """List orders, a page at a time, those promised first before."""
    return orders.list_orders(shop, **wanted.model_dump())


@router.get("/order-lists/orders.{kind}", response_class=Response)
def orders_sheet(kind: SheetKind, shop: ShopDep, wanted: Annotated[Listed, Query()]) -> Response:
    """Write the orders of a list as a table."""
    data = orders.orders_sheet(shop, kind, **wanted.model_dump())
    headers = {"content-disposition": f'attachment; filename="orders.{kind}"'}
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/orders/{order_id}", dependencies=PRICING)
def find_order(order_id: OrderId, shop: ShopDep) -> orders.OrderView:
    """Open an order: pieces, needs, money."""
    return orders.find_order(shop, order_id)


@router.put("/orders/{order_id}", dependencies=PRICING)
def save_order(
    order_id: OrderId, document: orders.OrderDocument, shop: ShopDep, if_match: IfMatch = None
) -> orders.OrderView:
    """Write how far an order is, what lies ready and what was paid."""
    return orders.save_order(shop, order_id, document, seen=seen_revision(if_match))
