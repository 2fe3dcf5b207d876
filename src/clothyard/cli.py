"""The command line: serve, demo, inspect, estimate, work, get-ready, orders, papers, backups …"""

from __future__ import annotations

import json
import socket
import subprocess
import sys
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Annotated, Any, get_args

import typer
from platformdirs import user_data_path
from typer.exceptions import TyperException

from clothyard.core.errors import BadInput, ClothyardError, NotFound
from clothyard.core.estimate.document import Estimate, estimate_bytes
from clothyard.core.figure_text import counted, duration_text
from clothyard.core.house.check import default_house, house_json
from clothyard.core.measures import Units, size_text, thread_text
from clothyard.core.order.state import State
from clothyard.core.standards import all_standards
from clothyard.core.work.document import Work, work_bytes
from clothyard.services.designs.library import (
    DEFAULT_THICKNESS_MM,
    Inspection,
    design_of_file,
    inspect_facts,
    read_file,
)
from clothyard.services.designs.words import letter_words, sample_file
from clothyard.services.exchange.documents import export_order, export_stock, import_file
from clothyard.services.house.standards import list_standards, shop_house
from clothyard.services.log.learning import list_factors
from clothyard.services.log.rows import list_log, log_document, log_sheet
from clothyard.services.orders.follow import find_order, list_orders, order_numbered
from clothyard.services.orders.readying import GetReady, get_ready_file
from clothyard.services.papers.papers import Page, Paper, paper_of
from clothyard.services.plan.planning import plan_shop
from clothyard.services.quotes.estimates import price_job_file, work_job_file
from clothyard.services.run.simulated import RunDocument, run_file
from clothyard.services.workshop.backups import (
    check_folder,
    mend_files,
    restore_folder,
    write_backup,
)
from clothyard.standins.machine import FASTEST, SimulatedMachine, Truths, machine_app
from clothyard.standins.scale import SimulatedScale, scale_app
from clothyard.store.disk import unkept
from clothyard.store.lock import alone_in
from clothyard.store.shop import Shop

PORT = 8642
SUPPLIER_PORT, MACHINE_PORT, SCALE_PORT = 8643, 8644, 8645
LOOPBACK = ("127.0.0.1", "localhost", "::1")
app = typer.Typer(
    add_completion=False,
    rich_markup_mode=None,
    no_args_is_help=True,
    help="Clothyard prices custom embroidered orders.",
)
JsonFlag = Annotated[bool, typer.Option("--json", help="Print one JSON document.")]
ShopFolder = Annotated[
    Path | None, typer.Option("--shop", help="A shop's folder; without it the defaults are used.")
]


def _run(folder: Path, open_shop: Callable[[], Shop], host: str, port: int) -> None:
    import uvicorn  # noqa: PLC0415 - only to serve

    from clothyard.api.app import create_app  # noqa: PLC0415

    if host not in LOOPBACK:
        raise BadInput(
            "only this machine's own address is served for now.",
            where="--host",
            remedy="Leave it at 127.0.0.1.",
            code="host",
        )
    with socket.socket() as probe:
        if probe.connect_ex(("127.0.0.1", port)) == 0:
            raise BadInput(
                f"port {port} is taken.",
                where="--port",
                remedy="Stop what runs there, or name another.",
                code="port-taken",
            )
    with alone_in(folder, what=f"at http://{host}:{port}"):
        shop = open_shop()
        shop.tidy()
        print(f"Clothyard is at http://{host}:{port} (stop it with Ctrl-C)", flush=True)
        uvicorn.run(create_app(shop), host=host, port=port, log_level="warning")


@app.command()
def serve(
    shop: ShopFolder = None,
    host: Annotated[str, typer.Option(help="This machine's own address.")] = "127.0.0.1",
    port: Annotated[int, typer.Option(min=1, max=65535)] = PORT,
) -> None:
    """Serve a shop on this machine."""
    folder = shop or user_data_path("clothyard", appauthor=False)
    _run(folder, lambda: Shop(folder), host, port)


