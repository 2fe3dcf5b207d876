"""Where a line's designs lie: the place proposed from the design's size, on a corner's diagonal."""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Sequence

from clothyard.core.cloth.place import lying_size, place_marks
from clothyard.core.cloth.room import ALONG_MM, place_for, places_of, room_at
from clothyard.core.house.document import House
from clothyard.core.job.document import Blocks, Line, Place, Placement
from clothyard.core.work.designs import Sewn


def _largest(sewn: Sewn, place: Place) -> tuple[float, float]:
    """The largest of its designs, as it lies. [mm]"""
    designs = sewn.own.sewn if sewn.own else (sewn.facts,)
    lying = [lying_size((d.width_mm, d.height_mm), place) for d in designs]
    return max(w for w, _ in lying), max(h for _, h in lying)


BLOCK = "block"
"""The place that designs in rows and columns take, where a class has it."""


def _sized(blocks: Blocks, position: str, line: Line, house: House) -> Blocks:
    """Blocks without a size are as large as their place's room."""
    room = room_at(line.goods, position, house) if position in house.positions else None
    if room is None or room.width_mm >= ALONG_MM:
        return blocks
    return blocks.model_copy(
        update={
            "width_mm": blocks.width_mm or room.width_mm,
            "height_mm": blocks.height_mm or room.height_mm,
        }
    )


def _lying(placement: Placement, sewn: Sewn, line: Line, house: House) -> Placement:
    position = placement.position
    if position is None:
        size = _largest(sewn, placement.place)
        if placement.band is not None:
            size = (0.0, size[1])
        if placement.together is None:
            sizes = [cell.size for cell in line.cells]
            position = place_for(line.goods, size, house, sizes=sizes)
    if placement.blocks is not None and placement.position is None:
        position = BLOCK if BLOCK in places_of(line.goods.class_, house) else position
    known = house.positions.get(position or "")
    changes: dict[str, object] = {"position": position} if position else {}
    if placement.blocks is not None:
        changes["blocks"] = _sized(placement.blocks, position or "", line, house)
    turned = placement.place.model_fields_set & {"turn", "tilt_deg"}
    if known is not None and known.tilt_deg and not turned and placement.band is None:
        place = placement.place.model_copy(update={"tilt_deg": known.tilt_deg})
        place.model_fields_set.discard("tilt_deg")  # a fix that moves it types no tilt
        changes["place"] = place
    return placement.model_copy(update=changes) if changes else placement


def lie(line: Line, sewn: Sequence[Sewn], house: House) -> Line:
    """Say where each design of a line lies, where the job does not.

    Parameters
    ----------
    line : Line
        As asked.
    sewn : sequence of Sewn, one a placement
    house : House

    Returns
    -------
    Line
        With the place that each design's size proposes; at a corner on its diagonal.

    Source
    ------
    The handbook's trade, rooms; docs/formulas.md 6.
    """
    if line.goods.class_ not in house.goods:
        return line
    placed = tuple(
        _lying(placement, design, line, house)
        for placement, design in zip(line.placements, sewn, strict=True)
    )
    return line.model_copy(update={"placements": _sharing(placed, sewn, line, house)})


def _sharing(
    placed: tuple[Placement, ...], sewn: Sequence[Sewn], line: Line, house: House
) -> tuple[Placement, ...]:
    """Say how large a hooping is that several places share: the box round all of them."""
    if not any(placement.shares for placement in placed):
        return placed
    found = list(placed)
    for first, placement in enumerate(placed):
        others = list(itertools.takewhile(lambda each: each.shares, placed[first + 1 :]))
        if placement.shares or not others:
            continue
        boxes = [
            box
            for each, design in zip((placement, *others), sewn[first:], strict=False)
            if each.position == placement.position
            for box in _boxes(each, design, line, house)
        ]
        if boxes:
            low = [min(box[k] for box in boxes) for k in (0, 1)]
            high = [max(box[k] for box in boxes) for k in (2, 3)]
            found[first] = placement.hooped_with((high[0] - low[0], high[1] - low[1]))
    return tuple(found)


Box = tuple[float, float, float, float]


def _boxes(placement: Placement, sewn: Sewn, line: Line, house: House) -> Iterator[Box]:
    """The box of a design, for each group of sizes, from its position's reference. [mm]"""
    position_id = placement.position or house.goods[line.goods.class_].position
    width, height = _largest(sewn, placement.place)
    if position_id not in house.positions:
        return
    marks = place_marks(
        position_id,
        house.positions[position_id],
        placement.place,
        height_mm=height,
        cell_sizes=[cell.size for cell in line.cells],
        sizes=house.place_sizes,
    )
    for mark in marks:
        yield (
            mark.x_mm - width / 2,
            mark.y_mm - height / 2,
            mark.x_mm + width / 2,
            mark.y_mm + height / 2,
        )
