"""The command line: exit codes, one line of complaint, the same bytes as over HTTP."""

import json
import socket
import sqlite3
import subprocess
import sys
from contextlib import closing
from pathlib import Path

import pytest

from clothyard.cli import house as house_commands
from clothyard.cli.common import free_port
from clothyard.core.errors import BadInput
from clothyard.demo.hand import MACHINE, MACHINE_ADDRESS, SCALE, has_devices, use_standins
from clothyard.services.house.standards import change_standard, shop_house
from clothyard.store.migrate import newest_step
from clothyard.store.shop import Shop
from tests.conftest import STUCK, polos
from tests.core.test_orders import LINES, order
from tests.kept import set_standards


@pytest.fixture
def crest(tmp_path: Path, crest_files) -> Path:
    path = tmp_path / "crest.pes"
    path.write_bytes(crest_files["pes"])
    return path


def test_inspect(run, crest):
    code, out, err = run("inspect", crest, "--json")
    found = json.loads(out)
    assert (code, err) == (0, "")
    assert set(found) == {
        "format",
        "stitches",
        "colour_changes",
        "trims",
        "jumps",
        "stops",
        "width_mm",
        "height_mm",
        "needle_m",
        "bobbin_m",
        "longest_stitch_mm",
        "blocks",
    }
    assert found["format"] == "clothyard-design/1"
    assert set(found["blocks"][0]) == {
        "index",
        "colour",
        "stitches",
        "needle_m",
        "bobbin_m",
        "trims",
    }
    _, thick, _ = run("inspect", crest, "--json", "--thickness", "1.3")
    more = json.loads(thick)["needle_m"] - found["needle_m"]
    assert more == pytest.approx(2 * 0.5 * found["stitches"] / 1000, abs=1e-3)
    _, words, _ = run("inspect", crest)
    assert "58.2 × 66 mm" in words
    _, inches, _ = run("inspect", crest, "--imperial")
    assert "2 5/16 × 2 5/8 in" in inches
    yards = float(inches.split("needle ")[1].split(" yd")[0])
    assert yards * 0.9144 == pytest.approx(found["needle_m"], abs=0.001)


def test_words(run, tmp_path):
    out = tmp_path / "zoe.dst"
    code, said, err = run("words", "Zoë & Ada", "--height", "15", "--out", out, "--json")
    assert (code, err) == (0, "")
    found = json.loads(said)
    _, read, _ = run("inspect", out, "--json")
    assert json.loads(read)["stitches"] == found["stitches"]
    _, text, _ = run("words", "Ada 😀")
    assert "the lettering lacks: 😀" in text
    assert run("words", "Ada", "--out", tmp_path / "ada.doc")[0] == 2
    assert run("words", "Ada", "--height", "0.1") == (
        2,
        "",
        "height_mm: 0.1 mm is out of range. Enter 1 to 500 mm.\n",
    )


def test_a_large_order_is_the_same_by_every_road(run, job_file, client):
    job = order(*LINES, house={"thread_use": {"charge": "bought"}})
    _, out, _ = run("estimate", job_file(job), "--json", "--working")
    answer = client.post("/api/v1/estimates?working=full", json=job)
    assert answer.content == out.encode()
    _, text, _ = run("estimate", job_file(job))
    assert "60 pieces" in text


def test_estimate_is_the_same_by_every_road(run, job_file, client, shop, crest, crest_files):
    _, out, _ = run("estimate", job_file(polos()), "--json")
    assert client.post("/api/v1/estimates", json=polos()).content == out.encode()
    _, full, _ = run("estimate", job_file(polos()), "--json", "--working")
    answer = client.post("/api/v1/estimates?working=full", json=polos())
    assert answer.content == full.encode() != out.encode()
    # a design by its file here, by its hash there
    job = polos()
    placement = job["lines"][0]["placements"][0]
    placement["design"] = {"file": crest.name}
    _, by_file, _ = run("estimate", job_file(job), "--json")
    sent = client.post("/api/v1/designs", files={"file": ("crest.pes", crest_files["pes"])})
    placement["design"] = {"sha256": sent.json()["sha256"]}
    by_hash = client.post("/api/v1/estimates", json=job)
    assert by_hash.content == by_file.encode()
    _, by_shop, _ = run("estimate", job_file(job), "--json", "--shop", shop.folder)
    assert by_shop == by_file


