"""Files kept by content hash beside the database."""

from __future__ import annotations

import hashlib
import os
import tempfile
import time
from collections.abc import Collection
from pathlib import Path

from clothyard.core.errors import Conflict

UNNAMED_S = 24 * 3600
"""Grace of a file that nothing names: what names it may be on its way."""


def content_hash(data: bytes) -> str:
    """Return the sha256 of some bytes, 64 hex digits."""
    return hashlib.sha256(data).hexdigest()


def keep_file(path: Path, data: bytes) -> None:
    """Write a file durably: a temporary one beside it, fsync, rename; whole or not at all."""
    handle, temporary = tempfile.mkstemp(dir=path.parent, prefix=".work-")
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        Path(temporary).replace(path)
    except BaseException:
        Path(temporary).unlink(missing_ok=True)
        raise


def _trouble(data: bytes | None, sha256: str) -> str:
    if data is None:
        return "missing"
    return "" if content_hash(data) == sha256 else "torn"


class Blobs:
    """A folder of files named by their content's hash."""

    def __init__(self, folder: Path):
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def path(self, sha256: str) -> Path:
        """Return where a blob is kept."""
        return self.folder / sha256[:2] / sha256

    def keep(self, data: bytes) -> str:
        """Keep bytes durably and return their hash; a torn file of that name is mended."""
        sha256 = content_hash(data)
        path = self.path(sha256)
        if path.exists() and path.read_bytes() == data:
            path.touch()  # named anew: its grace begins again
            return sha256
        path.parent.mkdir(exist_ok=True)
        keep_file(path, data)
        return sha256

    def read(self, sha256: str) -> bytes | None:
        """Return the bytes, or None when they are not kept."""
        path = self.path(sha256)
        return path.read_bytes() if path.exists() else None

    def sound(self, sha256: str) -> bytes:
        """Return the bytes, held against their hash.

        Raises
        ------
        Conflict
            If the file is missing or torn.
        """
        data = self.read(sha256)
        trouble = _trouble(data, sha256)
        if data is None or trouble:
            raise Conflict(
                f"the file is {trouble} in the shop's folder.",
                where=f"{self.folder.name}/{sha256[:2]}/{sha256[:12]}…",
                remedy="Take it out of a backup: clothyard check --shop FOLDER --mend.",
                code=f"file-{trouble}",
            )
        return data

    def trouble(self, sha256: str) -> str:
        """Say what is wrong with a file: "missing" or "torn"; "" when it is whole."""
        return _trouble(self.read(sha256), sha256)

    def clear_unnamed(self, named: Collection[str]) -> int:
        """Remove files that nothing names and that nobody touched for a day; returns how many."""
        cleared = 0
        for path in self.folder.glob("??/*"):
            if path.name not in named and time.time() - path.stat().st_mtime > UNNAMED_S:
                path.unlink(missing_ok=True)
                cleared += 1
        return cleared
