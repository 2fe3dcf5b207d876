"""The truth test: made-up shops with hidden factors log ten jobs; is what they learn true?

Each job is sewn by the simulated machine and its cones are weighed on the simulated scale; hands
are drawn. Then a hundred further jobs are drawn of the same shop and held against the stated bands.
"""

from __future__ import annotations

import math
import random
from dataclasses import dataclass
from functools import cache

import numpy as np

from clothyard.core.estimate.make import estimate, work_of
from clothyard.core.house.check import build_house, default_house
from clothyard.core.house.document import House
from clothyard.core.house.learnt import GROUPS, unlearnt
from clothyard.core.job.check import job_from
from clothyard.core.job.document import Job
from clothyard.core.log.learn import Learnt, learn
from clothyard.core.log.rows import (
    BOBBIN,
    NEEDLE,
    SEWING,
    LogRow,
    Measured,
    ThreadWeighed,
    estimated_of,
    ratios_of,
)
from clothyard.core.stitches.facts import DesignFacts
from clothyard.core.work.document import PassTold, Work
from clothyard.demo import stitching
from clothyard.files.guarded import read_design
from clothyard.ports.machine import Start
from clothyard.ports.scale import Put
from clothyard.standins.machine import TEX, SimulatedMachine, Truths
from clothyard.standins.scale import SimulatedScale
from clothyard.store.blobs import content_hash

MACHINE = "compact-10"
STARTS = {
    "needle": 0.05,
    "bobbin": 0.12,
    "sewing": 0.08,
    "loading": 0.35,
    "hooping": 0.25,
    "finishing": 0.20,
    "order": 0.50,
}
"""Spreads of a job's noise: those that every shop begins with."""

DRAWN = {
    "crest": (stitching.crest, ("pique-polo", "sweatshirt"), 85.0),
    "oars": (stitching.oars, ("sweatshirt", "pique-polo"), 60.0),
    "paw": (stitching.paw, ("tunic", "pique-polo"), 40.0),
    "anchor": (stitching.anchor, ("terry-towel", "tunic"), 40.0),
}


@dataclass(frozen=True)
class Hidden:
    """What a made-up shop is really like."""

    needle: float
    bobbin: float
    sewing: float
    hands: dict[str, float]
    noise: float = 1.0

    @classmethod
    def of_seed(cls, seed: int) -> Hidden:
        chance = random.Random(f"hidden {seed}")
        return cls(
            needle=chance.uniform(0.88, 1.15),
            bobbin=chance.uniform(0.9, 1.3),
            sewing=chance.uniform(0.8, 1.25),
            hands={group: chance.uniform(0.8, 1.25) for group in GROUPS},
        )


@cache
def files() -> dict[str, tuple[bytes, DesignFacts]]:
    """The designs: (file, facts) by content hash."""
    found = {}
    for name, (draw, _, _) in DRAWN.items():
        data = stitching.stitch_file(draw(), "dst")
        sha256 = content_hash(data)
        found[sha256] = (data, read_design(data, f"{name}.dst", sha256=sha256)[1])
    return found


def designs() -> dict[str, DesignFacts]:
    """What an estimate needs of them."""
    return {sha256: facts for sha256, (_, facts) in files().items()}


def random_job(chance: random.Random) -> Job:
    """An order of one line, sewn from a file."""
    sha256, (_, facts) = chance.choice(sorted(files().items()))
    goods = chance.choice(DRAWN[facts.name.removesuffix(".dst")][1])
    placement = {"design": {"sha256": sha256}}
    line = {
        "goods": {"class": goods, "unit_cost": "6.00"},
        "quantity": chance.randint(12, 48),
        "placements": [placement],
        "digitising": "none",
    }
    return job_from({"format": "clothyard-job/1", "currency": "GBP", "lines": [line]})


def _noise(chance: random.Random, group: str, hidden: Hidden) -> float:
    return math.exp(chance.gauss(0.0, STARTS[group] * hidden.noise))


def _main(work: Work) -> PassTold:
    return next(each for each in work.passes if not each.sample)


