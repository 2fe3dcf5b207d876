"""What every choice of a making is made of: a proposal, offers of others, warnings with their fix.

A choice is one module: `propose` says what is taken unless it is chosen, `offer` what else could
be, `warn` what of it is likely to fail and what mends that.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any, Literal, NamedTuple

from clothyard.core.cloth.room import RoomNow
from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house.document import GoodsClass, House
from clothyard.core.job.document import NAME_MARK, Line, Placement
from clothyard.core.measures import length_text, size_text
from clothyard.core.methods.making import NONE, Choice
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts

Level = Literal["stop", "warn", "note"]


class Proposal(NamedTuple):
    """What is proposed, and why."""

    value: str
    reason: str


class Offer(NamedTuple):
    """Another value of a method, and why one might take it."""

    key: str
    value: str
    reason: str


@record
class Warned:
    """What is likely to fail, spoil or lose money, and how to mend it.

    `methods` are those that mend it; `split` that splitting the design over hoopings does, `patch`
    that sewing it as a patch does. All empty: there is no fix to press.
    """

    code: str
    level: Level
    message: str
    fix: str
    methods: Mapping[str, Any]
    split: bool = False
    patch: bool = False
    about: str = "methods"


def warned(
    code: str, level: Level, message: str, fix: str, *, about: str = "methods", **methods: Any
) -> Warned:
    """Put a warning; `methods` are what mends it, `about` which part of the placement it is of.

    Parameters
    ----------
    code : str
        Of the advice, as in docs/reference.md.
    level : Level
        note, warn or stop.
    message : str
        What is so.
    fix : str
        What to do.
    about : str, optional
        Which part of the placement it is of.
    **methods
        Those that mend it.

    Returns
    -------
    Warned
    """
    return Warned(code, level, message, fix, methods, about=about)


@record
class Wish:
    """A placement whose methods are to be settled: what is asked, drawn, and known of the goods."""

    line: Line
    placement: Placement
    facts: DesignFacts
    goods: GoodsClass
    house: House
    where: str
    room: RoomNow | None = None
    """Of the place that is asked, for the sizes that are ordered; None where nothing bounds it."""

    @property
    def named(self) -> bool:
        """Whether each piece has a name of its own."""
        return NAME_MARK in (self.placement.design.text or "")

    def said(self, mm: float) -> str:
        """Write a length in the shop's units."""
        return length_text(mm, units=self.house.shop.units)

    def said_size(self, size_mm: tuple[float, float]) -> str:
        """Write a size in the shop's units."""
        return size_text(size_mm, units=self.house.shop.units)


class Chosen:
    """Settles one method after the other and remembers where each value came from.

    Parameters
    ----------
    wish : Wish
    aliases : mapping of str to str
        Short names that a job may give instead of an id.
    """

    def __init__(self, wish: Wish, *, aliases: Mapping[str, str]):
        self.wish, self.aliases = wish, aliases
        self.choices: list[Choice] = []

    def settle(self, key: str, proposal: Proposal, *, known: Iterable[str] = ()) -> str:
        """Take what the job chose, else what is proposed.

        Parameters
        ----------
        key : str
            As in the job's methods.
        proposal : Proposal
        known : iterable of str
            Ids that may be chosen; empty for a choice of the document's own.

        Raises
        ------
        BadInput
            If the chosen id is unknown; names the nearest.
        """
        given = getattr(self.wish.placement.methods, key)
        if given is None:
            self.choices.append(Choice(key, proposal.value, "proposed", proposal.reason))
            return proposal.value
        value = str(given).lower() if isinstance(given, bool) else str(given)
        value = self._known(key, value, list(known))
        same = value == proposal.value
        why = proposal.reason if same else f"Chosen; proposed was {proposal.value}: "
        self.choices.append(Choice(key, value, "chosen", why if same else why + proposal.reason))
        return value

    def _known(self, key: str, value: str, names: list[str]) -> str:
        if not names or value in names:
            return value
        alias = self.aliases.get(value, value)
        if alias not in names:
            raise unknown_id(alias, names, where=f"{self.wish.where}.methods.{key}", what=key)
        return alias

    def yes(self, key: str, proposal: Proposal) -> bool:
        """Settle a method that is yes or no."""
        return self.settle(key, proposal) == "true"


def stocked(house: House) -> frozenset[str]:
    """Name the materials that the shop has a roll of."""
    return house.stocked


def check_roll(key: str, material: str, wish: Wish) -> None:
    """Refuse a material that the shop has no roll of.

    Parameters
    ----------
    key : str
        backing, topping or sheet.
    material : str
        Its id.
    wish : Wish
        What is asked.

    Raises
    ------
    BadInput
    """
    if material != NONE and material not in stocked(wish.house):
        raise BadInput(
            f"the shop has no roll of {material!r}.",
            where=f"{wish.where}.methods.{key}",
            remedy="Choose another, or add a roll of it to the house.",
            code="roll-unknown",
        )
