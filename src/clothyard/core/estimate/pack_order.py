"""Packing the order: thread by colour, machines tried, what it comes to."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from clothyard.core.estimate.comparing import MachineRun
from clothyard.core.estimate.document import (
    Charge,
    Cost,
    KitView,
    MachineTried,
    OrderThread,
    PutUpBought,
    Run,
    Tax,
    Total,
)
from clothyard.core.estimate.figures import LineFigures, OrderFigures
from clothyard.core.estimate.pack_piece import block_name, minutes
from clothyard.core.estimate.pack_sure import pack_order_sure
from clothyard.core.house.document import House
from clothyard.core.price.amounts import ZERO
from clothyard.core.price.charges import Taxed, order_taxes
from clothyard.core.price.threads import ThreadUsed
from clothyard.core.units import metres, money_text, round_half_up, round_money, share_text


def pack_machines(runs: Sequence[MachineRun], house: House, currency: str) -> list[MachineTried]:
    """Pack the order on each machine: the cheapest and the soonest of those that can do it.

    Parameters
    ----------
    runs : Sequence[MachineRun]
        The order on each machine that takes it.
    house : House
        The standards.
    currency : str
        ISO code.

    Returns
    -------
    list[MachineTried]
    """
    able = [run for run in runs if run.fits] or list(runs)
    cheapest = min(able, key=lambda run: run.cost, default=None)
    soonest = min(able, key=lambda run: run.elapsed_s, default=None)
    return [
        MachineTried(
            id=run.machine_id,
            label=house.machines[run.machine_id].label,
            fits=run.fits,
            chosen=run.chosen,
            cost=money_text(run.cost, currency),
            machine_min=minutes(run.machine_s),
            elapsed_min=minutes(run.elapsed_s),
            cheapest=run is cheapest,
            soonest=run is soonest,
        )
        for run in runs
    ]


def pack_threads(table: Sequence[ThreadUsed], house: House, currency: str) -> list[OrderThread]:
    """Pack the order's thread by colour.

    Parameters
    ----------
    table : Sequence[ThreadUsed]
        Thread by kind and colour.
    house : House
        The standards.
    currency : str
        ISO code.

    Returns
    -------
    list[OrderThread]
    """
    return [
        OrderThread(
            thread=row.metres.thread_id,
            colour=row.metres.colour,
            colour_name=block_name(row.metres.colour, row.metres.label),
            needle_m=metres(row.metres.needle_m),
            bobbin_m=metres(row.metres.bobbin_m),
            needed_m=metres(row.metres.needed_m),
            grams=round_half_up(row.grams, 2),
            put_ups=[
                PutUpBought(id=key, label=house.putups[key].label, count=n)
                for key, n in row.put_ups
            ],
            used_cost=money_text(row.used_cost, currency),
            bought_cost=money_text(row.bought_cost, currency),
        )
        for row in table
    ]


def _taxes(
    lines: Sequence[LineFigures], whole: OrderFigures, house: House, currency: str
) -> list[Taxed]:
    """Count the tax on lines, kits and charges."""
    single = [f for f in lines if f.plan.line.id not in whole.in_kits]
    amounts = [(f.priced.pricer.terms.tax_rate, f.priced.unit * f.cost.quantity) for f in single]
    amounts += [part for kit in whole.kits for part in kit.taxed]
    amounts += [(house.terms.tax_rate, charge.amount) for charge in whole.charges]
    return order_taxes(amounts, house, currency)


def _kits(whole: OrderFigures, currency: str) -> list[KitView]:
    return [
        KitView(
            name=kit.name,
            quantity=kit.quantity,
            lines=list(kit.lines),
            unit=money_text(kit.unit, currency),
            line=money_text(kit.unit * kit.quantity, currency),
            unit_cost=share_text(kit.cost),
        )
        for kit in whole.kits
    ]


def _parts(lines: Sequence[LineFigures]) -> dict[str, Decimal]:
    """Add up each part of the cost over all lines, as each is shown."""
    return {name: sum((f.shown[name] for f in lines), ZERO) for name in lines[0].shown}


def _total(lines: Sequence[LineFigures], whole: OrderFigures, house: House, currency: str) -> Total:
    parts = _parts(lines)
    cost = sum(parts.values(), ZERO)
    bought = sum((round_money(charge.cost, currency) for charge in whole.charges), ZERO)
    price = whole.sold + sum((charge.amount for charge in whole.charges), ZERO)
    taxes = _taxes(lines, whole, house, currency)
    tax = sum((t.tax for t in taxes), ZERO)
    to_pay = price if house.terms.prices_include_tax else price + tax

    def said(amount: Decimal) -> str:
        return money_text(amount, currency)

    return Total(
        cost=said(cost + bought),
        sure=pack_order_sure(lines, currency),
        lines=said(whole.sold),
        parts=Cost(**{name: said(part) for name, part in parts.items()}, total=said(cost)),
        price=said(price),
        charges=[Charge(name=c.name, amount=said(c.amount)) for c in whole.charges],
        kits=_kits(whole, currency),
        taxes=[Tax(rate=share_text(t.rate), on=said(t.on), tax=said(t.tax)) for t in taxes],
        tax=said(tax),
        to_pay=said(to_pay),
        deposit=said(to_pay * house.terms.deposit),
    )


def pack_total(
    lines: Sequence[LineFigures],
    whole: OrderFigures,
    house: House,
    currency: str,
    *,
    run_s: float | None = None,
) -> tuple[Total, Run]:
    """Pack the order: lines, kits and charges, tax, what is to pay, the run.

    Parameters
    ----------
    lines : Sequence[LineFigures]
        The figures of each line.
    whole : OrderFigures
        The amount to split, rounded; or the figures of the whole order.
    house : House
        The standards.
    currency : str
        ISO code.
    run_s : float, optional
        The run as simulated; in closed form without. [s]

    Returns
    -------
    tuple[Total, Run]
    """
    done = [f.cost.done for f in lines]
    run = Run(
        elapsed_min=minutes(whole.elapsed_s if run_s is None else run_s),
        machine_min=minutes(sum(d.machine_s + d.sample_machine_s for d in done)),
        operator_min=minutes(sum(f.cost.done.labour_s + f.cost.set_up_s for f in lines)),
        basis="closed-form" if run_s is None else "simulated",
    )
    return _total(lines, whole, house, currency), run
