"""Name lists: what looks wrong in one before it is sewn."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from itertools import pairwise

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnPlace, add_patch
from clothyard.core.figure_text import counted
from clothyard.core.job.names import is_to_come, known_names
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


MOST_TOLD = 8


def of_names(on: OnPlace) -> Iterator[Advice]:
    """Names that look wrong, are missing, or do not fit their place."""
    own = on.placed.own
    words = on.facts.source == "words"
    texts = own.names if own else ((on.facts.name,) if words else ())
    odd = list(odd_names(texts) if own else lacking_names(texts))
    if odd:
        yield on.say(
            "name-odd",
            "warn",
            " ".join(odd[:MOST_TOLD]),
            "Read them again with the customer; spelling as approved is final.",
        )
    if own is None:
        return
    missing, letters = len(own.pieces) - own.given, on.plan.house.words.name_letters
    if missing:
        yield on.say(
            "names-missing",
            "warn",
            f"{counted(own.given, 'name')} for {counted(len(own.pieces), 'piece')}: the other "
            f"{missing} {'is' if missing == 1 else 'are'} priced "
            + ("as the mean of those." if own.given else f"as {letters} letters of mean width."),
            "Ask for the names, or leave pieces blank on purpose with an empty name.",
        )
    yield from _long_names(on)
    yield from _unsorted(on)


def _unsorted(on: OnPlace) -> Iterator[Advice]:
    """Equal names that are not sewn one after the other: what sorting them saves."""
    names, cells = on.plan.line.names, on.plan.line.cells
    said = [name.strip() for name in names]
    sewn = [name for name in known_names(on.plan.line) if name]
    changes = sum(a != b for a, b in pairwise(sewn))
    fewer = changes - (len(set(sewn)) - 1)
    if fewer < 1:
        return
    first = {name: n for n, name in reversed(list(enumerate(said)))}
    kept = sorted(names, key=lambda name: (is_to_come(name), not name.strip(), first[name.strip()]))
    minutes = fewer * on.plan.house.events.name_file_s / 60
    yield on.say(
        "names-sort",
        "note",
        f"Equal names sewn one after the other save {fewer} "
        f"{'change' if fewer == 1 else 'changes'} of file: {minutes:g} min at the machine.",
        "Sort them so." if len(cells) < 2 else "Sort them so, keeping each name's size.",
        add_patch(f"/lines/{on.index}/names", kept) if len(cells) < 2 else None,
    )


def _long_names(on: OnPlace) -> Iterator[Advice]:
    own = on.placed.own
    place = on.plan.house.positions[on.making.position_id]
    each = {facts.name: facts for facts in own.sewn} if own else {}
    for facts in sorted(each.values(), key=lambda f: -f.width_mm):
        if facts.width_mm <= place.max_width_mm + 1e-6:
            break
        share = place.max_width_mm / facts.width_mm
        height = (facts.letter_height_mm or 0) * share
        yield on.say(
            "name-long",
            "warn",
            f"“{facts.name}” is {on.said(facts.width_mm)} wide; {place.label.lower()} takes "
            f"{on.said(place.max_width_mm)}: shrink it to {share:.0%}, letters "
            f"{on.said(height)}.",
            "Letter all of them lower, or set this name on two lines.",
        )
