"""The simulated machine: takes a design, sews it in scaled time, breaks thread, runs out of bobbin.

Its protocol (clothyard-machine/1) is small and open: see docs/formats.md. Any machine that answers
so can take its place. Its hidden truths, how much slower it is and how much more thread it takes
than a house's standards say, are what the log is there to find out.
"""

from __future__ import annotations

import hashlib
import random
import threading
import time
import uuid
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, Literal

from starlette.requests import Request

from clothyard.core.house.check import default_house
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.use import design_thread, piece_thread
from clothyard.core.time.speed import needle_seconds
from clothyard.files.guarded import read_design
from clothyard.ports.machine import (
    PROTOCOL,
    MachineError,
    MachineEvent,
    MachineState,
    Needles,
    Speed,
    Start,
    State,
    Taken,
)

MOST_BYTES = 8_000_000
MOST_KEPT = 50_000
TEX = 27.0
BOBBIN_M = 110.0
CHANGE_S, TRIM_S = 8.0, 6.0
TICK_S = 0.05


@dataclass(frozen=True)
class Truths:
    """What this machine is really like, against a house's standards.

    Attributes
    ----------
    slower : float
        Its needle time.
    needle, bobbin : float
        Its thread.
    breaks_1000 : float
        Thread breaks of a thousand stitches.
    fill : float
        How full its bobbins are.
    noise : float
        Spread of one run's logarithm, for time and needle thread.
    """

    slower: float = 1.0
    needle: float = 1.0
    bobbin: float = 1.2
    breaks_1000: float = 0.03
    fill: float = 1.0
    noise: float = 0.0

    @classmethod
    def of_seed(cls, seed: int) -> Truths:
        """Draw a machine's truths."""
        chance = _chance(seed, "truths")
        return cls(
            slower=chance.uniform(0.8, 1.25),
            needle=chance.uniform(0.88, 1.15),
            bobbin=chance.uniform(0.9, 1.3),
            breaks_1000=chance.uniform(0.02, 0.06),
            fill=chance.uniform(0.85, 1.0),
            noise=0.05,
        )


def _chance(seed: int, of: str) -> random.Random:
    return random.Random(hashlib.sha256(f"{seed}|{of}".encode()).digest())


@dataclass
class _Piece:
    """A stretch of sewing: from one stitch to the next thing that happens."""

    seconds: float
    stitches: int
    block: int
    then: str


@dataclass
class _Run:
    """A run under way: what is left of it, and what it has taken."""

    id: str
    pieces: list[_Piece]
    total: int
    spm: int
    metres: list[tuple[float, float]]
    sewn: list[int]
    stitch: int = 0
    at: int = 0
    into_s: float = 0.0
    needle_s: float = 0.0
    machine_s: float = 0.0
    cones: list[float] = field(default_factory=list)


