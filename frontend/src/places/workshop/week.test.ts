import { describe, expect, it } from "vitest";
import { drawn, hoursOf, minuteAt, readHours, share, writeHours } from "./week.geometry";

describe("a day that is drawn", () => {
  it("is read and written as it is typed", () => {
    const spans = readHours("13-15:30, 9-12:30") ?? [];
    expect(spans).toEqual([
      [540, 750],
      [780, 930],
    ]);
    expect(writeHours(spans)).toBe("9-12:30, 13-15:30");
    expect(hoursOf(spans)).toBe(6);
    expect(readHours("-")).toEqual([]);
    expect(writeHours([])).toBe("-");
    for (const bad of ["late", "12-9", "9-25"]) expect(readHours(bad)).toBeNull();
  });

  it("grows by a stretch, joins what touches, and is rubbed out from within", () => {
    expect(drawn([[540, 750]], 750, 800)).toEqual([[540, 800]]);
    expect(drawn([[540, 750]], 960, 900)).toEqual([
      [540, 750],
      [900, 960],
    ]);
    expect(drawn([[540, 750]], 600, 660)).toEqual([
      [540, 600],
      [660, 750],
    ]);
    expect(drawn([[540, 750]], 600, 605)).toEqual([[540, 600], [605, 750]]); // prettier-ignore
  });

  it("lies between five and eleven, to the quarter of an hour", () => {
    expect(share(300)).toBe(0);
    expect(share(23 * 60)).toBe(100);
    expect(minuteAt(share(615) / 100)).toBe(615);
    expect(minuteAt(2)).toBe(23 * 60);
  });
});
