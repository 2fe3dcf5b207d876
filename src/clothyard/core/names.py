"""Name lists: what looks wrong in one before it is sewn."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from clothyard.core.stitches.letters import lacking


def lacking_names(names: Sequence[str]) -> Iterator[str]:
    """Tell which names have characters that the lettering lacks."""
    for name in dict.fromkeys(names):
        if missing := lacking(name):
            signs = " ".join(missing)
            yield f"“{name}” has {signs}, which the lettering lacks."


def odd_names(names: Sequence[str]) -> Iterator[str]:
    """Tell what is odd in a list of names, a sentence each.

    Characters that the lettering lacks, doubled spaces, names that differ only in case, and
    names that come more than once.
    """
    yield from lacking_names(names)
    for name in dict.fromkeys(names):
        if "  " in name:
            yield f"“{name}” has a doubled space."
    for name, times in Counter(names).items():
        if times > 1:
            yield f"“{name}” comes {times} times."
    spelled: dict[str, str] = {}
    for name in dict.fromkeys(names):
        other = spelled.setdefault(name.casefold(), name)
        if other != name:
            yield f"“{other}” and “{name}” differ only in case."
