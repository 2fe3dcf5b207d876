"""Customers: how they are reached, what they ordered, what was agreed; lists of them in and out."""

from __future__ import annotations

from collections import defaultdict
from typing import Any, Literal

from email_validator import EmailNotValidError, validate_email
from pydantic import BaseModel, ConfigDict, Field

from clothyard.core.alike import Called, pairs_alike
from clothyard.core.errors import BadInput, Conflict, Stale
from clothyard.core.estimate.document import Estimate
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from
from clothyard.core.methods.settle import goods_name
from clothyard.core.order.customer import AgreedPrice, Contact
from clothyard.core.units import money_text, read_typed
from clothyard.files.tables import SheetKind, TableRow, read_table, write_sheet
from clothyard.services.house.standards import shop_house
from clothyard.services.quotes.drafts import read_day
from clothyard.store import customers as kept
from clothyard.store import quotes
from clothyard.store.shop import Shop, today
from clothyard.store.unit import Reads, Unit

Sort = Literal["name", "last", "quotes"]
LOOKED_BACK = 100
"""Quotes that what a customer usually orders is taken from, the last ones."""

MOST_ALIKE, MOST_PAIRS = 2000, 200
"""Customers that are compared, and pairs of them that are listed."""

COLUMNS = {
    "name": ("name", "customer", "company", "called"),
    "contact": ("contact", "contact name", "person", "attention"),
    "email": ("e-mail", "email", "mail", "e-mail address", "email address"),
    "phone": ("phone", "telephone", "tel", "mobile"),
    "address": ("address", "postal address"),
    "notes": ("notes", "note", "remarks"),
    "keep_until": ("keep until", "kept until"),
    "names_until": ("keep names until", "names until"),
}


