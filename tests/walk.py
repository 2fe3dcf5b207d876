"""Opening every route that a page reads, of a shop, whatever is in it."""

from __future__ import annotations

import itertools
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from starlette.testclient import TestClient

from clothyard.store.shop import Shop

API = "/api/v1"
STREAM = "text/event-stream"
QUICK = (
    "/spread",
    "/papers/",
    ".pdf",
    "/run",
    "-lists/",
    "/preview",
    "/estimate",
    "/backups/",
    "/outlines",
)
"""What a route's address holds that a quick walk leaves out: long work, papers, copies."""

ASKED: Mapping[str, Any] = {"text": "Ada", "putup": "cone-5000", "many": 5, "value": "1.1"}
"""What is asked where a route must be asked something; all else is asked as a page first does."""

TOLD = frozenset(
    {
        "no-drawing",  # a count is no design
        "proof-none",
        "paper-unknown",  # papers of an order alone, asked of a quote
        "quote-unpriced",  # a draft with nothing in it
        "machine-deaf",  # devices that do not run in a test
        "machine-away",
        "scale-away",
        "scale-deaf",
        "putup-unknown",
        "proof-open",  # stitch files of names that nobody approved, or of what is cancelled
        "order-cancelled",
    }
)
"""Why a route may answer something else than 200: its page has words for it."""

SQL: Mapping[str, str] = {
    "quote_id": "SELECT id FROM quote WHERE deleted_on IS NULL",
    "order_id": "SELECT quote_id FROM work_order",
    "customer_id": "SELECT id FROM customer",
    "purchase_id": "SELECT id FROM purchase",
    "mail_id": "SELECT id FROM mail",
    "row_id": "SELECT id FROM log_row",
    "ask_id": "SELECT id FROM customer_ask",
    "item": "SELECT DISTINCT item FROM stock_move LIMIT 5",
    "orders": "SELECT quote_id FROM work_order",
}


class Walk:
    """A shop's routes opened one by one: `opened` counts them, `shut` holds what did not open.

    Parameters
    ----------
    shop : Shop
    client : TestClient
        With an origin of its own, so that links can be made.
    """

    def __init__(self, shop: Shop, client: TestClient):
        self._shop, self._client = shop, client
        self.opened, self.untried = 0, set[str]()
        self.shut: list[tuple[str, int, str]] = []

    def every(self, *, quick: bool = False) -> Walk:
        """Open every route of the schema with everything that the shop has for it."""
        schema = self._client.get(f"{API}/openapi.json").json()
        for path, methods in schema["paths"].items():
            if "get" not in methods or (quick and any(part in path for part in QUICK)):
                continue
            if STREAM in methods["get"]["responses"]["200"].get("content", {}):
                continue  # it never ends where the sample shop's machine runs beside the tests
            before = self.opened
            for at, query in self._addresses(path, methods["get"].get("parameters", [])):
                self._open(at, query)
            if self.opened == before:
                self.untried.add(path)
        return self

    def _open(self, at: str, query: Mapping[str, Any]) -> None:
        found = self._client.get(at, params=query)
        self.opened += 1
        if found.status_code == 200:
            return
        code = found.json()["code"] if found.status_code < 500 else ""
        if code not in TOLD:
            self.shut.append((found.request.url.path, found.status_code, found.text[:300]))

    def _addresses(
        self, path: str, parameters: Iterable[Mapping[str, Any]]
    ) -> Iterator[tuple[str, dict[str, Any]]]:
        """Give each address of a route, and what is asked of it."""
        needed = [p for p in parameters if p["in"] == "path" or p.get("required")]
        names = [p["name"] for p in needed]
        for values in self._values(path, needed):
            given = dict(zip(names, values, strict=True))
            inside = {name: value for name, value in given.items() if f"{{{name}}}" in path}
            yield path.format(**inside), {n: v for n, v in given.items() if n not in inside}

    def _values(self, path: str, needed: list[Mapping[str, Any]]) -> Iterable[tuple[Any, ...]]:
        if "{pass_id}" in path:
            return [
                (order, row["pass_id"])
                for order in self._ids("order_id")
                for row in self._client.get(f"{API}/orders/{order}/passes").json()
            ]
        if "{version}/{kind}" in path:
            return self._rows("SELECT quote_id, version, kind FROM quote_document")
        if "{version}" in path:
            return self._rows("SELECT quote_id, version FROM quote_version")
        return itertools.product(*(self._of(path, parameter) for parameter in needed))

    def _of(self, path: str, parameter: Mapping[str, Any]) -> Iterable[Any]:
        name = parameter["name"]
        if name in SQL:
            return self._ids(name)
        if enum := parameter["schema"].get("enum"):
            return list(enum)
        if name in ASKED:
            return [ASKED[name]]
        return self._found(name, path)

    def _found(self, name: str, path: str) -> list[Any]:
        match name:
            case "line" | "place":
                return [0]
            case "id_":
                return self._ids("order_id")
            case "token":
                return self._tokens(path)
            case "sha256":
                table = "photo" if "photos" in path else "design_file"
                return [row[0] for row in self._rows(f"SELECT sha256 FROM {table}")]
            case "name":
                return [row["name"] for row in self._json("backups")]
            case "key":
                return [row["key"] for row in self._json("learning")]
        raise AssertionError(f"{path}: nothing is known to open {{{name}}} with")

    def _json(self, path: str) -> Any:
        return self._client.get(f"{API}/{path}").json()

    def _tokens(self, path: str) -> list[str]:
        if "calendar" in path:
            made = [self._client.post(f"{API}/plan/link")]
        else:
            made = [self._client.post(f"{API}/quotes/{n}/link") for n in self._ids("quote_id")]
        urls = [answer.json()["url"] for answer in made if answer.status_code < 300]
        return [url.rsplit("/", 1)[1].removesuffix(".ics") for url in urls]

    def _ids(self, name: str) -> list[Any]:
        return [row[0] for row in self._rows(SQL[name])]

    def _rows(self, text: str) -> list[tuple[Any, ...]]:
        with self._shop.reading() as session:
            return [tuple(row) for row in session.connection().exec_driver_sql(text)]
