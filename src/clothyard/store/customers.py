"""Customers in the database: known by the names they go by on quotes."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, and_, delete, func, or_, select, update
from sqlalchemy.orm import Session

from clothyard.core.errors import Conflict, NotFound, Stale
from clothyard.store.models import Customer, CustomerName, Quote
from clothyard.store.shop import now, today
from clothyard.store.unit import Reads, Unit

LISTS = ("contacts", "agreed")
SORTS = ("name", "last", "quotes")


def key_of(name: str) -> str:
    """Return a name as it is compared: letters' case and double spaces do not tell."""
    return " ".join(name.casefold().split())


@dataclass(frozen=True, slots=True)
class KeptCustomer:
    """A customer as kept; `quotes` and `last_on` are of those that are not deleted."""

    id: int
    revision: int
    name: str
    email: str
    phone: str
    address: str
    notes: str
    contacts: list[dict[str, Any]]
    agreed: list[dict[str, Any]]
    keep_until: str
    names_until: str
    created_on: str
    changed_on: str
    quotes: int = 0
    last_on: str = ""


def _kept(row: Customer, quotes: int = 0, last_on: str | None = "") -> KeptCustomer:
    names = KeptCustomer.__dataclass_fields__.keys() - {"quotes", "last_on"}
    values = {name: getattr(row, name) for name in names}
    lists = {name: json.loads(values[name]) for name in LISTS}
    return KeptCustomer(**(values | lists), quotes=quotes, last_on=last_on or "")


def _columns(values: dict[str, Any]) -> dict[str, Any]:
    return {k: json.dumps(v) if k in LISTS else v for k, v in values.items()}


def _unknown(customer_id: int) -> NotFound:
    return NotFound(
        f"there is no customer {customer_id}.",
        where="customer",
        remedy="Look in the list.",
        code="customer-unknown",
    )


def _take_name(session: Session, name: str, customer_id: int) -> None:
    """Let a customer go by a name.

    Raises
    ------
    Conflict
        If another does.
    """
    key = key_of(name)
    there = session.get(CustomerName, key)
    if there is None:
        session.add(CustomerName(key=key, customer_id=customer_id))
    elif there.customer_id != customer_id:
        other = session.get(Customer, there.customer_id)
        of = f" ({other.name})" if other and key_of(other.name) != key else ""
        raise Conflict(
            f"another customer goes by “{name}” already{of}.",
            where="name",
            remedy="Join the two, or say what tells them apart, such as the town.",
            code="customer-name-taken",
        )


def add_customer(unit: Unit, values: dict[str, Any]) -> KeptCustomer:
    """Add a customer.

    Raises
    ------
    Conflict
        If another goes by that name.
    """
    session = unit.session
    return _kept(_add(session, values))


def _add(session: Session, values: dict[str, Any]) -> Customer:
    moment = now()
    empty = {
        "email": "",
        "phone": "",
        "address": "",
        "notes": "",
        "contacts": [],
        "agreed": [],
        "keep_until": "",
        "names_until": "",
    }
    row = Customer(revision=1, created_on=moment, changed_on=moment, **_columns(empty | values))
    session.add(row)
    session.flush()
    _take_name(session, row.name, row.id)
    return row


def meet_customer(session: Session, name: str, email: str) -> None:
    """Keep whom a quote is sent to as a customer, and their address where it lacks."""
    there = session.get(CustomerName, key_of(name))
    if there is None:
        _add(session, {"name": " ".join(name.split()), "email": email})
    elif email:
        missing = and_(Customer.id == there.customer_id, Customer.email == "")
        session.execute(update(Customer).where(missing).values(email=email))


def change_customer(
    unit: Unit, customer_id: int, *, seen: int, values: dict[str, Any]
) -> KeptCustomer:
    """Write a customer anew; a changed name is theirs beside the former ones.

    Raises
    ------
    NotFound, Stale, Conflict
        Nothing is written then.
    """
    session = unit.session
    row = session.get(Customer, customer_id)
    if row is None:
        raise _unknown(customer_id)
    if row.revision != seen:
        raise Stale(
            f"{row.name} was changed elsewhere since.",
            kept=_kept(row),
            where="revision",
            remedy="Load it again, then change it.",
        )
    if "name" in values:
        _take_name(session, values["name"], customer_id)
    for key, value in _columns(values).items():
        setattr(row, key, value)
    row.revision += 1
    row.changed_on = now()
    session.flush()
    return _kept(row)


