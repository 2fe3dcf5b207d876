"""Documents of every release are read for good: one fixture a release, never rewritten.

When a new key breaks one of these, add the step that upgrades the older document.
"""

import json
from pathlib import Path

import pytest

from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.job.check import read_job

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
    assert today.lines[0].quantity == kept.lines[0].quantity
    assert job.lines[0].cells[0].colour == "navy"


def test_there_is_a_release():
    assert [path.name for path in RELEASES] == ["release-0.1"]
