"""The shelf written out, and documents read in."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import OwnFolder, group, open_shop, write
from clothyard.services.designs.inspection import read_file
from clothyard.services.exchange.documents import export_stock, import_file

app = group()


@app.command()
def stock(
    shop: OwnFolder,
    out: Annotated[Path | None, typer.Option(help="Write it there.")] = None,
) -> None:
    """Write the shelf as a clothyard-stock/1 document: items, and every move."""
    kept = open_shop(shop)
    write(export_stock(kept), out)


@app.command("import")
def import_document(file: Path, shop: OwnFolder) -> None:
    """Read a clothyard-order/1 or clothyard-stock/1 document into a shop; what is there stays."""
    kept = open_shop(shop)
    print(import_file(kept, read_file(file), where=str(file)))
