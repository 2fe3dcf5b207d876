"""Advice: what is likely to fail, spoil or lose money, and how to mend it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from decimal import Decimal
from typing import Any

from clothyard.core.cloth.hoops import TIGHT_MM, loose_thickness_mm
from clothyard.core.cloth.place import lying_size, place_marks
from clothyard.core.cloth.seams import nearest_seam
from clothyard.core.job import NAME_MARK, Job, Line
from clothyard.core.making import Making
from clothyard.core.measures import length_text, size_text
from clothyard.core.methods import hoop_refusal
from clothyard.core.names import lacking_names, odd_names
from clothyard.core.price.line import LineCost
from clothyard.core.price.plan import LinePlan, PlacementPlan
from clothyard.core.price.selling import Pricer
from clothyard.core.price.tiers import PriceLadder
from clothyard.core.record import record
from clothyard.core.result import Advice, Level
from clothyard.core.time.handwork import covered
from clothyard.core.time.needles import plan_needles
from clothyard.core.units import money_text, round_money

SHORT_SHARE = 0.02
LONG_WORN_MM, LONG_ELSE_MM = 7.0, 10.0
HOT_CELL, HOT_RATIO = 100, 2.5
THICK_MM = 3.0
METALLIC_SPM = 500
RESIZE_WARN, RESIZE_STOP = 0.10, 0.20
FINE_TEX_BELOW = 20
SPARE_FROM = 0.03
MAY_OVERRULE = {"price-floor", "letter-small"}
"""Stops that a reason can lift: goodwill, charity, a customer who was told."""


@record
class Priced:
    """A line's price and what it is measured by."""

    unit: Decimal
    net: Decimal
    unit_cost: Decimal
    margin: Decimal
    target: Decimal
    ways: dict[str, Decimal]
    method: str
    ladder: PriceLadder
    spares: int
    currency: str
    pricer: Pricer


def methods_patch(line: Line, index: int, placement: int, **values: Any) -> list[dict[str, Any]]:
    """Build the JSON Patch on the job that sets methods of a placement."""
    path = f"/lines/{index}/placements/{placement}/methods"
    if "methods" not in line.placements[placement].model_fields_set:
        return [{"op": "add", "path": path, "value": values}]
    return [{"op": "add", "path": f"{path}/{key}", "value": v} for key, v in values.items()]


MOST_SIDEWAYS_MM = 130
"""Further from the middle of a front than this a design wraps round to the side."""


def _advice(
    code: str,
    level: Level,
    where: str,
    message: str,
    fix: str,
    apply: list[dict[str, Any]] | None = None,
) -> Advice:
    return Advice(code=code, level=level, where=where, message=message, fix=fix, apply=apply)


