// The draft of a quote: what was typed, as typed. The server says what is wrong with it.
import { applyPatch, type Operation } from "fast-json-patch";
import { typedMoney, typedNumber, typedShare } from "../../parts/typed";
import type { QuoteDocument, QuoteView } from "../../api/client";

type Json = Record<string, unknown>;
const text = (value: unknown) => (value === undefined || value === null ? "" : String(value));
const part = (value: unknown): Json => (value && typeof value === "object" ? (value as Json) : {});

export interface DraftDesign {
  way: "file" | "count" | "words";
  text: string;
  sha256: string;
  stitches: string;
  kind: string;
  colours: string;
  width_mm: string;
  height_mm: string;
  trims: string;
  letter_height_mm: string;
  repeat: boolean;
}

export type MethodValue = string | number | boolean;

export interface DraftPlacement {
  position: string;
  design: DraftDesign;
  methods: Record<string, MethodValue>;
  /** What this screen does not edit (place, band, steps …) is kept as it is. */
  rest: Record<string, unknown>;
}

export interface DraftCell {
  size: string;
  colour: string;
  quantity: string;
  unit_cost: string;
}

export interface DraftLine {
  /** `blank` is one of the shelf's; what is typed goes before it. */
  goods: { class: string; blank: string; unit_cost: string; supplied_by: "shop" | "customer" };
  quantity: string;
  cells: DraftCell[];
  /** One a line, as typed. */
  names: string;
  placements: DraftPlacement[];
  finishing: string[];
  digitising: string;
  /** Of a hundred, as typed. */
  discount: string;
  sample?: { pieces: number; wash: boolean };
  unit_price?: string;
  rest: Record<string, unknown>;
}

export interface Draft {
  customer: string;
  email: string;
  due_on: string;
  valid_until: string;
  notes: string;
  currency: string;
  lines: DraftLine[];
  price_method: string;
  margin: string;
  tier_mode?: string;
  rest: Record<string, unknown>;
}

const NO_DESIGN: DraftDesign = {
  way: "file",
  text: "",
  sha256: "",
  stitches: "",
  kind: "mixed",
  colours: "",
  width_mm: "",
  height_mm: "",
  trims: "",
  letter_height_mm: "",
  repeat: false,
};

export const newPlacement = (): DraftPlacement => ({
  position: "",
  design: { ...NO_DESIGN },
  methods: {},
  rest: {},
});

export const newLine = (): DraftLine => ({
  goods: { class: "", blank: "", unit_cost: "", supplied_by: "shop" },
  quantity: "",
  cells: [],
  names: "",
  placements: [newPlacement()],
  finishing: [],
  digitising: "",
  discount: "",
  rest: {},
});

export const EMPTY: Draft = {
  customer: "",
  email: "",
  due_on: "",
  valid_until: "",
  notes: "",
  currency: "",
  lines: [newLine()],
  price_method: "",
  margin: "",
  rest: {},
};

function designOf(design: DraftDesign): Record<string, unknown> {
  const letters = { letter_height_mm: typedNumber(design.letter_height_mm), repeat: design.repeat };
  if (design.way === "file") return { sha256: design.sha256, ...letters };
  if (design.way === "words")
    return { text: design.text, height_mm: typedNumber(design.height_mm), repeat: design.repeat };
  return {
    stitches: typedNumber(design.stitches),
    kind: design.kind,
    colours: typedNumber(design.colours),
    width_mm: typedNumber(design.width_mm),
    height_mm: typedNumber(design.height_mm),
    trims: typedNumber(design.trims),
    ...letters,
  };
}

/** Names as typed: one a line, a blank line for a piece that is left blank. */
export function namesOf(text: string): string[] {
  const lines = text.replace(/\s+$/, "").split(/\r?\n/);
  return lines.length === 1 && lines[0]?.trim() === "" ? [] : lines.map((name) => name.trim());
}

