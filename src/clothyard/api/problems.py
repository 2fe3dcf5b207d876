"""Every error as application/problem+json: code, where, what is kept, remedy."""

from __future__ import annotations

import logging
import sqlite3
from collections.abc import Sequence
from typing import Any

from fastapi import FastAPI, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from pydantic import BaseModel
from sqlalchemy.exc import DBAPIError
from starlette.exceptions import HTTPException

from clothyard.core.errors import (
    BadInput,
    Busy,
    ClothyardError,
    Conflict,
    NotFound,
    Refused,
    RevisionNeeded,
    SeveralBadInputs,
    Stale,
    TooLarge,
    Unkept,
)
from clothyard.core.estimate.customer import tells_cost
from clothyard.core.job.hidden import without_costs_in
from clothyard.store.disk import unkept

MEDIA_TYPE = "application/problem+json"
STATUS: dict[type[ClothyardError], int] = {
    NotFound: 404,
    Stale: 412,
    RevisionNeeded: 428,
    Conflict: 409,
    Refused: 403,
    TooLarge: 413,
    BadInput: 422,
    Busy: 429,
    Unkept: 503,
    ClothyardError: 500,
}
FULL = "disk-full"
log = logging.getLogger("clothyard")


class FieldProblem(BaseModel):
    """One bad field."""

    code: str
    where: str
    detail: str
    remedy: str


class Problem(BaseModel):
    """A problem response (RFC 9457), with the trade's own words."""

    type: str = "about:blank"
    title: str
    status: int
    code: str
    detail: str
    where: str
    remedy: str
    kept: str
    errors: list[FieldProblem]
    documents: dict[str, Any] = {}
    """Where a write came too late: `there`, as it is kept, and `yours`."""


RESPONSES: dict[int | str, dict[str, Any]] = {
    code: {"model": Problem, "content": {MEDIA_TYPE: {}}, "description": words}
    for code, words in {
        400: "Not readable as a request",
        403: "Refused",
        404: "Not kept here",
        409: "Not possible in this state: nothing changed",
        412: "Changed elsewhere since: nothing changed",
        413: "Too large",
        422: "Bad input: nothing computed",
        428: "The revision it is based on is needed",
        429: "Too much at once: Retry-After says when",
        503: "The disk or database does not keep it: nothing changed",
        507: "The disk is full: nothing changed",
    }.items()
}
_TITLES = {
    400: "Not readable",
    403: "Refused",
    404: "Not found",
    405: "Not done here",
    409: "Not possible now",
    412: "Changed elsewhere",
    413: "Too large",
    422: "Bad input",
    428: "Revision needed",
    429: "Busy",
    503: "Not kept",
    507: "Disk full",
}


def problem(
    status: int,
    code: str,
    detail: str,
    *,
    where: str = "",
    remedy: str = "",
    errors: Sequence[BadInput] = (),
) -> JSONResponse:
    """Build a problem response."""
    return _response(_body(status, code, detail, where=where, remedy=remedy, errors=errors))


def _response(body: Problem, **headers: str) -> JSONResponse:
    return JSONResponse(
        body.model_dump(), status_code=body.status, media_type=MEDIA_TYPE, headers=headers
    )


def _body(
    status: int,
    code: str,
    detail: str,
    *,
    where: str = "",
    remedy: str = "",
    errors: Sequence[BadInput] = (),
) -> Problem:
    return Problem(
        title=_TITLES.get(status, "Our fault" if status >= 500 else "Problem"),
        status=status,
        code=code,
        detail=_written(detail),
        where=_written(where),
        remedy=_written(remedy),
        kept="Nothing that was kept before has changed.",
        errors=[
            FieldProblem(
                code=e.code,
                where=_written(e.where),
                detail=_written(e.message),
                remedy=_written(e.remedy),
            )
            for e in errors
        ],
    )


def _written(text: str) -> str:
    """Write half characters out, which an error may cite, so that it can be sent."""
    return text.encode("utf-8", "backslashreplace").decode()


