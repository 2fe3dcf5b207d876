"""The shelf as a ledger, and what orders need of it."""

from dataclasses import replace
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.errors import OutOfRange
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import build_house
from clothyard.core.job.check import job_from
from clothyard.core.order.pieces import wanted_pieces, with_remakes
from clothyard.core.stock.buying import Wanted, buy_lists, cover, lacking, wanted_items
from clothyard.core.stock.key import Item
from clothyard.core.stock.ledger import (
    GIVES,
    TAKES,
    Move,
    check_move,
    counted,
    on_hand,
    uncovered,
    weighed_m,
)
from clothyard.core.stock.needs import needs_of
from tests.conftest import polos
from tests.core.random_jobs import HOUSE
from tests.core.test_made import tabs

D = Decimal

ITEMS = st.sampled_from(["thread|polyester|#1d3b6f", "blank|pique-polo|M navy", "backing|roll|"])
AMOUNTS = st.decimals(D("-500"), D("500"), places=3)
MOVES = st.lists(
    st.builds(Move, ITEMS, AMOUNTS, st.just("counted"), st.just(""), st.just("2026-05-04")),
    max_size=30,
)


@given(MOVES, st.randoms())
def test_on_hand_is_the_sum_of_moves_in_any_order(moves, chance):
    found = on_hand(moves)
    mixed = list(moves)
    chance.shuffle(mixed)
    assert on_hand(mixed) == found
    for item in {move.item for move in moves}:
        assert found[item] == sum(move.amount for move in moves if move.item == item)


@given(MOVES, ITEMS, st.decimals(0, 500, places=3))
def test_taking_and_giving_back_come_to_nothing_and_a_count_holds(moves, item, amount):
    before = on_hand(moves).get(item, D(0))
    out = Move(item, -amount, "taken", "Q-0001", "2026-05-04")
    back = Move(item, amount, "returned", "Q-0001", "2026-05-05")
    assert on_hand([*moves, out, back]).get(item, D(0)) == before
    count = counted(item, amount, before, on="2026-05-06")
    assert on_hand([*moves, count])[item] == amount


NEEDS = st.lists(st.tuples(ITEMS, st.decimals(0, 300, places=3)), max_size=12)


@given(NEEDS, MOVES)
def test_the_shelf_is_shared_earlier_promises_first_and_never_twice(needs, moves):
    there = on_hand(moves)
    shorts = uncovered(needs, there)
    assert all(0 <= short <= amount for (_, amount), short in zip(needs, shorts, strict=True))
    for item in {item for item, _ in needs}:
        mine = [(a, s) for (key, a), s in zip(needs, shorts, strict=True) if key == item]
        held = max(D(0), there.get(item, D(0)))
        assert sum(a - s for a, s in mine) == min(held, sum(a for a, _ in mine))
        first_short = next((n for n, (_, s) in enumerate(mine) if s), len(mine))
        assert all(a == s for a, s in mine[first_short + 1 :])


@pytest.mark.parametrize("why", sorted(GIVES | TAKES))
def test_a_move_does_what_it_says(why):
    way = 1 if why in GIVES else -1
    check_move(Move("x", D(way), why, "", "2026-05-04"))
    with pytest.raises(OutOfRange):
        check_move(Move("x", D(-way), why, "", "2026-05-04"))


def test_weighing_by_hand():
    """27 tex: 3.4 g is 125.93 m."""
    assert float(weighed_m(D("43.4"), D("40"), tex=D(27))) == pytest.approx(125.93, abs=0.005)
    with pytest.raises(OutOfRange):
        weighed_m(D("39"), D("40"), tex=D(27))


def needed(document):
    job = job_from(document | {"currency": "GBP"})
    work = work_of(job, HOUSE, {})
    own = frozenset(x.id for x in job.lines if x.goods.supplied_by == "customer")
    return {n.item.key: n for n in needs_of(work, HOUSE, customers=own)}, work


