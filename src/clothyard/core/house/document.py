"""The House: everything a shop has and holds to, as one frozen document."""

from __future__ import annotations

from decimal import Decimal
from functools import cached_property, partial
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field

from clothyard.core.house.price_steps import PriceSteps, SizeSums
from clothyard.core.house.week_text import READERS
from clothyard.core.units import Factor, Money, Rate, Share, exact, read_decimal


def _number(value: Any) -> float:
    return float(read_decimal(value))


def _count(value: Any) -> int:
    number = read_decimal(value)
    if number != number.to_integral_value():
        raise ValueError("must be a whole number")
    return int(number)


Num = Annotated[float, BeforeValidator(_number)]
Count = Annotated[int, BeforeValidator(_count)]
HoldKind = Literal["hoop", "float"]
Marking = Literal["pen", "crease", "tape", "template", "chalk", "jig"]
HoopKind = Literal["screw", "magnetic", "clamp", "cap", "border"]
BobbinColour = Literal["white", "black", "match", "nearest"]
FINE_BOBBINS = frozenset(("white", "black", "nearest"))
"""Fine bobbins, bought or wound in a colour; matching ones are wound of the needle thread."""
BobbinPolicy = Literal["between-pieces", "run-out"]
BobbinRule = Literal["cheaper", "between-pieces", "run-out"]
PriceMethod = Literal["margin", "stitch-rate", "hour-rate"]
TierMode = Literal["smooth", "stepped"]


COLOUR = r"^#[0-9a-f]{6}$"


def _read_as(unit: str, text: str) -> str:
    READERS[unit][0](text)
    return text


DayHours = Annotated[str, AfterValidator(partial(_read_as, "day hours"))]
Dates = Annotated[str, AfterValidator(partial(_read_as, "dates"))]
OwnHours = Annotated[str, AfterValidator(partial(_read_as, "own hours"))]
Weekdays = Annotated[str, AfterValidator(partial(_read_as, "weekdays"))]


OWN_DRAWING = "-"
"""Stands in a goods class that has a drawing of its own."""


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class ShopCard(_Part):
    """Who the shop is, on what it sends."""

    name: str
    public_address: str
    address: str
    units: Literal["metric", "imperial"]
    locale: str = "en-GB"


class GoodsClass(_Part):
    """What the shop knows of a class of goods."""

    label: str
    thickness_mm: Num
    stretch: Count
    pile: Count
    deep: bool
    back_seen: Literal["no", "partly", "yes"]
    hold: HoldKind
    frame: Literal["any", "clamp", "magnetic", "cap"]
    hooping: Literal["plain", "tight-tube", "awkward-toy"]
    cap_spm: Num
    standby: Num
    spoil: Num
    backing: str
    layers: Count
    topping: str
    soft_cover: bool
    skin: bool
    washable: bool
    needle: str
    bobbin: BobbinColour
    position: str
    opening_mm: Num
    opening_to_mm: Num
    crown_mm: Num
    special: bool
    family: str
    drawing: str
    press: Literal["press", "back", "steam", "none"]
    rinse: Literal["rinse", "dab", "wash"]
    pierce: bool
    marks: bool
    made: bool
    only_soluble: bool
    infant: bool
    loose: bool
    carries: Num
    flat_as: str
    marking: Marking
    piece_width_mm: Num
    piece_height_mm: Num
    weight_g: Num
    why: str

    @property
    def is_flat(self) -> bool:
        """Whether it is open cloth, bounded by its own edges only."""
        return self.piece_width_mm > 0 and self.piece_height_mm > 0

    @property
    def is_cap(self) -> bool:
        """Whether it has a crown, curved and of limited height."""
        return self.crown_mm > 0

    @property
    def bears_fusing(self) -> bool:
        """Whether anything may be ironed on: not where both sides are seen or pile melts flat."""
        return self.back_seen != "yes" and self.pile < 2 and self.press in ("press", "back")


class Backing(_Part):
    """A kind of backing."""

    label: str
    thickness_mm: Num
    removal: Literal["tear", "trim", "rinse"]
    frame: Literal["any", "cap"]
    fused: bool
    sticky: bool
    wet: bool
    stays: bool
    twice: bool
    firmer: str
    dense_one: Num
    dense_more: Num


class Topping(_Part):
    """A kind of topping."""

    label: str
    thickness_mm: Num
    soluble: bool


