"""The run, simulated event by event: who does what when, who waits for whom, and what would help.

One pure function: the same plan, options and seed give the same result, byte for byte. Seconds and
pieces only; what the time saved is worth is the estimate's.
"""

from __future__ import annotations

import hashlib
import json
import math
from collections.abc import Callable, Generator, Sequence
from dataclasses import asdict, replace
from typing import Any, Literal

import numpy as np
import simpy

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.work.document import EventTold, PassTold, Work

Cause = Literal[
    "prepare",
    "load",
    "sew",
    "serve",
    "stand by",
    "finish",
    "wait for hands",
    "wait for a piece",
]
SERVE, LOAD, PREPARE, FINISH = range(4)
"""Whom hands serve first: a stopped machine, then loading, then preparing, then finishing."""

ATTENDED = frozenset({"load", "sew"})
"""Events that go on while the machine runs: it does not stop and wait for a person."""

TASK_SPREAD = 0.15
"""Of a single task's time about its group's factor, as a logarithm."""


@record
class PassPlan:
    """One pass as it is simulated; seconds of one cycle.

    `machine_s` the machine runs, `load_s` of a person to load it, of which `lead_s` pass before it
    starts, `attend_s` of a person while it
    sews, `served` the stops that a person comes to: (machine's, person's, how often a cycle);
    `before_s` readies the next piece, `after_s` finishes one; `hoops` go round for it. Of the
    machine's seconds `trim_s` are jump threads that it cuts; by hand afterwards they take `clip_s`.
    """

    id: str
    label: str
    machine: str
    cycles: int
    machine_s: float
    load_s: float
    attend_s: float
    served: tuple[tuple[float, float, float], ...]
    before_s: float
    after_s: float
    hoops: int
    lead_s: float = 0.0
    trim_s: float = 0.0
    clip_s: float = 0.0


@record
class RunPlan:
    """What is simulated: passes in order, hands, and whether pieces are finished one by one."""

    passes: tuple[PassPlan, ...]
    hands: int
    piecewise: bool


@record
class Interval:
    """A stretch of a lane: from, to, why; of which pass and which of its cycles, from 1."""

    start_s: float
    end_s: float
    cause: Cause
    of: str
    cycle: int


@record
class Lane:
    """A machine or a pair of hands over the run."""

    id: str
    label: str
    kind: Literal["machine", "hands"]
    intervals: tuple[Interval, ...]

    def total(self, *causes: str) -> float:
        """Add up the seconds of some causes."""
        return sum(i.end_s - i.start_s for i in self.intervals if i.cause in causes)


@record
class RunResult:
    """A run: how long, its lanes; `waits` says whether anybody waited for the other at all."""

    elapsed_s: float
    lanes: tuple[Lane, ...]
    waits: bool


@record
class Spread:
    """How long a run takes in 10, 50 and 90 of 100 runs."""

    p10_s: float
    p50_s: float
    p90_s: float
    runs: int


@record
class Instead:
    """What another way would take; `saved_s` is below zero where it takes longer."""

    id: str
    label: str
    elapsed_s: float
    saved_s: float


def _cycle(events: Sequence[EventTold], cycles: int) -> dict[str, float]:
    load = sum(e.operator_s for e in events if e.task == "load")
    attend = sum(e.operator_s for e in events if e.task == "sew")
    return {"load_s": load / cycles, "attend_s": attend / cycles}


def _served(events: Sequence[EventTold], cycles: int) -> tuple[tuple[float, float, float], ...]:
    """List the stops to which a person comes: each one's seconds, and how often a cycle."""
    found = []
    for event in events:
        if event.task in ATTENDED or event.operator_s <= 0 or event.times <= 0:
            continue
        each = event.machine_s / event.times, event.operator_s / event.times
        found.append((*each, event.times / cycles))
    return tuple(found)


