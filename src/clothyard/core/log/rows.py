"""The log: what a finished pass came to beside what was estimated, as one document."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.days import SetDay
from clothyard.core.house.document import House
from clothyard.core.house.learnt import GROUPS, group_of
from clothyard.core.log.learn import Ratio, bobbins_counted, is_wild, weighed
from clothyard.core.stock.key import thread_key
from clothyard.core.thread.called import thread_called, told_apart
from clothyard.core.work.document import PassTold, Work

Text = Annotated[str, Field(max_length=200)]
Seconds = Annotated[float, Field(ge=0, le=4_000_000)]
Metres = Annotated[float, Field(ge=0, le=10_000_000)]
Some = Annotated[float, Field(ge=0, le=1_000_000)]
Pieces = Annotated[int, Field(ge=0, le=100_000)]

NOT_LOADING = {"sew", "break", "step"}
"""Events that are not clocked as loading: sewing itself, breaks, and tasks at stops."""


class _Part(BaseModel):
    model_config = ConfigDict(
        frozen=True, extra="forbid", json_schema_serialization_defaults_required=True
    )


class Measured(_Part):
    """What a pass takes, or took; None where nobody measured it. [s, m]

    Hand time is by group: *loading* is what hands do at the machine, thread breaks apart.
    """

    needle_s: Seconds | None = None
    loading_s: Seconds | None = None
    hooping_s: Seconds | None = None
    finishing_s: Seconds | None = None
    order_s: Seconds | None = None
    elapsed_s: Seconds | None = None
    needle_m: Metres | None = None
    bobbin_m: Metres | None = None
    bobbins: Some | None = None
    breaks: Some | None = None

    def hand_s(self) -> float | None:
        """All hand time that was measured; None where none was. [s]"""
        found = [getattr(self, f"{group}_s") for group in GROUPS]
        known = [seconds for seconds in found if seconds is not None]
        return sum(known) if known else None


class ThreadWeighed(_Part):
    """A thread of a pass: what was estimated, its cone before and after, or the metres used.

    `item` is its key on the shelf, "" where it is not booked.
    """

    label: Text
    item: Text = ""
    estimated_m: Metres
    tex: Annotated[float, Field(gt=0, le=2000)] = 27.0
    grams_before: Some | None = None
    grams_after: Some | None = None
    metres: Metres | None = None

    @property
    def grams(self) -> float | None:
        """What was used, by weight; None where it was not weighed. [g]"""
        if self.grams_before is None or self.grams_after is None:
            return None
        return max(0.0, self.grams_before - self.grams_after)

    @property
    def used_m(self) -> float | None:
        """What was used, typed or by weight. [m] Source: docs/formulas.md 2."""
        if self.metres is not None:
            return self.metres
        return None if self.grams is None else self.grams * 1000 / self.tex


Source = Literal["run", "typed", "imported"]


class LogRow(_Part):
    """One finished pass.

    `estimated` is with every factor at 1, for as many pieces as were sewn; `sewn` counts spoiled
    ones too; `planned` are the pieces of the pass, of `lines`. Of `seen` the machine's own figures
    are, scaled to all; 0 where it saw all of them or none. `known`: the design is from a stitch
    file, so that thread and needle time teach. `confirmed` names the factors for which its figure
    was so, however far off.
    """

    order: Text = ""
    pass_id: Text = ""
    finished_on: SetDay
    customer: Text = ""
    design: Text = ""
    goods: Text = ""
    place: Text = ""
    machine: Text = ""
    method: Annotated[str, Field(max_length=1000)] = ""
    methods: dict[Text, Text] = Field(default_factory=dict, max_length=40)
    sewn: Annotated[int, Field(ge=1, le=100_000)]
    planned: Pieces = 0
    seen: Pieces = 0
    lines: list[Text] = Field(default_factory=list, max_length=200)
    spoiled: Pieces = 0
    mended: Pieces = 0
    reasons: dict[Text, Pieces] = Field(default_factory=dict, max_length=60)
    known: bool = False
    estimated: Measured
    actual: Measured
    threads: list[ThreadWeighed] = Field(default_factory=list, max_length=80)
    bobbin_item: Text = ""
    scale_g: Annotated[float, Field(gt=0, le=1000)] = 0.1
    note: Annotated[str, Field(max_length=2000)] = ""
    photo: Annotated[str, Field(pattern=r"^([0-9a-f]{64})?$")] = ""
    source: Source = "typed"
    excluded: bool = False
    confirmed: list[Text] = Field(default_factory=list, max_length=20)


class LogDocument(_Part):
    """Rows of the log (clothyard-log/1)."""

    format: Literal["clothyard-log/1"] = "clothyard-log/1"
    shop: Annotated[str, Field(max_length=80, pattern=r"^[A-Za-z0-9-]*$")] = ""
    """Which shop wrote it: its orders' numbers mean others elsewhere."""

    rows: list[LogRow] = Field(max_length=20_000)


