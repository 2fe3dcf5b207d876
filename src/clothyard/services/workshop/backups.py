"""Backups: database and files in one archive, made and gone back to while running."""

from __future__ import annotations

import errno
import os
import re
import shutil
import sqlite3
import tempfile
import zipfile
import zlib
from collections.abc import Iterable, Iterator
from contextlib import closing, contextmanager
from itertools import count
from pathlib import Path

from pydantic import BaseModel
from sqlalchemy import text
from sqlalchemy.orm import Session

from clothyard.core.errors import BadInput, ClothyardError, Conflict, NotFound
from clothyard.store.aside import Found, unreadable
from clothyard.store.blobs import content_hash
from clothyard.store.disk import unkept
from clothyard.store.engines import read_engine
from clothyard.store.migrate import newest_step
from clothyard.store.shop import DATABASE, WORK, Shop, bring_up, now, renew
from clothyard.store.soundness import look_at

FILES = ("designs", "documents", "outbox")
HASHED = ("designs", "documents")
"""Folders whose files are named by their content's hash."""

NAMING_TABLES = (
    ("design_file", "designs"),
    ("quote_document", "documents"),
    ("mail", "documents"),
    ("photo", "documents"),
)
"""Tables whose rows name files by their hash, and the folder of these."""

SCHEDULED = "-scheduled"
MOST_BYTES = 4 * 1024**3
SAFE = re.compile(rf"(?:{'|'.join(FILES)})(?:/[A-Za-z0-9][A-Za-z0-9._-]*)*/?")
ENCRYPTED = 0x1


class BackupRow(BaseModel):
    """A backup; `made_on` an ISO moment, "" where its name does not tell."""

    name: str
    made_on: str
    size_bytes: int


def _folder(folder: Path) -> Path:
    backups = folder / "backups"
    backups.mkdir(exist_ok=True)
    return backups


_STAMP = re.compile(r"backup-(\d{4}-\d{2}-\d{2}T\d{2})(\d{2})(\d{2})")


def _row(path: Path) -> BackupRow:
    found = _STAMP.match(path.name)
    made = f"{found[1]}:{found[2]}:{found[3]}+00:00" if found else ""
    return BackupRow(name=path.name, made_on=made, size_bytes=path.stat().st_size)


def list_backups(shop: Shop) -> list[BackupRow]:
    """List the backups, newest first."""
    paths = sorted(_folder(shop.folder).glob("backup-*.zip"), key=lambda p: p.stat().st_mtime)
    return [_row(path) for path in reversed(paths)]


@contextmanager
def _working_in(folder: Path) -> Iterator[Path]:
    """Open a folder to work in; what a kill leaves of it is cleared later."""
    with tempfile.TemporaryDirectory(dir=folder, prefix=WORK) as name:
        yield Path(name)


