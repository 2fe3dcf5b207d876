"""Advice on one placement: its methods, how it lies in hoop and cloth, what it comes near to."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from typing import Any

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnPlace, Patch, add_patch
from clothyard.core.cloth.layout import band_sides
from clothyard.core.cloth.load import Held, firm_enough
from clothyard.core.cloth.place import hooped_size, lying_size, place_marks
from clothyard.core.cloth.room import ALONG_MM, RoomNow, place_for, room_at
from clothyard.core.cloth.seams import Near, nearest_seam
from clothyard.core.figure_text import counted
from clothyard.core.job.document import Place
from clothyard.core.methods.choice import Warned
from clothyard.core.methods.offers import warnings
from clothyard.core.methods.patch import as_patch, as_patch_fix
from clothyard.core.methods.settle import settle_methods

MOST_SIDEWAYS_MM = 130
"""Further from the middle of a front than this a design wraps round to the side."""


def _fix(on: OnPlace, found: Warned) -> Patch | None:
    if found.split:
        return add_patch(f"{on.path}/split", {})
    if found.patch:
        return _as_patch(on)
    methods = dict(found.methods)
    if "backing" in methods and not on.making.laid and on.asked.methods.second_backing:
        methods["second_backing"] = None  # it was beside nothing
    return on.methods(methods) if methods else None


def _as_patch(on: OnPlace) -> Patch | None:
    """Patch that sews it as a patch; None where no hoop takes one."""
    line, house = on.plan.line, on.plan.house
    asked = as_patch(on.asked, house)
    if asked is None:
        return None
    made = settle_methods(line, asked, on.facts, house, where=on.where)
    return as_patch_fix(on.asked, house, on.path) if made.hoop else None


def of_methods(on: OnPlace) -> Iterator[Advice]:
    """What each choice warns of, with its fix as a patch on the job."""
    if on.asked.shares:  # held as the place before, which is told of it
        return
    for found in warnings(on.making, on.wish):
        fix, said = _fix(on, found), found.fix
        other = _elsewhere(on) if found.code == "place-big" else None
        if other:
            said, fix = f"Put it on the {other[0]}, or make it smaller.", other[1]
        yield on.say(found.code, found.level, found.message, said, fix, about=found.about)


def of_sharing(on: OnPlace) -> Iterator[Advice]:
    """A hooping shared by places that are measured from different seams.

    Only what is measured from one point is known to lie in one hoop.
    """
    places = on.plan.placements
    if not on.asked.shares or places[on.number - 1].making.position_id == on.making.position_id:
        return
    here, before = (
        on.plan.house.positions[p.making.position_id].label.lower()
        for p in (on.placed, places[on.number - 1])
    )
    yield on.say(
        "hooping-shared",
        "stop",
        f"The {here} cannot share a hooping with the {before}: they are measured from different "
        "points, so that nobody knows whether one hoop takes both.",
        "Hoop it by itself, or measure it from the same place.",
        add_patch(f"{on.path}/shares", value=False),
        about="place",
    )


def of_place_order(on: OnPlace) -> Iterator[Advice]:
    """The places of a piece in an order that undoes or creases what was done: told at the first.

    A lining is loosened before all else; the back is sewn before the front.
    """
    if on.number:
        return
    positions, line = on.plan.house.positions, on.plan.line
    groups: list[list[int]] = []
    for n, asked in enumerate(line.placements):
        if asked.shares and groups:
            groups[-1].append(n)
        else:
            groups.append([n])

    def rank(group: list[int]) -> tuple[bool, bool]:
        seam = line.placements[group[0]].seam
        back = positions[on.plan.placements[group[0]].making.position_id].on_back
        return not (seam is not None and seam.lining), not back

    right = sorted(groups, key=rank)
    if right == groups:
        return
    late = next(two for one, two in itertools.pairwise(groups) if rank(two) < rank(one))
    label = positions[on.plan.placements[late[0]].making.position_id].label
    lined = not rank(late)[0]
    yield on.say(
        "place-order",
        "note",
        f"The lining is loosened for the {label.lower()} after another place is sewn."
        if lined
        else f"{label} comes after the front: its hooping creases what is sewn there.",
        "Sew it first.",
        _moves([n for group in right for n in group], f"/lines/{on.index}/placements"),
        about="place",
    )


def _moves(order: list[int], path: str) -> Patch:
    """Patch that puts the rows of a list in another order, by moving one at a time."""
    now = sorted(order)
    patch: Patch = []
    for to, wanted in enumerate(order):
        at = now.index(wanted)
        if at != to:
            patch.append({"op": "move", "from": f"{path}/{at}", "path": f"{path}/{to}"})
            now.insert(to, now.pop(at))
    return patch


def of_layout(on: OnPlace) -> Iterator[Advice]:
    """A band shorter than its motif; a design split over hoopings."""
    asked, making, facts = on.asked, on.making, on.facts
    if asked.band is not None:
        motif = lying_size((facts.width_mm, facts.height_mm), asked.place)[0]
        run = band_sides(asked.band, motif).run_mm
        if motif > run + 1e-6:
            corners = ", between its corners" if asked.band.corners else ""
            yield on.say(
                "band-short",
                "stop",
                f"One motif is {on.said(motif)} long, the band{corners} {on.said(max(0.0, run))}.",
                "Make the motif smaller, or turn it."
                if not corners
                else "Make the motif smaller, turn it, or take fewer corners.",
                about="band",
            )
    if making.layout.kind == "split":
        yield on.say(
            "split-join",
            "warn",
            f"The design is split over {making.layout.hoopings} hoopings: each joint must meet "
            "the last to a hair.",
            "Have the digitiser split it along a colour, with marks to match; sew a sample.",
            about="split",
        )


def of_cuts(on: OnPlace) -> Iterator[Advice]:
    """A piece that is wider than every roll."""
    done, placed = on.done, on.placed
    backing, goods = on.making.backing, on.making.goods
    if backing is not None and backing.frame == "cap" and not on.making.on_cap_frame:
        held = Held(goods.backing, goods.layers)
        held = firm_enough(held, goods, on.facts, on.plan.house) or held
        usual = {"backing": held.backing_id, "layers": held.layers}
        also = on.making.second
        if also is not None and also.frame == "cap":
            usual |= {"second_backing": None}
        yield on.say(
            "roll-none",
            "stop",
            f"{backing.label} is cut for the cap frame, and this is not sewn on one.",
            "Choose another backing.",
            None if goods.is_cap else on.methods(usual),
            about="methods.backing",
        )
        return
    second = on.making.second
    if second is not None and second.frame == "cap" and not on.making.on_cap_frame:
        alone = Held(on.making.backing_id, on.making.layers)
        firm = firm_enough(alone, goods, on.facts, on.plan.house) or alone
        without: dict[str, Any] = {"second_backing": None}
        if firm != alone:
            without |= {"backing": firm.backing_id, "layers": firm.layers}
        yield on.say(
            "roll-none",
            "stop",
            f"{second.label} is cut for the cap frame, and this is not sewn on one.",
            "Leave it out.",
            on.methods(without),
            about="methods.backing",
        )
        return
    wanted = [
        ("backing", done.backing, placed.backing_mm),
        ("backing", done.second, placed.backing_mm),
        ("topping", done.topping, placed.topping_mm),
    ]
    for of, laid in zip(placed.steps.sheets, done.sheets, strict=True):
        wanted.append((of.material, laid.cut, (of.width_mm, of.height_mm)))
    for key, cut, size in wanted:
        if cut and not cut.fits:
            yield on.say(
                "roll-none",
                "stop",
                f"A {key} piece of {on.said_size(size)} is wider than every roll; the widest is "
                f"{on.said(cut.width_mm)} ({cut.stock}).",
                "Choose a smaller hoop, another material, or add a wider roll.",
                about="methods",
            )


def of_bobbins(on: OnPlace) -> Iterator[Advice]:
    """A bobbin that ends inside a piece."""
    if any(run.pieces_per_bobbin == 0 and run.count > 1 for _, run in on.done.bobbins):
        yield on.say(
            "bobbin-mid",
            "note",
            "A bobbin ends inside a piece.",
            "Plan the change at a colour's end, or change between pieces.",
            about="methods.bobbin",
        )


def of_room(on: OnPlace) -> Iterator[Advice]:
    """A design that is larger than its place: where cloth ends it cannot be sewn."""
    asked, own = on.asked, on.placed.own
    if asked.seam is not None:  # opened, so that it lies flat
        return
    sizes = [cell.size for cell in on.plan.line.cells]
    room = room_at(
        on.plan.line.goods,
        on.making.position_id,
        on.plan.house,
        sizes=sizes,
        measured=asked.room,
    )
    if room is None:
        return
    position = on.plan.house.positions[on.making.position_id]
    for facts in sorted(own.sewn if own else [on.facts], key=lambda each: -each.width_mm):
        size = hooped_size((facts.width_mm, facts.height_mm), asked.place, position)
        width, height = 0.0 if asked.band else size[0], size[1]
        if room.custom and facts.width_mm > position.max_width_mm:
            continue  # it is told as too wide already
        if not room.over((width, 0.0 if on.making.goods.is_cap else height)):
            continue  # too high for a crown is told as that
        what = f"“{facts.name}”, " if own else ""
        turned = _turned(on, room)
        other = None if turned else _elsewhere(on)
        takes = (
            f"{on.said(room.height_mm)} high"
            if room.width_mm >= ALONG_MM
            else on.said_size((room.width_mm, room.height_mm))
        )
        yield on.say(
            "place-big" if room.custom else "room-none",
            "warn" if room.custom else "stop",
            f"{what}{on.said_size(size)} is larger than its place: {room.label.lower()} takes "
            f"{takes}.",
            "Turn it a quarter, or make it smaller."
            if turned
            else f"Put it on the {other[0]}, or make it smaller."
            if other
            else "Make it smaller."
            if room.custom
            else "Make it smaller, turn it, or correct the size that was typed."
            if on.making.goods.is_flat or asked.room
            else "Make it smaller, or open a seam so that it lies flat.",
            turned or (other[1] if other else None),
            about="place",
        )
        return


def _let_go_there(on: OnPlace) -> Patch:
    """Patch that leaves to be proposed again what was chosen for a design where it lay.

    Where nothing lay under it, backing is too: elsewhere it may be floated.
    """
    under = () if on.making.backing is not None else ("backing", "layers", "second_backing")
    return on.let_go("way", "hold", "hoop", "baste", *under)


def _turned(on: OnPlace, room: RoomNow) -> Patch | None:
    """Patch that turns a design by a quarter; None where it is too large that way, too.

    Where custom alone bounds it nobody turns it, and at a corner it lies on the diagonal.

    Source: handbook checks: a fix tries turning the design before moving it.
    """
    own, asked = on.placed.own, on.asked
    position = on.plan.house.positions[on.making.position_id]
    several = asked.band is not None or asked.blocks is not None or asked.shares
    if several or room.custom or position.corner_deg or on.making.goods.is_cap:
        return None
    place = asked.place.model_copy(update={"turn": (asked.place.turn + 90) % 360})
    for facts in own.sewn if own else [on.facts]:
        if room.over(hooped_size((facts.width_mm, facts.height_mm), place, position)):
            return None
    moved = asked.place.model_dump(exclude_unset=True) | {"turn": place.turn}
    patch = add_patch(f"{on.path}/place", moved)
    return patch + _let_go_there(on)


def _elsewhere(on: OnPlace) -> tuple[str, Patch] | None:
    """The first other place of the class that takes every design: (its label, the patch)."""
    own, plan = on.placed.own, on.plan
    designs = own.sewn if own else [on.facts]
    sizes = [cell.size for cell in plan.line.cells]
    position = plan.house.positions[on.making.position_id]
    lying = [hooped_size((d.width_mm, d.height_mm), on.asked.place, position) for d in designs]
    base = 2 * plan.house.knock_down.margin_mm if on.making.knock_down else 0.0
    largest = (max(w for w, _ in lying) + base, max(h for _, h in lying) + base)
    found = place_for(plan.line.goods, largest, plan.house, sizes=sizes)
    room = room_at(plan.line.goods, found, plan.house, sizes=sizes)
    if found == on.making.position_id or room is None or room.over(largest) or on.asked.band:
        return None
    patch = add_patch(f"{on.path}/position", found) + _let_go_there(on)
    return plan.house.positions[found].label.lower(), patch


def of_file(on: OnPlace) -> Iterator[Advice]:
    """A file whose header and body do not agree."""
    for told in on.facts.told:
        yield on.say(
            "file-header",
            "warn",
            f"{on.facts.name}: {told[:1].lower()}{told[1:]}",
            "Fetch it again from who made it; the price is of what the body holds.",
            about="design",
        )


def of_trims(on: OnPlace) -> Iterator[Advice]:
    """A kind of file without trims: whether its jumps are cut nobody knows.

    Source: docs/formulas.md 1.
    """
    facts = on.facts
    if facts.trims_kept or not facts.jumps:
        return
    floats = counted(round(facts.jumps), "float")
    yield on.say(
        "trims-lost",
        "note",
        f"{facts.name} is of a kind that holds no trims: {floats} to be clipped by hand.",
        "Ask for it as a kind that holds them, such as .dst or .exp.",
        about="design",
    )


def _near(on: OnPlace, place: Place) -> Near | None:
    """What the sewn area comes too near to; a seam opened for it, or a band, is meant so."""
    asked, house = on.asked, on.plan.house
    if asked.band is not None or asked.seam is not None:
        return None
    own, making = on.placed.own, on.making
    position, least = house.positions[making.position_id], house.seams.near_mm
    widest = max(own.sewn if own else [on.facts], key=lambda facts: facts.width_mm)
    lying = lying_size((widest.width_mm, widest.height_mm), place)
    marks = place_marks(
        making.position_id,
        position,
        place,
        height_mm=lying[1],
        cell_sizes=[cell.size for cell in on.plan.line.cells],
        sizes=house.place_sizes,
    )
    near = nearest_seam(position, making.goods, marks, size_mm=lying, least_mm=least)
    too_wide = widest.width_mm > position.max_width_mm + 1e-6  # place-big tells the remedy
    return None if near and too_wide and near.measure == "side_mm" else near


def _cleared(on: OnPlace) -> Patch | None:
    """The move that clears every seam; None where what clears one comes near to another."""
    place, moved = on.asked.place, on.asked.place.model_dump(exclude_unset=True)
    for _ in range(3):
        near = _near(on, place)
        if near is None:
            return add_patch(f"{on.path}/place", moved)
        to_mm = math.copysign(math.ceil(abs(near.to_mm) - 1e-6), near.to_mm)
        if near.measure == "side_mm" and abs(to_mm) > MOST_SIDEWAYS_MM:
            return None
        moved[near.measure] = to_mm
        place = place.model_copy(update={near.measure: to_mm})
    return None


def of_seams(on: OnPlace) -> Iterator[Advice]:
    """What the sewn area would catch, with the move that clears it."""
    near, least = _near(on, on.asked.place), on.plan.house.seams.near_mm
    if near is None:
        return
    how = f"comes within {on.said(near.left_mm)} of" if near.left_mm > 0 else "lies over"
    fix = _cleared(on)
    yield on.say(
        "seam-near",
        "warn",
        f"The sewn area {how} {near.what}: it may catch it or sew it shut.",
        f"Leave {on.said(least)}: "
        + ("move it." if fix else "make it smaller, or put it elsewhere."),
        fix,
        about="place",
    )
