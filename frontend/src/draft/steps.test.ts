import { describe, expect, it } from "vitest";
import { AFTER, along, begun, inOrder, insert, moved, put, type DraftStep } from "./steps";

const lay = (after: number): DraftStep => ({ do: "lay", after_block: after });
const TRIM: DraftStep = { do: "trim", after_block: 2 };
const CLOSE: DraftStep = { do: "close" };
const AT = { blocks: 3, width: 80.2, height: 60, sheet: "fabric", hardware: "ring" };
const said = (steps: DraftStep[], stops: number[] = []) =>
  inOrder(steps, stops).map(({ step, at }) => `${step.do} ${at}`);

describe("steps", () => {
  it("are told in the order of the work, as listed among those of one time", () => {
    const steps: DraftStep[] = [CLOSE, TRIM, lay(1), { do: "tack", after_block: 1 }];
    expect(said(steps)).toEqual(["lay 1", "tack 1", "trim 2", "close Infinity"]);
  });

  it("at a stop lie inside their block", () => {
    expect(said([{ do: "trim", at_stop: 1 }, lay(1), lay(2)], [1.5])).toEqual([
      "lay 1", "trim 1.5", "lay 2",
    ]); // prettier-ignore
  });

  it("are put last of a time, and only where they can be", () => {
    const steps = [lay(1), TRIM, CLOSE];
    expect(said(put(steps, 1, 1, []).steps)).toEqual(["lay 1", "trim 1", "close Infinity"]);
    expect(put(steps, 1, AFTER, []).steps).toBe(steps);
    expect(put(steps, 2, 1, []).steps).toBe(steps);
    expect(insert(steps, lay(2), []).index).toBe(2);
    expect(said(put(steps, 1, 1.5, [1.5]).steps)).toEqual(["lay 1", "trim 1", "close Infinity"]);
  });

  it("move one at a time: past a neighbour of their time, else to the next time", () => {
    let now = { steps: [lay(1), TRIM] as DraftStep[], index: 0 };
    const go = (way: -1 | 1) => {
      now = moved(now.steps, now.index, way, 3, []);
      return said(now.steps);
    };
    expect(go(1)).toEqual(["lay 2", "trim 2"]);
    expect(go(1)).toEqual(["trim 2", "lay 2"]);
    expect(go(1)).toEqual(["trim 2", "lay 3"]);
    expect(go(1)).toEqual(["trim 2", "lay 3"]); // never out of the hoop
    expect(go(-1)).toEqual(["trim 2", "lay 2"]);
    expect(go(-1)).toEqual(["lay 2", "trim 2"]);
    expect(go(-1)).toEqual(["lay 1", "trim 2"]);
    expect(go(-1)).toEqual(["lay 0", "trim 2"]);
    expect(go(-1)).toEqual(["lay 0", "trim 2"]);
  });

  it("that are done at a stop or after go from the last block out of the hoop and back", () => {
    const cut: DraftStep = { do: "cut-out", after_block: 3, outline_mm: 9 };
    const out = moved([cut], 0, 1, 3, []);
    expect(said(out.steps)).toEqual(["cut-out Infinity"]);
    expect(said(moved(out.steps, 0, -1, 3, []).steps)).toEqual(["cut-out 3"]);
  });

  it("follow a block: the patch as large as it, the cut as long as the outline", () => {
    const outline = { block: 2, width_mm: 70.4, height_mm: 40, length_mm: 201.2 };
    const sized = { ...lay(1), width_mm: 90, height_mm: 90 };
    expect(along(sized, outline, 2)).toEqual({ ...lay(1), of_block: 2, outline_mm: 202 });
    expect(along(sized, undefined, 2)).toEqual({ ...sized, of_block: 2 });
    expect(along(TRIM, outline, 2)).toEqual({ ...TRIM, of_block: 2, outline_mm: 202 });
    expect(along(TRIM, undefined, 2)).toEqual({ ...TRIM, of_block: 2 });
  });

  it("begin where such a one usually is", () => {
    const first = begun("lay", [], [], AT);
    expect(first).toEqual({ do: "lay", after_block: 1, sheet: "fabric", per: "hooping" });
    expect(begun("trim", [first], [], AT)).toMatchObject({ after_block: 2, outline_mm: 281 });
    expect(begun("lay", [first], [], AT)).toMatchObject({ after_block: 2 });
    expect(begun("lay", [lay(2)], [], AT)).toMatchObject({ after_block: 2 }); // not after the last
    expect(begun("insert", [first], [], AT)).toMatchObject({ after_block: 2, hardware: "ring" });
    expect(begun("cut-out", [first], [], AT)).toEqual({ do: "cut-out", outline_mm: 281 });
  });
});
