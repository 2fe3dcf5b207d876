"""The shop's folder: migrations, one writer, designs by content."""

import os
import sqlite3
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from clothyard.core.errors import BadInput
from clothyard.demo.build import STEPS, demo_shop
from clothyard.files.guarded import read_design
from clothyard.services.designs.library import keep_design, list_designs
from clothyard.services.quotes.drafts import QuoteDocument, create_quote, list_quotes
from clothyard.store import migrate
from clothyard.store.designs import find_design
from clothyard.store.engines import write_engine
from clothyard.store.lock import alone_in
from clothyard.store.models import Base
from clothyard.store.shop import Shop
from clothyard.store.standards import changed_standards
from tests.kept import set_standards

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))


def columns(connection):
    names = [r[0] for r in connection.execute("SELECT name FROM sqlite_master WHERE type='table'")]
    return {
        name: {row[1] for row in connection.execute(f"PRAGMA table_info({name})")}
        for name in names
        if name not in {"alembic_version", "sqlite_sequence"}
    }


def test_migrations_make_what_the_models_say(shop: Shop):
    with sqlite3.connect(shop.folder / "shop.sqlite3") as connection:
        made = columns(connection)
    assert made == {t.name: {c.name for c in t.columns} for t in Base.metadata.sorted_tables}


def test_pragmas_and_the_reader_cannot_write(shop: Shop):
    with shop.unit() as unit, unit.reading() as session:
        assert session.execute(text("PRAGMA journal_mode")).scalar() == "wal"
        assert session.execute(text("PRAGMA synchronous")).scalar() == 2
        assert session.execute(text("PRAGMA foreign_keys")).scalar() == 1
    with shop.reading() as session, pytest.raises(OperationalError, match="readonly"):
        session.execute(text("DELETE FROM standard_change"))


def test_what_is_kept_is_there_after_reopening(tmp_path: Path, crest_files):
    first = Shop(tmp_path / "s")
    set_standards(first, {"price.margin": "0.4"})
    kept = keep_design(first, crest_files["dst"], "../some\\where/crest.dst")
    first.close()
    again = Shop(tmp_path / "s")
    assert changed_standards(again) == {"price.margin": "0.4"}
    assert find_design(again, kept.sha256).stitches == kept.inspection.stitches
    assert [d.name for d in list_designs(again).items] == ["crest.dst"]
    assert again.blobs.read(kept.sha256) == crest_files["dst"]
    again.close()


def test_the_same_file_is_kept_once(shop: Shop, crest_files):
    one = keep_design(shop, crest_files["dst"], "a.dst")
    two = keep_design(shop, crest_files["dst"], "b.dst")
    assert one.sha256 == two.sha256
    assert [d.name for d in list_designs(shop).items] == ["b.dst"]


def test_a_failed_write_keeps_nothing(shop: Shop):
    def _fail():
        with shop.unit() as unit, unit.reading() as session:
            session.execute(text("INSERT INTO standard_change VALUES ('a', '1', 'now')"))
            raise RuntimeError

    with pytest.raises(RuntimeError):
        _fail()
    assert changed_standards(shop) == {}


