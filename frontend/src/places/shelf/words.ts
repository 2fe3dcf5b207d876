// What the shelf's kinds, moves and answers are called, and amounts in the seller's units.
import { type House, type StockItem } from "../../api";
import { amountText } from "../../parts/stock";
import { type Units } from "../../parts/units";

export const KINDS: [string, string][] = [
  ["blank", "blanks"],
  ["thread", "thread"],
  ["bobbin", "bobbins"],
  ["backing", "backing"],
  ["topping", "topping"],
  ["sheet", "sheet goods"],
  ["hardware", "hardware"],
  ["offcut", "offcuts"],
];

export const WHYS: Record<StockItem["moves"][number]["why"], string> = {
  received: "came in",
  returned: "came back",
  taken: "taken out",
  wasted: "wasted",
  counted: "counted",
  weighed: "weighed",
};

export const signedAmount = (amount: string, unit: string, units: Units) =>
  Number(amount) > 0
    ? `+${amountText(amount, unit, units)}`
    : `−${amountText(String(-Number(amount)), unit, units)}`;

/** What can lie on the shelf: each kind's things, and the details they come in. */
export function shelved(
  house: House,
  kind: string,
): [id: string, label: string, details: string[]][] {
  const labelled = (rows: Record<string, { label: string }>) => Object.entries(rows);
  const rolls = (materials: Record<string, { label: string }>) =>
    Object.entries(house.rolls)
      .filter(([, roll]) => roll.material in materials)
      .map(([id, roll]): [string, string, string[]] => [
        id,
        `${materials[roll.material]?.label ?? id}, ${roll.width_mm} mm wide`,
        [],
      ]);
  switch (kind) {
    case "thread":
      return labelled(house.threads).map(([id, row]) => [
        id,
        row.label,
        Object.values(house.thread_shelf)
          .filter((each) => each.thread === id)
          .map((each) => each.colour),
      ]);
    case "blank":
      return Object.entries(house.blanks).map(([id, row]) => [
        id,
        row.label,
        row.colours
          .split(",")
          .flatMap((colour) => row.sizes.split(/\s+/).map((size) => cell(size, colour.trim()))),
      ]);
    case "bobbin":
      return labelled(house.bobbins).map(([id, row]) => [id, row.label, ["white", "black"]]);
    case "hardware":
      return labelled(house.hardware).map(([id, row]) => [id, row.label, []]);
    case "offcut":
      return [];
    case "backing":
      return rolls(house.backings);
    case "topping":
      return rolls(house.toppings);
    default:
      return rolls(house.sheet_goods);
  }
}

const cell = (size: string, colour: string) =>
  [size === "one-size" ? "" : size, colour === "any" ? "" : colour].filter(Boolean).join(" ");

/** A thread's colour as the shop calls it. */
export const detailName = (house: House, kind: string, detail: string) =>
  kind === "thread"
    ? (Object.values(house.thread_shelf).find((row) => row.colour === detail)?.label ?? detail)
    : detail;
