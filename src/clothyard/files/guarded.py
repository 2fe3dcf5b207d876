"""The guarded reader: what was uploaded is parsed in one warm child process with limits."""

from __future__ import annotations

import atexit
import contextlib
import subprocess
import threading
from multiprocessing.connection import Connection
from typing import TYPE_CHECKING, Any

from clothyard.core.errors import BadInput, Busy, ClothyardError
from clothyard.core.stitches.facts import DesignFacts, analyse
from clothyard.core.stitches.stitch_plan import StitchPlan, plan_from_records
from clothyard.files.child import What, take_child
from clothyard.files.header import header_told
from clothyard.files.kinds import NO_TRIMS, kind_of, split_at_mm
from clothyard.files.reader import too_much

if TYPE_CHECKING:
    from clothyard.files.calendars import DayOff

SECONDS = 5.0
START_SECONDS = 60.0
START_TRIES = 2
AFTER_S = 5


class GuardedReader:
    """One child process that parses stitch files; killed and restarted when it overruns."""

    def __init__(self, seconds: float = SECONDS):
        self._lock = threading.Lock()
        self._seconds = seconds
        self._process: subprocess.Popen[bytes] | None = None
        self._pipe: Connection | None = None

    def _start(self) -> Connection:
        for _ in range(START_TRIES):
            self._process, ours = take_child()
            self._pipe = ours
            with contextlib.suppress(EOFError):  # it ended before it was ready
                if ours.poll(START_SECONDS):
                    ours.recv()
                    return ours
            self.close()
        raise Busy(
            "the process that reads files did not start.",
            after_s=AFTER_S,
            remedy="Try again: this machine is very busy, or short of memory.",
        )

    def close(self) -> None:
        """End the child process; the next read starts another."""
        if self._pipe:
            self._pipe.close()
        if self._process:
            self._process.kill()
            self._process.wait()
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
        x_mm, y_mm, kinds, colours = self._read("design", data, name)
        try:
            split_mm = split_at_mm(kind_of(name))
            return plan_from_records(x_mm, y_mm, kinds, colour_of_change=colours, split_mm=split_mm)
        except BadInput as error:
            error.where = name
            raise

    def sheet_text(self, data: bytes, name: str) -> str:
        """Read a sheet's bytes as text; see `tables.text_of_sheet` and `plan`."""
        text: str = self._read("sheet", data, name)
        return text

    def days(self, data: bytes, *, from_day: str) -> list[DayOff]:
        """Read the days that a calendar names; see `calendars.read_days` and `plan`."""
        found: list[DayOff] = self._read("calendar", data, from_day, called="the calendar")
        return found

    def photo(self, data: bytes) -> bytes:
        """Make a photo small; see `photos.small_photo` and `plan`."""
        small: bytes = self._read("photo", data, "photo", called="the photo")
        return small

    def _read(self, what: What, data: bytes, of: str, *, called: str = "") -> Any:
        with self._lock:
            pipe = self._pipe or self._start()
            try:
                pipe.send((what, data, of))
                if not pipe.poll(self._seconds):
                    self.close()
                    raise too_much(of, called=called)
                answer = pipe.recv()
            except (EOFError, OSError):
                self.close()
                raise too_much(of, called=called) from None
        if isinstance(answer, ClothyardError):
            raise answer
        return answer


_shared = GuardedReader()
atexit.register(_shared.close)


def shared_reader() -> GuardedReader:
    """Return this process's reader."""
    return _shared


def read_design(data: bytes, name: str, *, sha256: str) -> tuple[StitchPlan, DesignFacts]:
    """Parse a stitch file and take its facts; see `GuardedReader.plan`."""
    plan, kind = _shared.plan(data, name), kind_of(name)
    facts = analyse(
        plan,
        sha256=sha256,
        name=name,
        told=header_told(data, kind),
        trims_kept=kind not in NO_TRIMS,
    )
    return plan, facts
