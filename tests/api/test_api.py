"""HTTP: designs, estimates, standards; every error a problem; safety on every request."""

import json

import pytest

from clothyard.api.safety import MAX_BODY_BYTES
from clothyard.core.house.check import default_house
from clothyard.core.standards import all_standards
from clothyard.store.standards import changed_standards
from tests.conftest import polos

URL = "/api/v1/estimates"


def listed_standards(client):
    """Every standard, page after page."""
    found, cursor = [], ""
    while cursor is not None:
        page = client.get("/api/v1/standards", params={"cursor": cursor}).json()
        found, cursor = found + page["items"], page["next"]
    assert len(found) == page["total"] > 1500
    return found


def test_an_estimate_has_every_key(client):
    found = client.post(URL, json=polos(line__digitising="own")).json()
    assert list(found) == [
        "format",
        "currency",
        "sendable",
        "lines",
        "threads",
        "machines",
        "total",
        "run",
        "read",
    ]
    [line] = found["lines"]
    assert set(line) >= {
        "quantity",
        "per_piece",
        "pieces",
        "methods",
        "materials",
        "bobbins",
        "spares",
        "cost",
        "price",
        "tiers",
        "advice",
        "working",
    }
    assert (line["pieces"], line["working"]) == ([], [])
    assert found["run"]["elapsed_min"] > found["run"]["machine_min"]
    assert set(line["bobbins"]) == {
        "policy",
        "capacity_m",
        "pieces_per_bobbin",
        "count",
        "shelf_m",
        "waste_m",
        "ends",
        "by_colour",
    }
    assert set(line["methods"][0]) == {
        "placement",
        "key",
        "value",
        "source",
        "reason",
        "others",
    }
    assert set(found["total"]) == {
        "cost",
        "sure",
        "lines",
        "parts",
        "price",
        "charges",
        "kits",
        "taxes",
        "tax",
        "to_pay",
        "deposit",
    }
    assert found["run"]["basis"] == "closed-form"
    # money and shares are text, lengths and times numbers
    assert isinstance(line["price"]["unit"], str)
    assert isinstance(line["price"]["margin"], str)
    assert isinstance(line["per_piece"]["needle_m"], float)


def test_bobbin_ends_when_run_out(client):
    """16 pieces at 21.962 m, 93.5 m of a bobbin counted on: it ends in pieces 5, 9 and 13."""
    job = polos(methods__bobbin_policy="run-out", line__quantity=16)
    bobbins = client.post(URL, json=job).json()["lines"][0]["bobbins"]
    assert (bobbins["count"], bobbins["pieces_per_bobbin"]) == (4, 0)
    assert bobbins["ends"] == [
        {"piece": 5, "block": 1},
        {"piece": 9, "block": 2},
        {"piece": 13, "block": 3},
    ]


@pytest.mark.parametrize(
    ("body", "status", "code", "where"),
    [
        (b"{", 422, "not-json", ""),
        (json.dumps(polos(line__quantity=0)), 422, "out-of-range", "lines[0].quantity"),
        (json.dumps(polos(job__margin="1")), 422, "out-of-range", "margin"),
        (json.dumps(polos(goods__colour="x")), 422, "unknown-key", "lines[0].goods.colour"),
    ],
)
def test_problems(client, body, status, code, where):
    answer = client.post(URL, content=body)
    problem = answer.json()
    assert answer.headers["content-type"] == "application/problem+json"
    assert (answer.status_code, problem["code"], problem["where"]) == (status, code, where)
    assert problem["detail"]
    assert problem["kept"]


def test_a_job_names_designs_by_hash_only(client):
    job = polos()
    design = job["lines"][0]["placements"][0]
    design["design"] = {"sha256": "b" * 64}
    assert client.post(URL, json=job).status_code == 404
    design["design"] = {"file": "/etc/passwd"}
    answer = client.post(URL, json=job)
    assert (answer.status_code, answer.json()["code"]) == (422, "file-here")


def test_designs_are_kept_and_drawn(client, crest_files):
    sent = client.post("/api/v1/designs", files={"file": ("crest.vp3", crest_files["vp3"])})
    assert sent.status_code == 201
    sha256 = sent.json()["sha256"]
    assert client.get(f"/api/v1/designs/{sha256}").json() == sent.json()
    assert client.get("/api/v1/designs").json()["items"] == [sent.json()]
    path = client.get(f"/api/v1/designs/{sha256}/path").json()
    assert (path["width"], path["height"], len(path["blocks"])) == (582, 660, 4)
    assert client.get("/api/v1/designs/" + "c" * 64).status_code == 404
    assert client.get("/api/v1/designs/" + "c" * 64 + "/path").status_code == 404


