"""Machines and the scale that can be asked: sent designs, started, followed, weighed on."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.errors import BadInput, Conflict, NotFound
from clothyard.core.house.document import House
from clothyard.core.work.document import PassTold
from clothyard.ports.machine import HttpMachine, MachineError, MachineState, Start
from clothyard.ports.scale import Put
from clothyard.services.house.standards import shop_house
from clothyard.services.log.rows import PassOf
from clothyard.services.run.at_machine import find_pass
from clothyard.services.run.sheet import order_sheet
from clothyard.services.stock.shelf import read_scale
from clothyard.store.designs import find_design
from clothyard.store.shop import Shop


class MachineNow(BaseModel):
    """A machine as it stands; `away` says why it cannot be asked, "" where it can.

    `wrong` says what of it is not this pass's: design or needles.
    """

    machine: str
    away: str
    state: MachineState | None
    wrong: list[str]


class MachineStart(BaseModel):
    """Which piece is begun."""

    model_config = ConfigDict(extra="forbid")

    piece: str = Field(min_length=1, max_length=80)
    attempt: int = Field(default=1, ge=1, le=1000)


class WeighAsked(BaseModel):
    """What is weighed: the cone of a needle, which only a simulated scale is told."""

    model_config = ConfigDict(extra="forbid")

    needle: int | None = Field(default=None, ge=1, le=60)


class Weighed(BaseModel):
    """What the scale shows. [g]"""

    grams: float
    resolution_g: float


def _machine(house: House, machine_id: str) -> HttpMachine:
    known = house.machines.get(machine_id)
    if known is None:
        raise NotFound(
            f"there is no machine {machine_id[:40]!r}.",
            where="machine",
            code="machine-unknown",
            remedy="Choose one of the workshop's.",
        )
    if known.address in {"", "-"}:
        raise BadInput(
            f"{known.label} cannot be asked.",
            where="machine",
            code="machine-deaf",
            remedy="Give its address in the workshop, or follow it by hand.",
        )
    return HttpMachine(known.address)


class _At:
    """A pass and the machine that sews it."""

    def __init__(self, shop: Shop, order_id: int, pass_id: str):
        self.shop, self.order_id, self.pass_id = shop, order_id, pass_id
        self.of = PassOf(shop, order_id)
        assert self.of.opened.work is not None
        self.told: PassTold = next(
            (p for p in self.of.opened.work.passes if p.id == pass_id), self.of.told(pass_id)
        )
        self.machine_id = self.told.machine
        self.machine = _machine(shop_house(shop), self.machine_id)
        self.placement = self.of.placement(self.told)

    @property
    def needles(self) -> list[int]:
        """The needle of each block; where colours take turns on one, that one, the last."""
        last = self.of.opened.house.machines[self.machine_id].needles
        sheet = order_sheet(self.shop, self.of, first=self.pass_id)
        mine = next(p for p in sheet.passes if p.id == self.pass_id)
        return [row.needle or last for row in mine.needles]

    def wrong(self, state: MachineState) -> list[str]:
        """Say what of the machine is not this pass's."""
        found = []
        if state.sha256 and state.sha256 != self.placement.design.sha256:
            found.append(
                f"Wrong design: it has {state.design or 'another one'}, "
                f"this pass sews {self.placement.design.name}."
            )
        elif state.sha256 and state.needles != self.needles:
            has = ", ".join(str(n) for n in state.needles)
            wanted = ", ".join(str(n) for n in self.needles)
            found.append(f"Wrong needles: its blocks sew on {has}, this pass on {wanted}.")
        return found

    def now(self, state: MachineState) -> MachineNow:
        """Tell how it stands."""
        return MachineNow(machine=self.machine_id, away="", state=state, wrong=self.wrong(state))


def machine_now(shop: Shop, order_id: int, pass_id: str) -> MachineNow:
    """Ask how the machine of a pass stands.

    Raises
    ------
    NotFound, BadInput
    """
    at = _At(shop, order_id, pass_id)
    try:
        return at.now(at.machine.state())
    except MachineError as error:
        return MachineNow(machine=at.machine_id, away=str(error), state=None, wrong=[])


