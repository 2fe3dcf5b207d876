// @vitest-environment jsdom
import { describe, expect, it } from "vitest";
import data from "../../../../../src/clothyard/documents/drawings.json";
import { extent, spotOn, viewOf } from "../../../look/drawings";
import type { Drawing } from "../../../look/drawings/shape";
import { heldLength, lengthText, longText, shownLength } from "../../../parts/units";
import { whereText } from "../place";
import {
  fit,
  lyingOn,
  lyingSize,
  measuresAt,
  pointOf,
  snapped,
  usual,
  type Position,
} from "./piece.geometry";

const drawings = data as unknown as Record<string, Drawing>;
const plain = { anchor: "centre", gap_mm: 0, share: 0, side_mm: 0, side_reference: "the centre" };
const chest: Position = {
  ...plain,
  reference: "the point where shoulder seam meets collar",
  gap_mm: 200,
  side_mm: 100,
  side_reference: "the centre front",
};
const back: Position = {
  ...plain,
  reference: "the collar seam",
  side_reference: "the centre back",
  anchor: "top",
  gap_mm: 100,
};
const border: Position = { ...plain, reference: "the border", anchor: "bottom", gap_mm: 25 };
const corner: Position = { ...plain, reference: "the corner", gap_mm: 125 };
const half: Position = { ...plain, reference: "the top edge", share: 0.5 };
// as an estimate tells them: a mark, and how it moves for each measure
const marked = (gap_mm: number, side_mm: number, from: number, x_mm: number, y_mm: number) => ({
  gap_mm,
  side_mm,
  from_reference_mm: from,
  x_mm,
  y_mm,
});
const DOWN = { per_gap: [0, 1], per_side: [1, 0] };
const UP = { per_gap: [0, -1], per_side: [1, 0] };
const EDGE = Math.SQRT1_2;
const INWARD = { per_gap: [EDGE, EDGE], per_side: [0, 0] };
const view = (goods: string, position: Position) => {
  const found = drawings[goods] && viewOf(drawings[goods], position);
  if (!found) throw new Error(`${goods} shows no ${position.reference}`);
  return found;
};

