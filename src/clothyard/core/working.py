"""The working of a figure, as a document: its formula, its inputs and where each came from."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class _Part(BaseModel):
    # keys that came after a release have defaults: what was sent then is still read
    model_config = ConfigDict(
        frozen=True, extra="forbid", json_schema_serialization_defaults_required=True
    )


class WorkingInput(_Part):
    """A figure that went into another.

    `value` is exact, to work it out again; `text` as people say it ("£28.83", "1 h 9 min"). What
    was worked out itself names its working in `of`; a standard its key in `standard`.
    """

    name: str
    value: str
    unit: str
    source: str
    text: str = ""
    of: str = ""
    standard: str = ""


class Working(_Part):
    """How a figure was worked out; `text` is its value as people say it."""

    id: str
    name: str
    formula: str
    inputs: list[WorkingInput]
    value: str
    unit: str
    text: str = ""
