"""Stitch files out: every pass's design as it goes to the machine, each name of a list."""

from __future__ import annotations

import io
import zipfile
from collections.abc import Sequence
from dataclasses import dataclass

from clothyard.core.errors import Conflict, unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK, Design, Line, Placement
from clothyard.core.job.names import piece_names
from clothyard.core.order.held import check_proof, proof_state
from clothyard.core.run.stitch_files import coloured, numbered_name, sized, turned
from clothyard.core.stitches.stitch_plan import StitchPlan
from clothyard.core.work.document import PlacementTold
from clothyard.files.guarded import shared_reader
from clothyard.files.writer import SAMPLE_KINDS, write_plan
from clothyard.services.designs.words import plan_of_words
from clothyard.services.log.rows import PassOf
from clothyard.services.orders.readying import called_of
from clothyard.services.run.at_machine import held_back
from clothyard.store import orders as kept
from clothyard.store.designs import find_design
from clothyard.store.shop import Shop

USUAL_KIND = "dst"
COLOURLESS = frozenset({"dst", "exp", "tbf", "u01"})
"""Kinds that hold no colours: the run sheet says them."""


@dataclass(frozen=True, slots=True)
class StitchFile:
    """A file for the machine: its name, its bytes, and what is to be known of it."""

    name: str
    data: bytes
    said: str


@dataclass(frozen=True, slots=True)
class Written:
    """An order's stitch files, and in words what each is and what is to be known first."""

    number: str
    files: tuple[StitchFile, ...]
    told: str


def _plan(shop: Shop, design: Design, house: House, name: str) -> StitchPlan | None:
    """Return a design's plan; None of a count, which has no file yet."""
    if design.text is not None:
        return plan_of_words(
            design.text, house, height_mm=design.height_mm, face=design.face or "plain", name=name
        )
    if design.sha256 is None:
        return None
    facts = find_design(shop, design.sha256)
    called = facts.name if facts else f"{design.sha256[:12]}.dst"
    return sized(shared_reader().plan(shop.blobs.sound(design.sha256), called), design.scale)


def _said(placement: Placement, placed: PlacementTold, angle: float, house: House) -> str:
    """Say of a file where it goes, how it is turned, and what it does not hold."""
    position = house.positions.get(placed.position)
    hoop = house.hoops.get(placed.hoop or "")
    said = [position.label if position else placed.position]
    said.append(f"hoop {hoop.label}" if hoop else "no hoop fits")
    said.append(f"turned {angle:g}° already" if angle else "upright")
    if placed.copies > 1 or placed.pieces_a_hooping > 1:
        times = placed.copies * placed.pieces_a_hooping
        said.append(f"one of {times} that lie together: repeat it at the machine")
    if placement.methods.baste or placed.methods.get("baste") == "true":
        said.append("without the basting round it")
    if placed.methods.get("knock_down") == "true":
        said.append("without the base under it")
    return ", ".join(said)


def _names(line: Line, design: Design) -> list[tuple[int, str]]:
    """List the names of a placement with their numbers in sewing order; [] of one for all."""
    if design.text is None or NAME_MARK not in design.text:
        return []
    return [(n, name) for n, name in enumerate(piece_names(line), 1) if name]


def stitch_files(shop: Shop, order_id: int, kind: str = USUAL_KIND) -> Written:
    """Write every pass's design as it goes to the machine, each name by itself.

    Parameters
    ----------
    shop : Shop
    order_id : int
    kind : str
        Of stitch file.

    Raises
    ------
    NotFound
    BadInput
        If files of that kind are not written.
    Conflict
        file-missing, where a design is a count only: it waits for its file; proof-open, where its
        words or names are not approved as they stand; order-cancelled.
    """
    if kind not in SAMPLE_KINDS:
        raise unknown_id(kind, SAMPLE_KINDS, where="kind", what="kind of stitch file")
    of = PassOf(shop, order_id)
    _check_wanted(shop, of)
    house, work = of.opened.changed, of.opened.whole()
    placed = {p.id: p for line in work.lines for p in line.placements}
    called = called_of(of.order.number, work, house)
    found: dict[str, StitchFile] = {}
    missing = []
    for line in of.opened.job.lines:
        for placement in line.placements:
            told = placed[placement.id]
            angle = (placement.place.turn + int(told.methods.get("way", "0"))) % 360
            said = _said(placement, told, angle, house)
            for n, name in _names(line, placement.design) or [(0, "")]:
                plan = _plan(shop, placement.design, house, name)
                if plan is None:
                    missing.append(f"{said.split(',', maxsplit=1)[0]}: {told.design.name}")
                    continue
                plan = turned(coloured(plan, placement.design.thread_colours), angle)
                stem = numbered_name(n, name, house.papers) if n else called[told.design.name]
                file_name = _fresh(stem, kind, found)
                what = f"{name}, {said}" if name else said
                found[file_name] = StitchFile(file_name, write_plan(plan, kind), what)
    if missing:
        raise Conflict(
            f"no stitch file is behind {', '.join(dict.fromkeys(missing))}.",
            where="design",
            remedy="Drop its file on the quote: a count is a price, not a design.",
            code="file-missing",
        )
    files = tuple(found.values())
    return Written(of.order.number, files, _told(files, kind, first=held_back(of, shop)))


def _check_wanted(shop: Shop, of: PassOf) -> None:
    """Refuse files that must not be sewn: of a cancelled order, of names just corrected."""
    order = of.order
    if order.state == "cancelled" or not order.stands:
        raise Conflict(
            f"{order.number} is cancelled.",
            where="order",
            remedy="Take the order up again first.",
            code="order-cancelled",
        )
    said = kept.find_proof(shop, order.quote_id, order.version)
    check_proof(proof_state(of.opened.asked, said.state if said else ""))


def _fresh(stem: str, kind: str, taken: dict[str, StitchFile]) -> str:
    """Call a file so that no two are alike."""
    name, n = f"{stem}.{kind}", 1
    while name in taken:
        n += 1
        name = f"{stem[: max(1, len(stem) - len(str(n)))]}{n}.{kind}"
    return name


def _told(files: Sequence[StitchFile], kind: str, *, first: str) -> str:
    """Say of some files in words what each is, what is done first, what their kind cannot hold."""
    lines = [f"Not the batch yet. {first}"] if first else []
    lines += [f"{each.name}: {each.said}" for each in files]
    if kind in COLOURLESS:
        lines.append(f"A .{kind} holds no colours: thread the needles as the run sheet says.")
    return "\n".join(lines) + "\n"


def stitch_zip(shop: Shop, order_id: int, kind: str = USUAL_KIND) -> tuple[str, bytes]:
    """Write an order's stitch files as one zip, with what each is: (its name, its bytes).

    Raises
    ------
    NotFound, BadInput, Conflict
        As `stitch_files`.
    """
    written = stitch_files(shop, order_id, kind)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for each in written.files:
            packed.writestr(zipfile.ZipInfo(each.name, (2000, 1, 1, 0, 0, 0)), each.data)
        notes = zipfile.ZipInfo("WHAT-IS-WHAT.txt", (2000, 1, 1, 0, 0, 0))
        packed.writestr(notes, written.told)
    return f"{written.number}-{kind}.zip", out.getvalue()
