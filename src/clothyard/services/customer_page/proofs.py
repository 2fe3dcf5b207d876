"""The proof: every word and name as it will be sewn, approved or corrected, name by name."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, StrictBool

from clothyard.core.errors import BadInput, Conflict
from clothyard.core.house.document import House
from clothyard.core.job.check import job_from
from clothyard.core.job.document import NAME_MARK, Job
from clothyard.core.job.names import piece_kinds, piece_names
from clothyard.core.job.upgrade import upgraded
from clothyard.core.methods.settle import goods_name
from clothyard.core.order.held import ProofState, has_words, proof_state, words_asked
from clothyard.services.customer_page.asks import CORRECTED
from clothyard.store import orders as kept
from clothyard.store import quotes
from clothyard.store.asks import add_asks, drop_asks
from clothyard.store.shop import Shop, now
from clothyard.store.unit import Reads, Unit

Short = Annotated[str, Field(max_length=80)]


class ProofName(BaseModel):
    """A name: the how-manieth of its line, from 0, on which size and colour; whether it was
    approved of a version before, set as it is now."""

    n: int
    name: str
    kind: str
    approved: bool = False


class ProofWords(BaseModel):
    """Fixed words of a place."""

    place: str
    label: str
    text: str


class ProofLine(BaseModel):
    """What is read of a line: its words and its names."""

    line: str
    goods: str
    words: list[ProofWords]
    names: list[ProofName]


class NameCorrected(BaseModel):
    """A name that is to be another."""

    model_config = ConfigDict(extra="forbid")

    line: Short
    n: int = Field(ge=0, le=100_000)
    to: Annotated[str, Field(max_length=200)]
    was: Annotated[str, Field(max_length=200)] = ""


class WordsCorrected(BaseModel):
    """Words of a place that are to be others."""

    model_config = ConfigDict(extra="forbid")

    line: Short
    place: Short
    to: Annotated[str, Field(max_length=500)]
    was: Annotated[str, Field(max_length=500)] = ""


class ProofSaid(BaseModel):
    """What is said of a proof: approved, each of the four read; or what is to be different."""

    model_config = ConfigDict(extra="forbid")

    name: str = Field(default="", max_length=200)
    spelling: StrictBool = False
    colours: StrictBool = False
    place: StrictBool = False
    size: StrictBool = False
    names: list[NameCorrected] = Field(default_factory=list, max_length=5000)
    words: list[WordsCorrected] = Field(default_factory=list, max_length=200)
    other: str = Field(default="", max_length=4000)
    version: int | None = Field(default=None, ge=1, le=10_000)
    """That the page showed: of another one nothing is said."""

    seen: str | None = Field(default=None, max_length=40)
    """When what the page showed as said was said, "" for nothing yet: what is answered to."""


class ProofView(BaseModel):
    """A proof: none where nothing is written; what was said of it, by whom and when."""

    state: ProofState
    lines: list[ProofLine]
    said_by: str
    said_on: str
    names: list[NameCorrected]
    words: list[WordsCorrected]
    other: str


def proof_lines(job: Job, house: House) -> list[ProofLine]:
    """List the words and names of a job, as they will be sewn."""
    found = []
    for line in job.lines:
        texts = [(p, p.design.text) for p in line.placements if p.design.text is not None]
        if not texts:
            continue
        pieces = zip(piece_names(line), piece_kinds(line), strict=True)
        names = [
            ProofName(n=n, name=name, kind=kind) for n, (name, kind) in enumerate(pieces) if name
        ]
        own = any(NAME_MARK in text for _, text in texts)
        usual = house.goods[line.goods.class_].position if line.goods.class_ in house.goods else ""
        found.append(
            ProofLine(
                line=line.id,
                goods=goods_name(line.goods, house),
                words=[
                    ProofWords(
                        place=p.id,
                        text=text,
                        label=house.positions[p.position or usual].label
                        if (p.position or usual) in house.positions
                        else (p.position or usual),
                    )
                    for p, text in texts
                    if text.replace(NAME_MARK, "").strip()
                ],
                names=names if own else [],
            )
        )
    return found


def _approved_before(at: Reads, quote_id: int, version: int) -> tuple[Job, str] | None:
    """Return the job that was approved last before a version, and who did; None where none was."""
    for before in reversed(kept.accepted_versions(at, quote_id)):
        said = kept.find_proof(at, quote_id, before) if before < version else None
        if said is not None and said.state == "approved":
            return job_from(upgraded(quotes.find_version(at, quote_id, before).job)), said.said_by
    return None


def carry_over(unit: Unit, quote_id: int, version: int, job: Job) -> None:
    """Keep a version as approved whose words and names were approved of one before, all of them."""
    if not has_words(job) or kept.find_proof(unit, quote_id, version) is not None:
        return
    before = _approved_before(unit, quote_id, version)
    if before is None:
        return
    was, now_ = words_asked(before[0]), words_asked(job)
    if all(
        line in was and was[line][0] == placed and was[line][1] >= names
        for line, (placed, names) in now_.items()
    ):
        kept.keep_proof(unit, quote_id, approved_proof(version, by=before[1]))


def _with_approved(lines: list[ProofLine], was: Job, job: Job) -> list[ProofLine]:
    """Mark the names that were approved before, where they are set as they were."""
    before, now_ = words_asked(was), words_asked(job)
    found = []
    for line in lines:
        placed, names = before.get(line.line, (None, frozenset[str]()))
        same = line.line in now_ and now_[line.line][0] == placed
        rows = [n.model_copy(update={"approved": same and n.name in names}) for n in line.names]
        found.append(line.model_copy(update={"names": rows}))
    return found


def proof_of(shop: Shop, order_id: int, version: int, job: Job, house: House) -> ProofView:
    """Return a version's proof and what was said of it."""
    said = kept.find_proof(shop, order_id, version)
    values: dict[str, Any] = said.said if said else {}
    lines = proof_lines(job, house)
    if lines and said is None and (before := _approved_before(shop, order_id, version)):
        lines = _with_approved(lines, before[0], job)
    return ProofView(
        state=proof_state(job, said.state if said else ""),
        lines=lines,
        said_by=said.said_by if said else "",
        said_on=said.said_on if said else "",
        names=values.get("names", []),
        words=values.get("words", []),
        other=values.get("other", ""),
    )


