"""Reading a job and refusing what does not agree with itself."""

from __future__ import annotations

import json
from collections.abc import Collection
from decimal import Decimal
from typing import Any

from pydantic import ValidationError

from clothyard.core.checking import bad_input_from
from clothyard.core.errors import BadInput, OutOfRange, SeveralBadInputs, unknown_id
from clothyard.core.figure_text import counted
from clothyard.core.job.document import (
    AFTER_SEWING,
    AT_STOP,
    MAX_NAME_LETTERS,
    MAX_PLACEMENTS,
    NAME_MARK,
    Design,
    Job,
    Kit,
    Line,
    Placement,
    Step,
)
from clothyard.core.plain import check_plain
from clothyard.core.units import known_currencies, minor_units

MAX_JOB_BYTES = 2_000_000

_SOURCES = ("file", "sha256", "stitches", "text")
_WHY_NOT = {
    "colours": "the design tells it itself",
    "width_mm": "the design tells it itself",
    "height_mm": "the design tells it itself",
    "trims": "the design tells it itself",
    "kind": "words are lettering",
    "letter_height_mm": "height_mm is the letters' height",
    "face": "it is how words are lettered",
}
_ONLY_WITH: dict[str, tuple[str, ...]] = {
    "file": ("kind", "letter_height_mm"),
    "sha256": ("kind", "letter_height_mm"),
    "stitches": ("colours", "width_mm", "height_mm", "trims", "kind", "letter_height_mm"),
    "text": ("height_mm", "face"),
}


def _check_design(design: Design, where: str) -> list[BadInput]:
    given = [name for name in _SOURCES if getattr(design, name) is not None]
    if len(given) != 1:
        found = " and ".join(given) if given else "none"
        return [
            BadInput(
                f"needs just one of file, sha256, stitches or text; found {found}.",
                where=where,
                remedy="Give a stitch file, a count of stitches, or words.",
                code="design-source",
            )
        ]
    allowed = _ONLY_WITH[given[0]]
    problems = [
        BadInput(
            f"does not go with {given[0]}: {why}.",
            where=f"{where}.{name}",
            remedy="Remove it.",
            code="design-source",
        )
        for name, why in _WHY_NOT.items()
        if name not in allowed and getattr(design, name) is not None
    ]
    if design.scale != 1 and given[0] not in {"file", "sha256"}:
        problems.append(
            BadInput(
                f"does not go with {given[0]}: give its size instead.",
                where=f"{where}.scale",
                remedy="Remove it.",
                code="design-source",
            )
        )
    if design.colours and design.stitches and design.colours > design.stitches:
        problems.append(
            BadInput(
                "more colours than stitches.",
                where=f"{where}.colours",
                remedy="Enter fewer.",
                code="out-of-range",
            )
        )
    if design.text is not None:
        problems += _check_words(design, where)
    origin = design.origin
    if origin is not None and origin.kind == "bought" and origin.price is None:
        problems.append(
            BadInput(
                "is needed of a design that is bought.",
                where=f"{where}.origin.price",
                remedy="Enter what it cost; 0 for a gift.",
                code="missing",
            )
        )
    return problems


def _check_words(design: Design, where: str) -> list[BadInput]:
    rest = (design.text or "").replace(NAME_MARK, "")
    if not (design.text or "").strip():
        said, remedy = "holds no words.", f"Type words, or {NAME_MARK} for each piece's own name."
    elif "{" in rest or "}" in rest:
        said, remedy = "has braces that stand for nothing.", f"Only {NAME_MARK} is known."
    else:
        return []
    return [BadInput(said, where=f"{where}.text", remedy=remedy, code="design-text")]


LAYOUTS = ("band", "blocks", "together", "split")
"""Ways a design lies more than once, or with others; one at a time."""


def _check_placement(placement: Placement, where: str) -> list[BadInput]:
    problems = _check_design(placement.design, f"{where}.design")
    ways = [name for name in LAYOUTS if getattr(placement, name) is not None]
    if len(ways) > 1:
        problems.append(
            BadInput(
                f"goes with one of {', '.join(LAYOUTS[:-1])} and {LAYOUTS[-1]} only; found "
                f"{' and '.join(ways)}.",
                where=f"{where}.{ways[1]}",
                remedy="Remove all but one.",
                code="layout-several",
            )
        )
    for name in ("together", "split"):
        grid = getattr(placement, name)
        if grid is not None and (grid.columns is None) != (grid.rows is None):
            problems.append(
                BadInput(
                    "needs both columns and rows, or neither.",
                    where=f"{where}.{name}",
                    remedy="Give both, or leave the choice to the hoop.",
                    code="layout-half",
                )
            )
    for i, step in enumerate(placement.steps):
        problems += _check_step(step, f"{where}.steps[{i}]")
    return problems


