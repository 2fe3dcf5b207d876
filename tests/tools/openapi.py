"""Print the OpenAPI document, from which the front end's types are generated."""

import json
import tempfile
from pathlib import Path

from clothyard.api.app import create_app
from clothyard.store.shop import Shop

with tempfile.TemporaryDirectory() as folder:
    shop = Shop(Path(folder))
    print(json.dumps(create_app(shop, frontend=Path("none")).openapi()))
    shop.close()
