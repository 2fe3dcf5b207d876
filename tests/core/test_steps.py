"""What hands do between the blocks and after sewing: seconds, patches, their order; by hand."""

import pytest

from clothyard.core.errors import SeveralBadInputs
from clothyard.core.estimate.make import estimate
from clothyard.core.job.check import job_from
from tests.conftest import polos
from tests.core.random_jobs import HOUSE

LAY = {"do": "lay", "after_block": 0, "sheet": "fabric", "width_mm": 120, "height_mm": 90}
TRIM = {"do": "trim", "after_block": 1, "outline_mm": 400}
TURN = {"do": "turn", "after_block": 1}
UNDER = LAY | {"after_block": 1, "side": "under"}


def priced(*steps, **changes):
    """The worked order with steps; its first line and place."""
    job = polos(placement__steps=list(steps), **changes)
    return estimate(job_from(job), HOUSE, {}, compare=False).lines[0]


def said(line, code):
    return [advice for advice in line.advice if advice.code == code]


@pytest.mark.parametrize(
    ("step", "seconds", "when"),
    [
        (LAY, 20, "before the first block"),
        (LAY | {"count": 3}, 60, "before the first block"),
        (TRIM, 0.35 * 400, "after block 1"),
        ({"do": "tack", "after_block": 1}, 15, "after block 1"),
        (TURN, 30, "after block 1"),
        ({"do": "tape", "after_block": 2}, 10, "after block 2"),
        ({"do": "press", "after_block": 3}, 30, "after the last block"),
        ({"do": "insert", "after_block": 1, "hardware": "zip"}, 40, "after block 1"),
        ({"do": "cut-out", "outline_mm": 500}, 0.35 * 500, "after sewing"),
        ({"do": "cut-out", "outline_mm": 500, "straight": True}, 0.2 * 500, "after sewing"),
        ({"do": "punch", "count": 2}, 16, "after sewing"),
        ({"do": "turn-out"}, 30, "after sewing"),
        ({"do": "stuff"}, 60, "after sewing"),
        ({"do": "close", "outline_mm": 60}, 45 * 0.6, "after sewing"),
        ({"do": "tie", "hardware": "ribbon", "width_mm": 150}, 20 + 20, "after sewing"),
    ],
)
def test_a_step_takes_its_seconds_when_it_is_done(step, seconds, when):
    plain, line = priced(), priced(step)
    [done] = line.places[0].steps
    assert (done.seconds, done.piece_s, done.when) == (pytest.approx(seconds), done.seconds, when)
    stops = 0 if when == "after sewing" else 1
    more = (
        line.per_piece.hand_min
        + line.per_piece.attend_min
        - plain.per_piece.hand_min
        - plain.per_piece.attend_min
    ) * 60
    prepared = 40 * step.get("count", 1) if step["do"] == "lay" else 0
    assert more == pytest.approx(seconds + prepared, abs=1.3)
    machine = (line.per_piece.machine_min - plain.per_piece.machine_min) * 60
    assert machine == pytest.approx(seconds * stops, abs=0.7)
    labels = [minute.label for minute in line.minutes]
    assert done.label in labels  # in the minutes strip, too


def test_a_patch_is_cut_with_its_web_and_to_its_shape():
    step = LAY | {"web": "fusible-web", "precut": True, "outline_mm": 420}
    line = priced(step)
    sheets = {c.material: c for c in line.cuts if c.what == "sheet"}
    assert set(sheets) == {"fabric", "fusible-web"}
    assert [c.count for c in sheets.values()] == [24, 24]
    [done] = line.places[0].steps
    assert (done.piece_mm, done.count) == ([120, 90], 24)
    cutting = next(m for m in line.minutes if m.label == "Cut a patch to its shape")
    assert cutting.seconds == pytest.approx(0.2 * 420)


