"""Words as a real stitch plan: satin columns along the strokes of the plain face."""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from clothyard.core.errors import BadInput
from clothyard.core.house.document import Words
from clothyard.core.limits import MAX_STITCHES
from clothyard.core.record import record
from clothyard.core.stitches.facts import DesignFacts, analyse
from clothyard.core.stitches.letters import (
    CAP_UNITS,
    Letter,
    folded,
    has_letter,
    length_of,
    letter,
    mean_letter,
    pieces_of,
    resampled,
)
from clothyard.core.stitches.stitch_plan import FLOW, JUMP, TRIM, StitchPlan

FACES = ("plain",)
NAMES_KEPT = 20_000


@record
class _Size:
    """What of the shop's words a letter's stitches depend on. [mm]"""

    height: float
    width: float
    spacing: float
    underlay: float
    split: float


def stroke_width_mm(height_mm: float, words: Words) -> float:
    """Return the satin's width: a share of the height, between the least and the most. [mm]

    Parameters
    ----------
    height_mm : float
        Down. [mm]
    words : Words
        How words are lettered.

    Returns
    -------
    float
        [mm]

    Source
    ------
    docs/formulas.md 1.
    """
    return max(words.stroke_least_mm, words.stroke_share * height_mm)


def columns_split(height_mm: float, words: Words) -> bool:
    """Whether letters so high have columns that are split, narrower ones never being.

    Source: docs/formulas.md 1.
    """
    return stroke_width_mm(height_mm, words) > words.stroke_most_mm + 1e-6


