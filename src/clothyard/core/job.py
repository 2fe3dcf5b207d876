"""The Job: what is asked and chosen, as one frozen document (clothyard-job/1)."""

from __future__ import annotations

import json
from decimal import Decimal
from typing import Annotated, Any, Literal

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StrictBool,
    StrictInt,
    ValidationError,
    WithJsonSchema,
)
from pydantic import StrictStr as Text

from clothyard.core.checking import bad_input_from
from clothyard.core.errors import BadInput, SeveralBadInputs, unknown_id
from clothyard.core.house import BobbinColour, BobbinPolicy, HoldKind, PriceMethod, TierMode
from clothyard.core.measures import read_mm
from clothyard.core.stitches.facts import DesignKind
from clothyard.core.stitches.plan import MAX_STITCHES
from clothyard.core.units import Money, Rate, Share, known_currencies, minor_units, read_number

MAX_QUANTITY = 100_000
MAX_JOB_BYTES = 2_000_000

Quantity = Annotated[StrictInt, Field(ge=1, le=MAX_QUANTITY)]
_LENGTH = (
    BeforeValidator(read_mm),
    WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}], "title": "Length"}),
)
"""In: millimetres, or text with a unit (9cm, 3 1/2 in)."""
Millimetres = Annotated[float, Field(ge=1, le=3000), *_LENGTH]
Offset = Annotated[float, Field(ge=0, le=3000), *_LENGTH]
Sideways = Annotated[float, Field(ge=-3000, le=3000), *_LENGTH]
Gap = Annotated[float, Field(ge=0, le=1000), *_LENGTH]
LongLength = Annotated[float, Field(ge=1, le=100_000), *_LENGTH]
LetterHeight = Annotated[float, Field(ge=1, le=500), *_LENGTH]
Grid = Annotated[StrictInt, Field(ge=1, le=100)]
IsoDay = Annotated[Text, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
ShortText = Annotated[Text, Field(max_length=200)]
Hex = Annotated[Text, Field(pattern=r"^#[0-9a-f]{6}$")]


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)


class PriceBreak(_Part):
    """What a blank costs from a quantity on."""

    quantity: Quantity
    unit_cost: Money


class Goods(_Part):
    """The blank goods of a line: one of the shelf's, or as typed, which goes before the shelf."""

    class_: ShortText = Field(alias="class")
    blank: ShortText | None = None
    unit_cost: Money | None = None
    price_breaks: tuple[PriceBreak, ...] = Field(default=(), max_length=30)
    pack: Annotated[StrictInt, Field(ge=1, le=10_000)] | None = None
    delivery: Money | None = None
    spares_unsaleable: StrictBool = False
    supplied_by: Literal["shop", "customer"] = "shop"
    liability: Money = Decimal("0.00")


class Cell(_Part):
    """Pieces of one size and colour."""

    size: ShortText = ""
    colour: ShortText = ""
    quantity: Quantity
    unit_cost: Money | None = None


class Design(_Part):
    """A design: a file, the content hash of one, a count, or words."""

    file: ShortText | None = None
    sha256: Annotated[Text, Field(pattern=r"^[0-9a-f]{64}$")] | None = None
    stitches: Annotated[StrictInt, Field(ge=1, le=MAX_STITCHES)] | None = None
    text: Annotated[Text, Field(min_length=1, max_length=500)] | None = None
    kind: DesignKind | None = None
    colours: Annotated[StrictInt, Field(ge=1, le=100)] | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None
    trims: Annotated[StrictInt, Field(ge=0, le=50_000)] | None = None
    scale: Annotated[float, BeforeValidator(read_number), Field(ge=0.25, le=4)] = 1.0
    letter_height_mm: LetterHeight | None = None
    face: ShortText | None = None
    repeat: StrictBool = False
    thread_colours: tuple[Hex, ...] = Field(default=(), max_length=200)


class Methods(_Part):
    """How a placement is made; what is left out is proposed."""

    backing: ShortText | None = None
    layers: Annotated[StrictInt, Field(ge=0, le=6)] | None = None
    topping: ShortText | None = None
    hoop: ShortText | None = None
    hold: HoldKind | None = None
    needle: ShortText | None = None
    thread: ShortText | None = None
    bobbin: BobbinColour | None = None
    bobbin_policy: BobbinPolicy | None = None
    baste: StrictBool | None = None
    knock_down: StrictBool | None = None
    machine: ShortText | None = None


