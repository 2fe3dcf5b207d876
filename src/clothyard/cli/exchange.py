"""The shelf and the whole shop written out, and documents read in."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import OwnFolder, group, open_shop, write
from clothyard.core.errors import NotFound
from clothyard.services.designs.inspection import read_file
from clothyard.services.exchange.incoming import import_file
from clothyard.services.exchange.outgoing import export_quote, export_shop, export_stock
from clothyard.store.quotes import find_numbered

app = group()
Out = Annotated[Path | None, typer.Option(help="Write it there.")]


@app.command()
def stock(shop: OwnFolder, out: Out = None) -> None:
    """Write the shelf as a clothyard-stock/1 document: items, and every move."""
    kept = open_shop(shop)
    write(export_stock(kept), out)


@app.command()
def export(
    shop: OwnFolder,
    quote: Annotated[str, typer.Option(help="Only this quote or order, by its number.")] = "",
    out: Out = None,
) -> None:
    """Write all that a shop has as a clothyard-shop/1 document, or one quote or order of it."""
    kept = open_shop(shop)
    if not quote:
        write(export_shop(kept), out)
        return
    quote_id = find_numbered(kept, quote)
    if quote_id is None:
        raise NotFound(
            f"there is no quote {quote[:80]!r}.",
            where="--quote",
            remedy="Say its number, such as Q-0007.",
            code="quote-unknown",
        )
    write(export_quote(kept, quote_id), out)


@app.command("import")
def import_document(file: Path, shop: OwnFolder) -> None:
    """Read a document that was written out into a shop, whole; what is there stays."""
    kept = open_shop(shop)
    print(import_file(kept, read_file(file), where=str(file)))
