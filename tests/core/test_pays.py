"""What pays: real costs by line, groups, and work that loses money as it is priced."""

from decimal import Decimal

import pytest

from clothyard.core.house.check import default_house
from clothyard.core.log.pays import KEYS, Quoted, losses, real_lines, size_of, what_pays
from clothyard.core.log.rows import LogRow, Measured

MEANT = {"hooping_s": 360.0, "needle_s": 1800.0, "bobbins": 2.0, "needle_m": 100.0}


def line(order=1, id_="l1", pieces=10, cost="60", price="100", **more):
    usual = {
        "order": f"Q-{order:04d}",
        "customer": "Orrin Hill Choir",
        "goods": "Piqué polo",
        "place": "Left chest",
        "method": "Screw",
        "order_pieces": pieces,
        "materials": "40",
        "spoilage": "2",
        "bobbin_cost": "1",
        "goods_each": "3.50",
        "hand_h": 1.0,
        "machine_h": 0.5,
    } | more
    money = ("materials", "spoilage", "bobbin_cost", "goods_each")
    usual |= {name: Decimal(usual[name]) for name in money}
    return Quoted(
        order_id=order, line=id_, pieces=pieces, price=Decimal(price), cost=Decimal(cost), **usual
    )


def row(lines=("l1",), sewn=10, **changes):
    actual = changes.pop("actual", {})
    usual = {
        "finished_on": "2026-05-04",
        "sewn": sewn,
        "planned": 10,
        "machine": "compact-10",
        "lines": list(lines),
        "estimated": Measured(**MEANT),
        "actual": Measured(**MEANT | actual),
    }
    return LogRow(**usual | changes), default_house()


def test_what_was_not_logged_stands_as_quoted():
    [real] = real_lines([line()], [])
    assert (real.cost, real.logged, real.reasons) == (Decimal(60), False, ())


def test_an_hour_more_of_hands_costs_its_rates():
    house = default_house()
    an_hour = house.rates.labour_per_h + house.rates.overhead_per_h
    [real] = real_lines([line(spoilage="0")], [row(actual={"hooping_s": 3960.0, "bobbins": 2.4})])
    assert real.cost == Decimal(60) + an_hour
    assert real.hand_h == pytest.approx(2.0)
    assert real.reasons[0] == ("hooping", an_hour)


def test_what_went_as_the_quote_counted_on_costs_what_it_said():
    house = default_house()  # its factor of bobbin thread is counted on
    meant = {"bobbins": 2.0 * house.thread_use.factor_bobbin}
    [real] = real_lines([line(spoilage="0")], [row(actual=meant)])
    assert real.cost == Decimal(60)


def test_spoiled_pieces_cost_their_goods_and_what_was_set_aside_is_given_back():
    meant = {"bobbins": 2.4, "hooping_s": 360.0 * 1.2, "needle_s": 1800.0}
    [real] = real_lines([line()], [row(sewn=12, spoiled=2, actual=meant)])
    assert dict(real.reasons)["spoiled"] == 2 * Decimal("3.50") - 2
    [clean] = real_lines([line()], [row()])
    assert dict(clean.reasons)["spoiled"] == Decimal(-2)


def test_what_a_pass_moved_is_shared_over_its_lines_by_pieces():
    lines = [line(id_="l1", pieces=3, spoilage="0"), line(id_="l2", pieces=7, spoilage="0")]
    one, other = real_lines(lines, [row(("l1", "l2"), actual={"hooping_s": 3960.0})])
    assert dict(one.reasons)["hooping"] / dict(other.reasons)["hooping"] == pytest.approx(
        Decimal(3) / 7
    )


@pytest.mark.parametrize("by", KEYS)
def test_groups_add_up_to_all_of_it(by):
    quoted = [line(order=n, pieces=n, price=str(20 * n), goods=f"g{n % 2}") for n in range(1, 9)]
    lines = [real for q in quoted for real in real_lines([q], [])]
    groups = what_pays(lines, by)
    assert sum(g.price for g in groups) == sum(q.price for q in quoted)
    assert sum(g.orders for g in groups) >= len(groups)
    rates = [g.an_hour_of_hands for g in groups]
    assert rates == sorted(rates, reverse=True)
    assert groups[0].left == groups[0].price - groups[0].cost


def test_work_that_loses_is_told_with_what_to_ask():
    singles = [line(order=n, pieces=1, cost="15", price="12") for n in (1, 2, 3)]
    once = [line(order=9, pieces=30, cost="500", price="400", order_pieces=30)]
    lines = [real for q in singles + once for real in real_lines([q], [])]
    [loss] = losses(lines, margin=Decimal("0.35"))
    assert (loss.size, loss.orders, loss.loses_each) == ("single pieces", 3, Decimal(3))
    assert loss.ask == pytest.approx(Decimal(15) / Decimal("0.65"))
    assert [size_of(n) for n in (1, 5, 6, 49, 50, 10**6)] == [
        "single pieces",
        "2 to 5 pieces",
        "6 to 11 pieces",
        "24 to 49 pieces",
        "50 pieces and more",
        "50 pieces and more",
    ]
