import { describe, expect, it } from "vitest";
import { layMinutes } from "./minutesStrip.geometry";
import { placeOf, quantityAt } from "./tape.geometry";
import { labelGroups, lay, priceAt, scaleEnd, ticks } from "./yardRod.geometry";
import { stepAt, stepsOf, treads } from "./priceSteps.geometry";

describe("the yard", () => {
  it.each([
    [15.2, 20], // 15.96: next is 20
    [14, 15], // 14.7: next is 15
    [9.6, 12.5], // 10.08
    [364.8, 400],
    [0.09, 0.1],
  ])("%f ends its scale at %f", (largest, end) => {
    expect(scaleEnd(largest)).toBeCloseTo(end, 9);
  });

  it("labels ticks at a 1-2-5 step, far enough apart", () => {
    expect(ticks(20, 956, 64)).toEqual([0, 2, 4, 6, 8, 10, 12, 14, 16, 18, 20]);
    expect(ticks(20, 300, 64)).toEqual([0, 5, 10, 15, 20]);
  });

  it("lays lengths end to end and leaves out what costs nothing", () => {
    const part = (id: string, amount: number) => ({
      id,
      name: id,
      colour: id,
      amount,
      working: id,
    });
    const lengths = lay([part("a", 6.4), part("b", 0), part("c", 0.07), part("d", 0.06)]);
    expect(lengths.map((l) => [l.id, l.from.toFixed(2)])).toEqual([
      ["a", "0.00"],
      ["c", "6.40"],
      ["d", "6.47"],
    ]);
    const groups = labelGroups(lengths, 48, 40);
    expect(groups.map((g) => g.lengths.map((l) => l.id))).toEqual([["a"], ["c", "d"]]);
  });

  it("reads a place as whole steps", () => {
    expect(priceAt(730, 48, 0.05)).toBeCloseTo(15.2, 9);
    expect(priceAt(-20, 48, 0.05)).toBeCloseTo(0.05, 9);
  });
});

describe("the tape", () => {
  const tiers = [1, 6, 12, 24, 50];
  it.each([
    [1, 0],
    [6, 0.25],
    [9, 0.375],
    [24, 0.75],
    [80, 1],
  ])("%i pieces lie at %f", (quantity, place) => {
    expect(placeOf(quantity, tiers)).toBeCloseTo(place, 9);
  });

  it("gives every quantity back", () => {
    for (let q = 1; q <= 50; q += 1) expect(quantityAt(placeOf(q, tiers), tiers)).toBe(q);
  });
});

describe("the minutes strip", () => {
  const minute = (label: string, seconds: number, attend_s = 0) => ({
    placement: 0,
    kind: "sew" as const,
    label,
    seconds,
    attend_s,
  });

  it("lays stretches to scale, one after the other", () => {
    const { stretches, whole, attend } = layMinutes([minute("mark", 30), minute("sew", 90, 45)]);
    expect([whole, attend]).toEqual([120, 45]);
    expect(stretches.map((s) => s.from)).toEqual([0, 25]);
    expect(stretches[1]?.attendWidth).toBeCloseTo(37.5);
  });

  it("keeps standing by inside its own stretch", () => {
    const [load] = layMinutes([minute("load", 25, 35)]).stretches;
    expect(load?.attendWidth).toBe(100);
  });
});

describe("a supplier's price steps", () => {
  const steps = stepsOf({ "100": "5.40", "1": "6.40", "25": "5.90" });
  it("are in order, and hold from their number on", () => {
    expect(steps.map((step) => step.from)).toEqual([1, 25, 100]);
    expect([1, 24, 25, 99, 100, 900].map((n) => stepAt(steps, n))).toEqual([0, 0, 1, 1, 2, 2]);
    expect(stepAt([{ from: 10, each: 4 }], 3)).toBe(0);
  });

  it("fall from the dearest at the top to the cheapest at the foot", () => {
    const laid = treads(steps, 30, 300, 20);
    expect(laid.map((t) => [t.x, t.width, t.y, t.here])).toEqual([
      [0, 100, 0, false],
      [100, 100, 10, true],
      [200, 100, 20, false],
    ]);
    expect(treads(steps, null, 300, 20).some((t) => t.here)).toBe(false);
    expect(treads([{ from: 1, each: 4 }], 3, 300, 20)[0]?.y).toBe(10);
  });

  it("that are many are drawn about the one that holds", () => {
    const many = Array.from({ length: 12 }, (_, n) => ({ from: n + 1, each: 12 - n }));
    expect(treads(many, 1, 100, 10).map((t) => t.from)).toEqual([1, 2, 3, 4, 5]);
    expect(treads(many, 6, 100, 10).map((t) => t.from)).toEqual([4, 5, 6, 7, 8]);
    expect(treads(many, 50, 100, 10).map((t) => t.from)).toEqual([8, 9, 10, 11, 12]);
  });
});
