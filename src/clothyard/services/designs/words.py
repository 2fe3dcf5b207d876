"""Words: letter them, look at them, and write a sample stitch file."""

from __future__ import annotations

from pydantic import BaseModel

from clothyard.core.errors import BadInput, unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK
from clothyard.core.measures import read_length_mm
from clothyard.core.stitches.letters import lacking, mean_letter
from clothyard.core.stitches.stitch_plan import StitchPlan
from clothyard.core.stitches.words import FACES, words_facts, words_plan
from clothyard.files.writer import write_plan
from clothyard.services.designs.inspection import Inspection, inspect_facts
from clothyard.services.designs.library import (
    DesignPath,
    path_of,
)

MAX_LETTERS = 500
LOW_MM, HIGH_MM = 1.0, 500.0


class LetteredWords(BaseModel):
    """Words as lettered: what they hold, their path, and what the lettering lacks."""

    text: str
    height_mm: float
    inspection: Inspection
    path: DesignPath
    lacking: str


def _height(height_mm: float | str | None, house: House) -> float:
    height = house.words.height_mm if height_mm is None else height_mm
    if isinstance(height, str):
        try:
            height = read_length_mm(height)
        except BadInput as problem:
            raise BadInput(
                problem.message, where="height_mm", remedy=problem.remedy, code=problem.code
            ) from None
    if not LOW_MM <= height <= HIGH_MM:
        raise BadInput(
            f"{height:g} mm is out of range.",
            where="height_mm",
            remedy=f"Enter {LOW_MM:g} to {HIGH_MM:g} mm.",
            code="out-of-range",
        )
    return height


def plan_of_words(
    text: str,
    house: House,
    *,
    height_mm: float | str | None = None,
    face: str = "plain",
    name: str = "",
) -> StitchPlan:
    """Letter words; {name} is a given name, or stands as letters of mean width.

    Raises
    ------
    BadInput
        If they are too long, hold nothing to sew, or the face or height is unknown.
    """
    if len(text) > MAX_LETTERS:
        raise BadInput(
            f"{len(text)} characters; {MAX_LETTERS} is the most.",
            where="text",
            remedy="Letter fewer words.",
            code="out-of-range",
        )
    if face not in FACES:
        raise unknown_id(face, FACES, where="face", what="face")
    stand_in = name or mean_letter() * house.words.name_letters
    words = text.replace(NAME_MARK, stand_in)
    return words_plan(words, height_mm=_height(height_mm, house), words=house.words)


def letter_words(
    house: House, text: str, *, height_mm: float | str | None = None, face: str = "plain"
) -> LetteredWords:
    """Letter words and tell what they hold."""
    plan = plan_of_words(text, house, height_mm=height_mm, face=face)
    height = _height(height_mm, house)
    clean = text.replace(NAME_MARK, mean_letter() * house.words.name_letters)
    facts = words_facts(clean, height_mm=height, words=house.words)
    return LetteredWords(
        text=text,
        height_mm=height,
        inspection=inspect_facts(facts),
        path=path_of(plan),
        lacking=lacking(text.replace(NAME_MARK, "")),
    )


def sample_file(
    house: House, text: str, kind: str, *, height_mm: float | str | None = None, face: str = "plain"
) -> bytes:
    """Write words as a sample stitch file.

    Raises
    ------
    BadInput
        If samples are not written as that kind.
    """
    return write_plan(plan_of_words(text, house, height_mm=height_mm, face=face), kind)
