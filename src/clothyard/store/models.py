"""Tables of a shop's database."""

from __future__ import annotations

from sqlalchemy import (
    CheckConstraint,
    ForeignKey,
    ForeignKeyConstraint,
    Index,
    MetaData,
    Text,
    text,
)
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

NAMING = {
    "ix": "ix_%(column_0_label)s",
    "uq": "uq_%(table_name)s_%(column_0_name)s",
    "ck": "ck_%(table_name)s_%(constraint_name)s",
    "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}


_COUNTS = {"sqlite_autoincrement": True}
"""Ids are never given again, not those of rows that are gone either."""


class Base(DeclarativeBase):
    """All tables; every constraint is named by convention."""

    metadata = MetaData(naming_convention=NAMING)


class ShopIdentity(Base):
    """Which shop this is: `id`, random, made with its folder; `generation`, new at each restore."""

    __tablename__ = "shop_identity"

    name: Mapped[str] = mapped_column(Text, primary_key=True)
    value: Mapped[str] = mapped_column(Text)


class Setting(Base):
    """How the shop's own housekeeping goes, such as when it is backed up: name, JSON value."""

    __tablename__ = "setting"

    name: Mapped[str] = mapped_column(Text, primary_key=True)
    value: Mapped[str] = mapped_column(Text)
    revision: Mapped[int] = mapped_column(default=1, server_default="1")


class StandardChange(Base):
    """A default that the shop has changed: dotted key, JSON value."""

    __tablename__ = "standard_change"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    value: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)


class DesignFile(Base):
    """A stitch file kept by its content hash, and its facts as JSON."""

    __tablename__ = "design_file"

    sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    size_bytes: Mapped[int]
    facts: Mapped[str] = mapped_column(Text)
    added_on: Mapped[str] = mapped_column(Text, index=True)
    steps: Mapped[str] = mapped_column(Text, default="", server_default="")


class HouseSnapshot(Base):
    """A house as it was when a version was sent, kept once by its content's hash."""

    __tablename__ = "house_snapshot"

    sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    house: Mapped[str] = mapped_column(Text)


class Quote(Base):
    """A quote as it stands: a draft, or what was last sent.

    `revision` rises with every write; `version` is the last one sent, 0 before the first.
    `job` is the job document as typed, which may not be priceable yet. `search` holds what the
    list is searched by, lower case; `house_sha256` names the house it was last saved under;
    `drawn` is what the list draws of it, JSON; `customer_key` is the customer's name as it is
    compared, see `store.customers.key_of`;
    `heard` is what the customer last said on their page, "" until then and once it is revised.
    `promised_on` is the day that the seller promises, "" for the safe one; it is kept by going
    before an order (its id, 0 for none), by express goods, by so many pieces as a first part.
    """

    __tablename__ = "quote"
    __table_args__ = (
        CheckConstraint("revision >= 1", name="revision"),
        CheckConstraint("state IN ('draft', 'sent', 'accepted', 'declined')", name="state"),
        Index("ix_quote_listed", "deleted_on", "changed_on"),
        _COUNTS,
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    number: Mapped[str] = mapped_column(Text, unique=True)
    state: Mapped[str] = mapped_column(Text)
    revision: Mapped[int]
    version: Mapped[int]
    customer: Mapped[str] = mapped_column(Text)
    customer_key: Mapped[str] = mapped_column(Text, server_default="", index=True)
    email: Mapped[str] = mapped_column(Text)
    due_on: Mapped[str] = mapped_column(Text)
    valid_until: Mapped[str] = mapped_column(Text)
    notes: Mapped[str] = mapped_column(Text)
    job: Mapped[str] = mapped_column(Text)
    summary: Mapped[str] = mapped_column(Text)
    total: Mapped[str] = mapped_column(Text)
    currency: Mapped[str] = mapped_column(Text)
    search: Mapped[str] = mapped_column(Text)
    drawn: Mapped[str] = mapped_column(Text, server_default="")
    house_sha256: Mapped[str] = mapped_column(ForeignKey("house_snapshot.sha256"))
    created_on: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)
    heard: Mapped[str] = mapped_column(Text, server_default="")
    deleted_on: Mapped[str | None] = mapped_column(Text)
    promised_on: Mapped[str] = mapped_column(Text, default="", server_default="")
    goes_before: Mapped[int] = mapped_column(default=0, server_default="0")
    express: Mapped[int] = mapped_column(default=0, server_default="0")
    first_part: Mapped[int] = mapped_column(default=0, server_default="0")


