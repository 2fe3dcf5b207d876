"""Rates: what an hour of labour, of a machine and of overhead costs, worked out from a year."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, WithJsonSchema, model_validator

from clothyard.core.errors import BadInput
from clothyard.core.units import Factor, Money, Share, read_typed, round_half_up, without_sign
from clothyard.core.working import Working, WorkingInput

ZERO = Decimal(0)
HOUR_STEP = Decimal("0.01")
Hours = Annotated[
    Decimal,
    BeforeValidator(read_typed),
    Field(ge=1, le=100_000),
    WithJsonSchema({"type": "number", "minimum": 1, "maximum": 100_000}),
]


def _unsigned(value: Any, currency: str) -> Any:
    if isinstance(value, dict):
        return {k: v if k == "currency" else _unsigned(v, currency) for k, v in value.items()}
    return without_sign(value.strip(), currency) if isinstance(value, str) else value


class MachineYear(BaseModel):
    """What a machine costs over its life."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    price: Money
    resale: Money = ZERO
    life_hours: Hours
    service_per_h: Money = ZERO
    power_kw: Factor = Decimal("0.1")
    tariff_per_kwh: Money = Decimal("0.30")


class Year(BaseModel):
    """A year of a shop: drawings, hours, costs."""

    model_config = ConfigDict(frozen=True, extra="forbid")
    currency: str = ""
    """Unsaid, the shop's."""
    drawings: Money = ZERO
    monthly_drawings: Money = ZERO
    """Taken out each month; twelve of them are added to `drawings`."""
    on_costs: Money = ZERO
    paid_hours: Hours
    productive: Share = Decimal("0.6")
    rent: Money = ZERO
    insurance: Money = ZERO
    software: Money = ZERO
    advertising: Money = ZERO
    other: Money = ZERO
    machines: dict[str, MachineYear] = Field(default_factory=dict, max_length=60)

    @model_validator(mode="before")
    @classmethod
    def _without_signs(cls, data: Any) -> Any:
        """Take the currency's sign off what is typed for money."""
        currency = data.get("currency") if isinstance(data, dict) else ""
        return _unsigned(data, currency) if isinstance(currency, str) and currency else data


class Rates(BaseModel):
    """The rates of an hour, and how they were worked out."""

    model_config = ConfigDict(frozen=True)
    productive_hours: str
    labour_per_h: str
    overhead_per_h: str
    machine_per_h: dict[str, str]
    working: list[Working]


def _text(amount: Decimal) -> str:
    return f"{amount.quantize(HOUR_STEP, 'ROUND_HALF_UP'):f}"


def _entry(
    id_: str,
    name: str,
    formula: str,
    inputs: list[tuple[str, Decimal, str]],
    value: Decimal,
    unit: str,
) -> Working:
    return Working(
        id=id_,
        name=name,
        formula=formula,
        inputs=[
            WorkingInput(name=n, value=f"{v.normalize():f}", unit=u, source="typed")
            for n, v, u in inputs
        ],
        value=f"{round_half_up(float(value), 4):g}",
        unit=unit,
    )


def yearly_rates(year: Year) -> Rates:
    """Work the rates of an hour out of a year's figures.

    Parameters
    ----------
    year : Year
        Drawings or wage with on-costs, paid hours and the share of them that is productive,
        overheads, and per machine its price, life, service and power.

    Raises
    ------
    BadInput
        If no hour is productive.

    Source
    ------
    docs/formulas.md 11: labour = (drawings + on-costs) ÷ productive hours; machine = (price −
    resale) ÷ life hours + service + power × tariff; overhead = overheads ÷ productive hours.
    """
    hours = year.paid_hours * year.productive
    if hours < 1:
        raise BadInput(
            "no hour is left to work in.",
            where="paid_hours",
            remedy="Enter the hours paid in a year, and the share of them spent on orders.",
            code="out-of-range",
        )
    money = year.currency
    drawings = year.drawings + 12 * year.monthly_drawings
    labour = (drawings + year.on_costs) / hours
    parts = {
        name: getattr(year, name)
        for name in ("rent", "insurance", "software", "advertising", "other")
    }
    overhead = sum(parts.values(), ZERO) / hours
    working = [
        _entry(
            "productive_hours",
            "Productive hours",
            "paid hours × productive share",
            [("paid hours", year.paid_hours, "h"), ("productive", year.productive, "share")],
            hours,
            "h",
        ),
        _entry(
            "labour_per_h",
            "Labour",
            "(drawings + on-costs) ÷ productive hours",
            [
                ("drawings", drawings, money),
                ("on-costs", year.on_costs, money),
                ("productive hours", hours, "h"),
            ],
            labour,
            f"{money}/h",
        ),
        _entry(
            "overhead_per_h",
            "Overhead",
            "sum of overheads ÷ productive hours",
            [
                *((name, amount, money) for name, amount in parts.items()),
                ("productive hours", hours, "h"),
            ],
            overhead,
            f"{money}/h",
        ),
    ]
    machines = {}
    for name, m in year.machines.items():
        wear = max(ZERO, m.price - m.resale) / m.life_hours
        rate = wear + m.service_per_h + m.power_kw * m.tariff_per_kwh
        machines[name] = _text(rate)
        working.append(
            _entry(
                f"machines.{name}",
                f"Machine {name}",
                "(price − resale) ÷ life hours + service + power × tariff",
                [
                    ("price", m.price, money),
                    ("resale", m.resale, money),
                    ("life", m.life_hours, "h"),
                    ("service", m.service_per_h, f"{money}/h"),
                    ("power", m.power_kw, "kW"),
                    ("tariff", m.tariff_per_kwh, f"{money}/kWh"),
                ],
                rate,
                f"{money}/h",
            )
        )
    return Rates(
        productive_hours=_text(hours),
        labour_per_h=_text(labour),
        overhead_per_h=_text(overhead),
        machine_per_h=machines,
        working=working,
    )
