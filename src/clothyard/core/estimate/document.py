"""The Estimate: everything that is computed of a job, as one document (clothyard-estimate/1)."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, model_validator

from clothyard.core.advice.document import Advice
from clothyard.core.estimate.upgrade import upgraded
from clothyard.core.units import MoneyOut
from clothyard.core.working import Working

MaterialKind = Literal[
    "needle-thread",
    "bobbin-thread",
    "backing",
    "topping",
    "goods",
    "sheet",
    "hardware",
    "consumable",
]


Pair = list[float]
"""Two lengths: across and along, or x and y. [mm]"""


class _Part(BaseModel):
    # keys that came after a release have defaults: what was sent then is still read
    model_config = ConfigDict(
        frozen=True, extra="forbid", json_schema_serialization_defaults_required=True
    )


class PerPiece(_Part):
    """One good piece at this quantity; metres and minutes."""

    stitches: int
    needle_m: float
    bobbin_m: float
    machine_min: float
    attend_min: float
    hand_min: float


class DesignBlock(_Part):
    """A colour block of a placement's design: thread of one piece, as estimated."""

    colour: str | None
    colour_name: str
    stitches: int
    needle_m: float
    bobbin_m: float


class PlacedDesign(_Part):
    """A placement's design as it is sewn; `band` is the share an estimate may be off by."""

    name: str
    width_mm: float
    height_mm: float
    size_text: str = ""
    band: float
    hoop_turned: bool
    trims: int
    jumps: int
    stops: int
    blocks: list[DesignBlock]


class CentreMark(_Part):
    """Where the design's centre goes, for some sizes; x to the viewer's right, y down. [mm]"""

    sizes: str
    gap_mm: float | None = None
    from_reference_mm: float | None
    side_mm: float
    x_mm: float
    y_mm: float
    words: str


class NearestRim(_Part):
    """The sides of the hoop's opening that the sewn area comes nearest to. [mm]"""

    sides: str
    left_mm: float


class HoopTried(_Part):
    """A hoop and whether it does: what is left beyond its clearance, or by how much it misses."""

    id: str
    fits: bool
    turned: bool
    left_mm: float
    miss_mm: float
    refusal: str
    hoopings: int


class Hooping(_Part):
    """What one hooping holds, and how many the line takes. [mm]"""

    kind: Literal["single", "band", "blocks", "together", "split"]
    copies: int
    per_piece: int
    pieces: int
    columns: int
    rows: int
    gap_mm: float
    sewn_mm: Pair
    total: int


class RoomThere(_Part):
    """The room at a place, of the smallest size ordered; `width_mm` is null where it runs along.

    `tube_mm` is what a hoop's outside may measure across, 0 where it is open; `custom` is a room
    that looks or wears best, else cloth ends there; `over` tells that the design is larger. [mm]
    """

    label: str
    width_mm: float | None
    height_mm: float
    tube_mm: float
    custom: bool
    over: bool
    text: str


class BandDrawn(_Part):
    """A band, straightened out: its motifs' starts and hoopings (from 0), its corners. [mm]

    `left_mm` is over on each side, where it is not filled.
    """

    length_mm: float
    motif_mm: float
    starts_mm: list[float]
    hoopings: list[int]
    corners_mm: list[float]
    left_mm: float
    joints: int


class StepDone(_Part):
    """What hands do between the blocks or after sewing, in the order of the work.

    `step` is its place in the job's list; `at` the blocks sewn by then, a half inside of one, None
    after sewing. `seconds` of a piece or a hooping, `piece_s` of a piece; `count` patches of
    `piece_mm` for the line, or `amount` of its hardware for a piece.
    """

    step: int
    at: float | None
    when: str
    label: str
    per: Literal["piece", "hooping"]
    seconds: float
    piece_s: float
    piece_mm: Pair | None
    count: int
    amount: float
    unit: str


