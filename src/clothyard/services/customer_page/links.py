"""The customer's side: a page by link to read a quote, accept it, or ask for a change."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, StrictBool

from clothyard.core.colours import colour_of
from clothyard.core.errors import BadInput, Conflict, NotFound
from clothyard.core.estimate.changes import Sent, changes_between
from clothyard.core.estimate.document import Estimate, Tier
from clothyard.core.house.check import kept_house
from clothyard.core.house.document import OWN_DRAWING, House
from clothyard.core.job.check import job_from
from clothyard.core.job.document import NAME_MARK, Job
from clothyard.core.job.names import known_names, names_by_cell
from clothyard.core.measures import Units
from clothyard.core.methods.settle import goods_name
from clothyard.documents.bundle import PaperHead, as_the_shop_writes, conditions
from clothyard.documents.workshop import proof_pdf
from clothyard.services.customer_page.asks import AskView, list_asks
from clothyard.services.customer_page.outbox import pictures
from clothyard.services.customer_page.proofs import ProofSaid, ProofView, proof_of, say_proof
from clothyard.services.designs.library import DesignPath, design_path, path_of
from clothyard.services.designs.words import plan_of_words
from clothyard.services.house.standards import shop_house
from clothyard.store import links as kept
from clothyard.store import quotes
from clothyard.store.shop import Shop, now, today

TOKEN_BYTES = 24
CustomerState = Literal["open", "accepted", "declined", "expired", "replaced", "withdrawn"]


class LinkView(BaseModel):
    """A new link: shown once, since only its hash is kept."""

    url: str
    path: str
    version: int
    valid_until: str


class CustomerPosition(BaseModel):
    """Where a place's measures are taken from, to draw it."""

    reference: str
    direction: str
    anchor: str
    side: str
    side_reference: str
    share: float
    corner_deg: float


class CustomerPlace(BaseModel):
    """A design in its place, as a customer sees it. [mm, degrees]"""

    label: str
    position: CustomerPosition
    marks: list[str]
    """Where its centre goes in words, by size where sizes differ."""
    from_reference_mm: float | None
    x_mm: float
    y_mm: float
    width_mm: float
    height_mm: float
    turn: float
    mirror: bool
    colours: list[str]
    colour_names: list[str]
    text: str
    drawn: bool


class CustomerNames(BaseModel):
    """The names on the pieces of a size and colour, "" for all; "" is a piece left blank."""

    kind: str
    names: list[str]
    to_come: int


class CustomerTier(BaseModel):
    """A price by quantity."""

    quantity: int
    unit: str


class CustomerLine(BaseModel):
    """A line: what, how many, where, at which price; no cost."""

    goods: str
    goods_class: str
    drawing: str
    """The class whose drawing shows it."""
    supplied_by: str
    quantity: int
    cells: list[str]
    cloth: str | None
    """What the goods' first colour looks like, "#rrggbb"."""
    names: list[CustomerNames]
    places: list[CustomerPlace]
    unit: str
    line: str
    tiers: list[CustomerTier]


class CustomerSum(BaseModel):
    """A line, a set or a charge, and what it comes to."""

    name: str
    each: str = ""
    amount: str


class SaidView(BaseModel):
    """What was said of a version on the customer's page."""

    version: int
    kind: str
    name: str
    words: str
    said_on: str


class QuoteForCustomer(BaseModel):
    """A sent quote as its customer sees it: never a cost or a margin."""

    shop: str
    address: str
    number: str
    version: int
    customer: str
    sent_on: str
    due_on: str
    promise: str
    """By when they have it, in words; "" where no day is promised."""
    valid_until: str
    state: CustomerState
    notes: str
    currency: str
    units: Units
    locale: str
    lines: list[CustomerLine]
    sums: list[CustomerSum]
    charges: list[CustomerSum]
    tax: str
    to_pay: str
    deposit: str
    holds_by: list[str]
    said: list[SaidView]
    newer: bool = False
    """Whether the link was of a version before this one."""

    different: list[str] = []
    """What is different from the version that was sent before."""

    asks: list[AskView] = []
    """What was asked for, and what became of it, over all versions."""

    proof: ProofView | None = None
    """Its words and names to approve, once it is accepted; None before, and where none are sewn."""


