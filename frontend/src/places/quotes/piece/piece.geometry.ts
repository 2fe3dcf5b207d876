// Where a design lies on a drawn piece, and which measures a dragged one has; geometry only. How a
// mark moves for each measure is the estimate's.
import { type Place } from "../../../api";
import { anchorOf, lengthOf, spotOn, type Reference, type View } from "../../../look/drawings";

export interface Position extends Reference {
  anchor: string;
  gap_mm: number;
  side_mm: number;
}

export interface Measures {
  gap_mm: number;
  side_mm: number;
}

export type XY = readonly [number, number];
type Mark = Place["marks"][number];

/** The box a design takes up as it lies, from its corners: across and down. [mm] */
export function lyingSize(corners: number[][]): readonly [number, number] {
  const span = (values: number[]) =>
    values.length > 0 ? Math.max(...values) - Math.min(...values) : 0;
  return [span(corners.map(([x]) => x ?? 0)), span(corners.map(([, y]) => y ?? 0))];
}

/** The box of a design that is turned by quarters. [mm] */
export const lyingTurned = (
  width: number,
  height: number,
  turn: number,
): readonly [number, number] => (turn % 180 === 0 ? [width, height] : [height, width]);

export const lyingHeight = (corners: number[][]) => lyingSize(corners)[1];

/** A placement on a view: where its mark lies, its measures there, and which way each moves it. */
export interface Lying {
  at: XY;
  measures: Measures;
  gapWay: XY;
  sideWay: XY;
}

/** How a view draws a step from the reference. [mm] */
function wayOn(view: View, position: Reference, step: number[]): XY {
  const spot = (x_mm: number, y_mm: number) =>
    spotOn(view, position, { from_reference_mm: 0, x_mm, y_mm })?.at ?? [0, 0];
  const [from, to] = [spot(0, 0), spot(step[0] ?? 0, step[1] ?? 0)];
  return [to[0] - from[0], to[1] - from[1]];
}

/** Lay a placement on a view by one of its marks; null where the view has no such reference. */
export function lyingOn(
  view: View,
  position: Position,
  place: Pick<Place, "per_gap" | "per_side">,
  mark: Pick<Mark, "gap_mm" | "side_mm" | "from_reference_mm" | "x_mm" | "y_mm">,
): Lying | null {
  const spot = spotOn(view, position, mark);
  if (!spot) return null;
  return {
    at: spot.at,
    measures: {
      gap_mm: mark.gap_mm ?? Math.round(lengthOf(view, anchorOf(position)) * position.share),
      side_mm: mark.side_mm,
    },
    gapWay: wayOn(view, position, place.per_gap),
    sideWay: wayOn(view, position, place.per_side),
  };
}

/** How far along a way a step goes, in its own lengths. */
const along = ([x, y]: XY, [dx, dy]: XY) => {
  const square = dx * dx + dy * dy;
  return square > 0 ? (x * dx + y * dy) / square : 0;
};

/** The measures of a design whose centre lies at a point of the view. [mm, whole] */
export function measuresAt(to: XY, { at, measures, gapWay, sideWay }: Lying): Measures {
  const step: XY = [to[0] - at[0], to[1] - at[1]];
  const gap = Math.round(measures.gap_mm + along(step, gapWay));
  return {
    gap_mm: Math.max(0, gap),
    side_mm: Math.round(measures.side_mm + along(step, sideWay)),
  };
}

/** The point that measures lie at: `measuresAt` the other way. [mm] */
export function pointOf(m: Measures, { at, measures, gapWay, sideWay }: Lying): XY {
  const [gap, side] = [m.gap_mm - measures.gap_mm, m.side_mm - measures.side_mm];
  return [at[0] + gap * gapWay[0] + side * sideWay[0], at[1] + gap * gapWay[1] + side * sideWay[1]];
}

/** The measures usual at a position, for its middle size. */
export function usual(position: Position, view: View, middle?: Measures): Measures {
  const row = middle ?? position;
  if (!position.share) return { gap_mm: row.gap_mm, side_mm: row.side_mm };
  return {
    gap_mm: Math.round(lengthOf(view, anchorOf(position)) * position.share),
    side_mm: position.side_mm,
  };
}

/** Measures drawn to the usual ones, each on its own, when they come near; and to the centre. */
export function snapped(found: Measures, aim: Measures, near_mm: number): Measures {
  const pull = (value: number, ...aims: number[]) =>
    aims.find((each) => Math.abs(each - value) <= near_mm) ?? value;
  return {
    gap_mm: pull(found.gap_mm, aim.gap_mm),
    side_mm: pull(found.side_mm, aim.side_mm, 0),
  };
}

export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * The room at a place: what is measured to a design's edge is measured to the room's, and it ends
 * where the piece does, at the reference. [mm]
 */
export function roomBox(
  room: { width_mm: number | null; height_mm: number },
  usual: { at: XY; from: XY; high: number; anchor: string },
  wide: number,
): Box {
  const [width, height] = [room.width_mm ?? wide, room.height_mm];
  const [x, y] = usual.at;
  const more = (height - usual.high) / 2;
  const middle = usual.anchor === "top" ? y + more : usual.anchor === "bottom" ? y - more : y;
  const edge = usual.from[1];
  const top = middle - height / 2;
  const held = edge > y ? Math.min(top, edge - height) : Math.max(top, edge);
  return { x: x - width / 2, y: held, width, height };
}

/** The scale and origin that fit a box into a picture with room round it. */
export function fit(
  box: { x: number; y: number; width: number; height: number },
  width: number,
  height: number,
  room: number,
): { scale: number; x: number; y: number } {
  const scale = Math.min((width - 2 * room) / box.width, (height - 2 * room) / box.height);
  return {
    scale,
    x: width / 2 - (box.x + box.width / 2) * scale,
    y: height / 2 - (box.y + box.height / 2) * scale,
  };
}
