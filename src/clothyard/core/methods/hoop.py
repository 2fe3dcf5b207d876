"""The hoop: the fewest hoopings in the smallest that fits, and what of it is tight."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from clothyard.core.cloth.hoops import RING, TIGHT_MM, accepts, fit_one_way
from clothyard.core.cloth.layout import HoopTry, Layout, band_motifs, grown, lay_out, try_hoops
from clothyard.core.cloth.place import hooped_size
from clothyard.core.errors import OutOfRange
from clothyard.core.house.document import ANY, HoldKind, Hoop, House, Machine
from clothyard.core.job.document import Split, Together
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, warned
from clothyard.core.methods.making import NONE, Making
from clothyard.core.record import record

MAX_MOTIFS = 5_000
"""Along one band."""


SEVERAL = 4
"""So many loose pieces to a hooping are worth a larger hoop."""
MOST_PIECES = 10_000


@record
class Hooped:
    """Which hoop is taken (none when nothing fits), how the design lies in it, all tried."""

    hoop_id: str
    layout: Layout
    tries: tuple[HoopTry, ...]


def _lying(wish: Wish) -> tuple[float, float]:
    """The design as it lies in the hoop; at a corner the hoop lies on the diagonal with it."""
    position = wish.house.positions.get(wish.placement.position or wish.goods.position)
    if wish.placement.as_patch:  # flat, whatever the place that it is fixed to
        position = None
    size = (wish.facts.width_mm, wish.facts.height_mm)
    if wish.placement.hooping_mm is not None:
        return wish.placement.hooping_mm
    return hooped_size(size, wish.placement.place, position)


def propose(wish: Wish, tries: list[HoopTry], margin_mm: float) -> Proposal:
    """Propose the best of the hoops tried.

    Parameters
    ----------
    wish : Wish
        What is asked.
    tries : list[HoopTry]
        Every hoop as tried, the best at the head.
    margin_mm : float
        What basting or a base adds on each side. [mm]

    Returns
    -------
    Proposal
    """
    best = tries[0] if tries and tries[0].does else None
    if best is None:
        return Proposal(NONE, "No hoop of this machine fits the design.")
    size = wish.said_size(grown(best.layout.size_mm, margin_mm))
    if best.layout.kind == "split" and wish.placement.split is None:
        n = best.layout.hoopings
        joints = "joint" if n == 2 else "joints"
        why = f"Larger than every hoop: split over {n} hoopings, {n - 1} {joints} to line up."
        return Proposal(best.hoop_id, why)
    if best.layout.kind == "together" and wish.placement.together is None:
        why = f"{best.layout.pieces} loose pieces to a hooping: hooped and loaded once for all."
        return Proposal(best.hoop_id, why)
    if best.layout.kind == "single":
        return Proposal(best.hoop_id, f"The smallest that fits {size} and its clearance.")
    return Proposal(best.hoop_id, f"The fewest hoopings, in the smallest hoop that fits {size}.")


def _check_motifs(wish: Wish, motif_mm: float) -> None:
    band = wish.placement.band
    if band is None:
        return
    motifs, _ = band_motifs(
        band.length_mm, motif_mm, gap_mm=band.gap_mm, closed=band.closed, fill=band.fill
    )
    if motifs > MAX_MOTIFS:
        raise OutOfRange(
            f"the band takes {motifs:,} motifs of {motif_mm:g} mm; {MAX_MOTIFS:,} is the most.",
            where=f"{wish.where}.band.length_mm",
            remedy="Make one design of several motifs, or a shorter band.",
            code="out-of-range",
        )


def machine_name(wish: Wish, machine: Machine) -> str:
    """Return a machine's id; "any" of one that the shop has not."""
    return next((id_ for id_, one in wish.house.machines.items() if one is machine), ANY)


