// What is typed of a row: minutes for seconds, metres, counts; "" where nobody measured.
import { type LogRow } from "../../api";

type Measured = LogRow["actual"];
export type MeasuredName = keyof Measured;

/** Name, what it is called, its unit, and what its unit is in the document's. */
export const MEASURED: [MeasuredName, string, string, number][] = [
  ["needle_s", "Needle time", "min", 60],
  ["loading_s", "At the machine", "min", 60],
  ["hooping_s", "Preparing and hooping", "min", 60],
  ["finishing_s", "Finishing", "min", 60],
  ["order_s", "Order tasks", "min", 60],
  ["elapsed_s", "Elapsed", "min", 60],
  ["needle_m", "Needle thread", "m", 1],
  ["bobbin_m", "Bobbin thread", "m", 1],
  ["bobbins", "Bobbins", "", 1],
  ["breaks", "Thread breaks", "", 1],
];

/** What a field shows of a kept figure. */
export function shown(value: number | null | undefined, by: number): string {
  if (value === null || value === undefined) return "";
  return String(Number((value / by).toFixed(by === 60 ? 2 : 3)));
}

/** What is kept of a typed figure: null for nothing, NaN where it is no amount. */
export function typed(text: string, by: number): number | null {
  const bare = text.trim().replace(",", ".");
  if (!bare) return null;
  const parts = bare.split(":").map(Number); // 12:30 is twelve minutes and a half
  if (parts.length === 2 && by === 60) return (parts[0] ?? NaN) * 60 + (parts[1] ?? NaN);
  const value = Number(bare);
  return value >= 0 ? value * by : NaN;
}
