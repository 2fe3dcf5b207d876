"""Blanks from the shelf: supplier's steps, packs, dearer sizes, one delivery."""

from __future__ import annotations

from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import build_house, default_house, house_json, kept_house
from clothyard.core.house.price_steps import read_sizes, read_steps, write_sizes, write_steps
from clothyard.core.job.check import job_from
from clothyard.core.price.goods import goods_bought, plan_supplies
from clothyard.core.units import read_amount

D = Decimal

SHELF = {
    "suppliers": {"mill": {"label": "The mill", "delivery": "8", "free_from": "250", "days": 3}},
    "blanks": {
        "polo": {
            "label": "Plain polo",
            "goods": "pique-polo",
            "supplier": "mill",
            "prices": "6.40, 24: 5.90, 100: 5.40",
            "dearer": "2XL 1.20, 3XL 2.40",
            "pack": 1,
            "sizes": "S M L 2XL 3XL",
            "colours": "navy, white",
        },
        "apron": {
            "label": "Bib apron",
            "goods": "twill",
            "supplier": "mill",
            "prices": {"10": "4.00"},
            "dearer": "none",
            "pack": 10,
            "sizes": "one-size",
            "colours": "any",
        },
    },
}


def line(blank="polo", quantity=24, **more):
    goods = {"class": SHELF["blanks"][blank]["goods"], "blank": blank} | more.pop("goods", {})
    return {
        "goods": goods,
        "quantity": quantity,
        "placements": [{"design": {"stitches": 8200}}],
    } | more


def job(*lines):
    return job_from({"format": "clothyard-job/1", "currency": "GBP", "lines": list(lines)})


def shelf(**patch):
    return build_house(patch or None, on=build_house(SHELF))


def price(*lines, **options):
    return estimate(job(*lines), shelf(), {}, compare=False, **options)


def bought(*lines, house=None):
    asked = job(*lines)
    found = plan_supplies(asked, house or shelf(), lambda supplies: [(0,)] * len(supplies))
    return [goods_bought(s, line.quantity) for s, line in zip(found, asked.lines, strict=True)]


# reading ------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "text",
    [
        "6.40, 25: 5.90",
        "1: 6.40; 25 5.90",
        "25: 5.90, 6.40",
        "from 1 6.40\nfrom 25 = 5.90",
        "6,40; 25: 5,90",
        "6.40 GBP; 25: £5.90",
    ],
)
def test_steps_are_read_as_they_are_typed(text):
    read = read_steps(text, currency="GBP")
    assert list(read.items()) == [("1", D("6.40")), ("25", D("5.90"))]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "needs 1 to 30"),
        ("6,40 each", "'40 each' is no price step"),
        ("cheap", "'cheap' is no price step"),
        ("25: 6,40", "'25: 6,40' may be one price or two"),
        ("6,40, 25: 5,90", "'6,40' may be one price or two"),
        ("£6.40", "'£6.40' is no price step"),
        ("6.40, 5.90", "two prices hold from 1"),
        ("0: 3", "'0' is no number"),
        ("6.40, 25: -3", "no price step"),
        ({"1": "20000"}, "a price is from 0"),
        ({"one": "2"}, "'one' is no number"),
        (6.4, "must be price steps"),
        (", ".join(f"{n}: 1" for n in range(1, 40)), "needs 1 to 30"),
    ],
)
def test_what_is_no_step_is_refused_with_its_place(text, says):
    with pytest.raises(ValueError, match=says):
        read_steps(text)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("2XL", "is no size"),
        ("2XL 1, 2xl 2", "stands twice"),
        (3, "must be sizes"),
        ({"": "1"}, "is no size"),
        ("XL 99999", "a price is from"),
    ],
)
def test_what_is_no_size_is_refused(text, says):
    with pytest.raises(ValueError, match=says):
        read_sizes(text)


@given(
    st.dictionaries(
        st.integers(1, 100_000).map(str), st.decimals(0, 10_000, places=2), min_size=1, max_size=30
    )
)
def test_what_is_written_reads_as_the_same(steps):
    assert read_steps(write_steps(read_steps(steps))) == steps


def test_sums_for_sizes_with_a_decimal_comma_are_set_apart_by_semicolons():
    assert read_sizes("2XL 1,20; 3XL 2,40") == {"2XL": D("1.20"), "3XL": D("2.40")}
    assert read_sizes("2XL €1.20", currency="EUR") == {"2XL": D("1.20")}
    for text in ("2XL 1,20", "2XL £1.20"):
        with pytest.raises(ValueError, match=r"may be one price or two|is no size and sum"):
            read_sizes(text, currency="EUR")