class QuoteVersion(Base):
    """What a customer was sent: never changed, but for the answer."""

    __tablename__ = "quote_version"

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    head: Mapped[str] = mapped_column(Text)
    job: Mapped[str] = mapped_column(Text)
    estimate: Mapped[str] = mapped_column(Text)
    house_sha256: Mapped[str] = mapped_column(ForeignKey("house_snapshot.sha256"))
    sent_on: Mapped[str] = mapped_column(Text)
    answer: Mapped[str] = mapped_column(Text)
    answered_on: Mapped[str] = mapped_column(Text)


class QuoteDocument(Base):
    """A document of a sent version, kept by content hash."""

    __tablename__ = "quote_document"

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    kind: Mapped[str] = mapped_column(Text, primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    media_type: Mapped[str] = mapped_column(Text)
    sha256: Mapped[str] = mapped_column(Text)


class WorkOrder(Base):
    """What becomes of an accepted quote: how far it is, what it waits for, what was paid.

    `ready` are the keys of what lies ready, `payments` day, amount and kind of each, both JSON.
    `units` are those of its work, JSON, "" until they are listed.
    It is pinned on the plan before all others, before one (its id, 0 for none), to a day, to a
    machine.
    """

    __tablename__ = "work_order"
    __table_args__ = (
        CheckConstraint("revision >= 1", name="revision"),
        CheckConstraint(
            "state IN ('accepted', 'waiting', 'ready', 'in-work', 'done', 'handed-over', "
            "'cancelled')",
            name="state",
        ),
    )

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    revision: Mapped[int]
    state: Mapped[str] = mapped_column(Text)
    waits: Mapped[str] = mapped_column(Text)
    promised_on: Mapped[str] = mapped_column(Text)
    ready: Mapped[str] = mapped_column(Text)
    payments: Mapped[str] = mapped_column(Text)
    accepted_on: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)
    made_version: Mapped[int] = mapped_column(default=0, server_default="0")
    summary: Mapped[str] = mapped_column(Text, default="", server_default="")
    total: Mapped[str] = mapped_column(Text, default="", server_default="")
    drawn: Mapped[str] = mapped_column(Text, default="", server_default="")
    pin_first: Mapped[int] = mapped_column(default=0, server_default="0")
    pin_day: Mapped[str] = mapped_column(Text, default="", server_default="")
    pin_machine: Mapped[str] = mapped_column(Text, default="", server_default="")
    pin_before: Mapped[int] = mapped_column(default=0, server_default="0")
    units: Mapped[str] = mapped_column(Text, default="", server_default="")


class WorkDocument(Base):
    """What is done for an order (clothyard-work/1), kept once by its content's hash."""

    __tablename__ = "work_document"

    sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    work: Mapped[str] = mapped_column(Text)


