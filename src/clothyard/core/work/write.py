"""Writing an order's work as its document: every second and metre of it, and no money."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace
from typing import Literal

from clothyard.core.cloth.cutting import Cut, Cutter
from clothyard.core.job.names import known_names, piece_order
from clothyard.core.record import record
from clothyard.core.time.steps import FixedPart, StepPlan
from clothyard.core.units import round_half_up
from clothyard.core.work.document import (
    BobbinsLoaded,
    CellTold,
    CutTold,
    DesignSewn,
    EventTold,
    HardwareFixed,
    LineTold,
    PassTold,
    PieceTold,
    PlacementTold,
    RunTold,
    Shared,
    StepTold,
    StretchTold,
    TaskTold,
    ThreadLaid,
    ThreadTold,
    Work,
)
from clothyard.core.work.elapsed import elapsed_parts
from clothyard.core.work.handwork import TaskUse
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.once import once_an_order
from clothyard.core.work.order import OrderWork
from clothyard.core.work.passes import Pass
from clothyard.core.work.pieces import OwnPass, own_passes
from clothyard.core.work.placement_plan import PlacementPlan
from clothyard.core.work.threads import thread_metres

PLACES = 4
"""Decimals of seconds, metres and millimetres."""


def _round(value: float) -> float:
    return round_half_up(value, PLACES)


@record
class _Of:
    """A placement of a line over some pieces: the run, or its samples (each alone)."""

    line: LineDone
    placed: PlacementPlan
    done: Pass
    times: int = 1

    @property
    def pieces(self) -> int:
        return self.done.pieces * self.times


def _task(used: TaskUse, *, number: float, practice: float = 1.0) -> TaskTold:
    """A task as often as `number` pieces, hoopings or orders take it."""
    times = used.times * number
    share = practice if used.practised else 1.0
    return TaskTold(
        task=used.task,
        label=used.label,
        per=used.per,
        before=used.before,
        practised=used.practised,
        first_s=_round(used.seconds),
        times=_round(times),
        total_s=_round(used.seconds * times * share),
    )


def _tasks(of: _Of) -> list[TaskTold]:
    hoopings = of.done.loads.hoopings * of.times
    return [
        _task(
            used,
            number=hoopings if used.per == "hooping" else of.pieces,
            practice=of.done.practice,
        )
        for used in of.placed.tasks
    ]


def _events(of: _Of) -> list[EventTold]:
    n = of.pieces
    return [
        EventTold(
            task=event.name,
            label=event.label,
            times=_round(event.times * n),
            machine_s=_round(event.machine_s * n),
            operator_s=_round(event.operator_s * n),
        )
        for event in of.done.events
    ]


def _threads(of: _Of) -> list[ThreadLaid]:
    facts, making, n = of.placed.facts, of.placed.making, of.pieces
    turns = making.layout.copies * n * of.done.loads.abreast
    gaps_s = of.placed.gap_s * of.done.loads.gaps * of.times
    fixed = {key: at for at, key in enumerate(of.placed.needles.fixed, 1)}
    rows = zip(
        facts.blocks,
        facts.colour_keys,
        of.placed.needle_s,
        of.done.thread.needle_m,
        of.done.thread.bobbin_m,
        strict=True,
    )
    return [
        ThreadLaid(
            block=at,
            colour=block.colour,
            thread=making.thread_id,
            needle=fixed.get(key) if making.machine.auto_change else None,
            stitches=int(round_half_up(block.stitches * making.layout.copies * n, 0)),
            needle_s=_round(seconds * turns + gaps_s),
            needle_m=_round(needle * n),
            bobbin_m=_round(bobbin * n),
        )
        for at, (block, key, seconds, needle, bobbin) in enumerate(rows, 1)
    ]


def _cut(
    what: Literal["backing", "topping", "sheet"], material: str, cut: Cut, listed: Cut
) -> CutTold:
    return CutTold(
        what=what,
        material=material,
        stock=cut.stock,
        width_mm=_round(cut.piece_mm[0]),
        height_mm=_round(cut.piece_mm[1]),
        count=cut.count,
        length_mm=_round(cut.length_mm),
        list_count=listed.count,
        list_length_mm=_round(listed.length_mm),
    )


def _listed(cut: Cut, tried: Sequence[Cutter], count: int) -> Cut:
    return next(c for c in tried if c.stock_id == cut.stock).cut(count)


def _cuts(of: _Of, more: int) -> Iterator[CutTold]:
    """Cuts of a pass; `more` is the line's pieces with samples and spares, for the list."""
    placed, making, done = of.placed, of.placed.making, of.done
    pieces = placed.pieces_of(more)
    hoopings = making.layout.hoopings_of(pieces)
    if done.backing:
        listed = _listed(done.backing, placed.backing_cutters, hoopings * making.layers)
        yield _cut("backing", making.backing_id, done.backing, listed)
    if done.second:
        listed = _listed(done.second, placed.second_cutters, hoopings * making.second_layers)
        yield _cut("backing", making.second_id, done.second, listed)
    if done.topping:
        listed = _listed(done.topping, placed.topping_cutters, hoopings)
        yield _cut("topping", making.topping_id, done.topping, listed)
    for sheet, laid, tried in zip(
        placed.steps.sheets, done.sheets, placed.sheet_cutters, strict=True
    ):
        count = (hoopings if sheet.per_hooping else pieces) * sheet.count
        own = replace(laid.cut, count=laid.count, length_mm=laid.cut.length_mm * laid.share)
        yield _cut("sheet", sheet.material, own, _listed(laid.cut, tried, count))


