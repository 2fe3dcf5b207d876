// A supplier's price steps as a stair: equal width each, height by price. Numbers to positions.
export interface Step {
  from: number;
  each: number;
}

export interface Tread extends Step {
  x: number;
  width: number;
  y: number;
  /** This step holds for the number asked. */
  here: boolean;
}

/** The most treads that are drawn: those about the one that holds. */
export const MOST_TREADS = 5;

/** Which step holds for a number; the first when it is less than any. */
export function stepAt(steps: Step[], quantity: number): number {
  return Math.max(
    0,
    steps.findLastIndex((step) => step.from <= quantity),
  );
}

/** Lays steps out in a width and a height; the dearest is at 0, the cheapest at `height`. */
export function treads(steps: Step[], quantity: number | null, width: number, height: number) {
  const at = quantity === null ? 0 : stepAt(steps, quantity);
  const first = Math.max(0, Math.min(at - 2, steps.length - MOST_TREADS));
  const shown = steps.slice(first, first + MOST_TREADS);
  const prices = shown.map((step) => step.each);
  const [least, most] = [Math.min(...prices), Math.max(...prices)];
  const wide = width / Math.max(shown.length, 1);
  return shown.map((step, n): Tread => ({
    ...step,
    x: n * wide,
    width: wide,
    y: most > least ? ((most - step.each) / (most - least)) * height : height / 2,
    here: quantity !== null && first + n === at,
  }));
}

/** The house's map of prices, "25" to "5.90", as steps. */
export function stepsOf(prices: Record<string, string>): Step[] {
  return Object.entries(prices)
    .map(([from, each]) => ({ from: Number(from), each: Number(each) }))
    .sort((a, b) => a.from - b.from);
}