/** A size that is listed without a number yet is left out; one with another value is refused. */
export const isCounted = (cell: DraftCell) =>
  cell.quantity.trim() !== "" || !(cell.size || cell.colour);

export const NAME_MARK = "{name}";
export const hasNames = (line: DraftLine) =>
  line.placements.some((p) => p.design.way === "words" && p.design.text.includes(NAME_MARK));

/** Lengths are read by the server; a tilt is a number of degrees. */
const placedOf = (place: Json): Json => ({
  ...place,
  tilt_deg: typedNumber(text(place["tilt_deg"])),
});

/** How goods are bought, out of what was typed; read here, so that "1,200" can be typed. */
export function boughtOf(typed: Json, currency: string): Json {
  const { price_breaks: breaks, pack, delivery, liability, ...rest } = typed;
  return {
    ...rest,
    price_breaks: Array.isArray(breaks)
      ? breaks.map((row: Json) => ({
          quantity: typedNumber(text(row["quantity"])) ?? "",
          unit_cost: typedMoney(text(row["unit_cost"]), currency) ?? "",
        }))
      : undefined,
    pack: typedNumber(text(pack)),
    delivery: typedMoney(text(delivery), currency),
    liability: typedMoney(text(liability), currency),
  };
}

function lineOf(line: DraftLine, currency: string): Record<string, unknown> {
  const names = namesOf(line.names);
  return {
    ...line.rest,
    goods: {
      ...boughtOf(part(line.rest["goods"]), currency),
      class: line.goods.class,
      blank: line.goods.blank || undefined,
      unit_cost: typedMoney(line.goods.unit_cost, currency),
      supplied_by: line.goods.supplied_by,
    },
    quantity: typedNumber(line.quantity),
    cells: line.cells.filter(isCounted).map((cell) => ({
      size: cell.size,
      colour: cell.colour,
      quantity: typedNumber(cell.quantity),
      unit_cost: typedMoney(cell.unit_cost, currency),
    })),
    names: names.length > 0 ? names : undefined,
    placements: line.placements.map((placement) => ({
      ...placement.rest,
      ...(placement.rest["place"] ? { place: placedOf(part(placement.rest["place"])) } : {}),
      position: placement.position || undefined,
      design: { ...part(placement.rest["design"]), ...designOf(placement.design) },
      methods: placement.methods,
    })),
    finishing: line.finishing,
    digitising: line.digitising || undefined,
    discount: typedShare(line.discount),
    sample: line.sample,
    unit_price: line.unit_price,
  };
}

/** The job document of a draft; what is blank stays out and is proposed. */
export function jobOf(draft: Draft): Record<string, unknown> {
  return {
    ...draft.rest,
    format: "clothyard-job/1",
    currency: draft.currency || undefined,
    lines: draft.lines.map((line) => lineOf(line, draft.currency)),
    delivery: typedMoney(text(draft.rest["delivery"]), draft.currency),
    price_method: draft.price_method || undefined,
    margin: typedShare(draft.margin),
    tier_mode: draft.tier_mode,
  };
}

function designMissing({ way, sha256, stitches, text }: DraftDesign): boolean {
  return !{ file: sha256, count: stitches.trim(), words: text.trim() }[way];
}

/** What is still asked of a line: goods, how many, design. */
function missingOf(line: DraftLine): string[] {
  const found: string[] = [];
  const celled = line.cells.length > 0 && line.cells.every((cell) => cell.unit_cost.trim());
  const priced = celled || line.goods.blank !== "";
  if (!line.goods.class) found.push("the goods");
  else if (!line.goods.unit_cost.trim() && line.goods.supplied_by === "shop" && !priced)
    found.push("what a blank costs");
  if (!line.quantity.trim()) found.push("how many");
  line.placements.forEach((placement, k) => {
    if (designMissing(placement.design))
      found.push(k === 0 ? "the design" : `the design of place ${k + 1}`);
  });
  return found;
}