def _shared(of: _Of) -> list[Shared]:
    """The placements of all lines of a batch that a pass sews."""
    at = next(i for i, put in enumerate(of.line.joint.placements) if put is of.placed)
    return [
        Shared(
            line=plan.line.id,
            placement=plan.placements[at].id,
            pieces=plan.placements[at].pieces_of(plan.line.quantity),
        )
        for plan in of.line.together
    ]


def _pass(of: _Of, id_: str, *, sample: bool, more: int, after: str | None = None) -> PassTold:
    done, n = of.done, of.pieces
    shared = (
        _shared(of)
        if not sample
        else [Shared(line=of.line.plan.line.id, placement=of.placed.id, pieces=n)]
    )
    return PassTold(
        id=id_,
        of=shared,
        sample=sample,
        after=after,
        machine=of.placed.making.machine_id,
        heads=done.loads.heads,
        cycles=round(done.loads.cycles) * of.times,
        hoopings=round(done.loads.hoopings) * of.times,
        practice=_round(done.practice),
        stitches_each=_round(done.stitches),
        events=_events(of),
        tasks=_tasks(of),
        winding_s=_round(done.winding_s * n),
        threads=_threads(of),
        hand_change_m=_round(done.hand_change_m * n),
        bobbins=[
            BobbinsLoaded(
                colour=colour,
                capacity_m=_round(run.capacity_m),
                count=run.count,
                pieces_per_bobbin=run.pieces_per_bobbin,
                changes=run.changes,
                change_s=_round(run.change_s),
            )
            for colour, run in done.bobbins
        ],
        bobbin_kept_m=_round(done.kept_m * of.times),
        bobbin_waste_m=_round(done.waste_m * of.times),
        cuts=list(_cuts(of, more)),
        machine_s=_round(done.machine_s * n),
        attend_s=_round(done.attend_s * n),
        hand_s=_round(done.hand_s * n),
        needle_m=_round(done.needle_m * n),
        bobbin_m=_round(done.bobbin_m * n),
    )


def _passes(line: LineDone, spares: int) -> Iterator[PassTold]:
    more = line.batch + line.sampled.pieces + spares
    for placed, done in zip(line.joint.placements, line.whole, strict=True):
        of, waits = _Of(line, placed, done), f"{placed.id}.sample" if line.held else None
        yield _pass(of, f"{placed.id}.run", sample=False, more=more, after=waits)
    if line.sampled.pieces:
        for placed, first in zip(line.joint.placements, line.sampled.first, strict=True):
            of = _Of(line, placed, first, times=line.sampled.pieces)
            yield _pass(of, f"{placed.id}.sample", sample=True, more=line.sampled.pieces)


def _hardware(parts: Iterable[FixedPart]) -> list[HardwareFixed]:
    return [HardwareFixed(item=p.item, amount=_round(p.amount), unit=p.unit) for p in parts]


def _steps(steps: StepPlan) -> list[StepTold]:
    return [
        StepTold(
            label=step.label,
            seconds=_round(step.seconds),
            per="hooping" if step.per_hooping else "piece",
            at=step.at,
        )
        for step in (*steps.times, *steps.after)
    ]


def _placement(placed: PlacementPlan) -> PlacementTold:
    making, facts, layout = placed.making, placed.facts, placed.making.layout
    return PlacementTold(
        id=placed.id,
        position=making.position_id,
        design=DesignSewn(
            name=facts.name,
            sha256=facts.sha256,
            source=facts.source,
            stitches=round(facts.stitches),
            trims=round(facts.trims),
            stops=facts.stops,
            width_mm=_round(facts.width_mm),
            height_mm=_round(facts.height_mm),
        ),
        methods={choice.key: choice.value for choice in making.choices},
        hoop=making.hoop_id if making.hoop else None,
        copies=layout.copies,
        hoopings_each=layout.hoopings,
        pieces_a_hooping=layout.pieces,
        sewn_width_mm=_round(making.sewn_mm[0]),
        sewn_height_mm=_round(making.sewn_mm[1]),
        thickness_mm=_round(making.thickness_mm),
        cap_spm=making.cap_spm,
        way=making.way_words,
        standby=making.goods.standby,
        steps=_steps(placed.steps),
        hardware=_hardware(placed.steps.parts),
    )


