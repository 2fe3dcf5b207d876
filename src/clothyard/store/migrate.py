"""Bringing a shop's database up to the newest step, a backup before each move."""

from __future__ import annotations

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from functools import cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine

from clothyard.core.errors import BadInput


def config_of(engine: Engine) -> Config:
    """Point the migrations at an engine."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    config.set_main_option("path_separator", "os")
    config.attributes["engine"] = engine
    return config


def newest_step() -> str:
    """Return the newest migration step."""
    head = ScriptDirectory(str(Path(__file__).parent / "migrations")).get_current_head()
    assert head is not None
    return head


@cache
def known_steps() -> frozenset[str]:
    """Return every migration step of this release."""
    folder = str(Path(__file__).parent / "migrations")
    return frozenset(each.revision for each in ScriptDirectory(folder).walk_revisions())


def upgrade(engine: Engine, path: Path) -> None:
    """Run the migrations that a database lacks.

    Parameters
    ----------
    engine : Engine
        The writing one.
    path : Path
        The database file; an older one is copied to `backups/` first.
    """
    config = config_of(engine)
    newest = newest_step()
    with engine.connect() as connection:
        current = MigrationContext.configure(connection).get_current_revision()
    if current == newest:
        return
    if current is not None:
        folder = path.parent / "backups"
        folder.mkdir(exist_ok=True)
        with (
            closing(sqlite3.connect(path)) as source,
            closing(sqlite3.connect(folder / f"before-{newest}.sqlite3")) as target,
        ):
            source.backup(target)
    with _unheld(engine):
        command.upgrade(config, "head")


@contextmanager
def _unheld(engine: Engine) -> Iterator[None]:
    """Let tables be made anew: what rows mean is looked at once it is done.

    Raises
    ------
    BadInput
        If a row then means one that is not there; the database before the step is in `backups/`.
    """
    with engine.connect() as connection:  # a pragma holds only outside a transaction
        raw = connection.connection.dbapi_connection
        assert raw is not None
        cursor = raw.cursor()
        cursor.execute("PRAGMA foreign_keys = OFF")
        try:
            yield
            lost = cursor.execute("PRAGMA foreign_key_check").fetchone()
        finally:
            cursor.execute("PRAGMA foreign_keys = ON")
            cursor.close()
    if lost:
        raise BadInput(
            f"a row of {lost[0]} means one of {lost[2]} that is not there.",
            where=str(engine.url.database),
            remedy="Go back to a backup.",
            code="shop-damaged",
        )
