"""A piece of advice, as a document: what is wrong, where, how to mend it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ConfigDict

from clothyard.core.methods.choice import Level


class Advice(BaseModel):
    """A piece of advice.

    `where` is its part of the line ("placements[0].methods.backing", "price", "goods"), `of` the
    id of the placement or line it is about; `apply` a JSON Patch on the job that mends it, None
    for none.
    """

    # keys that came after a release have defaults: what was sent then is still read
    model_config = ConfigDict(
        frozen=True, extra="forbid", json_schema_serialization_defaults_required=True
    )

    code: str
    level: Level
    where: str
    message: str
    fix: str
    apply: list[dict[str, Any]] | None
    overruled: str = ""
    against: bool = False
    """Whether a reason can set it aside: what cannot be made stays a stop, whatever the reason."""

    of: str = ""
