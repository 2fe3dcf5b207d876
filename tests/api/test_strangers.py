"""What comes from outside, in numbers: devices, hosts, links, documents, kills (short in CI)."""

import io
import json
import random
import signal
import statistics
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from itertools import cycle

import pytest
from PIL import Image
from starlette.testclient import TestClient

from clothyard.api.app import create_app
from clothyard.core.errors import ClothyardError
from clothyard.files.guarded import GuardedReader
from clothyard.services.customer_page.links import make_link
from clothyard.services.exchange.incoming import import_file
from clothyard.services.exchange.outgoing import export_order, export_quote, export_shop
from clothyard.services.house.standards import change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.store.shop import Shop
from tests.conftest import polos
from tests.core.random_jobs import SOAK
from tests.services.test_exchange import everything
from tests.services.test_hostile_devices import ON, ONCE, stranger
from tests.standin import served
from tests.walk import API, Walk

LOOPBACK = ("127.0.0.1", "localhost", "[::1]")
OTHERS = ("evil.example", "127.0.0.1.evil.example", "10.0.0.7", "localhost.evil.example", "", "é")


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-05")


def test_only_this_machine_and_this_page_are_answered(client):
    chance, tried = random.Random(8), {True: 0, False: 0}
    for _ in range(3000 if SOAK else 150):
        host, port = chance.choice(LOOPBACK + OTHERS), chance.choice(("", ":8642", ":9"))
        origin = chance.choice([None, *(f"http://{name}" for name in LOOPBACK + OTHERS)])
        origin = origin and origin + chance.choice(("", ":8642", ":9"))
        site = chance.choice((None, "same-origin", "same-site", "cross-site", "none"))
        headers = {"host": f"{host}{port}"} | ({"origin": origin} if origin else {})
        headers |= {"sec-fetch-site": site} if site else {}
        method = chance.choice(("GET", "POST", "DELETE"))
        at = f"{API}/quotes" if method != "DELETE" else f"{API}/quotes/999"
        raw = {name: value.encode() for name, value in headers.items()}
        answer = client.request(method, at, headers=raw, json={} if method == "POST" else None)
        here = host in LOOPBACK
        ours = origin in {None, f"http://{host}{port}"} and site in {None, "same-origin", "none"}
        allowed = here and (method == "GET" or ours)
        tried[allowed] += 1
        assert (answer.status_code not in {400, 403, 421}) == allowed, (method, headers)
    assert min(tried.values()) > 10


def posted(url, body):
    """Send a document and return the status of what is answered."""
    headers = {"content-type": "application/json"}
    request = urllib.request.Request(url, data=json.dumps(body).encode(), headers=headers)
    try:
        with urllib.request.urlopen(request, timeout=120) as answer:
            return answer.status if answer.read() else 0
    except urllib.error.HTTPError as error:
        return error.code