@pytest.mark.parametrize(
    ("text", "amount"),
    [
        ("24", "24"),
        ("6,40", "6.40"),
        ("1,200", "1200"),
        ("1.234,56", "1234.56"),
        ("1 234,5", "1234.5"),
        ("1,234.50", "1234.50"),
        ("0,125", "0.125"),
        (" £6.40 ", "6.40"),
        ("6.40 GBP", "6.40"),
        ("12,3456", "12.3456"),
        (".5", "0.5"),
    ],
)
def test_amounts_are_read_as_people_write_them(text, amount):
    assert read_amount(text, currency="GBP") == D(amount)


@pytest.mark.parametrize(
    "text", ["", "six", "€6.40", "1,2,3", "1.2.3", "1e5", "٣", "6.40 each", "-1"]
)
def test_what_is_no_amount_is_refused(text):
    with pytest.raises(ValueError, match="must be a number"):
        read_amount(text, currency="GBP")


def test_sizes_are_written_as_they_read():
    assert write_sizes(read_sizes("2XL +1.20; 3XL: 2.40")) == "2XL 1.20, 3XL 2.40"
    assert (write_sizes({}), read_sizes("none")) == ("none", {})


# the shelf ----------------------------------------------------------------------------------


def test_a_shop_has_no_blanks_until_it_keeps_some():
    assert default_house().blanks == {}
    assert default_house().suppliers["any"].delivery == 0


def test_a_step_is_patched_by_its_number_and_taken_out_by_null():
    house = shelf(blanks={"polo": {"prices": {"24": None, "50": "5.70"}}})
    assert {k: str(v) for k, v in house.blanks["polo"].prices.items()} == {
        "1": "6.40",
        "50": "5.70",
        "100": "5.40",
    }
    whole = shelf(blanks={"polo": {"prices": "7"}})
    assert house_json(whole)["blanks"]["polo"]["prices"] == {"1": "7"}


@pytest.mark.parametrize(
    ("patch", "where"),
    [
        ({"polo": {"prices": {"25": "cheap"}}}, "house.blanks.polo.prices"),
        ({"polo": {"prices": "x"}}, "house.blanks.polo.prices"),
        ({"polo": {"goods": "polo-shirt"}}, "house.blanks.polo.goods"),
        ({"polo": {"supplier": "moon"}}, "house.blanks.polo.supplier"),
        ({"polo": {"pack": 0}}, "house.blanks.polo.pack"),
        ({"polo": {"price": "6"}}, "house.blanks.polo.price"),
        ({"new": {"label": "New"}}, "house.blanks.new.goods"),
    ],
)
def test_a_shelf_that_cannot_be_is_refused_by_its_place(patch, where):
    with pytest.raises(BadInput) as error:
        shelf(blanks=patch)
    problems = getattr(error.value, "problems", [error.value])
    assert problems[0].where == where


def test_a_house_kept_before_there_were_blanks_reads_with_none():
    old = house_json(default_house())
    del old["blanks"], old["suppliers"]
    assert kept_house(old).blanks == {}


# what they cost -----------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("asked", "count", "each", "total"),
    [
        pytest.param(line(quantity=10), 10, "6.40", "72.00", id="10 at 6.40 and 8 to bring them"),
        pytest.param(line(quantity=23), 24, "5.90", "143.70", id="24 at 5.90 beat 23 at 6.40"),
        pytest.param(line(quantity=50), 50, "5.90", "295.00", id="295 is over 250: brought free"),
        pytest.param(line("apron", 4), 10, "4.00", "24.00", id="sold from 10 on, in tens"),
        pytest.param(line("apron", 11), 20, "4.00", "52.00", id="two packs"),
        pytest.param(
            line(goods={"unit_cost": "5.00"}),
            24,
            "5.00",
            "128.00",
            id="a typed price goes before the shelf; the parcel is the supplier's",
        ),
        pytest.param(
            line(goods={"delivery": "2.50"}),
            24,
            "5.90",
            "144.10",
            id="a typed delivery is the line's own",
        ),
        pytest.param(line(goods={"pack": 5}), 25, "5.90", "149.60", id="a typed pack"),
        pytest.param(
            line(goods={"price_breaks": [{"quantity": 20, "unit_cost": "5.00"}]}, quantity=21),
            21,
            "5.00",
            "113.00",
            id="typed steps go before the shelf's",
        ),
        pytest.param(
            line(goods={"price_breaks": [{"quantity": 20, "unit_cost": "6.00"}]}, quantity=5),
            5,
            "6.40",
            "40.00",
            id="under the typed step the shelf's first price",
        ),
        pytest.param(line(goods={"supplied_by": "customer"}), 24, "0", "0", id="their own"),
    ],
)
def test_a_blank_costs_what_its_supplier_asks(asked, count, each, total):
    (found,) = bought(asked)
    assert (found.bought, found.each, found.total) == (count, D(each), D(total))


