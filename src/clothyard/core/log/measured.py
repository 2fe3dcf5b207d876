"""What a pass took, from what was pressed and told: scaled to all of it where part was seen."""

from __future__ import annotations

import math

from clothyard.core.log.rows import Measured
from clothyard.core.record import record
from clothyard.core.run.at_machine import AtMachine


@record
class Bobbins:
    """The bobbins of a pass as they are meant to be used.

    Attributes
    ----------
    capacity_m : float
        Of a full one. [m]
    each_m : float
        What a piece takes. [m]
    run_out : bool
        Whether one is changed when it is empty, not between pieces.
    shelf_m : float
        A longer end goes back to the shelf. [m]
    """

    capacity_m: float
    each_m: float
    run_out: bool
    shelf_m: float


def bobbins_used(at: AtMachine, of: Bobbins, *, sewn: int) -> tuple[float, float | None]:
    """Say how many bobbins were used, and the metres where that is known.

    Parameters
    ----------
    at : AtMachine
    of : Bobbins
    sewn : int
        Pieces, spoiled ones too.

    Returns
    -------
    (bobbins, metres or None)
        One that was changed early counts by what its pieces take, unless its end is waste; what is
        on the machine still counts so too. Metres are measured only where each ran empty: they are
        then those of all pieces.

    Source
    ------
    docs/formulas.md 12.

    >>> from clothyard.core.run.at_machine import BobbinChange
    >>> of = Bobbins(110.0, 8.0, False, 15.0)
    >>> used, known = bobbins_used(AtMachine(changes=(BobbinChange(5, False),)), of, sewn=10)
    >>> round(used, 3), known
    (0.727, None)
    """

    def early(pieces: int) -> float:
        metres = min(of.capacity_m, pieces * of.each_m)
        return 1.0 if of.capacity_m - metres < of.shelf_m else metres / of.capacity_m

    used, since, empty, until = 0.0, 0, 0, 0.0
    for change in at.changes:
        if change.ran_out or of.run_out:
            used, empty, until = used + 1, empty + 1, change.after + 0.5
        else:
            used += early(change.after - since)
        since = change.after
    used += early(max(0, sewn - since))
    if not empty or empty < len(at.changes):
        return used, None
    return used, empty * of.capacity_m * max(1.0, sewn / until)


def measured_of(at: AtMachine, *, sewn: int, cycles: int, bobbins: Bobbins | None) -> Measured:
    """Say what a pass took, as a row of the log has it.

    Parameters
    ----------
    at : AtMachine
    sewn, cycles : int
        Pieces, spoiled ones too, and the cycles they were sewn in.
    bobbins : Bobbins or None
        None where they are of several colours.

    Returns
    -------
    Measured
        What the machine told of some pieces, and loading that was clocked at some, is scaled to all
        of them.

    Source
    ------
    docs/formulas.md 12.
    """
    share = sewn / at.seen if 0 < at.seen < sewn else 1.0
    used: float | None = None
    metres: float | None = None
    if at.changes and bobbins:
        used, metres = bobbins_used(at, bobbins, sewn=sewn)
    loads = max(1.0, cycles / at.loads) if at.loads else 1.0
    return Measured(
        needle_s=None if at.needle_s is None else at.needle_s * share,
        loading_s=None if at.loading_s is None else at.loading_s * loads,
        hooping_s=at.prepare_s,
        finishing_s=at.finish_s,
        elapsed_s=at.elapsed_s or None,
        bobbins=used if used is not None else at.bobbins or None,
        bobbin_m=metres,
        breaks=at.breaks - at.heard + at.heard * share,
    )


def cycles_of(sewn: int, together: int) -> int:
    """Return the loadings that so many pieces are sewn in, several at once."""
    return math.ceil(sewn / max(1, together))
