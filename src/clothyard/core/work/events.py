"""The machine's events in one pass: machine seconds and operator seconds, nothing twice."""

from __future__ import annotations

import math
from itertools import groupby

from clothyard.core.house.document import House
from clothyard.core.methods.making import Making
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.time.steps import StepPlan


@record
class Event:
    """One kind of event, mean per piece. [s]"""

    name: str
    label: str
    times: float
    machine_s: float
    operator_s: float


def break_rate(making: Making, house: House) -> float:
    """Return the expected thread breaks of a thousand stitches.

    Parameters
    ----------
    making : Making
        How the placement is made.
    house : House
        The standards.

    Returns
    -------
    float

    Source
    ------
    docs/formulas.md 7: the thread's rate, × 1.5 on structured caps.
    """
    factor = house.events.cap_break_factor if making.goods.frame == "cap" else 1.0
    return making.thread.break_rate * factor


def hand_changes(facts: DesignFacts, pieces: int) -> int:
    """Count the colour changes by hand over a pass: between neighbours of different threads.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    pieces : int
        How many.

    Returns
    -------
    int

    Source
    ------
    docs/formulas.md 7: N·runs - 1 if first and last threads differ, else
    N·(runs - 1); two blocks in one thread are one run.

    >>> from clothyard.core.stitches.count import count_facts
    >>> three = count_facts(900, kind="mixed", mean_stitch_mm=2.8, satin_share=0.45, colours=3)
    >>> hand_changes(three, 24)
    71
    """
    within, between = thread_changes(facts, pieces)
    return within + between


def thread_changes(facts: DesignFacts, pieces: int) -> tuple[int, int]:
    """Count the changes of thread over a pass: (inside a piece, between two pieces)."""
    runs = [key for key, _ in groupby(facts.colour_keys)]
    return pieces * (len(runs) - 1), pieces - 1 if runs[0] != runs[-1] else 0


@record
class Loads:
    """How a pass's pieces come to the machine.

    Attributes
    ----------
    pieces : int
        In the pass.
    heads : int
        That sew at once: 1 when each piece has a design of its own.
    cycles : float
        Loadings of the machine; a line's share of its batch's.
    hoopings : float
        Hoops filled, over all heads.
    gaps : float
        Gaps between two motifs or two pieces in one hooping.
    renames : float
        Changes from one piece's own design to the next one's.
    abreast : float
        Turns of sewing a piece: 1 on one head, less on several.
    """

    pieces: int
    heads: int
    cycles: float
    hoopings: float
    gaps: float
    renames: float
    abreast: float


def loads_of(making: Making, pieces: int, *, own_designs: bool, rename_share: float) -> Loads:
    """Count a pass's cycles, hoopings and gaps.

    Parameters
    ----------
    making : Making
        How the placement is made.
    pieces : int
        How many.
    own_designs : bool
        Whether each piece has a design of its own: a name.
    rename_share : float
        Of the pieces, those before which a file is loaded.

    Returns
    -------
    Loads

    Source
    ------
    docs/formulas.md 5 and 7.
    """
    heads, layout = 1 if own_designs else making.machine.heads, making.layout
    hoopings = layout.hoopings_of(pieces)
    cycles = (
        math.ceil(hoopings / heads)
        if layout.pieces > 1
        else (math.ceil(pieces / heads) * layout.hoopings)
    )
    renames = (pieces - 1) * rename_share if own_designs else 0.0
    abreast = math.ceil(pieces / heads) / pieces
    return Loads(pieces, heads, cycles, hoopings, layout.between_of(pieces), renames, abreast)


