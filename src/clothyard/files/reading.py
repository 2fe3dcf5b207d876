"""The reading process: parses what was uploaded, with limits, and nothing else.

It imports what it parses with and no more, so that it is ready soon.
"""

from __future__ import annotations

import contextlib
import gc
import resource
import sys
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

import pystitch  # noqa: F401 - loaded before the limit is counted

from clothyard.core.errors import ClothyardError
from clothyard.files.child import What
from clothyard.files.reader import read_records, too_much

MEMORY_BYTES = 500 * 1024 * 1024


def serve(pipe: Connection) -> None:
    """Answer requests until the pipe closes: bytes in, records or an error out."""
    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    limit = MEMORY_BYTES + used
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))
    gc.disable()  # a design is a hundred thousand small lists and no cycles
    with contextlib.suppress(EOFError, OSError):  # whom it reads for has gone: so does it
        pipe.send("ready")
        while True:
            pipe.send(_answer(*pipe.recv()))
            gc.collect()


def _sheet(data: bytes, name: str) -> Any:
    from clothyard.files.tables import text_of_sheet  # noqa: PLC0415 - sheets are rarer

    return text_of_sheet(data, name)


def _calendar(data: bytes, from_day: str) -> Any:
    from clothyard.files.calendars import read_days  # noqa: PLC0415 - calendars are rarer

    return read_days(data, from_day=from_day)


def _photo(data: bytes, name: str) -> Any:
    from clothyard.files.photos import small_photo  # noqa: PLC0415 - photos are rarer

    return small_photo(data, name)


READS: dict[What, Callable[[bytes, str], Any]] = {
    "design": read_records,
    "sheet": _sheet,
    "calendar": _calendar,
    "photo": _photo,
}


def _answer(what: What, data: bytes, of: str) -> Any:
    try:
        return READS[what](data, of)
    except ClothyardError as error:
        return error
    except MemoryError:
        return too_much(of if what in {"design", "sheet"} else "file")


if __name__ == "__main__":
    serve(Connection(int(sys.argv[1])))