def _checked(said: ProofSaid, job: Job) -> dict[str, Any]:
    """Return what was said with the words and names that stood there; refuse what is not there.

    Raises
    ------
    BadInput
    """
    lines = {line.id: line for line in job.lines}
    names, words = [], []
    for k, row in enumerate(said.names):
        line = lines.get(row.line)
        if line is None or row.n >= len(line.names):
            raise BadInput(
                "there is no such name on the proof.",
                where=f"names[{k}]",
                remedy="Load the page again.",
                code="proof-unknown",
            )
        was, to = line.names[row.n].strip(), " ".join(row.to.split())
        if not to:
            raise BadInput(
                f"{was!r} is to be nothing.",
                where=f"names[{k}].to",
                remedy="Type the name as it is to be sewn.",
                code="missing",
            )
        if to != was:
            names.append({"line": row.line, "n": row.n, "to": to, "was": was})
    for k, each in enumerate(said.words):
        line = lines.get(each.line)
        place = next((p for p in line.placements if p.id == each.place), None) if line else None
        if place is None or place.design.text is None or not each.to.strip():
            raise BadInput(
                "there are no such words on the proof.",
                where=f"words[{k}]",
                remedy="Load the page again.",
                code="proof-unknown",
            )
        if each.to.strip() != place.design.text:
            words.append(
                {
                    "line": each.line,
                    "place": each.place,
                    "to": each.to.strip(),
                    "was": place.design.text,
                }
            )
    return {"names": names, "words": words, "other": said.other.strip()}


