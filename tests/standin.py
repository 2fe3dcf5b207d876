"""What stands beside the shop in tests: served in this process, told what to answer."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import uvicorn
from fastapi import FastAPI
from fastapi.responses import JSONResponse

from clothyard.ports.supplier import Answered, AnsweredRow, Asked


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@contextmanager
def served(app: Any) -> Iterator[str]:
    """Serve an application on a free port: its address."""
    port = free_port()
    server = uvicorn.Server(uvicorn.Config(app, port=port, log_level="critical"))
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    try:
        yield f"http://127.0.0.1:{port}"
    finally:
        server.should_exit = server.force_exit = True
        thread.join(10)


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
