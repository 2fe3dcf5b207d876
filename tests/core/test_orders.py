"""Whole orders worked by hand from the rules, the arithmetic written out; and their properties."""

import copy
import itertools
import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from clothyard.core.estimate.document import Estimate
from clothyard.core.house.check import default_house
from clothyard.core.job.check import job_from
from clothyard.core.stitches.letters import length_of, letter
from tests.conftest import polos as worked
from tests.conftest import price

S = 1 / 3  # how far a loop is drawn in, balanced tension
MIXED = (2.8 * (1 + 2 * S * 0.45), 2.8 * (1 - 2 * S * 0.45))  # 3.64 needle, 1.96 bobbin


def practised(n):
    return sum(max(0.6, k ** math.log2(0.93)) for k in range(1, n + 1)) / n


def count(stitches, width, height, *, colours=1, trims=0):
    return {
        "stitches": stitches,
        "kind": "mixed",
        "colours": colours,
        "trims": trims,
        "width_mm": width,
        "height_mm": height,
    }


def order(*lines, **job):
    return {"format": "clothyard-job/1", "lines": list(lines), **job}


def money(amount):
    return f"{math.floor(round(amount * 100, 6) + 0.5) / 100:.2f}"


def check_money(
    line,
    *,
    goods=0.0,
    materials,
    machine_s,
    attend_s,
    hand_s,
    once_s,
    spoil,
    sample_machine_s=0.0,
    sample_hand_s=0.0,
    sample_materials=0.0,
):
    """Every cost and the price, from seconds and materials worked by hand: of all pieces, and of
    what is done once; labour 16, machine 2.50, overhead 5 an hour, packing 0.20, margin 35 %."""
    q, cost = line.quantity, line.cost
    labour, machine = (hand_s + attend_s) / 3600 * 16, machine_s / 3600 * 2.5
    set_up_s = once_s + sample_hand_s
    set_up = set_up_s / 3600 * 16 + sample_machine_s / 3600 * 2.5 + sample_materials
    overhead = (hand_s + attend_s + set_up_s) / 3600 * 5
    made = goods + sum(materials.values()) + machine + labour
    spoilage = spoil / (1 - spoil) * made + q * spoil * 600 / 3600 * 16
    expected = materials | {
        "goods": goods,
        "machine": machine,
        "labour": labour,
        "set_up": set_up,
        "overhead": overhead,
        "packing": 0.20 * q,
        "spoilage": spoilage,
    }
    shown = {name: float(amount) for name, amount in cost.model_dump().items()}
    whole = shown.pop("total")
    for name, amount in shown.items():
        assert amount == pytest.approx(expected.get(name, 0.0), abs=0.0051), name
    assert whole == pytest.approx(sum(shown.values()), abs=1e-6)
    unit = sum(expected.values()) / q / 0.65
    assert float(line.price.cross_checks.margin) == pytest.approx(unit, abs=0.0051)
    tier = next((t for t in line.tiers if t.quantity == q), None)
    if tier:
        assert float(tier.unit_cost) == pytest.approx(sum(expected.values()) / q, abs=1e-4)


# 60 two-place fleeces over two garment colours ----------------------------------------------

FLEECES = {
    "goods": {"class": "fleece", "unit_cost": "11.20"},
    "quantity": 60,
    "cells": [
        {"size": "M", "colour": "navy", "quantity": 36},
        {"size": "XL", "colour": "grey", "quantity": 24, "unit_cost": "10.80"},
    ],
    "digitising": "none",
    "placements": [
        {"position": "left-chest", "design": count(6000, 80, 60, colours=2, trims=6)},
        {"position": "full-back", "design": count(15000, 240, 120, colours=3, trims=12)},
    ],
}


def tear(width, height):
    """Tear a layer of backing away from a box. [mm -> s]"""
    return 6 + 2 * (width + height) / 40


def trim(width, height):
    """Trim cut-away round a box. [mm -> s]"""
    return 10 + 2 * (width + height) / 15


def film(width, height, pile=1):
    """Pull film off a box; out of deep pile it is picked. [mm -> s]"""
    return 8 + width * height / 100 / (2 if pile == 2 else 4)