def sewn(job: Job, work: Work, hidden: Hidden, chance: random.Random, seed: int) -> LogRow:
    """Sew a job at the simulated machine, weigh its cones, and clock its hands."""
    each = _main(work)
    put = work.lines[0].placements[0]
    data, facts = files()[put.design.sha256 or ""]
    truths = Truths(
        slower=hidden.sewing * _noise(chance, "sewing", hidden),
        needle=hidden.needle * _noise(chance, "needle", hidden),
        bobbin=hidden.bobbin * _noise(chance, "bobbin", hidden),
        breaks_1000=1e-9,
    )
    machine = SimulatedMachine(seed, truths, tell=False)
    machine.take(data, facts.name)
    scale = SimulatedScale(seed)
    pieces = sum(of.pieces for of in each.of)

    def weigh() -> list[float]:
        shown = []
        for grams in machine.cones_g:
            scale.put(Put(grams=max(0.0, grams)))
            shown.append(scale.weigh().grams)
        return shown

    before, needle_s, bobbins = weigh(), 0.0, 0.0
    left = machine.bobbin_m
    for n in range(pieces):
        machine.start(
            Start(
                run=f"job:{seed}:{n}:1",
                cap_spm=put.cap_spm,
                repeats=put.copies,
                under_mm=put.thickness_mm,
            )
        )
        while machine.state != "ended":
            if machine.state == "stopped":
                bobbins += machine.why == "bobbin-out"
                machine.go()
            machine.advance(3600.0)
        needle_s += machine.told().needle_s
    used_m = bobbins * left + (left - machine.bobbin_m)
    after = weigh()
    needles = sorted({*machine.needles})
    estimated = estimated_of(work, each.id, default_house(), sewn=pieces)
    share = 1 / len(needles)  # weighed one by one; what each is estimated at adds up to the whole
    threads = [
        ThreadWeighed(
            label=f"needle {n}",
            estimated_m=(estimated.needle_m or 0.0) * share,
            tex=TEX,
            grams_before=before[n - 1],
            grams_after=after[n - 1],
        )
        for n in needles
    ]
    hands = {
        f"{group}_s": (getattr(estimated, f"{group}_s") or 0.0)
        * hidden.hands[group]
        * _noise(chance, group, hidden)
        for group in GROUPS
    }
    return LogRow(
        finished_on="2026-05-04",
        sewn=pieces,
        planned=pieces,
        known=True,
        machine=MACHINE,
        estimated=estimated,
        threads=threads,
        actual=Measured(needle_s=needle_s, bobbin_m=used_m, **hands),
    )


def logged(hidden: Hidden, seed: int, jobs: int = 10) -> list[LogRow]:
    """Log some jobs of a shop."""
    chance, house, rows = random.Random(f"jobs {seed}"), unlearnt(default_house()), []
    for n in range(jobs):
        job = random_job(chance)
        work = work_of(job, house, designs())
        rows.append(sewn(job, work, hidden, chance, seed * 1000 + n))
    return rows


def learnt(rows: list[LogRow]) -> dict[str, Learnt]:
    """What the rows teach, factor by factor."""
    ratios = ratios_of((str(n), row, 0) for n, row in enumerate(rows))
    keys = {NEEDLE: ("needle", 1.0), BOBBIN: ("bobbin", 1.2), f"{SEWING}{MACHINE}": ("sewing", 1.0)}
    keys |= {group: (group, 1.0) for group in GROUPS}
    return {
        name: learn(ratios.get(key, []), start=start, spread=STARTS[name])
        for key, (name, start) in keys.items()
    }


def taught(found: dict[str, Learnt]) -> House:
    """The house with what was learnt taken."""
    house = build_house(
        {
            "thread_use": {
                "factor_needle": str(found["needle"].factor),
                "factor_bobbin": str(found["bobbin"].factor),
            },
            "machines": {MACHINE: {"time_factor": str(found["sewing"].factor)}},
            "hands": {group: str(found[group].factor) for group in GROUPS},
            "sure": {name: str(round(each.of_next, 6)) for name, each in found.items()},
        }
    )
    return house.model_copy(update={"learnt": {f"sure.{name}": "learnt" for name in found}})


def off(hidden: Hidden, found: dict[str, Learnt]) -> dict[str, float]:
    """How far new estimates lie from what is true: thread, bobbin, all time that is clocked."""
    true = {"needle": hidden.needle, "bobbin": hidden.bobbin, "sewing": hidden.sewing}
    true |= hidden.hands
    return {name: found[name].factor / true[name] - 1 for name in true}


