"""The needle thread: its kind."""

from __future__ import annotations

from collections.abc import Iterator

from clothyard.core.house.document import House
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making


def propose(wish: Wish) -> Proposal:
    """Propose the thread that the shop proposes first; when it has none of it, its first."""
    house = wish.house
    first = house.proposals.thread
    if first not in house.threads:
        first = next(iter(house.threads))
    return Proposal(first, "Polyester is strong and colourfast.")


def settle(chosen: Chosen) -> str:
    """Settle the kind of thread: its id."""
    return chosen.settle("thread", propose(chosen.wish), known=chosen.wish.house.threads)


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer every other kind of thread."""
    for thread_id, thread in house.threads.items():
        if thread_id != making.thread_id:
            yield Offer("thread", thread_id, f"{thread.tex:g} tex, up to {thread.cap_spm:g} spm.")


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a thread that frays when it is sewn fast, or with any needle but its own."""
    thread = making.thread
    own = thread.needle if thread.needle in wish.house.needles else making.needle_id
    fast = making.cap_spm > thread.careful_spm
    if not thread.careful_spm or (not fast and making.needle_id == own):
        return
    needle = wish.house.needles[own].label.lower()
    yield warned(
        "speed-metallic",
        "warn",
        f"{thread.label} frays without the {needle} needle and a slow machine.",
        f"Take the {needle} needle, at most {thread.careful_spm:g} stitches a minute.",
        about="methods.thread",
        **({} if fast else {"needle": own}),
    )
