"""The usual crest on some goods: what thread and backing of a piece come to."""

from __future__ import annotations

from decimal import Decimal

from clothyard.core.errors import ClothyardError
from clothyard.core.estimate.make import estimate
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from
from clothyard.core.price.amounts import ZERO

PIECES = 12
CREST = {
    "stitches": 8200,
    "kind": "mixed",
    "colours": 3,
    "width_mm": 85,
    "height_mm": 60,
    "trims": 9,
}
SMALL = {"stitches": 3000, "kind": "mixed", "colours": 2, "width_mm": 40, "height_mm": 40}
"""Where the crest is too large."""


def usual_materials(goods: str, house: House) -> Decimal:
    """Return thread, backing and topping of a piece of the usual crest on some goods. [money]

    Parameters
    ----------
    goods : str
        A class; of an unknown one nothing is known: 0.
    house : House

    Source
    ------
    docs/formulas.md 10.
    """
    if goods not in house.goods:
        return ZERO
    for design in (CREST, SMALL):
        line = {
            "goods": {"class": goods, "unit_cost": "0"},
            "quantity": PIECES,
            "placements": [{"design": design}],
            "digitising": "none",
        }
        try:
            found = estimate(job_from({"lines": [line]}), house, {}, compare=False)
        except ClothyardError:
            continue
        cost = found.lines[0].cost
        parts = (cost.needle_thread, cost.bobbin_thread, cost.backing, cost.topping)
        if found.sendable or design is SMALL:
            return sum((Decimal(part) for part in parts), ZERO) / PIECES
    return ZERO