def test_sixty_fleeces_at_two_places():
    line = price(order(FLEECES)).lines[0]
    piece, t = line.per_piece, 1.0 + 0.35 + 0.04

    # thread: chest and back, each with its wraps, trims and colour tails
    needle = 6 * (MIXED[0] + 2 * t) + 1.5 + 6 * 0.04 + 2 * 0.06
    needle += 15 * (MIXED[0] + 2 * t) + 3.75 + 12 * 0.04 + 3 * 0.06
    chest = (6 * MIXED[1] + 1.5 + 6 * 0.015 + 2 * 0.015) * 1.2  # 16.056
    back = (15 * MIXED[1] + 3.75 + 12 * 0.015 + 3 * 0.015) * 1.2  # 40.05
    assert piece.stitches == 21_000
    assert piece.needle_m == pytest.approx(needle, abs=6e-4)  # 141.090
    assert piece.bobbin_m == pytest.approx(chest + back, abs=6e-4)  # 56.106

    # 93.5 m are counted on: 5 chests a bobbin, so 12; 2 backs a bobbin, so 30
    assert (line.bobbins.count, line.bobbins.pieces_per_bobbin) == (42, 2)

    # hoops: 80 x 60 in the 100x100; 240 x 120 only turned in the 160x260
    assert [p.hooping.total for p in line.places] == [60, 60]
    assert [m.value for m in line.methods if m.key == "hoop"] == ["100x100", "160x260"]
    assert [(p.hoop_way, p.hoops[0].left_mm) for p in line.places] == [(180, 20), (90, 20)]
    # cuts: 180 x 180, 30 rows; 240 x 340 as it stands 2 across, 30 rows of 340;
    # topping 130 x 110 turned 4 across, 15 rows of 130; 290 x 170 turned 2 across, 30 of 290
    assert [(c.what, c.across, c.length_mm) for c in line.cuts] == [
        ("backing", 2, 5400),
        ("topping", 4, 1950),
        ("backing", 2, 10200),
        ("topping", 2, 8700),
    ]

    p = practised(60)
    machine = 25 + 6000 * 60 / 800 + 8 + 36 + 13.5 + 40 * 11 / 60
    machine += 25 + 15000 * 60 / 800 + 16 + 72 + 33.75 + 40 * 29 / 60
    attend = 70 * p + 0.15 * (450 + 1125) + 13.5 + 33.75 + 40 * 40 / 60
    off = trim(80, 60) + film(80, 60) + trim(240, 120) + film(240, 120)
    hand = 55 + 2 * 8 + off + 2 * 90 * p
    assert piece.machine_min == pytest.approx(machine / 60, abs=0.006)
    assert piece.attend_min == pytest.approx(attend / 60, abs=0.006)
    assert piece.hand_min == pytest.approx(hand / 60, abs=0.006)

    goods = 36 * 11.20 + 24 * 10.80
    # by the metre; every end is over 15 m and goes to the shelf
    bobbins = 60 * (chest + back) * 0.25 / 110
    materials = 60 * needle * 6.5 / 5000 + bobbins + 15.6 * 0.40 + 10.65 * 0.30
    work = 60 * (hand + attend) / 3600
    # once an order: marking 180, two files 360, five colours 375, customer 1200
    sample_s = 55 + 16 + off + 180 + 70 + 0.15 * 1575 + 47.25
    set_up_s = 180 + 360 + 375 + 1200 + sample_s
    sample = (25 + 450 + 8 + 36 + 13.5 + 25 + 1125 + 16 + 72 + 33.75) / 3600 * 2.5
    sample += needle * 6.5 / 5000 + (chest + back) * 0.25 / 110
    sample += (180 + 240) * 0.0004 + (110 + 170) * 0.0003  # each the shorter way round
    spoil = 1 - 0.985 * 0.99
    made = goods + materials + 60 * machine / 3600 * 2.5 + work * 16
    cost = line.cost
    assert cost.goods == money(goods)  # 662.40
    assert cost.bobbin_thread == money(bobbins)  # 7.65
    assert cost.backing == money(15.6 * 0.40)  # 15.6 m at 0.40
    assert cost.topping == money(10.65 * 0.30)
    assert cost.machine == money(60 * machine / 3600 * 2.5)
    assert cost.labour == money(work * 16)
    assert cost.set_up == money(set_up_s / 3600 * 16 + sample)
    assert cost.overhead == money((work + set_up_s / 3600) * 5)
    repairs = 60 * spoil * 600 / 3600 * 16
    assert cost.spoilage == money(spoil / (1 - spoil) * made + repairs)


def test_fleeces_are_marked_by_size_and_place():
    chest, back = price(order(FLEECES)).lines[0].places
    assert [(m.sizes, m.from_reference_mm, m.side_mm) for m in chest.marks] == [
        ("M to L", 200, 100),
        ("XL and up", 215, 110),
    ]
    assert chest.marks[0].words == (
        "Centre mark 200 mm below the point where shoulder seam meets collar, 100 mm from the "
        "centre front, on the wearer's left."
    )
    [mark] = back.marks  # 100 mm to the design's top, half of 120 more to its middle
    assert (mark.from_reference_mm, mark.x_mm, mark.y_mm) == (160, 0, 160)
    assert back.nearest_rim.model_dump() == {"sides": "top and bottom", "left_mm": 15}
    assert chest.corners_mm[0] == [-40, -30]


# 12 felt pennants seen both sides, matching bobbins -----------------------------------------

PENNANTS = {
    "goods": {"class": "felt", "unit_cost": "1.10"},
    "quantity": 12,
    "digitising": "none",
    "placements": [
        {"design": count(4000, 100, 80, colours=2, trims=4), "methods": {"bobbin": "match"}}
    ],
}


