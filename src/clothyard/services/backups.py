"""Backups: database and files in one archive, made and restored while running."""

from __future__ import annotations

import sqlite3
import tempfile
import zipfile
from contextlib import closing
from pathlib import Path

from pydantic import BaseModel

from clothyard.core.errors import BadInput, NotFound
from clothyard.store.shop import DATABASE, Shop, now

FILES = ("designs", "documents", "outbox")
MOST_BYTES = 4 * 1024**3


class BackupRow(BaseModel):
    """A backup."""

    name: str
    made_on: str
    size_bytes: int


def _folder(shop: Shop) -> Path:
    folder = shop.folder / "backups"
    folder.mkdir(exist_ok=True)
    return folder


def _row(path: Path) -> BackupRow:
    stamp = path.stem.removeprefix("backup-")
    return BackupRow(name=path.name, made_on=stamp, size_bytes=path.stat().st_size)


def list_backups(shop: Shop) -> list[BackupRow]:
    """List the backups, newest first."""
    paths = sorted(_folder(shop).glob("backup-*.zip"), key=lambda p: p.stat().st_mtime)
    return [_row(path) for path in reversed(paths)]


def write_backup(shop: Shop, target: Path) -> None:
    """Write a backup to a file.

    The database is copied first, at one moment; files are added to and never changed, so all
    that it names are there.
    """
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        copy = Path(folder) / DATABASE
        with (
            closing(sqlite3.connect(shop.folder / DATABASE)) as source,
            closing(sqlite3.connect(copy)) as kept,
        ):
            source.backup(kept)
        part = Path(folder) / "part.zip"
        with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
            archive.write(copy, DATABASE)
            for name in FILES:
                for path in sorted((shop.folder / name).rglob("*")):
                    if path.is_file():
                        archive.write(path, path.relative_to(shop.folder))
        part.replace(target)


def make_backup(shop: Shop) -> BackupRow:
    """Make a backup in the shop's own folder of them."""
    stamp = now().replace(":", "").replace("+0000", "")
    target = _folder(shop) / f"backup-{stamp}.zip"
    n = 1
    while target.exists():
        n += 1
        target = _folder(shop) / f"backup-{stamp}-{n}.zip"
    write_backup(shop, target)
    return _row(target)


def restore_from(shop: Shop, source: Path) -> None:
    """Go back to a backup file: the database as it was, its files added to those there.

    Raises
    ------
    BadInput
        If it is no whole backup; nothing is changed then.
    """
    bad = BadInput(
        "is no backup of a shop.", where=source.name, remedy="Choose a backup-….zip.",
        code="backup-bad",
    )  # fmt: skip
    try:
        with (
            zipfile.ZipFile(source) as archive,
            tempfile.TemporaryDirectory(dir=shop.folder) as folder,
        ):
            names = archive.namelist()
            size = sum(info.file_size for info in archive.infolist())
            safe = all(
                name == DATABASE or (name.split("/")[0] in FILES and ".." not in name)
                for name in names
            )
            if DATABASE not in names or archive.testzip() or not safe or size > MOST_BYTES:
                raise bad
            archive.extractall(folder)
            shop.replace_database(Path(folder) / DATABASE)
            for name in names:
                target = shop.folder / name
                if name != DATABASE and not target.exists():
                    target.parent.mkdir(parents=True, exist_ok=True)
                    (Path(folder) / name).replace(target)
    except (zipfile.BadZipFile, sqlite3.DatabaseError, OSError):
        raise bad from None


def restore_backup(shop: Shop, name: str) -> BackupRow:
    """Go back to one of the shop's backups; what is there now is backed up first.

    Raises
    ------
    NotFound, BadInput
    """
    path = next((p for p in _folder(shop).glob("backup-*.zip") if p.name == name), None)
    if path is None:
        raise NotFound(
            f"there is no backup {name[:80]!r}.", where="backup", remedy="Choose one of the list.",
            code="backup-unknown",
        )  # fmt: skip
    make_backup(shop)
    restore_from(shop, path)
    return _row(path)
