// Goods as we draw them: a wash of colour a little off the line, hairline seams, stitching.
import { useId } from "react";
import type { Texture, View } from "./shape";
import style from "./Goods.module.scss";

interface Props {
  view: View;
  /** Pixels a millimetre: textures are left out where they would turn to grey. */
  scale: number;
  tint?: string;
}

/** A wash of the goods' own colour, so that its lines and light threads stay to be seen. */
export const tintOf = (cloth: string | null | undefined): string | undefined =>
  cloth ? `color-mix(in srgb, ${cloth} 72%, var(--cloth))` : undefined;

/** A view of a piece, in millimetres: to stand inside an svg group that is scaled. */
export function Goods({ view, scale, tint = "var(--cloth)" }: Props) {
  const id = useId();
  const off = 3 / scale;
  const hair = { vectorEffect: "non-scaling-stroke", fill: "none" } as const;
  const texture = view.texture && scale > 0.22 ? view.texture : null;
  return (
    <g className={style["goods"]}>
      {view.behind && (
        <path d={view.behind} fill="var(--cloth-deep)" className={style["edge"]} {...edge} />
      )}
      <path d={view.body} fill="var(--white)" />
      <path d={view.body} fill={tint} opacity="0.75" transform={`translate(${off} ${off})`} />
      {texture && (
        <>
          <Texture id={id} kind={texture} scale={scale} />
          <path d={view.body} fill={`url(#${id})`} />
        </>
      )}
      <path d={view.body} className={style["edge"]} {...hair} strokeWidth="1.4" />
      {view.behind && view.body && <path d={view.behind} className={style["edge"]} {...hair} />}
      {view.lines && <path d={view.lines} className={style["seam"]} {...hair} />}
      {view.over && (
        <>
          <path d={view.over} fill="var(--white)" />
          <path d={view.over} fill={tint} opacity="0.55" />
          <path d={view.over} className={style["edge"]} {...hair} strokeWidth="1.2" />
        </>
      )}
      {view.over && view.lines && <path d={view.lines} className={style["seam"]} {...hair} />}
      {view.stitch && <path d={view.stitch} className={style["stitching"]} {...hair} />}
    </g>
  );
}

const edge = { vectorEffect: "non-scaling-stroke" } as const;

const MARKS: Record<Texture, { size: number; d: string }> = {
  knit: { size: 9, d: "M1 2L3 5L5 2M5.5 6.5L7.5 9.5L9.5 6.5" },
  weave: { size: 8, d: "M1 1L3 1M5 5L7 5M1 4L1 6M5 0L5 2" },
  pile: { size: 13, d: "M2 5Q3 1 4 5M8 11Q9 7 10 11M9 4Q10 1 11 4" },
  quilt: { size: 26, d: "M4 8Q13 11 22 8" },
};

function Texture({ id, kind, scale }: { id: string; kind: Texture; scale: number }) {
  const { size, d } = MARKS[kind];
  const grown = 1 / scale; // marks keep their size on the screen
  return (
    <defs>
      <pattern
        id={id}
        width={size}
        height={size}
        patternUnits="userSpaceOnUse"
        patternTransform={`scale(${grown})`}
      >
        <path d={d} className={style["texture"]} fill="none" />
      </pattern>
    </defs>
  );
}
