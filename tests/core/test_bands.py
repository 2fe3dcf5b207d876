"""Borders: sides between corners, where they begin, what is over, joints; quilts block by block."""

import itertools

import pytest

from clothyard.core.cloth.layout import block_order, lay_band, lie_band
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Band, Blocks
from tests.conftest import polos

HOOP = default_house().hoops["130x180"]


def laid(motif=(90, 40), **band):
    asked = Band(**band)
    layout = lay_band(asked, motif, HOOP, 0)
    return layout, lie_band(asked, layout, motif[0])


def test_a_joined_border_of_nine_repeats():
    """9 × 90 = 810 with no gap; two to a hooping, 180 long: five hoopings, four joints."""
    layout, lie = laid(length_mm=810, gap_mm=0)
    assert (layout.copies, layout.hoopings, layout.joints) == (9, 5, 4)
    assert lie.starts_mm == pytest.approx([90 * k for k in range(9)])
    assert lie.hoopings == (0, 0, 1, 1, 2, 2, 3, 3, 4)


@pytest.mark.parametrize(
    ("band", "starts", "left"),
    [
        ({"length_mm": 250, "fill": True}, [0, 160], 0),
        ({"length_mm": 250, "fill": False}, [30, 130], 60),
        ({"length_mm": 250, "fill": False, "start": "end"}, [0, 100], 60),
        ({"length_mm": 100, "fill": True}, [5], 0),  # one is centred
        ({"length_mm": 200, "closed": True}, [0, 100], 0),
    ],
)
def test_where_a_border_begins_and_what_is_over(band, starts, left):
    _, lie = laid(**band)
    assert lie.starts_mm == pytest.approx(starts)
    assert lie.left_mm == pytest.approx(left)


def test_a_motif_is_turned_onto_each_corner():
    """A cloth of 4 × 500: 500 − 2 × 55 = 390 a side: 4 motifs, with gaps of 10 filled: 10."""
    layout, lie = laid(length_mm=2000, closed=True, corners=4)
    assert (layout.copies, layout.hoopings) == (4 * 4 + 4, 4 * 4 + 4)
    assert layout.joints == layout.hoopings  # a ring: the last one meets the first
    assert lie.corners_mm == (0, 500, 1000, 1500)
    assert lie.starts_mm[:2] == pytest.approx((-45, 55))
    assert len(lie.starts_mm) == layout.copies


def test_mitred_corners_are_one_more_joint_each():
    plain, _ = laid(length_mm=1000)
    layout, lie = laid(length_mm=1000, corners=1, corner="mitred")
    assert (plain.copies, plain.joints) == (10, 9)
    assert (layout.copies, layout.hoopings, layout.joints) == (10, 10, 10)
    assert lie.corners_mm == (500,)


@pytest.mark.parametrize("corners", [0, 1, 2, 3, 4])
@pytest.mark.parametrize("corner", ["turned", "mitred"])
@pytest.mark.parametrize("closed", [False, True])
@pytest.mark.parametrize("fill", [False, True])
def test_motifs_never_lie_over_each_other_nor_beyond_the_ends(corners, corner, closed, fill):
    layout, lie = laid(length_mm=1500, closed=closed, corners=corners, corner=corner, fill=fill)
    starts = sorted(lie.starts_mm)
    assert len(starts) == layout.copies
    assert all(b - a >= 90 - 1e-6 for a, b in itertools.pairwise(starts))
    low = -45 if closed and corners and corner == "turned" else 0
    assert starts[0] >= low - 1e-6
    assert starts[-1] + 90 <= 1500 + 1e-6
    assert max(lie.hoopings) + 1 == layout.hoopings


def test_a_quilt_is_sewn_from_the_middle_outwards_or_row_by_row():
    out = block_order(Blocks(columns=3, rows=3))
    assert out[0] == (1, 1)
    assert out[1] == (1, 0)  # then round it with the clock
    assert out[2] == (2, 0)
    assert sorted(out) == sorted(itertools.product(range(3), range(3)))
    rows = block_order(Blocks(columns=3, rows=2, order="rows"))
    assert rows == [(0, 0), (1, 0), (2, 0), (0, 1), (1, 1), (2, 1)]


def test_a_border_is_told_where_it_is_drawn_and_refused_where_corners_leave_no_room():
    band = {"length_mm": 1500, "corners": 2}
    changes = {
        "goods__class": "table-runner",
        "placement__position": "border",
        "placement__band": band,
    }
    line = estimate(job_from(polos(**changes)), default_house(), {}, compare=False).lines[0]
    drawn = line.places[0].band
    assert (drawn.length_mm, drawn.motif_mm, drawn.corners_mm) == (1500, 85, [500, 1000])
    assert len(drawn.starts_mm) == line.places[0].hooping.copies
    band["corners"] = 8
    line = estimate(job_from(polos(**changes)), default_house(), {}, compare=False).lines[0]
    assert any(a.code == "band-short" and "between its corners" in a.message for a in line.advice)