def find_customer(at: Reads, customer_id: int) -> tuple[KeptCustomer, list[str]]:
    """Return a customer, and the names they go by as compared.

    Raises
    ------
    NotFound
    """
    with at.reading() as session:
        query = _with_quotes().where(Customer.id == customer_id)
        row = session.execute(query).one_or_none()
        if row is None:
            raise _unknown(customer_id)
        return _kept(*row), _keys(session, customer_id)


def _keys(session: Session, customer_id: int) -> list[str]:
    found = select(CustomerName.key).where(CustomerName.customer_id == customer_id)
    return list(session.scalars(found.order_by(CustomerName.key)))


def _with_quotes() -> Any:
    """Select customers with how many quotes they have, and when the last was changed."""
    mine = and_(Quote.customer_key == CustomerName.key, Quote.deleted_on.is_(None))
    return (
        select(Customer, func.count(Quote.id), func.max(Quote.changed_on))
        .outerjoin(CustomerName, CustomerName.customer_id == Customer.id)
        .outerjoin(Quote, mine)
        .group_by(Customer.id)
    )


def list_customers(
    at: Reads,
    *,
    search: str,
    sort: str,
    down: bool | None,
    past: bool,
    offset: int,
    limit: int,
) -> tuple[list[KeptCustomer], int]:
    """List customers.

    Parameters
    ----------
    search : str
        Words that must all occur in name, former names, address, e-mail, phone or notes.
    sort : one of SORTS
    down : bool, optional
        The other way round than a sort usually goes, or not.
    past : bool
        Those whose day of keeping is past, or that of their name lists.
    offset, limit : int

    Returns
    -------
    (customers, how many there are in all)
    """
    conditions: list[ColumnElement[bool]] = []
    for word in search.casefold().split():
        named = select(CustomerName.customer_id).where(
            CustomerName.key.contains(word, autoescape=True)
        )
        fields = (
            Customer.email,
            Customer.phone,
            Customer.address,
            Customer.notes,
            Customer.contacts,
        )
        texts = [func.lower(field).contains(word, autoescape=True) for field in fields]
        conditions.append(or_(Customer.id.in_(named), *texts))
    if past:
        days = (Customer.keep_until, Customer.names_until)
        conditions.append(or_(*(and_(day != "", day < today()) for day in days)))
    orders: dict[str, tuple[Any, bool]] = {
        "name": (func.lower(Customer.name), False),
        "last": (func.max(Quote.changed_on), True),
        "quotes": (func.count(Quote.id), True),
    }
    column, usual = orders[sort]
    order = column.desc() if (usual if down is None else down) else column
    called = select(CustomerName.customer_id).where(CustomerName.key == key_of(search))
    exact = Customer.id.in_(called).desc()  # who is called just so comes first
    with at.reading() as session:
        query = _with_quotes().where(*conditions).order_by(exact, order, func.lower(Customer.name))
        rows = session.execute(query.offset(offset).limit(limit)).all()
        count = select(func.count()).select_from(Customer).where(*conditions)
        return [_kept(*row) for row in rows], session.scalar(count) or 0


def customer_ids(at: Reads, keys: Sequence[str]) -> dict[str, int]:
    """Say whose the names are, as compared; those of nobody are left out."""
    with at.reading() as session:
        rows = session.scalars(select(CustomerName).where(CustomerName.key.in_(set(keys))))
        return {row.key: row.customer_id for row in rows}


def join_customers(
    unit: Unit, customer_id: int, other_id: int, values: dict[str, Any]
) -> KeptCustomer:
    """Let a customer take over another's names, and with them their quotes; the other goes.

    Parameters
    ----------
    values : dict
        What is then kept of the one that stays.

    Raises
    ------
    NotFound
    """
    session = unit.session
    row, other = session.get(Customer, customer_id), session.get(Customer, other_id)
    if row is None or other is None:
        raise _unknown(customer_id if row is None else other_id)
    session.execute(
        update(CustomerName)
        .where(CustomerName.customer_id == other_id)
        .values(customer_id=customer_id)
    )
    session.delete(other)
    for key, value in _columns(values).items():
        setattr(row, key, value)
    row.revision += 1
    row.changed_on = now()
    session.flush()
    return _kept(row)


def remove_customer(session: Session, customer_id: int) -> None:
    """Remove a customer with all their names; their quotes stay where they are."""
    session.execute(delete(CustomerName).where(CustomerName.customer_id == customer_id))
    session.execute(delete(Customer).where(Customer.id == customer_id))
