"""Papers of the workshop: the template measured in points, the run sheet against the estimate."""

import io
import json
import re

import pytest
from pypdf import PdfReader
from pypdf.generic import ContentStream

from clothyard.core.estimate.make import estimate, work_of
from clothyard.core.house.check import build_house, default_house
from clothyard.core.job.check import job_from
from clothyard.documents.bundle import PaperHead
from clothyard.documents.layout import PAGES, Picture
from clothyard.documents.run_sheet import run_sheet, run_sheet_pdf
from clothyard.documents.template import BAR_MM, MARGIN_MM, OVERLAP_MM, template_pdf
from clothyard.documents.workshop import labels_of, labels_pdf
from clothyard.services.papers.papers import _Made, _templates
from tests.conftest import polos
from tests.services.test_orders import URL, accepted

HOUSE = default_house()
MM = 72 / 25.4
HEAD = PaperHead("Q-0042", 1, "Orrin Hill Choir", "", "", "", "", "")


def strokes(page):
    """Every straight line that a page draws, in points: (x0, y0, x1, y1)."""
    stack, ctm, found, at = [], [1, 0, 0, 1, 0, 0], [], (0, 0)

    def over(m, n):
        a, b, c, d, e, f = m
        g, h, i, j, k, l = n  # noqa: E741
        return [
            a * g + b * i,
            a * h + b * j,
            c * g + d * i,
            c * h + d * j,
            e * g + f * i + k,
            e * h + f * j + l,
        ]

    def point(x, y):
        return (
            float(x) * ctm[0] + float(y) * ctm[2] + ctm[4],
            float(x) * ctm[1] + float(y) * ctm[3] + ctm[5],
        )

    for operands, name in ContentStream(page.get_contents(), page.pdf).operations:
        if name == b"q":
            stack.append(list(ctm))
        elif name == b"Q":
            ctm = stack.pop()
        elif name == b"cm":
            ctm = over([float(x) for x in operands], ctm)
        elif name == b"m":
            at = point(*operands)
        elif name == b"l":
            to = point(*operands)
            found.append((*at, *to))
            at = to
    return found


def across(lines, length_mm, *, near=0.02):
    return [
        s
        for s in lines
        if abs(s[1] - s[3]) < 0.01 and abs(abs(s[0] - s[2]) / MM - length_mm) < near
    ]


def down(lines, length_mm, *, near=0.02):
    return [
        s
        for s in lines
        if abs(s[0] - s[2]) < 0.01 and abs(abs(s[1] - s[3]) / MM - length_mm) < near
    ]


def made(document, **house):
    own = build_house(house) if house else HOUSE
    job = job_from(document, currency="GBP")
    priced = estimate(job, own, {})
    drawn = [[Picture(d.width_mm, d.height_mm, ()) for d in line.designs] for line in priced.lines]
    return _Made(HEAD, job, priced, work_of(job, own, {}), own, drawn, True, "", {}, {})


def sheet_of(found, **held):
    return run_sheet(
        HEAD, found.job, found.estimate, found.work, found.house, threaded={}, not_yet=held
    )


def template(document, *, page="a4", mirrored=False):
    found = made(document)
    data = template_pdf(_templates(found), found.house, title="t", page=page, mirrored=mirrored)
    return found.estimate.lines[0].places[0], PdfReader(io.BytesIO(data))


PLACES = sorted(
    {
        position: goods
        for goods, rooms in HOUSE.places.items()
        for position in rooms
        if not HOUSE.goods[goods].made
    }.items()
)
"""Every place there is, on one of the classes that have it."""


@pytest.mark.parametrize("paper", ["a4", "letter"])
@pytest.mark.parametrize("part", range(3))
def test_the_template_is_full_size_at_every_place(part, paper):
    """The bar is 100 mm, the cross 10 by 10, the reference at its distance from it."""
    for place, goods in PLACES[part::3]:
        measured(place, goods, paper)


