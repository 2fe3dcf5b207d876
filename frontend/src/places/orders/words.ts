// What the states of an order are called, and what one waits for.
import type { OrderRow, PieceRow } from "../../api/client";

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

/** What is seen of a spoiled piece. */
export const SPOILED: [string, string][] = [
  ["pucker", "puckered"],
  ["gap", "outline off its fill"],
  ["loops-top", "loops on top"],
  ["bobbin-top", "bobbin colour on top"],
  ["nest", "a nest under the plate"],
  ["needle-break", "a needle broke"],
  ["skip", "stitches missing"],
  ["sunk", "sunk in the pile"],
  ["closed", "letters filled up"],
  ["burn", "a ring of the hoop stays"],
  ["crooked", "tilted or off the mark"],
  ["caught", "another layer sewn in"],
  ["holes", "holes along an edge"],
  ["wrong-colour", "a wrong thread"],
  ["wrong-word", "a wrong word, name or size"],
  ["stain", "stained"],
  ["shrink", "rippled after the wash"],
];
export const waitsWord = (waits: OrderRow["waits"]) =>
  WAITS.find(([key]) => key === waits)?.[1] ?? waits;
