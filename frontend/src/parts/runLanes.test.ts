import { describe, expect, it } from "vitest";
import { lasting } from "./lasting";
import { clockAt, lanePath, ticks } from "./runLanes.geometry";

describe("lanes of a run", () => {
  it("lays stretches of a cause to scale", () => {
    const all = [
      { start_s: 0, end_s: 50, cause: "sew" },
      { start_s: 50, end_s: 100, cause: "load" },
    ];
    expect(lanePath(all, "load", 200, 1000)).toBe("M250.00 0h250.00v26h-250.00z");
    expect(lanePath(all, "sew", 0, 1000)).toBe("");
  });
  it("names at most eight moments and the begin", () => {
    for (const elapsed of [30, 600, 7000, 19_303, 900_000, 9_000_000]) {
      const found = ticks(elapsed);
      expect(found[0]).toBe(0);
      expect(found.length).toBeLessThanOrEqual(9);
      expect(found.at(-1)).toBeLessThanOrEqual(elapsed);
    }
  });
  it("says moments and minutes as people do", () => {
    expect([clockAt(0), clockAt(7500), clockAt(36_000)]).toEqual(["0:00", "2:05", "10:00"]);
    expect([lasting(43.2), lasting(60), lasting(284)]).toEqual(["43 min", "1 h", "4 h 44 min"]);
  });
});
