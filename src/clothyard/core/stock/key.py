"""The key of an item of the shelf: written and read here, and nowhere else."""

from __future__ import annotations

from typing import Literal

from clothyard.core.record import record

Unit = Literal["m", "each"]
KINDS = ("blank", "thread", "bobbin", "backing", "topping", "sheet", "hardware", "offcut")
"""In the order in which the shelf lists them."""

_APART = "|"


@record
class ItemKey:
    """What lies on the shelf, of one kind, cut or sold in one way.

    `kind` is one of `KINDS`; `id` the house's id (of what is on rolls the roll's, of a blank the
    blank's or its class's); `detail` the colour, or size and colour, or the size of an offcut.

    Examples
    --------
    >>> str(ItemKey("thread", "polyester", "#1d3b6f"))
    'thread|polyester|#1d3b6f'
    >>> read_key("blank|crew-polo|M navy").size
    'M'
    """

    kind: str
    id: str
    detail: str = ""

    def __str__(self) -> str:
        return _APART.join((self.kind, self.id, self.detail))

    @property
    def name(self) -> str:
        """What it is among those of its kind, such as a thread by its kind and colour."""
        return _APART.join((self.id, self.detail))

    @property
    def goods(self) -> tuple[str, str]:
        """Kind and id: what is bought together, whatever its size and colour."""
        return self.kind, self.id

    @property
    def size(self) -> str:
        """The size of a blank, "" for none."""
        return self.detail.split(" ", 1)[0]


def read_key(text: str) -> ItemKey:
    """Read a key as it was written; what lacks in it is ""."""
    kind, id_, detail = (*text.split(_APART, 2), "", "")[:3]
    return ItemKey(kind, id_, detail)


def read_name(name: str) -> tuple[str, str]:
    """Read what `ItemKey.name` wrote: (id, detail).

    >>> read_name("polyester|#1d3b6f")
    ('polyester', '#1d3b6f')
    """
    id_, _, detail = name.partition(_APART)
    return id_, detail


def is_key(text: str) -> bool:
    """Whether a text is a whole key of a known kind."""
    return text.count(_APART) == 2 and read_key(text).kind in KINDS


def thread_key(thread: str, colour: str) -> ItemKey:
    """Name a thread of a colour."""
    return ItemKey("thread", thread, colour)


def blank_key(id_: str, size: str, colour: str) -> ItemKey:
    """Name a blank of a size and colour."""
    return ItemKey("blank", id_, f"{size} {colour}".strip())


@record
class Item:
    """An item of the shelf and what it is counted in."""

    kind: str
    id: str
    detail: str
    unit: Unit

    @property
    def of(self) -> ItemKey:
        """What it is."""
        return ItemKey(self.kind, self.id, self.detail)

    @property
    def key(self) -> str:
        """One text that names it."""
        return str(self.of)


def item_of(key: str, unit: str) -> Item:
    """Read an item from its key."""
    of = read_key(key)
    return Item(of.kind, of.id, of.detail, "m" if unit == "m" else "each")
