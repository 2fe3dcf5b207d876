"""Routes of customers: kept, found, joined, written out, erased; lists of them."""

from __future__ import annotations

import json
from typing import Annotated

from fastapi import APIRouter, Depends, Path, Query, Response
from pydantic import BaseModel

from clothyard.api.problems import RESPONSES
from clothyard.api.quotes import IfMatch, seen_revision
from clothyard.api.routes import TELLS_COSTS, Cursor, Limit, ShopDep, same_shop
from clothyard.files.tables import MEDIA_TYPES, SheetKind
from clothyard.services.customers import known as customers
from clothyard.services.customers import personal

router = APIRouter(
    prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop), *TELLS_COSTS]
)
"""Refused while costs are hidden: then a customer looks at the screen."""

CustomerId = Annotated[int, Path(ge=1, le=2**53)]


class Other(BaseModel):
    """The customer that another takes over."""

    other: Annotated[int, Query(ge=1, le=2**53)]


@router.get("/customers")
def list_customers(
    shop: ShopDep,
    search: Annotated[str, Query(max_length=200)] = "",
    sort: customers.Sort = "name",
    down: bool | None = None,
    past: bool = False,
    cursor: Cursor = "",
    limit: Limit = 50,
) -> customers.CustomersPage:
    """List customers, a page at a time; `past` those whose day of keeping is past."""
    return customers.list_customers(
        shop, search=search, sort=sort, down=down, past=past, cursor=cursor, limit=limit
    )


@router.post("/customers", status_code=201)
def create_customer(document: customers.CustomerDocument, shop: ShopDep) -> customers.CustomerView:
    """Keep a customer."""
    return customers.create_customer(shop, document)


@router.get("/customers/{customer_id}")
def find_customer(customer_id: CustomerId, shop: ShopDep) -> customers.CustomerView:
    """Open a customer: with what they usually order."""
    return customers.find_customer(shop, customer_id)


@router.put("/customers/{customer_id}")
def save_customer(
    customer_id: CustomerId,
    document: customers.CustomerDocument,
    shop: ShopDep,
    if_match: IfMatch = None,
) -> customers.CustomerView:
    """Write a customer anew."""
    return customers.save_customer(shop, customer_id, document, seen=seen_revision(if_match))


@router.delete("/customers/{customer_id}")
def erase_customer(customer_id: CustomerId, shop: ShopDep) -> personal.Erased:
    """Erase a customer and what their quotes tell of people; what was sold stays."""
    return personal.erase_customer(shop, customer_id)


@router.delete("/customers/{customer_id}/names")
def erase_names(customer_id: CustomerId, shop: ShopDep) -> personal.Erased:
    """Erase the name lists of a customer's quotes, with the papers that show them."""
    return personal.erase_names(shop, customer_id)


@router.post("/customers/{customer_id}/join")
def join_customers(customer_id: CustomerId, asked: Other, shop: ShopDep) -> customers.CustomerView:
    """Let a customer take over another: names, quotes, contacts, notes, prices."""
    return customers.join_customers(shop, customer_id, asked.other)


@router.get("/customers/{customer_id}/personal.json", response_class=Response)
def personal_data(customer_id: CustomerId, shop: ShopDep) -> Response:
    """Write out all that is kept of a customer."""
    data = json.dumps(personal.personal_data(shop, customer_id), indent=1, ensure_ascii=False)
    headers = {"content-disposition": f'attachment; filename="customer-{customer_id}.json"'}
    return Response(data, media_type="application/json", headers=headers)


@router.get("/customer-pairs")
def alike_customers(shop: ShopDep) -> customers.AlikePage:
    """List pairs of customers that may be one."""
    return customers.alike_customers(shop)


@router.post("/customer-lists")
def take_customers(asked: customers.CustomerList, shop: ShopDep) -> customers.CustomersRead:
    """Read a list of customers; what can be read of it is kept when that is asked for."""
    return customers.take_customers(shop, asked)


@router.get("/customer-lists/customers.{kind}", response_class=Response)
def customers_sheet(kind: SheetKind, shop: ShopDep) -> Response:
    """Write all customers as a table."""
    headers = {"content-disposition": f'attachment; filename="customers.{kind}"'}
    data = customers.customers_sheet(shop, kind)
    return Response(data, media_type=MEDIA_TYPES[kind], headers=headers)
