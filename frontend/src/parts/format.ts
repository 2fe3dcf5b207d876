// Text for figures, in one place.

// How the shop writes figures and dates; kept here, so that a page begins with it.
const NAME = "clothyard.locale";

function kept(): string {
  try {
    return localStorage.getItem(NAME) ?? "en-GB";
  } catch {
    return "en-GB"; // a private window without storage
  }
}

let locale = kept();
const listeners = new Set<() => void>();
const made = new Map<string, Intl.NumberFormat>();

/** Write figures and dates so from now on; everything that is shown is written anew. */
export function setLocale(to: string) {
  if (to === locale) return;
  locale = to;
  made.clear();
  try {
    localStorage.setItem(NAME, to);
  } catch {
    // it is asked again next time
  }
  listeners.forEach((tell) => tell());
}

export const localeNow = () => locale;
export const onLocale = (tell: () => void) => {
  listeners.add(tell);
  return () => void listeners.delete(tell);
};

/** A number format, made once: making one costs more than all it will ever write. */
function format(options: Intl.NumberFormatOptions): Intl.NumberFormat {
  const key = JSON.stringify(options);
  const known = made.get(key) ?? new Intl.NumberFormat(locale, options);
  made.set(key, known);
  return known;
}

export function money(amount: string | number, currency: string): string {
  return format({ style: "currency", currency }).format(Number(amount));
}

/** The currency's sign, as the locale writes it. */
export function symbol(currency: string): string {
  const parts = format({ style: "currency", currency }).formatToParts(0);
  return parts.find((part) => part.type === "currency")?.value ?? currency;
}

const minor = new Map<string, number>();

/** How many decimals the currency has: pence 2, yen 0, dinars 3. */
export function minorUnits(currency: string): number {
  const found =
    minor.get(currency) ??
    format({ style: "currency", currency }).resolvedOptions().maximumFractionDigits ??
    2;
  minor.set(currency, found); // asked once: asking costs more than writing a figure
  return found;
}

/** What a price moves by: the house's step, never finer than the currency has coins for. */
export function priceStep(roundTo: string | number, currency: string): number {
  return Math.max(Number(roundTo) || 0, 10 ** -minorUnits(currency));
}

/** A price as it is kept: with the currency's decimals. */
export const keptPrice = (price: number, currency: string) => price.toFixed(minorUnits(currency));

/** Money without its sign, for ticks and tables. */
export function plainMoney(amount: string | number, currency: string): string {
  return number(amount, minorUnits(currency), minorUnits(currency));
}

export function signedMoney(amount: string, currency: string): string {
  const value = Number(amount);
  if (value === 0) return "no difference";
  return `${value > 0 ? "+" : "−"}${money(Math.abs(value), currency)}`;
}

export function number(value: string | number, most = 2, least = 0): string {
  return format({
    maximumFractionDigits: most,
    minimumFractionDigits: least,
  }).format(Number(value));
}

/** A count with its word: "1 piece", "2 pieces". */
export const counted = (n: number, one: string, many = `${one}s`): string =>
  `${number(n)} ${n === 1 ? one : many}`;

export function percent(share: string | number): string {
  return format({
    style: "percent",
    minimumFractionDigits: 1,
    maximumFractionDigits: 1,
  }).format(Number(share));
}

/** An ISO date or moment as a day; "" for none. */
export function day(iso: string): string {
  if (!iso) return "";
  const date = new Date(`${iso.slice(0, 10)}T12:00:00`);
  return new Intl.DateTimeFormat(locale, {
    day: "numeric",
    month: "short",
    year: "numeric",
  }).format(date);
}

/** An ISO moment as a day and an hour, here: "27 Nov 2026, 09:05"; "" for none. */
export function moment(iso: string): string {
  if (!iso) return "";
  return new Intl.DateTimeFormat(locale, {
    day: "numeric",
    month: "short",
    year: "numeric",
    hour: "2-digit",
    minute: "2-digit",
  }).format(new Date(iso));
}

/** An ISO moment as an hour, here: "09:05". */
export const clock = (iso: string): string =>
  new Intl.DateTimeFormat(locale, { hour: "2-digit", minute: "2-digit" }).format(new Date(iso));

/** A size of a file as people read it: "3.2 MB". */
export function bytes(size: number): string {
  const units = ["bytes", "kB", "MB", "GB"];
  const at = Math.min(units.length - 1, Math.floor(Math.log10(Math.max(size, 1)) / 3));
  return `${number(size / 1000 ** at, at === 0 ? 0 : 1)} ${units[at] ?? ""}`;
}

/** "needle_thread" → "needle thread". */
export function words(id: string): string {
  return id.replaceAll("_", " ").replaceAll("-", " ");
}

/** With a capital: what begins a label. */
export const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

/** Words in a row: "goods, how many and the design". */
export function listed(parts: string[]): string {
  return parts.length > 1
    ? `${parts.slice(0, -1).join(", ")} and ${parts[parts.length - 1] ?? ""}`
    : (parts[0] ?? "");
}
