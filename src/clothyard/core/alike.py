"""Who may be the same customer, by what they are called and where they are written to."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Iterator, Sequence

import numpy as np
from rapidfuzz import fuzz, process

from clothyard.core.record import record

ALIKE = 0.86
"""From this likeness on two names may be the same customer."""


@record
class Called:
    """What a customer is called, as names are compared, and the address; "" for none."""

    name: str
    email: str


@record
class Pair:
    """Two that may be one, by their places, the first first, and what speaks for it."""

    first: int
    second: int
    why: str


def pairs_alike(called: Sequence[Called], *, most: int) -> tuple[list[Pair], int]:
    """List pairs that may be one customer, and count them all.

    Parameters
    ----------
    called : sequence of Called, length n
    most : int
        Pairs that are listed.

    Returns
    -------
    list of Pair
        The first ones by their places. What speaks most for it is told: the address before the
        name.
    int
        How many there are.

    Notes
    -----
    All are compared with all in a table of n × n bytes: 2,000 of them take a second, however many
    pairs there are.

    Examples
    --------
    >>> pairs, _ = pairs_alike([Called("tern bakers", ""), Called("tern baker", "")], most=9)
    >>> pairs[0].why
    'names nearly alike'
    """
    names = [each.name for each in called]
    near = process.cdist(names, names, scorer=fuzz.ratio, score_cutoff=100 * ALIKE, dtype=np.uint8)
    speaks = np.minimum(near, _NEARLY)
    for group in _beginning_alike(names):
        speaks[np.ix_(group[:1], group)] = speaks[np.ix_(group, group[:1])] = _BEGINS
    for group in _written_alike(called):
        speaks[np.ix_(group, group)] = _WRITTEN
    places = np.argwhere(np.triu(speaks, 1))
    found = [Pair(int(i), int(j), _WHY[int(speaks[i, j])]) for i, j in places[:most]]
    return found, len(places)


_NEARLY, _BEGINS, _WRITTEN = 1, 2, 3
_WHY = {
    _NEARLY: "names nearly alike",
    _BEGINS: "one name begins with the other",
    _WRITTEN: "the same e-mail",
}


def _beginning_alike(names: Sequence[str]) -> Iterator[list[int]]:
    """List each name with those that it begins: the same words first."""
    order = sorted((f"{name} ", n) for n, name in enumerate(names))
    for at, (name, n) in enumerate(order):
        end = bisect_left(order, (f"{name}\U0010ffff", 0), at)
        if end > at + 1:
            yield [n, *(other for _, other in order[at + 1 : end])]


def _written_alike(called: Sequence[Called]) -> list[list[int]]:
    """List those who are written to at one address."""
    groups: dict[str, list[int]] = {}
    for n, each in enumerate(called):
        if each.email:
            groups.setdefault(each.email.casefold(), []).append(n)
    return [group for group in groups.values() if len(group) > 1]
