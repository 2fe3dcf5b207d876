"""Room at a place: how large a design may be there, and which hoops go in."""

from __future__ import annotations

from collections.abc import Iterable

from clothyard.core.cloth.hoops import Fit
from clothyard.core.house.document import GoodsClass, Hoop, House, Room
from clothyard.core.record import record
from clothyard.core.units import LENGTH_EPSILON

TUBE_MARGIN_MM = 10.0
STRETCH_GIVES = 1.1
"""How much wider a tube of cloth that stretches (2) is drawn over a hoop."""


@record
class RoomNow:
    """The room at a place for the smallest of the sizes ordered. [mm]

    `tube_mm` is what a hoop's outside may measure across, 0 where the place is open.
    """

    label: str
    width_mm: float
    height_mm: float
    tube_mm: float
    custom: bool

    def over(self, size_mm: tuple[float, float]) -> bool:
        """Whether a size, as it lies, is larger than the room."""
        width, height = size_mm
        return width > self.width_mm + LENGTH_EPSILON or height > self.height_mm + LENGTH_EPSILON


def places_of(class_id: str, house: House) -> dict[str, Room]:
    """Return the places of a class with their rooms, its usual one first.

    A copy of a class has the places of the one it is drawn as.

    Parameters
    ----------
    class_id : str
    house : House

    Returns
    -------
    dict of str to Room
        By position; empty where nothing is known of the class.
    """
    goods = house.goods[class_id]
    own = house.places.get(class_id) or house.places.get(goods.drawing, {})
    if goods.position not in own:
        return own
    return {goods.position: own[goods.position]} | own


def _of(class_id: str, position_id: str, house: House) -> Room | None:
    """Find the room at a place; at one that the class has not, that of its usual place.

    What cloth bounds there it bounds everywhere: a toy is no larger at its centre.
    """
    places = places_of(class_id, house)
    if position_id in places:
        return places[position_id]
    usual = places.get(house.goods[class_id].position)
    return usual if usual is not None and not usual.custom else None


def _share(size: str, house: House) -> float:
    """How large a size is against the middle one; 1 where it is named nowhere."""
    said = size.lower().split()
    for group in house.room_sizes.values():
        if said and said[0] in group.sizes.split():
            return float(group.share)
    return 1.0


def room_at(
    class_id: str, position_id: str, house: House, *, sizes: Iterable[str] = ()
) -> RoomNow | None:
    """Return the room at a place of a class of goods; None where nothing bounds it.

    Parameters
    ----------
    class_id, position_id : str
    house : House
    sizes : iterable of str
        Sizes ordered: the smallest has the least room.

    Source
    ------
    docs/formulas.md 5.
    """
    room = _of(class_id, position_id, house)
    if room is None:
        return None
    share = min((_share(size, house) for size in sizes), default=1.0)
    goods: GoodsClass = house.goods[class_id]
    gives = STRETCH_GIVES if goods.stretch == 2 else 1.0
    tube = room.tube_mm * share * gives - TUBE_MARGIN_MM if room.tube_mm else 0.0
    return RoomNow(
        label=room.label,
        width_mm=room.width_mm if room.width_mm >= ALONG_MM else room.width_mm * share,
        height_mm=room.height_mm * share,
        tube_mm=tube,
        custom=room.custom,
    )


def place_for(
    class_id: str, size_mm: tuple[float, float], house: House, *, sizes: Iterable[str] = ()
) -> str:
    """Return the first place of a class whose room takes a size; its usual one where none does.

    Parameters
    ----------
    class_id : str
    size_mm : (float, float)
        Of the design, as it lies. [mm]
    house : House
    sizes : iterable of str
        Sizes ordered.

    Source
    ------
    The handbook's trade: the place is proposed from the design's size too.
    """
    ordered = list(sizes)
    for position_id in places_of(class_id, house):
        room = room_at(class_id, position_id, house, sizes=ordered)
        if room is not None and not room.over(size_mm):
            return position_id
    return house.goods[class_id].position


ALONG_MM = 3000
"""A width that means: along the whole length."""


def goes_in(hoop: Hoop, fit: Fit, room: RoomNow | None) -> bool:
    """Whether a hoop's outside goes into the tube, as the design lies in it."""
    if room is None or not room.tube_mm:
        return True
    across = hoop.outer_height_mm if fit.turned else hoop.outer_width_mm
    return across <= room.tube_mm + LENGTH_EPSILON