class OrderWork(Base):
    """What a sent version's work is, worked out once: never changed.

    `work` is None where it could not be told, and `unready` says why; `plain` is the work with
    every learnt factor at 1, which the log compares with. `units` are JSON.
    """

    __tablename__ = "order_work"
    __table_args__ = (
        ForeignKeyConstraint(
            ["quote_id", "version"], ["quote_version.quote_id", "quote_version.version"]
        ),
    )

    quote_id: Mapped[int] = mapped_column(primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    work_sha256: Mapped[str | None] = mapped_column(ForeignKey("work_document.sha256"))
    plain_sha256: Mapped[str | None] = mapped_column(ForeignKey("work_document.sha256"))
    units: Mapped[str] = mapped_column(Text)
    unready: Mapped[str] = mapped_column(Text)


class OrderResult(Base):
    """What an order came to, line by line (JSON): written when it is done or its log changes.

    `logged` says how many of its rows stand in the log.
    """

    __tablename__ = "order_result"

    quote_id: Mapped[int] = mapped_column(ForeignKey("work_order.quote_id"), primary_key=True)
    currency: Mapped[str] = mapped_column(Text)
    logged: Mapped[int]
    lines: Mapped[str] = mapped_column(Text)


class OrderNeed(Base):
    """What an order needs of an item of the shelf; amounts in thousandths of its unit."""

    __tablename__ = "order_need"

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    item: Mapped[str] = mapped_column(Text, primary_key=True)
    n: Mapped[int]
    amount: Mapped[int]
    taken: Mapped[int] = mapped_column(server_default="0")
    """What its order's moves of the item add up to: below zero where it was taken."""
    label: Mapped[str] = mapped_column(Text)
    unit: Mapped[str] = mapped_column(Text)


class Piece(Base):
    """A piece of an order; `instead_of` is the spoiled one that it is made for, "" for none.

    A surplus piece was sewn, and a later version of the order does not want it.
    """

    __tablename__ = "piece"
    __table_args__ = (
        CheckConstraint(
            "state IN ('waiting', 'prepared', 'sewn', 'good', 'mended', 'spoiled', 'surplus')",
            name="state",
        ),
    )

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    id: Mapped[str] = mapped_column(Text, primary_key=True)
    n: Mapped[int]
    line: Mapped[str] = mapped_column(Text)
    size: Mapped[str] = mapped_column(Text)
    colour: Mapped[str] = mapped_column(Text)
    name: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(Text)
    reason: Mapped[str] = mapped_column(Text)
    instead_of: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)


class Proof(Base):
    """What was said of a version's proof: approved or corrected, by whom; `said` is JSON."""

    __tablename__ = "proof"
    __table_args__ = (CheckConstraint("state IN ('approved', 'corrected')", name="state"),)

    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), primary_key=True)
    version: Mapped[int] = mapped_column(primary_key=True)
    state: Mapped[str] = mapped_column(Text)
    said_by: Mapped[str] = mapped_column(Text)
    said: Mapped[str] = mapped_column(Text)
    said_on: Mapped[str] = mapped_column(Text)


class StockItem(Base):
    """What the shop knows of an item of its shelf; the minimum in thousandths of its unit."""

    __tablename__ = "stock_item"

    item: Mapped[str] = mapped_column(Text, primary_key=True)
    label: Mapped[str] = mapped_column(Text)
    unit: Mapped[str] = mapped_column(Text)
    minimum: Mapped[int]
    supplier: Mapped[str] = mapped_column(Text)
    place: Mapped[str] = mapped_column(Text)


