"""The log, and what it teaches."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Annotated, Any

import typer

from clothyard.cli.common import JsonFlag, OwnFolder, group, open_shop, write
from clothyard.core.errors import BadInput
from clothyard.services.log.learning import list_factors
from clothyard.services.log.rows import list_log, log_document, log_sheet

app = group()


@app.command()
def log(
    shop: OwnFolder,
    search: Annotated[str, typer.Option(help="Words that a row must hold.")] = "",
    out: Annotated[Path | None, typer.Option(help="Write it there: .json, .csv or .xlsx.")] = None,
    as_json: JsonFlag = False,
) -> None:
    """Tell what finished passes came to beside what was estimated, the last first."""
    kept = open_shop(shop)
    if out is not None and out.suffix not in {".json", ".csv", ".xlsx"}:
        raise BadInput(
            f"{out.suffix or 'no ending'!r} is no kind of file.",
            where="--out",
            remedy="End it with .json, .csv or .xlsx.",
            code="file-kind",
        )
    if as_json or (out is not None and out.suffix == ".json"):
        write(f"{log_document(kept).model_dump_json()}\n".encode(), out)
    elif out is not None:
        kind: Any = out.suffix[1:]
        write(log_sheet(kept, kind, search=search), out)
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
    shop: OwnFolder,
    as_json: JsonFlag = False,
) -> None:
    """Tell what the log teaches: each factor, the jobs behind it, its spread, what is in force."""
    kept = open_shop(shop)
    found = list_factors(kept)
    if as_json:
        print(json.dumps({"factors": [view.model_dump() for view in found]}))
        return
    for view in found:
        taken = "in force" if view.taken else f"{view.now:g} is in force"
        print(f"{view.standard} = {view.value:g} ± {view.spread:.3g} ({taken}): {view.said}")
