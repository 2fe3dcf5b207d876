"""The simulated scale: grams with its resolution and its noise, seeded by what lies on it.

Its protocol (clothyard-scale/1) is small and open: see docs/formats.md.
"""

from __future__ import annotations

import hashlib
import json
import random
import urllib.error
import urllib.request
from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from starlette.requests import Request

RESOLUTION_G = 0.1
NOISE_G = 0.15


def simulated_grams(metres: float, *, tex: float, tare_g: float, of: str, seed: int = 1) -> float:
    """Return what the scale shows of a put-up with so much thread.

    Parameters
    ----------
    metres : float
        On it. [m]
    tex : float
        Grams of a kilometre.
    tare_g : float
        Of the put-up alone. [g]
    of : str
        What lies on it: the same thing shows the same weight.
    seed : int

    Returns
    -------
    float
        To the scale's resolution. [g]
    """
    digest = hashlib.sha256(f"{seed}|{of}|{metres:.3f}".encode()).digest()
    noise = random.Random(digest).gauss(0.0, NOISE_G)
    grams = max(0.0, metres) * tex / 1000 + tare_g + noise
    return round(max(0.0, grams) / RESOLUTION_G) * RESOLUTION_G


PROTOCOL = "clothyard-scale/1"
TIMEOUT_S = 5


class ScaleError(Exception):
    """The scale did not answer, or not in its protocol."""


class Put(BaseModel):
    """What is put on a simulated scale: so many grams, or the cone of a simulated machine's needle.

    A real one needs no telling.
    """

    model_config = ConfigDict(extra="forbid")

    grams: float | None = Field(default=None, ge=0, le=100_000)
    needle: int | None = Field(default=None, ge=1, le=60)


class Weight(BaseModel):
    """What a scale shows, tare taken off, and to what it resolves. [g]"""

    protocol: str = PROTOCOL
    grams: float
    resolution_g: float
    tare_g: float


class SimulatedScale:
    """The scale itself: noise seeded by what lies on it, tare.

    Parameters
    ----------
    seed : int
    machine : str
        Address of a simulated machine, whose cones can be put on it; "" for none.
    """

    def __init__(self, seed: int = 1, machine: str = ""):
        self.seed, self.machine = seed, machine.rstrip("/")
        self.on_g = self.tare_g = 0.0
        self.weighed = 0

    def put(self, asked: Put) -> None:
        """Put something on it.

        Raises
        ------
        ScaleError
            If a cone is asked for and there is no machine that has it.
        """
        if asked.grams is not None:
            self.on_g = asked.grams
        elif asked.needle is not None:
            self.on_g = self._cone(asked.needle)

    def _cone(self, needle: int) -> float:
        try:
            with urllib.request.urlopen(f"{self.machine}/cones", timeout=TIMEOUT_S) as answer:
                grams = json.loads(answer.read(1_000_000))["grams"]
            return float(grams[needle - 1])
        except (urllib.error.URLError, OSError, ValueError, KeyError, IndexError) as error:
            raise ScaleError(f"there is no cone of needle {needle} to weigh ({error}).") from None

    def tare(self) -> None:
        """Take what lies on it for nothing."""
        self.tare_g = self._shown()

    def _shown(self) -> float:
        self.weighed += 1
        said = f"{self.seed}|{self.weighed}|{self.on_g:.4f}"
        noise = random.Random(hashlib.sha256(said.encode()).digest()).gauss(0.0, NOISE_G)
        return round(max(0.0, self.on_g + noise) / RESOLUTION_G) * RESOLUTION_G

    def weigh(self) -> Weight:
        """Read it."""
        grams = round(self._shown() - self.tare_g, 4)
        return Weight(grams=grams, resolution_g=RESOLUTION_G, tare_g=round(self.tare_g, 4))


class HttpScale:
    """A scale over HTTP, by its address."""

    def __init__(self, address: str):
        self.address = address.rstrip("/")

    def _ask(self, method: str, path: str, body: BaseModel | None = None) -> Weight:
        data = body.model_dump_json(exclude_none=True).encode() if body else None
        request = urllib.request.Request(
            f"{self.address}{path}",
            data=data,
            headers={"content-type": "application/json"},
            method=method,
        )
        try:
            with urllib.request.urlopen(request, timeout=TIMEOUT_S) as response:
                return Weight.model_validate_json(response.read(1_000_000))
        except urllib.error.HTTPError as error:
            raise ScaleError(f"the scale refuses ({error.code}).") from None
        except (urllib.error.URLError, OSError) as error:
            reason = getattr(error, "reason", error)
            raise ScaleError(f"the scale does not answer ({reason}).") from None
        except ValueError:
            raise ScaleError("the scale answers in no known form.") from None

    def put(self, asked: Put) -> Weight:
        """Tell a simulated one what lies on it. Raises ScaleError."""
        return self._ask("POST", "/put", asked)

    def weigh(self) -> Weight:
        """Read it. Raises ScaleError."""
        return self._ask("GET", "/weight")


def scale_app(scale: SimulatedScale) -> Any:
    """Return the stand-in as an application to serve; see docs/formats.md for its protocol."""
    from fastapi import FastAPI  # noqa: PLC0415 - only where it is served
    from fastapi.responses import JSONResponse  # noqa: PLC0415

    app = FastAPI(title="Simulated scale", openapi_url=None)

    @app.exception_handler(ScaleError)
    def refused(_request: Request, error: ScaleError) -> JSONResponse:
        return JSONResponse({"detail": str(error), "code": "scale"}, status_code=409)

    @app.get("/")
    @app.get("/weight")
    def weight() -> Weight:
        return scale.weigh()

    @app.post("/put")
    def put(asked: Put) -> Weight:
        scale.put(asked)
        return scale.weigh()

    @app.post("/tare")
    def tare() -> Weight:
        scale.tare()
        return scale.weigh()

    return app
