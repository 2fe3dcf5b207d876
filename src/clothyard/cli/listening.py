"""Serving an application, and saying where once it listens."""

from __future__ import annotations

from typing import Any

import uvicorn


class _Told(uvicorn.Server):
    """Says its address as soon as it listens there."""

    said = ""

    async def startup(self, sockets: Any = None) -> None:
        await super().startup(sockets)
        if self.started:
            print(self.said, flush=True)


def serve_app(app: Any, what: str, host: str, port: int, **options: Any) -> None:
    """Serve an application until it is stopped."""
    server = _Told(uvicorn.Config(app, host=host, port=port, log_level="warning", **options))
    server.said = f"{what} is at http://{host}:{port} (stop it with Ctrl-C)"
    server.run()
