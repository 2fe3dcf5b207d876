"""The work document: every second and metre of an estimate is found in it, and no money."""

import json
import re

import pytest

from clothyard.core.estimate.make import estimate, work_of
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.work.document import Work, work_bytes
from tests.conftest import polos

HOUSE = default_house()
FIGURE = re.compile(r"(_m|_s|_min|_mm|seconds|length_mm)$")
GIVEN = re.compile(
    r"(corners_mm|sewn_mm|room\.|hoops\[|marks\[|nearest_rim|gap_mm|piece_mm|offcuts|designs\[\]\.width"
    r"|designs\[\]\.height|cuts\[\]\.(width|step)|capacity_m|\.band\.|^machines\[|others\[|schools\[)"
)
"""Geometry of the piece and the roll, and what is not done: other methods, other machines."""

TOWELS = {
    "goods": {"class": "terry-towel", "unit_cost": "4"},
    "quantity": 10,
    "cells": [{"size": "L", "quantity": 6}, {"size": "XL", "quantity": 4}],
    "names": ["Ada", "", "Bo", "Cy"],
    "placements": [
        {"design": {"text": "{name}", "height_mm": 20}},
        {"position": "corner", "design": {"stitches": 3000, "colours": 12}},
    ],
    "hardware": [{"item": "snap", "count": 2}],
}
PATCHES = {
    "goods": {"class": "felt", "unit_cost": "1"},
    "quantity": 7,
    "placements": [
        {
            "design": {"stitches": 5000, "colours": 3, "width_mm": 60, "height_mm": 40},
            "methods": {"bobbin": "match", "machine": "single-flat", "hold": "float"},
            "steps": [
                {"do": "lay", "after_block": 0, "sheet": "fabric", "width_mm": 90, "height_mm": 70}
            ],
            "together": {},
        }
    ],
    "sample": {"pieces": 2, "wash": True},
}
JOBS = [
    polos(),
    {"lines": [TOWELS, PATCHES]},
    polos(goods__supplied_by="customer", placement__band={"length_mm": 900}),
]


def leaves(value, path=""):
    if isinstance(value, dict):
        for key, item in value.items():
            yield from leaves(item, f"{path}.{key}" if path else key)
    elif isinstance(value, list):
        for item in value:
            yield from leaves(item, f"{path}[]")
    else:
        yield path, value


def mean(amount, line, places):
    return pytest.approx(amount / line["quantity"], abs=0.6 * 10**-places)


def of_line(work, line, sample=False):
    return [p for p in work["passes"] if p["of"][0]["line"] == line["id"] and p["sample"] is sample]


def check_piece(told, work, line):
    passes = of_line(work, line)
    each = told["per_piece"]
    assert each["machine_min"] == mean(sum(p["machine_s"] for p in passes) / 60, line, 2)
    assert each["attend_min"] == mean(sum(p["attend_s"] for p in passes) / 60, line, 2)
    hand = sum(p["hand_s"] for p in passes) + sum(t["total_s"] for t in line["tasks"])
    assert each["hand_min"] == mean(hand / 60, line, 2)
    assert line["hand_s"] == pytest.approx(hand, abs=0.01)
    assert each["needle_m"] == mean(sum(p["needle_m"] for p in passes), line, 3)
    assert each["bobbin_m"] == mean(sum(p["bobbin_m"] for p in passes), line, 3)
    assert len(told["pieces"]) == len(line["pieces"])
    for shown, piece in zip(told["pieces"], line["pieces"], strict=True):
        for key in ("machine", "attend", "hand"):
            assert shown[f"{key}_min"] == pytest.approx(piece[f"{key}_s"] / 60, abs=0.006)
        for key in ("needle_m", "bobbin_m"):
            assert shown[key] == pytest.approx(piece[key], abs=0.0006)