class StockMove(Base):
    """A change of what is on hand: never changed, never deleted. Thousandths of the item's unit.

    `key` names what it was booked for, so that it is booked once; `cost` what a unit cost, "" where
    it is not known.
    """

    __tablename__ = "stock_move"
    __table_args__ = (
        CheckConstraint(
            "why IN ('received', 'taken', 'returned', 'wasted', 'counted', 'weighed')", name="why"
        ),
        Index("ix_stock_move_summed", "item", "amount"),
        Index("ix_stock_move_taken", "quote_id", "item", "amount"),
        Index("ix_stock_move_costs", "item", "id", sqlite_where=text("cost <> ''")),
        _COUNTS,
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    key: Mapped[str] = mapped_column(Text, unique=True)
    item: Mapped[str] = mapped_column(Text)
    amount: Mapped[int]
    why: Mapped[str] = mapped_column(Text)
    quote_id: Mapped[int | None] = mapped_column(ForeignKey("quote.id"))
    made_on: Mapped[str] = mapped_column(Text)
    note: Mapped[str] = mapped_column(Text)
    cost: Mapped[str] = mapped_column(Text)


class Purchase(Base):
    """What was ordered of a supplier; `rows` are what, how many, what came of it, JSON.

    `key` names the press that ordered it, so that one that comes twice orders once.
    """

    __tablename__ = "purchase"
    __table_args__ = (
        CheckConstraint("state IN ('open', 'arrived', 'closed')", name="state"),
        CheckConstraint("revision >= 1", name="revision"),
        Index("uq_purchase_key", "key", unique=True),
        _COUNTS,
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    supplier: Mapped[str] = mapped_column(Text)
    state: Mapped[str] = mapped_column(Text, index=True)
    revision: Mapped[int]
    sent_by: Mapped[str] = mapped_column(Text)
    ordered_on: Mapped[str] = mapped_column(Text)
    rows: Mapped[str] = mapped_column(Text)
    trouble: Mapped[str] = mapped_column(Text)
    key: Mapped[str | None] = mapped_column(Text)


class Customer(Base):
    """Somebody who orders: how they are reached, what was agreed, how long they are kept.

    `contacts` and `agreed` are JSON lists; `keep_until`, and `names_until` of the name lists of
    their quotes, are ISO dates or "".
    """

    __tablename__ = "customer"
    __table_args__ = (CheckConstraint("revision >= 1", name="revision"), _COUNTS)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    revision: Mapped[int]
    name: Mapped[str] = mapped_column(Text)
    email: Mapped[str] = mapped_column(Text)
    phone: Mapped[str] = mapped_column(Text)
    address: Mapped[str] = mapped_column(Text)
    notes: Mapped[str] = mapped_column(Text)
    contacts: Mapped[str] = mapped_column(Text)
    agreed: Mapped[str] = mapped_column(Text)
    keep_until: Mapped[str] = mapped_column(Text)
    names_until: Mapped[str] = mapped_column(Text)
    created_on: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)


class CustomerName(Base):
    """A name that a customer goes by on quotes, as it is compared: theirs, and former ones."""

    __tablename__ = "customer_name"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    customer_id: Mapped[int] = mapped_column(ForeignKey("customer.id"), index=True)


class CustomerLink(Base):
    """A link to a customer's page: only the hash of its token is kept; `ended_on` once it opens
    nothing any more, since another was made.
    """

    __tablename__ = "customer_link"

    token_sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), index=True)
    version: Mapped[int]
    made_on: Mapped[str] = mapped_column(Text)
    ended_on: Mapped[str] = mapped_column(Text, server_default="")


class CustomerWord(Base):
    """What a customer said on their page: who, what, when, and of which version."""

    __tablename__ = "customer_word"
    __table_args__ = (CheckConstraint("kind IN ('accepted', 'change')", name="kind"), _COUNTS)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), index=True)
    version: Mapped[int]
    kind: Mapped[str] = mapped_column(Text)
    name: Mapped[str] = mapped_column(Text)
    words: Mapped[str] = mapped_column(Text)
    said_on: Mapped[str] = mapped_column(Text)


