"""What threads are called: by the shelf's names, else in plain words, never by a code."""

from __future__ import annotations

from collections.abc import Iterable

from clothyard.core.colours import colour_name
from clothyard.core.house.document import House


def thread_called(colour: str | None, house: House, *, otherwise: str = "") -> str:
    """Call a thread by its colour.

    Parameters
    ----------
    colour : str or None
        "#rrggbb"; a plain word, such as that of a bobbin, stays as it is.
    house : House
        Whose shelf may name it.
    otherwise : str
        Where no colour is known.

    Source: handbook workshop 4.

    >>> from clothyard.core.house.check import build_house
    >>> thread_called("#17284d", build_house()), thread_called("white", build_house())
    ('navy', 'white')
    """
    if not colour:
        return otherwise
    if not colour.startswith("#"):
        return colour
    known = (row.label for row in house.thread_shelf.values() if row.colour == colour)
    return next(known, "") or colour_name(colour)


def told_apart(names: Iterable[str]) -> list[str]:
    """Number names that come more than once, so that each is one thread's.

    >>> told_apart(["navy", "gold", "navy"])
    ['navy', 'gold', 'navy 2']
    """
    seen: dict[str, int] = {}
    found = []
    for name in names:
        seen[name] = seen.get(name, 0) + 1
        found.append(name if seen[name] == 1 else f"{name} {seen[name]}")
    return found
