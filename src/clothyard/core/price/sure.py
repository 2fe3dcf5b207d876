"""How sure a cost is: the band that its uncertain factors and its remakes give it."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from decimal import Decimal
from functools import lru_cache
from itertools import accumulate
from statistics import NormalDist
from typing import NamedTuple

import numpy as np

from clothyard.core.house.document import House, Sure
from clothyard.core.price.cost import LineCost, bobbin_cost
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

PRIOR_PIECES = 20
"""How many pieces a class's share spoiled counts for before any is logged."""
GATHERED = 1.12
"""Numbers of spoiled pieces are gathered in groups that grow by so much, small ones singly."""
P10, P90, P80 = 0.10, 0.90, 0.80
Z10 = 1.2815515655446004


class Term(NamedTuple):
    """An uncertain factor: its name, the spread of its logarithm, what all of it moves."""

    name: str
    spread: float
    moves: float


@record
class Remakes:
    """Remakes: pieces, chance of each, what one spoiled piece costs. [money]"""

    pieces: int
    chance: float
    each: float


def _normal(z: float) -> float:
    return 0.5 * math.erfc(-z / math.sqrt(2))


def _matched(terms: Sequence[Term]) -> tuple[float, float, float]:
    """Match Σ d·e^(s·z) in mean, variance and skewness: (shift, μ, σ); σ 0 for a certain sum."""
    mean = variance = third = 0.0
    for _, s, d in terms:
        w = math.exp(s * s)
        mean += d * math.sqrt(w)
        variance += d * d * w * (w - 1)
        third += d**3 * w**1.5 * (w - 1) ** 2 * (w + 2)
    if variance <= 1e-18:
        return mean, 0.0, 0.0
    skew = third / variance**1.5
    # (w + 2)·√(w - 1) = skewness has one root over 1
    half = math.sqrt(skew * skew / 4 + 1)
    up, down = math.cbrt(half + skew / 2), math.cbrt(half - skew / 2)
    w = 1 + (up - down) ** 2
    scale = math.sqrt(variance / (w * (w - 1)))
    return mean - scale * math.sqrt(w), math.log(scale), math.sqrt(math.log(w))