def _line_tasks(work: Work, each: PassTold) -> list[tuple[str, float]]:
    """Tasks of a pass's lines that no earlier pass has taken: (task, seconds)."""
    first: dict[str, str] = {}
    for other in work.passes:
        if not other.sample:
            for of in other.of:
                first.setdefault(of.line, other.id)
    mine = {of.line for of in each.of if first.get(of.line) == each.id}
    return [(t.task, t.total_s) for line in work.lines if line.id in mine for t in line.tasks]


def estimated_of(work: Work, pass_id: str, house: House, *, sewn: int) -> Measured:
    """Say what a pass is estimated to take.

    Parameters
    ----------
    work : Work
        Of the order, worked out with every factor at 1.
    pass_id : str
    house : House
        What tells which group a task is of.
    sewn : int
        Pieces that were sewn, spoiled ones too.

    Raises
    ------
    KeyError
        If it has no such pass.

    Source
    ------
    docs/formulas.md 12.
    """
    at = next((n for n, p in enumerate(work.passes) if p.id == pass_id), None)
    if at is None:
        raise KeyError(pass_id)
    each = work.passes[at]
    share = sewn / max(1, sum(of.pieces for of in each.of))
    hands = dict.fromkeys(GROUPS, 0.0)
    tasks = [(t.task, t.total_s) for t in each.tasks] + _line_tasks(work, each)
    for task, seconds in tasks:
        known = house.tasks.get(task)
        hands[group_of(known) if known else "finishing"] += seconds * share
    hands["finishing"] += each.winding_s * share
    for event in each.events:
        if event.task == "step":
            hands["finishing"] += event.operator_s * share
        elif event.task not in NOT_LOADING:
            hands["loading"] += event.operator_s * share
    if each.id == next((p.id for p in work.passes if not p.sample), ""):
        hands["order"] += sum(task.total_s for task in work.once)
    sewing = sum(e.machine_s for e in each.events if e.task == "sew")
    breaks = sum(e.times for e in each.events if e.task == "break")
    return Measured(
        needle_s=sewing * share,
        needle_m=each.needle_m * share,
        bobbin_m=each.bobbin_m * share,
        bobbins=sum(b.count for b in each.bobbins) * share,
        breaks=breaks * share,
        elapsed_s=each.machine_s * share,
        **{f"{group}_s": seconds for group, seconds in hands.items()},
    )


def threads_of(work: Work, pass_id: str, house: House, *, sewn: int) -> list[ThreadWeighed]:
    """List a pass's threads with what each is estimated to take; one row a colour. [m]"""
    each = next(p for p in work.passes if p.id == pass_id)
    share = sewn / max(1, sum(of.pieces for of in each.of))
    found: dict[tuple[str, str], float] = {}
    for laid in each.threads:
        key = (laid.thread, laid.colour or f"colour {laid.block}")
        found[key] = found.get(key, 0.0) + laid.needle_m * share
    called = told_apart(thread_called(colour, house) for _, colour in found)
    return [
        ThreadWeighed(
            label=label[:200],
            item=str(thread_key(*key))[:200],
            estimated_m=metres,
            tex=float(house.threads[key[0]].tex) if key[0] in house.threads else 27.0,
        )
        for label, (key, metres) in zip(called, found.items(), strict=True)
    ]


NEEDLE, BOBBIN = "needle", "bobbin"
SEWING = "sewing:"
"""Begins the factor of a machine's needle time."""


def _needle_ratio(row: LogRow) -> tuple[float, float] | None:
    """Needle thread: (ratio, weight) of the threads that were measured, else of the whole."""
    measured = [t for t in row.threads if t.used_m is not None and t.estimated_m > 0]
    if measured:
        used = sum(t.used_m or 0.0 for t in measured)
        grams = [t.grams for t in measured if t.metres is None]
        weight = weighed(sum(g or 0.0 for g in grams), row.scale_g) if grams else 1.0
        return used / sum(t.estimated_m for t in measured), weight
    if row.actual.needle_m and row.estimated.needle_m:
        return row.actual.needle_m / row.estimated.needle_m, 1.0
    return None


