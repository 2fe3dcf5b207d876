"""Cloth laid between: a file that looks so is asked about; a pouch is not sewn shut."""

import math

import numpy as np
import pytest

from clothyard.core.estimate.make import estimate, work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.job.starts import start_line
from clothyard.core.stitches.applique import find_applique
from clothyard.core.stitches.facts import analyse
from clothyard.core.stitches.stitch_plan import CHANGE, FLOW, TRIM, StitchPlan
from clothyard.core.work.holding import how_held
from tests.conftest import polos
from tests.core.test_advice import apply_patch

HOUSE = default_house()


def ring(radius, *, step=2.5):
    n = math.ceil(2 * math.pi * radius / step)
    return [
        (radius * math.cos(2 * math.pi * k / n), radius * math.sin(2 * math.pi * k / n))
        for k in range(n + 1)
    ]


def satin(radius, wide):
    n = math.ceil(2 * math.pi * radius / 0.4)
    return [
        (
            (radius + (wide / 2 if k % 2 else -wide / 2)) * math.cos(math.pi * k / n),
            (radius + (wide / 2 if k % 2 else -wide / 2)) * math.sin(math.pi * k / n),
        )
        for k in range(2 * n)
    ]


def plan_of(runs, between):
    points = np.array([point for run in runs for point in run])
    gaps, block_of, block = [], [], 0
    for at, run in enumerate(runs):
        block_of += [block] * len(run)
        gaps += [FLOW] * (len(run) - 1)
        if at < len(runs) - 1:
            gaps.append(between[at])
            block += between[at] == CHANGE
    colours = ("#a02020",) * (block + 1)
    return StitchPlan(points, np.array(gaps, np.int8), np.array(block_of, np.int32), colours)


def laid(*, between=(CHANGE, CHANGE)):
    return plan_of([ring(30), ring(30), satin(30, 3.5)], between)


def priced(plan, **changes):
    facts = analyse(plan, sha256="0" * 64, name="a.dst")
    job = polos(**changes)
    job["lines"][0]["placements"][0]["design"] = {"sha256": facts.sha256}
    return job, facts, estimate(job_from(job), HOUSE, {facts.sha256: facts}, compare=False)


def told(found, code):
    return [a for a in found.lines[0].advice if a.code == code]


def test_an_outline_twice_and_a_satin_on_it_is_asked_about_and_a_press_lays_the_patch():
    job, facts, found = priced(laid())
    assert (facts.applique.shown, facts.applique.tacked) == (1, 2)
    assert facts.applique.outline_mm == pytest.approx(2 * math.pi * 30, rel=0.01)
    [asked] = told(found, "applique-like")
    assert asked.level == "note"
    mended = apply_patch(job, asked.apply)
    steps = mended["lines"][0]["placements"][0]["steps"]
    assert [(s["do"], s["after_block"]) for s in steps] == [("lay", 1), ("trim", 2)]
    after = estimate(job_from(mended), HOUSE, {facts.sha256: facts}, compare=False)
    assert {a.code for a in after.lines[0].advice} - {
        a.code for a in found.lines[0].advice
    } == set()
    assert not told(after, "applique-like")
    assert float(after.total.cost) > float(found.total.cost)


def test_without_a_stop_between_the_file_itself_is_asked_for():
    _, facts, found = priced(laid(between=(TRIM, TRIM)))
    assert facts.applique.shown == facts.applique.tacked == 1
    [asked] = told(found, "applique-like")
    assert asked.apply is None
    assert "runs on" in asked.message


@pytest.mark.parametrize(
    "runs",
    [
        pytest.param([ring(30), ring(30), ring(30)], id="three outlines"),
        pytest.param([ring(30), ring(20), satin(20, 3.5)], id="two outlines that differ"),
        pytest.param([satin(30, 3.5), ring(30), satin(30, 3.5)], id="one outline"),
        pytest.param([ring(6), ring(6), satin(6, 3.5)], id="too small to lay cloth on"),
        pytest.param([ring(30), ring(30), satin(30, 1.2)], id="a narrow satin"),
        pytest.param([ring(30)[:40], ring(30)[:40], satin(30, 3.5)], id="an open line"),
    ],
)
def test_what_is_no_applique_is_not_asked_about(runs):
    assert find_applique(plan_of(runs, (CHANGE, CHANGE))) is None


def test_film_goes_on_once_the_placement_line_is_sewn():
    job, facts, found = priced(laid())
    mended = apply_patch(job, told(found, "applique-like")[0].apply)
    work = work_of(job_from(mended), HOUSE, {facts.sha256: facts})
    said = how_held(work.lines[0], work.passes[0], work.lines[0].placements[0], HOUSE)
    assert any("on top once the placement line is sewn" in words for words in said)
    plain = work_of(job_from(job), HOUSE, {facts.sha256: facts})
    said = how_held(plain.lines[0], plain.passes[0], plain.lines[0].placements[0], HOUSE)
    assert not any("placement line" in words for words in said)


def pouch(**changes):
    line = start_line("zip-pouch", quantity=6)
    return {"format": "clothyard-job/1", "lines": [line | changes]}


def test_the_pouch_that_is_proposed_opens_its_zip_before_the_last_seam():
    found = estimate(job_from(pouch()), HOUSE, {}, compare=False)
    assert not told(found, "zip-open")
    steps = [(s["do"], s.get("after_block")) for s in pouch()["lines"][0]["placements"][0]["steps"]]
    assert ("open", 3) in steps


@pytest.mark.parametrize("opened", [None, 4])
def test_a_pouch_sewn_shut_is_warned_of_and_a_press_opens_its_zip(opened):
    job = pouch()
    place = job["lines"][0]["placements"][0]
    place["steps"] = [s for s in place["steps"] if s["do"] != "open"]
    if opened is not None:
        place["steps"].insert(-4, {"do": "open", "after_block": opened})
    found = estimate(job_from(job), HOUSE, {}, compare=False)
    [warned] = told(found, "zip-open")
    assert warned.level == "warn"
    after = estimate(job_from(apply_patch(job, warned.apply)), HOUSE, {}, compare=False)
    assert not told(after, "zip-open")
    assert {a.code for a in after.lines[0].advice} <= {a.code for a in found.lines[0].advice}
