"""Routes of the customer's page: by link alone, and never a cost."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Path, Response

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import Index, QuoteId, ServedAt
from clothyard.api.routes import ShopDep
from clothyard.api.turns import READING
from clothyard.services.customer_page import asks, links
from clothyard.services.customer_page.proofs import ProofSaid
from clothyard.services.designs.library import DesignPath

router = APIRouter(prefix="/api/v1", responses=RESPONSES)

Id = Annotated[int, Path(ge=1, le=2**53)]
Token = Annotated[str, Path(max_length=100)]


@router.post("/quotes/{quote_id}/link", status_code=201)
def make_link(quote_id: QuoteId, shop: ShopDep, at: ServedAt) -> links.LinkView:
    """Make a link to the last sent version; the one before opens nothing any more."""
    return links.make_link(shop, quote_id, served_at=at)


@router.delete("/quotes/{quote_id}/link", status_code=204)
def take_back_link(quote_id: QuoteId, shop: ShopDep) -> None:
    """Undo a new link: the one before opens the quote again."""
    links.take_back_link(shop, quote_id)


@router.get("/quotes/{quote_id}/asks")
def list_asks(quote_id: QuoteId, shop: ShopDep) -> list[asks.AskView]:
    """List what its customer asked for, over all versions, and how it was answered."""
    return asks.list_asks(shop, quote_id)


@router.post("/quotes/{quote_id}/asks/{ask_id}")
def answer_ask(
    quote_id: QuoteId, ask_id: Id, how: asks.AskAnswered, shop: ShopDep
) -> list[asks.AskView]:
    """Say how something asked for is answered: taken, or declined with words."""
    return asks.answer_ask(shop, quote_id, ask_id, how)


@router.get("/customer/{token}")
def read_link(token: Token, shop: ShopDep) -> links.QuoteForCustomer:
    """Read the quote that a link opens."""
    return links.read_link(shop, token)


@router.post("/customer/{token}/answer")
def answer_link(
    token: Token, answer: links.CustomerAnswer, shop: ShopDep
) -> links.QuoteForCustomer:
    """Accept, or ask for a change."""
    return links.answer_link(shop, token, answer)


@router.get("/customer/{token}/lines/{line}/places/{place}/path", dependencies=READING)
def link_path(token: Token, line: Index, place: Index, shop: ShopDep) -> DesignPath:
    """Return the path of a design of the quote, to draw it."""
    return links.link_path(shop, token, line, place)


@router.post("/customer/{token}/proof")
def say_proof(token: Token, said: ProofSaid, shop: ShopDep) -> links.QuoteForCustomer:
    """Approve the proof, or say what is to be different."""
    return links.say_link_proof(shop, token, said)


@router.get(
    "/customer/{token}/proof.pdf",
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}},
    dependencies=READING,
)
def proof_paper(token: Token, shop: ShopDep) -> Response:
    """Return the proof on paper."""
    headers = {"content-disposition": 'inline; filename="proof.pdf"'}
    return Response(
        links.link_proof_paper(shop, token), media_type="application/pdf", headers=headers
    )


@router.get(
    "/customer/{token}/quote.pdf",
    response_class=Response,
    responses={200: {"content": {"application/pdf": {}}}},
)
def link_paper(token: Token, shop: ShopDep) -> Response:
    """Return the customer's paper."""
    paper = links.link_paper(shop, token)
    headers = {"content-disposition": f'inline; filename="{paper.name}"'}
    return Response(paper.data, media_type=paper.media_type, headers=headers)