def _cell_of(line: LineDone, n: int) -> str | None:
    """Id of the cell that the n-th piece in sewing order is of: cell by cell, as listed."""
    for cell in line.plan.line.cells:
        if n < cell.quantity:
            return cell.id
        n -= cell.quantity
    return None


def _pieces(line: LineDone) -> Iterator[PieceTold]:
    """Each piece's own figures, in sewing order; none when all are alike."""
    plan = line.plan
    named = next((p.own for p in plan.placements if p.own and p.own.given), None)
    if named is None:
        return
    own = [own_passes(placed, done, plan.house) for placed, done in line.placed]
    names = known_names(plan.line)
    for k, n in enumerate(piece_order(plan.line)):
        passes = [each if isinstance(each, OwnPass) else each[n] for each in own]
        sewn = [each for each in passes if each is not None]
        facts = named.pieces[n]
        name = names[n] if n < named.given and facts is not None else None
        yield PieceTold(
            id=f"{plan.line.id}.{k + 1}",
            cell=_cell_of(line, k),
            name=name,
            stitches=int(round_half_up(sum(d.stitches for d in sewn), 0)),
            needle_m=_round(sum(d.needle_m for d in sewn)),
            bobbin_m=_round(sum(d.bobbin_m for d in sewn)),
            machine_s=_round(sum(d.machine_s for d in sewn)),
            attend_s=_round(sum(d.attend_s for d in sewn)),
            hand_s=_round(plan.hand_s + sum(d.hand_s for d in sewn)),
        )


def _line(line: LineDone, spares: int, by_cell: Sequence[int]) -> LineTold:
    plan = line.plan
    return LineTold(
        id=plan.line.id,
        goods=plan.line.goods.class_,
        blank=plan.line.goods.blank,
        quantity=line.quantity,
        spares=spares,
        samples=line.sampled.pieces if line.leads else 0,
        sample_washed=line.sampled.wash and line.sampled.pieces > 0,
        cells=[
            CellTold(
                id=cell.id,
                size=cell.size,
                colour=cell.colour,
                pieces=cell.quantity,
                spares=more,
            )
            for cell, more in zip(plan.line.cells, by_cell, strict=False)
        ],
        placements=[_placement(placed) for placed in plan.placements],
        tasks=[_task(used, number=line.quantity) for used in plan.tasks],
        names=[_task(used, number=1) for used in line.name_tasks],
        hardware=_hardware(plan.hardware),
        pieces=list(_pieces(line)),
        spoil=_round(plan.spoil),
        remakes=_round(line.remakes),
        repair_s=_round(line.repair_s),
        machine_s=_round(line.machine_s),
        attend_s=_round(line.attend_s),
        hand_s=_round(line.hand_s),
        sample_machine_s=_round(line.sample_machine_s),
        sample_hand_s=_round(line.sample_hand_s + line.sample_attend_s),
    )


def _run(lines: Sequence[LineDone], order: OrderWork) -> RunTold:
    parts = elapsed_parts(lines, order.house)
    once = sum(task.total_s for task in once_an_order(order.plans, order.house))
    hands = sum(
        line.labour_s + line.names_s + line.sample_hand_s + line.sample_attend_s for line in lines
    )
    return RunTold(
        basis="closed-form",
        elapsed_s=_round(sum(part.seconds for part in parts)),
        machine_s=_round(sum(line.machine_s + line.sample_machine_s for line in lines)),
        operator_s=_round(hands + once),
        parts=[StretchTold(label=part.label, seconds=_round(part.seconds)) for part in parts],
    )


def write_work(order: OrderWork, spares: Sequence[int], by_cell: Sequence[Sequence[int]]) -> Work:
    """Write what is done for an order at the quantities it asks for.

    Parameters
    ----------
    order : OrderWork
    spares : sequence of int, one a line
        Pieces to have ready beyond the quantity; which are cheapest to spare is a matter of
        money, so it is handed in.
    by_cell : sequence of sequences of int
        The same of each line's cells, before whole packs.

    Returns
    -------
    Work
        Without any amount of money.

    Source
    ------
    docs/formulas.md 2 to 10; docs/formats.md.
    """
    lines = [work.at(work.plan.line.quantity) for work in order.lines]
    known = {line.plan.line.id: spare for line, spare in zip(lines, spares, strict=True)}
    return Work(
        once=[_task(used, number=1) for used in once_an_order(order.plans, order.house)],
        lines=[_line(*each) for each in zip(lines, spares, by_cell, strict=True)],
        passes=[
            told
            for line in lines
            if line.leads
            for told in _passes(line, sum(known[plan.line.id] for plan in line.together))
        ],
        threads=[
            ThreadTold(
                thread=row.thread_id,
                colour=row.colour,
                label=row.label,
                needle_m=_round(row.needle_m),
                bobbin_m=_round(row.bobbin_m),
                needed_m=_round(row.needed_m),
            )
            for row in thread_metres(lines, spares)
        ],
        run=_run(lines, order),
    )
