"""Speed, events, practice, handwork: worked examples."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.house.check import default_house
from clothyard.core.stitches.count import count_facts
from clothyard.core.time.practice import mean_practice, practice_share
from clothyard.core.time.speed import needle_seconds, speeds_spm
from clothyard.core.work.events import hand_changes
from tests.conftest import polos, price

HOUSE = default_house()


def test_speed_follows_stitch_length():
    """Handbook: set 850 at 2.8, 4, 6.5, 10, 14 mm."""
    found = speeds_spm((2.8, 4, 6.5, 10, 14), profile=HOUSE.speed_profile, cap_spm=850)
    assert found.tolist() == pytest.approx([850, 850, 750, 550, 450])


def seconds(cap=850, **changes):
    facts = count_facts(
        **(
            {"stitches": 8200, "kind": "mixed", "mean_stitch_mm": 2.8, "satin_share": 0.45}
            | changes
        )
    )
    return sum(
        needle_seconds(
            facts,
            cap_spm=cap,
            profile=HOUSE.speed_profile,
            speed=HOUSE.speed,
            auto_trim=True,
        )
    )


def test_needle_time_of_a_count():
    assert seconds() == pytest.approx(578.8235, abs=1e-4)  # 8200 x 60 / 850
    small = {"kind": "lettering", "letter_height_mm": 5.0}
    assert seconds(**small) == pytest.approx(8200 * 60 / 600)  # columns under 1.5 mm
    assert seconds(**(small | {"letter_height_mm": 10.7})) == pytest.approx(8200 * 60 / 600)
    assert seconds(**(small | {"letter_height_mm": 10.72})) == pytest.approx(8200 * 60 / 850)


@pytest.mark.parametrize(
    ("colours", "pieces", "changes"),
    [pytest.param(3, 24, 71, id="handbook"), (1, 24, 0), (2, 1, 1)],
)
def test_hand_changes_when_colours_do_not_return(colours, pieces, changes):
    facts = count_facts(900, kind="mixed", mean_stitch_mm=2.8, satin_share=0.45, colours=colours)
    assert hand_changes(facts, pieces) == changes


def test_hand_changes_when_the_first_colour_returns():
    facts = count_facts(900, kind="mixed", mean_stitch_mm=2.8, satin_share=0.45, colours=3)
    red, blue = "#ff0000", "#0000ff"
    blocks = [
        block.model_copy(update={"colour": colour})
        for block, colour in zip(facts.blocks, (red, blue, red), strict=True)
    ]
    same = facts.model_copy(update={"blocks": tuple(blocks)})
    assert hand_changes(same, 24) == 48  # handbook


def test_practice():
    """Handbook: first piece 45 s."""
    share = [practice_share(n, practice=HOUSE.practice) for n in (1, 2, 10, 24, 1000)]
    assert [round(45 * s, 2) for s in share] == [45, 41.85, 35.36, 32.26, 27.00]
    assert 24 * 45 * mean_practice(24, practice=HOUSE.practice) == pytest.approx(853.6, abs=0.05)


@given(n=st.integers(1, 5000), doubling=st.floats(0.5, 1), least=st.floats(0.1, 1))
def test_mean_practice_is_a_mean(n, doubling, least):
    practice = HOUSE.practice.model_copy(update={"doubling": doubling, "least": least})
    mean = mean_practice(n, practice=practice)
    assert practice_share(n, practice=practice) - 1e-9 <= mean <= 1 + 1e-9
    if n <= 300:
        by_hand = sum(practice_share(i, practice=practice) for i in range(1, n + 1)) / n
        assert mean == pytest.approx(by_hand)


def minutes(**changes):
    piece = price(polos(**changes)).lines[0].per_piece
    return piece.machine_min, piece.attend_min, piece.hand_min


def test_one_piece_without_a_bobbin_change():
    """Handbook: 692.27 s of machine; 35 + 0.15 x 578.82 + 18.45 = 140.27 s of attending."""
    assert minutes(line__quantity=1) == (11.54, 2.34, 3.38)  # hand: 203.08 s


TEAR, TRIM, FILM = 6 + 290 / 40, 10 + 290 / 15, 8 + 51 / 4
"""Of a box of 85 x 60: 290 mm round, 51 cm²."""
FIRST = 55 + 30 + 8 + 60 + TRIM + FILM


@pytest.mark.parametrize(
    ("changes", "hand_s"),
    [
        # inspect, unmark, check, pack 55; mark 30; cut 8 a layer
        pytest.param({"methods__backing": "none"}, 55 + 30 + 60 + FILM, id="no backing"),
        pytest.param({"methods__layers": 2}, 55 + 30 + 16 + 60 + TRIM + FILM, id="two cut-aways"),
        pytest.param(
            {"methods__backing": "tear-away", "methods__layers": 2},
            55 + 30 + 16 + 60 + 2 * TEAR + FILM,
            id="two tear-aways",
        ),
        pytest.param(
            {
                "methods__backing": "wash-away-mesh",
                "methods__layers": 2,
                "methods__topping": "none",
            },
            55 + 30 + 16 + 60 + 20 + 40 + 30,
            id="rinsed: cut 20, rinse 40, press 30",
        ),
        pytest.param(
            {"methods__hold": "float"},
            55 + 30 + 8 + 75 + 20 + TRIM + FILM + 60 / 6,
            id="floated and basted; a hoop cleaned every sixth",
        ),
        pytest.param(
            {"methods__hold": "float", "methods__baste": False},
            55 + 30 + 8 + 75 + TRIM + FILM + 60 / 6,
            id="floated, not basted",
        ),
        pytest.param(
            {"methods__hoop": "magnetic-125"}, 55 + 30 + 8 + 30 + TRIM + FILM, id="magnetic"
        ),
        pytest.param(
            {"line__finishing": ["press", "label", "soft-cover", "wash"]},
            FIRST + 30 + 15 + 45 + 60,
            id="all finishing",
        ),
        pytest.param(
            {"goods__class": "infant-bodysuit"},
            55 + 30 + 8 + 150 + TRIM + 45 + 20 + 18 * 18 / 10,
            id="tube; its mesh of 180 x 180 fused",
        ),
        pytest.param(
            {"goods__class": "structured-cap", "design__width_mm": 60, "design__height_mm": 50},
            55 + 25 + 8 + 75 + 30 + 6 + 220 / 40,
            id="cap frame and form, marked with tape",
        ),
        pytest.param(
            {"methods__machine": "single-flat"}, FIRST + 9 * 4, id="nine trims clipped by hand"
        ),
        pytest.param(
            {"methods__machine": "single-flat", "goods__class": "felt", "methods__bobbin": "white"},
            55 + 30 + 8 + 75 + 20 + TEAR + 2 * 9 * 4 + 60 / 6,
            id="both sides seen: clipped on both",
        ),
    ],
)
def test_handwork_of_a_first_piece(changes, hand_s):
    assert minutes(line__quantity=1, **changes)[2] == round(hand_s / 60 + 1e-9, 2)


def test_events_on_a_machine_threaded_by_hand():
    """One piece, 3 colours: 600 spm; 2 changes of 75 s; no trim seconds; breaks as before."""
    machine, attend, _ = minutes(line__quantity=1, methods__machine="single-flat")
    needle = 8200 * 60 / 600
    assert machine == pytest.approx((25 + needle + 150 + 18.45) / 60, abs=0.005)
    assert attend == pytest.approx((35 + 0.15 * needle + 150 + 18.45) / 60, abs=0.005)


def test_events_of_caps_break_more_often():
    """By hand: 8,200 at 650 spm, 2 changes, 9 trims, breaks 8.2 x 0.03 x 1.5 x 75 = 27.675."""
    machine, _, _ = minutes(
        line__quantity=1, goods__class="structured-cap", design__width_mm=60, design__height_mm=50
    )
    assert machine == pytest.approx((25 + 8200 * 60 / 650 + 16 + 54 + 27.675) / 60, abs=0.005)


def test_counted_letters_are_slow_while_their_columns_are_narrow():
    def needle_min(height_mm, **design):
        asked = {"design__stitches": 8000, "design__kind": "lettering"} | design
        job = polos(line__quantity=1, design__letter_height_mm=height_mm, **asked)
        return price(job).lines[0].per_piece.machine_min

    wide = needle_min(11)
    assert needle_min(9) - wide == pytest.approx(8000 / 600 - 8000 / 850, abs=0.01)
    assert needle_min(10.7) == needle_min(9)
    assert needle_min(None) == wide
    assert needle_min(9, design__kind="mixed") == needle_min(11, design__kind="mixed")