class Place(_Part):
    """Where a design lies and which way up; what is left out is the position's own.

    `gap_mm` from the position's reference (at a corner in along its bisector), `side_mm` from its
    centre line, to the side the position names (where it names none, to the viewer's right; less
    than 0 to the other); turned with the clock, then tilted, seen from the front. [mm, degrees]
    """

    gap_mm: Offset | None = None
    side_mm: Sideways | None = None
    turn: Literal[0, 90, 180, 270] = 0
    tilt_deg: Annotated[float, BeforeValidator(read_number), Field(ge=-45, le=45)] = 0.0
    mirror: StrictBool = False


class Band(_Part):
    """A motif repeated along a band, or round a closed ring. [mm]"""

    length_mm: LongLength
    gap_mm: Gap = 10.0
    closed: StrictBool = False
    fill: StrictBool = True


class Together(_Part):
    """Several pieces in one hooping; without a grid, as many as the hoop takes. [mm]"""

    columns: Grid | None = None
    rows: Grid | None = None
    spacing_mm: Gap = 10.0


class Split(_Part):
    """One design over several hoopings; without a grid, as few as the hoop allows. [mm]"""

    columns: Grid | None = None
    rows: Grid | None = None
    overlap_mm: Gap = 5.0


class Step(_Part):
    """What hands do at a stop of the machine: after a colour block, or at a stop in the file.

    lay (a patch), trim (along an outline), turn (the hoop, and tape), insert (hardware).
    """

    do: Literal["lay", "trim", "turn", "insert"]
    after_block: Annotated[StrictInt, Field(ge=0, le=200)] | None = None
    at_stop: Annotated[StrictInt, Field(ge=1, le=1000)] | None = None
    sheet: ShortText | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None
    outline_mm: LongLength | None = None
    hardware: ShortText | None = None
    count: Annotated[StrictInt, Field(ge=1, le=200)] = 1
    per: Literal["piece", "hooping"] | None = None


class Hardware(_Part):
    """Snaps, rings, ribbon … fixed to each piece after sewing; `length_mm` of what has length."""

    item: ShortText
    count: Annotated[StrictInt, Field(ge=1, le=200)] = 1
    length_mm: Millimetres | None = None


class Seam(_Part):
    """A seam that is opened before sewing and closed after."""

    length_mm: Millimetres
    felled: StrictBool = False


class Placement(_Part):
    """A design in its place on the piece."""

    position: ShortText | None = None
    place: Place = Place()
    design: Design
    band: Band | None = None
    together: Together | None = None
    split: Split | None = None
    steps: tuple[Step, ...] = Field(default=(), max_length=200)
    seam: Seam | None = None
    jig: StrictBool = False
    methods: Methods = Methods()


class Sample(_Part):
    """Pieces sewn before the run, and whether they are washed."""

    pieces: Annotated[StrictInt, Field(ge=0, le=20)] = 1
    wash: StrictBool = False


class Agreed(_Part):
    """A price agreed with the customer, held until a day (both ISO, "" for no end)."""

    unit_price: Money
    until: IsoDay = ""


class Kit(_Part):
    """Lines that are sold together at one price: so many kits, each with its share of them."""

    name: Annotated[Text, Field(min_length=1, max_length=200)]
    quantity: Quantity
    lines: tuple[Annotated[StrictInt, Field(ge=0, le=199)], ...] = Field(
        min_length=1, max_length=50
    )


class Overruled(_Part):
    """Advice that is gone against, and why."""

    code: ShortText
    where: ShortText = ""
    line: Annotated[StrictInt, Field(ge=0, le=199)] = 0
    reason: Annotated[Text, Field(min_length=1, max_length=500)]


class Line(_Part):
    """Pieces that are alike."""

    goods: Goods
    quantity: Quantity
    cells: tuple[Cell, ...] = Field(default=(), max_length=500)
    names: tuple[ShortText, ...] = Field(default=(), max_length=MAX_QUANTITY)
    placements: tuple[Placement, ...] = Field(min_length=1, max_length=12)
    finishing: tuple[ShortText, ...] = Field(default=(), max_length=40)
    hardware: tuple[Hardware, ...] = Field(default=(), max_length=40)
    sample: Sample | None = None
    digitising: Literal["none", "own", "supplier"] | None = None
    unit_price: Money | None = None
    discount: Share = Decimal(0)
    tax_rate: Rate | None = None
    agreed: Agreed | None = None


class Job(_Part):
    """What a customer asks for and how the shop means to make it."""

    format: Literal["clothyard-job/1"] = "clothyard-job/1"
    currency: Text = ""
    """Unsaid, the shop's."""
    lines: tuple[Line, ...] = Field(min_length=1, max_length=200)
    price_method: PriceMethod | None = None
    margin: Share | None = None
    tiers: tuple[Quantity, ...] | None = Field(default=None, min_length=1, max_length=30)
    tier_mode: TierMode | None = None
    on: IsoDay = ""
    rush_days: Annotated[StrictInt, Field(ge=0, le=365)] | None = None
    delivery: Money = Decimal("0.00")
    kits: tuple[Kit, ...] = Field(default=(), max_length=50)
    overruled: tuple[Overruled, ...] = Field(default=(), max_length=200)
    house: dict[str, Any] | None = None


