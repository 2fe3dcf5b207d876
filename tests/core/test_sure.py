"""How sure: bands against brute force, widths, chances of loss, the price for 80% sure."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.price.sure import PRIOR_PIECES, Band, Remakes, Term
from tests.conftest import polos, price

D = Decimal
NONE = {
    "sure": dict.fromkeys(
        (
            "stitches_count",
            "needle_guessed",
            "bobbin_guessed",
            "sewing_guessed",
            "loading",
            "standby",
            "hooping",
            "finishing",
            "order",
            "breaks",
        ),
        0,
    ),
    "goods": {"pique-polo": {"spoil": 0}},
}


def drawn(at, terms, remakes, draws=20_000):
    """The same sum by brute force: every factor and every spoiled piece drawn."""
    chance = np.random.default_rng(3)
    found = np.full(draws, float(at) - sum(t.moves for t in terms))
    for _, spread, moves in terms:
        found += moves * np.exp(spread * chance.standard_normal(draws))
    if remakes:
        a, b = PRIOR_PIECES * remakes.chance, PRIOR_PIECES * (1 - remakes.chance)
        spoiled = chance.binomial(remakes.pieces, chance.beta(a, b, draws))
        found += spoiled * remakes.each - remakes.pieces * remakes.chance * remakes.each
    return found


TERMS = st.lists(
    st.builds(Term, st.just("x"), st.sampled_from([0.05, 0.12, 0.35, 0.6]), st.floats(0.1, 50)),
    min_size=1,
    max_size=8,
)


@settings(max_examples=40)
@given(
    terms=TERMS,
    pieces=st.integers(1, 400),
    chance=st.sampled_from([0, 0.015, 0.1]),
    each=st.floats(0, 20),
)
def test_a_band_holds_as_many_draws_as_it_says(terms, pieces, chance, each):
    at = 3 * sum(t.moves for t in terms) + pieces * chance * each
    remakes = Remakes(pieces, chance, each) if chance else None
    band, found = Band(at, terms, remakes), drawn(at, terms, remakes)
    for share in (0.1, 0.5, 0.8, 0.9):
        assert np.mean(found <= band.quantile(share) + 1e-6) == pytest.approx(share, abs=0.045)
    for amount in (at * 0.95, at * 1.1):
        assert band.chance_over(amount) == pytest.approx(np.mean(found > amount), abs=0.045)


def test_twenty_four_polos_and_one():
    """Handbook: 24 polos - 5 … + 10 % at 90 %, one - 20 … + 49 %; stand-by 4.43, customer 3.50."""
    sure = price(polos(), compare=False).lines[0].sure
    assert [(t.name, t.plus_minus) for t in sure.terms[:2]] == [
        ("standing by", "4.43"),
        ("the customer", "3.50"),
    ]
    assert (D(sure.p10) / D("236.76"), D(sure.p90) / D("236.76")) == (
        pytest.approx(D("0.962"), abs=D("0.01")),
        pytest.approx(D("1.08"), abs=D("0.01")),
    )
    assert float(sure.loss_chance) < 0.001
    one = price(polos(line__quantity=1), compare=False).lines[0].sure
    assert float(one.loss_chance) == pytest.approx(0.038, abs=0.02)  # within two points
    assert float(one.p10) / 19.92 == pytest.approx(0.84, abs=0.02)


def test_without_spreads_nothing_is_uncertain_and_each_widens_it():
    calm = price(polos(job__house=NONE), compare=False).lines[0]
    assert calm.sure.p10 == calm.sure.p90  # the total's parts are each rounded once
    assert D(calm.sure.p10) == pytest.approx(D(calm.cost.total), abs=D("0.05"))
    assert calm.sure.machine_min == [calm.per_piece.machine_min] * 2
    for key in NONE["sure"]:
        house = {"sure": NONE["sure"] | {key: 0.4}, "goods": NONE["goods"]}
        wider = price(polos(job__house=house), compare=False).lines[0].sure
        widest = (
            price(polos(job__house=house | {"sure": house["sure"] | {key: 0.8}}), compare=False)
            .lines[0]
            .sure
        )
        assert D(wider.p10) < D(calm.cost.total) < D(wider.p90), key
        assert D(widest.p90) - D(widest.p10) > D(wider.p90) - D(wider.p10), key
    spoiled = NONE | {"goods": {"pique-polo": {"spoil": 0.05}}}
    risky = price(polos(job__house=spoiled), compare=False).lines[0].sure
    assert D(risky.p10) < D(risky.p90)


def test_a_known_file_is_surer_than_a_count():
    count = price(polos(), compare=False).lines[0].sure
    words = (
        price(polos(placement__design={"text": "Crest & Ada", "height_mm": 12}), compare=False)
        .lines[0]
        .sure
    )
    assert count.needle_m[1] / count.needle_m[0] > words.needle_m[1] / words.needle_m[0]


@pytest.mark.parametrize(("unit", "level"), [("12.00", "note"), ("10.00", "warn")])
def test_a_price_that_may_well_lose_money_is_told(unit, level):
    job = polos(line__unit_price=unit, job__house={"sure": {"order": 2.0}})
    found = price(job, compare=False)
    [told] = [a for a in found.lines[0].advice if a.code == "loss-chance"]
    assert told.level == level
    assert "what weighs most is the customer" in told.message
    assert "fewer rounds" in told.fix
    assert not [a for a in price(polos(), compare=False).lines[0].advice if a.code == "loss-chance"]


def test_the_price_for_80_percent_sure_lifts_the_floor_and_never_lowers_a_price():
    thin = {"job__margin": "0.02"}
    plain = price(polos(**thin), compare=False).lines[0]
    sure = price(polos(**thin, job__house={"price": {"floor": "sure"}}), compare=False).lines[0]
    assert D(sure.price.unit) >= D(sure.sure.p80) / 24
    assert D(sure.price.unit) > D(plain.price.unit)
    assert float(sure.sure.loss_chance) <= 0.2
    units = [D(t.unit) for t in sure.tiers]
    assert units == sorted(units, reverse=True)
    rich = [
        price(polos(job__house={"price": {"floor": floor}}), compare=False).lines[0].price.unit
        for floor in ("full", "sure")
    ]
    assert rich[0] == rich[1]


def test_an_order_of_two_lines_is_as_sure_as_its_one_batch():
    one = price(polos(), compare=False).total.sure
    job = polos(line__quantity=12)
    two = price(
        job
        | {"lines": job["lines"] * 2}
        | {"lines": [dict(job["lines"][0]), dict(job["lines"][0]) | {"id": "other"}]},
        compare=False,
    ).total.sure
    for key in ("p10", "p80", "p90"):
        assert D(getattr(two, key)) == pytest.approx(D(getattr(one, key)), abs=D("0.05"))
