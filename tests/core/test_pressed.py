"""What was pressed at the machine, held against what came before it."""

import pytest

from clothyard.core.errors import Conflict
from clothyard.core.run.at_machine import Event, taken_off
from clothyard.core.run.event import EventIn
from clothyard.core.run.pressed import check_first, check_stands
from clothyard.core.work.piece import Piece

PIECES = [Piece("l1-1", 0, "l1", "M", "navy", "Ada", "waiting", "", "")]


def event(kind, id_="browser-1", piece="l1-1", of=""):
    return EventIn(id=id_, kind=kind, at="2026-05-04T09:00:00Z", piece=piece, of=of)


def test_an_order_that_is_no_longer_what_it_was_is_asked_about():
    check_stands("Q-0001", "in-work", 2, seen=2)
    check_stands("Q-0001", "in-work", 2, seen=None)
    with pytest.raises(Conflict, match="v2 stands, this was of v1"):
        check_stands("Q-0001", "in-work", 2, seen=1)
    with pytest.raises(Conflict, match="was cancelled"):
        check_stands("Q-0001", "cancelled", 2, seen=2)


@pytest.mark.parametrize(
    ("before", "kind", "refused"),
    [
        ([], "done", False),
        (["done"], "done", True),
        (["done"], "spoiled", False),  # a flaw that was found later
        (["spoiled"], "done", True),
        (["spoiled"], "spoiled", True),
        (["done"], "broke", False),
    ],
)
def test_a_piece_comes_off_once(before, kind, refused):
    there = [Event(f"other-{n}", k, float(n), "l1-1") for n, k in enumerate(before)]
    assert (taken_off(there, "l1-1", kind) is not None) == refused
    people = {"other-0": "Ben"}
    if refused:
        with pytest.raises(Conflict, match=f"Ada was {before[-1]} already by Ben"):
            check_first(there, people, [event(kind)], PIECES)
    else:
        check_first(there, people, [event(kind)], PIECES)
    check_first(there, people, [event(kind, id_="m:machine:1")], PIECES)  # it says it again
    undo = event("undo", id_="browser-0", piece="", of="other-0")
    check_first(there, people, [undo, event(kind)], PIECES)
