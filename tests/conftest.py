"""What tests share: a house, jobs, a shop, a client, the command line."""

from __future__ import annotations

import copy
import json
import os
import random
from collections.abc import Callable, Iterator
from pathlib import Path
from shutil import copytree
from typing import Any

import pytest
from filelock import FileLock
from hypothesis import settings
from starlette.testclient import TestClient

from clothyard import cli
from clothyard.api.app import create_app
from clothyard.core.estimate.document import Estimate
from clothyard.core.estimate.make import estimate
from clothyard.core.house.check import default_house
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from
from clothyard.demo.build import demo_shop
from clothyard.demo.stitching import crest, stitch_file
from clothyard.store.shop import Shop

settings.register_profile("here", deadline=None)
settings.register_profile("ci", deadline=None, derandomize=True, max_examples=60)
settings.load_profile("ci" if os.environ.get("CI") else "here")


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Take the files in an order of chance, where CLOTHYARD_SHUFFLE gives its seed."""
    if seed := os.environ.get("CLOTHYARD_SHUFFLE"):
        files = sorted({item.path for item in items})
        random.Random(seed).shuffle(files)
        items.sort(key=lambda item: files.index(item.path))


POLOS: dict[str, Any] = {
    "format": "clothyard-job/1",
    "lines": [
        {
            "goods": {"class": "pique-polo", "unit_cost": "6.40"},
            "quantity": 24,
            "digitising": "none",
            "placements": [
                {
                    "position": "left-chest",
                    "design": {
                        "stitches": 8200,
                        "kind": "mixed",
                        "colours": 3,
                        "width_mm": 85,
                        "height_mm": 60,
                        "trims": 9,
                    },
                }
            ],
        }
    ],
}


STUCK: dict[str, Any] = {
    "goods__class": "structured-cap",
    "placement__position": "cap-front",
    "design__width_mm": 150,
}
"""Changes to the worked order that no hoop takes: a cap is never split over hoopings."""


def polos(**changes: Any) -> dict[str, Any]:
    """The worked order as a plain job; dotted changes: line__quantity=12, methods__hoop=…"""
    job = copy.deepcopy(POLOS)
    line = job["lines"][0]
    placement = line["placements"][0]
    places = {
        "job": job,
        "line": line,
        "goods": line["goods"],
        "placement": placement,
        "design": placement["design"],
        "methods": placement.setdefault("methods", {}),
    }
    for name, value in changes.items():
        place, _, key = name.partition("__")
        if value is None:
            places[place].pop(key, None)
        else:
            places[place][key] = value
    return job


def price(job: dict[str, Any], **options: Any) -> Estimate:
    """Price a plain job against the default house."""
    return estimate(job_from(job), default_house(), {}, **options)


@pytest.fixture
def house() -> House:
    return default_house()


@pytest.fixture
def shop(tmp_path: Path) -> Iterator[Shop]:
    kept = Shop(tmp_path / "shop")
    yield kept
    kept.close()


@pytest.fixture
def client(shop: Shop, tmp_path: Path) -> Iterator[TestClient]:
    page = tmp_path / "dist"
    (page / "assets").mkdir(parents=True)
    (page / "index.html").write_text("<title>Clothyard</title>")
    (page / "favicon.svg").write_text("<svg xmlns='http://www.w3.org/2000/svg'/>")
    (page / "assets" / "index-1.js").write_text("1")
    with TestClient(
        create_app(shop, frontend=page),
        base_url="http://127.0.0.1:8642",
        raise_server_exceptions=False,
    ) as found:
        yield found


@pytest.fixture
def run(capsys: pytest.CaptureFixture[str]) -> Callable[..., tuple[int, str, str]]:
    """Run the command line in this process: (exit code, stdout, stderr)."""

    def _run(*arguments: object) -> tuple[int, str, str]:
        with pytest.raises(SystemExit) as stopped:
            cli.main([str(argument) for argument in arguments])
        out, err = capsys.readouterr()
        return int(stopped.value.code or 0), out, err

    return _run


@pytest.fixture(scope="session")
def crest_files() -> dict[str, bytes]:
    """The sample crest in several kinds of stitch file."""
    kinds = ("dst", "pes", "pec", "exp", "jef", "vp3", "xxx", "u01", "tbf", "sew")
    return {kind: stitch_file(crest(), kind) for kind in kinds}


@pytest.fixture
def job_file(tmp_path: Path) -> Callable[[Any], Path]:
    def _write(job: Any) -> Path:
        path = tmp_path / "job.json"
        path.write_text(job if isinstance(job, str) else json.dumps(job), encoding="utf-8")
        return path

    return _write


@pytest.fixture(scope="session")
def _history(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> Path:
    """The sample shop's folder as of a day, built once for all who test beside each other."""
    root = tmp_path_factory.getbasetemp()
    folder = (root if worker_id == "master" else root.parent) / "history"
    with FileLock(f"{folder}.lock"), pytest.MonkeyPatch.context() as patch:
        patch.setenv("CLOTHYARD_TODAY", "2026-05-05")
        if not folder.exists():
            building = folder.with_suffix(".building")
            demo_shop(building).close()
            building.rename(folder)
    return folder


@pytest.fixture(scope="module")
def there(_history: Path, tmp_path_factory: pytest.TempPathFactory) -> Iterator[Shop]:
    """A shop with a history: quotes, orders in every state, a log, a shelf."""
    folder = copytree(_history, tmp_path_factory.mktemp("there") / "shop")
    with pytest.MonkeyPatch.context() as patch:
        patch.setenv("CLOTHYARD_TODAY", "2026-05-05")
        shop = Shop(folder)
    yield shop
    shop.close()
