"""What was read and never changes, kept in memory: the last so many of it."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import TypeVar, cast

T = TypeVar("T")


class Remembered:
    """Values by key, those asked for last.

    Parameters
    ----------
    most : int
        How many are kept.
    """

    def __init__(self, most: int):
        self.most = most
        self._kept: OrderedDict[Hashable, object] = OrderedDict()
        self._lock = threading.Lock()

    def get(self, key: Hashable, make: Callable[[], T]) -> T:
        """Return what is kept under a key, or make and keep it; what fails is not kept."""
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return cast("T", self._kept[key])
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self.most:
                self._kept.popitem(last=False)
        return made

    def forget(self) -> None:
        """Forget all of it: what it was read from is another now."""
        with self._lock:
            self._kept.clear()
