"""Quotes over HTTP: revisions as ETags, problems, documents to save."""

import json

import pytest

from tests.conftest import STUCK, polos

URL = "/api/v1/quotes"


def make(client, **head):
    body = {"customer": "Orrin Hill Choir", "job": polos()} | head
    return client.post(URL, json=body)


def test_a_quote_from_draft_to_answer(client):
    made = make(client)
    assert (made.status_code, made.headers["etag"]) == (201, '"r1"')
    here = f"{URL}/{made.json()['id']}"
    body = {
        "customer": "Orrin Hill",
        "email": "choir@orrin.example",
        "job": polos(line__quantity=50),
    }
    saved = client.put(here, json=body, headers={"if-match": '"r1"'})
    assert (saved.headers["etag"], saved.json()["total"]) == ('"r2"', "735.00")
    assert saved.json()["estimate"]["lines"][0]["price"]["unit"] == "14.70"
    sent = client.post(f"{here}/send", headers={"if-match": '"r2"'})
    assert (sent.json()["state"], sent.json()["version"]) == ("sent", 1)
    paper = client.get(f"{here}/versions/1/quote")
    assert paper.headers["content-type"] == "application/pdf"
    assert paper.headers["content-disposition"] == 'attachment; filename="Q-0001-v1.pdf"'
    assert client.get(f"{here}/versions/2/quote").status_code == 404
    answered = client.post(
        f"{here}/answer", json={"answer": "accepted"}, headers={"if-match": sent.headers["etag"]}
    )
    assert answered.json()["state"] == "accepted"
    assert [v["answer"] for v in client.get(f"{here}/versions").json()["items"]] == ["accepted"]
    assert client.get(URL, params={"state": "accepted"}).json()["total"] == 1
    [mail] = client.get("/api/v1/outbox").json()["items"]
    assert "£735.00" in client.get(f"/api/v1/outbox/{mail['id']}").json()["body"]
    copy = client.post(f"{here}/copy").json()
    assert client.delete(f"{URL}/{copy['id']}").json()["deleted"]
    assert client.post(f"{URL}/{copy['id']}/restore").json()["deleted"] is False
    draft = client.post(f"{here}/revise", headers={"if-match": answered.headers["etag"]})
    assert draft.json()["state"] == "draft"


@pytest.mark.parametrize(
    ("if_match", "status", "code"),
    [
        (None, 428, "revision-needed"),
        ("r1", 422, "revision-bad"),
        ('"r9"', 412, "stale"),
        ('"r-1"', 422, "revision-bad"),
        ("*", 422, "revision-bad"),
    ],
)
def test_writes_say_what_they_have_seen(client, if_match, status, code):
    here = f"{URL}/{make(client).json()['id']}"
    headers = {"if-match": if_match} if if_match else {}
    for answer in (
        client.put(here, json={"customer": "x", "job": {}}, headers=headers),
        client.post(f"{here}/send", headers=headers),
    ):
        assert (answer.status_code, answer.json()["code"]) == (status, code)
    assert client.get(here).json()["customer"] == "Orrin Hill Choir"


def test_refusals_are_problems(client):
    here = f"{URL}/{make(client, job=polos(**STUCK)).json()['id']}"
    stopped = client.post(f"{here}/send", headers={"if-match": '"r1"'})
    assert (stopped.status_code, stopped.json()["code"]) == (409, "quote-stopped")
    assert "fits no hoop" in stopped.json()["detail"]
    assert client.get(f"{URL}/77").json()["code"] == "quote-unknown"
    assert client.get(f"{URL}/0").status_code == 422
    assert client.get(f"{URL}/x").status_code == 422
    assert make(client, customer="x" * 201).json()["where"] == "customer"
    assert make(client, due_on="soon").json()["where"] == "due_on"
    big = {"lines": [{"names": ["Ada"] * 90_000}]}
    assert make(client, job=big).json()["detail"] == "the job is too large to keep."


