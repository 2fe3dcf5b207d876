"""The designs of a line as they are sewn: from a file, a count, or words; one, or one a piece."""

from __future__ import annotations

from collections.abc import Callable, Mapping

from clothyard.core.errors import BadInput, NotFound, unknown_id
from clothyard.core.house.document import House
from clothyard.core.job.document import NAME_MARK, Design, Line
from clothyard.core.job.names import known_names
from clothyard.core.record import record
from clothyard.core.stitches.count import count_facts
from clothyard.core.stitches.derived import bordered, mean_design, on_base, scaled
from clothyard.core.stitches.facts import DesignFacts, recoloured
from clothyard.core.stitches.letters import mean_letter
from clothyard.core.stitches.own import OwnDesigns
from clothyard.core.stitches.words import FACES, words_facts

NO_NAMES_BAND = 0.25
"""How far a price may be off while no names are given."""


@record
class Sewn:
    """A placement's design: of pieces that each have their own, the mean and each one's."""

    facts: DesignFacts
    own: OwnDesigns | None = None

    def on_base(self, house: House) -> Sewn:
        """The same on a knock-down base."""
        rule, fill = house.knock_down, house.kinds["fill"]
        return self._each(lambda facts: on_base(facts, rule=rule, fill=fill))

    def bordered(self, house: House) -> Sewn:
        """The same with a border round it, as a patch has."""
        return self._each(lambda facts: bordered(facts, rule=house.patches))

    def _each(self, made: Callable[[DesignFacts], DesignFacts]) -> Sewn:
        if self.own is None:
            return Sewn(made(self.facts))
        pieces = tuple(None if f is None else made(f) for f in self.own.pieces)
        own = OwnDesigns(pieces, self.own.given, self.own.names)
        return Sewn(mean_design(own.sewn, name=self.facts.name), own)


def _of_count(design: Design, house: House) -> DesignFacts:
    kind = house.kinds[design.kind or "mixed"]
    return count_facts(
        design.stitches or 0,
        kind=design.kind or "mixed",
        mean_stitch_mm=kind.mean_stitch_mm,
        satin_share=kind.satin_share,
        colours=design.colours or 1,
        width_mm=design.width_mm,
        height_mm=design.height_mm,
        trims=design.trims,
        letter_height_mm=design.letter_height_mm,
    )


def _of_file(design: Design, designs: Mapping[str, DesignFacts], where: str) -> DesignFacts:
    key = design.sha256 or design.file or ""
    if key not in designs:
        raise NotFound(
            f"the design {key[:12]!r} is not here.",
            where=f"{where}.design",
            remedy="Drop its stitch file again.",
            code="design-unknown",
        )
    told = {"kind": design.kind, "letter_height_mm": design.letter_height_mm}
    return designs[key].model_copy(update={k: v for k, v in told.items() if v is not None})


def _words(design: Design, house: House, where: str, text: str) -> DesignFacts:
    if design.face is not None and design.face not in FACES:
        raise unknown_id(design.face, FACES, where=f"{where}.design.face", what="face")
    height = design.height_mm or house.words.height_mm
    try:
        return words_facts(text, height_mm=height, words=house.words)
    except BadInput as error:
        raise BadInput(
            str(error), where=f"{where}.design.text", remedy=error.remedy, code=error.code
        ) from None


def _names(design: Design, line: Line, house: House, where: str) -> Sewn:
    """Letter each piece's own name; those still to come count as the mean of those given.

    Source: docs/formulas.md 1 and 14.
    """
    text = design.text or ""
    given = known_names(line)
    named = {
        name: _words(design, house, where, text.replace(NAME_MARK, name))
        for name in dict.fromkeys(given)
        if name
    }
    missing = line.quantity - len(given)
    if given and not named and missing == 0:
        raise BadInput(
            "every name is blank.",
            where=f"{where.split('.', maxsplit=1)[0]}.names",
            remedy="Type a name, or remove this placement.",
            code="names-blank",
        )
    pieces: list[DesignFacts | None] = [named.get(name) for name in given]
    if not named:
        stand_in = mean_letter() * house.words.name_letters
        mean = _words(design, house, where, text.replace(NAME_MARK, stand_in))
        mean = mean.model_copy(update={"name": text, "band": NO_NAMES_BAND})
    else:
        sewn = [facts for facts in pieces if facts is not None]
        mean = mean_design(sewn, name=text)
    pieces += [mean] * missing
    colour = design.thread_colours
    own = OwnDesigns(
        tuple(None if f is None else recoloured(f, colour) for f in pieces),
        len(given),
        tuple(name for name in given if name),
    )
    return Sewn(recoloured(mean, colour), own)


def sewn_designs(
    line: Line, house: House, designs: Mapping[str, DesignFacts], *, where: str
) -> tuple[Sewn, ...]:
    """Find or work out the designs of a line's placements.

    Parameters
    ----------
    designs : mapping of str to DesignFacts
        Keyed by content hash, and by the name a job gives a file.
    where : str
        Path of the line, for errors.

    Raises
    ------
    NotFound
        If a file is named that was not read.
    BadInput
        If words cannot be lettered.
    """
    found = []
    for i, placement in enumerate(line.placements):
        design, place = placement.design, f"{where}.placements[{i}]"
        if design.text is not None and NAME_MARK in design.text:
            found.append(_names(design, line, house, place))
            continue
        if design.stitches is not None:
            facts = _of_count(design, house)
        elif design.text is not None:
            facts = _words(design, house, place, design.text)
        else:
            facts = scaled(_of_file(design, designs, place), design.scale)
        found.append(Sewn(recoloured(facts, design.thread_colours)))
    return tuple(found)
