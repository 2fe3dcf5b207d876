"""Whether a database file is a shop's that this release can open: looked at, never changed."""

from __future__ import annotations

import sqlite3
from contextlib import closing
from pathlib import Path

from clothyard.core.errors import BadInput
from clothyard.store.migrate import known_steps
from clothyard.store.models import Base

GO_BACK = "Go back to a backup: clothyard restore BACKUP.zip --shop FOLDER."


def damaged(path: Path) -> BadInput:
    """Return the error of a database that is damaged."""
    return BadInput(
        "the database is damaged.", where=path.name, remedy=GO_BACK, code="shop-damaged"
    )


def no_shop(path: Path, why: str) -> BadInput:
    """Return the error of what is not a shop's database."""
    return BadInput(f"is not a shop: {why}.", where=path.name, remedy=GO_BACK, code="not-a-shop")


def _step(kept: sqlite3.Connection, tables: set[str], path: Path) -> str:
    if "alembic_version" not in tables:
        raise no_shop(path, "it is a database of something else" if tables else "it is empty")
    [step] = kept.execute("SELECT version_num FROM alembic_version").fetchone() or [""]
    if not isinstance(step, str):
        raise damaged(path)
    if not {"standard_change", "design_file"} <= tables:
        raise no_shop(path, "it is a database of something else")
    if step in known_steps():
        return str(step)
    if "quote" in tables and "standard_change" in tables:
        raise BadInput(
            f"was made by a newer Clothyard (its step is {step[:40]}).",
            where=path.name,
            remedy="Use that release, or go back to an older backup.",
            code="shop-newer",
        )
    raise no_shop(path, "it is a database of something else")


def look_at(path: Path, *, whole: bool = True) -> str:
    """Look whether a database is a shop's, and sound.

    Parameters
    ----------
    path : Path
    whole : bool
        Check the contents of its indexes too, not only its pages.

    Returns
    -------
    str
        The migration step that it stands at.

    Raises
    ------
    BadInput
        `not-a-shop`, `shop-newer` or `shop-damaged`.
    """
    if path.stat().st_size == 0:
        raise no_shop(path, "it is empty")
    try:
        with closing(
            sqlite3.connect(f"{path.resolve().as_uri()}?mode=rw", uri=True, timeout=10)
        ) as kept:
            found = kept.execute("SELECT name FROM sqlite_master WHERE type = 'table'").fetchall()
            step = _step(kept, {name for (name,) in found}, path)
            check = "integrity_check" if whole else "quick_check"
            if kept.execute(f"PRAGMA {check}(1)").fetchone() != ("ok",):
                raise damaged(path)
            return step
    except sqlite3.OperationalError as error:
        if "locked" in str(error) or "unable to open" in str(error):
            raise BadInput(
                f"the database cannot be opened ({error}).",
                where=path.name,
                remedy="See who else has it open, and whether you may read it.",
                code="shop-shut",
            ) from None
        raise damaged(path) from None
    except sqlite3.DatabaseError as error:
        if "not a database" in str(error):
            raise no_shop(path, "it is no database") from None
        raise damaged(path) from None
    except UnicodeDecodeError:  # what it says of itself holds what is damaged
        raise damaged(path) from None


def look_at_tables(path: Path) -> None:
    """Look whether a database that was brought up to date has every table and column.

    Raises
    ------
    BadInput
        `not-a-shop`.
    """
    with closing(sqlite3.connect(path)) as kept:
        for table in Base.metadata.sorted_tables:
            rows = kept.execute(f"PRAGMA table_info({table.name})").fetchall()
            lacking = {column.name for column in table.columns} - {row[1] for row in rows}
            if lacking:
                raise no_shop(path, f"its table {table.name} lacks {', '.join(sorted(lacking))}")
