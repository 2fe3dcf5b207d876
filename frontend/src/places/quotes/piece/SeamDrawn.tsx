// The seam that is opened, drawn beside its design; its end is dragged, or moved by arrow keys.
import { useRef } from "react";
import { text, useBench, useOpenPlace } from "../../../draft";
import { lengthText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import { plainMm } from "../place";
import type { XY } from "./piece.geometry";
import style from "./SeamDrawn.module.scss";

const AWAY_MM = 14;
const STEP_MM = 10;
const [LEAST_MM, MOST_MM] = [10, 3000];

interface Props {
  /** The design's middle, and its box as it lies. [mm] */
  at: XY;
  size: readonly [number, number];
  frame: { scale: number; x: number; y: number };
}

export function SeamDrawn({ at, size, frame }: Props) {
  const { editable } = useBench();
  const { units } = useUnits();
  const { placement, actions } = useOpenPlace();
  const grip = useRef(false);
  const long = plainMm(placement.seam?.length_mm);
  if (!placement.seam || !long) return null;
  const side = placement.seam.side ?? "left";
  const upright = side === "left" || side === "right";
  const away = size[upright ? 0 : 1] / 2 + AWAY_MM;
  const sign = side === "left" || side === "above" ? -1 : 1;
  const [x, y] = upright ? [at[0] + sign * away, at[1]] : [at[0], at[1] + sign * away];
  const screen = (mx: number, my: number): XY => [
    frame.x + mx * frame.scale,
    frame.y + my * frame.scale,
  ];
  const half = long / 2;
  const [from, to] = upright
    ? [screen(x, y - half), screen(x, y + half)]
    : [screen(x - half, y), screen(x + half, y)];
  const keep = (mm: number) =>
    actions.placement("seam.length_mm", (found) => {
      if (!found.seam) return;
      const length_mm = Math.min(MOST_MM, Math.max(LEAST_MM, Math.round(mm)));
      found.seam = { ...found.seam, length_mm };
    });
  const drag = (event: React.PointerEvent<SVGElement>) => {
    if (!grip.current) return;
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    const here = upright ? event.clientY - box.top : event.clientX - box.left;
    const middle = upright ? screen(x, y)[1] : screen(x, y)[0];
    keep((2 * Math.abs(here - middle)) / frame.scale);
  };
  const keys = (event: React.KeyboardEvent) => {
    const way = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }[event.key];
    if (!way) return;
    event.preventDefault();
    keep(long + way * (event.shiftKey ? STEP_MM : 1));
  };
  const felled = placement.seam.felled === true;
  return (
    <g className={style["sm-seam"]}>
      <path d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`} className={style["sm-open"]} />
      {felled && (
        <path
          d={`M${from[0]} ${from[1]}L${to[0]} ${to[1]}`}
          transform={upright ? "translate(4 0)" : "translate(0 4)"}
          className={style["sm-open"]}
        />
      )}
      <circle
        cx={to[0]}
        cy={to[1]}
        r={12}
        className={style["sm-grip"]}
        {...(editable && {
          tabIndex: 0,
          role: "slider",
          "aria-label": "Seam opened",
          "aria-valuemin": LEAST_MM,
          "aria-valuemax": MOST_MM,
          "aria-valuenow": long,
          "aria-valuetext": lengthText(long, units),
          "aria-orientation": upright ? ("vertical" as const) : ("horizontal" as const),
          onKeyDown: keys,
          onPointerDown: (event: React.PointerEvent<SVGElement>) => {
            grip.current = true;
            event.currentTarget.setPointerCapture(event.pointerId);
          },
          onPointerMove: drag,
          onPointerUp: () => {
            grip.current = false;
          },
        })}
      />
      <circle cx={to[0]} cy={to[1]} r={5} className={style["sm-dot"]} />
      <title>{`Opened ${text(placement.seam.length_mm)}`}</title>
    </g>
  );
}
