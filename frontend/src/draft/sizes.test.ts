import { describe, expect, it } from "vitest";
import type { DraftLine } from "./job";
import { layNames, namesByCell, setCells, setQuantity, shared } from "./sizes";

const line = (more: Partial<DraftLine> = {}): DraftLine => ({
  id: "l",
  goods: {},
  placements: [],
  cells: [
    { id: "s", size: "S", quantity: 2 },
    { id: "m", size: "M", quantity: 4 },
  ],
  ...more,
});
const sizes = (of: DraftLine) => of.cells?.map((cell) => cell.quantity);

describe("sharing how many over sizes", () => {
  it.each([
    [[9, 10, 5], 24, [9, 10, 5]],
    [[9, 10, 5], 48, [18, 20, 10]],
    [[9, 10, 5], 25, [9, 11, 5]], // remainders 0.375, 0.417, 0.208
    [[1, 1, 1], 4, [2, 1, 1]],
    [[0, 0], 7, [7, 0]],
  ])("%j in %i pieces", (counts, total, wanted) => {
    expect(shared(counts, [], total)).toEqual(wanted);
  });

  it("never drops a name: other sizes give way", () => {
    expect(shared([5, 5], [4, 0], 5)).toEqual([4, 1]);
    expect(shared([5, 5], [4, 3], 5)).toEqual([4, 3]); // seven names are seven pieces
  });

  it("is what a typed number does, and an unreadable one is kept as typed", () => {
    const found = line();
    setQuantity(found, "12");
    expect(sizes(found)).toEqual([4, 8]);
    expect(found.quantity).toBeUndefined();
    setQuantity(found, "1");
    expect(sizes(found)).toEqual([undefined, 1]);
    setQuantity(found, "15"); // as they stood before the first letter of it
    expect(sizes(found)).toEqual([5, 10]);
    setQuantity(found, "12");
    setQuantity(found, "dozen");
    expect(found.quantity).toBe("dozen");
    expect(sizes(found)).toEqual([4, 8]);
  });
});

describe("names belong to sizes", () => {
  it("keep their places where a size is short of names", () => {
    const found = line();
    layNames(found, [["Ada"], ["Bo", ""]]);
    expect(found.names).toEqual(["Ada", "?", "Bo", ""]);
    expect(namesByCell(found)).toEqual([["Ada"], ["Bo", ""]]);
  });

  it("go with their size when how many there are changes", () => {
    const found = line({ names: ["Ada", "Cy", "Bo"] });
    setQuantity(found, 9);
    expect(sizes(found)).toEqual([3, 6]);
    expect(found.names).toEqual(["Ada", "Cy", "?", "Bo"]);
    setQuantity(found, 2);
    expect(sizes(found)).toEqual([2, 1]); // three names are three pieces
    expect(found.names).toEqual(["Ada", "Cy", "Bo"]);
  });

  it("go on to the next size where one is full, and none is lost where all are", () => {
    const found = line();
    layNames(found, [["A", "B", "C"], ["D"]]);
    expect(sizes(found)).toEqual([2, 4]);
    expect(namesByCell(found)).toEqual([
      ["A", "B"],
      ["D", "C"],
    ]);
    layNames(found, [["A", "B", "C", "E", "F", "G", "H"], ["D"]]);
    expect(namesByCell(found)).toEqual([
      ["A", "B"],
      ["D", "C", "E", "F", "G", "H"],
    ]);
    expect(found.names).toHaveLength(8); // two more than pieces: told, until pieces are added
  });

  it("are never lost with a row, nor how many there are with the last", () => {
    const found = line({ names: ["Ada", "Cy", "Bo"] });
    setCells(found, [{ id: "m", size: "M", quantity: 4 }]);
    expect(found.names).toEqual(["Bo", "Ada", "Cy"]);
    setCells(found, []);
    expect(found.cells).toBeUndefined();
    expect(found.quantity).toBe(4);
    expect(found.names).toEqual(["Bo", "Ada", "Cy"]);
    setCells(found, [{ id: "x", quantity: 4 }]);
    expect(found.names).toEqual(["Bo", "Ada", "Cy"]);
  });
});
