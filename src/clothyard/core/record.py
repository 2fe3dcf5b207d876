"""A value of the core: a slotted dataclass that the type checker holds frozen.

A frozen dataclass sets each field through a check that costs more than the rule it carries, and
an estimate makes thousands. Here mypy refuses the assignment instead, in `make check`.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TypeVar, dataclass_transform

Made = TypeVar("Made", bound=type)


@dataclass_transform(frozen_default=True, field_specifiers=(field,))
def record(made: Made) -> Made:
    """Make a class a value: compared and hashed by its fields, never assigned to."""
    return dataclass(slots=True, unsafe_hash=True)(made)  # type: ignore[return-value]
