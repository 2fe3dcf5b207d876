// A placement's place as it is typed, and where in a job something is, in words.
import { capital, words } from "../../parts/format";
import { text, type DraftPlace, type DraftPlacement } from "../../draft";

/** Put a placement's design elsewhere; a place left blank is the usual one. */
export function setPlace(placement: DraftPlacement, change: DraftPlace) {
  const place = { ...placement.place, ...change };
  const said = Object.entries(place).filter(
    ([, value]) => value !== undefined && value !== "" && value !== 0 && value !== false,
  );
  if (said.length > 0) placement.place = Object.fromEntries(said) as DraftPlace;
  else delete placement.place;
}

/** Where in a job something is, for people: "lines[1].goods.unit_cost" → "Line 2, unit cost". */
export function whereText(where: string): string {
  const [line, place] = ["lines", "placements"].map((key) => {
    const n = Number(new RegExp(`${key}\\[(\\d+)\\]`).exec(where)?.[1] ?? 0);
    return n > 0 ? `${key === "lines" ? "line" : "place"} ${n + 1}` : "";
  });
  const last = (where.split(".").at(-1) ?? "").replace(/\[\d+\]$/, "").replace(/_(mm|deg)$/, "");
  const name = /^(lines|placements)?$/.test(last) ? "" : words(last);
  return capital([line, place, name].filter(Boolean).join(", "));
}

/** The seller's own colours over the design's, in sewing order. */
export const threadColours = (placement: DraftPlacement): string[] =>
  placement.design.thread_colours ?? [];

/** A length that is typed as a plain number of millimetres; null where it is blank or has a unit. */
export function plainMm(typed: unknown): number | null {
  const held = text(typed).trim();
  return /^-?\d+(\.\d+)?$/.test(held) ? Number(held) : null;
}
