"""Designs: inspect a stitch file, keep it, find it again, draw its path."""

from __future__ import annotations

import json
from collections.abc import Iterator
from functools import lru_cache
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from clothyard.core.advice.document import Advice
from clothyard.core.errors import BadInput, NotFound
from clothyard.core.job.document import Job
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.stitches.outlines import block_outlines
from clothyard.core.stitches.stitch_plan import JUMP, StitchPlan
from clothyard.core.units import round_half_up
from clothyard.files.guarded import read_design, shared_reader
from clothyard.files.kinds import kind_of
from clothyard.services.designs.inspection import (
    Inspection,
    inspect_facts,
)
from clothyard.store import designs as kept
from clothyard.store.blobs import Blobs, content_hash
from clothyard.store.shop import Shop

FILE_CHANGED = "file-changed"
HOLDS_WITHIN = 0.10
"""A price holds while the finished file is within this share of the stitches quoted."""


class KeptDesign(BaseModel):
    """A design that is kept: what was inspected of it, what was odd, what hands did for it."""

    sha256: str
    name: str
    inspection: Inspection
    told: list[str]
    steps: list[dict[str, Any]] = []
    """What hands did for it last, as of a job's placement."""


class BlockOutlined(BaseModel):
    """A colour block's box in the design, and the outline it is sewn along. [mm]

    `points` are flat x, y from the design's least x and y; [] where it is sewn along none.
    """

    block: int
    stitches: int
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    length_mm: float
    points: list[float]


class DesignsPage(BaseModel):
    """A page of the designs; `unreadable` are names of those whose facts are damaged."""

    items: list[KeptDesign]
    unreadable: list[str]
    total: int
    next: str | None


class DesignPathBlock(BaseModel):
    """One colour block of a path."""

    colour: str | None
    runs: list[list[int]]
    floats: list[list[int]]


class DesignPath(BaseModel):
    """A design's path for drawing: per block its runs, as flat x, y lists in tenths of a mm.

    Coordinates begin at the design's least x and y. A run ends where the thread is cut; within
    a run, `floats` are the indices of points reached by a jump.
    """

    width: int
    height: int
    blocks: list[DesignPathBlock]


def keep_design(shop: Shop, data: bytes, name: str) -> KeptDesign:
    """Parse a stitch file, take its facts and keep both.

    Raises
    ------
    BadInput
        If it cannot be read, or the same bytes were kept as another kind: they have one meaning.
    """
    name = Path(name.replace("\\", "/")).name[:200]
    _, facts = read_design(data, name, sha256=content_hash(data))
    before = kept.find_design(shop, content_hash(data))
    if before is not None and kind_of(before.name) != kind_of(name):
        raise BadInput(
            f"the same bytes were read as {before.name!r} before: as .{kind_of(name)} they "
            "would be another design.",
            where=name,
            remedy=f"Name it .{kind_of(before.name)}.",
            code="file-misnamed",
        )
    shop.blobs.keep(data)
    with shop.unit() as unit:
        kept.add_design(unit, name, len(data), facts)
    return _kept(facts, name, kept.steps_of(shop, facts.sha256 or ""))


def _kept(facts: DesignFacts, name: str, steps: str = "") -> KeptDesign:
    return KeptDesign(
        sha256=facts.sha256 or "",
        name=name,
        inspection=inspect_facts(facts),
        told=list(facts.told),
        steps=json.loads(steps) if steps else [],
    )


def _unknown(sha256: str) -> NotFound:
    return NotFound(
        f"the design {sha256[:12]} is not kept here.",
        where="design",
        remedy="Drop its stitch file again.",
        code="design-unknown",
    )


def find_design(shop: Shop, sha256: str) -> KeptDesign:
    """Find a kept design.

    Raises
    ------
    NotFound
    """
    facts = kept.find_design(shop, sha256)
    if facts is None:
        raise _unknown(sha256)
    return _kept(facts, facts.name, kept.steps_of(shop, sha256))


def list_designs(shop: Shop, *, search: str = "", cursor: str = "", limit: int = 50) -> DesignsPage:
    """List the kept designs, newest first, a page at a time."""
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_designs(shop, search=search, offset=offset, limit=limit)
    after = offset + len(found)
    return DesignsPage(
        items=[_kept(facts, name) for name, facts in found if facts is not None],
        unreadable=[name for name, facts in found if facts is None],
        total=total,
        next=str(after) if after < total else None,
    )


class FileChanged(BaseModel):
    """A design of a quote whose file was replaced: another came in later under its name.

    `line` and `placement` are ids.
    """

    line: str
    placement: str
    sha256: str
    advice: Advice


@record
class _SewnFile:
    """A design file that a job, as typed, names; `path` is its placement's in the job."""

    line: str
    placement: str
    where: str
    path: str
    sha256: str


def _rows(holder: Any, key: str) -> list[dict[str, Any]]:
    found = holder.get(key) if isinstance(holder, dict) else None
    rows = found if isinstance(found, list) else []
    return [row if isinstance(row, dict) else {} for row in rows]


