"""Trials of blanks: how each took the sewing, so that the next is bought knowing."""

from __future__ import annotations

import unicodedata
from decimal import Decimal
from functools import cache, partial
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, model_validator

from clothyard.core.errors import NotFound, OutOfRange
from clothyard.core.estimate.usual import usual_materials
from clothyard.core.house.document import House
from clothyard.core.job.document import Id, ShortText
from clothyard.core.log.learn import spoiled_share
from clothyard.core.price.trials import good_cost, minute_rate
from clothyard.core.units import (
    Money,
    exact,
    money_text,
    read_count,
    read_number,
    read_typed,
    share_text,
)
from clothyard.services.house.standards import shop_house
from clothyard.store.settings import read_kept, write_setting
from clothyard.store.shop import Shop

NAME = "trials"
MOST = 200


def _read_price(value: Any) -> Any:
    """Read money; a currency's sign may stand at it."""
    if isinstance(value, str):
        value = "".join(c for c in value if unicodedata.category(c) != "Sc").strip()
    return read_typed(value)


class Trial(BaseModel):
    """A blank that was tried: how it took the sewing, its minutes, how many of how many spoiled."""

    model_config = ConfigDict(extra="forbid")

    blank: Annotated[ShortText, Field(min_length=1)]
    goods: ShortText = ""
    took: Annotated[str, Field(max_length=300)] = ""
    minutes: Annotated[float, Field(ge=0, le=6000), BeforeValidator(read_number)] = 0.0
    tried: Annotated[int, Field(ge=1, le=10_000), BeforeValidator(read_count)] = 1
    spoiled: Annotated[int, Field(ge=0, le=10_000), BeforeValidator(read_count)] = 0
    price: Annotated[Money, BeforeValidator(_read_price)] = Decimal("0.00")
    of: ShortText = ""
    """The id of the blank on the shelf, "" for one that is not there."""

    machine: ShortText = ""
    """That it was sewn on; "" for the shop's first."""

    materials: Annotated[Money, BeforeValidator(_read_price)] | None = None
    """Thread and backing of a piece; unsaid, those of the usual crest on such goods."""

    @model_validator(mode="after")
    def _of_those_tried(self) -> Trial:
        if self.spoiled > self.tried:
            raise OutOfRange(
                f"{self.spoiled} spoiled of {self.tried} tried.",
                where="spoiled",
                remedy="Enter at most as many as were tried.",
                code="out-of-range",
            )
        return self


class TrialView(Trial):
    """The same, with what a good one comes to ("" where none was good); the cheapest is marked.

    `spoil` is the share to reckon with: what was spoiled of it, with what is usual of its class.
    """

    id: Id
    stuff: str
    spoil: str
    good_cost: str
    cheapest: bool


def _kept(shop: Shop) -> tuple[list[dict[str, Any]], int]:
    """Return the rows that are kept, and their revision."""
    rows, revision = read_kept(shop, NAME)
    return (rows if isinstance(rows, list) else []), revision


def list_trials(shop: Shop) -> list[TrialView]:
    """List the trials, by class and then by what a good piece comes to; none good last."""
    house = shop_house(shop)
    currency, usual = house.price.currency, cache(partial(usual_materials, house=house))
    found: list[tuple[Decimal | None, dict[str, Any], Trial]] = []
    stuff: dict[str, Decimal] = {}
    for row in _kept(shop)[0]:
        trial = Trial.model_validate({k: v for k, v in row.items() if k != "id"})
        materials = usual(trial.goods) if trial.materials is None else trial.materials
        stuff[row["id"]] = materials
        cost = good_cost(
            trial.price,
            trial.minutes,
            tried=trial.tried,
            spoiled=trial.spoiled,
            a_minute=minute_rate(house, trial.machine),
            materials=materials,
        )
        found.append((cost, row, trial))
    found.sort(key=lambda each: (each[2].goods, each[0] is None, each[0] or 0, each[2].blank))
    least: dict[str, Decimal] = {}
    for cost, _, trial in found:
        if cost is not None:
            least[trial.goods] = min(cost, least.get(trial.goods, cost))
    several = {goods for goods in least if sum(t.goods == goods for _, _, t in found) > 1}
    return [
        TrialView(
            **trial.model_dump(),
            id=row["id"],
            stuff=money_text(stuff[row["id"]], currency),
            spoil=share_text(_spoil(trial, house)),
            good_cost="" if cost is None else money_text(cost, currency),
            cheapest=trial.goods in several and cost == least[trial.goods],
        )
        for cost, row, trial in found
    ]


def _spoil(trial: Trial, house: House) -> Decimal:
    known = house.goods.get(trial.goods)
    start = float(known.spoil) if known else 0.0
    return exact(spoiled_share(trial.spoiled, trial.tried, start=start))


def _write(shop: Shop, rows: list[dict[str, Any]], *, seen: int) -> list[TrialView]:
    with shop.unit() as unit:
        write_setting(unit, NAME, rows, seen=seen)
    return list_trials(shop)


def add_trial(shop: Shop, trial: Trial) -> list[TrialView]:
    """Keep a trial; returns all.

    Raises
    ------
    OutOfRange
        If there are too many.
    """
    rows, seen = _kept(shop)
    if len(rows) >= MOST:
        raise OutOfRange(
            f"{MOST} trials are the most.",
            where="trials",
            remedy="Remove old ones.",
            code="out-of-range",
        )
    last = max((int(row["id"][1:]) for row in rows), default=0)
    return _write(shop, [*rows, trial.model_dump(mode="json") | {"id": f"t{last + 1}"}], seen=seen)


def _at(rows: list[dict[str, Any]], trial_id: str) -> int:
    for n, row in enumerate(rows):
        if row["id"] == trial_id:
            return n
    raise NotFound(
        f"there is no trial {trial_id!r}.",
        where="trial",
        remedy="Choose one of the list.",
        code="trial-unknown",
    )


def change_trial(shop: Shop, trial_id: str, trial: Trial) -> list[TrialView]:
    """Change a trial; returns all.

    Raises
    ------
    NotFound
    """
    rows, seen = _kept(shop)
    rows[_at(rows, trial_id)] = trial.model_dump(mode="json") | {"id": trial_id}
    return _write(shop, rows, seen=seen)


def remove_trial(shop: Shop, trial_id: str) -> list[TrialView]:
    """Remove a trial; returns the others.

    Raises
    ------
    NotFound
    """
    rows, seen = _kept(shop)
    del rows[_at(rows, trial_id)]
    return _write(shop, rows, seen=seen)