def _refused(error: MachineError) -> Conflict:
    return Conflict(
        f"the machine: {error}",
        where="machine",
        code=f"machine-{error.code}",
        remedy="Look at the machine, then try again.",
    )


def send_design(shop: Shop, order_id: int, pass_id: str) -> MachineNow:
    """Send a pass's design to its machine, with the needle of each block.

    Raises
    ------
    NotFound, BadInput
    Conflict
        If the machine is away or refuses; if no stitch file is behind the design.
    """
    at = _At(shop, order_id, pass_id)
    sha256 = at.placement.design.sha256
    if not sha256:
        raise Conflict(
            "no stitch file is behind this design.",
            where="design",
            code="no-file",
            remedy="Drop its file on the quote, or load it at the machine.",
        )
    facts = find_design(shop, sha256)
    name = facts.name if facts else at.placement.design.name
    data = shop.blobs.sound(sha256)
    try:
        return at.now(at.machine.send(data, name, at.needles))
    except MachineError as error:
        raise _refused(error) from None


def start_piece(shop: Shop, order_id: int, pass_id: str, asked: MachineStart) -> MachineNow:
    """Begin a piece at the machine: only with its own design on its own needles.

    Raises
    ------
    NotFound, BadInput
    Conflict
        If the pass is held, or the machine has another design, other needles, is away or sews.
    """
    at = _At(shop, order_id, pass_id)
    view = find_pass(shop, order_id, pass_id)
    if view.held:
        raise Conflict(view.held, where="pass", code="pass-held", remedy="Open the order.")
    if asked.piece not in {p.id for p in view.pieces}:
        raise NotFound(
            f"there is no piece {asked.piece[:60]!r}.",
            where="piece",
            code="piece-unknown",
            remedy="Open the pass again.",
        )
    try:
        state = at.machine.state()
        wrong = at.wrong(state) or ([] if state.sha256 else ["It has no design."])
        if wrong:
            raise Conflict(
                wrong[0],
                where="machine",
                code="machine-wrong",
                remedy="Send this pass's design to it first.",
            )
        cap = at.placement.cap_spm
        begun = Start(
            run=f"{order_id}:{pass_id}:{asked.piece}:{asked.attempt}",
            cap_spm=cap,
            repeats=max(1, at.placement.copies) * max(1, at.placement.pieces_a_hooping),
            under_mm=at.placement.thickness_mm,
        )
        return at.now(at.machine.start(begun))
    except MachineError as error:
        raise _refused(error) from None


Press = Literal["go", "stop", "bobbin", "clear"]


def press(shop: Shop, order_id: int, pass_id: str, what: Press) -> MachineNow:
    """Press a button of the machine: go on, stop, a new bobbin, take the piece off.

    Raises
    ------
    NotFound, BadInput, Conflict
    """
    at = _At(shop, order_id, pass_id)
    try:
        return at.now(at.machine.press(what))
    except MachineError as error:
        raise _refused(error) from None


def follow_machine(shop: Shop, order_id: int, pass_id: str, after: int) -> Iterator[str]:
    """Follow a machine: its server-sent events line by line, until it or the reader is gone.

    Raises
    ------
    NotFound, BadInput
    """
    at = _At(shop, order_id, pass_id)

    def lines() -> Iterator[str]:
        try:
            yield from at.machine.events(after)
        except MachineError:
            return  # its end tells the reader, who asks again

    return lines()


def weigh(shop: Shop, asked: WeighAsked) -> Weighed:
    """Read the scale beside the machines.

    Raises
    ------
    BadInput
        If the shop has none.
    Conflict
        If it does not answer.
    """
    put = None if asked.needle is None else Put(needle=asked.needle)
    found = read_scale(shop_house(shop), put)
    return Weighed(grams=found.grams, resolution_g=found.resolution_g)
