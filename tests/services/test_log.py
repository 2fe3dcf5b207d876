"""At the machine, the log, what it teaches and what pays: over the routes, with a real machine."""

import io
import json
import random
import time
from decimal import Decimal

import pytest
from PIL import Image

from clothyard.core.job.check import job_from
from clothyard.services.designs.library import keep_design
from clothyard.services.house.standards import change_standard, shop_house
from clothyard.services.log import learning
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes import estimates
from clothyard.services.sending import send as sending
from clothyard.standins.machine import SimulatedMachine, Truths, machine_app
from clothyard.standins.scale import SimulatedScale, scale_app
from clothyard.store import stock
from clothyard.store.log import list_events
from clothyard.store.standards import changed_standards
from tests.conftest import polos
from tests.services.test_orders import URL, put
from tests.standin import served

API = "/api/v1"
HEAD = {"customer": "Orrin Hill Choir", "email": "choir@orrin.example", "due_on": "2026-06-01"}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def ordered(shop, crest_files, quantity=6, **changes):
    """An accepted order of the crest on polos: its id."""
    sha256 = keep_design(shop, crest_files["dst"], "crest.dst").sha256
    usual = {"line__quantity": quantity, "placement__design": {"sha256": sha256}}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**HEAD, job=polos(**usual | changes)))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    return sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision).id


def opened(client, order):
    [row] = client.get(f"{URL}/{order}/passes").json()
    return f"{URL}/{order}/passes/{row['pass_id']}"


def let_go(client, order):
    """Approve the proof and pass the sample."""
    view = client.put(f"{URL}/{order}/proof", json={}).json()
    keys = [row["key"] for row in view["samples"]]
    put(client, view, state="ready", ready=keys)


_SECOND = iter(range(10**6))


def event(kind, piece="", *, id_=None, at=None, **data):
    n = next(_SECOND) if at is None else at
    return {
        "id": id_ or f"event-{n:06d}",
        "kind": kind,
        "piece": piece,
        "at": f"2026-05-04T{9 + n // 3600:02d}:{n // 60 % 60:02d}:{n % 60:02d}Z",
    } | data


def pressed(client, url, *events):
    found = client.post(f"{url}/events", json={"events": [*events]})
    assert found.status_code == 200, found.text
    return found.json()


def test_a_pass_of_six_with_a_break_a_spoiled_piece_and_a_bobbin(client, shop, crest_files):
    order = ordered(shop, crest_files)
    url = opened(client, order)
    view = client.get(url).json()
    assert view["held"] == "Its sample has not passed: Left chest."
    let_go(client, order)
    view = client.get(url).json()
    assert (view["held"], len(view["pieces"]), view["followed"]) == ("", 6, "")
    ids = [p["id"] for p in view["pieces"]]
    pressed(client, url, event("prepare", at=0), event("prepared", at=360))
    view = pressed(
        client,
        url,
        event("begun", ids[0], at=400),
        event("broke", ids[0], at=500),
        event("done", ids[0], at=900, needle_s=420.0),
    )
    assert [p["state"] for p in view["pieces"]][:2] == ["done", "waiting"]
    assert client.get(f"{URL}/{order}").json()["state"] == "in-work"
    view = pressed(client, url, event("spoiled", ids[1], at=1300, reason="pucker"))
    assert [p["state"] for p in view["pieces"]] == [
        "done",
        "spoiled",
        "waiting",
        "waiting",
        "waiting",
        "waiting",
        "waiting",
    ]  # a spare is made in its place
    taken = pressed(client, url, event("undo", of=view["last"]["id"], at=1310))
    assert [p["state"] for p in taken["pieces"]] == ["done"] + ["waiting"] * 5
    pressed(client, url, event("spoiled", ids[1], at=1320, reason="pucker"))
    for n, piece in enumerate([*ids[2:], f"{ids[1]}.2"]):
        view = pressed(
            client,
            url,
            event("begun", piece, at=1400 + n * 500),
            event("done", piece, at=1820 + n * 500, needle_s=420.0),
        )
    assert view["again"] == ""
    view = pressed(client, url, event("spoiled", ids[2], at=3890, reason="pucker"))
    assert view["again"].startswith("Puckered, 2 times.")
    view = pressed(client, url, event("undo", of=view["last"]["id"], at=3895))
    assert view["again"] == ""
    view = pressed(client, url, event("bobbin", at=3900), event("note", at=3901, text="soft cuffs"))
    assert (view["breaks"], view["bobbins"], view["notes"]) == (1, 1, ["soft cuffs"])
    assert sum(p["state"] == "done" for p in view["pieces"]) == 6
    found = client.get(f"{url}/log").json()["row"]
    assert (found["sewn"], found["spoiled"], found["reasons"]) == (7, 1, {"pucker": 1})
    assert found["seen"] == 6  # the machine told of six of them: its time is scaled to all
    assert found["actual"]["needle_s"] == pytest.approx(7 * 420)
    assert found["actual"]["hooping_s"] == 360
    assert found["actual"]["loading_s"] == pytest.approx(80 * 7)
    assert 0 < found["actual"]["bobbins"] < 1  # changed early: by what was sewn from it
    assert found["actual"]["bobbin_m"] is None
    found["threads"][0] |= {"grams_before": 500.0, "grams_after": 498.2}
    assert client.post(f"{url}/log", json=found).status_code == 201
    assert client.post(f"{url}/log", json=found).status_code == 422  # once
    [row] = client.get(f"{API}/log").json()["items"]
    assert row["row"]["source"] == "run"
    assert row["said"][-1] == "the machine saw 6 of 7: scaled"
    item = row["row"]["threads"][0]["item"]
    assert stock.on_hand(shop, [item])[item] == Decimal("-66.667")


