"""A whole pass at the machine, then the log, what it teaches, the next quote's price, what pays."""

import re

import pytest
from playwright.sync_api import Page, expect

from clothyard.core.job.starts import start_line
from clothyard.services.designs.library import list_designs
from clothyard.services.house.standards import change_standard
from clothyard.services.orders import follow as orders
from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from clothyard.services.workshop import backups
from clothyard.standins.machine import SimulatedMachine, Truths, machine_app
from clothyard.standins.scale import SimulatedScale, scale_app
from clothyard.store import orders as kept
from tests.browser.conftest import axe
from tests.standin import served

NAMES = ["Ines", "Torben", "Maud", "Kofi", "Ruaridh", "Anneke"]


@pytest.fixture
def machine(shop):
    """A machine of the shop's, with a scale: nothing happens but what the test lets happen."""
    truths = Truths(slower=1.25, needle=1.1, breaks_1000=0.4, fill=0.012)
    simulated = SimulatedMachine(5, truths)
    simulated.times = 60
    with (
        served(machine_app(simulated)) as address,
        served(scale_app(SimulatedScale(2, address))) as scale,
    ):
        change_standard(shop, "machines.compact-10.address", address)
        change_standard(shop, "devices.scale_address", scale)
        yield simulated


def ordered(shop, *, customer, names):
    """An accepted order of six polos with the sample shop's oars, ready to be sewn."""
    [design] = list_designs(shop, search="crossed-oars").items
    line = {
        "goods": {"class": "pique-polo", "unit_cost": "6.40"},
        "quantity": 6,
        "placements": [{"design": {"sha256": design.sha256, "repeat": True}}],
    }
    if names:
        line["placements"].append({"position": "sleeve", "design": {"text": "{name}"}})
        line["names"] = names
    job = {"format": "clothyard-job/1", "lines": [line]}
    head = {"customer": customer, "email": "", "due_on": ""}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    made = sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)
    orders.keep_up(shop)
    order = kept.find_order(shop, made.id)
    ready = [row.key for row in orders.find_order(shop, made.id).samples]
    document = orders.OrderDocument(
        state="ready", promised_on=order.promised_on, ready=ready, anyway=True
    )
    if not names:
        orders.save_order(shop, made.id, document, seen=order.revision)
    return made.id


def test_what_is_on_the_needles_is_set_by_hand(page: Page, address: str, shop, said: list[str]):
    order = ordered(shop, customer="Needle Lane", names=[])
    page.goto(f"/orders/{order}")
    page.get_by_role("link", name="At the machine").click()
    needles = page.get_by_label("On the needles", exact=True)
    expect(needles.get_by_text("thread it").first).to_be_visible()
    anew = needles.get_by_text("thread it").count()
    needles.get_by_role("button", name="others are on").press("Enter")
    box = page.get_by_role("dialog")
    first = box.get_by_label("Needle 1", exact=True)
    expect(first).to_be_visible()
    first.select_option(index=1)
    assert axe(page) == []
    box.get_by_role("button", name="So it is threaded").press("Enter")
    expect(box).to_be_hidden()
    assert needles.get_by_text("thread it").count() <= anew
    assert said == []


def tabs_ordered(shop):
    """Ten key tabs, four a hooping, accepted and ready."""
    line = start_line("key-tab", quantity=10)
    line["placements"][0]["together"] = {"columns": 2, "rows": 2, "spacing_mm": 10}
    line |= {"digitising": "none", "sample": {"pieces": 0}}
    job = {"format": "clothyard-job/1", "lines": [line]}
    head = {"customer": "Tab Row", "email": "", "due_on": ""}
    draft = quotes.create_quote(shop, quotes.QuoteDocument(**head, job=job))
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    made = sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision)
    orders.keep_up(shop)
    return made.id


