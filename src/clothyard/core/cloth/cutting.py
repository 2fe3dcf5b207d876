"""Cutting equal pieces of backing, topping and sheet goods from rolls or sheets."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from clothyard.core.house import House, Roll, Sheet
from clothyard.core.units import LENGTH_EPSILON, exact, floor_ratio

Stock = Roll | Sheet


@dataclass(frozen=True, slots=True)
class Offcut:
    """A left piece worth keeping: where it lies on what was used, and its size. [mm]"""

    x_mm: float
    y_mm: float
    width_mm: float
    length_mm: float


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class _Way:
    turned: bool
    piece: tuple[float, float]
    across: int
    rows: int
    rows_each: int
    step: float

    @property
    def length(self) -> float:
        return self.rows * self.step


def _length_mm(stock: Stock) -> float:
    return stock.length_m * 1000 if isinstance(stock, Roll) else stock.height_mm


def _one_way(piece: tuple[float, float], *, turned: bool, count: int, stock: Stock) -> _Way | None:
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
    return _Way(turned, piece, across, math.ceil(count / across), rows_each, step)


def _joined(w: float, h: float, *, count: int, stock: Stock) -> _Way:
    """Join each piece from strips as wide as the stock, whichever way round is shorter."""
    ways = [
        (math.ceil(a / stock.width_mm - LENGTH_EPSILON) * b, turned, a)
        for turned, a, b in ((False, w, h), (True, h, w))
    ]
    step, turned, across = min(ways)
    each = max(1, floor_ratio(_length_mm(stock), step))
    return _Way(turned, (across, step), 1, count, each, step)


@lru_cache(maxsize=4096)
def cut_from(width_mm: float, height_mm: float, *, count: int, stock_id: str, stock: Stock) -> Cut:
    """Cut equal pieces from a roll or from sheets, whichever way round uses less.

    Parameters
    ----------
    width_mm, height_mm : float
        The piece. [mm]
    count : int
        Pieces, 1 or more.
    stock_id, stock : str, Roll or Sheet
        What it is cut from.

    Returns
    -------
    Cut
        Equal lengths: as it stands. When the piece fits neither way round, `fits` is False and
        it is joined from strips.

    Source
    ------
    docs/formulas.md 4.
    """
    tried = [
        _one_way(piece, turned=turned, count=count, stock=stock)
        for turned, piece in ((False, (width_mm, height_mm)), (True, (height_mm, width_mm)))
    ]
    ways = [way for way in tried if way]
    on_sheets = isinstance(stock, Sheet)
    # sheets: fewer sheets first, since rows of another length differ in worth
    best = min(ways, key=lambda w: w.rows / w.rows_each if on_sheets else w.length, default=None)
    way = best or _joined(width_mm, height_mm, count=count, stock=stock)
    rolls = math.ceil(way.rows / way.rows_each)
    if isinstance(stock, Sheet):
        cost = stock.price * way.rows / way.rows_each
    else:
        cost = exact(way.length) * stock.price / (exact(stock.length_m) * 1000)
        if best is None:
            rolls = math.ceil(way.length / (stock.length_m * 1000) - LENGTH_EPSILON)
    return Cut(
        stock=stock_id,
        on_sheets=on_sheets,
        fits=best is not None,
        turned=way.turned,
        count=count,
        piece_mm=way.piece,
        across=way.across,
        rows=way.rows,
        step_mm=way.step,
        length_mm=way.length,
        width_mm=stock.width_mm,
        rolls=rolls,
        rows_each=way.rows_each,
        waste=1 - count * width_mm * height_mm / (way.length * stock.width_mm),
        cost=cost,
    )


def cut_from_best(
    width_mm: float, height_mm: float, *, count: int, stocks: Mapping[str, Stock]
) -> Cut:
    """Cut from what costs least; when the piece fits nothing, from the widest.

    Parameters
    ----------
    stocks : mapping of id to Roll or Sheet, at least one
        The rolls and sheets of the material.
    """
    cuts = [
        cut_from(width_mm, height_mm, count=count, stock_id=stock_id, stock=stock)
        for stock_id, stock in stocks.items()
    ]
    fitting = [cut for cut in cuts if cut.fits]
    if fitting:
        return min(fitting, key=lambda cut: cut.cost)
    return max(cuts, key=lambda cut: cut.width_mm)


def stocks_of(material: str, house: House) -> dict[str, Stock]:
    """Return the rolls and sheets of a material."""
    found: dict[str, Stock] = {k: r for k, r in house.rolls.items() if r.material == material}
    return found | {k: s for k, s in house.sheets.items() if s.material == material}


def cut_rectangles(cut: Cut) -> Iterator[tuple[int, float, float, float, float]]:
    """Lay a cut's pieces out, to draw it.

    Yields
    ------
    (roll or sheet from 0, x_mm, y_mm, width_mm, length_mm)
        From the stock's left edge, and along it from where its cutting begins.
    """
    w, h = cut.piece_mm
    for i in range(cut.count):
        row, column = divmod(i, cut.across)
        of, row = divmod(row, cut.rows_each)
        yield of, column * w, row * cut.step_mm, w, h


def offcuts(cut: Cut, *, least_mm: float) -> list[Offcut]:
    """List what is left beside the pieces and is at least so wide and long.

    The strip beside the rows, and the rest of the last row. [mm]

    Source: docs/formulas.md 4.
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