def say_proof(shop: Shop, quote_id: int, version: int, job: Job, said: ProofSaid) -> None:
    """Keep what a customer says of a proof.

    Raises
    ------
    BadInput
        Without a name, with a mark that is not there, or not all of it read.
    Conflict
        If the quote is not accepted, of another version, or the proof was approved already.
    """
    if not any(letter.isalpha() for letter in said.name):
        raise BadInput("the name is empty.", where="name", remedy="Type your name.", code="no-name")
    document = _checked(said, job)
    corrected = bool(document["names"] or document["words"] or document["other"])
    if not corrected:
        for field in ("spelling", "colours", "place", "size"):
            if not getattr(said, field):
                raise BadInput(
                    f"the {field} is not ticked.",
                    where=field,
                    remedy="Tick it when it is right, or say what is to be different.",
                    code="no-consent",
                )
    state = "corrected" if corrected else "approved"
    name = " ".join("".join(c for c in said.name if c.isprintable()).split())
    proof = kept.KeptProof(version, state, name, document, now())
    with shop.unit() as unit:
        _check_being_made(unit, quote_id, version)
        _check_seen(kept.find_proof(unit, quote_id, version), said, corrected=corrected)
        kept.make_orders(unit)
        if kept.find_order(unit, quote_id).state == "cancelled":
            raise Conflict(
                "this order was cancelled.",
                where="quote",
                remedy="Ask the shop, if that is not so.",
                code="order-cancelled",
            )
        kept.keep_proof(unit, quote_id, proof)
        if corrected:
            drop_asks(unit, quote_id, version, CORRECTED)
            add_asks(unit, quote_id, version, _asked(document), name=name)


def _asked(said: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Say what is to be different, each by itself: (kind, words)."""
    found = [("name", f"{row['was']} → {row['to']}") for row in said["names"]]
    found += [("words", f"{row['was']} → {row['to']}") for row in said["words"]]
    return found + ([("sentence", said["other"])] if said["other"] else [])


def _check_being_made(at: Reads, quote_id: int, version: int) -> None:
    """Refuse what is said of a version that is not being made, or was approved already.

    Raises
    ------
    Conflict
    """
    quote = quotes.find_quote(at, quote_id)
    if quote.state != "accepted" or quote.version != version:
        raise Conflict(
            "this is not the version that is being made.",
            where="quote",
            remedy="Ask the shop for the proof of the new one.",
            code="quote-not-open",
        )
    before = kept.find_proof(at, quote_id, version)
    if before is not None and before.state == "approved":
        raise Conflict(
            "this proof was approved already.",
            where="proof",
            remedy="Ask the shop at once: it may be sewn.",
            code="proof-approved",
        )


def _check_seen(before: kept.KeptProof | None, said: ProofSaid, *, corrected: bool) -> None:
    """Refuse what is said of another proof than the one that is there: no correction is lost.

    Raises
    ------
    Conflict
    """
    there = before.said_on if before else ""
    if said.seen is not None and said.seen != there:
        who = f"{before.said_by} said something of it" if before else "what was said of it is gone"
        raise Conflict(
            f"{who} meanwhile.",
            where="proof",
            remedy="Look at what is said there, then send yours if it still holds.",
            code="proof-moved",
        )
    if before is not None and before.state == "corrected" and not corrected:
        raise Conflict(
            f"what {before.said_by} corrected is not answered yet.",
            where="proof",
            remedy="Wait for the shop's answer, or say what is to be different.",
            code="proof-corrected",
        )


def tick_proof(shop: Shop, order_id: int, *, by: str) -> None:
    """Note that the customer approved a proof by another way, as the seller says.

    Raises
    ------
    NotFound
    """
    with shop.unit() as unit:
        order = kept.find_order(unit, order_id)
        kept.keep_proof(unit, order_id, approved_proof(order.version, by=by or "the shop"))


def approved_proof(version: int, *, by: str) -> kept.KeptProof:
    """Return a proof that was approved, with nothing said beside."""
    said: dict[str, Any] = {"names": [], "words": [], "other": ""}
    return kept.KeptProof(version, "approved", by, said, now())


def untick_proof(shop: Shop, order_id: int) -> None:
    """Take an approval back that the seller ticked.

    Raises
    ------
    NotFound
    """
    with shop.unit() as unit:
        order = kept.find_order(unit, order_id)
        kept.forget_proof(unit, order_id, order.version)


def corrected_job(job: dict[str, Any], said: dict[str, Any]) -> dict[str, Any]:
    """Return a job document with a proof's corrections in it."""
    lines = []
    for line in job["lines"]:
        names = list(line.get("names", []))
        for row in said.get("names", []):
            if row["line"] == line["id"] and row["n"] < len(names):
                names[row["n"]] = row["to"]
        places = []
        for place in line["placements"]:
            to = next(
                (
                    w["to"]
                    for w in said.get("words", [])
                    if (w["line"], w["place"]) == (line["id"], place["id"])
                ),
                None,
            )
            design = place["design"] | ({"text": to} if to is not None else {})
            places.append(place | {"design": design})
        lines.append(line | {"names": names, "placements": places})
    return job | {"lines": lines}
