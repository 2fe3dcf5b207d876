"""What a job document can state, the screen can ask: every field of the schema has its control."""

import copy
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from clothyard.core.job.document import Job
from tests.conftest import polos
from tests.core.test_made import apron

NOT_ASKED = {
    "format": "says what the document is",
    "currency": "is the shop's: a draft in another is told and turned by one press",
    "on": "is today",
    "house": "is the workshop's; of one quote, its floor by the price that is 80% sure",
    "lines[].id": "names a line",
    "lines[].cells[].id": "names a row",
    "lines[].placements[].id": "names a place",
    "lines[].placements[].design.file": "is of the command line: here a file is dropped",
    "lines[].placements[].design.face": "has one value: the plain face",
    "overruled[].code": "is taken from the advice that is gone against",
    "overruled[].line": "so is its line",
    "overruled[].where": "and where it is about",
    "kits[].lines[]": "is all lines: they are sold together",
    "kits[].quantity": "is worked out: as many as the lines' pieces make up",
}

PLAIN: dict[str, str] = {
    "lines[].goods.class": "Goods",
    "lines[].goods.blank": "Goods",
    "lines[].goods.unit_cost": "A blank costs, £",
    "lines[].goods.supplied_by": "The customer brings the goods",
    "lines[].goods.once_only": "It cannot be bought again",
    "lines[].goods.weight_g": "A piece weighs, g",
    "lines[].goods.pack": "Packs of",
    "lines[].goods.spoil": "Spoiled of it, %",
    "lines[].goods.minutes": "A piece takes, min",
    "lines[].goods.delivery": "Delivery to us",
    "lines[].goods.price_breaks[].quantity": "Cheaper from, row 1",
    "lines[].goods.price_breaks[].unit_cost": "Costs then, row 1",
    "lines[].goods.spares_unsaleable": "What is left over cannot be sold",
    "lines[].quantity": "How many",
    "lines[].cells[].size": "Size, row 1",
    "lines[].cells[].colour": "Colour, row 1",
    "lines[].cells[].quantity": "Pieces, row 1",
    "lines[].cells[].unit_cost": "Costs, row 1",
    "lines[].finishing[]": "Press",
    "lines[].sample.pieces": "Samples",
    "lines[].sample.wash": "Wash the sample and press it",
    "lines[].sample.passed": "It has passed",
    "lines[].digitising": "Digitising",
    "enquiry": "Enquiry",
    "price_method": "Priced by",
    "margin": "Margin, %",
    "tiers[]": "Tiers",
    "tier_mode": "Between tiers",
    "lines[].placements[].position": "Place",
    "lines[].placements[].place.gap_mm": "Below collar point",
    "lines[].placements[].place.side_mm": "From centre front",
    "lines[].placements[].place.turn": "Turn",
    "lines[].placements[].place.tilt_deg": "Tilt, °",
    "lines[].placements[].place.mirror": "Mirror",
    "lines[].placements[].room.width_mm": "Room here, wide",
    "lines[].placements[].room.height_mm": "Room here, high",
    "lines[].placements[].as_patch": "Sewn as a patch, fixed on after",
    "lines[].placements[].shares": "In the hooping of left chest",
    "lines[].placements[].seam.length_mm": "Seam opened",
    "lines[].placements[].seam.side": "Seam lies",
    "lines[].placements[].seam.lining": "Lining loosened",
    "lines[].placements[].seam.felled": "Felled",
    "lines[].placements[].design.stitches": "Stitches",
    "lines[].placements[].design.kind": "Mostly",
    "lines[].placements[].design.colours": "Colours",
    "lines[].placements[].design.width_mm": "Width",
    "lines[].placements[].design.height_mm": "Height",
    "lines[].placements[].design.trims": "Trims",
    "lines[].placements[].design.letter_height_mm": "Letters high",
    "lines[].placements[].design.repeat": "Where it comes from",
    "lines[].placements[].design.origin.kind": "Where it comes from",
    "lines[].placements[].design.origin.price": "Its price, £",
    "lines[].placements[].design.origin.orders": "Shared over orders",
    "lines[].placements[].design.origin.pieces_most": "Pieces allowed",
    "lines[].placements[].design.origin.terms": "Its terms",
    "lines[].placements[].design.thread_colours[]": "Thread 2, colour 1: another colour",
    "lines[].placements[].methods.backing": "Backing",
    "lines[].placements[].methods.layers": "Layers",
    "lines[].placements[].methods.second_backing": "Beside it",
    "lines[].placements[].methods.second_layers": "Its layers",
    "lines[].placements[].methods.topping": "Topping",
    "lines[].placements[].methods.hold": "Hold",
    "lines[].placements[].methods.baste": "Baste",
    "lines[].placements[].methods.knock_down": "Base",
    "lines[].placements[].methods.hoop": "Hoop",
    "lines[].placements[].methods.needle": "Needle",
    "lines[].placements[].methods.thread": "Thread",
    "lines[].placements[].methods.bobbin": "Bobbin",
    "lines[].placements[].methods.bobbin_policy": "Change",
    "lines[].placements[].methods.machine": "Machine",
    "lines[].placements[].methods.marking": "Marked with",
    "lines[].placements[].methods.set_by": "Needle set",
    "lines[].placements[].methods.way": "Goes in",
    "lines[].hardware[].item": "Part 1",
    "lines[].hardware[].count": "On each piece",
    "lines[].hardware[].length_mm": "Length of each",
}
FLAT = {
    "lines[].goods.width_mm": "Piece wide",
    "lines[].goods.height_mm": "Piece long",
}
AS_PATCH = {
    "lines[].placements[].methods.edge": "Edge",
    "lines[].placements[].methods.fixing": "Fixed on",
}
OPENED: dict[str, str] = {
    "lines[].unit_price": "Price of a piece",
    "lines[].discount": "Discount on this line, %",
    "lines[].tax_rate": "Tax on this line, %",
    "lines[].agreed.unit_price": "Agreed for a piece",
    "lines[].agreed.until": "Agreed until",
    "delivery": "Delivery, charged once",
    "rush_days": "Wanted in, days (a rush)",
}
OTHERS: dict[str, dict[str, str]] = {
    "band": {
        "length_mm": "Band long",
        "gap_mm": "Between motifs",
        "closed": "Closed ring",
        "fill": "Fill it to both ends",
        "corners": "Corners",
        "corner": "At a corner",
        "start": "Begins",
    },
    "blocks": {
        "columns": "Columns",
        "rows": "Rows",
        "width_mm": "Block wide",
        "height_mm": "Block high",
        "order": "Block order",
    },
    "together": {"columns": "Columns", "rows": "Rows", "spacing_mm": "Between pieces"},
    "split": {"columns": "Columns", "rows": "Rows", "overlap_mm": "Overlap"},
}
LAYOUTS: dict[str, Any] = {
    "band": {"length_mm": 900, "corners": 1, "fill": False},
    "blocks": {"columns": 2, "rows": 2},
    "together": {},
    "split": {},
}
STEPS: dict[str, dict[str, str]] = {
    "lay": {
        "do": "What",
        "after_block": "When",
        "at_stop": "When",
        "sheet": "Material",
        "side": "Side",
        "of_block": "Follows the outline of",
        "width_mm": "Cut wide",
        "height_mm": "Cut high",
        "web": "Fused with",
        "edge": "Its edge",
        "grain": "Keep the grain",
        "precut": "Cut to its shape before",
        "outline_mm": "Its outline",
        "count": "How often",
        "per": "For",
    },
    "cut-out": {"straight": "Straight edges", "outline_mm": "Outline"},
    "tie": {"hardware": "Hardware", "width_mm": "Length of each"},
}
WORDS = {
    "lines[].placements[].design.text": "Words; {name} for each piece's own name",
    "lines[].placements[].design.height_mm": "Capitals high",
    "lines[].names[]": "Names, one a line; an empty line leaves a piece blank",
}
REST = {
    "lines[].placements[].design.sha256": "Or one that is here",
    "lines[].placements[].design.scale": "Built at, % of its own size",
    "lines[].goods.liability": "If one is spoiled, we owe (each)",
    "kits[].name": "as a",
    "overruled[].reason": "Because",
}


