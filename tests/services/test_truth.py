"""Shops with hidden factors that log through the simulated machine and scale: a short cut of it."""

import pytest

from tests.tools.truth import Hidden, at_one, clocked_off, held, learnt, logged


def test_a_shop_as_the_standards_say_learns_that_it_is_so():
    for name, [factor] in at_one(1, noise=0.0).items():
        assert factor == pytest.approx(1, abs=0.01 if name == "needle" else 1e-4), name


def test_a_shop_of_its_own_is_found_out_and_its_band_holds():
    hidden = Hidden.of_seed(3)
    found = learnt(logged(hidden, 3))
    assert found["needle"].factor / hidden.needle == pytest.approx(1, abs=0.05)
    assert abs(clocked_off(hidden, found, 3)) < 0.08
    assert 70 <= held(hidden, found, 3) <= 95
