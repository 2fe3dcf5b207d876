"""Cutting equal pieces of backing, topping and sheet goods from rolls or sheets."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from decimal import Decimal

from clothyard.core.house.document import House, Roll, Sheet
from clothyard.core.record import record
from clothyard.core.units import LENGTH_EPSILON, exact, floor_ratio

Stock = Roll | Sheet


@record
class Offcut:
    """A left piece worth keeping: where it lies on what was used, and its size. [mm]"""

    x_mm: float
    y_mm: float
    width_mm: float
    length_mm: float


@record
class Cut:
    """How a count of equal pieces is cut from one kind of roll or sheet.

    Attributes
    ----------
    stock : str
        Id of the roll or sheet.
    on_sheets : bool
        Sheets: rows go on from sheet to sheet.
    fits : bool
        False: the piece is wider than the stock, and is joined from strips.
    turned : bool
        The piece lies a quarter turn round.
    count : int
        Pieces cut.
    piece_mm : (float, float)
        A piece as it lies: across, and along. [mm]
    across, rows : int
        Pieces side by side, rows along the roll or over all sheets.
    step_mm, length_mm : float
        From row to row; used of the stock in all, a row's step each. [mm]
    width_mm : float
        Of the stock. [mm]
    rolls : int
        Rolls or sheets to open.
    rows_each : int
        Rows on one roll or sheet.
    waste : float
        Share of what is used that is not piece.
    cost : Decimal
        By the length used; of sheets, by the rows used. Not rounded.
    """

    stock: str
    on_sheets: bool
    fits: bool
    turned: bool
    count: int
    piece_mm: tuple[float, float]
    across: int
    rows: int
    step_mm: float
    length_mm: float
    width_mm: float
    rolls: int
    rows_each: int
    waste: float
    cost: Decimal


@record
class _Way:
    """One way round: what does not depend on the count. [mm]"""

    turned: bool
    piece: tuple[float, float]
    across: int
    rows_each: int
    step: float

    def rows(self, count: int) -> int:
        return -(-count // self.across)


def _length_mm(stock: Stock) -> float:
    return stock.length_m * 1000 if isinstance(stock, Roll) else stock.height_mm


def _one_way(piece: tuple[float, float], *, turned: bool, stock: Stock) -> _Way | None:
    w, h = piece
    across = floor_ratio(stock.width_mm, w)
    if across < 1:
        return None
    step = h
    if isinstance(stock, Roll) and stock.perforation_mm > 0:
        step = math.ceil(h / stock.perforation_mm - LENGTH_EPSILON) * stock.perforation_mm
    rows_each = floor_ratio(_length_mm(stock), step)
    if rows_each < 1:
        return None
    return _Way(turned, piece, across, rows_each, step)


def _joined(w: float, h: float, *, stock: Stock, grain: bool) -> _Way:
    """Join each piece from strips as wide as the stock, whichever way round is shorter."""
    ways = [
        (math.ceil(a / stock.width_mm - LENGTH_EPSILON) * b, turned, a)
        for turned, a, b in ((False, w, h), (True, h, w))[: 1 if grain else 2]
    ]
    step, turned, across = min(ways)
    return _Way(turned, (across, step), 1, max(1, floor_ratio(_length_mm(stock), step)), step)


@record
class Cutter:
    """A piece on one roll or sheet: both ways round, so that any count is cut at once."""

    stock_id: str
    stock: Stock
    area_mm2: float
    ways: tuple[_Way, ...]
    joined: _Way
    length_price: Decimal

    def _way(self, count: int) -> _Way:
        """Choose the way round that uses less; of sheets, the fewer sheets."""
        if len(self.ways) != 2:
            return self.ways[0] if self.ways else self.joined
        one, two = self.ways
        if isinstance(self.stock, Sheet):  # rows of another length differ in worth
            turned = two.rows(count) / two.rows_each < one.rows(count) / one.rows_each
        else:
            turned = two.rows(count) * two.step < one.rows(count) * one.step
        return two if turned else one

    def cost(self, count: int) -> Decimal:
        """Cost a count of pieces. Not rounded.

        Source: docs/formulas.md 4.
        """
        way = self._way(count)
        rows = way.rows(count)
        if isinstance(self.stock, Sheet):
            return self.stock.price * rows / way.rows_each
        return exact(rows * way.step) * self.length_price

    def cut(self, count: int) -> Cut:
        """Cut a count of pieces.

        Source: docs/formulas.md 4.
        """
        stock, on_sheets = self.stock, isinstance(self.stock, Sheet)
        way = self._way(count)
        rows = way.rows(count)
        length = rows * way.step
        rolls = -(-rows // way.rows_each)
        if isinstance(stock, Roll) and not self.ways:
            rolls = math.ceil(length / (stock.length_m * 1000) - LENGTH_EPSILON)
        return Cut(
            stock=self.stock_id,
            on_sheets=on_sheets,
            fits=bool(self.ways),
            turned=way.turned,
            count=count,
            piece_mm=way.piece,
            across=way.across,
            rows=rows,
            step_mm=way.step,
            length_mm=length,
            width_mm=stock.width_mm,
            rolls=rolls,
            rows_each=way.rows_each,
            waste=1 - count * self.area_mm2 / (length * stock.width_mm),
            cost=self.cost(count),
        )


def cutter(
    width_mm: float, height_mm: float, *, stock_id: str, stock: Stock, grain: bool = False
) -> Cutter:
    """Try a piece on a roll or sheet, as it stands and turned.

    Parameters
    ----------
    width_mm, height_mm : float
        The piece. [mm]
    stock_id, stock : str, Roll or Sheet
        What it is cut from.
    grain : bool
        It keeps the grain: never turned, joined from strips where it does not fit so.

    Returns
    -------
    Cutter
        Equal lengths: as it stands. When the piece fits neither way round it is joined from
        strips, and its cuts do not `fits`.
    """
    tried = [
        _one_way(piece, turned=turned, stock=stock)
        for turned, piece in ((False, (width_mm, height_mm)), (True, (height_mm, width_mm)))
    ]
    if grain:
        tried = tried[:1]
    each = Decimal(0)
    if isinstance(stock, Roll):
        each = stock.price / (exact(stock.length_m) * 1000)
    return Cutter(
        stock_id=stock_id,
        stock=stock,
        area_mm2=width_mm * height_mm,
        ways=tuple(way for way in tried if way),
        joined=_joined(width_mm, height_mm, stock=stock, grain=grain),
        length_price=each,
    )


def cutters(
    width_mm: float, height_mm: float, stocks: Mapping[str, Stock], *, grain: bool = False
) -> tuple[Cutter, ...]:
    """Try a piece on all rolls and sheets of a material.

    Parameters
    ----------
    width_mm : float
        Across. [mm]
    height_mm : float
        Down. [mm]
    stocks : Mapping[str, Stock]
        The material's rolls and sheets, by id.
    grain : bool
        It keeps the grain: never turned, while it fits so.

    Returns
    -------
    tuple[Cutter, ...]
    """
    return tuple(
        cutter(width_mm, height_mm, stock_id=stock_id, stock=stock, grain=grain)
        for stock_id, stock in stocks.items()
    )


def cut_from_best(tried: Sequence[Cutter], count: int) -> Cut:
    """Cut a count from what costs least; when the piece fits nothing, from the widest.

    Parameters
    ----------
    tried : sequence of Cutter, at least one
    """
    if len(tried) == 1:
        return tried[0].cut(count)
    cuts = [found.cut(count) for found in tried]
    fitting = [cut for cut in cuts if cut.fits]
    if fitting:
        return min(fitting, key=lambda cut: cut.cost)
    return max(cuts, key=lambda cut: cut.width_mm)


@record
class Wanted:
    """So many pieces of a material, costed; laid out when it is asked for."""

    tried: tuple[Cutter, ...]
    pieces: int
    cost: Decimal

    def cut(self) -> Cut:
        """Lay the cut out."""
        return cut_from_best(self.tried, self.pieces)


def want(tried: tuple[Cutter, ...], pieces: int) -> Wanted:
    """Cost a count of pieces, cut from what costs least.

    Parameters
    ----------
    tried : tuple[Cutter, ...]
        The piece as tried on each roll and sheet.
    pieces : int
        How many.

    Returns
    -------
    Wanted
    """
    if len(tried) == 1:
        return Wanted(tried, pieces, tried[0].cost(pieces))
    return Wanted(tried, pieces, cut_from_best(tried, pieces).cost)


def stocks_of(material: str, house: House) -> dict[str, Stock]:
    """Return the rolls and sheets of a material.

    Parameters
    ----------
    material : str
        Its id.
    house : House
        The standards.

    Returns
    -------
    dict[str, Stock]
    """
    found: dict[str, Stock] = {k: r for k, r in house.rolls.items() if r.material == material}
    return found | {k: s for k, s in house.sheets.items() if s.material == material}


def offcuts(cut: Cut, *, least_mm: float) -> list[Offcut]:
    """List what is left beside the pieces and is at least so wide and long.

    The strip beside the rows, and the rest of the last row. [mm]

    Parameters
    ----------
    cut : Cut
        As laid out.
    least_mm : float
        Across and along. [mm]

    Returns
    -------
    list[Offcut]

    Source
    ------
    docs/formulas.md 4.
    """
    if not cut.fits:
        return []
    w = cut.piece_mm[0]
    used = cut.across * w
    longest = min(cut.rows, cut.rows_each) * cut.step_mm
    found = [Offcut(used, 0.0, cut.width_mm - used, longest)]
    last = cut.count - (cut.rows - 1) * cut.across
    y = ((cut.rows - 1) % cut.rows_each) * cut.step_mm
    found.append(Offcut(last * w, y, used - last * w, cut.step_mm))
    return [o for o in found if min(o.width_mm, o.length_mm) >= least_mm - LENGTH_EPSILON]
