"""What goes out and comes in as documents: quotes, orders, the shelf, the log, a whole shop."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

from clothyard.core.days import Day, SetDay
from clothyard.core.log.rows import LogRow
from clothyard.core.order.held import ProofState
from clothyard.core.order.payment import Payment
from clothyard.core.order.state import PieceState, State, Waits
from clothyard.core.run.event import EventIn
from clothyard.core.stock.key import is_key
from clothyard.core.units import read_decimal

Text = Annotated[str, Field(max_length=500)]
QUOTE, ORDER, STOCK, LOG, SHOP = (
    "clothyard-quote/1",
    "clothyard-order/1",
    "clothyard-stock/1",
    "clothyard-log/1",
    "clothyard-shop/1",
)


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class PieceOut(_Part):
    """A piece of an order."""

    id: Text
    line: Text
    size: Text
    colour: Text
    name: Text
    state: PieceState
    reason: Text
    instead_of: Text


class DesignOut(_Part):
    """A stitch file: its bytes are base64."""

    sha256: Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
    name: Annotated[str, Field(min_length=1, max_length=200)]
    data: str


class EventOut(EventIn):
    """An event at the machine, and the pass that it is of."""

    pass_id: Annotated[str, Field(max_length=120)]


class _Quoted(_Part):
    """What a quote and an order have in common: head, job, and what prices it.

    `house` is the house that it was sent with, null where it was not sent: whoever reads it prices
    it by that; in a shop's document its place among the houses. `designs` are the stitch files
    that its job names, `standards` what its shop changed: a draft is priced by them.
    """

    number: Text
    customer: Text
    email: Text
    due_on: Day
    valid_until: Day = ""
    notes: Annotated[str, Field(max_length=20_000)]
    sent_on: Day = ""
    promised_on: Day
    currency: Text
    to_pay: Text
    job: dict[str, Any]
    house: dict[str, Any] | Annotated[int, Field(ge=0)] | None = None
    designs: list[DesignOut] = Field(default_factory=list)
    standards: dict[str, Any] = Field(default_factory=dict)


class QuoteOut(_Quoted):
    """A quote as a document: a draft, or its last version as it was sent; never an accepted one."""

    format: Literal["clothyard-quote/1"] = "clothyard-quote/1"
    state: Literal["draft", "sent", "declined"]


class OrderOut(_Quoted):
    """An order as a document: its head, its job as accepted, its figures, how far it is."""

    format: Literal["clothyard-order/1"] = "clothyard-order/1"
    version: int = Field(ge=1)
    accepted_on: Text
    state: State
    waits: Waits
    proof: ProofState
    pieces: list[PieceOut]
    ready: list[Text]
    payments: list[Payment]
    events: list[EventOut] = Field(default_factory=list)


def _key(text: str) -> str:
    """Return an item's key.

    Raises
    ------
    ValueError
    """
    if not is_key(text):
        raise ValueError("is no item: kind|id|detail")
    return text


def _number(text: str) -> str:
    read_decimal(text)
    return text


def _cost(text: str) -> str:
    """Return a price, or "" for none.

    Raises
    ------
    ValueError
    """
    if text and read_decimal(text) < 0:
        raise ValueError("is below zero")
    return text


def _moment(text: str) -> str:
    datetime.fromisoformat(text)
    return text


ItemKey = Annotated[Text, AfterValidator(_key)]
Number = Annotated[Text, AfterValidator(_number)]
Cost = Annotated[Text, AfterValidator(_cost)]
Moment = Annotated[Text, AfterValidator(_moment)]


class ItemOut(_Part):
    """An item of the shelf; amounts as decimal text, in metres or pieces."""

    item: ItemKey
    label: Text
    unit: Literal["m", "each"]
    on_hand: Number
    minimum: Cost
    supplier: Text
    place: Text


class MoveOut(_Part):
    """A move of the ledger: its key is booked once, wherever it is read."""

    key: Annotated[str, Field(min_length=1, max_length=200)]
    item: ItemKey
    amount: Number
    why: Literal["received", "taken", "returned", "wasted", "counted", "weighed"]
    order: Text
    made_on: Moment
    note: Text
    cost: Cost


class StockOut(_Part):
    """The shelf as a document: what lies there, and every move, the first first."""

    format: Literal["clothyard-stock/1"] = "clothyard-stock/1"
    shop: Annotated[str, Field(max_length=80, pattern=r"^[A-Za-z0-9-]*$")] = ""
    """Which shop wrote it: keys of another never meet ours."""

    items: list[ItemOut]
    moves: list[MoveOut]


class ShopOut(_Part):
    """A whole shop as a document: its own standards, designs, quotes, orders, shelf and log.

    Each design and each house stands once: a quote names its house by its place in `houses`.
    """

    format: Literal["clothyard-shop/1"] = "clothyard-shop/1"
    shop: Annotated[str, Field(max_length=80, pattern=r"^[A-Za-z0-9-]*$")]
    written_on: SetDay
    standards: dict[str, Any]
    designs: list[DesignOut]
    houses: list[dict[str, Any]]
    quotes: list[QuoteOut]
    orders: list[OrderOut]
    stock: StockOut
    log: list[LogRow]
