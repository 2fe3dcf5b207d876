"""Packing how sure a cost is, a line's and the order's."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.estimate.document import Sure, SureTerm
from clothyard.core.estimate.figures import LineFigures
from clothyard.core.price.sure import (
    P10,
    P80,
    P90,
    Band,
    as_money,
    minutes_bands,
    narrowing,
    order_band,
    thread_bands,
)
from clothyard.core.units import metres, money_text, round_half_up, share_text

TERMS_SHOWN = 3


def _terms(band: Band, currency: str) -> list[SureTerm]:
    return [
        SureTerm(
            name=term.name,
            plus_minus=money_text(as_money(term.spread * term.moves), currency),
            narrows=narrowing(term),
        )
        for term in band.terms[:TERMS_SHOWN]
    ]


def pack_sure(figures: LineFigures, currency: str) -> Sure:
    """Pack how sure a line's cost, minutes and thread are.

    Source: docs/formulas.md 15.
    """
    cost, pricer = figures.cost, figures.priced.pricer
    band, minutes, thread = pricer.band(cost.quantity), minutes_bands(cost), thread_bands(cost)
    loss = pricer.loss_chance(figures.priced.net, cost.quantity)

    def said(share: float) -> str:
        return money_text(as_money(band.quantile(share)), currency)

    return Sure(
        p10=said(P10),
        p80=said(P80),
        p90=said(P90),
        loss_chance=share_text(as_money(loss)),
        machine_min=[round_half_up(m, 2) for m in minutes["machine"]],
        hands_min=[round_half_up(m, 2) for m in minutes["hands"]],
        needle_m=[metres(m) for m in thread["needle"]],
        bobbin_m=[metres(m) for m in thread["bobbin"]],
        terms=_terms(band, currency),
    )


def pack_order_sure(lines: Sequence[LineFigures], currency: str) -> Sure:
    """Pack how sure the order's cost is: what is uncertain moves all its lines together."""
    bands = [f.priced.pricer.band(f.cost.quantity) for f in lines]
    band = order_band([f.cost for f in lines], bands) if len(lines) > 1 else bands[0]
    sold = sum(
        float(f.priced.net) * f.cost.quantity * (1 - float(f.priced.pricer.terms.fee_share))
        + float(f.priced.pricer.apart(f.cost.quantity))
        for f in lines
    ) - float(lines[0].priced.pricer.terms.fee_fixed)

    def said(share: float) -> str:
        return money_text(as_money(band.quantile(share)), currency)

    return Sure(
        p10=said(P10),
        p80=said(P80),
        p90=said(P90),
        loss_chance=share_text(as_money(band.chance_over(sold))),
        terms=_terms(band, currency),
    )
