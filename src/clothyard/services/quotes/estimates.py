"""Estimates: price a job, or say what is done for it, against a shop's house and designs."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from pathlib import Path

from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import Pricing, estimate, work_of
from clothyard.core.house.check import default_house
from clothyard.core.house.document import House
from clothyard.core.job.check import read_job
from clothyard.core.job.document import Design, Job
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.work.document import Work
from clothyard.services.designs.inspection import design_of_file, read_file
from clothyard.services.house.standards import shop_house
from clothyard.store.designs import find_design
from clothyard.store.shop import Shop

NEW_VALUES_A_COLLECTION = 20_000


def calm_collector() -> None:
    """Let a process that prices look for cycles less often: an estimate's values hold none."""
    gc.set_threshold(NEW_VALUES_A_COLLECTION, 20, 20)


def _designs(job: Job) -> Iterator[tuple[str, Design]]:
    """Each design of a job, with its place."""
    for i, line in enumerate(job.lines):
        for k, placement in enumerate(line.placements):
            yield f"lines[{i}].placements[{k}].design", placement.design


def kept_designs(shop: Shop, job: Job) -> dict[str, DesignFacts]:
    """Look up the shop's designs that a job names.

    Raises
    ------
    BadInput
        If it names a file by its path: that is for the command line.
    """
    found: dict[str, DesignFacts] = {}
    for where, design in _designs(job):
        if design.file is not None:
            raise BadInput(
                "a file's path is for the command line only.",
                where=f"{where}.file",
                remedy="Send the file first and name it by its sha256.",
                code="file-here",
            )
        if (
            design.sha256
            and design.sha256 not in found
            and (facts := find_design(shop, design.sha256))
        ):
            found[design.sha256] = facts
    return found


def pricing_of(shop: Shop, job: Job, house: House) -> Pricing:
    """Work out and price a job without keeping it.

    Parameters
    ----------
    shop : Shop
        Whose designs it may name.
    job : Job
    house : House
        The shop's, as the request read it.

    Raises
    ------
    BadInput
        Also when it names a file by its path: that is for the command line.
    """
    return Pricing(job, house, kept_designs(shop, job), simulated=shop.simulated)


_MOST_SIMULATED = 200


def remember_run(shop: Shop, plan_sha256: str, elapsed_s: float) -> None:
    """Remember how long a run takes as simulated: an estimate of the same work uses it. [s]"""
    if len(shop.simulated) >= _MOST_SIMULATED:
        shop.simulated.clear()
    shop.simulated[plan_sha256] = elapsed_s


def price_job(
    shop: Shop, job: Job, house: House, *, working: bool = False, compare: bool | int = True
) -> Estimate:
    """Price a job without keeping it; see `pricing_of` and `Pricing.estimate`."""
    return pricing_of(shop, job, house).estimate(working=working, compare=compare)


def work_job(shop: Shop, job: Job, house: House) -> Work:
    """Say what is done for a job, without money; see `pricing_of`."""
    return work_of(job, house, kept_designs(shop, job))


def read_job_file(path: Path, shop: Shop | None) -> tuple[Job, House, dict[str, DesignFacts]]:
    """Read a job document on disk; its files lie relative to it: (job, house, designs)."""
    house = shop_house(shop) if shop else default_house()
    job = read_job(read_file(path), currency=house.price.currency)
    found: dict[str, DesignFacts] = {}
    for _, design in _designs(job):
        if design.file and design.file not in found:
            found[design.file] = design_of_file(path.parent / design.file)
        if design.sha256 and shop and (facts := find_design(shop, design.sha256)):
            found[design.sha256] = facts
    return job, house, found


def price_job_file(path: Path, *, shop: Shop | None = None, working: bool = False) -> Estimate:
    """Price a job document on disk; without a shop by the default house."""
    return estimate(*read_job_file(path, shop), working=working)


def work_job_file(path: Path, *, shop: Shop | None = None) -> Work:
    """Say what is done for a job document on disk; without a shop by the default house."""
    return work_of(*read_job_file(path, shop))
