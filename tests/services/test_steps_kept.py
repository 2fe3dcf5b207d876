"""Patches from a file's own blocks, steps remembered with a design, starting points over HTTP."""

import io

import pystitch
import pytest

from clothyard.demo.stitching import ring, satin, stitch_file
from tests.conftest import polos

URL = "/api/v1/quotes"


def leaf() -> bytes:
    """A round patch: placement line, tack-down, satin edge; 60 mm across."""
    line = ring(0, 0, 30)
    blocks = [("#20262e", [line]), ("#c9972b", [line]), ("#2c6740", [satin(line, 3)])]
    return stitch_file(blocks, "vp3")


def stopping() -> bytes:
    """Two rings in two colours; the second stops half-way for a patch."""
    pattern = pystitch.EmbPattern()
    for colour, stops in ((0x20262E, False), (0x2C6740, True)):
        pattern.add_thread({"color": colour})
        for n, (x, y) in enumerate(ring(0, 0, 20)):
            pattern.add_stitch_absolute(pystitch.STITCH, round(x * 10), round(y * 10))
            if stops and n == 36:
                pattern.stop()
        if not stops:
            pattern.color_change()
    pattern.end()
    stream = io.BytesIO()
    pystitch.write_pes(pattern, stream)
    return stream.getvalue()


def test_a_stop_of_the_file_lies_in_its_block_and_is_served_there(client):
    kept = client.post("/api/v1/designs", files={"file": ("stop.pes", stopping())}).json()
    assert kept["inspection"]["stops"] == 1
    steps = [
        {"do": "trim", "at_stop": 1, "outline_mm": 100},
        {"do": "lay", "after_block": 1, "sheet": "fabric", "per": "hooping"},
    ]
    job = polos(placement__design={"sha256": kept["sha256"]}, placement__steps=steps)
    place = client.post("/api/v1/estimates", json=job).json()["lines"][0]["places"][0]
    assert place["stop_at"] == [1.5]
    assert [(s["step"], s["at"], s["when"]) for s in place["steps"]] == [
        (1, 1, "after block 1"),
        (0, 1.5, "at stop 1"),
    ]
    bare = polos(placement__design={"sha256": kept["sha256"]})
    minutes = client.post("/api/v1/estimates", json=bare).json()["lines"][0]["minutes"]
    assert any(m["label"] == "Stop" for m in minutes)  # nobody said what it is for


@pytest.fixture
def sha256(client):
    kept = client.post("/api/v1/designs", files={"file": ("leaf.vp3", leaf())}).json()
    assert kept["steps"] == []
    return kept["sha256"]


def test_blocks_are_outlined(client, sha256):
    """A circle of 60 mm: 188.5 round; its satin edge 3 mm wide ends 31.5 from the middle."""
    found = client.get(f"/api/v1/designs/{sha256}/outlines").json()
    assert [block["block"] for block in found] == [1, 2, 3]
    line, tack, edge = found
    assert (line["width_mm"], tack["height_mm"]) == (pytest.approx(60, abs=0.3),) * 2
    assert tack["length_mm"] == pytest.approx(188.5, abs=2)
    assert edge["length_mm"] == pytest.approx(197.9, abs=3)
    assert edge["x_mm"] == pytest.approx(0, abs=0.01)
    assert line["x_mm"] == pytest.approx(1.5, abs=0.3)
    assert len(tack["points"]) > 20
    assert client.get(f"/api/v1/designs/{'0' * 64}/outlines").status_code == 404


def test_a_patch_is_as_large_as_its_block_and_grows_with_the_design(client, sha256):
    lay = {"do": "lay", "after_block": 1, "sheet": "fabric", "of_block": 2}
    job = polos(placement__design={"sha256": sha256}, placement__steps=[lay])
    job["currency"] = "GBP"

    def size():
        found = client.post("/api/v1/estimates", json=job).json()["lines"][0]
        return found["places"][0]["steps"][0]["piece_mm"], found["advice"]

    assert size()[0] == pytest.approx([90, 90], abs=0.3)
    lay |= {"width_mm": 92, "height_mm": 92}
    job["lines"][0]["placements"][0]["design"]["scale"] = 1.5
    [advice] = [a for a in size()[1] if a["code"] == "patch-small"]
    assert [p["value"] for p in advice["apply"]] == [120, 120]
    del lay["width_mm"], lay["height_mm"]
    assert size()[0] == pytest.approx([120, 120], abs=0.5)


def test_steps_are_remembered_with_their_design(client, sha256):
    steps = [
        {"do": "lay", "after_block": 1, "sheet": "felt-sheet", "of_block": 2},
        {"do": "trim", "after_block": 2, "outline_mm": 189},
    ]
    made = client.post(URL, json={"job": polos(placement__design={"sha256": sha256})}).json()
    at = f"{URL}/{made['id']}"
    job = polos(placement__design={"sha256": sha256}, placement__steps=steps)
    client.put(at, json={"job": job}, headers={"If-Match": '"r1"'}).raise_for_status()
    assert client.get(f"/api/v1/designs/{sha256}").json()["steps"] == steps
    bare = polos(placement__design={"sha256": sha256})
    client.put(at, json={"job": bare}, headers={"If-Match": '"r2"'}).raise_for_status()
    assert client.get(f"/api/v1/designs/{sha256}").json()["steps"] == steps  # not forgotten


def test_starting_points_over_http(client):
    listed = client.get("/api/v1/starts").json()
    assert [start["id"] for start in listed][:2] == ["key-tab", "zip-pouch"]
    line = client.post("/api/v1/starts/badge", json={"quantity": "12", "width_mm": "3 in"}).json()
    assert (line["quantity"], line["placements"][0]["design"]["width_mm"]) == (12, 76.2)
    assert client.post("/api/v1/starts/kite", json={}).status_code == 422
    assert client.post("/api/v1/starts/badge", json={"quantity": 0}).status_code == 422
