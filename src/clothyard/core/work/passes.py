"""One placement over a number of pieces: events, thread, bobbins, cuts, handwork."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields, replace
from decimal import Decimal
from operator import attrgetter, is_

from clothyard.core.cloth.cutting import Cut, Wanted, cut_from_best, want
from clothyard.core.house.document import BobbinPolicy, House
from clothyard.core.methods.making import Making
from clothyard.core.record import record
from clothyard.core.thread.bobbins import (
    BobbinRun,
    bobbin_capacity_m,
    plan_bobbins,
    plan_own_bobbins,
)
from clothyard.core.thread.use import PieceThread, piece_thread
from clothyard.core.time.practice import mean_practice
from clothyard.core.units import exact
from clothyard.core.work.events import (
    Event,
    Loads,
    hand_changes,
    loads_of,
    pass_events,
    steady_events,
    thread_changes,
)
from clothyard.core.work.placement_plan import PlacementPlan

PatchKey = tuple[str, float, float, bool]
"""A material, the size it is cut to and its grain: equal patches are cut together. [mm]"""


@record
class SheetCut:
    """Sheet goods of one step, as cut: its `count` with all equal patches of the order.

    `share` is its part of that cut.
    """

    key: PatchKey
    count: int
    cut: Cut
    share: float

    @property
    def material(self) -> str:
        """Id of the sheet goods."""
        return self.key[0]

    @property
    def cost(self) -> Decimal:
        """Its part of the cut's. Not rounded."""
        return self.cut.cost if self.share == 1 else self.cut.cost * exact(self.share)


@record
class Pass:
    """One placement over a number of pieces. Times and thread are means per piece of the pass.

    A line of a batch has its `share` of the batch's pass: 1 for a line by itself. Bobbins and cuts
    are told of the whole batch.

    `practice` is the mean share of the first one's time; `winding_s` of bobbins wound by hand is
    in `hand_s` too; `policy` is when bobbins are changed, `policy_saves` what that saves against
    the other where the cheaper was asked for [money]; `waste_m` are bobbin ends too short to keep;
    `bobbin_changes` are its stops for a bobbin and the seconds of each.
    """

    loads: Loads
    share: float
    stitches: float
    thread: PieceThread
    hand_change_m: float
    policy: BobbinPolicy
    policy_saves: float
    waste_m: float
    bobbins: tuple[tuple[str, BobbinRun], ...]
    bobbin_changes: tuple[int, float]
    winding_s: float
    backing_wanted: Wanted | None
    second_wanted: Wanted | None
    topping_wanted: Wanted | None
    sheets: tuple[SheetCut, ...]
    events: tuple[Event, ...]
    machine_s: float
    attend_s: float
    practice: float
    hand_s: float

    @property
    def pieces(self) -> int:
        """Pieces in the pass."""
        return self.loads.pieces

    @property
    def backing(self) -> Cut | None:
        """The backing's cut."""
        return self.backing_wanted.cut() if self.backing_wanted else None

    @property
    def second(self) -> Cut | None:
        """The cut of the second kind of backing."""
        return self.second_wanted.cut() if self.second_wanted else None

    @property
    def topping(self) -> Cut | None:
        """The topping's cut."""
        return self.topping_wanted.cut() if self.topping_wanted else None

    @property
    def kept_m(self) -> float:
        """Left on its bobbins and kept. [m]"""
        return max(0.0, sum(run.rest_m for _, run in self.bobbins) - self.waste_m)

    @property
    def needle_m(self) -> float:
        """Needle thread of a piece, what hand changes draw out included. [m]"""
        return sum(self.thread.needle_m) + self.hand_change_m

    @property
    def bobbin_m(self) -> float:
        """Bobbin thread of a piece. [m]"""
        return sum(self.thread.bobbin_m)


@record
class _Bobbins:
    """A pass's bobbins: (thread, run) each, stops to change, seconds each, and by which policy."""

    runs: list[tuple[str, BobbinRun]]
    changes: int
    change_s: float
    policy: BobbinPolicy
    saves: float = 0.0


