"""Which of the house's rates and prices an estimate is made of, by their keys."""

from __future__ import annotations

from collections.abc import Sequence

from clothyard.core.estimate.figures import LineFigures
from clothyard.core.house.document import House


def _of_line(figures: LineFigures, house: House) -> list[str]:
    plan, done = figures.plan, figures.cost.done
    makings = {placed.making.machine_id: placed.making for placed in plan.placements}
    found = [f"machines.{machine}.rate_per_h" for machine in sorted(makings)]
    if {placed.making.bobbin for placed in plan.placements} != {"match"}:
        found += [f"bobbins.{makings[machine].machine.bobbin}.price" for machine in sorted(makings)]
    for each in done.whole:
        cuts = [each.backing, each.second, each.topping, *(laid.cut for laid in each.sheets)]
        for stock in (cut.stock for cut in cuts if cut):
            found.append(f"{'rolls' if stock in house.rolls else 'sheets'}.{stock}.price")
    if any(placed.making.hold == "float" for placed in plan.placements):
        found.append("consumables.adhesive")
    if any(placed.covered for placed in plan.placements):
        found.append("consumables.soft_cover")
    if figures.priced.method == "margin":
        found.append("price.margin")
    return found


def rates_used(lines: Sequence[LineFigures], house: House) -> list[str]:
    """List the standards of money that an estimate is made of, each once.

    Parameters
    ----------
    lines : sequence of LineFigures
    house : House
        That it was made by.

    Returns
    -------
    list of str
        Dotted keys: hours, machines, thread, bobbins, what is cut, consumables, margin.
    """
    largest = max(house.putups, key=lambda key: house.putups[key].length_m)
    found = ["rates.labour_per_h", "rates.overhead_per_h", f"putups.{largest}.price"]
    for line in lines:
        found += _of_line(line, house)
    found.append("consumables.packing")
    return list(dict.fromkeys(found))
