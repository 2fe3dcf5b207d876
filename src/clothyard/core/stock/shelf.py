"""The shelf at one moment: what lies there, who needs it, what comes, what it is called."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from functools import cached_property
from typing import Any, Literal

from clothyard.core.errors import BadInput
from clothyard.core.house.document import House, PutUp
from clothyard.core.record import record
from clothyard.core.stock.buying import Pack, arrives_on, cover, supplier_of, unit_value
from clothyard.core.stock.key import KINDS, Item, is_key, item_of, read_key
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.needs import Need
from clothyard.core.thread.called import thread_called
from clothyard.core.units import exact

CUT = ("backing", "topping", "sheet")
"""Kinds that are cut from rolls and sheets."""

TABLES: Mapping[str, tuple[str, ...]] = {
    "thread": ("threads",),
    "bobbin": ("bobbins",),
    "hardware": ("hardware",),
    "blank": ("blanks", "goods"),
}
"""Where the house names what is of a kind; all else is on rolls and sheets."""


@record
class KnownItem:
    """What the shop knows of an item: what it is called, how much is kept at least, from whom."""

    item: str
    label: str
    unit: str
    minimum: Decimal
    supplier: str
    place: str


@record
class Incoming:
    """So much of an item that was ordered and is not here yet; `on` is an ISO day, "" for none."""

    item: str
    amount: Decimal
    on: str


@record
class Lying:
    """An item as it lies there. `free` is on hand less what open orders need, zero at least.

    Of what is `unknown` no move was ever booked: nobody has counted it.
    """

    item: Item
    label: str
    on_hand: Decimal
    promised: Decimal
    free: Decimal
    short: Decimal
    coming: Decimal
    minimum: Decimal
    value: Decimal
    supplier: str
    place: str
    unknown: bool

    @property
    def below(self) -> bool:
        """Whether less than its minimum is free."""
        return self.free < self.minimum


@record
class NeedNow:
    """What an order needs of an item, and what of it lies there.

    `free` and `short` are of what was not taken yet; `buy` would cover what is short. What is
    `unknown` was never counted: it is short until somebody says that it is here.
    """

    need: Need
    taken: Decimal
    free: Decimal
    short: Decimal
    on_hand: Decimal
    coming: Decimal
    coming_on: str
    buy: tuple[tuple[Pack, int], ...]
    unknown: bool = False


@record
class Lack:
    """What of a need the shelf does not cover once open orders have theirs.

    `by` is the ISO day on which it can be here, "" where nothing is short. What is `unknown` was
    never counted.
    """

    need: Need
    free: Decimal
    short: Decimal
    supplier: str
    by: str
    unknown: bool = False


def unit_of(key: str, house: House) -> Literal["m", "each"]:
    """Say what an item is counted in: thread, what is on rolls and ribbons in metres."""
    of = read_key(key)
    known = house.hardware.get(of.id) if of.kind == "hardware" else None
    metres = of.kind == "thread" or (of.kind in CUT and of.id in house.rolls)
    return "m" if metres or (known is not None and known.unit == "m") else "each"


def label_of(item: Item, house: House) -> str:
    """Call an item by the house's own words."""
    name = item.id
    if item.id in house.rolls:
        name = house.material_label(house.rolls[item.id].material)
    elif item.id in house.sheets:
        name = house.material_label(house.sheets[item.id].material)
    for section in TABLES.get(item.kind, ()):
        rows: Mapping[str, Any] = getattr(house, section)
        if item.id in rows:
            name = rows[item.id].label
            break
    detail = item.detail
    if item.kind == "offcut":
        detail = f"offcut {detail.replace('x', ' × ')} mm"
    if item.kind == "thread":
        detail = thread_called(detail, house)
    return f"{name}, {detail}" if detail else name


def check_item(key: str, house: House, *, there: Callable[[], Collection[str]]) -> Item:
    """Read an item that the house knows, or that lies on the shelf since it did.

    Parameters
    ----------
    key : str
    house : House
    there : callable
        Gives the items of the shelf; asked only where the house does not know this one.

    Raises
    ------
    BadInput
    """
    of = read_key(key)
    sections = TABLES.get(of.kind, ("rolls", "sheets") if of.kind in KINDS else ())
    known = is_key(key) and any(of.id in getattr(house, section) for section in sections)
    if not known and not (is_key(key) and key in there()):
        raise BadInput(
            f"{key[:80]!r} is no item of this shop.",
            where="item",
            remedy="Choose a thread, roll, bobbin, blank or part that the shelf has.",
            code="item-unknown",
        )
    return item_of(key, unit_of(key, house))


def full_put_ups(there: Decimal, putup: PutUp) -> int:
    """Say how many full put-ups so many metres may be, with one of them opened."""
    whole, rest = divmod(there, exact(putup.length_m))
    return max(0, int(whole) if rest else int(whole) - 1)