def test_a_save_can_answer_with_the_price_first_and_then_with_what_else_could_be_done(client):
    here = f"{URL}/{make(client).json()['id']}"
    body = {
        "customer": "Orrin Hill",
        "email": "choir@orrin.example",
        "job": polos(line__quantity=50),
    }
    steps = {"accept": "application/x-ndjson", "if-match": '"r1"'}
    answer = client.put(here, json=body, headers=steps, params={"others": 0})
    assert (answer.status_code, answer.headers["etag"]) == (200, '"r2"')
    first, whole = (json.loads(line) for line in answer.text.splitlines())
    others = [
        [m["others"] for m in view["estimate"]["lines"][0]["methods"] if m["others"]]
        for view in (first, whole)
    ]
    assert (others[0], len(others[1]) > 5) == ([], True)
    assert [view["estimate"]["machines"] != [] for view in (first, whole)] == [False, True]
    assert first["estimate"]["total"] == whole["estimate"]["total"]
    assert whole == client.get(here, params={"others": 0}).json()  # as one that opens it is told
    stale = client.put(here, json=body, headers=steps)
    assert (stale.status_code, stale.json()["code"]) == (412, "stale")
    begun = client.put(here, json={"job": {"lines": [{}]}}, headers=steps | {"if-match": '"r2"'})
    assert [json.loads(line)["estimate"] for line in begun.text.splitlines()] == [None]
    hidden = steps | {"if-match": '"r3"', "X-Costs": "hidden"}
    told = client.put(here, json=body, headers=hidden, params={"others": 0}).text.splitlines()
    costs = [json.loads(line)["estimate"]["lines"][0]["cost"].values() for line in told]
    assert [set(values) for values in costs] == [{"0.00"}, {"0.00"}]


def test_backups_over_http(client):
    make(client)
    backup = client.post("/api/v1/backups").json()
    make(client)
    assert client.post(f"/api/v1/backups/{backup['name']}/restore").status_code == 200
    assert client.get(URL).json()["total"] == 1
    assert len(client.get("/api/v1/backups").json()) == 2
    assert client.post("/api/v1/backups/other/restore").status_code == 404


def test_a_page_of_another_shop_or_of_before_a_restore_writes_nothing(client):
    made = make(client)
    here, opened = f"{URL}/{made.json()['id']}", made.headers["x-shop"]
    backup = client.post("/api/v1/backups", headers={"x-shop": opened}).json()
    client.put(here, json={"customer": "Since"}, headers={"if-match": '"r1"', "x-shop": opened})
    client.post(f"/api/v1/backups/{backup['name']}/restore", headers={"x-shop": opened})
    late = {"if-match": '"r1"', "x-shop": opened}  # the revision is the same again
    for answer in (
        client.put(here, json={"customer": "Late"}, headers=late),
        client.post(f"{here}/send", headers=late),
        client.delete(here, headers=late),
        client.put("/api/v1/standards/price.margin", json={"value": "0.5"}, headers=late),
    ):
        assert (answer.status_code, answer.json()["code"]) == (409, "another-shop")
        assert "kept in this browser" in answer.json()["remedy"]
    seen = client.get(here, headers=late)
    assert (seen.json()["customer"], seen.headers["x-shop"] != opened) == ("Orrin Hill Choir", True)
    assert client.put(
        here, json={"customer": "Now"}, headers=late | {"x-shop": seen.headers["x-shop"]}
    ).is_success


def test_no_answer_about_a_quote_tells_a_cost_while_costs_are_hidden(client):
    """Every route that answers with a quote, from draft to the same again, and what was sent."""
    client.headers["X-Costs"] = "hidden"

    def bare(answer):
        line = answer.json()["estimate"]["lines"][0]
        assert set(line["cost"].values()) == {"0.00"}
        assert line["price"]["margin"] == "0.0000"
        assert answer.json()["standards_changed"] == []
        return {"if-match": answer.headers["etag"]}

    made = make(client)
    here = f"{URL}/{made.json()['id']}"
    seen = bare(made)
    client.put("/api/v1/standards/rates.labour_per_h", json={"value": "31.50"})
    bare(client.get(here))
    seen = bare(client.post(f"{here}/send", headers=seen))
    seen = bare(client.post(f"{here}/revise", headers=seen))
    job = polos(goods__unit_cost="7.77") | {"margin": "0.41"}
    seen = bare(client.put(here, json={"customer": "Orrin", "job": job}, headers=seen))
    seen = bare(client.post(f"{here}/send", headers=seen))
    bare(client.post(f"{here}/answer", json={"answer": "accepted"}, headers=seen))
    bare(client.post(f"{here}/copy", params={"pieces": 12}))
    versions = client.get(f"{here}/versions")
    assert {d["kind"] for v in versions.json()["items"] for d in v["documents"]} == {
        "quote",
        "message",
        "tiers",
    }
    assert "7.77" not in versions.text
    assert "0.41" not in versions.text
    assert any(change.startswith("A piece:") for change in versions.json()["items"][0]["changes"])
    del client.headers["X-Costs"]
    shown = client.get(f"{here}/versions")
    assert "7.77" in shown.text
    assert "costing" in {d["kind"] for v in shown.json()["items"] for d in v["documents"]}
    client.put("/api/v1/standards/rates.labour_per_h", json={"value": "33"})
    assert "labour per h" in str(client.post(f"{here}/copy", params={"pieces": 9}).json())
