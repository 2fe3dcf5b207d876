// The draft of a quote: what was typed, as typed. The server says what is wrong with it.
import { applyPatch, type Operation } from "fast-json-patch";
import type { QuoteDocument, QuoteView } from "../../api/client";

export interface DraftDesign {
  way: "file" | "count";
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

export interface DraftLine {
  goods: { class: string; unit_cost: string; supplied_by: "shop" | "customer" };
  quantity: string;
  placements: [{ position: string; design: DraftDesign; methods: Record<string, MethodValue> }];
  finishing: string[];
  digitising: string;
  sample?: { pieces: number; wash: boolean };
  unit_price?: string;
}

export interface Draft {
  customer: string;
  email: string;
  due_on: string;
  valid_until: string;
  notes: string;
  currency: string;
  lines: [DraftLine];
  price_method: string;
  margin: string;
  tier_mode?: string;
}

export const EMPTY: Draft = {
  customer: "",
  email: "",
  due_on: "",
  valid_until: "",
  notes: "",
  currency: "GBP",
  lines: [
    {
      goods: { class: "", unit_cost: "", supplied_by: "shop" },
      quantity: "",
      placements: [
        {
          position: "",
          design: {
            way: "file",
            sha256: "",
            stitches: "",
            kind: "mixed",
            colours: "",
            width_mm: "",
            height_mm: "",
            trims: "",
            letter_height_mm: "",
            repeat: false,
          },
          methods: {},
        },
      ],
      finishing: [],
      digitising: "",
    },
  ],
  price_method: "",
  margin: "",
};

/** Typed text as a number when it is one ("8,200", "8.2k"); else as it is, to be refused by name. */
export function typedNumber(text: string): number | string | undefined {
  const clean = text.trim().replace(/(?<=\d),(?=\d{3})/g, "");
  if (clean === "") return undefined;
  const thousands = /^(\d+(?:\.\d+)?)k$/i.exec(clean);
  if (thousands) return Math.round(Number(thousands[1]) * 1000);
  return /^-?\d+(\.\d+)?$/.test(clean) ? Number(clean) : text.trim();
}

/** Typed money without its sign and thousands marks. */
export function typedMoney(text: string): string | undefined {
  const clean = text
    .trim()
    .replace(/^[£$€]\s*/, "")
    .replace(/(?<=\d),(?=\d{3})/g, "");
  return clean === "" ? undefined : clean;
}

/** A typed percentage as a share. */
export function typedShare(text: string): string | undefined {
  const clean = text.trim().replace(/\s*%$/, "");
  if (clean === "") return undefined;
  const value = Number(clean);
  return Number.isFinite(value) ? String(Number((value / 100).toFixed(6))) : clean;
}

function designOf(design: DraftDesign): Record<string, unknown> {
  const letters = { letter_height_mm: typedNumber(design.letter_height_mm), repeat: design.repeat };
  if (design.way === "file") return { sha256: design.sha256, ...letters };
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

/** The job document of a draft; what is blank stays out and is proposed. */
export function jobOf(draft: Draft): Record<string, unknown> {
  const [line] = draft.lines;
  const [placement] = line.placements;
  return {
    format: "clothyard-job/1",
    currency: draft.currency,
    lines: [
      {
        goods: {
          class: line.goods.class,
          unit_cost: typedMoney(line.goods.unit_cost),
          supplied_by: line.goods.supplied_by,
        },
        quantity: typedNumber(line.quantity),
        placements: [
          {
            position: placement.position || undefined,
            design: designOf(placement.design),
            methods: placement.methods,
          },
        ],
        finishing: line.finishing,
        digitising: line.digitising || undefined,
        sample: line.sample,
        unit_price: line.unit_price,
      },
    ],
    price_method: draft.price_method || undefined,
    margin: typedShare(draft.margin),
    tier_mode: draft.tier_mode,
  };
}

/** Whether the three answers are there: goods, how many, design. */
export function missing(draft: Draft): string[] {
  const [line] = draft.lines;
  const { design } = line.placements[0];
  const found: string[] = [];
  if (!line.goods.class) found.push("the goods");
  else if (!line.goods.unit_cost.trim() && line.goods.supplied_by === "shop")
    found.push("what a blank costs");
  if (!line.quantity.trim()) found.push("how many");
  if (design.way === "file" ? !design.sha256 : !design.stitches.trim()) found.push("the design");
  return found;
}

/** Apply an advice's fix, a JSON Patch on the job, to the draft. */
export function patched(draft: Draft, patch: Record<string, unknown>[]): Draft {
  const copy = structuredClone(draft);
  return applyPatch(copy, patch as unknown as Operation[]).newDocument;
}

type Json = Record<string, unknown>;
const text = (value: unknown) => (value === undefined || value === null ? "" : String(value));
const part = (value: unknown): Json => (value && typeof value === "object" ? (value as Json) : {});

/** The draft of a kept quote: what is blank stays blank. */
export function draftOf(quote: QuoteView): Draft {
  const job = part(quote.job);
  const line = part((job["lines"] as unknown[] | undefined)?.[0]);
  const goods = part(line["goods"]);
  const placement = part((line["placements"] as unknown[] | undefined)?.[0]);
  const design = part(placement["design"]);
  const margin = text(job["margin"]);
  const share = Number(margin);
  const counted = design["stitches"] !== undefined;
  return {
    customer: quote.customer,
    email: quote.email,
    due_on: quote.due_on,
    valid_until: quote.valid_until,
    notes: quote.notes,
    currency: text(job["currency"]) || "GBP",
    lines: [
      {
        goods: {
          class: text(goods["class"]),
          unit_cost: text(goods["unit_cost"]),
          supplied_by: goods["supplied_by"] === "customer" ? "customer" : "shop",
        },
        quantity: text(line["quantity"]),
        placements: [
          {
            position: text(placement["position"]),
            design: {
              way: counted ? "count" : "file",
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
          },
        ],
        finishing: (line["finishing"] as string[] | undefined) ?? [],
        digitising: text(line["digitising"]),
        ...(line["sample"] ? { sample: line["sample"] as DraftLine["sample"] } : {}),
        ...(line["unit_price"] ? { unit_price: text(line["unit_price"]) } : {}),
      },
    ],
    price_method: text(job["price_method"]),
    margin: margin && Number.isFinite(share) ? String(Number((share * 100).toFixed(4))) : margin,
    ...(job["tier_mode"] ? { tier_mode: text(job["tier_mode"]) } : {}),
  };
}

/** What is saved of a draft: its head and its whole job. */
export function documentOf(draft: Draft): QuoteDocument {
  const { customer, email, due_on, valid_until, notes } = draft;
  const job = JSON.parse(JSON.stringify(jobOf(draft))) as QuoteDocument["job"];
  return { customer, email, due_on, valid_until, notes, job };
}
