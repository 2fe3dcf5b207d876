"""Every time that an issue names, measured in one run.

Ratios where there is something to compare with; else the fastest of the rounds, since what else
runs on a machine only ever adds time.
"""

from __future__ import annotations

import copy
import gzip
import io
import random
import re
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from functools import partial
from pathlib import Path
from typing import Any

import pystitch
import uvicorn
from playwright.sync_api import Response, sync_playwright
from sqlalchemy import insert
from sqlalchemy.event import listen

from clothyard.api.app import FRONTEND, create_app
from clothyard.core.estimate.figures import LineFigures
from clothyard.core.estimate.make import Pricing, estimate, work_of
from clothyard.core.estimate.pack_sure import pack_order_sure, pack_sure
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.plan.promise import Promiser
from clothyard.core.plan.schedule import plan_orders
from clothyard.core.price.sure import cost_band
from clothyard.core.run import simulate
from clothyard.core.run.event import EventIn
from clothyard.core.run.simulate import run_plan
from clothyard.core.stitches.facts import DesignFacts, analyse
from clothyard.demo.build import demo_shop
from clothyard.demo.stitching import crest, stitch_file
from clothyard.files.guarded import read_design, shared_reader
from clothyard.services.customer_page import outbox
from clothyard.services.designs import library as designs
from clothyard.services.house import standards
from clothyard.services.orders import buying
from clothyard.services.orders import follow as orders_of
from clothyard.services.papers import papers
from clothyard.services.quotes import drafts as quotes
from clothyard.services.quotes.estimates import calm_collector
from clothyard.services.run import at_machine
from clothyard.services.sending import send as sending
from clothyard.services.stock import shelf
from clothyard.store.designs import find_design
from clothyard.store.models import (
    DesignFile,
    Mail,
    Quote,
)
from clothyard.store.quotes import find_quote as find_kept
from clothyard.store.shop import Shop, today
from tests.browser.conftest import CHROMIUM
from tests.conftest import polos
from tests.core.test_orders import FLEECES, SCARF, count, order
from tests.core.test_schedule import OPEN
from tests.core.test_schedule import order as order_of
from tests.services.many_orders import many_orders
from tests.tools import optimum
from tests.tools.held_days import CHANCES, held
from tests.tools.truth import at_one, shops

SCREEN_PORT = 8648
STITCHES = 100_000
ROUNDS = 9
SHOPS = 10


