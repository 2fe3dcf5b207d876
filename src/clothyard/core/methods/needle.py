"""The needle: as the thread asks, else as the goods do."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Wish
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
