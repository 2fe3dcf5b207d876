"""A shop's folder: its database, its design files, one writer."""

from __future__ import annotations

import json
import os
import shutil
import sqlite3
import threading
import time
import uuid
from collections.abc import Collection, Iterator, Mapping
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, cast

from sqlalchemy import CursorResult, delete, func, select, text, union, update
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from clothyard.core.stitches.facts import DesignFacts
from clothyard.store.blobs import Blobs
from clothyard.store.engines import read_engine, write_engine
from clothyard.store.lock import use_folder
from clothyard.store.migrate import upgrade
from clothyard.store.models import (
    DesignFile,
    HouseSnapshot,
    Mail,
    Photo,
    Quote,
    QuoteDocument,
    QuoteVersion,
    ShopIdentity,
    StandardChange,
)
from clothyard.store.soundness import look_at, look_at_tables

DATABASE = "shop.sqlite3"
MOST_LISTED = 50


def now() -> str:
    """Return the present moment, from CLOTHYARD_TODAY when it is set (ISO date)."""
    today = os.environ.get("CLOTHYARD_TODAY")
    if today:
        return f"{today}T09:00:00+00:00"
    return datetime.now(UTC).isoformat(timespec="seconds")


def today() -> str:
    """Return today's date, ISO text."""
    return now()[:10]


def hour_now() -> float:
    """Return the hour of the day on the shop's wall; 0 where CLOTHYARD_TODAY says the day. [h]"""
    if os.environ.get("CLOTHYARD_TODAY"):
        return 0.0
    at = datetime.now().astimezone()
    return at.hour + at.minute / 60


WORK = ".work-"
"""Begins the name of what is only there while something is done."""

LEFT_OVER_S = 3600


def clear_leftovers(folder: Path) -> None:
    """Clear what was left by work that was killed over an hour ago."""
    for at in (folder, folder / "backups"):
        for path in at.glob(f"{WORK}*"):
            if time.time() - path.stat().st_mtime > LEFT_OVER_S:
                shutil.rmtree(path, ignore_errors=True)


def bring_up(path: Path, *, fresh: bool = False) -> None:
    """Bring a database that nobody has open up to date; a fresh one appears only when whole.

    Raises
    ------
    BadInput
        If it is no shop's, or damaged.
    """
    at = path.with_name(f"{path.name}.new") if fresh else path
    if fresh:
        at.unlink(missing_ok=True)
    else:
        look_at(at)
    engine = write_engine(at)
    try:
        upgrade(engine, at)
    finally:
        engine.dispose()
    look_at_tables(at)
    if fresh:
        at.replace(path)


def renew(kept: sqlite3.Connection, *, shop_id: str | None = None) -> None:
    """Begin a new generation, so that every page that is open notices.

    Parameters
    ----------
    kept : Connection
        To a database that nobody serves yet.
    shop_id : str, optional
        Of the folder it comes into, which it then belongs to.
    """
    changes = {"generation": uuid.uuid4().hex[:12]} | ({"id": shop_id} if shop_id else {})
    kept.executemany(
        "UPDATE shop_identity SET value = ? WHERE name = ?",
        [(value, name) for name, value in changes.items()],
    )
    kept.commit()


def _facts(text: str) -> DesignFacts | None:
    try:
        return DesignFacts.model_validate_json(text)
    except ValueError:
        return None


def _read(value: str) -> Any:
    try:
        return json.loads(value)
    except ValueError:
        return value


