"""The units of an order, the cautions at its machine, what its files are called."""

import pytest

from clothyard.core.errors import BadInput
from clothyard.core.estimate.make import work_of
from clothyard.core.house.check import build_house, default_house
from clothyard.core.job.check import job_from
from clothyard.core.plan.units import is_hooping, work_units
from clothyard.core.run.files import file_names, plain_letters
from clothyard.core.work.cautions import cautions_for
from tests.conftest import polos
from tests.core.random_jobs import random_job

HOUSE = default_house()


def work(document):
    return work_of(job_from(document, currency="GBP"), HOUSE, {})


def test_the_worked_orders_units_by_hand():
    """A sample and its look, 24 prepared, sewn at 10 + M a cycle beside hooping, then finished."""
    found = work(polos(line__sample={"pieces": 1, "wash": False}))
    units = {unit.id: unit for unit in work_units(found, HOUSE, waits=[("goods", "Goods", "")])}
    assert list(units) == [
        "goods",
        "l1.p1.sample.sample",
        "l1.p1.sample.look",
        "l1.p1.run.prepare",
        "l1.p1.run.sew",
        "l1.finish",
        "pack",
    ]
    run = next(p for p in found.passes if not p.sample)
    hoop = sum(t.total_s for t in run.tasks if is_hooping(t)) / 24
    a_cycle = max(10 + run.machine_s / 24, run.attend_s / 24 + hoop)
    sew = units["l1.p1.run.sew"]
    assert sew.elapsed_s == pytest.approx(24 * a_cycle)
    assert sew.person_s == pytest.approx(run.attend_s + 24 * hoop)
    assert units["l1.p1.sample.look"].person_s == 600
    assert units["pack"].person_s == 24 * 20
    assert units["l1.p1.sample.sample"].after == ("goods",)


def test_a_washed_sample_dries_and_so_do_washed_goods():
    units = work_units(work(polos(line__finishing=["wash"], line__sample={"pieces": 1})), HOUSE)
    dry = [unit.id for unit in units if unit.kind == "dry"]
    assert dry == ["l1.p1.sample.dry", "l1.dry"]
    assert all(unit.elapsed_s == 4 * 3600 for unit in units if unit.kind == "dry")


def test_a_sample_alone_is_washed_where_its_line_asks_for_it():
    found = work(polos(line__sample={"pieces": 1, "wash": True}))
    assert [u.kind for u in work_units(found, HOUSE, washed=["l1"])][:3] == [
        "sample",
        "dry",
        "look",
    ]


def test_units_hold_all_the_hands_and_come_after_what_they_wait_for():
    """Over random jobs: what hands do is somewhere, but for what is the plan's or the desk's."""
    import random

    chance = random.Random(16)
    for _ in range(40):
        try:
            found = work(random_job(chance))
        except BadInput:
            continue
        units = work_units(found, HOUSE)
        seen = set()
        for unit in units:
            assert set(unit.after) <= seen, unit
            seen.add(unit.id)
        own = {
            "thread-colour",
            "thread-head",
            "cap-driver",
            "customer",
            "customer-repeat",
            "customer-counter",
            "name",
        }
        tasks = [t for p in found.passes for t in p.tasks]
        tasks += [t for line in found.lines for t in line.tasks]
        hands = sum(t.total_s for t in [*tasks, *found.once] if t.task not in own)
        hands += sum(p.attend_s + (0 if p.sample else p.winding_s) for p in found.passes)
        looks = 600 * sum(1 for unit in units if unit.kind == "look")
        assert sum(unit.person_s for unit in units) == pytest.approx(hands + looks, rel=1e-6)


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"goods__class": "stuffed-toy"}, ["children under three", "Stay with it"]),
        (
            {"goods__class": "structured-cap", "placement__position": "cap-front"},
            ["Stay with it", "Eye protection"],
        ),
        ({"methods__hoop": "magnetic-125"}, ["pinch"]),
        ({"methods__hold": "float"}, ["adhesive"]),
        ({"line__finishing": ["press"]}, ["Irons"]),
        ({"goods__class": "work-vest"}, ["Protective wear"]),
    ],
)
def test_cautions_are_those_of_the_work(changes, said):
    found = work(polos(**changes))
    line = found.lines[0]
    told = " ".join(cautions_for(line, line.placements[0], HOUSE))
    assert "moving needle" in told
    assert all(words in told for words in said)
    plain = work(polos())
    told = " ".join(cautions_for(plain.lines[0], plain.lines[0].placements[0], HOUSE))
    assert not any(words in told for words in said)


def test_files_are_called_by_the_shops_pattern():
    row = {
        "order": "Q-0042",
        "line": "1",
        "place": "left-chest",
        "design": "Zoë's crest",
        "name": "Ada",
    }
    assert file_names([row, row], HOUSE.papers) == ["421LEFT-", "421LEFT2"]
    own = build_house(
        {"papers": {"file_pattern": "{design}_{name}", "file_letters": 20, "file_case": "lower"}}
    ).papers
    assert file_names([row], own) == ["zoescrest_ada"]
    assert plain_letters("Åse & Göße 5?") == "AseGosse5"
    wrong = build_house({"papers": {"file_pattern": "{customer}"}}).papers
    with pytest.raises(BadInput, match="stands for nothing"):
        file_names([row], wrong)
