"""Kills, damage, hostile values and disks that are truly full: nothing lost, no 5xx but told."""

import json
import os
import random
import shutil
import signal
import sqlite3
import subprocess
import sys
import time
from contextlib import closing

import pytest

from clothyard.core.errors import ClothyardError
from clothyard.demo.build import demo_shop
from clothyard.services.customer_page import outbox
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.store.disk import unkept
from clothyard.store.shop import DATABASE, Shop
from tests.conftest import polos
from tests.store.test_restore import customers, made

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
KILLS, ZIPS, DATABASES = (50, 60, 20) if SOAK else (2, 12, 5)

BEGIN = """
import sys
from pathlib import Path
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.store.shop import Shop
shop = Shop(Path(sys.argv[1]))
print("ready", flush=True)
while True:
    """
SENDER = (
    BEGIN
    + """view = quotes.create_quote(shop, quotes.QuoteDocument(
        customer="Killed", email="a@b.example", job=JOB))
    print(sending.send_quote(shop, view.id, seen=1).number, flush=True)
"""
).replace("JOB", repr(polos()))
BACKER = BEGIN + "print(backups.make_backup(shop).name, flush=True)\n"


def killed(script: str, folder, after_s: float) -> list[str]:
    """Run a script on a shop and kill it: what it had said by then."""
    child = subprocess.Popen(
        [sys.executable, "-c", script, str(folder)], stdout=subprocess.PIPE, text=True
    )
    child.stdout.readline()
    time.sleep(after_s)
    child.send_signal(signal.SIGKILL)
    said = child.stdout.read().splitlines()
    child.wait()
    child.stdout.close()
    return said


def test_killed_anywhere_in_a_sending_a_quote_is_sent_whole_or_not_at_all(tmp_path):
    folder, told = tmp_path / "shop", set()
    for n in range(KILLS):
        told |= set(killed(SENDER, folder, random.Random(n).uniform(0.3, 1.5)))
        shop = Shop(folder)
        rows = quotes.list_quotes(shop, limit=200).items
        while len(rows) < quotes.list_quotes(shop).total:
            rows += quotes.list_quotes(shop, limit=200, cursor=str(len(rows))).items
        sent = {row.number for row in rows if row.state == "sent"}
        assert told <= sent
        for row in rows[:30]:
            versions = sending.list_versions(shop, row.id)
            mail = [m for m in outbox.list_mail(shop, limit=200).items if row.number in m.id]
            assert (len(versions), len(mail)) == ((1, 1) if row.state == "sent" else (0, 0))
            for version in versions:
                assert [d.trouble for d in version.documents] == [""] * 6
        for message in outbox.list_mail(shop, limit=200).items:
            assert outbox.post_mail(shop, message.id).posted  # one that was cut off is posted now
        shop.close()
        assert backups.check_folder(folder) == []
    print(f"{KILLS} kills while sending: {len(told)} sent, none lost, none by halves")


def test_killed_anywhere_in_a_backup_each_that_is_there_is_a_good_one(tmp_path):
    folder = tmp_path / "shop"
    shop = Shop(folder)
    made(shop)
    sending.send_quote(shop, 1, seen=1)
    shop.close()
    for n in range(KILLS):
        killed(BACKER, folder, random.Random(n).uniform(0.02, 0.3))
    shop = Shop(folder)
    there = backups.list_backups(shop)
    assert there
    for row in random.Random(1).sample(there, min(len(there), 10)):
        backups.restore_backup(shop, row.name)
        assert customers(shop) == {"Orrin Hill"}
    shop.close()
    print(f"{KILLS} kills while backing up: {len(there)} backups")


@pytest.mark.skipif(not SOAK, reason="a sample shop takes seconds to build: under make soak")
def test_killed_anywhere_in_the_building_the_sample_shop_is_begun_anew(tmp_path):
    build = """
import sys
from pathlib import Path
from clothyard.demo.build import demo_shop
print("ready", flush=True)
demo_shop(Path(sys.argv[1]))
"""
    for n in range(KILLS):
        folder = tmp_path / str(n)
        killed(build, folder, random.Random(n).uniform(0.1, 7.0))
        shop = demo_shop(folder)
        assert quotes.list_quotes(shop).total == 22
        shop.close()
        assert backups.check_folder(folder) == []
        shutil.rmtree(folder)
    print(f"{KILLS} kills while the sample shop was built: each finished or begun anew")


