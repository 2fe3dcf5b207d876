"""Job documents: priced, worked out, simulated, got ready for."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Annotated

import typer

from clothyard.cli.common import JsonFlag, ShopFolder, group, maybe_shop
from clothyard.core.errors import BadInput
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.figure_text import counted, duration_text
from clothyard.core.measures import thread_text
from clothyard.core.work.document import Work, work_bytes
from clothyard.services.orders.follow import find_order, order_numbered
from clothyard.services.orders.readying import GetReady, get_ready_file
from clothyard.services.quotes.estimates import price_job_file, work_job_file
from clothyard.services.run.simulated import RunDocument, run_file

app = group()


def _print_estimate(found: Estimate) -> None:
    for line in found.lines:
        print(
            f"{counted(line.quantity, 'piece')} at {line.price.unit} {found.currency}: "
            f"{line.price.line} (cost {line.cost.total}, margin {line.price.margin})"
        )
        if line.sure:
            hangs = ", ".join(f"{t.name} ± {t.plus_minus}" for t in line.sure.terms)
            print(
                f"  in 80 of 100 cases it costs {line.sure.p10} to {line.sure.p90}; chance of loss "
                f"{float(line.sure.loss_chance):.1%}" + (f"; it hangs on {hangs}" if hangs else "")
            )
        for tier in line.tiers:
            print(f"  {tier.quantity:>6}  {tier.unit:>10}  {tier.line:>12}")
        for advice in line.advice:
            print(f"  {advice.level}: {advice.message} {advice.fix}")
    for charge in found.total.charges:
        print(f"{charge.name}: {charge.amount}")
    print(f"To pay: {found.total.to_pay} {found.currency}")


@app.command()
def estimate(
    job: Path,
    shop: ShopFolder = None,
    working: Annotated[
        bool, typer.Option("--working", help="With every figure's working.")
    ] = False,
    as_json: JsonFlag = False,
) -> None:
    """Price a job document; its stitch files lie relative to it."""
    found = price_job_file(job, shop=maybe_shop(shop), working=working)
    if as_json:
        sys.stdout.write(estimate_bytes(found).decode())
    else:
        _print_estimate(found)


def _print_work(found: Work) -> None:
    for line in found.lines:
        print(f"{line.id}: {line.quantity} × {line.goods}, {line.samples} samples")
    for each in found.passes:
        pieces = " and ".join(f"{of.pieces} of {of.placement}" for of in each.of)
        kind = "sample" if each.sample else "pass"
        print(
            f"  {kind} {each.id} on {each.machine}: {pieces}, {each.cycles} cycles, machine "
            f"{duration_text(each.machine_s)}, attending {duration_text(each.attend_s)}, hand "
            f"{duration_text(each.hand_s)}, needle {thread_text(each.needle_m)}"
        )
    print(f"elapsed {duration_text(found.run.elapsed_s)}")


@app.command()
def work(job: Path, shop: ShopFolder = None, as_json: JsonFlag = False) -> None:
    """Say what is done for a job document: passes, seconds, metres, and no money."""
    found = work_job_file(job, shop=maybe_shop(shop))
    if as_json:
        sys.stdout.write(work_bytes(found).decode())
    else:
        _print_work(found)


def _print_ready(found: GetReady) -> None:
    for need in found.needs:
        cut = ""
        if need.pieces:
            size = f" of {need.cut_mm[0]:g} × {need.cut_mm[1]:g} mm" if need.cut_mm else ""
            cut = f" ({counted(need.pieces, 'piece')}{size})"
        covers = ", ".join(f"{row.count} × {row.name}" for row in need.buy)
        unit = "m" if need.unit == "m" else "pieces"
        lacks = f"; {covers} covers it" if covers else "; on the shelf"
        print(f"{need.kind:8} {need.label}: {need.amount} {unit}{cut}{lacks}")
    for file in found.files:
        print(f"load     {file.design or 'a count'}: {file.stitches:,} stitches on {file.machine}")
    for row in found.wind:
        print(f"wind     {counted(row.count, 'bobbin')} of {row.called} for {row.machine}")
    print(f"hoops    {', '.join(found.hoops) or 'none fits'}")
    print(f"needles  {', '.join(found.needles)}")


def _print_run(found: RunDocument) -> None:
    seeded = "" if found.seed is None else f" with seed {found.seed}"
    print(
        f"elapsed {duration_text(found.elapsed_s)}{seeded}; closed form "
        f"{duration_text(found.closed_form_s)}"
    )
    for lane in found.lanes:
        print(
            f"  {lane.label}: busy {duration_text(lane.busy_s)}, waiting "
            f"{duration_text(lane.waiting_s)}"
        )
    print(found.bottleneck)
    for way in found.instead:
        if way.saved_s >= 1:
            print(f"  {way.label} saves {duration_text(way.saved_s)}, {way.saved} {found.currency}")


@app.command("simulate")
def simulate_run(
    job: Path,
    shop: ShopFolder = None,
    seed: Annotated[int | None, typer.Option(help="One run as it may fall.")] = None,
    as_json: JsonFlag = False,
) -> None:
    """Simulate the run of a job document: who waits for whom, and what would save time."""
    found = run_file(job, seed=seed, shop=maybe_shop(shop))
    if as_json:
        print(found.model_dump_json())
    else:
        _print_run(found)


@app.command("get-ready")
def get_ready(what: str, shop: ShopFolder = None, as_json: JsonFlag = False) -> None:
    """List what a job document, or an order of --shop, needs of the shelf, and what is laid out."""
    kept = maybe_shop(shop)
    if kept is not None and not what.lower().endswith(".json"):
        view = find_order(kept, order_numbered(kept, what))
        if view.needs is None:
            raise BadInput(view.unready, where=what, code="order-unready")
        found = view.needs
    else:
        found = get_ready_file(Path(what), shop=kept)
    if as_json:
        print(found.model_dump_json())
    else:
        _print_ready(found)
