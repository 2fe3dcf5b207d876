"""Heavy work waits its turn, is refused beyond a queue, and never holds up a list."""

import asyncio
import io
import threading
import time
from concurrent.futures import ThreadPoolExecutor

import pytest

from clothyard.api import turns
from clothyard.core.errors import BadInput, Busy
from clothyard.services.designs import library as designs
from clothyard.services.quotes import drafts as quotes
from tests.conftest import polos
from tests.services.test_quotes import made


def test_turns_are_given_in_order_and_refused_beyond_the_queue():
    taken = []

    async def work(turn, n):
        async for _ in turn():
            taken.append(n)
            await asyncio.sleep(0)
            if n == 0:
                await asyncio.sleep(0.01)

    async def run():
        turn = turns.Turns(1, 3, what="jobs are being priced")
        jobs = [asyncio.create_task(work(turn, n)) for n in range(6)]
        return await asyncio.gather(*jobs, return_exceptions=True)

    found = asyncio.run(run())
    assert taken == [0, 1, 2, 3]
    assert [type(each) for each in found] == [type(None)] * 4 + [Busy] * 2
    assert found[-1].after_s > 0


def test_a_list_is_answered_while_files_are_read_and_too_many_are_told_when(
    client, shop, monkeypatch, crest_files
):
    made(shop)
    going = threading.Event()

    def slow(*_args, **_options):
        going.wait(20)
        raise BadInput("let go by the test.", where="a.dst", remedy="None.")

    monkeypatch.setattr(designs, "read_design", slow)
    with ThreadPoolExecutor(30) as pool:
        file = crest_files["dst"]
        uploads = [
            pool.submit(client.post, "/api/v1/designs", files={"file": ("a.dst", io.BytesIO(file))})
            for _ in range(30)
        ]
        answers = []
        while len(answers) < 10:  # those beyond the queue are answered at once
            answers = [each.result() for each in uploads if each.done()]
            time.sleep(0.01)
        assert {each.status_code for each in answers} == {429}
        assert int(answers[0].headers["retry-after"]) > 0
        assert answers[0].json()["code"] == "busy"
        assert client.get("/api/v1/quotes").json()["total"] == 1
        priced = client.post("/api/v1/estimates", json=polos())
        assert priced.status_code == 200
        going.set()
    assert quotes.list_quotes(shop).total == 1


@pytest.mark.parametrize(
    "job",
    [
        polos(
            design__width_mm=1,
            design__height_mm=1,
            design__stitches=5,
            design__colours=1,
            design__trims=0,
            placement__band={"length_mm": 100_000, "gap_mm": 0},
        ),
        polos(placement__design={"text": "W" * 500, "height_mm": 500}),
        polos(
            line__quantity=5000,
            line__names=["x" * 200] * 5000,
            placement__design={"text": "{name}", "height_mm": 10},
        ),
        {
            "lines": [polos()["lines"][0] | {"placements": polos()["lines"][0]["placements"] * 12}]
            * 200
        },
    ],
)
def test_more_work_than_can_be_waited_for_is_refused_with_its_place(client, job):
    answer = client.post("/api/v1/estimates", json=job)
    assert answer.status_code == 422
    assert "is the most" in answer.json()["detail"]
    assert answer.json()["where"]
    assert answer.json()["remedy"]


def test_spoilage_of_very_many_hoopings_is_capped_and_told(client):
    split = polos(line__quantity=500, placement__split={"columns": 100, "rows": 100})
    found = client.post("/api/v1/estimates", json=split).json()
    [told] = [a for a in found["lines"][0]["advice"] if a["code"] == "spoil-most"]
    assert "50% is counted" in told["message"]
    [working] = [
        w
        for w in client.post("/api/v1/estimates?working=full", json=split).json()["lines"][0][
            "working"
        ]
        if w["id"] == "spoil"
    ]
    assert working["value"] == "0.5"


def test_who_goes_away_in_the_midst_leaves_no_traceback(client, caplog):
    """Half a body, then the line is cut: nothing is answered, nothing is complained of."""
    sent = []
    scope = {
        "type": "http",
        "method": "POST",
        "path": "/api/v1/estimates",
        "query_string": b"",
        "raw_path": b"/api/v1/estimates",
        "http_version": "1.1",
        "scheme": "http",
        "headers": [(b"host", b"127.0.0.1:8642"), (b"content-type", b"application/json")],
    }
    steps = iter(
        [
            {"type": "http.request", "body": b'{"lines"', "more_body": True},
            {"type": "http.disconnect"},
        ]
    )

    async def receive():
        return next(steps, {"type": "http.disconnect"})

    async def send(message):
        sent.append(message)

    client.portal.call(client.app, scope, receive, send)
    assert [record for record in caplog.records if record.levelname == "ERROR"] == []
    assert client.get("/api/v1/quotes").status_code == 200


def test_a_small_file_of_very_many_blocks_is_refused(client):
    """300 kB that are nothing but a stitch and a change of colour, 100,000 times."""
    body = b"\x01\x00\x03\x00\x00\xc3\x02\x00\x03\x00\x00\xc3" * 50_000
    data = b"LA:blocks".ljust(512) + body + b"\x00\x00\xf3"
    answer = client.post("/api/v1/designs", files={"file": ("a.dst", data)})
    assert answer.status_code == 422
    assert "colour blocks; 1,000 is the most" in answer.json()["detail"]