class Roll(_Part):
    """A roll of backing or topping as bought."""

    material: str
    width_mm: Num
    length_m: Num
    price: Money
    perforation_mm: Num


class ThreadKind(_Part):
    """A kind of needle thread."""

    label: str
    tex: Num
    break_rate: Num
    cap_spm: Num
    price_factor: Factor
    careful_spm: Num
    needle: str


class PutUp(_Part):
    """A spool or cone as bought."""

    label: str
    length_m: Num
    price: Money
    tare_g: Num = 0


class BobbinKind(_Part):
    """A bobbin and how it is filled."""

    label: str
    capacity_m: Num
    prewound: bool
    price: Money


ANY = "any"


class Hoop(_Part):
    """A hoop: what the machine may sew in it, its opening, its outside. [mm]"""

    label: str
    kind: HoopKind
    field_width_mm: Num
    field_height_mm: Num
    opening_width_mm: Num
    opening_height_mm: Num
    outer_width_mm: Num
    outer_height_mm: Num
    clearance_mm: Num
    takes_mm: Num
    count: Count
    turns: bool
    owned: bool = True
    machine: str = ANY
    """The one machine that it goes on, or "any"."""


class Machine(_Part):
    """A machine."""

    label: str
    order: Count
    heads: Count
    needles: Count
    set_spm: Num
    auto_change: bool
    auto_trim: bool
    cap_frame: bool
    arm: bool
    turns_caps: bool
    bobbin: str
    rate_per_h: Money
    owned: bool = True
    out: Dates = "-"
    time_factor: Num = 1.0
    address: str = "-"


class ShelfThread(_Part):
    """A thread that lies on the shelf, by its colour."""

    label: str
    colour: Annotated[str, Field(pattern=COLOUR)]
    thread: str
    owned: bool = True


class Needle(_Part):
    """A needle, and when it is proposed."""

    label: str
    fine: bool
    point: Literal["sharp", "ballpoint"]
    large_eye: bool
    why: str


class Position(_Part):
    """A usual place for a design, and how it is measured."""

    label: str
    reference: str
    direction: Literal["below", "above", "in along"]
    anchor: Literal["centre", "top", "bottom"]
    gap_mm: Num
    share: Num
    side_mm: Num
    side_reference: str
    side: Literal["centre", "wearer's left", "wearer's right"]
    corner_deg: Num
    tilt_deg: Num
    max_width_mm: Num
    seam: bool

    @property
    def on_back(self) -> bool:
        """Whether it is on the back of the piece, as it is called and measured."""
        words = f"{self.label} {self.reference} {self.side_reference}".lower()
        return "back" in words.split()


class PlaceSize(_Part):
    """A position's measures for some sizes."""

    position: str
    label: str
    sizes: str
    gap_mm: Num
    side_mm: Num


class Room(_Part):
    """Room at a place of some classes of goods, of the middle size. [mm]"""

    label: str
    goods: str
    position: str
    width_mm: Num
    height_mm: Num
    tube_mm: Num
    custom: bool
    as_piece: bool
    if_it_has: bool
    lies: str


class RoomSize(_Part):
    """Room of some sizes against that of the middle one."""

    label: str
    sizes: str
    share: Num


class SheetGoods(_Part):
    """A material for appliqué and work made in the hoop."""

    label: str
    frays: bool = False


class Sheet(_Part):
    """A cut sheet as bought."""

    material: str
    width_mm: Num
    height_mm: Num
    price: Money


class HardwareKind(_Part):
    """Snaps, rings, ribbon: what is fixed to a piece."""

    label: str
    unit: Literal["each", "m"]
    price: Money
    seconds: Num


class Supplier(_Part):
    """Who is bought from, and what kinds of things beside blanks."""

    label: str
    delivery: Money
    free_from: Money
    days: Count
    sells: str = "-"
    works: Weekdays = "mon tue wed thu fri"
    closed: Dates = "-"
    express_days: Count = 0
    express: Money = Decimal(0)


class Blank(_Part):
    """A blank that the shop buys: of which class, from whom, and what it costs."""

    label: str
    goods: str
    supplier: str
    prices: PriceSteps
    dearer: SizeSums
    pack: Count
    sizes: str
    colours: str


class Kind(_Part):
    """What stitches mostly are, for a count alone."""

    label: str
    mean_stitch_mm: Num
    satin_share: Num
    fill_share: Num


