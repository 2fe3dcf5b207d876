"""Working: every figure can be recomputed by hand from what it lists."""

import math
from decimal import Decimal

import pytest

from tests.conftest import polos, price

RECOMPUTE = {
    "run.elapsed": lambda *parts: sum(parts),
    # id: how the inputs, in their order, make the value
    "placements[0].thickness": lambda goods, backing, layers, topping: (
        goods + layers * backing + topping
    ),
    "placements[0].needle_bare": lambda n, s, length, satin, t: (
        n * (length * (1 + 2 * s * satin) + 2 * t) / 1000
    ),
    "placements[0].bobbin_bare": lambda n, s, length, satin: (
        n * length * (1 - 2 * s * satin) / 1000
    ),
    "placements[0].needle": lambda bare, bends, trims, tails, f: (bare + bends + trims + tails) * f,
    "placements[0].bobbin": lambda bare, bends, trims, tails, f: (bare + bends + trims + tails) * f,
    "placements[0].bobbins": lambda pieces, use, fill, full, _changes: math.ceil(
        pieces / math.floor(fill * full / use)
    ),
    "placements[0].machine_time": lambda *events: sum(events),
    "placements[0].attend_time": lambda *events: sum(events),
    "hand_time": lambda *tasks: sum(tasks),
    "cost.goods": lambda pieces, blank: pieces * blank,
    "cost.needle_thread": lambda pieces, metres, each: pieces * metres * each,
    "cost.bobbin_thread": lambda bobbins, _metres, each: bobbins * each,
    "cost.backing": lambda length, roll, metres: length * roll / metres / 1000,
    "cost.topping": lambda length, roll, metres: length * roll / metres / 1000,
    "cost.consumables": lambda pieces, adhesive, cover: pieces * (adhesive + cover),
    "cost.machine": lambda seconds, rate: seconds / 3600 * rate,
    "cost.labour": lambda hand, attend, rate: (hand + attend) / 3600 * rate,
    "cost.set_up": lambda a, b, c, d, machine_s, hand_s, materials, machine, labour: (
        (a + b + c + d + hand_s) / 3600 * labour + machine_s / 3600 * machine + materials
    ),
    "cost.overhead": lambda labour_s, set_up_s, rate: (labour_s + set_up_s) / 3600 * rate,
    "cost.packing": lambda pieces, packing: pieces * packing,
    "cost.spoilage": lambda lost, goods, taken, repairs, _l: lost * (goods + taken) + repairs,
    "unit_cost": lambda *parts: sum(parts[:-1]) / parts[-1],
    "way.margin": lambda cost, margin, share, fixed: (cost + fixed / 24) / (1 - margin - share),
    "way.stitch_rate": lambda n, names, rate, least, goods, up, set_up: (
        max(least, n / 1000 * rate) + names + goods * (1 + up) + set_up / 24
    ),
    "way.hour_rate": lambda goods, up, materials, m_s, m, h_s, h: (
        goods * (1 + up) + (materials + m_s / 3600 * m + h_s / 3600 * h) / 24
    ),
    "price.unit": lambda raw, step: math.ceil(raw / step) * step,
    "price.margin": lambda cost, unit: 1 - cost / unit,
    "charge": lambda cost, margin, fees: round(cost / (1 - margin - fees), 2),
}


def working(**changes):
    entries = price(polos(**changes), working=True).lines[0].working
    assert len({entry.id for entry in entries}) == len(entries)
    return {entry.id: entry for entry in entries}


@pytest.mark.parametrize("figure", RECOMPUTE)
def test_figures_follow_from_their_inputs(figure):
    entry = working(line__digitising="own")[figure]
    inputs = [float(item.value) for item in entry.inputs]
    assert RECOMPUTE[figure](*inputs) == pytest.approx(float(entry.value), rel=2e-5, abs=2e-5)
    assert all(item.source for item in entry.inputs)


def test_every_shown_figure_has_its_working():
    """Costs, prices, metres, minutes, bobbins, spares: all are there."""
    line = price(polos(), working=True).lines[0]
    known = working()
    for name, amount in line.cost.model_dump().items():
        if name not in {"total", "sheet_goods"}:
            assert Decimal(known[f"cost.{name}"].value) == pytest.approx(
                Decimal(amount), abs=Decimal("0.005")
            )
    assert float(known["placements[0].needle"].value) == line.per_piece.needle_m
    assert float(known["spares"].value) == line.spares
    assert known["price.unit"].value == "15.2"
    assert set(known) - set(RECOMPUTE) == {
        "placements[0].backing_cut", "placements[0].topping_cut", "placements[0].needle_time",
        "practice", "spoil", "spares",
    }  # fmt: skip
    assert price(polos()).lines[0].working == []


def test_sources_are_told():
    sources = {i.name: i.source for i in working()["placements[0].thickness"].inputs}
    assert sources == {
        "goods": "goods class", "backing layer": "house default", "layers": "method",
        "topping": "house default",
    }  # fmt: skip
    own = working(job__house={"rates": {"labour_per_h": "20"}})["cost.labour"].inputs[-1]
    assert (own.value, own.unit, own.source) == ("20", "GBP/h", "the shop's own")


@pytest.mark.parametrize(
    "changes",
    [
        {"methods__bobbin": "match"},
        {"methods__bobbin_policy": "run-out"},
        {"goods__class": "scarf"},
        {"methods__machine": "single-flat"},
        {"goods__supplied_by": "customer"},
        {"line__unit_price": "14.00"},
        {"design__kind": "lettering", "design__letter_height_mm": 10.0},
        {"job__house": {"machines": {"compact-10": {"bobbin": "l-wound"}}}},
        {"job__house": {"goods": {"sash": {"label": "Sash"}}}, "line__quantity": 3},
    ],
)
def test_workings_of_other_makings_are_complete(changes):
    if "sash" in str(changes):
        from clothyard.core.house import default_house, house_json

        changes["job__house"]["goods"]["sash"] = house_json(default_house())["goods"]["scarf"]
        changes["goods__class"] = "sash"
    known = working(**changes)
    parts = [
        float(entry.value)
        for name, entry in known.items()
        if name.startswith("cost.") and name.count(".") == 1
    ]
    pieces = changes.get("line__quantity", 24)
    assert sum(parts) / pieces == pytest.approx(float(known["unit_cost"].value), abs=1e-4)
