"""The reading process: parses what was uploaded, with limits, and nothing else.

It imports what it parses with and no more, so that it is ready soon.
"""

from __future__ import annotations

import contextlib
import gc
import resource
import sys
from multiprocessing.connection import Connection
from typing import Any

import pystitch  # noqa: F401 - loaded before the limit is counted

from clothyard.core.errors import BadInput
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


def _answer(data: bytes, name: str, is_sheet: bool) -> Any:
    try:
        if not is_sheet:
            return read_records(data, name)
        from clothyard.files.tables import text_of_sheet  # noqa: PLC0415 - sheets are rarer

        return text_of_sheet(data, name)
    except BadInput as error:
        return error
    except MemoryError:
        return too_much(name)


if __name__ == "__main__":
    serve(Connection(int(sys.argv[1])))