def _paths() -> set[str]:
    """Every leaf of the Job schema: lines[].goods.class, …"""
    schema = Job.model_json_schema(by_alias=True)
    found: set[str] = set()

    def walk(node: dict[str, Any], path: str, seen: frozenset[str]) -> None:
        if "$ref" in node:
            name = node["$ref"].rpartition("/")[2]
            if name not in seen:
                walk(schema["$defs"][name], path, seen | {name})
        elif options := node.get("anyOf") or node.get("allOf"):
            for each in options:
                if "$ref" in each or each.get("type") in {"array", "object"}:
                    walk(each, path, seen)
                elif each.get("type") != "null":
                    found.add(path)
        elif node.get("type") == "array":
            walk(node["items"], f"{path}[]", seen)
        elif "properties" in node:
            for key, value in node["properties"].items():
                walk(value, f"{path}.{key}".lstrip("."), seen)
        else:
            found.add(path)

    walk(schema, "", frozenset())
    return found


def test_every_field_of_a_job_has_its_control_named_or_a_reason_why_not():
    place = "lines[].placements[]"
    asked = set(PLAIN) | set(FLAT) | set(AS_PATCH) | set(OPENED) | set(WORDS) | set(REST)
    asked |= {f"{place}.{way}.{key}" for way, keys in OTHERS.items() for key in keys}
    asked |= {f"{place}.steps[].{key}" for keys in STEPS.values() for key in keys}
    assert asked | set(NOT_ASKED) == _paths()