class SpeedPoint(_Part):
    """One point of the line from stitch length to speed."""

    length_mm: Num
    spm: Num


class Task(_Part):
    """A hand task: seconds for the first piece, and what of the sewn box makes it longer."""

    label: str
    seconds: Num
    round_mm: Num = 0
    area_cm2: Num = 0
    deep_cm2: Num = 0
    per: str
    practised: bool
    before: bool

    def seconds_of(self, size_mm: tuple[float, float], *, deep: bool = False) -> float:
        """Return its seconds for a box of so much. [s]

        Parameters
        ----------
        size_mm : (float, float)
            What is sewn, of a backing the cut piece. [mm]
        deep : bool
            On deep pile.

        Source
        ------
        docs/formulas.md 8.
        """
        width, height = size_mm
        found = self.seconds
        if self.round_mm:
            found += 2 * (width + height) / self.round_mm
        slower = self.deep_cm2 if deep and self.deep_cm2 else self.area_cm2
        if slower:
            found += width * height / 100 / slower
        return found


class Proposals(_Part):
    """What is proposed first, and what mends what would not do."""

    thread: str
    firm_backing: str
    rinsed_backing: str
    pile_topping: str


class ThreadUse(_Part):
    """What an estimate adds to the bare sums."""

    wrap_needle_mm: Num
    wrap_bobbin_mm: Num
    trim_needle_mm: Num
    trim_bobbin_mm: Num
    block_needle_mm: Num
    block_bobbin_mm: Num
    hand_change_mm: Num
    factor_needle: Num
    factor_bobbin: Num
    charge: Literal["used", "bought"]


class KnockDown(_Part):
    """The knock-down base under a design on pile."""

    margin_mm: Num
    stitches_per_mm2: Num


class Patches(_Part):
    """A design sewn as a patch: its border, and the film that it is pressed on with."""

    border_mm: Num = 3.5
    margin_mm: Num = 3.0
    spacing_mm: Num = 0.4
    underlay_mm: Num = 2.5
    film_per_m2: Money = Decimal("8.00")


class Words(_Part):
    """How words are lettered."""

    height_mm: Num
    stroke_share: Num
    stroke_least_mm: Num
    stroke_most_mm: Num
    split_mm: Num
    spacing_mm: Num
    underlay_mm: Num
    lock_stitches: Count
    lock_mm: Num
    trim_over_mm: Num
    line_pitch: Num
    band: Num
    name_letters: Count


class Basting(_Part):
    """The basting rectangle round floated goods."""

    margin_mm: Num
    stitch_mm: Num
    spm: Num = 400


class BobbinPlan(_Part):
    """When bobbins are changed, and how long it takes."""

    policy: BobbinRule
    shelf_m: Num
    fill: Num
    change_between_s: Num
    change_within_s: Num
    extra_head_s: Num


class Cutting(_Part):
    """How large backing and topping are cut."""

    backing_margin_mm: Num
    topping_margin_mm: Num
    cap_width_mm: Num
    cap_length_mm: Num
    offcut_least_mm: Num
    no_hoop_margin_mm: Num
    layer_margin_mm: Num = 15


class Speed(_Part):
    """Speeds that geometry sets."""

    jump_spm: Num
    narrow_satin_spm: Num
    small_letter_mm: Num
    counted_letter_mm: Num


class Events(_Part):
    """Seconds of machine and operator events."""

    load_machine_s: Num
    load_operator_s: Num
    load_head_s: Num
    baste_s: Num = 15
    joint_machine_s: Num
    joint_operator_s: Num
    change_auto_s: Num
    change_hand_s: Num
    trim_auto_s: Num
    stop_s: Num
    name_file_s: Num
    template_s: Num = 70
    break_s: Num
    cap_break_factor: Num

    @property
    def lead_s(self) -> float:
        """Of a loading, what passes before the machine starts. [s]

        Source: docs/formulas.md 9 and 14.
        """
        return max(0.0, self.load_operator_s - self.load_machine_s)


class Heavy(_Part):
    """From what weight a piece is borne while it is sewn, and by how much of the time."""

    from_g: Num
    standby_per_kg: Num