/** What is still asked for a price, of every line. */
export function missing(draft: Draft): string[] {
  const several = draft.lines.length > 1;
  return draft.lines.flatMap((line, n) => {
    const found = missingOf(line);
    return several ? found.map((what) => `${what} (line ${n + 1})`) : found;
  });
}

/** A list up to its last part that is done. */
function untilDone<T>(parts: T[], isDone: (part: T) => boolean): T[] {
  return parts.slice(0, parts.findLastIndex(isDone) + 1);
}

/**
 * What of a draft can be priced: all but the last lines and places that are not filled in yet, so
 * that what was priced stays in sight while one more is begun. Null when that is not enough, or
 * when lines are sold as a set.
 */
export function priceable(draft: Draft): Draft | null {
  if (missing(draft).length === 0) return draft;
  if (draft.rest["kits"]) return null;
  const placed = draft.lines.map((line) => ({
    ...line,
    placements: untilDone(line.placements, ({ design }) => !designMissing(design)),
  }));
  const lines = untilDone(placed, (line) => line.placements.length > 0 && !missingOf(line).length);
  const part = { ...draft, lines };
  return lines.length > 0 && missing(part).length === 0 ? part : null;
}

/** Apply an advice's fix, a JSON Patch on the job, to the draft. */
export function patched(draft: Draft, patch: Record<string, unknown>[]): Draft {
  const job = JSON.parse(JSON.stringify(jobOf(draft))) as Json;
  const fixed = applyPatch(job, patch as unknown as Operation[]).newDocument;
  return { ...draft, ...jobPart(fixed) };
}

/** The draft without the value at a place of its job; null where there is none to take out. */
export function takenOut(draft: Draft, where: string): Draft | null {
  const steps = where.split(/[.[\]]+/).filter(Boolean);
  let at: unknown = JSON.parse(JSON.stringify(jobOf(draft)));
  for (const step of steps) {
    if (!at || typeof at !== "object" || !(step in at)) return null;
    at = (at as Json)[step];
  }
  if (steps.length === 0 || where.endsWith("]")) return null; // one of a list is not taken out
  return patched(draft, [{ op: "remove", path: `/${steps.join("/")}` }]);
}

interface Against {
  code: string;
  where: string;
  line: number;
  reason: string;
}

/** The reason kept in the job for going against an advice. */
export function reasonIn(
  draft: Draft,
  advice: { code: string; where: string },
  line: number,
): string {
  const kept = (draft.rest["overruled"] as Against[] | undefined) ?? [];
  const { code, where } = advice;
  return kept.find((o) => o.code === code && o.where === where && o.line === line)?.reason ?? "";
}

/** Goes against an advice, with the reason kept in the job; an empty reason heeds it again. */
export function overruledIn(
  draft: Draft,
  advice: { code: string; where: string },
  line: number,
  reason: string,
): Draft {
  const kept = (draft.rest["overruled"] as Against[] | undefined) ?? [];
  const { code, where } = advice;
  const others = kept.filter((o) => !(o.code === code && o.where === where && o.line === line));
  const overruled = reason ? [...others, { code, where, line, reason }] : others;
  return { ...draft, rest: { ...draft.rest, overruled } };
}

function without(from: Json, ...keys: string[]): Json {
  return Object.fromEntries(Object.entries(from).filter(([key]) => !keys.includes(key)));
}

const DESIGN_KEYS = Object.keys(NO_DESIGN);

