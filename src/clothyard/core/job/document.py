"""The Job: what is asked and chosen, as one frozen document (clothyard-job/1)."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal
from typing import Annotated, Any, Literal, Self

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    ModelWrapValidatorHandler,
    PrivateAttr,
    StrictBool,
    ValidationInfo,
    WithJsonSchema,
    model_validator,
)
from pydantic import StrictStr as Text

from clothyard.core.house.document import (
    BobbinColour,
    BobbinPolicy,
    HoldKind,
    Marking,
    PriceMethod,
    TierMode,
)
from clothyard.core.job.typed import Typed, how_read
from clothyard.core.job.upgrade import upgraded
from clothyard.core.limits import MAX_STITCHES, DesignKind
from clothyard.core.measures import read_mm
from clothyard.core.units import Money as UnitsMoney
from clothyard.core.units import Rate, Share, read_count, read_number, read_typed

MAX_QUANTITY = 100_000
MAX_PLACEMENTS = 400
"""Of all lines."""

MAX_NAME_LETTERS = 150_000
"""Of all names of an order."""

_COUNT = (
    BeforeValidator(read_count),
    WithJsonSchema({"anyOf": [{"type": "integer"}, {"type": "string"}], "title": "Count"}),
)
"""In: a whole number, or text as people write it (24, 8,200, 8.2k)."""
Quantity = Annotated[int, Field(ge=1, le=MAX_QUANTITY), *_COUNT]
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
_NUMBER = (
    BeforeValidator(read_number),
    WithJsonSchema({"anyOf": [{"type": "number"}, {"type": "string"}], "title": "Number"}),
)
Grid = Annotated[int, Field(ge=1, le=100), *_COUNT]
IsoDay = Annotated[Text, Field(pattern=r"^(\d{4}-\d{2}-\d{2})?$")]
ShortText = Annotated[Text, Field(max_length=200)]
Id = Annotated[Text, Field(pattern=r"^[A-Za-z0-9][A-Za-z0-9._-]{0,39}$")]
"""Of a line, a placement or a cell: made by whoever adds it, kept through edits and versions."""
Hex = Annotated[Text, Field(pattern=r"^#[0-9a-f]{6}$")]


def _read_money(value: Any, info: ValidationInfo) -> Any:
    """Read money in the job's currency, whose sign may stand at it."""
    return read_typed(value, currency=str((info.context or {}).get("currency", "")))


Money = Annotated[UnitsMoney, BeforeValidator(_read_money)]


NAME_TO_COME = "?"
"""On a list of names: this piece's is not known yet."""


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
    pack: Annotated[int, Field(ge=1, le=10_000), *_COUNT] | None = None
    delivery: Money | None = None
    spares_unsaleable: StrictBool = False
    supplied_by: Literal["shop", "customer"] = "shop"
    liability: Money = Decimal("0.00")
    weight_g: Annotated[float, Field(ge=1, le=100_000), *_NUMBER] | None = None
    """Of a piece: a heavy one is borne while it is sewn. [g]"""

    width_mm: Annotated[float, Field(ge=20, le=20_000), *_NUMBER] | None = None
    height_mm: Annotated[float, Field(ge=20, le=20_000), *_NUMBER] | None = None
    """Of a piece of flat open goods, as measured; unsaid, as its class usually is. [mm]"""

    spoil: Share | None = None
    minutes: Annotated[float, Field(ge=0, le=6000), *_NUMBER] | None = None
    """Of this blank, as a trial had it: the share that is spoiled, and what a piece takes, hands
    and machine. Unsaid, as its class. [min]"""

    once_only: StrictBool = False
    """It cannot be bought again: sewn slower, with a person by, and never tried on."""


class Cell(_Part):
    """Pieces of one size and colour."""

    id: Id = ""
    size: ShortText = ""
    colour: ShortText = ""
    quantity: Quantity
    unit_cost: Money | None = None


class Origin(_Part):
    """Where a design comes from: what it cost, over how many orders, and on which terms.

    digitised for this order at an asked price; bought or downloaded; built into the machine; the
    customer's own. `pieces_most` is how many pieces its terms let be sold.
    """

    kind: Literal["digitised", "bought", "built-in", "customer"]
    price: Money | None = None
    orders: Annotated[int, Field(ge=1, le=10_000), *_COUNT] = 1
    pieces_most: Quantity | None = None
    terms: ShortText = ""


class Design(_Part):
    """A design: a file, the content hash of one, a count, or words."""

    file: ShortText | None = None
    sha256: Annotated[Text, Field(pattern=r"^[0-9a-f]{64}$")] | None = None
    stitches: Annotated[int, Field(ge=1, le=MAX_STITCHES), *_COUNT] | None = None
    text: Annotated[Text, Field(min_length=1, max_length=500)] | None = None
    kind: DesignKind | None = None
    colours: Annotated[int, Field(ge=1, le=100), *_COUNT] | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None
    trims: Annotated[int, Field(ge=0, le=50_000), *_COUNT] | None = None
    scale: Annotated[float, Field(ge=0.25, le=4), *_NUMBER] = 1.0
    letter_height_mm: LetterHeight | None = None
    face: ShortText | None = None
    repeat: StrictBool = False
    origin: Origin | None = None
    thread_colours: tuple[Hex, ...] = Field(default=(), max_length=200)


