// What a drawing of goods is made of, in real millimetres at a middle size; x to the viewer's
// right from the centre line, y down. One hand: a silhouette, seams, stitching, and what shows
// behind. Helpers build both halves of a piece from one.

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

const write = (at: string, points: Point[]) =>
  `${at}${points.map(([x, y]) => `${x} ${y}`).join(" ")}`;
const across = ([x, y]: Point): Point => [-x, y];

/** A path and its mirror image across the centre line: for seams that are there twice. */
export function mirrored(path: string): string {
  const other = segments(path).map(({ at, points }) => write(at, points.map(across)));
  return `${path}${other.join("")}`;
}

/** A closed silhouette from its right half, which begins and ends on the centre line. */
export function both(half: string): string {
  const parts = segments(half);
  const ends = parts.map(({ points }): Point => points[points.length - 1] ?? [0, 0]);
  const back = parts.slice(1).map(({ at, points }, i) => {
    const turned: Point[] = [...points.slice(0, -1).reverse(), ends[i] ?? [0, 0]];
    return write(at, turned.map(across));
  });
  return `${half}${back.reverse().join("")}Z`;
}

/** A box with rounded corners, closed. */
export function box(x: number, y: number, width: number, height: number, r = 0): string {
  const [a, b] = [x + width, y + height];
  if (!r) return `M${x} ${y}L${a} ${y}L${a} ${b}L${x} ${b}Z`;
  return (
    `M${x + r} ${y}L${a - r} ${y}Q${a} ${y} ${a} ${y + r}L${a} ${b - r}Q${a} ${b} ${a - r} ${b}` +
    `L${x + r} ${b}Q${x} ${b} ${x} ${b - r}L${x} ${y + r}Q${x} ${y} ${x + r} ${y}Z`
  );
}

const ROUND = 0.5523;

/** An ellipse as four curves, closed. */
export function ellipse(x: number, y: number, rx: number, ry = rx): string {
  const [a, b] = [rx * ROUND, ry * ROUND].map((n) => Math.round(n * 10) / 10) as [number, number];
  return (
    `M${x + rx} ${y}C${x + rx} ${y + b} ${x + a} ${y + ry} ${x} ${y + ry}` +
    `C${x - a} ${y + ry} ${x - rx} ${y + b} ${x - rx} ${y}` +
    `C${x - rx} ${y - b} ${x - a} ${y - ry} ${x} ${y - ry}` +
    `C${x + a} ${y - ry} ${x + rx} ${y - b} ${x + rx} ${y}Z`
  );
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
