"""Which way it goes in: piece and design turned together, so that the rest of it has room."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal, NamedTuple

from clothyard.core.cloth.hoops import Fit, fit_one_way
from clothyard.core.cloth.room import goes_in, places_of
from clothyard.core.house.document import Hoop, House, Machine
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import Making
from clothyard.core.record import record

Side = Literal["head", "right", "foot", "left"]
SIDES: tuple[Side, ...] = ("head", "right", "foot", "left")
ANGLES = (0, 90, 180, 270)
LIES: dict[Side, str] = {
    "head": "behind the needle",
    "right": "to the right, in the throat",
    "foot": "in front, toward you",
    "left": "to the left",
}


class Lies(NamedTuple):
    """How a place lies: where its opening and its bulk are, read as the design is worn.

    `opens` and `rest` are those in words; `arm` and `flat` how far it is turned on a machine with
    an arm and on a flat bed; `inner` says that it is sewn on the face that shows once it is turned.
    """

    opening: Side | None
    bulk: Side | None
    arm: int | None
    flat: int | None
    opens: str
    rest: str
    inner: bool = False


PLACES: dict[str, Lies] = {
    "body": Lies("foot", "foot", 180, 0, "the hem", "the collar"),
    "hem": Lies("foot", "head", 180, 270, "the hem", "the rest of it"),
    "crown": Lies("foot", "head", 180, 270, "the edge", "the crown"),
    "belly": Lies("foot", "head", 180, 270, "the opening", "the head"),
    "tube": Lies("foot", "head", 180, 90, "the cuff", "the rest of it"),
    "turned-up": Lies("head", "foot", 0, 0, "the edge, turned up,", "the crown", inner=True),
    "turned-down": Lies("foot", "head", 180, 270, "the edge, turned down,", "the foot", inner=True),
    "upright-open": Lies("head", "foot", 0, 0, "the top edge", "the rest of it"),
    "cap": Lies("foot", "head", 180, None, "the open edge", "the peak"),
    "flat-end": Lies(None, "head", 180, 270, "", "the rest of it"),
    "upright": Lies(None, "foot", 0, 0, "", "the rest of it"),
    "left-part": Lies(None, "left", 0, 0, "", "the rest of it"),
    "right-part": Lies(None, "right", 180, 180, "", "the rest of it"),
    "along": Lies(None, None, None, None, "", "its ends"),
    "free": Lies(None, None, None, None, "", "it"),
}
"""How places lie. Source: handbook trade, which way it goes in."""


@record
class Way:
    """A way a piece goes in: how far piece and design are turned, with the clock, and why."""

    angle: int
    reason: str


def lies(wish: Wish) -> Lies:
    """Say how a placement's place lies."""
    if wish.placement.as_patch or wish.goods.made or wish.goods.loose:
        return PLACES["free"]
    position = wish.placement.position or wish.goods.position
    class_id = wish.line.goods.class_
    room = places_of(class_id, wish.house).get(position)
    if wish.placement.seam is not None:
        return PLACES["upright"]
    if room is not None and room.lies in PLACES:
        return PLACES[room.lies]
    ends = wish.goods.is_flat and position in {"end", "border", "corner"}
    return PLACES["flat-end" if ends else "upright"]


