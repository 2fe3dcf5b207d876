// @vitest-environment jsdom
import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { useState } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, describe, expect, it } from "vitest";
import { type Working } from "../api";
import { COSTS } from "./costs";
import { keptPrice, priceStep } from "./format";
import { WorkingSheet } from "./WorkingSheet";

const input = (name: string, more: Partial<Working["inputs"][number]>) => ({
  name, value: "1", unit: "s", source: "typed", text: "", of: "", standard: "", ...more,
}); // prettier-ignore
const working = (id: string, name: string, inputs: Working["inputs"], text = "") =>
  ({ id, name, formula: "sum", inputs, value: "4179.21", unit: "s", text }) as Working;

const WORKINGS = [
  working("price.unit", "Unit price", [
    input("labour", { source: "worked out", of: "cost.labour", text: "£28.83" }),
  ]),
  working(
    "cost.labour",
    "Labour",
    [input("winding", { source: "standard", standard: "events.winding_s", text: "1 min 15 s" })],
    "1 h 9 min",
  ),
];

function Opened() {
  const [path, setPath] = useState(["price.unit"]);
  return (
    <MemoryRouter>
      <output>{path.join(" > ")}</output>
      <WorkingSheet path={path} working={WORKINGS} onPath={setPath} />
    </MemoryRouter>
  );
}

afterEach(cleanup);

describe("a working", () => {
  it("leads down from a figure to its own working, to the standard, and back", () => {
    render(<Opened />);
    expect(screen.queryByText(/^Back to/)).toBeNull();
    fireEvent.click(screen.getByRole("button", { name: "£28.83" }));
    expect(screen.getByRole("heading").textContent).toBe("Labour");
    expect(document.activeElement).toBe(screen.getByRole("heading"));
    expect(screen.getByText("1 h 9 min")).toBeTruthy();
    expect(screen.getByRole("link", { name: "standard" }).getAttribute("href")).toBe(
      "/workshop/standards?search=events.winding_s",
    );
    fireEvent.click(screen.getByRole("button", { name: "Back to unit price" }));
    expect(screen.getByRole("status").textContent).toBe("price.unit");
  });

  it("closes by Escape", () => {
    render(<Opened />);
    fireEvent.keyDown(screen.getByRole("heading"), { key: "Escape" });
    expect(screen.getByRole("status").textContent).toBe("");
  });
});

describe("the rod's lengths", () => {
  it("open each its own working, no two the same", () => {
    const opened = COSTS.map((kind) => kind.working);
    expect(new Set(opened).size).toBe(opened.length);
    expect(COSTS.find((kind) => kind.id === "sheet")?.working).toBe("cost.sheet_goods");
    for (const { working: id, parts } of COSTS)
      expect(parts.map((part) => `cost.${part}`)).toContain(id);
  });
});

describe("the price at the yard's end", () => {
  it.each([
    ["GBP", "0.05", 0.05, 6.4, "6.40"],
    ["JPY", "0.05", 1, 640, "640"],
    ["JPY", "10", 10, 640.0000001, "640"],
    ["KWD", "0.005", 0.005, 6.405, "6.405"],
    ["KWD", "0", 0.001, 6.4, "6.400"],
  ])(
    "in %s, rounded to %s, moves by %d and is kept as it can be paid",
    (currency, to, step, at, kept) => {
      expect(priceStep(to, currency)).toBe(step);
      expect(keptPrice(at, currency)).toBe(kept);
    },
  );
});
