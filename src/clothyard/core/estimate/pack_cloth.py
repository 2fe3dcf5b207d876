"""Packing what lies on cloth: placements, hoopings and cuts, in numbers that can be drawn."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Literal

from clothyard.core.cloth.cutting import Cut, Cutter, offcuts
from clothyard.core.cloth.layout import block_order, lie_band
from clothyard.core.cloth.place import Placed, hooped_size, lying_size, moves, put_in_place
from clothyard.core.cloth.room import ALONG_MM, room_at
from clothyard.core.estimate.document import (
    BandDrawn,
    CentreMark,
    CutPlan,
    Hooping,
    HoopTried,
    NearestRim,
    OffcutKept,
    RoomThere,
    WayIn,
    WherePlaced,
)
from clothyard.core.estimate.pack_steps import pack_steps
from clothyard.core.job.document import Placement
from clothyard.core.measures import length_text, size_text
from clothyard.core.units import exact, money_text, round_half_up, share_text
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan

What = Literal["backing", "topping", "sheet"]


def _point(point: tuple[float, float]) -> list[float]:
    return [round_half_up(point[0], 2), round_half_up(point[1], 2)]


def _marks(put: Placed) -> list[CentreMark]:
    return [
        CentreMark(
            sizes=mark.sizes,
            gap_mm=None if mark.gap_mm is None else round_half_up(mark.gap_mm, 2),
            from_reference_mm=None
            if mark.from_reference_mm is None
            else round_half_up(mark.from_reference_mm, 2),
            side_mm=round_half_up(mark.side_mm, 2),
            x_mm=round_half_up(mark.x_mm, 2),
            y_mm=round_half_up(mark.y_mm, 2),
            words=mark.words,
        )
        for mark in put.marks
    ]


def _hooping(placed: PlacementPlan, done: Pass) -> Hooping:
    layout = placed.making.layout
    return Hooping(
        kind=layout.kind,
        copies=layout.copies,
        per_piece=layout.hoopings,
        pieces=layout.pieces,
        columns=layout.columns,
        rows=layout.rows,
        gap_mm=round_half_up(layout.gap_mm, 2),
        sewn_mm=_point(placed.making.sewn_mm),
        total=round(done.loads.hoopings),
    )


def _band(asked: Placement, placed: PlacementPlan) -> BandDrawn | None:
    layout = placed.making.layout
    if asked.band is None or layout.kind != "band":
        return None
    motif = lying_size((placed.facts.width_mm, placed.facts.height_mm), asked.place)[0]
    laid = lie_band(asked.band, layout, motif)
    return BandDrawn(
        length_mm=asked.band.length_mm,
        motif_mm=round_half_up(motif, 2),
        starts_mm=[round_half_up(start, 2) for start in laid.starts_mm],
        hoopings=list(laid.hoopings),
        corners_mm=[round_half_up(corner, 2) for corner in laid.corners_mm],
        left_mm=round_half_up(laid.left_mm, 2),
        joints=layout.joints,
    )


def _hoops(placed: PlacementPlan, quantity: int) -> list[HoopTried]:
    return [
        HoopTried(
            id=tried.hoop_id,
            fits=tried.does,
            turned=tried.fit.turned,
            left_mm=round_half_up(tried.fit.left_mm, 2),
            miss_mm=round_half_up(tried.fit.miss_mm, 2),
            refusal=tried.refusal,
            hoopings=tried.layout.hoopings_of(quantity),
        )
        for tried in placed.making.tries
    ]


def _put(asked: Placement, placed: PlacementPlan, done: LineDone) -> Placed:
    house, making = done.plan.house, placed.making
    return put_in_place(
        making.position_id,
        house.positions[making.position_id],
        asked.place,
        size_mm=(placed.facts.width_mm, placed.facts.height_mm),
        sewn_mm=making.sewn_mm,
        cell_sizes=[cell.size for cell in done.plan.line.cells if cell.size],
        sizes=house.place_sizes,
        hoop=making.hoop,
        fit=making.fit,
        way=making.way,
        units=house.shop.units,
        band=asked.band,
    )


def _room(asked: Placement, placed: PlacementPlan, done: LineDone) -> RoomThere | None:
    """The room there, and whether the largest design is larger."""
    plan, own = done.plan, placed.own
    sizes = [cell.size for cell in plan.line.cells]
    room = room_at(
        plan.line.goods,
        placed.making.position_id,
        plan.house,
        sizes=sizes,
        measured=asked.room,
    )
    if room is None:
        return None
    along = room.width_mm >= ALONG_MM
    position = plan.house.positions[placed.making.position_id]
    lying = [
        hooped_size((d.width_mm, d.height_mm), asked.place, position)
        for d in (own.sewn if own else (placed.facts,))
    ]
    units = plan.house.shop.units
    text = (
        f"{length_text(room.height_mm, units=units)} high"
        if along
        else size_text((room.width_mm, room.height_mm), units=units)
    )
    return RoomThere(
        label=room.label,
        width_mm=None if along else round_half_up(room.width_mm, 2),
        height_mm=round_half_up(room.height_mm, 2),
        tube_mm=round_half_up(room.tube_mm, 2),
        custom=room.custom,
        over=any(room.over((0.0 if asked.band else w, h)) for w, h in lying),
        text=text,
    )


def _way(placed: PlacementPlan) -> WayIn | None:
    """How the piece goes in; None where no hoop takes it."""
    making = placed.making
    if making.hoop is None:
        return None
    return WayIn.model_validate(
        {
            "turned": making.way,
            "opening": making.way_sides[0],
            "bulk": making.way_sides[1],
            "arm": making.machine.arm,
            "words": making.way_words,
        }
    )


def pack_places(done: LineDone) -> list[WherePlaced]:
    """Put every placement in its place, in numbers, words and geometry."""
    found = []
    for asked, (placed, each) in zip(done.plan.line.placements, done.placed, strict=True):
        put = _put(asked, placed, done)
        rim = put.nearest_rim
        position = done.plan.house.positions[placed.making.position_id]
        per_gap, per_side = moves(position)
        found.append(
            WherePlaced(
                id=asked.id,
                position=placed.making.position_id,
                label=position.label,
                marks=_marks(put),
                per_gap=[round_half_up(part, 4) for part in per_gap],
                per_side=[round_half_up(part, 4) for part in per_side],
                corners_mm=[_point(point) for point in put.corners_mm],
                turn=put.turn,
                tilt_deg=put.tilt_deg,
                mirror=put.mirror,
                hoop_way=put.hoop_way,
                way=_way(placed),
                nearest_rim=NearestRim(sides=rim[0], left_mm=round_half_up(rim[1], 2))
                if rim
                else None,
                hooping=_hooping(placed, each),
                room=_room(asked, placed, done),
                hoops=_hoops(placed, done.quantity),
                steps=pack_steps(asked, placed, each),
                band=_band(asked, placed),
                block_order=[list(cell) for cell in block_order(asked.blocks)]
                if asked.blocks
                else [],
                stop_at=list(placed.steps.stop_at),
            )
        )
    return found


def _wanted(
    placed: PlacementPlan, done: Pass, *, pieces: int
) -> Iterator[tuple[What, str, Cut, int, Sequence[Cutter]]]:
    """List a pass's cuts: what, material, the cut, and how many the list asks for."""
    making = placed.making
    hoopings = making.layout.hoopings_of(pieces)
    if done.backing:
        count = hoopings * making.layers
        yield "backing", making.backing_id, done.backing, count, placed.backing_cutters
    if done.second:
        count = hoopings * making.second_layers
        yield "backing", making.second_id, done.second, count, placed.second_cutters
    if done.topping:
        yield "topping", making.topping_id, done.topping, hoopings, placed.topping_cutters
    for sheet, laid, tried in zip(
        placed.steps.sheets, done.sheets, placed.sheet_cutters, strict=True
    ):
        count = (hoopings if sheet.per_hooping else pieces) * sheet.count
        yield "sheet", sheet.material, laid.cut, count + laid.cut.count - laid.count, tried


