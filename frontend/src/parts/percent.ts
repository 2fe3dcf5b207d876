// Shares are shown and typed of a hundred, everywhere; documents keep them of one.

/** What a field shows of a held share: "35 %" and "0.35" both as 35. */
export function shownPercent(held: string): string {
  if (held.trim().endsWith("%")) return held.trim().slice(0, -1).trim();
  const share = Number(held);
  return held.trim() && Number.isFinite(share) ? String(Number((share * 100).toFixed(4))) : held;
}

/** What is kept of a share as it is typed: with its sign, so that the core reads it of a hundred. */
export const heldPercent = (typed: string): string =>
  typed.trim() === "" || typed.trim().endsWith("%") ? typed.trim() : `${typed.trim()} %`;
