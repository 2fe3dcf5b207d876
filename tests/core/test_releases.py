"""Documents of every release are read for good: one fixture a release, never rewritten.

When a new key breaks one of these, add the step that upgrades the older document.
"""

import json
from pathlib import Path

import pytest

from clothyard import __version__
from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from, read_job
from clothyard.core.job.upgrade import upgraded
from clothyard.core.work.document import Work
from tests.conftest import price

RELEASES = sorted((Path(__file__).parents[1] / "fixtures").glob("release-*"))


@pytest.mark.parametrize("release", RELEASES, ids=lambda path: path.name)
def test_documents_of_a_release_are_still_read(release: Path):
    sent = (release / "estimate.json").read_bytes()
    kept = Estimate.model_validate(json.loads(sent))
    again = json.loads(estimate_bytes(kept))
    price = json.loads(sent)["lines"][0]["price"]
    assert again["lines"][0]["price"].items() >= price.items()
    job = read_job((release / "job.json").read_bytes())
    today = estimate(job, default_house(), {})
    assert [line.quantity for line in today.lines] == [line.quantity for line in kept.lines]
    assert job.lines[0].cells[0].colour == "navy"
    assert [line.id for line in kept.lines] == [line.id for line in job.lines]
    work = release / "work.json"
    if work.exists():
        told = Work.model_validate_json(work.read_bytes())
        assert [line.id for line in told.lines] == [line.id for line in job.lines]


def test_there_is_a_fixture_of_every_release():
    assert [path.name for path in RELEASES] == ["release-0.1", "release-0.2"]
    assert RELEASES[-1].name.endswith(__version__.rsplit(".", 1)[0])


OLD = {
    "lines": [
        {"quantity": 2, "cells": [{"quantity": 2}], "placements": [{"design": {"stitches": 9}}]},
        {"id": "l1", "placements": [{}, {"id": "own"}]},
        {},
    ],
    "kits": [{"name": "Set", "quantity": 2, "lines": [0, 2, 9]}],
    "overruled": [
        {"code": "resize", "line": 1, "where": "placements[1]", "reason": "a"},
        {"code": "price-floor", "where": "price", "reason": "b"},
        {"code": "resize", "line": 7, "where": "placements[0]", "reason": "c"},
    ],
}


def test_ids_come_by_position_and_what_named_positions_names_ids():
    new = upgraded(OLD)
    lines = new["lines"]
    assert [line["id"] for line in lines] == ["l2", "l1", "l3"]  # l1 is taken
    assert [p["id"] for line in lines for p in line.get("placements", [])] == [
        "l2.p1",
        "l1.p1",
        "own",
    ]
    assert lines[0]["cells"][0]["id"] == "l2.c1"
    assert new["kits"][0]["lines"] == ["l2", "l3", "9"]
    assert [(o["line"], o["where"]) for o in new["overruled"]] == [
        ("l1", "own"),
        ("l2", "price"),
        ("7", "placements[0]"),
    ]
    assert upgraded(new) == new
    assert "id" not in OLD["lines"][0]  # it is not changed


def test_an_id_that_stands_twice_is_refused():
    line = {
        "id": "a",
        "goods": {"class": "felt", "unit_cost": "1"},
        "quantity": 1,
        "placements": [{"id": "b", "design": {"stitches": 500}}],
    }
    with pytest.raises(BadInput) as refused:
        price({"lines": [line, line | {"id": "c"}]})
    assert "lines[1].placements[0].id" in refused.value.line()


@pytest.mark.parametrize("odd", [None, 4, [], {"lines": 3}, {"lines": [4, {"cells": {}}]}])
def test_what_is_no_job_is_left_for_the_reader(odd):
    upgraded(odd)
    with pytest.raises(BadInput):
        job_from(odd)
