"""Building the sample shop: a two-person workshop in a made-up harbour town."""

from __future__ import annotations

import shutil
from pathlib import Path

from clothyard.core.errors import BadInput
from clothyard.demo.stitching import crest, stitch_file
from clothyard.services.designs import keep_design
from clothyard.store.shop import DATABASE, Shop

MARK = "sample-shop"


def demo_shop(folder: Path, *, reset: bool = False) -> Shop:
    """Open the sample shop, building it when it is not there.

    Parameters
    ----------
    folder : Path
        Of the sample shop alone.
    reset : bool
        Build it anew: what was changed in it is gone.

    Raises
    ------
    BadInput
        If the folder holds something that is not a sample shop.
    """
    if folder.exists() and any(folder.iterdir()) and not (folder / MARK).exists():
        raise BadInput(
            "the folder holds something that is not the sample shop.",
            where=str(folder),
            remedy="Name an empty folder, or one of an earlier demo.",
            code="folder",
        )
    if reset and (folder / MARK).exists():
        shutil.rmtree(folder)
    fresh = not (folder / DATABASE).exists()
    folder.mkdir(parents=True, exist_ok=True)
    (folder / MARK).write_text("The sample shop: made up, safe to delete.\n", encoding="utf-8")
    shop = Shop(folder)
    if fresh:
        keep_design(shop, stitch_file(crest(), "pes"), "rowing-club-crest.pes")
    return shop