def test_several_in_a_hooping_come_off_together(page: Page, address: str, shop, said: list[str]):
    order = tabs_ordered(shop)
    page.goto(f"/orders/{order}")
    page.get_by_role("link", name="At the machine").click()
    expect(page.get_by_text("Hooping 1 of 3, pieces 1–4")).to_be_visible()
    left = page.get_by_text("this batch").locator("xpath=following-sibling::dd")
    whole = left.inner_text()
    page.keyboard.press("d")
    expect(page.get_by_text("Hooping 2 of 3, pieces 5–8")).to_be_visible()
    assert left.inner_text() != whole
    page.keyboard.press("u")  # one press, taken back in one
    expect(page.get_by_text("Hooping 1 of 3, pieces 1–4")).to_be_visible()
    expect(left).to_have_text(whole)
    page.keyboard.press("s")  # one of them is spoiled: the others come off
    box = page.get_by_role("dialog")
    box.get_by_label("What was seen").select_option("gap")
    box.get_by_role("button", name="It is spoiled").click()
    page.keyboard.press("d")
    expect(page.get_by_text("Hooping 2 of 3, pieces 5–8")).to_be_visible()
    for _ in range(60):  # what was pressed reaches the server
        states = [p.state for p in kept.list_pieces(shop, order)]
        if states.count("sewn") == 3:
            break
        page.wait_for_timeout(100)
    assert (states.count("sewn"), states.count("spoiled")) == (3, 1)
    expect(page.get_by_label("Next stop")).to_contain_text("Lay a patch")
    assert said == []


def served_to_its_end(page: Page, panel):
    """Serve the machine's stops until the piece is sewn."""
    go = panel.get_by_role("button", name="Let it go on")
    start = panel.get_by_role("button", name="Start this piece")
    for _ in range(200):
        if start.is_visible():
            return
        if go.is_enabled() if go.is_visible() else False:
            go.press("Enter")
        page.wait_for_timeout(150)
    raise AssertionError("it is never sewn")


def test_a_whole_pass_of_six_and_what_it_teaches(
    page: Page, address: str, shop, machine, said: list[str]
):
    order = ordered(shop, customer="Low Quay Singers", names=[])
    page.goto(f"/orders/{order}")
    page.get_by_role("link", name="At the machine").click()
    expect(page.get_by_text("Piece 1 of 6")).to_be_visible()
    panel = page.get_by_label("The machine", exact=True)
    expect(panel).to_contain_text("It has no design.")
    assert axe(page) == []
    weighed_and_prepared(page)
    panel.get_by_role("button", name="Send it the design").press("Enter")
    panel.get_by_role("button", name="Start this piece").click()
    expect(panel).to_contain_text(re.compile(r"It sews, needle [1-4]"))
    served_to_its_end(page, panel)
    expect(page.get_by_text("Piece 2 of 6")).to_be_visible()
    broken_taken_back_and_spoiled(page)
    away_and_back(page, shop, order)
    written_in_the_log(page)
    learnt_and_taken(page)
    next_time(page, shop, order)
    out_of_a_notebook(page)
    paid(page)
    for path in (f"/orders/{order}/run/l1.p1.run", "/log", "/log/learn", "/log/pays", "/log/1"):
        for width in (1024, 390, 320):
            page.set_viewport_size({"width": width, "height": 768})
            page.goto(path)
            expect(page.get_by_role("heading").first).to_be_visible()
            page.wait_for_timeout(200)
            wide = page.evaluate("() => document.documentElement.scrollWidth")
            assert wide <= width, (path, width, wide)
    gone = ("ERR_INTERNET_DISCONNECTED", "Failed to load")
    assert [line for line in said if not any(word in line for word in gone)] == []


def weighed_and_prepared(page: Page):
    page.keyboard.press("m")
    more = page.get_by_role("dialog")
    more.get_by_role("button", name="Weigh colour 1, before").click()
    expect(more.get_by_label("colour 1, before, grams")).not_to_have_value("")
    more.get_by_role("button", name="Preparing begins").click()
    more.get_by_role("button", name="Preparing ends").click()
    assert axe(page) == []
    page.keyboard.press("Escape")