class WayIn(_Part):
    """How a piece goes in: turned so far with its design, with the clock; where opening and bulk
    lie then, seen from the machine's front: head is at the machine, foot toward you."""

    turned: int
    opening: Literal["head", "right", "foot", "left"] | None
    bulk: Literal["head", "right", "foot", "left"] | None
    arm: bool
    words: str


class WherePlaced(_Part):
    """A placement on the piece and in the hoop: numbers, words and geometry. [mm, degrees]

    `per_gap` and `per_side` say how a mark moves for a millimetre more of each measure.
    """

    id: str = ""
    position: str
    label: str
    marks: list[CentreMark]
    per_gap: Pair = [0.0, 1.0]
    per_side: Pair = [1.0, 0.0]
    corners_mm: list[Pair]
    turn: int
    tilt_deg: float
    mirror: bool
    hoop_way: int
    way: WayIn | None = None
    nearest_rim: NearestRim | None
    hooping: Hooping
    room: RoomThere | None = None
    hoops: list[HoopTried]
    steps: list[StepDone] = []
    band: BandDrawn | None = None
    block_order: list[list[int]] = []
    """Column and row of each block, from 0, as they are sewn."""

    stop_at: list[float] = []
    """When each stop of the file comes, as of `StepDone.at`."""


class OffcutKept(_Part):
    """A left piece worth keeping, where it lies on what was used. [mm]"""

    x_mm: float
    y_mm: float
    width_mm: float
    length_mm: float


class CutPlan(_Part):
    """How equal pieces are cut, for the price and for the list. [mm]

    Piece i lies in row ⌊i ÷ across⌋, at column × piece width and row × step; on sheets, or when a
    roll ends, after `rows_each` rows on the next one.
    """

    placement: int
    what: Literal["backing", "topping", "sheet"]
    material: str
    stock: str
    on_sheets: bool
    fits: bool
    turned: bool
    piece_mm: Pair
    count: int
    across: int
    rows: int
    rows_each: int
    step_mm: float
    width_mm: float
    length_mm: float
    to_open: int
    waste: str
    cost: MoneyOut
    list_count: int
    list_length_mm: float
    list_to_open: int
    offcuts: list[OffcutKept]


class PutUpBought(_Part):
    """A put-up and how many."""

    id: str
    label: str
    count: int


class OrderThread(_Part):
    """One thread over the order: metres used, what to open or buy, as used and as bought."""

    thread: str
    colour: str | None
    colour_name: str
    needle_m: float
    bobbin_m: float
    needed_m: float
    grams: float
    put_ups: list[PutUpBought]
    used_cost: MoneyOut
    bought_cost: MoneyOut


class Other(_Part):
    """Another value of a method, and what choosing it would change for the line."""

    value: str
    reason: str
    cost_difference: MoneyOut | None
    minutes_difference: float | None


class Method(_Part):
    """A settled method."""

    placement: int
    key: str
    value: str
    source: Literal["proposed", "chosen"]
    reason: str
    others: list[Other]


class Material(_Part):
    """A material of the line."""

    kind: MaterialKind
    item: str
    quantity: float
    unit: Literal["m", "mm", "each"]
    cost: MoneyOut


class BobbinEnd(_Part):
    """Where a bobbin ends, from 1."""

    piece: int
    block: int


class BobbinColourPlan(_Part):
    """The bobbins of one thread."""

    colour: str
    capacity_m: float
    pieces_per_bobbin: int
    count: int


class Bobbins(_Part):
    """The bobbins of a line; what is left on them goes to the shelf, or is waste and charged."""

    policy: str
    capacity_m: float
    pieces_per_bobbin: int
    count: int
    shelf_m: float = 0.0
    waste_m: float = 0.0
    ends: list[BobbinEnd]
    by_colour: list[BobbinColourPlan]