describe("a drawn piece", () => {
  it("has every class's half outlines closed on the centre line", () => {
    for (const [id, { views }] of Object.entries(drawings))
      for (const each of views) {
        const { x, width, height } = extent(each);
        expect([id, width > 20, height > 20, Math.abs(2 * x + width) < 130]).toEqual([
          id, true, true, true,
        ]); // prettier-ignore
      }
  });

  it("shows a chest in front, a back at the back, a cuff on the sleeve", () => {
    expect(view("pique-polo", chest).side).toBe("front");
    expect(view("pique-polo", back).side).toBe("back");
    expect(view("sweatshirt", { ...plain, reference: "the cuff" }).side).toBe("side");
    const { views } = drawings["belt"] ?? { views: [] };
    expect(viewOf({ views }, chest)).toBeUndefined();
  });

  it("puts the wearer's left on the viewer's right, and the drawn corner lower right", () => {
    const mark = { from_reference_mm: 200, x_mm: 100, y_mm: 200 };
    expect(spotOn(view("t-shirt", chest), chest, mark)?.at).toEqual([100, 200]);
    const edge = { from_reference_mm: 125, x_mm: 88.4, y_mm: 88.4 };
    expect(spotOn(view("table-linen", corner), corner, edge)?.at).toEqual([230 - 88.4, 230 - 88.4]);
    const share = { from_reference_mm: null, x_mm: 0, y_mm: 0 };
    expect(spotOn(view("cushion-cover", half), half, share)?.at).toEqual([0, 0]);
  });

  it.each([
    ["pique-polo", chest, DOWN, marked(200, 100, 200, 100, 200), { gap_mm: 180, side_mm: -60 }],
    ["pique-polo", back, DOWN, marked(100, 0, 130, 0, 130), { gap_mm: 90, side_mm: 12 }],
    ["terry-towel", border, UP, marked(25, 0, 55, 0, -55), { gap_mm: 40, side_mm: 0 }],
    ["table-linen", corner, INWARD, marked(125, 0, 125, 88.4, 88.4), { gap_mm: 150, side_mm: 0 }],
  ])("reads from a dragged point what is drawn there: %s", (goods, position, ways, mark, to) => {
    const lying = lyingOn(view(goods, position), position, ways, mark);
    if (!lying) throw new Error("it lies nowhere");
    expect(measuresAt(pointOf(to, lying), lying)).toEqual(to);
    expect(pointOf(lying.measures, lying)).toEqual(lying.at);
  });

  it("moves as the estimate says: from the border up, at a corner in along the bisector", () => {
    const up = lyingOn(view("terry-towel", border), border, UP, marked(25, 0, 55, 0, -55));
    const inward = lyingOn(
      view("table-linen", corner), corner, INWARD, marked(100, 0, 100, 100 * EDGE, 100 * EDGE),
    ); // prettier-ignore
    if (!up || !inward) throw new Error("they lie nowhere");
    expect(pointOf({ gap_mm: 35, side_mm: 0 }, up)).toEqual([up.at[0], up.at[1] - 10]);
    const to = pointOf({ gap_mm: 110, side_mm: 0 }, inward);
    expect(to[0]).toBeCloseTo(inward.at[0] - 10 * EDGE);
    expect(measuresAt([inward.at[0] + 999, inward.at[1] + 999], inward).gap_mm).toBe(0);
  });

  it("draws what is dragged near to the usual place and to the centre", () => {
    const aim = usual(chest, view("t-shirt", chest), { gap_mm: 200, side_mm: 100 });
    expect(snapped({ gap_mm: 192, side_mm: 5 }, aim, 10)).toEqual({ gap_mm: 200, side_mm: 0 });
    expect(snapped({ gap_mm: 150, side_mm: 60 }, aim, 10)).toEqual({ gap_mm: 150, side_mm: 60 });
    expect(usual(half, view("cushion-cover", half)).gap_mm).toBe(206);
  });

  it("fits a box into a picture, in the middle", () => {
    const framed = fit({ x: -50, y: 0, width: 100, height: 400 }, 220, 220, 10);
    expect(framed).toEqual({ scale: 0.5, x: 110, y: 10 });
    expect(lyingSize([[-3, -2], [3, -2], [3, 2], [-3, 2]])).toEqual([6, 4]); // prettier-ignore
  });
});

describe("lengths in the seller's units", () => {
  it.each([
    ["3 1/2", "imperial", "3 1/2 in"],
    ["9cm", "imperial", "9cm"],
    ["90", "metric", "90"],
    ["-2.5", "imperial", "-2.5 in"],
  ] as const)("%s typed in %s is held as %s", (typed, units, held) => {
    expect(heldLength(typed, units)).toBe(held);
  });

  it.each([
    ["88.9", "imperial", "3 1/2"],
    ["85", "imperial", "3 3/8"],
    ["3 1/2 in", "imperial", "3 1/2"],
    ["9cm", "metric", "9cm"],
    ["12.7", "imperial", "1/2"],
  ] as const)("%s held is shown in %s as %s", (held, units, shown) => {
    expect(shownLength(held, units)).toBe(shown);
  });

  it("writes both units", () => {
    expect([lengthText(58.24, "metric"), lengthText(25.4, "imperial")]).toEqual([
      "58.2 mm",
      "1 in",
    ]);
    expect([longText(12.2449, "metric"), longText(110, "imperial", 0)]).toEqual([
      "12.24 m",
      "120 yd",
    ]);
  });
});

describe("where in a job", () => {
  it.each([
    ["lines[0].goods.unit_cost", "Unit cost"],
    ["lines[1].quantity", "Line 2, quantity"],
    ["lines[0].placements[2].design.width_mm", "Place 3, width"],
    ["lines[2].goods.price_breaks[0].unit_cost", "Line 3, unit cost"],
    ["lines", ""],
    ["delivery", "Delivery"],
  ])("%s is told as %s", (where, said) => expect(whereText(where)).toBe(said));
});
