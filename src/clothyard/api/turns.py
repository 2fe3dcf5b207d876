"""Turns for heavy work: a few at once, the rest in a fair queue, and 429 with when beyond it."""

from __future__ import annotations

from collections.abc import AsyncIterator

import anyio
from fastapi import Depends

from clothyard.core.errors import Busy

AFTER_S = 2


class Turns:
    """Lets so many requests work at once and so many wait, first come first served.

    Waiting holds no thread, so lists and pages are answered meanwhile.

    Parameters
    ----------
    at_once, waiting : int
    what : str
        For the refusal: "stitch files are being read".
    """

    def __init__(self, at_once: int, waiting: int, *, what: str):
        self._turn = anyio.Semaphore(at_once)
        self._waiting, self._most, self._what = 0, waiting, what

    async def __call__(self) -> AsyncIterator[None]:
        """Wait for a turn and hold it while the request is answered.

        Raises
        ------
        Busy
            If too many wait already.
        """
        try:
            self._turn.acquire_nowait()
        except anyio.WouldBlock:
            await self._wait()
        try:
            yield
        finally:
            self._turn.release()

    async def _wait(self) -> None:
        if self._waiting >= self._most:
            raise Busy(
                f"too many {self._what} at once.",
                after_s=AFTER_S,
                remedy=f"Try again in {AFTER_S} seconds: nothing was changed.",
            )
        self._waiting += 1
        try:
            await self._turn.acquire()
        finally:
            self._waiting -= 1


READING = [Depends(Turns(2, 12, what="files are being read"))]
"""Of a route that reads a stitch file or draws one."""

PRICING = [Depends(Turns(3, 60, what="jobs are being priced"))]
"""Of a route that prices, letters words or lists every standard."""

DEVICES = [Depends(Turns(8, 24, what="devices are being asked"))]
"""Of a route that asks a machine, a scale or a supplier: one that is slow holds up no price."""
