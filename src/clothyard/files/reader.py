"""Parsing a stitch file's bytes into a stitch plan's records: what runs in the child process."""

from __future__ import annotations

import io
from itertools import chain
from typing import Any

import numpy as np
from numpy.typing import NDArray

from clothyard.core.errors import BadInput
from clothyard.core.stitches.stitch_plan import CHANGE, FLOW, JUMP, STOP, TRIM
from clothyard.files.kinds import ENDS_MARKED, READ_WITH, check_beginning, kind_of

UNITS_PER_MM = 10.0
OTHER = 5
"""A record that is none of a plan's: kept so that counts stay right, then passed over."""

Records = tuple[NDArray[np.float64], NDArray[np.float64], NDArray[np.int8], tuple[str | None, ...]]


class _Watched(io.BytesIO):
    """Bytes that remember whether a reader ran off their end."""

    ran_out = False

    def read(self, size: int | None = -1, /) -> bytes:
        found = super().read(size)
        if size is not None and size > 0 and len(found) < size:
            self.ran_out = True
        return found


def too_much(name: str, *, called: str = "") -> BadInput:
    """Return the error of a file that cannot be read within bounds; of a design's, by its name."""
    return BadInput(
        f"{called or 'the file'} takes too much time or memory to read.",
        where="file" if called else name,
        remedy="Write out less of it."
        if called
        else "It is damaged, or far larger than a design: save it anew.",
        code="file-huge",
    )


def _damaged(name: str) -> BadInput:
    return BadInput(
        "the file cannot be read: it is damaged, or has the wrong ending.",
        where=name,
        remedy="Fetch it again, or save it anew.",
        code="file-damaged",
    )


def _truncated(name: str) -> BadInput:
    return BadInput(
        "the file ends in the middle: part of it is missing.",
        where=name,
        remedy="Copy it again from where it came.",
        code="file-truncated",
    )


def _pattern(data: bytes, kind: str, name: str) -> Any:
    import pystitch  # noqa: PLC0415 - only the child needs it

    formats = {f["extension"]: f for f in pystitch.supported_formats()}
    reader = formats[kind]["reader"]
    watched = _Watched(data)
    text = getattr(reader, "READ_FILE_IN_TEXT_MODE", False)
    stream = io.TextIOWrapper(watched, errors="ignore") if text else watched
    try:
        pattern = pystitch.EmbPattern.read_embroidery(reader, stream, READ_WITH.get(kind))
    except MemoryError:
        raise
    except Exception:  # the readers raise whatever the bytes make them
        if watched.ran_out:
            raise _truncated(name) from None
        raise _damaged(name) from None
    if kind in ENDS_MARKED and watched.ran_out:
        raise _truncated(name)
    if kind in {"exp", "jef"} and _cut_short(data, kind):
        raise _truncated(name)
    return pattern


def _cut_short(data: bytes, kind: str) -> bool:
    """Tell a truncated file of a kind whose whole files run to their end too."""
    if kind == "exp":
        return len(data) % 2 == 1
    return b"\x80\x10" not in data[-256:]


def _colours(
    pattern: Any, kinds: NDArray[np.int8], by_needle: NDArray[np.bool_]
) -> tuple[str | None, ...]:
    """Return the colour after each number of change records.

    Each colour change takes the next thread; a needle set does once something was sewn, since
    a file that uses them sets its first needle too.
    """
    threads = [_hex(thread) for thread in pattern.threadlist]
    sewn = np.cumsum(kinds == FLOW)
    found = [threads[0] if threads else None]
    index = before = 0
    for position in np.flatnonzero(kinds == CHANGE).tolist():
        if not by_needle[position] or sewn[position] > before:
            index += 1
        before = int(sewn[position])
        found.append(threads[index] if index < len(threads) else None)
    return tuple(found)


def _hex(thread: Any) -> str | None:
    colour = getattr(thread, "color", None)
    return None if colour is None else f"#{int(colour) & 0xFFFFFF:06x}"


def read_records(data: bytes, name: str) -> Records:
    """Read a stitch file's records.

    Parameters
    ----------
    data : bytes
        Up to 20 MB.
    name : str
        Its file name; the ending tells the kind.

    Returns
    -------
    x_mm, y_mm : float array, shape (n,)
    kinds : int8 array, shape (n,)
        FLOW, JUMP, TRIM, STOP, CHANGE, or OTHER.
    colours : tuple of (str or None), shape (changes + 1,)

    Raises
    ------
    BadInput
        If the file is empty, truncated, damaged, wrongly named, or of a kind not read.
    """
    import pystitch  # noqa: PLC0415 - only the child needs it

    kind = kind_of(name)
    check_beginning(data, kind, name)
    pattern = _pattern(data, kind, name)
    try:
        flat = chain.from_iterable(pattern.stitches)
        table = np.fromiter(flat, np.float64).reshape(-1, 3)
        command = table[:, 2].astype(np.int64) & pystitch.COMMAND_MASK
    except (ValueError, TypeError, OverflowError):
        raise _damaged(name) from None
    kinds = np.full(len(table), OTHER, dtype=np.int8)
    for code, means in (
        (pystitch.STITCH, FLOW),
        (pystitch.JUMP, JUMP),
        (pystitch.TRIM, TRIM),
        (pystitch.STOP, STOP),
        (pystitch.COLOR_CHANGE, CHANGE),
        (pystitch.COLOR_BREAK, CHANGE),
        (pystitch.NEEDLE_SET, CHANGE),
    ):
        kinds[command == code] = means
    colours = _colours(pattern, kinds, command == pystitch.NEEDLE_SET)
    return table[:, 0] / UNITS_PER_MM, table[:, 1] / UNITS_PER_MM, kinds, colours
