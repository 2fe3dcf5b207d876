"""Sizes and names as one table: shared, pasted, kept with each other."""

from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.conftest import axe
from tests.browser.test_bench import PRICE, ask, count, saved, start, unit

FORTY = "Name\tSize\n" + "".join(f"Person {n}\t{'SML'[n % 3]}\n" for n in range(40))


def pieces(page: Page) -> list[str]:
    boxes = page.get_by_label("Pieces, row")
    return [boxes.nth(n).input_value() for n in range(boxes.count())]


def test_how_many_is_shared_over_sizes_and_a_new_row_takes_no_price_away(
    page: Page, said: list[str]
):
    start(page)
    ask(page)
    count(page)
    expect(unit(page)).to_have_text(PRICE)
    page.get_by_role("button", name="+ size or colour").click()
    expect(page.get_by_label("Size, row 1")).to_be_focused()
    page.keyboard.type("S")
    page.get_by_role("button", name="+ size or colour").click()
    expect(page.get_by_label("Size, row 2")).to_be_focused()
    saved(page)
    expect(unit(page)).to_have_text(PRICE)  # with a row that is only begun
    page.keyboard.type("M")
    page.get_by_label("Pieces, row 1").fill("16")
    page.get_by_label("Pieces, row 2").fill("8")
    expect(page.get_by_label("How many", exact=True)).to_have_value("24")
    expect(page.get_by_text("shared over the sizes as they stand")).to_be_visible()
    page.get_by_label("How many", exact=True).select_text()
    page.keyboard.type("12", delay=300)  # priced after the 1, too
    assert pieces(page) == ["8", "4"]
    saved(page)
    expect(unit(page)).to_have_text(PRICE)
    tape = page.get_by_role("slider", name="How many")
    tape.focus()
    page.keyboard.press("ArrowRight")
    saved(page)
    assert pieces(page) == ["9", "4"]
    page.get_by_role("button", name="Remove row 1").click()
    expect(page.get_by_label("Size, row 1")).to_be_focused()
    page.get_by_role("button", name="Remove row 1").click()
    expect(page.get_by_role("button", name="+ size or colour")).to_be_focused()
    expect(page.get_by_label("How many", exact=True)).to_have_value("4")
    assert axe(page) == []
    assert said == []


def test_forty_names_in_three_sizes_are_pasted(page: Page, said: list[str]):
    start(page)
    ask(page, quantity="2")
    page.get_by_role("button", name="Words", exact=True).click()
    page.get_by_role("button", name="A name each").click()
    page.get_by_role("button", name="Paste a list").click()
    box = page.get_by_role("group", name="A list of names and sizes")
    expect(box.get_by_role("textbox")).to_be_focused()
    page.keyboard.insert_text("Name\tPieces\nAda\ttwo\n")
    box.get_by_role("button", name="Take it").click()
    expect(box.get_by_role("alert")).to_contain_text("line 2: 'two' is no number of pieces.")
    box.get_by_role("textbox").fill(FORTY)
    box.get_by_role("button", name="Take it").click()
    expect(
        page.get_by_role("status").filter(has_text="40 pieces in 3 rows, 40 names.")
    ).to_be_visible()
    expect(page.get_by_role("button", name="Paste a list")).to_be_focused()
    assert pieces(page) == ["14", "13", "13"]
    expect(page.get_by_label("Names on S", exact=True)).to_have_value(
        "\n".join(f"Person {n}" for n in range(0, 40, 3))
    )
    expect(page.get_by_text("13 of 13").first).to_be_visible()
    expect(unit(page)).to_have_text(PRICE)
    medium = page.get_by_label("Names on M", exact=True)
    medium.fill("Io\nUm")  # eleven are still to come, and L keeps its own
    saved(page)
    expect(page.get_by_text("2 of 13")).to_be_visible()
    expect(page.get_by_label("Names on L", exact=True)).to_have_value(
        "\n".join(f"Person {n}" for n in range(2, 40, 3))
    )
    expect(page.get_by_text("29 names for 40 pieces")).to_be_visible()
    assert axe(page) == []
    with page.expect_popup() as opened:
        page.get_by_label("Customer", exact=True).fill("Tern")
        saved(page)
        page.get_by_role("button", name="Send", exact=True).click()
        page.get_by_role("dialog").get_by_role("link", name="their page").click()
    ahead = opened.value
    expect(ahead.get_by_role("heading", name="M", exact=True)).to_be_visible()
    expect(ahead.get_by_text("11 names still to come.")).to_be_visible()
    paper = page.request.get(page.url.replace("/quotes/", "/api/v1/quotes/") + "/preview/quote.pdf")
    text = _text(paper.body())
    assert "Names on M" in text
    assert "Io, Um; 11 still to come" in text
    assert said == []


def _text(data: bytes) -> str:
    import io

    return " ".join(p.extract_text() for p in PdfReader(io.BytesIO(data)).pages)
