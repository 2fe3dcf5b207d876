"""Names of pieces: on which size each is, and what is priced of those still to come."""

from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.job.names import names_by_cell, piece_order
from tests.conftest import polos, price

CELLS = [
    {"size": "S", "colour": "navy", "quantity": 2},
    {"size": "M", "colour": "navy", "quantity": 3},
]


def named(names, **more):
    return polos(
        line__names=names,
        line__cells=CELLS,
        line__quantity=5,
        placement__design={"text": "{name}", "height_mm": 12},
        **more,
    )


def test_a_place_is_kept_on_the_list_for_a_name_still_to_come():
    line = job_from(named(["Ada", "?", "Bo", "", "?"])).lines[0]
    small, medium = names_by_cell(line)
    assert (small.kind, small.names, small.to_come) == ("S navy", ("Ada",), 1)
    assert (medium.kind, medium.names, medium.to_come) == ("M navy", ("Bo", ""), 1)
    assert piece_order(line) == (0, 3, 1, 2, 4)


def test_it_costs_what_it_would_without_its_place():
    gaps, plain = price(named(["Ada", "?", "Bo"])), price(named(["Ada", "Bo"]))
    assert gaps.total == plain.total
    (one,) = gaps.lines
    assert [a.message for a in one.advice if a.code == "names-missing"] == [
        "2 names for 5 pieces: the other 3 are priced as the mean of those."
    ]
    ada, to_come, bo, *_ = one.pieces
    assert (ada.stitches, bo.stitches) == tuple(p.stitches for p in plain.lines[0].pieces[:2])
    assert min(ada.stitches, bo.stitches) < to_come.stitches < max(ada.stitches, bo.stitches)


def test_what_is_done_names_each_piece_in_its_cell():
    asked = job_from(named(["Ada", "?", "Bo"]))
    pieces = work_of(asked, default_house(), {}).lines[0].pieces
    cells = [piece.cell for piece in pieces]
    assert cells == ["l1.c1", "l1.c1", "l1.c2", "l1.c2", "l1.c2"]
    assert [piece.name for piece in pieces] == ["Ada", None, "Bo", None, None]