class _Place:
    """Advice on one placement."""

    def __init__(self, plan: LinePlan, cost: LineCost, index: int, number: int):
        self.plan, self.cost, self.index, self.number = plan, cost, index, number
        self.placed: PlacementPlan = plan.placements[number]
        self.making: Making = self.placed.making
        self.facts = self.placed.facts
        self.where = f"placements[{number}]"
        self.path = f"/lines/{index}/placements/{number}"

    def said(self, mm: float) -> str:
        """Write a length in the shop's units."""
        return length_text(mm, units=self.plan.house.shop.units)

    def said_size(self, size_mm: tuple[float, float]) -> str:
        """Write a size in the shop's units."""
        return size_text(size_mm, units=self.plan.house.shop.units)

    def patch(self, **values: Any) -> list[dict[str, Any]]:
        return methods_patch(self.plan.line, self.index, self.number, **values)

    def split_patch(self) -> list[dict[str, Any]] | None:
        """Split a single design over hoopings, when any hoop may hold its parts."""
        usable = any(not tried.refusal for tried in self.making.tries)
        if self.making.layout.kind != "single" or not usable:
            return None
        path = f"/lines/{self.index}/placements/{self.number}/split"
        return [{"op": "add", "path": path, "value": {}}]

    def hoop(self) -> Iterator[Advice]:
        making, house = self.making, self.plan.house
        fitting = making.fitting
        size = self.said_size(making.sewn_mm)
        refusal = hoop_refusal(making)
        if making.hoop is None or making.fit is None:
            miss = next((tried for tried in making.tries if not tried.refusal), None)
            nearest = ""
            if miss:
                label = house.hoops[miss.hoop_id].label
                nearest = f" {label} misses by {self.said(miss.fit.miss_mm)}."
            yield _advice(
                "hoop-none", "stop", self.where,
                f"{size} with its clearance fits no hoop of the {making.machine.label}.{nearest}",
                "Make it smaller, split it over hoopings, or choose another machine.",
                self.split_patch(),
            )  # fmt: skip
        elif refusal or not making.fit.fits:
            why = refusal or f"{size} misses by {self.said(making.fit.miss_mm)}"
            fix = f"Take {house.hoops[fitting[0]].label}." if fitting else "Make it smaller."
            yield _advice(
                "hoop-none", "stop", self.where,
                f"The hoop {making.hoop.label} does not do: {why}.", fix,
                self.patch(hoop=fitting[0]) if fitting else None,
            )  # fmt: skip
        else:
            if making.fit.left_mm < TIGHT_MM - 1e-6:
                yield _advice(
                    "hoop-tight", "warn", self.where,
                    f"Only {self.said(making.fit.left_mm)} are left beyond the clearance in "
                    f"{making.hoop.label}.",
                    "Trace it before sewing, or take a larger hoop.",
                    self.patch(hoop=fitting[1]) if len(fitting) > 1 else None,
                )  # fmt: skip
            single = making.layout.kind == "single"
            if fitting and fitting[0] != making.hoop_id and single:
                smaller = house.hoops[fitting[0]].label
                yield _advice(
                    "hoop-big", "note", self.where,
                    f"{smaller} fits too: less backing and a firmer hold.",
                    f"Take {smaller}.", self.patch(hoop=fitting[0]),
                )  # fmt: skip

    def seam(self) -> Iterator[Advice]:
        """What the sewn area would catch; a seam opened for it, or a band, is meant so."""
        asked = self.plan.line.placements[self.number]
        house, making, own = self.plan.house, self.making, self.placed.own
        if asked.band is not None or asked.seam is not None:
            return
        position, least = house.positions[making.position_id], house.seams.near_mm
        widest = max(own.sewn if own else [self.facts], key=lambda facts: facts.width_mm)
        lying = lying_size((widest.width_mm, widest.height_mm), asked.place)
        marks = place_marks(
            making.position_id, position, asked.place,
            height_mm=lying[1], cell_sizes=[cell.size for cell in self.plan.line.cells],
            sizes=house.place_sizes,
        )  # fmt: skip
        near = nearest_seam(position, making.goods, marks, size_mm=lying, least_mm=least)
        too_wide = widest.width_mm > position.max_width_mm + 1e-6  # place-big tells the remedy
        if near is None or (too_wide and near.measure == "side_mm"):
            return
        how = f"comes within {self.said(near.left_mm)} of" if near.left_mm > 0 else "lies over"
        to_mm = math.copysign(math.ceil(abs(near.to_mm) - 1e-6), near.to_mm)
        fixable = near.measure == "gap_mm" or abs(to_mm) <= MOST_SIDEWAYS_MM
        place = asked.place.model_dump(exclude_unset=True) | {near.measure: to_mm}
        yield _advice(
            "seam-near", "warn", self.where,
            f"The sewn area {how} {near.what}: it may catch it or sew it shut.",
            f"Leave {self.said(least)}: move it." if fixable else
            f"Leave {self.said(least)}: make it smaller, or put it elsewhere.",
            [{"op": "add", "path": f"{self.path}/place", "value": place}] if fixable else None,
        )  # fmt: skip

    def layout(self) -> Iterator[Advice]:
        asked = self.plan.line.placements[self.number]
        making, facts = self.making, self.facts
        if asked.band is not None:
            motif = lying_size((facts.width_mm, facts.height_mm), asked.place)[0]
            if motif > asked.band.length_mm + 1e-6:
                yield _advice(
                    "band-short", "stop", self.where,
                    f"One motif is {self.said(motif)} long, the band "
                    f"{self.said(asked.band.length_mm)}.",
                    "Make the motif smaller, or turn it.",
                )  # fmt: skip
        if making.layout.kind == "split":
            yield _advice(
                "split-join", "warn", self.where,
                f"The design is split over {making.layout.hoopings} hoopings: each joint must "
                "meet the last to a hair.",
                "Have the digitiser split it along a colour, with marks to match; sew a sample.",
            )  # fmt: skip

    def names(self) -> Iterator[Advice]:
        own, making = self.placed.own, self.making
        words = self.facts.source == "words"
        texts = own.names if own else ((self.facts.name,) if words else ())
        odd = list(odd_names(texts) if own else lacking_names(texts))
        if odd:
            yield _advice(
                "name-odd", "warn", self.where, " ".join(odd[:8]),
                "Read them again with the customer; spelling as approved is final.",
            )  # fmt: skip
        if own is None:
            return
        missing = len(own.pieces) - own.given
        if missing:
            yield _advice(
                "names-missing", "warn", self.where,
                f"{own.given} names for {len(own.pieces)} pieces: the other {missing} are priced "
                + ("as the mean of those." if own.given else "as eight letters of mean width."),
                "Ask for the names, or leave pieces blank on purpose with an empty name.",
            )  # fmt: skip
        place = self.plan.house.positions[making.position_id]
        for facts in sorted(set(own.sewn), key=lambda f: -f.width_mm):
            if facts.width_mm <= place.max_width_mm + 1e-6:
                break
            share = place.max_width_mm / facts.width_mm
            height = (facts.letter_height_mm or 0) * share
            yield _advice(
                "name-long", "warn", self.where,
                f"“{facts.name}” is {self.said(facts.width_mm)} wide; {place.label.lower()} takes "
                f"{self.said(place.max_width_mm)}: shrink it to {share:.0%}, letters "
                f"{self.said(height)}.",
                "Letter all of them lower, or set this name on two lines.",
            )  # fmt: skip

    def rolls(self) -> Iterator[Advice]:
        done = self.cost.passes[self.number]
        wanted = [
            ("backing", done.backing, self.placed.backing_mm),
            ("topping", done.topping, self.placed.topping_mm),
        ]
        for of, laid in zip(self.placed.steps.sheets, done.sheets, strict=True):
            wanted.append((of.material, laid.cut, (of.width_mm, of.height_mm)))
        for key, cut, size in wanted:
            if cut and not cut.fits:
                yield _advice(
                    "roll-none", "stop", self.where,
                    f"A {key} piece of {self.said_size(size)} is wider than every roll; "
                    f"the widest is {self.said(cut.width_mm)} ({cut.stock}).",
                    "Choose a smaller hoop, another material, or add a wider roll.",
                )  # fmt: skip

    def backing(self) -> Iterator[Advice]:
        making, facts = self.making, self.facts
        goods, backing = making.goods, making.backing
        if goods.stretch >= 1 and (backing is None or backing.removal == "tear"):
            what = f"only {backing.label.lower()}" if backing else "no backing"
            yield _advice(
                "back-stretch", "warn", self.where,
                f"The {goods.label.lower()} stretches and has {what}: the design will lose its "
                "shape in wear and wash.",
                "Take medium cut-away.", self.patch(backing="cut-away-medium", layers=1),
            )  # fmt: skip
        if backing:
            limit = backing.dense_one if making.layers == 1 else backing.dense_more
            box_cm2 = (facts.width_mm + 10) * (facts.height_mm + 10) / 100
            density = facts.stitches / box_cm2  # of one design: repeats lie beside each other
            if density > limit:
                firm = self.plan.house.backings.get("cut-away-medium")
                more = making.layers == 1 and density <= backing.dense_more
                values: dict[str, Any] = (
                    {"layers": 2} if more else {"backing": "cut-away-medium", "layers": 1}
                )
                cured = more or (firm is not None and density <= firm.dense_one)
                yield _advice(
                    "back-dense", "warn", self.where,
                    f"{density:.0f} stitches/cm² are more than {making.layers} × "
                    f"{backing.label.lower()} holds ({limit:g}).",
                    "Add a layer." if more else "Take medium cut-away, or a lighter design.",
                    self.patch(**values) if cured else None,
                )  # fmt: skip
        if goods.back_seen == "yes":
            stays = backing is not None and backing.removal == "trim"
            if stays or making.bobbin != "match":
                wrong = ["the backing stays in view"] if stays else []
                wrong += ["the bobbin does not match"] if making.bobbin != "match" else []
                values = {"bobbin": "match"}
                if stays:
                    values |= {"backing": "wash-away-mesh", "layers": 2}
                yield _advice(
                    "back-seen", "warn", self.where,
                    f"The back is seen, and {' and '.join(wrong)}.",
                    "Match the bobbin" + (" and rinse the backing out." if stays else "."),
                    self.patch(**values),
                )  # fmt: skip
        if goods.pile == 2 and making.topping is None and not making.knock_down:
            yield _advice(
                "top-pile", "warn", self.where,
                "Deep pile without a topping swallows the stitches.",
                "Lay soluble film on top.", self.patch(topping="film"),
            )  # fmt: skip

    def stitches(self) -> Iterator[Advice]:
        facts, making = self.facts, self.making
        yield from self._letters()
        lettered = facts.source == "words"  # our own letters: no digitiser to ask
        if facts.short_share is not None and facts.short_share > SHORT_SHARE and not lettered:
            yield _advice(
                "stitch-short", "warn", self.where,
                f"{facts.short_share:.0%} of the stitches are under 0.4 mm: thread breaks.",
                "Ask the digitiser to remove them.",
            )  # fmt: skip
        limit = LONG_WORN_MM if making.goods.washable else LONG_ELSE_MM
        if facts.longest_stitch_mm is not None and facts.longest_stitch_mm > limit + 1e-6:
            yield _advice(
                "stitch-long", "warn", self.where,
                f"A stitch of {facts.longest_stitch_mm:.1f} mm snags; {limit:g} mm is the most "
                "on these goods.",
                "Ask the digitiser to split the longest stitches.",
            )  # fmt: skip
        if (
            facts.hottest_cell is not None
            and not lettered
            and facts.median_cell
            and (
                facts.hottest_cell > HOT_CELL and facts.hottest_cell > HOT_RATIO * facts.median_cell
            )
        ):
            yield _advice(
                "density-hot", "warn", self.where,
                f"One 5 × 5 mm spot holds {facts.hottest_cell} stitches, the usual one "
                f"{facts.median_cell:.0f}: needles break and cloth is cut there.",
                "Ask the digitiser to thin out the layers.",
            )  # fmt: skip
        if facts.source == "file" and not any(block.colour for block in facts.blocks):
            yield _advice(
                "colour-none", "note", self.where,
                "The file holds no thread colours.", "Assign them before sewing.",
            )  # fmt: skip
        colours = len(set(facts.colour_keys))
        needles = plan_needles(facts.colour_keys, making.machine.needles)
        if making.machine.auto_change and needles.rotating:
            falls = ", ".join(str(n) for n in needles.changes_at)
            yield _advice(
                "needle-few", "note", self.where,
                f"{colours} colours on {making.machine.needles} needles: the last one is threaded "
                f"by hand before blocks {falls}.",
                "Let near colours share a thread, or plan for the stops.",
            )  # fmt: skip
        if making.on_cap_frame and ((facts.outward or 0) < 0 or (facts.upward or 0) < 0):
            yield _advice(
                "cap-order", "note", self.where,
                "The design is not sewn from the middle out and from the bottom up: it may push "
                "the crown out of shape.",
                "Ask the digitiser for a cap order.",
            )  # fmt: skip
        yield from self._scale()

    def _scale(self) -> Iterator[Advice]:
        scale = self.plan.line.placements[self.number].design.scale
        off = abs(scale - 1)
        if off > RESIZE_WARN + 1e-9:
            level: Level = "stop" if off > RESIZE_STOP + 1e-9 else "warn"
            yield _advice(
                "resize", level, self.where,
                f"Built at {scale:.0%} of the size the file was made for: its stitches are then "
                f"{'too close' if scale < 1 else 'too far apart'}.",
                "Have it digitised at this size, or keep within 10%.",
                [{"op": "remove", "path": f"{self.path}/design/scale"}],
            )  # fmt: skip

    def _letters(self) -> Iterator[Advice]:
        height, making = self.facts.letter_height_mm, self.making
        if height is None:
            return
        fine = making.thread.tex < FINE_TEX_BELOW and making.needle_id == "fine-65-9"
        raised = making.goods.pile == 2 or making.position_id == "cap-front"
        least, good = (3.0, 4.0) if fine else (3.5, 7.0 if raised else 5.0)
        if height < good - 1e-6:
            level: Level = "stop" if height < least - 1e-6 else "warn"
            yield _advice(
                "letter-small", level, self.where,
                f"Letters {self.said(height)} high fill in; here {self.said(good)} is the least "
                "that reads.",
                "Make them larger" + ("." if fine else ", or use fine thread and needle."),
            )  # fmt: skip

    def method(self) -> Iterator[Advice]:
        making, facts = self.making, self.facts
        if making.thread_id == "metallic" and (
            making.cap_spm > METALLIC_SPM or making.needle_id != "large-eye-90-14"
        ):
            yield _advice(
                "speed-metallic", "warn", self.where,
                "Metallic thread frays without a large-eye needle and a slow machine.",
                "Take the large-eye needle, at most 500 stitches a minute.",
                self.patch(needle="large-eye-90-14") if making.cap_spm <= METALLIC_SPM else None,
            )  # fmt: skip
        loose = loose_thickness_mm(making.goods)
        if loose > THICK_MM:
            yield _advice(
                "layers-thick", "warn", self.where,
                f"{loose:g} mm lie loose under the foot.", "Slow down, and leave out batting.",
            )  # fmt: skip
        if making.goods_id == "soft-cap":
            yield _advice(
                "cap-flat", "warn", self.where,
                "A cap on a flat hoop suits soft caps only, small designs, no lettering.",
                "For a batch use a cap frame, or sew a patch and fix it on.",
            )  # fmt: skip
        tallest = {"structured-cap": 57, "soft-cap": 50}.get(making.goods_id)
        if tallest and facts.height_mm > tallest + 1e-6:
            yield _advice(
                "cap-tall", "warn", self.where,
                f"{self.said(facts.height_mm)} is too high for this crown; {self.said(tallest)} "
                "is the most.",
                "Make it lower.",
            )  # fmt: skip
        place = self.plan.house.positions[making.position_id]
        if facts.width_mm > place.max_width_mm + 1e-6 and self.placed.own is None:
            yield _advice(
                "place-big", "warn", self.where,
                f"{self.said(facts.width_mm)} is wide for {place.label.lower()}; "
                f"{self.said(place.max_width_mm)} is the most.",
                "Make it smaller, or put it elsewhere.",
            )  # fmt: skip
        yield from self.seam()
        if making.bobbin == "black" and making.goods.thickness_mm < 0.5:
            yield _advice(
                "show-through", "warn", self.where,
                "A dark bobbin may show through light thin cloth.",
                "Use a light one unless the cloth is dark.", self.patch(bobbin="white"),
            )  # fmt: skip
        mid = [run for _, run in self.cost.passes[self.number].bobbins
               if run.pieces_per_bobbin == 0 and run.count > 1]  # fmt: skip
        if mid:
            yield _advice(
                "bobbin-mid", "note", self.where,
                "A bobbin ends inside a piece.",
                "Plan the change at a colour's end, or change between pieces.",
            )  # fmt: skip


