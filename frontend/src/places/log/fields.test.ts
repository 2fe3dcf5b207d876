import { describe, expect, it } from "vitest";
import { shown, typed } from "./fields";

describe("what is typed of a row", () => {
  it("reads minutes, also with a comma or as minutes and seconds", () => {
    expect(typed("12.5", 60)).toBe(750);
    expect(typed("12,5", 60)).toBe(750);
    expect(typed("12:30", 60)).toBe(750);
    expect(typed("  ", 60)).toBeNull();
    expect(typed("-3", 60)).toBeNaN();
    expect(typed("a few", 1)).toBeNaN();
  });
  it("shows what was typed", () => {
    for (const text of ["12.5", "0", "7"]) expect(shown(typed(text, 60), 60)).toBe(text);
    expect(shown(null, 60)).toBe("");
  });
});