def check_passes(told, work, line):
    """Each pass is the sum of its events, tasks, blocks; each stretch of a piece is one of them."""
    minutes = {}
    for at, (done, design) in enumerate(zip(of_line(work, line), told["designs"], strict=True)):
        [shared] = done["of"]
        assert sum(e["machine_s"] for e in done["events"]) == pytest.approx(done["machine_s"])
        assert sum(e["operator_s"] for e in done["events"]) == pytest.approx(done["attend_s"])
        tasks = sum(t["total_s"] for t in done["tasks"]) + done["winding_s"]
        assert tasks == pytest.approx(done["hand_s"], abs=0.01)
        metres = sum(t["needle_m"] for t in done["threads"]) + done["hand_change_m"]
        assert metres == pytest.approx(done["needle_m"], abs=0.01)
        for block, laid in zip(design["blocks"], done["threads"], strict=True):
            for key in ("needle_m", "bobbin_m"):
                assert block[key] == pytest.approx(laid[key] / shared["pieces"], abs=6e-4)
        for task in done["tasks"]:
            minutes.setdefault((at, task["label"]), []).append(task["total_s"])
        for event in done["events"]:
            minutes.setdefault((at, event["label"]), []).append(event["machine_s"])
        minutes[at, "Wind bobbins"] = [done["winding_s"]]
        minutes[at, "sew"] = [e["machine_s"] for e in done["events"] if e["task"] == "sew"]
    for task in line["tasks"]:
        minutes.setdefault((None, task["label"]), []).append(task["total_s"])
    shown = {}
    for minute in told["minutes"]:
        label = "sew" if minute["kind"] == "sew" else minute["label"]
        shown.setdefault((minute["placement"], label), []).append(minute["seconds"])
    for key, seconds in shown.items():
        assert sum(seconds) == pytest.approx(sum(minutes[key]) / line["quantity"], abs=0.1), key


def check_materials(told, work, line):
    passes = of_line(work, line)
    sums = {"needle-thread": 0.0, "bobbin-thread": 0.0, "backing": 0.0, "topping": 0.0}
    for material in told["materials"]:
        if material["kind"] in sums:
            sums[material["kind"]] += material["quantity"]
    assert sums["needle-thread"] == pytest.approx(sum(p["needle_m"] for p in passes), abs=0.1)
    assert sums["bobbin-thread"] == pytest.approx(sum(p["bobbin_m"] for p in passes), abs=0.1)
    for key, kept in (("shelf_m", "bobbin_kept_m"), ("waste_m", "bobbin_waste_m")):
        left = sum(p[kept] for p in passes)
        assert told["bobbins"][key] == pytest.approx(left, abs=1e-3)
    cuts = [c for p in passes for c in p["cuts"]]
    for kind in ("backing", "topping"):
        cut = sum(c["length_mm"] for c in cuts if c["what"] == kind)
        assert sums[kind] == pytest.approx(cut, abs=0.05)
    assert [(c["length_mm"], c["list_length_mm"], c["count"]) for c in told["cuts"]] == [
        (
            pytest.approx(c["length_mm"], abs=6e-3),
            pytest.approx(c["list_length_mm"], abs=6e-3),
            c["count"],
        )
        for c in cuts
    ]


def check_order(told, work):
    for shown, thread in zip(told["threads"], work["threads"], strict=True):
        for key in ("needle_m", "bobbin_m", "needed_m"):
            assert shown[key] == pytest.approx(thread[key], abs=6e-4)
    run, done = told["run"], work["run"]
    assert run["elapsed_min"] == pytest.approx(done["elapsed_s"] / 60, abs=0.006)
    assert run["machine_min"] == pytest.approx(done["machine_s"] / 60, abs=0.006)
    assert run["operator_min"] == pytest.approx(done["operator_s"] / 60, abs=0.006)
    assert sum(p["seconds"] for p in done["parts"]) == pytest.approx(done["elapsed_s"], abs=0.01)
    hands = sum(
        line["hand_s"]
        + line["attend_s"]
        + line["sample_hand_s"]
        + sum(t["total_s"] for t in line["names"])
        for line in work["lines"]
    )
    hands += sum(t["total_s"] for t in work["once"])
    assert done["operator_s"] == pytest.approx(hands, abs=0.01)


