"""What an order is made of, held by, costs and settles, without a database."""

from dataclasses import replace
from decimal import Decimal

import pytest

from clothyard.core.errors import Conflict
from clothyard.core.job.check import job_from
from clothyard.core.order.held import (
    SampleHeld,
    check_proof,
    check_samples,
    has_words,
    held_by,
    left_units,
    machine_hold,
    proof_state,
    waits_of,
)
from clothyard.core.order.money import cost_so_far, due_of
from clothyard.core.order.pieces import moved, reconciled, wanted_pieces, with_remakes
from clothyard.core.order.settle import offcuts_of, outstanding, settling
from clothyard.core.plan.units import Unit
from clothyard.core.stock.key import ItemKey, is_key, item_of, read_key
from clothyard.core.stock.needs import Need
from clothyard.core.stock.shelf import NeedNow
from clothyard.core.work.piece import Piece
from tests.conftest import polos

THREAD = "thread|polyester|#1d3b6f"
BLANK = "blank|crew-polo|M navy"


def piece(id_, state="waiting", **changes):
    usual = {"n": 0, "line": "l1", "size": "M", "colour": "navy", "name": ""}
    return Piece(id_, **usual | changes, state=state)


def need_now(key=THREAD, *, short="10", coming="0", coming_on=""):
    item = item_of(key, "m" if key == THREAD else "each")
    need = Need(item, Decimal(20), "Navy thread", 6, ())
    zero = Decimal(0)
    return NeedNow(need, zero, zero, Decimal(short), zero, Decimal(coming), coming_on, ())


# Pieces ------------------------------------------------------------------------------------------


def test_a_piece_is_made_for_each_of_a_cell_with_its_name():
    cells = [{"size": "M", "colour": "navy", "quantity": 2}, {"size": "L", "quantity": 1}]
    job = job_from(polos(line__quantity=3, line__cells=cells, line__names=["Ada", "Bo", "Cy"]))
    assert [(p.id, p.size, p.colour, p.name) for p in wanted_pieces(job)] == [
        ("l1-1", "M", "navy", "Ada"),
        ("l1-2", "M", "navy", "Bo"),
        ("l1-3", "L", "", "Cy"),
    ]


def test_what_was_done_stays_and_what_nobody_wants_any_more_is_surplus():
    there = [
        piece("l1-1", "good", n=0, name="Ada"),
        piece("l1-2", "sewn", n=1, name="Bo"),
        piece("l1-3", "spoiled", n=2, name="Bo", reason="caught"),
        piece("l1-4", "waiting", n=3, name="Cy"),
    ]
    wanted = [piece("l1-1", n=0, name="Ada"), piece("l1-2", n=1, name="Dot")]
    found = {(p.name, p.state) for p in reconciled(there, wanted)}
    assert found == {("Ada", "good"), ("Dot", "waiting"), ("Bo", "surplus"), ("Bo", "spoiled")}
    ids = [p.id for p in reconciled(there, wanted)]
    assert len(set(ids)) == len(ids)


def test_pieces_are_who_they_are_over_versions():
    """Liv, Max and Tom more; Bart is Barty; Una wants an L: nobody else is exchanged."""
    before = [
        piece("l1-1", "good", n=0, size="M", name="Ada"),
        piece("l1-2", "prepared", n=1, size="M", name="Bart"),
        piece("l1-3", "waiting", n=2, size="M", name="Una"),
        piece("l1-4", "sewn", n=3, size="L", name="Wim"),
    ]
    names = ["Liv", "Ada", "Max", "Barty", "Wim", "Tom"]
    after = [piece(f"l1-{n + 1}", n=n, size="M", name=name) for n, name in enumerate(names)]
    after[4] = replace(after[4], size="L")
    after.append(piece("l1-7", n=6, size="L", name="Una"))
    found = reconciled(before, after)
    by_name = {p.name: (p.id, p.size, p.state) for p in found}
    assert by_name["Ada"] == ("l1-1", "M", "good")
    assert by_name["Una"] == ("l1-3", "L", "waiting")
    assert by_name["Wim"] == ("l1-4", "L", "sewn")
    assert by_name["Barty"] == ("l1-2", "M", "prepared")
    added = {name for name, (id_, *_) in by_name.items() if id_ not in {p.id for p in before}}
    assert added == {"Liv", "Max", "Tom"}
    assert len({p.id for p in found}) == len(found) == 7
    # a whole list exchanged is matched by place, and soon
    many = [piece(f"l1-{n + 1}", n=n, name=f"Name {n}") for n in range(3000)]
    others = [replace(p, name=f"Other {p.n}") for p in many]
    assert [p.id for p in reconciled(many, others)] == [p.id for p in many]
    # nothing sewn is ever called by another name
    barty = [replace(before[0], name="Bart"), piece("l1-2", n=1, size="M", name="Cy")]
    now = reconciled(barty, [piece("l1-1", size="M", name="Barty"), barty[1]])
    assert [(p.name, p.state) for p in now] == [
        ("Barty", "waiting"),
        ("Cy", "waiting"),
        ("Bart", "surplus"),
    ]