class CustomerAnswer(BaseModel):
    """What a customer says: a typed consent, or a change asked for."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["accepted", "change"]
    name: str = Field(default="", max_length=200)
    words: str = Field(default="", max_length=4000)
    agreed: StrictBool = False
    version: int | None = Field(default=None, ge=1, le=10_000)
    """That the page showed: of another one nothing is answered."""


def make_link(shop: Shop, quote_id: int, *, served_at: str) -> LinkView:
    """Make a link to the last sent version; links made before open nothing from then on.

    Raises
    ------
    Conflict
        If nothing was sent yet.
    """
    quote = quotes.find_quote(shop, quote_id)
    if quote.version == 0 or quote.state == "draft":
        raise Conflict(
            f"{quote.number} is a draft: a customer can read what was sent.",
            where="state",
            remedy="Send it first.",
            code="quote-not-sent",
        )
    token = new_token()
    with shop.unit() as unit:
        kept.add_link(unit, quote_id, quote.version, token)
    return LinkView(
        url=link_url(shop, token, served_at=served_at),
        path=f"/q/{token}",
        version=quote.version,
        valid_until=quote.valid_until,
    )


def take_back_link(shop: Shop, quote_id: int) -> None:
    """Undo a new link: the one before opens the quote again, the new one nothing.

    Raises
    ------
    Conflict
        If there was none before of this version.
    """
    quote = quotes.find_quote(shop, quote_id)
    with shop.unit() as unit:
        taken = kept.take_back_link(unit, quote_id)
    if not taken:
        raise Conflict(
            f"{quote.number} has no link before this one.",
            where="link",
            remedy="Make a new one to end this.",
            code="link-first",
        )


def new_token() -> str:
    """Make what a customer's link is opened by: nobody can guess it."""
    return secrets.token_urlsafe(TOKEN_BYTES)


NO_ADDRESS = "-"


def link_base(shop: Shop, served_at: str) -> str:
    """Return where customers' pages are: the shop's stated address, else where it is served.

    Parameters
    ----------
    shop : Shop
    served_at : str
        The address that this shop is served at just now.
    """
    stated = shop_house(shop).shop.public_address.strip()
    return (served_at if stated == NO_ADDRESS else stated).rstrip("/")


def link_url(shop: Shop, token: str, *, served_at: str) -> str:
    """Return the address of a customer's page; see `link_base`."""
    return f"{link_base(shop, served_at)}/q/{token}"


def _state(quote: quotes.KeptQuote, version: int) -> CustomerState:
    if quote.deleted_on is not None:
        return "withdrawn"
    if quote.state == "draft" or quote.version != version:
        return "replaced"
    if quote.state == "accepted":
        return "accepted"
    if quote.state == "declined":
        return "declined"
    past = quote.valid_until and quote.valid_until < today()
    return "expired" if past else "open"


def _opens(shop: Shop, token: str) -> tuple[int, int, bool]:
    """Return the quote and version that a link opens: the newest that was sent, and whether that
    is newer than the link.

    Raises
    ------
    NotFound
    """
    quote_id, version, newer = kept.follow_link(shop, token)
    quote = quotes.find_quote(shop, quote_id)
    if quote.state != "draft" and quote.version > version:
        return quote_id, quote.version, True
    return quote_id, version, newer


def _check_version(shop: Shop, token: str, seen: int | None) -> None:
    """Refuse what is said of another version than the one that the page showed.

    Raises
    ------
    NotFound
    Conflict
    """
    _, version, newer = _opens(shop, token)
    if seen != version and (newer or seen is not None):
        raise Conflict(
            "a newer version was sent since.",
            where="quote",
            remedy="Load the page again and read it first.",
            code="quote-newer",
        )


def _followed(
    shop: Shop, token: str
) -> tuple[quotes.KeptQuote, quotes.KeptVersion, Job, Estimate, House]:
    quote_id, number, _ = _opens(shop, token)
    version = quotes.find_version(shop, quote_id, number)
    house = kept_house(quotes.find_house(shop, version.house_sha256))
    estimate = Estimate.model_validate(version.estimate)
    return (
        quotes.find_quote(shop, quote_id),
        version,
        job_from(version.job),
        estimate,
        house,
    )


def _cells(cells: Any) -> list[str]:
    kinds = [" ".join(part for part in (c.size, c.colour) if part) or "plain" for c in cells]
    return [f"{cell.quantity} × {kind}" for cell, kind in zip(cells, kinds, strict=True)]


def _places(job: Job, estimate: Estimate, house: House, n: int) -> list[CustomerPlace]:
    found = []
    asked, line = job.lines[n], estimate.lines[n]
    for placement, place, design in zip(asked.placements, line.places, line.designs, strict=True):
        position = house.positions[place.position]
        mark = place.marks[0]
        found.append(
            CustomerPlace(
                label=place.label,
                position=CustomerPosition(
                    **{name: getattr(position, name) for name in CustomerPosition.model_fields}
                ),
                marks=[f"{m.sizes}: {m.words}" if m.sizes else m.words for m in place.marks],
                from_reference_mm=mark.from_reference_mm,
                x_mm=mark.x_mm,
                y_mm=mark.y_mm,
                width_mm=design.width_mm,
                height_mm=design.height_mm,
                turn=place.turn + place.tilt_deg,
                mirror=place.mirror,
                colours=[block.colour or "" for block in design.blocks],
                colour_names=[block.colour_name for block in design.blocks],
                text=(placement.design.text or "").replace(NAME_MARK, "a name each"),
                drawn=placement.design.stitches is None,
            )
        )
    return found


