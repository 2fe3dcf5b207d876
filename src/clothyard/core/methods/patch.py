"""A design sewn as a patch: its edge, how it is fixed on, and the fix that takes it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any, get_args

from clothyard.core.house.document import House
from clothyard.core.job.document import Edge, Fixing, Methods, Placement, Step
from clothyard.core.methods.choice import Chosen, Offer, Proposal, Warned, Wish, stocked, warned
from clothyard.core.methods.making import Finish, Making

_WHY_EDGE: dict[Edge, str] = {
    "border": "A satin border is sewn round it, and counted.",
    "own": "The design has its border: none is added.",
    "raw": "Cut out, and left so.",
}
_WHY_FIXING: dict[Fixing, str] = {
    "press": "Pressed on with heat-seal film.",
    "sew": "Sewn on round its edge.",
}


def _laid(wish: Wish) -> list[Step]:
    return [step for step in wish.placement.steps if step.do == "lay" and step.sheet]


def _frays(wish: Wish) -> bool:
    """Whether a layer of the patch comes undone where it is cut."""
    sheets = wish.house.sheet_goods
    return any(
        sheets[step.sheet].frays and step.web is None
        for step in _laid(wish)
        if step.sheet in sheets
    )


def propose_edge(wish: Wish) -> Proposal:
    """Propose a border where the cloth comes undone and the design is not said to have its own.

    Source: handbook calculations 8: a raw edge needs its border, or is told to fray.
    """
    if any(step.edge == "satin" for step in _laid(wish)):
        return Proposal("own", "A step says that its edge is sewn over.")
    if _frays(wish):
        width = wish.said(wish.house.patches.border_mm)
        return Proposal(
            "border", f"Cut cloth comes undone: a satin {width} wide round it, counted."
        )
    return Proposal("raw", "It does not come undone where it is cut.")


def propose_fixing(wish: Wish) -> Proposal:
    """Propose to press it on where the goods bear heat, else to sew it on."""
    goods = wish.house.goods[wish.line.goods.class_]
    if goods.press == "none" or goods.special:
        return Proposal("sew", f"{goods.label} bears no heat: sew it on.")
    return Proposal("press", "Pressed on with heat-seal film: quick, and nothing shows inside.")


def settle(chosen: Chosen) -> Finish:
    """Settle a patch's edge and how it is fixed on; of what is no patch, nothing."""
    if not chosen.wish.placement.as_patch:
        return Finish()
    edges: tuple[Edge, ...] = get_args(Edge)
    fixings: tuple[Fixing, ...] = get_args(Fixing)
    edge = chosen.settle("edge", propose_edge(chosen.wish))
    fixing = chosen.settle("fixing", propose_fixing(chosen.wish))
    return Finish(edges[edges.index(edge)], fixings[fixings.index(fixing)])


def reach_mm(finish: Finish, house: House) -> float:
    """Return how far a border reaches beyond the design; 0 without one. [mm]"""
    patches = house.patches
    return patches.margin_mm + patches.border_mm / 2 if finish.edge == "border" else 0.0


def offer(making: Making, house: House) -> Iterator[Offer]:
    """Offer the other edges and the other way of fixing it."""
    if making.finish.edge is None:
        return
    for edge, why in _WHY_EDGE.items():
        if edge != making.finish.edge:
            yield Offer("edge", edge, why)
    for fixing, why in _WHY_FIXING.items():
        if fixing != making.finish.fixing:
            yield Offer("fixing", fixing, why)


def warn(making: Making, wish: Wish) -> Iterator[Warned]:
    """Warn of a raw edge that comes undone, and of heat on what does not bear it.

    Source: handbook calculations 8; handbook trade, finishing by cloth.
    """
    if making.finish.edge == "raw" and _frays(wish):
        yield warned(
            "edge-frays",
            "warn",
            "The patch is cut from cloth that comes undone, and its edge is left raw.",
            "Sew a border round it.",
            about="methods.edge",
            edge="border",
        )
    right = propose_fixing(wish)
    if making.finish.fixing == "press" and right.value == "sew":
        yield warned(
            "press-spoils",
            "warn",
            f"{right.reason.partition(':')[0]}, and the patch is pressed on.",
            "Sew it on.",
            about="methods.fixing",
            fixing="sew",
        )


def as_patch(placement: Placement, house: House) -> Placement | None:
    """Return a placement as a patch that is sewn flat and fixed on; None where it cannot be.

    Parameters
    ----------
    placement : Placement
        As asked: a single design with a hooping of its own.
    house : House
        What it is cut from is the first of its sheet goods that the shop has.
    """
    here = stocked(house) | {sheet.material for sheet in house.sheets.values()}
    sheet = next((key for key in house.sheet_goods if key in here), None)
    several = (placement.band, placement.blocks, placement.together, placement.split)
    if placement.shares or placement.as_patch or sheet is None or any(several):
        return None
    steps = placement.steps
    if not any(step.do == "lay" and step.sheet for step in steps):
        steps = (Step(do="lay", after_block=0, sheet=sheet, per="hooping"), *steps)
    methods = Methods(machine=placement.methods.machine)
    return placement.model_copy(update={"as_patch": True, "steps": steps, "methods": methods})


def as_patch_fix(placement: Placement, house: House, path: str) -> list[dict[str, Any]] | None:
    """Return the JSON Patch that sews a placement as a patch; None where it cannot be.

    Parameters
    ----------
    placement, house
        See `as_patch`.
    path : str
        Of the placement in the job.
    """
    asked = as_patch(placement, house)
    if asked is None:
        return None
    methods = asked.methods.model_dump(exclude_none=True)
    fix: list[dict[str, Any]] = [
        {"op": "add", "path": f"{path}/as_patch", "value": True},
        {"op": "add", "path": f"{path}/methods", "value": methods},
    ]
    if asked.steps != placement.steps:
        written = [step.model_dump(mode="json", exclude_unset=True) for step in asked.steps]
        fix.append({"op": "add", "path": f"{path}/steps", "value": written})
    return fix
