"""One design, one price: whatever kind of file it is written in, its stitches are the same."""

import io
import random

import numpy as np
import pystitch
import pytest

from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.stitches.stitch_plan import CHANGE, FLOW, JUMP, STOP, TRIM, StitchPlan
from clothyard.core.time.speed import needle_seconds
from clothyard.files.guarded import read_design
from clothyard.files.writer import SAMPLE_KINDS, write_plan
from tests.conftest import polos

HOUSE = default_house()
CUTS_JUMPS = {"pec", "pes"}
"""Kinds in which a jump is written as a cut."""
STOPS_ARE_CHANGES = {"dst", "exp"}
"""Kinds whose record for a stop is that of a colour change."""
ONE_STOP = {"jef"}
"""Kinds in which every second stop is written as a colour change."""
SEWS_JUMPS = {"vp3"}
"""Kinds without jumps: the way over one is a stitch; and without stops."""


def read(data, kind):
    return read_design(data, f"a.{kind}", sha256="0" * 64)


def satin(stitches=400, width_mm=14.0):
    points = [(width_mm * (i % 2), 0.4 * (i // 2)) for i in range(stitches)]
    still = np.zeros(stitches - 1, np.int8)
    return StitchPlan(np.array(points), still, np.zeros(stitches, np.int32), ("#a02020",))


def any_plan(seed, *, gaps):
    """Runs of stitches of 0.5 to 20 mm at any angle, with what may lie between runs."""
    random_ = random.Random(seed)
    points, between, block_of, block = [(0.0, 0.0)], [], [0], 0
    for run in range(random_.randint(1 + len(gaps), 8)):
        if run:
            gap = gaps[run - 1] if run <= len(gaps) else random_.choice(gaps)
            between.append(gap)
            block += gap == CHANGE
            x, y = points[-1]
            # far enough to be a move of its own, near enough to be no cut by a kind's own rule
            points.append((x + random_.choice((-1, 1)) * random_.randint(40, 110) / 10, y + 3))
            block_of.append(block)
        for _ in range(random_.randint(4, 25)):
            x, y = points[-1]
            angle, length = random_.uniform(0, 2 * np.pi), random_.uniform(0.5, 20)
            points.append(
                (round(x + length * np.cos(angle), 1), round(y + length * np.sin(angle), 1))
            )
            between.append(FLOW)
            block_of.append(block)
    colours = tuple(f"#{n * 40 + 20:02x}4060" for n in range(block + 1))
    return StitchPlan(
        np.round(np.array(points), 1),
        np.array(between, np.int8),
        np.array(block_of, np.int32),
        colours,
    )


def line_of(facts):
    """A polo with a design from a file, priced."""
    job = polos(line__quantity=1)
    job["lines"][0]["placements"][0]["design"] = {"sha256": facts.sha256}
    return estimate(job_from(job), HOUSE, {facts.sha256: facts}).lines[0]


def seconds(facts):
    found = needle_seconds(
        facts, cap_spm=850, profile=HOUSE.speed_profile, speed=HOUSE.speed, auto_trim=True
    )
    return sum(found)


def sums(facts):
    return [
        (b.stitches, round(b.needle_mm, 6), round(b.bobbin_mm, 6), b.trims, b.jumps)
        for b in facts.blocks
    ]


@pytest.mark.parametrize("kind", SAMPLE_KINDS)
def test_wide_satin_is_as_many_stitches_in_every_kind(kind):
    """400 stitches of 14 mm: kinds that must split such a stitch do not make it two, or a trim."""
    facts = read(write_plan(satin(), kind), kind)[1]
    assert (facts.stitches, facts.trims, facts.jumps) == (400, 0, 0)
    assert facts.longest_stitch_mm == pytest.approx(14, abs=0.02)
    assert seconds(facts) == pytest.approx(seconds(read(write_plan(satin(), "csv"), "csv")[1]))


def test_wide_satin_costs_the_same_in_every_kind_and_is_told_of_alike():
    found = {}
    for kind in SAMPLE_KINDS:
        facts = read(write_plan(satin(), kind), kind)[1]
        line = line_of(facts)
        told = tuple(a.message for a in line.advice if a.code == "stitch-long")
        found[kind] = (line.price.unit, told)
    assert len(set(found.values())) == 1, found
    assert found["dst"][1]


@pytest.mark.parametrize("kind", SAMPLE_KINDS)
def test_plans_come_back_as_they_were(kind):
    for seed in range(25):
        gaps = [TRIM, CHANGE]
        gaps += [] if kind in CUTS_JUMPS | SEWS_JUMPS else [JUMP]
        gaps += [] if kind in STOPS_ARE_CHANGES | SEWS_JUMPS | ONE_STOP else [STOP]
        plan = any_plan(seed, gaps=gaps)
        back, facts = read(write_plan(plan, kind), kind)
        assert back.gaps.tolist() == plan.gaps.tolist(), (kind, seed)
        assert back.block_of.tolist() == plan.block_of.tolist()
        shift = back.points_mm - plan.points_mm
        assert np.ptp(shift, axis=0).max() < 0.11
        exact = read(write_plan(plan, "csv"), "csv")[1]
        assert sums(facts) == sums(exact), (kind, seed)
        assert seconds(facts) == pytest.approx(seconds(exact))


@pytest.mark.parametrize("kind", SAMPLE_KINDS)
def test_what_a_kind_loses_is_what_is_documented(kind):
    plan = any_plan(3, gaps=[TRIM, JUMP, STOP])
    counts = {gap: plan.gaps.tolist().count(gap) for gap in (JUMP, TRIM, STOP)}
    assert min(counts.values()) > 0
    facts = read(write_plan(plan, kind), kind)[1]
    jumps, trims, stops, changes = counts[JUMP], counts[TRIM], counts[STOP], 0
    if kind in CUTS_JUMPS:
        jumps, trims = 0, trims + jumps
    if kind in SEWS_JUMPS:
        jumps, stops = 0, 0
    if kind in STOPS_ARE_CHANGES:
        stops, changes = 0, stops
    if kind in ONE_STOP:
        stops, changes = stops - stops // 2, stops // 2
    assert (facts.jumps, facts.trims, facts.stops, facts.colour_changes) == (
        jumps,
        trims,
        stops,
        changes,
    )


def test_a_kind_without_trims_says_so():
    """Its jumps are floats, each clipped by hand, and the seller is told why."""
    pattern = pystitch.EmbPattern()
    for n, x in enumerate((0, 20, 40, 120, 140, 160)):
        if n == 3:
            pattern.add_command(pystitch.TRIM, 40, 0)
            pattern.add_stitch_absolute(pystitch.JUMP, x, 0)
        pattern.add_stitch_absolute(pystitch.STITCH, x, 0)
    pattern.add_thread({"hex": "#a02020"})
    pattern.end()
    stream = io.BytesIO()
    pystitch.SewWriter.write(pattern, stream)
    facts = read(stream.getvalue(), "sew")[1]
    assert (facts.trims, facts.jumps, facts.trims_kept) == (0, 1, False)
    assert [a.level for a in line_of(facts).advice if a.code == "trims-lost"] == ["note"]
    kept = read(write_plan(satin(40), "dst"), "dst")[1]
    assert "trims-lost" not in {a.code for a in line_of(kept).advice}


def test_a_jump_that_lands_before_the_next_stitch_stays_one():
    """What goes on from where a jump ended is no end of a long stitch."""
    still = np.array([FLOW, JUMP, FLOW, FLOW], np.int8)
    points = np.array([(0.0, 0.0), (2.0, 0.0), (20.0, 0.0), (22.0, 0.0), (24.0, 0.0)])
    plan = StitchPlan(points, still, np.zeros(5, np.int32), ("#a02020",))
    for kind in ("dst", "exp", "jef", "u01", "tbf", "csv"):
        back, facts = read(write_plan(plan, kind), kind)
        assert back.gaps.tolist() == still.tolist(), kind
        assert facts.longest_stitch_mm == pytest.approx(2)