def _archive(folder: Path, part: Path) -> None:
    """Write the shop of a folder as one archive.

    The database is copied first, at one moment; files are added to and never changed, so all
    that it names are there.
    """
    copy = part.with_name(DATABASE)
    with (
        closing(sqlite3.connect(folder / DATABASE)) as source,
        closing(sqlite3.connect(copy)) as kept,
    ):
        source.backup(kept)
    look_at(copy)
    with zipfile.ZipFile(part, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.write(copy, DATABASE)
        for name in FILES:
            for path in sorted((folder / name).rglob("*")):
                if path.is_file() and SAFE.fullmatch(path.relative_to(folder).as_posix()):
                    archive.write(path, path.relative_to(folder))


def write_backup(shop: Shop, target: Path) -> None:
    """Write a backup to a file.

    Raises
    ------
    Conflict
        If the shop's database is damaged: its copy would be no good one.
    Unkept
        If the disk does not keep it: full, read-only, gone.
    """
    with _sound(), _working_in(target.parent) as folder:
        part = folder / "part.zip"
        _archive(shop.folder, part)
        part.replace(target)


@contextmanager
def _sound() -> Iterator[None]:
    try:
        yield
    except (BadInput, sqlite3.DatabaseError, UnicodeDecodeError) as error:
        known = error if isinstance(error, BadInput) else unkept(error)
        if known and known.code != "shop-damaged":
            raise known from error
        raise Conflict(
            "the shop's database is damaged: a backup of it would be no good one.",
            where=DATABASE,
            remedy="Stop the server, see what is wrong with clothyard check, and go back to an "
            "older backup with clothyard restore.",
            code="shop-damaged",
        ) from error


def make_backup(shop: Shop) -> BackupRow:
    """Make a backup in the shop's own folder of them; many at once make as many files.

    Raises
    ------
    Conflict
        As `write_backup`.
    """
    return _row(_kept_backup(shop.folder))


def scheduled_backup(shop: Shop) -> Path:
    """Make a backup that is marked as made by the plan: it goes when newer ones are kept."""
    return _kept_backup(shop.folder, mark=SCHEDULED)


def _kept_backup(folder: Path, *, mark: str = "") -> Path:
    stamp = now().replace(":", "").replace("+0000", "")
    with _sound(), _working_in(_folder(folder)) as work:
        part = work / "part.zip"
        _archive(folder, part)
        for n in count(1):
            target = _folder(folder) / f"backup-{stamp}{f'-{n}' if n > 1 else ''}{mark}.zip"
            if _placed(part, target):
                return target
    raise AssertionError


def _placed(part: Path, target: Path) -> bool:
    """Give a file its name, unless that is taken."""
    try:
        os.link(part, target)
    except FileExistsError:
        return False
    except OSError:  # a disk without links
        if target.exists():
            return False
        part.replace(target)
    return True


def _bad(source: Path, why: str) -> BadInput:
    return BadInput(
        f"is no backup that can be gone back to: {why}. Nothing was changed.",
        where=source.name,
        remedy="Choose another backup-….zip.",
        code="backup-bad",
    )


def _unpack(source: Path, folder: Path) -> list[str]:
    """Unpack a backup, whole: the names of its files.

    Raises
    ------
    BadInput
        If it is none, or damaged, encrypted, packed in a way we do not read, or too large.
    """
    try:
        with zipfile.ZipFile(source) as archive:
            infos = archive.infolist()
            names = [info.filename for info in infos]
            if DATABASE not in names:
                raise _bad(source, "it holds no shop")
            if len(set(names)) < len(names):
                raise _bad(source, "it names a file twice")
            for name in names:
                if name != DATABASE and not SAFE.fullmatch(name):
                    raise _bad(source, f"{name[:60]!r} is no file of a shop")
            if any(info.flag_bits & ENCRYPTED for info in infos):
                raise _bad(source, "it is encrypted")
            if sum(info.file_size for info in infos) > MOST_BYTES:
                raise _bad(source, "it is over 4 GB")
            archive.extractall(folder)  # checks every file against its sum
    except NotImplementedError:
        raise _bad(source, "it is packed in a way that is not read here") from None
    except (zipfile.BadZipFile, zlib.error, EOFError, ValueError, OSError) as error:
        if isinstance(error, OSError) and error.errno != errno.EINVAL:  # of the disk, not of it
            raise
        raise _bad(source, "the archive is damaged") from None
    return [name for name in names if not name.endswith("/")]


def _prepared(source: Path, work: Path) -> list[str]:
    """Unpack a backup and bring its database up to date, beside the shop: its files' names.

    Raises
    ------
    BadInput
        If it cannot be gone back to; nothing is changed then.
    """
    try:
        names = _unpack(source, work)
        bring_up(work / DATABASE)
    except BadInput as error:
        if error.code in {"backup-bad", "shop-newer"}:
            raise
        raise _bad(source, f"its database {error.message.rstrip('.')}") from None
    except (sqlite3.DatabaseError, UnicodeDecodeError):
        raise _bad(source, "its database is damaged") from None
    for name in names:
        if _is_torn(work / name, name):
            raise _bad(source, f"its file {name} is torn")
    found = [path for at in FILES for path in (work / at).rglob("*") if path.is_file()]
    return [path.relative_to(work).as_posix() for path in found]  # a migration may have made some


def _is_torn(path: Path, name: str) -> bool:
    return name.split("/", maxsplit=1)[0] in HASHED and content_hash(path.read_bytes()) != path.name


def _put_files(work: Path, names: list[str], folder: Path) -> None:
    """Put a backup's files beside the shop's, before the database that names them."""
    for name in names:
        target = folder / name
        if target.exists() and not _is_torn(target, name):
            continue
        target.parent.mkdir(parents=True, exist_ok=True)
        with (work / name).open("rb") as file:
            os.fsync(file.fileno())
        (work / name).replace(target)


def restore_from(shop: Shop, source: Path) -> Path:
    """Go back to a backup file: the database as it was, its files added to those there.

    What is there now is backed up first. Nobody writes meanwhile: what was saved before is in the
    backup of what was there, what comes after is in the shop as it then is.

    Returns
    -------
    Path
        The backup of what was there.

    Raises
    ------
    BadInput
        If it cannot be gone back to, with the reason; nothing is changed then.
    Conflict
        If what is there is damaged.
    """
    with _working_in(shop.folder) as work:
        names = _prepared(source, work)
        with shop.held():
            before = _kept_backup(shop.folder)
            _put_files(work, names, shop.folder)
            shop.replace_database(work / DATABASE)
        return before


def restore_backup(shop: Shop, name: str) -> BackupRow:
    """Go back to one of the shop's backups; what is there now is backed up first.

    Raises
    ------
    NotFound, BadInput, Conflict
    """
    path = find_backup(shop, name)
    restore_from(shop, path)
    return _row(path)


def find_backup(shop: Shop, name: str) -> Path:
    """Return one of the shop's backups.

    Raises
    ------
    NotFound
    """
    path = next((p for p in _folder(shop.folder).glob("backup-*.zip") if p.name == name), None)
    if path is None:
        raise NotFound(
            f"there is no backup {name[:80]!r}.",
            where="backup",
            remedy="Choose one of the list.",
            code="backup-unknown",
        )
    return path


def take_backup(shop: Shop, chunks: Iterable[bytes]) -> BackupRow:
    """Take a backup in from elsewhere: it joins the list, and nothing is gone back to yet.

    Parameters
    ----------
    shop : Shop
    chunks : iterable of bytes
        The file, part by part.

    Raises
    ------
    BadInput
        If it is none that could be gone back to, with the reason; it is not kept then.
    """
    with _working_in(_folder(shop.folder)) as work:
        part = work / "backup-from-elsewhere.zip"
        with part.open("wb") as file:
            for chunk in chunks:
                if file.tell() + len(chunk) > MOST_BYTES:
                    raise _bad(part, "it is over 4 GB")
                file.write(chunk)
        with _working_in(work) as look:
            _prepared(part, look)
        stamp = now().replace(":", "").replace("+0000", "")
        for n in count(1):
            again = f"-{n}" if n > 1 else ""
            target = _folder(shop.folder) / f"backup-{stamp}{again}-from-elsewhere.zip"
            if _placed(part, target):
                return _row(target)
    raise AssertionError


def restore_folder(folder: Path, source: Path) -> Path:
    """Go back to a backup file in a folder that nobody serves, also where its shop is damaged.

    Returns
    -------
    Path
        Where what was there is kept: a backup, or a folder with the damaged files as they were.

    Raises
    ------
    BadInput
        As `restore_from`.
    """
    try:
        shop = Shop(folder)
    except ClothyardError as error:
        if error.code not in {"shop-damaged", "not-a-shop", "shop-newer"}:
            raise
        return _restore_over(folder, source)
    try:
        return restore_from(shop, source)
    except Conflict:
        shop.close()
        return _restore_over(folder, source)
    finally:
        shop.close()


def _restore_over(folder: Path, source: Path) -> Path:
    """Set a database that does not open aside, whole, and put the backup's in its place."""
    with _working_in(folder) as work:
        names = _prepared(source, work)
        aside = Path(tempfile.mkdtemp(dir=_folder(folder), prefix=f"damaged-{now()[:10]}-"))
        for path in folder.glob(f"{DATABASE}*"):
            shutil.copy2(path, aside / path.name)
        _put_files(work, names, folder)
        for ending in ("-wal", "-shm"):
            (folder / f"{DATABASE}{ending}").unlink(missing_ok=True)
        with closing(sqlite3.connect(work / DATABASE)) as kept:
            renew(kept)
        (work / DATABASE).replace(folder / DATABASE)
        return aside


class Finding(BaseModel):
    """Something wrong with a shop: what, where, and the backup that mends it, "" for none."""

    where: str
    what: str
    mended_by: str = ""


def _named_files(folder: Path) -> Iterator[tuple[str, str]]:
    """Name each file that the database says is kept: (folder, hash)."""
    with closing(sqlite3.connect(folder / DATABASE)) as kept:
        there = {name for (name,) in kept.execute("SELECT name FROM sqlite_master")}
        for table, at in NAMING_TABLES:
            if table not in there:  # an older release's
                continue
            for (sha256,) in kept.execute(f"SELECT DISTINCT sha256 FROM {table}"):
                yield at, sha256


def _mended_by(folder: Path, name: str, sha256: str) -> str:
    """Find the newest backup that holds a file whole; "" if none."""
    for path in sorted(_folder(folder).glob("backup-*.zip"), reverse=True):
        try:
            with zipfile.ZipFile(path) as archive:
                if content_hash(archive.read(name)) == sha256:
                    return path.name
        except (zipfile.BadZipFile, zlib.error, KeyError, OSError, RuntimeError):
            continue
    return ""


def _newest_sound(folder: Path) -> str:
    """Find the newest backup that can be gone back to; "" if none."""
    for path in sorted(_folder(folder).glob("backup-*.zip"), reverse=True):
        try:
            with _working_in(folder) as work:
                _prepared(path, work)
        except BadInput:
            continue
        return path.name
    return ""


def _unreadable(path: Path) -> list[Found]:
    """Look through a database's rows; one of an older release is looked through once it is up."""
    engine = read_engine(path)
    try:
        with Session(engine) as session:
            step = session.scalar(text("SELECT version_num FROM alembic_version"))
            return unreadable(session) if step == newest_step() else []
    finally:
        engine.dispose()


def check_folder(folder: Path) -> list[Finding]:
    """Look a shop's folder over: its database, and each file against its hash.

    Returns
    -------
    list of Finding
        Empty when all is well.
    """
    path = folder / DATABASE
    if not path.exists():
        return [Finding(where=DATABASE, what="there is no shop in this folder.")]
    try:
        look_at(path)
        named = list(_named_files(folder))
    except (BadInput, sqlite3.DatabaseError, UnicodeDecodeError) as error:
        what = error.message if isinstance(error, BadInput) else "the database is damaged."
        return [Finding(where=DATABASE, what=what, mended_by=_newest_sound(folder))]
    found = [
        Finding(where=f"{each.kept.called} ({each.row['row_key']})", what=f"{each.why}.")
        for each in _unreadable(path)
    ]
    for at, sha256 in named:
        name = f"{at}/{sha256[:2]}/{sha256}"
        file = folder / name
        if file.exists() and content_hash(file.read_bytes()) == sha256:
            continue
        what = "the file is torn." if file.exists() else "the file is missing."
        found.append(Finding(where=name, what=what, mended_by=_mended_by(folder, name, sha256)))
    return found


def mend_files(folder: Path) -> list[Finding]:
    """Take torn and missing files out of the backups that hold them whole; the rest is returned."""
    left = []
    for finding in check_folder(folder):
        if finding.where == DATABASE or not finding.mended_by:
            left.append(finding)
            continue
        with _working_in(folder) as work:
            with zipfile.ZipFile(_folder(folder) / finding.mended_by) as archive:
                archive.extract(finding.where, work)
            _put_files(work, [finding.where], folder)
    return left