def test_bad_uploads_are_told(client):
    for name, data, code in (
        ("a.dst", b"", "file-empty"),
        ("a.exe", b"x", "file-kind"),
        ("a.pes", b"x", "file-misnamed"),
        ("a.dst", b"0" * (21 * 1024 * 1024), "file-huge"),
    ):
        answer = client.post("/api/v1/designs", files={"file": (name, data)})
        assert (answer.status_code, answer.json()["code"], answer.json()["where"]) == (
            422,
            code,
            name,
        )
    assert client.post("/api/v1/designs").json()["where"] == "file"
    assert client.get("/api/v1/designs").json()["items"] == []


# standards ---------------------------------------------------------------------------------


def put(client, key, value):
    return client.put(f"/api/v1/standards/{key}", json={"value": value})


def test_every_default_is_on_the_page(client):
    listed = {s["key"]: s for s in listed_standards(client)}
    assert set(listed) == set(all_standards())
    polo = listed["goods.pique-polo.backing"]
    assert (polo["default"], polo["changed"], polo["of"]) == (
        "cut-away-medium",
        False,
        "Piqué polo",
    )
    assert "tear-away-medium" in polo["choices"]


def test_a_changed_standard_changes_prices_until_it_is_reset(client):
    def unit():
        return client.post(URL, json=polos()).json()["lines"][0]["price"]["unit"]

    assert unit() == "15.20"
    changed = put(client, "rates.labour_per_h", "32").json()
    assert (changed["value"], changed["changed"]) == ("32", True)
    # by hand: 236.76 + labour 34.72 + set-up 9.46 + spoilage 1.50, / 24 / 0.65 = 18.11
    assert unit() == "18.15"
    assert client.get("/api/v1/house").json()["rates"]["labour_per_h"] == "32"
    assert client.delete("/api/v1/standards/rates.labour_per_h").json()["changed"] is False
    assert unit() == "15.20"
    put(client, "price.margin", 0.5)
    put(client, "price.tiers", "1, 10 100")
    assert [t["quantity"] for t in client.post(URL, json=polos()).json()["lines"][0]["tiers"]] == [
        1,
        10,
        100,
    ]
    assert put(client, "price.margin", "0.350").json()["changed"] is False  # the default again
    assert client.delete("/api/v1/standards").json() == 1


@pytest.mark.parametrize(
    ("key", "value", "says"),
    [
        ("price.margin", "1", "out of range"),
        ("price.margin", "lots", "must be a number"),
        ("price.margn", "0.3", "unknown standard"),
        ("price.tiers", "1, two", "must be a number"),
        ("price.tiers", [], "at least 1 item"),
        ("price.tiers", 7, "list of quantities"),
        ("goods.pique-polo.backing", "felt", "unknown id"),
        ("goods.pique-polo.label", " ", "text"),
        ("goods.pique-polo.deep", "perhaps", "yes or no"),
        ("price.method", "guess", "unknown"),
        ("sample.pieces", "1.5", "out of range"),
    ],
)
def test_bad_standards_are_refused_and_not_kept(client, shop, key, value, says):
    answer = put(client, key, value)
    assert answer.status_code == 422
    assert says in answer.json()["detail"]
    assert changed_standards(shop) == {}


# safety ------------------------------------------------------------------------------------


def test_pages_assets_and_unknown_places(client):
    for path in ("/", "/quotes/new", "/workshop/standards"):
        page = client.get(path, headers={"accept": "*/*"})
        assert (page.status_code, "Clothyard" in page.text) == (200, True)
        assert page.headers["cache-control"] == "no-cache"
    asset = client.get("/assets/index-1.js")
    assert "immutable" in asset.headers["cache-control"]
    for path in ("/api/nothing", "/api/v1/nothing", "/assets/none.js", "/assets/..%2Findex.html"):
        answer = client.get(path)
        assert (answer.status_code, answer.json()["code"]) == (404, "not-found"), path
    assert client.get("/favicon.svg").status_code == 200
    assert client.post("/api/v1/nothing").status_code == 404
    assert client.patch("/api/v1/standards/price.margin").status_code == 405