def _line_advice(plan: LinePlan, cost: LineCost, priced: Priced, index: int) -> Iterator[Advice]:
    line, goods = plan.line, plan.placements[0].making.goods
    place = f"/lines/{index}"
    rule = plan.house.sample
    if (
        goods.washable and plan.is_new and cost.quantity >= rule.from_quantity
        and cost.sample_pieces == 0
    ):  # fmt: skip
        yield _advice(
            "sample-none", "note", "sample",
            "A new design on washable goods without a sample: what goes wrong goes wrong on all.",
            "Sew one and wash it first.",
            [{"op": "add", "path": f"{place}/sample", "value": {"pieces": 1, "wash": True}}],
        )  # fmt: skip
    if goods.spoil >= SPARE_FROM and priced.spares == 0:
        single = cost.quantity == 1
        yield _advice(
            "spare-none", "note" if single else "warn", "goods",
            f"{goods.spoil:.0%} of such pieces are spoiled and there is no spare.",
            "Order two." if single else "Agree with the customer on spares, or a short count.",
        )  # fmt: skip
    if goods.skin and not all(covered(p.making, line.finishing) for p in plan.placements):
        yield _advice(
            "skin-cover", "note", "finishing",
            "Worn on the skin: the back of the stitches scratches.",
            "Iron on a soft cover.",
            [{"op": "add", "path": f"{place}/finishing",
              "value": [*line.finishing, "soft-cover"]}],
        )  # fmt: skip
    if line.names and not any(p.own for p in plan.placements):
        yield _advice(
            "names-unused", "note", "names",
            f"{len(line.names)} names, and no design has words with {NAME_MARK} in them.",
            f"Add a placement with the words {NAME_MARK}, or remove the names.",
        )  # fmt: skip
    if plan.placements[0].making.goods_id == "work-vest":
        yield _advice(
            "wear-special", "warn", "goods",
            "Sewing may reduce a reflective area or end a certificate.",
            "Ask the maker of the goods before sewing.",
        )  # fmt: skip
    if line.agreed is not None and priced.method != "agreed" and line.unit_price is None:
        yield _advice(
            "agreed-over", "note", "price",
            f"The agreed price of {line.agreed.unit_price} held until {line.agreed.until}.",
            "Agree on a new one; this is the price worked out.",
        )  # fmt: skip
    yield from _blank_advice(plan, cost, index)
    yield from _price_advice(plan, cost, priced, index)


