"""Routes at the machine: a pass and its events, the machine itself, the scale, photos."""

from __future__ import annotations

from typing import Annotated, Any

from fastapi import APIRouter, Depends, Path, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from clothyard.api.orders import OrderId
from clothyard.api.problems import RESPONSES
from clothyard.api.routes import ShopDep, same_shop
from clothyard.api.turns import DEVICES, PRICING
from clothyard.core.log.rows import LogRow
from clothyard.files.photos import PHOTO_BYTES
from clothyard.services.log import rows as log
from clothyard.services.run import at_machine, machines, threaded

router = APIRouter(prefix="/api/v1", responses=RESPONSES, dependencies=[Depends(same_shop)])

PassId = Annotated[str, Path(min_length=1, max_length=80)]
JPEG_OK: dict[int | str, Any] = {200: {"content": {"image/jpeg": {}}}}
SSE_OK: dict[int | str, Any] = {200: {"content": {"text/event-stream": {}}}}


@router.get("/faults")
def list_faults() -> list[at_machine.FaultTold]:
    """List what a piece can be spoiled or mended by."""
    return at_machine.list_faults()


@router.get("/orders/{order_id}/passes", dependencies=PRICING)
def list_passes(order_id: OrderId, shop: ShopDep) -> list[at_machine.PassRow]:
    """List an order's passes, and how far each is."""
    return at_machine.list_passes(shop, order_id)


@router.get("/orders/{order_id}/passes/{pass_id}", dependencies=PRICING)
def find_pass(order_id: OrderId, pass_id: PassId, shop: ShopDep) -> at_machine.PassView:
    """Open a pass at the machine."""
    return at_machine.find_pass(shop, order_id, pass_id)


@router.post("/orders/{order_id}/passes/{pass_id}/events", dependencies=PRICING)
def write_events(
    order_id: OrderId, pass_id: PassId, written: at_machine.EventsIn, shop: ShopDep
) -> at_machine.PassView:
    """Keep what happened, each event once."""
    return at_machine.write_events(shop, order_id, pass_id, written)


@router.get("/orders/{order_id}/passes/{pass_id}/log", dependencies=PRICING)
def log_begun(order_id: OrderId, pass_id: PassId, shop: ShopDep) -> at_machine.PassLog:
    """Say what the pass would write to the log."""
    return at_machine.log_begun(shop, order_id, pass_id)


@router.post("/orders/{order_id}/passes/{pass_id}/log", status_code=201, dependencies=PRICING)
def log_pass(order_id: OrderId, pass_id: PassId, row: LogRow, shop: ShopDep) -> log.LogView:
    """Write the pass's row to the log."""
    named = row.model_copy(update={"pass_id": pass_id})
    return at_machine.log_pass(shop, order_id, named)


@router.get("/orders/{order_id}/passes/{pass_id}/threaded", dependencies=PRICING)
def find_threaded(order_id: OrderId, pass_id: PassId, shop: ShopDep) -> threaded.ThreadedView:
    """Tell what is on the needles of the pass's machine."""
    return threaded.find_threaded(shop, order_id, pass_id)


@router.put("/orders/{order_id}/passes/{pass_id}/threaded", dependencies=PRICING)
def set_threaded(
    order_id: OrderId, pass_id: PassId, asked: threaded.ThreadedIn, shop: ShopDep
) -> threaded.ThreadedView:
    """Set by hand what is on the needles of the pass's machine."""
    return threaded.set_threaded(shop, order_id, pass_id, asked)


@router.post("/orders/{order_id}/photos", status_code=201)
async def keep_photo(order_id: OrderId, shop: ShopDep, file: UploadFile) -> dict[str, str]:
    """Keep a photo; answers its hash."""
    data = await file.read(PHOTO_BYTES + 1)
    return {"photo": await run_in_threadpool(at_machine.keep_photo, shop, order_id, data)}


@router.get("/photos/{sha256}.jpg", response_class=Response, responses=JPEG_OK)
def photo(sha256: Annotated[str, Path(pattern=r"^[0-9a-f]{64}$")], shop: ShopDep) -> Response:
    """Return a photo."""
    headers = {"cache-control": "private, max-age=86400"}
    return Response(at_machine.find_photo(shop, sha256), media_type="image/jpeg", headers=headers)


@router.get("/orders/{order_id}/passes/{pass_id}/machine", dependencies=DEVICES)
def machine_now(order_id: OrderId, pass_id: PassId, shop: ShopDep) -> machines.MachineNow:
    """Ask how the machine of the pass stands."""
    return machines.machine_now(shop, order_id, pass_id)


@router.post("/orders/{order_id}/passes/{pass_id}/machine/design", dependencies=DEVICES)
def send_design(order_id: OrderId, pass_id: PassId, shop: ShopDep) -> machines.MachineNow:
    """Send the pass's design to the machine."""
    return machines.send_design(shop, order_id, pass_id)


@router.post("/orders/{order_id}/passes/{pass_id}/machine/start", dependencies=DEVICES)
def start_piece(
    order_id: OrderId, pass_id: PassId, asked: machines.MachineStart, shop: ShopDep
) -> machines.MachineNow:
    """Begin a piece at the machine."""
    return machines.start_piece(shop, order_id, pass_id, asked)


@router.post("/orders/{order_id}/passes/{pass_id}/machine/press/{what}", dependencies=DEVICES)
def press(
    order_id: OrderId, pass_id: PassId, what: machines.Press, shop: ShopDep
) -> machines.MachineNow:
    """Press a button of the machine."""
    return machines.press(shop, order_id, pass_id, what)


@router.get(
    "/orders/{order_id}/passes/{pass_id}/machine/events",
    response_class=StreamingResponse,
    responses=SSE_OK,
)
def follow_machine(
    order_id: OrderId,
    pass_id: PassId,
    shop: ShopDep,
    after: Annotated[int, Query(ge=0, le=2**53)] = 0,
) -> StreamingResponse:
    """Follow the machine: server-sent events, as it reports them."""
    lines = machines.follow_machine(shop, order_id, pass_id, after)
    headers = {"cache-control": "no-store", "x-accel-buffering": "no"}
    return StreamingResponse(lines, media_type="text/event-stream", headers=headers)


@router.post("/scale/weigh", dependencies=DEVICES)
def weigh(asked: machines.WeighAsked, shop: ShopDep) -> machines.Weighed:
    """Read the scale beside the machines."""
    return machines.weigh(shop, asked)
