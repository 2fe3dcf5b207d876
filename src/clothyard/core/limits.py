"""What a design may be at most, and its kinds: known without reading a job."""

from __future__ import annotations

from typing import Literal

MAX_STITCHES = 500_000
"""Of one design."""

MAX_BLOCKS = 1000
"""Colour blocks of one design."""

DesignKind = Literal["outline", "lettering", "mixed", "fill"]
