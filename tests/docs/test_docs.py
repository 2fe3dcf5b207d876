"""The documents name what there is, and all of it: read both ways."""

import ast
import re
from collections.abc import Iterator
from importlib import import_module
from pathlib import Path

import pytest

from clothyard.api.app import create_app
from clothyard.cli.commands import COMMANDS
from clothyard.core.house.document import House
from clothyard.core.standards import all_standards
from clothyard.files.kinds import readable_kinds

ROOT = Path(__file__).parents[2]
SRC = ROOT / "src/clothyard"
DOCS = {path.name: path.read_text() for path in (ROOT / "docs").glob("*.md")}
TALK = {name: (ROOT / name).read_text() for name in ("README.md", "CONTRIBUTING.md")}
SECTIONS = dict(re.findall(r"^## (\w+)\n(.*?)(?=^## |\Z)", DOCS["reference.md"], re.S | re.M))


def listed(section: str) -> list[str]:
    """What the first column of a section's table names."""
    rows = re.findall(r"^\| (`.*?`) \|", SECTIONS[section], re.M)
    return [name for row in rows for name in re.findall(r"`(.+?)`", row)]


def modules() -> Iterator[tuple[Path, ast.Module]]:
    for path in sorted(SRC.rglob("*.py")):
        yield path, ast.parse(path.read_text())


def advice_codes() -> set[str]:
    """The codes that advice is put under, wherever the core puts it."""
    found = set()
    for path, tree in modules():
        if path.parent.name not in {"advice", "methods"}:
            continue
        for node in ast.walk(tree):
            if not isinstance(node, ast.Call):
                continue
            called = getattr(node.func, "attr", getattr(node.func, "id", ""))
            found |= {
                key.value.value
                for key in node.keywords
                if called == "Advice" and key.arg == "code" and isinstance(key.value, ast.Constant)
            }
            if not node.args:
                continue
            code = node.args[0]
            if called in {"say", "warned", "Warned"} and isinstance(code, ast.Constant):
                found.add(code.value)
    return found


@pytest.fixture(scope="module")
def routes(tmp_path_factory):
    from clothyard.store.shop import Shop

    shop = Shop(tmp_path_factory.mktemp("shop"))
    paths = create_app(shop, frontend=Path("none")).openapi()["paths"]
    shop.close()
    return {
        f"{method.upper()} {path.removeprefix('/api/v1')}"
        for path, methods in paths.items()
        for method in methods
    }


def test_every_advice_code_is_listed_and_no_other():
    assert sorted(listed("Advice")) == sorted(advice_codes())


def test_every_route_is_listed_and_no_other(routes):
    assert sorted(listed("Routes")) == sorted(routes)


def test_every_path_told_anywhere_leads_somewhere(routes):
    known = {route.split()[1] for route in routes} | {"/openapi.json"}
    shapes = [re.compile(re.sub(r"\{\w+\}", "[^/]+", path) + r"\Z") for path in known]
    told = {
        path
        for text in (DOCS | TALK).values()
        for path in re.findall(r"/api/v1(/[\w/.{}-]+)", text)
    }
    assert len(told) > 5
    lost = [path for path in told if not any(shape.match(path) for shape in shapes)]
    assert lost == []


def test_every_command_is_listed_and_no_other():
    there = set(COMMANDS)
    for name, (module, _) in COMMANDS.items():  # each is where it is said to be
        hung = import_module(f"clothyard.cli.{module}").app.registered_commands
        assert name in {(c.name or c.callback.__name__).replace("_", "-") for c in hung}
    assert {row.split()[1] for row in listed("Commands")} == there
    told = {
        word
        for text in (DOCS | TALK).values()
        for word in re.findall(r"`(?:\S*/)?clothyard ([a-z-]+)", text)
    }
    assert told <= there


def test_every_section_of_the_standards_is_listed_and_no_other():
    sections = {key.split(".")[0] for key in all_standards()}
    sections |= {name for name in House.model_fields if name != "format"}
    assert sorted(listed("Standards")) == sorted(sections)


def test_every_standard_named_as_one_exists():
    sections = set(listed("Standards"))
    known = {key.rsplit(".", 1)[-1] for key in all_standards()}
    named = {
        (section, key)
        for text in DOCS.values()
        for section, key in re.findall(r"`([a-z_]+)\.([a-z_]+)`", text)
        if section in sections and key != "py"
    }
    assert {key for _, key in named} <= known


def test_every_format_is_listed_and_no_other():
    there = {
        found
        for path, _ in modules()
        for found in re.findall(r"clothyard-[a-z]+/\d", path.read_text())
    }
    assert sorted(listed("Documents")) == sorted(there)
    told = {f for text in (DOCS | TALK).values() for f in re.findall(r"clothyard-[a-z]+/\d", text)}
    assert told <= there


def test_every_kind_of_stitch_file_is_listed_and_no_other():
    text = " ".join(re.findall(r"Read by their ending: (.*?)\. At most", DOCS["formats.md"], re.S))
    assert sorted(re.split(r",\s+", text)) == sorted(readable_kinds())


def test_every_key_is_listed_and_no_other():
    frame = (ROOT / "frontend/src/parts/Frame.tsx").read_text()
    block = re.search(r"const KEYS.*?\n\];", frame, re.S).group()
    shown = [key for key, _ in re.findall(r'\["(.+?)", "(.+?)"\]', block)]
    said = {
        key
        for row in shown
        for key in (
            [f"Alt {n}" for n in re.findall(r"\d", row)]
            if re.search(r"\d", row)
            else [part.replace(" + ", " ") for part in row.split(" / ")]
        )
    }
    assert sorted(listed("Keys")) == sorted(said)
    in_use = set(re.findall(r"Alt ([A-Z0-9])\b", DOCS["using.md"]))
    assert in_use <= {key.removeprefix("Alt ") for key in said}


def test_every_make_target_told_exists():
    there = set(re.findall(r"^([a-z-]+):", (ROOT / "Makefile").read_text(), re.M))
    told = {
        target
        for text in (DOCS | TALK).values()
        for target in re.findall(r"(?:`|^ {4})make ([a-z-]+)", text, re.M)
    }
    assert len(told) > 5
    assert told <= there


def test_every_file_linked_or_named_is_there():
    for name, text in (DOCS | TALK).items():
        folder = ROOT if name in TALK else ROOT / "docs"
        for link in re.findall(r"\]\((?!https?:)([^)#]+)", text):
            assert (folder / link).exists(), f"{name} links {link}"


def test_every_module_the_architecture_names_is_there():
    named = re.findall(r"`(core/[\w/]+\.py)`", DOCS["architecture.md"])
    assert named
    assert [path for path in named if not (SRC / path).exists()] == []
