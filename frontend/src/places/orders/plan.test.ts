import { describe, expect, it } from "vitest";
import { type PlanDocument } from "../../api";
import { daysOf, stripsOf } from "./plan.geometry";

const strip = (unit: string, begin: [string, number], end: [string, number]) => ({
  order: 1,
  number: "Q-0001",
  unit,
  kind: "sew",
  label: unit,
  machine: "m",
  begin_day: begin[0],
  begin_h: begin[1],
  end_day: end[0],
  end_h: end[1],
  behind: "",
  stay: 0,
  change_min: 0,
});
const plan: PlanDocument = {
  format: "clothyard-plan/1",
  from_day: "2026-05-04",
  over: [],
  moved: [],
  machines: [],
  change_over_min: 0,
  rest_days: ["2026-05-09", "2026-05-10"],
  tries: 0,
  orders: [
    {
      id: 1,
      number: "Q-0001",
      customer: "",
      summary: "",
      promised_on: "2026-05-12",
      begin_day: "2026-05-04",
      end_day: "2026-05-05",
      late_days: 0,
      why: "",
      state: "ready",
      hand_over_by: "",
      pin: { first: false, day: "", machine: "", before: 0 },
      unpinned: "",
      cloth: "",
    },
  ],
  strips: [
    strip("a", ["2026-05-04", 9], ["2026-05-04", 12]),
    strip("b", ["2026-05-04", 12], ["2026-05-05", 15]),
  ],
};

describe("the plan's strips", () => {
  it("shows days to the last promise, and which are of rest", () => {
    const days = daysOf(plan);
    expect(days.map((each) => each.short).slice(0, 3)).toEqual(["Mo 4", "Tu 5", "We 6"]);
    expect(days.at(-1)?.iso).toBe("2026-05-12");
    expect(days.filter((each) => each.rest).map((each) => each.short)).toEqual(["Sa 9", "Su 10"]);
  });
  it("lays a strip from its hour on, over the night to the next day", () => {
    expect(stripsOf(plan, 1, "2026-05-04").map(({ from, wide }) => [from, wide])).toEqual([
      [0, 50],
      [50, 50],
    ]);
    expect(stripsOf(plan, 1, "2026-05-05").map(({ from, wide }) => [from, wide])).toEqual([
      [0, 100],
    ]);
    expect(stripsOf(plan, 2, "2026-05-04")).toEqual([]);
  });
});
