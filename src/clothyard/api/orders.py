"""Routes of orders: listed, opened, moved on; their pieces, proofs and papers."""

from __future__ import annotations

from typing import Annotated, Literal

from fastapi import APIRouter, Depends, Path, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from pydantic import BaseModel, ConfigDict, Field

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import IfMatch, QuoteId, ServedAt, seen_revision
from clothyard.api.routes import TELLS_COSTS, ShopDep, same_shop
from clothyard.api.stock import PDF_OK
from clothyard.api.turns import PRICING, READING
from clothyard.core.errors import BadInput
from clothyard.documents.run_sheet import RunSheet
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.customer_page import proofs
from clothyard.services.exchange import incoming, outgoing
from clothyard.services.orders import follow as orders
from clothyard.services.orders import readying
from clothyard.services.orders.readying import GetReady
from clothyard.services.papers import papers
from clothyard.services.run import stitch_files
from clothyard.services.run.sheet import find_sheet
from clothyard.services.run.stitch_files import USUAL_KIND
from clothyard.services.sending import corrections
from clothyard.services.stock.shelf import QuoteShelf
from clothyard.store.quotes import Document

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)

OrderId = Annotated[int, Path(ge=1, le=2**53)]
OrderIds = Annotated[
    list[Annotated[int, Field(ge=1, le=2**53)]], Query(min_length=1, max_length=50)
]


MAX_DOCUMENT_BYTES = 64_000_000


class TakenDocument(BaseModel):
    """What came of a document that was read."""

    said: str


class ProofTicked(BaseModel):
    """That a proof was approved another way; `by` says how, or who."""

    model_config = ConfigDict(extra="forbid")

    by: str = Field(default="", max_length=200)


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


@router.post("/orders/{order_id}/pieces", dependencies=PRICING)
def change_pieces(
    order_id: OrderId, change: orders.PiecesChange, shop: ShopDep
) -> orders.OrderView:
    """Move pieces on, or back; a spoiled one is made again."""
    return orders.change_pieces(shop, order_id, change)


@router.put("/orders/{order_id}/proof", dependencies=PRICING)
def tick_proof(order_id: OrderId, ticked: ProofTicked, shop: ShopDep) -> orders.OrderView:
    """Note that the customer approved the proof another way."""
    orders.keep_up(shop)
    proofs.tick_proof(shop, order_id, by=ticked.by.strip())
    return orders.find_order(shop, order_id)


@router.delete("/orders/{order_id}/proof", dependencies=PRICING)
def untick_proof(order_id: OrderId, shop: ShopDep) -> orders.OrderView:
    """Take back what was said of a proof."""
    proofs.untick_proof(shop, order_id)
    return orders.find_order(shop, order_id)


@router.get("/orders/{order_id}/corrections", dependencies=PRICING)
def price_corrections(order_id: OrderId, shop: ShopDep) -> corrections.CorrectionPrice:
    """Say what a proof's corrections do to the price."""
    return corrections.price_corrections(shop, order_id)


@router.post("/orders/{order_id}/corrections", dependencies=PRICING)
def take_corrections(
    order_id: OrderId, how: corrections.TakeCorrections, shop: ShopDep, at: ServedAt
) -> orders.OrderView:
    """Make a proof's corrections a new version of the order."""
    return corrections.take_corrections(shop, order_id, how, served_at=at)


@router.post("/orders/{order_id}/names", dependencies=PRICING)
def correct_name(
    order_id: OrderId, how: corrections.PieceNamed, shop: ShopDep, at: ServedAt
) -> orders.OrderView:
    """Correct the name of a piece: the next version of the order, at the price as agreed."""
    return corrections.correct_name(shop, order_id, how, served_at=at)


@router.get("/orders/{order_id}/run-sheet", dependencies=READING)
def run_sheet(order_id: OrderId, shop: ShopDep) -> RunSheet:
    """Return the run sheet, for the screen at the machine."""
    return find_sheet(shop, order_id)


@router.get("/quotes/{quote_id}/shelf", dependencies=PRICING)
def quote_shelf(quote_id: QuoteId, shop: ShopDep) -> QuoteShelf:
    """Say what a quote would need of the shelf, and what of that is there."""
    return readying.quote_shelf(shop, quote_id)


@router.get("/quotes/{quote_id}/run-sheet", dependencies=READING)
def ahead_sheet(quote_id: QuoteId, shop: ShopDep) -> RunSheet:
    """Return a quote's run sheet, as a look ahead."""
    return papers.ahead_sheet(shop, quote_id)


