// The costs of a yard, in rod order, with their names and colours.
import { type PieceCost } from "../api";
import { lay, type Length } from "./yardRod.geometry";

type Part = Exclude<keyof PieceCost, "total">;

export interface CostKind {
  id: string;
  name: string;
  colour: string;
  parts: Part[];
  working: string;
}

export const COSTS: CostKind[] = [
  { id: "goods", name: "goods", colour: "goods", parts: ["goods"], working: "cost.goods" },
  {
    id: "needle",
    name: "needle thread",
    colour: "needle",
    parts: ["needle_thread"],
    working: "cost.needle_thread",
  },
  {
    id: "bobbin",
    name: "bobbin thread",
    colour: "bobbin",
    parts: ["bobbin_thread"],
    working: "cost.bobbin_thread",
  },
  {
    id: "backing",
    name: "backing, topping",
    colour: "backing",
    parts: ["backing", "topping"],
    working: "cost.backing",
  },
  {
    id: "consumables",
    name: "packing",
    colour: "consumables",
    parts: ["consumables", "packing"],
    working: "cost.packing",
  },
  {
    id: "sheet",
    name: "sheet goods",
    colour: "sheet",
    parts: ["sheet_goods"],
    working: "cost.sheet_goods",
  },
  {
    id: "machine",
    name: "machine",
    colour: "machine",
    parts: ["machine"],
    working: "cost.machine",
  },
  { id: "labour", name: "handwork", colour: "labour", parts: ["labour"], working: "cost.labour" },
  { id: "setup", name: "set-up", colour: "setup", parts: ["set_up"], working: "cost.set_up" },
  {
    id: "overhead",
    name: "overhead",
    colour: "overhead",
    parts: ["overhead"],
    working: "cost.overhead",
  },
  {
    id: "spoilage",
    name: "spoilage",
    colour: "spoilage",
    parts: ["spoilage"],
    working: "cost.spoilage",
  },
];

/** A piece's or an order's costs as the lengths of its rod. */
export function lengthsOf(parts: Record<string, string>): Length[] {
  return lay(
    COSTS.map((kind) => ({
      ...kind,
      amount: kind.parts.reduce((sum, part) => sum + Number(parts[part]), 0),
    })),
  );
}