def run_plan(work: Work, house: House) -> RunPlan:
    """Take from an order's work what a run is simulated from; samples are sewn before it.

    Parameters
    ----------
    work : Work
    house : House
    """
    places = {p.id: p for line in work.lines for p in line.placements}
    lines = {line.id: line for line in work.lines}
    begun: set[str] = set()
    found = []
    for each in (p for p in work.passes if not p.sample):
        cycles = max(1, each.cycles)
        before, after = _hands(each)
        for of in each.of:
            if of.line not in begun:
                begun.add(of.line)
                before += sum(t.total_s for t in lines[of.line].tasks if t.before)
                after += sum(t.total_s for t in lines[of.line].tasks if not t.before)
        hoop = house.hoops.get(places[each.of[0].placement].hoop or "")
        position = house.positions.get(places[each.of[0].placement].position)
        trims = [e for e in each.events if e.task == "trim"]
        clip_s = float(house.tasks["clip"].seconds) * sum(e.times for e in trims)
        found.append(
            PassPlan(
                trim_s=sum(e.machine_s for e in trims) / cycles,
                clip_s=clip_s / cycles,
                id=each.id,
                label=position.label if position else each.id,
                machine=each.machine,
                cycles=cycles,
                machine_s=each.machine_s / cycles,
                lead_s=house.events.lead_s if any(e.task == "load" for e in each.events) else 0.0,
                served=_served(each.events, cycles),
                before_s=before / cycles,
                after_s=(after + each.winding_s) / cycles,
                hoops=max(1, (hoop.count if hoop else 1) // max(1, each.heads)),
                **_cycle(each.events, cycles),
            )
        )
    return RunPlan(tuple(found), house.run.operators, house.run.finishing == "piece")


def _hands(each: PassTold) -> tuple[float, float]:
    before = sum(t.total_s for t in each.tasks if t.before)
    return before, sum(t.total_s for t in each.tasks if not t.before)


class _Hands:
    """The hands of the shop: whoever is free serves what is asked for first."""

    def __init__(self, env: simpy.Environment, count: int):
        self.env = env
        self.resource = simpy.PriorityResource(env, capacity=count)
        self.free = list(range(count))
        self.done: list[list[Interval]] = [[] for _ in range(count)]

    def work(
        self, seconds: float, priority: int, cause: Cause, of: str, cycle: int
    ) -> Generator[Any, Any, None]:
        """Do something as soon as a pair of hands is free."""
        if seconds <= 0:
            return
        with self.resource.request(priority=priority) as turn:
            yield turn
            who, start = self.free.pop(0), self.env.now
            yield self.env.timeout(seconds)
            self.done[who].append(Interval(start, self.env.now, cause, of, cycle))
            self.free.append(who)
            self.free.sort()


class _Machine:
    """A machine: what it does, and the person who stays with it for a while."""

    def __init__(self, env: simpy.Environment, hands: _Hands):
        self.env, self.hands = env, hands
        self.done: list[Interval] = []
        self.until = 0.0
        self.with_it = False
        self.beside: list[Any] = []

    def gone(self) -> Generator[Any, Any, None]:
        """Wait until nobody stays with it any more, nor was asked to."""
        yield self.env.all_of(self.beside)
        self.beside.clear()
        while self.with_it:
            yield self.env.timeout(max(self.until - self.env.now, 1e-9))

    def stay(
        self, seconds: float, priority: int, cause: Cause, of: str, cycle: int
    ) -> Generator[Any, Any, None]:
        """Wait for a person, who then stays so long; who is there already stays longer."""
        if self.with_it:
            self.until += seconds
            return
        turn = self.hands.resource.request(priority=priority)
        yield turn
        if self.with_it:  # somebody asked for at the same moment came first: they stay longer
            self.hands.resource.release(turn)
            self.until += seconds
            return
        self.with_it, self.until = True, self.env.now + seconds
        self.env.process(self._leave(turn, cause, of, cycle))

    def _leave(self, turn: Any, cause: Cause, of: str, cycle: int) -> Generator[Any, Any, None]:
        who, start = self.hands.free.pop(0), self.env.now
        while self.env.now < self.until:
            yield self.env.timeout(max(self.until - self.env.now, 1e-9))
        self.with_it = False
        self.hands.done[who].append(Interval(start, self.env.now, cause, of, cycle))
        self.hands.free.append(who)
        self.hands.free.sort()
        self.hands.resource.release(turn)

    def note(self, start: float, cause: Cause, of: str, cycle: int) -> None:
        """Note what it did since a moment."""
        if self.env.now > start:
            self.done.append(Interval(start, self.env.now, cause, of, cycle))


class _Chance:
    """Factors of a run: none without a seed; else one a group, and one a task within it."""

    def __init__(self, seed: int | None, spreads: dict[str, float]):
        self.random = np.random.default_rng(seed) if seed is not None else None
        self.groups = (
            {name: math.exp(self.random.normal(0, s)) for name, s in spreads.items()}
            if self.random
            else dict.fromkeys(spreads, 1.0)
        )

    def of(self, group: str, seconds: float) -> float:
        """Return a task's seconds in this run."""
        if self.random is None:
            return seconds
        return seconds * self.groups[group] * math.exp(self.random.normal(0, TASK_SPREAD))

    def times(self, expected: float) -> float:
        """How often something happens in a cycle: as expected, or as it falls (Poisson)."""
        if self.random is None:
            return expected
        return float(self.random.poisson(expected))


def spreads_of(house: House) -> dict[str, float]:
    """Return how far each group's time may be off, as the spread of its logarithm."""
    sure = house.sure
    return {
        "sewing": float(sure.sewing),
        "loading": float(sure.loading),
        "hooping": float(sure.hooping),
        "finishing": float(sure.finishing),
    }


def simulate(
    plan: RunPlan, *, seed: int | None = None, spreads: dict[str, float] | None = None
) -> RunResult:
    """Simulate a run: expected values without a seed, else one run as it may fall.

    Parameters
    ----------
    plan : RunPlan
    seed : int, optional
    spreads : dict, optional
        By group, see `spreads_of`.

    Returns
    -------
    RunResult
        Where nobody waits, `elapsed_s` is the closed form's of one pass.

    Source
    ------
    docs/formulas.md 9; the handbook's workshop 5.
    """
    groups = {"sewing": 0.0, "loading": 0.0, "hooping": 0.0, "finishing": 0.0}
    chance = _Chance(seed, groups | (spreads or {}))
    env = simpy.Environment()
    hands = _Hands(env, plan.hands)
    machines: dict[str, _Machine] = {}
    lanes: dict[str, list[PassPlan]] = {}
    for each in plan.passes:
        machines.setdefault(each.machine, _Machine(env, hands))
        lanes.setdefault(each.machine, []).append(each)
    ends = [
        env.process(_passes(env, machines[key], hands, passes, plan, chance))
        for key, passes in lanes.items()
    ]
    env.run(env.all_of(ends) if ends else None)
    elapsed = float(env.now)
    found = [
        Lane(key, key, "machine", tuple(machine.done)) for key, machine in machines.items()
    ] + [
        Lane(f"hands-{n + 1}", f"hands {n + 1}", "hands", tuple(done))
        for n, done in enumerate(hands.done)
    ]
    waits = any(lane.total("wait for hands") > 1e-6 for lane in found)
    return RunResult(elapsed, tuple(found), waits)


def _passes(
    env: simpy.Environment,
    machine: _Machine,
    hands: _Hands,
    passes: Sequence[PassPlan],
    plan: RunPlan,
    chance: _Chance,
) -> Generator[Any, Any, None]:
    """Sew a machine's passes one after the other; the batch is finished after each."""
    for each in passes:
        ready: simpy.Store = simpy.Store(env)
        hoops = simpy.Container(env, capacity=each.hoops, init=each.hoops)
        env.process(_prepare(env, hands, each, ready, hoops, chance))
        finishing = []
        held = 0  # hoops that come off when the next one goes on
        for cycle in range(1, each.cycles + 1):
            start = env.now
            if held and not ready.items:
                held = yield from _back(hoops, held)
            yield ready.get()
            machine.note(start, "wait for a piece", each.id, cycle)
            yield env.process(_loaded(env, machine, each, cycle, chance))
            held = yield from _back(hoops, held)
            yield env.process(_cycle_of(env, machine, each, cycle, chance))
            held = 1
            if plan.piecewise:
                seconds = chance.of("finishing", each.after_s)
                finishing.append(env.process(hands.work(seconds, FINISH, "finish", each.id, cycle)))
        yield from machine.gone()
        if plan.piecewise:
            yield env.all_of(finishing)
            continue
        share = each.after_s * each.cycles / plan.hands
        batch = [
            env.process(
                hands.work(chance.of("finishing", share), FINISH, "finish", each.id, each.cycles)
            )
            for _ in range(plan.hands)
        ]
        yield env.all_of(batch)


def _back(hoops: simpy.Container, held: int) -> Generator[Any, Any, int]:
    """Take a hoop off the machine, so that the next piece but one can be readied."""
    if held:
        yield hoops.put(held)
    return 0


def _loaded(
    env: simpy.Environment, machine: _Machine, each: PassPlan, cycle: int, chance: _Chance
) -> Generator[Any, Any, None]:
    """Wait for a person, who loads the piece: hands load before they ready another."""
    start = env.now
    yield env.process(machine.stay(chance.of("loading", each.load_s), LOAD, "load", each.id, cycle))
    machine.note(start, "wait for hands", each.id, cycle)
    start = env.now
    yield env.timeout(each.lead_s)
    machine.note(start, "load", each.id, cycle)


def _prepare(
    env: simpy.Environment,
    hands: _Hands,
    each: PassPlan,
    ready: simpy.Store,
    hoops: simpy.Container,
    chance: _Chance,
) -> Generator[Any, Any, None]:
    """Ready piece after piece, as hoops come free."""
    for cycle in range(1, each.cycles + 1):
        yield hoops.get(1)
        seconds = chance.of("hooping", each.before_s)
        yield env.process(hands.work(seconds, PREPARE, "prepare", each.id, cycle))
        yield ready.put(cycle)


def _cycle_of(
    env: simpy.Environment, machine: _Machine, each: PassPlan, cycle: int, chance: _Chance
) -> Generator[Any, Any, None]:
    """Sew, be served where it stops: a person is waited for at stops."""
    stops = []
    for machine_s, person_s, often in each.served:
        times = chance.times(often)
        if times > 0:
            stops.append((machine_s * times, person_s * times))
    expected = sum(m * often for m, _, often in each.served)
    sewing = chance.of("sewing", max(0.0, each.machine_s - expected))
    stretch = sewing / (len(stops) + 1)
    if each.attend_s > 0:
        seconds = chance.of("sewing", each.attend_s)
        machine.beside.append(env.process(machine.stay(seconds, SERVE, "stand by", each.id, cycle)))
    for n in range(len(stops) + 1):
        start = env.now
        yield env.timeout(stretch)
        machine.note(start, "sew", each.id, cycle)
        if n == len(stops):
            return
        machine_s, person_s = stops[n]
        start = env.now
        yield env.process(machine.stay(person_s, SERVE, "serve", each.id, cycle))
        machine.note(start, "wait for hands", each.id, cycle)
        start = env.now
        yield env.timeout(machine_s)
        machine.note(start, "serve", each.id, cycle)


def best(plan: RunPlan) -> tuple[RunPlan, RunResult]:
    """Find how far ahead hands do best: they need not ready as many pieces as there are hoops.

    Who is in the midst of readying one lets a stopped machine wait; so more hoops, or more hands
    in each other's way, could make a run longer. They need not be used: the fastest way is taken.

    Returns
    -------
    (RunPlan, RunResult)
        With as many hoops and hands as are used, expected values.
    """
    most = max((each.hoops for each in plan.passes), default=1)
    ways = {
        tuple(min(max(1, p.hoops - fewer), cap) for p in plan.passes)
        for fewer in range(most)
        for cap in range(1, most + 1)
    }
    found: list[tuple[float, int, tuple[int, ...], RunPlan, RunResult]] = []
    for hands in range(max(1, plan.hands - 3) if plan.hands > 6 else 1, plan.hands + 1):
        for hoops in sorted(ways):
            passes = tuple(replace(p, hoops=n) for p, n in zip(plan.passes, hoops, strict=True))
            tried = replace(plan, passes=passes, hands=hands)
            result = simulate(tried)
            found.append((round(result.elapsed_s, 6), hands, hoops, tried, result))
    *_, tried, result = min(found, key=lambda row: row[:3])
    return tried, result


def spread(
    plan: RunPlan,
    spreads: dict[str, float],
    *,
    runs: int = 200,
    seed: int = 1,
    told: Callable[[int], bool] = lambda _: True,
) -> Spread:
    """Simulate a run so many times, and say between which times it ends.

    Parameters
    ----------
    plan : RunPlan
    spreads : dict
        See `spreads_of`.
    runs, seed : int
    told : callable
        Given how many are done; what it returns says whether to go on.
    """
    found: list[float] = []
    for n in range(runs):
        found.append(simulate(plan, seed=seed * 100_003 + n, spreads=spreads).elapsed_s)
        if not told(n + 1):
            break
    found.sort()

    def at(share: float) -> float:
        return found[min(len(found) - 1, int(share * len(found)))]

    return Spread(at(0.1), at(0.5), at(0.9), len(found))


def bottleneck(result: RunResult) -> str:
    """Say who holds up whom, in words."""
    machines = [lane for lane in result.lanes if lane.kind == "machine"]
    hands = [lane for lane in result.lanes if lane.kind == "hands"]
    for_hands = sum(lane.total("wait for hands") for lane in machines)
    for_pieces = sum(lane.total("wait for a piece") for lane in machines)
    busy = sum(lane.total("prepare", "load", "serve", "stand by", "finish") for lane in hands)
    idle = max(0.0, result.elapsed_s * len(hands) - busy)

    def minutes(seconds: float) -> str:
        return f"{seconds / 60:.0f} min"

    if for_hands + for_pieces > idle:
        return (
            f"The machine waits {minutes(for_hands + for_pieces)} for hands: they are what holds "
            "the run up."
        )
    return f"Hands wait {minutes(idle)} for the machine: it is what holds the run up."


def plan_hash(plan: RunPlan) -> str:
    """Return the content hash of what a run is simulated from."""
    return hashlib.sha256(json.dumps(asdict(plan), sort_keys=True).encode()).hexdigest()


def instead(
    plan: RunPlan, result: RunResult, *, more: Sequence[tuple[str, str, RunPlan]] = ()
) -> list[Instead]:
    """Simulate what else could be done, and say what each would save.

    Parameters
    ----------
    plan : RunPlan
    result : RunResult
        Of it.
    more : sequence of (id, label, RunPlan)
        Ways that are worked out elsewhere: larger hoopings.
    """
    passes = plan.passes
    ways: list[tuple[str, str, RunPlan]] = [
        (
            "hoop",
            "one more hoop",
            replace(plan, passes=tuple(replace(p, hoops=p.hoops + 1) for p in passes)),
        ),
        ("hands", "a second pair of hands", replace(plan, hands=plan.hands + 1)),
        (
            "finishing",
            "finishing in one batch" if plan.piecewise else "finishing each piece as it comes",
            replace(plan, piecewise=not plan.piecewise),
        ),
        ("machine", "a second machine like it", replace(plan, passes=_halved(passes))),
        *more,
    ]
    if any(p.trim_s for p in passes):
        clipped = tuple(
            replace(p, machine_s=p.machine_s - p.trim_s, after_s=p.after_s + p.clip_s)
            for p in passes
        )
        ways.append(("clipping", "clipping jump threads afterwards", replace(plan, passes=clipped)))
    found = []
    for key, label, other in ways:
        elapsed = best(other)[1].elapsed_s
        found.append(Instead(key, label, elapsed, result.elapsed_s - elapsed))
    return found


def _halved(passes: Sequence[PassPlan]) -> tuple[PassPlan, ...]:
    """Share each pass over two machines."""
    found = []
    for each in passes:
        second = each.cycles // 2
        found.append(replace(each, cycles=each.cycles - second))
        if second:
            found.append(
                replace(
                    each, id=f"{each.id}.second", machine=f"{each.machine}, second", cycles=second
                )
            )
    return tuple(found)
