"""A pass at the machine: what is sewn next, what happened, what comes of it."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.advice.trouble import STOP_FIRST, all_faults, settings_of, troubles
from clothyard.core.errors import BadInput, ClothyardError, Conflict, NotFound
from clothyard.core.house.document import House
from clothyard.core.log.measured import Bobbins, cycles_of, measured_of
from clothyard.core.log.rows import LogRow, ThreadWeighed
from clothyard.core.measures import Units
from clothyard.core.order.held import machine_hold, proof_state, samples_of
from clothyard.core.order.state import PIECE_STATES
from clothyard.core.plan.calendar import Horizon, calendar_of
from clothyard.core.run.at_machine import (
    BY_MACHINE,
    SPEAK,
    AtMachine,
    Event,
    PassState,
    add_up,
    pieces_follow,
    state_in_pass,
)
from clothyard.core.run.event import EventIn, at_seconds
from clothyard.core.run.needles import on_after, order_needles
from clothyard.core.run.pressed import check_first, check_stands
from clothyard.core.stock.key import read_key
from clothyard.core.work.cautions import cautions_for
from clothyard.core.work.document import LineTold, PassTold, PlacementTold
from clothyard.core.work.holding import hardware_tasks
from clothyard.core.work.looking import FLAW_AGAIN, seen_again
from clothyard.core.work.piece import Piece
from clothyard.documents.run_sheet import SheetNeedle, SheetPass
from clothyard.files.guarded import shared_reader
from clothyard.files.photos import PHOTO_BYTES
from clothyard.services.house.standards import shop_house
from clothyard.services.log.learning import follow
from clothyard.services.log.rows import LogView, NewLogRow, PassOf, key_of, write_row
from clothyard.services.orders.follow import keep_up, move_order, move_pieces
from clothyard.services.run.sheet import order_sheet
from clothyard.store import log as kept
from clothyard.store import orders as kept_orders
from clothyard.store.shop import Shop, hour_now, today
from clothyard.store.threaded import read_threaded, write_threaded
from clothyard.store.unit import Unit

MOST_EVENTS = 500
THREADS = frozenset({"begun", "done", "spoiled", "broke", "bobbin"})
"""Events that say that a pass is sewn: its threads are on the machine."""


class EventsIn(BaseModel):
    """Events in the order in which they were written down."""

    model_config = ConfigDict(extra="forbid")

    events: list[EventIn] = Field(min_length=1, max_length=MOST_EVENTS)
    version: int | None = Field(default=None, ge=1, le=10_000)
    """The order's, when they were pressed: it may have been revised since."""

    anyway: bool = False
    """They are to be kept although the order was cancelled or revised meanwhile."""


class PassPiece(BaseModel):
    """A piece of the pass: `state` is what it is in this pass, `hooping` the loading it is in."""

    id: str
    n: int
    hooping: int
    size: str
    colour: str
    name: str
    state: PassState
    reason: str


class PassBlock(BaseModel):
    """A colour block as it is sewn: when it begins in a piece, and what comes before it."""

    block: int
    colour: str | None
    name: str
    needle: int | None
    stitches: int
    seconds: float
    stitch_from: int


class PassStop(BaseModel):
    """A stop or a step: what is done, and at which stitch of a piece; None once it is sewn."""

    when: str
    label: str
    stitch: int | None


class PassWeight(BaseModel):
    """A thread's cone: what it weighed before and after; None where it was not weighed. [g]"""

    label: str
    needle: int | None
    before_g: float | None
    after_g: float | None


class TroubleTold(BaseModel):
    """What may be seen: causes with the likeliest for this piece first, `likely` of them."""

    id: str
    seen: str
    short: str
    causes: list[str]
    likely: int
    caution: str
    now: str
    next: str


class FaultTold(BaseModel):
    """A fault as the reason of a spoiled or mended piece, and what it means that it comes again."""

    id: str
    short: str
    again: str


class EventTold(BaseModel):
    """The last event that stands, which can be taken back."""

    id: str
    kind: str
    piece: str
    at: str