class Sure(_Part):
    """How far each factor of an estimate may be off: the spread of its logarithm."""

    stitches_file: Num
    stitches_count: Num
    stitches_words: Num
    needle: Num
    needle_guessed: Num
    bobbin: Num
    bobbin_guessed: Num
    sewing: Num
    sewing_guessed: Num
    loading: Num
    standby: Num = 0.35
    hooping: Num
    finishing: Num
    order: Num
    breaks: Num
    note_from: Num
    warn_from: Num


class Practice(_Part):
    """How a run gets quicker."""

    doubling: Num
    least: Num


class SampleRule(_Part):
    """When a sample is sewn."""

    from_quantity: Count
    pieces: Count


class Spoilage(_Part):
    """What is spoiled, and how sure the spares must be."""

    further_hooping: Num
    small_letters: Num
    small_letter_mm: Num
    personalised: Num
    repair_share: Num
    most: Num
    confidence: Num


class Rates(_Part):
    """Hourly rates."""

    labour_per_h: Money
    overhead_per_h: Money


class Consumables(_Part):
    """Small things counted by the piece."""

    packing: Money
    soft_cover: Money
    adhesive: Money


class Digitising(_Part):
    """What making a stitch file takes."""

    check_s: Num
    own_s: Num
    own_per_1000_s: Num
    supplier_per_1000: Money
    supplier_least: Money


class Price(_Part):
    """How prices are made."""

    currency: str
    method: PriceMethod
    ending: Literal["none", "0.95", "0.99"]
    floor: Literal["full", "variable", "sure"]
    discount_most: Share
    minimum_order: Money
    set_up_shown: Literal["spread", "line"]
    digitising_shown: Literal["line", "spread"]
    names_way: Literal["mean", "letters"]
    margin: Share
    round_to: Money
    tiers: tuple[Annotated[Count, Field(ge=1, le=100_000)], ...] = Field(
        min_length=1, max_length=30
    )
    tier_mode: TierMode
    fee_share: Share
    fee_on_tax: bool
    fee_fixed: Money
    name: Money
    name_letters: Count
    name_letter: Money
    goods_mark_up: Factor
    stitch_rate_least: Money
    machine_charge_per_h: Money
    hand_charge_per_h: Money
    crosscheck: Num


class Terms(_Part):
    """What a quote promises."""

    valid_days: Count
    tax_rate: Rate
    prices_include_tax: bool
    deposit: Annotated[Decimal, BeforeValidator(read_decimal)]


class Seams(_Part):
    """How seams are opened and closed, and how far sewing stays from one."""

    felled_factor: Num
    near_mm: Num


class Hands(_Part):
    """How long the shop's own hands take against the standards, by group of tasks."""

    loading: Num = 1.0
    hooping: Num = 1.0
    finishing: Num = 1.0
    order: Num = 1.0


class RunRules(_Part):
    """How a batch is run."""

    finishing: Literal["batch", "piece"]
    operators: Count
    labour: Literal["busy", "elapsed"] = "busy"
    dry_s: Num = 14_400
    look_s: Num = 600
    goods_days: Count = 2


class Papers(_Part):
    """How the papers of the workshop are set, and what files are called on the machine. [mm]"""

    size: Literal["a4", "letter"]
    file_pattern: str
    file_letters: Annotated[Count, Field(ge=4, le=40)]
    file_case: Literal["upper", "lower", "as-typed"]
    label_width_mm: Num
    label_height_mm: Num
    label_columns: Annotated[Count, Field(ge=1, le=12)]
    label_rows: Annotated[Count, Field(ge=1, le=40)]
    label_left_mm: Num
    label_top_mm: Num
    label_gap_mm: Num


class Person(_Part):
    """Somebody who works in the shop: their week, days off, days with other hours."""

    label: str
    mon: DayHours
    tue: DayHours
    wed: DayHours
    thu: DayHours
    fri: DayHours
    sat: DayHours
    sun: DayHours
    off: Dates = "-"
    also: OwnHours = "-"


class Week(_Part):
    """On which days nobody works, and on which the carrier does."""

    closed: Dates
    collect_h: Annotated[float, Field(ge=0, le=12)] = 1.0
    carrier_days: Count = 0
    carrier_works: Weekdays = "mon tue wed thu fri"
    carrier_closed: Dates = "-"


class Buying(_Part):
    """Where orders to suppliers go."""

    supplier_address: str


class Devices(_Part):
    """What stands beside the machines and can be asked."""

    scale_address: str = "-"


