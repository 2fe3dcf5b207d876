"""Safety on every request: who asks, from where, how much, and what a page may do."""

from __future__ import annotations

from urllib.parse import urlsplit

from starlette.datastructures import Headers, MutableHeaders
from starlette.requests import ClientDisconnect
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from clothyard.api.problems import log, our_fault, problem, problem_of
from clothyard.store.disk import unkept

LOOPBACK = frozenset({"127.0.0.1", "localhost", "[::1]"})
MAX_BODY_BYTES = 22 * 1024 * 1024
TAKEN = "/api/v1/backups/taken"
MAX_BACKUP_BYTES = 4 * 1024**3
"""Of a backup that is taken in: it goes to the disk part by part."""
SAFE_METHODS = frozenset({"GET", "HEAD", "OPTIONS"})
POLICY = (
    "default-src 'none'; script-src 'self'; style-src 'self'; "
    "img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; "
    "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
HEADERS = {
    "content-security-policy": POLICY,
    "x-content-type-options": "nosniff",
    "referrer-policy": "same-origin",
    "cross-origin-opener-policy": "same-origin",
    "cross-origin-resource-policy": "same-origin",
    "permissions-policy": "camera=(), microphone=(), geolocation=()",
}


def _host_name(host: str) -> str:
    name, colon, port = host.rpartition(":")
    return name if colon and port.isdigit() else host


def refusal(method: str, headers: Headers) -> str:
    """Tell why a request is refused; "" when it is not.

    The Host must be this machine's loopback; an unsafe request must come from the same origin.
    """
    host = headers.get("host", "")
    if _host_name(host).lower() not in LOOPBACK:
        return "This shop answers to its own address only."
    if method in SAFE_METHODS:
        return ""
    if headers.get("sec-fetch-site", "same-origin") not in {"same-origin", "none"}:
        return "A page from elsewhere may not change anything here."
    origin = headers.get("origin")
    if origin is not None and urlsplit(origin).netloc.lower() != host.lower():
        return "A page from elsewhere may not change anything here."
    return ""


FOR_CUSTOMERS = ("/q/", "/api/v1/customer/", "/calendar/")
"""Where the address itself is a secret: it is told to nobody."""


class _TooLongError(Exception):
    pass


class Safety:
    """ASGI middleware: checks each request, limits its size, sets the safety headers."""

    def __init__(self, app: ASGIApp):
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Check, pass on, and dress the response."""
        if scope["type"] != "http":
            await self.app(scope, receive, send)
            return
        started = over = False

        async def dressed(message: Message) -> None:
            nonlocal started
            if over and not started:
                return  # whatever the route makes of half a body, the answer is 413
            if message["type"] == "http.response.start":
                started = True
                headers = MutableHeaders(scope=message)
                for name, value in HEADERS.items():
                    headers[name] = value
                if scope["path"].startswith(FOR_CUSTOMERS):
                    headers["referrer-policy"] = "no-referrer"
                    headers["x-robots-tag"] = "noindex"
                if scope["path"].startswith("/api/"):
                    headers["cache-control"] = "no-store"
            await send(message)

        headers = Headers(scope=scope)
        why = refusal(scope["method"], headers)
        if why:
            await problem(403, "refused", why)(scope, receive, dressed)
            return
        most = MAX_BACKUP_BYTES if scope["path"] == TAKEN else MAX_BODY_BYTES
        too_long = problem(
            413, "too-large", "The request is over 22 MB.", remedy="Send less at once."
        )
        length = headers.get("content-length", "0")
        if not length.isdigit() or int(length) > most:
            await too_long(scope, receive, dressed)
            return
        seen = 0

        async def counted() -> Message:
            nonlocal seen, over
            message = await receive()
            seen += len(message.get("body", b""))
            if seen > most:
                over = True
                raise _TooLongError
            return message

        try:
            await self.app(scope, counted, dressed)
        except (_TooLongError, ClientDisconnect):
            pass  # too long is answered below; who went away is not
        except Exception as error:
            known = unkept(error)
            if known is None:
                log.exception("unexpected error", exc_info=error)
            if not started and not over:
                answer = problem_of(known) if known else our_fault()
                await answer(scope, receive, dressed)
        if over and not started:
            over = False
            await too_long(scope, receive, dressed)
