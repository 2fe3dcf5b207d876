// Choosing goods: a blank of the shelf brings its class and its prices, a class asks for them.
import { type House } from "../../../api";
import { drawingOf } from "../../../parts/GoodsThumb";
import type { DraftGoods, DraftLine } from "../../../draft";

/** Marks a choice that is a blank of the shelf, not a class. */
export const BLANK = "blank:";

/** What the shop calls a backing, a topping or sheet goods. */
export const materialName = (house: House, id: string) =>
  (house.backings[id] ?? house.toppings[id] ?? house.sheet_goods[id])?.label ?? id;

export const chosenGoods = ({ goods }: DraftLine) =>
  goods.blank ? BLANK + goods.blank : (goods.class ?? "");

/** The goods that a choice makes; of a blank what was typed of the one before goes. */
function chooseGoods(goods: DraftGoods, choice: string, house: House): DraftGoods {
  const { spoil: _spoil, minutes: _minutes, ...other } = goods; // of the blank before
  if (!choice.startsWith(BLANK)) {
    const { blank: _, ...rest } = other;
    return { ...rest, class: choice };
  }
  const blank = choice.slice(BLANK.length);
  const { unit_cost: _cost, price_breaks: _breaks, pack: _pack, delivery: _way, ...rest } = other;
  const class_ = house.blanks[blank]?.goods ?? goods.class ?? "";
  return { ...rest, class: class_, blank, supplied_by: "shop" };
}

/** Make a line of other goods: a place that they have not goes back to the usual one. */
export function takeGoods(line: DraftLine, choice: string, house: House) {
  const was = line.goods.class;
  line.goods = chooseGoods(line.goods, choice, house);
  if (line.goods.class === was) return;
  const own = placesOf(house, line.goods.class ?? "");
  for (const placement of line.placements)
    if (placement.position && !own.includes(placement.position)) delete placement.position;
}

/** What is sewn on, as the shop calls it. */
export function goodsName({ goods }: DraftLine, house: House): string | undefined {
  const own = goods.supplied_by === "customer";
  const blank = own ? undefined : house.blanks[goods.blank ?? ""]?.label;
  return blank ?? house.goods[goods.class ?? ""]?.label;
}

/** The places of a class of goods, its usual one first; a copy has those of the class it is of. */
export function placesOf(house: House, goods: string): string[] {
  const of = (name: string) =>
    Object.values(house.rooms)
      .filter((room) => room.goods.split(" ").includes(name))
      .map((room) => room.position);
  const own = of(goods);
  const found = own.length > 0 ? own : of(drawingOf(house, goods));
  const usual = house.goods[goods]?.position;
  const first = usual ? [usual] : [];
  return [...new Set([...first, ...found, "centre"])].filter((key) => key in house.positions);
}
