// A factor's ruler: actual ÷ estimated on a line that is even in ratios, 1 in its middle.

/** How far the ruler reaches to either side of 1, as a ratio: all jobs and the band are on it. */
export function reachOf(ratios: number[]): number {
  const most = ratios
    .filter((r) => r > 0 && Number.isFinite(r))
    .reduce((far, r) => Math.max(far, r, 1 / r), 1.25);
  return Math.min(6, Math.max(1.3, most * 1.08));
}

/** Where a ratio stands, from 0 to 1; what is beyond the ends stands at them. */
export function placeOf(ratio: number, reach: number): number {
  const at = 0.5 + Math.log(ratio) / (2 * Math.log(reach));
  return Math.min(1, Math.max(0, at));
}

/** The ratio at a place: `placeOf` the other way round. */
export const ratioAt = (place: number, reach: number): number =>
  Math.exp((place - 0.5) * 2 * Math.log(reach));

const MARKS = [0.2, 0.25, 0.33, 0.5, 0.67, 0.8, 0.9, 1, 1.1, 1.25, 1.5, 2, 3, 4, 5];

/** Ratios that are written on it, none nearer to another than a share of its length. */
export function marksOf(reach: number, apart = 0.09): number[] {
  const inside = MARKS.filter((m) => m <= reach && m >= 1 / reach);
  const kept: number[] = [1];
  for (const mark of [...inside].sort((a, b) => Math.abs(Math.log(b)) - Math.abs(Math.log(a))))
    if (kept.every((k) => Math.abs(placeOf(k, reach) - placeOf(mark, reach)) >= apart))
      kept.push(mark);
  return kept.sort((a, b) => a - b);
}

/** Dots that would lie on each other stand in rows above: the row of each, 0 the lowest. */
export function rowsOf(places: number[], apart: number): number[] {
  const ends: number[] = [];
  const rows = new Array<number>(places.length).fill(0);
  const order = places.map((place, n) => ({ place, n })).sort((a, b) => a.place - b.place);
  for (const { place, n } of order) {
    let row = 0;
    while ((ends[row] ?? -Infinity) > place - apart) row += 1;
    ends[row] = place;
    rows[n] = row;
  }
  return rows;
}
