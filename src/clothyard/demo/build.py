"""Building the sample shop: a two-person workshop in a made-up harbour town."""

from __future__ import annotations

import os
import shutil
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from datetime import date, timedelta
from pathlib import Path
from typing import Any

from clothyard.core.errors import BadInput
from clothyard.demo import stitching
from clothyard.demo.hand import has_devices
from clothyard.demo.past import Past
from clothyard.demo.workshop import CREW, Workshop
from clothyard.services.customers import known as customers
from clothyard.services.designs.library import keep_design
from clothyard.services.house.standards import NewRow, add_row, change_standard
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.store.lock import HOLDER, LOCK
from clothyard.store.shop import DATABASE, Shop, today

MARK = "sample-shop"
BUILDING = "sample-shop-begun"
OnStep = Callable[[int, int], None]
STEPS = 26  # days that the story tells of
"""Stands while the sample shop is built: one that was cut off is begun anew."""

DESIGNS = {
    "crest": ("rowing-club-crest", "pes", stitching.crest),
    "oars": ("crossed-oars", "dst", stitching.oars),
    "paw": ("paw", "exp", stitching.paw),
    "anchor": ("anchor", "vp3", stitching.anchor),
    "lighthouse": ("lighthouse", "jef", stitching.lighthouse),
    "border": ("wave-border", "xxx", stitching.border),
}
THREADS = {
    "crest": ("#1d3b6f", "#e3d6bb", "#c9972b", "#b5bac0"),
    "oars": ("#e3d6bb", "#a64a24", "#c9972b"),
    "paw": ("#a64a24",),
    "anchor": ("#1d3b6f", "#c9972b"),
    "lighthouse": ("#56626d", "#cc2233", "#f7f5ef", "#e8cf7a"),
    "border": ("#1f7a7a", "#e3d6bb"),
}
"""The shelf's threads that each design is sewn in."""

CLOTHS = {
    "crew-gilet": "navy",
    "knitted-hat": "slate",
    "wool-scarf": "slate",
    "kit-bag-40-litres": "navy",
    "watch-hat": "navy",
    "clinic-tunic": "teal",
    "tunic": "white",
    "cushion-cover": "oat",
    "dog-coat": "moss",
}
DOGS = (
    "Biscuit",
    "Pebble",
    "Otto",
    "Wren",
    "Marmaduke",
    "Tansy",
    "Kelp",
    "Bramble",
    "Zoë",
    "Figaro",
    "Nell",
    "Sprat",
    "Juniper",
    "Mudge",
    "Captain",
    "Olive",
    "Rook",
    "Dumpling",
    "Ivy",
    "Tinker",
    "Halyard",
    "Moth",
)
SUPPLIERS: dict[str, dict[str, Any]] = {
    "Saltmarsh Blanks": {"delivery": "6.50", "free_from": "200", "days": 3},
    "Loom & Ladder Wholesale": {
        "delivery": "9.00",
        "free_from": "350",
        "days": 6,
        "express_days": 2,
        "express": "14.00",
    },
}
_SALT, _LOOM = "saltmarsh-blanks", "loom-ladder-wholesale"
BLANKS: dict[str, dict[str, Any]] = {
    "Harbour polo": {
        "goods": "pique-polo",
        "supplier": _SALT,
        "prices": "6.40, 25: 5.95, 100: 5.40",
        "dearer": "2XL 0.90, 3XL 1.60",
        "sizes": "XS S M L XL 2XL 3XL",
        "colours": "navy, white, sky, bottle green",
    },
    "Deckhand sweatshirt": {
        "goods": "sweatshirt",
        "supplier": _SALT,
        "prices": "11.20, 12: 10.60, 50: 9.80",
        "dearer": "2XL 1.40",
        "sizes": "S M L XL 2XL",
        "colours": "navy, grey, ecru",
    },
    "Crew gilet": {
        "goods": "lined-jacket",
        "supplier": _LOOM,
        "prices": "15.40, 10: 14.50, 25: 13.60",
        "sizes": "S M L XL",
        "colours": "navy, moss",
    },
    "Watch hat": {
        "goods": "knitted-hat",
        "supplier": _SALT,
        "prices": "3.60, 20: 3.20, 100: 2.75",
        "pack": 10,
        "colours": "navy, ecru, rust",
    },
    "Wool scarf": {
        "goods": "scarf",
        "supplier": _LOOM,
        "prices": "4.60, 25: 4.10, 100: 3.70",
        "colours": "oat, slate, moss",
    },
    "Quilted dog coat": {
        "goods": "dog-coat",
        "supplier": _LOOM,
        "prices": "8.40, 10: 7.90, 40: 7.20",
        "dearer": "L 1.30",
        "sizes": "S M L",
        "colours": "moss, brick",
    },
    "Clinic tunic": {
        "goods": "tunic",
        "supplier": _SALT,
        "prices": "11.40, 12: 11.00",
        "sizes": "8 10 12 14 16 18",
        "colours": "teal, white",
    },
    "Kit bag, 40 litres": {
        "goods": "kit-bag",
        "supplier": _LOOM,
        "prices": "10.60, 20: 9.80",
        "colours": "navy",
    },
    "Linen-look cushion cover": {
        "goods": "cushion-cover",
        "supplier": _LOOM,
        "prices": "5.20, 10: 4.75, 50: 4.30",
        "pack": 2,
        "colours": "oat, chalk",
    },
}
ROWING = ("Brackwater Rowing Club", "kit@brackwater-rowing.example")
VETS = ("Fennel Lane Veterinary Practice", "desk@fennel-lane.example")
CHOIR = ("Orrin Hill School Choir", "choir@orrin-hill.example")
GUESTS = ("Guest House at Pebble Stairs", "house@pebble-stairs.example")
COUNTER = ("Over the counter", "")
GROOMER = ("Wick & Whisker Dog Grooming", "tubs@wick-whisker.example")


