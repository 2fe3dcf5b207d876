"""Blanks compared by trial: what a good piece comes to, by hand."""

import pytest

URL = "/api/v1/trials"
CAP = {"goods": "structured-cap", "took": "stood firm", "minutes": 9, "tried": 4, "spoiled": 0}


def test_what_a_good_one_comes_to(client):
    """A minute is (16 + 5 + 2.50) ÷ 60. 4.80 + 9 min; 2.90 + 14 min with one of four lost."""
    client.post(URL, json=CAP | {"blank": "Firm panel", "price": "4.80"}).raise_for_status()
    soft = CAP | {"blank": "Low crown", "price": "£2.90", "minutes": "14", "spoiled": "1"}
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
