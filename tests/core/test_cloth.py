"""Cutting and hoops: worked examples and properties."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.cloth.cutting import (
    cut_from_best,
    cutter,
    cutters,
    offcuts,
)
from clothyard.core.cloth.hoops import accepts, fit_in
from clothyard.core.cloth.layout import try_hoops
from clothyard.core.house.check import default_house
from clothyard.core.house.document import Roll, Sheet
from clothyard.core.job.document import Placement

HOUSE = default_house()


def cut_rectangles(cut):
    """Lay a cut's pieces out, to draw it.

    Yields
    ------
    (roll or sheet from 0, x_mm, y_mm, width_mm, length_mm)
        From the stock's left edge, and along it from where its cutting begins.
    """
    w, h = cut.piece_mm
    for i in range(cut.count):
        row, column = divmod(i, cut.across)
        of, row = divmod(row, cut.rows_each)
        yield of, column * w, row * cut.step_mm, w, h


def cut_from(width, height, *, count, stock_id, stock):
    return cutter(width, height, stock_id=stock_id, stock=stock).cut(count)


def roll(width, perforation=0, length=100, price="40.00"):
    return Roll(
        material="x", width_mm=width, length_m=length, price=price, perforation_mm=perforation
    )


@pytest.mark.parametrize(
    ("piece", "width", "perforation", "across", "rows", "length", "waste", "turned"),
    [
        pytest.param((180, 180), 500, 0, 2, 12, 2160, 0.28, False, id="handbook"),
        pytest.param((170, 240), 500, 0, 2, 12, 2040, 0.04, True, id="handbook: turned wins"),
        pytest.param((140, 140), 380, 200, 2, 12, 2400, None, False, id="perforated, 24 pieces"),
        pytest.param((135, 110), 500, 0, 4, 6, 810, None, True, id="handbook: topping"),
        pytest.param((110, 320), 110, 0, 1, 24, 7680, 0.0, False, id="cap: no other way round"),
    ],
)
def test_24_pieces(piece, width, perforation, across, rows, length, waste, turned):
    cut = cut_from(*piece, count=24, stock_id="r", stock=roll(width, perforation))
    assert (cut.across, cut.rows, cut.length_mm, cut.turned) == (across, rows, length, turned)
    assert cut.fits
    assert cut.rolls == 1
    if waste is not None:
        assert cut.waste == pytest.approx(waste, abs=0.005)


def test_handbook_perforated_dozen():
    cut = cut_from(140, 140, count=12, stock_id="r", stock=roll(380, 200))
    assert (cut.across, cut.rows, cut.length_mm) == (2, 6, 1200)


def test_rolls_to_open_by_hand():
    """4.5 m rolls, 200 mm steps: 22 rows each; 120 pieces 2 across are 60 rows, so 3 rolls."""
    cut = cut_from(140, 140, count=120, stock_id="r", stock=roll(380, 200, length=4.5))
    assert (cut.rows, cut.rolls) == (60, 3)


def test_piece_wider_than_every_roll_is_joined():
    """600 x 700 from 500: two strips of 700 or of 600 each; 600 is shorter: 1,200 mm a piece."""
    rolls = {"narrow": roll(380), "wide": roll(500)}
    cut = cut_from_best(cutters(600, 700, rolls), 3)
    assert (cut.fits, cut.stock, cut.length_mm) == (False, "wide", 3600)


def test_the_cheaper_roll_is_cut():
    rolls = {"dear": roll(500, price="90.00"), "cheap": roll(400)}
    assert cut_from_best(cutters(180, 180, rolls), 4).stock == "cheap"


def test_sheets_by_hand():
    """300 x 200 sheets, 60 x 90: as it stands 5 x 2 = 10 a sheet, turned 3 x 3 = 9.

    24 pieces: 5 rows, so 3 sheets opened, 2.5 of them paid: 1.50.
    """
    sheet = Sheet(material="felt-sheet", width_mm=300, height_mm=200, price="0.60")
    cut = cut_from(60, 90, count=24, stock_id="s", stock=sheet)
    assert (cut.on_sheets, cut.turned, cut.across, cut.rows_each) == (True, False, 5, 2)
    assert (cut.rows, cut.rolls, float(cut.cost)) == (5, 3, 1.5)
    placed = list(cut_rectangles(cut))
    assert placed[9] == (0, 240, 90, 60, 90)
    assert placed[10] == (1, 0, 0, 60, 90)


def test_offcuts_by_hand():
    """5 pieces of 180 from 500: 2 across, a strip 140 wide along 540, and a gap of 180 x 180."""
    cut = cut_from(180, 180, count=5, stock_id="r", stock=roll(500))
    strip, rest = offcuts(cut, least_mm=100)
    assert (strip.x_mm, strip.width_mm, strip.length_mm) == (360, 140, 540)
    assert (rest.x_mm, rest.y_mm, rest.width_mm, rest.length_mm) == (180, 360, 180, 180)
    assert offcuts(cut, least_mm=190) == []


@given(
    w=st.floats(5, 480),
    h=st.floats(5, 480),
    count=st.integers(1, 150),
    width=st.floats(100, 1500),
    pitch=st.sampled_from([0, 150, 400]),
    sheet=st.booleans(),
)
def test_cut_never_overlaps_or_exceeds_its_stock(w, h, count, width, pitch, sheet):
    stock = (
        Sheet(material="x", width_mm=width, height_mm=600, price="1.00")
        if sheet
        else roll(width, pitch, length=3)
    )
    cut = cut_from(w, h, count=count, stock_id="r", stock=stock)
    if cut.fits:
        assert sorted(cut.piece_mm) == sorted((w, h))
        placed = list(cut_rectangles(cut))
        assert len(placed) == count
        assert max(of for of, *_ in placed) == cut.rolls - 1
        long = 600 if sheet else 3000
        for _, x, y, wide, high in placed:
            assert x + wide <= width + 1e-3
            assert y + high <= long + 1e-3
        for (of, x, y, wide, high), (of2, x2, y2, *_) in pairwise(placed):
            assert of2 > of or y2 >= y + high - 1e-9 or (y2 == y and x2 >= x + wide - 1e-9)
        for kept in offcuts(cut, least_mm=20):
            assert kept.x_mm + kept.width_mm <= width + 1e-3
            for of, x, y, wide, high in placed:
                apart = (
                    x + wide <= kept.x_mm + 1e-6
                    or kept.x_mm + kept.width_mm <= x + 1e-6
                    or y + high <= kept.y_mm + 1e-6
                    or kept.y_mm + kept.length_mm <= y + 1e-6
                )
                assert apart or of != cut.rolls - 1
        assert cut.waste >= -1e-6
    more = cut_from(w, h, count=count + 1, stock_id="r", stock=stock)
    assert more.length_mm >= cut.length_mm - 1e-6 or sheet
    assert more.cost >= cut.cost


# hoops -------------------------------------------------------------------------------------


def tried(width, height, goods="pique-polo", machine="compact-10", hold="hoop", **placement):
    return try_hoops(
        Placement.model_validate({"design": {"stitches": 1}, **placement}),
        (width, height),
        hoops=HOUSE.hoops,
        machine=HOUSE.machines[machine],
        goods=HOUSE.goods[goods],
        hold=hold,
        margin_mm=0,
        most=24,
    )


@pytest.mark.parametrize(
    ("size", "goods", "hoop", "left"),
    [
        pytest.param((85, 60), "pique-polo", "100x100", 15, id="handbook"),
        pytest.param((100, 100), "pique-polo", "100x100", 0, id="handbook: tight"),
        pytest.param((113, 113), "pique-polo", "magnetic-125", 0, id="opening 137, clearance 12"),
        pytest.param((40, 40), "pique-polo", "40x40", 0, id="the least"),
        pytest.param((170, 120), "pique-polo", "130x180", 10, id="turned: 190 - 180, 140 - 130"),
        pytest.param((60, 50), "structured-cap", "cap-130x60", 10, id="cap frame"),
        pytest.param((60, 50), "lined-jacket", "magnetic-125", 53, id="magnetic before screw"),
        pytest.param((150, 50), "lined-jacket", "70x160", 10, id="else any flat hoop"),
    ],
)
def test_the_smallest_hoop_that_fits(size, goods, hoop, left):
    found = tried(*size, goods=goods)
    assert found[0].hoop_id == hoop
    assert found[0].does
    assert found[0].fit.left_mm == pytest.approx(left)


def test_what_machine_goods_and_hold_accept():
    cap, flat = HOUSE.hoops["cap-130x60"], HOUSE.hoops["100x100"]
    polo, hat = HOUSE.goods["pique-polo"], HOUSE.goods["structured-cap"]
    compact, single = HOUSE.machines["compact-10"], HOUSE.machines["single-flat"]
    assert accepts(cap, machine=compact, goods=hat, hold="hoop") == ""
    assert "cap frame" in accepts(cap, machine=single, goods=hat, hold="hoop")
    assert "cap frame" in accepts(cap, machine=compact, goods=polo, hold="hoop")
    assert accepts(flat, machine=compact, goods=hat, hold="float") == ""
    thick = polo.model_copy(update={"thickness_mm": 3.2})
    assert "closes on 3 mm" in accepts(flat, machine=compact, goods=thick, hold="hoop")
    assert accepts(flat, machine=compact, goods=thick, hold="float") == ""


def test_by_how_much_the_nearest_misses():
    nearest = tried(230, 310)[0]
    assert not nearest.does
    assert nearest.hoop_id == "200x300"
    assert nearest.fit.miss_mm == pytest.approx(30)  # 230 - 200 field; 230 + 10 - 210 opening


@given(w=st.floats(10, 320), h=st.floats(10, 320), grow=st.floats(0, 200))
def test_a_bigger_hoop_never_fits_less(w, h, grow):
    hoop = HOUSE.hoops["100x100"]
    bigger = hoop.model_copy(
        update={
            name: getattr(hoop, name) + grow
            for name in (
                "field_width_mm",
                "field_height_mm",
                "opening_width_mm",
                "opening_height_mm",
            )
        }
    )
    assert fit_in(w, h, bigger).fits or not fit_in(w, h, hoop).fits