def test_every_answer_is_dressed(client):
    for path in ("/", "/api/v1/about", "/api/nothing"):
        headers = client.get(path).headers
        policy = headers["content-security-policy"]
        assert "default-src 'none'" in policy
        assert "unsafe" not in policy
        assert headers["x-content-type-options"] == "nosniff"


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"host": "evil.example"}, 403),
        ({"host": "127.0.0.1.evil.example"}, 403),
        ({"host": ""}, 403),
        ({"host": "localhost:9"}, 200),
        ({"host": "[::1]:8642"}, 200),
        ({"origin": "http://evil.example"}, 403),
        ({"origin": "null"}, 403),
        ({"origin": "http://127.0.0.1:9999"}, 403),
        ({"origin": "http://127.0.0.1:8642"}, 200),
        ({"sec-fetch-site": "cross-site"}, 403),
        ({"sec-fetch-site": "same-site"}, 403),
        ({"sec-fetch-site": "same-origin"}, 200),
    ],
)
def test_who_may_ask(client, headers, status):
    answer = client.post(URL, json=polos(), headers=headers)
    assert answer.status_code == status
    reading = client.get("/api/v1/about", headers=headers).status_code
    assert reading == (403 if "host" in headers and status == 403 else 200)


def test_large_requests_are_refused_unread(client):
    told = client.post(URL, content=b"x", headers={"content-length": str(MAX_BODY_BYTES + 1)})
    assert (told.status_code, told.json()["code"]) == (413, "too-large")
    whole = client.post(URL, content=(b"0" * 1_000_000 for _ in range(24)))  # length not told
    assert whole.status_code == 413


def test_our_own_faults_are_problems_too(client, monkeypatch):

    from clothyard.services.workshop import backups

    monkeypatch.setattr(backups, "list_backups", lambda _: 1 / 0)
    answer = client.get("/api/v1/backups")
    assert (answer.status_code, answer.json()["code"]) == (500, "our-fault")
    assert "ZeroDivision" not in answer.text


def test_words_are_lettered(client):
    found = client.get("/api/v1/words", params={"text": "Zoë\nBest 😀", "height_mm": 15}).json()
    assert found["inspection"]["height_mm"] > 15 * 2.5
    assert found["lacking"] == "😀"
    sample = client.get("/api/v1/words/sample", params={"text": "Zoë", "kind": "exp"})
    assert sample.headers["content-disposition"] == 'attachment; filename="sample.exp"'
    kept = client.post("/api/v1/designs", files={"file": ("zoe.exp", sample.content)}).json()
    lettered = client.get("/api/v1/words", params={"text": "Zoë"}).json()
    runs = sum(len(block["runs"]) for block in lettered["path"]["blocks"])
    assert runs == lettered["inspection"]["trims"] + 1
    assert kept["inspection"]["stitches"] == lettered["inspection"]["stitches"]
    for params, where in (
        ({"text": " "}, "text"),
        ({"text": "Ada", "face": "plian"}, "face"),
        ({"text": "Ada", "height_mm": 0}, "height_mm"),
    ):
        refused = client.get("/api/v1/words", params=params)
        assert (refused.status_code, refused.json()["where"]) in {
            (422, where),
            (422, f"query.{where}"),
        }
    bad = client.get("/api/v1/words/sample", params={"text": "Ada", "kind": "xyz"})
    assert (bad.status_code, bad.json()["where"]) == (422, "kind")


def test_no_cost_is_answered_where_costs_are_hidden(client):
    """Two shops with other costs and the same typed price answer the same bytes."""
    hidden = {"X-Costs": "hidden"}
    answers = []
    for cost, labour in (("6.40", "16.00"), ("3.10", "31.00")):
        job = polos(
            goods__unit_cost=cost,
            line__unit_price="30.00",
            job__tiers=[24],
            line__digitising="none",
            job__house={"rates": {"labour_per_h": labour}},
        )
        answers.append(client.post(URL, json=job, headers=hidden).content)
    assert answers[0] == answers[1]
    found = json.loads(answers[0])
    assert found["lines"][0]["price"]["unit"] == "30.00"
    assert set(found["lines"][0]["cost"].values()) == {"0.00"}
    made = client.post("/api/v1/quotes", json={"customer": "A", "job": polos()}).json()
    at = f"/api/v1/quotes/{made['id']}"
    assert "9.8648" in client.get(at).text
    for answer in (
        client.get(at, headers=hidden),
        client.put(
            at, headers=hidden | {"If-Match": '"r1"'}, json={"customer": "A", "job": polos()}
        ),
    ):
        assert answer.status_code == 200
        assert answer.json()["estimate"]["lines"][0]["price"]["unit"] == "15.20"
        for told in ("9.8950", "236.76", "0.3505"):
            assert told not in answer.text