class PassView(BaseModel):
    """A pass at the machine. Seconds of machine time expected, metres as the shop reads them.

    `together` pieces are sewn in one loading, `in_hoop` of them in each hoop; `cycle_s` is from one
    loading's beginning to the next one's; `day_left_h`
    what is left of today's work; `again` says what it means that the same flaw came twice, "" where
    none did; `bobbin_every` after how many pieces a bobbin is changed, 0 inside
    of one. `heard` are the ids of
    the machine's own events that are kept.
    """

    order_id: int
    version: int
    number: str
    customer: str
    promised_on: str
    pass_id: str
    label: str
    sheet: SheetPass
    pieces: list[PassPiece]
    blocks: list[PassBlock]
    stops: list[PassStop]
    needles: list[SheetNeedle]
    together: int
    in_hoop: int
    cycle_s: float
    sew_s: float
    bobbin_every: int
    day_left_h: float
    breaks: int
    again: str
    bobbins: int
    paused: str | None
    preparing: bool
    finishing: bool
    prepare_s: float | None
    finish_s: float | None
    notes: list[str]
    photos: list[str]
    weights: list[PassWeight]
    last: EventTold | None
    events: int
    heard: list[str]
    machine: str
    machine_label: str
    machine_address: bool
    scale_address: bool
    sha256: str | None
    followed: str
    cautions: list[str]
    stop_first: str
    troubles: list[TroubleTold]
    people: list[str]
    units: Units
    logged: bool
    held: str


class PassRow(BaseModel):
    """A pass of an order: what it is called, how far it is."""

    pass_id: str
    label: str
    pieces: int
    done: int
    logged: bool


def list_faults() -> list[FaultTold]:
    """List what a piece can be spoiled or mended by."""
    return [
        FaultTold(id=fault.id, short=fault.short, again=FLAW_AGAIN)
        for fault in all_faults().values()
    ]


def _events(found: Sequence[kept.KeptEvent]) -> list[Event]:
    return [Event(e.id, e.kind, at_seconds(e.at), e.piece, e.data) for e in found]


def by_pass(found: Sequence[kept.KeptEvent]) -> dict[str, list[Event]]:
    """Sort events by the pass that they are of."""
    events: dict[str, list[Event]] = {}
    for event in found:
        events.setdefault(event.pass_id, []).extend(_events([event]))
    return events


def _of_pass(each: PassTold) -> set[str]:
    return {of.line for of in each.of}


def _mine(pieces: Sequence[Piece], lines: set[str]) -> list[Piece]:
    return [p for p in pieces if p.line in lines and p.state != "surplus"]


def held_back(of: PassOf, shop: Shop) -> str:
    """Say what holds a pass back, "" for nothing: the proof, its sample, the order's own state."""
    order, opened = of.order, of.opened
    said = kept_orders.find_proof(shop, order.quote_id, order.version)
    return machine_hold(
        order.state,
        stands=order.stands,
        proof=proof_state(opened.asked, said.state if said else ""),
        samples=samples_of(opened.work, opened.job, opened.house, order.ready),
    )


def list_passes(shop: Shop, order_id: int) -> list[PassRow]:
    """List an order's passes.

    Raises
    ------
    NotFound, BadInput
    """
    of = PassOf(shop, order_id)
    logged = kept.logged_passes(shop, order_id)
    events = by_pass(kept.list_events(shop, order_id))
    pieces = kept_orders.list_pieces(shop, order_id)
    rows = []
    for each in of.passes:
        at = add_up(events.get(each.id, ()))
        mine = [p for p in _mine(pieces, _of_pass(each)) if p.state != "spoiled"]
        done = sum(state_in_pass(p, at) in {"done", "mended"} for p in mine)
        rows.append(
            PassRow(
                pass_id=each.id,
                label=of.label(each),
                pieces=len(mine),
                done=done,
                logged=each.id in logged,
            )
        )
    return rows


def find_pass(shop: Shop, order_id: int, pass_id: str) -> PassView:
    """Open a pass at the machine.

    Raises
    ------
    NotFound
    BadInput
        If its work cannot be told any more.
    """
    return _view(shop, PassOf(shop, order_id), pass_id)


