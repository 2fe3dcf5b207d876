"""Customers: met by sending, found, joined, listed in and out, written out and erased."""

import io
import json
import sqlite3

import openpyxl
import pytest

from clothyard.core.errors import BadInput, Conflict, NotFound, Stale
from clothyard.files.tables import write_sheet
from clothyard.services.customer_page import proofs
from clothyard.services.customer_page.links import CustomerAnswer, answer_link, make_link
from clothyard.services.customers import known as customers
from clothyard.services.customers import personal
from clothyard.services.customers.known import CustomerDocument, CustomerList
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes.drafts import (
    QuoteDocument,
    create_quote,
    find_quote,
    list_quotes,
)
from clothyard.services.sending import send as sending
from clothyard.services.workshop.sheets import sheet_text
from clothyard.store.shop import DATABASE
from tests.conftest import polos

NAMES = ["Ada", "Zoë Quill", "Bo"]


def sent(shop, customer="Tern Street Bakers", email="bread@tern.example", job=None):
    document = QuoteDocument(customer=customer, email=email, job=job or polos())
    made = create_quote(shop, document)
    return sending.send_quote(shop, made.id, seen=made.revision)


def named_job():
    return polos(
        line__names=NAMES,
        line__quantity=3,
        placement__design={"text": "{name}", "height_mm": 12},
    )


def only(shop, **wanted):
    (row,) = customers.list_customers(shop, **wanted).items
    return row


def write(shop, row, **values):
    document = CustomerDocument(
        **{k: getattr(row, k) for k in CustomerDocument.model_fields} | values
    )
    return customers.save_customer(shop, row.id, document, seen=row.revision)


def test_who_is_sent_a_quote_is_a_customer_from_then_on(shop):
    create_quote(shop, QuoteDocument(customer="Ter", job=polos()))  # only typed
    assert customers.list_customers(shop).total == 0
    sent(shop)
    sent(shop, customer="  tern street  BAKERS ", email="", job=polos(line__quantity=50))
    row = only(shop)
    assert (row.name, row.email, row.quotes) == ("Tern Street Bakers", "bread@tern.example", 2)
    listed = list_quotes(shop, customer=row.id)
    assert [each.customer_id for each in listed.items] == [row.id, row.id]
    assert [each.customer_id for each in list_quotes(shop, search="q-0001").items] == [None]
    view = customers.find_customer(shop, row.id)
    (usual,) = view.usual
    assert (usual.goods, usual.times, usual.pieces) == ("Piqué polo", 2, 74)
    assert usual.last_unit == find_quote(shop, listed.items[0].id).estimate.lines[0].price.unit
    assert [each.name for each in customers.list_customers(shop, search="tern BREAD@").items] == [
        "Tern Street Bakers"
    ]
    assert customers.list_customers(shop, search="terns").total == 0


def test_a_customer_is_renamed_and_keeps_former_names(shop):
    sent(shop)
    view = write(shop, only(shop), name="Tern & Daughter")
    assert view.names == ["tern street bakers"]
    assert view.quotes == 1
    with pytest.raises(Conflict, match="another customer goes by"):
        customers.create_customer(shop, CustomerDocument(name="TERN street bakers"))
    with pytest.raises(Stale) as error:
        customers.save_customer(
            shop, view.id, CustomerDocument(name="Other"), seen=view.revision - 1
        )
    assert error.value.kept.name == "Tern & Daughter"
    assert customers.find_customer(shop, view.id).name == "Tern & Daughter"


@pytest.mark.parametrize(
    ("values", "where"),
    [
        ({"name": "  "}, "name"),
        ({"email": "bread@"}, "email"),
        ({"keep_until": "soon"}, "keep_until"),
        ({"contacts": [{"name": "Io"}, {"email": "io"}]}, "contacts[1].email"),
        ({"agreed": [{"unit_price": "free"}]}, "agreed[0].unit_price"),
        ({"agreed": [{"unit_price": "0"}]}, "agreed[0].unit_price"),
        ({"agreed": [{"unit_price": "9", "goods": "sail"}]}, "agreed[0].goods"),
        ({"agreed": [{"unit_price": "9", "until": "May"}]}, "agreed[0].until"),
    ],
)
def test_what_is_wrong_of_a_customer_is_told_by_its_place(shop, values, where):
    with pytest.raises(BadInput) as error:
        customers.create_customer(shop, CustomerDocument(**{"name": "Tern"} | values))
    assert error.value.where == where
    assert error.value.remedy
    assert customers.list_customers(shop).total == 0


