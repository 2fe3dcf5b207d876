"""Two engines on one SQLite file: many readers, one writer that begins immediately."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from sqlalchemy import Engine, create_engine, event
from sqlalchemy.pool import QueuePool, StaticPool

BUSY_MS = 10_000


def _pragmas(engine: Engine, *names: str) -> None:
    @event.listens_for(engine, "connect")
    def _on_connect(connection: Any, _record: Any) -> None:
        connection.isolation_level = None  # BEGIN is ours to say
        cursor = connection.cursor()
        for name in (f"busy_timeout = {BUSY_MS}", "foreign_keys = ON", *names):
            cursor.execute(f"PRAGMA {name}")
        cursor.close()


def write_engine(path: Path) -> Engine:
    """Open the one writing connection: WAL, full sync, BEGIN IMMEDIATE, what goes is wiped."""
    engine = create_engine(
        f"sqlite:///{path}", poolclass=StaticPool, connect_args={"check_same_thread": False}
    )
    _pragmas(engine, "journal_mode = WAL", "synchronous = FULL", "secure_delete = ON")

    @event.listens_for(engine, "begin")
    def _begin(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN IMMEDIATE")

    return engine


def read_engine(path: Path) -> Engine:
    """Open the reading pool: queries only."""
    engine = create_engine(f"sqlite:///{path}", poolclass=QueuePool, pool_size=8)
    _pragmas(engine, "query_only = ON")

    @event.listens_for(engine, "begin")
    def _begin(connection: Any) -> None:
        connection.exec_driver_sql("BEGIN")

    return engine
