"""The application: routes, safety, and the built front end."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi
from fastapi.responses import FileResponse, Response
from starlette.concurrency import run_in_threadpool
from starlette.middleware.gzip import GZipMiddleware

from clothyard import __version__
from clothyard.api import (
    at_machine,
    calendars,
    customers,
    links,
    log,
    orders,
    problems,
    quotes,
    routes,
    runs,
    stock,
)
from clothyard.api.safety import Safety
from clothyard.core.job.document import Job
from clothyard.files.guarded import shared_reader
from clothyard.services.quotes.estimates import calm_collector
from clothyard.services.workshop.backup_plan import back_up_if_due
from clothyard.store.shop import Shop

FRONTEND = Path(__file__).parents[3] / "frontend" / "dist"
METHODS = ["GET", "POST", "PUT", "DELETE"]
IMMUTABLE = "public, max-age=31536000, immutable"


def _openapi(app: FastAPI) -> dict[str, Any]:
    """Complete the schema: the job's own document, which its route reads by hand."""
    if not app.openapi_schema:
        schema = get_openapi(title="Clothyard", version=__version__, routes=app.routes)
        job = Job.model_json_schema(ref_template="#/components/schemas/{model}")
        parts = job.pop("$defs")
        schema["components"]["schemas"] |= {**parts, "Job": job}
        app.openapi_schema = schema
    return app.openapi_schema


def _serve_frontend(app: FastAPI, folder: Path) -> None:
    @app.api_route("/api", methods=METHODS, include_in_schema=False)
    @app.api_route("/api/{path:path}", methods=METHODS, include_in_schema=False)
    def no_such_route(path: str = "") -> Response:
        return problems.problem(404, "not-found", f"There is no /api/{path[:80]}.")

    @app.get("/assets/{name:path}", include_in_schema=False)
    def asset(name: str) -> Response:
        path = folder / "assets" / name
        if "/" in name or not path.is_file():
            return problems.problem(404, "not-found", "There is no such asset.")
        return FileResponse(path, headers={"cache-control": IMMUTABLE})

    @app.get("/favicon.svg", include_in_schema=False)
    def favicon() -> Response:
        return FileResponse(folder / "favicon.svg")

    @app.get("/machine-worker.js", include_in_schema=False)
    def machine_worker() -> Response:
        path, no_cache = folder / "machine-worker.js", {"cache-control": "no-cache"}
        if not path.is_file():
            return problems.problem(404, "not-found", "There is no such script.")
        return FileResponse(path, headers=no_cache, media_type="text/javascript")

    @app.get("/preview/{token}", include_in_schema=False)
    @app.get("/q/{token}", include_in_schema=False)
    def customers_page(token: str) -> Response:
        return FileResponse(folder / "customer.html", headers={"cache-control": "no-store"})

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> Response:
        return FileResponse(folder / "index.html", headers={"cache-control": "no-cache"})


BACKUP_LOOK_S = 600


async def _keep_backups(shop: Shop) -> None:
    """Back the shop up whenever its plan says so, as long as it is served."""
    while True:
        try:
            await run_in_threadpool(back_up_if_due, shop)
        except Exception:  # one that fails does not end the keeping of others
            problems.log.exception("backup by plan")
        await asyncio.sleep(BACKUP_LOOK_S)


def create_app(shop: Shop, *, frontend: Path = FRONTEND) -> FastAPI:
    """Build the application for one shop.

    Parameters
    ----------
    shop : Shop
    frontend : Path
        The built front end; without it only the API is served.
    """

    @asynccontextmanager
    async def lifespan(_app: FastAPI) -> AsyncIterator[None]:
        calm_collector()
        shared_reader().warm()
        keeping = asyncio.create_task(_keep_backups(shop))
        yield
        keeping.cancel()
        shared_reader().close()

    app = FastAPI(
        title="Clothyard",
        version=__version__,
        lifespan=lifespan,
        docs_url=None,
        redoc_url=None,
        openapi_url="/api/v1/openapi.json",
    )
    app.state.shop, app.state.frontend = shop, frontend
    problems.install(app)
    app.include_router(routes.router)
    app.include_router(quotes.router)
    app.include_router(customers.router)
    app.include_router(calendars.router)
    app.include_router(calendars.by_link)
    app.include_router(orders.router)
    app.include_router(stock.router)
    app.include_router(runs.router)
    app.include_router(at_machine.router)
    app.include_router(log.router)
    app.include_router(links.router)
    app.openapi = lambda: _openapi(app)  # type: ignore[method-assign]
    if (frontend / "index.html").is_file():
        _serve_frontend(app, frontend)
    app.add_middleware(GZipMiddleware, minimum_size=1000)
    app.add_middleware(Safety)
    return app
