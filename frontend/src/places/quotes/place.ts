// A placement's place in the draft: what is typed of it, lengths as they are held.
import { capital, words } from "../../parts/format";
import type { DraftPlacement } from "./draft";

export interface DraftPlace {
  gap_mm: string;
  side_mm: string;
  turn: number;
  tilt_deg: string;
  mirror: boolean;
}

type Kept = Record<string, unknown>;
const text = (value: unknown) => (value === undefined || value === null ? "" : String(value));

export function placeOf(placement: DraftPlacement): DraftPlace {
  const kept = (placement.rest["place"] ?? {}) as Kept;
  return {
    gap_mm: text(kept["gap_mm"]),
    side_mm: text(kept["side_mm"]),
    turn: Number(kept["turn"] ?? 0),
    tilt_deg: text(kept["tilt_deg"]),
    mirror: kept["mirror"] === true,
  };
}

/**
 * A number where it reads back as it was typed, else the text for the server to read ("12.0" on the
 * way to "12.05", "9cm"); nothing where it is blank.
 */
export function typedLength(held: string): number | string | undefined {
  const clean = held.trim();
  if (clean === "") return undefined;
  const number = Number(clean);
  return Number.isFinite(number) && String(number) === clean ? number : clean;
}

/** The change to a placement that puts its design elsewhere; a place left blank is the usual one. */
export function withPlace(
  placement: DraftPlacement,
  change: Partial<DraftPlace>,
): Pick<DraftPlacement, "rest"> {
  const to = { ...placeOf(placement), ...change };
  const place: Kept = {
    gap_mm: typedLength(to.gap_mm),
    side_mm: typedLength(to.side_mm),
    turn: to.turn || undefined,
    tilt_deg: typedLength(to.tilt_deg),
    mirror: to.mirror || undefined,
  };
  const said = Object.fromEntries(Object.entries(place).filter(([, value]) => value !== undefined));
  const rest = { ...placement.rest };
  delete rest["place"];
  return { rest: Object.keys(said).length > 0 ? { ...rest, place: said } : rest };
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
export function threadColours(placement: DraftPlacement): string[] {
  const design = (placement.rest["design"] ?? {}) as Kept;
  const list = design["thread_colours"];
  return Array.isArray(list) ? (list as string[]) : [];
}

/** The change to a placement that gives its design these threads; none: the design's own. */
export function withThreads(
  placement: DraftPlacement,
  colours: string[],
): Pick<DraftPlacement, "rest"> {
  const design = { ...(placement.rest["design"] as Kept | undefined) };
  delete design["thread_colours"];
  if (colours.length > 0) design["thread_colours"] = colours;
  return { rest: { ...placement.rest, design } };
}