def test_a_shop_adds_its_own_hoop_and_takes_it_away(client):
    """A hoop of 90 × 90: it is then the smallest that fits 58 × 66, and the polo is sewn in it."""
    row = {"section": "hoops", "like": "100x100", "label": "Square 90"}
    added = client.post("/api/v1/standard-rows", json=row)
    assert added.status_code == 201
    assert {v["key"]: v["value"] for v in added.json()}["hoops.square-90.label"] == "Square 90"
    assert all(v["added"] and v["of"] == "Square 90" for v in added.json())
    for column, mm in (("field", "90"), ("opening", "100"), ("outer", "130")):
        for side in ("width", "height"):
            key = f"hoops.square-90.{column}_{side}_mm"
            assert client.put(f"/api/v1/standards/{key}", json={"value": mm}).json()["value"] == mm
    job = polos(design__width_mm=58, design__height_mm=66)
    [hoop] = [
        m
        for m in client.post("/api/v1/estimates", json=job).json()["lines"][0]["methods"]
        if m["key"] == "hoop"
    ]
    assert hoop["value"] == "square-90"
    assert client.get("/api/v1/house").json()["hoops"]["square-90"]["field_width_mm"] == 90
    listed = [s["key"] for s in listed_standards(client) if s["added"]]
    assert len(listed) == len(added.json())
    again = client.post("/api/v1/standard-rows", json=row).json()
    assert again[0]["key"].startswith("hoops.square-90-2.")
    for bad, where in (
        (row | {"section": "tasks"}, "section"),
        (row | {"like": "90x90"}, "like"),
        (row | {"label": "   "}, "label"),
    ):
        refused = client.post("/api/v1/standard-rows", json=bad)
        assert (refused.status_code, refused.json()["where"]) == (422, where)
    wide = client.put("/api/v1/standards/hoops.square-90.field_width_mm", json={"value": "-4"})
    assert wide.status_code == 422
    assert client.delete("/api/v1/standards/hoops.square-90.label").json()["code"] == "row-own"
    assert client.delete("/api/v1/standard-rows/hoops/100x100").status_code == 422
    for name in ("square-90", "square-90-2"):
        assert client.delete(f"/api/v1/standard-rows/hoops/{name}").status_code == 200
    assert client.get("/api/v1/house").json()["hoops"].keys() == default_house().hoops.keys()


def test_a_thread_of_the_shops_own_has_a_colour(client):
    row = {"section": "thread_shelf", "like": "navy", "label": "Harbour blue"}
    assert client.post("/api/v1/standard-rows", json=row).status_code == 201
    key = "/api/v1/standards/thread_shelf.harbour-blue.colour"
    for wrong in ("blue", "#12345", "#GGGGGG", 7):
        assert client.put(key, json={"value": wrong}).json()["code"] == "not-a-colour"
    assert client.put(key, json={"value": "#224466"}).json()["value"] == "#224466"
    assert client.get("/api/v1/house").json()["thread_shelf"]["harbour-blue"]["colour"] == "#224466"


def test_a_row_that_something_points_to_stays(client):
    kind = {"section": "bobbins", "like": "l-prewound", "label": "Big"}
    client.post("/api/v1/standard-rows", json=kind)
    client.put("/api/v1/standards/machines.compact-10.bobbin", json={"value": "big"})
    refused = client.delete("/api/v1/standard-rows/bobbins/big")
    assert (refused.status_code, "machines.compact-10.bobbin" in refused.text) == (422, True)
    # back to the defaults the row is the shop's own still, and nothing points to it
    client.delete("/api/v1/standards")
    assert "big" in client.get("/api/v1/house").json()["bobbins"]
    assert client.delete("/api/v1/standard-rows/bobbins/big").status_code == 200
    assert "big" not in client.get("/api/v1/house").json()["bobbins"]


def test_a_house_for_a_customers_eyes_holds_no_rate_and_no_price(client):
    client.post(
        "/api/v1/standard-rows", json={"section": "rolls", "like": "film-500", "label": "Own"}
    )
    shown = client.get("/api/v1/house").json()
    hidden = client.get("/api/v1/house", headers={"x-costs": "hidden"}).json()
    assert hidden.keys() == shown.keys()
    assert hidden["hoops"] == shown["hoops"]
    for section, column in (("rolls", "price"), ("machines", "rate_per_h"), ("putups", "price")):
        assert {float(row[column]) for row in hidden[section].values()} == {0.0}
        assert any(float(row[column]) for row in shown[section].values())
    assert float(hidden["price"]["margin"]) == float(hidden["rates"]["labour_per_h"]) == 0
