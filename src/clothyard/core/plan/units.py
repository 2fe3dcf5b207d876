"""The units of an order: what is waited for, prepared, sewn, finished, packed; what goes first.

They are what the order's page lists, and what a plan places.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Sequence
from dataclasses import replace
from typing import Any, Literal

from pydantic import TypeAdapter

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.stock.needs import thread_on
from clothyard.core.work.document import LineTold, PassTold, TaskTold, Work

Kind = Literal["wait", "sample", "dry", "look", "prepare", "sew", "finish", "pack"]
Splits = Literal["no", "pieces", "cycles"]

CHANGE_OVERS = frozenset({"thread-colour", "thread-head", "cap-driver"})
"""Set-up that depends on what stood on the machine before: the plan's, not the order's."""

DESK = frozenset({"customer", "customer-repeat", "customer-counter", "name"})
"""Done before the order was accepted, or with the proof."""

DRIED = frozenset({"wash", "soak", "rinse-wash-away"})
"""After these a piece dries before it is packed."""


@record
class SetUp:
    """What stands on a machine for a unit: threads, hoop's kind, needle, the cap driver.

    A thread whose colour nobody knows begins with a question mark: it is like no other.
    """

    threads: tuple[str, ...] = ()
    hoop: str = ""
    needle: str = ""
    cap_driver: bool = False


@record
class Unit:
    """A stretch of work, or of waiting. [s]

    `machine_s` is how long the machine is taken, `person_s` how much of a person, `elapsed_s` how
    long it takes from begin to end when nothing else is waited for. `after` are the ids of what
    must be done before; `until` the ISO day of a wait, "" where none is known, `until_h` the hour
    of it: 24 where what arrives on that day is used from the next opening on.
    """

    id: str
    kind: Kind
    label: str
    machine: str
    pieces: int
    cycles: int
    machine_s: float
    person_s: float
    elapsed_s: float
    after: tuple[str, ...]
    splits: Splits
    of: str = ""
    until: str = ""
    set_up: SetUp | None = None
    until_h: float = 0.0


_UNITS: TypeAdapter[tuple[Unit, ...]] = TypeAdapter(tuple[Unit, ...])


def units_text(units: Sequence[Unit]) -> str:
    """Write units as JSON, as they are kept with an order."""
    return _UNITS.dump_json(tuple(units)).decode()


def read_units(text: str) -> tuple[Unit, ...]:
    """Read units as they were written; () of what cannot be read."""
    try:
        return _UNITS.validate_json(text) if text else ()
    except ValueError:
        return ()


def _sum(tasks: Iterable[TaskTold]) -> float:
    return sum(task.total_s for task in tasks)


def is_hooping(task: TaskTold) -> bool:
    """Whether a task goes on while the machine sews the piece before: hooping and pinning."""
    return task.task.startswith("hoop-") or task.task == "pins"


def _sew(
    each: PassTold,
    *,
    lead_s: float,
    second: bool,
    after: tuple[str, ...],
    label: str,
    set_up: SetUp,
) -> Unit:
    """A pass on its machine; with a second hoop the next piece is hooped meanwhile."""
    hooping = _sum(t for t in each.tasks if is_hooping(t))
    cycles = max(1, each.cycles)
    machine, hands = each.machine_s / cycles, each.attend_s / cycles
    hoop = hooping / cycles
    cycle = max(lead_s + machine, hands + hoop) if second else lead_s + machine + hoop
    pieces = sum(of.pieces for of in each.of)
    return Unit(
        f"{each.id}.sew",
        "sew",
        label,
        each.machine,
        pieces,
        cycles,
        cycle * cycles,
        each.attend_s + hooping,
        cycle * cycles,
        after,
        "cycles",
        each.id,
        set_up=set_up,
    )


def work_units(
    work: Work,
    house: House,
    *,
    waits: Sequence[tuple[str, str, str]] = (),
    washed: Collection[str] = (),
) -> list[Unit]:
    """Work out an order's units, what goes before first.

    Parameters
    ----------
    work : Work
    house : House
    waits : sequence of (id, label, until)
        What it waits for before anything is begun: goods, approval, a file; ISO day or "".
    washed : collection of str
        Lines whose sample is washed and dried before it is looked at, by id.

    Returns
    -------
    list of Unit
        A unit comes after all that it waits for.

    Source
    ------
    The handbook's workshop 1.
    """
    units = _Units(work, house, washed)
    units.found = [wait_unit(*wait) for wait in waits]
    units.first = tuple(unit.id for unit in units.found)
    for each in work.passes:
        if each.sample:
            units.sample(each)
    for each in work.passes:
        if not each.sample:
            units.sewing(each)
    ends = tuple(units.finishing(line) for line in work.lines)
    packing = _sum(t for line in work.lines for t in line.tasks if t.task == "pack")
    pieces = sum(line.quantity for line in work.lines)
    units.found.append(
        Unit("pack", "pack", "Pack and hand over", "", pieces, 0, 0.0, packing, packing, ends, "no")
    )
    return units.found


ARRIVES_H = 24.0
"""What arrives on a day is used from the next opening on."""


GOODS = "goods"
"""The id of the unit that waits for goods or materials."""


def wait_unit(id_: str, label: str, until: str, *, until_h: float = 0.0) -> Unit:
    """Return a unit that only waits, until an hour of an ISO day or, "", one that is not known."""
    unit = Unit(id_, "wait", label, "", 0, 0, 0.0, 0.0, 0.0, (), "no", "", until)
    return replace(unit, until_h=until_h)


def behind_waits(units: Sequence[Unit], waits: Sequence[tuple[str, str, str]]) -> list[Unit]:
    """Put units behind what is waited for before anything is begun: (id, label, until)."""
    first = [wait_unit(*wait) for wait in waits]
    after = tuple(unit.id for unit in first)
    return [*first, *(unit if unit.after else replace(unit, after=after) for unit in units)]


class _Units:
    """Collects the units of an order: samples first, then each pass, then each line's finishing."""

    def __init__(self, work: Work, house: House, washed: Collection[str]):
        self.work, self.house, self.washed = work, house, washed
        self.found: list[Unit] = []
        self.first: tuple[str, ...] = ()
        self.places = {p.id: p for line in work.lines for p in line.placements}
        self.lines = {line.id: line for line in work.lines}
        self.once = _sum(t for t in work.once if t.task not in CHANGE_OVERS | DESK)
        self.passed: dict[str, tuple[str, ...]] = {}
        self.begun: set[str] = set()
        self.sewn: dict[str, list[str]] = {line.id: [] for line in work.lines}

    def named(self, each: PassTold) -> str:
        """Call the place of a pass."""
        place = self.places.get(each.of[0].placement)
        at = place.position if place else ""
        known = self.house.positions.get(at)
        return known.label.lower() if known else at

    def _add(self, kind: Kind, of: str, label: str, after: tuple[str, ...], **values: Any) -> str:
        plain: dict[str, Any] = {
            "machine": "",
            "pieces": 0,
            "cycles": 0,
            "machine_s": 0.0,
            "person_s": 0.0,
            "elapsed_s": 0.0,
            "splits": "no",
        }
        unit = Unit(f"{of}.{kind}", kind, label, after=after, of=of, **plain | values)
        self.found.append(unit)
        return unit.id

    def set_up(self, each: PassTold) -> SetUp:
        """Say what must stand on its machine: by hand threaded, the first thread only."""
        machine = self.house.machines[each.machine]
        threads = list(dict.fromkeys(thread_on(laid) for laid in each.threads))
        hoop = self.house.hoops.get(self.places[each.of[0].placement].hoop or "")
        return SetUp(
            threads=tuple(threads[: machine.needles if machine.auto_change else 1]),
            hoop=hoop.kind if hoop else "",
            needle=self.places[each.of[0].placement].methods.get("needle", ""),
            cap_driver=hoop is not None and hoop.kind == "cap",
        )

    def sample(self, each: PassTold) -> None:
        """Sew it, let it dry if it is washed, look at it."""
        hands = _sum(each.tasks)
        at = self._add(
            "sample",
            each.id,
            f"Sew the sample, {self.named(each)}",
            self.first,
            machine=each.machine,
            pieces=sum(of.pieces for of in each.of),
            cycles=each.cycles,
            machine_s=each.machine_s,
            person_s=each.attend_s + hands,
            elapsed_s=max(each.machine_s, each.attend_s) + hands,
            set_up=self.set_up(each),
        )
        dries = any(task.task in DRIED for task in each.tasks) or any(
            of.line in self.washed or any(t.task in DRIED for t in self.lines[of.line].tasks)
            for of in each.of
        )
        if dries:
            dry_s = float(self.house.run.dry_s)
            at = self._add("dry", each.id, "The sample dries", (at,), elapsed_s=dry_s)
        look_s = float(self.house.run.look_s)
        at = self._add(
            "look", each.id, "Look at the sample", (at,), person_s=look_s, elapsed_s=look_s
        )
        self.passed[each.id] = (at,)

    def sewing(self, each: PassTold) -> None:
        """Prepare a pass's pieces, then sew them, after what goes before on the same pieces."""
        ids = [of.line for of in each.of]
        before = _sum(t for t in each.tasks if t.before and not is_hooping(t)) + each.winding_s
        for line_id in ids:
            if line_id not in self.begun:
                before += _sum(t for t in self.lines[line_id].tasks if t.before)
                self.begun.add(line_id)
        before, self.once = before + self.once, 0.0
        held = self.passed.get(each.after or "", self.first)
        prepared = self._add(
            "prepare",
            each.id,
            f"Prepare, {self.named(each)}",
            held,
            pieces=sum(of.pieces for of in each.of),
            person_s=before,
            elapsed_s=before,
            splits="pieces",
        )
        sewn = [at for line_id in ids for at in self.sewn[line_id][-1:]]
        hoop = self.house.hoops.get(self.places[each.of[0].placement].hoop or "")
        unit = _sew(
            each,
            lead_s=self.house.events.lead_s,
            second=hoop is not None and hoop.count > each.heads,
            after=(prepared, *dict.fromkeys(sewn)),
            label=f"Sew, {self.named(each)}",
            set_up=self.set_up(each),
        )
        self.found.append(unit)
        for line_id in ids:
            self.sewn[line_id].append(unit.id)

    def finishing(self, line: LineTold) -> str:
        """Finish a line's pieces, let them dry; return the last of it."""
        shared = [
            (task, of.pieces / max(1, sum(each_of.pieces for each_of in each.of)))
            for each in self.work.passes
            for of in each.of
            if not each.sample and of.line == line.id
            for task in each.tasks
            if not task.before
        ]
        tasks = [*((t, 1.0) for t in line.tasks if not t.before), *shared]
        seconds = sum(task.total_s * part for task, part in tasks if task.task != "pack")
        at = self._add(
            "finish",
            line.id,
            "Finish and check",
            tuple(self.sewn[line.id]) or self.first,
            pieces=line.quantity,
            person_s=seconds,
            elapsed_s=seconds,
            splits="pieces",
        )
        if any(task.task in DRIED for task, _ in tasks):
            at = self._add(
                "dry",
                line.id,
                "It dries",
                (at,),
                pieces=line.quantity,
                elapsed_s=float(self.house.run.dry_s),
            )
        return at
