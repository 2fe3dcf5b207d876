import { describe, expect, it } from "vitest";
import { curveOf } from "./curve.geometry";

describe("the curve of price against quantity", () => {
  const tier = (quantity: number, unit: string, unit_cost: string, set_up: string) => ({
    quantity,
    unit,
    unit_cost,
    set_up,
  });
  it("lays doublings at equal distances, money from zero, and the set-up on top of other cost", () => {
    const curve = curveOf(
      [tier(1, "20.00", "16.00", "8.00"), tier(10, "10.00", "7.00", "1.00"), tier(100, "8.00", "6.00", "0.00")],
      200,
      100,
    ); // prettier-ignore
    expect(curve.points.map((p) => Math.round(p.x))).toEqual([0, 100, 200]);
    expect(curve.price).toBe("M0.0 0.0L100.0 50.0L200.0 60.0");
    expect(curve.cost).toBe("M0.0 20.0L100.0 65.0L200.0 70.0");
    expect(curve.setUp).toBe("M0.0 60.0L100.0 70.0L200.0 70.0");
    expect(curve.y(0)).toBe(100);
  });

  it("draws a single quantity without dividing by nothing", () => {
    expect(curveOf([tier(5, "0.00", "0.00", "0.00")], 200, 100).price).toBe("M0.0 100.0");
  });
});