def _angle(value: Any) -> Any:
    """Read a quarter turn that is written as text."""
    return int(value) if isinstance(value, str) and value.strip().isdigit() else value


Edge = Literal["border", "own", "raw"]
"""Of a patch: a satin border that is counted, one that the design has, or none."""
Fixing = Literal["press", "sew"]
"""How a patch is fixed on."""
SetBy = Literal["hoop-marks", "template"]
"""How the needle is brought onto the mark."""


class PlaceRoom(_Part):
    """Room at the place of this very piece, as measured. [mm]"""

    width_mm: Annotated[float, Field(ge=5, le=20_000), *_NUMBER]
    height_mm: Annotated[float, Field(ge=5, le=20_000), *_NUMBER]


class Methods(_Part):
    """How a placement is made; what is left out is proposed."""

    backing: ShortText | None = None
    layers: Annotated[int, Field(ge=0, le=6), *_COUNT] | None = None
    second_backing: ShortText | None = None
    second_layers: Annotated[int, Field(ge=0, le=6), *_COUNT] | None = None
    """Of another kind beside the first: fused to the piece, or hooped under it."""

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
    marking: Marking | None = None
    set_by: SetBy | None = None
    edge: Edge | None = None
    fixing: Fixing | None = None
    way: Annotated[Literal[0, 90, 180, 270], BeforeValidator(_angle)] | None = None
    """How far piece and design are turned together as they go in, seen from above, with the clock,
    the machine at the top. [degrees]"""


class Place(_Part):
    """Where a design lies and which way up; what is left out is the position's own.

    `gap_mm` from the position's reference (at a corner in along its bisector), `side_mm` from its
    centre line, to the side the position names (where it names none, to the viewer's right; less
    than 0 to the other); turned with the clock, then tilted, seen from the front. [mm, degrees]
    """

    gap_mm: Offset | None = None
    side_mm: Sideways | None = None
    turn: Literal[0, 90, 180, 270] = 0
    tilt_deg: Annotated[float, Field(ge=-45, le=45), *_NUMBER] = 0.0
    mirror: StrictBool = False


class Band(_Part):
    """A motif repeated along a band, or round a closed ring. [mm]

    Not filled to both ends, it begins in the middle or at an end. Its corners part it into equal
    sides: a motif is turned onto each, or the motifs are mitred there.
    """

    length_mm: LongLength
    gap_mm: Gap = 10.0
    closed: StrictBool = False
    fill: StrictBool = True
    start: Literal["middle", "end"] = "middle"
    corners: Annotated[int, Field(ge=0, le=8), *_COUNT] = 0
    corner: Literal["turned", "mitred"] = "turned"


class Blocks(_Part):
    """A design in the middle of each block of a quilt or a large cloth, in rows × columns. [mm]

    Without a size a block is as large as its place. They are sewn from the middle outwards, so that
    the cloth is smoothed before the needle, or row by row.
    """

    columns: Grid
    rows: Grid
    order: Literal["middle-out", "rows"] = "middle-out"
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None


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


StepDo = Literal[
    "lay",
    "tack",
    "trim",
    "turn",
    "tape",
    "insert",
    "open",
    "press",
    "punch",
    "cut-out",
    "turn-out",
    "stuff",
    "close",
    "tie",
]
AT_STOP: tuple[StepDo, ...] = ("lay", "tack", "trim", "turn", "tape", "insert", "open")
"""Done while the machine stands."""

AFTER_SEWING: tuple[StepDo, ...] = ("turn-out", "stuff", "close", "tie")
"""Done out of the hoop; pressing, punching and cutting out are done at a stop or then."""


class Step(_Part):
    """What hands do: at a stop of the machine (after a colour block, or at a stop in the file).

    lay (a patch, on top or underneath), tack (it, by hand), trim (along an outline), turn (the
    hoop, and tape), tape, insert (hardware), open (a zip, to turn through);
    press, punch, cut-out there or, without a stop, after sewing; turn-out, stuff, close, tie
    after sewing.

    `of_block` is the block whose outline a patch or a cut follows; `outline_mm` how long that is,
    or the seam that is closed. A patch whose size is not said is as large as that block, or as all
    of its hooping, with a margin. It may have a `web` fused under it, keep the `grain` (it is
    never turned on the roll) and be `precut` to its shape, so that nothing is trimmed; its `edge`
    is sewn over, or left raw. What is cut out is cut `straight` or along its shape.
    """

    do: StepDo
    after_block: Annotated[int, Field(ge=0, le=200), *_COUNT] | None = None
    at_stop: Annotated[int, Field(ge=1, le=1000), *_COUNT] | None = None
    side: Literal["top", "under"] = "top"
    sheet: ShortText | None = None
    width_mm: Millimetres | None = None
    height_mm: Millimetres | None = None
    of_block: Annotated[int, Field(ge=1, le=200), *_COUNT] | None = None
    outline_mm: LongLength | None = None
    web: ShortText | None = None
    grain: StrictBool = False
    precut: StrictBool = False
    edge: Literal["satin", "raw"] | None = None
    straight: StrictBool = False
    hardware: ShortText | None = None
    count: Annotated[int, Field(ge=1, le=200), *_COUNT] = 1
    per: Literal["piece", "hooping"] | None = None

    @property
    def after_sewing(self) -> bool:
        """Whether it is done out of the hoop."""
        return self.after_block is None and self.at_stop is None