class Cost(_Part):
    """A line's cost, part by part; the total is their sum."""

    goods: MoneyOut
    needle_thread: MoneyOut
    bobbin_thread: MoneyOut
    backing: MoneyOut
    topping: MoneyOut
    consumables: MoneyOut
    sheet_goods: MoneyOut
    machine: MoneyOut
    labour: MoneyOut
    set_up: MoneyOut
    overhead: MoneyOut
    packing: MoneyOut
    spoilage: MoneyOut
    total: MoneyOut


class PieceCost(_Part):
    """What a piece costs, part by part, unrounded but for four places."""

    goods: str
    needle_thread: str
    bobbin_thread: str
    backing: str
    topping: str
    consumables: str
    sheet_goods: str
    machine: str
    labour: str
    set_up: str
    overhead: str
    packing: str
    spoilage: str
    total: str


class CrossChecks(_Part):
    """The three ways of pricing, a piece, each to the minor unit."""

    margin: MoneyOut
    stitch_rate: MoneyOut
    hour_rate: MoneyOut


class LinePrice(_Part):
    """A line's price, as the customer reads it; `net` is without tax where it is in the price."""

    method: Literal["margin", "stitch-rate", "hour-rate", "typed", "agreed"]
    unit: MoneyOut
    line: MoneyOut
    margin: str
    net: MoneyOut = "0.00"
    floor: MoneyOut = "0.00"
    safe_discount: str = "0.0000"
    cross_checks: CrossChecks


class Tier(_Part):
    """The price at a quantity."""

    quantity: int
    unit: MoneyOut
    line: MoneyOut
    unit_cost: str
    margin: str
    set_up: str = "0.0000"


class Minute(_Part):
    """One stretch of a piece's work, in the order it is done; seconds, the mean of the run.

    hand: the machine does not need it; sew: the needle runs; machine: it runs or waits without
    sewing. `attend_s` is how long of it somebody must stand there.
    """

    placement: int | None
    kind: Literal["hand", "sew", "machine"]
    label: str
    seconds: float
    attend_s: float


class NextStep(_Part):
    """The next tier: how many more, what each then costs, and what it saves each."""

    quantity: int
    more: int
    unit: MoneyOut
    saves_each: MoneyOut


class NeedleUsed(_Part):
    """A needle and what is on it; more than one colour take turns, by hand."""

    placement: int
    needle: int
    colours: list[str]
    changes_at: list[int]
    changes: int


class SchoolOffered(_Part):
    """Another way that good people take, and what it would change."""

    placement: int
    id: str
    question: str
    why: str
    apply: list[dict[str, Any]]
    cost_difference: MoneyOut
    minutes_difference: float


class BreakEven(_Part):
    """Where two ways cost the same."""

    name: str
    one: str
    one_amount: MoneyOut
    other: str
    other_amount: MoneyOut
    at: str


class MachineTried(_Part):
    """The whole order on one machine: what it costs and how long it takes."""

    id: str
    label: str
    fits: bool
    chosen: bool
    cost: MoneyOut
    machine_min: float
    elapsed_min: float
    cheapest: bool
    soonest: bool


class Supplied(_Part):
    """How a line's blanks are bought.

    `each` is the mean price of one (4 places), which holds from `step` on, all lines of the same
    blank counted together; `next_step` and `next_each` are the supplier's next one; `delivery`
    is the line's share; `more` are bought than asked, since they cost less or packs hold them.
    """

    blank: str | None
    label: str
    supplier: str
    each: MoneyOut
    step: int
    next_step: int | None
    next_each: MoneyOut | None
    alike: int
    more: int
    pack: int
    delivery: MoneyOut
    days: int | None
    typed: bool


class ReadAs(_Part):
    """A number or length as it was typed, and how it was read; lengths in mm, shares of one."""

    where: str
    typed: str
    value: str
    unit: Literal["mm", ""]


class SureTerm(_Part):
    """What makes a cost uncertain: by how much, and what would narrow it."""

    name: str
    plus_minus: MoneyOut
    narrows: str


