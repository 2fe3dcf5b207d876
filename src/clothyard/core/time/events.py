"""The machine's events in one pass: machine seconds and operator seconds, nothing twice."""

from __future__ import annotations

import math
from dataclasses import dataclass

from clothyard.core.house import House
from clothyard.core.making import Making
from clothyard.core.stitches.facts import DesignFacts


@dataclass(frozen=True, slots=True)
class Event:
    """One kind of event, mean per piece. [s]"""

    name: str
    label: str
    times: float
    machine_s: float
    operator_s: float


def breaks_per_piece(facts: DesignFacts, stitches: int, making: Making, house: House) -> float:
    """Return the expected thread breaks of a piece.

    Source: docs/formulas.md 7: stitches / 1000 × rate, × 1.5 on structured caps.
    """
    factor = house.events.cap_break_factor if making.goods_id == "structured-cap" else 1.0
    return stitches / 1000 * making.thread.break_rate * factor


def hand_changes(facts: DesignFacts, pieces: int) -> int:
    """Count the colour changes by hand over a pass.

    Source: docs/formulas.md 7: N·blocks - 1 if first and last colours differ, else
    N·(blocks - 1).

    >>> from clothyard.core.stitches.count import count_facts
    >>> three = count_facts(900, kind="mixed", mean_stitch_mm=2.8, satin_share=0.45, colours=3)
    >>> hand_changes(three, 24)
    71
    """
    keys = facts.colour_keys
    blocks = len(keys)
    return pieces * blocks - 1 if keys[0] != keys[-1] else pieces * (blocks - 1)


def pass_events(
    making: Making,
    facts: DesignFacts,
    house: House,
    *,
    pieces: int,
    stitches: int,
    needle_s: float,
    practice: float,
    bobbin_changes: int,
    bobbin_change_s: float,
) -> list[Event]:
    """List a pass's events, each as the mean over its pieces.

    Parameters
    ----------
    pieces : int
        In the pass; a cycle sews up to `heads` of them.
    stitches : int
        Of a piece, basting included.
    needle_s : float
        Needle time of a piece. [s]
    practice : float
        Mean share of the first piece's loading time.
    bobbin_changes, bobbin_change_s : int, float
        Stops of the whole pass, and seconds each.

    Returns
    -------
    list of Event

    Source
    ------
    docs/formulas.md 7.
    """
    e, heads = house.events, making.machine.heads
    share = math.ceil(pieces / heads) / pieces  # cycles a piece
    changes = facts.colour_changes * share
    events = [
        Event("load", "Load, trace, watch the first stitches", share,
              e.load_machine_s * share, e.load_operator_s * practice * share),
        Event("sew", "Sew", share, needle_s * share, making.goods.standby * needle_s * share),
    ]  # fmt: skip
    if making.machine.auto_change:
        events.append(Event("change", "Colour change", changes, e.change_auto_s * changes, 0.0))
    else:
        changes = hand_changes(facts, pieces) / pieces
        seconds = e.change_hand_s * changes
        events.append(Event("change", "Colour change by hand", changes, seconds, seconds))
    if making.machine.auto_trim:
        trims = facts.trims * share
        events.append(Event("trim", "Trim", trims, e.trim_auto_s * trims, 0.0))
    stops = facts.stops * share
    events.append(Event("stop", "Stop", stops, e.stop_s * stops, e.stop_s * stops))
    breaks = breaks_per_piece(facts, stitches, making, house) * heads * share
    events.append(Event("break", "Thread break", breaks, e.break_s * breaks, e.break_s * breaks))
    swaps = bobbin_changes / pieces
    seconds = bobbin_change_s * swaps
    events.append(Event("bobbin", "Bobbin change", swaps, seconds, seconds))
    return [event for event in events if event.times > 0]
