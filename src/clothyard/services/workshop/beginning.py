"""The first hour: which steps of setting a shop up are done, and whether it opens on them."""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.store.quotes import any_quote
from clothyard.store.settings import read_setting, write_setting
from clothyard.store.shop import Shop

NAME = "beginning"
Step = Literal["shop", "machines", "hoops", "rates", "shelf", "blanks", "price"]


class Beginning(BaseModel):
    """The steps that are done, and whether the shop no longer opens on them."""

    model_config = ConfigDict(extra="forbid")

    done: list[Step] = Field(default_factory=list, max_length=7)
    closed: bool = False


class BeginningView(Beginning):
    """The same; `fresh` while the shop is empty and opens on the steps."""

    fresh: bool


def read_beginning(shop: Shop) -> BeginningView:
    """Tell how far the setting up of a shop is."""
    kept = Beginning.model_validate(read_setting(shop, NAME) or {})
    return BeginningView(**kept.model_dump(), fresh=not kept.closed and not any_quote(shop))


def change_beginning(shop: Shop, beginning: Beginning) -> BeginningView:
    """Keep how far it is."""
    steps = list(dict.fromkeys(beginning.done))
    with shop.unit() as unit:
        write_setting(unit, NAME, beginning.model_copy(update={"done": steps}).model_dump())
    return read_beginning(shop)
