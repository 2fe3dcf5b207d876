"""The protocols of machine and scale, as docs/formats.md has them.

Another implementation is held against them with CLOTHYARD_MACHINE or CLOTHYARD_SCALE set to its
address: `CLOTHYARD_MACHINE=http://… python -m pytest tests/services/test_machine_protocol.py`.
"""

import json
import os
import time
import urllib.error
import urllib.request
from contextlib import nullcontext

import pytest

from clothyard.ports.machine import MachineEvent, MachineState
from clothyard.ports.scale import Weight
from clothyard.standins.machine import SimulatedMachine, machine_app
from clothyard.standins.scale import SimulatedScale, scale_app
from tests.standin import served


def asked(address, method, path, body=None, kind="application/json"):
    """(status, document)."""
    data = body if isinstance(body, bytes) else None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(
        f"{address}{path}", data=data, headers={"content-type": kind}, method=method
    )
    try:
        with urllib.request.urlopen(request, timeout=10) as answer:
            return answer.status, json.loads(answer.read())
    except urllib.error.HTTPError as error:
        return error.code, json.loads(error.read())


@pytest.fixture(scope="module")
def machine():
    known = os.environ.get("CLOTHYARD_MACHINE")
    simulated = SimulatedMachine(7)
    simulated.times = 500
    with nullcontext(known) if known else served(machine_app(simulated)) as address:
        yield address


@pytest.fixture(scope="module")
def scale():
    known = os.environ.get("CLOTHYARD_SCALE")
    with nullcontext(known) if known else served(scale_app(SimulatedScale(7))) as address:
        yield address


def sent(machine, crest_files):
    data = crest_files["dst"]
    status, taken = asked(
        machine, "PUT", "/design?name=crest.dst", data, "application/octet-stream"
    )
    assert status == 200
    return taken


def sewn(machine):
    """Serve every stop until the run has ended."""
    for _ in range(2000):
        state = MachineState.model_validate(asked(machine, "GET", "/state")[1])
        if state.state == "ended":
            return state
        if state.state == "stopped":
            asked(machine, "POST", "/go")
        time.sleep(0.02)
    raise AssertionError("it never ended")


def told(machine, after=0):
    """The events so far: read until one of its own answers comes twice."""
    wanted = asked(machine, "GET", "/state")[1]["n"]
    found = []
    with urllib.request.urlopen(f"{machine}/events?after={after}", timeout=10) as lines:
        assert lines.headers["content-type"].startswith("text/event-stream")
        for line in lines:
            if line.startswith(b"data: "):
                found.append(MachineEvent.model_validate_json(line[6:]))
                if found[-1].n >= wanted:
                    return found
    return found


def test_it_says_what_it_is(machine):
    status, state = asked(machine, "GET", "/")
    assert status == 200
    assert MachineState.model_validate(state).protocol == "clothyard-machine/1"


def test_a_design_is_taken_and_its_needles_are_checked(machine, crest_files):
    taken = sent(machine, crest_files)
    assert len(taken["sha256"]) == 64
    state = asked(machine, "GET", "/state")[1]
    assert (state["sha256"], len(state["needles"])) == (taken["sha256"], taken["blocks"])
    right = list(range(1, taken["blocks"] + 1))
    assert asked(machine, "PUT", "/needles", {"needles": right})[0] == 200
    assert asked(machine, "GET", "/state")[1]["needles"] == right
    for wrong in ([1], [0] * taken["blocks"], [99] * taken["blocks"]):
        status, answer = asked(machine, "PUT", "/needles", {"needles": wrong})
        assert (status, answer["code"]) == (409, "needles")
    status, _ = asked(
        machine, "PUT", "/design?name=x.dst", b"no design", "application/octet-stream"
    )
    assert status == 422
    assert asked(machine, "GET", "/state")[1]["sha256"] == taken["sha256"]  # what it had stays


def test_a_run_is_begun_followed_and_ends_with_its_times(machine, crest_files):
    sent(machine, crest_files)
    before = asked(machine, "GET", "/state")[1]["n"]
    assert asked(machine, "POST", "/start", {"run": "1:l1.p1.run:l1-1:1"})[0] == 200
    status, busy = asked(machine, "POST", "/start", {"run": "another"})
    assert (status, busy["code"]) == (409, "busy")
    end = sewn(machine)
    assert (end.run, end.stitch) == ("1:l1.p1.run:l1-1:1", end.of)
    events = told(machine, before)
    assert [e.n for e in events] == list(range(before + 1, before + 1 + len(events)))
    assert len({e.epoch for e in events}) == 1
    mine = [e for e in events if e.run == end.run]
    assert (mine[0].kind, mine[-1].kind) == ("begun", "end")
    stitches = [e.stitch for e in mine]
    assert stitches == sorted(stitches)
    assert 0 < mine[-1].data["needle_s"] <= mine[-1].data["machine_s"]
    assert told(machine, events[-1].n - 2) == events[-2:]  # what was missed is told again


def test_stop_go_and_what_cannot_be(machine, crest_files):
    sent(machine, crest_files)
    assert asked(machine, "POST", "/go")[1]["code"] == "not-stopped"
    assert asked(machine, "POST", "/stop")[1]["code"] == "not-sewing"
    asked(machine, "POST", "/speed", {"times": 1})
    asked(machine, "POST", "/start", {"run": "stopped"})
    assert asked(machine, "POST", "/stop")[1]["state"] == "stopped"
    assert asked(machine, "POST", "/clear")[1]["state"] == "idle"
    asked(machine, "POST", "/speed", {"times": 500})


def test_a_scale_shows_grams_and_takes_tare(scale):
    status, shown = asked(scale, "GET", "/weight")
    assert status == 200
    weight = Weight.model_validate(shown)
    assert weight.protocol == "clothyard-scale/1"
    assert weight.resolution_g > 0
    if not os.environ.get("CLOTHYARD_SCALE"):
        asked(scale, "POST", "/put", {"grams": 400})
        assert asked(scale, "GET", "/weight")[1]["grams"] == pytest.approx(400, abs=1)
    asked(scale, "POST", "/tare")
    assert abs(asked(scale, "GET", "/weight")[1]["grams"]) < 1
