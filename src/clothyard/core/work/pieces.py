"""Each piece's own figures, where designs differ by piece."""

from __future__ import annotations

from dataclasses import fields

from clothyard.core.house.document import House
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.thread.use import basting_stitches, design_thread, piece_thread
from clothyard.core.time.speed import design_cap_spm, even_seconds, needle_seconds
from clothyard.core.work.events import break_rate
from clothyard.core.work.passes import Pass
from clothyard.core.work.placement_plan import PlacementPlan


@record
class OwnPass:
    """One piece in one pass: metres and seconds."""

    stitches: float
    needle_m: float
    bobbin_m: float
    machine_s: float
    attend_s: float
    hand_s: float


def mean_pass(done: Pass) -> OwnPass:
    """The mean piece of a pass."""
    return OwnPass(
        stitches=done.stitches,
        needle_m=done.needle_m,
        bobbin_m=done.bobbin_m,
        machine_s=done.machine_s,
        attend_s=done.attend_s,
        hand_s=done.hand_s,
    )


class _Pass:
    """What depends on the piece's own design; all else is shared evenly over the pass."""

    def __init__(self, plan: PlacementPlan, done: Pass, house: House):
        self.plan, self.done, self.house = plan, done, house
        self.mean = mean_pass(done)
        self.mean_sewn = self._sewn(plan.facts, plan.baste_stitches)

    def _sewn(self, facts: DesignFacts, baste: float) -> OwnPass:
        making, house = self.plan.making, self.house
        copies, loads = making.layout.copies, self.done.loads
        hoopings = loads.hoopings / loads.pieces
        auto = making.machine.auto_trim
        thread = piece_thread(
            design_thread(
                facts,
                thickness_mm=making.thickness_mm,
                use=house.thread_use,
                auto_trim=auto,
                baste_stitches=baste,
                baste_stitch_mm=house.basting.stitch_mm,
            ),
            copies=copies,
            hoopings=hoopings,
        )
        profile = house.speed_profile
        needle_s = sum(
            needle_seconds(
                facts, cap_spm=making.cap_spm, profile=profile, speed=house.speed, auto_trim=auto
            )
        )
        needle_s *= making.machine.time_factor
        cap = design_cap_spm(facts, cap_spm=making.cap_spm, speed=house.speed)
        baste_s = even_seconds(baste, house.basting.stitch_mm, cap_spm=cap, profile=profile)
        sew = needle_s * copies + baste_s * hoopings
        stitches = facts.stitches * copies + baste * hoopings
        breaks = house.events.break_s * stitches / 1000 * break_rate(making, house)
        trims = house.events.trim_auto_s * facts.trims * copies if auto else 0.0
        clips = sum(b.clips + (0 if auto else b.trims) for b in facts.blocks) * copies
        sides = 2 if making.goods.back_seen == "yes" else 1
        return OwnPass(
            stitches=stitches,
            needle_m=sum(thread.needle_m),
            bobbin_m=sum(thread.bobbin_m),
            machine_s=sew + breaks + trims,
            attend_s=making.goods.standby * sew + breaks,
            hand_s=clips * sides * house.tasks["clip"].seconds,
        )

    def piece(self, facts: DesignFacts) -> OwnPass:
        """Take the mean piece, and put this design in place of the mean one."""
        plan = self.plan
        baste = plan.baste_stitches
        if plan.making.baste and plan.making.layout.kind == "single":
            baste = basting_stitches(facts.width_mm, facts.height_mm, self.house.basting)
        mine, mean, average = self._sewn(facts, baste), self.mean, self.mean_sewn
        return OwnPass(
            *(
                getattr(mean, each.name) + getattr(mine, each.name) - getattr(average, each.name)
                for each in fields(OwnPass)
            )
        )


def own_passes(plan: PlacementPlan, done: Pass, house: House) -> OwnPass | list[OwnPass | None]:
    """Return a pass piece by piece in sewing order; one mean piece where all are alike.

    None stands for a piece left blank. Colour changes, loading, bobbin changes and the next
    name's file are shared evenly over the pass.

    Parameters
    ----------
    plan : PlacementPlan
        Whatever the quantity.
    done : Pass
        As worked for the quantity.
    house : House
        The standards.

    Returns
    -------
    OwnPass | list[OwnPass | None]

    Source
    ------
    docs/formulas.md 14; their mean is the pass's own.
    """
    if plan.own is None:
        return mean_pass(done)
    of = _Pass(plan, done, house)
    known: dict[int, OwnPass] = {}
    found: list[OwnPass | None] = []
    for n, facts in enumerate(plan.own.pieces):
        if facts is None:
            found.append(None)
            continue
        if n >= plan.own.given:
            found.append(of.mean)
            continue
        if id(facts) not in known:
            known[id(facts)] = of.piece(facts)
        found.append(known[id(facts)])
    return found
