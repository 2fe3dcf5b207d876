"""What files are called on a machine: short, in the letters that machines take, no two alike."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping

from clothyard.core.errors import BadInput
from clothyard.core.house.document import Papers

MARKS = ("order", "line", "place", "design", "name")
"""What a pattern may hold, in braces."""

_REST = re.compile(r"[^A-Za-z0-9_-]+")


def plain_letters(text: str) -> str:
    """Write text in the letters that every machine takes: A to Z, digits, _ and -.

    >>> plain_letters("Zoë & Figaro"), plain_letters("Q-0042")
    ('ZoeFigaro', 'Q-0042')
    """
    split = unicodedata.normalize("NFKD", text.replace("ß", "ss").replace("ø", "o"))
    return _REST.sub("", split.encode("ascii", "ignore").decode())


def check_pattern(pattern: str, *, where: str) -> None:
    """Refuse a pattern with marks that are not known.

    Raises
    ------
    BadInput
    """
    known = set(MARKS)
    for mark in re.findall(r"\{([^{}]*)\}", pattern):
        if mark not in known:
            raise BadInput(
                f"the pattern has {{{mark}}}, which stands for nothing.",
                where=where,
                remedy=f"Use {', '.join('{' + name + '}' for name in MARKS)}.",
                code="pattern",
            )


def file_names(rows: Iterable[Mapping[str, str]], papers: Papers) -> list[str]:
    """Name files by the shop's pattern.

    Parameters
    ----------
    rows : iterable of mapping
        One a file: what each of MARKS stands for; the order's number loses its letters first where
        the name is too long.
    papers : Papers
        The pattern, how many letters, and their case.

    Returns
    -------
    list of str
        No two alike, whatever the case: the last letters of later ones give way to a number.
    """
    check_pattern(papers.file_pattern, where="papers.file_pattern")
    found: list[str] = []
    taken: set[str] = set()
    for row in rows:
        parts = {mark: plain_letters(row.get(mark, "")) for mark in MARKS}
        short = parts | {"order": re.sub(r"^\D*0*", "", parts["order"]) or parts["order"]}
        filled = (papers.file_pattern.format_map(p) for p in (parts, short))
        names = [plain_letters(name) for name in filled]
        name = names[0] if len(names[0]) <= papers.file_letters else names[1]
        name = cased(name[: papers.file_letters] or "FILE", papers)
        n, own = 1, name
        while own.casefold() in taken:
            n += 1
            own = name[: papers.file_letters - len(str(n))] + str(n)
        taken.add(own.casefold())
        found.append(own)
    return found


def cased(name: str, papers: Papers) -> str:
    """Write a name in the letters' case that the shop's machines read."""
    if papers.file_case == "as-typed":
        return name
    return name.upper() if papers.file_case == "upper" else name.lower()
