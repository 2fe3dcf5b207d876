// Sizes on the drawn piece: what a finger can hold, the middle size, where a measure is taken to.
import { type House } from "../../../api";
import { lyingHeight, type XY } from "./piece.geometry";

/** What a finger can take hold of: the design, at least so large. [mm] */
export function grip(corners: number[][], least: number) {
  const width = Math.max(least, 2 * Math.max(...corners.map(([x]) => x ?? 0)));
  const height = Math.max(least, lyingHeight(corners));
  return { x: -width / 2, y: -height / 2, width, height };
}

/** The measures of the size that a piece is drawn at: those for all sizes named nowhere. */
export function middleSize(house: House, position: string) {
  return Object.values(house.place_sizes).find(
    (row) => row.position === position && row.sizes.includes("*"),
  );
}

/** The design's edge that the measure is taken to, when that is not its centre. */
export function edgeOf(at: XY, corners: number[][], { anchor }: { anchor: string }) {
  const half = lyingHeight(corners) / 2;
  if (anchor === "top") return at[1] - half;
  return anchor === "bottom" ? at[1] + half : at[1];
}