def _offcuts(cut: Cut, least_mm: float) -> list[OffcutKept]:
    return [
        OffcutKept(
            x_mm=round_half_up(left.x_mm, 2),
            y_mm=round_half_up(left.y_mm, 2),
            width_mm=round_half_up(left.width_mm, 2),
            length_mm=round_half_up(left.length_mm, 2),
        )
        for left in offcuts(cut, least_mm=least_mm)
    ]


def pack_cuts(done: LineDone, spares: int, currency: str) -> list[CutPlan]:
    """Pack every cut of a line's batch, for the price and, with samples and spares, for the list.

    Parameters
    ----------
    done : LineDone
    spares : int
        Pieces that the list of the batch has beyond quantity and samples.
    currency : str

    Source
    ------
    docs/formulas.md 4.
    """
    more = done.batch + done.sampled.pieces + spares
    found = []
    for i, (placed, each) in enumerate(zip(done.joint.placements, done.whole, strict=True)):
        for what, material, cut, count, tried in _wanted(
            placed, each, pieces=placed.pieces_of(more)
        ):
            listed = next(c for c in tried if c.stock_id == cut.stock).cut(count)
            found.append(
                CutPlan(
                    placement=i,
                    what=what,
                    material=material,
                    stock=cut.stock,
                    on_sheets=cut.on_sheets,
                    fits=cut.fits,
                    turned=cut.turned,
                    piece_mm=_point(cut.piece_mm),
                    count=cut.count,
                    across=cut.across,
                    rows=cut.rows,
                    rows_each=cut.rows_each,
                    step_mm=round_half_up(cut.step_mm, 2),
                    width_mm=cut.width_mm,
                    length_mm=round_half_up(cut.length_mm, 2),
                    to_open=cut.rolls,
                    waste=share_text(exact(cut.waste)),
                    cost=money_text(cut.cost, currency),
                    list_count=count,
                    list_length_mm=round_half_up(listed.length_mm, 2),
                    list_to_open=listed.rolls,
                    offcuts=_offcuts(cut, done.plan.house.cutting.offcut_least_mm),
                )
            )
    return found