def timed(work: Callable[[], object]) -> float:
    """Seconds of one call."""
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def large_file() -> bytes:
    """A design of 100,000 stitches in five colours, satin and fill, with cuts."""
    chance = random.Random(1)
    blocks = []
    for colour in ("#102030", "#a02040", "#20a040", "#c0a020", "#f0f0f0"):
        runs = []
        for _ in range(20):
            x, y = chance.uniform(-60, 60), chance.uniform(-60, 60)
            run = []
            for i in range(STITCHES // 100):
                x += chance.uniform(-0.2, 0.4)
                run.append((x, y + (i % 2) * chance.uniform(1, 4)))
            runs.append(run)
        blocks.append((colour, runs))
    return stitch_file(blocks, "dst")


def row(name: str, found: float, bound: float, unit: str) -> bool:
    """Print a row of the table."""
    good = found <= bound
    verdict = "ok" if good else "OVER"
    print(f"{name:58} {found:9.2f} {unit:3} at most {bound:g} {unit:3} {verdict}")
    return good


def reading() -> tuple[list[bool], DesignFacts]:
    """Reading and analysing against the library's bare read, in turns."""
    data = large_file()
    reader = next(f["reader"] for f in pystitch.supported_formats() if f["extension"] == "dst")
    shared_reader().warm()
    bare, ours, analysing = [], [], []
    plan, facts = read_design(data, "a.dst", sha256="0" * 64)
    for _ in range(ROUNDS):
        bare.append(timed(lambda: pystitch.EmbPattern.read_embroidery(reader, io.BytesIO(data))))
        ours.append(timed(lambda: read_design(data, "a.dst", sha256="0" * 64)))
        analysing.append(timed(lambda: analyse(plan)))
    ratio = statistics.median(o / b for o, b in zip(ours, bare, strict=True))
    print(
        f"{facts.stitches:,} stitches: bare read {min(bare) * 1000:.0f} ms, read and analysed "
        f"{min(ours) * 1000:.0f} ms, of it analysed {min(analysing) * 1000:.0f} ms"
    )
    return [row("read and analyse ÷ the library's bare read", ratio, 1.3, "×")], facts


def pricing(facts: DesignFacts) -> list[bool]:
    """One estimate with 7 tiers, from a count and from the large file."""
    house = default_house()
    placed = polos()
    placed["lines"][0]["placements"][0]["design"] = {"sha256": "0" * 64}
    results = []
    for name, job in (("a count", polos()), (f"a file of {facts.stitches:,}", placed)):
        read = job_from(job)
        designs = {"0" * 64: facts}
        whole = partial(estimate, read, house, designs)
        times = [timed(whole) for _ in range(40)]
        bare = [timed(partial(whole, compare=False)) for _ in range(40)]
        best = min(times) * 1000
        results.append(row(f"estimate with 7 tiers and all others, {name}", best, 20, "ms"))
        best = min(bare) * 1000
        results.append(row(f"estimate with 7 tiers alone, {name}", best, 20, "ms"))
        lines = [Pricing(read, house, designs).lines[0] for _ in range(40)]
        without = best - min(timed(partial(band, line)) for line in lines) * 1000
        results.append(row(f"with its band ÷ without, {name}", best / without, 1.15, "×"))
    return results


def band(line: LineFigures) -> None:
    """Say how sure a line and its order are, as an estimate does."""
    cost_band(line.cost)
    line.priced.pricer.loss_chance(line.priced.net, line.cost.quantity)
    pack_order_sure([line], "GBP")
    pack_sure(line, "GBP")


def orders() -> list[bool]:
    """Orders of many lines and places, many pieces, many names: all with 7 tiers."""
    house = default_house()
    line = copy.deepcopy(FLEECES) | {"quantity": 24, "cells": []}
    line["placements"].append({"position": "sleeve", "design": count(900, 40, 40)})

    def best(call: Callable[[], object]) -> float:
        call()
        return min(timed(call) for _ in range(25)) * 1000

    def ms(job: dict[str, Any], **options: Any) -> float:
        return best(partial(estimate, job_from(job), house, {}, **options))

    def saved(job: dict[str, Any]) -> float:
        """As a save answers: all of the open line, no piece by itself."""
        read = job_from(job)
        return best(
            lambda: Pricing(read, house, {}).estimate(compare=False, pieces=False, open_line=0)
        )

    print("lines of 3 places, 7 tiers: alone, and with the others of one line")
    alone = {}
    for n in (1, 2, 5, 10):
        job = order(*[line] * n)
        alone[n] = ms(job, compare=False)
        print(f"{n:6} lines {alone[n]:8.1f} ms {ms(job, compare=0):8.1f} ms")
    ten, large = (ms(order(line | {"quantity": q}), compare=False) for q in (10, 300))
    names = [f"Name {chr(65 + i % 26)}{chr(97 + i // 26)}" for i in range(300)]
    named = order(SCARF | {"quantity": 300, "names": names})
    ten_saved, named_saved = saved(order(*[line] * 10)), saved(named)
    all_named = ms(named, compare=False)
    return [
        row_of("10 lines of 3 places with 7 tiers", alone[10], 50),
        row("10 lines ÷ 10 times one line", alone[10] / alone[1] / 10, 1.3, "×"),
        row("300 pieces ÷ 10 pieces", large / ten, 1.5, "×"),
        row_of("10 lines of 3 places, as a save tells them", ten_saved, 28),
        row("that ÷ all told", ten_saved / alone[10], 0.6, "×"),
        row_of("300 names, lettered before", all_named, 100),
        row_of("300 names, as a save tells them", named_saved, 38),
        row("that ÷ each told by itself", named_saved / all_named, 0.5, "×"),
    ]


def listing() -> list[bool]:
    """10,000 quotes: the first page of the list, and a search."""
    chance = random.Random(2)
    words = ("fennel", "orrin", "pebble", "wick", "choir", "rowing", "tunic", "scarf")
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder))
        made = quotes.create_quote(
            shop, quotes.QuoteDocument(customer="Brackwater Rowing", job=polos())
        )
        with shop.unit() as unit, unit.reading() as session:
            first = session.get(Quote, made.id)
            names = [c.name for c in Quote.__table__.columns if c.name != "id"]
            row = {name: getattr(first, name) for name in names}
            rows = []
            for n in range(2, 10_001):
                customer = " ".join(chance.choices(words, k=3))
                number = f"Q-{n:04d}"
                search = f"{number.lower()} {customer} 24 × piqué polo"
                rows.append(row | {"number": number, "customer": customer, "search": search})
            session.execute(insert(Quote), rows)
        work = {
            "first page": partial(quotes.list_quotes, shop),
            "search": partial(quotes.list_quotes, shop, search="orrin tunic"),
            "search that finds none": partial(quotes.list_quotes, shop, search="zebra"),
            "sorted by sum": partial(quotes.list_quotes, shop, sort="total"),
        }
        results = [
            row_of(f"10,000 quotes: {name}", min(timed(call) for _ in range(15)) * 1000, 100)
            for name, call in work.items()
        ]
        results += growth(shop, made.id)
        shop.close()
    return results


