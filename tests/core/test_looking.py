"""Looked at: scrap before goods, a sample once washed, pairs against each other, a flaw again."""

import pytest

from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.work.holding import after_sewing, how_held
from clothyard.core.work.looking import AFTER_WASH, PAIR, look_words, scrap_words, seen_again
from tests.conftest import polos, price

HOUSE = default_house()
WORDS = {"pucker": "puckered", "gap": "outline off its fill"}


@pytest.mark.parametrize(
    ("goods", "says"),
    [
        ("pique-polo", "textured cloth that stretches a little, about 0.8 mm thick"),
        ("t-shirt", "smooth cloth that stretches, about 0.5 mm thick"),
        ("terry-towel", "deep-piled cloth that does not stretch, about 1.1 mm thick"),
    ],
)
def test_scrap_is_near_enough_in_weight_stretch_and_pile(goods, says):
    assert says in scrap_words(HOUSE.goods[goods])


def test_what_is_made_in_the_hoop_needs_no_scrap():
    assert scrap_words(HOUSE.goods["in-the-hoop"]) == ""


@pytest.mark.parametrize(
    ("reasons", "says"),
    [
        ([], ""),
        (["pucker"], ""),
        (["pucker", "gap", ""], ""),
        (["", ""], ""),
        (["pucker", "gap", "pucker"], "Puckered, 2 times."),
        (["pucker", "pucker", "gap", "gap"], "Outline off its fill, 2 times."),
    ],
)
def test_the_same_flaw_twice_is_told(reasons, says):
    assert seen_again(reasons, WORDS).startswith(says)
    assert bool(seen_again(reasons, WORDS)) is bool(says)


def test_pairs_are_held_against_each_other():
    assert PAIR in look_words(["left-sleeve", "right-sleeve"])
    assert PAIR not in look_words(["left-sleeve", "right-chest"])
    assert "within 2 mm" in look_words(["left-chest"])


@pytest.mark.parametrize("washed", [True, False])
def test_a_sample_says_what_scrap_does_and_what_is_looked_at_once_it_is_washed(washed):
    work = work_of(job_from(polos(line__sample={"pieces": 1, "wash": washed})), HOUSE, {})
    line = work.lines[0]
    sample, run = (next(p for p in work.passes if p.sample is is_) for is_ in (True, False))
    assert how_held(line, sample, line.placements[0], HOUSE)[0] == scrap_words(
        HOUSE.goods["pique-polo"]
    )
    assert "Scrap" not in how_held(line, run, line.placements[0], HOUSE)[0]
    assert (AFTER_WASH in [step.what for step in after_sewing(line, sample)]) is washed
    assert AFTER_WASH not in [step.what for step in after_sewing(line, run)]


def test_the_bench_tells_it_beside_the_sample():
    assert price(polos()).lines[0].scrap.startswith("Scrap is near enough")
    assert price(polos(line__quantity=1)).lines[0].scrap == ""
