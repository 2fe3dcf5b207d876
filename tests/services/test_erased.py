"""Erased is erased: a name planted wherever a person can stand, looked for in every byte."""

import io
import zipfile

from PIL import Image

from clothyard.services.customer_page import proofs
from clothyard.services.customer_page.links import CustomerAnswer, answer_link, make_link
from clothyard.services.customers import known, personal
from clothyard.services.customers.known import CustomerDocument
from clothyard.services.designs.library import keep_design
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from tests.conftest import polos
from tests.kept import new_key
from tests.services.test_log import API, event, let_go, pressed

NAME = "Quillon"
PERSON = f"Ottoline {NAME}"


def planted(shop, crest_files):
    """A job that says the name in the list, in lettered words, as a file's name, in a reason."""
    sha256 = keep_design(shop, crest_files["dst"], f"{NAME.lower()}-crest.dst").sha256
    job = polos(
        line__quantity=2,
        line__names=[PERSON, "Ada"],
        placement__design={"sha256": sha256},
    )
    place = job["lines"][0]["placements"][0]
    job["lines"][0]["placements"] += [
        place | {"position": "right-chest", "design": {"text": "{name}", "height_mm": 12}},
        place | {"position": "back", "design": {"text": f"{NAME} & Co", "height_mm": 30}},
    ]
    job["overruled"] = [{"code": "margin-low", "reason": f"{NAME} is a friend"}]
    return job


def bytes_of(shop):
    """Every byte of the shop's folder, what is packed unpacked; by where it lies."""
    for path in shop.folder.rglob("*"):
        if not path.is_file():
            continue
        yield str(path), path.read_bytes()
        if path.suffix == ".zip":
            with zipfile.ZipFile(path) as packed:
                for name in packed.namelist():
                    yield f"{path}/{name}", packed.read(name)


def told_in(shop, word):
    return sorted(at for at, data in bytes_of(shop) if word.lower().encode() in data.lower())


def test_a_name_planted_everywhere_is_nowhere_after(client, shop, crest_files, monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")
    document = quotes.QuoteDocument(
        customer=PERSON,
        email=f"{NAME}@own.example",
        notes=f"{NAME} rings on Friday",
        job=planted(shop, crest_files),
    )
    draft = quotes.create_quote(shop, document)
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    link = make_link(shop, sent.id, served_at="http://127.0.0.1/")
    said = CustomerAnswer(kind="change", name=f"Io {NAME}", words=f"{NAME} in blue")
    answer_link(shop, link.path.removeprefix("/q/"), said)
    seen = quotes.find_quote(shop, sent.id).revision
    order = sending.answer_quote(shop, sent.id, "accepted", seen=seen).id
    orders.keep_up(shop)
    asked = open_version(shop, order, 1).asked
    corrected = proofs.ProofSaid(
        name=f"Io {NAME}",
        names=[{"line": "l1", "n": 0, "to": f"{NAME} the Elder"}],
        other=f"{NAME} is spelt so",
    )
    proofs.say_proof(shop, order, 1, asked, corrected)
    let_go(client, order)
    at_work(client, order)
    [customer] = known.list_customers(shop, search=NAME).items
    written = CustomerDocument(
        **{k: getattr(customer, k) for k in CustomerDocument.model_fields}
        | {
            "email": f"{NAME}@home.example",
            "address": f"{NAME} House",
            "notes": f"{NAME}'s birthday",
            "contacts": [{"name": f"Ro {NAME}", "email": f"ro@{NAME}.example"}],
        }
    )
    known.save_customer(shop, customer.id, written, seen=customer.revision)
    move = {"item": "thread|polyester|#1d3b6f", "why": "wasted", "amount": "5"}
    answer = client.post(
        f"{API}/stock/moves", json=move | {"note": f"{NAME}'s cone", "key": new_key()}
    )
    assert answer.status_code < 300, answer.text
    assert len(told_in(shop, NAME)) > 3
    personal.erase_customer(shop, customer.id)
    backups.make_backup(shop)
    assert told_in(shop, NAME) == []
    assert told_in(shop, "Ottoline") == []
    for page in (f"quotes/{order}", f"orders/{order}", "log", "stock", "customers", "today"):
        assert client.get(f"{API}/{page}").status_code == 200, page


def at_work(client, order):
    """Sew the pieces: reasons, notes, a photo and a row of the log name somebody."""
    rows = client.get(f"{API}/orders/{order}/passes").json()
    url = f"{API}/orders/{order}/passes/{rows[0]['pass_id']}"
    photo = io.BytesIO()
    Image.new("RGB", (40, 30), "white").save(photo, "png")
    files = {"file": (f"{NAME}.png", photo.getvalue(), "image/png")}
    client.post(f"{API}/orders/{order}/photos", files=files)
    ids = [piece["id"] for piece in client.get(url).json()["pieces"]]
    pressed(client, url, event("begun", ids[0]), event("done", ids[0], needle_s=300.0))
    pressed(client, url, event("note", text=f"{NAME} came by"))
    pressed(client, url, event("spoiled", ids[1], reason=f"{NAME} changed it"))
    row = client.get(f"{url}/log").json()["row"]
    row["note"] = f"as {NAME} likes it"
    row["reasons"] = {f"{NAME} changed it": 1}
    row["threads"] = []
    written = client.post(f"{url}/log", json=row)
    assert written.status_code < 300, written.text