def accepted(shop: Shop, job: dict[str, Any]) -> int:
    """Make an order of a job; returns its id."""
    draft = quotes.create_quote(
        shop, quotes.QuoteDocument(customer="Brackwater Rowing", due_on="2026-06-01", job=job)
    )
    sent = sending.send_quote(shop, draft.id, seen=draft.revision)
    return sending.answer_quote(shop, sent.id, "accepted", seen=sent.revision).id


AT_MOST_MS = {"shelf": 100, "to buy": 120, "list of orders": 80, "an order opened": 100}


def shelf_and_papers() -> list[bool]:
    """2,000 open orders and 50,000 moves: shelf and to buy; 300 names: run sheet and labels."""
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder))
        first = accepted(shop, polos(design__thread_colours=["#1d3b6f", "#e3d6bb", "#c9972b"]))
        orders_of.find_order(shop, first)
        many_orders(shop, first, orders=1999, moves=50_000)
        work = {
            "shelf": partial(shelf.list_stock, shop),
            "to buy": partial(buying.list_to_buy, shop),
            "list of orders": partial(
                orders_of.list_orders, shop, search="", state="", sort="promise", down=None
            ),
            "an order opened": partial(orders_of.find_order, shop, first),
        }
        found = [
            row_of(
                f"2,000 orders, 50,000 moves: {name}",
                min(timed(call) for _ in range(9)) * 1000,
                AT_MOST_MS[name],
            )
            for name, call in work.items()
        ]
        names = [f"Name {n}" for n in range(300)]
        named = accepted(
            shop,
            polos(
                line__quantity=300,
                line__names=names,
                placement__design={"text": "{name}", "height_mm": 12},
            ),
        )

        def print_both() -> None:
            for kind in ("run-sheet", "labels"):
                papers.order_paper(shop, named, kind, served_at="http://127.0.0.1:8642")

        found.append(row_of("300 names: run sheet and labels", timed(print_both) * 1000, 3000))
        shop.close()
    return found


