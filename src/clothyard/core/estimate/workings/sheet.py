"""A sheet that collects workings: each entry with its inputs, and where each came from."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from decimal import Decimal
from typing import Any, NamedTuple

from clothyard.core.figure_text import figure_text
from clothyard.core.house.check import default_house
from clothyard.core.house.document import House
from clothyard.core.working import Working, WorkingInput


class Input(NamedTuple):
    """A figure that goes into another: what it is called, its value and unit, its source.

    `of` names the working it came out of, `standard` the key it stands under.
    """

    name: str
    value: Any
    unit: str
    source: str
    of: str = ""
    standard: str = ""


def worked(name: str, value: Any, unit: str, of: str) -> Input:
    """An input that has a working of its own.

    Parameters
    ----------
    name : str
        As people say it.
    value : Any
        As it came, or as worked out.
    unit : str
        Of the value.
    of : str
        The id of the working it comes from.

    Returns
    -------
    Input
    """
    return Input(name, value, unit, "worked out", of=of)


def plain_text(value: Any) -> str:
    """Write a figure with six places at most, to work it out again."""
    if isinstance(value, Decimal):
        number = format(value.quantize(Decimal("0.000001")), "f")
        return number.rstrip("0").rstrip(".") if "." in number else number
    if isinstance(value, float):
        return f"{value:.6f}".rstrip("0").rstrip(".")
    return str(value)


def value_at(house: House, key: str) -> Any:
    """Look a standard up by its dotted key.

    Raises
    ------
    KeyError
        If there is no such row.
    """
    value: Any = house
    for part in key.split("."):
        value = value[part] if isinstance(value, dict) else getattr(value, part)
    return value


class Sheet:
    """Collects entries; knows where a standard's value came from.

    Parameters
    ----------
    house : House
    currency : str
    """

    def __init__(self, house: House, currency: str):
        self.house, self.currency = house, currency
        self.entries: list[Working] = []

    def _text(self, value: Any, unit: str) -> str:
        units = self.house.shop.units
        return figure_text(value, unit, currency=self.currency, units=units)

    def _unit(self, unit: str) -> str:
        return unit.replace("money", self.currency)

    def add(
        self, id_: str, name: str, formula: str, inputs: Iterable[Input], value: Any, unit: str
    ) -> Input:
        """Add an entry; returns it as an input to others, under its own name."""
        self.entries.append(
            Working(
                id=id_,
                name=name,
                formula=formula,
                inputs=[
                    WorkingInput(
                        name=i.name,
                        value=plain_text(i.value),
                        unit=self._unit(i.unit),
                        source=i.source,
                        text=self._text(i.value, i.unit),
                        of=i.of,
                        standard=i.standard,
                    )
                    for i in inputs
                ],
                value=plain_text(value),
                unit=self._unit(unit),
                text=self._text(value, unit),
            )
        )
        return worked(name[:1].lower() + name[1:], value, unit, id_)

    def standard(self, name: str, key: str, unit: str) -> Input:
        """An input that is a standard: the house's default, the goods class's, or the shop's."""
        value = value_at(self.house, key)
        if key in self.house.learnt:
            return Input(name, value, unit, self.house.learnt[key], standard=key)
        try:
            same = value_at(default_house(), key) == value
        except KeyError:
            same = False
        where = "goods class" if key.startswith("goods.") else "house default"
        return Input(name, value, unit, where if same else "the shop's own", standard=key)

    def all_pieces(
        self, id_: str, name: str, each: Sequence[tuple[Input, int]], unit: str
    ) -> Input:
        """Add up means a piece over the pieces they are of."""
        rows = [row for one, n in each for row in (one, Input("pieces", n, "pieces", "asked"))]
        value = sum(float(one.value) * n for one, n in each)
        return self.add(id_, name, "Σ of a piece × pieces", rows, value, unit)