class Shop:
    """Everything one shop keeps.

    Parameters
    ----------
    folder : Path
        Made when missing; the database is brought up to date.

    Raises
    ------
    BadInput
        If the folder cannot be used, or its database is damaged, newer, or no shop's.

    Notes
    -----
    `simulated`, kept while it is open only: seconds of runs, by the hash of what they are of.
    """

    def __init__(self, folder: Path):
        use_folder(folder)
        self.folder = folder
        path = folder / DATABASE
        clear_leftovers(folder)
        if path.exists():
            look_at(path, whole=False)
        else:
            bring_up(path, fresh=True)
        self.blobs = Blobs(folder / "designs")
        self.documents = Blobs(folder / "documents")
        self._write = write_engine(path)
        upgrade(self._write, path)
        self._read = read_engine(path)
        self._writing = threading.Lock()
        self.simulated: dict[str, float] = {}

    def close(self) -> None:
        """Let go of the database."""
        self._read.dispose()
        self._write.dispose()

    @contextmanager
    def held(self) -> Iterator[None]:
        """Let nobody write meanwhile: who would, waits."""
        with self._writing:
            yield

    def identity(self) -> str:
        """Return which shop this is, and of which generation: "id.generation"."""
        with self.reading() as session:
            found = {row.name: row.value for row in session.scalars(select(ShopIdentity))}
        return f"{found['id']}.{found['generation']}"

    def replace_database(self, source: Path) -> None:
        """Put another database in the place of this one, in one step, while writing is held.

        Parameters
        ----------
        source : Path
            Sound and brought up to date, see `bring_up`. What is killed in the midst leaves the
            one that was there.
        """
        with (
            closing(sqlite3.connect(source)) as kept,
            closing(sqlite3.connect(self.folder / DATABASE, timeout=10)) as target,
        ):
            renew(kept, shop_id=self.identity().partition(".")[0])
            kept.backup(target)

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """Open a session that only reads."""
        with Session(self._read, expire_on_commit=False) as session:
            yield session

    @contextmanager
    def writing(self) -> Iterator[Session]:
        """Open the one writing transaction; committed when the block ends well."""
        with self._writing, Session(self._write) as session, session.begin():
            yield session

    def changed_standards(self) -> dict[str, Any]:
        """Return the changed defaults: dotted key to value; what is unreadable as its text."""
        with self.reading() as session:
            rows = session.scalars(select(StandardChange)).all()
            return {row.key: _read(row.value) for row in rows}

    def change_standards(self, values: Mapping[str, Any]) -> None:
        """Keep changed defaults, all of them or none: dotted key to value."""
        with self.writing() as session:
            for key, value in values.items():
                kept = json.dumps(value)
                row = insert(StandardChange).values(key=key, value=kept, changed_on=now())
                session.execute(
                    row.on_conflict_do_update(
                        index_elements=["key"], set_={"value": kept, "changed_on": now()}
                    )
                )

    def reset_standards(self, keys: list[str]) -> None:
        """Go back to the defaults for these keys."""
        with self.writing() as session:
            for row in session.scalars(
                select(StandardChange).where(StandardChange.key.in_(keys))
            ).all():
                session.delete(row)

    def keep_design(self, data: bytes, name: str, facts: DesignFacts) -> None:
        """Keep a stitch file and its facts; the same content is kept once, as the newest."""
        self.blobs.keep(data)
        with self.writing() as session:
            row = insert(DesignFile).values(
                sha256=facts.sha256,
                name=name,
                size_bytes=len(data),
                facts=facts.model_dump_json(),
                added_on=now(),
            )
            session.execute(
                row.on_conflict_do_update(
                    index_elements=["sha256"], set_={"name": name, "added_on": now()}
                )
            )

    def replaced_designs(self, sha256s: Collection[str]) -> dict[str, tuple[str, str]]:
        """Find the designs under whose name another file came in later.

        Returns
        -------
        dict
            Each replaced one's sha256 to (the newest's sha256, the day it came in).
        """
        named = select(func.lower(DesignFile.name)).where(DesignFile.sha256.in_(sha256s))
        with self.reading() as session:
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

    def design(self, sha256: str) -> DesignFacts | None:
        """Return a kept design's facts, or None."""
        with self.reading() as session:
            row = session.get(DesignFile, sha256)
            if row is None:
                return None
            facts = DesignFacts.model_validate_json(row.facts)
            return facts.model_copy(update={"name": row.name})

    def steps_of(self, sha256: str) -> str:
        """Return what hands did last for a design, as JSON; "" if nothing."""
        with self.reading() as session:
            return session.scalar(select(DesignFile.steps).where(DesignFile.sha256 == sha256)) or ""

    def remember_steps(self, steps: Mapping[str, str]) -> None:
        """Keep what hands did for designs, by sha256; what stands already is not written again."""
        with self.reading() as session:
            rows = session.scalars(select(DesignFile).where(DesignFile.sha256.in_(steps)))
            known = {row.sha256: row.steps for row in rows}
        new = {sha256: steps[sha256] for sha256, was in known.items() if steps[sha256] != was}
        if not new:
            return
        with self.writing() as session:
            for sha256, kept in new.items():
                session.execute(
                    update(DesignFile).where(DesignFile.sha256 == sha256).values(steps=kept)
                )

    def designs(
        self, *, search: str = "", offset: int = 0, limit: int = MOST_LISTED
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
        with self.reading() as session:
            rows = session.scalars(
                select(DesignFile)
                .where(*conditions)
                .order_by(DesignFile.added_on.desc(), DesignFile.name, DesignFile.sha256)
                .offset(offset)
                .limit(limit)
            ).all()
            total = session.scalar(select(func.count()).select_from(DesignFile).where(*conditions))
        return [(row.name, _facts(row.facts)) for row in rows], total or 0

    def tidy(self) -> int:
        """Clear what is no longer named: files after a day's grace, houses that priced nothing.

        Returns
        -------
        int
            How many files and houses went.
        """
        clear_leftovers(self.folder)
        with self.writing() as session:
            used = union(select(Quote.house_sha256), select(QuoteVersion.house_sha256))
            unused = delete(HouseSnapshot).where(HouseSnapshot.sha256.not_in(used))
            houses = cast("CursorResult[Any]", session.execute(unused)).rowcount
        with self.reading() as session:
            designs = set(session.scalars(select(DesignFile.sha256)))
            named = union(select(QuoteDocument.sha256), select(Mail.sha256), select(Photo.sha256))
            documents = set(session.scalars(named))
        return houses + self.blobs.clear_unnamed(designs) + self.documents.clear_unnamed(documents)