@app.command()
def demo(
    folder: Annotated[Path, typer.Option(help="Where the sample shop is kept.")] = Path(
        "demo-shop"
    ),
    reset: Annotated[bool, typer.Option("--reset", help="Build it anew.")] = False,
    port: Annotated[int, typer.Option(min=1, max=65535)] = PORT,
) -> None:
    """Serve the sample shop; edits to it are kept."""
    from clothyard.demo.build import check_demo_folder, demo_shop  # noqa: PLC0415

    check_demo_folder(folder)
    with (
        _beside("supplier", SUPPLIER_PORT),
        _beside("machine", MACHINE_PORT),
        _beside("scale", SCALE_PORT, "--machine", f"http://127.0.0.1:{MACHINE_PORT}"),
    ):
        _run(folder, lambda: _at_work(demo_shop(folder, reset=reset)), "127.0.0.1", port)


def _at_work(shop: Shop) -> Shop:
    """Let somebody sew at the sample shop's machine, beside the server."""
    from clothyard.demo.hand import begin_work  # noqa: PLC0415

    begin_work(shop)
    return shop


@contextmanager
def _beside(command: str, port: int, *more: str) -> Iterator[None]:
    """Serve a stand-in in its own process as long as the sample shop is; one that runs is used."""
    with socket.socket() as probe:
        taken = probe.connect_ex(("127.0.0.1", port)) == 0
    run = "from clothyard.cli import main; main()"
    asked = [sys.executable, "-c", run, command, "--port", str(port), *more]
    process = None if taken else subprocess.Popen(asked, stdout=subprocess.DEVNULL)
    try:
        yield
    finally:
        if process is not None:
            process.terminate()
            process.wait(5)


@app.command()
def inspect(
    file: Path,
    thickness: Annotated[
        float, typer.Option(help="Under the stitches, in mm.")
    ] = DEFAULT_THICKNESS_MM,
    imperial: Annotated[bool, typer.Option("--imperial", help="Inches and yards.")] = False,
    as_json: JsonFlag = False,
) -> None:
    """Tell what a stitch file holds: size, stitches, thread by colour."""
    facts = design_of_file(file)
    found = inspect_facts(facts, thickness_mm=thickness)
    if as_json:
        print(found.model_dump_json())
        return
    for told in facts.told:
        print(f"{file.name}: {told}")
    _print_inspection(file.name, found, "imperial" if imperial else "metric")


def _print_inspection(name: str, found: Inspection, units: Units) -> None:
    size = size_text((found.width_mm, found.height_mm), units=units)
    print(
        f"{name}: {size}, {found.stitches:,} stitches, "
        f"{counted(len(found.blocks), 'colour block')}, {counted(found.trims, 'trim')}, "
        f"{counted(found.jumps, 'jump')}, {counted(found.stops, 'stop')}"
    )
    needle, bobbin = (thread_text(m, units=units) for m in (found.needle_m, found.bobbin_m))
    print(f"bare thread: needle {needle}, bobbin {bobbin}")
    for block in found.blocks:
        needle, bobbin = (thread_text(m, units=units) for m in (block.needle_m, block.bobbin_m))
        print(
            f"  {block.index}. {block.colour or 'no colour':9} {block.stitches:>7,} stitches  "
            f"needle {needle}  bobbin {bobbin}"
        )


@app.command()
def words(
    text: str,
    height: Annotated[float | None, typer.Option(help="Of a capital, in mm.")] = None,
    out: Annotated[
        Path | None, typer.Option(help="Write a sample stitch file; its ending says the kind.")
    ] = None,
    shop: ShopFolder = None,
    as_json: JsonFlag = False,
) -> None:
    """Letter words: stitches, size, thread; and a sample stitch file."""
    house = shop_house(Shop(shop)) if shop else default_house()
    found = letter_words(house, text, height_mm=height)
    if out is not None:
        data = sample_file(house, text, out.suffix.lstrip(".").lower(), height_mm=height)
        out.write_bytes(data)
    if as_json:
        print(found.inspection.model_dump_json())
        return
    _print_inspection(text.replace("\n", " / "), found.inspection, "metric")
    if found.lacking:
        print(f"the lettering lacks: {' '.join(found.lacking)}")


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
    found = price_job_file(job, shop=_open(shop), working=working)
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
    found = work_job_file(job, shop=_open(shop))
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
        print(f"wind     {counted(row.count, 'bobbin')} of {row.colour} for {row.machine}")
    print(f"hoops    {', '.join(found.hoops) or 'none fits'}")
    print(f"needles  {', '.join(found.needles)}")


