"""A pass at the machine: what its events add up to."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import field
from typing import Any, Literal, get_args

from clothyard.core.record import record
from clothyard.core.work.piece import Piece

Kind = Literal[
    "begun",
    "done",
    "broke",
    "bobbin",
    "spoiled",
    "mended",
    "paused",
    "on",
    "note",
    "photo",
    "prepare",
    "prepared",
    "finish",
    "finished",
    "weighed",
    "undo",
]
KINDS: tuple[str, ...] = get_args(Kind)
PassState = Literal["waiting", "sewing", "done", "spoiled", "mended"]
MOST_GAP_S = 1800.0
"""A longer gap between two pieces is no loading: somebody was away."""


@record
class Event:
    """Something that happened at the machine, as whoever saw it wrote it down.

    Attributes
    ----------
    id : str
        Made by who wrote it: the same id is the same event, however often it arrives.
    kind : Kind
    at_s : float
        When, seconds since some moment that is the same for all events of a pass.
    piece : str
        Which piece it is of, "" for none.
    data : mapping
        `reason`, `text`, `photo`, `of` (of what is taken back), `needle_s`, `label`, `grams`.
    """

    id: str
    kind: str
    at_s: float
    piece: str = ""
    data: Mapping[str, Any] = field(default_factory=dict)


BY_MACHINE = "m:"
"""How the ids of events begin that a machine told by itself."""


@record
class BobbinChange:
    """A bobbin that was changed after so many pieces came off; `ran_out` as the machine says it."""

    after: int
    ran_out: bool


@record
class AtMachine:
    """How far a pass is. Pieces by id; times in seconds, None where nobody pressed for them.

    `seen` are the pieces whose needle time the machine told, `loads` the gaps that loading was
    clocked in, `heard` the breaks that the machine told.
    """

    done: tuple[str, ...] = ()
    spoiled: Mapping[str, str] = field(default_factory=dict)
    mended: Mapping[str, str] = field(default_factory=dict)
    breaks: int = 0
    heard: int = 0
    changes: tuple[BobbinChange, ...] = ()
    paused: str | None = None
    sewing: str = ""
    seen: int = 0
    loads: int = 0
    preparing: bool = False
    finishing: bool = False
    needle_s: float | None = None
    loading_s: float | None = None
    prepare_s: float | None = None
    finish_s: float | None = None
    elapsed_s: float = 0.0
    notes: tuple[str, ...] = ()
    photos: tuple[str, ...] = ()
    weights: Mapping[str, tuple[float | None, float | None]] = field(default_factory=dict)
    last: str = ""

    @property
    def bobbins(self) -> int:
        """Bobbins that were changed."""
        return len(self.changes)


def standing(events: Sequence[Event]) -> list[Event]:
    """Leave out what was taken back, and what took it back; each event once."""
    found: dict[str, Event] = {}
    for event in events:
        found.setdefault(event.id, event)
    gone: set[str] = set()
    for event in found.values():
        if event.kind == "undo" and event.id not in gone:
            gone.add(str(event.data.get("of", "")))
    return [e for e in found.values() if e.kind != "undo" and e.id not in gone]


def taken_off(events: Sequence[Event], piece: str, kind: str) -> Event | None:
    """Return what says already that a piece came off, where saying it so again is another's press.

    Parameters
    ----------
    events : sequence of Event
    piece, kind : str
        That is said now: a piece that is done can be spoiled still, not done again.
    """
    before = {"done": {"done", "spoiled"}, "spoiled": {"spoiled"}}.get(kind, set())
    found = [e for e in standing(events) if e.piece == piece and e.kind in before]
    return found[-1] if found else None


class _Clock:
    """Adds up the spans between a beginning and its end."""

    def __init__(self) -> None:
        self.since: float | None = None
        self.total: float | None = None

    def start(self, at: float) -> None:
        if self.since is None:
            self.since = at

    def stop(self, at: float) -> None:
        if self.since is not None:
            self.total = (self.total or 0.0) + max(0.0, at - self.since)
            self.since = None


class _Sum:
    """What the events so far add up to; a method for each kind of event."""

    def __init__(self) -> None:
        self.done: list[str] = []
        self.spoiled: dict[str, str] = {}
        self.mended: dict[str, str] = {}
        self.weights: dict[str, tuple[float | None, float | None]] = {}
        self.prepare, self.finish = _Clock(), _Clock()
        self.breaks = self.heard = self.seen = self.loads = 0
        self.changes: list[BobbinChange] = []
        self.paused: str | None = None
        self.sewing = ""
        self.needle: float | None = None
        self.loading: float | None = None
        self.ended: float | None = None
        self.notes: list[str] = []
        self.photos: list[str] = []

    def add(self, e: Event) -> None:
        getattr(self, f"_{e.kind}")(e)

    def _broke(self, e: Event) -> None:
        self.breaks += 1
        self.heard += e.id.startswith(BY_MACHINE)

    def _bobbin(self, e: Event) -> None:
        off = len({*self.done, *self.spoiled})
        self.changes.append(BobbinChange(off, e.id.startswith(BY_MACHINE)))

    def _begun(self, e: Event) -> None:
        self.sewing = e.piece
        if self.ended is not None and 0 <= e.at_s - self.ended <= MOST_GAP_S:
            self.loading = (self.loading or 0.0) + e.at_s - self.ended
            self.loads += 1
        self.ended = None

    def _off(self, e: Event) -> None:
        """A piece comes off the machine, whatever became of it."""
        if (took := e.data.get("needle_s")) is not None:
            self.needle = (self.needle or 0.0) + float(took)
            self.seen += 1
        self.sewing, self.ended = "", e.at_s

    def _done(self, e: Event) -> None:
        if e.piece not in self.done:
            self.done.append(e.piece)
        self._off(e)

    def _spoiled(self, e: Event) -> None:
        self.spoiled[e.piece] = str(e.data.get("reason", ""))
        self._off(e)

    def _mended(self, e: Event) -> None:
        self.mended[e.piece] = str(e.data.get("reason", ""))

    def _paused(self, e: Event) -> None:
        self.paused, self.ended = str(e.data.get("reason", "")), None

    def _on(self, _: Event) -> None:
        self.paused = None

    def _prepare(self, e: Event) -> None:
        self.prepare.start(e.at_s)

    def _prepared(self, e: Event) -> None:
        self.prepare.stop(e.at_s)

    def _finish(self, e: Event) -> None:
        self.finish.start(e.at_s)

    def _finished(self, e: Event) -> None:
        self.finish.stop(e.at_s)

    def _note(self, e: Event) -> None:
        self.notes.append(str(e.data.get("text", "")))

    def _photo(self, e: Event) -> None:
        self.photos.append(str(e.data.get("photo", "")))

    def _weighed(self, e: Event) -> None:
        label, grams = str(e.data.get("label", "")), float(e.data.get("grams", 0.0))
        before, after = self.weights.get(label, (None, None))
        self.weights[label] = (before, grams) if e.data.get("after") else (grams, after)


def add_up(events: Iterable[Event]) -> AtMachine:
    """Add up a pass's events.

    Parameters
    ----------
    events : iterable of Event
        In the order in which they were written down; one that is there twice counts once.

    Returns
    -------
    AtMachine
        Needle time is the machine's own report; loading is from a piece's end to the next one's
        beginning, gaps over half an hour and pauses apart.

    Source
    ------
    docs/formulas.md 12.
    """
    left = standing(list(events))
    found = _Sum()
    for event in left:
        found.add(event)
    times = [e.at_s for e in left]
    return AtMachine(
        done=tuple(p for p in found.done if p not in found.spoiled),
        spoiled=found.spoiled,
        mended=found.mended,
        breaks=found.breaks,
        heard=found.heard,
        changes=tuple(found.changes),
        paused=found.paused,
        sewing=found.sewing,
        seen=found.seen,
        loads=found.loads,
        preparing=found.prepare.since is not None,
        finishing=found.finish.since is not None,
        needle_s=found.needle,
        loading_s=found.loading,
        prepare_s=found.prepare.total,
        finish_s=found.finish.total,
        elapsed_s=max(times) - min(times) if times else 0.0,
        notes=tuple(found.notes),
        photos=tuple(found.photos),
        weights=found.weights,
        last=left[-1].id if left else "",
    )


SPEAK = frozenset({"done", "spoiled", "mended"})
"""Kinds of events that say what became of a piece."""


@record
class Follows:
    """What a piece is to become by its events: its state, and why."""

    piece: str
    state: str
    reason: str


def state_in_pass(piece: Piece, at: AtMachine) -> PassState:
    """Say what a piece is in a pass."""
    if piece.id in at.spoiled or piece.state == "spoiled":
        return "spoiled"
    if piece.id in at.mended:
        return "mended"
    if piece.id in at.done or piece.state in {"sewn", "good", "mended"}:
        return "done"
    return "sewing" if piece.id == at.sewing else "waiting"


def pieces_follow(
    pieces: Iterable[Piece],
    passes: Mapping[str, Sequence[str]],
    events: Mapping[str, Sequence[Event]],
) -> list[Follows]:
    """Bring pieces to what the events of their passes say; one is sewn once all passes are done.

    Parameters
    ----------
    pieces : iterable of Piece
    passes : mapping of line to passes
        Those that each piece of a line goes through.
    events : mapping of pass to its events

    Returns
    -------
    list of Follows
        Of pieces that events speak of and that are to be another than they are; what the events
        do not speak of stays as the order's page has it.
    """
    sums = {pass_id: add_up(found) for pass_id, found in events.items()}
    spoken = {e.piece for found in events.values() for e in found if e.kind in SPEAK}
    found = []
    for piece in pieces:
        if piece.id not in spoken:
            continue
        mine = [sums[p] for p in passes.get(piece.line, ()) if p in sums]
        wanted, reason = _wanted(piece.id, mine, len(passes.get(piece.line, ())))
        prepared = piece.state == "prepared" and wanted == "waiting"
        further = piece.state in {"good", "mended"} and wanted == "sewn"
        if piece.state != wanted and not prepared and not further:
            found.append(Follows(piece.id, wanted, reason))
    return found


def _wanted(piece: str, sums: Sequence[AtMachine], passes: int) -> tuple[str, str]:
    """Say what a piece is by all its passes, and why."""
    for at in sums:
        if at.spoiled.get(piece):
            return "spoiled", at.spoiled[piece]
    if not passes or sum(piece in at.done for at in sums) < passes:
        return "waiting", ""
    for at in sums:
        if piece in at.mended:
            return "mended", at.mended[piece]
    return "sewn", ""
