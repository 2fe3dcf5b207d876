"""What is asked of a scale (clothyard-scale/1): its documents, and the client.

The protocol is small and open: see docs/formats.md.
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from clothyard.ports.client import Device, DeviceError

PROTOCOL: Literal["clothyard-scale/1"] = "clothyard-scale/1"


class ScaleError(DeviceError):
    """The scale did not answer, or not in its protocol."""


class Put(BaseModel):
    """What is put on a simulated scale: so many grams, or the cone of a simulated machine's needle.

    A real one needs no telling.
    """

    model_config = ConfigDict(extra="forbid")

    grams: float | None = Field(default=None, ge=0, le=100_000)
    needle: int | None = Field(default=None, ge=1, le=60)


class Weight(BaseModel):
    """What a scale shows, tare taken off, and to what it resolves. [g]"""

    protocol: Literal["clothyard-scale/1"] = PROTOCOL
    grams: float = Field(ge=-1e6, le=1e6)
    resolution_g: float = Field(gt=0, le=1e4)
    tare_g: float = Field(ge=-1e6, le=1e6)


class HttpScale:
    """A scale over HTTP, by its address."""

    def __init__(self, address: str):
        self.device = Device(address)

    def _ask(self, method: str, path: str, body: BaseModel | None = None) -> Weight:
        data = body.model_dump_json(exclude_none=True).encode() if body else None
        try:
            return Weight.model_validate(self.device.ask(method, path, data))
        except DeviceError as error:
            said = str(error).removeprefix("it ")
            raise ScaleError(f"the scale {said}", error.code) from None
        except ValidationError:
            raise ScaleError("the scale answers in no known form.", "unknown-form") from None

    def put(self, asked: Put) -> Weight:
        """Tell a simulated one what lies on it. Raises ScaleError."""
        return self._ask("POST", "/put", asked)

    def weigh(self) -> Weight:
        """Read it. Raises ScaleError."""
        return self._ask("GET", "/weight")
