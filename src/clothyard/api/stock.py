"""Routes of the shelf: items, moves, what is to buy, orders to suppliers."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from fastapi import APIRouter, Depends, Path, Query, Response
from pydantic import BaseModel, ConfigDict, Field

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import IfMatch, seen_revision
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.turns import DEVICES, PRICING, READING
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.orders import buying, readying
from clothyard.services.papers import papers
from clothyard.services.stock import shelf

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)

PurchaseId = Annotated[int, Path(ge=1, le=2**53)]
RowIndex = Annotated[int, Path(ge=0, le=500)]
ItemKey = Annotated[str, Query(min_length=1, max_length=200)]
PDF_OK: dict[int | str, dict[str, Any]] = {200: {"content": {"application/pdf": {}}}}


class StockListed(BaseModel):
    """Which items are listed."""

    model_config = ConfigDict(extra="forbid")

    search: str = Field(default="", max_length=200)
    kind: shelf.Kind = ""
    only: Literal["", "short", "below", "below-zero"] = ""


class StockListedPage(StockListed):
    """A page of them."""

    cursor: str = Field(default="", pattern=r"^[0-9]{0,9}$")
    limit: int = Field(default=200, ge=1, le=500)


@router.get("/stock")
def list_stock(shop: ShopDep, wanted: Annotated[StockListedPage, Query()]) -> shelf.StockPage:
    """List the shelf: on hand, promised, free, short, and what it is worth."""
    return shelf.list_stock(shop, **wanted.model_dump())


@router.get("/stock-lists/stock.{kind}", response_class=Response)
def stock_sheet(
    kind: SheetKind, shop: ShopDep, wanted: Annotated[StockListed, Query()]
) -> Response:
    """Write the shelf as a table."""
    data = shelf.stock_sheet(shop, kind, **{**wanted.model_dump()})
    headers = {"content-disposition": f'attachment; filename="stock.{kind}"'}
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/stock/item")
def find_item(
    shop: ShopDep, item: ItemKey, before: Annotated[int, Query(ge=1, le=2**53)] = 2**53
) -> shelf.ItemView:
    """Open an item: its moves, the last first, and who needs it."""
    return shelf.find_item(shop, item, before=before)


@router.put("/stock/item")
def settle_item(shop: ShopDep, item: ItemKey, settings: shelf.ItemSettings) -> shelf.ItemView:
    """Keep an item's minimum, its supplier and where it lies."""
    return shelf.settle_item(shop, item, settings)


@router.post("/stock/moves", status_code=201)
def book(shop: ShopDep, booking: shelf.Booking) -> shelf.ItemView:
    """Book a move; the same key is booked once."""
    return shelf.book(shop, booking)


@router.post("/stock/said", status_code=201, dependencies=PRICING)
def say_here(shop: ShopDep, said: readying.Said) -> readying.Counted:
    """Count what is said to be here, enough or so much, or not; the same key is booked once."""
    return readying.say_here(shop, said)


@router.get("/stock/weight", dependencies=DEVICES)
def weigh(
    shop: ShopDep, item: ItemKey, putup: Annotated[str, Query(max_length=80)]
) -> shelf.Weight:
    """Read the simulated scale."""
    return shelf.weigh(shop, item, putup)


@router.get("/to-buy", dependencies=PRICING)
def to_buy(shop: ShopDep) -> buying.ToBuy:
    """List what is to be bought, by supplier."""
    return buying.list_to_buy(shop)


@router.get("/to-buy-lists/to-buy.{kind}", response_class=Response, dependencies=PRICING)
def to_buy_sheet(kind: SheetKind, shop: ShopDep) -> Response:
    """Write what is to be bought as a table."""
    headers = {"content-disposition": f'attachment; filename="to-buy.{kind}"'}
    data = buying.to_buy_sheet(shop, kind)
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get("/purchases")
def list_purchases(
    shop: ShopDep,
    state: Literal["", "open", "arrived", "closed"] = "",
    cursor: Annotated[str, Query(pattern=r"^[0-9]{0,9}$")] = "",
    limit: Annotated[int, Query(ge=1, le=200)] = 100,
) -> buying.PurchasesPage:
    """List orders to suppliers, the last first: all that are open, of others a page at a time."""
    return buying.list_purchases(shop, state=state, cursor=cursor, limit=limit)


@router.post("/purchases", status_code=201, dependencies=DEVICES)
def make_purchase(shop: ShopDep, new: buying.NewPurchase) -> buying.PurchaseView:
    """Order of a supplier: to its service, or by hand."""
    return buying.make_purchase(shop, new)


@router.get("/purchases/{purchase_id}")
def find_purchase(purchase_id: PurchaseId, shop: ShopDep) -> buying.PurchaseView:
    """Open an order to a supplier."""
    return buying.find_purchase(shop, purchase_id)


@router.delete("/purchases/{purchase_id}", status_code=204)
def take_back_purchase(purchase_id: PurchaseId, shop: ShopDep) -> None:
    """Take back an order that no supplier has confirmed."""
    buying.take_back_purchase(shop, purchase_id)


@router.post("/purchases/{purchase_id}/ask", dependencies=DEVICES)
def ask_again(purchase_id: PurchaseId, shop: ShopDep) -> buying.PurchaseView:
    """Send an order again that was not answered."""
    return buying.ask_again(shop, purchase_id)


@router.post("/purchases/{purchase_id}/arrivals")
def arrive(
    purchase_id: PurchaseId, shop: ShopDep, arrival: buying.Arrival, if_match: IfMatch = None
) -> buying.PurchaseView:
    """Book what arrived; without rows all that is still open."""
    return buying.arrive(shop, purchase_id, arrival, seen=seen_revision(if_match))


@router.post("/purchases/{purchase_id}/rows/{row}/price")
def take_price(
    purchase_id: PurchaseId, row: RowIndex, shop: ShopDep, if_match: IfMatch = None
) -> buying.PurchaseView:
    """Let the price that the supplier asks now be the shelf's."""
    return buying.take_price(shop, purchase_id, row, seen=seen_revision(if_match))


@router.get("/purchase-lists/{purchase_id}.{kind}", response_class=Response)
def purchase_sheet(purchase_id: PurchaseId, kind: SheetKind, shop: ShopDep) -> Response:
    """Write an order to a supplier as a table."""
    data = buying.purchase_sheet(shop, purchase_id, kind)
    headers = {"content-disposition": f'attachment; filename="order-{purchase_id}.{kind}"'}
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)


@router.get(
    "/purchases/{purchase_id}/order.pdf",
    response_class=Response,
    responses=PDF_OK,
    dependencies=READING,
)
def purchase_paper(purchase_id: PurchaseId, shop: ShopDep, page: papers.Page = "") -> Response:
    """Return the order sheet to a supplier."""
    paper = papers.purchase_paper(shop, purchase_id, page=page)
    headers = {"content-disposition": f'inline; filename="{paper.name}"'}
    return Response(paper.data, media_type=paper.media_type, headers=headers)