def _tries(
    wish: Wish, *, machine: Machine, hold: HoldKind, margin_mm: float, like: Making | None
) -> list[HoopTry]:
    """Try every hoop that the shop has and the one that is asked for, or take them as tried so."""
    hoops = {
        hoop_id: hoop
        for hoop_id, hoop in wish.house.hoops.items()
        if hoop.owned or hoop_id == wish.placement.methods.hoop
    }
    if (
        like
        and like.machine is machine
        and like.hold == hold
        and (like.layout.kind == "split") is (wish.placement.split is not None)
        and like.sewn_mm == grown(like.layout.size_mm, margin_mm)
        and {tried.hoop_id for tried in like.tries} == set(hoops)
    ):
        return list(like.tries)
    return try_hoops(
        wish.placement,
        _lying(wish),
        hoops=hoops,
        machine=machine,
        goods=wish.goods,
        hold=hold,
        margin_mm=margin_mm,
        most=wish.line.quantity,
        room=wish.room,
        machine_id=machine_name(wish, machine),
    )


def only_basting_misses(
    wish: Wish,
    machine: Machine,
    hold: HoldKind,
    margins_mm: tuple[float, float],
    like: Making | None = None,
) -> bool:
    """Whether a floated design would fit some hoop, and does not only for its basting.

    `margins_mm` are what is outside the design without basting, and with it.
    """
    if hold != "float" or wish.placement.methods.baste is not None:
        return False

    def takes(margin_mm: float) -> bool:
        tries = _tries(wish, machine=machine, hold=hold, margin_mm=margin_mm, like=like)
        return any(tried.does for tried in tries)

    without_mm, basted_mm = margins_mm
    return not takes(basted_mm) and takes(without_mm)


def _split(
    wish: Wish, tries: list[HoopTry], *, machine: Machine, hold: HoldKind, margin_mm: float
) -> list[HoopTry]:
    """Split a design that is larger than every hoop, where nothing else is asked."""
    asked, room = wish.placement, wish.room
    if (
        any(tried.fit.fits for tried in tries)  # then it is not its size that no hoop takes
        or wish.goods.is_cap
        or (room is not None and room.tube_mm)
        or not tries
        or tries[0].layout.kind != "single"
        or asked.hooping_mm is not None
        or wish.named
    ):
        return tries
    parted = replace(wish, placement=asked.model_copy(update={"split": Split()}))
    found = _tries(parted, machine=machine, hold=hold, margin_mm=margin_mm, like=None)
    return found if any(tried.does for tried in found) else tries


def _several(
    wish: Wish, tries: list[HoopTry], *, machine: Machine, hold: HoldKind, margin_mm: float
) -> list[HoopTry]:
    """Lay several loose pieces into a hooping, where nothing else is asked.

    The smallest hoop that takes some is proposed, however many are ordered: every quantity of a
    price table is sewn alike.

    Source: handbook calculations 8.
    """
    asked = wish.placement
    if (
        not wish.goods.loose
        or wish.named
        or asked.hooping_mm is not None
        or not tries
        or not tries[0].does
        or tries[0].layout.kind != "single"
    ):
        return tries
    grid = asked.model_copy(update={"together": Together()})
    line = wish.line.model_copy(update={"quantity": MOST_PIECES})
    many = replace(wish, line=line, placement=grid)
    found = _tries(many, machine=machine, hold=hold, margin_mm=margin_mm, like=None)
    takes = [tried for tried in found if tried.does]
    enough = [tried for tried in takes if tried.layout.pieces >= SEVERAL]
    best = min(enough, key=lambda tried: tried.layout.pieces) if enough else next(iter(takes), None)
    if best is None or best.layout.pieces < 2:
        return tries
    return [best, *(tried for tried in found if tried is not best)]


