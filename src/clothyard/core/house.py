"""The House: everything a shop has and holds to, as one frozen document."""

from __future__ import annotations

import json
import re
from collections.abc import Mapping
from decimal import Decimal
from functools import lru_cache
from typing import Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, ValidationError

from clothyard.core.checking import bad_input_from
from clothyard.core.errors import BadInput, SeveralBadInputs, unknown_id
from clothyard.core.price_steps import PriceSteps, SizeSums, read_sizes, read_steps
from clothyard.core.standards import Standard, all_standards, default_tree, table_columns
from clothyard.core.units import Factor, Money, Rate, Share, known_currencies, read_decimal


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
HoopKind = Literal["screw", "magnetic", "clamp", "cap", "border"]
BobbinColour = Literal["white", "black", "match"]
BobbinPolicy = Literal["between-pieces", "run-out"]
PriceMethod = Literal["margin", "stitch-rate", "hour-rate"]
TierMode = Literal["smooth", "stepped"]


COLOUR = r"^#[0-9a-f]{6}$"


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


class ShopCard(_Part):
    """Who the shop is, on what it sends."""

    name: str
    address: str
    units: Literal["metric", "imperial"]


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
    why: str


class Backing(_Part):
    """A kind of backing."""

    label: str
    thickness_mm: Num
    removal: Literal["tear", "trim", "rinse"]
    stays: bool
    dense_one: Num
    dense_more: Num


class Topping(_Part):
    """A kind of topping."""

    label: str
    thickness_mm: Num


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
    needle: str


class PutUp(_Part):
    """A spool or cone as bought."""

    label: str
    length_m: Num
    price: Money


class BobbinKind(_Part):
    """A bobbin and how it is filled."""

    label: str
    capacity_m: Num
    prewound: bool
    price: Money


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
    bobbin: str
    rate_per_h: Money


class ShelfThread(_Part):
    """A thread that lies on the shelf, by its colour."""

    label: str
    colour: Annotated[str, Field(pattern=COLOUR)]
    thread: str


class Needle(_Part):
    """A needle, and when it is proposed."""

    label: str
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
    max_width_mm: Num
    seam: bool


class PlaceSize(_Part):
    """A position's measures for some sizes."""

    position: str
    label: str
    sizes: str
    gap_mm: Num
    side_mm: Num


class SheetGoods(_Part):
    """A material for appliqué and work made in the hoop."""

    label: str


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
    """Who blanks are bought from."""

    label: str
    delivery: Money
    free_from: Money
    days: Count


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


class SpeedPoint(_Part):
    """One point of the line from stitch length to speed."""

    length_mm: Num
    spm: Num


class Task(_Part):
    """A hand task: seconds for the first piece."""

    label: str
    seconds: Num
    per: str
    practised: bool


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


class BobbinPlan(_Part):
    """When bobbins are changed, and how long it takes."""

    policy: BobbinPolicy
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


class Speed(_Part):
    """Speeds that geometry sets."""

    jump_spm: Num
    narrow_satin_spm: Num
    small_letter_mm: Num


class Events(_Part):
    """Seconds of machine and operator events."""

    load_machine_s: Num
    load_operator_s: Num
    change_auto_s: Num
    change_hand_s: Num
    trim_auto_s: Num
    stop_s: Num
    name_file_s: Num
    break_s: Num
    cap_break_factor: Num


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
    floor: Literal["full", "variable"]
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


class RunRules(_Part):
    """How a batch is run."""

    finishing: Literal["batch", "piece"]
    operators: Count


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
    schools: dict[str, School]
    thread_use: ThreadUse
    knock_down: KnockDown
    words: Words
    basting: Basting
    bobbin_plan: BobbinPlan
    cutting: Cutting
    speed: Speed
    events: Events
    practice: Practice
    sample: SampleRule
    spoilage: Spoilage
    rates: Rates
    consumables: Consumables
    digitising: Digitising
    price: Price
    terms: Terms
    seams: Seams
    run: RunRules


def merge_patch(target: Any, patch: Any) -> Any:
    """Apply a JSON merge patch (RFC 7396); neither input is changed."""
    if not isinstance(patch, Mapping):
        return patch
    merged = dict(target) if isinstance(target, Mapping) else {}
    for key, value in patch.items():
        if value is None:
            merged.pop(key, None)
        else:
            merged[key] = merge_patch(merged.get(key), value)
    return merged


def row_meta(key: str) -> Standard | None:
    """Find what is known of a key; a row the shop added borrows its table's column."""
    known = all_standards()
    if key in known:
        return known[key]
    parts = key.split(".")
    return table_columns(parts[0]).get(parts[2]) if len(parts) == 3 else None


_READ_MAP = {"price steps": read_steps, "size sums": read_sizes}
"""Units whose values are maps, and what reads them."""