def test_the_grain_keeps_a_patch_from_being_turned():
    """140 × 400 of a 1,400 mm width: 10 across and 400 a row; turned 3 across, 140 a row."""
    rolls = {
        "fabric-1400": {
            "material": "fabric",
            "width_mm": 1400,
            "length_m": 10,
            "price": "90.00",
            "perforation_mm": 0,
        }
    }
    step = LAY | {"width_mm": 140, "height_mm": 400}
    house = {"rolls": {k: None for k, r in HOUSE.rolls.items() if r.material == "fabric"} | rolls}
    three = {"job__house": house, "line__quantity": 3}
    [free] = [c for c in priced(step, **three).cuts if c.what == "sheet"]
    assert (free.turned, free.across, free.length_mm) == (True, 3, 140)
    [kept] = [c for c in priced(step | {"grain": True}, **three).cuts if c.what == "sheet"]
    assert (kept.turned, kept.across, kept.length_mm) == (False, 10, 400)


ORDERS = [
    (
        "trim before tack-down",
        [LAY, TRIM | {"after_block": 0}],
        "nothing holds the patch yet",
        [0, 1],
    ),
    ("trim before anything", [TRIM | {"after_block": 0}, LAY], "before anything is laid", [0, 1]),
    ("laid last", [LAY | {"after_block": 3}], "nothing sews it down", [2]),
    ("under, unturned", [LAY, UNDER], "not turned", [0, 1, 1]),
    (
        "closed, then stuffed",
        [LAY, {"do": "close", "outline_mm": 60}, {"do": "stuff"}],
        "It is closed before it is stuffed",
        [0, None, None],
    ),
    (
        "stuffed, then turned",
        [LAY, {"do": "stuff"}, {"do": "turn-out"}],
        "It is stuffed before it is turned out",
        [0, None, None],
    ),
]


@pytest.mark.parametrize(
    ("steps", "message", "times"), [o[1:] for o in ORDERS], ids=[o[0] for o in ORDERS]
)
def test_a_wrong_order_is_told_with_the_right_one(steps, message, times):
    [advice] = said(priced(*steps), "step-order")
    assert message in advice.message
    [patch] = advice.apply
    assert patch["path"] == "/lines/0/placements/0/steps"
    line = priced(*patch["value"])
    assert said(line, "step-order") == []
    assert [step.get("after_block") for step in patch["value"]] == times
    kinds = sorted(step["do"] for step in [*steps, *([TURN] if "turned for" in message else [])])
    assert sorted(s["do"] for s in patch["value"] if s["do"] != "turn") == [
        kind for kind in kinds if kind != "turn"
    ]  # nothing is lost


@pytest.mark.parametrize(
    "steps",
    [
        [LAY, TRIM],
        [LAY, TURN, UNDER, TRIM | {"after_block": 2}],
        [
            LAY,
            TRIM,
            {"do": "cut-out", "outline_mm": 90},
            {"do": "turn-out"},
            {"do": "stuff"},
            {"do": "close", "outline_mm": 60},
            {"do": "press"},
        ],
        [LAY | {"side": "under"}, TRIM],  # before the hoop is on the machine it is not turned
    ],
)
def test_a_right_order_is_left_alone(steps):
    assert said(priced(*steps), "step-order") == []


def test_a_raw_edge_of_what_frays_is_told_unless_it_is_fused():
    raw = LAY | {"edge": "raw"}
    [advice] = said(priced(raw), "edge-frays")
    assert advice.apply[0]["value"] == "fusible-web"
    fused, felt = raw | {"web": "fusible-web"}, raw | {"sheet": "felt-sheet"}
    assert not any(said(priced(step), "edge-frays") for step in (fused, felt, LAY))


@pytest.mark.parametrize(
    ("step", "where", "what"),
    [
        ({"do": "lay", "after_block": 0, "sheet": "fabric"}, "steps[0].width_mm", "to lay"),
        (LAY | {"precut": True}, "steps[0].outline_mm", "to lay"),
        ({"do": "cut-out"}, "steps[0].outline_mm", "to cut out"),
        ({"do": "stuff", "after_block": 1}, "steps[0]", "out of the hoop"),
        ({"do": "tape"}, "steps[0]", "say when"),
        ({"do": "press", "after_block": 1, "at_stop": 1}, "steps[0]", "just one"),
    ],
)
def test_a_step_that_says_too_little_or_too_much_is_refused(step, where, what):
    with pytest.raises(SeveralBadInputs) as refused:
        priced(step)
    assert any(where in p.where and what in str(p) for p in refused.value.problems)