def _open(page: Page, address: str, job: dict[str, Any]) -> None:
    made = page.request.post(
        f"{address}/api/v1/quotes", data={"job": job}, headers={"origin": address}
    ).json()
    page.goto(f"/quotes/{made['id']}")
    expect(page.get_by_label("The piece")).to_be_visible()


def _unfold(page: Page) -> None:
    page.evaluate("() => document.querySelectorAll('details').forEach((d) => { d.open = true; })")


def _there(page: Page, labels: dict[str, str]) -> None:
    missing = [
        f"{path}: {label}"
        for path, label in labels.items()
        if page.get_by_label(label, exact=True).count() == 0
    ]
    assert missing == []


def test_a_patchs_fields_are_asked(page: Page, address: str):
    job = polos(goods__class="soft-cap", placement__position="cap-front", placement__as_patch=True)
    job["lines"][0]["placements"][0]["steps"] = [
        {"do": "lay", "after_block": 0, "sheet": "fabric", "per": "hooping"}
    ]
    _open(page, address, job)
    _there(page, AS_PATCH)


def test_the_plain_fields_are_asked(page: Page, address: str):
    job = polos(
        line__cells=[{"size": "M", "colour": "navy", "quantity": 24, "unit_cost": "6.40"}],
        goods__price_breaks=[{"quantity": 50, "unit_cost": "5.90"}],
        line__hardware=[{"item": "ribbon", "length_mm": 100}],
        line__sample={"pieces": 1},
        methods__hold="float",
        methods__backing="fusible-mesh",
        methods__second_backing="tear-away-medium",
        methods__marking="pen",
        methods__knock_down=True,
        design__origin={"kind": "bought", "price": "4.00"},
        design__kind="lettering",
        line__agreed={"unit_price": "14.00", "until": "2030-01-01"},
    )
    places = job["lines"][0]["placements"]
    places[0]["seam"] = {"length_mm": 100}
    places.insert(0, {"position": "left-chest", "design": {"stitches": 900}})
    _open(page, address, job)
    page.get_by_role("group", name="Places").get_by_role("button").nth(1).click()
    expect(page.get_by_label("Seam opened", exact=True).first).to_be_visible()
    _unfold(page)
    _there(page, PLAIN)
    page.get_by_role("button", name="more on it").click()
    expect(page.get_by_label("The price, opened")).to_be_visible()
    _there(page, OPENED)


@pytest.mark.parametrize("way", OTHERS)
def test_the_fields_of_every_layout_are_asked(page: Page, address: str, way):
    goods = "quilt" if way == "blocks" else "table-runner" if way == "band" else "patch"
    job = polos(goods__class=goods, placement__position=None)
    job["lines"][0]["placements"][0][way] = LAYOUTS[way]
    _open(page, address, job)
    _there(page, OTHERS[way])


def test_the_fields_of_every_step_are_asked(page: Page, address: str):
    line = copy.deepcopy(apron())
    line["placements"][0]["steps"] = [
        {
            "do": "lay",
            "after_block": 1,
            "sheet": "fabric",
            "per": "hooping",
            "precut": True,
            "outline_mm": 300,
        },
        {"do": "cut-out", "outline_mm": 300},
        {"do": "tie", "hardware": "ribbon", "width_mm": 100},
    ]
    _open(page, address, {"format": "clothyard-job/1", "currency": "GBP", "lines": [line]})
    for n, labels in enumerate(STEPS.values()):
        page.locator(f"[data-step='{n}']").click()
        expect(page.get_by_role("group", name="The step")).to_be_visible()
        _there(page, labels)


def test_words_files_the_customers_goods_kits_and_reasons_are_asked(
    page: Page, address: str, crest_files
):
    named = polos(placement__design={"text": "{name}"}, line__names=["Ada"])
    _open(page, address, named)
    _there(page, WORDS)
    kept = page.request.post(
        f"{address}/api/v1/designs",
        multipart={
            "file": {
                "name": "crest.vp3",
                "mimeType": "application/octet-stream",
                "buffer": crest_files["vp3"],
            }
        },
        headers={"origin": address},
    ).json()
    job = polos(
        placement__design={"sha256": kept["sha256"]},
        goods__supplied_by="customer",
        methods__backing="tear-away-medium",
    )
    job["lines"].append(copy.deepcopy(job["lines"][0]))
    _open(page, address, job)
    page.get_by_role("button", name="sell together").click()
    page.get_by_role("button", name="Go against it").first.click()
    _there(page, REST)