def check_steps(shown, work, line):
    for put, told in zip(shown["places"], line["placements"], strict=True):
        keys = ("label", "per", "at")
        pairs = list(zip(put["steps"], told["steps"], strict=True))
        assert [[a[k] for k in keys] for a, _ in pairs] == [[b[k] for k in keys] for _, b in pairs]
        assert [a["seconds"] for a, _ in pairs] == pytest.approx(
            [b["seconds"] for _, b in pairs], abs=0.005
        )
        run = next(
            p
            for p in work["passes"]
            if not p["sample"] and any(of["placement"] == told["id"] for of in p["of"])
        )
        pieces = sum(of["pieces"] for of in run["of"])
        for a, b in pairs:
            share = run["hoopings"] / pieces if b["per"] == "hooping" else 1
            assert a["piece_s"] == pytest.approx(b["seconds"] * share, abs=0.005)


FOUND_BY = {
    r"lines\[\]\.(per_piece|pieces\[\])\.": check_piece,
    r"lines\[\]\.(designs\[\]\.blocks|minutes)\[\]": check_passes,
    r"lines\[\]\.places\[\]\.steps\[\]": check_steps,
    r"lines\[\]\.(cuts\[\]|bobbins)": check_materials,
    r"(threads\[\]|run)\.": check_order,
}


@pytest.mark.parametrize("job", JOBS)
def test_every_second_and_metre_of_an_estimate_is_in_the_work(job):
    asked = job_from(job)
    told = json.loads(estimate(asked, HOUSE, {}, compare=False).model_dump_json())
    work = json.loads(work_bytes(work_of(asked, HOUSE, {})))
    figures = {path for path, _ in leaves(told) if FIGURE.search(path) and not GIVEN.search(path)}
    unchecked = {p for p in figures if not any(re.match(rule, p) for rule in FOUND_BY)}
    assert not unchecked
    for shown, line in zip(told["lines"], work["lines"], strict=True):
        assert shown["id"] == line["id"]
        for check in (check_piece, check_passes, check_steps, check_materials):
            check(shown, work, line)
    check_order(told, work)


@pytest.mark.parametrize("job", JOBS)
def test_work_holds_no_money_and_round_trips(job):
    told = work_bytes(work_of(job_from(job), HOUSE, {}))
    assert work_bytes(Work.model_validate_json(told)) == told
    keys = {re.split(r"[.\[]", path)[-1] for path, _ in leaves(json.loads(told))}
    assert not keys & {"cost", "price", "unit_cost", "rate", "money", "amount_due", "margin"}
    dear = {"rates": {"labour_per_h": "99"}, "price": {"margin": "0.8"}}
    assert work_bytes(work_of(job_from(job | {"house": dear}), HOUSE, {})) == told


def test_passes_pieces_and_samples_have_ids():
    work = work_of(job_from(JOBS[1]), HOUSE, {})
    assert [(p.id, p.of[0].placement, p.sample) for p in work.passes] == [
        ("l1.p1.run", "l1.p1", False),
        ("l1.p2.run", "l1.p2", False),
        ("l1.p1.sample", "l1.p1", True),
        ("l1.p2.sample", "l1.p2", True),
        ("l2.p1.run", "l2.p1", False),
        ("l2.p1.sample", "l2.p1", True),
    ]
    pieces = work.lines[0].pieces
    assert [(p.id, p.cell, p.name) for p in pieces[:3]] == [
        ("l1.1", "l1.c1", "Ada"),
        ("l1.2", "l1.c1", None),
        ("l1.3", "l1.c1", "Bo"),
    ]
    assert pieces[6].cell == "l1.c2"
    sewn = [p for p in work.passes if p.id == "l1.p1.run"]
    assert sewn[0].of[0].pieces == 9  # one of ten is left blank
    assert work.lines[1].samples == 2


def test_the_worked_order_in_the_work_document():
    """By hand, the handbook's whole order: M 700.61, O 141.27, hand 189.13 a piece; of 24."""
    work = work_of(job_from(polos(line__digitising="none")), HOUSE, {})
    [run, sample] = work.passes
    told = estimate(job_from(polos()), HOUSE, {}).lines[0].per_piece
    assert run.machine_s / 24 == pytest.approx(told.machine_min * 60, abs=0.31)
    assert sample.machine_s == pytest.approx(692.27, abs=0.01)
    assert {t.task: t.times for t in run.tasks}["cut-backing"] == 24
    assert sum(t.total_s for t in work.once) == 180 + 180 + 225 + 1200
