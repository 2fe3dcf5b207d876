"""The simulated scale: grams with its resolution and its noise, seeded by what lies on it.

Its protocol (clothyard-scale/1) is small and open: see docs/formats.md.
"""

from __future__ import annotations

import hashlib
import random
from typing import Any

from starlette.requests import Request

from clothyard.ports.client import Device, DeviceError
from clothyard.ports.scale import Put, ScaleError, Weight

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
            grams = Device(self.machine).ask("GET", "/cones")["grams"]
            return float(grams[needle - 1])
        except (DeviceError, ValueError, TypeError, KeyError, IndexError) as error:
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