@app.command()
def plan(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    as_json: JsonFlag = False,
) -> None:
    """Plan a shop's open orders over the coming days."""
    kept = _open(shop)
    assert kept is not None
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
    found = run_file(job, seed=seed, shop=_open(shop))
    if as_json:
        print(found.model_dump_json())
    else:
        _print_run(found)


@app.command("get-ready")
def get_ready(what: str, shop: ShopFolder = None, as_json: JsonFlag = False) -> None:
    """List what a job document, or an order of --shop, needs of the shelf, and what is laid out."""
    kept = _open(shop)
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


@app.command()
def standards(shop: ShopFolder = None, as_json: JsonFlag = False) -> None:
    """Print the standards: the defaults, or a shop's."""
    kept = _open(shop)
    if as_json:
        house = shop_house(kept) if kept else default_house()
        print(json.dumps(house_json(house), ensure_ascii=False))
        return
    values: dict[str, Any] = {key: s.value for key, s in all_standards().items()}
    if kept:
        values = {view.key: view.value for view in list_standards(kept)}
    for key, standard in all_standards().items():
        print(f"{key} = {values[key]} [{standard.unit}] {standard.reason}")


@app.command()
def backup(
    file: Path, shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")]
) -> None:
    """Write a backup of a shop to a file, also while it is served."""
    kept = _open(shop)
    assert kept is not None
    if not file.parent.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(file.parent),
            remedy="Make it first.",
            code="folder",
        )
    write_backup(kept, file)
    print(f"{file}: {file.stat().st_size:,} bytes")


@app.command()
def restore(
    file: Path, shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")]
) -> None:
    """Go back to a backup, also where the shop does not open; what it holds now is kept."""
    if not file.is_file():
        raise BadInput("there is no such file.", where=str(file), code="file-missing")
    with alone_in(shop, what="going back to a backup"):
        before = restore_folder(shop, file)
    print(f"{shop} is as {file.name} was; what it held is in backups/{before.name}")


@app.command()
def check(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    mend: Annotated[
        bool, typer.Option("--mend", help="Take torn files out of the backups that hold them.")
    ] = False,
) -> None:
    """Tell what is wrong with a shop, and which backup mends it; exit 1 if anything is."""
    if not shop.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(shop),
            remedy="Name a shop's folder.",
            code="folder",
        )
    found = mend_files(shop) if mend else check_folder(shop)
    for finding in found:
        by = f" Mended by backups/{finding.mended_by}." if finding.mended_by else ""
        print(f"{finding.where}: {finding.what}{by}")
    if found:
        raise typer.Exit(1)
    print(f"{shop}: all is well.")


@app.command()
def orders(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    state: Annotated[str, typer.Option(help="accepted, waiting, ready, in-work … or all.")] = "",
    as_json: JsonFlag = False,
) -> None:
    """List a shop's orders, those promised first before: open ones unless a state is said."""
    kept = _open(shop)
    assert kept is not None
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
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    out: Annotated[Path | None, typer.Option(help="Write it there.")] = None,
) -> None:
    """Write an order as a clothyard-order/1 document."""
    kept = _open(shop)
    assert kept is not None
    _write(export_order(kept, order_numbered(kept, number)), out)


@app.command()
def stock(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    out: Annotated[Path | None, typer.Option(help="Write it there.")] = None,
) -> None:
    """Write the shelf as a clothyard-stock/1 document: items, and every move."""
    kept = _open(shop)
    assert kept is not None
    _write(export_stock(kept), out)