def test_prices_that_were_agreed_are_kept_one_way(shop):
    agreed = [{"goods": "pique-polo", "unit_price": "£12,5", "until": "20270101"}]
    made = customers.create_customer(shop, CustomerDocument(name="Tern", agreed=agreed))
    (row,) = made.agreed
    assert (row.unit_price, row.until, row.from_quantity) == ("12.50", "2027-01-01", 1)


def test_two_that_are_one_are_found_and_joined(shop):
    sent(shop)
    sent(shop, customer="Tern Street Baker", email="ovens@tern.example")
    sent(shop, customer="Harbour Vets", email="")
    (pair,) = customers.alike_customers(shop).items
    assert {pair.customer.name, pair.other.name} == {"Tern Street Bakers", "Tern Street Baker"}
    one = write(shop, pair.customer, notes="flour on the floor", keep_until="2027-01-01")
    joined = customers.join_customers(shop, one.id, pair.other.id)
    assert joined.quotes == 2
    assert joined.notes == "flour on the floor"
    assert [c.email for c in joined.contacts] == [pair.other.email]
    assert len(joined.names) == 1
    assert customers.alike_customers(shop).total == 0
    assert customers.list_customers(shop).total == 2
    with pytest.raises(NotFound):
        customers.find_customer(shop, pair.other.id)
    with pytest.raises(BadInput):
        customers.join_customers(shop, one.id, one.id)


LIST = (
    "Company;E-mail;Telephone;Contact\nTern Street Bakers;x@tern.example;0123;Io\n"
    "Harbour Vets;vets@;;\nSlip & Co;;;\n;;;Nobody\n"
)


def test_a_list_of_customers_is_read_then_kept(shop):
    sent(shop)
    read = customers.take_customers(shop, CustomerList(text=LIST))
    assert [(r.line, r.does) for r in read.rows] == [
        (2, "fills in"),
        (3, "wrong"),
        (4, "new"),
        (5, "wrong"),
    ]
    assert read.rows[0].told == "phone, contacts"
    assert customers.list_customers(shop).total == 1
    kept = customers.take_customers(shop, CustomerList(text=LIST, keep=True))
    assert (kept.new, kept.filled, kept.wrong) == (1, 1, 2)
    row = only(shop, search="tern")
    assert (row.email, row.phone) == ("bread@tern.example", "0123")  # nothing overwritten
    again = customers.take_customers(shop, CustomerList(text=LIST, keep=True))
    assert [r.does for r in again.rows] == ["same", "wrong", "same", "wrong"]


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
def test_what_is_written_is_read_again_and_no_cell_is_a_formula(shop, kind):
    customers.create_customer(shop, CustomerDocument(name="=1+1 Tern", notes="a\nb"))
    data = customers.customers_sheet(shop, kind)
    if kind == "xlsx":
        cell = openpyxl.load_workbook(io.BytesIO(data)).active["A2"]
        assert (cell.value, cell.data_type) == ("=1+1 Tern", "s")
    else:
        assert "'=1+1 Tern" in data.decode("utf-8-sig")
    text = sheet_text(data, f"customers.{kind}")
    read = customers.take_customers(shop, CustomerList(text=text))
    assert [(r.name, r.does) for r in read.rows] == [("=1+1 Tern", "same")]


def test_a_sheet_holds_figures_as_numbers():
    data = write_sheet(["A", "B"], [["6.40", "0123"]], kind="xlsx", title="T")
    sheet = openpyxl.load_workbook(io.BytesIO(data)).active
    assert (sheet["A2"].value, sheet["A2"].number_format) == (6.4, "0.00")
    assert sheet["B2"].value == "0123"  # a telephone's, not 123


@pytest.mark.parametrize(
    ("data", "name"),
    [(b"PK\x03\x04 torn", "a.xlsx"), (b"\x00\x01", "a.csv"), (b"x" * 5_000_001, "a.csv")],
)
def test_what_is_no_table_is_refused_by_its_name(data, name):
    with pytest.raises(BadInput) as error:
        sheet_text(data, name)
    assert error.value.where == name
    assert error.value.remedy


def everything(shop):
    """Every text in the database and every file of the shop but backups, as one."""
    with sqlite3.connect(shop.folder / DATABASE) as database:
        texts = "\n".join(database.iterdump())
    files = [
        path.read_bytes().decode("latin-1")
        for at in ("documents", "outbox")
        for path in (shop.folder / at).rglob("*")
        if path.is_file()
    ]
    return "\n".join([texts, *files])


