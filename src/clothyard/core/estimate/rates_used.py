"""Which of the house's rates and prices an estimate is made of, by their keys."""

from __future__ import annotations

from clothyard.core.estimate.document import Estimate, EstimateLine
from clothyard.core.house.document import House


def _of_line(line: EstimateLine, house: House) -> list[str]:
    chosen: dict[str, set[str]] = {}
    for method in line.methods:
        chosen.setdefault(method.key, set()).add(method.value)
    machines = sorted(chosen.get("machine", set()))
    found = [f"machines.{machine}.rate_per_h" for machine in machines]
    for machine in machines:
        if machine in house.machines and chosen.get("bobbin") != {"match"}:
            found.append(f"bobbins.{house.machines[machine].bobbin}.price")
    for cut in line.cuts:
        table = "rolls" if cut.stock in house.rolls else "sheets"
        found.append(f"{table}.{cut.stock}.price")
    if "float" in chosen.get("hold", set()):
        found.append("consumables.adhesive")
    if any("cover" in minute.label.lower() for minute in line.minutes):
        found.append("consumables.soft_cover")
    if line.price.method == "margin":
        found.append("price.margin")
    return found


def rates_used(estimate: Estimate, house: House) -> list[str]:
    """List the standards of money that an estimate is made of, each once.

    Parameters
    ----------
    estimate : Estimate
    house : House
        That it was made by.

    Returns
    -------
    list of str
        Dotted keys: hours, machines, thread, bobbins, what is cut, consumables, margin.
    """
    largest = max(house.putups, key=lambda key: house.putups[key].length_m)
    found = ["rates.labour_per_h", "rates.overhead_per_h", f"putups.{largest}.price"]
    for line in estimate.lines:
        found += _of_line(line, house)
    found.append("consumables.packing")
    return list(dict.fromkeys(found))