def test_what_the_worked_order_needs():
    """24 polos, a sample on scrap and 2 spares: 27 hoopings of backing and topping."""
    found, work = needed(polos(line__digitising="none"))
    kinds = sorted(found.values(), key=lambda need: need.item.key)
    assert found["blank|pique-polo|"].amount == 24 + 2
    backing = found["backing|cut-away-medium-500|"]
    # 180 × 180: two across, 14 rows of 27
    assert (backing.pieces, backing.cut_mm, backing.amount) == (27, (180, 180), D("2.520"))
    assert found["bobbin|l-prewound|white"].amount == 6  # of the run: the sample sews from them
    threads = [need for need in kinds if need.item.kind == "thread"]
    assert [float(n.amount) for n in threads] == pytest.approx(
        [row.needed_m for row in work.threads], abs=0.0011
    )
    theirs, _ = needed(polos(goods__supplied_by="customer"))
    assert theirs.keys() == found.keys() - {"blank|pique-polo|"}


def test_what_tabs_need_by_hand():
    """Ten tabs, no sample, one spare: 6 hoopings of 2 layers; 11 snaps and rings; no blank."""
    document = {"format": "clothyard-job/1", "lines": [tabs()]}
    found, work = needed(document)
    spares = work.lines[0].spares
    assert found["hardware|snap|"].amount == 10 + spares
    vinyl = found["sheet|vinyl-300x200|"]
    hoopings = -(-(10 + spares) // 2)
    assert vinyl.pieces == 2 * hoopings
    assert not any(key.startswith("blank") for key in found)


@pytest.mark.parametrize(
    ("item", "short", "buy"),
    [
        (Item("thread", "polyester", "#1d3b6f", "m"), "1150", None),
        (Item("backing", "cut-away-medium-500", "", "m"), "120", (("roll", 2),)),
        (Item("blank", "pique-polo", "M", "each"), "3", (("each", 3),)),
        (Item("hardware", "ribbon", "", "m"), "1.5", (("metre", 2),)),
        (Item("hardware", "snap", "", "each"), "11", (("each", 11),)),
    ],
)
def test_what_is_bought_covers_what_is_short(item, short, buy):
    found = cover(item, D(short), HOUSE)
    assert sum(pack.amount * count for pack, count in found) >= D(short)
    assert buy is None or tuple((pack.name, count) for pack, count in found) == buy
    assert cover(item, D(0), HOUSE) == []


BUYABLE = st.sampled_from(
    [
        "thread|polyester|#1d3b6f",
        "blank|pique-polo|M navy",
        "backing|cut-away-medium-500|",
        "hardware|snap|",
        "bobbin|l-prewound|white",
    ]
)
SOME = st.decimals(0, 400, places=0)


@given(
    st.lists(st.tuples(st.sampled_from("123"), BUYABLE, SOME), max_size=10),
    st.dictionaries(BUYABLE, st.decimals(-50, 300, places=0)),
    st.dictionaries(BUYABLE, SOME),
    st.dictionaries(BUYABLE, SOME),
)
def test_the_buying_list_covers_every_need_exactly_once(needs, there, minimums, coming):
    shorts = uncovered([(item, amount) for _, item, amount in needs], there)
    units = {
        key: "m" if key.startswith(("thread", "backing")) else "each"
        for key in [item for _, item, _ in needs] + [*minimums]
    }
    days = {"1": "2026-05-08", "2": "2026-05-03", "3": ""}
    promised = {}
    for _, item, amount in needs:
        promised[item] = promised.get(item, D(0)) + amount
    wanted = wanted_items(
        lacking(
            (item, order, short, days[order])
            for (order, item, _), short in zip(needs, shorts, strict=True)
        ),
        {},
        units,
        there=there,
        promised=promised,
        minimums=minimums,
        coming=coming,
    )
    assert len({want.item.key for want in wanted}) == len(wanted)
    lists = buy_lists(wanted, HOUSE, chosen={})
    bought = {}
    for line in (line for each in lists for line in each.lines):
        key = line.wanted.item.key
        bought[key] = bought.get(key, D(0)) + line.pack.amount * line.count
        rest = bought[key] - line.pack.amount
        assert line.wanted.item.kind == "thread" or rest < line.wanted.amount  # no pack too many
    for key in {item for _, item, _ in needs} | {*minimums}:
        mine = [amount for _, item, amount in needs if item == key]
        after = max(D(0), there.get(key, D(0))) + coming.get(key, D(0)) + bought.get(key, D(0))
        assert after >= sum(mine) + (minimums.get(key, D(0)) if not mine else 0)
    for want in wanted:
        short = [
            order
            for (order, item, _), s in zip(needs, shorts, strict=True)
            if item == want.item.key and s
        ]
        assert list(want.orders) == short
        named = [days[order] for order in short if days[order]]
        assert want.needed_by == min(named, default="")


@pytest.mark.parametrize("delivery", ["8", "50"])
def test_a_free_delivery_is_filled_at_the_least_cost_where_that_saves(delivery):
    """156 of goods at free from 200: 44 lack; of cones at 6.50 seven, 45.50, for a dearer one."""
    house = build_house(
        {
            "suppliers": {
                "loft": {
                    "label": "Loft",
                    "delivery": delivery,
                    "free_from": "200",
                    "days": 4,
                    "sells": "thread",
                }
            }
        },
    )
    want = Wanted(
        Item("thread", "polyester", "#1d3b6f", "m"), "x", D(24 * 5000), D(1), ("1",), "2026-05-20"
    )
    [found] = buy_lists([want], house, chosen={})
    assert (found.supplier, found.goods, found.delivery) == ("loft", D("156.00"), D(delivery))
    assert (found.to_free, found.order_by) == (D(44), "2026-05-14")
    if delivery == "8":
        assert found.fill is None
    else:
        assert found.lines[found.fill].pack.price * found.fill_count == D("45.50")


def test_spares_are_bought_in_the_sizes_that_may_be_spoiled():
    """24 polos in five sizes: one more of each, 98.4 % sure, where five of the largest leave 77."""
    sizes = zip(["S", "M", "L", "XL", "XXL"], (3, 6, 7, 5, 3), strict=True)
    cells = [{"size": size, "colour": "navy", "quantity": n} for size, n in sizes]
    work = work_of(job_from(polos(line__names=[], line__cells=cells)), HOUSE, {})
    assert [cell.spares for cell in work.lines[0].cells] == [1, 1, 1, 1, 1]
    needs = {n.item.detail: n.amount for n in needs_of(work, HOUSE) if n.item.kind == "blank"}
    wanted = {"S navy": 4, "M navy": 7, "L navy": 8, "XL navy": 6, "XXL navy": 4}
    assert needs == wanted
    pieces = wanted_pieces(job_from(polos(line__names=[], line__cells=cells)))
    spoiled = [replace(p, state="spoiled") if p.size == "M" else p for p in pieces[:5]]
    now = with_remakes(needs_of(work, HOUSE), work, spoiled)
    more = {n.item.detail: n.amount for n in now if n.item.kind == "blank"}
    assert more == wanted | {"M navy": 8}  # two of them, and one spare
    line = work.lines[0]
    bare = [cell.model_copy(update={"spares": None}) for cell in line.cells]
    old = work.model_copy(update={"lines": [line.model_copy(update={"cells": bare})]})
    told = {n.item.detail: n.amount for n in needs_of(old, HOUSE) if n.item.kind == "blank"}
    assert sum(told.values()) == 24 + line.spares


@pytest.mark.parametrize(
    ("goods", "label"),
    [("pique-polo", "Piqué polo, sizes not said"), ("canvas-bag", "Canvas bag")],
)
def test_the_sizes_of_sized_goods_are_asked_before_they_are_bought(goods, label):
    job = job_from(polos(line__names=[], line__cells=[], goods__class=goods))
    needs = needs_of(work_of(job, HOUSE, {}), HOUSE)
    assert [need.label for need in needs if need.item.kind == "blank"] == [label]