def test_all_that_is_kept_of_somebody_is_written_out_and_erased(shop):
    done = sent(shop, job=named_job())
    link = make_link(shop, done.id, served_at="http://127.0.0.1/")
    answer_link(
        shop,
        link.path.removeprefix("/q/"),
        CustomerAnswer(kind="change", name="Io Quill", words="Bo is Beau"),
    )
    done = sending.answer_quote(shop, done.id, "accepted", seen=find_quote(shop, done.id).revision)
    orders.keep_up(shop)
    opened = open_version(shop, done.id, 1)
    corrected = {"line": "l1", "n": 0, "to": "Quillan Corrected"}
    said = proofs.ProofSaid(name="Io Quill", names=[corrected], other="Quillan is my cousin")
    proofs.say_proof(shop, done.id, 1, opened.asked, said)
    other = sent(shop, customer="Harbour Vets", email="vets@harbour.example")
    row = only(shop, search="tern")
    data = json.dumps(personal.personal_data(shop, row.id), ensure_ascii=False)
    for told in (
        "Tern Street Bakers",
        "bread@tern.example",
        "Zoë Quill",
        "Io Quill",
        "Beau",
        "Quillan Corrected",
        "my cousin",
    ):
        assert told in data
    assert "Harbour Vets" not in data
    before = everything(shop)
    assert all(told in before for told in ("Tern Street", "bread@tern", "Quill", "Beau"))
    assert b"%PDF" in sending.find_paper(shop, done.id, 1, "costing").data  # made just now
    told = personal.erase_customer(shop, row.id)
    assert (told.quotes, told.names, told.messages) == (1, 3, 1)
    assert told.papers > 3
    after = everything(shop)
    for word in ("Tern Street", "tern street", "bread@tern", "Quill", "Beau", "cousin"):
        assert word not in after
    assert find_quote(shop, done.id).total == done.total  # what was sold stays
    assert find_quote(shop, done.id).customer == "erased"
    assert find_quote(shop, other.id).customer == "Harbour Vets"
    assert sending.version_estimate(shop, done.id, 1).total.to_pay == done.total
    with pytest.raises(NotFound):
        customers.find_customer(shop, row.id)


def test_name_lists_alone_are_erased(shop):
    done = sent(shop, job=named_job())
    row = only(shop)
    told = personal.erase_names(shop, row.id)
    assert (told.quotes, told.names) == (1, 3)
    after = everything(shop)
    assert "Quill" not in after
    assert "Tern Street Bakers" in after
    assert find_quote(shop, done.id).total == done.total
    assert personal.erase_names(shop, row.id).quotes == 0  # what stands for them is no name


def test_names_that_are_words_of_the_trade_break_no_document(shop):
    names = ["Fill", "Hoop", "Lines", "polyester", "Price", "margin", "backing"]
    job = polos(
        line__names=names,
        line__quantity=7,
        placement__design={"text": "{name}", "height_mm": 12},
    )
    done = sent(shop, customer="machine", job=job)
    personal.erase_customer(shop, only(shop).id)
    after = find_quote(shop, done.id)
    assert after.estimate.total == done.estimate.total
    assert [m.value for m in after.estimate.lines[0].methods] == [
        m.value for m in done.estimate.lines[0].methods
    ]
    assert after.job["lines"][0]["names"] == ["x" * len(name) for name in names]


def test_who_is_called_just_so_comes_first(shop):
    for name in ("Ann Berry", "Ann", "Anning & Ann"):
        customers.create_customer(shop, CustomerDocument(name=name))
    assert customers.list_customers(shop, search="ann", sort="quotes").items[0].name == "Ann"


def test_name_lists_have_a_day_of_their_own(shop):
    sent(shop, job=named_job())
    row = write(shop, only(shop), names_until="2020-01-01")
    assert row.past
    assert customers.list_customers(shop, past=True).total == 1
    personal.erase_names(shop, row.id)
    after = only(shop)
    assert (after.past, after.names_until, after.name) == (False, "", "Tern Street Bakers")


def test_whose_day_is_past_is_told(shop):
    made = customers.create_customer(shop, CustomerDocument(name="Tern", keep_until="2020-01-01"))
    customers.create_customer(shop, CustomerDocument(name="Vets", keep_until="2999-01-01"))
    assert made.past
    assert [row.name for row in customers.list_customers(shop, past=True).items] == ["Tern"]


def test_an_empty_quote_leaves_no_number_behind(shop):
    one = create_quote(shop, QuoteDocument())
    two = create_quote(shop, QuoteDocument())
    assert (two.id, two.number) == (one.id, one.number)
    quotes.save_quote(
        shop, one.id, QuoteDocument(customer="Ada", job=one.job), seen=one.revision
    )  # written into
    assert create_quote(shop, QuoteDocument()).id != one.id
