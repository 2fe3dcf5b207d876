"""Disks that are full, read-only or shut, at every step: all is kept or nothing, and told."""

import errno
import os
import sqlite3

import pytest

from clothyard.core.errors import ClothyardError
from clothyard.services.customer_page import outbox
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.store import blobs
from clothyard.store.blobs import Blobs
from clothyard.store.shop import DATABASE, Shop
from tests.services.test_quotes import document, made

MAILED = {"email": "choir@orrin.example"}


class Disk:
    """Writes files as they are, but fails at the nth write and after it."""

    def __init__(self, fails_at: int, error: int):
        self.fails_at, self.error, self.writes = fails_at, error, 0

    def fsync(self, handle: int) -> None:
        self.writes += 1
        if self.writes >= self.fails_at:
            raise OSError(self.error, os.strerror(self.error))


def clear_papers(shop):
    """Forget what earlier tries kept, so that the next one writes each file."""
    for path in (shop.folder / "documents").glob("??/*"):
        path.unlink()


def nothing_was_sent(shop, quote_id):
    assert quotes.find_quote(shop, quote_id).state == "draft"
    assert outbox.list_mail(shop).items == []
    assert sending.list_versions(shop, quote_id) == []
    with shop.reading() as session:
        links = session.connection().exec_driver_sql("SELECT count(*) FROM customer_link")
        assert links.scalar() == 0


@pytest.mark.parametrize(
    ("error", "status", "says"),
    [
        (errno.ENOSPC, 507, "disk is full"),
        (errno.EROFS, 503, "can only be read"),
        (errno.EACCES, 503, "may not be written to"),
        (errno.EIO, 503, "did not read or write"),
    ],
)
def test_a_sending_that_a_disk_ends_has_sent_nothing(
    shop, client, monkeypatch, error, status, says
):
    view = made(shop, **MAILED)
    at = 1
    while True:  # at every file that a sending writes
        disk = Disk(at, error)
        monkeypatch.setattr(blobs.os, "fsync", disk.fsync)
        answer = client.post(f"/api/v1/quotes/{view.id}/send", headers={"if-match": '"r1"'})
        if answer.status_code == 200:
            break
        assert answer.status_code == status
        assert says in answer.json()["detail"]
        assert answer.json()["remedy"]
        nothing_was_sent(shop, view.id)
        clear_papers(shop)
        at += 1
    assert at == 5  # three papers and the message were written, and nothing else
    assert not list(shop.folder.rglob("*.work-*"))


def test_a_database_that_cannot_grow_keeps_nothing_by_halves(shop, client):
    view = made(shop, **MAILED)
    for spare in range(40):
        with shop.unit() as unit, unit.reading() as session:
            connection = session.connection()
            pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
            connection.exec_driver_sql(f"PRAGMA max_page_count = {pages + spare}")
        answer = client.post(f"/api/v1/quotes/{view.id}/send", headers={"if-match": '"r1"'})
        if answer.status_code == 200:
            break
        assert (answer.status_code, answer.json()["code"]) == (507, "disk-full")
        nothing_was_sent(shop, view.id)
    assert spare > 1
    assert outbox.list_mail(shop).items[0].posted


def test_a_save_on_a_disk_that_can_only_be_read_is_told(shop, client):
    view = made(shop)
    with shop.unit() as unit, unit.reading() as session:
        session.connection().exec_driver_sql("PRAGMA query_only = ON")
    body = document().model_dump()
    answer = client.put(f"/api/v1/quotes/{view.id}", json=body, headers={"if-match": '"r1"'})
    assert (answer.status_code, answer.json()["code"]) == (503, "disk-read-only")
    assert "our fault" not in answer.text.lower()


def test_a_database_that_breaks_while_it_is_served_is_told(shop, client):
    made(shop)
    with shop.unit() as unit, unit.reading() as session:
        session.connection().exec_driver_sql("ALTER TABLE quote RENAME TO gone")
    answer = client.get("/api/v1/quotes")
    assert (answer.status_code, answer.json()["code"]) == (503, "shop-damaged")
    assert "clothyard restore" in answer.json()["remedy"]


def test_a_restore_that_a_disk_ends_leaves_the_shop_as_it_was(shop, monkeypatch):
    made(shop, **MAILED)
    sending.send_quote(shop, 1, seen=1)
    kept = backups.make_backup(shop)
    made(shop)
    at, ended = 1, 0
    while True:
        clear_papers(shop)  # so that they are put back
        disk = Disk(at, errno.ENOSPC)
        monkeypatch.setattr(os, "fsync", disk.fsync)
        try:
            backups.restore_backup(shop, kept.name)
            break
        except OSError:
            ended += 1
            assert quotes.list_quotes(shop).total == 2  # the old shop, whole
        at += 1
    assert ended >= 4  # three papers, and the message
    assert quotes.list_quotes(shop).total == 1
    assert backups.check_folder(shop.folder) == []


def test_what_the_post_does_not_take_waits_and_can_be_tried_again(shop, client):
    closed = shop.folder / "outbox" / "closed"
    closed.parent.mkdir()
    closed.touch()
    view = made(shop, **MAILED)
    sent = sending.send_quote(shop, view.id, seen=1)
    assert (sent.state, sent.version) == ("sent", 1)  # the version stands
    [row] = client.get("/api/v1/outbox").json()["items"]
    assert (row["posted"], row["trouble"]) == (False, "the post is shut")
    assert "/q/" in client.get("/api/v1/outbox/Q-0001-v1").json()["body"]
    closed.unlink()
    again = client.post("/api/v1/outbox/Q-0001-v1/post").json()
    assert (again["posted"], again["trouble"]) == (True, "")
    assert (shop.folder / "outbox" / "Q-0001-v1.eml").exists()
    assert client.post("/api/v1/outbox/Q-9/post").status_code == 404


def test_a_torn_paper_is_told_and_mended_when_it_is_kept_again(shop, client):
    made(shop, **MAILED)
    sending.send_quote(shop, 1, seen=1)
    where = "/api/v1/quotes/1/versions/1/quote"
    [path] = [
        p
        for p in (shop.folder / "documents").glob("??/*")
        if p.read_bytes()[:4] == b"%PDF" and len(p.read_bytes()) == len(client.get(where).content)
    ]
    whole = path.read_bytes()
    path.write_bytes(whole[:100])
    answer = client.get(where)
    assert (answer.status_code, answer.json()["code"]) == (409, "file-torn")
    assert "--mend" in answer.json()["remedy"]
    path.unlink()
    assert client.get(where).json()["code"] == "file-missing"
    shop.documents.keep(whole)
    assert client.get(where).content == whole


def test_files_that_nothing_names_are_cleared_after_a_day(tmp_path, monkeypatch):
    kept = Blobs(tmp_path)
    named, fresh, old = kept.keep(b"named"), kept.keep(b"fresh"), kept.keep(b"old")
    for sha256 in (named, old):
        os.utime(kept.path(sha256), (0, 0))
    assert kept.clear_unnamed({named}) == 1
    assert [kept.read(s) for s in (named, fresh, old)] == [b"named", b"fresh", None]


def test_a_newer_or_damaged_shop_says_so_at_the_command_line(tmp_path, run):
    Shop(tmp_path / "s").close()
    with sqlite3.connect(tmp_path / "s" / DATABASE) as kept:
        kept.execute("UPDATE alembic_version SET version_num = '9999'")
    code, _, err = run("serve", "--shop", tmp_path / "s", "--port", "1")
    assert (code, "newer Clothyard" in err) == (2, True)
    with pytest.raises(ClothyardError):
        Shop(tmp_path / "s")
