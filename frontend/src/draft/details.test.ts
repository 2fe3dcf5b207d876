import { describe, expect, it } from "vitest";
import { type QuoteView } from "../api";
import { Details } from "./details";

const line = (id: string, unit: string, places?: string[]) => ({
  id,
  whole: places !== undefined,
  price: { unit },
  places: places ?? [],
});
const view = (...lines: object[]) => ({ estimate: { lines } }) as unknown as QuoteView;
const told = (found: QuoteView) => found.estimate?.lines;

describe("what is told of lines that are not open", () => {
  it("stands as it was told last, under the price as it is now", () => {
    const details = new Details();
    details.fill(view(line("a", "1.00", ["chest"]), line("b", "2.00", ["sleeve"])));
    const found = told(details.fill(view(line("a", "1.10", ["back"]), line("b", "2.20"))));
    expect(found).toEqual([line("a", "1.10", ["back"]), line("b", "2.20", ["sleeve"])]);
    const later = told(details.fill(view(line("a", "1.20"), line("b", "2.30", ["nape"]))));
    expect(later).toEqual([line("a", "1.20", ["back"]), line("b", "2.30", ["nape"])]);
  });

  it("is left short of a line that was never told whole", () => {
    const details = new Details();
    details.fill(view(line("a", "1.00", ["chest"])));
    const found = told(details.fill(view(line("a", "1.00", ["chest"]), line("b", "2.00"))));
    expect(found?.[1]?.whole).toBe(false);
  });

  it("is nothing where nothing is priced", () => {
    const nothing = { estimate: null } as unknown as QuoteView;
    expect(new Details().fill(nothing)).toBe(nothing);
  });
});
