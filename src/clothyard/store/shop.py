"""A shop's folder: its database, its design files, one writer."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
import threading
import time
import uuid
from collections.abc import Iterator
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any, cast

from sqlalchemy import CursorResult, delete, select, union
from sqlalchemy.orm import Session

from clothyard.store.aside import set_aside, unreadable
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
)
from clothyard.store.remembered import Remembered
from clothyard.store.soundness import look_at, look_at_tables
from clothyard.store.unit import Unit

DATABASE = "shop.sqlite3"
MOST_REMEMBERED = 300


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


class Shop:
    """Everything one shop keeps.

    Parameters
    ----------
    folder : Path
        Made when missing; the database is brought up to date.
    database : Path, optional
        Another than the folder's own, see `ahead`.

    Raises
    ------
    BadInput
        If the folder cannot be used, or its database is damaged, newer, or no shop's.

    Notes
    -----
    Kept while it is open only: `simulated`, seconds of runs by the hash of what they are of;
    `remembered`, what was read and never changes, such as a sent version or its house.
    """

    def __init__(self, folder: Path, *, database: Path | None = None):
        use_folder(folder)
        self.folder = folder
        path = database or folder / DATABASE
        clear_leftovers(folder)
        if path.exists():
            look_at(path, whole=False)
        else:
            bring_up(path, fresh=True)
        self.blobs = Blobs(folder / "designs")
        self.documents = Blobs(folder / "documents")
        self._write = write_engine(path)
        upgrade(self._write, path)
        look_at_tables(path)
        self._read = read_engine(path)
        self._writing = threading.Lock()
        self.simulated: dict[str, float] = {}
        self.remembered = Remembered(MOST_REMEMBERED)
        self._put_away()

    def _put_away(self) -> None:
        """Set aside what is kept and cannot be read, while nobody else writes."""
        with self.reading() as session:
            found = unreadable(session)
        if found:
            with Session(self._write) as session, session.begin():
                set_aside(Unit(session), found, on=now())

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

    @property
    def id(self) -> str:
        """Which shop this is, of whatever generation."""
        return self.identity().partition(".")[0]

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
            renew(kept, shop_id=self.id)
            kept.backup(target)
        self.remembered.forget()
        self._put_away()

    @contextmanager
    def reading(self) -> Iterator[Session]:
        """Open a session that only reads."""
        with Session(self._read, expire_on_commit=False) as session:
            yield session

    @contextmanager
    def unit(self) -> Iterator[Unit]:
        """Open a verb's one write transaction; kept when the block ends well, else nothing of it.

        Nobody else writes meanwhile.
        """
        with self._writing, Session(self._write) as session, session.begin():
            yield Unit(session)

    @contextmanager
    def ahead(self) -> Iterator[Shop]:
        """Open the shop as it could be: what many verbs write there is kept in one step, or not.

        It is kept when the block ends well, else nothing of it. Nobody else writes meanwhile.
        Files lie among the shop's own: what nothing names is cleared in time.
        """
        with self._writing, tempfile.TemporaryDirectory(dir=self.folder, prefix=WORK) as name:
            at = Path(name) / DATABASE
            with (
                closing(sqlite3.connect(self.folder / DATABASE, timeout=10)) as source,
                closing(sqlite3.connect(at)) as copy,
            ):
                source.backup(copy)
            could = Shop(self.folder, database=at)
            try:
                yield could
            finally:
                could.close()
            with (
                closing(sqlite3.connect(at)) as copy,
                closing(sqlite3.connect(self.folder / DATABASE, timeout=10)) as target,
            ):
                copy.backup(target)
        self.remembered.forget()

    def wipe(self) -> None:
        """Write what was erased out of the journal beside the database, too."""
        with closing(self._write.raw_connection()) as connection, self._writing:
            cast("Any", connection).execute("PRAGMA wal_checkpoint(TRUNCATE)")

    def tidy(self) -> int:
        """Clear what is no longer named: files after a day's grace, houses that priced nothing.

        Returns
        -------
        int
            How many files and houses went.
        """
        clear_leftovers(self.folder)
        with self.unit() as unit:
            used = union(select(Quote.house_sha256), select(QuoteVersion.house_sha256))
            unused = delete(HouseSnapshot).where(HouseSnapshot.sha256.not_in(used))
            houses = cast("CursorResult[Any]", unit.session.execute(unused)).rowcount
        with self.reading() as session:
            designs = set(session.scalars(select(DesignFile.sha256)))
            named = union(select(QuoteDocument.sha256), select(Mail.sha256), select(Photo.sha256))
            documents = set(session.scalars(named))
        return houses + self.blobs.clear_unnamed(designs) + self.documents.clear_unnamed(documents)