def pass_events(
    making: Making,
    house: House,
    *,
    shares: bool,
    loads: Loads,
    steady: tuple[Event, ...],
    by_hand: int,
    practice: float,
    bobbin_changes: int,
    bobbin_change_s: float,
    sample: bool = False,
) -> list[Event]:
    """List a pass's events, each as the mean over its pieces.

    Parameters
    ----------
    shares : bool
        In the hooping of the place before: it is on the machine already.
    loads : Loads
    steady : tuple of Event
        See `steady_events`.
    by_hand : int
        Colour changes by hand over the pass; on a machine that changes by itself, those of the
        needle that colours share.
    practice : float
        Mean share of the first loading's time.
    bobbin_changes, bobbin_change_s : int, float
        Stops of the whole pass, and seconds each.
    sample : bool, optional
        Whether it is one: on scrap the needle is set on no mark.

    Returns
    -------
    list of Event

    Source
    ------
    docs/formulas.md 7.
    """
    e, n = house.events, loads.pieces
    cycles = loads.cycles / n
    heads_s = e.load_head_s * (loads.heads - 1) * practice
    load = Event(
        "load",
        "Load, trace, watch the first stitches",
        cycles,
        (e.load_machine_s + heads_s) * cycles,
        (e.load_operator_s * practice + heads_s) * cycles,
    )
    events = [*([] if shares else [load]), *steady]
    if making.set_by == "template" and not shares and not sample:
        hoopings, seconds = loads.hoopings / n, e.template_s * loads.hoopings / n
        label = "Set the needle on its mark"
        events.append(Event("set-mark", label, hoopings, seconds, seconds))
    if by_hand:
        each = by_hand / n
        seconds = e.change_hand_s * each
        auto = making.machine.auto_change
        label = "Rethread the shared needle" if auto else "Colour change by hand"
        events.append(Event("rethread" if auto else "change", label, each, seconds, seconds))
    joints = making.layout.joints * cycles / making.layout.hoopings
    if joints:
        events.append(
            Event(
                "joint",
                "Line a joint up",
                joints,
                e.joint_machine_s * joints,
                e.joint_operator_s * joints,
            )
        )
    if bobbin_changes:
        swaps = bobbin_changes / n
        seconds = bobbin_change_s * swaps
        events.append(Event("bobbin", "Bobbin change", swaps, seconds, seconds))
    if loads.renames:
        renames = loads.renames / n
        seconds = e.name_file_s * renames
        events.append(Event("name", "Load the next name", renames, seconds, seconds))
    return events


def steady_events(
    making: Making,
    facts: DesignFacts,
    house: House,
    *,
    loads: Loads,
    stitches: float,
    needle_s: float,
    baste_s: float,
    gap_s: float,
    steps: StepPlan,
) -> tuple[Event, ...]:
    """List the events that are the same for every piece: sew, change, trim, stops, breaks.

    They depend on the loads only by what of them falls on a piece, so that most quantities share
    them.

    Parameters
    ----------
    stitches : float
        Of a piece, basting included.
    needle_s, baste_s, gap_s : float
        Needle time of a piece, basting of a hooping, the way over a gap that is not cut. [s]
    steps : StepPlan
        Stops and what is done at them.

    Source
    ------
    docs/formulas.md 7.
    """
    e, n = house.events, loads.pieces
    cycles, abreast, blocks = loads.cycles / n, loads.abreast, len(facts.blocks)
    sewn_s = needle_s * abreast + gap_s * blocks * loads.gaps / n
    events = [Event("sew", "Sew", cycles, sewn_s, making.goods.standby * sewn_s)]
    if baste_s:  # its stitches need nobody by
        begun = e.baste_s * cycles
        events.append(Event("baste", "Baste it down", cycles, begun + baste_s * cycles, begun))
    if making.machine.auto_change:
        changes = facts.colour_changes * cycles
        events.append(Event("change", "Colour change", changes, e.change_auto_s * changes, 0.0))
    if making.machine.auto_trim:
        trims = facts.trims * making.layout.copies * abreast + blocks * loads.gaps / n
        events.append(Event("trim", "Trim", trims, e.trim_auto_s * trims, 0.0))
    events += _stops(steps, house, cycles=cycles, hoopings=loads.hoopings / n)
    breaks = stitches / 1000 * break_rate(making, house) * loads.heads * abreast
    events.append(Event("break", "Thread break", breaks, e.break_s * breaks, e.break_s * breaks))
    return tuple(event for event in events if event.times > 0)


def _stops(steps: StepPlan, house: House, *, cycles: float, hoopings: float) -> list[Event]:
    """Bare stops take the house's time; at the others the machine waits for the hands."""
    found = []
    if steps.bare_stops:
        bare = steps.bare_stops * cycles
        seconds = house.events.stop_s * bare
        found.append(Event("stop", "Stop", bare, seconds, seconds))
    for step in steps.times:
        share = hoopings if step.per_hooping else 1.0
        found.append(Event("step", step.label, share, step.seconds * share, step.seconds * share))
    return found