def test_an_event_is_kept_once_however_often_it_arrives(client, shop, crest_files):
    order = ordered(shop, crest_files)
    let_go(client, order)
    url = opened(client, order)
    ids = [p["id"] for p in client.get(url).json()["pieces"]]
    written = [event("broke", ids[n % 6]) for n in range(60)]
    chance = random.Random(18)
    waiting, done = list(written), []
    for _ in range(200):  # the connection is cut before or after the server has them
        batch = waiting[: chance.randint(1, 6)]
        if batch and chance.random() < 0.7:
            pressed(client, url, *batch)
            if chance.random() < 0.5:  # the answer arrived: they are let go
                waiting, done = waiting[len(batch) :], done + batch
    if waiting:
        pressed(client, url, *waiting)
    kept = list_events(shop, order)
    assert [e.id for e in kept] == [e["id"] for e in written]
    assert client.get(url).json()["breaks"] == 60


@pytest.mark.parametrize(
    ("wrong", "code"),
    [
        ({"kind": "done", "piece": "none"}, "piece-unknown"),
        ({"kind": "spoiled", "piece": "l1-1"}, "missing"),
        ({"kind": "jumped", "piece": ""}, "bad-value"),
        ({"kind": "broke", "at": "yesterday"}, "bad-value"),
    ],
)
def test_what_cannot_have_happened_is_refused(client, shop, crest_files, wrong, code):
    order = ordered(shop, crest_files)
    url = opened(client, order)
    found = client.post(f"{url}/events", json={"events": [event("broke") | wrong]})
    assert (found.status_code, list_events(shop, order)) == (422, [])
    assert code in found.text


