"""What is threaded: needles given to an order's threads from what is on the machine."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.stock.needs import thread_on
from clothyard.core.work.document import PassTold, ThreadLaid, Work

Threaded = Mapping[int, str]
"""A machine's needles, from 1, each with the thread that is on it; empty ones are left out."""


@record
class Needled:
    """A pass's needles.

    Attributes
    ----------
    of : mapping of block to int or None
        The needle it sews on; None where colours take turns on one, or all are threaded by hand.
    changed : frozenset of int
        Needles that are threaded anew before the pass.
    """

    of: Mapping[int, int | None]
    changed: frozenset[int]


@record
class _Wanted:
    """Threads that a pass has on needles of their own, with their stitches; `turns` on the last."""

    fixed: Mapping[str, int]
    turns: bool


def _thread(each: PassTold, laid: ThreadLaid) -> str:
    """Name a block's thread; one of no known colour is that of its own place, batch and sample."""
    return thread_on(laid) if laid.colour else f"?{each.of[0].placement}.{laid.block}"


def _wanted(each: PassTold) -> _Wanted:
    fixed: dict[str, int] = {}
    for laid in each.threads:
        if laid.needle is not None:
            thread = _thread(each, laid)
            fixed[thread] = fixed.get(thread, 0) + laid.stitches
    return _Wanted(fixed, any(laid.needle is None for laid in each.threads))


def _given(
    threads: Sequence[str], on: Threaded, free: Iterable[int], later: Sequence[Iterable[str]]
) -> dict[str, int]:
    """Give needles: what is on keeps its own, others take free ones, then taken ones.

    Of taken ones those whose thread is needed last, or never, go first.
    """
    needles = list(free)
    has = {on[n]: n for n in reversed(needles) if n in on}
    found = {t: has[t] for t in threads if t in has}

    def cost(needle: int) -> tuple[int, int]:
        held = on.get(needle, "")
        next_ = next((i for i, used in enumerate(later) if held in used), len(later) + 1)
        return (0 if not held else 1 + len(later) + 1 - next_, needle)

    left = sorted((n for n in needles if n not in found.values()), key=cost)
    for thread, needle in zip([t for t in threads if t not in found], left, strict=False):
        found[thread] = needle
    return found


def needles_of(passes: Sequence[PassTold], needles: int, on: Threaded) -> dict[str, Needled]:
    """Give needles to the threads of an order's passes on one machine.

    Parameters
    ----------
    passes : sequence of PassTold
        In the order in which they are sewn.
    needles : int
        Of the machine.
    on : Threaded
        What is on it now.

    Returns
    -------
    dict of pass id to Needled
        Once for the order where it has needles for all its threads, else pass by pass: what is on
        stays, then the threads used most, on free needles before taken ones.

    Source
    ------
    Handbook workshop 7.
    """
    wanted = [_wanted(each) for each in passes]
    room = needles - any(want.turns for want in wanted)
    used: dict[str, int] = {}
    for want in wanted:
        for thread, stitches in want.fixed.items():
            used[thread] = used.get(thread, 0) + stitches
    most_first = sorted(used, key=lambda t: -used[t])
    whole = _given(most_first, on, range(1, room + 1), []) if len(used) <= room else None
    now, found = dict(on), dict[str, Needled]()
    for n, (each, want) in enumerate(zip(passes, wanted, strict=True)):
        threads = [t for t in most_first if t in want.fixed]
        later = [w.fixed for w in wanted[n + 1 :]]
        given = whole or _given(threads, now, range(1, needles - want.turns + 1), later)
        changed = {given[t] for t in threads if now.get(given[t]) != t}
        now |= {given[t]: t for t in threads}
        of = {
            laid.block: given[_thread(each, laid)] if laid.needle is not None else None
            for laid in each.threads
        }
        if want.turns:
            now.pop(needles, None)
        found[each.id] = Needled(of, frozenset(changed))
    return found


def order_needles(
    work: Work, house: House, threaded: Mapping[str, Threaded], *, first: str = ""
) -> dict[str, Needled]:
    """Give needles to all threads of an order, machine by machine, its samples first.

    Parameters
    ----------
    work : Work
    house : House
    threaded : mapping of machine to Threaded
        What is on each now.
    first : str
        The pass that is sewn now, "" for all in their order.
    """
    by_machine: dict[str, list[PassTold]] = {}
    for each in sorted(work.passes, key=lambda one: (one.id != first, not one.sample)):
        by_machine.setdefault(each.machine, []).append(each)
    found: dict[str, Needled] = {}
    for machine, passes in by_machine.items():
        on = threaded.get(machine, {})
        found |= needles_of(passes, house.machines[machine].needles, on)
    return found


def on_after(each: PassTold, needled: Needled, on: Threaded) -> dict[int, str]:
    """Return what is on a machine once a pass is threaded; a thread of no known colour is not kept.

    Where colours take turns on a needle nobody knows which of them is on it.
    """
    found = dict(on)
    for laid in each.threads:
        needle = needled.of.get(laid.block)
        if needle is None:
            continue
        if laid.colour:
            found[needle] = thread_on(laid)
        else:
            found.pop(needle, None)
    return found