def test_estimate_in_words(run, job_file):
    code, out, _ = run("estimate", job_file(polos(**STUCK, line__digitising="own")))
    assert code == 0
    assert "stop: 150 × 60 mm" in out
    assert "Digitising: 28.43" in out


def test_a_stop_is_no_error(run, job_file):
    code, out, err = run("estimate", job_file(polos(**STUCK)), "--json")
    assert (code, err, json.loads(out)["sendable"]) == (0, "", False)


@pytest.mark.parametrize(
    ("arguments", "says"),
    [
        (["inspect", "{tmp}/none.dst"], "none.dst: cannot be opened"),
        (["inspect", "{tmp}"], "cannot be opened"),
        (["inspect", "{tmp}/empty.dst"], "empty.dst: the file is empty."),
        (["inspect", "{tmp}/empty.dst", "--thickness", "-1"], "the file is empty"),
        (["inspect", "{tmp}/crest.pes", "--thickness", "-1"], "thickness: -1 mm is out of range"),
        (["inspect", "{tmp}/crest.pes", "--thickness", "thick"], "valid number"),
        (["inspect"], "Missing argument"),
        (["bogus"], "No such command"),
        (["estimate", "{tmp}/bad.json"], "lines[0].quantity: 0 is out of range."),
        (["estimate", "{tmp}/empty.dst"], "not readable as JSON"),
        (["estimate", "{tmp}/lost.json"], "cannot be opened"),
        (["standards", "--shop", "{tmp}/nowhere"], "no such folder"),
        (["serve", "--host", "0.0.0.0", "--shop", "{tmp}/s"], "own address"),
        (["demo", "--folder", "{tmp}"], "not the sample shop"),
    ],
)
def test_bad_input_is_one_line(run, tmp_path, crest, arguments, says):
    (tmp_path / "empty.dst").write_bytes(b"")
    (tmp_path / "bad.json").write_text(json.dumps(polos(line__quantity=0)))
    lost = polos()
    lost["lines"][0]["placements"][0]["design"] = {"file": "gone.dst"}
    (tmp_path / "lost.json").write_text(json.dumps(lost))
    code, out, err = run(*(a.replace("{tmp}", str(tmp_path)) for a in arguments))
    assert (code, out) == (2, "")
    assert says in err
    assert err.count("\n") == 1


def test_our_own_faults_are_told_apart(run, monkeypatch):
    def _break(*_):
        raise ZeroDivisionError("by us")

    monkeypatch.setattr(house_commands, "default_house", _break)
    assert run("standards", "--json") == (1, "", "Our fault: ZeroDivisionError: by us\n")


def test_standards(run, tmp_path):
    _, out, _ = run("standards", "--json")
    house = json.loads(out)
    assert house["format"] == "clothyard-house/1"
    assert house["price"]["margin"] == "0.35"
    assert house["goods"]["pique-polo"]["thickness_mm"] == 0.8
    shop = Shop(tmp_path / "s")
    set_standards(shop, {"price.margin": "0.42"})
    _, own, _ = run("standards", "--json", "--shop", tmp_path / "s")
    assert json.loads(own)["price"]["margin"] == "0.42"
    _, listed, _ = run("standards", "--shop", tmp_path / "s")
    assert "price.margin = 0.42 [share] What is left" in listed


