"""What is on each machine's needles, as its last pass or a hand left it."""

from __future__ import annotations

from collections.abc import Iterable

from clothyard.store.settings import read_setting, write_setting
from clothyard.store.unit import Reads, Unit

_STEM = "threaded:"


def read_threaded(at: Reads, machine: str) -> dict[int, str]:
    """Return the thread on each needle, by what `ItemKey.name` calls it; empty ones left out."""
    found = read_setting(at, f"{_STEM}{machine}")
    if not isinstance(found, dict):
        return {}
    return {int(n): str(thread) for n, thread in found.items() if n.isdigit() and thread}


def threaded_machines(at: Reads, machines: Iterable[str]) -> dict[str, dict[int, str]]:
    """Return what is on the needles of several machines."""
    return {machine: read_threaded(at, machine) for machine in machines}


def write_threaded(unit: Unit, machine: str, on: dict[int, str]) -> None:
    """Keep what is on a machine's needles."""
    write_setting(unit, f"{_STEM}{machine}", {str(n): thread for n, thread in sorted(on.items())})