@app.command("import")
def import_document(
    file: Path, shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")]
) -> None:
    """Read a clothyard-order/1 or clothyard-stock/1 document into a shop; what is there stays."""
    kept = _open(shop)
    assert kept is not None
    print(import_file(kept, read_file(file), where=str(file)))


def _write(document: bytes, out: Path | None) -> None:
    if out is None:
        sys.stdout.write(document.decode())
        return
    out.write_bytes(document)
    print(f"{out}: {out.stat().st_size:,} bytes")


PaperOut = Annotated[Path, typer.Option("--out", help="Where the PDF is written.")]
PaperPage = Annotated[str, typer.Option("--page", help="a4 or letter; else as the shop has it.")]


def _paper(
    what: str,
    kind: Paper,
    shop: Path | None,
    out: Path,
    page: str,
    *,
    mirrored: bool,
) -> None:
    if page not in get_args(Page):
        raise BadInput(
            f"{page[:40]!r} is no page.",
            where="--page",
            remedy="Say a4 or letter.",
            code="page",
        )
    if not out.parent.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(out.parent),
            remedy="Make it first.",
            code="folder",
        )
    sheet: Any = page
    data = paper_of(what, kind, shop=_open(shop), page=sheet, mirrored=mirrored)
    out.write_bytes(data)
    print(f"{out}: {len(data):,} bytes")


@app.command("run-sheet")
def run_sheet(what: str, out: PaperOut, shop: ShopFolder = None, page: PaperPage = "") -> None:
    """Write the run sheet of an order (Q-0007, with --shop) or of a job document, as PDF."""
    _paper(what, "run-sheet", shop, out, page, mirrored=False)


@app.command()
def template(
    what: str,
    out: PaperOut,
    shop: ShopFolder = None,
    page: PaperPage = "",
    mirrored: Annotated[bool, typer.Option("--mirrored", help="For the wrong side.")] = False,
) -> None:
    """Write the full-size templates of an order (with --shop) or of a job document, as PDF."""
    _paper(what, "template", shop, out, page, mirrored=mirrored)


@app.command()
def labels(what: str, out: PaperOut, shop: ShopFolder = None, page: PaperPage = "") -> None:
    """Write the labels of an order (with --shop) or of a job document, as PDF."""
    _paper(what, "labels", shop, out, page, mirrored=False)


@app.command()
def supplier(
    port: Annotated[int, typer.Option(min=1, max=65535)] = SUPPLIER_PORT,
    seed: Annotated[int, typer.Option(help="The same seed answers the same.")] = 1,
) -> None:
    """Serve the simulated supplier on this machine, in its own process."""
    import uvicorn  # noqa: PLC0415 - only to serve

    from clothyard.standins.supplier import supplier_app  # noqa: PLC0415

    print(f"The simulated supplier is at http://127.0.0.1:{port} (stop it with Ctrl-C)", flush=True)
    uvicorn.run(supplier_app(seed), host="127.0.0.1", port=port, log_level="warning")


@app.command()
def machine(
    port: Annotated[int, typer.Option(min=1, max=65535)] = MACHINE_PORT,
    seed: Annotated[int, typer.Option(help="The same seed is the same machine.")] = 1,
    times: Annotated[
        float, typer.Option(min=0.1, max=FASTEST, help="How many times faster than real.")
    ] = 60,
    exact: Annotated[
        bool, typer.Option("--exact", help="It is as the standards say, and never breaks.")
    ] = False,
) -> None:
    """Serve the simulated machine on this machine, in its own process."""
    import uvicorn  # noqa: PLC0415 - only to serve

    truths = Truths(bobbin=1.0, breaks_1000=1e-9) if exact else None
    made = SimulatedMachine(seed, truths)
    made.times = times
    print(f"The simulated machine is at http://127.0.0.1:{port} (stop it with Ctrl-C)", flush=True)
    uvicorn.run(
        machine_app(made),
        host="127.0.0.1",
        port=port,
        log_level="warning",
        timeout_graceful_shutdown=1,
    )