def test_writers_queue_up(shop: Shop):
    def change(n):
        for i in range(10):
            set_standards(shop, {f"tasks.t{n}.seconds": str(i)})

    threads = [threading.Thread(target=change, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert changed_standards(shop) == {f"tasks.t{n}.seconds": "9" for n in range(8)}


@pytest.mark.parametrize("step", ["0001", "0002", "0003"])
def test_migrating_from_every_released_step_with_data(tmp_path: Path, step: str, crest_files):
    """A shop of that step, with standards and a design: all is there after, and a backup."""
    folder = tmp_path / "old"
    folder.mkdir()
    path = folder / "shop.sqlite3"
    engine = write_engine(path)
    migrate.command.upgrade(migrate.config_of(engine), step)
    _, facts = read_design(crest_files["dst"], "a.dst", sha256="a" * 64)
    with engine.begin() as connection:
        connection.execute(
            text("INSERT INTO standard_change VALUES ('price.margin', '\"0.4\"', '2026-01-01')")
        )
        connection.execute(
            text("INSERT INTO design_file VALUES (:s, 'a.dst', 9, :f, '2026-01-01')"),
            {"s": "a" * 64, "f": facts.model_dump_json()},
        )
    engine.dispose()
    shop = Shop(folder)
    assert changed_standards(shop) == {"price.margin": "0.4"}
    assert find_design(shop, "a" * 64).stitches == facts.stitches
    assert create_quote(shop, QuoteDocument()).number == "Q-0001"
    shop.close()
    newest = migrate.newest_step()
    with sqlite3.connect(folder / "backups" / f"before-{newest}.sqlite3") as backup:
        assert backup.execute("SELECT value FROM standard_change").fetchall() == [('"0.4"',)]
        assert backup.execute("SELECT version_num FROM alembic_version").fetchone() == (step,)
    Shop(folder).close()  # nothing more to do: no further backup
    assert len(list((folder / "backups").glob("*.sqlite3"))) == 1


def test_a_folder_that_cannot_be_used(tmp_path: Path):
    (tmp_path / "file").write_text("x")
    with pytest.raises(BadInput, match="cannot be used"):
        Shop(tmp_path / "file" / "shop")


def test_the_demo_keeps_edits_and_never_touches_another_folder(tmp_path: Path):
    steps: list[tuple[int, int]] = []
    shop = demo_shop(tmp_path / "demo", on_step=lambda done, of: steps.append((done, of)))
    assert steps == [(n, STEPS) for n in range(STEPS + 1)]  # told as it goes, to its end
    assert {d.name for d in list_designs(shop).items} == {
        "rowing-club-crest.pes",
        "crossed-oars.dst",
        "paw.exp",
        "anchor.vp3",
        "lighthouse.jef",
        "wave-border.xxx",
    }
    listed = list_quotes(shop).items
    assert len(listed) == 22
    assert {row.state for row in listed} == {"draft", "sent", "accepted", "declined", "expired"}
    assert {row.version for row in listed} == {0, 1, 2}
    set_standards(shop, {"price.margin": "0.5"})
    shop.close()
    assert changed_standards(demo_shop(tmp_path / "demo"))["price.margin"] == "0.5"
    assert "price.margin" not in changed_standards(demo_shop(tmp_path / "demo", reset=True))
    real = tmp_path / "real"
    Shop(real).close()
    with pytest.raises(BadInput, match="not the sample shop"):
        demo_shop(real, reset=True)
    assert (real / "shop.sqlite3").exists()


HELD = """
import sys, time
from pathlib import Path
from clothyard.store.lock import alone_in
with alone_in(Path(sys.argv[1]), what="at http://127.0.0.1:9"):
    print("ready", flush=True)
    time.sleep(60)
"""


def test_one_server_a_folder_and_the_lock_names_the_other(run, tmp_path: Path):
    held = subprocess.Popen(
        [sys.executable, "-c", HELD, str(tmp_path / "s")], stdout=subprocess.PIPE
    )
    held.stdout.readline()
    for command in (
        ("serve", "--shop", tmp_path / "s", "--port", 8699),
        ("restore", __file__, "--shop", tmp_path / "s"),
    ):
        code, _, said = run(*command)
        assert (code, f"in use by process {held.pid} at http://127.0.0.1:9" in said) == (2, True)
    held.kill()
    held.wait()
    held.stdout.close()
    with alone_in(tmp_path / "s"):  # free as soon as that one has ended
        pass


BUILT = """
import sys
from pathlib import Path
from clothyard.demo.build import demo_shop
from clothyard.store.lock import alone_in
print("ready", flush=True)
demo_shop(Path(sys.argv[1]))
"""


def test_a_sample_shop_whose_building_was_cut_off_is_begun_anew(tmp_path: Path):
    for n in range(50 if SOAK else 1):
        folder = tmp_path / f"demo{n}"
        child = subprocess.Popen([sys.executable, "-c", BUILT, str(folder)], stdout=subprocess.PIPE)
        child.stdout.readline()
        time.sleep(0.4 + n / 40)
        child.kill()
        child.wait()
        child.stdout.close()
        shop = demo_shop(folder)
        assert list_quotes(shop).total == 22
        shop.close()
