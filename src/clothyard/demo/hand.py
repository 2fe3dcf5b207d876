"""Somebody at the sample shop's machine: sends the design, starts a piece, serves the stops."""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping
from datetime import UTC, datetime

from clothyard.core.errors import ClothyardError
from clothyard.core.run.at_machine import Kind
from clothyard.core.run.event import EventIn
from clothyard.ports.machine import MachineState
from clothyard.services.house.standards import change_standard, shop_house
from clothyard.services.orders import follow as orders_service
from clothyard.services.run import at_machine, machines
from clothyard.store.shop import Shop

MACHINE_ADDRESS, SCALE_ADDRESS = "http://127.0.0.1:8644", "http://127.0.0.1:8645"
MACHINE, SCALE = "machines.compact-10.address", "devices.scale_address"
SUPPLIER = "buying.supplier_address"
HERE = "http://127.0.0.1:"
ROUND_S = 1.0
WAITS_S = 3.0
GIVES_UP_S = 30.0
STOPS: dict[str, Kind] = {"break": "broke", "bobbin-out": "bobbin"}


def has_devices(shop: Shop) -> None:
    """Let the sample shop know its machine and its scale."""
    change_standard(shop, MACHINE, MACHINE_ADDRESS)
    change_standard(shop, SCALE, SCALE_ADDRESS)


def use_standins(shop: Shop, beside: Mapping[str, str]) -> None:
    """Let the sample shop know where its stand-ins are served this time, by standard.

    One that was given another address, or none, keeps it.
    """
    house = shop_house(shop)
    known = {
        MACHINE: house.machines["compact-10"].address if "compact-10" in house.machines else "",
        SCALE: house.devices.scale_address,
        SUPPLIER: house.buying.supplier_address,
    }
    for key, address in beside.items():
        if known[key].startswith(HERE) and known[key] != address:
            change_standard(shop, key, address)


def first_pass(shop: Shop) -> tuple[int, str] | None:
    """Find the pass that is on the machine: of the order in work, the first that is not sewn."""
    found = orders_service.list_orders(
        shop, search="", state="in-work", sort="promise", down=None, limit=20
    )
    for row in found.items:
        for each in at_machine.list_passes(shop, row.id):
            if each.done < each.pieces:
                return row.id, each.pass_id
    return None


class Hand:
    """Works a pass at the machine until it is sewn, or the shop is closed."""

    def __init__(self, shop: Shop, order_id: int, pass_id: str):
        self.shop, self.order_id, self.pass_id = shop, order_id, pass_id
        self.over = threading.Event()
        self.attempt = 0
        self.stem = f"{order_id}:{pass_id}:"

    def work(self) -> None:
        """Go on, a look at the machine after the other."""
        away_since = time.monotonic()
        while not self.over.wait(ROUND_S):
            try:
                now = machines.machine_now(self.shop, self.order_id, self.pass_id)
                if now.state is None:
                    if time.monotonic() - away_since > GIVES_UP_S:
                        return
                    continue
                away_since = time.monotonic()
                if self.step(now):
                    return
            except ClothyardError:
                continue  # refused for now: looked at again

    def step(self, now: machines.MachineNow) -> bool:
        """Do what the machine waits for; whether all is sewn."""
        state = now.state
        assert state is not None
        if state.state == "sewing":
            return False
        if state.state == "stopped":
            kind = STOPS.get(state.why)
            if kind and state.run.startswith(self.stem):  # its last event is why it stopped
                self._write(f"m:{state.epoch}:{state.n}", kind, self._piece(state.run))
            self.over.wait(WAITS_S)
            machines.press(self.shop, self.order_id, self.pass_id, "go")
            return False
        view = at_machine.find_pass(self.shop, self.order_id, self.pass_id)
        if state.state == "ended" and self._sewn(view, state):
            view = at_machine.find_pass(self.shop, self.order_id, self.pass_id)
            self.over.wait(WAITS_S)
        piece = next((p for p in view.pieces if p.state in {"waiting", "sewing"}), None)
        if piece is None:
            return True
        if now.wrong or not state.sha256:
            machines.send_design(self.shop, self.order_id, self.pass_id)
        self.attempt += 1
        asked = machines.MachineStart(piece=piece.id, attempt=self.attempt)
        machines.start_piece(self.shop, self.order_id, self.pass_id, asked)
        return False

    def _piece(self, run: str) -> str:
        return run.removeprefix(self.stem).rpartition(":")[0]

    def _write(self, id_: str, kind: Kind, piece: str, needle_s: float | None = None) -> None:
        """Write down what happened, as the page at the machine does: the same event."""
        at = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
        event = EventIn(id=id_, kind=kind, at=at, piece=piece, needle_s=needle_s)
        written = at_machine.EventsIn(events=[event])
        at_machine.write_events(self.shop, self.order_id, self.pass_id, written)

    def _sewn(self, view: at_machine.PassView, state: MachineState) -> bool:
        """Write down that a piece is done; whether it was news."""
        if not state.run.startswith(self.stem):
            return False
        piece = self._piece(state.run)
        there = next((p for p in view.pieces if p.id == piece), None)
        if there is None or there.state not in {"waiting", "sewing"}:
            return False
        self._write(f"m:{state.epoch}:{state.n}", "done", piece, state.needle_s)
        return True


def begin_work(shop: Shop, address: str) -> Hand | None:
    """Let somebody work at the machine, beside the server; None where nothing is to sew.

    `address` is the stand-in's: no other machine is worked at.
    """
    if shop_house(shop).machines["compact-10"].address != address:
        return None
    found = first_pass(shop)
    if found is None:
        return None
    hand = Hand(shop, *found)
    threading.Thread(target=hand.work, daemon=True).start()
    return hand
