import { describe, expect, it } from "vitest";
import { marksOf, placeOf, ratioAt, reachOf, rowsOf } from "./ruler.geometry";

describe("a factor's ruler", () => {
  it("has 1 in its middle and twice as far as half on the other side", () => {
    expect(placeOf(1, 2)).toBe(0.5);
    expect(placeOf(2, 4) - 0.5).toBeCloseTo(0.5 - placeOf(0.5, 4));
    expect(ratioAt(placeOf(1.37, 3), 3)).toBeCloseTo(1.37);
  });
  it("holds every job, and no further than six times", () => {
    for (const ratio of [0.4, 1.9]) expect(reachOf([ratio])).toBeGreaterThan(Math.max(ratio, 1));
    expect(reachOf([40])).toBe(6);
    expect(placeOf(40, 6)).toBe(1);
  });
  it("writes no mark upon another", () => {
    for (const reach of [1.3, 2, 6]) {
      const at = marksOf(reach).map((mark) => placeOf(mark, reach));
      at.slice(1).forEach((place, n) => expect(place - (at[n] ?? 0)).toBeGreaterThan(0.089));
      expect(marksOf(reach)).toContain(1);
    }
  });
  it("stands dots that would touch above each other", () => {
    expect(rowsOf([0.5, 0.5, 0.9, 0.51], 0.02)).toEqual([0, 1, 0, 2]);
    expect(rowsOf([0.1, 0.2], 11)).toEqual([0, 1]); // before its width is known
  });
});
