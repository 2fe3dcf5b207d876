import style from "./PieceDimensions.module.scss";
// The measures from the reference and from the centre line, on the drawn piece.
interface DimensionProps {
  from: readonly [number, number];
  at: readonly [number, number];
  upTo: number;
  /** The design's lower edge: no figure stands under it. */
  under: number;
  frame: { scale: number; x: number; y: number };
  text: (mm: number) => string;
}

export function PieceDimensions({ from, at, upTo, under, frame, text }: DimensionProps) {
  const px = ([x, y]: readonly [number, number]) =>
    [frame.x + x * frame.scale, frame.y + y * frame.scale] as const;
  const [fx, fy] = px(from);
  const [ax] = px(at);
  const [, ty] = px([at[0], upTo]);
  const [, low] = px([at[0], under]);
  const [down, side] = [Math.abs(upTo - from[1]), Math.abs(at[0] - from[0])];
  return (
    <g className={style["dimension"]}>
      <path d={`M${fx} ${fy - 6}V${Math.max(fy, ty) + 12}`} className={style["centre-line"]} />
      {Math.abs(ty - fy) > 3 && (
        <>
          <path
            d={`M${Math.min(fx, ax) - 4} ${fy}H${Math.max(fx, ax) + 4}`}
            className={style["from"]}
          />
          <path d={`M${ax} ${fy}V${ty}M${ax - 3} ${fy}h6M${ax - 3} ${ty}h6`} />
          <text x={ax + 5} y={(fy + ty) / 2 + 4}>
            {text(down)}
          </text>
        </>
      )}
      {side > 0.5 && (
        <>
          <path d={`M${fx} ${ty}H${ax}M${fx} ${ty - 3}v6`} />
          <text x={(fx + ax) / 2} y={Math.max(ty, low) + 14} textAnchor="middle">
            {text(side)}
          </text>
        </>
      )}
    </g>
  );
}