def test_a_machine_is_sent_started_followed_and_noticed(client, shop, crest_files):
    truths = Truths(slower=1.2, needle=1.1, breaks_1000=0.2, fill=0.06)
    machine = SimulatedMachine(3, truths)
    with served(machine_app(machine)) as address:
        change_standard(shop, "machines.compact-10.address", address)
        order = ordered(shop, crest_files)
        let_go(client, order)
        url = opened(client, order)
        piece = client.get(url).json()["pieces"][0]["id"]
        begin = {"piece": piece}
        assert "has no design" in client.post(f"{url}/machine/start", json=begin).text
        machine.take(crest_files["pes"], "another.pes")  # somebody loads another at its panel
        found = client.get(f"{url}/machine").json()
        assert found["wrong"] == ["Wrong design: it has another.pes, this pass sews crest.dst."]
        assert client.post(f"{url}/machine/start", json=begin).status_code == 409
        found = client.post(f"{url}/machine/design").json()
        assert (found["wrong"], found["state"]["design"]) == ([], "crest.dst")
        machine.assign([n % 10 + 1 for n in reversed(machine.needles)])
        assert "Wrong needles" in client.get(f"{url}/machine").json()["wrong"][0]
        client.post(f"{url}/machine/design")
        machine.times = 500
        assert client.post(f"{url}/machine/start", json=begin).json()["state"]["state"] == "sewing"
        kinds = []
        for _ in range(400):
            state = client.get(f"{url}/machine").json()["state"]
            if state["state"] == "stopped":
                kinds.append(state["why"])
                client.post(f"{url}/machine/press/go")
            if state["state"] == "ended":
                break
            time.sleep(0.02)
        assert state["state"] == "ended"
        assert {"break", "bobbin-out"} <= {*kinds}
        told = [e for e in machine.events if e.kind == "end"]
        assert told[0].run == f"{order}:{url.rpartition('/')[2]}:{piece}:1"
    found = client.get(f"{url}/machine").json()
    assert (found["state"], found["away"][:18]) == (None, "it does not answer")
    assert client.post(f"{url}/machine/press/go").status_code == 409


def test_a_cone_is_weighed_on_the_scale(client, shop):
    assert client.post(f"{API}/scale/weigh", json={}).status_code == 422
    machine = SimulatedMachine(3)
    with served(machine_app(machine, clock=False)) as address:
        with served(scale_app(SimulatedScale(2, address))) as scale:
            change_standard(shop, "devices.scale_address", scale)
            found = client.post(f"{API}/scale/weigh", json={"needle": 2}).json()
            assert found["grams"] == pytest.approx(machine.cones_g[1], abs=0.8)
            assert client.post(f"{API}/scale/weigh", json={"needle": 60}).status_code == 409
        assert client.post(f"{API}/scale/weigh", json={}).status_code == 409


def logged(client, order, sewn=6, known=True, **actual):
    [begun] = client.get(f"{URL}/{order}/to-log").json()
    row = begun["row"] | {"known": known}
    row["actual"] |= actual
    found = client.post(f"{API}/log", json={"order_id": order, "row": row})
    assert found.status_code == 201, found.text
    return found.json()


def factor(client, key):
    return next(f for f in client.get(f"{API}/learning").json() if f["key"] == key)


def test_what_is_logged_is_learnt_taken_told_and_undone(client, shop, crest_files):
    order = ordered(shop, crest_files)
    [begun] = client.get(f"{URL}/{order}/to-log").json()
    meant = begun["row"]["estimated"]
    logged(client, order, hooping_s=meant["hooping_s"] * 1.3, needle_s=meant["needle_s"] * 1.1)
    found = factor(client, "hooping")
    assert (found["jobs"], found["now"]) == (1, 1)
    assert found["value"] == pytest.approx(1.3 ** (1 / 5), rel=1e-3)
    before = quotes.find_quote(shop, order).estimate.total.price
    effects = client.get(f"{API}/learning/effects", params={"key": "hooping"}).json()
    [effect] = effects["quotes"]
    assert float(effect["cost_then"]) > float(effect["cost_now"])
    found = client.post(f"{API}/learning/taken", params={"key": "hooping"}).json()
    taken = next(f for f in found if f["key"] == "hooping")
    assert (taken["taken"], taken["can_undo"]) == (True, True)
    assert quotes.find_quote(shop, order).estimate.total.price == before  # what was sent stays
    told = estimates.price_job(shop, job_from(polos()), shop_house(shop), working=True)
    said = [i.source for line in told.lines for w in line.working for i in w.inputs]
    assert any("learnt from 1 job" in source for source in said)
    assert (
        effect["cost_then"]
        == client.get(f"{API}/learning/effects", params={"key": "hooping"}).json()["quotes"][-1][
            "cost_now"
        ]
    )
    found = client.request("DELETE", f"{API}/learning/taken", params={"key": "hooping"}).json()
    undone = next(f for f in found if f["key"] == "hooping")
    assert (undone["now"], undone["can_undo"]) == (1, False)
    assert changed_standards(shop) == {}