def _listed(text: str, sep: str | None) -> list[str]:
    return [part.strip() for part in text.split(sep) if part.strip()]


def _blank_advice(plan: LinePlan, cost: LineCost, index: int) -> Iterator[Advice]:
    """What does not agree with the blank as the shelf has it."""
    goods, house = plan.line.goods, plan.house
    if goods.supplied_by == "customer" or goods.blank is None:
        return
    blank = house.blanks[goods.blank]
    if blank.goods != goods.class_:
        made, kept = house.goods[goods.class_].label, house.goods[blank.goods].label
        yield _advice(
            "blank-differs", "note", "goods",
            f"On the shelf {blank.label} is {kept.lower()}; here it is made as {made.lower()}.",
            f"Make it as {kept.lower()}.",
            [{"op": "replace", "path": f"/lines/{index}/goods/class", "value": blank.goods}],
        )  # fmt: skip
    if not cost.goods.each and plan.supply.source != "typed":
        yield _advice(
            "blank-unpriced", "warn", "goods",
            f"{blank.label} has no price on the shelf: the goods are reckoned at nothing.",
            "Enter its prices on the shelf, or type what one costs here.",
        )  # fmt: skip
    sizes, colours = _listed(blank.sizes, None), _listed(blank.colours, ",")
    for asked, known, unsaid, what in (
        ({c.size.strip() for c in plan.line.cells} - {""}, sizes, "one-size", "size"),
        ({c.colour.strip() for c in plan.line.cells} - {""}, colours, "any", "colour"),
    ):
        folded = {name.casefold() for name in known}
        missing = sorted(name for name in asked if name.casefold() not in folded)
        if missing and unsaid not in folded:
            yield _advice(
                "cell-none", "warn", "cells",
                f"{blank.label} does not come in {what} {', '.join(missing)}: "
                f"the shelf has {', '.join(known)}.",
                "Ask the supplier, or choose one that is there.",
            )  # fmt: skip


