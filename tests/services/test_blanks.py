"""A supplier's price list: read row by row, taken onto the shelf, written out and read again."""

from __future__ import annotations

from decimal import Decimal

import pytest

from clothyard.core.errors import BadInput, Conflict
from clothyard.files.price_list import read_price_list, write_price_list
from clothyard.services.house.standards import (
    NewRow,
    add_row,
    change_standard,
    list_standards,
    remove_row,
    reset_standard,
    shop_house,
)
from clothyard.services.quotes.drafts import QuoteDocument, create_quote, find_quote
from clothyard.services.workshop.blanks import PriceList, price_list, take_price_list
from clothyard.store.shop import Shop

D = Decimal

LIST = """Blank\tClass\tSupplier\tFrom\tEach\tPack\tSizes
Harbour polo\tPiqué polo\tSaltmarsh\t1\t£6.40\t1\tS M L
Harbour polo\t\t\t25\t5.95\t\t
Watch hat\tknitted-hat\tSaltmarsh\t1\t3.60\t10\t
"""


@pytest.fixture
def shop(tmp_path):
    shop = Shop(tmp_path / "shop")
    yield shop
    shop.close()


def take(shop, text, *, keep=True):
    return take_price_list(shop, PriceList(text=text, keep=keep))


def test_a_pasted_list_is_shown_before_it_is_kept(shop):
    found = take(shop, LIST, keep=False)
    assert [(b.label, b.prices, b.new_supplier, b.id) for b in found.blanks] == [
        ("Harbour polo", "1: 6.40, 25: 5.95", True, None),
        ("Watch hat", "1: 3.60", True, None),
    ]
    assert not found.problems
    assert shop_house(shop).blanks == {}
    found = take(shop, LIST)
    house = shop_house(shop)
    assert [b.id for b in found.blanks] == ["harbour-polo", "watch-hat"] == list(house.blanks)
    assert house.blanks["watch-hat"].pack == 10
    assert house.blanks["harbour-polo"].sizes == "S M L"
    assert house.suppliers["saltmarsh"].label == "Saltmarsh"


def test_the_next_list_changes_prices_and_keeps_the_rest(shop):
    take(shop, LIST)
    found = take(shop, "name;price\nharbour POLO;7\n")
    assert (found.blanks[0].was, found.blanks[0].prices) == ("1: 6.40, 25: 5.95", "1: 7")
    house = shop_house(shop)
    assert [str(p) for p in house.blanks["harbour-polo"].prices.values()] == ["7"]
    assert house.blanks["harbour-polo"].supplier == "saltmarsh"
    assert len(house.blanks) == 2


def test_good_rows_are_taken_and_bad_ones_told_by_their_lines(shop):
    text = (
        "Blank,Class,Each,From,Pack\n"
        "Good,denim,4,1,1\n"
        "Typo,denimm,4,1,1\n"
        "\n"
        "Dear,denim,lots,1,1\n"
        "Packed,denim,4,1,none\n"
        "Nameless,,4,1,1\n"
        "Twice,denim,4,1,1\n"
        "Twice,denim,5,1,1\n"
        ",denim,5,1,1\n"
    )
    found = take(shop, text)
    assert (
        [b.label for b in found.blanks]
        == ["Good"]
        == [b.label for b in shop_house(shop).blanks.values()]
    )
    told = {p.line: f"{p.detail} {p.remedy}" for p in found.problems}
    assert list(told) == [3, 5, 6, 7, 9, 10]
    assert "Did you mean Denim?" in told[3]
    assert "'lots' is no price in GBP" in told[5]
    assert "number" in told[6]
    assert "Nameless is new and has no class" in told[7]
    assert "two prices hold from 1" in told[9]
    assert "names no blank" in told[10]


def test_a_list_from_a_spreadsheet_of_another_country(shop):
    """Decimal commas and thousands points, in the shop's currency only."""
    change_standard(shop, "price.currency", "EUR")
    found = take(
        shop,
        "Blank;Class;From;Each\n"
        "Cap;structured-cap;1;6,40 €\n"
        "Cap;structured-cap;1.200+;5,05\n"
        "Vest;work-vest;1;£7.20\n",
    )
    assert shop_house(shop).blanks["cap"].prices == {"1": D("6.40"), "1200": D("5.05")}
    [refused] = found.problems
    assert (refused.line, refused.detail) == (4, "'£7.20' is no price in EUR.")
    change_standard(shop, "blanks.cap.prices", "€6,40; 50: €5,90")
    assert shop_house(shop).blanks["cap"].prices == {"1": D("6.40"), "50": D("5.90")}
    with pytest.raises(BadInput, match="may be one price or two"):
        change_standard(shop, "blanks.cap.prices", "25: 6,40")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "the list is empty"),
        (" \n\n", "the list is empty"),
        ("Colour,Price\nred,4\n", "no heading says"),
        ("Blank,Price,Cost\nx,1,2\n", "two columns are headed as each"),
        ("Blank\n" + "x\n" * 2001, "2001 rows"),
        ('Blank,Each\n"torn,4\n' + "y" * 200_000, "cannot be read as a table"),
        ("y" * 200_000, "cannot be read as a table"),
    ],
)
def test_what_is_no_list_is_refused(text, says):
    with pytest.raises(BadInput, match=says):
        read_price_list(text)