def test_twelve_pennants_with_matching_bobbins():
    line = price(order(PENNANTS)).lines[0]
    piece, t = line.per_piece, 1.2 + 0.2
    baste = 66  # 2 (108 + 88) / 6 = 65.3
    assert piece.stitches == 4000 + baste
    needle = 4 * (MIXED[0] + 2 * t) + baste * (6 + 2 * t) / 1000
    needle += 4.066 * 0.25 + 4 * 0.04 + 2 * 0.06
    first = (2 * MIXED[1] + baste * 0.006 + 2.066 * 0.25 + 0.03 + 0.015) * 1.2  # 5.853
    second = (2 * MIXED[1] + 2 * 0.25 + 0.03 + 0.015) * 1.2  # 5.358
    assert piece.needle_m == pytest.approx(needle, abs=6e-4)
    assert piece.bobbin_m == pytest.approx(first + second, abs=6e-4)

    # L holds 110 x 16 / 27 = 65.185 m of 40 weight: 55.4 m counted on, 9 and 10 pieces
    assert [(c.colour, c.pieces_per_bobbin, c.count) for c in line.bobbins.by_colour] == [
        ("colour 1", 9, 2),
        ("colour 2", 10, 2),
    ]
    assert line.bobbins.capacity_m == pytest.approx(65.185)
    assert line.cost.bobbin_thread == money(12 * (first + second) * 6.5 / 5000)

    # bobbins change with every colour: 12 inside a piece of 90 s, 11 between pieces of 40 s; four
    # are wound, 75 s each
    swaps = 12 * 90 + 11 * 40
    p = practised(12)
    sew, begun = 4000 * 60 / 750, 15
    based = begun + baste * 60 / 400  # slowly, with nobody by
    machine = 25 + sew + based + 8 + 24 + 4.066 * 0.03 * 75 + swaps / 12
    hand = 55 + 8 + 20 + tear(100, 80) + 10 + 105 * p + 4 * 75 / 12
    assert piece.machine_min == pytest.approx(machine / 60, abs=0.006)
    assert piece.hand_min == pytest.approx(hand / 60, abs=0.006)
    assert line.cost.consumables == money(12 * 0.04)
    attend = 35 * p + 0.3 * sew + begun + 4.066 * 2.25 + swaps / 12
    # the sample: one stop to change the bobbin, the run's bobbins, its own cut of 207
    one = 25 + sew + based + 8 + 24 + 4.066 * 2.25 + 90
    check_money(
        line,
        goods=13.20,
        materials={
            "needle_thread": 12 * needle * 0.0013,
            "bobbin_thread": 12 * (first + second) * 0.0013,
            "backing": 6 * 207 * 0.00028,  # 207 x 207, two across, six rows
            "consumables": 0.48,
        },
        machine_s=12 * machine,
        attend_s=12 * attend,
        hand_s=12 * hand,
        once_s=180 + 180 + 2 * 75 + 1200,
        spoil=0.02,
        sample_machine_s=one,
        sample_hand_s=35
        + 0.3 * sew
        + begun
        + 4.066 * 2.25
        + 90
        + 55
        + 8
        + 20
        + tear(100, 80)
        + 10
        + 105,
        sample_materials=(needle + first + second) * 0.0013 + 207 * 0.00028 + 0.04,
    )
    methods = {m.key: m for m in line.methods}
    assert methods["hoop"].value == "magnetic-125"  # 108 + 10 is over the 100x100, 108 + 24 fits
    other = {o.value: o for o in methods["bobbin"].others}["white"]
    plain = copy.deepcopy(PENNANTS)
    plain["placements"][0]["methods"]["bobbin"] = "white"
    saved = float(price(order(plain)).total.cost) - float(price(order(PENNANTS)).total.cost)
    assert float(other.cost_difference) == pytest.approx(saved, abs=0.05)
    assert saved < -5  # what matching costs against one colour

    [one, two] = price(order(PENNANTS)).threads  # wound on bobbins too: on the list to buy
    assert one.bobbin_m == pytest.approx(12 * first, abs=2e-3)
    assert two.bobbin_m == pytest.approx(12 * second, abs=2e-3)
    assert (one.put_ups[0].id, one.put_ups[0].count) == ("king-1000", 1)


# a pair of 1.4 m curtain tie-backs of repeated motifs ---------------------------------------

TIE_BACKS = {
    "goods": {"class": "belt", "unit_cost": "3.00"},
    "quantity": 2,
    "digitising": "none",
    "placements": [
        {"design": count(1800, 90, 30, trims=1), "band": {"length_mm": 1400, "gap_mm": 10}}
    ],
}


def test_a_pair_of_tie_backs_with_repeated_motifs():
    line = price(order(TIE_BACKS)).lines[0]
    piece, t = line.per_piece, 0.8 + 0.2
    hooping = line.places[0].hooping
    # 14 motifs, gap 140 / 13; 300 less 2 x 4 of basting holds 3 of them: 5 hoopings each
    assert (hooping.copies, hooping.per_piece, hooping.total) == (14, 5, 10)
    assert (hooping.gap_mm, hooping.columns) == (10.77, 3)
    assert {m.key: m.value for m in line.methods}["hoop"] == "200x300"

    baste = 113  # round 291.5 x 30, 4 mm out: 2 (299.5 + 38) / 6 = 112.5
    stitches = 14 * 1800 + 5 * baste
    trims = 14 * 1 + (14 - 5)  # and one between two motifs of a hooping
    needle = 14 * 1.8 * (MIXED[0] + 2 * t) + stitches * 0.25 / 1000
    needle += trims * 0.04 + 5 * 0.06 + 5 * baste * (6 + 2 * t) / 1000
    bobbin = 14 * 1.8 * MIXED[1] + stitches * 0.25 / 1000
    bobbin = (bobbin + trims * 0.015 + 5 * 0.015 + 5 * baste * 0.006) * 1.2
    assert piece.stitches == stitches
    assert piece.needle_m == pytest.approx(needle, abs=6e-4)
    assert piece.bobbin_m == pytest.approx(bobbin, abs=6e-4)  # 71.6: one a bobbin
    assert (line.bobbins.count, line.bobbins.pieces_per_bobbin) == (2, 1)

    p = practised(10)  # the tenth hooping is quicker than the first
    sew = 14 * 1800 * 60 / 700
    machine = 5 * 25 + sew + trims * 6 + stitches / 1000 * 0.03 * 75 + 40 / 2
    machine += 5 * (15 + baste * 60 / 400)
    machine += 4 * 30  # each hooping after the first is lined up on a joint
    hand = 55 + 5 * (105 * p + 8 + 20 + tear(291.54, 30) + 10)
    assert piece.machine_min == pytest.approx(machine / 60, abs=0.006)
    assert piece.hand_min == pytest.approx(hand / 60, abs=0.006)
    [backing] = line.cuts
    # 240 x 340 and 20 all round; turned it takes 280 of the roll, not 380
    assert (backing.count, backing.piece_mm, backing.length_mm) == (10, [380, 280], 2800)
    assert line.cost.consumables == money(10 * 0.04)
    check_money(
        line,
        goods=6.0,
        materials={
            "needle_thread": 2 * needle * 0.0013,
            "bobbin_thread": 2 * bobbin * 0.25 / 110,
            "backing": 2800 * 0.00028,
            "consumables": 0.40,
        },
        machine_s=2 * machine,
        attend_s=2 * (5 * (35 * p + 15) + 0.3 * sew + stitches / 1000 * 2.25 + 4 * 120 + 40 / 2),
        hand_s=2 * hand,
        once_s=180 + 180 + 75 + 1200,
        spoil=1 - 0.97 * 0.99**4,  # five hoopings a piece
    )


