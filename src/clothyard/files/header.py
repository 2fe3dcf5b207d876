"""What a stitch file's header says of its body, where the two can be held against each other."""

from __future__ import annotations

import re
import struct

DST_HEADER_BYTES, DST_RECORD_BYTES = 512, 3
JEF_FIXED_BYTES = 32
APART_LEAST, APART_SHARE = 20, 0.02
"""Records by which a header may be off: what is counted at begin and end differs."""


def _dst(data: bytes) -> tuple[int, int] | None:
    found = re.search(rb"ST:\s*(\d{1,9})", data[:DST_HEADER_BYTES])
    if not found:
        return None
    return int(found.group(1)), (len(data) - DST_HEADER_BYTES) // DST_RECORD_BYTES


def _jef(data: bytes) -> tuple[int, int] | None:
    if len(data) < JEF_FIXED_BYTES:
        return None
    start, colours, records = (struct.unpack_from("<I", data, at)[0] for at in (0, 24, 28))
    if not JEF_FIXED_BYTES <= start < len(data) or colours > 1000:
        return None
    return records, (len(data) - start) // 2


_COUNTED = {"dst": _dst, "jef": _jef}


def header_told(data: bytes, kind: str) -> tuple[str, ...]:
    """Say where a file's header counts other records than its body holds.

    Parameters
    ----------
    data : bytes
    kind : str
        Its ending, lower case; of kinds whose header counts nothing, nothing is told.

    Returns
    -------
    tuple of str
        Plain sentences; empty where all agrees.
    """
    counted = _COUNTED[kind](data) if kind in _COUNTED else None
    if counted is None:
        return ()
    header, body = counted
    if abs(header - body) <= max(APART_LEAST, APART_SHARE * max(header, body)):
        return ()
    return (
        f"Its header counts {header:,} records and its body holds {body:,}: "
        f"{'part of it is missing' if body < header else 'it was changed after it was saved'}.",
    )
