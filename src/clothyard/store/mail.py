"""Messages to customers in the database: what was sent, and what the post has not taken yet."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import ColumnElement, func, select, update
from sqlalchemy.orm import Session

from clothyard.core.errors import NotFound
from clothyard.store.models import Mail
from clothyard.store.shop import Shop, now
from clothyard.store.unit import Reads, Unit


@dataclass(frozen=True, slots=True)
class KeptMail:
    """A message; `posted_on` is "" while it waits, `trouble` says what it waits for."""

    id: str
    to: str
    subject: str
    sent_on: str
    sha256: str
    posted_on: str = ""
    trouble: str = ""


def _kept(row: Mail) -> KeptMail:
    return KeptMail(**{name: getattr(row, name) for name in KeptMail.__dataclass_fields__})


def _unknown(mail_id: str) -> NotFound:
    return NotFound(
        f"there is no message {mail_id[:80]!r}.",
        where="mail",
        remedy="Choose one of the list.",
        code="mail-unknown",
    )


def add_mail(session: Session, mail: KeptMail) -> None:
    """Keep a message with what else the session writes."""
    names = KeptMail.__dataclass_fields__
    session.add(Mail(**{name: getattr(mail, name) for name in names}))


def list_mail(
    at: Reads,
    *,
    search: str = "",
    sort: str = "sent",
    down: bool | None = None,
    waits: bool = False,
    offset: int,
    limit: int,
) -> tuple[list[KeptMail], int]:
    """List messages.

    Parameters
    ----------
    search : str
        Words that must all occur in subject, address or number.
    sort : "sent", "subject" or "to"
    down : bool, optional
        The other way round than a sort usually goes, or not; the newest usually come first.
    waits : bool
        Those alone that wait for the post.
    offset, limit : int

    Returns
    -------
    (messages, how many there are in all)
    """
    conditions: list[ColumnElement[bool]] = [
        func.lower(Mail.subject + " " + Mail.to + " " + Mail.id).contains(word, autoescape=True)
        for word in search.lower().split()
    ]
    if waits:
        conditions.append(Mail.posted_on == "")
    orders: dict[str, tuple[Sequence[Any], bool]] = {
        "sent": ((Mail.sent_on, Mail.id), True),
        "subject": ((func.lower(Mail.subject), Mail.id), False),
        "to": ((func.lower(Mail.to), Mail.id), False),
    }
    columns, usual = orders[sort]
    order = [column.desc() for column in columns] if (usual if down is None else down) else columns
    with at.reading() as session:
        rows = session.scalars(
            select(Mail).where(*conditions).order_by(*order).offset(offset).limit(limit)
        ).all()
        count = select(func.count()).select_from(Mail).where(*conditions)
        return [_kept(row) for row in rows], session.scalar(count) or 0


def find_mail(shop: Shop, mail_id: str) -> tuple[KeptMail, bytes]:
    """Return a message and its bytes.

    Raises
    ------
    NotFound
    """
    with shop.reading() as session:
        row = session.get(Mail, mail_id)
        if row is None:
            raise _unknown(mail_id)
        return _kept(row), shop.documents.sound(row.sha256)


def mark_posted(unit: Unit, mail_id: str, *, trouble: str = "") -> None:
    """Say that the post took a message, or what kept it from taking it."""
    values = {"trouble": trouble} if trouble else {"trouble": "", "posted_on": now()}
    session = unit.session
    session.execute(update(Mail).where(Mail.id == mail_id).values(**values))


def mails_of(session: Session, number: str) -> list[Mail]:
    """List the messages of a quote, by its number."""
    return list(
        session.scalars(select(Mail).where(Mail.id.startswith(f"{number}-", autoescape=True)))
    )


def find_mails(at: Reads, number: str) -> list[KeptMail]:
    """List the messages of a quote, by its number."""
    with at.reading() as session:
        return [_kept(row) for row in mails_of(session, number)]