def _view(shop: Shop, of: PassOf, pass_id: str) -> PassView:
    """Tell a pass as it stands."""
    order_id, work, house = of.order.quote_id, of.sewn, of.opened.changed
    each = of.told(pass_id)
    told = next(p for p in work.passes if p.id == pass_id)
    put, now = of.placement(each), shop_house(shop)
    line = next(line for line in work.lines if line.id == told.of[0].line)
    events = kept.list_events(shop, order_id, pass_id)
    at = add_up(_events(events))
    mine = next(p for p in order_sheet(shop, of, first=pass_id).passes if p.id == pass_id)
    blocks = _blocks(told, mine, max(1, told.heads) * max(1, put.pieces_a_hooping))
    machine = now.machines.get(told.machine)
    address = machine.address if machine else "-"
    last = {e.id: e for e in events}.get(at.last)
    together = max(1, told.heads) * max(1, put.pieces_a_hooping)
    loadings = cycles_of(sum(of.pieces for of in told.of), together)
    pieces = _mine(kept_orders.list_pieces(shop, order_id), _of_pass(told))
    return PassView(
        order_id=order_id,
        version=of.order.version,
        number=of.order.number,
        customer=of.order.customer,
        promised_on=of.order.promised_on,
        pass_id=pass_id,
        label=of.label(each),
        sheet=mine,
        pieces=[
            PassPiece(
                id=p.id,
                n=n,
                hooping=(n - 1) // together + 1,
                size=p.size,
                colour=p.colour,
                name=p.name,
                state=state_in_pass(p, at),
                reason=at.spoiled.get(p.id, p.reason),
            )
            for n, p in enumerate(pieces, 1)
        ],
        blocks=blocks,
        stops=_stops(line, put, blocks),
        needles=mine.needles,
        together=together,
        in_hoop=max(1, put.pieces_a_hooping),
        cycle_s=told.machine_s / loadings,
        sew_s=sum(e.machine_s for e in told.events if e.task == "sew") / loadings,
        again=seen_again(
            [*at.spoiled.values(), *at.mended.values()],
            {fault.id: fault.short for fault in all_faults().values()},
        ),
        bobbin_every=told.bobbins[0].pieces_per_bobbin if told.bobbins else 0,
        day_left_h=_day_left_h(now),
        breaks=at.breaks,
        bobbins=at.bobbins,
        paused=at.paused,
        preparing=at.preparing,
        finishing=at.finishing,
        prepare_s=at.prepare_s,
        finish_s=at.finish_s,
        notes=list(at.notes),
        photos=list(at.photos),
        weights=_weights(of, pass_id, at, mine),
        last=EventTold(id=last.id, kind=last.kind, piece=last.piece, at=last.at) if last else None,
        events=len(events),
        heard=[e.id for e in events if e.id.startswith(BY_MACHINE)],
        machine=told.machine,
        machine_label=machine.label if machine else told.machine,
        machine_address=address not in {"", "-"},
        scale_address=now.devices.scale_address not in {"", "-"},
        sha256=put.design.sha256,
        followed=_followed(of, told),
        cautions=cautions_for(line, put, house),
        stop_first=STOP_FIRST,
        troubles=[
            TroubleTold(
                id=t.fault.id,
                seen=t.fault.seen,
                short=t.fault.short,
                causes=list(t.causes),
                likely=t.likely,
                caution=t.caution,
                now=t.fault.now,
                next=t.fault.next,
            )
            for t in troubles(settings_of(line, put, house))
        ],
        people=[person.label for person in now.people.values()],
        units=now.shop.units,
        logged=pass_id in kept.logged_passes(shop, order_id),
        held=held_back(of, shop),
    )


def _blocks(told: PassTold, sheet: SheetPass, together: int) -> list[PassBlock]:
    pieces = max(1, sum(of.pieces for of in told.of))
    turns = cycles_of(pieces, together)
    on = {row.block: row for row in sheet.needles}
    found, stitch = [], 0
    for laid in told.threads:
        stitches = round(laid.stitches / pieces)
        found.append(
            PassBlock(
                block=laid.block,
                colour=laid.colour,
                name=on[laid.block].name,
                needle=on[laid.block].needle,
                stitches=stitches,
                seconds=laid.needle_s / turns,
                stitch_from=stitch,
            )
        )
        stitch += stitches
    return found


def _stops(line: LineTold, put: PlacementTold, blocks: Sequence[PassBlock]) -> list[PassStop]:
    """List what hands do at the machine and after it, in order."""
    found = []
    for step in put.steps:
        if step.at is None:
            found.append(PassStop(when="once sewn", label=step.label, stitch=None))
            continue
        block = int(step.at)
        begins = blocks[block].stitch_from if block < len(blocks) else _all(blocks)
        inside = step.at != block
        when = f"inside block {block + 1}" if inside else f"after block {block}"
        stitch = begins + blocks[block].stitches // 2 if inside and block < len(blocks) else begins
        found.append(
            PassStop(
                when=when if step.at else "before the first stitch", label=step.label, stitch=stitch
            )
        )
    fixed = hardware_tasks(line)
    found += [PassStop(when="once sewn", label=task.label, stitch=None) for task in fixed]
    return sorted(found, key=lambda stop: (stop.stitch is None, stop.stitch or 0))


