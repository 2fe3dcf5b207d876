"""The command line: a module a group of commands, each imported only where it is asked for."""

from __future__ import annotations

import errno
import sys
from collections.abc import Mapping
from importlib import import_module
from typing import Any

import typer
from typer.core import TyperGroup
from typer.exceptions import TyperException

from clothyard.core.errors import BadInput, ClothyardError, NotFound

COMMANDS: Mapping[str, tuple[str, str]] = {
    "serve": ("serving", "Serve a shop on this machine."),
    "demo": ("serving", "Serve the sample shop; edits to it are kept."),
    "inspect": ("looking", "Tell what a stitch file holds: size, stitches, thread by colour."),
    "words": ("lettering", "Letter words: stitches, size, thread; and a sample stitch file."),
    "estimate": ("jobs", "Price a job document."),
    "work": ("jobs", "Say what is done for a job document, and no money."),
    "get-ready": ("jobs", "List what a job or an order needs, and what is laid out."),
    "simulate": ("jobs", "Simulate the run of a job document."),
    "plan": ("orders", "Plan a shop's open orders over the coming days."),
    "orders": ("orders", "List a shop's orders, those promised first before."),
    "order": ("orders", "Write an order as a clothyard-order/1 document."),
    "files": ("orders", "Write an order's stitch files as they go to the machine."),
    "stock": ("exchange", "Write the shelf as a clothyard-stock/1 document."),
    "export": ("exchange", "Write all that a shop has as one document, or a quote of it."),
    "import": ("exchange", "Read an exported document into a shop."),
    "run-sheet": ("papers", "Write the run sheet of an order or a job, as PDF."),
    "template": ("papers", "Write full-size templates of an order or a job, as PDF."),
    "labels": ("papers", "Write the labels of an order or a job, as PDF."),
    "log": ("log", "Tell what finished passes came to beside what was estimated."),
    "learn": ("log", "Tell what the log teaches."),
    "standards": ("house", "Print the standards: the defaults, or a shop's."),
    "backup": ("keeping", "Write a backup of a shop to a file, also while it is served."),
    "restore": ("keeping", "Go back to a backup; what the shop holds now is kept."),
    "check": ("keeping", "Tell what is wrong with a shop, and which backup mends it."),
    "supplier": ("standins", "Serve the simulated supplier."),
    "machine": ("standins", "Serve the simulated machine."),
    "scale": ("standins", "Serve the simulated scale."),
}
"""Commands in the order of the work: which module has them, and what they do."""


class _Commands(TyperGroup):
    """Imports a command's module when it is asked for, and none to list them."""

    def list_commands(self, ctx: Any) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: Any, cmd_name: str) -> Any:
        if cmd_name not in COMMANDS:
            return None
        module = import_module(f"clothyard.cli.{COMMANDS[cmd_name][0]}")
        found: Any = typer.main.get_group(module.app)
        return found.commands[cmd_name]

    def format_commands(self, ctx: Any, formatter: Any) -> None:
        with formatter.section("Commands"):
            formatter.write_dl([(name, told) for name, (_, told) in COMMANDS.items()])


app = typer.Typer(
    add_completion=False,
    rich_markup_mode=None,
    no_args_is_help=True,
    cls=_Commands,
    help="Clothyard prices custom embroidered orders.",
)


@app.callback()
def _clothyard() -> None:
    """Clothyard prices custom embroidered orders."""


def _complain(text: str) -> None:
    print(" ".join(text.split()), file=sys.stderr)


def run(given: list[str]) -> None:
    """Run a command: exit 0 fine, 2 bad input (one line on stderr), 1 our fault."""
    try:
        code = app(args=given or ["--help"], standalone_mode=False)
    except (BadInput, NotFound) as error:
        _complain(error.line())
        sys.exit(2)
    except typer.Abort:
        sys.exit(1)
    except TyperException as error:
        words = error.format_message() if hasattr(error, "format_message") else str(error)
        _complain(f"{words} Try clothyard --help.")
        sys.exit(2)
    except ClothyardError as error:
        _complain(error.line())
        sys.exit(1)
    except BrokenPipeError:
        sys.exit(1)
    except Exception as error:
        if isinstance(error, OSError) and error.errno == errno.ENAMETOOLONG:
            _complain(f"{str(error.filename)[:60]}…: the name is too long. Name a shorter one.")
            sys.exit(2)
        from clothyard.store.disk import unkept  # noqa: PLC0415 - only where something went wrong

        known = unkept(error)
        if known is not None:
            _complain(known.line())
            sys.exit(1)
        _complain(f"Our fault: {type(error).__name__}: {error}")
        sys.exit(1)
    sys.exit(code if isinstance(code, int) else 0)
