"""The standards: the defaults, or a shop's."""

from __future__ import annotations

import json
from typing import Any

from clothyard.cli.common import JsonFlag, ShopFolder, group, maybe_shop
from clothyard.core.house.check import default_house, house_json
from clothyard.core.standards import all_standards
from clothyard.services.house.standards import list_standards, shop_house

app = group()


@app.command()
def standards(shop: ShopFolder = None, as_json: JsonFlag = False) -> None:
    """Print the standards: the defaults, or a shop's."""
    kept = maybe_shop(shop)
    if as_json:
        house = shop_house(kept) if kept else default_house()
        print(json.dumps(house_json(house), ensure_ascii=False))
        return
    values: dict[str, Any] = {key: s.value for key, s in all_standards().items()}
    if kept:
        values = {view.key: view.value for view in list_standards(kept)}
    for key, standard in all_standards().items():
        print(f"{key} = {values[key]} [{standard.unit}] {standard.reason}")
