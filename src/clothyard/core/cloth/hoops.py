"""Hoops: how a design sits in one, by how much it misses, and what a hoop accepts."""

from __future__ import annotations

from clothyard.core.house.document import ANY, GoodsClass, HoldKind, Hoop, Machine
from clothyard.core.record import record

LOOSE_EXTRA_MM = 1.0
RING = ("screw", "border")
"""Kinds of hoop that leave their ring in cloth that keeps it."""

TIGHT_MM = 3.0
FALLBACK_CLEARANCE_MM = 5.0


@record
class Fit:
    """How a design sits in a hoop.

    Attributes
    ----------
    turned : bool
        Goods are hooped a quarter turn round.
    left_mm : float
        Least that is left beyond the clearance, over both directions; negative: too large. [mm]
    over_field_mm : float
        By how much the sewn area exceeds the field; 0 or less when it fits. [mm]
    """

    turned: bool
    left_mm: float
    over_field_mm: float

    @property
    def fits(self) -> bool:
        """Whether the design can be sewn in this hoop."""
        return self.left_mm > -1e-6 and self.over_field_mm < 1e-6

    @property
    def miss_mm(self) -> float:
        """By how much it misses; 0 when it fits. [mm]"""
        return max(0.0, -self.left_mm, self.over_field_mm)


def fit_one_way(w: float, h: float, hoop: Hoop, *, turned: bool) -> Fit:
    """Try a sewn size in a hoop as it is given; `turned` says that it was turned for it. [mm]"""
    rim = 2 * hoop.clearance_mm
    left = min(hoop.opening_width_mm - (w + rim), hoop.opening_height_mm - (h + rim))
    over = max(w - hoop.field_width_mm, h - hoop.field_height_mm)
    return Fit(turned, left, over)


def fit_in(width_mm: float, height_mm: float, hoop: Hoop) -> Fit:
    """Try a sewn size in a hoop, as it stands and then turned if the hoop allows.

    Parameters
    ----------
    width_mm : float
        Across. [mm]
    height_mm : float
        Down. [mm]
    hoop : Hoop
        That it is tried in.

    Returns
    -------
    Fit

    Source
    ------
    docs/formulas.md 5: sewn ≤ field, and sewn + 2 · clearance ≤ opening.
    """
    upright = fit_one_way(width_mm, height_mm, hoop, turned=False)
    if upright.fits or not hoop.turns:
        return upright
    across = fit_one_way(height_mm, width_mm, hoop, turned=True)
    return across if across.miss_mm < upright.miss_mm else upright


def loose_thickness_mm(goods: GoodsClass) -> float:
    """Thickness as it lies in a hoop: deep pile and padding stand 1 mm higher. [mm]"""
    return goods.thickness_mm + (LOOSE_EXTRA_MM if goods.deep else 0.0)


def accepts(
    hoop: Hoop, *, machine: Machine, goods: GoodsClass, hold: HoldKind, machine_id: str = ANY
) -> str:
    """Tell why a hoop is not for these goods on this machine; "" when it is.

    Parameters
    ----------
    hoop : Hoop
        That it is tried in.
    machine : Machine
        That it is to go on.
    goods : GoodsClass
        The class that is sewn on.
    hold : HoldKind
        How the goods are held.
    machine_id : str
        The machine's; "any" where that is not asked.

    Returns
    -------
    str
        In words.
    """
    if ANY not in {hoop.machine, machine_id} and hoop.machine != machine_id:
        return f"it does not go on the {machine.label}"
    if (hoop.kind == "cap") != (goods.frame == "cap" and hold == "hoop"):
        return "a cap frame is for structured caps, and they for it"
    if hoop.kind == "cap" and not machine.cap_frame:
        return f"the {machine.label} takes no cap frame"
    if hold == "float":
        return "a clamp holds goods, not backing" if hoop.kind == "clamp" else ""
    if loose_thickness_mm(goods) > hoop.takes_mm + 1e-6:
        return f"it closes on {hoop.takes_mm:g} mm, the goods are {loose_thickness_mm(goods):g} mm"
    return ""


def frame_rank(hoop: Hoop, goods: GoodsClass, hold: HoldKind) -> tuple[int, float, float]:
    """Rank hoops that do: the kind the goods ask for, then opening area, then longer side.

    Goods that ask for a clamp or a magnetic frame have those first, when the shop has one.

    Parameters
    ----------
    hoop : Hoop
        That it is tried in.
    goods : GoodsClass
        The class that is sewn on.
    hold : HoldKind
        How the goods are held.

    Returns
    -------
    tuple[int, float, float]
        Lower is better.

    Source
    ------
    docs/formulas.md 5.
    """
    wanted = _wanted_frames(goods, hold)
    preferred = wanted.index(hoop.kind) if hoop.kind in wanted else len(wanted)
    area = hoop.opening_width_mm * hoop.opening_height_mm
    return preferred, area, max(hoop.opening_width_mm, hoop.opening_height_mm)


def _wanted_frames(goods: GoodsClass, hold: HoldKind) -> list[str]:
    if hold == "float" or goods.frame in {"any", "cap"}:
        return []
    return ["clamp", "magnetic"] if goods.frame == "clamp" else ["magnetic"]
