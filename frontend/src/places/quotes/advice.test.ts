import { describe, expect, it } from "vitest";
import { type Advice, type EstimateLine } from "../../api";
import { adviceFor, panelOf } from "./advice";
import { heldPercent, shownPercent } from "../../parts/percent";

const of = (where: string, level = "warn") =>
  ({ code: "any", where, level, message: "It is so." }) as Advice;

describe("advice", () => {
  it.each([
    ["placements[0].methods.backing", "making"],
    ["placements[3].methods", "making"],
    ["placements[0].design.height_mm", "piece"],
    ["placements[0].place", "piece"],
    ["price", "making"],
    ["tiers", "making"],
    ["goods.unit_cost", "ask"],
    ["quantity", "ask"],
    ["", "ask"],
  ])("about %s stands in the %s panel, whatever its code", (where, panel) => {
    expect(panelOf(of(where))).toBe(panel);
  });

  it("of another place is shown only where it stops the line, with that place's name", () => {
    const line = { places: [{ label: "left chest" }, { label: "nape" }] } as EstimateLine;
    const all = [
      of("placements[0].place"),
      of("placements[1].place"),
      of("placements[1].place", "stop"),
    ];
    expect(adviceFor("piece", all, 0, line).map((a) => a.message)).toEqual([
      "It is so.",
      "nape: It is so.",
    ]);
  });
});

describe("a share", () => {
  it.each([
    ["35", "35 %", "35"],
    ["12,5", "12,5 %", "12,5"],
    ["35 %", "35 %", "35"],
    ["", "", ""],
    ["much", "much %", "much"],
  ])("typed %s is held as %s and shown as %s", (typed, held, shown) => {
    expect([heldPercent(typed), shownPercent(heldPercent(typed))]).toEqual([held, shown]);
  });

  it("kept of one is shown of a hundred", () => {
    expect([shownPercent("0.35"), shownPercent("0.125")]).toEqual(["35", "12.5"]);
  });
});
