"""Backups and going back: refused with the reason, or whole; a damaged shop has a way back."""

import os
import signal
import sqlite3
import subprocess
import sys
import threading
import time
import zipfile
from contextlib import closing
from pathlib import Path

import pytest

from clothyard.core.errors import BadInput, Conflict
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.store.shop import DATABASE, Shop
from tests.conftest import polos

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
KILLS = 50 if SOAK else 4


def made(shop: Shop, customer: str = "Orrin Hill"):
    return quotes.create_quote(shop, quotes.QuoteDocument(customer=customer, job=polos()))


def customers(shop: Shop) -> set[str]:
    return {row.customer for row in quotes.list_quotes(shop, limit=200).items}


def packed(tmp_path: Path, database: bytes | None, **files: bytes) -> Path:
    path = tmp_path / "bad.zip"
    with zipfile.ZipFile(path, "w") as archive:
        if database is not None:
            archive.writestr(DATABASE, database)
        for name, data in files.items():
            archive.writestr(name, data)
    return path


def database_of(shop: Shop, tmp_path: Path, change: str = "") -> bytes:
    """The shop's database as bytes, with a change made to the copy."""
    copy = tmp_path / "copy.sqlite3"
    copy.unlink(missing_ok=True)
    with (
        closing(sqlite3.connect(shop.folder / DATABASE)) as source,
        closing(sqlite3.connect(copy)) as kept,
    ):
        source.backup(kept)
        kept.execute("PRAGMA journal_mode = DELETE")
        if change:
            kept.execute(change)
            kept.commit()
    return copy.read_bytes()


def torn(data: bytes) -> bytes:
    return data[:8192] + b"\xff" * 4096 + data[12288:]


def foreign(tmp_path: Path) -> bytes:
    path = tmp_path / "other.sqlite3"
    with closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE recipe (name TEXT)")
        other.commit()
    return path.read_bytes()


def altered(path: Path, find: bytes, at: int, value: bytes) -> Path:
    """Change bytes after each occurrence of a header."""
    data = bytearray(path.read_bytes())
    start = data.find(find)
    while start >= 0:
        data[start + at : start + at + len(value)] = value
        start = data.find(find, start + 1)
    path.write_bytes(data)
    return path


LOCAL, CENTRAL = b"PK\x03\x04", b"PK\x01\x02"
NEWER = "UPDATE alembic_version SET version_num = '9999'"
BAD = {
    "newer": (lambda s, t: packed(t, database_of(s, t, NEWER)), "made by a newer Clothyard"),
    "lacks a table": (
        lambda s, t: packed(t, database_of(s, t, "DROP TABLE customer_word")),
        "lacks",
    ),
    "foreign": (lambda s, t: packed(t, foreign(t)), "a database of something else"),
    "empty": (lambda s, t: packed(t, b""), "it is empty"),
    "no database": (lambda s, t: packed(t, b"words" * 999), "it is no database"),
    "torn pages": (lambda s, t: packed(t, torn(database_of(s, t))), "damaged"),
    "torn file": (
        lambda s, t: packed(t, database_of(s, t), **{f"documents/ab/{'ab' * 32}": b"half"}),
        "is torn",
    ),
    "outside": (lambda s, t: packed(t, database_of(s, t), **{"../evil": b"x"}), "no file of a"),
    "cut off": (
        lambda s, t: (p := packed(t, database_of(s, t)), p.write_bytes(p.read_bytes()[:9000]))[0],
        "the archive is damaged",
    ),
    "encrypted": (
        lambda s, t: altered(
            altered(packed(t, database_of(s, t)), LOCAL, 6, b"\x01"), CENTRAL, 8, b"\x01"
        ),
        "it is encrypted",
    ),
    "odd method": (
        lambda s, t: altered(
            altered(packed(t, database_of(s, t)), LOCAL, 8, b"\x61"), CENTRAL, 10, b"\x61"
        ),
        "packed in a way",
    ),
}


