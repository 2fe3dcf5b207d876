"""Designs told in words."""

from __future__ import annotations

from clothyard.core.figure_text import counted
from clothyard.core.measures import Units, size_text, thread_text
from clothyard.services.designs.inspection import Inspection


def print_inspection(name: str, found: Inspection, units: Units) -> None:
    """Tell what a design holds."""
    size = size_text((found.width_mm, found.height_mm), units=units)
    print(
        f"{name}: {size}, {found.stitches:,} stitches, "
        f"{counted(len(found.blocks), 'colour block')}, {counted(found.trims, 'trim')}, "
        f"{counted(found.jumps, 'jump')}, {counted(found.stops, 'stop')}"
    )
    needle, bobbin = (thread_text(m, units=units) for m in (found.needle_m, found.bobbin_m))
    print(f"bare thread: needle {needle}, bobbin {bobbin}")
    for block in found.blocks:
        needle, bobbin = (thread_text(m, units=units) for m in (block.needle_m, block.bobbin_m))
        print(
            f"  {block.index}. {block.colour or 'no colour':9} {block.stitches:>7,} stitches  "
            f"needle {needle}  bobbin {bobbin}"
        )