def ratios_of_row(row: LogRow) -> dict[str, tuple[float, float]]:
    """Say what a row teaches: by factor, (actual ÷ estimated with factor 1, weight).

    Source: docs/formulas.md 12: only designs from files teach thread and needle time.
    """
    found: dict[str, tuple[float, float]] = {}
    asked, was = row.estimated, row.actual
    if row.known:
        if needle := _needle_ratio(row):
            found[NEEDLE] = needle
        if was.bobbin_m and asked.bobbin_m:
            weight = bobbins_counted(was.bobbins) if was.bobbins is not None else 1.0
            found[BOBBIN] = (was.bobbin_m / asked.bobbin_m, weight)
        if was.needle_s and asked.needle_s and row.machine:
            found[f"{SEWING}{row.machine}"] = (was.needle_s / asked.needle_s, 1.0)
    for group in GROUPS:
        took, meant = getattr(was, f"{group}_s"), getattr(asked, f"{group}_s")
        if took and meant:
            found[group] = (took / meant, 1.0)
    return {key: pair for key, pair in found.items() if pair[0] > 0}


def in_doubt(row: LogRow) -> list[str]:
    """Name the factors for which a row lies so far off that it is asked about, unanswered yet.

    While there are any the row counts nowhere. Source: docs/formulas.md 12.
    """
    far = [key for key, (value, _) in ratios_of_row(row).items() if is_wild(value)]
    return [key for key in far if key not in row.confirmed]


def counts(row: LogRow) -> bool:
    """Whether a row says what work came to: it is not left out, and nothing of it is in doubt."""
    return not row.excluded and not in_doubt(row)


def ratios_of(rows: Iterable[tuple[str, LogRow, int]]) -> dict[str, list[Ratio]]:
    """Gather what rows say of each factor; excluded ones say nothing, those in doubt only what is
    asked about.

    Parameters
    ----------
    rows : iterable of (id, LogRow, age in days)
    """
    found: dict[str, list[Ratio]] = {}
    for id_, row, age_days in rows:
        if row.excluded:
            continue
        doubts = in_doubt(row)
        for key, (value, weight) in ratios_of_row(row).items():
            if doubts and key not in doubts:
                continue
            ratio = Ratio(id_, value, weight, age_days, key in row.confirmed)
            found.setdefault(key, []).append(ratio)
    return found


_SAID: tuple[tuple[str, str, str], ...] = (
    ("needle_m", "needle thread", "m"),
    ("bobbin_m", "bobbin thread", "m"),
    ("needle_s", "needle time", "min"),
    ("loading_s", "loading", "min"),
    ("hooping_s", "hooping", "min"),
    ("finishing_s", "finishing", "min"),
    ("order_s", "order tasks", "min"),
)


def difference_words(row: LogRow, *, least: float = 0.05) -> list[str]:
    """Say what differed by more than a share: "hooping 12 % longer: 21.3 instead of 19.0 min".

    The largest first; [] where nothing was measured, or all of it is as estimated. Where the
    machine was followed in part, that stands last.
    """
    part = [f"the machine saw {row.seen} of {row.sewn}: scaled"] if row.seen else []
    found = []
    for name, label, unit in _SAID:
        was, meant = getattr(row.actual, name), getattr(row.estimated, name)
        if was is None or not meant:
            continue
        off = was / meant - 1
        if abs(off) < least:
            continue
        by = 60 if unit == "min" else 1
        more = ("longer", "shorter") if unit == "min" else ("more", "less")
        text = (
            f"{label} {abs(off) * 100:.0f} % {more[off < 0]}: "
            f"{was / by:.1f} instead of {meant / by:.1f} {unit}"
        )
        found.append((-abs(off), text))
    return [text for _, text in sorted(found)] + part


PUCKERED = "pucker"
"""The reason of pieces whose cloth ripples round the design: their backing carried too little."""


def puckered_by_goods(rows: Sequence[LogRow]) -> dict[str, int]:
    """Count the pieces that puckered, by class of goods."""
    found: dict[str, int] = {}
    for row in rows:
        if row.goods and counts(row) and PUCKERED in row.reasons:
            found[row.goods] = found.get(row.goods, 0) + row.reasons[PUCKERED]
    return found


def pieces_by_goods(rows: Sequence[LogRow]) -> dict[str, tuple[int, int]]:
    """Count what was sewn and what of it spoiled, by class of goods: (spoiled, sewn)."""
    found: dict[str, tuple[int, int]] = {}
    for row in rows:
        if row.goods and counts(row):
            spoiled, sewn = found.get(row.goods, (0, 0))
            found[row.goods] = (spoiled + row.spoiled, sewn + row.sewn)
    return found
