"""The simulated post: messages as .eml files in the shop's folder, readable in the app."""

from __future__ import annotations

import email
from email.message import EmailMessage
from email.policy import default
from pathlib import Path

from pydantic import BaseModel

from clothyard.core.errors import NotFound
from clothyard.core.job import Job
from clothyard.documents.bundle import PaperHead
from clothyard.documents.layout import Picture
from clothyard.services.designs import design_path
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


def pictures(shop: Shop, job: Job) -> list[Picture]:
    """Build the picture of each line's first design, from its stitches when it has a file."""
    found = []
    for line in job.lines:
        design = line.placements[0].design
        if design.sha256 is None:
            stated = (design.width_mm or 60.0, design.height_mm or 60.0)
            found.append(Picture(*stated, blocks=()))
            continue
        path = design_path(shop, design.sha256)
        blocks = tuple(
            (
                block.colour,
                tuple(
                    tuple((run[i] / 10, run[i + 1] / 10) for i in range(0, len(run), 2))
                    for run in block.runs
                ),
            )
            for block in path.blocks
        )
        found.append(Picture(path.width / 10, path.height / 10, blocks))
    return found


def _folder(shop: Shop) -> Path:
    folder = shop.folder / "outbox"
    folder.mkdir(exist_ok=True)
    return folder


def post(shop: Shop, head: PaperHead, documents: list[Document]) -> str:
    """Put a quote into the outbox: the message as text, the customer's paper attached."""
    body = next(d.data.decode() for d in documents if d.kind == "message")
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