def check_value(key: str, value: Any, *, where: str) -> None:
    """Refuse a standard's value that is of the wrong sort or out of its range.

    Raises
    ------
    BadInput
        Names the place and the range.
    """
    meta = row_meta(key)
    if meta is None:
        raise unknown_id(key, all_standards(), where=where, what="standard")
    if meta.unit == "yes/no":
        if not isinstance(value, bool):
            raise BadInput("must be yes or no.", where=where, remedy="", code="out-of-range")
        return
    if meta.unit == "colour":
        if not isinstance(value, str) or not re.fullmatch(COLOUR, value):
            raise BadInput(
                f"{str(value)[:40]!r} is no colour.", where=where, remedy="Write it as #1d3b6f.",
                code="not-a-colour",
            )  # fmt: skip
        return
    if meta.unit in _READ_MAP:
        try:
            _READ_MAP[meta.unit](value)
        except ValueError as error:
            raise BadInput(
                f"{error}.", where=where, remedy="Write each with its price.", code="not-a-price"
            ) from None
        return
    if meta.unit == "currency":
        if not isinstance(value, str) or value not in known_currencies():
            raise unknown_id(str(value), known_currencies(), where=where, what="currency")
        return
    if meta.unit in {"text", "id", "choice"}:
        if not isinstance(value, str) or not value.strip() or len(value) > 500:
            raise BadInput("must be some text.", where=where, code="out-of-range")
        if meta.choices and value not in meta.choices:
            raise unknown_id(value, meta.choices, where=where, what="choice")
        return
    for number in value if isinstance(value, list | tuple) else [value]:
        try:
            amount = read_decimal(number)
        except ValueError as error:
            raise BadInput(
                f"{error}, not {str(number)[:40]!r}.", where=where, code="not-a-number"
            ) from None
        too_low = meta.low is not None and amount < meta.low
        too_high = meta.high is not None and amount > meta.high
        if too_low or too_high or (meta.whole and amount != int(amount)):
            kind = "a whole number" if meta.whole else "a number"
            raise BadInput(
                f"{number} is out of range.",
                where=where,
                remedy=f"Enter {kind} from {meta.low} to {meta.high} ({meta.unit}).",
                code="out-of-range",
            )


def _check_patch(patch: Mapping[str, Any], prefix: str, where: str) -> None:
    for name, value in patch.items():
        key = f"{prefix}{name}"
        if value is None:
            continue
        meta = row_meta(key) if isinstance(value, Mapping) else None
        if meta and meta.unit in _READ_MAP:
            kept = {name: part for name, part in value.items() if part is not None}
            if kept:
                check_value(key, kept, where=f"{where}.{key}")
        elif isinstance(value, Mapping):
            _check_patch(value, f"{key}.", where)
        elif key != "format":
            check_value(key, value, where=f"{where}.{key}")


_POINTERS = (
    ("goods", "backing", ("backings",)),
    ("goods", "topping", ("toppings",)),
    ("goods", "needle", ("needles",)),
    ("goods", "position", ("positions",)),
    ("machines", "bobbin", ("bobbins",)),
    ("thread_shelf", "thread", ("threads",)),
    ("rolls", "material", ("backings", "toppings", "sheet_goods")),
    ("sheets", "material", ("backings", "toppings", "sheet_goods")),
    ("place_sizes", "position", ("positions",)),
    ("blanks", "goods", ("goods",)),
    ("blanks", "supplier", ("suppliers",)),
)


def _check_pointers(house: House, where: str) -> None:
    """Refuse ids that point to nothing, and a shop with nothing to sew on."""
    for section, column, tables in _POINTERS:
        known = {"none"} if column in {"backing", "topping"} else set()
        for table in tables:
            known |= set(getattr(house, table))
        for row_id, row in getattr(house, section).items():
            value = getattr(row, column)
            if value not in known:
                raise unknown_id(
                    value, known, where=f"{where}.{section}.{row_id}.{column}", what="id"
                )
    for section in ("machines", "putups", "goods", "speed_profile", "stitch_rates"):
        if not getattr(house, section):
            raise BadInput(
                f"the shop has no {section}.",
                where=f"{where}.{section}",
                remedy="Add one.",
                code="house-incomplete",
            )
    missing = default_tree()["tasks"].keys() - house.tasks.keys()
    if missing:
        raise BadInput(
            f"the task {sorted(missing)[0]!r} is missing.",
            where=f"{where}.tasks",
            remedy="Set its seconds to 0 instead of removing it.",
            code="house-incomplete",
        )


def build_house(
    patch: Mapping[str, Any] | None = None, *, on: House | None = None, where: str = "house"
) -> House:
    """Lay a merge patch over a house.

    Parameters
    ----------
    patch : mapping, optional
        RFC 7396, on the clothyard-house/1 document. Ids are kept as they are.
    on : House, optional
        What it is laid over; the default standards when left out.
    where : str
        How to name the patch in errors.

    Raises
    ------
    BadInput
        If a key is unknown, a value out of range, or an id points to nothing.
    """
    if not patch:
        return on or default_house()
    _check_patch(patch, "", where)
    try:
        tree = default_tree() if on is None or on is default_house() else house_json(on)
        house = House.model_validate(merge_patch(tree, patch))
    except ValidationError as error:
        raise SeveralBadInputs(bad_input_from(error, where=where, model=House)) from None
    _check_pointers(house, where)
    return house


@lru_cache(maxsize=1)
def default_house() -> House:
    """Return the house of a shop that has changed nothing."""
    house = House.model_validate(default_tree())
    _check_pointers(house, "house")
    return house


def kept_house(document: Mapping[str, Any]) -> House:
    """Read a house that was kept with a quote; keys that came after it take today's default."""
    return House.model_validate(merge_patch(house_json(default_house()), document))


def house_json(house: House) -> dict[str, Any]:
    """Write a house as a plain document."""
    document: dict[str, Any] = json.loads(house.model_dump_json())
    return document
