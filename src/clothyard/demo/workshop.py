"""The sample shop's workshop: a shelf with its history, and orders in every state."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from decimal import Decimal
from typing import Any

from clothyard.core.order.state import BEGUN
from clothyard.services.customer_page import proofs
from clothyard.services.house.standards import NewRow, add_row, change_standard
from clothyard.services.orders import buying
from clothyard.services.orders import follow as orders
from clothyard.services.orders.opened import open_version
from clothyard.services.quotes.drafts import QuoteView
from clothyard.services.stock import shelf
from clothyard.store import orders as kept
from clothyard.store.shop import Shop

SUPPLIER_ADDRESS = "http://127.0.0.1:8643"
REEL: dict[str, Any] = {
    "delivery": "4.50",
    "free_from": "60",
    "days": 2,
    "sells": "thread bobbin backing topping sheet hardware",
}

THREADS = {
    "#1d3b6f": ("7400", "1000", "drawer 1"),
    "#e3d6bb": ("2260", "1000", "drawer 1"),
    "#c9972b": ("860", "500", "drawer 1"),
    "#b5bac0": ("4100", "500", "drawer 1"),
    "#a64a24": ("310", "500", "drawer 2"),
    "#1f7a7a": ("5200", "500", "drawer 2"),
    "#56626d": ("1730", "0", "drawer 2"),
    "#cc2233": ("940", "0", "drawer 3"),
    "#f7f5ef": ("9300", "2000", "drawer 3"),
    "#e8cf7a": ("480", "0", "drawer 3"),
}
"""On hand, kept at least, where."""

ROLLS = {
    "backing|cut-away-medium-500|": "61.4",
    "backing|tear-away-medium-500|": "88",
    "backing|mesh-500|": "12.5",
    "backing|cut-away-light-500|": "34",
    "backing|wash-away-mesh-500|": "9",
    "topping|film-500|": "47.2",
    "backing|cap-tear-away-110|": "40",
}
BLANKS = {
    "blank|harbour-polo|M navy": "6",
    "blank|harbour-polo|L navy": "9",
    "blank|harbour-polo|S navy": "4",
    "blank|watch-hat|navy": "22",
    "blank|clinic-tunic|12 teal": "5",
    "blank|clinic-tunic|14 teal": "4",
    "blank|linen-look-cushion-cover|oat": "2",
    "blank|kit-bag-40-litres|navy": "1",
}
CREW = (
    "Ines",
    "Torben",
    "Maud",
    "Kofi",
    "Ruaridh",
    "Anneke",
    "Saoirse",
    "Pim",
    "Wilf",
    "Dagny",
    "Lotte",
    "Bram",
)


class Workshop:
    """Tells what became of the accepted quotes, through the services.

    Parameters
    ----------
    shop : Shop
    days_ago : callable
        Lets the shop's today be so many days back.
    """

    def __init__(self, shop: Shop, days_ago: Callable[[int], AbstractContextManager[str]]):
        self.shop, self.days_ago = shop, days_ago

    def stock(self) -> None:
        """Count what lies on the shelf, and say what is kept of it at least."""
        add_row(self.shop, NewRow(section="suppliers", label="Gull & Reel", values=REEL))
        change_standard(self.shop, "buying.supplier_address", SUPPLIER_ADDRESS)
        n = 0
        for colour, (metres, least, place) in THREADS.items():
            key, n = f"thread|polyester|{colour}", n + 1
            self._book(n, key, "counted", metres)
            shelf.settle_item(
                self.shop,
                key,
                shelf.ItemSettings(minimum=Decimal(least), place=place),
            )
        for key, amount in (ROLLS | BLANKS).items():
            n += 1
            self._book(n, key, "counted", amount)
        for colour, count in (("white", "118"), ("black", "64")):
            n += 1
            key = f"bobbin|l-prewound|{colour}"
            self._book(n, key, "counted", count)
            shelf.settle_item(self.shop, key, shelf.ItemSettings(minimum=Decimal(40), place="tin"))

    def _book(
        self, n: int, item: str, why: str, amount: str, note: str = "", putup: str = ""
    ) -> None:
        said: dict[str, Any] = {"why": why, "amount": amount, "note": note, "putup": putup}
        shelf.book(self.shop, shelf.Booking(key=f"sample-shop-{n:04d}", item=item, **said))

    def history(self) -> None:
        """Weigh a cone, waste some thread, take backing, as a season does."""
        with self.days_ago(26):
            self._book(
                101, "thread|polyester|#c9972b", "weighed", "84.6", "after the gilets", "cone-5000"
            )
        with self.days_ago(17):
            self._book(102, "backing|mesh-500|", "wasted", "0.8", "cut crooked")
            self._book(103, "thread|polyester|#e3d6bb", "wasted", "45", "tangled on the cone")
        with self.days_ago(8):
            self._book(104, "blank|watch-hat|navy", "received", "10", "a pack from the market")
            self._book(105, "bobbin|l-prewound|black", "counted", "58")

    def _state(self, quote: QuoteView, state: str, *, waits: str = "", **values: Any) -> None:
        """Move an order on; its words count as approved when it goes beyond waiting."""
        orders.keep_up(self.shop)
        order = kept.find_order(self.shop, quote.id)
        if state in BEGUN:
            proofs.tick_proof(self.shop, quote.id, by="the customer, by telephone")
            order = kept.find_order(self.shop, quote.id)
            samples = orders.find_order(self.shop, quote.id).samples
            values["ready"] = [*values.get("ready", []), *(row.key for row in samples)]
        said: dict[str, Any] = {
            "state": state,
            "waits": waits,
            "promised_on": order.promised_on,
            "anyway": True,
        } | values
        document = orders.OrderDocument.model_validate(said)
        orders.save_order(self.shop, quote.id, document, seen=order.revision)

    def _sewn(self, quote: QuoteView, count: int, *, spoiled: int = 0) -> None:
        pieces = [p.id for p in kept.list_pieces(self.shop, quote.id)]
        move = orders.PiecesChange(ids=pieces[:count], seen=["waiting"], state="good")
        orders.change_pieces(self.shop, quote.id, move)
        for id_ in pieces[count : count + spoiled]:
            lost = orders.PiecesChange(
                ids=[id_], seen=["waiting"], state="spoiled", reason="pucker"
            )
            orders.change_pieces(self.shop, quote.id, lost)

    def _bring(self, quote: QuoteView) -> None:
        """Let what an order lacks come in before it is begun."""
        orders.keep_up(self.shop)
        view = orders.find_order(self.shop, quote.id)
        for n, row in enumerate(view.needs.needs if view.needs else []):
            if row.short not in {"", "0"}:
                key = 1000 + quote.id * 50 + n
                self._book(key, row.item, "received", row.short, f"for {view.number}")

    def handed_over(self, quote: QuoteView, *, paid: str, on: str) -> None:
        """Finish an order, hand it over, paid."""
        self._bring(quote)
        self._state(quote, "in-work")
        self._sewn(quote, 10_000)
        payments = [{"on": on, "amount": paid, "kind": "payment"}]
        self._state(quote, "handed-over", payments=payments)

    def done(self, quote: QuoteView, *, deposit: str, on: str) -> None:
        """Finish an order that is not collected yet."""
        self._bring(quote)
        self._state(quote, "in-work")
        self._sewn(quote, 10_000)
        self._state(quote, "done", payments=[{"on": on, "amount": deposit, "kind": "deposit"}])

    def in_work(self, quote: QuoteView, *, sewn: int, spoiled: int) -> None:
        """Begin an order: some are sewn, some spoiled."""
        self._state(quote, "in-work")
        self._sewn(quote, sewn, spoiled=spoiled)

    def ready(self, quote: QuoteView) -> None:
        """Lay out all of an order."""
        orders.keep_up(self.shop)
        view = orders.find_order(self.shop, quote.id)
        keys = [row.item for row in (view.needs.needs if view.needs else [])]
        self._state(quote, "ready", ready=keys)

    def waits(self, quote: QuoteView, what: str) -> None:
        """Let an order wait."""
        self._state(quote, "waiting", waits=what)

    def cancelled(self, quote: QuoteView) -> None:
        """Cancel an order after a piece was sewn."""
        self._bring(quote)
        self._state(quote, "in-work")
        self._sewn(quote, 1)
        self._state(quote, "cancelled")

    def corrected(self, quote: QuoteView, *, name: int, to: str, by: str) -> None:
        """Let the customer correct a name on the proof."""
        orders.keep_up(self.shop)
        order = kept.find_order(self.shop, quote.id)
        opened = open_version(self.shop, quote.id, order.version)
        line = opened.asked.lines[0].id
        said = proofs.ProofSaid(
            name=by,
            spelling=True,
            colours=True,
            place=True,
            size=True,
            names=[proofs.NameCorrected(line=line, n=name, to=to)],
        )
        proofs.say_proof(self.shop, quote.id, order.version, opened.asked, said)

    def bought(self, supplier: str, rows: list[tuple[str, str, int]], *, came: int) -> None:
        """Order by hand of a supplier, of which the first rows came."""
        made = buying.make_purchase(
            self.shop,
            buying.NewPurchase(
                supplier=supplier,
                send=False,
                rows=[buying.WantedRow(item=i, pack_id=p, count=n) for i, p, n in rows],
            ),
        )
        if came:
            arrival = buying.Arrival(
                rows=[buying.ArrivedRow(row=n, count=made.rows[n].count) for n in range(came)]
            )
            buying.arrive(self.shop, made.id, arrival, seen=made.revision)
