// Which panel a piece of advice stands in: by where it is about.
import { type Advice, type EstimateLine } from "../../api";

export type Panel = "ask" | "piece" | "making";

export function panelOf({ where }: Advice): Panel {
  if (/^placements\[\d+\]\.methods/.test(where)) return "making";
  if (where.startsWith("placements[")) return "piece";
  return where === "price" || where === "tiers" ? "making" : "ask";
}

const placeOf = (where: string) => /^placements\[(\d+)\]/.exec(where)?.[1];

/**
 * What stands in a panel: of the open place all, of other places of this line only what stops it,
 * with the name of its place.
 */
export function adviceFor(
  panel: Panel,
  all: Advice[],
  placeAt: number,
  line: EstimateLine | undefined,
): Advice[] {
  return all.flatMap((advice) => {
    const place = placeOf(advice.where);
    const elsewhere = place !== undefined && Number(place) !== placeAt;
    if (panelOf(advice) !== panel || (elsewhere && advice.level !== "stop")) return [];
    const label = elsewhere ? line?.places[Number(place)]?.label : undefined;
    return [label ? { ...advice, message: `${label}: ${advice.message}` } : advice];
  });
}
