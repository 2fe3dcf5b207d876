"""What is asked of the post: a folder that messages are handed to, as .eml files."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

CLOSED = "closed"
"""A file of this name in the folder shuts the post, to see what happens then."""


class PostError(Exception):
    """The post did not take a message; its words say why."""


class Post(Protocol):
    """What takes messages."""

    def take(self, name: str, message: bytes) -> None:
        """Take a message, whole; the same one again changes nothing.

        Raises
        ------
        PostError
        """


class FolderPost:
    """Hands messages over as files in a folder, from where a mail program takes them.

    Parameters
    ----------
    folder : Path
        Made when missing.
    """

    def __init__(self, folder: Path):
        self.folder = folder

    def take(self, name: str, message: bytes) -> None:
        """Put a message into the folder."""
        try:
            self.folder.mkdir(exist_ok=True)
            if (self.folder / CLOSED).exists():
                raise PostError("the post is shut")
            part = self.folder / f".{name}.part"
            part.write_bytes(message)
            part.replace(self.folder / f"{name}.eml")
        except OSError as error:
            raise PostError(f"the post's folder cannot be written to ({error.strerror})") from None