def check_demo_folder(folder: Path) -> None:
    """See that a folder is empty, or of a sample shop.

    Raises
    ------
    BadInput
        If it holds something else.
    """
    if folder.exists() and any(folder.iterdir()) and not (folder / MARK).exists():
        raise BadInput(
            "the folder holds something that is not the sample shop.",
            where=str(folder),
            remedy="Name an empty folder, or one of an earlier demo.",
            code="folder",
        )
    folder.mkdir(parents=True, exist_ok=True)
    (folder / MARK).write_text("The sample shop: made up, safe to delete.\n", encoding="utf-8")


def _empty(folder: Path) -> None:
    """Clear a sample shop's folder, but for its mark and who holds it."""
    for path in folder.iterdir():
        if path.name in {MARK, BUILDING, LOCK, HOLDER}:
            continue
        if path.is_dir():
            shutil.rmtree(path)
        else:
            path.unlink()


def demo_shop(folder: Path, *, reset: bool = False, on_step: OnStep = lambda _, __: None) -> Shop:
    """Open the sample shop, building it when it is not there, or when its building was cut off.

    Parameters
    ----------
    folder : Path
        Of the sample shop alone.
    reset : bool
        Build it anew: what was changed in it is gone.
    on_step : callable (done, of), optional
        Hears how far the building is.

    Raises
    ------
    BadInput
        If the folder holds something that is not a sample shop.
    """
    check_demo_folder(folder)
    building = folder / BUILDING
    fresh = reset or building.exists() or not (folder / DATABASE).exists()
    if fresh:
        building.write_text("Not finished.\n", encoding="utf-8")
        _empty(folder)
    shop = Shop(folder)
    if fresh:
        _Story(shop, on_step).tell()
        on_step(STEPS, STEPS)
        building.unlink()
    return shop


@contextmanager
def _days_ago(days: int) -> Iterator[str]:
    """Let the shop's today be some days back, so that a story has a past."""
    before = os.environ.get("CLOTHYARD_TODAY")
    then = date.fromisoformat(today()) - timedelta(days=days)
    os.environ["CLOTHYARD_TODAY"] = then.isoformat()
    try:
        yield then.isoformat()
    finally:
        if before is None:
            del os.environ["CLOTHYARD_TODAY"]
        else:
            os.environ["CLOTHYARD_TODAY"] = before