def _all(blocks: Sequence[PassBlock]) -> int:
    return sum(block.stitches for block in blocks)


def _weights(of: PassOf, pass_id: str, at: AtMachine, sheet: SheetPass) -> list[PassWeight]:
    needles = {row.colour or row.name: row.needle for row in sheet.needles}
    rows = of.row(pass_id).threads
    found = []
    for row in rows:
        before, after = at.weights.get(row.label, (None, None))
        colour = read_key(row.item).detail if row.item else row.label
        found.append(
            PassWeight(label=row.label, needle=needles.get(colour), before_g=before, after_g=after)
        )
    return found


def _followed(of: PassOf, told: PassTold) -> str:
    """Say why a machine cannot be sent this design, "" where it can."""
    put = of.placement(told)
    if put.design.source != "file" or not put.design.sha256:
        return "No stitch file is behind this design: the machine is followed by hand."
    return ""


def _day_left_h(house: House) -> float:
    """How much of today's work is left: the longest that anybody is here. [h]"""
    try:
        horizon = Horizon(calendar_of(house), today(), 1, from_h=hour_now())
        return float(len(horizon)) / 4
    except (ClothyardError, ValueError):
        return 0.0


def write_events(shop: Shop, order_id: int, pass_id: str, written: EventsIn) -> PassView:
    """Keep what happened, each event once, and move the pieces it is of.

    Raises
    ------
    NotFound, BadInput
    Conflict
        If the order was cancelled or revised since they were pressed, or a piece was taken off the
        machine by another: each is to be looked at by somebody.
    """
    of = PassOf(shop, order_id)
    if not written.anyway:
        check_stands(
            of.order.number,
            of.order.state,
            of.order.version,
            seen=written.version,
        )
    of.told(pass_id)
    for n, event in enumerate(written.events):
        if event.kind == "spoiled" and not event.reason.strip():
            raise BadInput(
                "it does not say how the piece was spoiled.",
                where=f"events[{n}].reason",
                remedy="Choose what was seen.",
                code="missing",
            )
    with shop.unit() as unit:
        pieces = kept_orders.list_pieces(unit, order_id)
        _check_known(written.events, {p.id for p in pieces})
        if not written.anyway:
            there = kept.list_events(unit, order_id, pass_id)
            people = {event.id: event.person for event in there}
            check_first(_events(there), people, written.events, pieces)
        found = [kept_event(order_id, pass_id, event) for event in written.events]
        if kept.add_events(unit, found):
            if any(event.kind in THREADS for event in written.events):
                _thread(unit, of, pass_id)
            _follow(unit, of, pieces)
    return _view(shop, of.again(shop), pass_id)


def _thread(unit: Unit, of: PassOf, pass_id: str) -> None:
    """Keep what is on the machine's needles: a pass that is sewn has its threads there."""
    told = next(p for p in of.sewn.passes if p.id == pass_id)
    on = read_threaded(unit, told.machine)
    house = of.opened.changed
    needled = order_needles(of.sewn, house, {told.machine: on}, first=pass_id)[pass_id]
    after = on_after(told, needled, on)
    if after != on:
        write_threaded(unit, told.machine, after)


def _check_known(events: Sequence[EventIn], known: set[str]) -> None:
    """Refuse events of pieces that the order does not have.

    Raises
    ------
    BadInput
    """
    for n, event in enumerate(events):
        if event.kind in SPEAK and event.piece not in known:
            raise BadInput(
                f"there is no piece {event.piece[:60]!r}.",
                where=f"events[{n}].piece",
                remedy="Open the pass again.",
                code="piece-unknown",
            )


def kept_event(order_id: int, pass_id: str, event: EventIn) -> kept.KeptEvent:
    """Return an event of a pass as it is kept."""
    data = event.model_dump(exclude={"id", "kind", "at", "piece", "person"}, exclude_defaults=True)
    return kept.KeptEvent(
        event.id, order_id, pass_id, event.kind, event.piece, event.at, event.person, data
    )


