"""A served sample shop, and Debian's Chromium."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from playwright.sync_api import Page, expect

from clothyard.api.app import FRONTEND, create_app
from clothyard.demo.build import demo_shop
from clothyard.store.shop import Shop
from clothyard.store.standards import changed_standards
from tests.kept import reset_standards, set_standards

expect.set_options(timeout=15_000)  # machines here are slow for minutes; nothing is timed by it
CHROMIUM = "/usr/bin/chromium"
AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict) -> dict:
    return {**browser_type_launch_args, "executable_path": CHROMIUM}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict) -> dict:
    return {**browser_context_args, "viewport": {"width": 1280, "height": 800}}


@pytest.fixture(scope="session")
def shop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    kept = demo_shop(tmp_path_factory.mktemp("demo"))
    yield kept
    kept.close()


@pytest.fixture(scope="session")
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


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="session")
def base_url(shop: Shop) -> Iterator[str]:
    assert (FRONTEND / "index.html").is_file(), "build the front end first: make setup"
    port = free_port()
    config = uvicorn.Config(create_app(shop), port=port, log_level="warning")
    server = uvicorn.Server(config)
    thread = threading.Thread(target=server.run, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{port}"
    server.should_exit = True
    thread.join()


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