_STEP_NEEDS: dict[str, tuple[str, ...]] = {
    "lay": ("sheet",),
    "trim": ("outline_mm",),
    "cut-out": ("outline_mm",),
    "close": ("outline_mm",),
    "insert": ("hardware",),
}


def _check_step(step: Step, where: str) -> list[BadInput]:
    needed = _STEP_NEEDS.get(step.do, ())
    if step.do == "lay" and step.per != "hooping" and step.of_block is None:
        needed += ("width_mm", "height_mm")
    if step.do == "lay" and step.precut:
        needed += ("outline_mm",)
    problems = [
        BadInput(
            f"is needed to {step.do.replace('-', ' ')}.",
            where=f"{where}.{name}",
            remedy="Enter it.",
            code="missing",
        )
        for name in needed
        if getattr(step, name) is None
    ]
    at = [when for when in (step.after_block, step.at_stop) if when is not None]
    if step.do in AFTER_SEWING and at:
        problems.append(
            BadInput(
                f"{step.do.replace('-', ' ')} is done out of the hoop.",
                where=where,
                remedy="Leave out after_block and at_stop.",
                code="step-when",
            )
        )
    elif len(at) != 1 and (at or step.do in AT_STOP):
        problems.append(
            BadInput(
                "needs to say when: after_block or at_stop, just one.",
                where=where,
                remedy="0 is before the first block.",
                code="step-when",
            )
        )
    return problems


def _check_sharing(line: Line, where: str) -> list[BadInput]:
    """Refuse a hooping that is shared with no place before, or with what takes its own."""
    problems = []
    for k, placement in enumerate(line.placements):
        if not placement.shares:
            continue
        pair = (line.placements[k - 1], placement) if k else (placement,)
        ways = [way for put in pair for way in LAYOUTS if getattr(put, way) is not None]
        said = "has no place before it" if k == 0 else f"does not go with {ways[0]}" if ways else ""
        if said:
            problems.append(
                BadInput(
                    said + ".",
                    where=f"{where}.placements[{k}].shares",
                    remedy="Hoop it by itself.",
                    code="hooping-shared",
                )
            )
    return problems


def _check_line(line: Line, where: str, made: Collection[str]) -> list[BadInput]:
    problems = []
    goods = line.goods
    priced = (
        goods.blank is not None
        or goods.class_ in made
        or (line.cells and all(cell.unit_cost is not None for cell in line.cells))
    )
    if goods.unit_cost is None and goods.supplied_by == "shop" and not priced:
        problems.append(
            BadInput(
                "is needed.",
                where=f"{where}.goods.unit_cost",
                remedy='Enter what a blank costs the shop, name one of its shelf ("blank"), or '
                '"supplied_by": "customer".',
                code="missing",
            )
        )
    if line.cells and (total := sum(cell.quantity for cell in line.cells)) != line.quantity:
        problems.append(
            BadInput(
                f"the cells hold {counted(total, 'piece')}, the line {line.quantity}.",
                where=f"{where}.cells",
                remedy="Make them agree.",
                code="cells-differ",
            )
        )
    if len(line.names) > line.quantity:
        problems.append(
            BadInput(
                f"{counted(len(line.names), 'name')} for {counted(line.quantity, 'piece')}.",
                where=f"{where}.names",
                remedy="Raise the quantity or remove names.",
                code="names-many",
            )
        )
    for i, placement in enumerate(line.placements):
        problems += _check_placement(placement, f"{where}.placements[{i}]")
    return problems


def _check_money(job: Job) -> list[BadInput]:
    """Refuse a typed price finer than the currency's minor unit."""
    places = minor_units(job.currency)
    return [
        BadInput(
            f"{line.unit_price} has more decimals than {job.currency} has.",
            where=f"lines[{i}].unit_price",
            remedy=f"Enter at most {places}." if places else "Enter a whole amount.",
            code="out-of-range",
        )
        for i, line in enumerate(job.lines)
        if line.unit_price is not None and line.unit_price != round(line.unit_price, places)
    ]


def _kit_problem(job: Job, kit: Kit, line_id: str, taken: set[str]) -> tuple[str, str]:
    """Tell what is wrong with a line of a kit, and the remedy; "" when nothing is."""
    line = next((line for line in job.lines if line.id == line_id), None)
    if line is None or line_id in taken:
        said = "is in a kit already" if line else "is no line of this job"
        return f"{line_id} {said}.", f"Its lines are {', '.join(line.id for line in job.lines)}."
    if line.quantity % kit.quantity:
        return (
            f"{counted(line.quantity, 'piece')} do not share out over {kit.quantity} kits.",
            "Make the line a multiple of the kits.",
        )
    return "", ""