class CustomerDocument(BaseModel):
    """A customer as written; dates are ISO, "" for none."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(max_length=200)
    email: str = Field(default="", max_length=200)
    phone: str = Field(default="", max_length=60)
    address: str = Field(default="", max_length=1000)
    notes: str = Field(default="", max_length=5000)
    contacts: list[Contact] = Field(default_factory=list, max_length=50)
    agreed: list[AgreedPrice] = Field(default_factory=list, max_length=100)
    keep_until: str = Field(default="", max_length=10)
    names_until: str = Field(default="", max_length=10)


class CustomerRow(CustomerDocument):
    """A customer in the list; `past` once their day of keeping is, or that of their name lists."""

    id: int
    revision: int
    quotes: int
    last_on: str
    past: bool


class CustomersPage(BaseModel):
    """A page of the list."""

    items: list[CustomerRow]
    total: int
    next: str | None


class Usual(BaseModel):
    """Goods that a customer ordered: how often, how many in all, what a piece was last."""

    goods: str
    goods_class: str
    times: int
    pieces: int
    last_unit: str
    currency: str
    last_on: str


class CustomerView(CustomerRow):
    """A customer, opened: with the other names they go by, and what they usually order."""

    names: list[str]
    usual: list[Usual]


class Alike(BaseModel):
    """Two customers that may be one, and what speaks for it."""

    customer: CustomerRow
    other: CustomerRow
    why: str


class AlikePage(BaseModel):
    """Pairs of customers that may be one, the first ones, and how many there are."""

    items: list[Alike]
    total: int


class CustomerList(BaseModel):
    """A list of customers to take over; `keep` once it was looked at."""

    model_config = ConfigDict(extra="forbid")

    text: str = Field(max_length=600_000)
    keep: bool = False


class ListedCustomer(BaseModel):
    """A row of a list: what is done with it, or what is wrong."""

    line: int
    name: str
    does: Literal["new", "fills in", "same", "wrong"]
    told: str


class CustomersRead(BaseModel):
    """What a list of customers comes to."""

    rows: list[ListedCustomer]
    new: int
    filled: int
    wrong: int
    kept: bool


def _row(found: kept.KeptCustomer) -> dict[str, Any]:
    values = {
        name: getattr(found, name) for name in CustomerRow.model_fields if hasattr(found, name)
    }
    past = any(day and day < today() for day in (found.keep_until, found.names_until))
    return values | {"past": past}


def _email(text: str, where: str) -> str:
    """Read an address; "" for none.

    Raises
    ------
    BadInput
    """
    text = text.strip()
    if not text:
        return ""
    try:
        validate_email(text, check_deliverability=False, allow_smtputf8=False)
    except EmailNotValidError as error:
        raise BadInput(
            f"{text[:60]!r} is no address that can be mailed to ({error}).",
            where=where,
            remedy="Mend it, or leave it out.",
            code="not-an-address",
        ) from None
    return text


def _checked(document: CustomerDocument, house: House) -> dict[str, Any]:
    """Read a customer as written, and write it one way.

    Raises
    ------
    BadInput
        Without a name, or where an address, a date or a price is none.
    """
    name = " ".join(document.name.split())
    if not name:
        raise BadInput(
            "a customer has a name.",
            where="name",
            remedy="Say what they are called.",
            code="no-name",
        )
    contacts = [
        contact.model_copy(update={"email": _email(contact.email, f"contacts[{n}].email")})
        for n, contact in enumerate(document.contacts)
        if any(contact.model_dump().values())
    ]
    return document.model_dump() | {
        "name": name,
        "email": _email(document.email, "email"),
        "keep_until": read_day(document.keep_until, "keep_until"),
        "names_until": read_day(document.names_until, "names_until"),
        "contacts": [contact.model_dump() for contact in contacts],
        "agreed": [_agreed(row, n, house) for n, row in enumerate(document.agreed)],
    }


def _agreed(row: AgreedPrice, n: int, house: House) -> dict[str, Any]:
    where, currency = f"agreed[{n}]", house.price.currency
    try:
        price = read_typed(row.unit_price, currency=currency)
    except ValueError:
        price = None
    if price is None or not price.is_finite() or price <= 0:
        raise BadInput(
            f"{row.unit_price!r} is no price.",
            where=f"{where}.unit_price",
            remedy="Enter digits, such as 12.50.",
            code="not-a-price",
        )
    if row.goods and row.goods not in house.goods:
        raise BadInput(
            f"there are no goods called {row.goods!r}.",
            where=f"{where}.goods",
            remedy="Choose a class of the list, or none for any.",
            code="goods-unknown",
        )
    return row.model_dump() | {
        "unit_price": money_text(price, currency),
        "until": read_day(row.until, f"{where}.until"),
        "note": row.note.strip(),
    }


def list_customers(
    shop: Shop,
    *,
    search: str = "",
    sort: Sort = "name",
    down: bool | None = None,
    past: bool = False,
    cursor: str = "",
    limit: int = 50,
) -> CustomersPage:
    """List customers, a page at a time; `past` those whose day of keeping is past."""
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = kept.list_customers(
        shop, search=search, sort=sort, down=down, past=past, offset=offset, limit=limit
    )
    after = offset + len(found)
    return CustomersPage(
        items=[CustomerRow(**_row(each)) for each in found],
        total=total,
        next=str(after) if after < total else None,
    )


def find_customer(shop: Shop, customer_id: int) -> CustomerView:
    """Open a customer.

    Raises
    ------
    NotFound
    """
    found, names = kept.find_customer(shop, customer_id)
    others = [name for name in names if name != kept.key_of(found.name)]
    return CustomerView(**_row(found), names=others, usual=_usual(shop, customer_id))


def create_customer(shop: Shop, document: CustomerDocument) -> CustomerView:
    """Keep a customer.

    Raises
    ------
    BadInput, Conflict
        If something of it is none, or another goes by that name.
    """
    checked = _checked(document, shop_house(shop))
    with shop.unit() as unit:
        made = kept.add_customer(unit, checked)
    return find_customer(shop, made.id)


def save_customer(
    shop: Shop, customer_id: int, document: CustomerDocument, *, seen: int
) -> CustomerView:
    """Write a customer anew.

    Raises
    ------
    BadInput, Conflict, NotFound
    Stale
        If they were changed since the revision seen: both are then told.
    """
    values = _checked(document, shop_house(shop))
    try:
        with shop.unit() as unit:
            kept.change_customer(unit, customer_id, seen=seen, values=values)
    except Stale as error:
        there = find_customer(shop, customer_id)
        raise Stale(
            error.message, kept=there, yours=document, where=error.where, remedy=error.remedy
        ) from None
    return find_customer(shop, customer_id)


def _usual(shop: Shop, customer_id: int) -> list[Usual]:
    """Sum up what a customer was quoted and did not decline, by goods, the most often first."""
    rows, _ = quotes.list_quotes(
        shop, search="", state="", sort="number", offset=0, limit=LOOKED_BACK, customer=customer_id
    )
    found: dict[str, list[Usual]] = defaultdict(list)
    for row in rows:
        if row.version == 0 or row.state == "declined":
            continue
        try:
            version = quotes.find_version(shop, row.id, row.version)
            house = kept_house(quotes.find_house(shop, version.house_sha256))
            job, estimate = job_from(version.job), Estimate.model_validate(version.estimate)
        except (Conflict, BadInput, ValueError):  # one that is damaged hides no other
            continue
        for asked, line in zip(job.lines, estimate.lines, strict=True):
            name = goods_name(asked.goods, house)
            found[name].append(
                Usual(
                    goods=name,
                    goods_class=asked.goods.class_,
                    times=1,
                    pieces=line.quantity,
                    last_unit=line.price.unit,
                    currency=estimate.currency,
                    last_on=version.sent_on[:10],
                )
            )
    summed = [
        each[0].model_copy(update={"times": len(each), "pieces": sum(u.pieces for u in each)})
        for each in found.values()
    ]
    return sorted(summed, key=lambda usual: (-usual.times, -usual.pieces))


def alike_customers(shop: Shop) -> AlikePage:
    """List pairs of customers that may be one: by address, or by names nearly alike."""
    rows, _ = kept.list_customers(
        shop, search="", sort="name", down=None, past=False, offset=0, limit=MOST_ALIKE
    )
    called = [Called(kept.key_of(row.name), row.email) for row in rows]
    pairs, total = pairs_alike(called, most=MOST_PAIRS)
    found = []
    for pair in pairs:
        one, other = rows[pair.first], rows[pair.second]
        first, second = (one, other) if one.quotes >= other.quotes else (other, one)
        found.append(
            Alike(
                customer=CustomerRow(**_row(first)),
                other=CustomerRow(**_row(second)),
                why=pair.why,
            )
        )
    return AlikePage(items=found, total=total)


def join_customers(shop: Shop, customer_id: int, other_id: int) -> CustomerView:
    """Make one of two customers: what the first lacks is filled from the other, nothing is lost.

    Raises
    ------
    BadInput
        If both are one already.
    NotFound
    """
    if customer_id == other_id:
        raise BadInput(
            "these are one customer.",
            where="other",
            remedy="Choose another.",
            code="customer-same",
        )
    (one, _), (other, _) = (kept.find_customer(shop, n) for n in (customer_id, other_id))
    contacts = list(one.contacts)
    further = {"email": other.email, "phone": other.phone}
    if any(v and v != getattr(one, k) and getattr(one, k) for k, v in further.items()):
        contacts.append(Contact(name=other.name, **further).model_dump())
    contacts += [contact for contact in other.contacts if contact not in contacts]
    values = {
        "email": one.email or other.email,
        "phone": one.phone or other.phone,
        "address": one.address or other.address,
        "notes": "\n".join(text for text in (one.notes, other.notes) if text),
        "contacts": contacts,
        "agreed": one.agreed + [row for row in other.agreed if row not in one.agreed],
        "keep_until": max(one.keep_until, other.keep_until),
        "names_until": max(one.names_until, other.names_until),
    }
    with shop.unit() as unit:
        kept.join_customers(unit, customer_id, other_id, values)
    return find_customer(shop, customer_id)


def customers_sheet(shop: Shop, kind: SheetKind) -> bytes:
    """Write all customers as a table that `take_customers` reads."""
    rows, _ = kept.list_customers(
        shop, search="", sort="name", down=None, past=False, offset=0, limit=1_000_000
    )
    return write_sheet(
        [
            "Name",
            "Contact",
            "E-mail",
            "Phone",
            "Address",
            "Notes",
            "Keep until",
            "Keep names until",
            "Quotes",
        ],
        [
            [
                row.name,
                row.contacts[0]["name"] if row.contacts else "",
                row.email,
                row.phone,
                " ".join(row.address.split()),
                " ".join(row.notes.split()),
                row.keep_until,
                row.names_until,
                str(row.quotes),
            ]
            for row in rows
        ],
        kind=kind,
        title="Customers",
    )


def take_customers(shop: Shop, asked: CustomerList) -> CustomersRead:
    """Read a list of customers; what is wrong is told by its line, the rest kept if asked for.

    A customer who is here already has what was empty filled in; nothing of theirs is overwritten.

    Raises
    ------
    BadInput
        If it is no table, or none of its headings is the name.
    """
    house = shop_house(shop)
    table = read_table(
        asked.text, COLUMNS, needed="name", example="Name, Contact, E-mail, Phone, Address, Notes"
    )
    if asked.keep:
        with shop.unit() as unit:
            read = [_take(unit, row, house, unit) for row in table]
    else:
        read = [_take(shop, row, house, None) for row in table]
    done = [row.does for row in read]
    return CustomersRead(
        rows=read,
        new=done.count("new"),
        filled=done.count("fills in"),
        wrong=done.count("wrong"),
        kept=asked.keep,
    )


def _take(at: Reads, row: TableRow, house: House, unit: Unit | None) -> ListedCustomer:
    """Take a row of a list, kept where there is a unit to keep it in; one that is wrong is told."""
    try:
        return _taken(at, row.cells, house, unit, row.line)
    except (BadInput, Conflict) as error:
        told = f"{error.message} {error.remedy}".strip()
        name = row.cells.get("name", "")
        return ListedCustomer(line=row.line, name=name, does="wrong", told=told)


def _taken(
    at: Reads, cells: dict[str, str], house: House, unit: Unit | None, line: int
) -> ListedCustomer:
    values = {key: text for key, text in cells.items() if text and key != "contact"}
    contacts = [Contact(name=cells["contact"])] if cells.get("contact") else []
    try:
        document = CustomerDocument(**({"name": ""} | values), contacts=contacts)
    except ValueError:
        raise BadInput("a cell of it is too long.", remedy="Shorten it.") from None
    checked = _checked(document, house)
    there = kept.customer_ids(at, [kept.key_of(checked["name"])])
    if not there:
        if unit:
            kept.add_customer(unit, checked)
        return ListedCustomer(line=line, name=checked["name"], does="new", told="")
    found, _ = kept.find_customer(at, next(iter(there.values())))
    fills = {
        key: checked[key]
        for key in ("email", "phone", "address", "notes", "keep_until", "names_until", "contacts")
        if checked[key] and not getattr(found, key)
    }
    if fills and unit:
        kept.change_customer(unit, found.id, seen=found.revision, values=fills)
    said = ", ".join(key.replace("_", " ") for key in fills)
    return ListedCustomer(
        line=line, name=found.name, does="fills in" if fills else "same", told=said
    )
