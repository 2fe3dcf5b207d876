"""What customers ask for: before the seller until it is answered, whatever version follows."""

import pytest

from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.services.test_orders import URL, accepted, corrected, linked

API = "/api/v1"
HEAD = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "due_on": "2026-06-01"}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def asks(client, quote_id=1):
    return client.get(f"{API}/quotes/{quote_id}/asks").json()


def sent(shop, **changes):
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=polos(**changes)))
    return sending.send_quote(shop, draft.id, seen=draft.revision)


def again(shop, quote, **changes):
    """Revise a sent quote and send its next version."""
    draft = sending.revise_quote(shop, quote.id, seen=quote.revision)
    document = quotes.QuoteDocument(**HEAD, job=polos(**changes))
    saved = quotes.save_quote(shop, quote.id, document, seen=draft.revision)
    return sending.send_quote(shop, quote.id, seen=saved.revision)


def heard(client):
    today = client.get(f"{API}/today").json()
    return [row["text"] for s in today["sections"] if s["id"] == "heard" for row in s["rows"]]


def test_a_change_asked_for_stays_over_versions_and_its_answer_is_read(shop, client):
    quote = sent(shop)
    token = linked(client, quote.id)
    said = {"kind": "change", "name": "Io Quill", "words": "Navy, please, and three more."}
    assert client.post(f"{API}/customer/{token}/answer", json=said).status_code == 200
    [ask] = asks(client)
    assert (ask["kind"], ask["version"], ask["answered"]) == ("change", 1, "")
    newer = again(shop, quotes.find_quote(shop, quote.id), line__quantity=27)
    assert [a["answered"] for a in asks(client)] == [""]  # a later version never drops it
    assert any("asked for something" in text for text in heard(client))
    link = linked(client, newer.id)
    view = client.get(f"{API}/customer/{link}").json()
    assert view["asks"][0]["words"] == said["words"]
    assert any("27" in words for words in view["different"])
    at = f"{API}/quotes/{quote.id}/asks/{ask['id']}"
    refused = client.post(at, json={"answered": "declined"})
    assert (refused.status_code, "why not" in refused.text) == (422, True)
    told = client.post(at, json={"answered": "declined", "words": "Navy is sold out."}).json()
    assert told[0]["answered"] == "declined"
    assert client.post(at, json={"answered": "taken"}).status_code == 409
    assert not any("asked for something" in text for text in heard(client))
    became = client.get(f"{API}/customer/{link}").json()["asks"][0]
    assert (became["answered"], became["answer"]) == ("declined", "Navy is sold out.")


def test_an_older_link_leads_to_the_newer_version_until_another_is_made(shop, client):
    quote = sent(shop)
    ended = linked(client, quote.id)
    old = linked(client, quote.id)  # another link of the same version ends the one before
    again(shop, quotes.find_quote(shop, quote.id), line__quantity=30)  # by post, with its own link
    view = client.get(f"{API}/customer/{old}").json()
    assert (view["newer"], view["version"]) == (True, 2)
    assert client.get(f"{API}/customer/{ended}").status_code == 404
    another = linked(client, quote.id)  # it went to the wrong hands: only the new one opens
    assert client.get(f"{API}/customer/{another}").json()["newer"] is False
    assert client.get(f"{API}/customer/{old}").status_code == 404


def test_a_page_of_before_answers_nothing(shop, client):
    quote = sent(shop)
    old = linked(client, quote.id)
    again(shop, quotes.find_quote(shop, quote.id), line__quantity=30)
    answer = {"kind": "accepted", "name": "Io Quill", "agreed": True}
    for seen in ({}, {"version": 1}):  # a page of before it was replaced
        refused = client.post(f"{API}/customer/{old}/answer", json=answer | seen)
        assert (refused.status_code, refused.json()["code"]) == (409, "quote-newer")
    done = client.post(f"{API}/customer/{old}/answer", json=answer | {"version": 2})
    assert done.json()["state"] == "accepted"


