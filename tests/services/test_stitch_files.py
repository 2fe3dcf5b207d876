"""Stitch files out: turned as the piece goes in, each name by itself, told what they hold."""

import io
import zipfile

import numpy as np
import pytest

from clothyard.core.run.stitch_files import coloured, sized, turned
from clothyard.core.stitches.words import words_plan
from clothyard.files.guarded import shared_reader
from tests.core.random_jobs import HOUSE
from tests.services.test_orders import URL, accepted, put
from tests.services.test_shelf import API


def spans(plan):
    return (plan.points_mm.max(axis=0) - plan.points_mm.min(axis=0)).round(1).tolist()


def test_turned_and_sized_a_plan_is_the_same_stitches():
    plan = words_plan("Liv", height_mm=12, words=HOUSE.words)
    once = turned(plan, 90)
    assert spans(once) == spans(plan)[::-1]
    right = plan.points_mm[:, 0].argmax()
    assert once.points_mm[:, 1].argmax() == right  # with the clock: what was right is below
    back = plan
    for _ in range(4):
        back = turned(back, 90)
    np.testing.assert_allclose(back.points_mm, plan.points_mm, atol=1e-9)
    lengths = [np.hypot(*np.diff(p.points_mm, axis=0).T) for p in (plan, turned(plan, 37))]
    np.testing.assert_allclose(*lengths, atol=1e-9)
    assert spans(sized(plan, 2)) == pytest.approx([2 * side for side in spans(plan)], abs=0.2)
    assert coloured(plan, ["#123456"]).colours[0] == "#123456"
    assert coloured(plan, []).colours == plan.colours


def files_of(client, **query):
    answer = client.get(f"{URL}/1/stitch-files.zip", params=query)
    assert answer.status_code == 200, answer.text
    packed = zipfile.ZipFile(io.BytesIO(answer.content))
    return {name: packed.read(name) for name in packed.namelist()}


def test_each_name_of_an_order_is_a_file_that_reads_back(client, shop, run):
    accepted(shop, placement__design={"text": "{name}", "height_mm": 12}, methods__way=180)
    early = client.get(f"{URL}/1/stitch-files.zip")
    assert (early.status_code, early.json()["code"]) == (409, "proof-open")
    client.put(f"{URL}/1/proof", json={})
    found = files_of(client, kind="dst")
    told = found.pop("WHAT-IS-WHAT.txt").decode()
    assert told.startswith("Not the batch yet. Its sample has not passed: Left chest.\n")
    assert list(found) == ["001-ADA.dst", "002-BO.dst"]
    assert "001-ADA.dst: Ada, Left chest, hoop 40 × 40, turned 180° already" in told
    assert told.endswith("holds no colours: thread the needles as the run sheet says.\n")
    plan = words_plan("Ada", height_mm=12, words=HOUSE.words)
    back = shared_reader().plan(found["001-ADA.dst"], "001-ADA.dst")
    assert len(back.points_mm) == len(plan.points_mm)
    ahead = plan.points_mm - plan.points_mm.min(axis=0)
    behind = back.points_mm.max(axis=0) - back.points_mm  # half a turn round
    np.testing.assert_allclose(behind, ahead, atol=0.11)
    folder = shop.folder.parent / "stick"
    folder.mkdir()
    shop.close()
    code, out, _ = run("files", "Q-0001", "--shop", shop.folder, "--out", folder, "--kind", "pes")
    assert (code, sorted(p.name for p in folder.iterdir())) == (0, ["001-ADA.pes", "002-BO.pes"])
    assert "\n001-ADA.pes: Ada, Left chest" in out
    code, out, err = run("files", "Q-0001", "--shop", shop.folder, "--out", folder / "none")
    assert (code, out, err.count("\n")) == (2, "", 1)


def test_a_file_is_written_as_it_is_sewn_and_a_count_waits_for_its_own(client, shop, crest_files):
    kept = client.post(f"{API}/designs", files={"file": ("crest.pes", crest_files["pes"])}).json()
    design = {"sha256": kept["sha256"]}
    accepted(shop, placement__design=design, line__names=[], methods__way=90)
    found = files_of(client, kind="pes")
    [name] = [each for each in found if each.endswith(".pes")]
    back = shared_reader().plan(found[name], name)
    own = shared_reader().plan(crest_files["pes"], "crest.pes")
    assert spans(back) == spans(own)[::-1]
    put(client, client.get(f"{URL}/1").json(), state="cancelled")
    gone = client.get(f"{URL}/1/stitch-files.zip")
    assert (gone.status_code, gone.json()["code"]) == (409, "order-cancelled")
    accepted(shop, line__names=[], placement__design={"stitches": 8200})
    waits = client.get(f"{URL}/2/stitch-files.zip")
    assert (waits.status_code, waits.json()["code"]) == (409, "file-missing")
    assert "a count is a price, not a design" in waits.json()["remedy"]
    unknown = client.get(f"{URL}/1/stitch-files.zip", params={"kind": "xyz"})
    assert unknown.status_code == 422


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
