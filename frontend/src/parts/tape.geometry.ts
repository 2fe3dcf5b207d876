// The tape's geometry: equal width between tiers, linear within.

/** Where a quantity lies, 0 to 1. */
export function placeOf(quantity: number, tiers: number[]): number {
  const spans = Math.max(tiers.length - 1, 1);
  const first = tiers[0] ?? 1;
  if (quantity <= first) return 0;
  for (let i = 1; i < tiers.length; i += 1) {
    const low = tiers[i - 1] ?? first;
    const high = tiers[i] ?? low;
    if (quantity <= high) return (i - 1 + (quantity - low) / (high - low)) / spans;
  }
  return 1;
}

/** Which quantity lies at a place, a whole number. */
export function quantityAt(place: number, tiers: number[]): number {
  const spans = Math.max(tiers.length - 1, 1);
  const along = Math.min(Math.max(place, 0), 1) * spans;
  const i = Math.min(Math.floor(along), spans - 1);
  const low = tiers[i] ?? 1;
  const high = tiers[i + 1] ?? low;
  return Math.round(low + (along - i) * (high - low));
}
