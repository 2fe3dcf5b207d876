"""How a piece is held while it is sewn, and what is done to it after, in order and with why."""

from __future__ import annotations

from collections.abc import Collection, Iterator

from clothyard.core.house.document import Backing, House
from clothyard.core.record import record
from clothyard.core.work.document import LineTold, PassTold, PlacementTold, TaskTold
from clothyard.core.work.looking import AFTER_WASH, FLAW_AGAIN, look_words, scrap_words

MARKS = {
    "pen": "a soluble pen, tried at a seam first",
    "crease": "a folded crease",
    "tape": "tape or a sticker",
    "template": "a paper template and pins",
    "chalk": "chalk",
    "jig": "the jig",
}


@record
class AfterSewing:
    """Something done once it is sewn, and why then or so."""

    what: str
    why: str


def _laid(placed: PlacementTold, house: House) -> list[tuple[Backing, int]]:
    """List the kinds of backing under a piece, with their layers."""
    found = []
    for of, count in (("backing", "layers"), ("second_backing", "second_layers")):
        backing = house.backings.get(placed.methods.get(of, ""))
        layers = int(placed.methods.get(count, "0") or 0)
        if backing and layers:
            found.append((backing, layers))
    return found


def _on_piece(placed: PlacementTold, house: House) -> list[Backing]:
    """List the backings that are fused to the piece, not hooped by themselves."""
    laid = _laid(placed, house)
    if placed.methods.get("hold") == "float" and all(backing.fused for backing, _ in laid):
        return []
    return [backing for backing, _ in laid if backing.fused]


def _layers_said(backing: Backing, layers: int) -> str:
    name = backing.label.lower()
    if layers == 1:
        return name
    return f"{layers} layers of {name}{', crosswise' if layers == 2 else ''}"


def _hooped(placed: PlacementTold, house: House) -> str:
    """Say what goes into the hoop."""
    hoop = house.hoops.get(placed.hoop or "")
    laid, fused = _laid(placed, house), _on_piece(placed, house)
    under = [each for each in laid if each[0] not in fused] or laid
    on = " and ".join(_layers_said(*each) for each in under)
    if placed.methods.get("hold") == "float":
        return f"Hoop {on or 'nothing'}, and only that."
    verb = {
        "clamp": "Clamp the piece",
        "magnetic": "Close the magnetic frame on the piece",
        "cap": "Stretch it on the cap frame",
    }.get(hoop.kind if hoop else "", "Hoop the piece")
    return f"{verb}{f' with {on}' if on else ''}."


def _floated(placed: PlacementTold, house: House, tasks: Collection[str]) -> Iterator[str]:
    """Say how a floated piece is kept where it lies."""
    fused = _on_piece(placed, house)
    under = [backing for backing, _ in _laid(placed, house) if backing not in fused]
    if any(backing.wet for backing in under):
        yield "Wet the backing and stick the piece on it."
    elif any(backing.fused for backing in under):
        yield "Lay the piece on it and fuse it."
    elif any(backing.sticky for backing in under):
        yield "Stick the piece on it."
    else:
        yield "Mist it with adhesive away from the machine, and lay the piece on."
    if placed.methods.get("baste") == "true":
        yield f"Baste it down {house.basting.margin_mm:g} mm outside the design."
    elif "pins" not in tasks:
        yield "Hold its margin with tape or clips."
    if "pins" in tasks:
        yield "Pin it down, clear of the needle."


