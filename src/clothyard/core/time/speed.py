"""Needle time: how fast each stitch is sewn."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np

from clothyard.core.house.document import Speed, SpeedPoint
from clothyard.core.stitches.facts import DesignFacts, Lengths


def speeds_spm(
    lengths_mm: tuple[float, ...], *, profile: Mapping[str, SpeedPoint], cap_spm: float
) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    """Return the speed at each stitch length: the profile's, under the cap. [spm]

    Parameters
    ----------
    lengths_mm : tuple[float, ...]
        Stitch lengths. [mm]
    profile : Mapping[str, SpeedPoint]
        Speeds by stitch length. [mm, spm]
    cap_spm : float
        The most allowed. [spm]

    Returns
    -------
    np.ndarray[tuple[int], np.dtype[np.float64]]
        As many as lengths. [spm]

    Source
    ------
    docs/formulas.md 7: straight lines between the points, flat beyond both ends.
    """
    points = sorted((p.length_mm, p.spm) for p in profile.values())
    lengths, speeds = zip(*points, strict=True)
    found = np.interp(np.asarray(lengths_mm, dtype=float), lengths, speeds)
    capped: np.ndarray[tuple[int], np.dtype[np.float64]] = np.minimum(found, cap_spm)
    return capped


def _seconds(lengths: Lengths, *, profile: Mapping[str, SpeedPoint], cap_spm: float) -> float:
    if not lengths.mm:
        return 0.0
    speeds = speeds_spm(lengths.mm, profile=profile, cap_spm=cap_spm)
    return float((60 * np.asarray(lengths.count) / speeds).sum())


def design_cap_spm(facts: DesignFacts, *, cap_spm: float, speed: Speed) -> float:
    """Return the cap on a whole design: small letters are sewn no faster than narrow satin.

    Parameters
    ----------
    facts : DesignFacts
        Of the design.
    cap_spm : float
        The most allowed. [spm]
    speed : Speed
        What slows the machine.

    Returns
    -------
    float
        [spm]
    """
    letters = facts.letter_height_mm
    counted = facts.source == "count"  # no geometry shows how narrow its columns are
    under_mm = speed.counted_letter_mm if counted else speed.small_letter_mm
    if facts.kind == "lettering" and letters is not None and letters < under_mm:
        return min(cap_spm, speed.narrow_satin_spm)
    return cap_spm


def even_seconds(
    stitches: float, length_mm: float, *, cap_spm: float, profile: Mapping[str, SpeedPoint]
) -> float:
    """Return the needle time of stitches of one length: basting. [s]

    Parameters
    ----------
    stitches : float
        How many.
    length_mm : float
        Of each stitch. [mm]
    cap_spm : float
        The most allowed. [spm]
    profile : Mapping[str, SpeedPoint]
        Speeds by stitch length. [mm, spm]

    Returns
    -------
    float
        [s]
    """
    if not stitches:
        return 0.0
    lengths = Lengths.model_construct(mm=(length_mm,), count=(stitches,))
    return _seconds(lengths, profile=profile, cap_spm=cap_spm)


def needle_seconds(
    facts: DesignFacts,
    *,
    cap_spm: float,
    profile: Mapping[str, SpeedPoint],
    speed: Speed,
    auto_trim: bool,
) -> tuple[float, ...]:
    """Return the needle time of each colour block. [s]

    Parameters
    ----------
    facts : DesignFacts
    cap_spm : float
        Least of set speed, goods cap and thread cap. [spm]
    profile, speed : mapping, Speed
        The house's line from length to speed, its jump and narrow-satin speeds.
    auto_trim : bool
        False: the way over a trim is jumped as a float.

    Source
    ------
    docs/formulas.md 7: Σ 60 / v over penetrations, and a turn at 450 for each 12 mm jumped.
    """
    cap_spm = design_cap_spm(facts, cap_spm=cap_spm, speed=speed)
    narrow_cap = min(cap_spm, speed.narrow_satin_spm)
    times = []
    for block in facts.blocks:
        turns = block.jump_turns + (0 if auto_trim else block.trim_turns)
        seconds = _seconds(block.lengths, profile=profile, cap_spm=cap_spm)
        seconds += _seconds(block.narrow, profile=profile, cap_spm=narrow_cap)
        seconds += turns * 60 / speed.jump_spm
        times.append(seconds)
    return tuple(times)