def test_what_puckered_moves_what_backings_carry(client, shop, crest_files):
    order = ordered(shop, crest_files)
    [begun] = client.get(f"{URL}/{order}/to-log").json()
    row = begun["row"] | {"known": True, "sewn": 60, "spoiled": 1, "reasons": {"pucker": 1}}
    assert client.post(f"{API}/log", json={"order_id": order, "row": row}).status_code == 201
    found = factor(client, "carries:pique-polo")
    assert found["value"] == pytest.approx(0.7917)
    assert "1 of 60 puckered" in found["said"]
    client.post(f"{API}/learning/taken", params={"key": "carries:pique-polo"})
    assert shop_house(shop).goods["pique-polo"].carries == pytest.approx(0.7917)
    client.request("DELETE", f"{API}/learning/taken", params={"key": "carries:pique-polo"})
    assert shop_house(shop).goods["pique-polo"].carries == 1


def test_a_factor_moves_by_itself_and_a_wild_row_is_asked_about(client, shop, crest_files):
    learning.move_by_itself(shop, "finishing", on=True)
    order = ordered(shop, crest_files)
    [begun] = client.get(f"{URL}/{order}/to-log").json()
    meant = begun["row"]["estimated"]["finishing_s"]
    row = logged(client, order, finishing_s=meant * 1.2)
    found = factor(client, "finishing")
    assert found["now"] == found["value"] > 1
    wild = row["row"]
    wild["actual"]["finishing_s"] = meant * 4
    row = client.put(f"{API}/log/{row['id']}", json=wild, headers={"If-Match": '"r1"'}).json()
    assert row["wild"] == ["finishing"]
    assert (factor(client, "finishing")["jobs"], factor(client, "finishing")["value"]) == (0, 1)
    asked = {"design": "crest.dst", "goods": "pique-polo"}
    assert client.get(f"{API}/last-time", params=asked).json() == []  # in doubt, it counts nowhere
    [paying] = client.get(f"{API}/pays").json()["rows"] or [None]
    assert paying is None or paying["logged"] == 0
    wild["confirmed"] = ["finishing"]
    row = client.put(f"{API}/log/{row['id']}", json=wild, headers={"If-Match": '"r2"'}).json()
    assert (row["wild"], factor(client, "finishing")["jobs"]) == ([], 1)
    wild["excluded"] = True
    client.put(f"{API}/log/{row['id']}", json=wild, headers={"If-Match": '"r3"'})
    assert factor(client, "finishing")["value"] == 1  # it leaves no trace
    history = client.get(f"{API}/log/{row['id']}/history").json()
    assert [was["revision"] for was in history] == [3, 2, 1]
    stale = client.put(f"{API}/log/{row['id']}", json=wild, headers={"If-Match": '"r1"'})
    assert stale.status_code == 412


@pytest.mark.parametrize("kind", ["csv", "xlsx", "json"])
def test_the_log_goes_out_and_comes_in_again(client, shop, crest_files, kind, tmp_path):
    order = ordered(shop, crest_files)
    logged(client, order, hooping_s=400.0, breaks=2, needle_m=123.4)
    path = "log-documents/log.json" if kind == "json" else f"log-lists/log.{kind}"
    data = client.get(f"{API}/{path}").content
    again = client.post(f"{API}/log-documents", files={"file": (f"log.{kind}", data)})
    assert again.json() == {"added": 0, "there": 1}  # it is this shop's own
    before = client.get(f"{API}/log").json()["items"][0]["row"]
    client.delete(f"{API}/log/1")
    for added in (1, 0):
        again = client.post(f"{API}/log-documents", files={"file": (f"log.{kind}", data)})
        assert again.json()["added"] == added
    after = client.get(f"{API}/log").json()["items"][0]["row"]
    assert after["actual"]["needle_m"] == pytest.approx(before["actual"]["needle_m"])
    assert after["actual"]["hooping_s"] == pytest.approx(400)
    assert (after["order"], after["sewn"], after["source"]) == ("Q-0001", 6, "imported")
    bad = client.post(f"{API}/log-documents", files={"file": ("l.csv", b"Finished;Sewn\nnever;3")})
    assert (bad.status_code, "line 2" in bad.text) == (422, True)


