// Choosing goods: a blank of the shelf brings its class and its prices, a class asks for them.
import type { House } from "../../api/client";
import type { DraftGoods, DraftLine } from "../../draft";

/** Marks a choice that is a blank of the shelf, not a class. */
export const BLANK = "blank:";

/** What the shop calls a backing, a topping or sheet goods. */
export const materialName = (house: House, id: string) =>
  (house.backings[id] ?? house.toppings[id] ?? house.sheet_goods[id])?.label ?? id;

export const chosenGoods = ({ goods }: DraftLine) =>
  goods.blank ? BLANK + goods.blank : (goods.class ?? "");

/** The goods that a choice makes; of a blank what was typed of the one before goes. */
export function chooseGoods(goods: DraftGoods, choice: string, house: House): DraftGoods {
  if (!choice.startsWith(BLANK)) {
    const { blank: _, ...rest } = goods;
    return { ...rest, class: choice };
  }
  const blank = choice.slice(BLANK.length);
  const { unit_cost: _cost, price_breaks: _breaks, pack: _pack, delivery: _way, ...rest } = goods;
  const class_ = house.blanks[blank]?.goods ?? goods.class ?? "";
  return { ...rest, class: class_, blank, supplied_by: "shop" };
}

/** What is sewn on, as the shop calls it. */
export function goodsName({ goods }: DraftLine, house: House): string | undefined {
  const own = goods.supplied_by === "customer";
  const blank = own ? undefined : house.blanks[goods.blank ?? ""]?.label;
  return blank ?? house.goods[goods.class ?? ""]?.label;
}

/** Which of our drawings shows a class: its own, or that of the class it is a copy of. */
export function drawingOf(house: House, goods: string | undefined): string {
  const drawing = house.goods[goods ?? ""]?.drawing;
  return drawing && drawing !== "-" ? drawing : (goods ?? "");
}