def measured(place, goods, page):
    where, pdf = template(
        polos(
            goods__class=goods, placement__position=place, design__width_mm=20, design__height_mm=15
        ),
        page=page,
    )
    width, height = PAGES[page]
    for sheet in pdf.pages:
        assert (float(sheet.mediabox.width), float(sheet.mediabox.height)) == pytest.approx(
            (width, height), abs=0.01
        )
        assert len(across(strokes(sheet), BAR_MM)) == 1
    mark = where.marks[0]
    crosses = 0
    for sheet in pdf.pages:
        lines = strokes(sheet)
        for x0, y0, x1, _ in across(lines, 10, near=0.005):
            if not any(
                abs(s[0] - (x0 + x1) / 2) < 0.01 and abs((s[1] + s[3]) / 2 - y0) < 0.01
                for s in down(lines, 10, near=0.005)
            ):
                continue
            crosses += 1
            centre = ((x0 + x1) / 2, y0)
            if mark.from_reference_mm is not None and mark.y_mm:
                edges = [(s[1] - centre[1]) / MM for s in lines if abs(s[1] - s[3]) < 0.01]
                assert min(abs(edge - mark.y_mm) for edge in edges) < 0.02
            if mark.x_mm:
                sides = [(s[0] - centre[0]) / MM for s in lines if abs(s[0] - s[2]) < 0.01]
                assert min(abs(side + mark.x_mm) for side in sides) < 0.02
    assert crosses >= 1


def test_words_of_size_groups_never_lie_over_each_other():
    sizes = [{"size": size, "quantity": 4} for size in ("XS", "S", "M", "L", "XL", "2XL", "3XL")]
    where, pdf = template(polos(line__quantity=28, line__cells=sizes))
    assert len({(mark.x_mm, mark.y_mm) for mark in where.marks}) > 1
    for sheet in pdf.pages:
        found = []
        sheet.extract_text(
            visitor_text=lambda words, at, *_, to=found: to.append((words.strip(), at[4], at[5]))
        )
        told = [row for row in found if row[0].endswith("to the centre") or "(" in row[0]]
        for n, (words, x, y) in enumerate(told):
            for other, x1, y1 in told[:n]:
                apart = abs(y - y1) > 3.5 * MM or abs(x - x1) > 60 * MM
                assert apart, (words, other, (x, y), (x1, y1))


@pytest.mark.parametrize("hoop", sorted(HOUSE.hoops))
def test_the_hoops_opening_is_drawn_full_size(hoop):
    goods = "structured-cap" if hoop.startswith("cap") else "pique-polo"
    _, pdf = template(
        polos(goods__class=goods, methods__hoop=hoop, design__width_mm=20, design__height_mm=20)
    )
    row = HOUSE.hoops[hoop]
    sides = {round(float(row.opening_width_mm), 2), round(float(row.opening_height_mm), 2)}
    lines = [s for sheet in pdf.pages for s in strokes(sheet)]
    assert all(across(lines, side) or down(lines, side) for side in sides)


def test_large_ones_tile_with_overlaps_and_a_mirrored_copy_is_mirrored():
    document = polos(
        goods__class="sweatshirt",
        placement__position="full-back",
        design__width_mm=280,
        design__height_mm=330,
        design__stitches=60_000,
        methods__hoop="200x300",
    )
    where, pdf = template(document)
    texts = [sheet.extract_text() for sheet in pdf.pages]
    assert len(pdf.pages) >= 4
    assert "page A1 of" in texts[0]
    assert any("to here over A1" in text for text in texts)
    # the vertical axis of the cross stands on two tiles, as far apart as a tile less its overlap
    step = PAGES["a4"][0] / MM - 2 * MARGIN_MM - OVERLAP_MM
    hulls = [
        [
            s[0]
            for s in strokes(sheet)
            if abs(s[0] - s[2]) < 0.01 and abs(abs(s[1] - s[3]) / MM - where_height(where)) < 0.5
        ]
        for sheet in pdf.pages[:2]
    ]
    shared = [(a - b) / MM for a in hulls[0] for b in hulls[1]]
    assert any(abs(far - step) < 0.05 for far in shared)
    _, plain = template(polos())
    _, mirrored = template(polos(), mirrored=True)

    def side(pdf):
        lines = strokes(pdf.pages[0])
        cross = across(lines, 10, near=0.005)[0]
        long = max(down(lines, 0, near=2000), key=lambda s: abs(s[1] - s[3]))
        return (cross[0] + cross[2]) / 2 - long[0]

    assert side(plain) == pytest.approx(-side(mirrored), abs=0.05)
    assert "for the wrong side" in mirrored.pages[0].extract_text()


def where_height(where):
    ys = [y for _, y in where.corners_mm]
    return max(ys) - min(ys)


