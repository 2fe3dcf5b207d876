// Where a design lies on a drawn piece, and which measures a dragged one has; geometry only.
import { spotOn, type View } from "../../look/drawings";

export interface Position {
  reference: string;
  direction: string;
  anchor: string;
  gap_mm: number;
  share: number;
  side_mm: number;
  side_reference: string;
  side: string;
  corner_deg: number;
}

export interface Measures {
  gap_mm: number;
  side_mm: number;
}

type XY = readonly [number, number];

/** The box a design takes up as it lies, from its corners: across and down. [mm] */
export function lyingSize(corners: number[][]): readonly [number, number] {
  const span = (values: number[]) =>
    values.length > 0 ? Math.max(...values) - Math.min(...values) : 0;
  return [span(corners.map(([x]) => x ?? 0)), span(corners.map(([, y]) => y ?? 0))];
}

export const lyingHeight = (corners: number[][]) => lyingSize(corners)[1];

/** The measures of a design whose centre lies at a point of the view. [mm, whole] */
export function measuresAt(at: XY, view: View, position: Position, height: number): Measures {
  const spot = spotOn(view, position, { from_reference_mm: 0, x_mm: 0, y_mm: 0 });
  const from = spot?.from ?? [0, 0];
  const [x, y] = [at[0] - from[0], at[1] - from[1]];
  if (position.corner_deg) {
    const edge = Math.max(0, -(x + y) / 2);
    const along = edge / Math.sin((position.corner_deg / 2 / 180) * Math.PI);
    return { gap_mm: Math.round(along), side_mm: 0 };
  }
  const mark = position.direction === "above" ? -y : y;
  const gap = position.anchor === "centre" ? mark : mark - height / 2;
  const side = position.side === "wearer's right" ? -x : x;
  return { gap_mm: Math.max(0, Math.round(gap)), side_mm: Math.round(side) };
}

/** The point that measures lie at: `measuresAt` the other way. [mm] */
export function pointOf(m: Measures, view: View, position: Position, height: number): XY {
  const mark = position.anchor === "centre" ? m.gap_mm : m.gap_mm + height / 2;
  if (position.corner_deg) {
    const edge = mark * Math.sin((position.corner_deg / 2 / 180) * Math.PI);
    return (
      spotOn(view, position, { from_reference_mm: mark, x_mm: edge, y_mm: edge })?.at ?? [0, 0]
    );
  }
  const x = position.side === "wearer's right" ? -m.side_mm : m.side_mm;
  const y = position.direction === "above" ? -mark : mark;
  return spotOn(view, position, { from_reference_mm: mark, x_mm: x, y_mm: y })?.at ?? [0, 0];
}

/** The measures usual at a position, for its middle size. */
export function usual(position: Position, view: View, middle?: Measures): Measures {
  const row = middle ?? position;
  if (!position.share) return { gap_mm: row.gap_mm, side_mm: row.side_mm };
  return { gap_mm: Math.round((view.length ?? 0) * position.share), side_mm: position.side_mm };
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