NAME_MARK = "{name}"
"""Stands in a design's words for each piece's own name."""

_SOURCES = ("file", "sha256", "stitches", "text")
_WHY_NOT = {
    "colours": "the design tells it itself",
    "width_mm": "the design tells it itself",
    "height_mm": "the design tells it itself",
    "trims": "the design tells it itself",
    "kind": "words are lettering",
    "letter_height_mm": "height_mm is the letters' height",
    "face": "it is how words are lettered",
}
_ONLY_WITH: dict[str, tuple[str, ...]] = {
    "file": ("kind", "letter_height_mm"),
    "sha256": ("kind", "letter_height_mm"),
    "stitches": ("colours", "width_mm", "height_mm", "trims", "kind", "letter_height_mm"),
    "text": ("height_mm", "face"),
}


def _check_design(design: Design, where: str) -> list[BadInput]:
    given = [name for name in _SOURCES if getattr(design, name) is not None]
    if len(given) != 1:
        found = " and ".join(given) if given else "none"
        return [
            BadInput(
                f"needs just one of file, sha256, stitches or text; found {found}.",
                where=where,
                remedy="Give a stitch file, a count of stitches, or words.",
                code="design-source",
            )
        ]
    allowed = _ONLY_WITH[given[0]]
    problems = [
        BadInput(
            f"does not go with {given[0]}: {why}.",
            where=f"{where}.{name}",
            remedy="Remove it.",
            code="design-source",
        )
        for name, why in _WHY_NOT.items()
        if name not in allowed and getattr(design, name) is not None
    ]
    if design.scale != 1 and given[0] not in {"file", "sha256"}:
        problems.append(
            BadInput(
                f"does not go with {given[0]}: give its size instead.",
                where=f"{where}.scale",
                remedy="Remove it.",
                code="design-source",
            )
        )
    if design.colours and design.stitches and design.colours > design.stitches:
        problems.append(
            BadInput(
                "more colours than stitches.",
                where=f"{where}.colours",
                remedy="Enter fewer.",
                code="out-of-range",
            )
        )
    if design.text is not None:
        problems += _check_words(design, where)
    return problems


def _check_words(design: Design, where: str) -> list[BadInput]:
    rest = (design.text or "").replace(NAME_MARK, "")
    if not (design.text or "").strip():
        said, remedy = "holds no words.", f"Type words, or {NAME_MARK} for each piece's own name."
    elif "{" in rest or "}" in rest:
        said, remedy = "has braces that stand for nothing.", f"Only {NAME_MARK} is known."
    else:
        return []
    return [BadInput(said, where=f"{where}.text", remedy=remedy, code="design-text")]


def _check_placement(placement: Placement, where: str) -> list[BadInput]:
    problems = _check_design(placement.design, f"{where}.design")
    ways = [name for name in ("band", "together", "split") if getattr(placement, name) is not None]
    if len(ways) > 1:
        problems.append(
            BadInput(
                f"goes with one of band, together and split only; found {' and '.join(ways)}.",
                where=f"{where}.{ways[1]}",
                remedy="Remove all but one.",
                code="layout-several",
            )
        )
    for name in ("together", "split"):
        grid = getattr(placement, name)
        if grid is not None and (grid.columns is None) != (grid.rows is None):
            problems.append(
                BadInput(
                    "needs both columns and rows, or neither.",
                    where=f"{where}.{name}",
                    remedy="Give both, or leave the choice to the hoop.",
                    code="layout-half",
                )
            )
    for i, step in enumerate(placement.steps):
        problems += _check_step(step, f"{where}.steps[{i}]")
    return problems


_STEP_NEEDS = {
    "lay": ("sheet", "width_mm", "height_mm"),
    "trim": ("outline_mm",),
    "turn": (),
    "insert": ("hardware",),
}


def _check_step(step: Step, where: str) -> list[BadInput]:
    problems = [
        BadInput(
            f"is needed to {step.do}.",
            where=f"{where}.{name}",
            remedy="Enter it.",
            code="missing",
        )
        for name in _STEP_NEEDS[step.do]
        if getattr(step, name) is None
    ]
    if (step.after_block is None) == (step.at_stop is None):
        problems.append(
            BadInput(
                "needs to say when: after_block or at_stop, just one.",
                where=where,
                remedy="0 is before the first block.",
                code="step-when",
            )
        )
    return problems