def _both(error: Stale, *, costs: bool) -> dict[str, Any]:
    """The document there and the one that came too late, as JSON."""
    found = {}
    for name, document in (("there", error.kept), ("yours", error.yours)):
        if isinstance(document, BaseModel):
            plain = document.model_dump(mode="json")
            found[name] = plain if costs else without_costs_in(plain)
    return found


def _told(error: ClothyardError, *, costs: bool) -> Problem:
    status = next(code for kind, code in STATUS.items() if isinstance(error, kind))
    if error.code == FULL:
        status = 507
    several = error.problems if isinstance(error, SeveralBadInputs) else [error]
    bare = error.bare or ("something of what it costs is wrong." if tells_cost(error.where) else "")
    body = _body(
        status,
        error.code,
        error.message if costs else bare or error.message,
        where=error.where,
        remedy=error.remedy if costs or not bare else "Show costs first.",
        errors=[
            e for e in several if isinstance(e, BadInput) and (costs or not tells_cost(e.where))
        ],
    )
    if isinstance(error, Stale):
        body.documents = _both(error, costs=costs)
    return body


def problem_body(error: Exception, *, costs: bool = True) -> Problem:
    """Tell any error as a problem: the trade's, the disk's, or one that nobody foresaw.

    Parameters
    ----------
    error : Exception
    costs : bool
        False: nothing of it tells what something costs.
    """
    known = error if isinstance(error, ClothyardError) else unkept(error)
    if known is not None:
        return _told(known, costs=costs)
    log.error("unexpected error", exc_info=error)
    return _OUR_FAULT


def problem_of(error: ClothyardError, *, costs: bool = True) -> JSONResponse:
    """Turn an error of the trade into a problem response; see `problem_body`."""
    headers = {"retry-after": str(error.after_s)} if isinstance(error, Busy) else {}
    return _response(_told(error, costs=costs), **headers)


_OUR_FAULT = _body(
    500,
    "our-fault",
    "Something went wrong here; it is our fault, not yours.",
    remedy="Try again; if it comes back, report what you did.",
)


def our_fault() -> JSONResponse:
    """Build the answer to an error that nobody foresaw; it tells nothing of the inside."""
    return _response(_OUR_FAULT)


def _said(item: dict[str, Any]) -> str:
    """What is wrong with a part of a request; our own words as they are."""
    own = item.get("ctx", {}).get("error")
    said = str(own) if isinstance(own, ValueError) else item["msg"]
    return said[:1].lower() + said[1:]


def install(app: FastAPI) -> None:
    """Give an app one shape for all its errors."""

    @app.exception_handler(ClothyardError)
    async def _ours(request: Request, error: ClothyardError) -> JSONResponse:
        return problem_of(error, costs=request.headers.get("x-costs") != "hidden")

    @app.exception_handler(OSError)
    @app.exception_handler(DBAPIError)
    @app.exception_handler(sqlite3.Error)
    async def _disks(_request: Request, error: Exception) -> JSONResponse:
        known = unkept(error)
        if known is None:
            raise error
        log.warning("not kept: %s", known.line())
        return problem_of(known)

    @app.exception_handler(RequestValidationError)
    async def _framework(_request: Request, error: RequestValidationError) -> JSONResponse:
        fields = [
            BadInput(
                f"{_said(item)}.",
                where=".".join(str(part) for part in item["loc"][1:]),
                code="bad-value",
            )
            for item in error.errors()
        ]
        return problem(422, fields[0].code, fields[0].message, where=fields[0].where, errors=fields)

    @app.exception_handler(HTTPException)
    async def _http(_request: Request, error: HTTPException) -> JSONResponse:
        code = {404: "not-found", 405: "method-not-allowed"}.get(error.status_code, "http")
        response = problem(error.status_code, code, str(error.detail))
        response.headers.update(error.headers or {})
        return response