@lru_cache(maxsize=1024)
def _spoiled(n: int, p: float) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Numbers of spoiled pieces out of n, gathered, and their chances: a beta-binomial.

    Source: docs/formulas.md 12 and 15: the learning rule's own prior of 20 pieces.
    """
    if p <= 0:
        return (0.0,), (1.0,)
    a, b = PRIOR_PIECES * p, PRIOR_PIECES * (1 - p)
    first = math.lgamma(a + b) - math.lgamma(b) + math.lgamma(b + n) - math.lgamma(a + b + n)
    k = np.arange(n)
    ratio = np.log((n - k) / (k + 1) * (a + k) / (b + n - k - 1))
    chances = np.exp(first + np.concatenate(([0.0], np.cumsum(ratio))))
    kept = int(np.searchsorted(np.cumsum(chances), 1 - 1e-7)) + 1
    chances = chances[: min(kept, n + 1)]
    starts = [0]
    while starts[-1] < len(chances) - 1:
        starts.append(max(starts[-1] + 1, round(starts[-1] * GATHERED)))
    starts = [k for k in starts if k < len(chances)]
    gathered = np.add.reduceat(chances, starts)
    middles = np.add.reduceat(chances * np.arange(len(chances)), starts) / gathered
    return tuple(middles.tolist()), tuple((gathered / gathered.sum()).tolist())


class Band:
    """What a sum may come to.

    Parameters
    ----------
    at : float
        The estimate: every factor at its median, remakes at their mean.
    terms : sequence of Term
    remakes : Remakes, optional

    Notes
    -----
    `terms` are those that move it, the largest first.

    Source
    ------
    docs/formulas.md 15: one shifted lognormal, a mixture over spoiled pieces.
    """

    def __init__(self, at: float, terms: Sequence[Term], remakes: Remakes | None = None):
        moved = [t for t in terms if t.spread and t.moves]
        self.at = at
        self.terms = sorted(moved, key=lambda t: -t.spread * t.moves)
        shift, self._mu, self._sigma = _matched(moved)
        each = remakes.each if remakes else 0.0
        numbers, self._chances = (
            _spoiled(remakes.pieces, remakes.chance) if remakes and each else ((0.0,), (1.0,))
        )
        mean = remakes.pieces * remakes.chance * each if remakes else 0.0
        fixed = at - mean - sum(t.moves for t in moved)
        self._starts = [fixed + shift + k * each for k in numbers]
        self._known: dict[float, float] = {}

    def under(self, amount: float) -> float:
        """Return the chance that it comes to no more than an amount."""
        found = 0.0
        for start, chance in zip(self._starts, self._chances, strict=True):
            left = amount - start
            if self._sigma == 0:
                found += chance if left >= -NOISE else 0.0
            elif left > 0:
                found += chance * _normal((math.log(left) - self._mu) / self._sigma)
        return found

    def chance_over(self, amount: float) -> float:
        """Return the chance that it comes to more than an amount."""
        return max(0.0, 1 - self.under(amount))

    def _under_and_slope(self, amount: float) -> tuple[float, float]:
        """Return the chance that it stays under an amount, and how fast that grows there."""
        log, exp, erfc = math.log, math.exp, math.erfc
        found = slope = 0.0
        for start, chance in zip(self._starts, self._chances, strict=True):
            left = amount - start
            if left > 0:
                z = (log(left) - self._mu) / self._sigma
                found += chance * erfc(-z / _ROOT_TWO)
                slope += chance * exp(-z * z / 2) / left
        return found / 2, slope / (self._sigma * _ROOT_TWO_PI)

    def quantile(self, share: float) -> float:
        """Return what it stays under in so large a share of cases."""
        if share not in self._known:
            self._known[share] = self._quantile(share)
        return self._known[share]

    def _quantile(self, share: float) -> float:
        """By Newton's steps, and by halving where one would leave what is known."""
        wide = math.exp(self._mu + _QUANTILES.inv_cdf(share) * self._sigma) if self._sigma else 0.0
        low, high = self._starts[0], self._starts[-1] + wide
        if len(self._starts) == 1:
            return high
        if not self._sigma:
            chances = zip(self._starts, accumulate(self._chances), strict=True)
            return next((at for at, under in chances if under >= share - NOISE), high)
        at = wide + sum(s * chance for s, chance in zip(self._starts, self._chances, strict=True))
        at = min(max(at, low), high)
        while high - low > NEAR * (1 + abs(high)):
            under, slope = self._under_and_slope(at)
            low, high = (at, high) if under < share else (low, at)
            step = (under - share) / slope if slope else math.inf
            if abs(step) < NEAR / 4 * (1 + abs(at)):
                return at - step
            at = at - step if low < at - step < high else (low + high) / 2
        return high


_ROOT_TWO = math.sqrt(2)
_ROOT_TWO_PI = math.sqrt(2 * math.pi)
NOISE = 1e-9
NEAR = 1e-7
_QUANTILES = NormalDist()


STITCHES, NEEDLE, BOBBIN = "stitches", "needle thread", "bobbin thread"
SEWING, LOADING, STANDBY, BREAKS = "needle time", "loading", "standing by", "thread breaks"
HOOPING, PREPARING, FINISHING = "hooping", "preparing", "finishing"
CUSTOMER = "the customer"
_CERTAIN = {"trim"}
_GROUPS = {HOOPING: "hooping", PREPARING: "hooping", CUSTOMER: "order"}
_TOGETHER = {"hooping": "preparing and hooping", "order": "order tasks"}


class _Sums:
    """Adds up what each factor moves, by name and spread."""

    def __init__(self, house: House):
        self.rules: Sure = house.sure
        self.found = dict[tuple[str, float], float]()
        self._together = {
            name: group for name, group in _GROUPS.items() if f"sure.{group}" in house.learnt
        }

    def of(self, name: str) -> str:
        """What a hand task's factor is called: its group's, where the log has taught that, since
        what was clocked is the whole group."""
        group = self._together.get(name)
        return _TOGETHER[group] if group else name

    def add(self, name: str, spread: float, moves: float) -> None:
        if moves:
            key = (name, spread)
            self.found[key] = self.found.get(key, 0.0) + moves

    @property
    def terms(self) -> list[Term]:
        return [Term(name, spread, moves) for (name, spread), moves in self.found.items()]


def _known(facts: DesignFacts) -> bool:
    """Whether a design's stitches are laid, so that thread and time follow from their geometry."""
    return facts.source in ("file", "words")


