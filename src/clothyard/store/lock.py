"""One server a folder: a lock that names who holds it, and is free as soon as that one ends."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from filelock import FileLock, Timeout

from clothyard.core.errors import BadInput

LOCK, HOLDER = ".served", ".served-by"


def use_folder(folder: Path) -> None:
    """Make a shop's folder when it is missing.

    Raises
    ------
    BadInput
        If it cannot be used.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        raise BadInput(
            f"the folder cannot be used ({error.strerror}).",
            where=str(folder),
            remedy="Name one that can be written to.",
            code="folder",
        ) from None


@contextmanager
def alone_in(folder: Path, *, what: str = "") -> Iterator[None]:
    """Hold a shop's folder alone, until the block or the process ends.

    Parameters
    ----------
    folder : Path
        Made when missing.
    what : str
        What holds it, told to others that ask: "at http://127.0.0.1:8642".

    Raises
    ------
    BadInput
        If another process holds it: told by its number and what it does.
    """
    use_folder(folder)
    holder = folder / HOLDER
    lock = FileLock(folder / LOCK, timeout=0)
    try:
        lock.acquire()
    except Timeout:
        said = holder.read_text(encoding="utf-8").strip() if holder.exists() else "another"
        raise BadInput(
            f"the shop is in use by {said}.",
            where=str(folder),
            remedy="Use that one, or stop it first.",
            code="shop-in-use",
        ) from None
    try:
        holder.write_text(f"process {os.getpid()} {what}".strip() + "\n", encoding="utf-8")
        yield
    finally:
        holder.unlink(missing_ok=True)
        lock.release()
