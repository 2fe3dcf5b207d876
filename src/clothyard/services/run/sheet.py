"""The run sheet of an order, as papers set it and the screen at the machine shows it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from clothyard.core.order.held import not_yet, proof_state, samples_of
from clothyard.core.run.needles import Threaded
from clothyard.documents.bundle import PaperHead
from clothyard.documents.run_sheet import RunSheet, run_sheet
from clothyard.services.log.rows import PassOf
from clothyard.services.orders.opened import Opened
from clothyard.store import orders as kept
from clothyard.store.orders import KeptOrder
from clothyard.store.shop import Shop
from clothyard.store.threaded import threaded_machines
from clothyard.store.unit import Reads


def order_sheet(shop: Reads, of: PassOf, *, first: str = "") -> RunSheet:
    """Return the sheet of a pass's order, from what is on the machines now; `first` is sewn now."""
    machines = {each.machine for each in of.sewn.passes}
    threaded = threaded_machines(shop, machines)
    return sheet_of(
        of.order, of.opened, threaded, not_yet_of(shop, of.order, of.opened), first=first
    )


def not_yet_of(shop: Reads, order: KeptOrder, opened: Opened) -> dict[str, list[str]]:
    """Say of each pass of an order why it must not be begun yet."""
    said = kept.find_proof(shop, order.quote_id, order.version)
    return not_yet(
        opened.whole(),
        order.state if order.stands else "cancelled",
        proof_state(opened.asked, said.state if said else ""),
        samples_of(opened.work, opened.job, opened.house, order.ready),
    )


def sheet_of(
    order: KeptOrder,
    opened: Opened,
    threaded: Mapping[str, Threaded],
    held: Mapping[str, Sequence[str]],
    *,
    first: str = "",
) -> RunSheet:
    """Return an order's run sheet.

    Raises
    ------
    BadInput
        If its work cannot be told any more.
    """
    head = PaperHead.told(order.number, order.version, opened.version.head)
    return run_sheet(
        head,
        opened.job,
        opened.estimate,
        opened.whole(),
        opened.changed,
        threaded=threaded,
        not_yet=held,
        first=first,
        ahead=False,
        promised_on=order.promised_on,
    )


def find_sheet(shop: Shop, order_id: int) -> RunSheet:
    """Return an order's run sheet, as the screen at the machine shows it.

    Raises
    ------
    NotFound
    BadInput
        If its work cannot be told any more.
    """
    return order_sheet(shop, PassOf(shop, order_id))
