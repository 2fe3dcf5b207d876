"""The plan of open orders over HTTP, and when a quote could be ready."""

import pytest

from clothyard.services import quotes
from clothyard.services.standards import change_standard
from tests.conftest import polos
from tests.services.test_orders import HEAD, URL, accepted, moved, passes, put
from tests.services.test_shelf import API, NAVY, booked


@pytest.fixture(autouse=True)
def _a_monday_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def plan(client):
    return {row["number"]: row for row in client.get(f"{API}/plan").json()["orders"]}


def promised(client, quote_id):
    return client.get(f"{API}/quotes/{quote_id}/promise").json()


def test_orders_are_planned_by_what_holds_them(client, shop):
    HEAD["due_on"] = "2026-06-01"
    accepted(shop)
    row = plan(client)["Q-0001"]
    assert row["why"] == "waits for the proof until 6 May 2026"  # two days, without a date
    assert (row["begin_day"], row["end_day"], row["late_days"]) == ("2026-05-06", "2026-05-06", 0)
    client.put(f"{URL}/1/proof", json={})
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-04"
    booked(client, NAVY, "received", 1)  # from now on the shelf is kept: 22 polos lack
    row = plan(client)["Q-0001"]
    assert row["why"] == "waits for goods or materials until 11 May 2026"
    assert row["begin_day"] == "2026-05-11"  # five working days of the supplier's
    change_standard(shop, "suppliers.any.works", "mon tue wed thu fri sat")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-11"  # here on Saturday; nobody works
    change_standard(shop, "people.maker.sat", "9-15")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-09"
    change_standard(shop, "week.closed", "2026-05-09, 2026-05-11")
    assert plan(client)["Q-0001"]["begin_day"] == "2026-05-12"


def test_what_is_sewn_is_done_and_what_is_finished_is_not_planned(client, shop):
    accepted(shop)
    client.put(f"{URL}/1/proof", json={})
    passes(client)

    def minutes():
        strips = client.get(f"{API}/plan").json()["strips"]
        return sum(s["end_h"] - s["begin_h"] for s in strips if s["kind"] == "sew")

    whole = minutes()
    moved(client, [f"l1-{n}" for n in range(1, 13)], ["waiting"], "sewn")
    assert minutes() == pytest.approx(whole / 2, abs=0.05)
    put(client, client.get(f"{URL}/1").json(), state="done")
    assert client.get(f"{API}/plan").json()["orders"] == []


def test_a_late_order_is_told_and_one_that_never_ends(client, shop, run):
    accepted(shop, promised_on="2026-05-04", line__quantity=400, line__names=[], line__cells=[])
    client.put(f"{URL}/1/proof", json={})
    row = plan(client)["Q-0001"]
    assert row["late_days"] > 0
    assert row["why"].startswith(f"{row['late_days']} day")
    for day in ("mon", "tue", "wed", "thu", "fri"):
        change_standard(shop, f"people.maker.{day}", "-")
    assert client.get(f"{API}/plan").json()["over"] == ["Q-0001"]
    shop.close()
    code, out, _ = run("plan", "--shop", shop.folder)
    assert (code, "does not end within four months" in out) == (0, True)


def test_a_quote_says_by_when_it_could_be_ready(client, shop):
    head = HEAD | {"due_on": "2026-05-04"}
    job = polos(design__stitches=30_000)
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    alone = promised(client, draft.id)
    assert alone["orders"] == 0
    assert "2026-05-04" < alone["likely"] <= alone["safe"]
    [tight] = alone["advice"]
    assert tight["code"] == "date-tight"
    assert tight["message"].startswith("It is wanted by 4 May 2026. It can be ready by ")
    accepted(shop, line__quantity=200, line__names=[], line__cells=[])
    client.put(f"{URL}/2/proof", json={})
    behind = promised(client, draft.id)
    assert (behind["orders"], behind["likely"] > alone["likely"]) == (1, True)
    later = quotes.create_quote(
        shop, quotes.QuoteDocument(**HEAD | {"due_on": behind["safe"]}, job=job)
    )
    assert promised(client, later.id)["advice"] == []
    begun = quotes.create_quote(shop, quotes.QuoteDocument(customer="x", job={}))
    assert promised(client, begun.id)["likely"] == ""