def test_the_run_sheets_figures_are_the_estimates():
    """Stitches, thread, cuts, cycles, hoop, needle and marks, pass by pass, over two lines."""
    document = polos(line__sample={"pieces": 1})
    other = polos(
        goods__class="structured-cap",
        placement__position="cap-front",
        design__width_mm=60,
        design__height_mm=40,
    )["lines"][0]
    document["lines"].append(other)
    found = made(document)
    sheet = sheet_of(found)
    assert [each.sample for each in sheet.passes] == [True, True, False, False]
    for each in sheet.passes:
        work = next(p for p in found.work.passes if p.id == each.id)
        line = next(x for x in found.estimate.lines if x.id == each.line)
        assert each.pieces == sum(of.pieces for of in work.of)
        assert each.cycles == work.cycles
        assert [cut.count for cut in each.cuts] == [cut.count for cut in work.cuts]
        assert [mark.words for mark in each.marks] == [m.words for m in line.places[0].marks]
        metres = sum(float(re.sub(r"[^0-9.]", "", n.metres)) for n in each.needles)
        assert metres == pytest.approx(sum(t.needle_m for t in work.threads), abs=0.01)
        methods = {m.key: m.value for m in line.methods}
        assert each.needle == HOUSE.needles[methods["needle"]].label
        assert each.hoop == HOUSE.hoops[methods["hoop"]].label
    names = [each.file_name for each in sheet.passes]
    assert names[:2] == names[2:]
    assert names[0] != names[1]
    assert all(n.change for n in sheet.passes[0].needles)
    assert not any(n.change for n in sheet.passes[3].needles)  # the sample's threads stay
    assert "Stay with it" in " ".join(sheet.passes[3].cautions)


def test_labels_lie_on_their_sheet():
    """The shop's label of 63.5 × 38.1 mm, three across: the second begins 66 mm on."""
    found = made(polos(placement__design={"text": "{name}"}, line__names=["Ada", "Bo"]))
    labels = labels_of("Q-0042", found.job, found.estimate, found.house)
    data = labels_pdf(labels, HOUSE, title="labels")
    pdf = PdfReader(io.BytesIO(data))
    assert len(pdf.pages) == 2  # 21 and 3
    spots = {}

    def at(text, ctm, matrix, _font, _size):
        if text.strip():
            spots[text.strip()] = (matrix[4] / MM, matrix[5] / MM)

    pdf.pages[0].extract_text(visitor_text=at)
    assert spots["Bo"][0] - spots["Ada"][0] == pytest.approx(63.5 + 2.5, abs=0.05)
    assert spots["Ada"][0] == pytest.approx(7.2 + 2.5, abs=0.05)


def test_every_paper_of_an_order_and_of_a_draft(client, shop):
    accepted(shop)
    client.get(URL)
    for kind in ("run-sheet", "template", "labels", "proof", "get-ready", "order"):
        for page in ("a4", "letter"):
            got = client.get(f"{URL}/1/papers/{kind}.pdf?page={page}")
            assert got.status_code == 200, (kind, got.text)
            size = PdfReader(io.BytesIO(got.content)).pages[0].mediabox
            assert float(size.height) == pytest.approx(PAGES[page][1], abs=0.01)
    ahead = client.get("/api/v1/quotes/1/papers/run-sheet.pdf")
    assert "look ahead" in PdfReader(io.BytesIO(ahead.content)).pages[0].extract_text()
    assert client.get("/api/v1/quotes/1/papers/order.pdf").status_code == 404
    sheet = client.get(f"{URL}/1/run-sheet").json()
    assert [piece["name"] for piece in sheet["passes"][-1]["piece_list"][:2]] == ["Ada", "Bo"]
    ahead = client.get("/api/v1/quotes/1/run-sheet").json()
    assert (ahead["ahead"], len(ahead["passes"])) == (True, len(sheet["passes"]))