def share_of(done: Pass, pieces: int) -> Pass:
    """Take a line's share of its batch's pass: the same means, over so many of its pieces."""
    if pieces == done.pieces:
        return done
    part = pieces / done.pieces
    loads = done.loads
    scaled = Loads(
        pieces,
        loads.heads,
        loads.cycles * part,
        loads.hoopings * part,
        loads.gaps * part,
        loads.renames * part,
        loads.abreast,
    )
    return Pass(
        scaled,
        part,
        done.stitches,
        done.thread,
        done.hand_change_m,
        done.policy,
        done.policy_saves,
        done.waste_m * part,
        done.bobbins,
        done.bobbin_changes,
        done.winding_s,
        done.backing_wanted,
        done.second_wanted,
        done.topping_wanted,
        done.sheets,
        done.events,
        done.machine_s,
        done.attend_s,
        done.practice,
        done.hand_s,
    )


def _bobbins_alike(making: Making) -> tuple[str | int, ...]:
    """What a pass's bobbins depend on beside its thread and its loads."""
    layout = making.layout
    ids = making.bobbin, making.bobbin_policy, making.machine_id, making.thread_id
    return *ids, layout.copies, layout.pieces


_BY_HAND_ALONE = {"marking", "choices", "laid", "under"}
"""What of a making changes nothing but the hands' time, and what follows from the rest."""
_made_by = attrgetter(*(f.name for f in fields(Making) if f.name not in _BY_HAND_ALONE))
_sewn_by = attrgetter(
    "thread", "needle_s", "steps", "shares", "backing_cutters", "second_cutters", "topping_cutters"
)


def _sewn_alike(one: PlacementPlan, other: PlacementPlan) -> bool:
    """Whether only what hands do beside the machine differs: all else is the very same."""
    return all(map(is_, _sewn_by(one), _sewn_by(other))) and all(
        map(is_, _made_by(one.making), _made_by(other.making))
    )


