"""Advice on what hands do between the blocks: layers, their order, patches."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from typing import Any

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnPlace, Patch, add_patch
from clothyard.core.job.document import Step
from clothyard.core.methods.choice import stocked
from clothyard.core.record import record
from clothyard.core.time.steps import when

HELD_MM = 5
"""Less than this beyond its tack-down, a patch that is trimmed slips out of it."""

END = math.inf
_RANK = {"cut-out": 1, "punch": 1, "turn-out": 2, "stuff": 3, "close": 4}
_SAID = {
    "cut-out": "cut out",
    "punch": "punched out",
    "turn-out": "turned out",
    "stuff": "stuffed",
    "close": "closed",
}


def of_layers(on: OnPlace) -> Iterator[Advice]:
    """Made in the hoop, or an outline trimmed, without a layer to be made of.

    Source: handbook checks, layers-none.
    """
    steps, goods, house = on.asked.steps, on.making.goods, on.plan.house
    if any(step.do == "lay" and step.sheet for step in steps):
        return
    trimmed = any(step.do == "trim" for step in steps)
    made = goods.made or on.asked.as_patch
    if not trimmed and (not made or goods.only_soluble):
        return
    here = stocked(house) | {sheet.material for sheet in house.sheets.values()}
    sheet = next((key for key in house.sheet_goods if key in here), None)
    grid = on.let_go("hoop") if on.asked.as_patch else []  # several then lie in one
    layer = {"do": "lay", "after_block": 0, "sheet": sheet, "per": "hooping"}
    yield on.say(
        "layers-none",
        "stop",
        (
            "It is sewn as a patch"
            if on.asked.as_patch
            else "It is made in the hoop"
            if made
            else "An outline is trimmed"
        )
        + " and has no layer of its own: the price is not whole.",
        f"Lay {house.sheet_goods[sheet].label.lower()} under it first."
        if sheet
        else "Add the layers it is made of.",
        [*_steps(on, [layer, *_kept(steps)]), *grid] if sheet else None,
        about="steps",
    )


def of_applique(on: OnPlace) -> Iterator[Advice]:
    """A file that looks like appliqué, and no cloth that is laid.

    Source: handbook checks, applique-like.
    """
    found, asked = on.facts.applique, on.asked
    if found is None or any(step.do == "lay" for step in asked.steps):
        return
    house = on.plan.house
    here = stocked(house) | {sheet.material for sheet in house.sheets.values()}
    sheet = next((key for key in house.sheet_goods if key in here), None)
    stops = found.shown != found.tacked
    steps = [
        {"do": "lay", "after_block": found.shown, "sheet": sheet, "of_block": found.tacked},
        {"do": "trim", "after_block": found.tacked, "outline_mm": round(found.outline_mm)},
    ]
    yield on.say(
        "applique-like",
        "note",
        "An outline is sewn twice and a wide satin on it: is cloth laid between? It is not counted."
        if stops
        else "An outline is sewn twice and a wide satin on it, without a stop between: if cloth is "
        "laid there, the machine runs on.",
        "Lay and trim a patch there."
        if stops and sheet
        else "Ask for the file with a stop after each outline, then add the steps.",
        _steps(on, [*steps, *_kept(asked.steps)]) if stops and sheet else None,
        about="steps",
    )


def _zipped(on: OnPlace) -> float | None:
    """When a zip is sewn in, in blocks; None without one."""
    stop_at = on.placed.steps.stop_at
    zips = [
        when(step, stop_at)
        for step in on.asked.steps
        if step.do == "insert" and (step.hardware or "").split("-")[0] == "zip"
    ]
    return next((at for at in zips if at is not None), None)


def of_zips(on: OnPlace) -> Iterator[Advice]:
    """A piece sewn shut in the hoop with its zip closed: it cannot be turned out.

    Source: handbook checks, zip-open.
    """
    at, steps, blocks = _zipped(on), on.asked.steps, len(on.facts.blocks)
    if at is None or not any(step.do == "turn-out" for step in steps):
        return
    opened = [when(step, on.placed.steps.stop_at) for step in steps if step.do == "open"]
    if any(each is not None and at <= each < blocks for each in opened):
        return
    last = max(int(at), blocks - 1)
    kept = [step for step in steps if step.do != "open"]
    step = Step(do="open", after_block=last)
    order = _Order(tuple(kept), blocks, on.placed.steps.stop_at)
    place = sum(1 for each in kept if order.at(each) <= last)
    yield on.say(
        "zip-open",
        "warn",
        "It is sewn shut with its zip closed: nobody turns it out.",
        "Open the zip half way before the last seam.",
        _steps(on, _kept((*kept[:place], step, *kept[place:]))) if last < blocks else None,
        about="steps",
    )


Steps = tuple[Step, ...]


@record
class _Wrong:
    """What is wrong with an order, the remedy, and the steps with that mended."""

    message: str
    fix: str
    steps: Steps


@record
class _Order:
    """Steps, the colour blocks that they lie between, and when the file stops."""

    steps: Steps
    blocks: int
    stop_at: tuple[float, ...]

    def at(self, step: Step) -> float:
        """Blocks sewn by then; END after sewing."""
        found = when(step, self.stop_at)
        return END if found is None else found

    def timed(self) -> list[tuple[int, Step, float]]:
        """The steps as they are done: (place in the list, step, when)."""
        listed = [(i, step, self.at(step)) for i, step in enumerate(self.steps)]
        return sorted(listed, key=lambda each: each[2])

    def moved(self, index: int, block: int) -> Steps:
        """The steps with one of them last of those after another block."""
        block = max(0, min(block, self.blocks))
        rest = [step for i, step in enumerate(self.steps) if i != index]
        at = max((n for n, step in enumerate(rest, 1) if self.at(step) <= block), default=0)
        step = self.steps[index].model_copy(update={"after_block": block, "at_stop": None})
        return (*rest[:at], step, *rest[at:])


def _lays(order: _Order) -> Iterator[_Wrong]:
    """Laid after all is sewn, or underneath without turning the hoop."""
    turned: set[float] = set()
    for index, step, at in order.timed():
        if step.do == "turn":
            turned.add(at)
        if step.do != "lay":
            continue
        if at >= order.blocks:
            yield _Wrong(
                "A patch is laid after the last block: nothing sews it down.",
                f"Lay it after block {order.blocks - 1}." if order.blocks > 1 else "Lay it first.",
                order.moved(index, order.blocks - 1),
            )
        elif step.side == "under" and at > 0 and at not in turned:
            turn = Step(do="turn", after_block=step.after_block, at_stop=step.at_stop)
            yield _Wrong(
                "A layer goes underneath and the hoop is not turned for it.",
                "Turn the hoop and tape it there.",
                (*order.steps[:index], turn, *order.steps[index:]),
            )


def _trims(order: _Order) -> Iterator[_Wrong]:
    """Trimmed or tacked with nothing laid, or trimmed before anything holds it."""
    laid: float | None = None
    lays = [at for _, step, at in order.timed() if step.do == "lay"]
    for index, step, at in order.timed():
        if step.do == "lay":
            laid = at
        if laid is None and step.do in {"trim", "tack"} and lays:  # none at all is told as that
            sewn = 1 if step.do == "trim" else 0
            yield _Wrong(
                f"{step.do.capitalize()} comes before anything is laid.",
                f"Lay first, then {step.do}.",
                order.moved(index, math.ceil(lays[0]) + sewn),
            )
        elif laid is not None and step.do == "trim" and math.floor(at) <= math.floor(laid):
            block = math.ceil(laid) + 1
            yield _Wrong(
                "Trim comes before the tack-down: nothing holds the patch yet.",
                f"Trim after block {block}, which sews it down.",
                order.moved(index, block),
            )


def _afterwards(order: _Order) -> Iterator[_Wrong]:
    """Cut out, turn out, stuff, close: in no other order."""
    after = [i for i, step, at in order.timed() if at == END and step.do in _RANK]
    ranked = sorted(after, key=lambda i: _RANK[order.steps[i].do])
    if after == ranked:
        return
    one, two = next(
        (a, b)
        for a, b in itertools.pairwise(after)
        if _RANK[order.steps[a].do] > _RANK[order.steps[b].do]
    )
    steps = list(order.steps)
    for place, i in zip(after, ranked, strict=True):
        steps[place] = order.steps[i]
    yield _Wrong(
        f"It is {_SAID[order.steps[one].do]} before it is {_SAID[order.steps[two].do]}.",
        "Cut out, turn out, stuff, close: in this order.",
        tuple(steps),
    )


def _first_wrong(order: _Order) -> _Wrong | None:
    return next((wrong for rule in (_lays, _trims, _afterwards) for wrong in rule(order)), None)


def of_order(on: OnPlace) -> Iterator[Advice]:
    """Steps in an order that does not work, with one that does.

    Source: docs/formulas.md, advice `step-order`.
    """
    steps = on.asked.steps
    if not steps:
        return
    order = _Order(steps, len(on.facts.blocks), on.placed.steps.stop_at)
    first = wrong = _first_wrong(order)
    for _ in range(2 * len(steps)):  # one thing mended may show the next
        if wrong is None:
            break
        order = _Order(wrong.steps, order.blocks, order.stop_at)
        wrong = _first_wrong(order)
    if first is None:
        return
    yield on.say(
        "step-order",
        "warn",
        first.message,
        first.fix,
        _steps(on, _kept(order.steps)) if wrong is None else None,
        about="steps",
    )


def _kept(steps: Steps) -> list[dict[str, Any]]:
    return [step.model_dump(mode="json", exclude_unset=True, exclude_none=True) for step in steps]


def _steps(on: OnPlace, steps: list[dict[str, Any]]) -> Patch:
    return add_patch(f"{on.path}/steps", steps)


def of_overlap(on: OnPlace) -> Iterator[Advice]:
    """Patches of pieces that share a hooping, larger than the pieces lie apart."""
    layout, asked = on.making.layout, on.asked
    if asked.together is None or layout.pieces < 2:
        return
    columns, rows = layout.columns, layout.rows
    gap = asked.together.spacing_mm
    pitch = [(side + gap) / n for side, n in zip(layout.size_mm, (columns, rows), strict=True)]
    for laid in on.placed.steps.sheets:
        step, size = asked.steps[laid.step], (laid.width_mm, laid.height_mm)
        over = [
            n > 1 and side > room + 1e-6
            for side, room, n in zip(size, pitch, (columns, rows), strict=True)
        ]
        if laid.per_hooping or not any(over):
            continue
        path = f"{on.path}/steps/{laid.step}"
        said = [key for key in ("width_mm", "height_mm") if getattr(step, key) is not None]
        yield on.say(
            "patch-overlap",
            "warn",
            f"Patches of {on.said_size(size)} lie over each other: the pieces of a hooping are "
            f"{on.said_size((pitch[0], pitch[1]))} apart.",
            "Lay one over all of the hooping.",
            [
                *({"op": "remove", "path": f"{path}/{key}"} for key in said),
                *add_patch(f"{path}/per", "hooping"),
            ],
            about=f"steps[{laid.step}]",
        )
        return


def of_patches(on: OnPlace) -> Iterator[Advice]:
    """A patch smaller than what tacks it down; a raw edge that comes undone."""
    for i, step in enumerate(on.asked.steps):
        if step.do != "lay" or step.sheet is None:
            continue
        block = on.facts.blocks[step.of_block - 1] if step.of_block else None
        if block is not None and block.width_mm and block.height_mm:
            over = 0 if step.precut else 2 * HELD_MM
            need = block.width_mm + over, block.height_mm + over
            size = step.width_mm or END, step.height_mm or END  # unsaid, it is large enough
            if any(have < least - 1e-6 for have, least in zip(size, need, strict=True)):
                more = 0 if step.precut else 2 * on.plan.house.cutting.layer_margin_mm
                wide, high = (math.ceil(side + more) for side in (block.width_mm, block.height_mm))
                path = f"{on.path}/steps/{i}"
                fix = [*add_patch(f"{path}/width_mm", wide), *add_patch(f"{path}/height_mm", high)]
                yield on.say(
                    "patch-small",
                    "warn",
                    f"The patch is {on.said_size(size)}; block {step.of_block}, which sews it "
                    f"down, is {on.said_size((block.width_mm, block.height_mm))}.",
                    f"Cut it {on.said_size((wide, high))}.",
                    fix,
                    about=f"steps[{i}]",
                )
        goods = on.plan.house.sheet_goods[step.sheet]
        if step.edge == "raw" and goods.frays and step.web is None:
            web = "fusible-web" if "fusible-web" in on.plan.house.sheet_goods else None
            yield on.say(
                "edge-frays",
                "note",
                f"{goods.label} with a raw edge comes undone unless it is fused.",
                "Fuse a web under it." if web else "Fuse it, or sew over its edge.",
                add_patch(f"{on.path}/steps/{i}/web", web) if web else None,
                about=f"steps[{i}]",
            )