function placementOf(placement: Json): DraftPlacement {
  const design = part(placement["design"]);
  const way = design["stitches"] !== undefined ? "count" : design["text"] ? "words" : "file";
  const other = without(design, ...DESIGN_KEYS);
  return {
    position: text(placement["position"]),
    design: {
      way,
      text: text(design["text"]),
      sha256: text(design["sha256"]),
      stitches: text(design["stitches"]),
      kind: text(design["kind"]) || "mixed",
      colours: text(design["colours"]),
      width_mm: text(design["width_mm"]),
      height_mm: text(design["height_mm"]),
      trims: text(design["trims"]),
      letter_height_mm: text(design["letter_height_mm"]),
      repeat: design["repeat"] === true,
    },
    methods: part(placement["methods"]) as Record<string, MethodValue>,
    rest: {
      ...without(placement, "position", "design", "methods"),
      ...(Object.keys(other).length > 0 ? { design: other } : {}),
    },
  };
}

function draftLine(line: Json): DraftLine {
  const goods = part(line["goods"]);
  const list = (value: unknown) => (Array.isArray(value) ? (value as unknown[]).map(part) : []);
  const placements = list(line["placements"]);
  const other = without(goods, "class", "blank", "unit_cost", "supplied_by");
  return {
    goods: {
      class: text(goods["class"]),
      blank: text(goods["blank"]),
      unit_cost: text(goods["unit_cost"]),
      supplied_by: goods["supplied_by"] === "customer" ? "customer" : "shop",
    },
    quantity: text(line["quantity"]),
    cells: list(line["cells"]).map((cell) => ({
      size: text(cell["size"]),
      colour: text(cell["colour"]),
      quantity: text(cell["quantity"]),
      unit_cost: text(cell["unit_cost"]),
    })),
    names: ((line["names"] as string[] | undefined) ?? []).join("\n"),
    placements: placements.length > 0 ? placements.map(placementOf) : [newPlacement()],
    finishing: (line["finishing"] as string[] | undefined) ?? [],
    digitising: text(line["digitising"]),
    discount: hundredths(line["discount"]),
    ...(line["sample"] ? { sample: line["sample"] as DraftLine["sample"] } : {}),
    ...(line["unit_price"] ? { unit_price: text(line["unit_price"]) } : {}),
    rest: {
      ...without(
        line,
        "goods",
        "quantity",
        "cells",
        "names",
        "placements",
        "finishing",
        "digitising",
        "discount",
        "sample",
        "unit_price",
      ),
      ...(Object.keys(other).length > 0 ? { goods: other } : {}),
    },
  };
}

/** A share as a percentage; what is none stays as it is. */
function hundredths(share: unknown): string {
  const kept = text(share);
  const value = Number(kept);
  return kept && Number.isFinite(value) ? String(Number((value * 100).toFixed(4))) : kept;
}

type JobPart = Omit<Draft, "customer" | "email" | "due_on" | "valid_until" | "notes">;

function jobPart(job: Json): JobPart {
  const lines = (job["lines"] as unknown[] | undefined) ?? [];
  return {
    currency: text(job["currency"]),
    lines: lines.length > 0 ? lines.map((line) => draftLine(part(line))) : [newLine()],
    price_method: text(job["price_method"]),
    margin: hundredths(job["margin"]),
    ...(job["tier_mode"] ? { tier_mode: text(job["tier_mode"]) } : {}),
    rest: without(job, "format", "currency", "lines", "price_method", "margin", "tier_mode"),
  };
}

/** The draft of a kept quote: what is blank stays blank. */
export function draftOf(quote: QuoteView): Draft {
  const { customer, email, due_on, valid_until, notes } = quote;
  const job = jobPart(part(quote.job));
  const currency = job.currency || quote.currency;
  return { customer, email, due_on, valid_until, notes, ...job, currency };
}

/** What is saved of a draft: its head and its whole job. */
export function documentOf(draft: Draft): QuoteDocument {
  const { customer, email, due_on, valid_until, notes } = draft;
  const job = JSON.parse(JSON.stringify(jobOf(draft))) as QuoteDocument["job"];
  return { customer, email, due_on, valid_until, notes, job };
}

/** Whether two drafts are saved as the same. */
export const sameDocument = (a: Draft, b: Draft) =>
  JSON.stringify(documentOf(a)) === JSON.stringify(documentOf(b));
