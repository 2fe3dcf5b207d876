"""A hundred damaged files (many more under `make soak`): told, or read; never a crash."""

import os
import random

import pytest

from clothyard.core.errors import BadInput
from clothyard.files.guarded import read_design

SOAK = bool(os.environ.get("CLOTHYARD_SOAK"))
EACH = 500 if SOAK else 13


def damaged(data: bytes, how: random.Random) -> bytes:
    data = bytearray(data)
    kind = how.randrange(5)
    if kind == 0:  # cut off
        return bytes(data[: how.randrange(len(data))])
    if kind == 1:  # a hole
        start = how.randrange(len(data))
        return bytes(data[:start] + data[start + how.randrange(1, 200) :])
    if kind == 2:  # bytes changed
        for _ in range(how.randrange(1, 40)):
            data[how.randrange(len(data))] = how.randrange(256)
        return bytes(data)
    if kind == 3:  # the head changed
        for _ in range(how.randrange(1, 20)):
            data[how.randrange(min(len(data), 600))] = how.randrange(256)
        return bytes(data)
    return bytes(how.randrange(256) for _ in range(how.randrange(1, 4000)))  # noise


@pytest.mark.parametrize("kind", ["dst", "pes", "exp", "jef", "vp3", "xxx", "u01", "tbf"])
def test_damaged_files(kind, crest_files):
    how = random.Random(kind)
    told = 0
    for _ in range(EACH):
        data = damaged(crest_files[kind], how)
        try:
            plan, facts = read_design(data, f"a.{kind}", sha256="0" * 64)
        except BadInput as error:
            told += 1
            assert error.remedy
            assert error.where == f"a.{kind}"
        else:
            assert 2 <= facts.stitches == len(plan.points_mm) <= 500_000
            assert 0 < max(facts.width_mm, facts.height_mm) <= 3000
    assert told >= EACH / 10
