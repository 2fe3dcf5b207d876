"""Orders of any shape: always priced in full or refused by name, and their sums hold."""

import json
from decimal import Decimal

from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.house.check import default_house
from tests.conftest import price

HOUSE = default_house()
GOODS = sorted(HOUSE.goods)


def some(strategy):
    return st.none() | strategy


DESIGNS = st.one_of(
    st.fixed_dictionaries(
        {"stitches": st.integers(1, 60_000)},
        optional={
            "kind": st.sampled_from(["outline", "lettering", "mixed", "fill"]),
            "width_mm": st.floats(5, 400),
            "height_mm": st.floats(5, 400),
            "trims": st.integers(0, 40),
            "letter_height_mm": st.floats(2, 40),
            "repeat": st.booleans(),
        },
    ),
    st.fixed_dictionaries(
        {"text": st.sampled_from(["{name}", "Ada & Zoë", "Team {name}\nROW", "😀"])},
        optional={"height_mm": st.floats(4, 60), "face": st.just("plain")},
    ),
)
METHODS = st.fixed_dictionaries(
    {},
    optional={
        "backing": st.sampled_from([*sorted(HOUSE.backings)[:8], "none"]),
        "layers": st.integers(0, 3),
        "topping": st.sampled_from(["film", "none"]),
        "hoop": st.sampled_from(sorted(HOUSE.hoops)),
        "hold": st.sampled_from(["hoop", "float"]),
        "thread": st.sampled_from(sorted(HOUSE.threads)),
        "bobbin": st.sampled_from(["white", "black", "match"]),
        "bobbin_policy": st.sampled_from(["between-pieces", "run-out"]),
        "baste": st.booleans(),
        "knock_down": st.booleans(),
        "machine": st.sampled_from(sorted(HOUSE.machines)),
    },
)
LAYOUTS = st.one_of(
    st.just({}),
    st.fixed_dictionaries(
        {
            "band": st.fixed_dictionaries(
                {"length_mm": st.floats(50, 3000)},
                optional={
                    "gap_mm": st.floats(0, 40),
                    "closed": st.booleans(),
                    "fill": st.booleans(),
                },
            )
        }
    ),
    st.just({"together": {}}),
    st.just({"together": {"columns": 3, "rows": 2, "spacing_mm": 6}}),
    st.just({"split": {}}),
)
STEPS = st.lists(
    st.sampled_from(
        [
            {"do": "lay", "after_block": 0, "sheet": "fabric", "width_mm": 90, "height_mm": 70},
            {"do": "trim", "after_block": 1, "outline_mm": 300},
            {"do": "turn", "after_block": 1},
            {
                "do": "lay",
                "after_block": 1,
                "sheet": "felt-sheet",
                "width_mm": 300,
                "height_mm": 40,
                "side": "under",
                "grain": True,
                "web": "fusible-web",
                "precut": True,
                "outline_mm": 680,
                "per": "hooping",
            },
            {"do": "cut-out", "outline_mm": 400, "straight": True},
            {"do": "tie", "hardware": "ribbon", "width_mm": 150},
            {"do": "press", "after_block": 1},
            {"do": "insert", "after_block": 0, "hardware": "ring", "count": 2},
        ]
    ),
    max_size=3,
)


@st.composite
def placements(draw):
    place = {"design": draw(DESIGNS), "methods": draw(METHODS), "steps": draw(STEPS)}
    place |= draw(LAYOUTS)
    if turn := draw(st.sampled_from([0, 90, 180, 270])):
        place["place"] = {"turn": turn, "tilt_deg": draw(st.sampled_from([0, 12.5, -30]))}
    return place


@st.composite
def lines(draw):
    quantity = draw(st.integers(1, 60))
    line = {
        "goods": {
            "class": draw(st.sampled_from(GOODS)),
            "unit_cost": str(draw(st.integers(0, 4000)) / 100),
            "supplied_by": draw(st.sampled_from(["shop", "shop", "customer"])),
            "pack": draw(st.sampled_from([1, 6])),
        },
        "quantity": quantity,
        "placements": draw(st.lists(placements(), min_size=1, max_size=2)),
        "finishing": draw(st.lists(st.sampled_from(["press", "wash", "soak", "pins"]), max_size=2)),
        "digitising": draw(st.sampled_from(["none", "own", "supplier"])),
        "discount": draw(st.sampled_from(["0", "0.05"])),
    }
    names = draw(st.sampled_from([0, 0, 1, quantity // 2, quantity]))
    line["names"] = [draw(st.sampled_from(["Ada", "Bo", "", "Marmaduke"])) for _ in range(names)]
    return line


JOBS = st.fixed_dictionaries(
    {"format": st.just("clothyard-job/1"), "lines": st.lists(lines(), min_size=1, max_size=2)},
    optional={
        "margin": st.sampled_from(["0", "0.35", "0.8"]),
        "price_method": st.sampled_from(["margin", "stitch-rate", "hour-rate"]),
        "tier_mode": st.sampled_from(["smooth", "stepped"]),
        "currency": st.sampled_from(["GBP", "JPY", "KWD"]),
        "rush_days": st.integers(0, 9),
        "house": st.sampled_from(
            [
                {},
                {"terms": {"tax_rate": "0.2", "prices_include_tax": True}},
                {"thread_use": {"charge": "bought"}},
                {
                    "price": {
                        "set_up_shown": "line",
                        "digitising_shown": "spread",
                        "names_way": "letters",
                        "minimum_order": "80",
                    }
                },
                {"machines": {"compact-10": {"heads": 4, "needles": 2}}},
            ]
        ),
    },
)


@settings(max_examples=150)
@given(job=JOBS)
def test_any_order_is_priced(job):
    try:
        found = price(job, working=True, compare=False)
    except BadInput as refused:
        assert refused.where  # named by place, with what to do
        assert refused.remedy
        return
    assert Estimate.model_validate(json.loads(estimate_bytes(found))) == found
    for line in found.lines:
        parts = line.cost.model_dump()
        total = Decimal(parts.pop("total"))
        assert total == sum(Decimal(part) for part in parts.values())
        assert all(Decimal(part) >= 0 for part in parts.values())
        sums = {"goods": Decimal(0), "needle-thread": Decimal(0), "bobbin-thread": Decimal(0)}
        for material in line.materials:
            assert material.quantity >= 0
            if material.kind in sums:
                sums[material.kind] += Decimal(material.cost)
        assert sums["needle-thread"] == Decimal(line.cost.needle_thread)
        assert sums["bobbin-thread"] == Decimal(line.cost.bobbin_thread)
        assert Decimal(line.price.line) == Decimal(line.price.unit) * line.quantity
        assert line.per_piece.needle_m > 0
        assert line.working
        units = [Decimal(tier.unit) for tier in line.tiers]
        assert units == sorted(units, reverse=True)
        needle = sum(m.quantity for m in line.materials if m.kind == "needle-thread")
        assert needle >= line.per_piece.needle_m * line.quantity - 0.001 * (line.quantity + 9)
    charged = sum((Decimal(c.amount) for c in found.total.charges), Decimal(0))
    assert Decimal(found.total.price) == Decimal(found.total.lines) + charged
    tax = sum((Decimal(t.tax) for t in found.total.taxes), Decimal(0))
    assert Decimal(found.total.tax) == tax
    assert found.run.elapsed_min > 0
