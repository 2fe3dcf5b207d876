"""Files kept by content hash beside the database."""

from __future__ import annotations

import hashlib
import os
import tempfile
from pathlib import Path


def content_hash(data: bytes) -> str:
    """Return the sha256 of some bytes, 64 hex digits."""
    return hashlib.sha256(data).hexdigest()


class Blobs:
    """A folder of files named by their content's hash."""

    def __init__(self, folder: Path):
        self.folder = folder
        folder.mkdir(parents=True, exist_ok=True)

    def path(self, sha256: str) -> Path:
        """Return where a blob is kept."""
        return self.folder / sha256[:2] / sha256

    def keep(self, data: bytes) -> str:
        """Keep bytes durably (temp file, fsync, rename) and return their hash."""
        sha256 = content_hash(data)
        path = self.path(sha256)
        if path.exists():
            return sha256
        path.parent.mkdir(exist_ok=True)
        handle, temporary = tempfile.mkstemp(dir=path.parent)
        try:
            with os.fdopen(handle, "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            Path(temporary).rename(path)
        except BaseException:
            Path(temporary).unlink(missing_ok=True)
            raise
        return sha256

    def read(self, sha256: str) -> bytes | None:
        """Return the bytes, or None when they are not kept."""
        path = self.path(sha256)
        return path.read_bytes() if path.exists() else None
