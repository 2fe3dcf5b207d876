"""One unit of work a verb: all that it writes is one transaction, kept whole or not at all."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import AbstractContextManager, contextmanager
from typing import Protocol

from sqlalchemy.orm import Session


class Reads(Protocol):
    """What rows are read from: a shop, or the unit of work that is just writing to it."""

    def reading(self) -> AbstractContextManager[Session]:
        """Open a session that reads."""


class Unit:
    """A verb's one write transaction, handed to every writer.

    What is read from it is what it has written so far and what nobody else can change meanwhile:
    there is one at a time. Rows are read and little is worked out while it is open; nothing is
    parsed, priced or asked of a device.

    Attributes
    ----------
    session : Session
        Of the transaction; committed when the unit ends well, else nothing of it is kept.
    """

    def __init__(self, session: Session):
        self.session = session

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """Read what stands, with what was written here so far."""
        self.session.flush()
        yield self.session