def _check_line(line: Line, where: str) -> list[BadInput]:
    problems = []
    goods = line.goods
    priced = goods.blank is not None or (
        line.cells and all(cell.unit_cost is not None for cell in line.cells)
    )
    if goods.unit_cost is None and goods.supplied_by == "shop" and not priced:
        problems.append(
            BadInput(
                "is needed.",
                where=f"{where}.goods.unit_cost",
                remedy='Enter what a blank costs the shop, name one of its shelf ("blank"), or '
                '"supplied_by": "customer".',
                code="missing",
            )
        )
    if line.cells and (total := sum(cell.quantity for cell in line.cells)) != line.quantity:
        problems.append(
            BadInput(
                f"the cells hold {total} pieces, the line {line.quantity}.",
                where=f"{where}.cells",
                remedy="Make them agree.",
                code="cells-differ",
            )
        )
    if len(line.names) > line.quantity:
        problems.append(
            BadInput(
                f"{len(line.names)} names for {line.quantity} pieces.",
                where=f"{where}.names",
                remedy="Raise the quantity or remove names.",
                code="names-many",
            )
        )
    for i, placement in enumerate(line.placements):
        problems += _check_placement(placement, f"{where}.placements[{i}]")
    return problems


def _check_money(job: Job) -> list[BadInput]:
    """Refuse a typed price finer than the currency's minor unit."""
    places = minor_units(job.currency)
    return [
        BadInput(
            f"{line.unit_price} has more decimals than {job.currency} has.",
            where=f"lines[{i}].unit_price",
            remedy=f"Enter at most {places}." if places else "Enter a whole amount.",
            code="out-of-range",
        )
        for i, line in enumerate(job.lines)
        if line.unit_price is not None and line.unit_price != round(line.unit_price, places)
    ]


def _check_kits(job: Job) -> list[BadInput]:
    problems, taken = [], set()
    for k, kit in enumerate(job.kits):
        for at, index in enumerate(kit.lines):
            where = f"kits[{k}].lines[{at}]"
            if index >= len(job.lines) or index in taken:
                said = "is in a kit already" if index in taken else "is no line of this job"
                problems.append(
                    BadInput(f"{index} {said}.", where=where, remedy="Lines count from 0.",
                             code="kit-lines")
                )  # fmt: skip
            elif job.lines[index].quantity % kit.quantity:
                problems.append(
                    BadInput(
                        f"{job.lines[index].quantity} pieces do not share out over "
                        f"{kit.quantity} kits.",
                        where=where,
                        remedy="Make the line a multiple of the kits.",
                        code="kit-lines",
                    )
                )
            taken.add(index)
    return problems


def check_job(job: Job) -> None:
    """Refuse a job whose parts do not agree with each other. Its currency is settled.

    Raises
    ------
    SeveralBadInputs
        Every problem, each with its place and remedy.
    """
    problems: list[BadInput] = []
    if job.currency not in known_currencies():
        problems.append(
            unknown_id(job.currency, known_currencies(), where="currency", what="currency")
        )
    else:
        problems += _check_money(job)
    for i, line in enumerate(job.lines):
        problems += _check_line(line, f"lines[{i}]")
    problems += _check_kits(job)
    if problems:
        raise SeveralBadInputs(problems)


def read_job(text: bytes | str) -> Job:
    """Read a job document.

    Parameters
    ----------
    text : bytes or str
        JSON, UTF-8. Money and shares as text or numbers.

    Raises
    ------
    BadInput
        If it is no JSON, has unknown keys, or a value is missing, wrong or out of range.
    """
    if len(text) > MAX_JOB_BYTES:
        raise BadInput("the job document is over 2 MB.", remedy="Split it.", code="job-huge")
    try:
        raw = json.loads(text, parse_float=Decimal, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise BadInput(
            f"the job is not readable as JSON ({error}).",
            remedy="Mend it there, or write it again.",
            code="not-json",
        ) from None
    return job_from(raw)


def _no_constant(name: str) -> None:
    raise ValueError(f"{name} is not a number")


def job_from(raw: Any) -> Job:
    """Validate a job given as plain data; see `read_job`."""
    if not isinstance(raw, dict):
        raise BadInput("the job must be a JSON object.", remedy="Begin it with {.", code="not-json")
    try:
        return Job.model_validate(raw)
    except ValidationError as error:
        raise SeveralBadInputs(bad_input_from(error, model=Job)) from None


def job_json(job: Job) -> dict[str, Any]:
    """Write a job as a plain document; what was not given stays out."""
    document: dict[str, Any] = json.loads(
        job.model_dump_json(by_alias=True, exclude_none=True, exclude_unset=True)
    )
    return document