def _side(side: Side, angle: int) -> Side:
    """Where a side of the design comes to lie, seen from the machine's front."""
    return SIDES[(SIDES.index(side) + angle // 90) % 4]


def _in(hoop: Hoop | None, size_mm: tuple[float, float], angle: int, wish: Wish) -> Fit | None:
    """How a design lies in its hoop, turned so; None where the hoop does not take it so."""
    if hoop is None:
        return None
    quarter = angle in (90, 270)
    if quarter and not hoop.turns:
        return None
    size = size_mm[::-1] if quarter else size_mm
    fit = fit_one_way(*size, hoop, turned=quarter)
    return fit if fit.fits and goes_in(hoop, fit, wish.room) else None


def _bears(found: Lies, machine: Machine, angle: int) -> bool:
    """Whether the rest of a piece has room, turned so."""
    if machine.arm and found.opening:
        return _side(found.opening, angle) == "head"
    if found.bulk is None:
        return True
    bulk = _side(found.bulk, angle)
    return bulk != "head" if machine.arm else bulk in ("left", "foot")


def _leftward(found: Lies) -> tuple[int, ...]:
    """Order the quarter turns: that which brings the bulk to the left before the other."""
    if found.bulk is None:
        return (90, 270)
    return (90, 270) if _side(found.bulk, 90) == "left" else (270, 90)


def _words(found: Lies, machine: Machine, angle: int) -> str:
    """Say how it is put on the machine."""
    if machine.arm and found.opening:
        said = f"{found.opens} goes on first, {found.rest} toward you"
    elif found is PLACES["tube"]:
        opens = LIES[_side("foot", angle)]
        said = f"{found.opens} lies {opens}, {found.rest} rolled back and clipped"
    elif found.bulk:
        what = found.opens if found.bulk == found.opening else found.rest
        said = f"{what} lies {LIES[_side(found.bulk, angle)]}"
    else:
        said = "as the hoop takes it"
    inner = "; sewn on the inner face, which shows once it is turned" if found.inner else ""
    return f"{said[0].upper()}{said[1:]}{inner}."


def proposed(wish: Wish, machine: Machine, hoop: Hoop | None, size_mm: tuple[float, float]) -> Way:
    """Propose how far a piece is turned: as its place asks, in the hoop that takes it.

    Parameters
    ----------
    wish : Wish
    machine : Machine
    hoop : Hoop or None
    size_mm : (float, float)
        What one hooping sews, as it lies on the piece. [mm]

    Source
    ------
    Handbook trade, which way it goes in.
    """
    found = lies(wish)
    wanted = found.arm if machine.arm else found.flat
    if found is PLACES["cap"] and (machine.turns_caps or not machine.arm):
        wanted = 0
    tried = [*([wanted] if wanted is not None else []), 0, *_leftward(found), 180]
    angle = None
    for turn in dict.fromkeys(tried):
        good = turn == wanted or _bears(found, machine, turn)
        if (good or angle is None) and _in(hoop, size_mm, turn, wish):
            angle = turn
            if good:
                break
    angle = (wanted or 0) if angle is None else angle
    if found is PLACES["cap"] and angle == 0:
        return Way(0, "Upright: the machine turns the picture for the cap frame itself.")
    return Way(angle, _words(found, machine, angle))


def sides(wish: Wish, angle: int) -> tuple[Side | None, Side | None]:
    """Say where opening and bulk come to lie, turned so, seen from the machine's front."""
    found = lies(wish)
    opening = _side(found.opening, angle) if found.opening else None
    return opening, _side(found.bulk, angle) if found.bulk else None


def words(wish: Wish, machine: Machine, angle: int) -> str:
    """Say how a piece is put on the machine, turned so."""
    found = lies(wish)
    if found is PLACES["cap"]:
        return "On the cap frame, upright." if angle == 0 else f"On the cap frame, turned {angle}°."
    return _words(found, machine, angle)


def settle(
    chosen: Chosen, *, machine: Machine, hoop: Hoop | None, size_mm: tuple[float, float]
) -> int:
    """Settle how far piece and design are turned. [degrees, with the clock]"""
    way = proposed(chosen.wish, machine, hoop, size_mm)
    return int(chosen.settle("way", Proposal(str(way.angle), way.reason)))


def fit_as(
    fit: Fit | None, hoop: Hoop | None, size_mm: tuple[float, float], angle: int, wish: Wish
) -> Fit | None:
    """Return how the design lies in its hoop, as it is turned; as it was where it does not."""
    return _in(hoop, size_mm, angle, wish) or fit


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other ways that the hoop takes."""
    if making.hoop is None:
        return
    for angle in ANGLES:
        quarter = angle in (90, 270)
        size = making.sewn_mm[::-1] if quarter else making.sewn_mm
        fits = fit_one_way(*size, making.hoop, turned=quarter).fits
        if angle != making.way and fits and (making.hoop.turns or not quarter):
            turned = "Upright." if angle == 0 else f"Turned {angle}° with the clock."
            yield Offer("way", str(angle), turned)


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a way in which the rest of the piece has no room. Source: handbook checks, way-up."""
    way = proposed(wish, making.machine, making.hoop, making.sewn_mm)
    if making.way == way.angle or _bears(lies(wish), making.machine, making.way):
        return
    found = lies(wish)
    side = found.opening if making.machine.arm and found.opening else found.bulk
    what = found.opens if making.machine.arm and found.opening else found.rest
    where = LIES[_side(side, making.way)] if side else "in the way"
    yield warned(
        "way-up",
        "warn",
        f"Turned {making.way}°, {what} lies {where}.",
        f"Turn it {way.angle}°: {way.reason[0].lower()}{way.reason[1:]}",
        about="methods.way",
        way=way.angle,
    )