class Cancel(_Part):
    """What is charged of an order that is cancelled."""

    charge: Literal["price", "cost", "nothing"] = "price"


class Rush(_Part):
    """A surcharge for work wanted within some days."""

    days: Count
    share: Annotated[Decimal, BeforeValidator(read_decimal)]


class School(_Part):
    """Another way that good people take: for which goods, what it changes, and why."""

    question: str
    why: str
    goods: str
    stretch_from: Count
    pile_from: Count
    back_seen: Literal["any", "no", "partly", "yes"]
    hold: Literal["any", "hoop", "float"]
    backing: str
    layers: Count
    second: str
    second_layers: Count
    topping: str
    holds: str
    knock_down: str
    bobbin: str


class StitchRate(_Part):
    """A thousand stitches from a quantity on."""

    quantity: Count
    rate: Money


class House(_Part):
    """The whole of a shop's standards (clothyard-house/1)."""

    @cached_property
    def places(self) -> dict[str, dict[str, Room]]:
        """Each class's places with their rooms, in the order of the standards."""
        found: dict[str, dict[str, Room]] = {}
        for room in self.rooms.values():
            for class_id in room.goods.split():
                found.setdefault(class_id, {})[room.position] = room
        return found

    def thread_price_per_m(self, thread_id: str) -> Decimal:
        """Price a metre of a kind of thread from the shop's largest put-up. [money/m, not rounded]

        Source: docs/formulas.md 14: without a shelf every colour counts as on it in cones.
        """
        return self._thread_prices[thread_id]

    @cached_property
    def _thread_prices(self) -> dict[str, Decimal]:
        largest = max(self.putups.values(), key=lambda putup: putup.length_m)
        long = exact(largest.length_m)
        return {id_: largest.price * t.price_factor / long for id_, t in self.threads.items()}

    @cached_property
    def stocked(self) -> frozenset[str]:
        """The materials that the shop has a roll of."""
        return frozenset(roll.material for roll in self.rolls.values())

    def material_label(self, material: str) -> str:
        """Call a material of the rolls or sheets as the shop does; by its id if it is unknown."""
        for rows in (self.backings, self.toppings, self.sheet_goods):
            if material in rows:
                return str(getattr(rows[material], "label", material))
        return material

    format: Literal["clothyard-house/1"]
    shop: ShopCard
    goods: dict[str, GoodsClass]
    backings: dict[str, Backing]
    toppings: dict[str, Topping]
    rolls: dict[str, Roll]
    hoops: dict[str, Hoop]
    machines: dict[str, Machine]
    threads: dict[str, ThreadKind]
    thread_shelf: dict[str, ShelfThread]
    putups: dict[str, PutUp]
    bobbins: dict[str, BobbinKind]
    needles: dict[str, Needle]
    positions: dict[str, Position]
    place_sizes: dict[str, PlaceSize]
    rooms: dict[str, Room]
    room_sizes: dict[str, RoomSize]
    sheet_goods: dict[str, SheetGoods]
    sheets: dict[str, Sheet]
    hardware: dict[str, HardwareKind]
    suppliers: dict[str, Supplier]
    blanks: dict[str, Blank]
    kinds: dict[str, Kind]
    speed_profile: dict[str, SpeedPoint]
    tasks: dict[str, Task]
    stitch_rates: dict[str, StitchRate]
    rush: dict[str, Rush]
    people: dict[str, Person]
    schools: dict[str, School]
    proposals: Proposals
    thread_use: ThreadUse
    knock_down: KnockDown
    patches: Patches = Patches()
    words: Words
    basting: Basting
    bobbin_plan: BobbinPlan
    cutting: Cutting
    speed: Speed
    events: Events
    practice: Practice
    heavy: Heavy
    hands: Hands = Hands()
    sure: Sure
    sample: SampleRule
    spoilage: Spoilage
    rates: Rates
    consumables: Consumables
    digitising: Digitising
    price: Price
    terms: Terms
    seams: Seams
    run: RunRules
    papers: Papers
    buying: Buying
    devices: Devices = Devices()
    cancel: Cancel = Cancel()
    week: Week
    on_hand: dict[str, Num] = {}
    """Metres of thread that lie free on the shelf, by "kind|colour", where the shop charges what
    must be bought: not a standard, but what the ledger says when a price is made."""
    learnt: dict[str, str] = {}
    """What the log has taught, by the standard's key: in words, of how many jobs."""