def _add_events(
    sums: _Sums, placed: PlacementPlan, done: Pass, pieces: float, *, machine: float, hand: float
) -> None:
    """Add a pass's events over so many pieces, a second of machine and of hands counted so much."""
    rules, facts, n = sums.rules, placed.facts, pieces
    sewing = rules.sewing if _known(facts) else rules.sewing_guessed
    stitches = getattr(rules, f"stitches_{facts.source}")
    for event in done.events:
        m, o = event.machine_s * n * machine, event.operator_s * n * hand
        if event.name == "sew":
            sums.add(SEWING, sewing, m)
            sums.add(STANDBY, rules.standby, o)
            sums.add(STITCHES, stitches, m + o)
        elif event.name == "break":
            sums.add(BREAKS, rules.breaks, m + o)
            sums.add(STITCHES, stitches, m + o)
        elif event.name not in _CERTAIN and o:
            sums.add(LOADING, rules.loading, m + o)


def _add_hands(
    sums: _Sums, placed: PlacementPlan, done: Pass, pieces: float, *, hand: float
) -> None:
    """Add a pass's handwork over so many pieces: hooping, the rest before the needle, after it."""
    rules, hoopings = sums.rules, done.loads.hoopings / done.pieces * pieces
    for task in placed.tasks:
        seconds = task.total_s * (hoopings if task.per == "hooping" else pieces)
        seconds *= done.practice if task.practised else 1.0
        hooped = task.task.startswith("hoop-")
        name = HOOPING if hooped else PREPARING if task.before else FINISHING
        spread = rules.hooping if task.before else rules.finishing
        sums.add(sums.of(name), spread, seconds * hand)
    sums.add(FINISHING, rules.finishing, done.winding_s * pieces * hand)


def _add_piece(sums: _Sums, done: LineDone, pieces: float, *, hand: float) -> None:
    """Add what each piece takes once, whatever its placements."""
    for task in done.plan.tasks:
        name, spread = (
            (PREPARING, sums.rules.hooping) if task.before else (FINISHING, sums.rules.finishing)
        )
        sums.add(sums.of(name), spread, task.total_s * pieces * hand)


def cost_terms(cost: LineCost) -> list[Term]:
    """List what moves a line's cost, in money: read from its own events, tasks and thread.

    Parameters
    ----------
    cost : LineCost

    Source
    ------
    docs/formulas.md 15.
    """
    house, done = cost.done.plan.house, cost.done
    sums = _Sums(house)
    hand = float(cost.rates.labour_per_h + cost.rates.overhead_per_h) / 3600
    passes = [(placed, each, float(each.pieces)) for placed, each in done.placed]
    passes += [
        (placed, each, done.samples)
        for placed, each in zip(done.plan.placements, done.sampled.first, strict=False)
    ]
    for placed, each, pieces in passes:
        rate = float(house.machines[placed.making.machine_id].rate_per_h) / 3600
        _add_events(sums, placed, each, pieces, machine=rate, hand=hand)
        _add_hands(sums, placed, each, pieces, hand=hand)
        _add_thread(sums, placed, each, pieces, house)
    _add_piece(sums, done, done.quantity + done.samples, hand=hand)
    share = float(cost.order_share) * hand
    for task in cost.order.tasks:
        customer = task.task.startswith("customer")
        name = CUSTOMER if customer else task.label[:1].lower() + task.label[1:]
        name = name if sums.of(CUSTOMER) == CUSTOMER else sums.of(CUSTOMER)
        sums.add(name, house.sure.order, task.total_s * share)
    sums.add(sums.of(CUSTOMER), house.sure.order, done.names_s * hand)
    return sums.terms


def _add_thread(
    sums: _Sums, placed: PlacementPlan, done: Pass, pieces: float, house: House
) -> None:
    rules, facts = sums.rules, placed.facts
    known, stitches = _known(facts), getattr(rules, f"stitches_{facts.source}")
    price = float(house.thread_price_per_m(placed.making.thread_id))
    needle = done.needle_m * pieces * price
    bobbin = float(bobbin_cost(placed, done, house)) / done.pieces * pieces
    sums.add(NEEDLE, rules.needle if known else rules.needle_guessed, needle)
    sums.add(BOBBIN, rules.bobbin if known else rules.bobbin_guessed, bobbin)
    sums.add(STITCHES, stitches, needle + bobbin)