@pytest.mark.skipif(not SOAK, reason="what is timed is under make soak")
def test_strange_devices_do_not_hold_up_pricing(shop):
    modes = cycle([*ONCE, *ON])
    stop = threading.Event()

    def priced(address, found):
        for _ in range(8):
            begun = time.perf_counter()
            assert posted(f"{address}{API}/estimates", polos()) == 200
            found.append(time.perf_counter() - begun)

    def by_thirty(address):
        found = []
        threads = [threading.Thread(target=priced, args=(address, found)) for _ in range(30)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert len(found) == 240
        return found

    def bothers(address):
        while not stop.is_set():
            with stranger(next(modes)) as device:
                change_standard(shop, "devices.scale_address", device)
                assert posted(f"{address}{API}/scale/weigh", {}) < 500

    with served(create_app(shop)) as address:
        by_thirty(address)  # warm
        alone = by_thirty(address)
        others = [threading.Thread(target=bothers, args=(address,)) for _ in range(3)]
        for thread in others:
            thread.start()
        beside = by_thirty(address)
        stop.set()
        for thread in others:
            thread.join()
    ratio = max(beside) / max(alone)
    print(f"30 clients beside strange devices: the slowest {ratio:.1f} x alone")
    assert ratio < 3


@pytest.mark.skipif(not SOAK, reason="what is timed is under make soak")
def test_how_long_a_link_takes_tells_nothing(client, shop):
    draft = quotes.create_quote(shop, quotes.QuoteDocument(customer="Ada", job=polos()))
    sending.send_quote(shop, draft.id, seen=1)
    token = make_link(shop, draft.id, served_at="http://127.0.0.1/").path.removeprefix("/q/")
    almost, other = token[:-1] + ("a" if token[-1] != "a" else "b"), "z" * len(token)
    spent = {almost: [], other: []}
    for n in range(800):
        asked = (almost, other)[n % 2]
        begun = time.perf_counter()
        assert client.get(f"{API}/customer/{asked}").status_code == 404
        spent[asked].append(time.perf_counter() - begun)
    a, b = (statistics.median(found[50:]) for found in spent.values())
    print(f"a token that is almost right takes {a / b:.2f} x one that is not")
    assert 0.8 < a / b < 1.25


HOSTILE = (
    None,
    "",
    -1,
    1e308,
    "NaN",
    "1e999999",
    [],
    {},
    "2026-99-99",
    "\ud83d",
    "x" * 70_000,
    [[]],
)


def spoiled(document, chance):
    """A document with one of its values spoiled, a key too many or one too few."""
    found = json.loads(document)
    at = found
    while True:
        keys = list(at) if isinstance(at, dict) else list(range(len(at)))
        if not keys:
            break
        key = chance.choice(keys)
        if isinstance(at[key], dict | list) and at[key] and chance.random() < 0.85:
            at = at[key]
            continue
        how = chance.randrange(4)
        if how == 0 and isinstance(at, dict):
            del at[key]
        elif how == 1 and isinstance(at, dict):
            at["more"] = 1
        elif how == 2 and isinstance(at, list):
            at.append(at[key])
        else:
            at[key] = chance.choice(HOSTILE)
        break
    return json.dumps(found).encode()


def test_spoiled_documents_are_refused_whole_or_every_page_opens(there, shop):
    client = TestClient(
        create_app(shop), base_url="http://127.0.0.1", raise_server_exceptions=False
    )
    log = TestClient(create_app(there), base_url="http://127.0.0.1")
    documents = {
        "order": export_order(there, 13),
        "quote": export_quote(there, 9),
        "shop": export_shop(there),
        "stock": log.get(f"{API}/stock-documents/stock.json").content,
        "log": log.get(f"{API}/log-documents/log.json").content,
    }
    taken = 0
    for n in range(60 if SOAK else 2):
        for kind, document in documents.items():
            before = everything(shop)
            try:
                import_file(shop, spoiled(document, random.Random(f"{kind}{n}")), where=kind)
                taken += 1
            except ClothyardError as error:
                assert error.message
                assert everything(shop) == before, (kind, n)
        if SOAK and n % 10 == 0:
            assert Walk(shop, client).every(quick=True).shut == [], n
    assert Walk(shop, client).every(quick=True).shut == []
    print(f"{5 * (60 if SOAK else 2)} spoiled documents: {taken} taken, the others refused whole")


def test_spoiled_calendars_and_photos_are_told(tmp_path):
    calendar = (
        b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:x\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20260506"
        b"\r\nRRULE:FREQ=WEEKLY;COUNT=9\r\nSUMMARY:Off\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
    )
    photo = io.BytesIO()
    Image.effect_noise((300, 200), 60).convert("RGB").save(photo, "jpeg")
    reader, read = GuardedReader(3.0), 0
    for n in range(60 if SOAK else 4):
        chance = random.Random(n)
        for data, parse in ((calendar, "days"), (photo.getvalue(), "photo")):
            bad = bytearray(data)
            for _ in range(chance.randrange(1, 20)):
                bad[chance.randrange(len(bad))] = chance.randrange(256)
            asked = {"from_day": "2026-05-04"} if parse == "days" else {}
            try:
                getattr(reader, parse)(bytes(bad[: chance.randrange(1, len(bad) + 1)]), **asked)
                read += 1
            except ClothyardError as error:
                assert error.message
    reader.close()
    print(f"spoiled calendars and photos: {read} read, the others told")


BRING = """
import sys
from pathlib import Path
from clothyard.services.exchange.incoming import import_file
from clothyard.store.shop import Shop
shop = Shop(Path(sys.argv[1]))
print("ready", flush=True)
import_file(shop, Path(sys.argv[2]).read_bytes(), where="x")
"""


@pytest.mark.skipif(not SOAK, reason="kills by the dozen are under make soak")
def test_killed_anywhere_a_shop_comes_in_whole_or_not_at_all(there, tmp_path):
    document = tmp_path / "shop.json"
    document.write_bytes(export_shop(there))
    came = 0
    for n in range(50):
        folder = tmp_path / str(n)
        Shop(folder).close()
        asked = [sys.executable, "-c", BRING, str(folder), str(document)]
        with subprocess.Popen(asked, stdout=subprocess.PIPE, text=True) as child:
            child.stdout.readline()
            time.sleep(random.Random(n).uniform(0.1, 5.0))
            child.send_signal(signal.SIGKILL)
        shop = Shop(folder)
        counts = [len(rows) for rows in (everything(shop)[t] for t in ("quote", "log_row"))]
        assert counts in ([0, 0], [6, 1]), n
        came += counts[0] > 0
        shop.close()
    print(f"50 kills while a shop came in: {came} whole, {50 - came} not at all")
