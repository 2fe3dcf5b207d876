"""The Estimate: everything that is computed of a job, as one document (clothyard-estimate/1)."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from clothyard.core.units import MoneyOut

Level = Literal["stop", "warn", "note"]
MaterialKind = Literal[
    "needle-thread", "bobbin-thread", "backing", "topping", "goods", "sheet", "hardware",
    "consumable",
]  # fmt: skip


class _Part(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")


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
    band: float
    hoop_turned: bool
    trims: int
    jumps: int
    stops: int
    blocks: list[DesignBlock]


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
    """The bobbins of a line."""

    policy: str
    capacity_m: float
    pieces_per_bobbin: int
    count: int
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
    """A line's price."""

    method: Literal["margin", "stitch-rate", "hour-rate", "typed"]
    unit: MoneyOut
    line: MoneyOut
    margin: str
    cross_checks: CrossChecks


class Tier(_Part):
    """The price at a quantity."""

    quantity: int
    unit: MoneyOut
    line: MoneyOut
    unit_cost: str
    margin: str


class Advice(_Part):
    """A piece of advice: what is wrong, where, how to mend it."""

    code: str
    level: Level
    where: str
    message: str
    fix: str
    apply: list[dict[str, Any]] | None


class WorkingInput(_Part):
    """A figure that went into another."""

    name: str
    value: str
    unit: str
    source: str


class Working(_Part):
    """How a figure was worked out."""

    id: str
    name: str
    formula: str
    inputs: list[WorkingInput]
    value: str
    unit: str


class EstimateLine(_Part):
    """A line of the estimate."""

    quantity: int
    per_piece: PerPiece
    pieces: list[PerPiece]
    designs: list[PlacedDesign]
    methods: list[Method]
    materials: list[Material]
    bobbins: Bobbins
    spares: int
    cost: Cost
    piece_cost: PieceCost
    price: LinePrice
    tiers: list[Tier]
    advice: list[Advice]
    working: list[Working]


class Charge(_Part):
    """A charge of its own, once an order."""

    name: str
    amount: MoneyOut


class Total(_Part):
    """The order in all."""

    cost: MoneyOut
    price: MoneyOut
    charges: list[Charge]
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
    total: Total
    run: Run


def estimate_bytes(estimate: Estimate) -> bytes:
    """Write an estimate as JSON, the same bytes wherever it is asked for."""
    return estimate.model_dump_json(indent=None).encode() + b"\n"
