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
    "placements[0].stitches": lambda n, times: n * times,
    "placements[0].needle_wrap": lambda n, each: n * each / 1000,
    "placements[0].machine_time": lambda *events: sum(events),
    "placements[0].attend_time": lambda *events: sum(events),
    "cost.goods": lambda pieces, blank: pieces * blank,
    "hand_time": lambda *tasks: sum(tasks),
    "run.hand": lambda each, pieces: each * pieces,
    "cost.needle_thread.a_metre": lambda price, length, factor: price * factor / length,
    "cost.needle_thread": lambda pieces, metres, each: pieces * metres * each,
    "cost.bobbin_thread": lambda pieces, metres, ends, each, full: (
        (pieces * metres + ends) * each / full
    ),
    "cost.backing": lambda length, roll, metres: length * roll / metres / 1000,
    "cost.topping": lambda length, roll, metres: length * roll / metres / 1000,
    "cost.consumables": lambda floated, covered, adhesive, cover: (
        floated * adhesive + covered * cover
    ),
    "cost.machine": lambda seconds, rate: seconds / 3600 * rate,
    "cost.labour": lambda hand, attend, rate: (hand + attend) / 3600 * rate,
    "cost.set_up": lambda a, b, c, d, machine_s, hand_s, materials, machine, labour: (
        (a + b + c + d + hand_s) / 3600 * labour + machine_s / 3600 * machine + materials
    ),
    "run.set_up": lambda names, samples, once, share: names + samples + once * share,
    "cost.overhead": lambda hand, attend, set_up_s, rate: (hand + attend + set_up_s) / 3600 * rate,
    "cost.packing": lambda pieces, packing: pieces * packing,
    "remakes": lambda pieces, p: pieces * p / (1 - p),
    "repairs": lambda pieces, p, mended, each, rate: pieces * p * mended * each / 3600 * rate,
    "cost.spoilage": lambda lost, goods, taken, repairs: lost * (goods + taken) + repairs,
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
    assert price(polos()).lines[0].working == []


def test_spares_show_the_sizes_that_they_are_worked_out_of():
    sizes = [{"size": size, "quantity": 6} for size in "SML"]
    job = polos(line__quantity=18, line__cells=sizes)
    line = price(job, working=True).lines[0]
    [found] = [w for w in line.working if w.id == "spares"]
    said = {i.name: i.value for i in found.inputs}
    assert [said[f"pieces {size}"] for size in "SML"] == ["6", "6", "6"]
    assert sum(int(said[f"spare {size}"]) for size in "SML") == line.spares == int(found.value)
    assert said["confidence"] == "0.95"


OTHERS = [
    {"goods__class": "terry-towel", "line__sample": {"pieces": 2, "wash": True}},
    {"placement__design": {"text": "{name}"}, "line__names": ["Ada", "Bo"]},
    {"methods__bobbin": "match", "methods__machine": "single-flat"},
    {"goods__supplied_by": "customer", "goods__liability": "5", "line__discount": "0.02"},
    {"placement__band": {"length_mm": 600}, "methods__hold": "float"},
    {
        "line__hardware": [{"item": "snap", "count": 2}],
        "placement__steps": [
            {"do": "lay", "after_block": 0, "sheet": "fabric", "width_mm": 90, "height_mm": 70}
        ],
    },
]


@pytest.mark.parametrize("changes", [{}, *OTHERS])
def test_every_input_leads_down_to_facts_and_standards(changes):
    """What was worked out names its working, which is there; nothing leads round in a circle."""
    known = working(**changes)
    for entry in known.values():
        assert entry.text
        for item in entry.inputs:
            assert item.text
            assert (item.source == "worked out") == bool(item.of) or item.of in known, item
            assert not item.of or item.of in known, (entry.id, item.of)

    def depth(id_: str, above: tuple[str, ...] = ()) -> int:
        assert id_ not in above, above
        return 1 + max((depth(i.of, (*above, id_)) for i in known[id_].inputs if i.of), default=0)

    assert depth("price.unit") >= 6  # price, way, cost, thread, metres, bare, thickness


def test_figures_read_as_people_say_them():
    known = working(line__digitising="own")
    assert known["cost.labour"].text == "£35.24" or known["cost.labour"].text.startswith("£")
    assert known["run.machine"].text == "4 h 40 min"  # 24 x 700.61 s
    assert known["placements[0].machine_time"].text == "11 min 41 s"
    assert {i.name: i.text for i in known["cost.labour"].inputs}["labour"] == "£16.00 an hour"
    assert known["price.margin"].text.endswith(" %")


def test_a_standard_is_told_never_a_literal():
    """Winding, repairs and a name's length follow the house when it changes them."""
    house = {"tasks": {"wind-bobbin": {"seconds": 90}}, "spoilage": {"repair_share": 0.5}}
    known = working(job__house=house, methods__bobbin="match")
    assert [i.value for i in known["winding"].inputs if i.standard] == ["90"]
    [share] = [i for i in known["repairs"].inputs if i.standard == "spoilage.repair_share"]
    assert (share.value, share.source) == ("0.5", "the shop's own")
    named = polos(placement__design={"text": "{name}"}, job__house={"words": {"name_letters": 5}})
    [missing] = [a for a in price(named).lines[0].advice if a.code == "names-missing"]
    assert "5 letters of mean width" in missing.message


def test_sources_are_told():
    sources = {i.name: i.source for i in working()["placements[0].thickness"].inputs}
    assert sources == {
        "goods": "goods class",
        "backing layer": "house default",
        "layers": "method",
        "topping": "house default",
    }
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
        from clothyard.core.house.check import default_house, house_json

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