def test_a_photo_is_written_anew_without_what_the_camera_noted(client, shop, crest_files):
    order = ordered(shop, crest_files)
    picture = Image.new("RGB", (3000, 2000), "#7a3b1d")
    exif = Image.Exif()
    exif[0x010F] = "a maker"
    exif[0x0112] = 6  # lying on its side
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    found = client.post(f"{URL}/{order}/photos", files={"file": ("p.jpg", out.getvalue())})
    data = client.get(f"{API}/photos/{found.json()['photo']}.jpg").content
    with Image.open(io.BytesIO(data)) as kept:
        assert (kept.size, dict(kept.getexif())) == ((1067, 1600), {})
    for bad in (b"no photo", out.getvalue()[:400]):
        assert (
            client.post(f"{URL}/{order}/photos", files={"file": ("p.jpg", bad)}).status_code == 422
        )


def test_what_pays_and_what_a_price_list_should_change(client, shop, crest_files):
    for quantity in (1, 1, 24):
        order = ordered(shop, crest_files, quantity, line__unit_price="15.00")
        [begun] = client.get(f"{URL}/{order}/to-log").json()
        meant = begun["row"]["estimated"]
        logged(client, order, hooping_s=meant["hooping_s"] * 2, order_s=meant["order_s"])
    found = client.get(f"{API}/pays", params={"by": "size"}).json()
    assert [row["name"] for row in found["rows"]] == ["24 to 49 pieces", "single pieces"]
    single = next(row for row in found["rows"] if row["name"] == "single pieces")
    assert single["orders"] == 2
    assert single["reasons"][0]["reason"] == "hooping"
    assert float(single["cost"]) > float(single["quoted_cost"])
    [change] = [c for c in found["changes"] if c["size"] == "single pieces"]
    assert "lose" in change["said"]
    assert float(change["ask"]) > 15
    for by in ("order", "customer", "goods", "place", "method"):
        rows = client.get(f"{API}/pays", params={"by": by}).json()["rows"]
        assert sum(float(r["price"]) for r in rows) == pytest.approx(26 * 15)
    for kind in ("csv", "xlsx"):
        assert client.get(f"{API}/pays-lists/what-pays.{kind}").status_code == 200


def test_what_was_done_last_time_is_found_again(client, shop, crest_files):
    order = ordered(shop, crest_files)
    logged(client, order, hooping_s=600.0)
    asked = {"customer": "orrin hill choir", "design": "crest.dst", "goods": "pique-polo"}
    [found] = client.get(f"{API}/last-time", params=asked).json()
    assert found["alike"] == ["design", "goods", "customer"]
    assert (found["result"], found["row"]["methods"]["hoop"] != "") == ("6 good", True)
    assert client.get(f"{API}/last-time", params={"customer": "nobody"}).json() == []
    assert client.get(f"{API}/last-time", params={"goods": "pique-polo"}).json() == []


def test_the_log_and_what_it_teaches_from_the_command_line(
    client, shop, crest_files, run, tmp_path
):
    order = ordered(shop, crest_files)
    [begun] = client.get(f"{URL}/{order}/to-log").json()
    logged(client, order, hooping_s=begun["row"]["estimated"]["hooping_s"] * 1.5, breaks=1)
    folder = shop.folder
    code, out, _ = run("log", "--shop", folder)
    assert (code, "hooping 50 % longer" in out) == (0, True)
    code, out, _ = run("learn", "--shop", folder, "--json")
    found = {f["key"]: f for f in json.loads(out)["factors"]}
    assert found["hooping"]["value"] == pytest.approx(1.5 ** (1 / 5), rel=0.02)
    assert "hands.hooping = " in run("learn", "--shop", folder)[1]
    document = tmp_path / "log.json"
    assert run("log", "--shop", folder, "--out", document)[0] == 0
    code, out, _ = run("import", document, "--shop", folder)
    assert (code, out) == (0, "0 rows of the log added, 1 were there\n")
    assert run("log", "--shop", folder, "--out", tmp_path / "log.xlsx")[0] == 0
    assert run("log", "--shop", folder, "--out", tmp_path / "log.doc")[0] == 2