def sent_and_begun() -> list[bool]:
    """A quote sent, the sample shop built, a press at the machine, a file looked at."""
    with tempfile.TemporaryDirectory() as folder:
        shop = Shop(Path(folder) / "shop")
        sends = []
        for n in range(5):
            document = quotes.QuoteDocument(
                customer="A club", due_on=f"2026-07-0{n + 1}", job=polos()
            )
            draft = quotes.create_quote(shop, document)
            sends.append(timed(partial(sending.send_quote, shop, draft.id, seen=draft.revision)))
        shop.close()
        building = timed(lambda: demo_shop(Path(folder) / "demo").close())
        sample = demo_shop(Path(folder) / "demo")
        reads = reads_of_a_press(sample)
        sample.close()
        file = Path(folder) / "crest.dst"
        file.write_bytes(stitch_file(crest(), "dst"))
        python, run = sys.executable, partial(subprocess.run, check=True, stdout=subprocess.DEVNULL)
        bare = f"import pystitch; pystitch.read({str(file)!r})"
        ours = "from clothyard.cli import main; main()"
        ratio = statistics.median(
            timed(partial(run, [python, "-c", ours, "inspect", str(file)]))
            / timed(partial(run, [python, "-c", bare]))
            for _ in range(7)
        )
    return [
        row_of("a quote of 24 polos, sent", min(sends) * 1000, 500),
        row("the sample shop, built", building, 12, "s"),
        row("a press at the machine: reads", reads, 15, ""),
        row("a file inspected ÷ a bare read of it, each in a fresh Python", ratio, 3, "×"),
    ]


def reads_of_a_press(shop: Shop) -> int:
    """Count what one press of *Piece done* reads of the database."""
    order = next(
        o
        for o in orders_of.list_orders(
            shop, search="", state="in-work", sort="promise", down=None
        ).items
    )
    one = at_machine.list_passes(shop, order.id)[0]
    view = at_machine.find_pass(shop, order.id, one.pass_id)
    piece = next(p.id for p in view.pieces if p.state in {"waiting", "prepared"})
    press = EventIn(id="bench-one", kind="done", at=f"{today()}T09:00:00+00:00", piece=piece)
    asked: list[str] = []
    listen(shop._read, "before_cursor_execute", lambda *a: asked.append(a[2]))
    listen(shop._write, "before_cursor_execute", lambda *a: asked.append(a[2]))
    at_machine.write_events(shop, order.id, one.pass_id, at_machine.EventsIn(events=[press]))
    return sum(text.lstrip().upper().startswith("SELECT") for text in asked)


