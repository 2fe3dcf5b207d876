"""The run sheet of an order, as papers set it and the screen at the machine shows it."""

from __future__ import annotations

from collections.abc import Mapping

from clothyard.core.run.needles import Threaded
from clothyard.documents.bundle import PaperHead
from clothyard.documents.run_sheet import RunSheet, run_sheet
from clothyard.services.log.rows import PassOf
from clothyard.services.orders.opened import Opened
from clothyard.store.orders import KeptOrder
from clothyard.store.shop import Shop
from clothyard.store.threaded import threaded_machines
from clothyard.store.unit import Reads


def order_sheet(shop: Reads, of: PassOf, *, first: str = "") -> RunSheet:
    """Return the sheet of a pass's order, from what is on the machines now; `first` is sewn now."""
    machines = {each.machine for each in of.sewn.passes}
    return sheet_of(of.order, of.opened, threaded_machines(shop, machines), first=first)


def sheet_of(
    order: KeptOrder, opened: Opened, threaded: Mapping[str, Threaded], *, first: str = ""
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
