"""Words as stitches: counts by hand, joins, trims, what the face lacks; designs from designs."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.house.check import default_house
from clothyard.core.measures import length_text, read_length_mm
from clothyard.core.stitches.derived import base_area_mm2, mean_design
from clothyard.core.stitches.facts import analyse
from clothyard.core.stitches.letters import has_letter, lacking, letter
from clothyard.core.stitches.stitch_plan import JUMP, TRIM
from clothyard.core.stitches.words import satin, stroke_width_mm, words_facts, words_plan
from clothyard.core.thread.putups import cheapest_put_ups
from clothyard.files.guarded import read_design
from clothyard.files.writer import SAMPLE_KINDS, write_plan
from tests.conftest import polos, price

HOUSE = default_house()
WORDS = HOUSE.words


def plan(text, height=21.0, **changes):
    words = WORDS.model_copy(update=changes) if changes else WORDS
    return words_plan(text, height_mm=height, words=words)


def test_one_stroke_by_hand():
    """I at 21 mm is one stroke of 21 mm: 9 of underlay, 105 crossings, its first point, 6 locks."""
    found = plan("I")
    assert len(found.points_mm) == 1 + math.ceil(21 / 2.5) + round(2 * 21 / 0.40) + 6
    width, height = np.ptp(found.points_mm, axis=0)
    assert width == pytest.approx(0.14 * 21)  # the column; locks of 0.6 lie inside it
    assert height == pytest.approx(21)


@pytest.mark.parametrize(
    ("height", "width"),
    [(5, 1.0), (12, 1.68), (21, 2.94), (60, 8.4)],
)
def test_the_width_of_a_stroke(height, width):
    """Handbook: max(1.0, 0.14 h)."""
    assert stroke_width_mm(height, WORDS) == pytest.approx(width)


def test_wide_columns_are_split():
    """7 mm wide: a penetration at most every 4 mm across, so two stitches a crossing."""
    line = np.array([(0.0, 0.0), (0.0, 40.0)])
    narrow, wide = (satin(line, width_mm=w, spacing_mm=0.4, split_mm=4.0) for w in (4.0, 7.0))
    assert (len(narrow), len(wide)) == (200, 400)
    steps = np.hypot(*np.diff(wide, axis=0).T)
    assert steps.max() <= 4.6
    assert np.ptp(wide[:, 0]) == pytest.approx(7)
    inner = wide[::2, 0]
    assert len(set(np.round(inner, 2))) > 1  # staggered, so that no line shows


def test_a_little_higher_is_a_little_more_until_columns_are_split():
    """28.5 and 28.6 mm are one letter height; only over 7.05 mm of column one more."""
    counts = {h: words_facts("Ada", height_mm=h, words=WORDS).stitches for h in (28.5, 28.6, 50.3)}
    assert counts[28.6] == pytest.approx(counts[28.5] * 28.6 / 28.5, rel=0.01)
    assert counts[50.3] == pytest.approx(counts[28.5] * 50.3 / 28.5, rel=0.02)
    split = words_facts("Ada", height_mm=50.4, words=WORDS).stitches
    assert split == pytest.approx(2 * counts[50.3], rel=0.15)
    for height, told in ((50.3, 0), (50.4, 1)):
        job = polos(placement__design={"text": "Ada", "height_mm": height})
        advice = price(job, compare=False).lines[0].advice
        assert [a.code for a in advice].count("column-split") == told


def test_letters_are_joined_under_the_satin_and_cut_between():
    """A, B and H are one run each; i has a dot of its own."""
    assert [len(letter(char).parts) for char in "ABHOi"] == [1, 1, 1, 1, 2]
    found = plan("AB")
    assert np.count_nonzero(found.gaps == TRIM) == 1
    assert np.count_nonzero(found.gaps == JUMP) == 0
    close = plan("AB", trim_over_mm=100)  # a jump that is not cut has no locks at it
    assert np.count_nonzero(close.gaps == JUMP) == 1
    assert len(found.points_mm) - len(close.points_mm) == 6


def test_words_stand_in_lines_on_the_middle():
    one, two = plan("HHH"), plan("HHH\nH")
    assert np.ptp(two.points_mm[:, 1]) - np.ptp(one.points_mm[:, 1]) == pytest.approx(1.5 * 21)
    below = two.points_mm[two.points_mm[:, 1] > 22]
    assert below[:, 0].mean() == pytest.approx(one.points_mm[:, 0].mean(), abs=0.1)


@pytest.mark.parametrize(
    ("text", "missing"),
    [
        ("Zoë Renée Jürgen Łukasz Ñandú Øystein", ""),
        ("Straße — “o’clock”…", ""),
        ("Ада", "Ада"),
        ("Max 😀😀", "😀"),
    ],
)
def test_what_the_lettering_lacks(text, missing):
    assert lacking(text) == "".join(dict.fromkeys(missing))


def test_accents_are_sewn():
    plain, marked = (
        words_facts("Zoe", height_mm=12, words=WORDS),
        words_facts("Zoë", height_mm=12, words=WORDS),
    )
    assert marked.stitches > plain.stitches
    assert marked.width_mm == pytest.approx(plain.width_mm)
    assert has_letter("ë")


def test_words_that_hold_nothing_are_refused():
    with pytest.raises(BadInput, match="nothing that can be lettered"):
        plan(" \n ")


@pytest.mark.parametrize("kind", SAMPLE_KINDS)
def test_a_sample_file_reads_back(kind):
    """Real files of every kind that samples are written as: same stitches, size and trims."""
    lettered = words_facts("Zoë 8", height_mm=15, words=WORDS)
    data = write_plan(words_plan("Zoë 8", height_mm=15, words=WORDS), kind)
    _, read = read_design(data, f"sample.{kind}", sha256="0" * 64)
    assert read.stitches == lettered.stitches
    assert read.trims == lettered.trims
    assert read.width_mm == pytest.approx(lettered.width_mm, abs=0.21)
    assert read.blocks[0].needle_mm == pytest.approx(lettered.blocks[0].needle_mm, rel=0.02)


@given(height=st.floats(4, 60), text=st.text("abcdeghikmnoprstwz AEHIOS", min_size=1, max_size=12))
def test_more_letters_never_take_less(height, text):
    if not text.strip():
        return
    one = words_facts(text, height_mm=height, words=WORDS)
    more = words_facts(text + "e", height_mm=height, words=WORDS)
    assert more.stitches > one.stitches
    assert more.width_mm >= one.width_mm - 1e-6
    assert more.blocks[0].needle_mm > one.blocks[0].needle_mm


def test_the_mean_of_names_is_their_mean():
    names = [words_facts(name, height_mm=12, words=WORDS) for name in ("Ada", "Bo", "Christoph")]
    mean = mean_design(names, name="{name}")
    for field in ("needle_mm", "bobbin_mm", "trims", "stitches"):
        values = [getattr(facts.blocks[0], field) for facts in names]
        assert getattr(mean.blocks[0], field) == pytest.approx(sum(values) / 3)
    assert mean.width_mm == max(facts.width_mm for facts in names)
    counts = [sum(facts.blocks[0].lengths.count) for facts in names]
    assert sum(mean.blocks[0].lengths.count) == pytest.approx(sum(counts) / 3)


def test_the_base_of_a_real_outline():
    """A square of 40 x 40 grown 3 mm with round corners: 1600 + 160 x 3 + 9 pi."""
    from tests.core.test_thread import FLOW, plan_of

    square = analyse(plan_of([(x, y, FLOW) for x, y in ((0, 0), (40, 0), (40, 40), (0, 40))]))
    assert base_area_mm2(square, margin_mm=3) == pytest.approx(1600 + 480 + 9 * math.pi)


@pytest.mark.parametrize(
    ("length", "put_ups", "price"),
    [
        (0.0, (), "0"),
        (150.0, (("spool-200", 1),), "1.20"),
        (401.0, (("king-1000", 1),), "2.40"),  # three small spools would be 3.60
        (2300.0, (("cone-5000", 1),), "6.50"),  # two kings and two spools would be 7.20
        (5100.0, (("cone-5000", 1), ("spool-200", 1)), "7.70"),
        (12_400.0, (("cone-5000", 3),), "19.50"),  # 2 cones, 2 kings, 2 spools: 20.20
    ],
)
def test_the_cheapest_put_ups(length, put_ups, price):
    found, cost = cheapest_put_ups(length, HOUSE.putups)
    assert (found, float(cost)) == (put_ups, float(price))


@given(length=st.floats(1, 30_000))
def test_put_ups_hold_the_thread_and_none_is_idle(length):
    found, cost = cheapest_put_ups(length, HOUSE.putups)
    held = sum(HOUSE.putups[key].length_m * n for key, n in found)
    assert held >= length - 1e-6
    assert float(cost) <= 6.50 * math.ceil(length / 5000)
    smallest = min(HOUSE.putups[key].length_m for key, _ in found)
    assert held - smallest < length


@pytest.mark.parametrize(
    ("text", "mm"),
    [
        ("90", 90),
        ("9cm", 90),
        ("1.2 m", 1200),
        ("3 1/2 in", 88.9),
        ('3½"', 88.9),
        ("1 ft 6 in", 457.2),
        ("1,5 cm", 15),
        ("1/4 in", 6.35),
        ("2 yd", 1828.8),
    ],
)
def test_lengths_as_written(text, mm):
    assert read_length_mm(text) == pytest.approx(mm)


@pytest.mark.parametrize("text", ["", "x", "9 pt", "3 1/0 in", "-4", "4 -", "12 cm of it"])
def test_what_is_no_length(text):
    with pytest.raises(BadInput, match="no length"):
        read_length_mm(text)


@given(st.floats(1, 2000))
def test_inches_read_back(mm):
    assert read_length_mm(length_text(mm, units="imperial")) == pytest.approx(mm, abs=25.4 / 15.9)
