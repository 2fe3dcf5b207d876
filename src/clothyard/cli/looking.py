"""Looking into a stitch file."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import JsonFlag, group
from clothyard.services.designs.inspection import (
    DEFAULT_THICKNESS_MM,
    design_of_file,
    inspect_facts,
)

app = group()


@app.command()
def inspect(
    file: Path,
    thickness: Annotated[
        float, typer.Option(help="Under the stitches, in mm.")
    ] = DEFAULT_THICKNESS_MM,
    imperial: Annotated[bool, typer.Option("--imperial", help="Inches and yards.")] = False,
    as_json: JsonFlag = False,
) -> None:
    """Tell what a stitch file holds: size, stitches, thread by colour."""
    facts = design_of_file(file)
    found = inspect_facts(facts, thickness_mm=thickness)
    if as_json:
        print(found.model_dump_json())
        return
    for told in facts.told:
        print(f"{file.name}: {told}")
    from clothyard.cli.told import print_inspection  # noqa: PLC0415 - words cost time to load

    print_inspection(file.name, found, "imperial" if imperial else "metric")
