"""The simulated post: takes messages as .eml files into a folder, and carries them nowhere."""

from __future__ import annotations

from pathlib import Path
from typing import Protocol

CLOSED = "closed"
"""A file of this name in the folder shuts the post, to see what happens then."""


class PostError(Exception):
    """The post did not take a message; its words say why."""


class Post(Protocol):
    """What takes messages: a mail server, or its stand-in."""

    def take(self, name: str, message: bytes) -> None:
        """Take a message, whole; the same one again changes nothing.

        Raises
        ------
        PostError
        """


class FolderPost:
    """The stand-in: a message is a file in a folder.

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
