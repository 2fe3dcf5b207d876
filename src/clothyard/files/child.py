"""Starting the reading process: known without what reads, so that it can be begun early."""

from __future__ import annotations

import subprocess
import sys
from multiprocessing.connection import Connection, Pipe
from typing import Literal

What = Literal["design", "sheet", "calendar", "photo"]
"""What the reading process parses."""

Child = tuple["subprocess.Popen[bytes]", Connection]

_early: list[Child] = []


def start_child() -> Child:
    """Start a reading process: it, and the pipe that it says "ready" on."""
    ours, theirs = Pipe()
    fd = theirs.fileno()
    process = subprocess.Popen(
        [sys.executable, "-m", "clothyard.files.reading", str(fd)],
        pass_fds=[fd],
        stdin=subprocess.DEVNULL,
    )
    theirs.close()
    return process, ours


def begin_early() -> None:
    """Start a reading process that will be asked for: it gets ready while all else loads."""
    if not _early:
        _early.append(start_child())


def take_child() -> Child:
    """Return the reading process that was begun, or start one."""
    return _early.pop() if _early else start_child()
