"""What a customer asked for: a change, a name, a sentence; before the seller until answered."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput
from clothyard.store import asks as kept
from clothyard.store import quotes
from clothyard.store.shop import Shop
from clothyard.store.unit import Reads

CORRECTED = ("name", "words", "sentence")


class AskView(BaseModel):
    """Something asked for of a version, and how it was answered: "", taken or declined."""

    id: int
    version: int
    kind: Literal["change", "name", "words", "sentence"]
    name: str
    words: str
    said_on: str
    answered: Literal["", "taken", "declined"]
    answer: str
    answered_on: str


class AskAnswered(BaseModel):
    """How something asked for is answered: taken, declined with words; "" opens it again."""

    model_config = ConfigDict(extra="forbid")

    answered: Literal["", "taken", "declined"]
    words: str = Field(default="", max_length=2000)


def list_asks(shop: Reads, quote_id: int) -> list[AskView]:
    """List what a customer asked for of a quote, over all its versions."""
    names = AskView.model_fields
    return [
        AskView(**{name: getattr(ask, name) for name in names})
        for ask in kept.list_asks(shop, quote_id)
    ]


def answer_ask(shop: Shop, quote_id: int, ask_id: int, how: AskAnswered) -> list[AskView]:
    """Keep how something asked for was answered; the customer reads it on their page.

    Raises
    ------
    NotFound
    BadInput
        If it is declined without a word.
    Conflict
        If it was answered otherwise meanwhile.
    """
    words = how.words.strip()
    if how.answered == "declined" and not words:
        raise BadInput(
            "it does not say why not.",
            where="words",
            remedy="Say it in a sentence: the customer reads it.",
            code="missing",
        )
    quotes.find_quote(shop, quote_id)
    with shop.unit() as unit:
        kept.answer_ask(unit, quote_id, ask_id, answered=how.answered, answer=words)
    return list_asks(shop, quote_id)
