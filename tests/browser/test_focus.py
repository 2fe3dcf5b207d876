"""Wherever what was pressed goes away with what it did, the keyboard goes on nearby."""

import copy

from playwright.sync_api import Page, expect

from tests.browser.test_all_is_asked import _open
from tests.conftest import polos

HERE = "() => document.activeElement.matches('h1, h2, h3, legend, button, input, select')"


def goes_on(page: Page, within: str) -> None:
    """The focus lands in a part, on something that can be gone on from."""
    inside = f"""(name) => {{
      const at = document.activeElement;
      return ({HERE})() && at.closest(`[aria-label="${{name}}"]`) !== null;
    }}"""
    page.wait_for_function(inside, arg=within)


def test_the_focus_is_never_lost_by_what_was_pressed(page: Page, address: str, said: list[str]):
    job = polos(
        goods__class="plush-blanket",
        methods__backing="tear-away-medium",
        methods__layers=1,
        design__thread_colours=["#20262e"],
    )
    job["lines"].append(copy.deepcopy(job["lines"][0]))
    _open(page, address, job)
    making = page.get_by_label("The making")
    against = making.get_by_role("button", name="Go against it").first
    against.press("Enter")
    page.keyboard.type("the customer was told")
    page.keyboard.press("Enter")
    expect(making).to_contain_text("gone against")
    goes_on(page, "The making")
    making.get_by_role("button", name="Heed it after all").press("Enter")
    expect(making).not_to_contain_text("gone against")
    goes_on(page, "The making")
    making.get_by_label("Other schools").get_by_role("button").first.press("Enter")
    goes_on(page, "The making")
    making.get_by_role("button", name="Use it").first.press("Enter")
    expect(making.get_by_label("The order on each machine")).to_contain_text("chosen")
    goes_on(page, "The making")
    making.get_by_role("button", name="the file's own").press("Enter")
    goes_on(page, "The making")
    lines = page.get_by_role("navigation", name="Lines of the order")
    lines.get_by_role("button", name="sell together").press("Enter")
    page.keyboard.press("Enter")
    expect(lines.get_by_role("button", name="sell apart")).to_be_focused()
    page.keyboard.press("Enter")
    expect(lines.get_by_role("button", name="sell together")).to_be_focused()
    piece = page.get_by_label("The piece")
    piece.get_by_label("Turn", exact=True).select_option("90")
    piece.get_by_role("button", name="Back to usual").press("Enter")
    goes_on(page, "The piece")
    assert said == []
