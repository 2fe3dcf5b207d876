"""Words, lettered."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import JsonFlag, ShopFolder, check_place, group, maybe_shop
from clothyard.cli.told import print_inspection
from clothyard.core.house.check import default_house
from clothyard.services.designs.words import letter_words, sample_file
from clothyard.services.house.standards import shop_house

app = group()


@app.command()
def words(
    text: str,
    height: Annotated[float | None, typer.Option(help="Of a capital, in mm.")] = None,
    out: Annotated[
        Path | None, typer.Option(help="Write a sample stitch file; its ending says the kind.")
    ] = None,
    shop: ShopFolder = None,
    as_json: JsonFlag = False,
) -> None:
    """Letter words: stitches, size, thread; and a sample stitch file."""
    kept = maybe_shop(shop)
    house = shop_house(kept) if kept else default_house()
    found = letter_words(house, text, height_mm=height)
    if out is not None:
        data = sample_file(house, text, out.suffix.lstrip(".").lower(), height_mm=height)
        check_place(out)
        out.write_bytes(data)
    if as_json:
        print(found.inspection.model_dump_json())
        return
    print_inspection(text.replace("\n", " / "), found.inspection, "metric")
    if found.lacking:
        print(f"the lettering lacks: {' '.join(found.lacking)}")