class CustomerAsk(Base):
    """What a customer asked for and the seller answers: a change, a name or word that is to be
    another, a sentence. `answered` is "" until then, whatever version follows."""

    __tablename__ = "customer_ask"
    __table_args__ = (
        CheckConstraint("kind IN ('change', 'name', 'words', 'sentence')", name="kind"),
        CheckConstraint("answered IN ('', 'taken', 'declined')", name="answered"),
        _COUNTS,
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"), index=True)
    version: Mapped[int]
    kind: Mapped[str] = mapped_column(Text)
    name: Mapped[str] = mapped_column(Text)
    words: Mapped[str] = mapped_column(Text)
    said_on: Mapped[str] = mapped_column(Text)
    answered: Mapped[str] = mapped_column(Text, index=True)
    answer: Mapped[str] = mapped_column(Text)
    answered_on: Mapped[str] = mapped_column(Text)


class Mail(Base):
    """A message to a customer: its bytes are a document by content hash.

    `posted_on` is "" while the post has not taken it, and `trouble` says why.
    """

    __tablename__ = "mail"
    __table_args__ = (Index("ix_mail_listed", "sent_on"),)

    id: Mapped[str] = mapped_column(Text, primary_key=True)
    to: Mapped[str] = mapped_column(Text)
    subject: Mapped[str] = mapped_column(Text)
    sent_on: Mapped[str] = mapped_column(Text)
    sha256: Mapped[str] = mapped_column(Text)
    posted_on: Mapped[str] = mapped_column(Text)
    trouble: Mapped[str] = mapped_column(Text)


class RunEvent(Base):
    """Something that happened at the machine: never changed, never deleted.

    `id` is made by who wrote it down, so that it is kept once however often it arrives; `n` is the
    order of arrival, `at` when it happened; `data` is JSON.
    """

    __tablename__ = "run_event"
    __table_args__ = (Index("ix_run_event_of", "quote_id", "pass_id", "n"), _COUNTS)

    n: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    id: Mapped[str] = mapped_column(Text, unique=True)
    quote_id: Mapped[int] = mapped_column(ForeignKey("quote.id"))
    pass_id: Mapped[str] = mapped_column(Text)
    kind: Mapped[str] = mapped_column(Text)
    piece: Mapped[str] = mapped_column(Text)
    at: Mapped[str] = mapped_column(Text)
    person: Mapped[str] = mapped_column(Text)
    data: Mapped[str] = mapped_column(Text)


class LogEntry(Base):
    """A row of the log; `key` names the pass it is of, so that one is written once.

    `quote_id` is its order's, None for none; `document` a clothyard-log/1 row; `search` what the
    list is searched by.
    """

    __tablename__ = "log_row"
    __table_args__ = (
        Index("ix_log_row_listed", "finished_on", "id"),
        Index("ix_log_row_quote_id", "quote_id"),
        _COUNTS,
    )

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    key: Mapped[str] = mapped_column(Text, unique=True)
    quote_id: Mapped[int | None] = mapped_column(ForeignKey("quote.id"))
    finished_on: Mapped[str] = mapped_column(Text)
    revision: Mapped[int]
    document: Mapped[str] = mapped_column(Text)
    search: Mapped[str] = mapped_column(Text)


class LogChange(Base):
    """A row of the log as it was before a change."""

    __tablename__ = "log_change"

    row_id: Mapped[int] = mapped_column(ForeignKey("log_row.id"), primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    document: Mapped[str] = mapped_column(Text)
    changed_on: Mapped[str] = mapped_column(Text)


class Photo(Base):
    """A photo from the machine, kept by its hash; `quote_id` is its order's, None for none."""

    __tablename__ = "photo"

    sha256: Mapped[str] = mapped_column(Text, primary_key=True)
    quote_id: Mapped[int | None] = mapped_column(ForeignKey("quote.id"))
    kept_on: Mapped[str] = mapped_column(Text)


class SetAside(Base):
    """What was kept and could not be read: out of the way, as it was, until the shop lets it go.

    `of` is the table that it lay in, `row` which of its rows, `document` what of it, JSON.
    """

    __tablename__ = "set_aside"
    __table_args__ = (_COUNTS,)

    id: Mapped[int] = mapped_column(primary_key=True, autoincrement=True)
    of: Mapped[str] = mapped_column(Text)
    row: Mapped[str] = mapped_column(Text)
    document: Mapped[str] = mapped_column(Text)
    why: Mapped[str] = mapped_column(Text)
    set_on: Mapped[str] = mapped_column(Text)