def test_corrections_and_sentences_stay_until_each_is_answered(shop, client):
    accepted(shop, placement__design={"text": "{name}"}, line__names=["Ada", "Saoirse"])
    token = linked(client)
    names = [{"line": "l1", "n": 1, "to": "Saoirse B."}]
    answer = corrected(client, token, names=names, other="And three more, please.")
    assert answer.status_code == 200, answer.text
    assert [(a["kind"], a["words"]) for a in asks(client)] == [
        ("name", "Saoirse → Saoirse B."),
        ("sentence", "And three more, please."),
    ]
    seen = answer.json()["proof"]["said_on"]
    corrected(client, token, names=names, other="And four more, please.", seen=seen)
    assert [a["words"] for a in asks(client)][1:] == ["And four more, please."]  # said anew
    client.post(f"{URL}/1/corrections", json={"price": "agreed"})
    assert [(a["kind"], a["answered"]) for a in asks(client)] == [
        ("name", "taken"),
        ("sentence", ""),
    ]
    assert client.get(f"{URL}/1").json()["version"] == 2
    assert any("asked for something of Q-0001" in text for text in heard(client))


def version_of(shop, **changes):
    """Revise the accepted quote, send it, and note that it was accepted."""
    newer = again(shop, quotes.find_quote(shop, 1), **changes)
    return sending.answer_quote(shop, newer.id, "accepted", seen=newer.revision)


def test_a_customer_ticks_once_and_after_a_revision_only_what_changed(shop, client):
    named = {"placement__design": {"text": "{name}"}, "line__names": ["Ada", "Saoirse"]}
    accepted(shop, line__cells=[], **named)
    client.get(URL)
    assert corrected(client, linked(client)).json()["proof"]["state"] == "approved"
    version_of(shop, line__quantity=30, **named)
    view = client.get(f"{URL}/1").json()
    assert (view["version"], view["proof"]["state"]) == (2, "approved")  # nothing of it changed
    version_of(shop, **named | {"line__names": ["Ada", "Saoirse", "Orla"]})
    client.get(URL)
    proof = client.get(f"{API}/customer/{linked(client)}").json()["proof"]
    assert proof["state"] == "open"
    told = {row["name"]: row["approved"] for row in proof["lines"][0]["names"]}
    assert told == {"Ada": True, "Saoirse": True, "Orla": False}
    larger = {"text": "{name}", "height_mm": 14}
    version_of(shop, **named | {"placement__design": larger})
    proof = client.get(f"{URL}/1").json()["proof"]
    assert proof["state"] == "open"  # the names are set otherwise now: all are read again
    assert not any(row["approved"] for row in proof["lines"][0]["names"])


def test_the_seller_corrects_a_name_at_its_piece_and_that_name_alone_is_asked_again(shop, client):
    accepted(shop, line__names=["Ada", "Saoirse", "Ada"])
    client.get(URL)
    assert corrected(client, linked(client)).json()["proof"]["state"] == "approved"
    view = client.get(f"{URL}/1").json()
    paid = view["money"]["to_pay"]
    second = [p["id"] for p in view["piece_list"] if p["name"] == "Ada"][1]
    found = client.post(f"{URL}/1/names", json={"piece": second, "to": "  Adah "})
    assert found.status_code == 200, found.text
    view = found.json()
    assert (view["version"], view["money"]["to_pay"]) == (2, paid)
    names = {p["id"]: p["name"] for p in view["piece_list"] if p["name"]}
    assert names[second] == "Adah"  # the same piece, and no other
    assert sorted(names.values()) == ["Ada", "Adah", "Saoirse"]
    assert view["proof"]["state"] == "open"
    rows = view["proof"]["lines"][0]["names"]
    assert [row["name"] for row in rows if not row["approved"]] == ["Adah"]
    for body, status in (
        ({"piece": second, "to": " "}, 422),
        ({"piece": "none", "to": "Ada"}, 404),
        ({"piece": view["piece_list"][-1]["id"], "to": "Ada"}, 422),
    ):
        assert client.post(f"{URL}/1/names", json=body).status_code == status