def test_the_furthest_of_those_alike_is_kept():
    there = [piece("l1-1", "waiting", n=0), piece("l1-2", "good", n=1), piece("l1-3", n=2)]
    [kept] = reconciled(there, [piece("l1-1")])
    assert kept.state == "good"


def test_a_spoiled_piece_is_made_again_and_not_if_it_was_not():
    there = [piece("l1-1"), piece("l1-2")]
    spoiled = moved(
        there, {"l1-1"}, seen={"waiting"}, to="spoiled", reason="caught", on="2026-05-04"
    )
    assert {p.id: p.state for p in spoiled.pieces} == {
        "l1-1": "spoiled",
        "l1-1.2": "waiting",
        "l1-2": "waiting",
    }
    assert next(p for p in spoiled.pieces if p.id == "l1-1.2").instead_of == "l1-1"
    back = moved(spoiled.pieces, {"l1-1"}, seen={"spoiled"}, to="good")
    assert {p.id: p.state for p in back.pieces} == {"l1-1": "good", "l1-2": "waiting"}


def test_a_piece_that_went_on_meanwhile_is_left_as_it_is():
    found = moved([piece("l1-1", "good")], {"l1-1"}, seen={"waiting"}, to="sewn")
    assert (found.changed, found.pieces[0].state) == ((), "good")


def test_a_blank_more_for_each_spoiled_piece():
    item = item_of("blank||M navy", "each")
    needs = [Need(item, Decimal(6), "Polo", 6, ())]
    pieces = [piece("l1-1", "spoiled"), piece("l1-2", "spoiled"), piece("l1-3", "good")]
    assert with_remakes(needs, None, pieces)[0].amount == 8


# Held --------------------------------------------------------------------------------------------


def test_words_are_approved_before_they_are_sewn():
    assert not has_words(job_from(polos()))
    named = job_from(polos(placement__design={"text": "{name}"}, line__names=["Ada"]))
    assert has_words(named)
    assert [proof_state(named, said) for said in ("", "approved", "corrected")] == [
        "open",
        "approved",
        "corrected",
    ]
    assert proof_state(job_from(polos()), "") == "none"
    check_proof("approved")
    check_proof("none")
    for state in ("open", "corrected"):
        with pytest.raises(Conflict) as said:
            check_proof(state)
        assert said.value.code == "proof-open"


def test_a_batch_waits_for_its_sample_and_only_its_own():
    samples = [
        SampleHeld("p1", "l1", "Left chest", passed=False),
        SampleHeld("p2", "l2", "Back", passed=True),
    ]
    check_samples(samples, [piece("l2-1", line="l2")])
    with pytest.raises(Conflict) as said:
        check_samples(samples, [piece("l1-1")])
    assert "left chest" in str(said.value)
    units = [
        Unit(f"u-{of}", "sew", of, "", 1, 1, 60.0, 60.0, 60.0, (), "between-pieces", of)
        for of in ("p1", "p2", "p3")
    ]
    left, gone = left_units(units, samples)
    assert ([unit.of for unit in left], gone) == (["p1", "p3"], {"u-p2"})
    assert "Left chest" in machine_hold("accepted", stands=True, proof="none", samples=samples)
    assert "not approved" in machine_hold("accepted", stands=True, proof="open", samples=[])
    assert "cancelled" in machine_hold("cancelled", stands=True, proof="none", samples=[])
    assert "cancelled" in machine_hold("accepted", stands=False, proof="none", samples=[])
    assert machine_hold("accepted", stands=True, proof="none", samples=samples[1:]) == ""


@pytest.mark.parametrize("state", ["done", "handed-over", "cancelled"])
def test_what_is_made_or_not_to_be_made_waits_for_nothing(state):
    assert held_by(state, "open", [need_now()]) == []
    assert waits_of(state, "open", [need_now()]) == []


def test_what_is_short_is_said_with_what_comes():
    assert held_by("accepted", "none", [need_now()])[0].endswith("10 m short, not ordered yet.")
    there = need_now(coming="10", coming_on="2026-05-08")
    assert "ordered for" in held_by("accepted", "none", [there])[0]
    part = need_now(coming="4", coming_on="2026-05-08")
    assert "not ordered yet" in held_by("accepted", "none", [part])[0]
    assert held_by("accepted", "none", [need_now(short="0")]) == []


