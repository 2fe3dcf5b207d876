"""Cautions for people, each where its work is: plain, short, and for all that applies."""

from __future__ import annotations

from collections.abc import Callable

from clothyard.core.house.document import GoodsClass, House
from clothyard.core.record import record
from clothyard.core.work.document import LineTold, PlacementTold

SMALL_GOODS = ("infant-bodysuit", "stuffed-toy", "toy-thin-part")


@record
class At:
    """Where a caution may apply: a placement of a line."""

    line: LineTold
    placed: PlacementTold
    goods: GoodsClass
    house: House

    @property
    def tasks(self) -> set[str]:
        """The tasks of the line's pieces."""
        return {task.task for task in self.line.tasks}

    @property
    def backing(self) -> str:
        """What it is backed with."""
        return self.placed.methods.get("backing", "")

    @property
    def hoop_kind(self) -> str:
        """The kind of its hoop."""
        hoop = self.house.hoops.get(self.placed.hoop or "")
        return hoop.kind if hoop else ""


BACKINGS = ("backing", "second_backing")


def _fused(at: At) -> bool:
    laid = [at.house.backings.get(at.placed.methods.get(of, "")) for of in BACKINGS]
    return any(known and known.fused for known in laid) or "soft-cover" in at.tasks


CAUTIONS: tuple[tuple[Callable[[At], bool], str], ...] = (
    (
        lambda _: True,
        "Hands, scissors, hair and cords stay away from a moving needle: stop the machine before "
        "clipping or reaching in. Power off before changing needle, foot or a bobbin by hand.",
    ),
    (
        lambda _: True,
        "Trace every new hooping: a needle that meets a hoop breaks and can injure. After any "
        "needle break find every fragment; if one is missing, the piece is not sold.",
    ),
    (
        lambda at: at.goods.standby > 0.2 or at.goods.hooping != "plain" or at.goods.is_cap,
        "Stay with it: tubes, caps, toys and all that folds under the hoop. Check that nothing "
        "lies under the hoop, and watch the first stitches.",
    ),
    (
        lambda at: at.hoop_kind == "magnetic",
        "Magnetic frames pinch: part them by sliding; keep them from pacemakers and other "
        "implants, cards and phones, and loose magnets from children.",
    ),
    (
        lambda at: at.placed.methods.get("hold") == "float",
        "Spray adhesive: ventilate, away from flame and from the machine; read its safety sheet.",
    ),
    (
        lambda at: _fused(at) or bool({"press", "soft-cover", "cap-form"} & at.tasks),
        "Irons and fusing are hot; test the cloth first.",
    ),
    (
        lambda at: at.goods.thickness_mm >= 3 or at.goods.is_cap,
        "Eye protection: thick or hard work breaks needles.",
    ),
    (
        lambda at: at.line.goods in SMALL_GOODS,
        "For children under three: no loose buttons, snaps, ribbons or long cords; cover rough "
        "backs; threads off; leave fibre, care and safety labels open. Keep a needle record. "
        "Opening or altering a toy can make you its maker in law: check your local rules.",
    ),
    (
        lambda at: at.goods.special,
        "Protective wear: sewing may reduce a reflective area, leak, burn or end a certificate. "
        "Its maker decides.",
    ),
)


def cautions_for(line: LineTold, placed: PlacementTold, house: House) -> list[str]:
    """List the cautions that apply to a placement, the general ones first.

    Source
    ------
    The handbook's checks, cautions for people.
    """
    if line.goods not in house.goods:
        return [words for _, words in CAUTIONS[:2]]
    at = At(line, placed, house.goods[line.goods], house)
    return [words for applies, words in CAUTIONS if applies(at)]