def runs_and_plans() -> list[bool]:
    """300 pieces on two machines simulated; 200 seeded runs; 50 orders planned; a promise."""
    house = default_house()
    work = work_of(job_from(polos(line__quantity=300), currency="GBP"), house, {})
    plan = run_plan(work, house)
    halves = [replace(p, cycles=p.cycles // 2) for p in plan.passes]
    two = replace(plan, passes=(*halves, *(replace(p, id="b", machine="second") for p in halves)))
    spreads = simulate.spreads_of(house)
    chance = random.Random(5)
    open_orders = [
        order_of(
            str(n),
            chance.uniform(1, 12),
            rank=n,
            promised=f"2026-{chance.randint(5, 7):02d}-{chance.randint(1, 28):02d}",
        )
        for n in range(50)
    ]
    draft = order_of("draft", 6.0)
    day = "2026-05-04"
    line = plan_orders(open_orders, OPEN, from_day=day, days=90).line
    behind = Promiser(open_orders, OPEN, from_day=day, line=line)

    def ms(call: Callable[[], object], rounds: int = 3) -> float:
        return min(timed(call) for _ in range(rounds)) * 1000

    return [
        row_of("300 pieces on two machines, simulated", ms(partial(simulate.simulate, two)), 300),
        row_of(
            "200 seeded runs of 300 pieces",
            ms(partial(simulate.spread, plan, spreads, runs=200), 1),
            30_000,
        ),
        row_of(
            "50 orders over 90 days, planned",
            ms(partial(plan_orders, open_orders, OPEN, from_day=day, days=90)),
            300,
        ),
        row_of("a draft's promise behind them", ms(partial(behind.promise, draft, CHANCES)), 150),
        *lateness(),
        *safe_days(),
    ]


def safe_days() -> list[bool]:
    """Safe days of 200 weeks, held against 100 further futures each."""
    rates = [held(seed) for seed in range(WEEKS)]
    whole, before = (statistics.mean(each) for each in zip(*rates, strict=True))
    print(f"{WEEKS} weeks: safe days hold in {whole:.1f} of 100, the day before in {before:.1f}")
    return [
        row("safe days that do not hold, of 100 futures", 100 - whole, 25, ""),
        row("days before them that would, of 100 futures", before, 80, ""),
    ]


WEEKS = 200
MOST_GAP = 0.05


def lateness() -> list[bool]:
    """Days late against a solver's optimum on small weeks, against first come on big ones."""
    gaps, unproven = [], 0
    for seed in range(WEEKS):
        week = optimum.small_week(seed)
        best, proven = optimum.optimum(week)
        unproven += not proven
        gaps.append((optimum.late_days(week) - best) / (best + 1))
    print(
        f"{WEEKS} small weeks: worst gap {max(gaps):.2f}, {sum(g == 0 for g in gaps)} optimal, "
        f"{unproven} not proven in time"
    )
    chance, ours, theirs = random.Random(7), 0, 0
    for _ in range(10):
        big = [
            order_of(
                str(n),
                chance.uniform(0.5, 5),
                rank=n,
                promised=f"2026-{chance.randint(5, 6):02d}-{chance.randint(1, 28):02d}",
            )
            for n in range(40)
        ]
        mine, plain = optimum.first_come(big)
        ours, theirs = ours + mine, theirs + plain
    print(f"10 big months: {ours} days late, first come first served {theirs}")
    return [
        row("days late over the optimum's, mean of 200 weeks", sum(gaps) / WEEKS, MOST_GAP, ""),
        row("days late ÷ first come first served", ours / max(1, theirs), 1.0, "×"),
    ]


def truth() -> list[bool]:
    """Made-up shops that log ten jobs: what they then estimate, against what is true."""
    found = shops(SHOPS)
    told = []
    for name, label, most in (("needle", "weighed thread", 5.0), ("clocked", "clocked time", 8.0)):
        offs = [abs(figures[name]) * 100 for figures in found]
        print(f"{SHOPS} shops, {label}: worst {max(offs):.1f} % off")
        told.append(row(f"after ten jobs, {label}: mean off", statistics.mean(offs), most, "%"))
    inside = [figures["held"] for figures in found]
    print(
        f"{SHOPS} shops: of 100 further jobs the band of 80 held {min(inside):.0f} to "
        f"{max(inside):.0f}, mean {statistics.mean(inside):.1f}"
    )
    told.append(row("the band of 80, off 80", abs(statistics.mean(inside) - 80), 10, "jobs"))
    ones = at_one(2, noise=0.0)
    worst = max(abs(f - 1) * 100 for each in ones.values() for f in each)
    told.append(row("with true factors of 1, no noise: worst factor off", worst, 1, "%"))
    return told


def growth(shop: Shop, quote_id: int) -> list[bool]:
    """In a shop of 10,000 quotes, 2,000 designs, 3,000 messages: each list, opening, saving."""
    kept = designs.keep_design(shop, stitch_file(crest(), "dst"), "crest.dst")
    facts = find_design(shop, kept.sha256)
    assert facts is not None
    day = "2026-05-04T09:00:00+00:00"
    with shop.unit() as unit, unit.reading() as session:
        text = facts.model_dump_json()
        session.execute(
            insert(DesignFile),
            [
                {
                    "sha256": f"{n:064x}",
                    "name": f"crest-{n}.dst",
                    "size_bytes": 1,
                    "facts": text,
                    "added_on": day,
                }
                for n in range(2_000)
            ],
        )
        session.execute(
            insert(Mail),
            [
                {
                    "id": f"Q-{n:04d}-v1",
                    "to": "a@b.example",
                    "subject": f"Quote Q-{n:04d}",
                    "sent_on": day,
                    "sha256": "0" * 64,
                    "posted_on": day,
                    "trouble": "",
                }
                for n in range(3_000)
            ],
        )

    def save() -> None:
        seen = find_kept(shop, quote_id)
        document = quotes.QuoteDocument(customer="Brackwater Rowing", job=seen.job)
        quotes.save_quote(shop, quote_id, document, seen=seen.revision)

    work: dict[str, Callable[[], object]] = {
        "2,000 designs: first page": partial(designs.list_designs, shop),
        "2,000 designs: search": partial(designs.list_designs, shop, search="crest 199"),
        "3,000 messages: first page": partial(outbox.list_mail, shop),
        "3,000 messages: last page": partial(outbox.list_mail, shop, cursor="2950"),
        "standards: first page": partial(standards.page_standards, shop),
        "10,000 quotes: open one": partial(quotes.find_quote, shop, quote_id),
        "10,000 quotes: save one": save,
    }
    return [
        row_of(name, min(timed(call) for _ in range(7)) * 1000, 100) for name, call in work.items()
    ]


def screen() -> list[bool]:
    """The built screen in Chromium: its scripts, its first view, and from a key to its price."""
    if not (FRONTEND / "index.html").is_file() or not Path(CHROMIUM).is_file():
        print("screen: not built, or no Chromium here (make setup chromium)")
        return []
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        shop = demo_shop(Path(folder))
        made = quotes.create_quote(shop, quotes.QuoteDocument(customer="A club", job=polos()))
        config = uvicorn.Config(create_app(shop), port=SCREEN_PORT, log_level="error")
        server = uvicorn.Server(config)
        threading.Thread(target=server.run, daemon=True).start()
        while not server.started:
            time.sleep(0.02)
        fetched: list[Response] = []
        browser = play.chromium.launch(executable_path=CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        views, keys, first = [], [], 0
        page.on("response", lambda answer: fetched.append(answer) if ".js" in answer.url else None)
        for _ in range(5):
            start = time.perf_counter()
            page.goto(f"http://127.0.0.1:{SCREEN_PORT}/quotes/{made.id}")
            page.get_by_test_id("unit-price").wait_for()
            views.append((time.perf_counter() - start) * 1000)
            first = first or sum(len(gzip.compress(answer.body())) for answer in fetched)
        asked: list[str] = []
        page.on("request", lambda asks: asked.append(asks.method) if "/api/" in asks.url else None)
        page.get_by_label("How many", exact=True).focus()
        for pieces in range(25, 45):
            keys.append(page.evaluate(KEY_TO_PRICE, str(pieces)))
        theirs = re.findall(r"assets/[^\"]+\.js", (FRONTEND / "customer.html").read_text())
        customer = sum(len(gzip.compress((FRONTEND / name).read_bytes())) for name in theirs)
        browser.close()
        server.should_exit = True
    return [
        row("first scripts of a quote, gzipped", first / 1024, 170, "kB"),
        row("scripts of the customer's page, gzipped", customer / 1024, 60, "kB"),
        row_of("first view of a quote, priced", min(views), 1000),
        row_of("from a key to its price", statistics.median(keys), 60),
        row("what is asked of the server a change", len(asked) / len(keys), 1, ""),
    ]


KEY_TO_PRICE = """(pieces) => new Promise((done, fail) => {
  setTimeout(() => fail(new Error('no new price')), 5000);
  const field = document.activeElement;
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set;
  const price = document.querySelector('[data-testid=line-price]');
  const start = performance.now();
  new MutationObserver((_, watch) => {
    watch.disconnect();
    requestAnimationFrame(() => done(performance.now() - start));
  }).observe(price, { characterData: true, subtree: true, childList: true });
  set.call(field, pieces);
  field.dispatchEvent(new Event('input', { bubbles: true }));
}).then((ms) => new Promise((rest) => setTimeout(() => rest(ms), 600)))"""
"""Types a number of pieces and waits until the order's price is drawn; then until it is saved."""


def row_of(name: str, found: float, bound: float) -> bool:
    """Print a row in milliseconds."""
    return row(name, found, bound, "ms")


if __name__ == "__main__":
    found, facts = reading()
    calm_collector()  # as the server does
    found += pricing(facts)
    found += orders()
    found += listing()
    found += shelf_and_papers()
    found += sent_and_begun()
    found += runs_and_plans()
    found += truth()
    found += screen()
    raise SystemExit(0 if all(found) else 1)