def _floor_fix(plan: LinePlan, priced: Priced, index: int) -> list[dict[str, Any]] | None:
    """Take a typed, agreed or discounted price back to the one that is worked out."""
    line, found = plan.line, []
    for key in ("unit_price", "agreed", "discount"):
        if key in line.model_fields_set and getattr(line, key):
            found.append({"op": "remove", "path": f"/lines/{index}/{key}"})
    return found or None


def _price_advice(plan: LinePlan, cost: LineCost, priced: Priced, index: int) -> Iterator[Advice]:
    unit, q = priced.net, cost.quantity
    variable = priced.pricer.floor(q, variable=True)
    fix = _floor_fix(plan, priced, index)

    def said(amount: Decimal) -> str:
        return money_text(amount, priced.currency)

    if index == 0 and priced.currency != plan.house.price.currency:
        ours = plan.house.price.currency
        yield _advice(
            "currency-differs", "warn", "price",
            f"This is in {priced.currency} and the shop's rates are in {ours}: nothing is "
            "converted.",
            f"Quote it in {ours}.", [{"op": "replace", "path": "/currency", "value": ours}],
        )  # fmt: skip
    if unit < variable:
        yield _advice(
            "price-floor", "stop", "price",
            f"{said(unit)} a piece is under what the piece itself costs ({said(variable)}).",
            "Take the price worked out.", fix,
        )  # fmt: skip
    elif unit < priced.pricer.floor(q):
        yield _advice(
            "price-floor", "warn", "price",
            f"{said(unit)} a piece is under its full cost ({said(priced.pricer.floor(q))}).",
            "Take the price worked out, or keep a reason for this one.", fix,
        )  # fmt: skip
    elif unit < round_money(priced.ways["margin"], priced.currency):
        yield _advice(
            "price-margin", "warn", "price",
            f"The margin is {priced.margin:.1%}, the target {priced.target:.1%}.",
            "Take the price worked out, or lower the target for this job.", fix,
        )  # fmt: skip
    names = {"margin": "the margin", "stitch-rate": "the stitch rate", "hour-rate": "the hour rate"}
    for way, price in priced.ways.items():
        differs = price > 0 and abs(unit / price - 1) > Decimal(str(plan.house.price.crosscheck))
        if way != priced.method and differs:
            driver = max(cost.parts, key=lambda name: cost.parts[name]).replace("_", " ")
            yield _advice(
                "price-crosscheck", "note", "price",
                f"{said(unit)} is {abs(unit / price - 1):.0%} "
                f"{'over' if unit > price else 'under'} {names[way]} ({said(price)}); "
                f"the largest cost is {driver}.",
                "Look at that cost, or at the rate.",
            )  # fmt: skip
    for found in priced.ladder.inversions():
        stretch = f"{found.first}" if found.first == found.last else f"{found.first}–{found.last}"
        yield _advice(
            "price-inversion", "warn", "tiers",
            f"{stretch} cost more than {found.offer}: offer {found.offer}.",
            "Take smooth tiers.",
            [{"op": "add", "path": "/tier_mode", "value": "smooth"}],
        )  # fmt: skip


