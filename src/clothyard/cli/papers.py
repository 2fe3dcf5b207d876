"""Papers of the workshop, as PDF."""

from __future__ import annotations

from pathlib import Path
from typing import Annotated, Any, get_args

import typer

from clothyard.cli.common import ShopFolder, check_place, group, maybe_shop, write
from clothyard.core.errors import BadInput
from clothyard.services.papers.papers import Page, Paper, paper_of

app = group()


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
    check_place(out)
    sheet: Any = page
    data = paper_of(what, kind, shop=maybe_shop(shop), page=sheet, mirrored=mirrored)
    write(data, out)


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