@pytest.mark.parametrize(
    ("prices", "quantity", "count", "total"),
    [
        pytest.param("10: 4.00", 4, 10, "24.00", id="the least that is sold, without packs"),
        pytest.param("10: 4.00, 50: 3", 4, 10, "24.00", id="the same with a further step"),
        pytest.param("10.00", 25, 25, "250.00", id="250 to the penny comes free"),
        pytest.param("9.99", 25, 25, "257.75", id="a quarter less does not"),
    ],
)
def test_the_least_sold_and_what_comes_free(prices, quantity, count, total):
    house = shelf(blanks={"polo": {"prices": prices}})
    (found,) = bought(line(quantity=quantity), house=house)
    assert (found.bought, found.total) == (count, D(total))


def test_a_dearer_size_stays_dearer_at_every_step():
    """20 at 6.40 and 4 at 7.60 are 158.40; from 24 on 0.50 less each: 20 x 5.90 + 4 x 7.10."""
    cells = [{"size": "M", "quantity": 20}, {"size": " 2Xl", "quantity": 4}]
    (found,) = bought(line(cells=cells))
    assert found.each * 24 == D("146.40")
    typed = [{"size": "M", "quantity": 20}, {"size": "2XL", "quantity": 4, "unit_cost": "8.00"}]
    (found,) = bought(line(cells=typed))  # 8.00 as typed, less in proportion: 8 x 5.90 / 6.40
    assert found.each * 24 == pytest.approx(D(20) * D("5.90") + 4 * D(8) * D("5.90") / D("6.40"))


def test_spares_weigh_what_a_dearer_size_costs():
    """4 small at 6.40 and 15 large at 12.80, 5% spoiled: 5 spares; at one price 4 would do."""
    toy = {"goods": "stuffed-toy", "prices": "6.40", "sizes": "S L"}
    cells = [{"size": "S", "quantity": 4}, {"size": "L", "quantity": 15}]
    asked = line(quantity=19, cells=cells, goods={"class": "stuffed-toy"})
    for dearer, spares in (("L 6.40", 5), ("none", 4)):
        house = shelf(blanks={"polo": toy | {"dearer": dearer}})
        found = estimate(job(asked), house, {}, compare=False)
        assert found.lines[0].spares == spares


def test_lines_of_one_blank_are_bought_together():
    """12 and 11 are 23: 24 at 5.90 cost less; the 24th falls to the second line,
    and goes to the shelf."""
    first, second = bought(line(quantity=12), line(quantity=11))
    assert (first.bought, second.bought) == (12, 12)
    assert first.each == second.each == D("5.90")
    assert first.total + second.total == 23 * D("5.90") + 8


def test_a_line_with_a_typed_price_is_bought_by_itself():
    """12 on the shelf's terms do not reach the step of 24; the other 12 were agreed on."""
    shelved, typed = bought(line(quantity=12), line(quantity=12, goods={"unit_cost": "5.00"}))
    assert (shelved.each, typed.each) == (D("6.40"), D("5.00"))
    assert shelved.delivery + typed.delivery == 8  # they come in one parcel all the same
    shelved, packed = bought(line(quantity=12), line(quantity=12, goods={"pack": 5}))
    assert (shelved.bought, packed.bought) == (12, 15)


def test_one_parcel_is_shared_by_what_is_in_it():
    polos, aprons = bought(line(quantity=10), line("apron", 10))
    assert (polos.delivery, aprons.delivery) == (8 * D(64) / 104, 8 * D(40) / 104)
    many, few = bought(line(quantity=40), line("apron", 10))  # 236 + 40 are over 250
    assert (many.delivery, few.delivery) == (0, 0)
    free = build_house({"blanks": {"polo": {"prices": "0"}, "apron": {"prices": "0"}}}, on=shelf())
    polos, aprons = bought(line(quantity=10), line("apron", 10), house=free)
    assert (polos.delivery, aprons.delivery) == (4, 4)


