"""What holds an order: its proof, its samples, what it is short of; in words, and as waits."""

from __future__ import annotations

from collections.abc import Collection, Sequence
from dataclasses import replace
from typing import Literal

from clothyard.core.advice.order import proof_open, sample_open
from clothyard.core.errors import Conflict
from clothyard.core.figure_text import amount_text, day_text
from clothyard.core.house.document import House
from clothyard.core.job.document import Job
from clothyard.core.order.state import FINISHED, passed_samples, sample_key
from clothyard.core.plan.units import Unit
from clothyard.core.record import record
from clothyard.core.stock.ledger import ZERO
from clothyard.core.stock.shelf import NeedNow
from clothyard.core.work.document import Work
from clothyard.core.work.piece import Piece

MOST_NAMED = 3
CANCELLED, NAMES_OPEN = "cancelled", "names not approved"
UNTRIED, NO_FILE = "sample not passed", "file missing"
OF_TEMPLATES = frozenset({CANCELLED, NAMES_OPEN, NO_FILE})
"""Why a template must not be marked from yet."""

ProofState = Literal["none", "open", "approved", "corrected"]


@record
class SampleHeld:
    """A sample that is sewn before its batch, and whether it has passed."""

    pass_id: str
    line: str
    label: str
    passed: bool

    @property
    def key(self) -> str:
        """What is ticked once it has passed."""
        return sample_key(self.pass_id)


def has_words(job: Job) -> bool:
    """Whether anything of a job is words or names, so that a proof is approved."""
    return any(p.design.text is not None for line in job.lines for p in line.placements)


def words_asked(job: Job) -> dict[str, tuple[object, frozenset[str]]]:
    """Say of each line with words what is read of it: how they are set in their places, its names.

    Two jobs that agree in it need one approval.
    """
    found: dict[str, tuple[object, frozenset[str]]] = {}
    for line in job.lines:
        set_in = tuple(
            (p.position, p.place, p.design.model_dump_json(exclude={"repeat", "origin"}))
            for p in line.placements
            if p.design.text is not None
        )
        if set_in:
            found[line.id] = set_in, frozenset(line.names)
    return found


def proof_state(job: Job, said: str) -> ProofState:
    """Return how a proof stands, by what was said of it: "", approved or corrected."""
    if said:
        return "approved" if said == "approved" else "corrected"
    return "open" if has_words(job) else "none"


def samples_of(
    work: Work | None, job: Job, house: House, ready: Collection[str]
) -> list[SampleHeld]:
    """List an order's samples.

    Parameters
    ----------
    work : Work or None
        None where it cannot be told: then there are none.
    job : Job
        As settled: a sample may be said to have passed there.
    house : House
    ready : collection of str
        What is ticked.
    """
    if work is None:
        return []
    passed = passed_samples(ready)
    asked = {line.id: line.sample for line in job.lines}
    places = {p.id: p.position for line in work.lines for p in line.placements}
    found = []
    for each in work.passes:
        if not each.sample:
            continue
        line = each.of[0].line
        sample = asked.get(line)
        label = house.positions[places[each.of[0].placement]].label
        done = each.id in passed or bool(sample and sample.passed)
        found.append(SampleHeld(each.id, line, label, done))
    return found


def not_yet(
    work: Work, state: str, proof: ProofState, samples: Sequence[SampleHeld]
) -> dict[str, list[str]]:
    """Say of each pass why its papers must not be worked from yet, in words for their heads.

    Parameters
    ----------
    work : Work
    state : str
        Of the order.
    proof : ProofState
    samples : sequence of SampleHeld

    Returns
    -------
    dict of pass id to list of str
        [] where it may be begun.
    """
    designs = {p.id: p.design for line in work.lines for p in line.placements}
    untried = {row.line for row in samples if not row.passed}
    found: dict[str, list[str]] = {}
    for each in work.passes:
        said = [CANCELLED] if state == "cancelled" else []
        if proof in {"open", "corrected"}:
            said.append(NAMES_OPEN)
        if not each.sample and untried & {of.line for of in each.of}:
            said.append(UNTRIED)
        if any(designs[of.placement].source == "count" for of in each.of):
            said.append(NO_FILE)
        found[each.id] = said
    return found


def check_proof(state: ProofState) -> None:
    """Refuse what is not done while words or names are not approved.

    Raises
    ------
    Conflict
        proof-open.
    """
    if state in {"open", "corrected"}:
        said = proof_open()
        raise Conflict(said.message, where=said.where, remedy=said.fix, code=said.code)