def test_a_taken_port_is_told(run, tmp_path, monkeypatch):
    import socket

    with socket.create_server(("127.0.0.1", 0)) as taken:
        port = taken.getsockname()[1]
        code, _, err = run("serve", "--shop", tmp_path / "s", "--port", port)
    assert (code, f"port {port} is taken" in err) == (2, True)


def test_the_command_is_installed():
    found = subprocess.run(
        [Path(sys.executable).parent / "clothyard", "--help"],
        capture_output=True,
        text=True,
        check=True,
    )
    assert "estimate" in found.stdout
    assert issubclass(BadInput, Exception)


def test_the_work_of_a_job(run, job_file, client):
    """What is done, without money: the same bytes as over HTTP; one line of complaint."""
    path = job_file(polos())
    code, out, err = run("work", path, "--json")
    assert (code, err) == (0, "")
    assert json.loads(out)["format"] == "clothyard-work/1"
    assert client.post("/api/v1/work", json=polos()).content.decode() == out
    code, words, _ = run("work", path)
    assert "pass l1.p1.run on compact-10: 24 of l1.p1, 24 cycles, machine 4 h 40 min" in words
    code, out, err = run("work", job_file(polos(line__quantity=0)))
    assert (code, out) == (2, "")
    assert "lines[0].quantity" in err


def test_get_ready_says_what_a_job_needs(run, job_file):
    code, out, err = run("get-ready", job_file(polos(line__digitising="none")))
    assert (code, err) == (0, "")
    assert "blank    Piqué polo, sizes not said: 26 pieces; 26 × each covers it" in out
    assert "27 pieces of 180 × 180 mm" in out
    assert "hoops    100 × 100" in out
    code, out, _ = run("get-ready", job_file(polos(methods__bobbin="match")), "--json")
    ready = json.loads(out)
    assert {row["colour"] for row in ready["wind"]} == {"colour 1", "colour 2", "colour 3"}
    assert [row["kind"] for row in ready["needs"]][:2] == ["blank", "thread"]
    code, out, err = run("get-ready", job_file({"format": "clothyard-job/1"}))
    assert (code, out) == (2, "")


def test_a_name_that_is_too_long_is_told_in_a_line(run, tmp_path):
    code, out, err = run("orders", "--shop", tmp_path / ("x" * 900))
    assert (code, out, err.count("\n")) == (2, "", 1)
    assert "too long" in err


@pytest.mark.parametrize("step", ["0003", newest_step()])
def test_a_database_of_something_else_is_no_shop_whatever_step_it_says(run, tmp_path, step):
    with closing(sqlite3.connect(tmp_path / "shop.sqlite3")) as other, other:
        other.execute("CREATE TABLE alembic_version (version_num TEXT)")
        other.execute("INSERT INTO alembic_version VALUES (?)", (step,))
        other.execute("CREATE TABLE quote (id)")
    code, out, err = run("orders", "--shop", tmp_path)
    assert (code, out) == (2, "")
    assert "not a shop: it is a database of something else" in err


def test_stand_ins_of_two_sample_shops_never_share_a_port(tmp_path, shop):
    """A port that is taken is another shop's: the next one is free, and the shop is told of it."""
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        taken = other.getsockname()[1]
        assert free_port(taken) != taken
    assert free_port(taken) == taken
    use_standins(shop, {SCALE: "http://127.0.0.1:9001"})  # it has none: it keeps none
    assert shop_house(shop).devices.scale_address == "-"
    has_devices(shop)
    use_standins(shop, {SCALE: "http://127.0.0.1:9001", MACHINE: MACHINE_ADDRESS})
    house = shop_house(shop)
    assert house.devices.scale_address == "http://127.0.0.1:9001"
    assert house.machines["compact-10"].address == MACHINE_ADDRESS
    change_standard(shop, SCALE, "http://scale.example:80")
    use_standins(shop, {SCALE: "http://127.0.0.1:9001"})
    assert shop_house(shop).devices.scale_address == "http://scale.example:80"
