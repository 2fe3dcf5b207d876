"""What a disk or a database says when it does not keep something, in words that help."""

from __future__ import annotations

import errno
import sqlite3
from pathlib import Path

from sqlalchemy.exc import DBAPIError

from clothyard.core.errors import ClothyardError, Unkept
from clothyard.store.soundness import GO_BACK

_FULL = ("the disk is full.", "Make room on it, then do it again: nothing is half kept.")
_READ_ONLY = (
    "the shop's folder can only be read.",
    "Let it be written to (is the disk locked, or a copy?), then do it again.",
)
_DENIED = (
    "the shop's folder may not be written to.",
    "Give the user that runs Clothyard the right to write there, then do it again.",
)
_BROKEN = (
    "the disk did not read or write what was asked.",
    "Look whether it is connected and sound; copy the shop's folder to another disk.",
)
_BUSY = (
    "something else holds the shop's database.",
    "Close what else has it open, then do it again.",
)
_DAMAGED = ("the shop's database is damaged.", GO_BACK)
_SAID = {
    "disk-full": _FULL,
    "disk-read-only": _READ_ONLY,
    "disk-denied": _DENIED,
    "disk-broken": _BROKEN,
    "shop-busy": _BUSY,
    "shop-damaged": _DAMAGED,
}
_BY_NUMBER = {
    errno.ENOSPC: "disk-full",
    errno.EDQUOT: "disk-full",
    errno.EFBIG: "disk-full",
    errno.EROFS: "disk-read-only",
    errno.EACCES: "disk-denied",
    errno.EPERM: "disk-denied",
    errno.EIO: "disk-broken",
}
_BY_NAME = {
    "SQLITE_FULL": "disk-full",
    "SQLITE_READONLY": "disk-read-only",
    "SQLITE_CANTOPEN": "disk-denied",
    "SQLITE_PERM": "disk-denied",
    "SQLITE_IOERR": "disk-broken",
    "SQLITE_BUSY": "shop-busy",
    "SQLITE_LOCKED": "shop-busy",
    "SQLITE_CORRUPT": "shop-damaged",
    "SQLITE_NOTADB": "shop-damaged",
}
_DAMAGED_SAYS = ("no such table", "no such column", "Could not decode to UTF-8", "malformed")


def _code(error: BaseException) -> str:
    if isinstance(error, OSError):
        return _BY_NUMBER.get(error.errno or 0, "")
    if isinstance(error, UnicodeDecodeError) and b"malformed" in error.object:
        return "shop-damaged"  # the database's own words hold what is damaged
    if isinstance(error, sqlite3.Error):
        name = getattr(error, "sqlite_errorname", "")
        if any(words in str(error) for words in _DAMAGED_SAYS):
            return "shop-damaged"
        return next((code for known, code in _BY_NAME.items() if name.startswith(known)), "")
    return ""


def unkept(error: BaseException) -> ClothyardError | None:
    """Say what a disk's or a database's error means; None for any other error.

    Returns
    -------
    Unkept or None
        `disk-full`, `disk-read-only`, `disk-denied`, `disk-broken`, `shop-busy` or `shop-damaged`.
    """
    cause: BaseException | None = error.orig if isinstance(error, DBAPIError) else error
    code = _code(cause) if cause else ""
    if not code:
        return None
    message, remedy = _SAID[code]
    at = getattr(cause, "filename", None)
    return Unkept(message, where=Path(str(at)).name if at else "", remedy=remedy, code=code)
