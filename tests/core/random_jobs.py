"""Random jobs, as a hurried seller might make them; a thousand in CI, twenty in a soak."""

import os
import random

from clothyard.core.house.check import default_house

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
JOBS = 20_000 if SOAK else 1_000
HOUSE = default_house()


PATCH = {"do": "lay", "sheet": "fabric", "width_mm": 90, "height_mm": 70}
STEPS = [
    {"do": "trim", "after_block": 1, "outline_mm": 300},
    {"do": "trim", "after_block": 0, "outline_mm": 300},
    PATCH | {"after_block": 0, "edge": "raw"},
    PATCH | {"after_block": 1, "side": "under", "of_block": 1, "grain": True},
    {"do": "turn", "after_block": 1},
    {"do": "tack", "after_block": 0},
    {"do": "cut-out", "outline_mm": 200},
    {"do": "turn-out"},
    {"do": "stuff"},
    {"do": "close", "outline_mm": 60},
]
"""What hands do, in any order: most orders of them are wrong."""


def random_job(chance: random.Random) -> dict:
    """A line of any class, as a hurried seller might make it."""
    pick = chance.choice
    design = {
        "stitches": pick([900, 3000, 9000, 25_000, 60_000]),
        "colours": pick([1, 1, 3, 12]),
        "width_mm": pick([20, 35, 60, 90, 120, 260]),
        "height_mm": pick([15, 30, 55, 90, 150, 320]),
        "kind": pick(["mixed", "lettering", "fill"]),
    }
    if chance.random() < 0.2:
        design["letter_height_mm"] = pick([3, 4.5, 6, 12])
    options = {
        "backing": [*HOUSE.backings, "none"],
        "layers": [0, 1, 2, 3],
        "topping": ["film", "none"],
        "hoop": list(HOUSE.hoops),
        "hold": ["hoop", "float"],
        "thread": list(HOUSE.threads),
        "needle": list(HOUSE.needles),
        "bobbin": ["white", "black", "match", "nearest"],
        "bobbin_policy": ["run-out", "between-pieces"],
        "baste": [True, False],
        "knock_down": [True, False],
        "machine": list(HOUSE.machines),
        "second_backing": [*HOUSE.backings, "none"],
        "marking": ["pen", "crease", "tape", "template", "chalk", "jig"],
        "set_by": ["hoop-marks", "template"],
        "way": [0, 90, 180, 270],
    }
    methods = {key: pick(values) for key, values in options.items() if chance.random() < 0.25}
    placement = {"design": design, "methods": methods}
    if chance.random() < 0.1:
        placement["as_patch"] = True
        methods |= {"edge": pick(["border", "own", "raw"])} if chance.random() < 0.5 else {}
        methods |= {"fixing": pick(["press", "sew"])} if chance.random() < 0.5 else {}
    if chance.random() < 0.4:
        placement["position"] = pick(list(HOUSE.positions))
    if chance.random() < 0.3:
        placement["place"] = {"gap_mm": pick([0, 10, 40, 120]), "side_mm": pick([0, 15, 60])}
    if chance.random() < 0.2:
        placement["steps"] = [pick(STEPS) for _ in range(chance.choice([1, 1, 2, 4]))]
    line = {
        "goods": {"class": pick(list(HOUSE.goods)), "unit_cost": "4.00"},
        "quantity": pick([1, 5, 12, 40]),
        "placements": [placement],
        "digitising": "none",
        "finishing": pick([[], [], ["press"], ["pins"], ["press", "wash"]]),
    }
    if chance.random() < 0.1:
        line["unit_price"] = pick(["2.00", "9.00", "400.00"])
    if chance.random() < 0.2:
        line["sample"] = {"pieces": 0}
    job = {"format": "clothyard-job/1", "lines": [line]}
    if chance.random() < 0.2:
        job["tier_mode"] = "stepped"
    return job
