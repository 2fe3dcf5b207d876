"""Looking into a stitch file: what it holds, without keeping it."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from pydantic import BaseModel

from clothyard.core.errors import BadInput, OutOfRange
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.bare import bare_sums_m
from clothyard.core.units import metres, round_half_up
from clothyard.files.guarded import read_design
from clothyard.files.kinds import MAX_FILE_BYTES
from clothyard.store.blobs import content_hash

DEFAULT_THICKNESS_MM = 0.8


class DesignBlock(BaseModel):
    """A colour block as inspected."""

    index: int
    colour: str | None
    stitches: int
    needle_m: float
    bobbin_m: float
    trims: int


class Inspection(BaseModel):
    """A design as inspected (clothyard-design/1): bare sums at a thickness."""

    format: Literal["clothyard-design/1"] = "clothyard-design/1"
    stitches: int
    colour_changes: int
    trims: int
    jumps: int
    stops: int
    width_mm: float
    height_mm: float
    needle_m: float
    bobbin_m: float
    longest_stitch_mm: float
    blocks: list[DesignBlock]


def inspect_facts(facts: DesignFacts, *, thickness_mm: float = DEFAULT_THICKNESS_MM) -> Inspection:
    """Write a design's facts as an inspection.

    Parameters
    ----------
    facts : DesignFacts
    thickness_mm : float
        t of the bare sums, 0 to 20. [mm]

    Raises
    ------
    OutOfRange
        If the thickness makes no sense.
    """
    if not 0 <= thickness_mm <= 20:
        raise OutOfRange(
            f"{thickness_mm:g} mm is out of range.",
            where="thickness",
            remedy="Enter 0 to 20 mm.",
            code="out-of-range",
        )
    sums = bare_sums_m(facts, thickness_mm=thickness_mm)
    return Inspection(
        stitches=facts.stitches,
        colour_changes=facts.colour_changes,
        trims=facts.trims,
        jumps=facts.jumps,
        stops=facts.stops,
        width_mm=round_half_up(facts.width_mm, 2),
        height_mm=round_half_up(facts.height_mm, 2),
        needle_m=metres(sum(needle for needle, _ in sums)),
        bobbin_m=metres(sum(bobbin for _, bobbin in sums)),
        longest_stitch_mm=round_half_up(facts.longest_stitch_mm or 0.0, 2),
        blocks=[
            DesignBlock(
                index=i,
                colour=block.colour,
                stitches=block.stitches,
                needle_m=metres(needle),
                bobbin_m=metres(bobbin),
                trims=block.trims,
            )
            for i, (block, (needle, bobbin)) in enumerate(zip(facts.blocks, sums, strict=True), 1)
        ],
    )


def read_file(path: Path) -> bytes:
    """Read a stitch file from disk.

    Raises
    ------
    BadInput
        If it is not there, is no file, or is too large.
    """
    try:
        if path.is_file() and path.stat().st_size > MAX_FILE_BYTES:
            return path.open("rb").read(MAX_FILE_BYTES + 1)
        return path.read_bytes()
    except OSError as error:
        raise BadInput(
            f"cannot be opened ({error.strerror}).",
            where=str(path),
            remedy="Check the name and the place.",
            code="file-missing",
        ) from None


def design_of_file(path: Path) -> DesignFacts:
    """Read a stitch file from disk and take its facts."""
    data = read_file(path)
    return read_design(data, path.name, sha256=content_hash(data))[1]
