"""Starting points for what is made in the hoop: each a line that asks only what differs."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from clothyard.core.errors import unknown_id
from clothyard.core.record import record

OPENING_MM = 60
"""Left unsewn to turn a piece through, and closed by hand."""

Json = dict[str, Any]


@record
class Start:
    """A thing that is made in the hoop.

    `width_mm`, `height_mm` are its usual size; `stitches` of that size, sewn in `blocks` colour
    blocks; `made` writes its steps, hardware and finishing for a size.
    """

    id: str
    label: str
    says: str
    width_mm: float
    height_mm: float
    stitches: int
    blocks: int
    made: Callable[[float, float], Json]


def _lay(sheet: str, after: int, **more: Any) -> Json:
    """A layer over all of a hooping."""
    return {"do": "lay", "after_block": after, "sheet": sheet, "per": "hooping"} | more


def _under(sheet: str, after: int) -> list[Json]:
    return [{"do": "turn", "after_block": after}, _lay(sheet, after, side="under")]


def _round(width: float, height: float) -> float:
    return 2 * (width + height)


def _cut(width: float, height: float, *, straight: bool = False) -> Json:
    way = {"straight": True} if straight else {}
    return {"do": "cut-out", "outline_mm": _round(width, height)} | way


def _turned(width: float, height: float) -> list[Json]:
    """Cut out, turned right side out through an opening, pressed and closed."""
    return [
        _cut(width, height, straight=True),
        {"do": "turn-out"},
        {"do": "press"},
        {"do": "close", "outline_mm": OPENING_MM},
    ]


def _key_tab(w: float, h: float) -> Json:
    steps = [_lay("vinyl-sheet", 1), *_under("vinyl-sheet", 2), _cut(w, h)]
    hardware = [{"item": "snap", "count": 1}, {"item": "ring", "count": 1}]
    return {"steps": steps, "hardware": hardware}


def _zip_pouch(w: float, h: float) -> Json:
    steps = [
        {"do": "insert", "after_block": 1, "hardware": "zip"},
        {"do": "tape", "after_block": 1},
        _lay("fabric", 2),
        *_under("backing-fabric", 2),
        _lay("fabric", 3),
        *_under("backing-fabric", 3),
        {"do": "open", "after_block": 3},
        *_turned(w, h),
    ]
    return {"steps": steps}


def _mug_mat(w: float, h: float) -> Json:
    steps = [
        _lay("batting", 1),
        _lay("fabric", 1),
        _lay("backing-fabric", 3),
        *_turned(w, h),
    ]
    return {"steps": steps}


def _bib(w: float, h: float) -> Json:
    steps = [_lay("fabric", 1), _lay("backing-fabric", 3), *_turned(w, h)]
    return {"steps": steps, "hardware": [{"item": "snap", "count": 1}]}


def _ornament(w: float, h: float) -> Json:
    steps = [
        _lay("felt-sheet", 1),
        *_under("felt-sheet", 2),
        _cut(w, h),
        {"do": "tie", "hardware": "ribbon", "width_mm": 150},
    ]
    return {"steps": steps}


def _badge(w: float, h: float) -> Json:
    return {"steps": [_lay("felt-sheet", 1, web="fusible-web"), _cut(w, h)]}


STARTS: Mapping[str, Start] = {
    start.id: start
    for start in (
        Start(
            "key-tab",
            "Key tab",
            "vinyl on both sides, snap and ring, cut out along its shape",
            45,
            110,
            2600,
            3,
            _key_tab,
        ),
        Start(
            "zip-pouch",
            "Zip pouch",
            "zip, two fabrics and two linings, turned right side out",
            180,
            120,
            9000,
            4,
            _zip_pouch,
        ),
        Start(
            "mug-mat",
            "Mug mat",
            "batting, fabric, a back, turned right side out",
            130,
            130,
            7500,
            4,
            _mug_mat,
        ),
        Start(
            "bib",
            "Baby's bib",
            "fabric and a back, turned right side out, one snap",
            180,
            240,
            6500,
            4,
            _bib,
        ),
        Start(
            "ornament",
            "Ornament",
            "felt on both sides, cut out, tied on a ribbon",
            80,
            80,
            5000,
            3,
            _ornament,
        ),
        Start(
            "badge",
            "Badge",
            "felt with a web to iron on, cut out along its edge",
            70,
            70,
            6000,
            3,
            _badge,
        ),
    )
}


def start_line(
    start_id: str, *, quantity: int, width_mm: float | None = None, height_mm: float | None = None
) -> Json:
    """Write the line of a starting point.

    Parameters
    ----------
    start_id : str
        One of `STARTS`.
    quantity : int
        Pieces.
    width_mm, height_mm : float, optional
        Its size; the usual one where unsaid. Stitches go with the area. [mm]

    Returns
    -------
    dict
        A line of a clothyard-job/1 document, without ids: its design is a count until its file is
        there; as many a hooping as the hoop takes.

    Raises
    ------
    BadInput
        If there is no such starting point.
    """
    start = STARTS.get(start_id)
    if start is None:
        raise unknown_id(start_id, STARTS, where="start", what="starting point")
    width, height = width_mm or start.width_mm, height_mm or start.height_mm
    share = width * height / (start.width_mm * start.height_mm)
    made = start.made(width, height)
    design = {
        "stitches": max(1, round(start.stitches * share)),
        "kind": "mixed",
        "colours": start.blocks,
        "width_mm": width,
        "height_mm": height,
        "trims": start.blocks,
    }
    placement = {"design": design, "together": {"spacing_mm": 10}, "steps": made.pop("steps")}
    return {
        "goods": {"class": "in-the-hoop"},
        "quantity": quantity,
        "placements": [placement],
        **made,
    }
