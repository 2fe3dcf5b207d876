// Lengths in the seller's units: shown, and typed without one. The server reads units itself.
import { number } from "./format";

export type Units = "metric" | "imperial";

const MM_PER_INCH = 25.4;
const M_PER_YARD = 0.9144;
const SIXTEENTHS = Array.from({ length: 16 }, (_, n) => {
  const shared = [16, 8, 4, 2].find((d) => n % (16 / d) === 0 && n % (32 / d) !== 0) ?? 1;
  return n === 0 ? "" : `${(n * shared) / 16}/${shared}`;
});

/** Inches in sixteenths; what is under the first with two places. */
function inches(mm: number): string {
  if (mm * 16 < MM_PER_INCH) return number(mm / MM_PER_INCH, 2);
  const sixteenths = Math.round((mm / MM_PER_INCH) * 16);
  const [whole, rest] = [Math.floor(sixteenths / 16), SIXTEENTHS[sixteenths % 16] ?? ""];
  return [whole || !rest ? String(whole) : "", rest].filter(Boolean).join(" ");
}

/** A length without its unit, for a drawing's measures. */
export function bareLength(mm: number, units: Units): string {
  if (units === "metric") return number(mm, 1);
  return mm < 0 ? `−${inches(-mm)}` : inches(mm);
}

/** A length with its unit. */
export function lengthText(mm: number, units: Units): string {
  return `${bareLength(mm, units)} ${units === "metric" ? "mm" : "in"}`;
}

/** A long length, of thread or of a roll: metres or yards. */
export function longText(m: number, units: Units, places = 2): string {
  return units === "metric"
    ? `${number(m, places, places)} m`
    : `${number(m / M_PER_YARD, places, places)} yd`;
}

/** Two lengths, across and down. */
export function sizeText(across: number, down: number, units: Units): string {
  return `${bareLength(across, units)} × ${lengthText(down, units)}`;
}

const BARE = /^-?\d+([.,]\d+)?(\s+\d+\/\d+)?$|^-?\d+\/\d+$/;

/** What a draft holds of a typed length: a bare number is millimetres, all else has its unit. */
export function heldLength(typed: string, units: Units): string {
  const text = typed.trim();
  return units === "imperial" && BARE.test(text) ? `${text} in` : text;
}

/** What a field shows of a held length. */
export function shownLength(held: string, units: Units): string {
  if (units === "metric") return held.replace(/\s*mm$/, "");
  if (/^-?\d+(\.\d+)?$/.test(held)) return bareLength(Number(held), units);
  return held.replace(/\s*in$/, "");
}
