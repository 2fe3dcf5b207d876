"""The needle: as the thread asks, else as the goods do."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making


def propose(wish: Wish, thread_id: str) -> Proposal:
    """Propose the thread's own needle, when it asks for one that the shop has; else the goods'.

    Parameters
    ----------
    wish : Wish
        What is asked.
    thread_id : str
        Of the kind of thread.

    Returns
    -------
    Proposal
    """
    needles = wish.house.needles
    wanted = wish.house.threads[thread_id].needle
    if wanted not in needles:
        wanted = wish.goods.needle
    return Proposal(wanted, needles[wanted].why)


def settle(chosen: Chosen, thread_id: str) -> str:
    """Settle the needle: its id.

    Parameters
    ----------
    chosen : Chosen
        What the placement chooses.
    thread_id : str
        Of the kind of thread.

    Returns
    -------
    str
    """
    wish = chosen.wish
    return chosen.settle("needle", propose(wish, thread_id), known=wish.house.needles)


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer every other needle."""
    for needle_id, needle in house.needles.items():
        if needle_id != making.needle_id:
            yield Offer("needle", needle_id, needle.why)


THICK_TEX = 30.0
"""Thread from here on wants a large eye, as metallic thread does."""
FIRM_MM = 0.5
"""Cloth from this thickness on, without stretch, is a firm weave."""


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a point or an eye that this cloth or thread does not bear.

    A needle that the thread asks for itself is never warned of.

    Source: handbook checks, needle-wrong.
    """
    goods, needle, thread = making.goods, making.needle, making.thread
    right = propose(wish, making.thread_id).value
    if making.needle_id == right or thread.careful_spm:  # speed-metallic tells of that
        return
    wrong = ""
    if thread.tex >= THICK_TEX and not needle.large_eye:
        wrong = f"{thread.label} frays in a small eye"
    elif goods.stretch == 0 and needle.point == "ballpoint" and goods.thickness_mm >= FIRM_MM:
        wrong = "A ballpoint pushes a firm weave aside, and the outline wanders"
    elif goods.stretch >= 1 and needle.point == "sharp" and not needle.large_eye:
        wrong = "A sharp point cuts the loops of a knit: holes run from there"
    if wrong:
        yield warned(
            "needle-wrong",
            "warn",
            f"{wrong}.",
            f"Take {wish.house.needles[right].label.lower()}.",
            about="methods.needle",
            needle=right,
        )
