"""Stitch files in the database: their facts, by content hash."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from sqlalchemy import func, select, text, update
from sqlalchemy.dialects.sqlite import insert

from clothyard.core.stitches.facts import DesignFacts
from clothyard.store.models import DesignFile
from clothyard.store.shop import now
from clothyard.store.unit import Reads, Unit

MOST_LISTED = 50


def _facts(text: str) -> DesignFacts | None:
    try:
        return DesignFacts.model_validate_json(text)
    except ValueError:
        return None


def add_design(unit: Unit, name: str, size_bytes: int, facts: DesignFacts) -> None:
    """Keep a stitch file's facts; the same content is kept once, as the newest.

    Its bytes lie among the shop's files already.
    """
    row = insert(DesignFile).values(
        sha256=facts.sha256,
        name=name,
        size_bytes=size_bytes,
        facts=facts.model_dump_json(),
        added_on=now(),
    )
    unit.session.execute(
        row.on_conflict_do_update(
            index_elements=["sha256"],
            set_={"name": name, "added_on": now(), "facts": row.excluded.facts},
        )
    )


def replaced_designs(at: Reads, sha256s: Collection[str]) -> dict[str, tuple[str, str]]:
    """Find the designs under whose name another file came in later.

    Returns
    -------
    dict
        Each replaced one's sha256 to (the newest's sha256, the day it came in).
    """
    named = select(func.lower(DesignFile.name)).where(DesignFile.sha256.in_(sha256s))
    with at.reading() as session:
        rows = session.execute(
            select(func.lower(DesignFile.name), DesignFile.sha256, DesignFile.added_on)
            .where(func.lower(DesignFile.name).in_(named))
            .order_by(DesignFile.added_on, text("rowid"))
        ).all()
    newest = {name: (sha256, added_on[:10]) for name, sha256, added_on in rows}
    return {
        sha256: newest[name]
        for name, sha256, _ in rows
        if sha256 in sha256s and newest[name][0] != sha256
    }


def find_design(at: Reads, sha256: str) -> DesignFacts | None:
    """Return a kept design's facts, or None."""
    with at.reading() as session:
        row = session.get(DesignFile, sha256)
        if row is None:
            return None
        facts = DesignFacts.model_validate_json(row.facts)
        return facts.model_copy(update={"name": row.name})


def every_sha256(at: Reads) -> list[str]:
    """List the designs that are kept, the first first."""
    with at.reading() as session:
        return list(session.scalars(select(DesignFile.sha256).order_by(text("rowid"))))


def steps_of(at: Reads, sha256: str) -> str:
    """Return what hands did last for a design, as JSON; "" if nothing."""
    with at.reading() as session:
        return session.scalar(select(DesignFile.steps).where(DesignFile.sha256 == sha256)) or ""


def steps_to_remember(at: Reads, steps: Mapping[str, str]) -> dict[str, str]:
    """Say which of what hands did for designs, by sha256, does not stand there already."""
    with at.reading() as session:
        rows = session.scalars(select(DesignFile).where(DesignFile.sha256.in_(steps)))
        known = {row.sha256: row.steps for row in rows}
    return {sha256: steps[sha256] for sha256, was in known.items() if steps[sha256] != was}


def remember_steps(unit: Unit, steps: Mapping[str, str]) -> None:
    """Keep what hands did for designs, by sha256."""
    for sha256, kept in steps.items():
        unit.session.execute(
            update(DesignFile).where(DesignFile.sha256 == sha256).values(steps=kept)
        )


def list_designs(
    at: Reads, *, search: str = "", offset: int = 0, limit: int = MOST_LISTED
) -> tuple[list[tuple[str, DesignFacts | None]], int]:
    """List kept designs, newest first.

    Parameters
    ----------
    search : str
        Words that must all occur in the name.
    offset, limit : int

    Returns
    -------
    ([(name, facts), …], how many there are in all)
        None where the facts cannot be read.
    """
    conditions = [
        func.lower(DesignFile.name).contains(word, autoescape=True)
        for word in search.lower().split()
    ]
    with at.reading() as session:
        rows = session.scalars(
            select(DesignFile)
            .where(*conditions)
            .order_by(DesignFile.added_on.desc(), DesignFile.name, DesignFile.sha256)
            .offset(offset)
            .limit(limit)
        ).all()
        total = session.scalar(select(func.count()).select_from(DesignFile).where(*conditions))
    return [(row.name, _facts(row.facts)) for row in rows], total or 0