@pytest.mark.parametrize("what", BAD)
def test_what_cannot_be_gone_back_to_is_refused_with_its_reason_and_changes_nothing(
    shop, tmp_path, what
):
    made(shop)
    make, reason = BAD[what]
    path = make(shop, tmp_path)
    files = sorted(p for p in shop.folder.rglob("*") if "sqlite3" not in p.name)
    with pytest.raises(BadInput, match=reason):
        backups.restore_from(shop, path)
    assert customers(shop) == {"Orrin Hill"}
    left = sorted(p for p in shop.folder.rglob("*") if "sqlite3" not in p.name)
    assert left == files
    assert made(shop).number == "Q-0002"  # and it goes on


KILLED = """
import sys
from pathlib import Path
from clothyard.services.workshop.backups import restore_from
from clothyard.store.shop import Shop
shop = Shop(Path(sys.argv[1]))
print("ready", flush=True)
restore_from(shop, Path(sys.argv[2]))
print("done", flush=True)
"""


def test_killed_anywhere_in_a_restore_the_shop_is_the_old_or_the_new_one_whole(shop, tmp_path):
    made(shop, "Before")
    sending.send_quote(shop, 1, seen=1)
    backups.write_backup(shop, tmp_path / "before.zip")
    made(shop, "After")
    for n in range(KILLS):
        child = subprocess.Popen(
            [sys.executable, "-c", KILLED, str(shop.folder), str(tmp_path / "before.zip")],
            stdout=subprocess.PIPE,
        )
        child.stdout.readline()
        time.sleep(0.1 * n / KILLS)
        child.send_signal(signal.SIGKILL)
        child.wait()
        child.stdout.close()
        again = Shop(shop.folder)
        assert customers(again) in ({"Before"}, {"Before", "After"})
        again.close()
        assert backups.check_folder(shop.folder) == []  # with all its papers
        if customers(shop) == {"Before"}:
            made(shop, "After")


def test_what_is_saved_while_it_is_gone_back_is_in_the_backup_or_in_the_shop(shop, tmp_path):
    made(shop, "First")
    backups.write_backup(shop, tmp_path / "first.zip")
    saved, stop = set(), threading.Event()

    def write():
        while not stop.is_set() and len(saved) < 300:
            name = f"C{len(saved)}"
            made(shop, name)
            saved.add(name)

    thread = threading.Thread(target=write)
    thread.start()
    time.sleep(0.3)
    before = backups.restore_from(shop, tmp_path / "first.zip")
    time.sleep(0.3)
    stop.set()
    thread.join()
    old = Shop(tmp_path / "old")
    backups.restore_from(old, before)
    assert saved - customers(shop) - customers(old) == set()
    assert customers(shop) - {"First"}  # some came after
    assert customers(old) - {"First"}  # and some before
    old.close()


