"""What an order needs of the shelf: with samples, spares, tails and factors; and what to ready."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import ROUND_CEILING, Decimal

from clothyard.core.house.document import FINE_BOBBINS, House
from clothyard.core.record import record
from clothyard.core.stock.key import KINDS, Item, thread_key
from clothyard.core.stock.ledger import ZERO
from clothyard.core.thread.called import thread_called
from clothyard.core.units import exact
from clothyard.core.work.document import LineTold, PassTold, ThreadLaid, Work

MM = Decimal("0.001")


@record
class Need:
    """An item and how much an order needs of it.

    `label` is what people call it; `pieces` are cut pieces where it is cut, of `cut_mm`, else
    none. Metres are rounded up to the millimetre, so that the shelf never runs short by rounding.
    """

    item: Item
    amount: Decimal
    label: str
    pieces: int = 0
    cut_mm: tuple[float, float] | None = None


def thread_on(laid: ThreadLaid) -> str:
    """Name the thread of a block as needles and plan name it; one of no known colour by its block.

    Such a one begins with a question mark: it is like no other.
    """
    return thread_key(laid.thread, laid.colour).name if laid.colour else f"?{laid.block}"


def _up(value: float) -> Decimal:
    return exact(value).quantize(MM, ROUND_CEILING)


def _threads(work: Work, house: House) -> Iterator[Need]:
    for row in work.threads:
        colour = thread_called(row.colour, house, otherwise=row.label)
        label = f"{house.threads[row.thread].label}, {colour}"
        item = Item("thread", row.thread, row.colour or row.label, "m")
        yield Need(item, _up(row.needed_m), label)


def _bobbins(of: PassTold, house: House) -> Iterator[Need]:
    """Bobbins that are bought wound; what is wound with needle thread is thread."""
    if of.sample:  # it sews from the run's
        return
    kind = house.machines[of.machine].bobbin
    for row in of.bobbins:
        if row.colour in FINE_BOBBINS and row.count:
            item = Item("bobbin", kind, row.colour, "each")
            yield Need(item, Decimal(row.count), f"{house.bobbins[kind].label}, {row.colour}")


def _cuts(of: PassTold, house: House) -> Iterator[Need]:
    for cut in of.cuts:
        if of.sample:  # the run's list has its samples and spares
            continue
        known = house.material_label(cut.material)
        sheet = cut.stock in house.sheets
        amount = _up(cut.list_length_mm / 1000)
        if sheet:
            each = house.sheets[cut.stock].height_mm
            amount = exact(cut.list_length_mm / each).to_integral_value(ROUND_CEILING)
        item = Item(cut.what, cut.stock, "", "each" if sheet else "m")
        yield Need(item, amount, known, cut.list_count, (cut.width_mm, cut.height_mm))


def _hardware(line: LineTold, house: House) -> Iterator[Need]:
    more = line.quantity + line.samples + line.spares
    for part in (*line.hardware, *(p for put in line.placements for p in put.hardware)):
        unit = house.hardware[part.item].unit
        item = Item("hardware", part.item, "", "m" if unit == "m" else "each")
        amount = _up(part.amount * more) if unit == "m" else Decimal(round(part.amount) * more)
        yield Need(item, amount, house.hardware[part.item].label)


def is_sized(class_id: str, house: House) -> bool:
    """Whether goods of a class come in sizes: their usual place is marked otherwise for some."""
    goods = house.goods[class_id]
    place = goods.position
    return goods.infant or any(row.position == place for row in house.place_sizes.values())


def _blanks(line: LineTold, house: House, *, own: bool) -> Iterator[Need]:
    if house.goods[line.goods].made or not own:
        return
    id_ = line.blank or line.goods
    label = house.blanks[line.blank].label if line.blank else house.goods[line.goods].label
    largest = max((c.pieces for c in line.cells), default=0)
    cells = []
    for cell in line.cells:
        more = cell.spares
        if more is None:  # an older document says them of the line alone
            more, largest = (line.spares, -1) if cell.pieces == largest else (0, largest)
        cells.append((f"{cell.size} {cell.colour}".strip(), cell.pieces + more))
    open_ = ", sizes not said" if is_sized(line.goods, house) else ""
    for detail, pieces in cells or [("", line.quantity + line.spares)]:
        said = f"{label}, {detail}" if detail else f"{label}{open_}"
        yield Need(Item("blank", id_, detail, "each"), Decimal(pieces), said)


def needs_of(work: Work, house: House, *, customers: frozenset[str] = frozenset()) -> list[Need]:
    """List what an order needs of the shelf, each item once.

    Parameters
    ----------
    work : Work
        What is done for it.
    house : House
    customers : frozenset of str
        Lines whose goods the customer brings, by id.

    Returns
    -------
    list of Need
        By kind, then by label. Equal cuts of one material are added up; where they differ in size
        the pieces are all of them, and no size is told.

    Source
    ------
    The handbook's workshop 2; docs/formulas.md 4 and 14.
    """
    rows = [*_threads(work, house)]
    for each in work.passes:
        rows += [*_bobbins(each, house), *_cuts(each, house)]
    for line in work.lines:
        rows += [*_hardware(line, house), *_blanks(line, house, own=line.id not in customers)]
    found: dict[str, Need] = {}
    for row in rows:
        known = found.get(row.item.key)
        found[row.item.key] = row if known is None else _both(known, row)
    return sorted(
        (need for need in found.values() if need.amount > ZERO),
        key=lambda need: (KINDS.index(need.item.kind), need.label, need.item.key),
    )


def _both(one: Need, other: Need) -> Need:
    same = one.cut_mm == other.cut_mm
    return Need(
        one.item,
        one.amount + other.amount,
        one.label,
        one.pieces + other.pieces,
        one.cut_mm if same else None,
    )
