"""Serving a shop, or the sample shop with its stand-ins beside it."""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Callable, Iterator, Mapping
from contextlib import ExitStack, contextmanager
from functools import partial
from pathlib import Path
from typing import Annotated, Any

import typer
from platformdirs import user_data_path

from clothyard.api.app import create_app
from clothyard.cli.common import (
    MACHINE_PORT,
    PORT,
    SCALE_PORT,
    SUPPLIER_PORT,
    Port,
    ShopFolder,
    check_port,
    free_port,
    group,
)
from clothyard.cli.listening import serve_app
from clothyard.core.errors import BadInput
from clothyard.demo.build import check_demo_folder, demo_shop
from clothyard.demo.hand import MACHINE, SCALE, SUPPLIER, begin_work, use_standins
from clothyard.store.lock import alone_in
from clothyard.store.shop import Shop

LOOPBACK = ("127.0.0.1", "localhost", "::1")
app = group()


def _run(folder: Path, open_shop: Callable[[], Shop], host: str, port: int) -> None:
    if host not in LOOPBACK:
        raise BadInput(
            "only this machine's own address is served for now.",
            where="--host",
            remedy="Leave it at 127.0.0.1.",
            code="host",
        )
    check_port(port)
    with alone_in(folder, what=f"at http://{host}:{port}"):
        shop = open_shop()
        shop.tidy()
        serve_app(create_app(shop), "Clothyard", host, port)


@app.command()
def serve(
    shop: ShopFolder = None,
    host: Annotated[str, typer.Option(help="This machine's own address.")] = "127.0.0.1",
    port: Port = PORT,
) -> None:
    """Serve a shop on this machine."""
    folder = shop or user_data_path("clothyard", appauthor=False)
    _run(folder, lambda: Shop(folder), host, port)


@app.command()
def demo(
    folder: Annotated[Path, typer.Option(help="Where the sample shop is kept.")] = Path(
        "demo-shop"
    ),
    reset: Annotated[bool, typer.Option("--reset", help="Build it anew.")] = False,
    port: Port = PORT,
) -> None:
    """Serve the sample shop; edits to it are kept."""
    check_demo_folder(folder)
    check_port(port)
    with (
        _beside("supplier", SUPPLIER_PORT) as supplier,
        _beside("machine", MACHINE_PORT) as machine,
        _beside("scale", SCALE_PORT, "--machine", machine) as scale,
    ):
        beside = {SUPPLIER: supplier, MACHINE: machine, SCALE: scale}
        _run(folder, partial(_at_work, folder, beside, reset=reset), "127.0.0.1", port)


def _at_work(folder: Path, beside: Mapping[str, str], *, reset: bool) -> Shop:
    """Open the sample shop, and let somebody sew at its machine, beside the server.

    How far its building is is told as it goes.
    """
    with ExitStack() as shown:
        bars: list[Any] = []

        def on_step(done: int, of: int) -> None:
            if not bars:
                bar = typer.progressbar(length=of, label="The sample shop is made", file=sys.stderr)
                bars.append(shown.enter_context(bar))
            bars[0].update(done - bars[0].pos)

        shop = demo_shop(folder, reset=reset, on_step=on_step)
    use_standins(shop, beside)
    begin_work(shop, beside[MACHINE])
    return shop


@contextmanager
def _beside(command: str, port: int, *more: str) -> Iterator[str]:
    """Serve a stand-in in its own process as long as the sample shop is, at a port of its own.

    Gives its address. One that runs already is another shop's.
    """
    port = free_port(port)
    run = "from clothyard.cli import main; main()"
    asked = [sys.executable, "-c", run, command, "--port", str(port), *more]
    process = subprocess.Popen(asked, stdout=subprocess.DEVNULL)
    try:
        yield f"http://127.0.0.1:{port}"
    finally:
        process.terminate()
        process.wait(5)
