// The drawings of goods: where on them a place lies. The drawings themselves are in `useDrawings`.
import type { AnchorName, Drawing, Point, View } from "./shape";

export { extent, type View } from "./shape";
export { useDrawings } from "./useDrawings";

/** What a reference is called in the standards, and the point that stands for it. */
const NAMED: [RegExp, AnchorName][] = [
  [/pocket/, "pocket"],
  [/sole/, "sole"],
  [/block/, "block"],
  [/hood/, "hood"],
  [/wing/, "wing"],
  [/tip of/, "tip"],
  [/fold of the (collar|brim)/, "fold"],
  [/turned-down/, "border"],
  [/edge of the back/, "back"],
  [/edge of the side/, "side"],
  [/waist/, "waist"],
  [/strap/, "end"],
  [/neck(line| seam)/, "neckline"],
  [/collar/, "collar"],
  [/peak/, "peak"],
  [/cuff/, "cuff"],
  [/border/, "border"],
  [/corner/, "corner"],
  [/hem\b/, "hem"],
  [/seam/, "seam"],
  [/top|edge/, "top"],
];

export interface Reference {
  reference: string;
  side_reference: string;
  share: number;
}

export interface Spot {
  view: View;
  /** The point that measures are taken from. [mm] */
  from: Point;
  /** The centre of the design. [mm] */
  at: Point;
}

/** The anchor that a position's reference names. */
export function anchorOf({ reference }: Pick<Reference, "reference">): AnchorName {
  return NAMED.find(([words]) => words.test(reference))?.[1] ?? "top";
}

/** The view that shows a position: its back for what is measured on the back. */
export function viewOf(drawing: Drawing, position: Reference): View | undefined {
  const anchor = anchorOf(position);
  const back = /back/.test(position.side_reference) ? "back" : "front";
  const showing = drawing.views.filter((view) => view.anchors[anchor]);
  if (anchor === "cuff") return showing.find((view) => view.side === "side") ?? showing[0];
  return showing.find((view) => view.side === back) ?? showing[0];
}

/** How far the part below an anchor reaches. [mm] */
export const lengthOf = (view: View, anchor: AnchorName): number =>
  view.lengths?.[anchor] ?? view.length ?? 0;

/** Where a design's centre comes to lie on a view, from the mark; null where the view lacks it. */
export function spotOn(
  view: View,
  position: Reference,
  mark: { from_reference_mm: number | null; x_mm: number; y_mm: number },
): Spot | null {
  const anchor = anchorOf(position);
  const named = view.anchors[anchor];
  if (!named) return null;
  // ears are drawn both, and named by the wearer's side
  const from: Point = /right ear/.test(position.side_reference) ? [-named[0], named[1]] : named;
  if (mark.from_reference_mm === null) {
    const down = lengthOf(view, anchor) * position.share;
    return { view, from, at: [from[0], from[1] + down] };
  }
  // the drawn corner is the lower right one: in along its edges is up and to the left
  const way = anchor === "corner" ? -1 : 1;
  return { view, from, at: [from[0] + way * mark.x_mm, from[1] + way * mark.y_mm] };
}