def _check_kits(job: Job) -> list[BadInput]:
    problems, taken = [], set[str]()
    for k, kit in enumerate(job.kits):
        for at, line_id in enumerate(kit.lines):
            said, remedy = _kit_problem(job, kit, line_id, taken)
            if said:
                where = f"kits[{k}].lines[{at}]"
                problems.append(BadInput(said, where=where, remedy=remedy, code="kit-lines"))
            taken.add(line_id)
    return problems


def _check_ids(job: Job) -> list[BadInput]:
    """Refuse an id that stands twice: reasons, kits and passes name their part by it."""
    named = []
    for i, line in enumerate(job.lines):
        named.append((line.id, f"lines[{i}]"))
        named += [(p.id, f"lines[{i}].placements[{k}]") for k, p in enumerate(line.placements)]
        named += [(c.id, f"lines[{i}].cells[{k}]") for k, c in enumerate(line.cells)]
    first: dict[str, str] = {}
    problems = []
    for name, where in named:
        if name in first:
            problems.append(
                BadInput(
                    f"{name!r} is the id of {first[name]} too.",
                    where=f"{where}.id",
                    remedy="Give each its own, or leave it out.",
                    code="id-twice",
                )
            )
        first.setdefault(name, where)
    return problems


def _check_amount(job: Job) -> list[BadInput]:
    """Refuse more than can be priced while somebody waits."""
    placements = sum(len(line.placements) for line in job.lines)
    letters = sum(len(name) for line in job.lines for name in line.names)
    amounts = (
        (placements, MAX_PLACEMENTS, "placements"),
        (letters, MAX_NAME_LETTERS, "letters of names"),
    )
    return [
        OutOfRange(
            f"it has {found:,} {what}; {most:,} is the most.",
            where="lines",
            remedy="Make two orders of it.",
            code="out-of-range",
        )
        for found, most, what in amounts
        if found > most
    ]


def check_job(job: Job, *, made: Collection[str] = ()) -> None:
    """Refuse a job whose parts do not agree with each other. Its currency is settled.

    Parameters
    ----------
    job : Job
    made : collection of str
        Classes that are made in the hoop: no blank of them is bought.

    Raises
    ------
    SeveralBadInputs
        Every problem, each with its place and remedy.
    """
    problems: list[BadInput] = []
    if job.currency not in known_currencies():
        problems.append(
            unknown_id(job.currency, known_currencies(), where="currency", what="currency")
        )
    else:
        problems += _check_money(job)
    for i, line in enumerate(job.lines):
        problems += _check_line(line, f"lines[{i}]", made)
        problems += _check_sharing(line, f"lines[{i}]")
    problems += _check_kits(job)
    problems += _check_ids(job)
    problems += _check_amount(job)
    if problems:
        raise SeveralBadInputs(problems)


def read_job(text: bytes | str, *, currency: str = "") -> Job:
    """Read a job document.

    Parameters
    ----------
    text : bytes or str
        JSON, UTF-8. Numbers, money and shares as numbers, or as text as people write them.
    currency : str
        The shop's, whose sign may stand at money where the job says none.

    Raises
    ------
    BadInput
        If it is no JSON, has unknown keys, or a value is missing, wrong or out of range.
    """
    return job_from(read_plain(text), currency=currency)


def read_plain(text: bytes | str) -> Any:
    """Read a job document as plain data.

    Raises
    ------
    BadInput
        If it is over 2 MB or no JSON.
    """
    if len(text) > MAX_JOB_BYTES:
        raise BadInput("the job document is over 2 MB.", remedy="Split it.", code="job-huge")
    try:
        return json.loads(text, parse_float=Decimal, parse_constant=_no_constant)
    except (ValueError, RecursionError) as error:
        raise BadInput(
            f"the job is not readable as JSON ({error}).",
            remedy="Mend it there, or write it again.",
            code="not-json",
        ) from None


def _no_constant(name: str) -> None:
    raise ValueError(f"{name} is not a number")


def job_from(raw: Any, *, currency: str = "") -> Job:
    """Read a job given as plain data; see `read_job`.

    Parameters
    ----------
    raw : dict
        A clothyard-job/1 document of any release.
    currency : str
        The shop's, whose sign may stand at money where the job says none.
    """
    if not isinstance(raw, dict):
        raise BadInput("the job must be a JSON object.", remedy="Begin it with {.", code="not-json")
    check_plain(raw)
    context = {"currency": raw.get("currency") or currency}
    try:
        return Job.model_validate(raw, context=context)
    except ValidationError as error:
        raise SeveralBadInputs(bad_input_from(error, model=Job)) from None


def job_json(job: Job) -> dict[str, Any]:
    """Write a job as a plain document; what was not given stays out."""
    document: dict[str, Any] = json.loads(
        job.model_dump_json(by_alias=True, exclude_none=True, exclude_unset=True)
    )
    return document
