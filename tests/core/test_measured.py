"""What a pass took, from what was pressed: scaled where part was seen, bobbins by what was used."""

import pytest

from clothyard.core.log.measured import Bobbins, bobbins_used, cycles_of, measured_of
from clothyard.core.run.at_machine import BobbinChange, Event, add_up

EARLY = Bobbins(capacity_m=110.0, each_m=8.0, run_out=False, shelf_m=15.0)
TO_THE_END = Bobbins(capacity_m=110.0, each_m=8.0, run_out=True, shelf_m=15.0)


def a_pass(pieces, told=()):
    """Pieces one after another, 500 s each; of those in `told` the machine says the needle time."""
    for n in range(pieces):
        yield Event(f"b{n}", "begun", 500.0 * n, f"p{n}")
        data = {"needle_s": 400.0} if n in told else {}
        yield Event(f"d{n}", "done", 500.0 * n + 420, f"p{n}", data)


def test_what_the_machine_saw_in_part_is_scaled_to_all_of_it():
    heard = [Event("m:1:1", "broke", 40.0), Event("by-hand-1", "broke", 90.0)]
    at = add_up([*a_pass(6, told=(0, 1, 2)), *heard])
    found = measured_of(at, sewn=6, cycles=cycles_of(6, 1), bobbins=None)
    assert (at.seen, at.loads, at.heard) == (3, 5, 1)
    assert found.needle_s == pytest.approx(6 * 400)
    assert found.breaks == 1 + 1 * 2  # what was pressed is of all of them
    assert found.loading_s == pytest.approx(80 * 6)  # the first was loaded before the clock began
    whole = measured_of(add_up(a_pass(6, told=range(6))), sewn=6, cycles=6, bobbins=None)
    assert whole.needle_s == pytest.approx(6 * 400)


def test_nothing_that_was_not_seen_is_made_up():
    found = measured_of(add_up(a_pass(1)), sewn=1, cycles=1, bobbins=EARLY)
    assert (found.needle_s, found.loading_s, found.bobbins, found.bobbin_m) == (None,) * 4


def test_a_bobbin_changed_early_counts_by_what_its_pieces_take():
    at = add_up([*a_pass(5), Event("x", "bobbin", 3000.0), *list(a_pass(10))[10:]])
    assert at.changes == (BobbinChange(5, ran_out=False),)
    used, metres = bobbins_used(at, EARLY, sewn=10)
    assert used == pytest.approx(2 * 40 / 110)
    assert metres is None  # nobody knows what was left on it: it teaches nothing
    nearly = Bobbins(capacity_m=110.0, each_m=8.0, run_out=False, shelf_m=75.0)
    assert bobbins_used(at, nearly, sewn=10)[0] == 2  # such an end is waste


def test_a_bobbin_that_ran_empty_is_whole_and_says_what_all_pieces_took():
    at = add_up([*a_pass(13), Event("x", "bobbin", 6600.0), *list(a_pass(20))[26:]])
    used, metres = bobbins_used(at, TO_THE_END, sewn=20)
    assert used == pytest.approx(1 + 7 * 8 / 110)
    assert metres == pytest.approx(110 * 20 / 13.5)
    told = add_up([*a_pass(13), Event("m:4:1", "bobbin", 6600.0)])
    assert bobbins_used(told, EARLY, sewn=13)[0] == 1  # the machine says that it ran out