def _sewn_files(job: dict[str, Any]) -> Iterator[_SewnFile]:
    for i, line in enumerate(_rows(job, "lines")):
        for k, placement in enumerate(_rows(line, "placements")):
            design = placement.get("design")
            sha256 = design.get("sha256") if isinstance(design, dict) else None
            if isinstance(sha256, str) and sha256:
                yield _SewnFile(
                    str(line.get("id", "")),
                    str(placement.get("id", "")),
                    f"placements[{k}]",
                    f"/lines/{i}/placements/{k}/design/sha256",
                    sha256,
                )


def _reason(job: dict[str, Any], of: _SewnFile) -> str:
    """The reason that the job keeps for going against it."""
    for row in _rows(job, "overruled"):
        against = row.get("code"), row.get("line")
        if against == (FILE_CHANGED, of.line) and row.get("where") in {"", of.placement, of.where}:
            return str(row.get("reason") or "")
    return ""


def files_changed(shop: Shop, job: dict[str, Any], *, sent: bool) -> list[FileChanged]:
    """Say which designs of a quote were replaced by a later file of the same name.

    Parameters
    ----------
    shop : Shop
    job : dict
        As typed, of this release; what is no job has none.
    sent : bool
        A sent quote stands as it was: what to do is said, and nothing can be pressed.

    Source
    ------
    docs/formulas.md, advice `file-changed`.
    """
    sewn = list(_sewn_files(job))
    later = kept.replaced_designs(shop, {of.sha256 for of in sewn}) if sewn else {}
    found = []
    for of in sewn:
        newest, day = later.get(of.sha256, ("", ""))
        before = kept.find_design(shop, of.sha256) if newest else None
        after = kept.find_design(shop, newest) if newest else None
        if before is None or after is None:
            continue
        advice = Advice(
            code=FILE_CHANGED,
            level="warn",
            where=f"{of.where}.design",
            of=of.placement,
            message=_replaced(before, after, day),
            fix="Revise the quote to take it." if sent else "Take the later file.",
            apply=None if sent else [{"op": "replace", "path": of.path, "value": newest}],
            overruled=_reason(job, of),
        )
        found.append(
            FileChanged(line=of.line, placement=of.placement, sha256=of.sha256, advice=advice)
        )
    return found


def _replaced(before: DesignFacts, after: DesignFacts, day: str) -> str:
    more = after.stitches / before.stitches - 1
    holds = "the price holds within 10%" if abs(more) <= HOLDS_WITHIN else "over 10%: price it anew"
    return (
        f"Another {before.name} came in on {day}: {before.stitches:,} stitches were quoted, it has "
        f"{after.stitches:,} ({more:+.1%}; {holds})."
    )


@lru_cache(maxsize=8)
def _plan(folder: Path, sha256: str, name: str) -> StitchPlan:
    return shared_reader().plan(Blobs(folder).sound(sha256), name)


def design_path(shop: Shop, sha256: str) -> DesignPath:
    """Return a kept design's path, to draw it to scale.

    Raises
    ------
    NotFound
    Conflict
        If its file is missing or torn.
    """
    facts = kept.find_design(shop, sha256)
    if facts is None:
        raise _unknown(sha256)
    return path_of(_plan(shop.blobs.folder, sha256, facts.name))


def design_outlines(shop: Shop, sha256: str) -> list[BlockOutlined]:
    """Outline the blocks of a kept design: what patches are tacked down along.

    Raises
    ------
    NotFound
    Conflict
        If its file is missing or torn.
    """
    facts = kept.find_design(shop, sha256)
    if facts is None:
        raise _unknown(sha256)
    return [
        BlockOutlined(
            block=found.block,
            stitches=found.stitches,
            x_mm=round_half_up(found.x_mm, 2),
            y_mm=round_half_up(found.y_mm, 2),
            width_mm=round_half_up(found.width_mm, 2),
            height_mm=round_half_up(found.height_mm, 2),
            length_mm=round_half_up(found.length_mm, 1),
            points=[round_half_up(each, 1) for point in found.points for each in point],
        )
        for found in block_outlines(_plan(shop.blobs.folder, sha256, facts.name))
    ]


def steps_to_remember(shop: Shop, job: Job) -> dict[str, str]:
    """Say what hands did for each design of a file of a job, where that is not known yet."""
    steps: dict[str, str] = {}
    for placement in (put for line in job.lines for put in line.placements):
        if placement.design.sha256 and placement.steps:
            told = [s.model_dump(mode="json", exclude_unset=True) for s in placement.steps]
            steps[placement.design.sha256] = json.dumps(told)
    return kept.steps_to_remember(shop, steps) if steps else {}


def path_of(plan: StitchPlan) -> DesignPath:
    """Cut a plan into runs of whole tenths of a millimetre."""
    points = ((plan.points_mm - plan.points_mm.min(axis=0)) * 10).round().astype(int)
    blocks = [DesignPathBlock(colour=colour, runs=[], floats=[]) for colour in plan.colours]
    ends = [i + 1 for i, gap in enumerate(plan.gaps.tolist()) if gap > JUMP]
    start = 0
    for end in [*ends, len(points)]:
        block = blocks[int(plan.block_of[start])]
        block.runs.append(points[start:end].ravel().tolist())
        jumps = plan.gaps[start : end - 1] == JUMP
        block.floats.append([i + 1 for i, jump in enumerate(jumps.tolist()) if jump])
        start = end
    width, height = points.max(axis=0).tolist()
    return DesignPath(width=width, height=height, blocks=blocks)
