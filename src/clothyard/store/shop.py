"""A shop's folder: its database, its design files, one writer."""

from __future__ import annotations

import json
import os
import sqlite3
import threading
from collections.abc import Collection, Iterator, Mapping
from contextlib import closing, contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from sqlalchemy import func, select, text
from sqlalchemy.dialects.sqlite import insert
from sqlalchemy.orm import Session

from clothyard.core.errors import BadInput
from clothyard.core.stitches.facts import DesignFacts
from clothyard.store.blobs import Blobs
from clothyard.store.engines import read_engine, write_engine
from clothyard.store.migrate import upgrade
from clothyard.store.models import DesignFile, StandardChange

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


class Shop:
    """Everything one shop keeps.

    Parameters
    ----------
    folder : Path
        Made when missing; the database is brought up to date.

    Raises
    ------
    BadInput
        If the folder cannot be used.
    """

    def __init__(self, folder: Path):
        try:
            folder.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise BadInput(
                f"the folder cannot be used ({error.strerror}).",
                where=str(folder),
                remedy="Name one that can be written to.",
                code="folder",
            ) from None
        self.folder = folder
        path = folder / DATABASE
        self.blobs = Blobs(folder / "designs")
        self.documents = Blobs(folder / "documents")
        self._write = write_engine(path)
        upgrade(self._write, path)
        self._read = read_engine(path)
        self._writing = threading.Lock()

    def close(self) -> None:
        """Let go of the database."""
        self._read.dispose()
        self._write.dispose()

    def replace_database(self, source: Path) -> None:
        """Put another database in the place of this one, as it was at its backup.

        Parameters
        ----------
        source : Path
            A whole SQLite database of a shop; brought up to date when it is older.

        Raises
        ------
        sqlite3.DatabaseError
            If it is none; nothing is changed then.
        """
        with closing(sqlite3.connect(source)) as kept:
            if kept.execute("PRAGMA integrity_check").fetchone() != ("ok",):
                raise sqlite3.DatabaseError
            kept.execute("SELECT version_num FROM alembic_version").fetchone()
            path = self.folder / DATABASE
            with self._writing:
                with closing(sqlite3.connect(path, timeout=10)) as target:
                    kept.backup(target)
                upgrade(self._write, path)

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
        """Return the changed defaults: dotted key to value."""
        with self.reading() as session:
            rows = session.scalars(select(StandardChange)).all()
            return {row.key: json.loads(row.value) for row in rows}

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

    def designs(self) -> list[tuple[str, str, DesignFacts]]:
        """List kept designs, newest first: (sha256, name, facts)."""
        with self.reading() as session:
            rows = session.scalars(
                select(DesignFile)
                .order_by(DesignFile.added_on.desc(), DesignFile.name)
                .limit(MOST_LISTED)
            ).all()
            return [
                (row.sha256, row.name, DesignFacts.model_validate_json(row.facts)) for row in rows
            ]
