"""The stand-ins, each served in its own process."""

from __future__ import annotations

from typing import Annotated

import typer

from clothyard.cli.common import (
    MACHINE_PORT,
    SCALE_PORT,
    SUPPLIER_PORT,
    Port,
    check_port,
    group,
)
from clothyard.cli.listening import serve_app
from clothyard.ports.machine import FASTEST
from clothyard.standins.machine import SimulatedMachine, Truths, machine_app
from clothyard.standins.scale import SimulatedScale, scale_app
from clothyard.standins.supplier import supplier_app

app = group()


@app.command()
def supplier(
    port: Port = SUPPLIER_PORT,
    seed: Annotated[int, typer.Option(help="The same seed answers the same.")] = 1,
) -> None:
    """Serve the simulated supplier on this machine, in its own process."""
    check_port(port)
    serve_app(supplier_app(seed), "The simulated supplier", "127.0.0.1", port)


@app.command()
def machine(
    port: Port = MACHINE_PORT,
    seed: Annotated[int, typer.Option(help="The same seed is the same machine.")] = 1,
    times: Annotated[
        float, typer.Option(min=0.1, max=FASTEST, help="How many times faster than real.")
    ] = 60,
    exact: Annotated[
        bool, typer.Option("--exact", help="It is as the standards say, and never breaks.")
    ] = False,
) -> None:
    """Serve the simulated machine on this machine, in its own process."""
    check_port(port)
    truths = Truths(bobbin=1.0, breaks_1000=1e-9) if exact else None
    made = SimulatedMachine(seed, truths)
    made.times = times
    serve_app(
        machine_app(made),
        "The simulated machine",
        "127.0.0.1",
        port,
        timeout_graceful_shutdown=1,
    )


@app.command()
def scale(
    port: Port = SCALE_PORT,
    seed: Annotated[int, typer.Option(help="The same seed shows the same noise.")] = 1,
    of: Annotated[
        str, typer.Option("--machine", help="A simulated machine, whose cones are weighed.")
    ] = f"http://127.0.0.1:{MACHINE_PORT}",
) -> None:
    """Serve the simulated scale on this machine, in its own process."""
    check_port(port)
    made = scale_app(SimulatedScale(seed, of))
    serve_app(made, "The simulated scale", "127.0.0.1", port)
