"""A piece of an order: what it is, who it is for, how far it is."""

from __future__ import annotations

from clothyard.core.record import record


@record
class Piece:
    """A piece, as run, order and log mean it.

    Attributes
    ----------
    id : str
        Its own, within its order; kept through versions.
    n : int
        Its place among the pieces of the order.
    line, size, colour, name : str
        What it is of; "" for none.
    state : str
        waiting, prepared, sewn, good, mended, spoiled or surplus.
    reason : str
        Why it is spoiled or was mended.
    instead_of : str
        The id of the spoiled one that it is made for, "" for none.
    changed_on : str
        When its state last changed, ISO.
    """

    id: str
    n: int
    line: str
    size: str
    colour: str
    name: str
    state: str = "waiting"
    reason: str = ""
    instead_of: str = ""
    changed_on: str = ""

    @property
    def said(self) -> str:
        """What it is called: size, colour and name, or its id where it has none of them."""
        return " ".join(x for x in (self.size, self.colour, self.name) if x) or self.id
