"""Made-up stitch files for the sample shop, drawn by our own code."""

from __future__ import annotations

import io
import math
from itertools import pairwise
from typing import Any

Point = tuple[float, float]
Blocks = list[tuple[str, list[list[Point]]]]
ROW_MM = 0.4
STITCH_MM = 3.0
UNITS = 10


def _run(a: Point, b: Point, step: float) -> list[Point]:
    n = max(1, math.ceil(math.dist(a, b) / step))
    return [(a[0] + (b[0] - a[0]) * i / n, a[1] + (b[1] - a[1]) * i / n) for i in range(n + 1)]


def satin(path: list[Point], width: float) -> list[Point]:
    """Lay a satin column of a width along a path. [mm]"""
    points: list[Point] = []
    for a, b in pairwise(path):
        length = math.dist(a, b)
        if length == 0:
            continue
        nx, ny = -(b[1] - a[1]) / length, (b[0] - a[0]) / length
        n = max(1, round(length / ROW_MM))
        for i in range(n):
            x, y = a[0] + (b[0] - a[0]) * i / n, a[1] + (b[1] - a[1]) * i / n
            side = width / 2
            points.append((x + nx * side, y + ny * side))
            points.append((x - nx * side, y - ny * side))
    return points


def fill(outline: list[Point]) -> list[Point]:
    """Fill a convex outline with rows of stitches. [mm]"""
    low, high = min(y for _, y in outline), max(y for _, y in outline)
    points: list[Point] = []
    rows = int((high - low) / ROW_MM)
    for row in range(1, rows):
        y = low + row * ROW_MM
        xs = []
        for (x0, y0), (x1, y1) in zip(outline, outline[1:] + outline[:1], strict=True):
            if (y0 <= y) != (y1 <= y):
                xs.append(x0 + (x1 - x0) * (y - y0) / (y1 - y0))
        if len(xs) < 2:
            continue
        ends = [(min(xs), y), (max(xs), y)]
        if row % 2:
            ends.reverse()
        points += _run(ends[0], ends[1], STITCH_MM - (row % 3) * 0.25)
    return points


def ring(cx: float, cy: float, radius: float, *, turns: int = 72) -> list[Point]:
    """Return the points of a circle. [mm]"""
    return [
        (
            cx + radius * math.cos(2 * math.pi * i / turns),
            cy + radius * math.sin(2 * math.pi * i / turns),
        )
        for i in range(turns + 1)
    ]


def _oar(cx: float, cy: float, length: float, angle: float) -> tuple[list[Point], list[Point]]:
    dx, dy = math.cos(angle), math.sin(angle)
    shaft = [
        (cx - dx * length / 2, cy - dy * length / 2),
        (cx + dx * length * 0.28, cy + dy * length * 0.28),
    ]
    nx, ny = -dy * 3.2, dx * 3.2
    near, far = length * 0.28, length * 0.5
    blade = [
        (cx + dx * near + nx * 0.4, cy + dy * near + ny * 0.4),
        (cx + dx * far + nx, cy + dy * far + ny),
        (cx + dx * far - nx, cy + dy * far - ny),
        (cx + dx * near - nx * 0.4, cy + dy * near - ny * 0.4),
    ]
    return shaft, blade


def crest() -> Blocks:
    """Draw a rowing club's crest: a shield, two crossed oars, a wave; (colour, runs) each."""
    shield = [
        (-28.0, -30.0),
        (28.0, -30.0),
        (28.0, 4.0),
        (20.0, 20.0),
        (0.0, 34.0),
        (-20.0, 20.0),
        (-28.0, 4.0),
    ]
    edge = [*shield, shield[0]]
    wave = [(x, 20 + 2 * math.sin(x / 3)) for x in range(-17, 18)]
    oars = [_oar(0, -6, 46, math.radians(angle)) for angle in (52, 128)]
    return [
        ("#1d3b6f", [fill(shield)]),
        ("#f2e6c4", [satin(shaft, 1.4) for shaft, _ in oars] + [fill(blade) for _, blade in oars]),
        ("#c9972b", [satin(edge, 2.2), satin(ring(0, -6, 5), 1.6)]),
        ("#7fb2d6", [satin([(float(x), y) for x, y in wave], 1.8)]),
    ]


