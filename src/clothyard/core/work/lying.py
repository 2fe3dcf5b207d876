"""Where a line's designs lie: the place proposed from the design's size, on a corner's diagonal."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.cloth.place import lying_size
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
    room = room_at(line.goods.class_, position, house) if position in house.positions else None
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
            position = place_for(line.goods.class_, size, house, sizes=sizes)
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
    return line.model_copy(update={"placements": placed})
