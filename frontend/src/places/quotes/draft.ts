// The draft of a quote: what was typed, as typed. The server says what is wrong with it.
import { applyPatch, type Operation } from "fast-json-patch";

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
  currency: string;
  lines: [DraftLine];
  price_method: string;
  margin: string;
  tier_mode?: string;
}

export const EMPTY: Draft = {
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

const KEPT_UNDER = "clothyard.draft.1";

export function keptDraft(): Draft {
  try {
    const text = localStorage.getItem(KEPT_UNDER);
    return text ? { ...EMPTY, ...(JSON.parse(text) as Draft) } : EMPTY;
  } catch {
    return EMPTY;
  }
}

export function keepDraft(draft: Draft): void {
  try {
    localStorage.setItem(KEPT_UNDER, JSON.stringify(draft));
  } catch {
    // a full or forbidden store: the draft still lives on this page
  }
}

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
