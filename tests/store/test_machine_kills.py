"""Server, machine and scale killed at any moment: no event is lost, none is kept twice."""

import json
import os
import random
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request

import pytest

from clothyard.services.designs.library import keep_design
from clothyard.services.house.standards import change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.store.log import list_events
from clothyard.store.shop import Shop
from tests.conftest import polos
from tests.standin import free_port

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
KILLS, DEVICE_KILLS = (50, 50) if SOAK else (2, 1)
RUN = "from clothyard.cli import main; main()"


def spawned(*arguments):
    asked = [sys.executable, "-c", RUN, *arguments]
    return subprocess.Popen(asked, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)


def answers(url):
    try:
        with urllib.request.urlopen(url, timeout=2) as answer:
            return json.loads(answer.read())
    except (urllib.error.URLError, OSError, ValueError):
        return None


def awaited(url):
    for _ in range(300):
        if (found := answers(url)) is not None:
            return found
        time.sleep(0.1)
    raise AssertionError(f"{url} never answered")


def posted(url, body):
    request = urllib.request.Request(
        url, data=json.dumps(body).encode(), headers={"content-type": "application/json"}
    )
    with urllib.request.urlopen(request, timeout=10) as answer:
        return json.loads(answer.read())


@pytest.fixture
def order(tmp_path, crest_files):
    """A shop with an order, closed again: (folder, order)."""
    shop = Shop(tmp_path / "shop")
    sha256 = keep_design(shop, crest_files["dst"], "crest.dst").sha256
    job = polos(line__quantity=6, placement__design={"sha256": sha256, "repeat": True})
    head = {"customer": "Orrin Hill Choir", "due_on": "2099-06-01"}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    made = sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)
    change_standard(shop, "machines.compact-10.address", "http://127.0.0.1:1")
    shop.close()
    return tmp_path / "shop", made.id


class Page:
    """What the page at the machine does with its events: keeps them until the server has them."""

    def __init__(self, url):
        self.url, self.waiting, self.written = url, [], []

    def press(self, n):
        event = {
            "id": f"event-{n:06d}",
            "kind": "broke",
            "at": f"2026-05-04T09:{n // 60 % 60:02d}:{n % 60:02d}Z",
        }
        self.waiting.append(event)
        self.written.append(event["id"])

    def flush(self):
        batch = self.waiting[:20]
        if not batch:
            return
        try:
            posted(self.url, {"events": batch})
        except (urllib.error.URLError, OSError, ValueError):
            return  # sent or not: it is asked again
        gone = {event["id"] for event in batch}
        self.waiting = [event for event in self.waiting if event["id"] not in gone]


def test_events_survive_a_server_that_is_killed(order):
    folder, order_id = order
    port, chance = free_port(), random.Random(18)
    base = f"http://127.0.0.1:{port}/api/v1"
    server = spawned("serve", "--shop", str(folder), "--port", str(port))
    try:
        [row] = awaited(f"{base}/orders/{order_id}/passes")
        page = Page(f"{base}/orders/{order_id}/passes/{row['pass_id']}/events")
        n = 0
        for _ in range(KILLS):
            until = time.monotonic() + chance.uniform(0.05, 1.2)
            while time.monotonic() < until:
                page.press(n := n + 1)
                page.flush()
            server.send_signal(signal.SIGKILL)
            server.wait(10)
            for _ in range(3):
                page.press(n := n + 1)
                page.flush()  # nobody is there
            server = spawned("serve", "--shop", str(folder), "--port", str(port))
            awaited(f"{base}/about")
        while page.waiting:
            page.flush()
        found = answers(page.url.removesuffix("/events"))
        assert found["breaks"] == len(page.written) == n
    finally:
        server.kill()
        server.wait(10)
    shop = Shop(folder)
    assert [event.id for event in list_events(shop, order_id)] == page.written
    shop.close()


def test_a_device_that_is_killed_is_told_and_comes_back(order):
    folder, order_id = order
    server_port, ports, chance = free_port(), {}, random.Random(9)
    shop = Shop(folder)
    for what, key in (
        ("machine", "machines.compact-10.address"),
        ("scale", "devices.scale_address"),
    ):
        ports[what] = str(free_port())
        change_standard(shop, key, f"http://127.0.0.1:{ports[what]}")
    shop.close()
    base = f"http://127.0.0.1:{server_port}/api/v1"
    running = {"server": spawned("serve", "--shop", str(folder), "--port", str(server_port))}
    for what, port in ports.items():
        running[what] = spawned(what, "--port", port)
    try:
        [row] = awaited(f"{base}/orders/{order_id}/passes")
        at = f"{base}/orders/{order_id}/passes/{row['pass_id']}/machine"
        epochs = set()
        for _ in range(DEVICE_KILLS):
            for port in ports.values():
                awaited(f"http://127.0.0.1:{port}/")
            now = answers(at)
            assert (now["away"], now["state"]["state"]) == ("", "idle")
            epochs.add(now["state"]["epoch"])
            posted(f"{at}/design", {})
            posted(f"{at}/start", {"piece": "l1-1"})
            assert posted(f"{base}/scale/weigh", {})["grams"] >= 0
            time.sleep(chance.uniform(0, 0.5))
            for what in ports:
                running[what].send_signal(signal.SIGKILL)
                running[what].wait(10)
            assert answers(at)["away"].startswith("it does not answer")
            with pytest.raises(urllib.error.HTTPError):
                posted(f"{base}/scale/weigh", {})
            for what, port in ports.items():
                running[what] = spawned(what, "--port", port)
        awaited(f"http://127.0.0.1:{ports['machine']}/")
        epochs.add(answers(at)["state"]["epoch"])
        assert len(epochs) == DEVICE_KILLS + 1  # each time another: nothing is mixed up
    finally:
        for process in running.values():
            process.kill()
            process.wait(10)
