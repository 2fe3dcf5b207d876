"""The simulated post: messages as .eml files in the shop's folder, readable in the app."""

from __future__ import annotations

import email
from collections.abc import Sequence
from email.message import EmailMessage
from email.policy import default
from pathlib import Path

from pydantic import BaseModel

from clothyard.core.errors import BadInput, NotFound
from clothyard.core.house.document import House
from clothyard.core.job.document import Design, Job
from clothyard.documents.bundle import PaperHead
from clothyard.documents.layout import Picture
from clothyard.services.designs import DesignPath, design_path, path_of
from clothyard.services.words import plan_of_words
from clothyard.store.quotes import Document
from clothyard.store.shop import Shop

SENDER = "quotes@workshop.example"
FOR_CUSTOMERS = ("quote",)


class MailRow(BaseModel):
    """A message in the outbox."""

    id: str
    to: str
    subject: str
    sent_on: str


class MailView(MailRow):
    """A message, opened."""

    body: str
    attachments: list[str]


def _picture_of(path: DesignPath, colours: Sequence[str]) -> Picture:
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


def _picture(shop: Shop, design: Design, names: Sequence[str], house: House) -> Picture:
    if design.sha256 is not None:
        return _picture_of(design_path(shop, design.sha256), design.thread_colours)
    if design.text is not None:
        name = max((name.strip() for name in names), key=len, default="")
        try:
            plan = plan_of_words(design.text, house, height_mm=design.height_mm, name=name)
        except BadInput:  # nothing of it can be lettered: the frame alone is drawn
            return Picture(60.0, design.height_mm or house.words.height_mm, blocks=())
        return _picture_of(path_of(plan), design.thread_colours)
    return Picture(design.width_mm or 60.0, design.height_mm or 60.0, blocks=())


def pictures(shop: Shop, job: Job, house: House) -> list[list[Picture]]:
    """Draw every line's designs: from the file, from the words (the longest name), else a frame."""
    return [
        [_picture(shop, placement.design, line.names, house) for placement in line.placements]
        for line in job.lines
    ]


def _folder(shop: Shop) -> Path:
    folder = shop.folder / "outbox"
    folder.mkdir(exist_ok=True)
    return folder


def post(shop: Shop, head: PaperHead, documents: list[Document], *, link: str = "") -> str:
    """Put a quote into the outbox: the message as text, the customer's paper attached.

    The link to the customer's page stands in the message alone: the shop keeps only its hash.
    """
    body = next(d.data.decode() for d in documents if d.kind == "message")
    if link:
        body += f"\nRead it, accept it or ask for a change here:\n{link}\n"
    mail = EmailMessage(policy=default)
    mail["From"] = SENDER
    mail["To"] = head.email or "customer@nowhere.example"
    mail["Subject"] = f"Quote {head.number}"
    mail["X-Sent-On"] = head.sent_on
    mail.set_content(body)
    for document in documents:
        if document.kind in FOR_CUSTOMERS:
            main, sub = document.media_type.split("/")
            mail.add_attachment(document.data, maintype=main, subtype=sub, filename=document.name)
    name = f"{head.number}-v{head.version}"
    (_folder(shop) / f"{name}.eml").write_bytes(mail.as_bytes())
    return name


def _row(path: Path, mail: EmailMessage) -> dict[str, str]:
    return {
        "id": path.stem,
        "to": str(mail["To"]),
        "subject": str(mail["Subject"]),
        "sent_on": str(mail["X-Sent-On"]),
    }


def _open(path: Path) -> EmailMessage:
    mail = email.message_from_bytes(path.read_bytes(), policy=default)
    assert isinstance(mail, EmailMessage)
    return mail


def list_mail(shop: Shop) -> list[MailRow]:
    """List the outbox, newest first."""
    paths = sorted(_folder(shop).glob("*.eml"), key=lambda p: (p.stat().st_mtime, p.name))
    return [MailRow(**_row(path, _open(path))) for path in reversed(paths)]


def read_mail(shop: Shop, mail_id: str) -> MailView:
    """Open a message.

    Raises
    ------
    NotFound
    """
    path = next((p for p in _folder(shop).glob("*.eml") if p.stem == mail_id), None)
    if path is None:
        raise NotFound(f"there is no message {mail_id!r}.", where="mail", code="mail-unknown")
    mail = _open(path)
    body = mail.get_body(("plain",))
    return MailView(
        **_row(path, mail),
        body=body.get_content() if body else "",
        attachments=[part.get_filename() or "" for part in mail.iter_attachments()],
    )