def test_who_is_erased_is_not_in_the_log_either(client, shop, crest_files):
    order = ordered(shop, crest_files)
    url = opened(client, order)
    out = io.BytesIO()
    Image.new("RGB", (40, 30), "#345678").save(out, "PNG")
    sent = client.post(f"{URL}/{order}/photos", files={"file": ("p.png", out.getvalue())})
    photo = sent.json()["photo"]
    let_go(client, order)
    pressed(client, url, event("photo", photo=photo), event("note", text="Orrin Hill Choir: rush"))
    row = logged(client, order, hooping_s=300.0)
    row["row"] |= {"note": "for Orrin Hill Choir", "photo": photo}
    client.put(f"{API}/log/{row['id']}", json=row["row"], headers={"If-Match": '"r1"'})
    own = row["row"] | {"order": "", "pass_id": "", "photo": "", "threads": []}
    client.post(f"{API}/log", json={"order_id": 0, "row": own})
    [customer] = client.get(f"{API}/customers").json()["items"]
    told = client.get(f"{API}/customers/{customer['id']}/personal.json").text
    assert "for Orrin Hill Choir" in told
    assert client.delete(f"{API}/customers/{customer['id']}").status_code == 200
    assert "Orrin" not in client.get(f"{API}/log-documents/log.json").text
    assert "Orrin" not in json.dumps([e.data for e in list_events(shop, order)])
    assert client.get(f"{API}/photos/{photo}.jpg").status_code == 404
    assert client.get(f"{API}/log").json()["total"] == 2  # what it took stays


def refused(client, url, *events, **more):
    found = client.post(f"{url}/events", json={"events": [*events]} | more)
    return found.status_code, found.json().get("code", "")


def test_a_piece_comes_off_once_whoever_presses(client, shop, crest_files):
    order = ordered(shop, crest_files)
    let_go(client, order)
    url = opened(client, order)
    ids = [p["id"] for p in client.get(url).json()["pieces"]]
    done = event("done", ids[0], person="Ben")
    pressed(client, url, done)
    pressed(client, url, done)  # the same press again is the same
    assert refused(client, url, event("done", ids[0])) == (409, "piece-off")
    told = client.post(f"{url}/events", json={"events": [event("done", ids[0])]}).json()
    assert "was done already by Ben" in told["detail"]
    assert refused(client, url, event("done", ids[1]), event("done", ids[1])) == (409, "piece-off")
    assert client.get(url).json()["events"] == 1  # nothing of that is kept
    pressed(client, url, event("done", ids[0], id_="m:machine:0001", needle_s=300.0))
    pressed(client, url, event("spoiled", ids[0], reason="pucker"))  # found later
    assert refused(client, url, event("done", ids[0])) == (409, "piece-off")
    again = event("done", ids[2])
    pressed(client, url, again)
    pressed(client, url, event("undo", of=again["id"]), event("done", ids[2]))


def test_presses_of_an_order_that_changed_since_are_asked_about(client, shop, crest_files):
    order = ordered(shop, crest_files)
    let_go(client, order)
    url = opened(client, order)
    view = client.get(url).json()
    ids, version = [p["id"] for p in view["pieces"]], view["version"]
    pressed(client, url, event("done", ids[0]))
    found = refused(client, url, event("done", ids[1]), version=version + 1)
    assert found == (409, "order-revised")
    put(client, client.get(f"{URL}/{order}").json(), state="cancelled")
    late = event("done", ids[1])
    assert refused(client, url, late, version=version) == (409, "order-cancelled")
    kept = client.post(f"{url}/events", json={"events": [late], "anyway": True})
    assert kept.status_code == 200
    assert [e.id for e in list_events(shop, order)][-1] == late["id"]