# 30 luggage labels made in the hoop, four to a hooping ---------------------------------------

LABELS = {
    "goods": {"class": "in-the-hoop", "unit_cost": "0"},
    "quantity": 30,
    "digitising": "none",
    "hardware": [{"item": "eyelet"}, {"item": "lace", "length_mm": 300}],
    "placements": [
        {
            "design": count(1500, 50, 90, colours=3, trims=2),
            "methods": {"bobbin": "white"},
            "together": {"columns": 2, "rows": 2, "spacing_mm": 10},
            "steps": [
                {
                    "do": "lay",
                    "after_block": 0,
                    "sheet": "felt-sheet",
                    "width_mm": 120,
                    "height_mm": 200,
                    "per": "hooping",
                },
                {"do": "trim", "after_block": 1, "outline_mm": 280},
                {"do": "turn", "after_block": 2},
                {"do": "insert", "after_block": 2, "hardware": "ring"},
            ],
        }
    ],
}


def test_thirty_labels_four_to_a_hooping():
    line = price(order(LABELS)).lines[0]
    piece, t = line.per_piece, 1.2 + 0.2
    hooping = line.places[0].hooping
    # 2 x 50 + 10 by 2 x 90 + 10: the 160x260; eight hoopings, the last with two labels
    assert (hooping.pieces, hooping.total, hooping.sewn_mm) == (4, 8, [110, 190])
    assert {m.key: m.value for m in line.methods}["hoop"] == "160x260"

    between = 3 * (30 - 8)  # a trim between two labels of a hooping, in each colour
    needle = 30 * (1.5 * (MIXED[0] + 2 * t) + 1.5 * 0.25 + 2 * 0.04) + between * 0.04
    needle += 8 * 3 * 0.06
    assert piece.needle_m == pytest.approx(needle / 30, abs=6e-4)

    steps = 8 * 20 + 30 * 280 * 0.35 + 8 * 30 + 30 * 10
    sew = 30 * 1500 * 60 / 700
    machine = 8 * 25 + sew + 8 * 2 * 8 + (60 + between) * 6 + 45 * 0.03 * 75 + steps
    bobbin_m = (30 * (1.5 * MIXED[1] + 0.375 + 0.03) + between * 0.015 + 8 * 3 * 0.015) * 1.2
    loads = math.floor(93.5 / (bobbin_m / 8))  # bobbins change between hoopings
    changes = math.ceil(8 / loads) - 1
    assert line.bobbins.pieces_per_bobbin == 4 * loads
    assert piece.machine_min == pytest.approx((machine + 40 * changes) / 30 / 60, abs=0.006)
    p = practised(8)
    # check 15, pack 20, eyelet 10, lace 60; hooped 60, backing 8, a patch 40; no marking
    hand = 35 + 10 + 60 + tear(50, 90) + 8 / 30 * (60 * p + 8 + 40)
    assert piece.hand_min == pytest.approx(hand / 60, abs=0.006)

    # felt 120 x 200: two from a sheet of 300 x 200, so four sheets; parts by the piece
    sheet = next(c for c in line.cuts if c.what == "sheet")
    assert (sheet.count, sheet.across, sheet.to_open, sheet.cost) == (8, 2, 4, "2.40")
    assert line.cost.sheet_goods == money(2.40 + 30 * (0.08 + 0.3 * 0.40 + 0.15))
    one_sew = 1500 * 60 / 700
    one_needle = 1.5 * (MIXED[0] + 2 * t) + 0.375 + 0.08 + 0.18
    one_bobbin = (1.5 * MIXED[1] + 0.375 + 0.03 + 0.045) * 1.2
    one_steps = 20 + 98 + 30 + 10
    check_money(
        line,
        materials={
            "needle_thread": needle * 0.0013,
            "bobbin_thread": bobbin_m * 0.25 / 110,
            "backing": 4 * 340 * 0.00028,  # 240 x 340, two across
            "sheet_goods": 2.40 + 30 * 0.35,
        },
        machine_s=machine + 40 * changes,
        attend_s=8 * 35 * p + 0.6 * sew + 45 * 2.25 + steps + 40 * changes,
        hand_s=30 * hand,
        once_s=180 + 180 + 3 * 75 + 1200,
        spoil=0.02,
        sample_machine_s=25 + one_sew + 16 + 12 + 1.5 * 2.25 + one_steps,
        sample_hand_s=35
        + 0.6 * one_sew
        + 1.5 * 2.25
        + one_steps
        + 105
        + tear(50, 90)
        + 60
        + 8
        + 40,
        sample_materials=one_needle * 0.0013
        + one_bobbin * 0.25 / 110
        + 240 * 0.00028
        + 0.60
        + 0.35,
    )
    kinds = {m.item: (m.kind, m.quantity, m.unit) for m in line.materials}
    assert kinds["eyelet"] == ("hardware", 30, "each")
    assert kinds["lace"] == ("hardware", 9, "m")
    assert kinds["felt-sheet"] == ("sheet", 8, "each")
    rows = [m for m in line.materials if m.kind in {"sheet", "hardware"}]
    assert money(sum(float(m.cost) for m in rows)) == line.cost.sheet_goods


# one scarf with one name ---------------------------------------------------------------------

SCARF = {
    "goods": {"class": "scarf", "unit_cost": "4.00"},
    "quantity": 1,
    "names": ["Ada"],
    "placements": [
        {
            "design": {"text": "{name}", "height_mm": 12, "face": "plain"},
            "methods": {"bobbin": "white"},
        }
    ],
}


