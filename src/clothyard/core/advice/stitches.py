"""Advice on a design's stitches: letters, lengths, density, colours, sewing order, size."""

from __future__ import annotations

import math
from collections.abc import Iterator

from clothyard.core.advice.document import Advice
from clothyard.core.advice.say import OnPlace
from clothyard.core.colours import colour_name, colour_of, seen_difference
from clothyard.core.methods.choice import Level
from clothyard.core.stitches.words import columns_split

SHORT_SHARE = 0.02
LONG_WORN_MM, LONG_ELSE_MM = 7.0, 10.0
HOT_CELL, HOT_RATIO = 100, 2.5
RESIZE_WARN, RESIZE_STOP = 0.10, 0.20
FINE_TEX_BELOW = 20


def of_letters(on: OnPlace) -> Iterator[Advice]:
    """Letters too low to read.

    Source: handbook checks, letter-small.
    """
    height, making = on.facts.letter_height_mm, on.making
    if height is None:
        return
    fine = making.thread.tex < FINE_TEX_BELOW and making.needle.fine
    raised = making.goods.pile == 2 or making.goods.is_cap
    least, good = (3.0, 4.0) if fine else (3.5, 7.0 if raised else 5.0)
    if height < good - 1e-6:
        level: Level = "stop" if height < least - 1e-6 else "warn"
        yield on.say(
            "letter-small",
            level,
            f"Letters {on.said(height)} high fill in; here {on.said(good)} is the least that "
            "reads.",
            "Make them larger" + ("." if fine else ", or use fine thread and needle."),
        )


def of_columns(on: OnPlace) -> Iterator[Advice]:
    """Letters so high that their columns are split: twice the stitches.

    Source: docs/formulas.md 1.
    """
    height, words = on.facts.letter_height_mm, on.plan.house.words
    if on.facts.source != "words" or height is None or not columns_split(height, words):
        return
    most = words.stroke_most_mm / words.stroke_share
    yield on.say(
        "column-split",
        "note",
        f"Columns over {on.said(words.stroke_most_mm)} wide would snag and are split: about twice "
        "the stitches.",
        f"Letters up to {on.said(math.floor(most))} high are not split.",
    )


def of_lengths(on: OnPlace) -> Iterator[Advice]:
    """Stitches that break thread, or snag. Our own letters have no digitiser to ask."""
    facts = on.facts
    lettered = facts.source == "words"
    if facts.short_share is not None and facts.short_share > SHORT_SHARE and not lettered:
        yield on.say(
            "stitch-short",
            "warn",
            f"{facts.short_share:.0%} of the stitches are under 0.4 mm: thread breaks.",
            "Ask the digitiser to remove them.",
        )
    limit = LONG_WORN_MM if on.making.goods.washable else LONG_ELSE_MM
    if facts.longest_stitch_mm is not None and facts.longest_stitch_mm > limit + 1e-6:
        yield on.say(
            "stitch-long",
            "warn",
            f"A stitch of {facts.longest_stitch_mm:.1f} mm snags; {limit:g} mm is the most on "
            "these goods.",
            "Ask the digitiser to split the longest stitches.",
        )


def of_density(on: OnPlace) -> Iterator[Advice]:
    """A spot where stitches are piled up."""
    facts = on.facts
    hot, usual = facts.hottest_cell, facts.median_cell
    if facts.source == "words" or hot is None or not usual:
        return
    if hot > HOT_CELL and hot > HOT_RATIO * usual:
        yield on.say(
            "density-hot",
            "warn",
            f"One 5 × 5 mm spot holds {hot} stitches, the usual one {usual:.0f}: needles break "
            "and cloth is cut there.",
            "Ask the digitiser to thin out the layers.",
        )


def of_order(on: OnPlace) -> Iterator[Advice]:
    """A file without colours; a cap design that pushes the crown out of shape."""
    facts = on.facts
    if facts.source == "file" and not any(block.colour for block in facts.blocks):
        yield on.say(
            "colour-none",
            "note",
            "The file holds no thread colours.",
            "Assign them before sewing.",
        )
    if on.making.on_cap_frame and ((facts.outward or 0) < 0 or (facts.upward or 0) < 0):
        yield on.say(
            "cap-order",
            "note",
            "The design is not sewn from the middle out and from the bottom up: it may push the "
            "crown out of shape.",
            "Ask the digitiser for a cap order.",
        )


FAINT = 12
"""Thread and goods that differ by less (CIEDE2000) are hardly told apart."""


def of_threads(on: OnPlace) -> Iterator[Advice]:
    """Colours without a thread; threads that are hardly seen on the goods.

    Source: handbook checks, thread-open and thread-faint.
    """
    blocks = [block for block in on.facts.blocks if block.role != "base"]
    known = dict.fromkeys(block.colour for block in blocks if block.colour)
    if on.facts.source != "file" or known:  # a file without any is told as that
        bare = len(
            {
                key
                for block, key in zip(on.facts.blocks, on.facts.colour_keys, strict=True)
                if block.role != "base" and not block.colour
            }
        )
        if bare:
            yield on.say(
                "thread-open",
                "note",
                f"{bare} of its {len(known) + bare} colours {'has' if bare == 1 else 'have'} no "
                "thread: the customer reads “colour 1”."
                if len(known) + bare > 1
                else "It has no thread yet: the customer reads “colour 1”.",
                "Choose it by pressing its card.",
            )
    goods = dict.fromkeys(cell.colour.strip() for cell in on.plan.line.cells)
    for said, cloth in ((said, colour_of(said)) for said in goods):
        faint = [c for c in known if cloth and seen_difference(c, cloth) < FAINT]
        if faint:
            yield on.say(
                "thread-faint",
                "note",
                f"{colour_name(faint[0]).capitalize()} thread will hardly be seen on {said}.",
                "Choose a lighter or a darker thread, or tell the customer.",
            )


def of_scale(on: OnPlace) -> Iterator[Advice]:
    """Built in another size than its file was made for."""
    scale = on.asked.design.scale
    off = abs(scale - 1)
    if off > RESIZE_WARN + 1e-9:
        level: Level = "stop" if off > RESIZE_STOP + 1e-9 else "warn"
        yield on.say(
            "resize",
            level,
            f"Built at {scale:.0%} of the size the file was made for: its stitches are then "
            f"{'too close' if scale < 1 else 'too far apart'}.",
            "Have it digitised at this size, or keep within 10%.",
            [{"op": "remove", "path": f"{on.path}/design/scale"}],
        )
