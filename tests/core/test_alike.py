"""Who may be one customer: found in bounded work, the address before the name."""

import difflib
import random

from clothyard.core.alike import ALIKE, Called, pairs_alike


def told(*called, most=99):
    pairs, total = pairs_alike([Called(name, email) for name, email in called], most=most)
    return [(p.first, p.second, p.why) for p in pairs], total


def test_the_address_speaks_before_the_name():
    found, total = told(
        ("tern bakers", "ovens@tern.example"),
        ("tern baker", "OVENS@tern.example"),
        ("tern baker", ""),
        ("fell farm", ""),
        ("fell farm shop", "wool@fell.example"),
        ("harbour vets", ""),
    )
    assert found == [
        (0, 1, "the same e-mail"),
        (0, 2, "names nearly alike"),
        (1, 2, "one name begins with the other"),
        (3, 4, "one name begins with the other"),
    ]
    assert total == 4


def test_names_are_as_alike_as_their_longest_common_letters():
    """The other method: difflib, whose likeness is never above it."""
    chance = random.Random(3)
    names = ["".join(chance.choices("abc ", k=9)).strip() or "a" for _ in range(60)]
    found = {(i, j) for i, j, _ in told(*((name, "") for name in names), most=9999)[0]}
    for i, one in enumerate(names):
        for j in range(i + 1, len(names)):
            if difflib.SequenceMatcher(None, one, names[j]).ratio() >= ALIKE:
                assert (i, j) in found
    assert len(found) < 60 * 59 / 2


def test_thousands_alike_are_counted_and_the_first_are_listed():
    names = [(f"brackwater rowing club {n:04d}", "") for n in range(600)]
    found, total = told(*names, most=200)
    assert (len(found), total) == (200, 600 * 599 / 2)
    same = [(f"{n:x}" * 9, "all@one.example") for n in range(300)]
    assert told(*same, most=1)[1] == 300 * 299 / 2
    assert told() == ([], 0)