class Sure(_Part):
    """How sure a cost is: between `p10` and `p90` in 80 of 100 cases, under `p80` in 80. [money]

    `loss_chance` that it comes to more than its price; per piece from P10 to P90 minutes at the
    machine and of hands, metres of needle and bobbin thread; `terms` the largest three.
    """

    p10: MoneyOut
    p80: MoneyOut
    p90: MoneyOut
    loss_chance: str
    machine_min: list[float] = []
    hands_min: list[float] = []
    needle_m: list[float] = []
    bobbin_m: list[float] = []
    terms: list[SureTerm] = []


class EstimateLine(_Part):
    """A line of the estimate.

    One that is not `whole` tells what the order's overview shows; its places, methods, materials
    and all else that is looked at of the open line are left out. Of `clothyard estimate` and
    `POST /estimate` every line is whole.
    """

    id: str = ""
    whole: bool = True
    quantity: int
    cloth: str | None = None
    """What the goods' first colour looks like, "#rrggbb"; None where its name does not tell."""
    per_piece: PerPiece
    pieces: list[PerPiece] = []
    designs: list[PlacedDesign] = []
    places: list[WherePlaced] = []
    methods: list[Method] = []
    materials: list[Material] = []
    cuts: list[CutPlan] = []
    bobbins: Bobbins
    batch: list[str] = []
    """Ids of the lines that are sewn as one batch with this, its own too; bobbins and cuts are of
    all of them."""
    batch_quantity: int = 0
    scrap: str = ""
    """Which test cloth is near enough for its sample; "" without one."""

    spares: int
    goods_bought: int = 0
    supplied: Supplied | None = None
    tier_quantity: int = 0
    minutes: list[Minute] = []
    needles: list[NeedleUsed] = []
    schools: list[SchoolOffered] = []
    next_step: NextStep | None = None
    break_evens: list[BreakEven] = []
    cost: Cost
    piece_cost: PieceCost
    price: LinePrice
    sure: Sure | None = None
    tiers: list[Tier] = []
    advice: list[Advice]
    working: list[Working]


class Charge(_Part):
    """A charge of its own, once an order."""

    name: str
    amount: MoneyOut


class KitView(_Part):
    """Goods sold together at one price."""

    name: str
    quantity: int
    lines: list[str]
    unit: MoneyOut
    line: MoneyOut
    unit_cost: str


class Tax(_Part):
    """Tax at one rate, counted once on the net sum."""

    rate: str
    on: MoneyOut
    tax: MoneyOut


class Total(_Part):
    """The order in all.

    `cost` and `price` hold the charges; `lines` and `parts` are of all lines without them.
    """

    cost: MoneyOut
    sure: Sure | None = None
    lines: MoneyOut = "0.00"
    parts: Cost | None = None
    price: MoneyOut
    charges: list[Charge]
    kits: list[KitView] = []
    taxes: list[Tax] = []
    tax: MoneyOut
    to_pay: MoneyOut
    deposit: MoneyOut


class Run(_Part):
    """The run, in minutes."""

    elapsed_min: float | None
    machine_min: float
    operator_min: float
    basis: Literal["closed-form", "simulated"]


class Estimate(_Part):
    """What a job takes, costs and may be sold for."""

    format: Literal["clothyard-estimate/1"] = "clothyard-estimate/1"
    currency: str
    sendable: bool
    lines: list[EstimateLine]
    threads: list[OrderThread] = []
    machines: list[MachineTried] = []
    total: Total
    run: Run
    read: list[ReadAs] = []

    @model_validator(mode="before")
    @classmethod
    def _of_any_release(cls, raw: Any) -> Any:
        return upgraded(raw)


def estimate_bytes(estimate: Estimate) -> bytes:
    """Write an estimate as JSON, the same bytes wherever it is asked for."""
    return estimate.model_dump_json(indent=None).encode() + b"\n"
