// A design's stitches to scale, in its hoop: drawn from the real path.
import { useEffect, useRef } from "react";
import type { DesignPath, House } from "../api/client";
import { paint, UNITS } from "./stitches";
import { bareLength, sizeText } from "./units";
import { usePictureHeight } from "./usePictureHeight";
import { useUnits } from "./useUnits";
import { useWidth } from "./useWidth";
import style from "./StitchPicture.module.scss";

const MARGIN = 22;

type Hoop = House["hoops"][string];

interface Lies {
  /** With the clock, tilt included. [degrees] */
  turn: number;
  mirror: boolean;
}

interface Props extends Lies {
  path: DesignPath | null;
  widthMm: number;
  heightMm: number;
  hoop: Hoop | null;
  turned: boolean;
  /** As it lies: the box its corners take up. [mm] */
  lyingMm: readonly [number, number];
}

export function StitchPicture(props: Props) {
  const { path, widthMm, heightMm, hoop, turned, turn, mirror, lyingMm } = props;
  const { units } = useUnits();
  const high = usePictureHeight();
  const [ref, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const opening = hoop
    ? turned
      ? [hoop.opening_height_mm, hoop.opening_width_mm]
      : [hoop.opening_width_mm, hoop.opening_height_mm]
    : [lyingMm[0] * 1.3, lyingMm[1] * 1.3];
  const wide = Math.max(opening[0] ?? 1, lyingMm[0]);
  const tall = Math.max(opening[1] ?? 1, lyingMm[1]);
  const scale = Math.min((width - 2 * MARGIN) / wide, (high - 2 * MARGIN) / tall);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !path || width === 0) return;
    draw(element, path, { turn, mirror }, [width, high], scale);
  }, [path, width, high, scale, turn, mirror]);
  const box = (w: number, h: number) => ({
    x: width / 2 - (w * scale) / 2,
    y: high / 2 - (h * scale) / 2,
    width: w * scale,
    height: h * scale,
  });
  const clear = hoop?.clearance_mm ?? 0;
  const size = sizeText(widthMm, heightMm, units);
  return (
    <div
      ref={ref}
      className={style["piece-picture"]}
      style={{ height: high }}
      role="img"
      aria-label={`The design, ${size}, in ${hoop ? `hoop ${hoop.label}` : "no hoop"}`}
    >
      {path && <canvas ref={canvas} />}
      {width > 0 && (
        <svg aria-hidden="true">
          {hoop && (
            <>
              <rect
                {...box(opening[0] ?? 0, opening[1] ?? 0)}
                rx={8}
                fill="none"
                stroke="var(--line-strong)"
                strokeWidth="3"
              />
              <rect
                {...box((opening[0] ?? 0) - 2 * clear, (opening[1] ?? 0) - 2 * clear)}
                fill="none"
                stroke="var(--line-strong)"
                strokeDasharray="2 4"
              />
            </>
          )}
          {!path && (
            <rect
              {...box(widthMm, heightMm)}
              transform={`rotate(${turn} ${width / 2} ${high / 2})`}
              fill="url(#design-hatch)"
              stroke="var(--ink-soft)"
              strokeDasharray="6 3"
            />
          )}
          <Measures
            box={box(lyingMm[0], lyingMm[1])}
            across={bareLength(lyingMm[0], units)}
            down={bareLength(lyingMm[1], units)}
          />
        </svg>
      )}
    </div>
  );
}

function Measures(props: {
  box: { x: number; y: number; width: number; height: number };
  across: string;
  down: string;
}) {
  const { x, y, width, height } = props.box;
  const under = y + height + 6;
  const beside = x + width + 6;
  return (
    <g stroke="var(--ink)" fontSize="12">
      <path d={`M${x} ${under - 3}v6M${x} ${under}H${x + width}M${x + width} ${under - 3}v6`} />
      <path
        d={`M${beside - 3} ${y}h6M${beside} ${y}V${y + height}M${beside - 3} ${y + height}h6`}
      />
      <g stroke="var(--white)" strokeWidth="4" paintOrder="stroke" fill="var(--ink)">
        <text x={x + width / 2} y={under + 13} textAnchor="middle">
          {props.across}
        </text>
        <text
          transform={`translate(${beside + 12} ${y + height / 2}) rotate(-90)`}
          textAnchor="middle"
        >
          {props.down}
        </text>
      </g>
    </g>
  );
}

function draw(
  element: HTMLCanvasElement,
  path: DesignPath,
  lies: Lies,
  [width, height]: readonly [number, number],
  scale: number,
) {
  const ratio = window.devicePixelRatio || 1;
  element.width = width * ratio;
  element.height = height * ratio;
  const pen = element.getContext("2d");
  if (!pen) return;
  const k = scale / UNITS;
  pen.setTransform(ratio, 0, 0, ratio, 0, 0);
  pen.clearRect(0, 0, width, height);
  pen.translate(width / 2, height / 2);
  pen.rotate((lies.turn * Math.PI) / 180);
  pen.scale(lies.mirror ? -1 : 1, 1);
  pen.translate((-path.width * k) / 2, (-path.height * k) / 2);
  paint(pen, path, scale);
}
