// Choosing goods: a blank of the shelf brings its class and its prices, a class asks for them.
import type { House } from "../../api/client";
import type { DraftLine } from "./draft";

/** Marks a choice that is a blank of the shelf, not a class. */
export const BLANK = "blank:";

const BOUGHT = ["price_breaks", "pack", "delivery"];

/** What was typed of how goods are bought is taken out. */
export function withoutTyped(rest: DraftLine["rest"]): DraftLine["rest"] {
  const goods = (rest["goods"] ?? {}) as Record<string, unknown>;
  const kept = Object.entries(goods).filter(([key]) => !BOUGHT.includes(key));
  return { ...rest, goods: Object.fromEntries(kept) };
}

/** What the shop calls a backing, a topping or sheet goods. */
export const materialName = (house: House, id: string) =>
  (house.backings[id] ?? house.toppings[id] ?? house.sheet_goods[id])?.label ?? id;

export const chosenGoods = (line: DraftLine) =>
  line.goods.blank ? BLANK + line.goods.blank : line.goods.class;

/** The change that a choice makes; what was typed for a blank before goes with it. */
export function chooseGoods(line: DraftLine, choice: string, house: House): Partial<DraftLine> {
  if (!choice.startsWith(BLANK)) return { goods: { ...line.goods, class: choice, blank: "" } };
  const blank = choice.slice(BLANK.length);
  const goods = house.blanks[blank]?.goods ?? line.goods.class;
  return {
    goods: { ...line.goods, class: goods, blank, unit_cost: "", supplied_by: "shop" },
    rest: withoutTyped(line.rest),
  };
}

/** What is sewn on, as the shop calls it. */
export function goodsName(line: DraftLine, house: House): string | undefined {
  const blank = line.goods.supplied_by === "shop" ? house.blanks[line.goods.blank]?.label : "";
  return blank || house.goods[line.goods.class]?.label;
}