def settle(
    chosen: Chosen,
    *,
    machine: Machine,
    hold: HoldKind,
    margin_mm: float,
    like: Making | None = None,
) -> Hooped:
    """Try every hoop and settle which is taken.

    Parameters
    ----------
    chosen : Chosen
    machine : Machine
    hold : hoop or float
    margin_mm : float
        Basting or base outside the sewn area, each side. [mm]
    like : Making, optional
        Of the same placement with other methods.
    """
    wish = chosen.wish
    lying, most = _lying(wish), wish.line.quantity
    _check_motifs(wish, lying[0])
    tries = _tries(wish, machine=machine, hold=hold, margin_mm=margin_mm, like=like)
    tries = _split(wish, tries, machine=machine, hold=hold, margin_mm=margin_mm)
    tries = _several(wish, tries, machine=machine, hold=hold, margin_mm=margin_mm)
    hoop_id = chosen.settle("hoop", propose(wish, tries, margin_mm), known=wish.house.hoops)
    found = next((tried for tried in tries if tried.hoop_id == hoop_id), None)
    if found:
        return Hooped(hoop_id, found.layout, tuple(tries))
    layout = lay_out(wish.placement, lying, None, margin_mm=margin_mm, most=most)
    return Hooped(NONE, layout, tuple(tries))


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer every other hoop that does."""
    for hoop_id in making.fitting:
        if hoop_id != making.hoop_id:
            yield Offer("hoop", hoop_id, "It fits too.")


def refusal(making: Making) -> str:
    """Tell why the chosen hoop does not do; "" when it does, or there is none."""
    if making.hoop is None:
        return ""
    why = accepts(
        making.hoop,
        machine=making.machine,
        goods=making.goods,
        hold=making.hold,
        machine_id=making.machine_id,
    )
    tried = (each.refusal for each in making.tries if each.hoop_id == making.hoop_id)
    return why or next(tried, "")


def _outside(making: Making, wish: Wish) -> Warned | None:
    """A hoop would hold it, and none goes in: the tube is too narrow."""
    room = wish.room
    if room is None or not any(each.fit.fits and not each.goes_in for each in making.tries):
        return None
    widest = wish.said(room.tube_mm)
    return Warned(
        "room-none",
        "stop",
        f"No hoop that holds {wish.said_size(making.sewn_mm)} goes in: at {room.label.lower()} a "
        f"hoop's outside may measure {widest} across.",
        "Make it smaller, put it elsewhere, or open the seam and sew it flat.",
        {},
        split=False,
        about="hooping",
    )


def _split_over(making: Making, wish: Wish) -> int:
    """Count the hoopings that a split takes in the hoop that takes fewest."""
    split = wish.placement.model_copy(update={"split": Split()})
    margin = (making.sewn_mm[0] - making.layout.size_mm[0]) / 2
    return min(
        lay_out(
            split,
            _lying(wish),
            wish.house.hoops[tried.hoop_id],
            margin_mm=margin,
            most=wish.line.quantity,
        ).hoopings
        for tried in making.tries
        if not tried.refusal
    )


def _not_held(making: Making) -> Warned:
    """A hoop whose ring the cloth does not reach into. Source: handbook checks, hoop-off."""
    return warned(
        "hoop-off",
        "stop",
        "The cloth there does not reach into the hoop's ring: nothing holds it.",
        "Float it on hooped backing, or take a frame that grips it.",
        about="methods.hold",
        hold="float",
        hoop=None,
        baste=None,
        **({} if making.backing else {"backing": None, "layers": None}),
    )


def _none(making: Making, wish: Wish) -> Warned:
    outside = _outside(making, wish)
    if outside:
        return outside
    if any(tried.fit.fits and not tried.held for tried in making.tries):
        return _not_held(making)
    miss = next((tried for tried in making.tries if not tried.refusal), None)
    nearest = ""
    if miss:
        label = wish.house.hoops[miss.hoop_id].label
        nearest = f" {label} misses by {wish.said(miss.fit.miss_mm)}."
    size = wish.said_size(making.sewn_mm)
    usable = any(not tried.refusal for tried in making.tries)
    fix = "Make it smaller, or choose another machine."
    if making.layout.kind == "single" and usable:
        n = _split_over(making, wish)
        fix = (
            f"Split it over {n} hoopings, with {n - 1} {'joint' if n == 2 else 'joints'} to line "
            "up by hand; or choose a smaller design or another machine."
        )
    return Warned(
        "hoop-none",
        "stop",
        f"{size} with its clearance fits no hoop of the {making.machine.label}.{nearest}",
        fix,
        {},
        split=making.layout.kind == "single" and usable,
        about="hooping",
    )


def _refused(making: Making, wish: Wish) -> Warned | None:
    """The chosen hoop does not do: which does."""
    assert making.hoop is not None
    assert making.fit is not None
    why = refusal(making)
    if not why and making.fit.fits:
        return None
    if any(not tried.held and tried.hoop_id == making.hoop_id for tried in making.tries):
        return _not_held(making)
    size = wish.said_size(making.sewn_mm)
    why = why or f"{size} misses by {wish.said(making.fit.miss_mm)}"
    first = making.fitting[0] if making.fitting else None
    return warned(
        "hoop-none",
        "stop",
        f"The hoop {making.hoop.label} does not do: {why}.",
        f"Take {wish.house.hoops[first].label}." if first else "Make it smaller.",
        about="hooping",
        **({"hoop": first} if first else {}),
        **({"way": None} if first and wish.placement.methods.way is not None else {}),
    )


def _as_it_goes_in(making: Making, hoop: Hoop) -> bool:
    """Whether a design is not tight in another hoop, turned as the piece goes in."""
    quarter = making.way in (90, 270)
    size = making.sewn_mm[::-1] if quarter else making.sewn_mm
    return fit_one_way(*size, hoop, turned=quarter).left_mm >= TIGHT_MM - 1e-6


def _roomy(hoop: Hoop, size_mm: tuple[float, float]) -> bool:
    """Whether a design is not tight in a hoop, whichever way the piece goes in."""
    return all(
        fit_one_way(*size, hoop, turned=False).left_mm >= TIGHT_MM - 1e-6
        for size in (size_mm, size_mm[::-1])
    )


def _better(making: Making, wish: Wish) -> Iterator[Warned]:
    """A hoop that does, but is tight or larger than need be."""
    assert making.hoop is not None
    assert making.fit is not None
    hoops, goods = wish.house.hoops, making.goods
    rings = goods.pierce or not goods.marks or making.hold == "float"  # one more ring is no matter
    rings = rings or making.hoop.kind in RING
    fitting = [
        t.hoop_id
        for t in making.tries
        if t.does
        and t.fit.left_mm >= TIGHT_MM - 1e-6
        and (rings or hoops[t.hoop_id].kind not in RING)
    ]
    roomy = [hoop_id for hoop_id in fitting if _roomy(hoops[hoop_id], making.sewn_mm)]
    if making.fit.left_mm < TIGHT_MM - 1e-6:
        yield warned(
            "hoop-tight",
            "warn",
            f"Only {wish.said(making.fit.left_mm)} are left beyond the clearance in "
            f"{making.hoop.label}.",
            "Trace it before sewing, or take a larger hoop.",
            about="hooping",
            **({"hoop": roomy[0]} if roomy else {}),
        )
        return
    fitting = [each for each in fitting if _as_it_goes_in(making, hoops[each])]
    if fitting and fitting[0] != making.hoop_id and making.layout.kind == "single":
        smaller = wish.house.hoops[fitting[0]].label
        yield warned(
            "hoop-big",
            "note",
            f"{smaller} fits too: less backing and a firmer hold.",
            f"Take {smaller}.",
            about="methods.hoop",
            hoop=fitting[0],
        )


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Stop where no hoop does; warn of a tight one, note a smaller one."""
    if making.hoop is None or making.fit is None:
        yield _none(making, wish)
        return
    refused = _refused(making, wish)
    if refused:
        yield refused
    else:
        yield from _better(making, wish)
