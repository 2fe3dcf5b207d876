"""What sent versions' work is, and what orders came to, in the database: worked out once."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy import or_, select
from sqlalchemy.dialects.sqlite import insert

from clothyard.core.order.state import FINISHED
from clothyard.core.work.document import Work
from clothyard.store.blobs import content_hash
from clothyard.store.models import LogEntry, OrderResult, OrderWork, Quote, WorkDocument, WorkOrder
from clothyard.store.unit import Reads, Unit


@dataclass(frozen=True, slots=True)
class KeptWork:
    """A version's work, and with every learnt factor at 1; None, and why, where it cannot be told.

    `units` are JSON.
    """

    work: Work | None
    plain: Work | None
    units: str
    unready: str


def _text(work: Work | None) -> tuple[str | None, str]:
    if work is None:
        return None, ""
    text = work.model_dump_json()
    return content_hash(text.encode()), text


def write_work(unit: Unit, quote_id: int, version: int, work: KeptWork) -> None:
    """Keep a version's work; what stands already stays."""
    hashes = []
    for sha256, text in (_text(work.work), _text(work.plain)):
        hashes.append(sha256)
        if sha256 is not None:
            row = insert(WorkDocument).values(sha256=sha256, work=text)
            unit.session.execute(row.on_conflict_do_nothing())
    unit.session.execute(
        insert(OrderWork)
        .values(
            quote_id=quote_id,
            version=version,
            work_sha256=hashes[0],
            plain_sha256=hashes[1],
            units=work.units,
            unready=work.unready,
        )
        .on_conflict_do_nothing()
    )


def find_work(at: Reads, quote_id: int, version: int) -> KeptWork | None:
    """Return a version's work, None where it is not kept or cannot be read any more."""
    with at.reading() as session:
        row = session.get(OrderWork, (quote_id, version))
        if row is None:
            return None
        wanted = {sha for sha in (row.work_sha256, row.plain_sha256) if sha}
        texts = dict(
            session.execute(
                select(WorkDocument.sha256, WorkDocument.work).where(
                    WorkDocument.sha256.in_(wanted)
                )
            ).all()
        )
    try:
        works = {sha: Work.model_validate_json(text) for sha, text in texts.items()}
        return KeptWork(
            works[row.work_sha256] if row.work_sha256 else None,
            works[row.plain_sha256] if row.plain_sha256 else None,
            row.units,
            row.unready,
        )
    except (ValueError, KeyError):
        return None


@dataclass(frozen=True, slots=True)
class KeptResult:
    """What an order came to, line by line, as plain documents; whose it is, and its state."""

    quote_id: int
    currency: str
    logged: int
    lines: list[dict[str, Any]]
    customer: str
    state: str


def write_result(
    unit: Unit, quote_id: int, *, currency: str, logged: int, lines: Sequence[Mapping[str, Any]]
) -> None:
    """Keep what an order came to, in the place of what it came to before."""
    values = {"currency": currency, "logged": logged, "lines": json.dumps(list(lines))}
    unit.session.execute(
        insert(OrderResult)
        .values(quote_id=quote_id, **values)
        .on_conflict_do_update(index_elements=["quote_id"], set_=values)
    )


def unresulted_orders(at: Reads) -> list[tuple[int, int]]:
    """List orders that are made or in the log, and whose result is not kept: (id, version)."""
    logged = select(LogEntry.quote_id).where(LogEntry.quote_id.is_not(None))
    query = (
        select(WorkOrder.quote_id, Quote.version)
        .join(Quote, Quote.id == WorkOrder.quote_id)
        .outerjoin(OrderResult, OrderResult.quote_id == WorkOrder.quote_id)
        .where(
            Quote.version > 0,
            OrderResult.quote_id.is_(None),
            or_(WorkOrder.state.in_(FINISHED), WorkOrder.quote_id.in_(logged)),
        )
    )
    with at.reading() as session:
        return [(quote_id, version) for quote_id, version in session.execute(query)]


def list_results(at: Reads) -> list[KeptResult]:
    """List what orders came to, the last order first; one that cannot be read is left out."""
    wanted = (
        select(
            OrderResult.quote_id,
            OrderResult.currency,
            OrderResult.logged,
            OrderResult.lines,
            Quote.customer,
            WorkOrder.state,
        )
        .join(Quote, Quote.id == OrderResult.quote_id)
        .join(WorkOrder, WorkOrder.quote_id == OrderResult.quote_id)
        .order_by(OrderResult.quote_id.desc())
    )
    found = []
    with at.reading() as session:
        rows = session.execute(wanted).all()
    for quote_id, currency, logged, lines, customer, state in rows:
        try:
            read = json.loads(lines)
        except ValueError:
            continue
        found.append(KeptResult(quote_id, currency, logged, read, customer, state))
    return found