def broken_taken_back_and_spoiled(page: Page):
    expect(page.get_by_text("Last: piece done")).to_be_visible()
    last = page.get_by_role("status").filter(has_text="Last:")
    expect(last).to_contain_text(re.compile(r"[1-9]\d* bobbin changes?"))
    # by hand: a thread breaks, is taken back, breaks again; a piece is spoiled
    before = last.inner_text()
    page.keyboard.press("b")
    expect(last).to_contain_text("Last: thread broke")
    page.keyboard.press("u")
    expect(last).to_have_text(re.compile(re.escape(before.split(". ")[1])))
    page.keyboard.press("b")
    page.keyboard.press("t")
    trouble = page.get_by_role("dialog")
    trouble.get_by_role("button", name="A knot of thread under the plate").click()
    expect(trouble.get_by_text("Stop the machine before any remedy")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("s")
    spoiled = page.get_by_role("dialog")
    spoiled.get_by_label("What was seen").select_option("pucker")
    spoiled.get_by_role("button", name="It is spoiled").click()
    expect(last).to_contain_text("1 spoiled")
    expect(page.get_by_text("Piece 2 of 6")).to_be_visible()  # another is made in its place


def away_and_back(page: Page, shop, order: int):
    """With the server away it goes on, also over a reload of what waits."""
    page.reload()
    expect(page.get_by_text("Piece 2 of 6")).to_be_visible()
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    page.wait_for_timeout(500)
    page.context.set_offline(True)
    for n in (3, 4):
        page.keyboard.press("d")
        expect(page.get_by_text(f"Piece {n} of 6")).to_be_visible()
    expect(page.get_by_text("2 events kept in this browser")).to_be_visible()
    page.reload()
    expect(page.get_by_text("Piece 4 of 6")).to_be_visible()
    expect(page.get_by_text("2 events kept in this browser")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("events kept in this browser")).to_be_hidden(timeout=15_000)
    states = [p.state for p in kept.list_pieces(shop, order)]
    assert (states.count("sewn"), states.count("spoiled")) == (3, 1)
    for _ in range(3):
        page.keyboard.press("d")
    expect(page.get_by_text("All pieces of this pass are sewn.")).to_be_visible()
    page.keyboard.press("m")
    page.get_by_role("button", name="Weigh colour 1, after").click()
    expect(page.get_by_label("colour 1, after, grams")).not_to_have_value("")
    page.keyboard.press("Escape")


def written_in_the_log(page: Page):
    page.get_by_role("link", name="Write it in the log").click()
    expect(page.get_by_label("Sewn, spoiled ones too")).to_have_value("7")
    expect(page.get_by_label("What was seen")).to_have_value("pucker")
    expect(page.get_by_label(re.compile("^Needle time"))).not_to_have_value("")
    hooping = page.get_by_label(re.compile("^Preparing and hooping"))
    hooping.fill("a while")
    page.get_by_role("button", name="Write it").click()
    expect(page.get_by_role("alert")).to_contain_text("is no amount")
    hooping.fill("38:30")
    page.get_by_label("Note, for next time").fill("Soft cuffs: tape them back.")
    assert axe(page) == []
    page.get_by_role("button", name="Write it").press("Enter")
    expect(page.get_by_label("What was different")).to_contain_text("ooping")
    so = page.get_by_role("button", name="It was so: let it count")  # until then it counts nowhere
    while so.count() > 0:
        before = so.count()
        so.first.press("Enter")
        expect(so).to_have_count(before - 1)


TAKE = re.compile("^Take it: Preparing and hooping")


def learnt_and_taken(page: Page):
    page.get_by_role("link", name="What it teaches").click()
    take = page.get_by_role("button", name=TAKE)
    expect(take).to_be_visible()
    page.get_by_role("button", name="What it does to prices: Preparing and hooping").or_(
        page.get_by_role("heading", name=re.compile("The last quotes with preparing"))
    ).first.click()
    expect(page.get_by_label("What it does to prices", exact=True)).to_contain_text("→")
    assert axe(page) == []
    take.press("Enter")
    expect(page.get_by_role("button", name="Go back: Preparing and hooping")).to_be_visible()
    heading = page.get_by_role("heading", name="Preparing and hooping", exact=True)
    expect(heading).to_be_focused()  # its button is gone


def next_time(page: Page, shop, order: int):
    """The next quote is dearer by it; what was done last time stands there."""
    copy = quotes.copy_quote(shop, order)
    page.goto(f"/quotes/{copy.id}")
    now = page.get_by_label("Last time")
    expect(now).to_contain_text("Soft cuffs: tape them back.")
    expect(now).to_contain_text("6 good pieces, 1 spoiled (puckered)")
    now.get_by_role("button", name="Make it as last time").press("Enter")
    expect(page.get_by_text("Made as last time")).to_be_visible()
    page.goto("/log/learn")
    page.get_by_role("button", name="Go back: Preparing and hooping").press("Enter")
    expect(page.get_by_role("button", name=TAKE)).to_be_visible()


def out_of_a_notebook(page: Page):
    """A row without an order: all that the document can say is asked."""
    page.goto("/log/new")
    page.get_by_role("link", name="one without an order").press("Enter")
    page.get_by_label("Customer").fill("Kelp Row Market")
    page.get_by_label("Goods").select_option("scarf")
    page.get_by_label("Sewn, spoiled ones too").fill("4")
    page.get_by_label("Mended").fill("1")
    page.get_by_label("What was seen").select_option("gap")
    page.get_by_label("Finishing, estimated").fill("20")
    page.get_by_label(re.compile("^Finishing min")).fill("30")
    assert axe(page) == []
    page.get_by_role("button", name="Write it").press("Enter")
    told = page.get_by_label("What was different")
    expect(told).to_contain_text("Finishing 50 % longer: 30.0 instead of 20.0 min")
    expect(page.get_by_role("heading", level=1)).to_be_focused()
    page.get_by_role("button", name="Remove the row").press("Enter")
    expect(page.get_by_role("heading", name="Log", exact=True)).to_be_focused()


def paid(page: Page):
    page.goto("/log/pays")
    expect(page.get_by_label("An hour of hands")).to_contain_text("Low Quay Singers")
    page.get_by_label("By", exact=True).select_option("size")
    expect(page.get_by_label("An hour of hands")).to_contain_text("6 to 11 pieces")
    assert axe(page) == []


def test_two_tablets_on_two_passes_and_a_wrong_design(page: Page, address: str, shop, machine):
    order = ordered(shop, customer="Quill Street Band", names=NAMES)
    page.goto(f"/orders/{order}/run")
    links = page.get_by_role("link", name=re.compile("of 6 sewn"))
    expect(links).to_have_count(2)
    at = [link.get_attribute("href") for link in links.all()]
    page.goto(at[1])
    expect(page.get_by_role("alert")).to_contain_text("The proof is not approved")
    expect(page.get_by_role("button", name="Piece done")).to_be_disabled()
    view = page.request.put(f"{address}/api/v1/orders/{order}/proof", data={"by": "post"}).json()
    passed = orders.OrderDocument(
        state="ready", ready=[row["key"] for row in view["samples"]], anyway=True
    )
    orders.save_order(shop, order, passed, seen=view["revision"])
    page.reload()
    expect(page.get_by_text("Ines", exact=True)).to_be_visible()
    other = page.context.new_page()
    other.goto(at[0])
    expect(other.get_by_text("Piece 1 of 6")).to_be_visible()
    for each in (page, other):
        each.bring_to_front()
        each.keyboard.press("d")
    expect(page.get_by_text("Torben", exact=True)).to_be_visible()
    expect(other.get_by_text("Piece 2 of 6")).to_be_visible()
    for _ in range(40):  # a piece is sewn once all its passes are done
        states = [p.state for p in kept.list_pieces(shop, order)]
        if "sewn" in states:
            break
        page.wait_for_timeout(100)
    assert states.count("sewn") == 1
    machine.clear()
    machine.take(shop.blobs.sound(list_designs(shop, search="paw").items[0].sha256), "paw.exp")
    other.bring_to_front()
    expect(other.get_by_role("alert")).to_contain_text("Wrong design: it has paw.exp")
    expect(other.get_by_role("button", name="Start this piece")).to_be_hidden()
    other.get_by_role("button", name="Send it the design").click()
    expect(other.get_by_role("button", name="Start this piece")).to_be_visible()
    other.close()


AT_ONE = re.compile("^Piece 1 of ")


def free(shop, *, customer="Low Quay Singers"):
    """An order of six polos that nothing holds, and the address of its pass."""
    order = ordered(shop, customer=customer, names=[])
    return order, f"/orders/{order}/run/l1.p1.run"


def kept_offline(page: Page):
    """Wait until a first visit can be loaded again with the server away."""
    page.wait_for_function(
        """async () => {
          const cache = await caches.open("clothyard-machine-2");
          const kept = (await cache.keys()).map((k) => new URL(k.url).pathname);
          const needed = [...document.scripts].map((s) => new URL(s.src).pathname);
          const data = ["/orders/", "/api/v1/house", "/api/v1/faults"];
          return [...needed, ...data].every((path) => kept.includes(path));
        }"""
    )
    page.wait_for_timeout(1500)


def test_a_first_visit_goes_on_where_it_was_with_the_server_away(page: Page, shop, said):
    _, at = free(shop)
    page.goto(at)
    expect(page.get_by_text(AT_ONE)).to_be_visible()
    kept_offline(page)
    for n in (2, 3, 4):
        page.keyboard.press("d")
        expect(page.get_by_text(f"Piece {n} of 6")).to_be_visible()
    expect(page.get_by_text("kept in this browser")).to_be_hidden()  # the server has them
    page.context.set_offline(True)
    page.reload()
    expect(page.get_by_text("Piece 4 of 6")).to_be_visible()
    expect(page.get_by_text("the pass as it stood at")).to_be_visible()
    page.keyboard.press("d")
    expect(page.get_by_text("Piece 5 of 6")).to_be_visible()
    page.context.set_offline(False)
    expect(page.get_by_text("as it stood at")).to_be_hidden(timeout=15_000)
    expect(page.get_by_text("Piece 5 of 6")).to_be_visible()
    gone = ("ERR_INTERNET_DISCONNECTED", "Failed to load")
    assert [line for line in said if not any(word in line for word in gone)] == []


def test_two_tablets_on_one_pass_see_each_other_and_say_nothing_twice(
    page: Page, browser, address: str, shop
):
    order, at = free(shop)
    there = browser.new_context(base_url=address)
    other = there.new_page()
    for each in (page, other):
        each.goto(at)
        expect(each.get_by_text(AT_ONE)).to_be_visible()
    page.keyboard.press("d")
    expect(other.get_by_text("Piece 2 of 6")).to_be_visible(timeout=5_000)
    there.set_offline(True)
    other.keyboard.press("d")
    expect(other.get_by_text("Piece 3 of 6")).to_be_visible()
    page.keyboard.press("d")
    expect(page.get_by_text("kept in this browser")).to_be_hidden()
    there.set_offline(False)
    told = other.get_by_role("alert")
    expect(told).to_contain_text("was done already", timeout=15_000)
    assert axe(other) == []
    other.reload()
    expect(told).to_contain_text("was done already")  # it stays until somebody says
    told.get_by_role("button", name="Leave it out").click()
    expect(told).to_be_hidden()
    assert [p.state for p in kept.list_pieces(shop, order)].count("sewn") == 2
    there.close()


def test_presses_of_an_order_that_was_cancelled_meanwhile_are_asked_about(page: Page, shop):
    order, at = free(shop)
    page.goto(at)
    expect(page.get_by_text(AT_ONE)).to_be_visible()
    page.context.set_offline(True)
    page.keyboard.press("d")
    page.keyboard.press("b")
    expect(page.get_by_text("2 events kept in this browser")).to_be_visible()
    view = kept.find_order(shop, order)
    orders.save_order(shop, order, orders.OrderDocument(state="cancelled"), seen=view.revision)
    page.context.set_offline(False)
    told = page.get_by_role("alert").filter(has_text="Not taken")
    expect(told).to_have_count(2, timeout=15_000)
    expect(told.first).to_contain_text("was cancelled")
    told.first.get_by_role("button", name="Write it all the same").click()
    expect(told).to_have_count(1)
    told.first.get_by_role("button", name="Leave it out").click()
    expect(told).to_have_count(0)


def test_presses_wait_for_their_own_shop_and_are_asked_about_after_a_restore(
    page: Page, shop, tmp_path
):
    _, at = free(shop)
    page.goto(at)
    expect(page.get_by_text(AT_ONE)).to_be_visible()
    saved = backups.make_backup(shop).name
    page.context.set_offline(True)
    page.keyboard.press("d")
    expect(page.get_by_text("1 event kept in this browser")).to_be_visible()
    backups.restore_backup(shop, saved)  # while the page is open
    page.context.set_offline(False)
    expect(page.get_by_text("Another shop is here, or a backup was gone back to")).to_be_visible(
        timeout=15_000
    )
    expect(page.get_by_text("1 event kept in this browser")).to_be_visible()
    page.reload()
    told = page.get_by_role("alert").filter(has_text="Not taken")
    expect(told).to_contain_text("pressed before a backup was gone back to")
    expect(page.get_by_text("Piece 1 of 6")).to_be_visible()
    told.get_by_role("button", name="Write it all the same").click()
    expect(page.get_by_text("Piece 2 of 6")).to_be_visible()
    expect(told).to_be_hidden()


def test_a_page_of_an_older_build_is_told(page: Page, shop):
    _, at = free(shop)

    def renewed(route):
        answer = route.fetch()
        route.fulfill(response=answer, headers=answer.headers | {"x-build": "index-other.js"})

    page.goto(at)
    expect(page.get_by_text(AT_ONE)).to_be_visible()
    expect(page.get_by_text("Clothyard was renewed")).to_be_hidden()
    page.context.route("**/api/v1/orders/**", renewed)
    expect(page.get_by_text("Clothyard was renewed")).to_be_visible(timeout=10_000)
    expect(page.get_by_role("button", name="Load it anew")).to_be_visible()
