"""Trouble at the machine: what is seen, its causes with the likeliest for this piece first."""

from __future__ import annotations

import tomllib
from functools import cache
from importlib.resources import files

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.work.document import LineTold, PlacementTold

STOP_FIRST = (
    "Stop the machine before any remedy. Power off before hands come near needle, foot or hook; "
    "keep hair, sleeves and cords away."
)
LONG_STITCHES = 40_000
SMALL_LETTER_MM = 6.0
THICK_MM = 1.5
LIGHT_MM, HEAVY_MM = 0.25, 0.45


@record
class Cause:
    """Why it happens; `when` are settings that make it likelier, without one of `only` it cannot
    be."""

    text: str
    when: tuple[str, ...]
    only: tuple[str, ...] = ()


@record
class Fault:
    """What is seen; `short` names it as the reason of a spoiled piece.

    `hands`: hands come near the needle, so that stopping comes before all else.
    """

    id: str
    seen: str
    short: str
    causes: tuple[Cause, ...]
    now: str
    next: str
    hands: bool


@record
class Trouble:
    """A fault for one piece: causes in the order of trying, with which of them its settings speak
    for."""

    fault: Fault
    causes: tuple[str, ...]
    likely: int
    caution: str


@cache
def all_faults() -> dict[str, Fault]:
    """Read what is seen at the machine, in the order of the panel."""
    text = files(__package__).joinpath("faults.toml").read_text(encoding="utf-8")
    found = {}
    for id_, row in tomllib.loads(text).items():
        causes = tuple(
            Cause(c["text"], tuple(c["when"]), tuple(c.get("only", ()))) for c in row["causes"]
        )
        found[id_] = Fault(
            id_,
            row["seen"],
            row["short"],
            causes,
            row["now"],
            row["next"],
            bool(row.get("hands", False)),
        )
    return found


def settings_of(line: LineTold, placed: PlacementTold, house: House) -> frozenset[str]:
    """Say what about a piece makes some causes likelier.

    Parameters
    ----------
    line, placed : LineTold, PlacementTold
        Of the work.
    house : House
    """
    holds = every_setting(line, placed, house).items()
    return frozenset(name for name, is_so in holds if is_so)


def every_setting(line: LineTold, placed: PlacementTold, house: House) -> dict[str, bool]:
    """Say of every setting that a cause may name whether this piece has it."""
    goods, methods = house.goods[line.goods], placed.methods
    backing = house.backings.get(methods.get("backing", ""))
    hoop = house.hoops.get(placed.hoop or "")
    tasks = {task.task for task in line.tasks}
    floated = methods.get("hold") == "float"
    topped = methods.get("topping", "none") not in {"", "none"}
    names = any(piece.name for piece in line.pieces)
    return {
        "stretch": goods.stretch > 0,
        "tear-on-stretch": goods.stretch > 0 and backing is not None and backing.removal == "tear",
        "light-backing": backing is None or backing.thickness_mm <= LIGHT_MM,
        "heavy-backing": backing is not None and backing.thickness_mm >= HEAVY_MM,
        "trimmed": backing is not None and backing.removal == "trim",
        "hooped": not floated,
        "screwed": hoop is not None and hoop.kind == "screw",
        "floated": floated,
        "adhesive": floated,
        "slippery": goods.stretch == 0 and goods.pile == 0 and goods.thickness_mm < 0.5,
        "counted": placed.design.source == "count",
        "metallic": methods.get("thread", "") == "metallic",
        "cap": goods.is_cap,
        "thick": goods.thickness_mm >= THICK_MM,
        "pile": goods.pile > 0,
        "pile-bare": goods.pile > 0 and not topped,
        "bare": not topped,
        "small-letters": placed.design.source == "words"
        and placed.design.height_mm < SMALL_LETTER_MM,
        "tube": goods.hooping == "tight-tube" or goods.frame == "cap",
        "lined": "lining" in tasks or "lined" in line.goods,
        "no-pierce": not goods.pierce,
        "long": placed.design.stitches > LONG_STITCHES,
        "names": names or placed.design.source == "words",
        "pressed": bool({"press", "steam"} & tasks),
        "washable": goods.washable,
        "bobbin-seen": goods.back_seen != "no",
    }


def troubles(settings: frozenset[str]) -> list[Trouble]:
    """List what may be seen, each with its causes: those that the piece's settings speak for first.

    What this piece cannot have is left out.

    Parameters
    ----------
    settings : frozenset of str
        See `settings_of`.
    """
    found = []
    for fault in all_faults().values():
        possible = [c for c in fault.causes if not c.only or settings & {*c.only}]
        spoken = [cause for cause in possible if settings & {*cause.when}]
        rest = [cause for cause in possible if cause not in spoken]
        if not possible:
            continue
        found.append(
            Trouble(
                fault,
                tuple(cause.text for cause in (*spoken, *rest)),
                len(spoken),
                STOP_FIRST if fault.hands else "",
            )
        )
    return found
