// The job of a quote as it is typed: the server's own document, what is blank left out. Numbers and
// lengths stay as typed: the core reads them, and says how it read them or what is wrong.
import type { Schemas } from "../api";
import type { DraftStep } from "./steps";

export type DraftGoods = Partial<Schemas["Goods"]>;
export type DraftDesign = Partial<Schemas["Design"]>;
export type DraftCell = Partial<Schemas["Cell"]> & { id: string };
export type DraftPlace = Partial<Schemas["Place"]>;
export type DraftMethods = Partial<Schemas["Methods"]>;
export type Layouts = Partial<Pick<Schemas["Placement"], "band" | "blocks" | "together" | "split">>;
export type DraftPlacement = Partial<
  Omit<Schemas["Placement"], "design" | "place" | "methods" | "id" | "steps">
> & {
  id: string;
  design: DraftDesign;
  place?: DraftPlace;
  methods?: DraftMethods;
  steps?: DraftStep[];
};
export type DraftLine = Partial<Omit<Schemas["Line"], "goods" | "cells" | "placements" | "id">> & {
  id: string;
  goods: DraftGoods;
  cells?: DraftCell[];
  placements: DraftPlacement[];
};
export type DraftJob = Partial<Omit<Schemas["Job"], "lines">> & { lines: DraftLine[] };
export type Way = "file" | "count" | "words";

export const NAME_MARK = "{name}";

/** What a field shows of a kept value. */
export const text = (value: unknown): string =>
  typeof value === "string" || typeof value === "number" ? String(value) : "";

/** A short id of a line, a place or a cell, kept through edits, copies and versions. */
export const newId = (): string =>
  Array.from(crypto.getRandomValues(new Uint8Array(5)), (byte) => (byte % 36).toString(36)).join(
    "",
  );

export const newPlacement = (): DraftPlacement => ({ id: newId(), design: {} });
export const newLine = (): DraftLine => ({
  id: newId(),
  goods: {},
  placements: [newPlacement()],
});

/** A copy of a line under ids of its own. */
export const copyLine = (line: DraftLine): DraftLine => ({
  ...line,
  id: newId(),
  placements: line.placements.map((placement) => ({ ...placement, id: newId() })),
  ...(line.cells ? { cells: line.cells.map((cell) => ({ ...cell, id: newId() })) } : {}),
});

/** Where a design comes from, by what of it is there. */
export function wayOf(design: DraftDesign): Way {
  if (design.stitches !== undefined && design.stitches !== null) return "count";
  return design.text !== undefined && design.text !== null ? "words" : "file";
}

/** Names as typed: one a line, a blank line for a piece that is left blank. */
export function namesOf(typed: string): string[] {
  const lines = typed.replace(/\s+$/, "").split(/\r?\n/);
  return lines.length === 1 && lines[0]?.trim() === "" ? [] : lines.map((name) => name.trim());
}

export const hasNames = (line: DraftLine) =>
  line.placements.some((p) => text(p.design.text).includes(NAME_MARK));

type Json = Record<string, unknown>;
const isPart = (value: unknown): value is Json =>
  typeof value === "object" && value !== null && !Array.isArray(value);

/** A row of sizes without a number yet is left out: it takes no price away. */
const isCounted = (cell: DraftCell) => text(cell.quantity).trim() !== "";

/** A document without what is blank: it is proposed. Names keep theirs: a blank one is a blank piece. */
function pruned(value: unknown, key = ""): unknown {
  if (key === "names") return value;
  if (Array.isArray(value)) return value.map((part) => pruned(part));
  if (!isPart(value)) return value;
  const rows = Object.entries(value)
    .filter(([, part]) => part !== undefined && part !== null && part !== "")
    .map(([name, part]) => [name, pruned(part, name)] as const);
  return Object.fromEntries(rows);
}

/** The job document of a draft. */
export function documentOfJob(job: DraftJob): Json {
  const lines = job.lines.map((line) => ({
    ...line,
    ...(line.cells ? { cells: line.cells.filter(isCounted) } : {}),
    ...(line.names?.length === 0 ? { names: undefined } : {}),
  }));
  return pruned({ format: "clothyard-job/1", ...job, lines }) as Json;
}

const parts = (value: unknown): Json[] => (Array.isArray(value) ? value.filter(isPart) : []);

/** A kept job as a draft: at least one line with one place, whatever is kept. */
export function jobOf(kept: unknown, currency: string): DraftJob {
  const job = isPart(kept) ? kept : {};
  const lines = parts(job["lines"]).map((line): DraftLine => {
    const placements = parts(line["placements"]).map((place): DraftPlacement => ({
      ...place,
      id: text(place["id"]) || newId(),
      design: isPart(place["design"]) ? place["design"] : {},
    }));
    return {
      ...line,
      id: text(line["id"]) || newId(),
      goods: isPart(line["goods"]) ? line["goods"] : {},
      placements: placements.length > 0 ? placements : [newPlacement()],
      ...(Array.isArray(line["cells"])
        ? { cells: parts(line["cells"]).map((c) => ({ ...c, id: text(c["id"]) || newId() })) }
        : {}),
    };
  });
  return {
    ...job,
    currency: text(job["currency"]) || currency,
    lines: lines.length > 0 ? lines : [newLine()],
  };
}