def _follow(unit: Unit, of: PassOf, pieces: Sequence[Piece]) -> None:
    """Bring the order and its pieces to what the events say, with the events themselves.

    What the proof or a sample holds back stays as it is: the order's page tells it.
    """
    order_id = of.order.quote_id
    events = by_pass(kept.list_events(unit, order_id))
    passes: dict[str, list[str]] = {}
    for each in of.passes:
        for line in _of_pass(each):
            passes.setdefault(line, []).append(each.id)
    order = kept_orders.find_order(unit, order_id)
    begun = any(add_up(found).last for found in events.values())
    if begun and order.state in {"accepted", "ready", "waiting"}:
        changes = {"state": "in-work", "waits": ""}
        with suppress(Conflict):
            order = move_order(unit, order_id, of.opened, changes, seen=order.revision)
    for follows in pieces_follow(pieces, passes, events):
        with suppress(Conflict):
            pieces = move_pieces(
                unit,
                order,
                of.opened,
                pieces,
                {follows.piece},
                seen=PIECE_STATES,
                to=follows.state,
                reason=follows.reason,
            ).pieces


class PassLog(BaseModel):
    """A pass's row as its events have it, to look over before it is written."""

    row: LogRow
    logged: int


def log_begun(shop: Shop, order_id: int, pass_id: str) -> PassLog:
    """Say what a finished pass would write to the log: what was pressed, and what was not.

    Raises
    ------
    NotFound, BadInput
    """
    of = PassOf(shop, order_id)
    at = add_up(_events(kept.list_events(shop, order_id, pass_id)))
    sewn = len(at.done) + len(at.spoiled)
    row = of.row(pass_id, sewn=max(1, sewn))
    reasons: dict[str, int] = {}
    for reason in (*at.spoiled.values(), *at.mended.values()):
        reasons[reason] = reasons.get(reason, 0) + 1
    threads = [_weighed(thread, at) for thread in row.threads]
    told = next(p for p in of.sewn.passes if p.id == pass_id)
    put, sewn = of.placement(told), row.sewn
    row = row.model_copy(
        update={
            "actual": measured_of(
                at,
                sewn=sewn,
                cycles=cycles_of(sewn, max(1, told.heads) * max(1, put.pieces_a_hooping)),
                bobbins=_bobbins(told, shop_house(shop)),
            ),
            "seen": at.seen if at.seen < sewn else 0,
            "threads": threads,
            "spoiled": len(at.spoiled),
            "mended": len(at.mended),
            "reasons": reasons,
            "note": "\n".join(at.notes)[:2000],
            "photo": at.photos[-1] if at.photos else "",
            "source": "run",
        }
    )
    logged = kept.find_key(shop, key_of(order_id, pass_id))
    return PassLog(row=row, logged=logged or 0)


def _bobbins(told: PassTold, house: House) -> Bobbins | None:
    """Tell how a pass's bobbins are meant to be used; None where they are of several colours."""
    if len(told.bobbins) != 1:
        return None
    [loaded] = told.bobbins
    return Bobbins(
        capacity_m=loaded.capacity_m,
        each_m=told.bobbin_m / max(1, sum(of.pieces for of in told.of)),
        run_out=loaded.pieces_per_bobbin == 0,
        shelf_m=house.bobbin_plan.shelf_m,
    )


def _weighed(thread: ThreadWeighed, at: AtMachine) -> ThreadWeighed:
    before, after = at.weights.get(thread.label, (None, None))
    return thread.model_copy(update={"grams_before": before, "grams_after": after})


def log_pass(shop: Shop, order_id: int, row: LogRow) -> LogView:
    """Write a pass's row; the factors that move by themselves follow.

    Raises
    ------
    NotFound, BadInput
    """
    return write_row(shop, NewLogRow(order_id=order_id, row=row), follow=follow)


def keep_photo(shop: Shop, order_id: int, data: bytes) -> str:
    """Keep a photo of an order, made small; see `files.photos.small_photo`.

    Returns
    -------
    str
        Its hash.

    Raises
    ------
    NotFound
        If there is no such order: nothing is read, or kept.
    BadInput
        If it is no picture, too large, or takes too long to read.
    """
    keep_up(shop)
    kept_orders.find_order(shop, order_id)
    if len(data) > PHOTO_BYTES:
        raise BadInput(
            f"the photo has {len(data) / 1e6:.0f} MB.",
            where="photo",
            remedy=f"Send one of at most {PHOTO_BYTES // 1_000_000} MB.",
            code="too-large",
        )
    sha256 = shop.documents.keep(shared_reader().photo(data))
    with shop.unit() as unit:
        kept.add_photo(unit, sha256, order_id)
    return sha256


def find_photo(shop: Shop, sha256: str) -> bytes:
    """Return a photo's bytes.

    Raises
    ------
    NotFound, Conflict
    """
    if not kept.is_photo(shop, sha256):
        raise NotFound("there is no such photo.", where="photo", code="photo-unknown")
    return shop.documents.sound(sha256)