def _days_on(days: int) -> str:
    return (date.fromisoformat(today()) + timedelta(days=days)).isoformat()


class _Story:
    """A season of enquiries, told through the services."""

    def __init__(self, shop: Shop, on_step: OnStep):
        self.shop = shop
        self.on_step, self.steps = on_step, 0
        self.designs: dict[str, str] = {}
        self.workshop = Workshop(shop, _days_ago)

    def _on(self, days: int) -> AbstractContextManager[str]:
        """Go on with what happened so many days ago."""
        self.on_step(self.steps, STEPS)
        self.steps += 1
        return _days_ago(days)

    def tell(self) -> None:
        """Keep the designs and make a dozen quotes in every state."""
        with self._on(80):
            change_standard(self.shop, "shop.name", "Tidewell Stitching")
            change_standard(
                self.shop, "shop.address", "3 Rope Walk, Brackwater · hello@tidewell.example"
            )
            self._stock()
            self.workshop.stock()
            for key, (name, kind, draw) in DESIGNS.items():
                data = stitching.stitch_file(draw(), kind)
                self.designs[key] = keep_design(self.shop, data, f"{name}.{kind}").sha256
        with self._on(64):
            self._sent(
                GUESTS,
                self._job("cushion-cover", "4.75", 16, "lighthouse"),
                notes="One on each window seat.",
            )
        with self._on(41):
            gilets = self._sent(
                ROWING, self._job("lined-jacket", "crew-gilet", 18, "crest"), due=30
            )
            self._sent(CHOIR, self._folders(), answer="declined")
        with self._on(33):
            gilets = self._answer(gilets, "accepted")
            tunics = self._sent(VETS, self._job("tunic", "11.00", 12, "paw"), answer="accepted")
        with self._on(12):
            hats = self._sent(ROWING, self._job("knitted-hat", "3.20", 24, "oars"), due=28)
            coat = self._sent(GROOMER, self._job("dog-coat", "7.90", 1, "paw"), answer="accepted")
        with self._on(9):
            self._revised(hats, self._job("knitted-hat", "3.20", 30, "oars"))
        with self._on(4):
            self._sent(CHOIR, self._job("scarf", "wool-scarf", 40, "border"), due=45)
            self._sent(GUESTS, self._job("tunic", "10.50", 6, "anchor"), due=21)
        with self._on(2):
            back = {
                "stitches": 38_000,
                "kind": "fill",
                "width_mm": 310,
                "height_mm": 330,
                "thread_colours": ["#e3d6bb"],
            }
            self._draft(
                ROWING,
                self._job("kit-bag", "kit-bag-40-litres", 20, back),
                notes="As large as it goes.",
            )
            self._draft(VETS, self._job("tunic", "clinic-tunic", 5, "paw", repeat=True))
        with self._on(0):
            self._draft(GROOMER, self._coats(), due=35)
            self._draft(
                GUESTS,
                {"lines": [{"goods": {"class": "table-linen"}}]},
                notes="Breakfast room; they will count the tables.",
            )
            self._know()
        self._orders(gilets, tunics, coat)

    def _orders(
        self, gilets: quotes.QuoteView, tunics: quotes.QuoteView, coat: quotes.QuoteView
    ) -> None:
        """Say what became of what was accepted, and take a few more orders, in every state."""
        shop = self.workshop
        shop.history()
        with self._on(19):
            shop.handed_over(gilets, paid=gilets.total, on=today())
        with self._on(15):
            shop.bought(
                "gull-reel",
                [
                    ("thread|polyester|#1d3b6f", "cone-5000", 1),
                    ("topping|film-500|", "film-500", 1),
                ],
                came=2,
            )
        with self._on(13):
            hats = self._sent(
                ROWING, self._job("knitted-hat", "watch-hat", 24, "oars"), due=15, answer="accepted"
            )
            bags = self._sent(
                ROWING,
                self._job("kit-bag", "kit-bag-40-litres", 14, "crest"),
                due=18,
                answer="accepted",
            )
        with self._on(10):
            polos = self._sent(ROWING, self._polos(), due=17, answer="accepted")
            covers = self._sent(
                GUESTS,
                self._job("cushion-cover", "linen-look-cushion-cover", 12, "lighthouse"),
                due=16,
                answer="accepted",
            )
        with self._on(7):
            shop.cancelled(coat)
            shop.bought(
                _LOOM,
                [
                    ("blank|linen-look-cushion-cover|oat", "", 6),
                    ("blank|kit-bag-40-litres|navy", "", 3),
                ],
                came=0,
            )
            clinic = self._sent(VETS, self._clinic(), due=12, answer="accepted")
            towels = self._sent(
                GUESTS, self._job("terry-towel", "3.80", 30, "anchor"), due=14, answer="accepted"
            )
        with self._on(3):
            shop.done(tunics, deposit="60", on=today())
            shop.in_work(hats, sewn=9, spoiled=1)
            shop.ready(clinic)
            shop.waits(covers, "goods")
        with self._on(1):
            shop.corrected(polos, name=6, to="Saoirse B.", by="Mika Thorne")
        self._past(gilets, tunics)
        has_devices(self.shop)
        assert bags.id < towels.id  # these two are accepted, and wait for nobody yet

    def _past(self, gilets: quotes.QuoteView, tunics: quotes.QuoteView) -> None:
        """Write down what finished work came to; small gifts among it, which took too long."""
        past, gifts = Past(self.shop), []
        past.remembered(
            [(date.fromisoformat(today()) - timedelta(days=d)).isoformat() for d in (150, 118, 92)]
        )
        for days, goods, cost, design in (
            (58, "terry-towel", "3.80", "anchor"),
            (52, "terry-towel", "3.80", "lighthouse"),
            (47, "knitted-hat", "3.20", "oars"),
            (38, "terry-towel", "3.80", "paw"),
        ):
            with self._on(days):
                job = self._job(goods, cost, 1, design, repeat=True)
                job["lines"][0]["unit_price"] = "12.10"
                gift = self._sent(COUNTER, job, answer="accepted")
                self.workshop.handed_over(gift, paid="12.10", on=today())
                gifts.append((days, gift))
        for days, gift in gifts:
            with self._on(days - 1):
                past.logged(gift.id, slow=1.5)
        with self._on(19):
            past.logged(gilets.id, spoiled=1, reason="caught")
        with self._on(3):
            past.logged(tunics.id)

    def _polos(self) -> dict[str, Any]:
        """A crew's polos: the crest, and each one's name on the sleeve side."""
        job = self._job("pique-polo", "harbour-polo", 12, "crest")
        job["lines"][0] |= {
            "names": list(CREW),
            "cells": [
                {"size": "M", "colour": "navy", "quantity": 7},
                {"size": "L", "colour": "navy", "quantity": 5},
            ],
        }
        name = {"text": "{name}", "height_mm": 10, "thread_colours": ["#e3d6bb"]}
        job["lines"][0]["placements"].append({"position": "sleeve", "design": name})
        return job

    def _clinic(self) -> dict[str, Any]:
        """Tunics for the practice, of what lies on the shelf."""
        job = self._job("tunic", "clinic-tunic", 4, "paw", repeat=True)
        job["lines"][0]["cells"] = [
            {"size": "12", "colour": "teal", "quantity": 2},
            {"size": "14", "colour": "teal", "quantity": 2},
        ]
        return job

    def _know(self) -> None:
        """Write down of customers what a shop knows after a season."""
        known: list[tuple[tuple[str, str], dict[str, Any]]] = [
            (
                ROWING,
                {
                    "phone": "01632 960118",
                    "notes": "Order goes through the kit officer; she counts sizes in March.",
                    "contacts": [
                        {"name": "Mika Thorne", "role": "kit officer", "phone": "01632 960120"}
                    ],
                    "agreed": [
                        {
                            "goods": "pique-polo",
                            "unit_price": "15.00",
                            "from_quantity": 12,
                            "until": _days_on(240),
                        }
                    ],
                },
            ),
            (GROOMER, {"keep_until": _days_on(-3), "notes": "Dogs' names, now and then owners'."}),
        ]
        for (name, email), values in known:
            (row,) = customers.list_customers(self.shop, search=email).items
            document = customers.CustomerDocument.model_validate(
                {"name": name, "email": email} | values
            )
            customers.save_customer(self.shop, row.id, document, seen=row.revision)
        twin = customers.CustomerDocument(name=f"{CHOIR[0]} Society", phone="01632 960147")
        customers.create_customer(self.shop, twin)

    def _stock(self) -> None:
        """Keep who blanks are bought from, and what they ask."""
        for section, rows in (("suppliers", SUPPLIERS), ("blanks", BLANKS)):
            for label, values in rows.items():
                add_row(self.shop, NewRow(section=section, label=label, values=values))

    def _job(
        self,
        goods: str,
        cost: str,
        quantity: int,
        design: str | dict[str, Any],
        *,
        repeat: bool = False,
    ) -> dict[str, Any]:
        """A job of one line; a cost that is no number is a blank of the shelf."""
        priced = {"unit_cost" if cost[:1].isdigit() else "blank": cost}
        drawn: dict[str, Any] = (
            {"sha256": self.designs[design]} if isinstance(design, str) else dict(design)
        )
        if isinstance(design, str):
            drawn["thread_colours"] = list(THREADS[design])
        if repeat:
            drawn["repeat"] = True
        return {
            "format": "clothyard-job/1",
            "currency": "GBP",
            "lines": [
                {
                    "goods": {"class": goods} | priced,
                    "quantity": quantity,
                    **self._cells(cost if cost in CLOTHS else goods, quantity),
                    "placements": [{"design": drawn}],
                }
            ],
        }

    @staticmethod
    def _cells(goods: str, quantity: int) -> dict[str, Any]:
        colour = CLOTHS.get(goods)
        return {"cells": [{"colour": colour, "quantity": quantity}]} if colour else {}

    def _coats(self) -> dict[str, Any]:
        """24 coats in three sizes, a paw on each and its dog's name."""
        job = self._job("dog-coat", "quilted-dog-coat", 24, "paw")
        job["lines"][0] |= {
            "names": list(DOGS),
            "cells": [
                {"size": "S", "colour": "moss", "quantity": 9},
                {"size": "M", "colour": "moss", "quantity": 10},
                {"size": "L", "colour": "moss", "quantity": 5},
            ],
        }
        name = {"text": "{name}", "height_mm": 18, "thread_colours": ["#e3d6bb"]}
        job["lines"][0]["placements"].append({"position": "full-back", "design": name})
        return job

    def _folders(self) -> dict[str, Any]:
        words = {
            "stitches": 3800,
            "kind": "lettering",
            "width_mm": 120,
            "height_mm": 30,
            "letter_height_mm": 14,
            "thread_colours": ["#c9972b"],
        }
        return self._job("vinyl", "5.20", 40, words)

    def _draft(
        self, customer: tuple[str, str], job: dict[str, Any], *, due: int = 0, notes: str = ""
    ) -> quotes.QuoteView:
        wanted = date.fromisoformat(today()) + timedelta(days=due)
        return quotes.create_quote(
            self.shop,
            quotes.QuoteDocument(
                customer=customer[0],
                email=customer[1],
                due_on=wanted.isoformat() if due else "",
                notes=notes,
                job=job,
            ),
        )

    def _sent(
        self,
        customer: tuple[str, str],
        job: dict[str, Any],
        *,
        due: int = 0,
        notes: str = "",
        answer: str = "",
    ) -> quotes.QuoteView:
        draft = self._draft(customer, job, due=due, notes=notes)
        sent = sending.send_quote(self.shop, draft.id, seen=draft.revision)
        return self._answer(sent, answer) if answer else sent

    def _answer(self, quote: quotes.QuoteView, answer: str) -> quotes.QuoteView:
        said: Any = answer
        return sending.answer_quote(self.shop, quote.id, said, seen=quote.revision)

    def _revised(self, quote: quotes.QuoteView, job: dict[str, Any]) -> None:
        view = sending.revise_quote(self.shop, quote.id, seen=quote.revision)
        document = quotes.QuoteDocument.model_validate(view.model_dump() | {"job": job})
        view = quotes.save_quote(self.shop, view.id, document, seen=view.revision)
        sending.send_quote(self.shop, view.id, seen=view.revision)
