"""Spoilage and spares: how many pieces go wrong, how many more to have ready."""

from __future__ import annotations

from collections.abc import Sequence
from heapq import heapify, heapreplace
from math import exp, log, log1p, prod

PROBABILITY_EPSILON = 1e-12
MOST_SPARES = 200_000


def expected_remakes(pieces: int, *, spoil: float) -> float:
    """Return how many pieces are made again so that all are good.

    Parameters
    ----------
    pieces : int
        How many.
    spoil : float
        Chance that a piece is spoiled, 0 to 1.

    Returns
    -------
    float

    Source
    ------
    docs/formulas.md 10: N · p / (1 - p).

    >>> round(expected_remakes(24, spoil=0.05), 3)
    1.263
    """
    return pieces * spoil / (1 - spoil)


class _Chance:
    """P(at least N good of N + S), grown one spare at a time."""

    def __init__(self, pieces: int, spoil: float):
        self.pieces, self.spoil = pieces, spoil
        self.spares = 0
        # the N-th good piece comes at trial N + k: C(N + k - 1, k) (1-p)^N p^k
        self._log_term = pieces * log1p(-spoil)
        self.value = exp(self._log_term)

    def _next_log_term(self) -> float:
        k = self.spares + 1
        return self._log_term + log(self.spoil * (self.pieces + k - 1) / k)

    def after_one_more(self) -> float:
        return self.value + exp(self._next_log_term())

    def add(self) -> None:
        self._log_term = self._next_log_term()
        self.value += exp(self._log_term)
        self.spares += 1


def spares_needed(
    cells: Sequence[int],
    *,
    spoil: float,
    confidence: float,
    costs: Sequence[float] | None = None,
) -> list[int]:
    """Return the spares of each cell (goods × size × colour).

    Parameters
    ----------
    cells : sequence of int, shape (n_cells,)
        Pieces of each.
    spoil : float
        p, 0 up to 1.
    confidence : float
        Chance that all cells are covered, under 1.
    costs : sequence of float, shape (n_cells,), optional
        Of a spare in each; a spare goes where it raises the chance most for its cost.

    Returns
    -------
    list of int, shape (n_cells,)

    Source
    ------
    docs/formulas.md 10.

    Examples
    --------
    >>> spares_needed([24], spoil=0.05, confidence=0.95)
    [3]
    """
    chances = [_Chance(n, spoil) for n in cells]
    prices = [max(cost, 1e-9) for cost in costs] if costs else [1.0] * len(chances)

    def gain(i: int) -> tuple[float, int]:
        chance = chances[i]
        more = chance.after_one_more() / chance.value - 1 if chance.value > 0 else 1.0
        return -more / prices[i], i

    best = [gain(i) for i in range(len(chances))] if spoil > 0 else []
    heapify(best)
    for _ in range(MOST_SPARES):
        whole = prod(chance.value for chance in chances)
        if whole >= confidence - PROBABILITY_EPSILON or spoil <= 0:
            break
        _, i = best[0]
        chances[i].add()
        heapreplace(best, gain(i))
    return [chance.spares for chance in chances]
