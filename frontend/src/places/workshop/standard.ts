// A standard's value, unit and range as people read and type them.
import { type Standard } from "../../api";
import { heldPercent, shownPercent } from "../../parts/percent";

type Measured = Pick<Standard, "unit">;

const isShare = ({ unit }: Measured) => unit === "share";

/** A value as its field shows it: a list with commas, a share of a hundred. */
export function textOf(value: unknown, standard?: Measured): string {
  const text = Array.isArray(value) ? value.join(", ") : String(value);
  return standard && isShare(standard) ? shownPercent(text) : text;
}

/** What is sent of a value as typed. */
export function sentOf(text: string, standard: Measured): unknown {
  if (standard.unit === "yes/no") return text === "true";
  return isShare(standard) ? heldPercent(text) : text;
}

/** The unit as people read it: a share is of a hundred, money in the shop's currency. */
export const unitOf = (standard: Measured, sign = "money"): string =>
  isShare(standard) ? "%" : standard.unit.replace(/^money/, sign);

/** A value with the sign that it is told with. */
export const saidOf = (text: string, standard: Measured): string =>
  isShare(standard) ? heldPercent(text) : text;
