"""The simulated scale: grams with its resolution and its noise, seeded by what lies on it."""

from __future__ import annotations

import hashlib
import random

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
