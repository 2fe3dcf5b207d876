"""A served sample shop, and Debian's Chromium."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from shutil import copytree, which

import pytest
from filelock import FileLock
from playwright.sync_api import Page, expect

from clothyard.api.app import FRONTEND, create_app
from clothyard.demo.build import demo_shop
from clothyard.store.shop import Shop
from clothyard.store.standards import changed_standards
from tests.kept import reset_standards, set_standards
from tests.standin import served

expect.set_options(timeout=15_000)  # machines here are slow for minutes; nothing is timed by it
CHROMIUM = which("chromium-headless-shell") or "/usr/bin/chromium"
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict) -> dict:
    return {**browser_type_launch_args, "executable_path": CHROMIUM}


@pytest.fixture(scope="session")
def base_url() -> str:
    """None for all: each file has a shop, and an address, of its own."""
    return ""


@pytest.fixture(scope="module")
def browser_context_args(browser_context_args: dict, address: str) -> dict:
    window = {"width": 1280, "height": 800}
    return {**browser_context_args, "viewport": window, "base_url": address}


@pytest.fixture(scope="session")
def sample(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> Path:
    """The sample shop's folder, built once for all who test beside each other."""
    root = tmp_path_factory.getbasetemp()
    folder = (root if worker_id == "master" else root.parent) / "sample"
    with FileLock(f"{folder}.lock"):
        if not folder.exists():
            building = folder.with_suffix(".building")
            demo_shop(building).close()
            building.rename(folder)
    return folder


@pytest.fixture(scope="module")
def shop(sample: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    """A sample shop of this file's own."""
    kept = Shop(copytree(sample, tmp_path_factory.mktemp("own") / "shop"))
    yield kept
    kept.close()


@pytest.fixture(scope="module")
def _shelf(shop: Shop) -> dict:
    """The sample shop's blanks and suppliers, and where orders to those go."""
    kept = changed_standards(shop)
    return {k: v for k, v in kept.items() if k.startswith(("blanks.", "suppliers.", "buying."))}


@pytest.fixture(autouse=True)
def _as_new(shop: Shop, _shelf: dict) -> None:
    """Let every test begin with the default standards and the sample shop's shelf."""
    kept = changed_standards(shop)
    if kept != _shelf:
        reset_standards(shop, list(kept))
        set_standards(shop, _shelf)


@pytest.fixture(scope="module")
def address(shop: Shop) -> Iterator[str]:
    """Where the shop is served."""
    assert (FRONTEND / "index.html").is_file(), "build the front end first: make setup"
    with served(create_app(shop)) as found:
        yield found


@pytest.fixture
def said(page: Page) -> list[str]:
    """What the console complained of; answers of 422 are part of the work."""
    found: list[str] = []
    page.on("pageerror", lambda error: found.append(str(error)))
    page.on(
        "console",
        lambda line: (
            found.append(line.text)
            if line.type in {"error", "warning"} and "422" not in line.text
            else None
        ),
    )
    return found


def axe(page: Page) -> list[str]:
    """Run axe; list what it finds."""
    if not page.evaluate("() => 'axe' in window"):
        page.evaluate(AXE.read_text(encoding="utf-8"))
    result = page.evaluate("() => axe.run()")
    return [
        f"{v['id']}: {v['nodes'][0]['target']} {v['nodes'][0]['failureSummary']}"
        for v in result["violations"]
    ]