def test_one_scarf_with_one_name():
    line = price(order(SCARF), working=True).lines[0]
    seconds = {entry.id: float(entry.value) for entry in line.working if entry.unit == "s"}
    # strokes of A, d and a: five crossings and 0.4 of underlay a millimetre, and three runs
    strokes = (
        12
        / 21
        * sum(
            length_of(walk.points)
            for char in "Ada"
            for part in letter(char).parts
            for walk in part
            if walk.satin
        )
    )
    lettered = strokes * (2 / 0.40 + 1 / 2.5) + 3 * 6
    [design] = line.designs
    assert design.trims == 2
    baste = line.per_piece.stitches - design.blocks[0].stitches
    assert baste == math.ceil(2 * (design.width_mm + 8 + design.height_mm + 8) / 6 - 1e-6)
    assert design.blocks[0].stitches == pytest.approx(lettered, rel=0.03)
    assert 12 <= design.height_mm <= 12 + 1.68 + 0.2  # the strokes reach half a column beyond
    assert line.price.unit == line.price.line
    assert line.pieces == [line.per_piece]
    # marking 180, file 180, colour 75, customer 1200, and the name 20
    labour = (180 + 180 + 75 + 1200 + 20) / 3600 * 16
    assert line.cost.set_up == money(labour)
    assert price(order(SCARF)).total.charges == []  # our own lettering is not digitised
    # floated on two layers that rinse out: pressed; film pulled; basting taken out
    off = film(design.width_mm, design.height_mm)
    hand = 55 + 30 + 2 * 8 + 75 + 20 + 20 + 40 + off + 30 + 10
    assert line.per_piece.hand_min == pytest.approx(hand / 60, abs=0.006)
    film_mm = min(design.width_mm, design.height_mm) + 8 + 50
    check_money(
        line,
        goods=4.0,
        materials={
            "needle_thread": line.per_piece.needle_m * 0.0013,
            "bobbin_thread": line.per_piece.bobbin_m * 0.25 / 110,
            "backing": 120 * 0.0009,
            "topping": film_mm * 0.0003,
            "consumables": 0.04,
        },
        machine_s=seconds["placements[0].machine_time"],
        attend_s=seconds["placements[0].attend_time"],
        hand_s=hand,
        once_s=180 + 180 + 75 + 1200 + 20,
        spoil=1 - 0.98 * 0.995,
    )
    # the stitch rate asks its least, and 3.50 for a name of up to ten letters
    checks = 4.50 + 4.00 * 1.4 + 3.50 + float(line.cost.set_up)
    assert float(line.price.cross_checks.stitch_rate) == pytest.approx(checks, abs=0.011)


def test_a_cap_order_on_the_cap_frame():
    """18 structured caps: 600 s to mount the driver, a form for each, threads break more often."""
    caps = {
        "goods": {"class": "structured-cap", "unit_cost": "3.90"},
        "quantity": 18,
        "digitising": "none",
        "placements": [{"design": count(5000, 100, 45, colours=2, trims=5)}],
    }
    line = price(order(caps)).lines[0]
    assert {m.key: m.value for m in line.methods}["hoop"] == "cap-130x60"
    t = 1.3 + 0.4
    needle = 5 * (MIXED[0] + 2 * t) + 1.25 + 5 * 0.04 + 2 * 0.06
    bobbin = (5 * MIXED[1] + 1.25 + 5 * 0.015 + 2 * 0.015) * 1.2  # 13.386: six a bobbin
    assert (line.bobbins.count, line.bobbins.pieces_per_bobbin) == (3, 6)
    p, sew, breaks = practised(18), 5000 * 60 / 650, 5 * 0.03 * 1.5 * 75
    machine = 25 + sew + 8 + 30 + breaks
    attend = 0.5 * sew + breaks
    hand = 55 + 8 + 30 + tear(100, 45)  # form, tear-away
    check_money(
        line,
        goods=18 * 3.90,
        materials={
            "needle_thread": 18 * needle * 0.0013,
            "bobbin_thread": 18 * bobbin * 0.25 / 110,
            "backing": 18 * 320 * 0.00022,
        },
        machine_s=18 * machine + 80,
        attend_s=18 * (35 * p + attend) + 80,
        hand_s=18 * (hand + 100 * p),  # marked with tape
        once_s=180 + 180 + 150 + 1200 + 600,
        spoil=0.03,
        sample_machine_s=machine,
        sample_hand_s=35 + attend + hand + 100,
        sample_materials=needle * 0.0013 + bobbin * 0.25 / 110 + 320 * 0.00022,
    )


# names ---------------------------------------------------------------------------------------


def scarves(names, quantity=None, **line):
    wanted = copy.deepcopy(SCARF) | {"names": names, "quantity": quantity or len(names)}
    return price(order(wanted | line)).lines[0]


def test_names_are_priced_one_by_one():
    names = ["Ada", "Bartholomew", "Zoë", "Maximilian Featherstone"]
    line = scarves(names)
    assert len(line.pieces) == 4
    for field in ("needle_m", "bobbin_m", "machine_min", "attend_min", "hand_min"):
        mean = sum(getattr(p, field) for p in line.pieces) / 4
        assert mean == pytest.approx(getattr(line.per_piece, field), abs=0.006)
    alone = [scarves([name]) for name in names]
    for piece, one in zip(line.pieces, alone, strict=True):
        assert piece.stitches == one.per_piece.stitches
        assert piece.needle_m == pytest.approx(one.per_piece.needle_m, abs=0.002)
    # three changes of name of 30 s between four scarves; each name 20 s of set-up
    sewn = sum(one.per_piece.machine_min for one in alone) / 4
    assert line.per_piece.machine_min == pytest.approx(sewn + 3 * 30 / 4 / 60, abs=0.02)


def test_missing_names_are_the_mean_and_blanks_are_not_sewn():
    given = scarves(["Ada", "Bartholomew"])
    more = scarves(["Ada", "Bartholomew"], quantity=4)
    assert more.per_piece.needle_m == given.per_piece.needle_m
    assert [a.code for a in more.advice if a.code == "names-missing"] == ["names-missing"]
    blank = scarves(["Ada", "", "Bartholomew", ""])
    assert [p.stitches > 0 for p in blank.pieces] == [True, False, True, False]
    assert blank.per_piece.needle_m == pytest.approx(given.per_piece.needle_m / 2, abs=0.001)
    assert blank.places[0].hooping.total == 2
    assert blank.cost.goods == "16.00"


