"""Devices are strangers: they drip, lie, redirect, speak no HTTP; each is told, in bounded time."""

import json
import socket
import threading
import time
from contextlib import contextmanager

import pytest

from clothyard.ports import client as bounded
from clothyard.ports.machine import HttpMachine, MachineError
from clothyard.ports.scale import HttpScale, ScaleError
from clothyard.ports.supplier import Asked, AskedRow, HttpSupplier, SupplierError
from clothyard.services.house.standards import change_standard
from tests.conftest import POLOS
from tests.services.test_log import API

DEADLINE_S = 0.6
OK = b"HTTP/1.1 200 OK\r\nContent-Type: application/json\r\n"
ASKED = Asked(
    number="P-0001",
    supplier="x",
    ordered_on="2026-05-04",
    days=2,
    rows=[AskedRow(ref="1", item="thread|a|b", name="Thread", count=1, price="3.00")],
)


def whole(body: bytes, head: bytes = OK) -> bytes:
    return head + b"Content-Length: %d\r\n\r\n" % len(body) + body


def supplied(**changes) -> bytes:
    row = {
        "ref": "1",
        "answer": "confirmed",
        "count": 1,
        "expected_on": "2026-05-06",
        "price": "3.00",
        "note": "",
    }
    return whole(
        json.dumps({"number": "P-0001", "rows": [row]} | {"rows": [row | changes]}).encode()
    )


ONCE = {
    "nothing": b"",
    "no HTTP": b"\x00\x01\x02 hello\r\n\r\n",
    "a bad status": b"HTTP/1.1 abc\r\n\r\n",
    "a status beyond": b"HTTP/1.1 99999 x\r\n\r\n",
    "half a head": b"HTTP/1.1 200 OK\r\nContent-Le",
    "chunks that lie": OK + b"Transfer-Encoding: chunked\r\n\r\nZZZ\r\n{}",
    "a chunk cut off": OK + b"Transfer-Encoding: chunked\r\n\r\nfff\r\n{}",
    "less than it says": OK + b"Content-Length: 999\r\n\r\n{}",
    "a length below nothing": OK + b"Content-Length: -5\r\n\r\n{}",
    "many heads": b"HTTP/1.1 200 OK\r\n" + b"X: y\r\n" * 5000 + b"\r\n{}",
    "one long head": b"HTTP/1.1 200 OK\r\nX: " + b"y" * 200_000 + b"\r\n\r\n{}",
    "deep": whole(b"[" * 100_000 + b"]" * 100_000),
    "half a character": whole(b'{"protocol": "\\ud83d"}'),
    "no number": whole(b'{"grams": NaN, "resolution_g": 1, "tare_g": 0}'),
    "beyond numbers": whole(b'{"grams": 1e999, "resolution_g": 1, "tare_g": 0}'),
    "a list": whole(b"[1, 2]"),
    "text": whole(b"<html>hello</html>"),
    "an older protocol": whole(b'{"protocol": "clothyard-scale/0", "grams": 1}'),
    "elsewhere": whole(b"", b"HTTP/1.1 302 Found\r\nLocation: http://127.0.0.1:1/\r\n"),
    "its own fault": whole(b"oops", b"HTTP/1.1 500 No\r\n"),
    "another order": supplied(ref="9"),
    "a day that is none": supplied(expected_on="2026-99-99"),
    "more than there are": supplied(count=10**12),
}


def drips(peer: socket.socket) -> None:
    for byte in OK * 9:
        peer.sendall(bytes([byte]))
        time.sleep(0.05)


def floods(peer: socket.socket) -> None:
    peer.sendall(OK + b"\r\n")
    while True:
        peer.sendall(b" " * 65_536)


def waits(peer: socket.socket) -> None:
    time.sleep(30)


ON = {"drips": drips, "floods": floods, "waits": waits}


@contextmanager
def stranger(mode: str):
    """A device that answers every call in one bad way: its address."""
    server = socket.create_server(("127.0.0.1", 0))

    def answer(peer: socket.socket) -> None:
        with peer:
            try:
                peer.recv(65_536)
                if mode in ON:
                    ON[mode](peer)
                else:
                    peer.sendall(ONCE[mode])
            except OSError:
                return

    def serve() -> None:
        while True:
            try:
                peer, _ = server.accept()
            except OSError:
                return
            threading.Thread(target=answer, args=(peer,), daemon=True).start()

    threading.Thread(target=serve, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.getsockname()[1]}"
    finally:
        server.close()


@pytest.fixture(autouse=True)
def _short(monkeypatch):
    monkeypatch.setattr(bounded, "DEADLINE_S", DEADLINE_S)


@pytest.mark.parametrize("mode", [*ONCE, *ON])
def test_whatever_a_device_answers_is_told_in_bounded_time(mode):
    with stranger(mode) as address:
        start = time.monotonic()
        with pytest.raises(ScaleError) as scale:
            HttpScale(address).weigh()
        with pytest.raises(MachineError) as machine:
            HttpMachine(address).state()
        with pytest.raises(SupplierError) as supplier:
            HttpSupplier(address).order(ASKED)
        assert time.monotonic() - start < 3 * DEADLINE_S + 5
        for told in (scale, machine, supplier):
            assert 10 < len(str(told.value)) < 200


def test_pricing_goes_on_beside_devices_that_drip(client, shop):
    """Eight who weigh at a scale that never answers hold no turn of those who price."""
    plain = {"job": POLOS}
    with stranger("waits") as address:
        change_standard(shop, "devices.scale_address", address)
        codes: list[int] = []
        asked = [
            threading.Thread(
                target=lambda: codes.append(
                    client.post(f"{API}/scale/weigh", json={"needle": None}).status_code
                )
            )
            for _ in range(8)
        ]
        for thread in asked:
            thread.start()
        priced = [client.post(f"{API}/estimates", json=plain["job"]).status_code for _ in range(5)]
        waiting = [thread for thread in asked if thread.is_alive()]
        for thread in asked:
            thread.join(30)
    assert priced == [200] * 5
    assert waiting  # they were still being asked when the last price was there
    assert set(codes) == {409}