def clocked_off(hidden: Hidden, found: dict[str, Learnt], seed: int) -> float:
    """How far the clocked time of new jobs is off, needle and hands together: the mean of 20."""
    chance, house, offs = random.Random(f"new {seed}"), unlearnt(default_house()), []
    for _ in range(20):
        work = work_of(random_job(chance), house, designs())
        each = _main(work)
        pieces = sum(of.pieces for of in each.of)
        meant = estimated_of(work, each.id, default_house(), sewn=pieces)
        parts = {"sewing": meant.needle_s or 0.0}
        parts |= {group: getattr(meant, f"{group}_s") or 0.0 for group in GROUPS}
        real = sum(
            s * (hidden.sewing if g == "sewing" else hidden.hands[g]) for g, s in parts.items()
        )
        said = sum(s * found[group].factor for group, s in parts.items())
        offs.append(said / real - 1)
    return float(np.mean(offs))


def held(hidden: Hidden, found: dict[str, Learnt], seed: int, jobs: int = 100) -> int:
    """How many of so many further jobs cost what lies between the stated P10 and P90."""
    chance, house, inside = random.Random(f"further {seed}"), taught(found), 0
    for _ in range(jobs):
        job = random_job(chance)
        said = estimate(job, house, designs(), compare=False)
        true = build_house(
            {
                "thread_use": {
                    "factor_needle": str(hidden.needle * _noise(chance, "needle", hidden)),
                    "factor_bobbin": str(hidden.bobbin * _noise(chance, "bobbin", hidden)),
                },
                "machines": {
                    MACHINE: {"time_factor": str(hidden.sewing * _noise(chance, "sewing", hidden))}
                },
                "hands": {
                    g: str(min(5, max(0.2, hidden.hands[g] * _noise(chance, g, hidden))))
                    for g in GROUPS
                },
                "goods": {
                    key: {"standby": str(min(1.0, g.standby * _noise(chance, "loading", hidden)))}
                    for key, g in default_house().goods.items()
                },
            }
        )
        came = estimate(job, true, designs(), compare=False)
        work = work_of(job, true, designs())
        line = work.lines[0]
        spoiled, tries = 0, line.quantity
        while tries:
            lost = sum(chance.random() < line.spoil for _ in range(tries))
            spoiled, tries = spoiled + lost, lost
        spoilage = float(came.lines[0].cost.spoilage)
        cost = float(came.total.cost) - spoilage + spoilage * spoiled / max(1e-9, line.remakes)
        sure = said.total.sure
        assert sure is not None
        inside += float(sure.p10) <= cost <= float(sure.p90)
    return inside


def shops(count: int) -> list[dict[str, float]]:
    """Run some made-up shops: each one's figures."""
    found = []
    for seed in range(1, count + 1):
        hidden = Hidden.of_seed(seed)
        rows = logged(hidden, seed)
        what = learnt(rows)
        figures = off(hidden, what)
        figures["clocked"] = clocked_off(hidden, what, seed)
        figures["held"] = held(hidden, what, seed)
        found.append(figures)
    return found


def at_one(count: int, *, noise: float) -> dict[str, list[float]]:
    """What shops learn that are as the standards say: with no noise exactly that."""
    found: dict[str, list[float]] = {}
    for seed in range(1, count + 1):
        hidden = Hidden(1.0, 1.2, 1.0, dict.fromkeys(GROUPS, 1.0), noise)
        for name, each in learnt(logged(hidden, 100 + seed)).items():
            found.setdefault(name, []).append(each.factor / (1.2 if name == "bobbin" else 1.0))
    return found


def told(count: int) -> None:
    """Print what came of it."""
    found = shops(count)
    for name in found[0]:
        values = np.array([figures[name] for figures in found])
        far = np.abs(values)
        print(
            f"{name:10} mean off {np.mean(far):.3f}, worst {np.max(far):.3f}, "
            f"mean {np.mean(values):.3f}, least {np.min(values):.2f}"
        )
    for noise in (0.0, 1.0):
        means = {
            name: round(float(np.mean(each)), 3) for name, each in at_one(6, noise=noise).items()
        }
        print("true factors of 1, noise", noise, means)


if __name__ == "__main__":
    told(12)