def test_papers_at_the_command_line(shop, tmp_path, run):
    accepted(shop)
    shop.close()
    folder = str(shop.folder)
    code, out, err = run("orders", "--shop", folder)
    assert (code, "Q-0001" in out) == (0, True), err
    for command in ("run-sheet", "template", "labels"):
        at = tmp_path / f"{command}.pdf"
        code, out, err = run(command, "q-0001", "--shop", folder, "--out", str(at))
        assert (code, at.read_bytes()[:4]) == (0, b"%PDF"), err
    job = tmp_path / "job.json"
    job.write_text(json.dumps(polos()))
    at = tmp_path / "mine.pdf"
    assert run("template", str(job), "--out", str(at), "--page", "letter", "--mirrored")[0] == 0
    for wrong, said in (
        (("run-sheet", "Q-0009", "--shop", folder, "--out", str(at)), "there is no order"),
        (("run-sheet", "Q-0001", "--out", str(at)), "an order is in a shop"),
        (("run-sheet", "Q-0001", "--shop", folder, "--out", str(at), "--page", "a0"), "no page"),
        (("orders", "--shop", folder, "--state", "lost"), "no state"),
    ):
        code, out, err = run(*wrong)
        assert (code, out, said in err) == (2, "", True), err
    code, out, _ = run("get-ready", "Q-0001", "--shop", folder)
    assert (code, "Piqué polo, M navy" in out) == (0, True)
    at = tmp_path / "order.json"
    assert run("order", "Q-0001", "--shop", folder, "--out", str(at))[0] == 0
    code, out, _ = run("import", str(at), "--shop", folder)
    assert (code, out.strip()) == (0, "Q-0001 is Q-0002 here.")
    code, out, _ = run("stock", "--shop", folder)
    assert '"clothyard-stock/1"' in out


TOLD = [
    ("pique-polo", "left-chest", ["Hoop the piece with cut-away", "hem goes on first"], "Trim"),
    ("knitted-hat", "fold", ["Hoop cut-away", "inner face", "adhesive"], "Basting out"),
    ("stocking", "stocking-cuff", ["turned down", "inner face"], "Film"),
    ("table-linen", "corner", ["folded crease", "2 layers", "Baste"], "Wash, and press"),
    ("kitchen-cloth", "end", ["fuse it"], "Hold the stitches, tear"),
    ("terry-towel", "towel", ["template and pins"], "Steam it; never press"),
    ("soft-cap", "cap-front", ["Wet the backing", "tape or a sticker"], "Wet it to let go"),
    ("structured-cap", "cap-front", ["Stretch it on the cap frame"], "tear the backing"),
    ("vinyl", "centre", ["tape or clips"], "Trim the cut-away"),
    ("infant-bodysuit", "infant-chest", ["Fuse the fusible mesh"], "soft cover"),
    ("closed-sleeve", "sleeve", ["cuff goes on first"], "Trim"),
    ("belt", "along", ["Hoop tear-away, medium, and only that", "Baste"], "tear the backing"),
]


@pytest.mark.parametrize(("goods", "position", "held", "after"), TOLD)
def test_a_run_sheet_tells_how_it_is_held_turned_and_finished(goods, position, held, after):
    """Read back from the paper: what a helper needs who has never sewn such a piece."""
    small = {"design__width_mm": 34, "design__height_mm": 28, "design__stitches": 1500}
    finishing = {"line__finishing": ["press"]} if goods == "terry-towel" else {}
    found = made(polos(goods__class=goods, placement__position=position, **small, **finishing))
    sheet = sheet_of(found)
    data = run_sheet_pdf(
        sheet, found.job, found.estimate, found.house, found.drawn, link="http://x"
    )
    pages = [page.extract_text() for page in PdfReader(io.BytesIO(data)).pages]
    said = " ".join(" ".join(pages).split())
    for words in (*held, after, "After sewing, in order", "Look: straight"):
        assert words in said, words


def test_a_patch_sewn_flat_is_not_stood_by_like_a_cap():
    cap = polos(
        goods__class="structured-cap", placement__position="cap-front", placement__as_patch=True
    )
    found = made(cap)
    sheet = sheet_of(found)
    assert sheet.passes[-1].stand_by == "A person stands by for 10% of the sewing."


def test_a_paper_that_must_not_be_worked_from_says_so_across_its_head():
    found = made(polos())
    each = found.work.passes[-1].id
    held = sheet_of(found, **{each: ["names not approved", "file missing"]})
    for sheet, said in ((held, True), (sheet_of(found), False)):
        data = run_sheet_pdf(
            sheet, found.job, found.estimate, found.house, found.drawn, link="http://x"
        )
        pages = [page.extract_text() for page in PdfReader(io.BytesIO(data)).pages]
        words = "NOT TO BE WORKED FROM YET: names not approved, file missing"
        assert any(words in " ".join(page.split()) for page in pages) is said
    templates = template_pdf(_templates(found), found.house, title="t", not_yet=["cancelled"])
    assert (
        "NOT TO BE WORKED FROM YET: cancelled"
        in PdfReader(io.BytesIO(templates)).pages[0].extract_text()
    )
