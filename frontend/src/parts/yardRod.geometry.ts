// The yard's geometry: amounts of money to places on a rod. Pure; nothing is priced here.

export interface Length {
  id: string;
  name: string;
  colour: string;
  amount: number;
  from: number;
  to: number;
  working: string;
}

export interface LabelGroup {
  lengths: Length[];
  x: number;
  width: number;
}

const STEPS = [1, 1.25, 1.5, 2, 2.5, 3, 4, 5, 6, 8, 10];
export const NARROW_PX = 40;

/** The scale's end: the next of 1, 1.25, 1.5, 2 … × 10ⁿ above 1.05 × the largest amount. */
export function scaleEnd(largest: number): number {
  const wanted = Math.max(largest, 0.01) * 1.05;
  const power = 10 ** Math.floor(Math.log10(wanted));
  return (STEPS.find((step) => step * power > wanted) ?? 10) * power;
}

/** Labelled ticks at a 1-2-5 step at least `gapPx` apart. */
export function ticks(end: number, widthPx: number, gapPx: number): number[] {
  const least = (end * gapPx) / widthPx;
  const power = 10 ** Math.floor(Math.log10(least));
  const step = ([1, 2, 5, 10].find((s) => s * power >= least - 1e-12) ?? 10) * power;
  const count = Math.floor(end / step + 1e-9);
  return Array.from({ length: count + 1 }, (_, i) => i * step);
}

/** Lay amounts end to end from zero. */
export function lay(
  amounts: { id: string; name: string; colour: string; amount: number; working: string }[],
): Length[] {
  let at = 0;
  return amounts
    .filter((part) => part.amount > 0)
    .map((part) => {
      const from = at;
      at += part.amount;
      return { ...part, from, to: at };
    });
}

/** Group lengths for their labels: one of its own when wide enough, neighbours joined when not. */
export function labelGroups(lengths: Length[], pxPerUnit: number, needPx: number): LabelGroup[] {
  const groups: LabelGroup[] = [];
  let joined: Length[] = [];
  const close = () => {
    if (joined.length > 0) groups.push(group(joined, pxPerUnit));
    joined = [];
  };
  for (const length of lengths) {
    if ((length.to - length.from) * pxPerUnit >= needPx) {
      close();
      groups.push(group([length], pxPerUnit));
    } else {
      joined.push(length);
    }
  }
  close();
  return groups;
}

function group(lengths: Length[], pxPerUnit: number): LabelGroup {
  const from = lengths[0]?.from ?? 0;
  const to = lengths[lengths.length - 1]?.to ?? from;
  return { lengths, x: from * pxPerUnit, width: (to - from) * pxPerUnit };
}

/** Start of each label: under its length, pushed right past the one before, kept inside the end. */
export function placeLabels(starts: number[], widths: number[], endPx: number): number[] {
  const gap = 10;
  const places: number[] = [];
  starts.forEach((start, i) => {
    const before = i > 0 ? (places[i - 1] ?? 0) + (widths[i - 1] ?? 0) + gap : 0;
    places.push(Math.max(start, before));
  });
  let limit = endPx;
  for (let i = places.length - 1; i >= 0; i -= 1) {
    places[i] = Math.min(places[i] ?? 0, limit - (widths[i] ?? 0));
    limit = (places[i] ?? 0) - gap;
  }
  return places;
}

/** A place on the rod as a price: a whole number of steps, never under one. */
export function priceAt(px: number, pxPerUnit: number, step: number): number {
  return Math.max(step, Math.round(px / pxPerUnit / step) * step);
}
