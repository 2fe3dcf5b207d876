"""Keeping a shop: backed up, gone back to, looked over."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import OwnFolder, check_place, group, open_shop
from clothyard.core.errors import BadInput, ClothyardError
from clothyard.services.workshop.backups import (
    check_folder,
    mend_files,
    restore_folder,
    write_backup,
)
from clothyard.store.lock import alone_in

app = group()


@app.command()
def backup(file: Path, shop: OwnFolder) -> None:
    """Write a backup of a shop to a file, also while it is served."""
    kept = open_shop(shop)
    check_place(file)
    write_backup(kept, file)
    print(f"{file}: {file.stat().st_size:,} bytes")


@app.command()
def restore(file: Path, shop: OwnFolder) -> None:
    """Go back to a backup, also where the shop does not open; what it holds now is kept."""
    if not file.is_file():
        raise BadInput("there is no such file.", where=str(file), code="file-missing")
    there = shop.is_dir()
    try:
        with alone_in(shop, what="going back to a backup"):
            before = restore_folder(shop, file)
    except ClothyardError:
        if not there:  # what was refused leaves no folder
            shutil.rmtree(shop, ignore_errors=True)
        raise
    print(f"{shop} is as {file.name} was; what it held is in backups/{before.name}")


@app.command()
def check(
    shop: OwnFolder,
    mend: Annotated[
        bool, typer.Option("--mend", help="Take torn files out of the backups that hold them.")
    ] = False,
) -> None:
    """Tell what is wrong with a shop, and which backup mends it; exit 1 if anything is."""
    if not shop.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(shop),
            remedy="Name a shop's folder.",
            code="folder",
        )
    found = mend_files(shop) if mend else check_folder(shop)
    for finding in found:
        by = f" Mended by backups/{finding.mended_by}." if finding.mended_by else ""
        print(f"{finding.where}: {finding.what}{by}")
    if found:
        raise typer.Exit(1)
    print(f"{shop}: all is well.")