def check_samples(samples: Sequence[SampleHeld], pieces: Sequence[Piece]) -> None:
    """Hold a batch back until its sample has passed.

    Raises
    ------
    Conflict
        sample-open.
    """
    lines = {piece.line for piece in pieces}
    open_ = [row.label for row in samples if row.line in lines and not row.passed]
    if open_:
        said = sample_open(open_)
        raise Conflict(said.message, where=said.where, remedy=said.fix, code=said.code)


def is_settled(state: str) -> bool:
    """Whether nothing holds an order any more: it is made, or not to be made."""
    return state in FINISHED or state == "cancelled"


def held_by(state: str, proof: ProofState, needs: Sequence[NeedNow]) -> list[str]:
    """Say in words what an order waits for."""
    if is_settled(state):
        return []
    found = []
    if proof == "open":
        found.append(proof_open().message)
    if proof == "corrected":
        found.append("The customer corrected the proof: take the corrections, or answer them.")
    uncounted = [row.need.label for row in needs if row.short > ZERO and row.unknown]
    if uncounted:
        named = ", ".join(uncounted[:MOST_NAMED])
        more = f" and {len(uncounted) - MOST_NAMED} more" if len(uncounted) > MOST_NAMED else ""
        found.append(f"Not counted: {named}{more}. Say whether it is here.")
    for row in needs:
        if row.short <= ZERO or row.unknown:
            continue
        amount = amount_text(row.short) + (" m" if row.need.item.unit == "m" else "")
        when = f" for {day_text(row.coming_on)}" if row.coming_on else ""
        ordered = f", ordered{when}." if row.coming >= row.short else ", not ordered yet."
        found.append(f"{row.need.label}: {amount} short{ordered}")
    return found


def waits_of(state: str, proof: ProofState, needs: Sequence[NeedNow]) -> list[tuple[str, str, str]]:
    """List what is waited for before anything is begun: (id, label, until), ISO day or ""."""
    if is_settled(state):
        return []
    found = []
    if proof in {"open", "corrected"}:
        found.append(("wait-proof", "The proof is approved", ""))
    short = [row for row in needs if row.short > ZERO]
    for name, label in (("goods", "The goods are here"), ("materials", "The materials are here")):
        rows = [row for row in short if (row.need.item.kind == "blank") == (name == "goods")]
        days = [row.coming_on for row in rows]
        if rows:
            found.append((f"wait-{name}", label, max(days) if all(days) else ""))
    return found


def left_units(units: Sequence[Unit], samples: Sequence[SampleHeld]) -> tuple[list[Unit], set[str]]:
    """Leave out the units of samples that have passed: (those left, ids of those left out)."""
    passed = {row.pass_id for row in samples if row.passed}
    gone = {unit.id for unit in units if unit.of in passed}
    return [unit for unit in units if unit.id not in gone], gone


def still_to_do(
    units: Sequence[Unit], ready: Collection[str], *, done: float, waits: Sequence[Unit] = ()
) -> tuple[Unit, ...]:
    """List what is still to do of an order: samples that have passed are left out, what is sewn is.

    Parameters
    ----------
    units : sequence of Unit
        Of its work.
    ready : collection of str
        What is ticked.
    done : float
        Which share of its pieces is sewn, 0 to 1.
    waits : sequence of Unit
        What all of it waits for.
    """
    passed = passed_samples(ready)
    gone = {unit.id for unit in units if unit.of in passed}
    first = tuple(unit.id for unit in waits)
    found = list(waits)
    for unit in units:
        if unit.id in gone:
            continue
        share = 1.0 - done if unit.kind in {"prepare", "sew", "finish"} else 1.0
        after = tuple(at for at in unit.after if at not in gone) or first
        found.append(
            replace(
                unit,
                elapsed_s=unit.elapsed_s * share,
                person_s=unit.person_s * share,
                machine_s=unit.machine_s * share,
                after=after,
            )
        )
    return tuple(found)


def machine_hold(
    state: str, *, stands: bool, proof: ProofState, samples: Sequence[SampleHeld]
) -> str:
    """Say what holds a pass back at the machine, "" for nothing."""
    if state == "cancelled" or not stands:
        return "The order is cancelled."
    if proof in {"open", "corrected"}:
        return "The proof is not approved: approve or tick it on the order's page first."
    waiting = [row.label for row in samples if not row.passed]
    return f"Its sample has not passed: {', '.join(waiting)}." if waiting else ""
