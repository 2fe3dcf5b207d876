"""Backups by themselves, downloaded, and taken in from elsewhere."""

import shutil
import sqlite3

import pytest

from clothyard.core.errors import BadInput, Unkept
from clothyard.services.quotes.drafts import QuoteDocument, create_quote, list_quotes
from clothyard.services.workshop import backups
from clothyard.services.workshop.backup_plan import (
    BackupPlan,
    back_up_if_due,
    change_plan,
    read_plan,
)
from clothyard.store.shop import Shop
from tests.conftest import polos


@pytest.fixture
def on(monkeypatch):
    return lambda day: monkeypatch.setenv("CLOTHYARD_TODAY", day)


def test_a_shop_is_backed_up_when_it_is_due_and_old_ones_go(shop, tmp_path, on):
    away = tmp_path / "stick"
    away.mkdir()
    on("2026-05-01")
    by_hand = backups.make_backup(shop)
    assert not back_up_if_due(shop)  # without a plan never
    kept = change_plan(shop, BackupPlan(every_days=2, keep=2, folder=str(away)))
    assert (kept.last_on[:10], kept.next_on[:10], kept.trouble) == ("2026-05-01", "2026-05-03", "")
    for day in ("2026-05-02", "2026-05-03", "2026-05-04", "2026-05-05", "2026-05-09"):
        on(day)
        back_up_if_due(shop)
    assert sorted(path.name[:17] for path in away.iterdir()) == [
        "backup-2026-05-05",
        "backup-2026-05-09",
    ]
    here = backups.list_backups(shop)
    assert by_hand.name in {row.name for row in here}  # what was made by hand stays
    assert sorted(row.made_on[:10] for row in here) == ["2026-05-01", "2026-05-05", "2026-05-09"]


@pytest.mark.parametrize("folder", ["backups", "/no/such/folder", "{shop}", "{shop}/backups"])
def test_a_folder_that_is_no_good_is_refused(shop, folder):
    with pytest.raises(BadInput) as error:
        change_plan(shop, BackupPlan(every_days=1, folder=folder.format(shop=shop.folder)))
    assert error.value.where == "folder"
    assert error.value.remedy
    assert read_plan(shop).every_days == 0


def test_a_folder_that_went_is_told_and_the_backup_is_here_all_the_same(shop, tmp_path, on):
    away = tmp_path / "stick"
    away.mkdir()
    on("2026-05-01")
    change_plan(shop, BackupPlan(every_days=1, folder=str(away)))
    shutil.rmtree(away)
    on("2026-05-02")
    back_up_if_due(shop)
    assert "is no folder here" in read_plan(shop).trouble
    assert len(backups.list_backups(shop)) == 2


def test_a_backup_is_taken_to_another_machine(shop, tmp_path):
    create_quote(shop, QuoteDocument(customer="Ada", job=polos()))
    made = backups.find_backup(shop, backups.make_backup(shop).name)
    other = Shop(tmp_path / "other")
    row = backups.take_backup(other, [made.read_bytes()])
    assert list_quotes(other).total == 0  # nothing was gone back to
    backups.restore_backup(other, row.name)
    assert [quote.customer for quote in list_quotes(other).items] == ["Ada"]
    before = len(backups.list_backups(other))
    with pytest.raises(BadInput, match="no backup that can be gone back to"):
        backups.take_backup(other, [b"PK torn"])
    assert len(backups.list_backups(other)) == before
    other.close()


def test_by_the_routes(client, tmp_path):
    made = client.post("/api/v1/backups").json()
    data = client.get(f"/api/v1/backups/{made['name']}")
    assert data.headers["content-type"] == "application/zip"
    assert data.content[:2] == b"PK"
    assert (
        client.get(f"/api/v1/backups/{made['name']}", headers={"X-Costs": "hidden"}).status_code
        == 403
    )
    taken = client.post("/api/v1/backups/taken", files={"file": ("b.zip", data.content)})
    assert taken.status_code == 201
    assert taken.json()["name"].endswith("-from-elsewhere.zip")
    assert client.get("/api/v1/backups/..%2Fshop.sqlite3").status_code == 404
    plan = client.put("/api/v1/backup-plan", json={"every_days": 1, "keep": 3}).json()
    assert plan["next_on"] > plan["last_on"] > ""


def test_a_copy_that_did_not_come_is_tried_again_where_it_is_wanted_then(shop, tmp_path, on):
    away, other = tmp_path / "stick", tmp_path / "disk"
    away.mkdir()
    on("2026-05-01")
    change_plan(shop, BackupPlan(every_days=7, folder=str(away)))
    shutil.rmtree(away)
    on("2026-05-08")
    back_up_if_due(shop)
    [made] = [row.name for row in backups.list_backups(shop) if "05-08" in row.name]
    assert "no folder here" in read_plan(shop).trouble
    back_up_if_due(shop)  # the next look, minutes after
    assert "no folder here" in read_plan(shop).trouble
    other.mkdir()
    kept = change_plan(shop, BackupPlan(every_days=7, folder=str(other)))
    assert (kept.trouble, [path.name for path in other.iterdir()]) == ("", [made])
    assert not back_up_if_due(shop)
    away.mkdir()
    assert len(backups.list_backups(shop)) == 2  # none was made anew for it


def test_a_full_disk_while_backing_up_is_told_as_that(shop, monkeypatch):
    def full(*_, **__):
        error = sqlite3.OperationalError("database or disk is full")
        error.sqlite_errorname = "SQLITE_FULL"
        raise error

    monkeypatch.setattr(backups, "look_at", full)
    with pytest.raises(Unkept) as told:
        backups.make_backup(shop)
    assert told.value.code == "disk-full"
