"""Designs that differ by piece."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import pairwise

from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts


@record
class OwnDesigns:
    """Designs that differ by piece: the names of a line.

    Attributes
    ----------
    pieces : tuple of (DesignFacts or None), shape (quantity,)
        In sewing order; None for a piece that is left blank on purpose.
    given : int
        Names that were given; the rest are priced as the mean of them.
    names : tuple of str
        Those given, blanks left out.
    """

    pieces: tuple[DesignFacts | None, ...]
    given: int
    names: tuple[str, ...]

    @property
    def sewn(self) -> tuple[DesignFacts, ...]:
        """The pieces that are sewn."""
        return tuple(facts for facts in self.pieces if facts is not None)

    @property
    def named(self) -> tuple[DesignFacts, ...]:
        """The pieces whose name is known."""
        return tuple(facts for facts in self.pieces[: self.given] if facts is not None)

    @property
    def share(self) -> float:
        """Share of the pieces that are sewn."""
        return len(self.sewn) / len(self.pieces)

    @property
    def rename_share(self) -> float:
        """Changes of design from one sewn piece to the next, as a share of all there could be."""
        sewn = self.sewn
        if len(sewn) < 2:
            return 1.0
        # the names still to come all differ
        changes = sum(
            a.name != b.name or i >= self.given for i, (a, b) in enumerate(pairwise(sewn), 1)
        )
        return changes / (len(sewn) - 1)


def joined_designs(several: Iterable[OwnDesigns | None]) -> OwnDesigns:
    """Put the pieces of several lines one after the other; those without a name yet go last."""
    known = [own for own in several if own is not None]
    given = tuple(piece for own in known for piece in own.pieces[: own.given])
    missing = tuple(piece for own in known for piece in own.pieces[own.given :])
    names = tuple(name for own in known for name in own.names)
    return OwnDesigns(given + missing, len(given), names)
