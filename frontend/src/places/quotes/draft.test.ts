import { describe, expect, it } from "vitest";
import type { House } from "../../api/client";
import {
  EMPTY,
  isCounted,
  jobOf,
  newLine,
  newPlacement,
  overruledIn,
  priceable,
  reasonIn,
  type Draft,
  type DraftLine,
} from "./draft";
import { BLANK, chooseGoods, chosenGoods, goodsName } from "./goods";

const design = (stitches: string) => ({
  ...newPlacement().design,
  way: "count" as const,
  stitches,
});
const placed = (stitches: string) => ({ ...newPlacement(), design: design(stitches) });
const line = (change: Partial<DraftLine> = {}): DraftLine => ({
  ...newLine(),
  goods: { class: "denim", blank: "", unit_cost: "9", supplied_by: "shop" },
  quantity: "12",
  placements: [placed("8200")],
  ...change,
});
const draft = (...lines: DraftLine[]): Draft => ({ ...EMPTY, lines });

describe("what of a draft can be priced", () => {
  it("is all of it when nothing is asked any more", () => {
    const whole = draft(line(), line());
    expect(priceable(whole)).toBe(whole);
  });

  it("leaves out a last line and a last place that are only begun", () => {
    expect(priceable(draft(line(), newLine()))?.lines).toEqual([line()]);
    const two = line({ placements: [placed("8200"), newPlacement()] });
    expect(priceable(draft(two))?.lines[0]?.placements).toEqual([placed("8200")]);
    expect(priceable(draft(line(), two, newLine(), newLine()))?.lines).toEqual([line(), line()]);
  });

  it("is nothing while the first, or one in between, still asks", () => {
    expect(priceable(draft(newLine()))).toBeNull();
    expect(priceable(draft(newLine(), line()))).toBeNull();
    expect(priceable(draft(line(), newLine(), line()))).toBeNull();
    const hole = line({ placements: [newPlacement(), placed("900")] });
    expect(priceable(draft(hole))).toBeNull();
    expect(priceable(draft(line({ quantity: " " }), newLine()))).toBeNull();
  });

  it("is nothing of a set that is not whole", () => {
    const set = { ...draft(line(), newLine()), rest: { kits: [{ lines: [0, 1] }] } };
    expect(priceable(set)).toBeNull();
  });
});

describe("goods", () => {
  const house = {
    goods: { denim: { label: "Denim" }, felt: { label: "Felt" } },
    blanks: { jacket: { label: "Slipway jacket", goods: "denim" } },
  } as unknown as House;
  it("of the shelf bring their class, and take what was typed with them", () => {
    const typed = line({ rest: { goods: { pack: 6, price_breaks: [], spares_unsaleable: true } } });
    const chosen = { ...typed, ...chooseGoods(typed, `${BLANK}jacket`, house) };
    expect(chosen.goods).toEqual({
      class: "denim",
      blank: "jacket",
      unit_cost: "",
      supplied_by: "shop",
    });
    expect(chosen.rest["goods"]).toEqual({ spares_unsaleable: true });
    expect(chosenGoods(chosen)).toBe("blank:jacket");
    expect(goodsName(chosen, house)).toBe("Slipway jacket");
    const job = jobOf(draft(chosen)) as { lines: { goods: object }[] };
    expect(job.lines[0]?.goods).toMatchObject({ class: "denim", blank: "jacket" });
    expect(priceable(draft(chosen))).not.toBeNull();
    const other = { ...chosen, ...chooseGoods(chosen, "felt", house) };
    expect([chosenGoods(other), goodsName(other, house)]).toEqual(["felt", "Felt"]);
  });

  it("keep the customer's own under its class", () => {
    const own = line({
      goods: { class: "denim", blank: "jacket", unit_cost: "", supplied_by: "customer" },
    });
    expect(goodsName(own, house)).toBe("Denim");
  });
});

describe("a draft", () => {
  it("sends only the sizes that have pieces, and what is wrong as it was typed", () => {
    const cell = (size: string, quantity: string) => ({
      size,
      colour: "",
      quantity,
      unit_cost: "",
    });
    const cells = [cell("S", ""), cell("M", "12"), cell("L", "a few"), cell("", "")];
    expect(cells.map(isCounted)).toEqual([false, true, true, true]);
    const job = jobOf(draft(line({ cells }))) as { lines: { cells: { quantity: unknown }[] }[] };
    expect(job.lines[0]?.cells.map((c) => c.quantity)).toEqual([12, "a few", undefined]);
  });

  it("keeps a reason by code, place and line, and forgets it when it is heeded", () => {
    const advice = { code: "file-changed", where: "placements[0]" };
    const against = overruledIn(draft(line()), advice, 1, "as sewn");
    expect(reasonIn(against, advice, 1)).toBe("as sewn");
    expect(reasonIn(against, advice, 0)).toBe("");
    expect(reasonIn(overruledIn(against, advice, 1, ""), advice, 1)).toBe("");
  });
});