@dataclass(frozen=True)
class Shelf:
    """The shelf as it is at one moment.

    Attributes
    ----------
    house : House
    there : mapping of key to Decimal
        On hand, the sum of moves.
    promised : mapping of key to Decimal
        What all open orders still need.
    items : mapping of key to KnownItem
    costs : mapping of key to Decimal
        What a unit cost when it came last.
    incoming : sequence of Incoming
    called : mapping of key to str
        What orders call it.
    """

    house: House
    there: Mapping[str, Decimal]
    promised: Mapping[str, Decimal]
    items: Mapping[str, KnownItem]
    costs: Mapping[str, Decimal]
    incoming: Sequence[Incoming]
    called: Mapping[str, str]

    @cached_property
    def coming(self) -> dict[str, Decimal]:
        """What was ordered of each item and is not here yet."""
        found: dict[str, Decimal] = {}
        for row in self.incoming:
            found[row.item] = found.get(row.item, ZERO) + row.amount
        return found

    @cached_property
    def coming_on(self) -> dict[str, str]:
        """The ISO day on which the last of what was ordered of an item comes."""
        found: dict[str, str] = {}
        for row in self.incoming:
            if row.on:
                found[row.item] = max(found.get(row.item, ""), row.on)
        return found

    def all_items(self) -> list[str]:
        """List every item there is."""
        return list({**self.there, **self.promised, **self.items})

    def unit(self, key: str) -> str:
        """Return an item's unit."""
        return unit_of(key, self.house)

    def label(self, key: str) -> str:
        """Call an item as the shop, its orders or the house call it."""
        known = self.items.get(key)
        found = (known.label if known else "") or self.called.get(key, "")
        return found or label_of(item_of(key, self.unit(key)), self.house)

    def short(self, key: str) -> Decimal:
        """Say what open orders need of an item that does not lie there."""
        return max(ZERO, self.promised.get(key, ZERO) - max(ZERO, self.there.get(key, ZERO)))

    def cost_of(self, key: str) -> Decimal:
        """Return what a unit costs: as it came last, else by the house."""
        return self.costs.get(key) or unit_value(item_of(key, self.unit(key)), self.house)

    def supplier(self, item: Item) -> str:
        """Name who an item is bought from."""
        known = self.items.get(item.key)
        return supplier_of(item, self.house, chosen=known.supplier if known else "")

    def lying(self, key: str) -> Lying:
        """Tell of one item."""
        item = item_of(key, self.unit(key))
        there, promised = self.there.get(key, ZERO), self.promised.get(key, ZERO)
        known = self.items.get(key)
        return Lying(
            item=item,
            label=self.label(key),
            on_hand=there,
            promised=promised,
            free=max(ZERO, there - promised),
            short=self.short(key),
            coming=self.coming.get(key, ZERO),
            minimum=known.minimum if known else ZERO,
            value=max(ZERO, there) * self.cost_of(key),
            supplier=self.supplier(item),
            place=known.place if known else "",
            unknown=key not in self.there,
        )

    def enough(self, key: str, more: Decimal = ZERO) -> Decimal:
        """Say how much of an item is enough: for all open orders, and for so much more."""
        return max(self.there.get(key, ZERO), self.promised.get(key, ZERO) + more)

    def rows(self) -> list[Lying]:
        """List the shelf, kind by kind."""
        place = {kind: n for n, kind in enumerate(KINDS)}
        found = [self.lying(key) for key in self.all_items()]
        return sorted(found, key=lambda row: (place.get(row.item.kind, 9), row.label, row.item.key))

    def needs_now(
        self,
        needs: Iterable[Need],
        *,
        needed: Mapping[str, Decimal],
        taken: Mapping[str, Decimal],
        shares: Mapping[str, tuple[Decimal, Decimal]],
    ) -> list[NeedNow]:
        """Say what of an order's needs lies there.

        Parameters
        ----------
        needs : iterable of Need
            Of its work.
        needed : mapping of key to Decimal
            What it needs now, with what is made again.
        taken : mapping of key to Decimal
            What was taken for it already.
        shares : mapping of key to (free, short)
            Of what it still needs, earlier promises first.
        """
        found = []
        for need in needs:
            key = need.item.key
            free, short = shares.get(key, (ZERO, ZERO))
            found.append(
                NeedNow(
                    need=Need(
                        need.item,
                        needed.get(key, need.amount),
                        need.label,
                        need.pieces,
                        need.cut_mm,
                    ),
                    taken=max(ZERO, taken.get(key, ZERO)),
                    free=free,
                    short=short,
                    on_hand=self.there.get(key, ZERO),
                    coming=self.coming.get(key, ZERO),
                    coming_on=self.coming_on.get(key, ""),
                    buy=tuple(cover(need.item, short, self.house)),
                    unknown=key not in self.there,
                )
            )
        return found

    def lacks(self, needs: Iterable[Need], *, today: str) -> list[Lack]:
        """Say what of some needs is not covered once open orders have theirs.

        Parameters
        ----------
        needs : iterable of Need
            Of what is not an order yet.
        today : str
            ISO day.
        """
        found = []
        for need in needs:
            key = need.item.key
            there = self.there.get(key, ZERO) - self.promised.get(key, ZERO)
            free = min(need.amount, max(ZERO, there))
            short = need.amount - free
            supplier = self.supplier(need.item)
            by = self.here_on(need.item, short, today=today) if short > ZERO else ""
            found.append(Lack(need, free, short, supplier, by, key not in self.there))
        return found

    def here_on(self, item: Item, short: Decimal, *, today: str) -> str:
        """Return the ISO day on which what is short can be here: as ordered, else bought now."""
        day = self.coming_on.get(item.key, "")
        if day and self.coming.get(item.key, ZERO) >= short:
            return day
        return arrives_on(self.house.suppliers[self.supplier(item)], today)
