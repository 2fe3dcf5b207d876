"""One bounded client for every device: a deadline for the whole call, a size, a depth.

A device is a stranger. It may answer a byte a second, lie about its length, redirect elsewhere or
speak no HTTP at all; each of these is one error, and none of them takes longer than the deadline.
"""

from __future__ import annotations

import http.client
import json
import socket
import threading
import time
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Annotated, Any
from urllib.parse import urlsplit

from pydantic import Field

DEADLINE_S = 5.0
MOST_BYTES = 8_000_000
MOST_DEPTH = 40
QUIET_S = 30.0
"""A stream that says nothing for so long is over."""

MOST_LINE = 100_000
Count = Annotated[int, Field(ge=0, le=10**9)]
"""What a device counts; larger is a lie."""

Seconds = Annotated[float, Field(ge=0, le=1e8, allow_inf_nan=False)]
NO_ADDRESS = "-"


class DeviceError(Exception):
    """A device did not answer as it should; the words say how. `code` is "away" or its own."""

    def __init__(self, message: str, code: str = "away"):
        super().__init__(message)
        self.code = code


def is_address(text: str) -> bool:
    """Whether an address is one that can be asked: http, with a host and nothing secret in it."""
    try:
        found = urlsplit(text)
        return found.scheme == "http" and bool(found.hostname) and "@" not in found.netloc
    except ValueError:
        return False


class Device:
    """What is behind an address, asked with a deadline.

    Parameters
    ----------
    address : str
        Where it is, without what follows the name: as the shop states it, looked at at each call.
    """

    def __init__(self, address: str):
        self.address = address.rstrip("/")

    def ask(
        self, method: str, path: str, data: bytes | None = None, kind: str = "application/json"
    ) -> Any:
        """Ask once, and read a JSON document.

        Raises
        ------
        DeviceError
            "away" where it does not answer in time, its own code where it refuses,
            "unknown-form" where what it says cannot be read.
        """
        status, body = self._exchange(method, path, data, kind)
        found = _document(body)
        if status >= 400:
            raise _refused(status, found)
        if status >= 300:
            raise DeviceError("it answers from elsewhere, which is not followed.", "redirect")
        return found

    def _exchange(self, method: str, path: str, data: bytes | None, kind: str) -> tuple[int, bytes]:
        until = time.monotonic() + DEADLINE_S
        with self._connected(DEADLINE_S) as connection, _told():
            connection.request(method, self._at(path), data, {"content-type": kind})
            response = connection.getresponse()
            body = bytearray()
            while chunk := response.read1(65_536):
                body += chunk
                if len(body) > MOST_BYTES:
                    raise DeviceError("it says too much.", "too-large")
                if time.monotonic() > until:
                    raise DeviceError("it does not answer in time.")
            return response.status, bytes(body)

    def lines(self, path: str) -> Iterator[str]:
        """Follow a stream line by line, until it is over or says nothing for long.

        Raises
        ------
        DeviceError
        """
        with self._connected(None) as connection, _told():
            connection.request("GET", self._at(path))
            response = connection.getresponse()
            if response.status != 200:
                raise DeviceError(f"it answers {response.status}.", "refused")
            if connection.sock is not None:
                connection.sock.settimeout(QUIET_S)
            while line := response.readline(MOST_LINE):
                yield line.decode("utf-8", "replace")

    def _at(self, path: str) -> str:
        return f"{urlsplit(self.address).path}{path}"

    @contextmanager
    def _connected(self, within_s: float | None) -> Iterator[http.client.HTTPConnection]:
        """Open a connection that is shut once the deadline is over, whatever it is doing then."""
        if not is_address(self.address):
            raise DeviceError("it has no address that can be asked.", "address")
        place = urlsplit(self.address)
        connection = http.client.HTTPConnection(
            place.hostname or "", _port(place.port), timeout=DEADLINE_S
        )
        begun: list[http.client.HTTPResponse] = []

        def response(*given: Any, **how: Any) -> http.client.HTTPResponse:
            begun.append(http.client.HTTPResponse(*given, **how))
            return begun[-1]

        connection.response_class = response  # type: ignore[assignment] # to be closed with it
        over = threading.Timer(within_s or DEADLINE_S, _shut, [connection])
        over.daemon = True
        try:
            with _told():
                connection.connect()
            if within_s is not None:
                over.start()
            yield connection
        finally:
            over.cancel()
            connection.close()
            for each in begun:  # one whose head could not be read holds its socket
                each.close()


def _port(port: int | None) -> int:
    return port or 80


def _shut(connection: http.client.HTTPConnection) -> None:
    """End a connection that is read from elsewhere."""
    try:
        if connection.sock is not None:
            connection.sock.shutdown(socket.SHUT_RDWR)
    except OSError:  # it is over already
        return


@contextmanager
def _told() -> Iterator[None]:
    """Say in words what went wrong with a device."""
    try:
        yield
    except TimeoutError:
        raise DeviceError("it does not answer in time.") from None
    except OSError as error:
        raise DeviceError(f"it does not answer ({error.strerror or 'it hung up'}).") from None
    except (http.client.HTTPException, ValueError, UnicodeError):
        raise DeviceError("it answers in no known form.", "unknown-form") from None


def _document(body: bytes) -> Any:
    """Read a JSON document that is not deeper than it should be, of whole characters.

    Raises
    ------
    DeviceError
    """
    try:
        found = json.loads(body or b"null", parse_constant=_no_number)
        _check(found, MOST_DEPTH)
    except (ValueError, RecursionError):
        raise DeviceError("it answers in no known form.", "unknown-form") from None
    return found


def _no_number(text: str) -> Any:
    raise ValueError(text)


def _check(value: Any, depth: int) -> None:
    """Refuse what lies too deep, and halves of characters.

    Raises
    ------
    ValueError
    """
    if depth < 0:
        raise ValueError("too deep")
    if isinstance(value, str):
        value.encode()
    elif isinstance(value, Mapping):
        for key, part in value.items():
            _check(key, depth)
            _check(part, depth - 1)
    elif isinstance(value, list):
        for part in value:
            _check(part, depth - 1)


def _refused(status: int, found: Any) -> DeviceError:
    if isinstance(found, Mapping) and "detail" in found and "code" in found:
        return DeviceError(str(found["detail"])[:300], str(found["code"])[:40])
    return DeviceError(f"it answers {status}.", "refused")