def test_no_names_yet_are_eight_letters_of_mean_width():
    line = scarves([], quantity=6)
    assert line.pieces == []
    assert line.designs[0].band == 0.25
    letters = "abcdefghijklmnopqrstuvwxyz"
    mean = sum(letter(char).advance for char in letters) / 26 * 12 / 21
    assert line.designs[0].width_mm == pytest.approx(8 * mean, rel=0.08)


@pytest.mark.parametrize("capacity", [3.5, 4.0, 4.5, 5.0, 6.0, 7.5])
def test_bobbins_fill_up_name_by_name(capacity):
    """0.85 of a bobbin is counted on; names fill it in the order they are sewn."""
    names = ["Bartholomew", "Ada", "Bartholomew", "Ada", "Zoë", "Bartholomew"]
    small = {"bobbins": {"l-prewound": {"capacity_m": capacity}}}
    wanted = copy.deepcopy(SCARF) | {"names": names, "quantity": 6}
    wanted["placements"][0]["methods"] = {"bobbin": "white", "bobbin_policy": "between-pieces"}
    line = price(order(wanted, house=small)).lines[0]
    held, filled = 0.0, [0]
    for piece in line.pieces:
        if filled[-1] and held + piece.bobbin_m > 0.85 * capacity:
            filled.append(0)
            held = 0.0
        held += piece.bobbin_m
        filled[-1] += 1
    assert len(filled) > 1
    assert line.bobbins.count == len(filled)
    assert line.bobbins.pieces_per_bobbin == min(filled[:-1])


@pytest.mark.parametrize(
    ("names", "says"),
    [
        (["Ada", "ada"], "differ only in case"),
        (["Ada", "Ada"], "comes 2 times"),
        (["Ada  B"], "doubled space"),
        (["Ada 😀"], "lettering lacks"),
    ],
)
def test_odd_names_are_told(names, says):
    told = next(a.message for a in scarves(names).advice if a.code == "name-odd")
    assert says in told


def test_a_name_too_long_for_its_place():
    wide = copy.deepcopy(SCARF) | {"names": ["Maximilian Featherstone"]}
    wide["placements"][0]["position"] = "left-chest"
    line = price(order(wide)).lines[0]
    [told] = [a for a in line.advice if a.code == "name-long"]
    share = 110 / line.designs[0].width_mm
    assert f"shrink it to {share:.0%}, letters {12 * share:.1f} mm" in told.message


# several lines -------------------------------------------------------------------------------


def test_what_is_done_once_is_shared_by_cost():
    """Two lines with one crest: one file, three colours, one customer, one marking."""
    crest = count(8200, 85, 60, colours=3, trims=9)
    polos = {
        "goods": {"class": "pique-polo", "unit_cost": "6.40"},
        "quantity": 24,
        "digitising": "own",
        "sample": {"pieces": 0},
        "placements": [{"design": crest}],
    }
    sweats = copy.deepcopy(polos) | {"goods": {"class": "sweatshirt", "unit_cost": "9.80"}}
    found = price(order(polos, sweats))
    set_up = sum(float(line.cost.set_up) for line in found.lines)
    assert set_up == pytest.approx((180 + 180 + 225 + 1200) / 3600 * 16, abs=0.011)
    # overhead: (labour + set-up hours) x 5, labour at 16, so labour and set-up x 5 / 16
    without = [float(line.cost.total) - float(line.cost.set_up) * 21 / 16 for line in found.lines]
    shares = [float(line.cost.set_up) / set_up for line in found.lines]
    assert shares[0] == pytest.approx(without[0] / sum(without), abs=0.002)
    # digitised once, though it is on two lines
    assert [c.name for c in found.total.charges] == ["Digitising"]
    cost = (1200 + 240 * 8.2) / 3600 * 21
    assert found.total.charges[0].amount == money(cost / 0.65)
    [only] = {line.price.method for line in found.lines}
    assert only == "margin"


def test_thread_by_colour_over_the_order():
    """Navy on both lines is one thread: bought in put-ups that hold all of it."""
    design = count(8200, 85, 60, colours=2) | {"thread_colours": ["#123456", "#abcdef"]}
    other = count(3000, 50, 50) | {"thread_colours": ["#123456"]}
    line = {
        "goods": {"class": "pique-polo", "unit_cost": "6.40"},
        "quantity": 24,
        "digitising": "none",
        "placements": [{"design": design}],
    }
    towels = {
        "goods": {"class": "terry-towel", "unit_cost": "5.00"},
        "quantity": 10,
        "digitising": "none",
        "placements": [{"design": other}],
    }
    found = price(order(line, towels))
    rows = {row.colour: row for row in found.threads}
    assert sorted(rows) == ["#123456", "#abcdef"]
    navy = found.lines[0].designs[0].blocks[0].needle_m * 24
    navy += found.lines[1].designs[0].blocks[0].needle_m * 10
    assert rows["#123456"].needle_m == pytest.approx(navy, abs=0.05)
    total = sum(line.per_piece.needle_m * line.quantity for line in found.lines)
    assert sum(row.needle_m for row in found.threads) == pytest.approx(total, abs=0.05)
    # what is needed holds a sample of each line and the spares: 2 polos, 1 towel
    spares = [line.spares for line in found.lines]
    needed = found.lines[0].designs[0].blocks[0].needle_m * (24 + 1 + spares[0])
    needed += found.lines[1].designs[0].blocks[0].needle_m * (10 + 1 + spares[1])
    assert rows["#123456"].needed_m == pytest.approx(needed, abs=0.05)
    assert rows["#123456"].grams == pytest.approx(needed * 27 / 1000, abs=0.02)
    polo = found.lines[0].cuts[0]
    assert polo.list_count == 24 + 1 + spares[0]
    used = navy * 6.5 / 5000
    assert rows["#123456"].used_cost == money(used)
    bought = price(order(line, towels, house={"thread_use": {"charge": "bought"}}))
    beyond = sum(float(r.bought_cost) - float(r.used_cost) for r in found.threads)
    more = sum(
        float(b.cost.set_up) - float(u.cost.set_up)
        for b, u in zip(bought.lines, found.lines, strict=True)
    )
    assert more == pytest.approx(beyond, abs=0.03)


