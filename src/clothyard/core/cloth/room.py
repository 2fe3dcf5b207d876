"""Room at a place: how large a design may be there, and which hoops go in."""

from __future__ import annotations

import re
from collections.abc import Iterable

from clothyard.core.cloth.hoops import Fit
from clothyard.core.house.document import Hoop, House, Room
from clothyard.core.job.document import Goods, PlaceRoom
from clothyard.core.record import record
from clothyard.core.units import LENGTH_EPSILON

TUBE_MARGIN_MM = 10.0
STRETCH_GIVES = 1.1
"""How much wider a tube of cloth that stretches (2) is drawn over a hoop."""


@record
class RoomNow:
    """The room at a place for the smallest of the sizes ordered. [mm]

    `tube_mm` is what a hoop's outside may measure across, 0 where the place is open. `cloth_mm` is
    what of it there is to hold in a ring, None where it always reaches far enough.
    """

    label: str
    width_mm: float
    height_mm: float
    tube_mm: float
    custom: bool
    cloth_mm: tuple[float, float] | None = None

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
    """Find the room at a place; at one that a closed shape has not, that of its usual place.

    What cloth bounds there it bounds everywhere: a toy is no larger at its centre. Flat open cloth
    is bounded by its own size.
    """
    places = places_of(class_id, house)
    if position_id in places:
        return places[position_id]
    if house.goods[class_id].is_flat:
        return _AS_PIECE
    usual = places.get(house.goods[class_id].position)
    return usual if usual is not None and not usual.custom else None


_MONTHS = re.compile(r"^(\d{1,2})(?:\s*[-–]\s*\d{1,2})?\s*(m|mo|mos|mth|mths|month|months)?$")
_AGE = re.compile(r"^(\d{1,2})(?:\s*[-–]\s*\d{1,2})?\s*(y|yr|yrs|year|years)(?: old)?$")
INFANT_MONTHS = (("newborn", 3), ("three-months", 6), ("six-months", 12), ("twelve-months", 25))
"""Rows of the sizes, and the months under which each holds."""
YOUTH_YEARS = range(3, 15)


def _infant_row(size: str, *, infants: bool) -> str:
    """Name the row of an infant's size by its least months; "" where it is no such size."""
    found = _MONTHS.match(size)
    if found is None or not (found.group(2) or infants):
        return ""
    return next((row for row, under in INFANT_MONTHS if int(found.group(1)) < under), "")


def _share(size: str, house: House, *, infants: bool) -> float:
    """How large a size is against the middle one; 1 where it is named nowhere.

    Source: handbook trade, size groups; infants by the least months of their size.
    """
    text = size.strip().lower()
    row = house.room_sizes.get(_infant_row(text, infants=infants))
    age = _AGE.match(text)
    if row is None and age and int(age.group(1)) in YOUTH_YEARS:
        row = house.room_sizes.get("youth")
    if row is not None:
        return float(row.share)
    said = text.split()
    for group in house.room_sizes.values():
        if said and said[0] in group.sizes.split():
            return float(group.share)
    return 1.0


def piece_size(goods: Goods, house: House) -> tuple[float, float] | None:
    """Return the size of a piece of flat open goods, as measured or usual; None of others. [mm]"""
    known = house.goods[goods.class_]
    if not known.is_flat:
        return None
    return goods.width_mm or known.piece_width_mm, goods.height_mm or known.piece_height_mm


def _as_piece(room: Room, size_mm: tuple[float, float]) -> tuple[float, float]:
    """Room of a place that is bounded by the piece alone, its hems left free. [mm]"""
    width, height = (max(0.0, side - 2 * HEM_MM) for side in size_mm)
    return width, min(height, room.height_mm)