class SimulatedMachine:
    """The machine itself: nothing happens but by `advance`, so that it can be driven at any pace.

    Parameters
    ----------
    seed : int
        The same seed and the same requests give the same events.
    truths : Truths, optional
        Drawn from the seed without.
    needles : int
    tell : bool
        Report stitches on the way, twenty a second at most.
    """

    def __init__(
        self, seed: int = 1, truths: Truths | None = None, *, needles: int = 10, tell: bool = True
    ):
        self.seed, self.has_needles, self.tell = seed, needles, tell
        self.truths = truths or Truths.of_seed(seed)
        self.epoch = uuid.uuid4().hex[:12]
        self.name = "Simulated machine"
        self.events: list[MachineEvent] = []
        self.n = 0
        self.state: State = "idle"
        self.why = ""
        self.facts: DesignFacts | None = None
        self.sha256 = self.design = ""
        self.needles: list[int] = []
        self.times = 1.0
        self.run: _Run | None = None
        self.bobbin_m = BOBBIN_M * self.truths.fill
        draw = _chance(seed, "cones")
        self.cones_g = [round(draw.uniform(300, 900), 1) for _ in range(needles)]
        self._runs = 0
        self.changed = threading.Condition()

    def _tell(self, kind: Any, **values: Any) -> None:
        self.n += 1
        run = self.run
        found = {
            "run": run.id if run else "",
            "stitch": run.stitch if run else 0,
            "block": self._block(),
            "needle": self._needle(),
            "spm": run.spm if run else 0,
            "at_s": round(run.machine_s, 3) if run else 0.0,
        }
        event = MachineEvent(n=self.n, epoch=self.epoch, kind=kind, **(found | values))
        with self.changed:
            self.events.append(event)
            del self.events[:-MOST_KEPT]
            self.changed.notify_all()

    def _block(self) -> int:
        run = self.run
        return run.pieces[min(run.at, len(run.pieces) - 1)].block if run and run.pieces else 0

    def _needle(self) -> int:
        block = self._block()
        return self.needles[block] if block < len(self.needles) else 0

    def told(self) -> MachineState:
        """Say how it stands."""
        run = self.run
        return MachineState(
            name=self.name,
            epoch=self.epoch,
            n=self.n,
            state=self.state,
            why=self.why,
            run=run.id if run else "",
            sha256=self.sha256,
            design=self.design,
            needles=self.needles,
            has_needles=self.has_needles,
            stitch=run.stitch if run else 0,
            of=run.total if run else 0,
            block=self._block(),
            needle=self._needle(),
            spm=run.spm if run and self.state == "sewing" else 0,
            times=self.times,
            needle_s=round(run.needle_s, 3) if run else 0.0,
        )

    def take(self, data: bytes, name: str) -> Taken:
        """Take a design.

        Raises
        ------
        BadInput
            If it cannot be read.
        MachineError
            If it sews.
        """
        self._idle("take a design")
        sha256 = hashlib.sha256(data).hexdigest()
        _, self.facts = read_design(data, name, sha256=sha256)
        self.sha256, self.design = sha256, name[:200]
        self.needles = [n % self.has_needles + 1 for n in range(len(self.facts.blocks))]
        self.state, self.run = "idle", None
        self._tell("design")
        return Taken(
            sha256=sha256,
            name=self.design,
            stitches=int(self.facts.stitches),
            blocks=len(self.facts.blocks),
        )

    def assign(self, needles: Sequence[int]) -> None:
        """Say which needle sews each block.

        Raises
        ------
        MachineError
            If there are not as many as blocks, or it has no such needle.
        """
        self._idle("change needles")
        if self.facts is None or len(needles) != len(self.facts.blocks):
            blocks = len(self.facts.blocks) if self.facts else 0
            raise MachineError(f"the design has {blocks} blocks, not {len(needles)}.", "needles")
        if any(not 1 <= n <= self.has_needles for n in needles):
            raise MachineError(f"it has needles 1 to {self.has_needles}.", "needles")
        self.needles = list(needles)
        self._tell("needles")

    def _idle(self, what: str) -> None:
        if self.state in {"sewing", "stopped"}:
            raise MachineError(f"it sews: it cannot {what}.", "busy")

    def start(self, asked: Start) -> None:
        """Begin to sew the design that was taken.

        Raises
        ------
        MachineError
            If there is none, or it sews.
        """
        self._idle("start another")
        if self.facts is None:
            raise MachineError("it has no design.", "no-design")
        self._runs += 1
        self.run = self._planned(self.facts, asked)
        self.state, self.why = "sewing", ""
        self._tell("begun")

    def _planned(self, facts: DesignFacts, asked: Start) -> _Run:
        house, chance = default_house(), _chance(self.seed, f"run {self._runs} {asked.run}")
        noise = [2.718281828459045 ** chance.gauss(0.0, self.truths.noise) for _ in range(2)]
        slower = self.truths.slower * noise[0]
        seconds = needle_seconds(
            facts,
            cap_spm=asked.cap_spm,
            profile=house.speed_profile,
            speed=house.speed,
            auto_trim=True,
        )
        use = house.thread_use.model_copy(update={"factor_needle": 1.0, "factor_bobbin": 1.0})
        thread = piece_thread(
            design_thread(
                facts,
                thickness_mm=asked.under_mm,
                use=use,
                auto_trim=True,
                baste_stitches=0,
                baste_stitch_mm=6.0,
            )
        )
        metres = [
            (n * self.truths.needle * noise[1], b * self.truths.bobbin * noise[1])
            for n, b in zip(thread.needle_m, thread.bobbin_m, strict=True)
        ]
        pieces: list[_Piece] = []
        for again in range(asked.repeats):
            for block, (facts_of, took) in enumerate(zip(facts.blocks, seconds, strict=True)):
                if block or again:
                    pieces.append(_Piece(CHANGE_S, 0, block, "change"))
                pieces += self._pieces(
                    int(facts_of.stitches),
                    took * slower,
                    block,
                    int(facts_of.trims),
                    facts_of.stops,
                    chance,
                )
        total = sum(p.stitches for p in pieces)
        spm = round(total / max(1e-9, sum(seconds) * slower * asked.repeats) * 60)
        return _Run(
            asked.run, pieces, total, spm, metres, [max(1, int(b.stitches)) for b in facts.blocks]
        )

    def _pieces(
        self,
        stitches: int,
        seconds: float,
        block: int,
        trims: int,
        stops: int,
        chance: random.Random,
    ) -> list[_Piece]:
        """Cut a block where it is trimmed, stops, or the thread breaks."""
        at: list[tuple[int, str]] = []
        for count, kind in ((trims, "trim"), (stops, "stop")):
            at += [(stitches * (k + 1) // (count + 1), kind) for k in range(count)]
        left = chance.expovariate(max(1e-12, self.truths.breaks_1000 / 1000))
        while left < stitches:
            at.append((int(left), "break"))
            left += max(1.0, chance.expovariate(self.truths.breaks_1000 / 1000))
        found, before = [], 0
        for stitch, kind in [*sorted(at), (stitches, "")]:
            each = stitch - before
            found.append(_Piece(seconds * each / max(1, stitches), each, block, kind))
            before = stitch
        return found

    def advance(self, seconds: float) -> None:
        """Let so much of the machine's time pass. [s]"""
        run = self.run
        while seconds > 0 and run is not None and self.state == "sewing":
            if run.at >= len(run.pieces):
                self._end(run)
                return
            piece = run.pieces[run.at]
            step = min(seconds, piece.seconds - run.into_s)
            step = min(step, self._until_empty(run, piece))
            self._sew(run, piece, step)
            seconds -= step
            if self.state == "sewing" and run.into_s >= piece.seconds - 1e-9:
                self._passed(run, piece)
        if run is not None and self.state == "sewing" and self.tell:
            self._tell("stitch")

    def _until_empty(self, run: _Run, piece: _Piece) -> float:
        """How long the bobbin lasts in this stretch. [s]"""
        if not piece.stitches:
            return piece.seconds
        a_second = self._bobbin_each(run, piece) * piece.stitches / max(1e-9, piece.seconds)
        return self.bobbin_m / a_second if a_second > 0 else piece.seconds

    def _bobbin_each(self, run: _Run, piece: _Piece) -> float:
        return run.metres[piece.block][1] / run.sewn[piece.block]

    def _sew(self, run: _Run, piece: _Piece, seconds: float) -> None:
        run.into_s += seconds
        run.machine_s += seconds
        if not piece.stitches:
            return
        run.needle_s += seconds
        share = seconds / piece.seconds if piece.seconds else 1.0
        stitches = piece.stitches * share
        before = sum(p.stitches for p in run.pieces[: run.at])
        run.stitch = before + int(piece.stitches * min(1.0, run.into_s / piece.seconds))
        self.bobbin_m -= self._bobbin_each(run, piece) * stitches
        needle = self.needles[piece.block] - 1 if piece.block < len(self.needles) else 0
        metres = run.metres[piece.block][0] / run.sewn[piece.block] * stitches
        self.cones_g[needle] -= metres * TEX / 1000
        if self.bobbin_m <= 1e-9:
            self.state, self.why = "stopped", "bobbin-out"
            self._tell("bobbin-out")

    def _passed(self, run: _Run, piece: _Piece) -> None:
        run.at, run.into_s = run.at + 1, 0.0
        if piece.then == "trim":
            run.machine_s += TRIM_S
            self._tell("trim")
        elif piece.then == "change":
            self._tell("change")
        elif piece.then:
            self.state, self.why = "stopped", piece.then
            self._tell(piece.then)
        if self.state == "sewing" and run.at >= len(run.pieces):
            self._end(run)

    def _end(self, run: _Run) -> None:
        run.stitch = run.total
        self.state, self.why = "ended", ""
        self._tell(
            "end", data={"needle_s": round(run.needle_s, 3), "machine_s": round(run.machine_s, 3)}
        )

    def go(self) -> None:
        """Go on after a stop; after an empty bobbin with a new one.

        Raises
        ------
        MachineError
        """
        if self.state != "stopped":
            raise MachineError("it is not stopped.", "not-stopped")
        if self.why == "bobbin-out":
            self.bobbin_m = BOBBIN_M * self.truths.fill
        self.state, self.why = "sewing", ""
        self._tell("go")

    def stop(self) -> None:
        """Stop it, as somebody would at its panel.

        Raises
        ------
        MachineError
        """
        if self.state != "sewing":
            raise MachineError("it does not sew.", "not-sewing")
        self.state, self.why = "stopped", "stop"
        self._tell("stop")

    def clear(self) -> None:
        """Take the piece off, whatever is left of it."""
        self.state, self.why, self.run = "idle", "", None

    def new_bobbin(self) -> None:
        """Put a new bobbin in, between two pieces."""
        self.bobbin_m = BOBBIN_M * self.truths.fill
        self._tell("bobbin")

    def after(self, n: int) -> list[MachineEvent]:
        """List the events after the n-th."""
        with self.changed:
            return [event for event in self.events if event.n > n]


def _sse(machine: SimulatedMachine, after: int) -> Iterator[str]:
    """Follow a machine's events as they come; a line now and then says that it is there still."""
    yield f": {PROTOCOL}\n\n"
    while True:
        events = machine.after(after)
        for event in events:
            after = event.n
            yield f"id: {event.epoch}:{event.n}\ndata: {event.model_dump_json()}\n\n"
        if events:
            continue
        with machine.changed:
            more = machine.changed.wait(timeout=1.0)
        if not more:
            yield ": still here\n\n"


def run_clock(machine: SimulatedMachine, lock: threading.Lock) -> None:
    """Let a machine's time pass with the wall's, as many times faster as it is set to."""
    before = time.monotonic()
    while True:
        time.sleep(TICK_S)
        now = time.monotonic()
        with lock:
            machine.advance((now - before) * machine.times)
        before = now


def machine_app(machine: SimulatedMachine, *, clock: bool = True) -> Any:
    """Return the stand-in as an application to serve; see docs/formats.md for its protocol."""
    from fastapi import FastAPI  # noqa: PLC0415 - only where it is served
    from fastapi.responses import JSONResponse, StreamingResponse  # noqa: PLC0415

    from clothyard.core.errors import ClothyardError  # noqa: PLC0415

    app, lock = FastAPI(title=machine.name, openapi_url=None), threading.Lock()
    if clock:
        threading.Thread(target=run_clock, args=(machine, lock), daemon=True).start()

    @app.exception_handler(MachineError)
    def refused(_request: Request, error: MachineError) -> JSONResponse:
        return JSONResponse({"detail": str(error), "code": error.code}, status_code=409)

    @app.exception_handler(ClothyardError)
    def unread(_request: Request, error: ClothyardError) -> JSONResponse:
        return JSONResponse({"detail": error.message, "code": error.code}, status_code=422)

    @app.get("/")
    @app.get("/state")
    def state() -> MachineState:
        with lock:
            return machine.told()

    @app.put("/design")
    async def design(request: Request, name: str) -> Taken:
        data = await request.body()
        if len(data) > MOST_BYTES:
            raise MachineError("the design is too large.", "too-large")
        with lock:
            return machine.take(data, name)

    @app.put("/needles")
    def needles(asked: Needles) -> MachineState:
        with lock:
            machine.assign(asked.needles)
            return machine.told()

    @app.post("/start")
    def start(asked: Start) -> MachineState:
        with lock:
            machine.start(asked)
            return machine.told()

    @app.post("/speed")
    def speed(asked: Speed) -> MachineState:
        with lock:
            machine.times = asked.times
            return machine.told()

    @app.post("/{what}")
    def press(what: Literal["go", "stop", "bobbin", "clear"]) -> MachineState:
        with lock:
            pressed = {
                "go": machine.go,
                "stop": machine.stop,
                "bobbin": machine.new_bobbin,
                "clear": machine.clear,
            }
            pressed[what]()
            return machine.told()

    @app.get("/cones")
    def cones() -> Mapping[str, Any]:
        with lock:
            return {"grams": [round(g, 4) for g in machine.cones_g], "tex": TEX}

    @app.get("/events")
    def events(request: Request, after: int = 0) -> StreamingResponse:
        last = request.headers.get("last-event-id", "")
        if last.startswith(f"{machine.epoch}:"):
            after = int(last.rpartition(":")[2])
        return StreamingResponse(_sse(machine, after), media_type="text/event-stream")

    return app
