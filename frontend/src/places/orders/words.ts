// What the states of an order are called, and what one waits for.
import { type OrderRow, type PieceRow } from "../../api";

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
type PieceState = PieceRow["state"];
export const PIECE_STATES: [PieceState, string][] = [
  ["waiting", "waiting"],
  ["prepared", "prepared"],
  ["sewn", "sewn"],
  ["good", "good"],
  ["mended", "mended"],
  ["spoiled", "spoiled"],
  ["surplus", "sewn for nothing"],
];
export const pieceWord = (state: PieceState) =>
  PIECE_STATES.find(([key]) => key === state)?.[1] ?? state;

/** How many pieces are done of how many; "" before the first. */
export function piecesWord(row: Pick<OrderRow, "pieces">): string {
  const pieces = row.pieces ?? {};
  const of = (...states: PieceState[]) => states.reduce((n, state) => n + (pieces[state] ?? 0), 0);
  const all = of("waiting", "prepared", "sewn", "good", "mended");
  return all > 0 ? `${of("sewn", "good", "mended")} of ${all}` : "";
}

export const waitsWord = (waits: OrderRow["waits"]) =>
  WAITS.find(([key]) => key === waits)?.[1] ?? waits;