class Hardware(_Part):
    """Snaps, rings, ribbon … fixed to each piece after sewing; `length_mm` of what has length."""

    item: ShortText
    count: Annotated[int, Field(ge=1, le=200), *_COUNT] = 1
    length_mm: Millimetres | None = None


class Seam(_Part):
    """A seam that is opened before sewing and closed after, on a side of the place.

    A `lining` is loosened and closed with it.
    """

    length_mm: Millimetres
    felled: StrictBool = False
    lining: StrictBool = False
    side: Literal["left", "right", "above", "below"] = "left"


class Placement(_Part):
    """A design in its place on the piece; they are sewn in the order that they are listed.

    One that `shares` is sewn in the hooping of the place before, beside its design. One sewn
    `as_patch` is sewn flat on cloth of its own, cut out and fixed there afterwards.
    """

    id: Id = ""
    position: ShortText | None = None
    place: Place = Place()
    design: Design
    band: Band | None = None
    blocks: Blocks | None = None
    together: Together | None = None
    split: Split | None = None
    steps: tuple[Step, ...] = Field(default=(), max_length=200)
    seam: Seam | None = None
    room: PlaceRoom | None = None
    shares: StrictBool = False
    as_patch: StrictBool = False
    methods: Methods = Methods()
    _hooping_mm: tuple[float, float] | None = PrivateAttr(default=None)

    @property
    def hooping_mm(self) -> tuple[float, float] | None:
        """Of what is sewn in its hooping with those that share it, once they lie; else None."""
        return self._hooping_mm

    def hooped_with(self, size_mm: tuple[float, float]) -> Placement:
        """The same, in a hooping as large as all that share it. [mm]"""
        found = self.model_copy()
        found._hooping_mm = size_mm
        return found


class Sample(_Part):
    """Pieces sewn before the run, and whether they are washed; the run waits until they passed."""

    pieces: Annotated[int, Field(ge=0, le=20), *_COUNT] = 1
    wash: StrictBool = False
    passed: StrictBool = False


class Agreed(_Part):
    """A price agreed with the customer, held until a day (both ISO, "" for no end)."""

    unit_price: Money
    until: IsoDay = ""


class Kit(_Part):
    """Lines that are sold together at one price: so many kits, each with its share of them."""

    name: Annotated[Text, Field(min_length=1, max_length=200)]
    quantity: Quantity
    lines: tuple[Id, ...] = Field(min_length=1, max_length=50)


class Overruled(_Part):
    """Advice that is gone against, and why.

    `line` is the line's id; `where` the id of the placement the advice is about, or the part of
    the line it names ("price", "goods"), "" for any.
    """

    code: ShortText
    where: ShortText = ""
    line: Id = ""
    reason: Annotated[Text, Field(min_length=1, max_length=500)]


class Line(_Part):
    """Pieces that are alike."""

    id: Id = ""
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

    @model_validator(mode="before")
    @classmethod
    def _counted(cls, raw: Any) -> Any:
        """Unsaid, the quantity is that of the cells."""
        if not isinstance(raw, Mapping) or raw.get("quantity") is not None or not raw.get("cells"):
            return raw
        return {**raw, "quantity": _pieces_of(raw["cells"])}


def _pieces_of(cells: Any) -> int:
    """Add up the cells; 1 where they cannot be read, which is told of them."""
    try:
        return sum(read_count(cell["quantity"]) for cell in cells) or 1
    except (KeyError, TypeError, ValueError):
        return 1


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
    enquiry: Literal["proof", "counter"] = "proof"
    """How the customer comes to it: with a proof to approve, or across the counter."""
    rush_days: Annotated[int, Field(ge=0, le=365), *_COUNT] | None = None
    delivery: Money = Decimal("0.00")
    kits: tuple[Kit, ...] = Field(default=(), max_length=50)
    overruled: tuple[Overruled, ...] = Field(default=(), max_length=200)
    house: dict[str, Any] | None = None
    _typed: tuple[Typed, ...] = PrivateAttr(default=())

    @property
    def typed(self) -> tuple[Typed, ...]:
        """What was typed otherwise than as plain digits, and how it was read."""
        return self._typed

    @model_validator(mode="wrap")
    @classmethod
    def _with_reading(cls, raw: Any, read: ModelWrapValidatorHandler[Self]) -> Self:
        job = read(raw)
        if not isinstance(raw, Job):
            job._typed = how_read(raw, job)
        return job

    @model_validator(mode="before")
    @classmethod
    def _of_any_release(cls, raw: Any) -> Any:
        return upgraded(raw)


NAME_MARK = "{name}"
"""Stands in a design's words for each piece's own name."""
