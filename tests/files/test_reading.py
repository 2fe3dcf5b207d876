"""Stitch files of every kind: written by the library, read back, and told apart from the rest."""

import os
from pathlib import Path

import pystitch
import pytest

from clothyard.core.errors import BadInput, Busy
from clothyard.core.limits import MAX_STITCHES
from clothyard.demo.stitching import crest, stitch_file
from clothyard.files import guarded
from clothyard.files.child import start_child
from clothyard.files.guarded import GuardedReader, read_design
from clothyard.files.kinds import MAX_FILE_BYTES, kind_of, readable_kinds
from clothyard.files.price_list import write_price_list
from clothyard.services.designs.inspection import design_of_file, inspect_facts
from clothyard.services.designs.library import path_of

SHA = "0" * 64
STITCHES = sum(len(run) for _, runs in crest() for run in runs)


def facts_of(data, name):
    return read_design(data, name, sha256=SHA)[1]


@pytest.mark.parametrize("kind", ["dst", "pes", "pec", "exp", "jef", "vp3", "xxx", "u01", "tbf"])
def test_kinds_agree_on_one_design(kind, crest_files):
    found = inspect_facts(facts_of(crest_files[kind], f"crest.{kind}"))
    assert found.stitches == STITCHES
    assert found.colour_changes == 3
    # tie-offs aside: blocks 2 and 3 hold 4 and 2 runs; a kind may keep some cuts as jumps
    assert found.trims + found.jumps == 4
    assert (found.width_mm, found.height_mm) == (58.2, 66.0)
    assert found.longest_stitch_mm == pytest.approx(3, abs=0.15)
    assert sum(block.stitches for block in found.blocks) == STITCHES
    needle = sum(block.needle_m for block in found.blocks)
    assert needle == pytest.approx(found.needle_m, abs=0.003)
    assert [block.index for block in found.blocks] == [1, 2, 3, 4]


def test_colours_are_the_files_own(crest_files):
    def colours(kind):
        return [b.colour for b in facts_of(crest_files[kind], f"a.{kind}").blocks]

    assert colours("vp3") == ["#1d3b6f", "#f2e6c4", "#c9972b", "#7fb2d6"]
    assert colours("tbf") == colours("vp3")  # told by needle sets
    assert colours("dst") == [None] * 4  # this kind holds none


def test_a_stop_ends_a_run_not_a_block():
    pattern = pystitch.EmbPattern()
    pattern.add_thread({"color": 0xFF0000})
    for x in range(5):
        pattern.add_stitch_absolute(pystitch.STITCH, x * 20, 0)
    pattern.stop()
    for x in range(5, 9):
        pattern.add_stitch_absolute(pystitch.STITCH, x * 20, 0)
    pattern.end()
    path = Path(os.environ.get("TMPDIR", "/tmp")) / "clothyard-stop.json"
    pystitch.write(pattern, str(path))
    found = design_of_file(path)
    path.unlink()
    assert (found.stops, found.colour_changes, found.trims) == (1, 0, 0)
    assert sum(found.blocks[0].lengths.count) == 9
    assert found.blocks[0].needle_mm == pytest.approx(8 + 6)  # the step over the stop is no thread


@pytest.mark.parametrize(
    ("name", "says"),
    [
        ("a.gcode", "cannot tell jumps"),
        ("a.pmv", "cannot tell jumps"),
        ("a.docx", "no kind of stitch file"),
        ("a.png", "a picture holds no stitches"),
        ("crest", "no ending"),
        (".dst", "no ending"),
        ("a.edr", "no kind"),
    ],
)
def test_kinds_that_are_not_read(name, says):
    with pytest.raises(BadInput, match=says):
        facts_of(b"x" * 600, name)


def test_names_are_read_without_case():
    assert kind_of("CREST.DST") == "dst"
    assert {"dst", "pes", "exp", "jef", "vp3", "xxx", "hus", "csv", "json"} <= set(readable_kinds())


@pytest.mark.parametrize(
    ("kind", "data", "says"),
    [
        ("dst", b"", "is empty"),
        ("dst", b"\0" * (MAX_FILE_BYTES + 1), "20 MB is the most"),
        ("pes", b"not at all a design", "does not begin"),
        ("vp3", b"%vsm%", "ends in the middle"),
        ("exp", b"\x01\x02\x03", "ends in the middle"),
        ("json", b"{", "cannot be read"),
        ("csv", b"a,b,c\n", "cannot be read|no stitches"),
        ("dst", b"LA:x" + b" " * 508 + b"\x00\x00\xf3", "no stitches"),
    ],
)
def test_what_cannot_be_read(kind, data, says):
    with pytest.raises(BadInput, match=says) as refused:
        facts_of(data, f"a.{kind}")
    assert refused.value.where == f"a.{kind}"
    assert refused.value.remedy


@pytest.mark.parametrize("kind", ["dst", "pes", "pec", "vp3", "xxx", "u01", "tbf", "jef"])
@pytest.mark.parametrize("share", [0.3, 0.6, 0.9])
def test_truncated_files_are_told(kind, share, crest_files):
    whole = crest_files[kind]
    if kind in {"pes", "pec"} and share == 0.9:
        share = 0.5  # their last part is a picture of the design
    with pytest.raises(BadInput):
        facts_of(whole[: int(len(whole) * share)], f"a.{kind}")