def satin(
    points_mm: NDArray[np.float64], *, width_mm: float, spacing_mm: float, split_mm: float
) -> NDArray[np.float64]:
    """Sew a satin column along a centre line.

    Parameters
    ----------
    points_mm : float array, shape (n, 2)
        Centre line. [mm]
    width_mm, spacing_mm, split_mm : float
        Column's width; from penetration to penetration on one edge; wider columns have a
        penetration at most this far apart across, staggered. [mm]

    Returns
    -------
    float array, shape (m, 2)
        Penetrations, two crossings for each spacing of centre line.

    Source
    ------
    docs/formulas.md 1.
    """
    crossings = max(2, round(2 * length_of(points_mm) / spacing_mm))
    centre = resampled(points_mm, crossings)
    along = np.gradient(centre, axis=0)
    along /= np.maximum(np.hypot(along[:, 0], along[:, 1]), 1e-9)[:, None]
    normal = np.column_stack((-along[:, 1], along[:, 0]))
    side = np.where(np.arange(crossings + 1) % 2, -1.0, 1.0)
    edge = (centre + normal * (side * width_mm / 2)[:, None])[1:]
    parts = math.ceil(width_mm / split_mm - 1e-6)
    if parts <= 1:
        return edge
    before = np.vstack((centre[0] + normal[0] * width_mm / 2, edge[:-1]))
    # to and fro meet on one line, so it is moved with every second crossing
    stagger = np.where(np.arange(crossings) // 2 % 2, 0.15, -0.15)
    stagger[1::2] *= -1
    shares = (np.arange(1, parts)[None, :] + stagger[:, None]) / parts
    between = before[:, None, :] + (edge - before)[:, None, :] * shares[:, :, None]
    return np.concatenate((between, edge[:, None, :]), axis=1).reshape(-1, 2)


@lru_cache(maxsize=2048)
def _sewn_letter(char: str, size: _Size) -> tuple[NDArray[np.float64], ...]:
    """Sew a letter's parts, each an array of penetrations from the letter's left. [mm]"""
    scale = size.height / CAP_UNITS
    sewn = []
    for part in letter(char).parts:
        pieces = [part[0].points[:1] * scale]
        for walk in part:
            line = walk.points * scale
            if walk.satin:
                pieces.append(
                    satin(line, width_mm=size.width, spacing_mm=size.spacing, split_mm=size.split)
                )
            else:
                pieces.append(resampled(line, pieces_of(length_of(line), size.underlay))[1:])
        sewn.append(np.concatenate(pieces))
    return tuple(sewn)


def _placed_parts(text: str, height_mm: float, words: Words) -> list[NDArray[np.float64]]:
    """Sew all letters and set them in lines, each line on the middle of the widest. [mm]"""
    scale = height_mm / CAP_UNITS
    size = _Size(
        height=height_mm,
        width=stroke_width_mm(height_mm, words),
        spacing=words.spacing_mm,
        underlay=words.underlay_mm,
        split=words.split_mm if columns_split(height_mm, words) else math.inf,
    )
    lines = folded(text).split("\n")
    advances = [[_letter(char).advance * scale for char in line] for line in lines]
    widest = max((sum(row) for row in advances), default=0.0)
    _check_amount("".join(lines), size)
    placed = []
    for n, (line, row) in enumerate(zip(lines, advances, strict=True)):
        x = (widest - sum(row)) / 2
        y = n * words.line_pitch * height_mm
        for char, advance in zip(line, row, strict=True):
            if has_letter(char):
                placed += [part + np.array((x, y)) for part in _sewn_letter(char, size)]
            x += advance
    return placed


def _check_amount(chars: str, size: _Size) -> None:
    """Refuse more stitches than a design may hold before they are laid."""
    stitches = 0
    for char in filter(has_letter, chars):
        stitches += sum(len(part) for part in _sewn_letter(char, size))
        if stitches > MAX_STITCHES:
            raise BadInput(
                f"the words make over {MAX_STITCHES:,} stitches, which is the most.",
                where="text",
                remedy="Letter fewer words, or lower.",
                code="design-huge",
            )


def _letter(char: str) -> Letter:
    return letter(char if has_letter(char) else mean_letter())


def _locks(
    end: NDArray[np.float64], inner: NDArray[np.float64], words: Words
) -> NDArray[np.float64]:
    """Lock a run's end: to and fro towards its own stitches, so that nothing shows. [mm]"""
    (x, y), (to_x, to_y) = end.tolist(), inner.tolist()
    share = words.lock_mm / max(math.hypot(to_x - x, to_y - y), 1e-9)
    there = (x + (to_x - x) * share, y + (to_y - y) * share)
    return np.array([(x, y) if i % 2 else there for i in range(words.lock_stitches)]).reshape(-1, 2)


def words_plan(text: str, *, height_mm: float, words: Words) -> StitchPlan:
    """Letter words in the plain face.

    Parameters
    ----------
    text : str
        Lines end with a line feed. Characters that the face lacks leave a gap.
    height_mm : float
        Of a capital. [mm]
    words : Words
        The house's way of lettering.

    Returns
    -------
    StitchPlan
        One colour. Each joined part of a letter is a centre-run underlay and a satin column
        over it; between parts a jump, trimmed when it is over the house's length. Each run
        begins and ends with lock stitches.

    Raises
    ------
    BadInput
        If nothing is left to sew, or it is more than a design may hold.

    Source
    ------
    docs/formulas.md 1.
    """
    parts = _placed_parts(text, height_mm, words)
    if not parts:
        raise BadInput(
            "the words hold nothing that can be lettered.",
            where="text",
            remedy="Use letters, digits and common signs.",
            code="words-empty",
        )
    ends = [(part[0].tolist(), part[-1].tolist()) for part in parts]
    leaps = [math.dist(a[1], b[0]) for a, b in pairwise(ends)]
    cut = [True, *(leap > words.trim_over_mm for leap in leaps), True]
    points, gaps = [], []
    for i, part in enumerate(parts):
        begin = _locks(part[0], part[1], words) if cut[i] else part[:0]
        end = _locks(part[-1], part[-2], words) if cut[i + 1] else part[:0]
        run = np.concatenate((begin, part, end))
        points.append(run)
        gaps.append(np.full(len(run), FLOW, dtype=np.int8))
        gaps[-1][-1] = TRIM if cut[i + 1] else JUMP
    sewn = np.concatenate(points)
    between = np.concatenate(gaps)[:-1]
    for array in (sewn, between):
        array.setflags(write=False)
    block = np.zeros(len(sewn), dtype=np.int32)
    block.setflags(write=False)
    return StitchPlan(sewn, between, block, (None,))


@lru_cache(maxsize=NAMES_KEPT)
def words_facts(text: str, *, height_mm: float, words: Words) -> DesignFacts:
    """Take the facts of words; a character that the face lacks counts as one of mean width.

    Parameters
    ----------
    text : str
        What is lettered.
    height_mm : float
        Down; of letters their height. [mm]
    words : Words
        How words are lettered.

    Returns
    -------
    DesignFacts

    Source
    ------
    docs/formulas.md 1.
    """
    clean = "".join(c if c == "\n" or has_letter(c) else mean_letter() for c in folded(text))
    facts = analyse(words_plan(clean, height_mm=height_mm, words=words), name=text)
    return facts.model_copy(
        update={
            "source": "words",
            "kind": "lettering",
            "band": words.band,
            "letter_height_mm": height_mm,
        }
    )
