"""The making: how one placement is made, every choice settled."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field
from typing import Literal

from clothyard.core.cloth.hoops import Fit
from clothyard.core.cloth.layout import HoopTry, Layout
from clothyard.core.house.document import (
    Backing,
    BobbinColour,
    BobbinRule,
    GoodsClass,
    HoldKind,
    Hoop,
    Machine,
    Marking,
    Needle,
    ThreadKind,
    Topping,
)
from clothyard.core.job.document import Edge, Fixing, SetBy
from clothyard.core.record import record

NONE = "none"


@record
class Choice:
    """One settled method: its key and value as in the job, where it came from, and why."""

    key: str
    value: str
    source: Literal["proposed", "chosen"]
    reason: str


@record
class Laid:
    """A backing in its layers, as it lies under the goods."""

    backing_id: str
    backing: Backing
    layers: int


@record
class Under:
    """All that lies under the goods: layers, their thickness, how it is held and comes off. [mm]

    `fused` counts the kinds that are ironed on, `torn` the layers that are torn off.
    """

    layers: int = 0
    thickness_mm: float = 0.0
    wet: bool = False
    fused: int = 0
    torn: int = 0
    trimmed: bool = False
    rinsed: bool = False


def _under(laid: Sequence[Laid]) -> Under:
    if not laid:
        return Under()
    if len(laid) == 1:
        backing, layers = laid[0].backing, laid[0].layers
        return Under(
            layers,
            layers * backing.thickness_mm,
            backing.wet,
            int(backing.fused),
            layers if backing.removal == "tear" else 0,
            backing.removal == "trim",
            backing.removal == "rinse",
        )
    removal = [one.backing.removal for one in laid]
    return Under(
        layers=sum([one.layers for one in laid]),
        thickness_mm=sum([one.layers * one.backing.thickness_mm for one in laid]),
        wet=any(one.backing.wet for one in laid),
        fused=sum([one.backing.fused for one in laid]),
        torn=sum([one.layers for one in laid if one.backing.removal == "tear"]),
        trimmed="trim" in removal,
        rinsed="rinse" in removal,
    )


@record
class Finish:
    """How a patch is finished: its edge, and how it is fixed on; None of what is no patch."""

    edge: Edge | None = None
    fixing: Fixing | None = None


@record
class Making:
    """One placement's methods, with what the house knows of each.

    `way` is how far piece and design are turned together, with the clock; `hoop` is None when
    nothing fits; `tries` holds every hoop tried, the best first; `sewn_mm` is
    what one hooping sews, grown by its basting or base. [mm]
    """

    goods_id: str
    goods: GoodsClass
    machine_id: str
    machine: Machine
    hold: HoldKind
    hoop_id: str
    hoop: Hoop | None
    fit: Fit | None
    backing_id: str
    backing: Backing | None
    layers: int
    second_id: str
    second: Backing | None
    second_layers: int
    topping_id: str
    topping: Topping | None
    thread_id: str
    thread: ThreadKind
    needle_id: str
    needle: Needle
    bobbin: BobbinColour
    bobbin_policy: BobbinRule
    baste: bool
    knock_down: bool
    finish: Finish
    marking: Marking
    set_by: SetBy
    way: int
    way_words: str
    way_sides: tuple[str | None, str | None]
    position_id: str
    layout: Layout
    tries: tuple[HoopTry, ...]
    sewn_mm: tuple[float, float]
    choices: tuple[Choice, ...]
    cloth_mm: tuple[float, float] | None = None
    """What of the place there is to hold in a ring; None where it always reaches. [mm]"""

    laid: tuple[Laid, ...] = field(init=False, compare=False)
    """The kinds of backing under the goods, with their layers: none, one or two."""

    under: Under = field(init=False, compare=False)
    """What they come to."""

    @property
    def fitting(self) -> tuple[str, ...]:
        """The hoops that do, the proposed one first."""
        return tuple(tried.hoop_id for tried in self.tries if tried.does)

    def __post_init__(self) -> None:
        """Say what lies under the goods."""
        found = [] if self.backing is None else [Laid(self.backing_id, self.backing, self.layers)]
        if self.second is not None:
            found.append(Laid(self.second_id, self.second, self.second_layers))
        self.laid = tuple(found)  # type: ignore[misc] # made of its fields, once
        self.under = _under(found)  # type: ignore[misc]

    @property
    def thickness_mm(self) -> float:
        """t: goods, backing layers and topping, pressed under the stitches. [mm]"""
        topping = self.topping.thickness_mm if self.topping else 0.0
        return self.goods.thickness_mm + self.under.thickness_mm + topping

    @property
    def cap_spm(self) -> float:
        """The fastest this is sewn: least of set speed, goods and thread. [spm]"""
        return min(self.machine.set_spm, self.goods.cap_spm, self.thread.cap_spm)

    @property
    def on_cap_frame(self) -> bool:
        """Whether it is sewn on the cap frame."""
        return self.goods.frame == "cap" and self.hold == "hoop"