def oars() -> Blocks:
    """Draw two crossed oars over a wave."""
    pair = [_oar(0, 0, 62, math.radians(angle)) for angle in (35, 145)]
    wave = [(float(x), 22 + 1.6 * math.sin(x / 3)) for x in range(-24, 25)]
    return [
        ("#8a4b1f", [satin(shaft, 1.8) for shaft, _ in pair]),
        ("#b02a30", [fill(blade) for _, blade in pair]),
        ("#3f7fa6", [satin(wave, 2.0)]),
    ]


def paw() -> Blocks:
    """Draw a paw: four toes and a pad."""
    toes = [(-13, -6, 5), (-5, -15, 5.5), (5, -15, 5.5), (13, -6, 5)]
    pad = [(x * 1.25, y + 7) for x, y in ring(0, 0, 9)]
    return [("#2f6f62", [fill(ring(x, y, r)[:-1]) for x, y, r in toes] + [fill(pad[:-1])])]


def anchor() -> Blocks:
    """Draw an anchor in satin, its ring in another colour."""
    arms = [(26 * math.sin(a / 10), 22 - 14 * (1 - math.cos(a / 10))) for a in range(-12, 13)]
    strokes: list[list[Point]] = [[(0, -20), (0, 22)], [(-11, -12), (11, -12)], arms]
    return [
        ("#22314f", [satin(stroke, 3.2) for stroke in strokes]),
        ("#b98a2e", [satin(ring(0, -25, 4.5), 1.8)]),
    ]


def lighthouse() -> Blocks:
    """Draw a lighthouse on a rock."""
    bands: list[list[Point]] = [
        [(-9 + i, 20 - 10 * i), (9 - i, 20 - 10 * i), (8 - i, 10 - 10 * i), (-8 + i, 10 - 10 * i)]
        for i in range(5)
    ]
    rock: list[Point] = [(-22, 30), (22, 30), (12, 20), (-14, 20)]
    lamp: list[Point] = [(-4, -30), (4, -30), (4, -38), (-4, -38)]
    return [
        ("#5b6167", [fill(rock)]),
        ("#c23b2e", [fill(band) for band in bands[::2]]),
        ("#f4f1e6", [fill(band) for band in bands[1::2]]),
        ("#e3b23c", [fill(lamp), satin([(6, -35), (24, -42)], 1.6)]),
    ]


def border() -> Blocks:
    """Draw a border of waves with a dot in each trough."""
    wave = [(float(x), 4 * math.sin(x * math.pi / 12)) for x in range(-48, 49)]
    dots = [ring(x, 8, 1.8) for x in range(-42, 49, 24)]
    return [
        ("#234f7d", [satin(wave, 2.4)]),
        ("#c9972b", [satin(dot, 1.4) for dot in dots]),
    ]


def stitch_file(blocks: Blocks, kind: str) -> bytes:
    """Write blocks of runs as a stitch file of a kind: "dst", "pes", "exp" …"""
    import pystitch  # noqa: PLC0415 - only when a demo is built

    pattern: Any = pystitch.EmbPattern()
    for n, (colour, runs) in enumerate(blocks):
        pattern.add_thread({"color": int(colour[1:], 16)})
        if n:
            pattern.color_change()
        for k, run in enumerate(runs):
            if k:
                pattern.trim()
            for i, (x, y) in enumerate(run):
                command = pystitch.JUMP if i == 0 else pystitch.STITCH
                if i == 0:
                    pattern.add_stitch_absolute(command, round(x * UNITS), round(y * UNITS))
                pattern.add_stitch_absolute(pystitch.STITCH, round(x * UNITS), round(y * UNITS))
    pattern.end()
    writers = {f["extension"]: f["writer"] for f in pystitch.supported_formats() if f.get("writer")}
    stream = io.BytesIO()
    pystitch.EmbPattern.write_embroidery(writers[kind], pattern, stream)
    return stream.getvalue()
