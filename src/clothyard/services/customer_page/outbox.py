"""Messages to customers: written, kept, given to the post, readable in the app."""

from __future__ import annotations

import email
from collections.abc import Sequence
from email.message import EmailMessage
from email.policy import default
from typing import Any, Literal

from pydantic import BaseModel

from clothyard.core.errors import BadInput
from clothyard.core.house.document import House
from clothyard.core.job.document import Design, Job
from clothyard.documents.bundle import PaperHead
from clothyard.documents.layout import Picture
from clothyard.files.tables import SheetKind, write_sheet
from clothyard.ports.post import FolderPost, PostError
from clothyard.services.designs.library import DesignPath, design_path, path_of
from clothyard.services.designs.words import plan_of_words
from clothyard.store import mail as store
from clothyard.store.blobs import content_hash
from clothyard.store.disk import unkept
from clothyard.store.mail import KeptMail
from clothyard.store.quotes import Document
from clothyard.store.shop import Shop, now

SENDER = "quotes@workshop.example"
FOR_CUSTOMERS = ("quote",)
MOST_WRITTEN = 10_000

Sort = Literal["sent", "subject", "to"]


class MailRow(BaseModel):
    """A message in the outbox; one that is not posted waits, `trouble` says for what."""

    id: str
    to: str
    subject: str
    sent_on: str
    posted: bool
    trouble: str


class MailPage(BaseModel):
    """A page of the outbox."""

    items: list[MailRow]
    total: int
    next: str | None


class MailView(MailRow):
    """A message, opened."""

    body: str
    attachments: list[str]


def picture_of(path: DesignPath, colours: Sequence[str]) -> Picture:
    """Draw a path; the seller's own colours lie over the file's."""
    blocks = tuple(
        (
            colours[i] if i < len(colours) else block.colour,
            tuple(
                tuple((run[k] / 10, run[k + 1] / 10) for k in range(0, len(run), 2))
                for run in block.runs
            ),
        )
        for i, block in enumerate(path.blocks)
    )
    return Picture(path.width / 10, path.height / 10, blocks)


def picture_for(shop: Shop | None, design: Design, names: Sequence[str], house: House) -> Picture:
    """Draw a design: its file, its words with the longest name, else a frame of its size."""
    if design.sha256 is not None and shop is not None:
        return picture_of(design_path(shop, design.sha256), design.thread_colours)
    if design.text is not None:
        name = max((name.strip() for name in names), key=len, default="")
        try:
            plan = plan_of_words(design.text, house, height_mm=design.height_mm, name=name)
        except BadInput:  # nothing of it can be lettered: the frame alone is drawn
            return Picture(60.0, design.height_mm or house.words.height_mm, blocks=())
        return picture_of(path_of(plan), design.thread_colours)
    return Picture(design.width_mm or 60.0, design.height_mm or 60.0, blocks=())


def pictures(shop: Shop, job: Job, house: House) -> list[list[Picture]]:
    """Draw every line's designs: from the file, from the words (the longest name), else a frame."""
    return [
        [picture_for(shop, placement.design, line.names, house) for placement in line.placements]
        for line in job.lines
    ]


def write_message(
    head: PaperHead, documents: Sequence[Document], *, link: str
) -> tuple[KeptMail, bytes]:
    """Write a quote's message: the words as text, the customer's paper attached.

    The link to the customer's page stands in it alone: the database keeps only its hash.

    Returns
    -------
    (KeptMail, bytes)
        Its row, and itself as an .eml file.
    """
    words = next(d.data.decode() for d in documents if d.kind == "message")
    mail = EmailMessage(policy=default)
    mail["From"] = SENDER
    mail["To"] = head.email
    mail["Subject"] = f"Quote {head.number}"
    mail["X-Sent-On"] = head.sent_on
    mail.set_content(f"{words}\nRead it, accept it or ask for a change here:\n{link}\n")
    for document in documents:
        if document.kind in FOR_CUSTOMERS:
            main, sub = document.media_type.split("/")
            mail.add_attachment(document.data, maintype=main, subtype=sub, filename=document.name)
    data = mail.as_bytes()
    kept = KeptMail(
        id=f"{head.number}-v{head.version}",
        to=head.email,
        subject=str(mail["Subject"]),
        sent_on=now(),
        sha256=content_hash(data),
    )
    return kept, data


def post_mail(shop: Shop, mail_id: str) -> MailRow:
    """Give a message to the post; where it does not take it, it waits and can be tried again.

    Raises
    ------
    NotFound
    """
    mail, data = store.find_mail(shop, mail_id)
    if not mail.posted_on:
        trouble = ""
        try:
            FolderPost(shop.folder / "outbox").take(mail.id, data)
        except PostError as error:
            trouble = str(error)
        with shop.unit() as unit:
            store.mark_posted(unit, mail_id, trouble=trouble)
    return _row(store.find_mail(shop, mail_id)[0])


def hand_over(shop: Shop, mail_id: str) -> None:
    """Give a message to the post where that can be done now; else it waits: it was sent.

    A disk that is full by then keeps nobody from knowing that the version stands.
    """
    try:
        post_mail(shop, mail_id)
    except Exception as error:
        if unkept(error) is None:
            raise


def _row(mail: KeptMail) -> MailRow:
    return MailRow(
        id=mail.id,
        to=mail.to,
        subject=mail.subject,
        sent_on=mail.sent_on[:10],
        posted=bool(mail.posted_on),
        trouble=mail.trouble,
    )


def list_mail(shop: Shop, *, cursor: str = "", limit: int = 50, **wanted: Any) -> MailPage:
    """List the outbox, newest first, a page at a time; `wanted` as of the store's `list_mail`."""
    offset = int(cursor) if cursor.isdigit() else 0
    found, total = store.list_mail(shop, offset=offset, limit=limit, **wanted)
    after = offset + len(found)
    return MailPage(
        items=[_row(mail) for mail in found],
        total=total,
        next=str(after) if after < total else None,
    )


def outbox_sheet(shop: Shop, kind: SheetKind, **wanted: Any) -> bytes:
    """Write the messages of a list as a table; `wanted` as of `list_mail`."""
    rows = [
        [row.id, row.sent_on, row.to, row.subject, "posted" if row.posted else "waits", row.trouble]
        for row in list_mail(shop, limit=MOST_WRITTEN, **wanted).items
    ]
    heads = ["Message", "Sent", "To", "Subject", "Post", "Trouble"]
    return write_sheet(heads, rows, kind=kind, title="Outbox")


def read_mail(shop: Shop, mail_id: str) -> MailView:
    """Open a message.

    Raises
    ------
    NotFound
    Conflict
        If its file is missing or torn.
    """
    kept, data = store.find_mail(shop, mail_id)
    mail = email.message_from_bytes(data, policy=default)
    assert isinstance(mail, EmailMessage)
    body = mail.get_body(("plain",))
    return MailView(
        **_row(kept).model_dump(),
        body=body.get_content() if body else "",
        attachments=[part.get_filename() or "" for part in mail.iter_attachments()],
    )