def test_twelve_backups_at_once_are_twelve_files(shop, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-03-02")
    made(shop)
    names = []
    threads = [
        threading.Thread(target=lambda: names.append(backups.make_backup(shop).name))
        for _ in range(12)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(set(names)) == 12
    assert {row.name for row in backups.list_backups(shop)} == set(names)


def damage(folder: Path) -> None:
    path = folder / DATABASE
    for ending in ("-wal", "-shm"):
        path.with_name(f"{DATABASE}{ending}").unlink(missing_ok=True)
    path.write_bytes(torn(path.read_bytes()))


def test_a_damaged_shop_does_not_open_and_has_a_way_back(run, tmp_path):
    folder = tmp_path / "shop"
    shop = Shop(folder)
    made(shop)
    name = backups.make_backup(shop).name
    made(shop, "Not in it")
    shop.close()
    with closing(sqlite3.connect(folder / DATABASE)) as kept:
        kept.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    damage(folder)
    with pytest.raises(BadInput, match="damaged") as told:
        Shop(folder)
    assert "clothyard restore" in told.value.remedy
    code, out, _ = run("check", "--shop", folder)
    assert (code, f"Mended by backups/{name}" in out) == (1, True)
    code, out, _ = run("restore", folder / "backups" / name, "--shop", folder)
    assert code == 0
    again = Shop(folder)
    assert customers(again) == {"Orrin Hill"}
    again.close()
    [aside] = (folder / "backups").glob("damaged-*")
    assert (aside / DATABASE).stat().st_size > 0  # what there was is kept
    assert run("check", "--shop", folder)[0] == 0


def test_a_damaged_shop_is_not_backed_up_as_a_good_one(shop, tmp_path):
    made(shop)
    with closing(sqlite3.connect(shop.folder / DATABASE)) as kept:
        kept.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    path = shop.folder / DATABASE
    path.write_bytes(torn(path.read_bytes()))
    with pytest.raises(Conflict, match="damaged"):
        backups.write_backup(shop, tmp_path / "b.zip")
    assert not (tmp_path / "b.zip").exists()
    assert backups.list_backups(shop) == []


@pytest.mark.parametrize("what", ["empty", "foreign", "newer"])
def test_what_is_no_shop_is_never_served_as_an_empty_one(shop, tmp_path, what):
    folder = tmp_path / "other"
    folder.mkdir()
    data = {
        "empty": lambda: b"",
        "foreign": lambda: foreign(tmp_path),
        "newer": lambda: database_of(shop, tmp_path, NEWER),
    }[what]()
    (folder / DATABASE).write_bytes(data)
    with pytest.raises(BadInput, match=r"is not a shop|newer"):
        Shop(folder)
    assert (folder / DATABASE).read_bytes() == data
    assert backups.check_folder(folder)[0].where == DATABASE


def test_a_shop_whose_making_was_killed_is_made_anew(tmp_path):
    (tmp_path / "s").mkdir()
    (tmp_path / "s" / f"{DATABASE}.new").write_bytes(b"half")
    shop = Shop(tmp_path / "s")
    assert made(shop).number == "Q-0001"
    shop.close()


def test_torn_and_missing_files_are_told_and_mended_out_of_a_backup(shop, run):
    made(shop)
    sending.send_quote(shop, 1, seen=1)
    papers = sorted(p for p in (shop.folder / "documents").rglob("*") if p.is_file())
    backups.make_backup(shop)
    good = [p.read_bytes() for p in papers[:2]]
    papers[0].write_bytes(b"torn")
    papers[1].unlink()
    found = backups.check_folder(shop.folder)
    assert sorted(f.what for f in found) == ["the file is missing.", "the file is torn."]
    assert all(f.mended_by for f in found)
    assert run("check", "--mend", "--shop", shop.folder)[0] == 0
    assert [p.read_bytes() for p in papers[:2]] == good
    for backup in (shop.folder / "backups").glob("*.zip"):
        backup.unlink()
    papers[0].unlink()
    [left] = backups.mend_files(shop.folder)
    assert (left.what, left.mended_by) == ("the file is missing.", "")


def test_leftovers_of_killed_work_are_cleared_after_a_while(tmp_path):
    shop = Shop(tmp_path / "s")
    shop.close()
    old, new = (tmp_path / "s" / f".work-{name}" for name in ("old", "new"))
    for path in (old, new):
        path.mkdir()
        (path / "part.zip").write_bytes(b"half")
    long_ago = time.time() - 7200
    os.utime(old, (long_ago, long_ago))
    Shop(tmp_path / "s").close()
    assert (old.exists(), new.exists()) == (False, True)


def test_a_shop_keeps_its_id_and_begins_a_new_generation_with_what_is_gone_back_to(tmp_path):
    one, other = Shop(tmp_path / "one"), Shop(tmp_path / "other")
    first, second = (shop.identity().split(".") for shop in (one, other))
    assert len({*first, *second}) == 4  # each its own
    backups.write_backup(one, tmp_path / "one.zip")
    backups.restore_from(other, tmp_path / "one.zip")
    now = other.identity().split(".")
    assert (now[0], now[1] in {*first, *second}) == (second[0], False)
    other.close()
    again = Shop(tmp_path / "other")
    assert again.identity().split(".") == now
    again.close()
    one.close()
