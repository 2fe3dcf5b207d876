// The curve of price against quantity: quantities on a logarithmic scale, money from zero. Pure.
export interface CurveTier {
  quantity: number;
  unit: string;
  unit_cost: string;
  set_up: string;
}

export interface Curve {
  price: string;
  cost: string;
  setUp: string;
  points: { x: number; quantity: number; price: number }[];
  /** Money to pixels. */
  y: (money: number) => number;
  /** The labelled money. */
  top: number;
}

/** Lay tiers out as three lines in a box. [px] */
export function curveOf(tiers: CurveTier[], width: number, height: number): Curve {
  const low = Math.log(Math.max(1, tiers[0]?.quantity ?? 1));
  const high = Math.log(Math.max(2, tiers[tiers.length - 1]?.quantity ?? 2));
  const top = Math.max(...tiers.map((t) => Math.max(Number(t.unit), Number(t.unit_cost))), 0.01);
  const x = (q: number) => (high > low ? ((Math.log(q) - low) / (high - low)) * width : 0);
  const y = (money: number) => height - (money / top) * height;
  const through = (value: (t: CurveTier) => number) =>
    tiers
      .map((t, i) => `${i ? "L" : "M"}${x(t.quantity).toFixed(1)} ${y(value(t)).toFixed(1)}`)
      .join("");
  return {
    price: through((t) => Number(t.unit)),
    cost: through((t) => Number(t.unit_cost)),
    setUp: through((t) => Number(t.unit_cost) - Number(t.set_up)),
    points: tiers.map((t) => ({ x: x(t.quantity), quantity: t.quantity, price: Number(t.unit) })),
    y,
    top,
  };
}
