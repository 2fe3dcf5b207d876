"""Needles: which colours stay threaded, and where hand changes fall when there are too many."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence

from clothyard.core.record import record


@record
class NeedlePlan:
    """A machine's needles over one design.

    Attributes
    ----------
    fixed : tuple of str
        Colours that stay threaded, needle 1 first.
    rotating : tuple of str
        Colours that share the last needle, in sewing order; empty when all have one.
    changes_at : tuple of int
        Blocks, from 1, before which the last needle is rethreaded in every cycle; the first one
        of the run is set-up.
    """

    fixed: tuple[str, ...]
    rotating: tuple[str, ...]
    changes_at: tuple[int, ...]

    @property
    def threaded(self) -> tuple[str, ...]:
        """Colours that are threaded before the run begins."""
        return (*self.fixed, *self.rotating[:1])

    def changes(self, cycles: int) -> int:
        """Count the changes by hand over so many cycles.

        Source: docs/formulas.md 7: as on a machine threaded by hand, for the shared needle alone.
        """
        n = len(self.changes_at)
        if n == 0:
            return 0
        if self.rotating[0] != self.rotating[-1]:
            return n * cycles - 1
        return (n - 1) * cycles


def plan_needles(keys: Sequence[str], needles: int) -> NeedlePlan:
    """Assign a design's colours to needles.

    Parameters
    ----------
    keys : sequence of str, shape (n_blocks,)
        Colour of each block, in sewing order.
    needles : int
        Of the machine, 1 or more.

    Returns
    -------
    NeedlePlan
        All colours fixed when there are needles for them; else those sewn most often stay, and
        the others take turns on the last needle.

    Examples
    --------
    >>> plan = plan_needles(["a", "b", "c", "a", "d"], 3)
    >>> plan.fixed, plan.rotating, plan.changes_at, plan.changes(10)
    (('a', 'b'), ('c', 'd'), (3, 5), 19)
    """
    colours = list(dict.fromkeys(keys))
    if len(colours) <= needles:
        return NeedlePlan(tuple(colours), (), ())
    times = Counter(keys)
    kept = sorted(colours, key=lambda key: -times[key])[: needles - 1]
    fixed = tuple(colour for colour in colours if colour in kept)
    turns: list[str] = []
    at: list[int] = []
    for n, key in enumerate(keys, 1):
        if key not in kept and (not turns or turns[-1] != key):
            turns.append(key)
            at.append(n)
    return NeedlePlan(fixed, tuple(turns), tuple(at))
