"""The Work: what is done for an order, without money, as one document (clothyard-work/1).

Seconds, metres and counts are of the whole pass or line unless they say "each"; a mean piece is
that ÷ pieces. [s, m, mm]
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict


class _Part(BaseModel):
    model_config = ConfigDict(
        frozen=True, extra="forbid", json_schema_serialization_defaults_required=True
    )


class TaskTold(_Part):
    """A hand task: what its first one takes, how many, and all of them, practice included.

    `before`: done before the needle runs.
    """

    task: str
    label: str
    per: Literal["piece", "hooping", "order"]
    before: bool
    practised: bool
    first_s: float
    times: float
    total_s: float


class EventTold(_Part):
    """A kind of event at the machine: its machine's and its operator's seconds."""

    task: str
    label: str
    times: float
    machine_s: float
    operator_s: float


class ThreadLaid(_Part):
    """The thread of one block over a pass; `needle` is the one it is on, None where colours
    take turns on one."""

    block: int
    colour: str | None
    thread: str
    needle: int | None
    stitches: int
    needle_s: float
    needle_m: float
    bobbin_m: float


class BobbinsLoaded(_Part):
    """The bobbins of one thread over a pass."""

    colour: str
    capacity_m: float
    pieces_per_bobbin: int
    count: int
    changes: int
    change_s: float


class CutTold(_Part):
    """Equal pieces cut for a pass, and for its list: with samples and spares. [mm]"""

    what: Literal["backing", "topping", "sheet"]
    material: str
    stock: str
    width_mm: float
    height_mm: float
    count: int
    length_mm: float
    list_count: int
    list_length_mm: float


class StepTold(_Part):
    """What hands do: `at` is how many blocks are sewn by then, a half inside of one.

    None is after sewing: then it is one of the tasks, too.
    """

    label: str
    seconds: float
    per: Literal["piece", "hooping"]
    at: float | None = None


class HardwareFixed(_Part):
    """Hardware: how many, or how many metres, each piece has."""

    item: str
    amount: float
    unit: str


class Shared(_Part):
    """What a pass sews: pieces of a line's placement. Lines that are alike may share one."""

    line: str
    placement: str
    pieces: int


class PassTold(_Part):
    """One placement over its pieces on one machine, or the first pieces that are its sample.

    `after` is the sample pass that must have passed before this one begins, None for none. Cycles
    are loadings of the machine; `practice` is the mean share of the first one's time.
    """

    id: str
    of: list[Shared]
    sample: bool
    after: str | None = None
    machine: str
    heads: int
    cycles: int
    hoopings: int
    practice: float
    stitches_each: float
    events: list[EventTold]
    tasks: list[TaskTold]
    winding_s: float
    threads: list[ThreadLaid]
    hand_change_m: float
    bobbins: list[BobbinsLoaded]
    bobbin_kept_m: float = 0.0
    bobbin_waste_m: float = 0.0
    cuts: list[CutTold]
    machine_s: float
    attend_s: float
    hand_s: float
    needle_m: float
    bobbin_m: float


class DesignSewn(_Part):
    """A placement's design as it is sewn once. [mm]"""

    name: str
    sha256: str | None
    source: Literal["file", "count", "words"]
    stitches: int
    trims: int
    stops: int
    width_mm: float
    height_mm: float


class PlacementTold(_Part):
    """A placement: how it is made, whatever the quantity. [mm]"""

    id: str
    position: str
    design: DesignSewn
    methods: dict[str, str]
    hoop: str | None
    copies: int
    hoopings_each: int
    pieces_a_hooping: int
    sewn_width_mm: float
    sewn_height_mm: float
    thickness_mm: float
    cap_spm: float
    way: str = ""
    """How it goes in, in words."""
    standby: float | None = None
    """Share of its sewing time that a person stands by."""
    steps: list[StepTold]
    hardware: list[HardwareFixed]


class PieceTold(_Part):
    """A piece where they differ: its cell, its name (None: left blank), its own figures, each."""

    id: str
    cell: str | None
    name: str | None
    stitches: int
    needle_m: float
    bobbin_m: float
    machine_s: float
    attend_s: float
    hand_s: float


class CellTold(_Part):
    """Pieces of one size and colour, and how many more to have of it; None of older documents."""

    id: str
    size: str
    colour: str
    pieces: int
    spares: int | None = None


class LineTold(_Part):
    """A line: its placements, what each piece takes once, what is expected to go wrong.

    `remakes` are pieces expected to be lost, `repair_s` the mending of those that can be mended.
    """

    id: str
    goods: str
    blank: str | None
    quantity: int
    spares: int
    samples: int
    sample_washed: bool = False
    cells: list[CellTold]
    placements: list[PlacementTold]
    tasks: list[TaskTold]
    names: list[TaskTold]
    hardware: list[HardwareFixed]
    pieces: list[PieceTold]
    spoil: float
    remakes: float
    repair_s: float
    machine_s: float
    attend_s: float
    hand_s: float
    sample_machine_s: float
    sample_hand_s: float


class ThreadTold(_Part):
    """One thread over the order; `needed_m` with samples and spares."""

    thread: str
    colour: str | None
    label: str
    needle_m: float
    bobbin_m: float
    needed_m: float


class StretchTold(_Part):
    """A stretch of the order's elapsed time."""

    label: str
    seconds: float


class RunTold(_Part):
    """How long it takes when hands and machine overlap."""

    basis: Literal["closed-form", "simulated"]
    elapsed_s: float
    machine_s: float
    operator_s: float
    parts: list[StretchTold]


class Work(_Part):
    """What is done for an order."""

    format: Literal["clothyard-work/1"] = "clothyard-work/1"
    once: list[TaskTold]
    lines: list[LineTold]
    passes: list[PassTold]
    threads: list[ThreadTold]
    run: RunTold


def work_bytes(work: Work) -> bytes:
    """Write a work document as JSON, the same bytes wherever it is asked for."""
    return work.model_dump_json(indent=None).encode() + b"\n"