LINES = [FLEECES, PENNANTS, TIE_BACKS, LABELS, SCARF]


@settings(max_examples=12)
@given(st.permutations(range(len(LINES))))
def test_the_order_of_lines_never_matters(ranks):
    base = whole(tuple(range(len(LINES))))
    turned = whole(tuple(ranks))
    for at, rank in enumerate(ranks):
        a, b = base.lines[rank], turned.lines[at]
        assert (a.cost, a.price, a.tiers, a.per_piece) == (b.cost, b.price, b.tiers, b.per_piece)
    assert turned.total == base.total
    assert turned.threads == base.threads
    assert turned.run == base.run


def whole(ranks: tuple[int, ...]) -> Estimate:
    return price(order(*(LINES[rank] for rank in ranks)), compare=False)


@given(
    n=st.integers(1, 80),
    stitches=st.integers(50, 60_000),
    colours=st.integers(1, 4),
    policy=st.sampled_from(["between-pieces", "run-out"]),
    match=st.booleans(),
)
def test_bobbins_hold_just_the_thread_that_is_used(n, stitches, colours, policy, match):
    line = copy.deepcopy(PENNANTS) | {"quantity": n}
    line["placements"][0] |= {
        "design": count(stitches, 90, 60, colours=colours),
        "methods": {"bobbin": "match" if match else "white", "bobbin_policy": policy},
    }
    found = price(order(line), compare=False)
    [one] = found.lines
    used = one.per_piece.bobbin_m * n
    full = sum(c.count * c.capacity_m for c in one.bobbins.by_colour)
    assert full >= used - 0.001 * n * colours
    rows = [m.quantity for m in one.materials if m.kind == "bobbin-thread"]
    assert sum(rows) == pytest.approx(used, abs=0.001 * (n + 2 + len(rows)))
    if match:
        assert one.bobbins.waste_m == 0
        assert sum(t.bobbin_m for t in found.threads) == pytest.approx(
            used, abs=0.001 * (n + 2 + colours)
        )
    elif policy == "run-out":
        assert 0.85 * full - used < 0.85 * one.bobbins.capacity_m + 0.001 * n
        assert len(one.bobbins.ends) == one.bobbins.count - 1


# layouts -------------------------------------------------------------------------------------


@given(
    length=st.floats(20, 4000),
    motif=st.floats(10, 300),
    gap=st.floats(0, 60),
    closed=st.booleans(),
    fill=st.booleans(),
)
def test_a_band_is_never_overrun(length, motif, gap, closed, fill):
    from clothyard.core.cloth.layout import band_motifs

    n, found = band_motifs(length, motif, gap_mm=gap, closed=closed, fill=fill)
    if n == 0:
        assert motif + (gap if closed else 0) > length - 1e-3
        return
    taken = n * motif + (n if closed else n - 1) * found
    assert taken <= length + 0.01
    assert found >= gap - 1e-3
    if (fill and n > 1) or closed:
        assert taken == pytest.approx(length)


@pytest.mark.parametrize(("pieces", "hoopings"), [(1, 1), (4, 1), (5, 2), (8, 2)])
def test_hoopings_of_several_pieces(pieces, hoopings):
    wanted = copy.deepcopy(LABELS) | {"quantity": pieces}
    assert price(order(wanted)).lines[0].places[0].hooping.total == hoopings


def test_basting_takes_room_both_ways():
    """The 100x100 alone: 100 less 2 x 4 holds two motifs of 41 and 10 between, not of 42."""
    hoops = {h: None for h in default_house().hoops if h != "100x100"}
    for motif, held in ((41, 2), (42, 1)):
        line = copy.deepcopy(TIE_BACKS)
        line["placements"][0] = {
            "design": count(500, motif, 20),
            "band": {"length_mm": 400, "gap_mm": 10, "fill": False},
        }
        found = price(order(line, house={"hoops": hoops})).lines[0].places[0].hooping
        assert found.columns == held


def test_a_design_too_large_is_split_over_hoopings():
    """340 x 140 needs two parts of (340 + 5) / 2 = 172.5: the 160x260 turned holds them."""
    big = {
        "goods": {"class": "curtain", "unit_cost": "5.00"},
        "quantity": 4,
        "digitising": "none",
        "placements": [
            {
                "position": "border",
                "design": count(30_000, 340, 140, trims=10),
                "methods": {"bobbin": "white", "backing": "cut-away"},
            }
        ],
    }
    found = price(order(big))
    [hoop] = [m for m in found.lines[0].methods if m.key == "hoop"]
    assert (hoop.value, hoop.source) == ("160x260", "proposed")
    assert hoop.reason == "Larger than every hoop: split over 2 hoopings, 1 joint to line up."
    assert found.sendable
    big["placements"][0]["split"] = {}
    line = price(order(big)).lines[0]
    assert line.cost == found.lines[0].cost
    hooping = line.places[0].hooping
    assert (hooping.kind, hooping.per_piece, hooping.sewn_mm) == ("split", 2, [172.5, 140])
    assert {a.code for a in line.advice} >= {"split-join"}
    assert not [a for a in line.advice if a.level == "stop"]
    assert line.per_piece.stitches == 30_000
    assert line.cuts[0].count == 8