@app.command()
def scale(
    port: Annotated[int, typer.Option(min=1, max=65535)] = SCALE_PORT,
    seed: Annotated[int, typer.Option(help="The same seed shows the same noise.")] = 1,
    of: Annotated[
        str, typer.Option("--machine", help="A simulated machine, whose cones are weighed.")
    ] = f"http://127.0.0.1:{MACHINE_PORT}",
) -> None:
    """Serve the simulated scale on this machine, in its own process."""
    import uvicorn  # noqa: PLC0415 - only to serve

    print(f"The simulated scale is at http://127.0.0.1:{port} (stop it with Ctrl-C)", flush=True)
    uvicorn.run(
        scale_app(SimulatedScale(seed, of)), host="127.0.0.1", port=port, log_level="warning"
    )


@app.command()
def log(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    search: Annotated[str, typer.Option(help="Words that a row must hold.")] = "",
    out: Annotated[Path | None, typer.Option(help="Write it there: .json, .csv or .xlsx.")] = None,
    as_json: JsonFlag = False,
) -> None:
    """Tell what finished passes came to beside what was estimated, the last first."""
    kept = _open(shop)
    assert kept is not None
    if out is not None and out.suffix not in {".json", ".csv", ".xlsx"}:
        raise BadInput(
            f"{out.suffix or 'no ending'!r} is no kind of file.",
            where="--out",
            remedy="End it with .json, .csv or .xlsx.",
            code="file-kind",
        )
    if as_json or (out is not None and out.suffix == ".json"):
        _write(f"{log_document(kept).model_dump_json()}\n".encode(), out)
    elif out is not None:
        kind: Any = out.suffix[1:]
        _write(log_sheet(kept, kind, search=search), out)
    else:
        for row in list_log(kept, search=search, limit=10_000).items:
            r = row.row
            spoiled = f", {r.spoiled} spoiled" if r.spoiled else ""
            said = "; ".join(row.said) or "as estimated"
            print(
                f"{r.finished_on}  {r.order or 'no order':8} {r.sewn} × {r.goods}, {r.place}"
                f"{spoiled}: {said}"
            )


@app.command()
def learn(
    shop: Annotated[Path, typer.Option("--shop", help="A shop's folder.")],
    as_json: JsonFlag = False,
) -> None:
    """Tell what the log teaches: each factor, the jobs behind it, its spread, what is in force."""
    kept = _open(shop)
    assert kept is not None
    found = list_factors(kept)
    if as_json:
        print(json.dumps({"factors": [view.model_dump() for view in found]}))
        return
    for view in found:
        taken = "in force" if view.taken else f"{view.now:g} is in force"
        print(f"{view.standard} = {view.value:g} ± {view.spread:.3g} ({taken}): {view.said}")


def _open(folder: Path | None) -> Shop | None:
    if folder is None:
        return None
    if not folder.is_dir():
        raise BadInput(
            "there is no such folder.",
            where=str(folder),
            remedy="Name a shop's folder.",
            code="folder",
        )
    return Shop(folder)


def _complain(text: str) -> None:
    print(" ".join(text.split()), file=sys.stderr)


def main(arguments: list[str] | None = None) -> None:
    """Run the command line: exit 0 fine, 2 bad input (one line on stderr), 1 our fault."""
    try:
        code = app(args=arguments, standalone_mode=False)
    except (BadInput, NotFound) as error:
        _complain(error.line())
        sys.exit(2)
    except typer.Abort:
        sys.exit(1)
    except TyperException as error:
        words = error.format_message() if hasattr(error, "format_message") else str(error)
        _complain(f"{words} Try clothyard --help.")
        sys.exit(2)
    except ClothyardError as error:
        _complain(error.line())
        sys.exit(1)
    except BrokenPipeError:
        sys.exit(1)
    except Exception as error:
        known = unkept(error)
        if known is not None:
            _complain(known.line())
            sys.exit(1)
        _complain(f"Our fault: {type(error).__name__}: {error}")
        sys.exit(1)
    sys.exit(code if isinstance(code, int) else 0)
