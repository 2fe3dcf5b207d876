"""What is asked of a machine (clothyard-machine/1): its documents, and the client.

The protocol is small and open: see docs/formats.md.
"""

from __future__ import annotations

import urllib.parse
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from clothyard.ports.client import Count, Device, DeviceError, Seconds

PROTOCOL: Literal["clothyard-machine/1"] = "clothyard-machine/1"
UNDER_MM = 1.2
FASTEST = 500.0

Named = Annotated[str, Field(max_length=300)]
State = Literal["idle", "sewing", "stopped", "ended"]


class MachineError(DeviceError):
    """The machine did not answer, or refused; the words say which."""


class Taken(BaseModel):
    """A design as the machine took it."""

    sha256: str
    name: str
    stitches: int
    blocks: int


class Start(BaseModel):
    """What is begun: a run by a name of the sender's own, the speed it is set to, how often the
    design is sewn; `under_mm` is what lies under the needle, for a simulated one only."""

    model_config = ConfigDict(extra="forbid")

    run: str = Field(min_length=1, max_length=120)
    cap_spm: float = Field(default=850, ge=50, le=5000)
    repeats: int = Field(default=1, ge=1, le=1000)
    under_mm: float = Field(default=UNDER_MM, ge=0, le=60)


class Needles(BaseModel):
    """Which needle sews each block, from 1."""

    model_config = ConfigDict(extra="forbid")

    needles: list[int] = Field(max_length=1000)


class Speed(BaseModel):
    """How many times faster than real a simulated machine goes."""

    model_config = ConfigDict(extra="forbid")

    times: float = Field(ge=0.1, le=FASTEST)


class MachineEvent(BaseModel):
    """Something that happened at the machine.

    `n` counts up within an `epoch`, which is new whenever the machine is switched on; `at_s` is
    the machine's own clock of this run, sewing and standing. `data` of an end: `needle_s` and
    `machine_s`.
    """

    n: Count
    epoch: Named
    run: Named
    kind: Literal[
        "design",
        "needles",
        "begun",
        "stitch",
        "change",
        "trim",
        "stop",
        "break",
        "bobbin-out",
        "bobbin",
        "go",
        "end",
    ]
    stitch: Count = 0
    block: Count = 0
    needle: Count = 0
    spm: Count = 0
    at_s: Seconds = 0.0
    data: dict[Named, Seconds] = Field(default_factory=dict, max_length=20)


class MachineState(BaseModel):
    """How the machine stands. `why` it stopped: break, bobbin-out, stop or ""."""

    protocol: Literal["clothyard-machine/1"] = PROTOCOL
    name: Named = ""
    epoch: Named
    n: Count
    state: State
    why: Named = ""
    run: Named = ""
    sha256: Named = ""
    design: Named = ""
    needles: list[Count] = Field(default_factory=list, max_length=1000)
    has_needles: Count
    stitch: Count = 0
    of: Count = 0
    block: Count = 0
    needle: Count = 0
    spm: Count = 0
    times: float = Field(default=1.0, ge=0, le=1e6)
    needle_s: Seconds = 0.0


class HttpMachine:
    """A machine over HTTP.

    Parameters
    ----------
    address : str
        Where it is, without what follows the name.
    """

    def __init__(self, address: str):
        self.device = Device(address)

    def _ask(
        self, method: str, path: str, data: bytes | None = None, kind: str = "application/json"
    ) -> Any:
        with _machine():
            return self.device.ask(method, path, data, kind)

    def state(self) -> MachineState:
        """Ask how it stands.

        Raises
        ------
        MachineError
        """
        return self._state("GET", "/state")

    def _state(self, method: str, path: str, body: BaseModel | None = None) -> MachineState:
        data = body.model_dump_json().encode() if body else None
        found = self._ask(method, path, data)
        try:
            return MachineState.model_validate(found)
        except ValidationError:
            known = found.get("protocol") if isinstance(found, dict) else None
            if isinstance(known, str) and known != PROTOCOL:
                said = f"it speaks {known[:40]}, not {PROTOCOL}."
                raise MachineError(said, "foreign-protocol") from None
            raise MachineError("it answers in no known form.", "unknown-form") from None

    def send(self, data: bytes, name: str, needles: Sequence[int]) -> MachineState:
        """Send a design and which needle sews each block.

        Raises
        ------
        MachineError
        """
        named = urllib.parse.quote(name)
        self._ask("PUT", f"/design?name={named}", data, "application/octet-stream")
        return self._state("PUT", "/needles", Needles(needles=list(needles)))

    def start(self, asked: Start) -> MachineState:
        """Begin. Raises MachineError."""
        return self._state("POST", "/start", asked)

    def press(self, what: Literal["go", "stop", "bobbin", "clear"]) -> MachineState:
        """Press a button of it. Raises MachineError."""
        return self._state("POST", f"/{what}")

    def speed(self, times: float) -> MachineState:
        """Let a simulated one go faster. Raises MachineError."""
        return self._state("POST", "/speed", Speed(times=times))

    def events(self, after: int) -> Iterator[str]:
        """Follow its events: lines of server-sent events, until it is gone.

        Raises
        ------
        MachineError
        """
        with _machine():
            yield from self.device.lines(f"/events?after={after}")


@contextmanager
def _machine() -> Iterator[None]:
    """Let what goes wrong be the machine's."""
    try:
        yield
    except DeviceError as error:
        raise MachineError(str(error), error.code) from None
