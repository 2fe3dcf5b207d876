"""An event at the machine as it is written down."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.days import Moment
from clothyard.core.run.at_machine import Kind


class EventIn(BaseModel):
    """Something that happened at the machine; `id` is made where it is written down."""

    model_config = ConfigDict(extra="forbid")

    id: Annotated[str, Field(min_length=8, max_length=120, pattern=r"^[A-Za-z0-9:._-]+$")]
    kind: Kind
    at: Moment
    piece: str = Field(default="", max_length=120)
    person: str = Field(default="", max_length=80)
    reason: str = Field(default="", max_length=200)
    text: str = Field(default="", max_length=1000)
    photo: str = Field(default="", pattern=r"^([0-9a-f]{64})?$")
    of: str = Field(default="", max_length=120)
    label: str = Field(default="", max_length=200)
    grams: float | None = Field(default=None, ge=0, le=100_000)
    after: bool = False
    needle_s: float | None = Field(default=None, ge=0, le=1_000_000)


def at_seconds(at: str) -> float:
    """Return a moment as seconds, to be set apart from others. [s]"""
    return datetime.fromisoformat(at.replace("Z", "+00:00")).timestamp()