def spoiled(data: bytes, how: random.Random) -> bytes:
    found = bytearray(data)
    kind = how.randrange(4)
    if kind == 0:
        return bytes(found[: how.randrange(len(found))])
    if kind == 1:
        start = how.randrange(len(found))
        found[start : start + 4096] = bytes(len(found[start : start + 4096]))
    elif kind == 2:
        for _ in range(how.randrange(1, 60)):
            found[how.randrange(len(found))] = how.randrange(256)
    else:
        start = how.randrange(len(found))
        del found[start : start + how.randrange(1, 3000)]
    return bytes(found)


def test_a_spoiled_backup_is_refused_or_whole(shop, tmp_path):
    made(shop)
    sending.send_quote(shop, 1, seen=1)
    backups.write_backup(shop, tmp_path / "good.zip")
    good, refused = (tmp_path / "good.zip").read_bytes(), 0
    for n in range(ZIPS):
        (tmp_path / "bad.zip").write_bytes(spoiled(good, random.Random(n)))
        try:
            backups.restore_from(shop, tmp_path / "bad.zip")
        except ClothyardError as error:
            refused += 1
            assert error.remedy
        assert customers(shop) == {"Orrin Hill"}
        assert backups.check_folder(shop.folder) == []
    assert refused > ZIPS / 2
    print(f"{ZIPS} spoiled backups: {refused} refused, the others whole")


def test_a_spoiled_database_is_told_or_still_right_and_goes_back(tmp_path):
    folder = tmp_path / "shop"
    shop = Shop(folder)
    for n in range(20):
        made(shop, f"Customer {n}")
    kept = folder / "backups" / backups.make_backup(shop).name
    shop.close()
    with closing(sqlite3.connect(folder / DATABASE)) as whole:
        whole.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    good, told = (folder / DATABASE).read_bytes(), 0
    for n in range(DATABASES):
        for ending in ("", "-wal", "-shm"):
            (folder / f"{DATABASE}{ending}").unlink(missing_ok=True)
        (folder / DATABASE).write_bytes(spoiled(good, random.Random(n)))
        try:
            bad = Shop(folder)
            try:
                quotes.list_quotes(bad, limit=200)
            finally:
                bad.close()
        except ClothyardError as error:
            told += 1
            assert error.remedy
        except Exception as error:
            assert unkept(error) is not None, error  # answered as 503, with what to do
            told += 1
        backups.restore_folder(folder, kept)
        back = Shop(folder)
        assert len(customers(back)) == 20
        back.close()
        assert backups.check_folder(folder) == []
    print(f"{DATABASES} spoiled databases: {told} told, all went back")


@pytest.fixture
def small_disk(tmp_path):
    """A disk of four megabytes."""
    at = tmp_path / "disk"
    at.mkdir()
    options = ["-t", "tmpfs", "-o", "size=4m", "tmpfs", str(at)]
    if (
        shutil.which("mount") is None
        or subprocess.run(["mount", *options], check=False, capture_output=True).returncode
    ):
        pytest.skip("no disk can be mounted here")
    yield at
    subprocess.run(["umount", "-l", str(at)], check=True)


def test_a_disk_that_is_truly_full(small_disk):
    shop = Shop(small_disk / "shop")
    ballast, full = small_disk / "ballast", 0
    for room_kb in range(0, 400, 20 if SOAK else 80):
        ballast.unlink(missing_ok=True)
        view = quotes.create_quote(
            shop, quotes.QuoteDocument(customer="Full", email="a@b.example", job=polos())
        )
        free = shutil.disk_usage(small_disk).free
        ballast.write_bytes(bytes(max(0, free - room_kb * 1024)))
        try:
            sending.send_quote(shop, view.id, seen=1)
        except Exception as error:
            full += 1
            told = unkept(error) or error
            assert getattr(told, "code", "") == "disk-full", repr(error)
            assert quotes.find_quote(shop, view.id).state == "draft"
            assert sending.list_versions(shop, view.id) == []
        ballast.unlink()
        quotes.delete_quote(shop, view.id)
        for path in (*(shop.folder / "documents").glob("??/*"), *shop.folder.glob("outbox/*")):
            path.unlink()  # room for the next
    assert full >= 3
    with closing(sqlite3.connect(shop.folder / DATABASE)) as kept:
        assert kept.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    shop.close()
    print(f"{full} sendings on a full disk: each told, none by halves")


