"""Estimates: price a job against a shop's house and designs."""

from __future__ import annotations

import gc
from pathlib import Path

from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.house.document import House
from clothyard.core.job.check import read_job
from clothyard.core.job.document import Job
from clothyard.core.stitches.facts import DesignFacts
from clothyard.services.designs import design_of_file, read_file
from clothyard.services.standards import shop_house
from clothyard.store.shop import Shop

NEW_VALUES_A_COLLECTION = 20_000


def calm_collector() -> None:
    """Let a process that prices look for cycles less often: an estimate's values hold none."""
    gc.set_threshold(NEW_VALUES_A_COLLECTION, 20, 20)


def price_job(
    shop: Shop, job: Job, *, working: bool = False, compare: bool | int = True
) -> Estimate:
    """Price a job without keeping it.

    Raises
    ------
    BadInput
        Also when it names a file by its path: that is for the command line.
    """
    found: dict[str, DesignFacts] = {}
    for i, line in enumerate(job.lines):
        for k, placement in enumerate(line.placements):
            design = placement.design
            if design.file is not None:
                raise BadInput(
                    "a file's path is for the command line only.",
                    where=f"lines[{i}].placements[{k}].design.file",
                    remedy="Send the file first and name it by its sha256.",
                    code="file-here",
                )
            if design.sha256 and (facts := shop.design(design.sha256)):
                found[design.sha256] = facts
    return estimate(job, shop_house(shop), found, working=working, compare=compare)


def price_job_file(path: Path, *, shop: Shop | None = None, working: bool = False) -> Estimate:
    """Price a job document on disk; its files lie relative to it."""
    job = read_job(read_file(path))
    house: House = shop_house(shop) if shop else default_house()
    found: dict[str, DesignFacts] = {}
    for line in job.lines:
        for placement in line.placements:
            design = placement.design
            if design.file and design.file not in found:
                found[design.file] = design_of_file(path.parent / design.file)
            if design.sha256 and shop and (facts := shop.design(design.sha256)):
                found[design.sha256] = facts
    return estimate(job, house, found, working=working)