def test_a_knock_down_base_is_sewn_first():
    """By hand: (85 + 6)(60 + 6) x 0.45 = 2702.7, so 2,703 stitches of fill before all else."""
    towel = {
        "goods": {"class": "terry-towel", "unit_cost": "5.00"},
        "quantity": 1,
        "digitising": "none",
        "placements": [{"design": count(8200, 85, 60, trims=9), "methods": {"knock_down": True}}],
    }
    line = price(order(towel)).lines[0]
    base = line.designs[0].blocks[0]
    assert (base.colour_name, base.stitches) == ("base, matching the goods", 2703)
    t = 1.1 + 0.2 + 0.04
    needle = 2.703 * (3.2 * (1 + 2 * S * 0.1) + 2 * t + 0.25) + 0.06
    assert base.needle_m == pytest.approx(needle, abs=6e-4)
    assert line.per_piece.stitches == 10_903
    assert line.places[0].hooping.sewn_mm == [91, 66]


@pytest.mark.parametrize(
    ("place", "corners", "sewn"),
    [
        ({"turn": 90}, (30, -50), (60, 100)),
        ({"turn": 180}, (50, 30), (100, 60)),
        ({"tilt_deg": 30}, (-28.30, -50.98), (116.60, 101.96)),
    ],
)
def test_a_design_is_turned_with_the_clock(place, corners, sewn):
    """By hand: 100 x 60 tilted 30°: 100 cos 30 + 60 sin 30 = 116.6 wide, 101.96 high."""
    line = {
        "goods": {"class": "cushion-cover", "unit_cost": "5.00"},
        "quantity": 1,
        "digitising": "none",
        "placements": [{"design": count(900, 100, 60), "place": place}],
    }
    found = price(order(line)).lines[0].places[0]
    assert found.corners_mm[0] == pytest.approx(corners, abs=0.01)
    assert found.hooping.sewn_mm == pytest.approx(sewn, abs=0.01)


@pytest.mark.parametrize(
    ("position", "place", "mark", "says"),
    [
        ("corner", {}, (88.39, 88.39), "125 mm in from the corner along its bisector: 88.4 mm"),
        ("cap-front", {}, (0, -45), "the design's bottom is 15 mm above it"),
        ("towel", {}, (0, -55), "the design's bottom is 25 mm above it"),
        ("infant-chest", {}, (0, 65), "65 mm below the neckline"),
        ("sleeve", {"gap_mm": 80}, (0, -80), "80 mm above the cuff, on the fold"),
        ("left-chest", {"gap_mm": 190, "side_mm": 95}, (95, 190), "190 mm below"),
        ("left-chest", {"side_mm": -95}, (-95, 200), "on the wearer's right."),
        ("left-chest", {"gap_mm": "7 1/2 in"}, (100, 190.5), "190.5 mm below"),
        ("left-chest", {"side_mm": "-2 in"}, (-50.8, 200), "50.8 mm from the centre front"),
        ("towel", {"side_mm": 40}, (40, -55), "40 mm from the lengthwise centre, on the right"),
        ("bag", {}, (0, 0), "a third of the way down from the top edge"),
        ("bag", {"side_mm": -20}, (-20, 0), "20 mm from the centre, on the left as you look"),
    ],
)
def test_the_centre_mark(position, place, mark, says):
    line = {
        "goods": {"class": "tunic", "unit_cost": "5.00"},
        "quantity": 1,
        "digitising": "none",
        "placements": [{"position": position, "design": count(900, 50, 60), "place": place}],
    }
    [found] = price(order(line)).lines[0].places[0].marks
    assert (found.x_mm, found.y_mm) == pytest.approx(mark, abs=0.01)
    assert says in found.words


def test_an_inch_shop_reads_marks_and_advice_in_inches():
    inches = {"shop": {"units": "imperial"}}
    job = worked(job__house=inches, design__width_mm=127, placement__place={"gap_mm": "7 1/2 in"})
    line = price(job).lines[0]
    assert "7 1/2 in below" in line.places[0].marks[0].words
    assert "3 15/16 in from the centre front" in line.places[0].marks[0].words
    hoop = next(m for m in line.methods if m.key == "hoop")
    assert hoop.reason == "The smallest that fits 5 × 2 3/8 in and its clearance."
    [big] = [a for a in line.advice if a.code == "place-big"]
    assert big.message == "5 in is wide for left chest; 4 5/16 in is the most."


def test_the_wearers_right_is_the_viewers_left():
    line = {
        "goods": {"class": "tunic", "unit_cost": "5.00"},
        "quantity": 1,
        "digitising": "none",
        "placements": [{"position": "left-chest", "design": count(900, 50, 60)}],
    }
    house = {"positions": {"left-chest": {"side": "wearer's right"}}}
    [found] = price(order(line, house=house)).lines[0].places[0].marks
    assert (found.x_mm, found.words.endswith("on the wearer's right.")) == (-100, True)


def test_several_machines_each_at_its_rate():
    """Chest on the compact, back on the single-needle: hours at 2.50 and at 1.20."""
    line = copy.deepcopy(FLEECES)
    line["placements"][1]["methods"] = {"machine": "single-flat"}
    found = price(order(line)).lines[0]
    chest = price(order(FLEECES | {"placements": FLEECES["placements"][:1]})).lines[0]
    back = price(order(line | {"placements": line["placements"][1:]})).lines[0]
    both = float(chest.cost.machine) + float(back.cost.machine)
    assert float(found.cost.machine) == pytest.approx(both, abs=0.011)


def test_every_layout_prices_at_every_tier():
    for line, tier in itertools.product(LINES, (1, 7, 250)):
        wanted = copy.deepcopy(line) | {"quantity": tier, "cells": [], "names": []}
        found = price(order(wanted), compare=False, working=True).lines[0]
        assert float(found.cost.total) > 0
        assert found.working


def test_jobs_of_all_shapes_round_trip():
    from clothyard.core.job.check import job_json

    job = job_from(order(*LINES))
    assert job_from(job_json(job)) == job
