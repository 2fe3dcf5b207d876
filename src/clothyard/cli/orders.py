"""Orders: listed, written out, planned."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, get_args

import typer

from clothyard.cli.common import JsonFlag, OwnFolder, group, open_shop, write
from clothyard.core.errors import BadInput
from clothyard.core.figure_text import counted
from clothyard.core.order.state import State
from clothyard.services.exchange.outgoing import export_order
from clothyard.services.orders.follow import list_orders, order_numbered
from clothyard.services.plan.planning import plan_shop
from clothyard.services.run.stitch_files import USUAL_KIND, stitch_files

app = group()


@app.command()
def plan(
    shop: OwnFolder,
    as_json: JsonFlag = False,
) -> None:
    """Plan a shop's open orders over the coming days."""
    kept = open_shop(shop)
    found = plan_shop(kept)
    if as_json:
        print(found.model_dump_json())
        return
    for row in found.orders:
        due = f"promised {row.promised_on}" if row.promised_on else "no day promised"
        why = f": {row.why}" if row.why else ""
        print(f"{row.number}  {row.begin_day} to {row.end_day}, {due}{why}  {row.customer}")
    for number in found.over:
        print(f"{number}  does not end within four months, as the week stands")


@app.command()
def orders(
    shop: OwnFolder,
    state: Annotated[str, typer.Option(help="accepted, waiting, ready, in-work … or all.")] = "",
    as_json: JsonFlag = False,
) -> None:
    """List a shop's orders, those promised first before: open ones unless a state is said."""
    kept = open_shop(shop)
    known = ("", "all", *get_args(State))
    if state not in known:
        raise BadInput(
            f"{state[:40]!r} is no state.",
            where="--state",
            remedy=f"Say one of {', '.join(known[1:])}.",
            code="state-unknown",
        )
    found = list_orders(kept, search="", state=state, sort="promise", down=None, limit=None)
    if as_json:
        print(found.model_dump_json())
        return
    for row in found.items:
        waits = f" for {row.waits}" if row.waits else ""
        lacks = f", {counted(row.lacks, 'item')} short" if row.lacks else ""
        print(
            f"{row.number}  {row.promised_on or 'no day':10}  {row.state}{waits}{lacks}  "
            f"{row.customer}: {row.summary}"
        )


@app.command()
def order(
    number: str,
    shop: OwnFolder,
    out: Annotated[Path | None, typer.Option(help="Write it there.")] = None,
) -> None:
    """Write an order as a clothyard-order/1 document."""
    kept = open_shop(shop)
    write(export_order(kept, order_numbered(kept, number)), out)


@app.command()
def files(
    number: str,
    out: Annotated[Path, typer.Option(help="A folder: a stick's, say.")],
    shop: OwnFolder,
    kind: Annotated[str, typer.Option(help="Of stitch file.")] = USUAL_KIND,
) -> None:
    """Write an order's stitch files as they go to the machine, each name by itself."""
    kept = open_shop(shop)
    if not out.is_dir():
        raise BadInput(
            "there is no such folder.", where=str(out), remedy="Make it first.", code="folder"
        )
    found = stitch_files(kept, order_numbered(kept, number), kind)
    for each in found.files:
        (out / each.name).write_bytes(each.data)
    print(found.told, end="")