def drawn_as(class_id: str, house: House) -> str:
    """Name the class whose drawing shows one: its own, or that of the one it is a copy of."""
    drawing = house.goods[class_id].drawing
    return class_id if drawing == OWN_DRAWING else drawing


def read_link(shop: Shop, token: str) -> QuoteForCustomer:
    """Return the quote that a link opens, as it was sent.

    Raises
    ------
    NotFound
        If it opens none.
    """
    quote, version, job, estimate, house = _followed(shop, token)
    state = _state(quote, version.version)
    view = customers_view(
        job,
        estimate,
        house,
        number=quote.number,
        version=version.version,
        head=version.head | {"sent_on": version.sent_on[:10]},
        state=state,
        said=list_said(shop, quote.id, version.version),
    ).model_copy(
        update={
            "newer": _opens(shop, token)[2],
            "different": _different(shop, quote.id, version),
            "asks": list_asks(shop, quote.id),
        }
    )
    if state != "accepted":
        return view
    proof = proof_of(shop, quote.id, version.version, job, house)
    return view.model_copy(update={"proof": proof if proof.state != "none" else None})


_NOT_THEIRS = ("Valid until:", "Currency:", "Email:", "Notes:")
"""Changes that stand elsewhere on the page, or are none to a customer."""


def _different(shop: Shop, quote_id: int, version: quotes.KeptVersion) -> list[str]:
    """Say what is different from the version sent before, as a customer reads it."""
    if version.version < 2:
        return []
    before = quotes.find_version(shop, quote_id, version.version - 1)
    old, new = (Sent(v.job, v.estimate, v.head) for v in (before, version))
    said = changes_between(old, new, costs=False, methods=False)
    return [words for words in dict.fromkeys(said) if not words.startswith(_NOT_THEIRS)]


def say_link_proof(shop: Shop, token: str, said: ProofSaid) -> QuoteForCustomer:
    """Keep what a customer says of the proof: approved, or what is to be different.

    Raises
    ------
    BadInput, Conflict
        See `proofs.say_proof`; nothing is kept then.
    """
    _check_version(shop, token, said.version)
    quote, version, job, _, _ = _followed(shop, token)
    say_proof(shop, quote.id, version.version, job, said)
    return read_link(shop, token)


def link_proof_paper(shop: Shop, token: str) -> bytes:
    """Set the proof on paper.

    Raises
    ------
    NotFound
    """
    quote, version, job, estimate, house = _followed(shop, token)
    head = PaperHead.told(quote.number, version.version, version.head)
    return proof_pdf(head, job, estimate, house, pictures(shop, job, house))


def customers_view(
    job: Job,
    estimate: Estimate,
    house: House,
    *,
    number: str,
    version: int,
    head: Mapping[str, str],
    state: CustomerState,
    said: list[SaidView],
) -> QuoteForCustomer:
    """Write a quote as its customer sees it; `head` as a paper's."""
    in_sets = {n for kit in estimate.total.kits for n in kit.lines}

    def tiers(n: int) -> list[Tier]:
        return [] if estimate.lines[n].id in in_sets else estimate.lines[n].tiers

    lines = [
        CustomerLine(
            goods=goods_name(asked.goods, house),
            goods_class=asked.goods.class_,
            drawing=drawn_as(asked.goods.class_, house),
            supplied_by=asked.goods.supplied_by,
            quantity=line.quantity,
            cells=_cells(asked.cells),
            cloth=line.cloth or (colour_of(asked.cells[0].colour) if asked.cells else None),
            names=[
                CustomerNames(kind=part.kind, names=list(part.names), to_come=part.to_come)
                for part in names_by_cell(asked)
                if known_names(asked)
            ],
            places=_places(job, estimate, house, n),
            unit=line.price.unit,
            line=line.price.line,
            tiers=[CustomerTier(quantity=t.quantity, unit=t.unit) for t in tiers(n)],
        )
        for n, (asked, line) in enumerate(zip(job.lines, estimate.lines, strict=True))
    ]
    total = estimate.total
    sums = [
        CustomerSum(name=f"{line.quantity} × {line.goods}", each=line.unit, amount=line.line)
        for line, of in zip(lines, estimate.lines, strict=True)
        if of.id not in in_sets
    ] + [
        CustomerSum(name=f"{kit.quantity} × {kit.name}", each=kit.unit, amount=kit.line)
        for kit in total.kits
    ]
    return QuoteForCustomer(
        shop=house.shop.name,
        address=house.shop.address,
        number=number,
        version=version,
        customer=head.get("customer", ""),
        sent_on=head.get("sent_on", ""),
        due_on=head.get("due_on", ""),
        promise=_promise(head, house),
        valid_until=head.get("valid_until", ""),
        state=state,
        notes=head.get("notes", ""),
        currency=estimate.currency,
        units=house.shop.units,
        locale=house.shop.locale,
        lines=lines,
        sums=sums,
        charges=[CustomerSum(name=c.name, amount=c.amount) for c in total.charges],
        tax=total.tax,
        to_pay=total.to_pay,
        deposit=total.deposit,
        holds_by=conditions(job, estimate, house),
        said=said,
    )