def room_at(
    goods: Goods,
    position_id: str,
    house: House,
    *,
    sizes: Iterable[str] = (),
    measured: PlaceRoom | None = None,
) -> RoomNow | None:
    """Return the room at a place of some goods; None where nothing bounds it.

    Parameters
    ----------
    goods : Goods
    position_id : str
    house : House
    sizes : iterable of str
        Sizes ordered: the smallest has the least room.
    measured : PlaceRoom, optional
        Of this very piece: cloth ends there.

    Source
    ------
    docs/formulas.md 5.
    """
    class_id = goods.class_
    known, room = house.goods[class_id], _of(class_id, position_id, house)
    if room is None and measured is None:
        return None
    label = room.label if room and room.label else house.positions[position_id].label
    share = min((_share(size, house, infants=known.infant) for size in sizes), default=1.0)
    gives = STRETCH_GIVES if known.stretch == 2 else 1.0
    tube = room.tube_mm * share * gives - TUBE_MARGIN_MM if room and room.tube_mm else 0.0
    custom = room is not None and room.custom and measured is None
    piece = piece_size(goods, house)
    if measured is not None or room is None:
        assert measured is not None
        width, height = measured.width_mm, measured.height_mm
    elif room.as_piece and piece:
        width, height = _as_piece(room, piece)
    else:
        along = room.width_mm >= ALONG_MM
        width = room.width_mm if along else room.width_mm * share
        height = room.height_mm * share
        if along and goods.width_mm:  # a scarf or a band as wide as it was measured
            height = max(0.0, goods.width_mm - (HEM_MM if piece else 2 * BAND_MM))
    reaches = custom or tube or known.is_flat or known.is_cap
    edge = BAND_MM if width >= ALONG_MM else CLOTH_MM
    return RoomNow(
        label=label,
        width_mm=width,
        height_mm=height,
        tube_mm=tube,
        custom=custom,
        cloth_mm=None if reaches else (width + 2 * CLOTH_MM, height + 2 * edge),
    )


HEM_MM = 20.0
"""What is left free at each hem of a flat piece."""
CLOTH_MM, BAND_MM = 10.0, 4.0
"""Cloth goes on so far beyond a room on each side; beyond a band's less."""
GRIP_MM = 15.0
"""Cloth is held where it reaches so far past the opening."""
_AS_PIECE = Room(
    label="",
    goods="",
    position="",
    width_mm=3000,
    height_mm=3000,
    tube_mm=0,
    custom=False,
    as_piece=True,
    if_it_has=False,
    lies="upright",
)


def reaches(hoop: Hoop, cloth_mm: tuple[float, float] | None, *, turned: bool) -> bool:
    """Whether cloth reaches into a hoop's grip: all round, or from two sides where those hold.

    Parameters
    ----------
    hoop : Hoop
    cloth_mm : (float, float) or None
        What there is of it; None where it always does. [mm]
    turned : bool
        Whether it is hooped a quarter turn round.

    Source
    ------
    docs/formulas.md 5.
    """
    if cloth_mm is None:
        return True
    opening = (hoop.opening_width_mm, hoop.opening_height_mm)
    held = [
        side + LENGTH_EPSILON >= wide + 2 * GRIP_MM
        for side, wide in zip(cloth_mm, opening[::-1] if turned else opening, strict=True)
    ]
    return any(held) if hoop.kind in ("magnetic", "clamp") else all(held)


def place_for(
    goods: Goods, size_mm: tuple[float, float], house: House, *, sizes: Iterable[str] = ()
) -> str:
    """Return the first place of some goods whose room takes a size; the usual one where none does.

    What not every such piece has is never taken.

    Parameters
    ----------
    goods : Goods
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
    for position_id, place in places_of(goods.class_, house).items():
        room = room_at(goods, position_id, house, sizes=ordered)
        if room is not None and not place.if_it_has and not room.over(size_mm):
            return position_id
    return house.goods[goods.class_].position


ALONG_MM = 3000
"""A width that means: along the whole length."""


def goes_in(hoop: Hoop, fit: Fit, room: RoomNow | None) -> bool:
    """Whether a hoop's outside goes into the tube, as the design lies in it."""
    if room is None or not room.tube_mm:
        return True
    across = hoop.outer_height_mm if fit.turned else hoop.outer_width_mm
    return across <= room.tube_mm + LENGTH_EPSILON
