"""Many writers at once, and killed while writing (short here, long under `make soak`)."""

import json
import os
import random
import signal
import sqlite3
import subprocess
import sys
import threading
import time
from pathlib import Path

import pytest

from clothyard.core.errors import Stale
from clothyard.services.quotes import drafts as quotes
from clothyard.store.shop import DATABASE, Shop

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
CLIENTS, STORM_S = (30, 60.0) if SOAK else (12, 2.0)
KILLS = 50 if SOAK else 4


def note(n: int) -> quotes.QuoteDocument:
    return quotes.QuoteDocument(customer="Storm", notes=str(n))


def test_a_storm_of_writers_loses_nothing(shop: Shop):
    """Each client adds one to the notes of one of five quotes, again when it was too late."""
    ids = [quotes.create_quote(shop, note(0)).id for _ in range(5)]
    done = [0] * CLIENTS
    failed: list[BaseException] = []
    end = time.monotonic() + STORM_S

    def client(n: int) -> None:
        chance = random.Random(n)
        try:
            while time.monotonic() < end:
                quote_id = chance.choice(ids)
                seen = quotes.find_quote(shop, quote_id)
                try:
                    more = note(int(seen.notes) + 1)
                    quotes.save_quote(shop, quote_id, more, seen=seen.revision)
                    done[n] += 1
                except Stale:
                    continue
        except BaseException as error:
            failed.append(error)

    threads = [threading.Thread(target=client, args=(n,)) for n in range(CLIENTS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failed == []
    counted = sum(int(quotes.find_quote(shop, quote_id).notes) for quote_id in ids)
    assert counted == sum(done) > CLIENTS
    print(f"{CLIENTS} clients, {STORM_S:g} s: {counted} writes kept, none lost")


WRITER = """
import sys
from pathlib import Path
from clothyard.services.quotes import drafts as quotes
from clothyard.store.shop import Shop

shop = Shop(Path(sys.argv[1]))
view = quotes.find_quote(shop, 1)
while True:
    document = quotes.QuoteDocument(customer="Killed", notes=str(int(view.notes) + 1))
    view = quotes.save_quote(shop, 1, document, seen=view.revision)
    print(view.notes, flush=True)
"""


@pytest.mark.parametrize("round_", range(KILLS))
def test_killed_while_writing(tmp_path: Path, round_: int):
    """SIGKILL at a random moment: opens clean, and every acknowledged write is there."""
    folder = tmp_path / "shop"
    shop = Shop(folder)
    quotes.create_quote(shop, note(0))
    shop.close()
    writer = subprocess.Popen(
        [sys.executable, "-c", WRITER, str(folder)], stdout=subprocess.PIPE, text=True
    )
    writer.stdout.readline()
    time.sleep(random.Random(round_).uniform(0.01, 0.4))
    writer.send_signal(signal.SIGKILL)
    told = [line.strip() for line in writer.stdout.read().split("\n") if line.strip()]
    writer.wait()
    writer.stdout.close()
    acknowledged = int(told[-1]) if told else 1
    with sqlite3.connect(folder / DATABASE) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
        [notes] = connection.execute("SELECT notes FROM quote WHERE id = 1").fetchone()
    connection.close()
    assert int(notes) in {acknowledged, acknowledged + 1}
    again = Shop(folder)
    view = quotes.find_quote(again, 1)
    assert view.revision == int(notes) + 1
    assert json.loads(json.dumps(view.job)) == view.job
    again.close()