def test_a_wait_has_a_day_once_all_of_it_has_one():
    rows = [need_now(BLANK, coming_on="2026-05-08"), need_now(BLANK, coming_on="2026-05-11")]
    assert waits_of("accepted", "none", rows) == [
        ("wait-goods", "The goods are here", "2026-05-11")
    ]
    [_, until] = waits_of("accepted", "open", [need_now(), need_now(coming_on="2026-05-08")])
    assert until == ("wait-materials", "The materials are here", "")


# Money -------------------------------------------------------------------------------------------


def test_what_is_due_is_what_was_not_paid():
    due = due_of("120.00", "40.00", [{"amount": "30"}, {"amount": "-5.50"}])
    assert (due.paid, due.due, due.deposit_due) == (
        Decimal("24.50"),
        Decimal("95.50"),
        Decimal("15.50"),
    )


def test_work_is_charged_by_the_pieces_that_are_sewn():
    cost = {"machine": "10", "labour": "20", "overhead": "6", "set_up": "5"}
    line = {"id": "l1", "quantity": 6, "cost": cost}
    pieces = [piece("l1-1", "good"), piece("l1-2", "sewn"), piece("l1-3")]
    found = cost_so_far([line], pieces, [(Decimal(4), Decimal("2.5"))], "EUR")
    assert (found.materials, found.work, found.total) == (10, 17, 27)
    again = [piece(f"l1-{n}", "spoiled") for n in range(9)]  # more than were ordered
    assert cost_so_far([line], again, [], "EUR").work == 41
    assert cost_so_far([line], [piece("l1-1")], [], "EUR").total == 0


# Settling ----------------------------------------------------------------------------------------


def settled(was, to, *, needed=None, logged=(), offcuts=None, booked=None):
    return settling(
        "7",
        was,
        to,
        outstanding=[(k, Decimal(v)) for k, v in (needed or {}).items()],
        logged=set(logged),
        offcuts={k: Decimal(v) for k, v in (offcuts or {}).items()},
        booked={k: Decimal(v) for k, v in (booked or {}).items()},
        on="2026-05-04",
    )


def told(moves):
    return [(move.item, move.amount, move.why) for move in moves]


def test_what_is_done_is_taken_but_what_the_log_has_booked():
    moves = settled("in-work", "done", needed={THREAD: 40, BLANK: 6}, logged={THREAD})
    assert told(moves) == [(BLANK, -6, "taken")]
    assert settled("in-work", "done", needed={THREAD: -3}) == []
    assert settled("done", "handed-over", needed={THREAD: 40}) == []


def test_an_offcut_comes_once():
    moves = settled("in-work", "done", offcuts={"offcut|r|9x9": 2}, booked={"offcut|r|9x9": 1})
    assert told(moves) == [("offcut|r|9x9", 1, "received")]


def test_what_was_not_done_after_all_is_given_back_but_not_of_what_is_cancelled():
    booked = {THREAD: "-40", "offcut|r|9x9": "1", BLANK: "0"}
    assert told(settled("done", "in-work", booked=booked)) == [
        (THREAD, 40, "returned"),
        ("offcut|r|9x9", -1, "wasted"),
    ]
    assert settled("done", "cancelled", booked=booked) == []
    assert settled("handed-over", "cancelled", booked=booked) == []
    assert settled("accepted", "cancelled", needed={THREAD: 40}, booked=booked) == []


def test_offcuts_are_counted_by_roll_and_size():
    cuts = [{"stock": "roll-50", "offcuts": [{"width_mm": 140.0, "length_mm": 900.4}] * 2}]
    assert offcuts_of([{"cuts": cuts}, {}]) == {"offcut|roll-50|140x900": 2}


def test_what_is_outstanding_is_below_zero_where_more_was_taken():
    needed = [(THREAD, Decimal(40)), (BLANK, Decimal(6))]
    assert outstanding(needed, {BLANK: Decimal(8)}) == [(THREAD, 40), (BLANK, -2)]


# Keys --------------------------------------------------------------------------------------------


@pytest.mark.parametrize("key", [THREAD, BLANK, "offcut|roll-50|140x900", "bobbin|l|white"])
def test_a_key_is_read_as_it_was_written(key):
    assert str(read_key(key)) == key
    assert is_key(key)


@pytest.mark.parametrize("key", ["", "thread", "thread|polyester", "yarn|polyester|#1", "a|b|c|d"])
def test_what_is_no_key(key):
    assert not is_key(key)
    assert isinstance(read_key(key), ItemKey)
