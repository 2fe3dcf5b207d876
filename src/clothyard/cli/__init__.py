"""The command line: what takes time to get ready is begun before the commands are loaded."""

from __future__ import annotations

import os
import sys

from clothyard.files.child import begin_early

QUICK = {
    "PYDANTIC_DISABLE_PLUGINS": "__all__",  # none are used; looking costs time
    "OPENBLAS_NUM_THREADS": "1",  # no large matrices here; starting threads costs time
}
READS = frozenset({"inspect"})
"""Commands that are sure to read a stitch file: its reading process gets ready meanwhile."""


def main(arguments: list[str] | None = None) -> None:
    """Run the command line: see `commands.run`."""
    for name, value in QUICK.items():
        os.environ.setdefault(name, value)
    given = sys.argv[1:] if arguments is None else arguments
    if READS.intersection(given[:1]) and "--help" not in given:
        begin_early()
    from clothyard.cli.commands import run  # noqa: PLC0415 - after what is begun

    run(given)
