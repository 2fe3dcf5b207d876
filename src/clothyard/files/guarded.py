"""The guarded reader: what was uploaded is parsed in one warm child process with limits."""

from __future__ import annotations

import atexit
import contextlib
import gc
import multiprocessing
import resource
import threading
from multiprocessing.connection import Connection
from typing import Any

from clothyard.core.errors import BadInput
from clothyard.core.stitches.facts import DesignFacts, analyse
from clothyard.core.stitches.stitch_plan import StitchPlan, plan_from_records
from clothyard.files.header import header_told
from clothyard.files.kinds import kind_of

MEMORY_BYTES = 500 * 1024 * 1024
SECONDS = 5.0
SHEET = ".xlsx"
START_SECONDS = 30.0
START_TRIES = 3


def _serve(pipe: Connection) -> None:
    """Answer requests until the pipe closes: bytes in, records or an error out."""
    import pystitch  # noqa: F401, PLC0415 - loaded before the limit is counted

    import clothyard.files.reader  # noqa: F401, PLC0415

    used = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss * 1024
    limit = MEMORY_BYTES + used
    with contextlib.suppress(ValueError, OSError):
        resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))
    gc.disable()  # a design is a hundred thousand small lists and no cycles
    with contextlib.suppress(EOFError, OSError):  # whom it reads for has gone: so does it
        pipe.send("ready")
        _answer(pipe)


def _answer(pipe: Connection) -> None:
    from clothyard.files.reader import read_records  # noqa: PLC0415
    from clothyard.files.tables import text_of_sheet  # noqa: PLC0415

    while True:
        data, name, is_sheet = pipe.recv()
        answer: Any
        try:
            answer = text_of_sheet(data, name) if is_sheet else read_records(data, name)
        except BadInput as error:
            answer = error
        except MemoryError:
            answer = _too_much(name)
        pipe.send(answer)
        gc.collect()


def _too_much(name: str) -> BadInput:
    return BadInput(
        "the file takes too much time or memory to read.",
        where=name,
        remedy="It is damaged, or far larger than a design: save it anew.",
        code="file-huge",
    )


class GuardedReader:
    """One child process that parses stitch files; killed and restarted when it overruns."""

    def __init__(self, seconds: float = SECONDS):
        self._lock = threading.Lock()
        self._seconds = seconds
        self._process: Any = None
        self._pipe: Connection | None = None

    def _start(self) -> Connection:
        context = multiprocessing.get_context("spawn")
        for _ in range(START_TRIES):
            ours, theirs = context.Pipe()
            self._process = context.Process(target=_serve, args=(theirs,), daemon=True)
            self._process.start()
            theirs.close()
            self._pipe = ours
            with contextlib.suppress(EOFError):  # it ended before it was ready
                if ours.poll(START_SECONDS):
                    ours.recv()
                    return ours
            self.close()
        raise RuntimeError("the reading process did not start")

    def close(self) -> None:
        """End the child process; the next read starts another."""
        if self._pipe:
            self._pipe.close()
        if self._process:
            self._process.kill()
            self._process.join()
        self._process = self._pipe = None

    def warm(self) -> None:
        """Start the child process if it is not running."""
        with self._lock:
            if self._pipe is None:
                self._start()

    def plan(self, data: bytes, name: str) -> StitchPlan:
        """Parse a stitch file.

        Parameters
        ----------
        data : bytes
        name : str
            File name; the ending tells the kind.

        Raises
        ------
        BadInput
            If it cannot be read, or takes over 5 s or 500 MB.
        """
        x_mm, y_mm, kinds, colours = self._read(data, name, is_sheet=False)
        try:
            return plan_from_records(x_mm, y_mm, kinds, colour_of_change=colours)
        except BadInput as error:
            error.where = name
            raise

    def sheet_text(self, data: bytes, name: str) -> str:
        """Read a sheet's bytes as text; see `tables.text_of_sheet` and `plan`."""
        text: str = self._read(data, name, is_sheet=True)
        return text

    def _read(self, data: bytes, name: str, *, is_sheet: bool) -> Any:
        with self._lock:
            pipe = self._pipe or self._start()
            try:
                pipe.send((data, name, is_sheet))
                if not pipe.poll(self._seconds):
                    self.close()
                    raise _too_much(name)
                answer = pipe.recv()
            except (EOFError, OSError):
                self.close()
                raise _too_much(name) from None
        if isinstance(answer, BadInput):
            raise answer
        return answer


_shared = GuardedReader()
atexit.register(_shared.close)


def shared_reader() -> GuardedReader:
    """Return this process's reader."""
    return _shared


def read_design(data: bytes, name: str, *, sha256: str) -> tuple[StitchPlan, DesignFacts]:
    """Parse a stitch file and take its facts; see `GuardedReader.plan`."""
    plan = _shared.plan(data, name)
    return plan, analyse(plan, sha256=sha256, name=name, told=header_told(data, kind_of(name)))
