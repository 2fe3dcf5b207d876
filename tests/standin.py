"""A supplier that tests tell what to answer: away, or everything at a price of its own."""

from __future__ import annotations

from fastapi import FastAPI
from fastapi.responses import JSONResponse

from clothyard.ports.supplier import Answered, AnsweredRow, Asked


class Supplier:
    """Confirms whatever is asked, each pack 0.10 dearer; or refuses while it is away."""

    def __init__(self) -> None:
        self.away = False
        self.asked: list[Asked] = []
        self.app = FastAPI(openapi_url=None)
        self.app.post("/orders")(self.order)

    def order(self, asked: Asked) -> JSONResponse:
        """Answer an order."""
        if self.away:
            return JSONResponse({}, status_code=503)
        self.asked.append(asked)
        rows = [
            AnsweredRow(
                ref=row.ref,
                answer="confirmed",
                count=row.count,
                expected_on=asked.ordered_on,
                price=f"{float(row.price) + 0.1:.2f}",
                note="",
            )
            for row in asked.rows
        ]
        return JSONResponse(Answered(number=asked.number, rows=rows).model_dump(mode="json"))