HOSTILE = (
    r'"\ud83d"',
    '"a\\u0000b"',
    "1e999999999",
    "-1e-999999999",
    '"1e999999999"',
    "NaN",
    "Infinity",
    "[" * 300 + "1" + "]" * 300,
    "[" * 3000 + "1" + "]" * 3000,
    '"0.99999999"',
    "1" + "0" * 400,
    '{"\\ud83d": 1}',
    '"' + "x" * 300_000 + '"',
    "true",
    "null",
    "[]",
    "{}",
    "-1",
    '""',
    '[{"code": 5}]',
    '[{"code": ["x"], "line": {"a": 1}, "where": {"b": 2}, "reason": {}}]',
    '"2026W011"',
    '"; DROP TABLE quote"',
    '"<script>"',
    '"=1+1"',
    '"../../etc"',
)
PLACES = (
    "margin",
    "overruled",
    "tiers",
    "kits",
    "house",
    "on",
    "currency",
    "format",
    "lines",
    "lines.0.quantity",
    "lines.0.names",
    "lines.0.cells",
    "lines.0.goods",
    "lines.0.goods.class",
    "lines.0.goods.unit_cost",
    "lines.0.unit_price",
    "lines.0.placements",
    "lines.0.id",
    "lines.0.placements.0.design",
    "lines.0.placements.0.design.stitches",
    "lines.0.placements.0.methods",
    "lines.0.placements.0.band",
    "lines.0.placements.0.steps",
)

ALWAYS = (("POST", "/api/v1/quotes"), ("POST", "/api/v1/estimates"))


def bodies(value: str):
    """Bodies with a hostile value at each place of a quote, and of what other routes take."""
    for place in PLACES:
        job = polos()
        at, *_ = [job]
        *path, last = place.split(".")
        for part in path:
            at = at[int(part)] if part.isdigit() else at[part]
        at[last] = "@@"
        yield json.dumps({"customer": "H", "email": "a@b.example", "job": job}), "job"
    for name in ("customer", "email", "notes", "due_on", "valid_until", "job"):
        yield f'{{"{name}": "@@"}}', "quote"
    yield '{"value": "@@"}', "standard"
    for name in ("section", "like", "label", "values"):
        row = {"section": "blanks", "like": "", "label": "x", "values": {}} | {name: "@@"}
        yield json.dumps(row), "row"
    yield '{"text": "@@", "keep": true}', "list"
    yield '{"hours": "@@"}', "year"
    yield '"@@"', "any"


def test_hostile_values_on_every_route_are_refused_or_kept_and_read_again(client):
    chance = random.Random(5)
    put_or_post = [
        (method.upper(), path)
        for path, methods in client.get("/api/v1/openapi.json").json()["paths"].items()
        for method in methods
        if method in {"put", "post"} and "restore" not in path and "backups" not in path
    ]
    keys = ["price.margin", "shop.name", "blanks.x.prices", "tasks.check.label", "price.tiers"]
    sent = 0
    for value in HOSTILE if SOAK else chance.sample(HOSTILE, 6):
        for body, kind in bodies(value):
            if not SOAK and kind == "job" and chance.random() < 0.6:
                continue
            raw = body.replace('"@@"', value).encode()
            routes = put_or_post if SOAK or kind == "any" else chance.sample(put_or_post, 2)
            for method, path in [
                *routes,
                ("POST", "/api/v1/quotes"),
                ("POST", "/api/v1/estimates"),
            ]:
                at = path
                for name in ("quote_id", "version", "token", "mail_id", "name", "section", "row"):
                    at = at.replace(f"{{{name}}}", "1")
                at = at.replace("{key}", chance.choice(keys))
                headers = {"content-type": "application/json", "if-match": '"r1"'}
                answer = client.request(method, at, content=raw, headers=headers)
                sent += 1
                assert answer.status_code < 500, (method, at, raw[:200], answer.text)
        for read in ("/api/v1/quotes", "/api/v1/house", "/api/v1/standards", "/api/v1/outbox"):
            assert client.get(read).status_code == 200, value[:60]
    total = client.get("/api/v1/quotes").json()["total"]
    client.put("/api/v1/standards/rates.labour_per_h", json={"value": "17"})
    for quote_id in range(1, total + 1, 1 if SOAK else 4):
        for path in ("", "/versions"):
            seen = client.get(f"/api/v1/quotes/{quote_id}{path}")
            assert seen.status_code in {200, 404}, seen.text
        again = client.post(f"/api/v1/quotes/{quote_id}/copy", params={"pieces": 3})
        assert again.status_code < 500, again.text
    print(f"{sent} requests with hostile values: none answered 5xx; {total} quotes read again")