class Passes:
    """A placement's passes at any number of pieces, each worked out once.

    Parameters
    ----------
    plan : PlacementPlan
    house : House
    like : Passes, optional
        Of a placement made a little otherwise: what thread and bobbins come to is taken from it
        where they are the same.
    """

    def __init__(self, plan: PlacementPlan, house: House, *, like: Passes | None = None):
        self.plan, self.house = plan, house
        self._rename_share = plan.own.rename_share if plan.own else 0.0
        self._known: dict[tuple[int, bool], Pass] = {}
        # the same at most quantities: by hoopings and gaps a piece, by what of the loads is shared
        self._thread: dict[tuple[float, float], PieceThread] = {}
        self._wound: dict[Loads, _Bobbins] = {}
        self._steady: dict[tuple[float, float, float, float], tuple[Event, ...]] = {}
        if like is not None and like.plan.thread is plan.thread:
            one, other = plan.making, like.plan.making
            if one.layout.copies == other.layout.copies:
                self._thread = like._thread
            if _bobbins_alike(one) == _bobbins_alike(other):
                self._wound = like._wound
        self._sewn_as = like if like is not None and _sewn_alike(plan, like.plan) else None

    def of(self, pieces: int, *, practised: bool = True) -> Pass:
        """Work a pass out.

        Parameters
        ----------
        pieces : int
            1 or more.
        practised : bool
            False for a sample: every task takes as long as the first time.

        Returns
        -------
        Pass
            Means per piece. [s, m]

        Source
        ------
        docs/formulas.md 2 to 8 and 14.
        """
        known = self._known.get((pieces, practised))
        if known is None:
            known = self._known[pieces, practised] = self._work_out(pieces, practised=practised)
        return known

    def in_batch(self, whole: Pass, pieces: int) -> Pass:
        """Work out a line's own names as they are sewn in the batch of several lines.

        What goes by the name is the line's own; loading, practice, bobbins and cuts are its share
        of the batch's.

        Parameters
        ----------
        whole : Pass
            The batch's, of all its names.
        pieces : int
            Of the line.
        """
        bobbins = _Bobbins(list(whole.bobbins), *whole.bobbin_changes, whole.policy)
        own = self._made(whole.loads, whole.practice, bobbins)
        own = replace(
            own,
            policy_saves=whole.policy_saves,
            waste_m=whole.waste_m,
            backing_wanted=whole.backing_wanted,
            second_wanted=whole.second_wanted,
            topping_wanted=whole.topping_wanted,
            sheets=whole.sheets,
        )
        return share_of(own, pieces)

    def _hands_s(self, practice: float, hoopings: float) -> float:
        """What hands do beside the machine, a piece; `hoopings` of one. [s]"""
        each, each_practised, load, load_practised = self.plan.hand_s
        return each + each_practised * practice + (load + load_practised * practice) * hoopings

    def _work_out(self, pieces: int, *, practised: bool) -> Pass:
        if self._sewn_as:
            known = self._sewn_as.of(pieces, practised=practised)
            hoopings = known.loads.hoopings / pieces
            return replace(known, hand_s=self._hands_s(known.practice, hoopings) + known.winding_s)
        loads = self._loads(pieces)
        practice = 1.0
        if practised:
            practice = mean_practice(round(loads.hoopings), practice=self.house.practice)
        return self._made(loads, practice, None, sample=not practised)

    def _made(
        self, loads: Loads, practice: float, bobbins: _Bobbins | None, *, sample: bool = False
    ) -> Pass:
        """Make the pass of some loads; without bobbins of a batch, its own are planned.

        A sample sews from the run's bobbins: none is wound for it.
        """
        plan, house, making, pieces = self.plan, self.house, self.plan.making, loads.pieces
        hoopings = loads.hoopings / pieces
        thread = self._thread_of(hoopings, loads.gaps / pieces)
        bobbins = bobbins or self._wound.get(loads)
        if bobbins is None:
            bobbins = self._wound[loads] = self._bobbins(loads, thread)
        runs, changes, change_s = bobbins.runs, bobbins.changes, bobbins.change_s
        by_hand = self._hand_changes(loads)
        tail_mm = house.thread_use.hand_change_mm * house.thread_use.factor_needle
        winding = 0.0 if sample else self._winding_s(runs, pieces)
        events = pass_events(
            making,
            house,
            shares=plan.shares,
            loads=loads,
            steady=self._steady_of(loads),
            by_hand=by_hand,
            practice=practice,
            bobbin_changes=changes,
            bobbin_change_s=change_s,
            sample=sample,
        )
        filled = round(loads.hoopings)
        return Pass(
            loads=loads,
            share=1.0,
            stitches=self._stitches(hoopings),
            thread=thread,
            hand_change_m=tail_mm / 1000 * by_hand / pieces,
            policy=bobbins.policy,
            policy_saves=bobbins.saves,
            waste_m=self._waste_m(runs),
            bobbins=tuple(runs),
            bobbin_changes=(changes, change_s),
            winding_s=winding,
            backing_wanted=want(plan.backing_cutters, filled * making.layers)
            if making.backing and not plan.shares
            else None,
            second_wanted=want(plan.second_cutters, filled * making.second_layers)
            if making.second and not plan.shares
            else None,
            topping_wanted=want(plan.topping_cutters, filled)
            if making.topping and not plan.shares
            else None,
            sheets=self._sheet_cuts(loads),
            events=tuple(events),
            machine_s=sum([e.machine_s for e in events]),
            attend_s=sum([e.operator_s for e in events]),
            practice=practice,
            hand_s=self._hands_s(practice, hoopings) + winding,
        )

    def _loads(self, pieces: int) -> Loads:
        own = self.plan.own
        return loads_of(
            self.plan.making,
            pieces,
            own_designs=own is not None,
            rename_share=self._rename_share,
        )

    def _stitches(self, hoopings: float) -> float:
        """Of a piece, basting included."""
        plan = self.plan
        return plan.facts.stitches * plan.making.layout.copies + plan.baste_stitches * hoopings

    def _thread_of(self, hoopings: float, gaps: float) -> PieceThread:
        found = self._thread.get((hoopings, gaps))
        if found is None:
            copies = self.plan.making.layout.copies
            found = piece_thread(self.plan.thread, copies=copies, hoopings=hoopings, gaps=gaps)
            self._thread[hoopings, gaps] = found
        return found

    def _steady_of(self, loads: Loads) -> tuple[Event, ...]:
        plan, n = self.plan, loads.pieces
        shared = (loads.cycles / n, loads.abreast, loads.gaps / n, loads.hoopings / n)
        found = self._steady.get(shared)
        if found is None:
            found = self._steady[shared] = steady_events(
                plan.making,
                plan.facts,
                self.house,
                loads=loads,
                stitches=self._stitches(loads.hoopings / n),
                needle_s=sum(plan.needle_s) * plan.making.layout.copies,
                baste_s=plan.baste_s,
                gap_s=plan.gap_s,
                steps=plan.steps,
            )
        return found

    def _hand_changes(self, loads: Loads) -> int:
        if self.plan.making.machine.auto_change:
            return self.plan.needles.changes(round(loads.cycles))
        return hand_changes(self.plan.facts, round(loads.cycles))

    def _winding_s(self, runs: list[tuple[str, BobbinRun]], pieces: int) -> float:
        """Winding bobbins, a piece's share: those that match, and those not bought wound. [s]"""
        making = self.plan.making
        if making.bobbin != "match" and self.house.bobbins[making.machine.bobbin].prewound:
            return 0.0
        return self.house.tasks["wind-bobbin"].seconds * sum(r.count for _, r in runs) / pieces

    def _run_of(
        self, loads: Loads, use_m: float, capacity_m: float, policy: BobbinPolicy
    ) -> BobbinRun:
        """Plan one thread's bobbins; several pieces in a hooping change between hoopings."""
        layout = self.plan.making.layout
        units, each = loads.pieces, layout.pieces
        if each > 1:
            units = round(loads.hoopings)
        run = plan_bobbins(
            use_m * loads.pieces / units,
            pieces=units,
            capacity_m=capacity_m,
            policy=policy,
            plan=self.house.bobbin_plan,
            heads=loads.heads,
        )
        return run if each == 1 else replace(run, pieces_per_bobbin=run.pieces_per_bobbin * each)

    def _bobbins(self, loads: Loads, thread: PieceThread) -> _Bobbins:
        """Plan a pass's bobbins, by the policy chosen or the cheaper one."""
        making = self.plan.making
        by = self._matching if making.bobbin == "match" else self._one_thread
        asked = making.bobbin_policy
        if asked != "cheaper":
            return by(loads, thread, asked)
        between = by(loads, thread, "between-pieces")
        if not any(run.changes for _, run in between.runs):  # each bobbin lasts
            return between
        out = by(loads, thread, "run-out")
        saves = self._reckoned(out) - self._reckoned(between)
        return replace(between, saves=saves) if saves >= 0 else replace(out, saves=-saves)

    def _reckoned(self, bobbins: _Bobbins) -> float:
        """What a policy costs in thread and time, every rest at full cost. [money]

        Source: docs/formulas.md 3.
        """
        making, rates = self.plan.making, self.house.rates
        kind = self.house.bobbins[making.machine.bobbin]
        opened = sum(run.count for _, run in bobbins.runs)
        by_hand = making.bobbin == "match" or not kind.prewound
        winding_s = self.house.tasks["wind-bobbin"].seconds * opened if by_hand else 0.0
        of_hands = float(rates.labour_per_h + rates.overhead_per_h)
        an_hour = of_hands + float(making.machine.rate_per_h)
        changes_s = bobbins.changes * bobbins.change_s
        money = opened * float(kind.price)
        if making.bobbin == "match":
            wound_m = sum(run.capacity_m * run.count for _, run in bobbins.runs)
            money = wound_m * float(self.house.thread_price_per_m(making.thread_id))
        return money + (winding_s * of_hands + changes_s * an_hour) / 3600

    def _waste_m(self, runs: Sequence[tuple[str, BobbinRun]]) -> float:
        """Bobbin ends too short for the shelf; what was wound with needle thread goes back. [m]"""
        if self.plan.making.bobbin == "match":
            return 0.0
        return sum(run.waste_m(self.house.bobbin_plan.shelf_m) for _, run in runs)

    def _one_thread(self, loads: Loads, thread: PieceThread, policy: BobbinPolicy) -> _Bobbins:
        plan, making = self.plan, self.plan.making
        full_m = self.house.bobbins[making.machine.bobbin].capacity_m
        if len(plan.own_bobbin_m) == loads.pieces:
            run = plan_own_bobbins(
                plan.own_bobbin_m, capacity_m=full_m, policy=policy, plan=self.house.bobbin_plan
            )
        else:
            run = self._run_of(loads, sum(thread.bobbin_m), full_m, policy)
        return _Bobbins([(making.bobbin, run)], run.changes, run.change_s, policy)

    def _matching(self, loads: Loads, thread: PieceThread, policy: BobbinPolicy) -> _Bobbins:
        """Plan a bobbin a thread, changed wherever the thread changes, and where one runs out.

        Source: docs/formulas.md 3 and 14: 90 s inside a piece, 40 s between pieces.
        """
        plan, making, rules = self.plan, self.plan.making, self.house.bobbin_plan
        full_m = self.house.bobbins[making.machine.bobbin].capacity_m
        capacity = bobbin_capacity_m(full_m, tex=making.thread.tex)
        use: dict[str, float] = {}
        for key, metres in zip(plan.facts.colour_keys, thread.bobbin_m, strict=True):
            use[key] = use.get(key, 0.0) + metres
        each = {m: self._run_of(loads, m, capacity, policy) for m in dict.fromkeys(use.values())}
        runs = [(key, each[metres]) for key, metres in use.items()]
        if len(runs) == 1:
            return _Bobbins(runs, runs[0][1].changes, runs[0][1].change_s, policy)
        within, between = thread_changes(plan.facts, round(loads.cycles))
        keys = plan.facts.colour_keys
        for key, run in runs:
            if run.pieces_per_bobbin == 0:  # it runs out inside its colour
                within += run.changes
            elif key == keys[0] == keys[-1]:  # the next piece goes on with it
                between += run.changes
        changes = within + between
        seconds = within * rules.change_within_s + between * rules.change_between_s
        extra = rules.extra_head_s * (loads.heads - 1)
        return _Bobbins(runs, changes, seconds / changes + extra, policy)

    def _sheet_cuts(self, loads: Loads) -> tuple[SheetCut, ...]:
        found = []
        for sheet, tried in zip(self.plan.steps.sheets, self.plan.sheet_cutters, strict=True):
            units = round(loads.hoopings) if sheet.per_hooping else loads.pieces
            count = units * sheet.count
            key = (sheet.material, sheet.width_mm, sheet.height_mm, sheet.grain)
            found.append(SheetCut(key, count, cut_from_best(tried, count), 1.0))
        return tuple(found)


