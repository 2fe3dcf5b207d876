// What people type for a number: "8,200", "8.2k", "6,40", "£6.40", "35 %".
import { narrowSymbol } from "./format";

const GROUPED = /^\d{1,3}(?:[, ’']\d{3})+(?:\.\d+)?$/; // 1,234.5
const GROUPED_COMMA = /^\d{1,3}(?:[. ’']\d{3})+,\d+$/; // 1.234,5
const COMMA = /^\d+,\d+$/; // 6,40
const PLAIN = /^\d+(?:\.\d+)?$|^\.\d+$/;

/** A typed number as plain digits with a point; null when it is none. 1,234 is over a thousand. */
export function plainNumber(text: string): string | null {
  const typed = text.trim().replace(/\u00a0|\u202f/g, " ");
  const sign = /^[-−]/.test(typed) ? "-" : "";
  const [, digits = "", thousand] = /^([^k]*?)\s*(k)?$/i.exec(typed.slice(sign.length)) ?? [];
  let clean: string;
  if (PLAIN.test(digits)) clean = digits;
  else if (GROUPED.test(digits) && !digits.startsWith("0,")) clean = digits.replace(/[, ’']/g, "");
  else if (GROUPED_COMMA.test(digits)) clean = digits.replace(/[. ’']/g, "").replace(",", ".");
  else if (COMMA.test(digits)) clean = digits.replace(",", ".");
  else return null;
  return sign + (thousand ? String(Number((Number(clean) * 1000).toFixed(6))) : clean);
}

/** Typed text as a number when it is one ("8,200", "8.2k"); else as it is, to be refused by name. */
export function typedNumber(text: string): number | string | undefined {
  if (text.trim() === "") return undefined;
  const plain = plainNumber(text);
  return plain === null ? text.trim() : Number(plain);
}

/** Typed money without the currency's sign; with another's it stays, to be refused. */
export function typedMoney(text: string, currency: string): string | undefined {
  const sign = currency ? narrowSymbol(currency) : "";
  let bare = text.trim();
  for (const mark of [sign, currency])
    if (mark && bare.startsWith(mark)) bare = bare.slice(mark.length).trim();
    else if (mark && bare.endsWith(mark)) bare = bare.slice(0, -mark.length).trim();
  return bare === "" ? undefined : (plainNumber(bare) ?? bare);
}

/** A typed percentage as a share. */
export function typedShare(text: string): string | undefined {
  const bare = text.trim().replace(/\s*%$/, "");
  if (bare === "") return undefined;
  const plain = plainNumber(bare);
  return plain === null ? bare : String(Number((Number(plain) / 100).toFixed(6)));
}
