// What a drawing of goods is made of, in real millimetres at a middle size; x to the viewer's
// right from the centre line, y down. One hand: a silhouette, seams, stitching, and what shows
// behind. Paths are of M, L, C, Q and Z, absolute.

export type AnchorName =
  | "neckline"
  | "collar"
  | "shoulder"
  | "cuff"
  | "hem"
  | "seam"
  | "border"
  | "corner"
  | "peak"
  | "top"
  | "waist"
  | "pocket"
  | "end"
  | "side"
  | "tip"
  | "wing"
  | "fold"
  | "hood"
  | "block"
  | "sole"
  | "back";
export type Point = readonly [x: number, y: number];
export type Texture = "weave" | "knit" | "pile" | "quilt";

export interface View {
  /** Which side of the piece this is, as its tab says. */
  side: "front" | "back" | "side";
  /** The silhouette, closed. */
  body: string;
  /** Parts that lie behind or inside, closed: a shade deeper. */
  behind?: string;
  /** Parts laid over the body (a collar, a pocket, a peak), closed. */
  over?: string;
  /** Seams and edges. */
  lines?: string;
  /** Rows of stitching, dashed. */
  stitch?: string;
  texture?: Texture;
  /** Where measures are taken from. */
  anchors: Partial<Record<AnchorName, Point>>;
  /** From the top anchor, how far the part that is sewn on reaches down. */
  length?: number;
  /** The same from other anchors: a pocket, an ear, a block. */
  lengths?: Partial<Record<AnchorName, number>>;
}

export interface Drawing {
  views: View[];
}

interface Segment {
  at: string;
  points: Point[];
}

function segments(path: string): Segment[] {
  return [...path.matchAll(/([MLCQ])([^MLCQZ]*)/g)].map(([, at = "", rest = ""]) => {
    const numbers = (rest.match(/-?\d+(\.\d+)?/g) ?? []).map(Number);
    const points: Point[] = [];
    for (let i = 0; i + 1 < numbers.length; i += 2)
      points.push([numbers[i] ?? 0, numbers[i + 1] ?? 0]);
    return { at, points };
  });
}

/** The box round a view's paths, from their points (control points included). [mm] */
export function extent(view: View): { x: number; y: number; width: number; height: number } {
  const points = segments(
    [view.body, view.behind, view.over, view.lines].filter(Boolean).join(""),
  ).flatMap((part) => part.points);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [x, y] = [Math.min(...xs), Math.min(...ys)];
  return { x, y, width: Math.max(...xs) - x, height: Math.max(...ys) - y };
}