def _remakes(cost: LineCost) -> Remakes | None:
    plan, q = cost.done.plan, cost.quantity
    spoilage = float(cost.spoilage_remakes)
    if not spoilage or not plan.spoil:
        return None
    return Remakes(q, plan.spoil, spoilage / (q * plan.spoil))


def cost_band(cost: LineCost) -> Band:
    """Work out the band of a line's full cost. [money]

    Source: docs/formulas.md 15.
    """
    return Band(float(cost.total), cost_terms(cost), _remakes(cost))


def order_band(costs: Sequence[LineCost], bands: Sequence[Band]) -> Band:
    """Work out the band of an order's cost: a factor moves all its lines together. [money]

    Parameters
    ----------
    costs, bands : sequences of LineCost and Band, one a line each

    Source
    ------
    docs/formulas.md 15.
    """
    sums = _Sums(costs[0].done.plan.house)
    pieces = spoiled = spent = 0.0
    for cost, band in zip(costs, bands, strict=True):
        for term in band.terms:
            sums.add(*term)
        remakes = _remakes(cost)
        if remakes:
            pieces += remakes.pieces
            spoiled += remakes.pieces * remakes.chance
            spent += remakes.pieces * remakes.chance * remakes.each
    together = Remakes(round(pieces), spoiled / pieces, spent / spoiled) if spoiled else None
    return Band(float(sum(cost.total for cost in costs)), sums.terms, together)


def minutes_bands(cost: LineCost) -> Mapping[str, tuple[float, float]]:
    """Work out P10 and P90 of a piece's minutes: at the machine, and of hands. [min]"""
    done = cost.done
    machine, hands = _Sums(done.plan.house), _Sums(done.plan.house)
    for placed, each in done.placed:
        _add_events(machine, placed, each, each.pieces, machine=1.0, hand=0.0)
        _add_events(hands, placed, each, each.pieces, machine=0.0, hand=1.0)
        _add_hands(hands, placed, each, each.pieces, hand=1.0)
    _add_piece(hands, done, done.quantity, hand=1.0)
    of = 60 * done.quantity
    found = {}
    for name, at, sums in (
        ("machine", done.machine_s, machine),
        ("hands", done.labour_s, hands),
    ):
        band = Band(at, sums.terms)
        found[name] = (band.quantile(P10) / of, band.quantile(P90) / of)
    return found


def thread_bands(cost: LineCost) -> Mapping[str, tuple[float, float]]:
    """Work out P10 and P90 of a piece's thread: needle and bobbin. [m]"""
    rules, q = cost.done.plan.house.sure, cost.quantity
    found = {"needle": [0.0, 0.0], "bobbin": [0.0, 0.0]}
    for placed, done in cost.done.placed:
        facts = placed.facts
        known, stitches = _known(facts), getattr(rules, f"stitches_{facts.source}")
        share = done.pieces / q
        for side, metres, spread in (
            ("needle", done.needle_m, rules.needle if known else rules.needle_guessed),
            ("bobbin", done.bobbin_m, rules.bobbin if known else rules.bobbin_guessed),
        ):
            s = math.hypot(spread, stitches)
            found[side][0] += metres * share * math.exp(-Z10 * s)
            found[side][1] += metres * share * math.exp(Z10 * s)
    return {side: (low, high) for side, (low, high) in found.items()}


NARROWS = {
    STITCHES: "get the stitch file",
    NEEDLE: "get the stitch file",
    BOBBIN: "get the stitch file",
    SEWING: "log three jobs on this machine",
    LOADING: "sew a sample and time it",
    STANDBY: "sew a sample and time it",
    HOOPING: "sew a sample and time it",
    PREPARING: "sew a sample and time it",
    FINISHING: "sew a sample and time it",
    CUSTOMER: "agree on fewer rounds with the customer, or log three jobs",
    BREAKS: "log three jobs with this thread",
}
"""What would narrow each factor."""


def narrowing(term: Term) -> str:
    """Say what would narrow a factor."""
    return NARROWS.get(term.name, "log three jobs")


def as_money(amount: float) -> Decimal:
    """Take a worked amount as money. Not rounded."""
    return Decimal(repr(round(amount, 9)))
