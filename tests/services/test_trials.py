"""Blanks compared by trial: what a good piece comes to, by hand."""

import pytest

from clothyard.core.estimate.usual import usual_materials
from clothyard.core.units import money_text
from tests.conftest import polos, price

URL = "/api/v1/trials"
CAP = {"goods": "structured-cap", "took": "stood firm", "minutes": 9, "tried": 4, "spoiled": 0}


def test_what_a_good_one_comes_to(client):
    """A minute is (16 + 5 + 2.50) ÷ 60. 4.80 + 9 min; 2.90 + 14 min with one of four lost."""
    firm = CAP | {"blank": "Firm panel", "price": "4.80", "materials": "0"}
    client.post(URL, json=firm).raise_for_status()
    soft = CAP | {"blank": "Low crown", "price": "£2.90", "minutes": "14", "spoiled": "1"}
    soft |= {"materials": "0"}
    found = client.post(URL, json=soft).json()
    assert [row["blank"] for row in found] == ["Firm panel", "Low crown"]
    # 4.80 + 3.525, half up; (2.90 + 5.4833) × 4 ÷ 3
    assert [row["good_cost"] for row in found] == ["8.33", "11.18"]
    assert [row["cheapest"] for row in found] == [True, False]
    none = client.put(f"{URL}/{found[1]['id']}", json=soft | {"spoiled": 4}).json()
    assert none[1]["good_cost"] == ""
    left = client.delete(f"{URL}/{found[0]['id']}").json()
    assert [(row["blank"], row["cheapest"]) for row in left] == [("Low crown", False)]


@pytest.mark.parametrize(
    ("change", "where"),
    [
        ({"spoiled": 5}, "spoiled"),
        ({"blank": ""}, "blank"),
        ({"minutes": "soon"}, "minutes"),
        ({"tried": 0}, "tried"),
    ],
)
def test_a_trial_that_cannot_be_is_refused(client, change, where):
    answer = client.post(URL, json=CAP | {"blank": "Any", "price": "1"} | change)
    assert answer.status_code == 422
    assert where in answer.text
    assert client.get(URL).json() == []


def test_unknown_trials_and_hidden_costs(client):
    assert client.delete(f"{URL}/t9").status_code == 404
    assert client.get(URL, headers={"X-Costs": "hidden"}).status_code == 403


def test_thread_backing_and_that_machines_minute_are_in_it(client):
    """9 min on the flat machine, 22.20 an hour: 3.33; 0.30 of thread and backing; 4.80 it."""
    flat = CAP | {"blank": "Firm panel", "price": "4.80", "materials": "0.30"}
    [row] = client.post(URL, json=flat | {"machine": "single-flat"}).json()
    assert row["good_cost"] == "8.43"
    [row] = client.put(f"{URL}/{row['id']}", json=flat | {"machine": "compact-10"}).json()
    assert row["good_cost"] == "8.63"


def test_unsaid_thread_and_backing_are_those_of_the_usual_crest(client, house):
    [row] = client.post(URL, json=CAP | {"blank": "Firm panel", "price": "4.80"}).json()
    assert row["stuff"] == money_text(usual_materials("structured-cap", house), "GBP")
    assert 0.05 < float(row["stuff"]) < 1
    assert usual_materials("no such class", house) == 0
    assert usual_materials("belt", house) > 0  # where the crest is too large, a small one


def test_what_was_spoiled_counts_with_what_is_usual(client):
    """1 of 4 with 3 % of 20 pieces: (1 + 0.6) ÷ 24."""
    soft = CAP | {"blank": "Low crown", "price": "2.90", "spoiled": 1}
    [row] = client.post(URL, json=soft).json()
    assert row["spoil"] == "0.0667"


def test_a_quote_takes_a_blank_with_its_minutes_and_what_was_spoiled_of_it():
    """What a piece takes beyond what is reckoned for its class is charged as handwork."""
    usual = price(polos(), compare=False).lines[0]
    reckoned = usual.per_piece
    slow = price(polos(goods__minutes=60), compare=False).lines[0]
    more = {m.label: m.seconds for m in slow.minutes}["More on this blank, as tried"]
    assert (
        60 * 60 - more < 60 * (reckoned.machine_min + reckoned.attend_min + reckoned.hand_min) * 1.3
    )
    assert slow.per_piece.hand_min == pytest.approx(reckoned.hand_min + more / 60, abs=0.02)
    quick = price(polos(goods__minutes=1), compare=False).lines[0]
    assert quick.cost == usual.cost  # no blank is quicker than its stitches
    spoiled = price(polos(goods__spoil="0.2"), compare=False).lines[0]
    assert spoiled.spares > usual.spares
    assert float(spoiled.cost.spoilage) > float(usual.cost.spoilage)


def test_lines_of_blanks_that_take_it_otherwise_are_no_batch():
    job = polos()
    job["lines"].append(polos(goods__spoil="0.2")["lines"][0])
    assert [line.batch for line in price(job, compare=False).lines] == [["l1"], ["l2"]]
