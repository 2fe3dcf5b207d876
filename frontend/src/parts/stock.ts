// Amounts of the shelf in the seller's units, and where an item is looked at.
import { counted, number } from "./format";
import { longText, type Units } from "./units";

/** An amount of an item: metres or yards, or a bare count. */
export const amountText = (amount: string, unit: string, units: Units) =>
  unit === "m" ? longText(Number(amount), units, 1) : number(amount);

export const itemAt = (item: string) => `/shelf/item?item=${encodeURIComponent(item)}`;

export const packs = (count: number, pack: string) =>
  pack === "each" ? counted(count, "piece") : `${number(count)} × ${pack}`;