def test_wrongly_named_files_are_told(crest_files):
    for named, held in (("dst", "pes"), ("exp", "vp3"), ("pes", "dst"), ("jef", "dst")):
        with pytest.raises(BadInput, match=f"begins like a .{held}"):
            facts_of(crest_files[held], f"a.{named}")


def test_too_many_stitches():
    rows = "\n".join(f'"*","{i}","STITCH","{i % 900}","{i % 700}"' for i in range(MAX_STITCHES + 1))
    with pytest.raises(BadInput, match=r"500,000 is the most|too much time"):
        facts_of(rows.encode(), "a.csv")


def test_a_reader_that_overruns_is_killed_and_comes_back(crest_files):
    reader = GuardedReader(seconds=0.0)
    with pytest.raises(BadInput, match="too much time or memory"):
        reader.plan(crest_files["dst"], "a.dst")
    reader._seconds = 5
    assert len(reader.plan(crest_files["dst"], "a.dst").points_mm) == STITCHES
    reader._process.kill()
    reader._process.wait()
    with pytest.raises(BadInput):
        reader.plan(crest_files["dst"], "a.dst")
    assert reader.plan(crest_files["dst"], "a.dst").colours == (None,) * 4
    reader.close()


def test_a_reader_that_ends_at_its_start_is_started_again(crest_files, monkeypatch):
    started = []

    def ends_once():
        process, pipe = start_child()
        started.append(process)
        if len(started) == 1:
            process.kill()
            process.wait()
        return process, pipe

    monkeypatch.setattr(guarded, "take_child", ends_once)
    reader = GuardedReader()
    assert len(reader.plan(crest_files["dst"], "a.dst").points_mm) == STITCHES
    assert len(started) == 2
    reader.close()
    monkeypatch.setattr(guarded, "take_child", lambda: ends(start_child))
    with pytest.raises(Busy, match="did not start"):
        GuardedReader().plan(crest_files["dst"], "a.dst")


def ends(start):
    process, pipe = start()
    process.kill()
    process.wait()
    return process, pipe


def test_the_path_is_the_files_own(crest_files):
    plan, facts = read_design(crest_files["vp3"], "a.vp3", sha256=SHA)
    path = path_of(plan)
    assert (path.width, path.height) == (582, 660)
    assert sum(len(run) // 2 for block in path.blocks for run in block.runs) == facts.stitches
    assert [len(block.runs) for block in path.blocks] == [1, 4, 2, 1]
    assert min(min(run) for block in path.blocks for run in block.runs) == 0


def test_estimates_from_a_file_cap_narrow_satin(crest_files):
    """The crest's oars and ring are satin of 1.4 and 1.6 mm: only the shafts are capped."""
    facts = facts_of(crest_files["dst"], "a.dst")
    assert sum(facts.blocks[1].narrow.count) > 100
    assert sum(facts.blocks[0].narrow.count) == 0
    assert stitch_file(crest(), "dst") == crest_files["dst"]


def test_bytes_decide_what_a_file_is():
    """A picture is no design of a few stitches, whatever its name says."""
    for begin, what in (
        (b"\x89PNG\r\n\x1a\n", "a PNG picture"),
        (b"\xff\xd8\xff\xe0", "a JPEG picture"),
        (b"%PDF-1.7\n", "a PDF"),
        (b"PK\x03\x04", "a zip"),
        (b"\n <svg xmlns=", "an SVG"),
        (b"<?xml version=", "an XML"),
        (b"SQLite format 3\x00", "a database"),
    ):
        for kind in ("dst", "exp", "jef", "u01", "csv", "xxx"):
            with pytest.raises(BadInput, match=what) as refused:
                facts_of(begin + bytes(range(200)) * 5, f"a.{kind}")
            assert (refused.value.where, refused.value.code) == (f"a.{kind}", "file-misnamed")
    with pytest.raises(BadInput, match=r"does not begin as a \.dst does"):
        facts_of(b"x" * 4000, "a.dst")


@pytest.mark.parametrize("kind", ["dst", "jef"])
def test_a_header_that_counts_otherwise_is_told(kind, crest_files):
    data = bytearray(crest_files[kind])
    assert facts_of(bytes(data), f"a.{kind}").told == ()
    if kind == "dst":
        data[14:26] = b"ST:  21865\r "
    else:
        data[28:32] = (21865).to_bytes(4, "little")
    [told] = facts_of(bytes(data), f"a.{kind}").told
    assert told.startswith("Its header counts 21,865 records and its body holds 4,8")
    assert "part of it is missing" in told


def test_sheets_that_split_elsewhere_compute_nothing_of_ours():
    hostile = "Polo;=1+1|@SUM(A1)\n-2+3;  +4"
    row = dict.fromkeys(
        ("label", "goods", "supplier", "prices", "dearer", "pack", "sizes", "colours"), ""
    ) | {"label": hostile, "prices": "6.40", "colours": "=2+2"}
    written = write_price_list([row])
    for mark in ";|\t,":
        for line in written.splitlines():
            for cell in line.split(mark):
                assert cell.strip(' "')[:1] not in {"=", "+", "-", "@"}