def test_a_list_that_is_written_reads_as_the_same(shop):
    take(shop, LIST)
    take(shop, "Blank|Class|Each|Dearer\n=Sum|felt|2|2XL 1.20\n")
    before = shop_house(shop)
    text = price_list(shop)
    assert "'=Sum" in text
    for row in list(before.blanks):
        remove_row(shop, "blanks", row)
    assert shop_house(shop).blanks == {}
    assert not take(shop, text).problems
    assert shop_house(shop).blanks == before.blanks
    assert write_price_list([]).startswith("Blank,Class,Supplier,Prices")


# rows of the shop's own ---------------------------------------------------------------------


def test_a_row_with_values_is_kept_whole_or_not_at_all(shop):
    with pytest.raises(BadInput) as error:
        add_row(shop, NewRow(section="blanks", label="Polo", values={"price": "4"}))
    assert error.value.where == "values.price"
    with pytest.raises(BadInput):
        add_row(shop, NewRow(section="blanks", label="Polo", values={"prices": "cheap"}))
    with pytest.raises(BadInput):
        add_row(shop, NewRow(section="blanks", label="Polo", values={"supplier": "nobody"}))
    assert shop_house(shop).blanks == {}
    rows = add_row(shop, NewRow(section="blanks", label="Polo", values={"prices": {"1": 4}}))
    shown = {row.key.rsplit(".", 1)[-1]: row for row in rows}
    assert (shown["prices"].value, shown["dearer"].value) == ("1: 4", "none")
    assert "Piqué polo" in shown["goods"].choice_names
    change_standard(shop, "blanks.polo.prices", "6, 12: 5.50")
    assert shop_house(shop).blanks["polo"].prices["12"] == 5.5
    with pytest.raises(BadInput, match="no price step"):
        change_standard(shop, "blanks.polo.prices", "6 or so")
    with pytest.raises(Conflict):
        reset_standard(shop, "blanks.polo.prices")


def test_a_supplier_that_is_bought_from_stays(shop):
    take(shop, LIST)
    with pytest.raises(BadInput, match="saltmarsh"):
        remove_row(shop, "suppliers", "saltmarsh")
    assert "saltmarsh" in shop_house(shop).suppliers


def test_the_shelf_lists_its_blanks_with_the_standards(shop):
    take(shop, LIST)
    keys = {s.key for s in list_standards(shop)}
    assert {"blanks.harbour-polo.prices", "suppliers.saltmarsh.days"} <= keys


# a quote of a blank -------------------------------------------------------------------------


def quote_of(shop, blank="harbour-polo", **goods):
    job = {
        "format": "clothyard-job/1",
        "currency": "GBP",
        "lines": [
            {
                "goods": {"class": "pique-polo", "blank": blank} | goods,
                "quantity": 10,
                "placements": [{"design": {"stitches": 8200}}],
            }
        ],
    }
    return create_quote(shop, QuoteDocument(customer="Brackwater", job=job))


def test_only_the_blank_that_a_draft_uses_is_told_when_it_changes(shop):
    take(shop, LIST)
    quote = quote_of(shop)
    assert quote.summary == "10 × Harbour polo"
    assert quote_of(shop, supplied_by="customer").summary == "10 × Piqué polo"
    change_standard(shop, "blanks.watch-hat.prices", "9")
    assert find_quote(shop, quote.id).standards_changed == []
    change_standard(shop, "blanks.harbour-polo.prices", "6.60, 25: 5.95")
    change_standard(shop, "suppliers.saltmarsh.delivery", "4")
    assert find_quote(shop, quote.id).standards_changed == [
        "Harbour polo, prices from 1: 6.40 became 6.60.",
        "Saltmarsh, delivery: 0 became 4.",
    ]


def test_a_draft_whose_blank_is_gone_says_so_and_keeps_what_was_typed(shop):
    take(shop, LIST)
    quote = quote_of(shop)
    remove_row(shop, "blanks", "harbour-polo")
    found = find_quote(shop, quote.id)
    assert found.estimate is None
    assert found.problems[0].where == "lines[0].goods.blank"
    assert found.job["lines"][0]["goods"]["blank"] == "harbour-polo"


def test_a_long_list_is_kept_as_far_as_the_shelf_holds_it(shop):
    """420 blanks of two suppliers, written in two ways: 400 are kept, the last 20 told."""
    rows = "".join(
        f"Bag {n},canvas-bag,{'North Quay' if n % 2 else 'north QUAY'},{n + 1}\n"
        for n in range(420)
    )
    found = take(shop, f"Blank,Class,Supplier,Each\n{rows}")
    house = shop_house(shop)
    assert (len(found.blanks), len(house.blanks), len(found.problems)) == (400, 400, 20)
    assert found.problems[0].line == 402
    assert "one more than the shelf holds" in found.problems[0].detail
    assert [s.label for s in house.suppliers.values()] == ["No supplier named", "north QUAY"]
    assert found.blanks[399].id == "bag-399"
    assert house.blanks["bag-399"].prices["1"] == 400
