"""Writing a stitch plan as a stitch file: a sample to try a design that has no file yet."""

from __future__ import annotations

import io

from clothyard.core.errors import unknown_id
from clothyard.core.stitches.stitch_plan import CHANGE, FLOW, JUMP, STOP, TRIM, StitchPlan

UNITS_PER_MM = 10
SAMPLE_KINDS = ("csv", "dst", "exp", "jef", "pec", "pes", "tbf", "u01", "vp3")
WRITTEN_WITH = {"jef": {"trims": True, "trim_at": 3}}
"""How the writer is set where it would leave trims out."""


def write_plan(plan: StitchPlan, kind: str) -> bytes:
    """Write a stitch plan as a file of some kind.

    Parameters
    ----------
    plan : StitchPlan
    kind : str
        One of SAMPLE_KINDS.

    Raises
    ------
    BadInput
        If samples are not written as that kind.
    """
    import pystitch  # noqa: PLC0415 - slow to load

    if kind not in SAMPLE_KINDS:
        raise unknown_id(kind, SAMPLE_KINDS, where="kind", what="kind of sample file")
    command = {
        TRIM: pystitch.TRIM,
        STOP: pystitch.STOP,
        CHANGE: pystitch.COLOR_CHANGE,
    }
    pattern = pystitch.EmbPattern()
    for colour in plan.colours:
        pattern.add_thread({"hex": colour or "#202020"})
    points = (plan.points_mm * UNITS_PER_MM).round(1).tolist()
    last = points[0]
    for (x, y), gap in zip(points, [JUMP, *plan.gaps.tolist()], strict=True):
        if gap in command:
            pattern.add_command(command[gap], *last)
        if gap != FLOW:
            pattern.add_stitch_absolute(pystitch.JUMP, x, y)
        pattern.add_stitch_absolute(pystitch.STITCH, x, y)
        last = x, y
    pattern.add_command(pystitch.END, *last)
    stream = io.BytesIO()
    writer = next(
        f["writer"]
        for f in pystitch.supported_formats()
        if f["extension"] == kind and f.get("writer")
    )
    pystitch.write_embroidery(writer, pattern, stream, WRITTEN_WITH.get(kind))
    return stream.getvalue()
