"""What commands share: the shop they open, what they print and write, ports that are free."""

from __future__ import annotations

import socket
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Annotated

import typer

from clothyard.core.errors import BadInput

if TYPE_CHECKING:
    from clothyard.store.shop import Shop

PORT = 8642
SUPPLIER_PORT, MACHINE_PORT, SCALE_PORT = 8643, 8644, 8645

JsonFlag = Annotated[bool, typer.Option("--json", help="Print one JSON document.")]
ShopFolder = Annotated[
    Path | None, typer.Option("--shop", help="A shop's folder; without it the defaults are used.")
]
OwnFolder = Annotated[Path, typer.Option("--shop", help="A shop's folder.")]
Port = Annotated[int, typer.Option(min=1, max=65535)]


def group() -> typer.Typer:
    """Make what a module hangs its commands on."""
    return typer.Typer(add_completion=False, rich_markup_mode=None)


def open_shop(folder: Path) -> Shop:
    """Open the shop in a folder; none is made of a folder that has none.

    Raises
    ------
    BadInput
    """
    from clothyard.store.shop import DATABASE, Shop  # noqa: PLC0415 - only where there is one

    if not folder.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(folder),
            remedy="Name a shop's folder.",
            code="folder",
        )
    if not (folder / DATABASE).is_file():
        raise BadInput(
            "there is no shop in it.",
            where=str(folder),
            remedy=f"Name a shop's folder, or make one of it: clothyard serve --shop {folder}.",
            code="shop-none",
        )
    return Shop(folder)


def maybe_shop(folder: Path | None) -> Shop | None:
    """Open the shop in a folder, None without one."""
    return None if folder is None else open_shop(folder)


def check_place(out: Path) -> None:
    """Refuse to write to a folder that is not there.

    Raises
    ------
    BadInput
    """
    if not out.parent.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(out.parent),
            remedy="Make it first.",
            code="folder",
        )


def write(document: bytes, out: Path | None) -> None:
    """Write a document to a file, or print it."""
    if out is None:
        sys.stdout.write(document.decode())
        return
    check_place(out)
    out.write_bytes(document)
    print(f"{out}: {len(document):,} bytes")


def is_taken(port: int) -> bool:
    """Whether something listens on a port of this machine."""
    with socket.socket() as probe:
        return probe.connect_ex(("127.0.0.1", port)) == 0


def free_port(wanted: int) -> int:
    """Return a port where nothing listens: the one wanted, else any."""
    if not is_taken(wanted):
        return wanted
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def check_port(port: int) -> None:
    """Refuse a port that is taken.

    Raises
    ------
    BadInput
    """
    if is_taken(port):
        raise BadInput(
            f"port {port} is taken.",
            where="--port",
            remedy="Stop what runs there, or name another.",
            code="port-taken",
        )
