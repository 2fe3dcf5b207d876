"""Packing what a piece takes: metres, minutes, designs, needles, bobbins."""

from __future__ import annotations

from clothyard.core.colours import colour_name
from clothyard.core.estimate.document import (
    BobbinColourPlan,
    BobbinEnd,
    Bobbins,
    DesignBlock,
    NeedleUsed,
    PerPiece,
    PlacedDesign,
)
from clothyard.core.job.names import piece_order
from clothyard.core.measures import size_text
from clothyard.core.thread.bobbins import bobbin_ends
from clothyard.core.time.needles import plan_needles
from clothyard.core.units import metres, round_half_up
from clothyard.core.work.line_done import LineDone
from clothyard.core.work.passes import Pass
from clothyard.core.work.pieces import OwnPass, own_passes
from clothyard.core.work.placement_plan import PlacementPlan


def minutes(seconds: float) -> float:
    """Write seconds as minutes, two places."""
    return round_half_up(seconds / 60, 2)


def block_name(colour: str | None, key: str) -> str:
    """Name a block's thread: its colour, or its place in the design.

    Parameters
    ----------
    colour : str | None
        None: not known.
    key : str
        backing, topping or sheet.

    Returns
    -------
    str
    """
    if colour:
        return colour_name(colour)
    return "base, matching the goods" if key == "base" else key


def pack_piece(done: LineDone) -> PerPiece:
    """Pack one good piece: all placements, the mean of the run."""
    q = done.quantity
    shares = [(each, each.pieces / q) for each in done.passes]
    return PerPiece(
        stitches=int(round_half_up(done.stitches_each, 0)),
        needle_m=metres(sum(each.needle_m * share for each, share in shares)),
        bobbin_m=metres(sum(each.bobbin_m * share for each, share in shares)),
        machine_min=minutes(done.machine_s / q),
        attend_min=minutes(done.attend_s / q),
        hand_min=minutes(done.hand_s / q),
    )


def pack_pieces(done: LineDone) -> list[PerPiece]:
    """Pack each piece's own figures, in sewing order; none when all are alike."""
    plan = done.plan
    if not any(p.own and p.own.given for p in plan.placements):
        return []
    own = [own_passes(placed, each, plan.house) for placed, each in done.placed]
    found = []
    for n in piece_order(plan.line):
        passes = [each if isinstance(each, OwnPass) else each[n] for each in own]
        sewn = [each for each in passes if each is not None]
        found.append(
            PerPiece(
                stitches=int(round_half_up(sum(d.stitches for d in sewn), 0)),
                needle_m=metres(sum(d.needle_m for d in sewn)),
                bobbin_m=metres(sum(d.bobbin_m for d in sewn)),
                machine_min=minutes(sum(d.machine_s for d in sewn)),
                attend_min=minutes(sum(d.attend_s for d in sewn)),
                hand_min=minutes(plan.hand_s + sum(d.hand_s for d in sewn)),
            )
        )
    return found


def _blocks(placed: PlacementPlan, done: Pass) -> list[DesignBlock]:
    facts, copies = placed.facts, placed.making.layout.copies
    metred = zip(done.thread.needle_m, done.thread.bobbin_m, strict=True)
    return [
        DesignBlock(
            colour=block.colour,
            colour_name=block_name(block.colour, key),
            stitches=int(round_half_up(block.stitches * copies, 0)),
            needle_m=metres(needle),
            bobbin_m=metres(bobbin),
        )
        for block, key, (needle, bobbin) in zip(
            facts.blocks, facts.colour_keys, metred, strict=True
        )
    ]


def pack_designs(done: LineDone) -> list[PlacedDesign]:
    """Pack the design of each placement, as it is sewn."""
    return [
        PlacedDesign(
            name=placed.facts.name,
            width_mm=round_half_up(placed.facts.width_mm, 2),
            height_mm=round_half_up(placed.facts.height_mm, 2),
            size_text=size_text(
                (placed.facts.width_mm, placed.facts.height_mm), units=done.plan.house.shop.units
            ),
            band=placed.facts.band,
            hoop_turned=bool(placed.making.fit and placed.making.fit.turned),
            trims=int(round_half_up(placed.facts.trims, 0)),
            jumps=int(round_half_up(placed.facts.jumps, 0)),
            stops=placed.facts.stops,
            blocks=_blocks(placed, each),
        )
        for placed, each in done.placed
    ]


def _ends(placed: PlacementPlan, done: Pass, fill: float) -> list[BobbinEnd]:
    """Say where bobbins end that are run out; matching ones change with their colour."""
    if done.policy != "run-out" or placed.making.bobbin == "match":
        return []
    uses: list[tuple[float, ...]] = [done.thread.bobbin_m]
    if len(placed.own_bobbin_m) == done.pieces and len(placed.facts.blocks) == 1:
        uses = [(used,) for used in placed.own_bobbin_m]
    full_m = done.bobbins[0][1].capacity_m * fill
    return [
        BobbinEnd(piece=piece, block=block)
        for piece, block, _ in bobbin_ends(uses, pieces=done.pieces, capacity_m=full_m)
    ]


def pack_bobbins(done: LineDone) -> Bobbins:
    """Pack the bobbins of a line's batch; where they end is told of its first placement."""
    first, of_first = done.joint.placements[0], done.whole[0]
    runs = [(colour, run) for each in done.whole for colour, run in each.bobbins]
    return Bobbins(
        policy=of_first.policy,
        capacity_m=metres(runs[0][1].capacity_m),
        pieces_per_bobbin=min(run.pieces_per_bobbin for _, run in runs),
        count=sum(run.count for _, run in runs),
        shelf_m=metres(sum(each.kept_m for each in done.whole)),
        waste_m=metres(sum(each.waste_m for each in done.whole)),
        ends=_ends(first, of_first, done.plan.house.bobbin_plan.fill),
        by_colour=[
            BobbinColourPlan(
                colour=colour,
                capacity_m=metres(run.capacity_m),
                pieces_per_bobbin=run.pieces_per_bobbin,
                count=run.count,
            )
            for colour, run in runs
        ],
    )


def _on_needles(placed: PlacementPlan, done: Pass, at: int) -> list[NeedleUsed]:
    machine, keys = placed.making.machine, placed.facts.colour_keys
    blocks = dict(zip(keys, placed.facts.blocks, strict=True))
    needles = plan_needles(keys, machine.needles if machine.auto_change else 1)
    on = [[key] for key in needles.fixed]
    if needles.rotating:
        on.append(list(dict.fromkeys(needles.rotating)))
    return [
        NeedleUsed(
            placement=at,
            needle=n,
            colours=[block_name(blocks[key].colour, key) for key in held],
            changes_at=list(needles.changes_at) if len(held) > 1 else [],
            changes=needles.changes(round(done.loads.cycles)) if len(held) > 1 else 0,
        )
        for n, held in enumerate(on, 1)
    ]


def pack_needles(done: LineDone) -> list[NeedleUsed]:
    """List what is on each needle, placement by placement."""
    return [
        used
        for at, (placed, each) in enumerate(done.placed)
        for used in _on_needles(placed, each, at)
    ]