def how_held(line: LineTold, each: PassTold, placed: PlacementTold, house: House) -> list[str]:
    """Say how a piece is marked, held and laid on the machine, in order.

    Parameters
    ----------
    line : LineTold
    each : PassTold
        The pass that the placement is sewn in.
    placed : PlacementTold
    house : House

    Returns
    -------
    list of str
        Sentences.

    Source
    ------
    The handbook's trade and checks.
    """
    tasks = {task.task for task in (*each.tasks, *line.tasks)}
    topping = house.toppings.get(placed.methods.get("topping", ""))
    said = [scrap_words(house.goods[line.goods])] if each.sample else []
    said = [words for words in said if words]
    marking = placed.methods.get("marking", "")
    if any(task.startswith("mark") for task in tasks) and marking in MARKS:
        said.append(f"Mark it with {MARKS[marking]}.")
    if "open-seam" in tasks:
        said.append("Open the seam, so that it lies flat.")
    floated = placed.methods.get("hold") == "float"
    for backing in _on_piece(placed, house):
        said.append(f"Fuse the {backing.label.lower()} to the back first.")
    said.append(_hooped(placed, house))
    if floated:
        said += _floated(placed, house, tasks)
    if topping:
        first = any(step.label.startswith("Lay a patch") and step.at for step in placed.steps)
        when = " once the placement line is sewn" if first else ""
        said.append(f"{topping.label} on top{when}.")
    if placed.methods.get("bobbin") == "match":
        said.append("Loosen the bobbin case a little: 40 weight in the bobbin may loop.")
    if placed.methods.get("set_by") == "template":
        said.append("Set the needle on its mark over the paper template.")
    return said


ORDER: tuple[tuple[tuple[str, ...], str, str], ...] = (
    (("clip",), "Clip the jump threads.", "Pulling the film off drags them."),
    (("release-wet",), "Wet it to let go, then take it off.", "Torn off dry it stretches."),
    (("unbaste",), "Basting out.", "Before anything is pulled from under it."),
    (("film",), "Film: pull the large pieces, dab the rest.", "Away from the stitches."),
    (("soak",), "Soak the film out.", "Nothing is pulled."),
    (
        ("tear-backing",),
        "Hold the stitches, tear the backing away from them.",
        "They loosen where they are pulled.",
    ),
    (("trim-backing",), "Trim the cut-away to 10 mm, corners round.", "A corner scratches."),
    (("cut-wash-away",), "Cut the wash-away close.", "Less to wash out."),
    (("rinse-wash-away",), "Rinse the rest out.", "What stays dries stiff."),
    (("dab-wash-away",), "Dab the rest out.", "It bears no more water."),
    (("wash",), "Wash, and press.", "One wash takes backing and marks."),
    (("unmark",), "Marks off, and dry.", "Heat sets them."),
    (("soft-cover",), "Fuse the soft cover over the back.", "It would scratch."),
    (("press",), "Press from the back on a soft ground.", "From the front it lies flat and dull."),
    (("steam",), "Steam it; never press.", "Pile melts or lies flat."),
    (("cut-shape", "cut-straight"), "Cut it out.", "Close to the edge, not into it."),
    (("fix-patch", "sew-patch"), "Fix the patch on.", "On its mark, straight."),
    (("close-seam",), "Close the seam.", "After pressing, not before."),
    (("restuff",), "Fill it again.", "As full as it was."),
)
"""What is done after sewing, by the tasks that ask for it. Source: handbook checks."""
OUT = AfterSewing("Take the piece out of the hoop.", "By the hoop, not by the cloth.")
_BEFORE_OUT = 2
"""So many of the steps are done with the piece still in the hoop."""


def hardware_tasks(line: LineTold) -> list[TaskTold]:
    """List what fixes snaps, rings and the like to a line's pieces."""
    own = {f"fix-{part.item}" for part in line.hardware}
    return [task for task in line.tasks if task.task in own]


def after_sewing(line: LineTold, each: PassTold) -> list[AfterSewing]:
    """List what is done to a piece after it is sewn, in order; only what this piece has.

    Parameters
    ----------
    line : LineTold
    each : PassTold
        One of its passes: on the last the piece's own finishing follows.

    Source
    ------
    The handbook's checks, after sewing.
    """
    tasks = {task.task for task in (*each.tasks, *line.tasks) if not task.before}
    tasks |= {task.task for task in line.tasks if task.task == "restuff"}
    found = []
    for n, (of, what, why) in enumerate(ORDER):
        if n == _BEFORE_OUT:
            found.append(OUT)
        if tasks & set(of):
            found.append(AfterSewing(what, why))
    found += [
        AfterSewing(f"{task.label}.", "Its hole is punched first, where it takes one.")
        for task in hardware_tasks(line)
    ]
    found.append(AfterSewing(look_words(p.position for p in line.placements), FLAW_AGAIN))
    if each.sample and line.sample_washed:
        found.append(AfterSewing(AFTER_WASH, "What is washed once shows what the customer sees."))
    return found
