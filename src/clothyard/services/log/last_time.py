"""What was done last time: for this customer, this design, these goods."""

from __future__ import annotations

from pydantic import BaseModel

from clothyard.core.log.rows import LogRow, difference_words, in_doubt
from clothyard.store import log as kept
from clothyard.store.shop import Shop

MOST = 5


class LastTime(BaseModel):
    """A pass of before that is like what is priced now: why it is shown, and what came of it.

    `alike` are what it has in common: design, goods, place, customer.
    """

    row_id: int
    order_id: int
    alike: list[str]
    row: LogRow
    result: str
    said: list[str]


def _result(row: LogRow) -> str:
    good = row.sewn - row.spoiled
    words = [f"{good} good of {row.sewn}" if row.spoiled else f"{row.sewn} good"]
    if row.mended:
        words.append(f"{row.mended} mended")
    for reason, count in sorted(row.reasons.items(), key=lambda r: -r[1]):
        words.append(f"{reason} × {count}")
    return ", ".join(words)


def last_time(
    shop: Shop, *, customer: str = "", design: str = "", goods: str = "", place: str = ""
) -> list[LastTime]:
    """Find what was done before for something alike, the likest and then the latest first.

    Parameters
    ----------
    customer, design, goods, place : str
        Of what is priced now: names as shown, ids of class and place. Goods alone are not enough:
        design or customer, or goods and place must be the same. A row in doubt is not shown.
    """
    wanted = {
        "design": design.strip().casefold(),
        "goods": goods,
        "place": place,
        "customer": customer.strip().casefold(),
    }
    weight = {"design": 8, "goods": 4, "place": 2, "customer": 1}
    found = []
    for each in kept.list_rows(shop):
        row = each.row
        if in_doubt(row):
            continue
        have = {
            "design": row.design.strip().casefold(),
            "goods": row.goods,
            "place": row.place,
            "customer": row.customer.strip().casefold(),
        }
        alike = [name for name, value in wanted.items() if value and have[name] == value]
        score = sum(weight[name] for name in alike)
        if "design" in alike or {"goods", "place"} <= {*alike} or {"goods", "customer"} <= {*alike}:
            found.append((score, row.finished_on, each, alike))
    found.sort(key=lambda f: (f[0], f[1], f[2].id), reverse=True)
    return [
        LastTime(
            row_id=each.id,
            order_id=each.quote_id,
            alike=alike,
            row=each.row,
            result=_result(each.row),
            said=difference_words(each.row)[:3],
        )
        for _, _, each, alike in found[:MOST]
    ]