def patches_of(passes: Sequence[Pass]) -> dict[PatchKey, int]:
    """Count the patches of some passes by material and size."""
    found: dict[PatchKey, int] = {}
    for laid in (laid for done in passes for laid in done.sheets):
        found[laid.key] = found.get(laid.key, 0) + laid.count
    return found


def cut_together(
    passes: tuple[Pass, ...], plans: Sequence[PlacementPlan], elsewhere: Mapping[PatchKey, int]
) -> tuple[Pass, ...]:
    """Cut equal patches of one material in one go, over placements, steps and other lines.

    Parameters
    ----------
    passes : tuple of Pass, shape (n_placements,)
        With their patches cut each by itself.
    plans : sequence of PlacementPlan, shape (n_placements,)
    elsewhere : mapping of PatchKey to int
        Patches that the order's other lines need.

    Returns
    -------
    tuple of Pass
        Each patch with its share of the cut.

    Source
    ------
    docs/formulas.md 4: cut over the whole order; other sizes lie in rows of their own.
    """
    if not any(done.sheets for done in passes):
        return passes
    needed = patches_of(passes)
    if all(
        laid.count == needed[laid.key] and laid.key not in elsewhere
        for done in passes
        for laid in done.sheets
    ):
        return passes
    found = []
    for done, plan in zip(passes, plans, strict=True):
        sheets = []
        for laid, tried in zip(done.sheets, plan.sheet_cutters, strict=True):
            whole = needed[laid.key] + elsewhere.get(laid.key, 0)
            sheets.append(replace(laid, cut=cut_from_best(tried, whole), share=laid.count / whole))
        found.append(replace(done, sheets=tuple(sheets)))
    return tuple(found)
