"""Papers of very long orders, and papers made by many threads at once."""

import threading

import pytest

from clothyard.services.quotes import drafts as quotes
from clothyard.services.sending import send as sending
from tests.conftest import polos
from tests.services.test_quotes import made, paper, pdf_text

NAMES = [f"Bartholomew Featherston {n:04d}" for n in range(600)]
CELLS = [{"size": f"Size {n}", "colour": "bottle green", "quantity": 2} for n in range(300)]
LONG = {"line__quantity": 600, "placement__design": {"text": "{name}", "height_mm": 8}}


@pytest.fixture(autouse=True)
def _a_day_in_may(monkeypatch):
    monkeypatch.setenv("CLOTHYARD_TODAY", "2026-05-04")


def test_long_lists_flow_over_pages_and_nothing_of_them_is_lost(shop):
    job = polos(line__names=NAMES, line__cells=CELLS, **LONG)
    view = made(shop, job=job, email="a@b.example", notes="a line\n" * 700)
    steps = list(sending.send_in_steps(shop, view.id, seen=1))
    done = [step.done for step in steps[:-1]]
    assert done == sorted(done)
    assert done[-1] < steps[0].of
    for kind in ("quote", "costing"):
        said = " ".join(pdf_text(paper(shop, kind)).split())
        assert all(name in said for name in NAMES[::37])
        assert NAMES[-1] in said
        assert all(f"2 × Size {n} bottle green" in said for n in (0, 150, 299))
    assert NAMES[-1] in paper(shop, "message").decode()


def test_a_sending_that_is_not_followed_to_its_end_has_sent_nothing(shop):
    view = made(shop, email="a@b.example")
    steps = sending.send_in_steps(shop, view.id, seen=1)
    for _ in range(5):  # all but the last
        next(steps)
    steps.close()
    assert quotes.find_quote(shop, view.id).state == "draft"
    assert sending.list_versions(shop, view.id) == []


def test_many_threads_make_the_same_papers_as_one(shop):
    job = polos(line__names=NAMES[:24], placement__design={"text": "{name}", "height_mm": 8})
    ids = [made(shop, job=job).id for _ in range(8)]
    failed = []

    def send(quote_id):
        try:
            sending.send_quote(shop, quote_id, seen=1)
        except BaseException as error:
            failed.append(error)

    threads = [threading.Thread(target=send, args=(quote_id,)) for quote_id in ids]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failed == []
    words = [
        {
            kind: pdf_text(paper(shop, kind, quote_id)).replace(f"Q-{quote_id:04d}", "Q")
            for kind in ("quote", "costing")
        }
        for quote_id in ids
    ]
    assert all(each == words[0] for each in words)


@pytest.mark.parametrize(
    ("typed", "kept"), [("20270101", "2027-01-01"), ("2026W227", "2026-05-31"), (" ", "2026-06-03")]
)
def test_dates_are_written_one_way(shop, typed, kept):
    assert made(shop, valid_until=typed).valid_until == kept
    odd = made(shop, due_on=typed)
    assert odd.due_on == (kept if typed.strip() else "")
