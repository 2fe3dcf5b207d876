"""An estimate to show a customer: prices and what is made, without any cost."""

from __future__ import annotations

import re
from typing import Any

from clothyard.core.estimate.document import Estimate
from clothyard.core.house.check import house_json, row_meta
from clothyard.core.house.document import House
from clothyard.core.job.hidden import COST_KEYS, OF_COSTS
from clothyard.core.methods.bobbin import POLICY_WHY

NO_MONEY, NO_SHARE = "0.00", "0.0000"


def _without(line: dict[str, Any]) -> dict[str, Any]:
    for part in ("cost", "piece_cost"):
        for name in line[part]:
            line[part][name] = NO_MONEY
    for row in (*line["materials"], *line["cuts"]):
        row["cost"] = NO_MONEY
    for method in line["methods"]:
        for other in method["others"]:
            other["cost_difference"] = other["minutes_difference"] = None
    line["price"] |= {
        "margin": NO_SHARE,
        "floor": NO_MONEY,
        "safe_discount": NO_SHARE,
        "cross_checks": dict.fromkeys(line["price"]["cross_checks"], NO_MONEY),
    }
    for tier in line["tiers"]:
        tier["unit_cost"] = tier["margin"] = tier["set_up"] = NO_SHARE
    line["advice"] = [a for a in line["advice"] if a["code"] not in OF_COSTS]
    for method in line["methods"]:
        if method["key"] == "bobbin_policy" and method["value"] in POLICY_WHY:
            method["reason"] = POLICY_WHY[method["value"]]  # what it saves tells the rates
    line["sure"] = None
    if line["supplied"]:
        nothing = {"each": NO_SHARE, "delivery": NO_MONEY, "next_each": None, "next_step": None}
        line["supplied"] |= nothing
    return line | {"schools": [], "break_evens": [], "working": []}


def without_costs(estimate: Estimate) -> Estimate:
    """Take every cost, margin and difference out of an estimate; prices and minutes stay.

    Returns
    -------
    Estimate
        Same keys; costs "0.00", what compares costs empty. Stops of price still tell in `sendable`.
    """
    document = estimate.model_dump()
    document["lines"] = [_without(line) for line in document["lines"]]
    for thread in document["threads"]:
        thread["used_cost"] = thread["bought_cost"] = NO_MONEY
    total = document["total"]
    total["cost"] = NO_MONEY
    total["parts"] = total["sure"] = None
    for kit in total["kits"]:
        kit["unit_cost"] = NO_SHARE
    document["machines"] = []
    document["read"] = [row for row in document["read"] if not tells_cost(row["where"])]
    return Estimate.model_validate(document)


def tells_cost(where: str) -> bool:
    """Whether a place of a job, as a path, tells what things cost or earn."""
    return bool(COST_KEYS & set(re.split(r"[.[\]]+", where)))


TELLING = ("price.margin", "price.goods_mark_up", "price.discount_most")
"""Standards that tell what is earned, besides those that are money."""


def house_without_costs(house: House) -> House:
    """Take what things cost and earn out of a house: what a screen needs to draw stays.

    Returns
    -------
    House
        Same keys; every rate and price is 0, and so is what is earned.
    """
    tree = house_json(house)

    def clean(place: dict[str, Any], prefix: str) -> None:
        for name, value in place.items():
            key = f"{prefix}{name}"
            meta = row_meta(key)
            if meta and meta.unit == "price steps":
                place[name] = {"1": 0}
            elif meta and meta.unit == "size sums":
                place[name] = {}
            elif isinstance(value, dict):
                clean(value, f"{key}.")
                continue
            if meta and (meta.unit.startswith("money") or key in TELLING):
                place[name] = 0

    clean(tree, "")
    return House.model_validate(tree)