@router.get(
    "/orders/{order_id}/papers/{kind}.pdf",
    response_class=Response,
    responses=PDF_OK,
    dependencies=READING,
)
def order_paper(
    order_id: OrderId,
    kind: papers.Paper,
    shop: ShopDep,
    at: ServedAt,
    page: papers.Page = "",
    mirrored: bool = False,
) -> Response:
    """Return a paper of the workshop."""
    return _paper(
        papers.order_paper(shop, order_id, kind, served_at=at, page=page, mirrored=mirrored)
    )


@router.get(
    "/quotes/{quote_id}/papers/{kind}.pdf",
    response_class=Response,
    responses=PDF_OK,
    dependencies=READING,
)
def ahead_paper(
    quote_id: QuoteId,
    kind: papers.Paper,
    shop: ShopDep,
    at: ServedAt,
    page: papers.Page = "",
    mirrored: bool = False,
) -> Response:
    """Return a paper of the workshop of a quote, as a look ahead."""
    return _paper(
        papers.ahead_paper(shop, quote_id, kind, served_at=at, page=page, mirrored=mirrored)
    )


@router.get("/get-ready", dependencies=READING)
def together(shop: ShopDep, orders: OrderIds) -> GetReady:
    """Add up what several orders need, earlier promises first."""
    return papers.together(shop, orders)


@router.get("/get-ready.pdf", response_class=Response, responses=PDF_OK, dependencies=READING)
def together_paper(shop: ShopDep, orders: OrderIds, page: papers.Page = "") -> Response:
    """Return the get-ready list of several orders."""
    return _paper(papers.together_paper(shop, orders, page=page))


def _paper(paper: Document) -> Response:
    headers = {
        "content-disposition": f'inline; filename="{paper.name}"',
        "cache-control": "private, max-age=20",  # the page that asks first is the one that opens
    }
    return Response(paper.data, media_type=paper.media_type, headers=headers)


@router.get("/orders/{order_id}/stitch-files.zip", response_class=Response, dependencies=READING)
def stitch_zip(
    order_id: OrderId, shop: ShopDep, kind: Annotated[str, Query(max_length=8)] = USUAL_KIND
) -> Response:
    """Write an order's stitch files as they go to the machine, each name by itself, as one zip."""
    name, data = stitch_files.stitch_zip(shop, order_id, kind)
    headers = {"content-disposition": f'attachment; filename="{name}"'}
    return Response(data, media_type="application/zip", headers=headers)


def _document(data: bytes, name: str) -> Response:
    headers = {"content-disposition": f'attachment; filename="{name}.json"'}
    return Response(data, media_type="application/json", headers=headers)


@router.get("/order-documents/{order_id}.json", response_class=Response, dependencies=PRICING)
def order_document(order_id: OrderId, shop: ShopDep) -> Response:
    """Write an order as a clothyard-order/1 document, with its house and its stitch files."""
    return _document(outgoing.export_order(shop, order_id), f"order-{order_id}")


@router.get("/quote-documents/{quote_id}.json", response_class=Response, dependencies=PRICING)
def quote_document(quote_id: QuoteId, shop: ShopDep) -> Response:
    """Write a quote as a clothyard-quote/1 document; one that was accepted as its order."""
    return _document(outgoing.export_quote(shop, quote_id), f"quote-{quote_id}")


@router.get("/shop-documents/shop.json", response_class=Response, dependencies=PRICING)
def shop_document(shop: ShopDep) -> Response:
    """Write all that the shop has as one clothyard-shop/1 document."""
    return _document(outgoing.export_shop(shop), "shop")


@router.get("/stock-documents/stock.json", response_class=Response)
def stock_document(shop: ShopDep) -> Response:
    """Write the shelf as a clothyard-stock/1 document."""
    return _document(outgoing.export_stock(shop), "stock")


@router.post("/documents", dependencies=PRICING)
async def take_document(shop: ShopDep, file: UploadFile) -> TakenDocument:
    """Read a quote, an order, a shelf, a log or a whole shop in; what is there stays as it is."""
    data = await file.read(MAX_DOCUMENT_BYTES + 1)
    if len(data) > MAX_DOCUMENT_BYTES:
        raise BadInput(
            f"the document is over {MAX_DOCUMENT_BYTES // 1_000_000} MB.",
            where="file",
            remedy="Read it at the command line: clothyard import.",
            code="too-large",
        )
    name = (file.filename or "the document")[:200]
    said = await run_in_threadpool(incoming.import_file, shop, data, where=name)
    return TakenDocument(said=said)
