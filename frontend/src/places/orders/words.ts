// What the states of an order are called, and what one waits for.
import type { OrderRow } from "../../api/client";

export const STATES: [OrderRow["state"], string][] = [
  ["accepted", "accepted"],
  ["waiting", "waiting"],
  ["ready", "ready"],
  ["in-work", "in work"],
  ["done", "done"],
  ["handed-over", "handed over"],
  ["cancelled", "cancelled"],
];
export const WAITS: [OrderRow["waits"], string][] = [
  ["", "nothing"],
  ["goods", "goods"],
  ["materials", "materials"],
  ["proof", "the proof"],
  ["file", "the stitch file"],
  ["sample", "the sample"],
  ["payment", "a payment"],
];
export const stateWord = (row: Pick<OrderRow, "state" | "stands">) =>
  row.stands ? (STATES.find(([key]) => key === row.state)?.[1] ?? row.state) : "answer taken back";
export const waitsWord = (waits: OrderRow["waits"]) =>
  WAITS.find(([key]) => key === waits)?.[1] ?? waits;
