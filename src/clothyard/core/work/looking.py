"""What is looked at: is the scrap near enough, the sample once washed, a flaw that comes again."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence

from clothyard.core.house.document import GoodsClass

OFF_MM = 2
"""So far off its mark, a design is seen to be."""
_STRETCH = ("that does not stretch", "that stretches a little", "that stretches")
_PILE = ("smooth", "textured", "deep-piled")
FLAW_AGAIN = (
    "At the same stitch on every piece it is the file's; elsewhere the machine's, the thread's or "
    "the hooping's."
)
AFTER_WASH = (
    "After the wash: no bleeding, no ripples from shrinking, no curls, no loose ties. Mend with a "
    "few satin stitches of the thread, or do not sell it."
)
PAIR = "A pair is held against each other, not only each against its seam."


def scrap_words(goods: GoodsClass) -> str:
    """Say which test cloth is near enough to some goods; "" of what is sewn on nothing else.

    Source: handbook checks, scrap before goods: near enough in weight, stretch and pile.
    """
    if goods.made:
        return ""
    cloth = f"{_PILE[goods.pile]} cloth {_STRETCH[goods.stretch]}"
    return (
        f"Scrap is near enough when it is {cloth}, about {goods.thickness_mm:g} mm thick, and on "
        "the same backing; else the sample says little."
    )


def look_words(positions: Iterable[str]) -> str:
    """Say what a piece is looked at for, by the places that are sewn on it.

    Parameters
    ----------
    positions : iterable of str
        Their ids.

    Source: handbook checks, looked at.
    """
    found = set(positions)
    pair = any(p.replace("left-", "right-") in found for p in found if p.startswith("left-"))
    return (
        f"Look: straight and on its mark within {OFF_MM} mm, right word, right thread, outline on "
        "its fill, a third of bobbin behind satin, no loops, no puckers laid flat, ring gone."
        + (f" {PAIR}" if pair else "")
    )


def seen_again(reasons: Sequence[str], words: dict[str, str]) -> str:
    """Say what it means that a pass has the same flaw twice; "" where none came again.

    Parameters
    ----------
    reasons : sequence of str
        Of its spoiled and mended pieces, the last one last; "" where none was said.
    words : dict of str to str
        Each reason as people say it.

    Source: handbook checks, looked at.

    >>> seen_again(["pucker"], {"pucker": "puckered"})
    ''
    """
    counts = Counter(reason for reason in reasons if reason)
    again = [reason for reason in reversed(reasons) if counts[reason] > 1]
    if not again:
        return ""
    said = words.get(again[0], again[0])
    return f"{said.capitalize()}, {counts[again[0]]} times. {FLAW_AGAIN}"