@as_the_shop_writes
def _promise(head: Mapping[str, str], house: House) -> str:
    return PaperHead.told("", 1, head).promise


def list_said(shop: Shop, quote_id: int, version: int | None = None) -> list[SaidView]:
    """List what a customer said of a quote, or of one version of it."""
    return [
        SaidView(version=w.version, kind=w.kind, name=w.name, words=w.words, said_on=w.said_on)
        for w in kept.list_words(shop, quote_id)
        if version is None or w.version == version
    ]


def answer_link(shop: Shop, token: str, answer: CustomerAnswer) -> QuoteForCustomer:
    """Keep what a customer says, with the version it is about.

    Raises
    ------
    BadInput
        Without a name, without consent, or a change that says nothing.
    Conflict
        If the quote is past its date, answered, or replaced by a newer version.
    """
    _check_version(shop, token, answer.version)
    quote, version, *_ = _followed(shop, token)
    name, words = answer.name.strip(), answer.words.strip()
    if not name:
        raise BadInput("the name is empty.", where="name", remedy="Type your name.", code="no-name")
    if answer.kind == "accepted" and not answer.agreed:
        raise BadInput(
            "consent is not given.",
            where="agreed",
            remedy="Tick that the pieces, words and price are right.",
            code="no-consent",
        )
    if answer.kind == "change" and not words:
        raise BadInput(
            "it does not say what to change.",
            where="words",
            remedy="Say it in a sentence.",
            code="no-words",
        )
    state = _state(quote, version.version)
    why = {
        "accepted": ("this quote was accepted already.", "Ask the shop for a change of it."),
        "declined": ("this quote was declined.", "Ask the shop for a new one."),
        "expired": ("this quote is past its date.", "Ask the shop to renew it."),
        "replaced": ("this quote is being changed.", "Wait for the new version, or ask for it."),
        "withdrawn": ("the shop has taken this quote back.", "Ask the shop for a new one."),
    }
    if state != "open":
        said, remedy = why[state]
        raise Conflict(said, where="quote", remedy=remedy, code="quote-not-open")
    word = kept.KeptWord(
        version=version.version, kind=answer.kind, name=name, words=words, said_on=now()
    )
    with shop.unit() as unit:
        kept.keep_word(unit, quote.id, word)
    return read_link(shop, token)


def link_path(shop: Shop, token: str, line: int, place: int) -> DesignPath:
    """Return the path of a design of the quote that a link opens, to draw it.

    Raises
    ------
    NotFound
        If there is none: the quote has no such place, or its design is a count.
    """
    _, _, job, _, house = _followed(shop, token)
    return path_in(shop, job, house, line, place)


def path_in(shop: Shop, job: Job, house: House, line: int, place: int) -> DesignPath:
    """Return the path of a design of a job.

    Raises
    ------
    NotFound
        If there is none: it has no such place, or its design is a count.
    """
    if line < len(job.lines) and place < len(job.lines[line].placements):
        design = job.lines[line].placements[place].design
        if design.sha256 is not None:
            return design_path(shop, design.sha256)
        if design.text is not None:
            longest = max(known_names(job.lines[line]), key=len, default="")
            height = design.height_mm
            return path_of(plan_of_words(design.text, house, height_mm=height, name=longest))
    raise NotFound("there is no drawing of it.", where="design", code="no-drawing")


def link_paper(shop: Shop, token: str) -> quotes.Document:
    """Return the customer's paper of the version that a link opens."""
    quote_id, version, _ = _opens(shop, token)
    found = quotes.find_document(shop, quote_id, version, "quote")
    if found is None:
        raise NotFound(
            "the paper of this quote was taken away.",
            where="document",
            remedy="Ask the shop for it.",
            code="document-unknown",
        )
    return found
