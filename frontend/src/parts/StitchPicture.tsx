// A design's stitches to scale, in its hoop: drawn from the real path.
import { useEffect, useRef } from "react";
import type { DesignPath, House } from "../api/client";
import { number } from "./format";
import { useWidth } from "./useWidth";

const HEIGHT = 204;
const MARGIN = 14;
const PLAIN = "#6b6257";
const UNITS = 10;

type Hoop = House["hoops"][string];

interface Props {
  path: DesignPath | null;
  widthMm: number;
  heightMm: number;
  hoop: Hoop | null;
  turned: boolean;
}

export function StitchPicture({ path, widthMm, heightMm, hoop, turned }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const opening = hoop
    ? turned
      ? [hoop.opening_height_mm, hoop.opening_width_mm]
      : [hoop.opening_width_mm, hoop.opening_height_mm]
    : [widthMm * 1.3, heightMm * 1.3];
  const wide = Math.max(opening[0] ?? 1, widthMm);
  const high = Math.max(opening[1] ?? 1, heightMm);
  const scale = Math.min((width - 2 * MARGIN) / wide, (HEIGHT - 2 * MARGIN) / high);
  useEffect(() => {
    const element = canvas.current;
    if (!element || !path || width === 0) return;
    draw(element, path, width, scale);
  }, [path, width, scale]);
  const box = (w: number, h: number) => ({
    x: width / 2 - (w * scale) / 2,
    y: HEIGHT / 2 - (h * scale) / 2,
    width: w * scale,
    height: h * scale,
  });
  const clear = hoop?.clearance_mm ?? 0;
  const size = `${number(widthMm, 1)} × ${number(heightMm, 1)} mm`;
  return (
    <div
      ref={ref}
      className="piece-picture"
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
              fill="var(--linen)"
              stroke="var(--ink-soft)"
              strokeDasharray="6 3"
            />
          )}
          <Measures box={box(widthMm, heightMm)} across={widthMm} down={heightMm} />
        </svg>
      )}
    </div>
  );
}

function Measures(props: {
  box: { x: number; y: number; width: number; height: number };
  across: number;
  down: number;
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
      <g stroke="none" fill="var(--ink)">
        <text x={x + width / 2} y={under + 13} textAnchor="middle">
          {number(props.across, 1)}
        </text>
        <text x={beside + 5} y={y + height / 2 + 4}>
          {number(props.down, 1)}
        </text>
      </g>
    </g>
  );
}

function draw(element: HTMLCanvasElement, path: DesignPath, width: number, scale: number) {
  const ratio = window.devicePixelRatio || 1;
  element.width = width * ratio;
  element.height = HEIGHT * ratio;
  const pen = element.getContext("2d");
  if (!pen) return;
  const k = scale / UNITS;
  pen.setTransform(ratio, 0, 0, ratio, 0, 0);
  pen.clearRect(0, 0, width, HEIGHT);
  pen.translate(width / 2 - (path.width * k) / 2, HEIGHT / 2 - (path.height * k) / 2);
  pen.lineCap = "round";
  pen.lineJoin = "round";
  for (const block of path.blocks) {
    const lines = new Path2D();
    block.runs.forEach((run, r) => {
      const floats = new Set(block.floats[r]);
      for (let i = 0; i < run.length / 2; i += 1) {
        const x = (run[2 * i] ?? 0) * k;
        const y = (run[2 * i + 1] ?? 0) * k;
        if (i === 0 || floats.has(i)) lines.moveTo(x, y);
        else lines.lineTo(x, y);
      }
    });
    pen.strokeStyle = block.colour ?? PLAIN;
    pen.lineWidth = Math.max(0.38 * scale, 0.7);
    pen.stroke(lines);
    pen.strokeStyle = "rgb(255 255 255 / 0.22)";
    pen.lineWidth = Math.max(0.1 * scale, 0.25);
    pen.stroke(lines);
  }
}