@given(
    counts=st.lists(st.integers(1, 130), min_size=1, max_size=4),
    pack=st.sampled_from([1, 5, 12]),
)
def test_lines_of_one_blank_cost_as_one_line_of_all_of_them(counts, pack):
    house = build_house({"blanks": {"polo": {"pack": pack}}}, on=shelf())
    several = bought(*[line(quantity=n) for n in counts], house=house)
    (one,) = bought(line(quantity=sum(counts)), house=house)
    assert sum(b.bought for b in several) == one.bought
    assert sum(b.total for b in several) == pytest.approx(one.total)
    assert all(b.bought >= n for b, n in zip(several, counts, strict=True))


@given(quantity=st.integers(1, 300))
def test_buying_more_never_costs_less_than_what_was_chosen(quantity):
    (found,) = bought(line(quantity=quantity))
    (more,) = bought(line(quantity=quantity + 1))
    assert found.bought * found.each <= more.bought * more.each


# what is told -------------------------------------------------------------------------------


def test_the_estimate_tells_how_the_blanks_are_bought():
    found = price(line(quantity=30), working=True).lines[0]
    assert found.supplied.model_dump() == {
        "blank": "polo",
        "label": "Plain polo",
        "supplier": "The mill",
        "each": "5.9000",
        "step": 24,
        "next_step": 100,
        "next_each": "5.4000",
        "alike": 0,
        "more": 2,
        "pack": 1,
        "delivery": "8.00",
        "days": 3,
        "typed": False,
    }
    assert price(line(quantity=23)).lines[0].supplied.next_step == 100  # 24 are bought already
    assert found.cost.goods == "185.00"
    assert {m.item for m in found.materials if m.kind == "goods"} == {"polo"}
    goods = next(w for w in found.working if w.id == "cost.goods")
    assert goods.inputs[1].source == "the shelf: Plain polo, from 24 on"
    assert (goods.inputs[2].name, goods.inputs[2].value) == ("delivery", "8")
    assert goods.inputs[2].source == "the supplier's, by what is bought"
    assert goods.formula == "pieces × a blank + delivery"
    together = price(line(quantity=12), line(quantity=13), working=True).lines[0]
    goods = next(w for w in together.working if w.id == "cost.goods")
    assert goods.inputs[1].source.endswith("from 24 on, counted with 14 more in the order")
    assert price(line(goods={"supplied_by": "customer"})).lines[0].supplied is None


def told(*lines, house=None):
    found = estimate(job(*lines), house or shelf(), {}, compare=False)
    return {a.code: a for a in found.lines[0].advice}


def test_what_does_not_agree_with_the_shelf_is_told():
    assert not {"blank-differs", "blank-unpriced", "cell-none"} & told(line()).keys()
    differs = told(line(goods={"class": "denim"}))["blank-differs"]
    assert differs.apply == [
        {"op": "replace", "path": "/lines/0/goods/class", "value": "pique-polo"}
    ]
    cells = [{"size": "4XL", "colour": "Navy", "quantity": 24}]
    assert (
        "size 4XL: the shelf has S, M, L, 2XL, 3XL" in told(line(cells=cells))["cell-none"].message
    )
    cells = [{"size": "m", "colour": "pink", "quantity": 24}]
    assert "colour pink" in told(line(cells=cells))["cell-none"].message
    unpriced = shelf(blanks={"polo": {"prices": "0"}})
    assert "blank-unpriced" in told(line(), house=unpriced)
    assert "blank-unpriced" not in told(line(goods={"unit_cost": "5"}), house=unpriced)
    assert "blank-unpriced" not in told(line(goods={"unit_cost": "0"}))  # a gift, as typed
    one_size = [{"size": "XL", "colour": "red", "quantity": 10}]
    assert "cell-none" not in told(line("apron", 10, cells=one_size))


def test_a_blank_that_is_not_there_is_named_with_the_nearest():
    with pytest.raises(BadInput) as error:
        price(line(goods={"blank": "pollo"}))
    assert error.value.where == "lines[0].goods.blank"
    assert "polo" in error.value.remedy


def test_costs_of_blanks_are_hidden_with_the_rest():
    from clothyard.core.estimate.customer import house_without_costs, without_costs

    hidden = house_json(house_without_costs(shelf()))
    assert hidden["blanks"]["polo"]["prices"] == {"1": "0"}
    assert hidden["blanks"]["polo"]["dearer"] == {}
    assert hidden["suppliers"]["mill"]["delivery"] == "0"
    shown = without_costs(price(line())).lines[0].supplied
    assert (shown.each, shown.next_each, shown.delivery) == ("0.0000", None, "0.00")