def overruled(found: list[Advice], job: Job, index: int) -> list[Advice]:
    """Mark the advice that the job goes against, with its reason.

    A reason lifts a price under the floor; what cannot be made stays a stop.
    """
    marked = []
    for advice in found:
        reason = next(
            (
                o.reason
                for o in job.overruled
                if (o.code, o.line) == (advice.code, index) and o.where in {"", advice.where}
            ),
            "",
        )
        lifted = advice.level != "stop" or advice.code in MAY_OVERRULE
        marked.append(
            advice.model_copy(update={"overruled": reason}) if reason and lifted else advice
        )
    return marked


def advise(plan: LinePlan, cost: LineCost, priced: Priced, *, index: int) -> list[Advice]:
    """List the advice on a line, stops first.

    Parameters
    ----------
    plan, cost, priced : LinePlan, LineCost, Priced
        The line, at its quantity.
    index : int
        Of the line in the job: fixes are patches on the job.
    """
    found: list[Advice] = []
    for number in range(len(plan.placements)):
        place = _Place(plan, cost, index, number)
        for part in (place.hoop, place.layout, place.rolls, place.backing, place.stitches,
                     place.method, place.names):  # fmt: skip
            found += part()
    found += _line_advice(plan, cost, priced, index)
    rank = {"stop": 0, "warn": 1, "note": 2}
    return sorted(found, key=lambda advice: rank[advice.level])
