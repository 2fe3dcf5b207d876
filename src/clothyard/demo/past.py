"""The sample shop's log: what its finished work came to, by hands and a machine of its own."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from clothyard.core.log.rows import LogRow, Measured
from clothyard.services.log.rows import NewLogRow, PassOf, write_row
from clothyard.store.shop import Shop

HIDDEN = {
    "needle_s": 1.07,
    "loading_s": 1.12,
    "hooping_s": 1.21,
    "finishing_s": 0.91,
    "order_s": 1.0,
    "needle_m": 0.95,
    "bobbin_m": 1.12,
}
"""What this shop is really like, against the standards with every factor at 1."""

SWING = (0.97, 1.04, 1.01, 0.95, 1.06, 0.99, 1.03, 0.98, 1.02, 0.96, 1.05)
"""How one job differs from the next."""

NOTES = {
    "crew-gilet": "Held two at a time on the table: the lining stays flat.",
    "tunic": "Pocket side marked from the placket, not from the seam.",
}
RACES: dict[str, Any] = {
    "customer": "Brackwater Rowing Club",
    "design": "crossed-oars.dst",
    "goods": "sweatshirt",
    "place": "left-chest",
    "machine": "compact-10",
    "method": "Screw 120 × 120, cut-away medium",
}


def _actual(meant: Measured, n: int) -> Measured:
    """Say what a pass took: what was estimated, this shop's own way, and this day's."""
    found = {}
    for k, (name, hidden) in enumerate(HIDDEN.items()):
        value = getattr(meant, name)
        if value is not None:
            found[name] = round(value * hidden * SWING[(n * 3 + k) % len(SWING)], 2)
    return Measured(**found, breaks=round((meant.breaks or 0) * (1 + n % 2)))


class Past:
    """Writes the log of finished orders, one after the other.

    Parameters
    ----------
    shop : Shop
    """

    def __init__(self, shop: Shop):
        self.shop, self.n = shop, 0

    def logged(
        self,
        order_id: int,
        *,
        spoiled: int = 0,
        reason: str = "",
        note: str = "",
        slow: float = 1.0,
    ) -> None:
        """Log every pass of an order; `slow` is how much its hands took beyond the usual."""
        of = PassOf(self.shop, order_id)
        for each in of.passes:
            row = of.row(each.id)
            row = of.row(each.id, sewn=row.sewn + spoiled)
            self.n += 1
            actual = _actual(row.estimated, self.n)
            if slow != 1 and actual.hooping_s is not None and actual.order_s is not None:
                actual = actual.model_copy(
                    update={"hooping_s": actual.hooping_s * slow, "order_s": actual.order_s * slow}
                )
            told = row.model_copy(
                update={
                    "actual": actual,
                    "spoiled": spoiled,
                    "note": note or NOTES.get(row.goods, ""),
                    "reasons": {reason: spoiled} if spoiled else {},
                    "threads": [],
                }
            )
            write_row(self.shop, NewLogRow(order_id=order_id, row=told))

    def remembered(self, days: Sequence[str]) -> None:
        """Write down jobs from before the shop kept orders here: what the notebook had of them."""
        for n, day in enumerate(days, 1):
            meant = Measured(
                needle_s=2400.0 + 300 * n,
                hooping_s=900.0 + 60 * n,
                finishing_s=1500.0,
                needle_m=360.0 + 40 * n,
            )
            self.n += 1
            actual = _actual(meant, self.n)
            row = LogRow(
                finished_on=day,
                sewn=12,
                known=True,
                estimated=meant,
                source="typed",
                actual=actual.model_copy(update={"breaks": None}),
                note="From the notebook.",
                **RACES,
            )
            write_row(self.shop, NewLogRow(row=row))
