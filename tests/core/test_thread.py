"""Thread, stitch plans and bobbins: the handbook's worked examples, and what follows from them."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.house.check import default_house
from clothyard.core.limits import MAX_STITCHES
from clothyard.core.stitches.count import count_facts
from clothyard.core.stitches.facts import DesignFacts, analyse, recoloured
from clothyard.core.stitches.stitch_plan import (
    CHANGE,
    FLOW,
    JUMP,
    STOP,
    TRIM,
    StitchPlan,
    plan_from_records,
)
from clothyard.core.thread.bare import bare_sums_m
from clothyard.core.thread.bobbins import bobbin_capacity_m, bobbin_ends, plan_bobbins
from clothyard.core.thread.use import (
    basting_stitches,
    design_thread,
    metres_of_weight,
    piece_thread,
)

RULES = default_house().bobbin_plan


def plan_of(records: list[tuple[float, float, int]], colours: tuple = (None,)) -> StitchPlan:
    x, y, kinds = (np.array(column) for column in zip(*records, strict=True))
    return plan_from_records(
        x.astype(float), y.astype(float), kinds.astype(np.int8), colour_of_change=colours
    )


def facts_of(points: list[tuple[float, float]]) -> DesignFacts:
    return analyse(plan_of([(x, y, FLOW) for x, y in points]))


@pytest.mark.parametrize(
    ("points", "needle", "bobbin"),
    [
        pytest.param(
            [(0, 0), (3, 0.1), (0, 0.2), (3, 0.3), (0, 0.4)],
            26.007,
            6.015,
            id="handbook: a satin of 3 mm",
        ),
        pytest.param(
            [(0, 0), (2.5, 0), (5, 0), (7.5, 0)],
            13.9,
            7.5,
            id="handbook: 7.5 + 4 x 1.6, no loops on a straight line",
        ),
        pytest.param(
            [(0, 0), (20, 0), (20, 3)],
            23 + 3 * 1.6,
            23,
            id="by hand: both ends of a segment over 12.7 mm stay put",
        ),
    ],
)
def test_bare_sums(points, needle, bobbin):
    [(n, b)] = bare_sums_m(facts_of(points), thickness_mm=0.8)
    assert n * 1000 == pytest.approx(needle, abs=5e-4)
    assert b * 1000 == pytest.approx(bobbin, abs=5e-4)


def count_8200(**changes):
    kinds = default_house().kinds
    kind = changes.pop("kind", "mixed")
    known = {"colours": 3, "width_mm": 85.0, "height_mm": 60.0, "trims": 9} | changes
    return count_facts(
        8200,
        kind=kind,
        mean_stitch_mm=kinds[kind].mean_stitch_mm,
        satin_share=kinds[kind].satin_share,
        **known,
    )


def test_thread_of_a_count():
    """Handbook: 8,200 mixed on piqué with a cut-away and film, t = 1.19."""
    thread = piece_thread(
        design_thread(
            count_8200(),
            thickness_mm=1.19,
            use=default_house().thread_use,
            auto_trim=True,
            baste_stitches=0,
            baste_stitch_mm=6,
        )
    )
    assert thread.needle_parts_m["bare"] == pytest.approx(49.364, abs=1e-9)
    assert thread.bobbin_parts_m["bare"] == pytest.approx(16.072, abs=1e-9)
    assert [round(thread.needle_parts_m[k], 3) for k in ("wrap", "trims", "tails")] == [
        2.050,
        0.360,
        0.180,
    ]
    assert sum(thread.needle_m) == pytest.approx(51.954, abs=1e-9)
    assert sum(thread.bobbin_m) == pytest.approx(21.9624, abs=1e-9)


def test_basting_and_untrimmed_floats_by_hand():
    """A rectangle 4 mm outside 85 x 60: 2 (93 + 68) / 6 = 53.67, so 54 stitches."""
    assert basting_stitches(85, 60, default_house().basting) == 54
    records = [(0, 0, FLOW), (3, 0, FLOW), (0, 0, TRIM), (13, 0, FLOW), (16, 0, FLOW)]
    facts = analyse(plan_of(records))
    use = default_house().thread_use
    cut, uncut = (
        piece_thread(
            design_thread(
                facts, thickness_mm=1, use=use, auto_trim=auto, baste_stitches=0, baste_stitch_mm=6
            )
        )
        for auto in (True, False)
    )
    assert cut.needle_parts_m["bare"] * 1000 == pytest.approx(6 + 4 * 2)
    assert uncut.needle_parts_m["bare"] * 1000 == pytest.approx(16 + 4 * 2)  # 10 mm of float
    assert (cut.needle_parts_m["trims"], uncut.needle_parts_m["trims"]) == (0.040, 0)
    basted = piece_thread(
        design_thread(
            facts, thickness_mm=1, use=use, auto_trim=True, baste_stitches=54, baste_stitch_mm=6
        )
    )
    added = basted.needle_m[0] - cut.needle_m[0]
    assert added * 1000 == pytest.approx(54 * (6 + 2 + 0.25))


@pytest.mark.parametrize(
    ("change", "width", "height", "trims", "length"),
    [
        ({"width_mm": None, "height_mm": None, "trims": None}, 71.589, 71.589, 8, 2.8),
        ({"width_mm": 100.0, "height_mm": None}, 100, 51.25, 9, 2.8),
        ({"kind": "lettering", "letter_height_mm": 10.0}, 85, 60, 9, 1.5),
        ({"kind": "lettering", "letter_height_mm": 5.0}, 85, 60, 9, 1.1),
    ],
)
def test_what_a_count_leaves_open(change, width, height, trims, length):
    facts = count_8200(**change)
    assert facts.width_mm == pytest.approx(width, abs=1e-3)
    assert facts.height_mm == pytest.approx(height, abs=1e-3)
    assert (facts.trims, facts.band) == (trims, 0.10)
    assert facts.blocks[0].lengths.mm[0] == pytest.approx(length)
    assert [b.stitches for b in facts.blocks] == [2734, 2733, 2733]


def test_weight_to_length():
    assert metres_of_weight(3.4, tex=27) == pytest.approx(125.926, abs=1e-3)


# stitch plans ------------------------------------------------------------------------------


def test_plan_reads_records_as_the_contract_says():
    records = [
        (9, 9, TRIM),
        (9, 9, CHANGE),
        (5, 5, JUMP),  # leading: ignored, but colour 1 is on
        (0, 0, FLOW),
        (3, 0, FLOW),
        (6, 0, FLOW),
        (20, 0, JUMP),
        (30, 0, JUMP),
        (36, 0, FLOW),
        (39, 0, FLOW),  # one jump of 30
        (39, 0, TRIM),
        (39, 0, TRIM),
        (50, 0, JUMP),
        (51, 0, FLOW),
        (54, 0, FLOW),  # one trim
        (54, 0, STOP),
        (54, 0, TRIM),
        (57, 0, FLOW),
        (60, 0, FLOW),  # the stop's own cut
        (60, 0, TRIM),
        (60, 0, CHANGE),
        (60, 0, CHANGE),
        (60, 0, FLOW),
        (60, 2, FLOW),
        (60, 2, TRIM),
        (0, 0, JUMP),
        (0, 0, CHANGE),  # trailing
    ]
    facts = analyse(plan_of(records, ("#000000", "#111111", "#222222", "#333333", "#444444")))
    assert (facts.stitches, facts.colour_changes) == (11, 1)
    assert (facts.trims, facts.jumps, facts.stops) == (1, 1, 1)
    assert [block.colour for block in facts.blocks] == ["#111111", "#333333"]
    assert (facts.width_mm, facts.height_mm) == (60, 2)
    assert facts.longest_stitch_mm == 3  # a float is no stitch
    first = facts.blocks[0]
    assert (first.jump_turns, first.clips, first.trim_gap_mm) == (3, 1, 12)  # ⌈30 / 12⌉
    # the first of each of 3 runs, and the one after the jump, have length 0
    assert dict(zip(first.lengths.mm, first.lengths.count, strict=True)) == {0.0: 4, 3.0: 5}


def test_narrow_satin_is_told_apart():
    zigzag = [(0.2 * i, (i % 2) * 1.2) for i in range(10)]
    straight = [(0.2 * 9 + 1.2 * i, 1.2) for i in range(1, 6)]
    facts = facts_of(zigzag + straight)
    narrow = facts.blocks[0].narrow
    # 9 zigzag stitches; the first has no turn before it, the last turns less after it
    assert sum(narrow.count) == 7
    assert narrow.mm == (pytest.approx(math.hypot(0.2, 1.2)),)


def test_density_and_short_stitches():
    spot = [(0.01 * (i % 7), 0.01 * (i % 11)) for i in range(150)]
    line = [(2.0 * i, 20.0) for i in range(40)]
    facts = facts_of([*spot, *line])
    assert facts.hottest_cell == 150
    assert facts.short_share == pytest.approx(146 / 183, abs=0.02)  # 3 locks at each end left out


@pytest.mark.parametrize(
    ("records", "says"),
    [
        ([(0, 0, JUMP)], "no stitches"),
        ([(0, 0, FLOW)], "no stitches"),
        ([(1, 1, FLOW)] * 5, "no size"),
        ([(0, 0, FLOW), (9_000, 0, FLOW)], "metres apart"),
        ([(0, 0, FLOW), (math.nan, 0, FLOW)], "metres apart"),
        ([(i % 50, 0, FLOW) for i in range(MAX_STITCHES + 1)], "500,000 is the most"),
    ],
)
def test_plans_that_are_none(records, says):
    with pytest.raises(BadInput, match=says):
        plan_of(records)


def test_plans_are_read_only():
    plan = plan_of([(0, 0, FLOW), (1, 0, FLOW)])
    with pytest.raises(ValueError, match="read-only"):
        plan.points_mm[0, 0] = 5


def test_own_colours_lie_over_the_files():
    facts = count_8200()
    assert [b.colour for b in recoloured(facts, ("#aabbcc",)).blocks] == ["#aabbcc", None, None]


def test_facts_survive_being_kept():
    facts = facts_of([(0.1 * i, (i % 3) * 0.7) for i in range(200)])
    assert DesignFacts.model_validate_json(facts.model_dump_json()) == facts


# bobbins -----------------------------------------------------------------------------------


def test_bobbins_run_out():
    """Handbook: 24 pieces at 16.6 m; ends in pieces 7, 14 and 20."""
    full = RULES.model_copy(update={"fill": 1})
    run = plan_bobbins(16.6, pieces=24, capacity_m=110, policy="run-out", plan=full)
    assert (run.count, run.pieces_per_bobbin, run.changes, run.change_s) == (4, 0, 3, 90)
    ends = bobbin_ends([[16.6]], pieces=24, capacity_m=110)
    assert [(piece, round(into, 1)) for piece, _, into in ends] == [
        (7, 10.4),
        (14, 4.2),
        (20, 14.6),
    ]


@pytest.mark.parametrize(
    ("fill", "per_bobbin", "count", "left"), [(0.95, 6, 4, 10.4), (0.85, 5, 5, 27.0)]
)
def test_bobbins_between_pieces(fill, per_bobbin, count, left):
    rules = RULES.model_copy(update={"fill": fill})
    run = plan_bobbins(16.6, pieces=24, capacity_m=110, policy="between-pieces", plan=rules)
    assert (run.pieces_per_bobbin, run.count) == (per_bobbin, count)
    assert run.left_m == pytest.approx(left)
    assert (run.changes, run.change_s) == (count - 1, 40)


def test_bobbin_too_small_for_a_piece():
    run = plan_bobbins(100, pieces=3, capacity_m=110, policy="between-pieces", plan=RULES)
    assert (run.pieces_per_bobbin, run.count, run.change_s) == (0, 4, 90)  # 300 / 93.5
    assert [e[:2] for e in bobbin_ends([[40, 60]], pieces=3, capacity_m=110)] == [(2, 1), (3, 1)]


def test_bobbins_on_several_heads_by_hand():
    """24 pieces on 4 heads: 6 a head, 5 a bobbin: 2 a head, 8 in all, one stop of 40 + 3 x 30."""
    run = plan_bobbins(
        16.6, pieces=24, capacity_m=110, policy="between-pieces", plan=RULES, heads=4
    )
    assert (run.count, run.changes, run.change_s) == (8, 1, 130)


def test_matching_bobbin_holds_less():
    assert bobbin_capacity_m(110, tex=27) == pytest.approx(65.185, abs=1e-3)


@given(
    use=st.floats(0.01, 300),
    pieces=st.integers(1, 500),
    policy=st.sampled_from(["between-pieces", "run-out"]),
)
def test_bobbins_always_cover_the_run(use, pieces, policy):
    run = plan_bobbins(use, pieces=pieces, capacity_m=110, policy=policy, plan=RULES)
    assert run.count * 110 >= pieces * use - 1e-3
    assert run.changes == run.count - 1
    if run.pieces_per_bobbin:
        assert run.count * run.pieces_per_bobbin >= pieces
