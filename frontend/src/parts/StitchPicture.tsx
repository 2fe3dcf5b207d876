// A design's stitches to scale, in its hoop: drawn from the real path.
import { useEffect, useRef } from "react";
import { type DesignPath, type House } from "../api";
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

/** A patch laid before something is sewn on it, from the design's least x and y. [mm] */
export interface Patch {
  x: number;
  y: number;
  width: number;
  height: number;
  under: boolean;
  /** One over all of a hooping. */
  shared: boolean;
  /** Of what tacks it down, flat x, y; [] where unknown. */
  outline: number[];
}

/** Several in one hooping, side by side. [mm] */
export interface Grid {
  columns: number;
  rows: number;
  gapMm: number;
}

const ONE: Grid = { columns: 1, rows: 1, gapMm: 0 };

interface Props extends Lies {
  path: DesignPath | null;
  widthMm: number;
  heightMm: number;
  hoop: Hoop | null;
  turned: boolean;
  /** As it lies: the box its corners take up. [mm] */
  lyingMm: readonly [number, number];
  grid?: Grid;
  patches?: Patch[];
}

export function StitchPicture(props: Props) {
  const { path, widthMm, heightMm, hoop, turned, turn, mirror, lyingMm } = props;
  const { grid = ONE, patches = [] } = props;
  const several = grid.columns * grid.rows > 1;
  const { units } = useUnits();
  const high = usePictureHeight();
  const [ref, width] = useWidth<HTMLDivElement>();
  const canvas = useRef<HTMLCanvasElement>(null);
  const opening = hoop
    ? turned
      ? [hoop.opening_height_mm, hoop.opening_width_mm]
      : [hoop.opening_width_mm, hoop.opening_height_mm]
    : [lyingMm[0] * 1.3, lyingMm[1] * 1.3];
  const pitch = [lyingMm[0] + grid.gapMm, lyingMm[1] + grid.gapMm] as const;
  const all = [grid.columns * pitch[0] - grid.gapMm, grid.rows * pitch[1] - grid.gapMm] as const;
  const shared = patches.filter((patch) => patch.shared);
  const wide = Math.max(opening[0] ?? 1, all[0], ...shared.map((patch) => patch.width));
  const tall = Math.max(opening[1] ?? 1, all[1], ...shared.map((patch) => patch.height));
  const scale = Math.min((width - 2 * MARGIN) / wide, (high - 2 * MARGIN) / tall);
  const [pitchX, pitchY] = pitch;
  useEffect(() => {
    const element = canvas.current;
    if (!element || !path || width === 0) return;
    const cells = cellsOf(grid.columns, grid.rows, pitchX, pitchY);
    draw(element, path, { turn, mirror }, [width, high], scale, cells);
  }, [path, width, high, scale, turn, mirror, grid.columns, grid.rows, pitchX, pitchY]);
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
      aria-label={`The design, ${size}, ${several ? `${grid.columns} × ${grid.rows} of it, ` : ""}in ${hoop ? `hoop ${hoop.label}` : "no hoop"}`}
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
          {cellsOf(grid.columns, grid.rows, pitchX, pitchY).map(([x, y], n) => (
            <g
              key={n}
              transform={`translate(${width / 2 + x * scale} ${high / 2 + y * scale}) rotate(${turn}) scale(${mirror ? -scale : scale} ${scale}) translate(${-widthMm / 2} ${-heightMm / 2})`}
            >
              {!path && (
                <rect
                  width={widthMm}
                  height={heightMm}
                  fill="url(#design-hatch)"
                  stroke="var(--ink-soft)"
                  strokeDasharray="6 3"
                  vectorEffect="non-scaling-stroke"
                />
              )}
              {patches.map((patch, i) => !patch.shared && <PatchDrawn key={i} patch={patch} />)}
            </g>
          ))}
          {patches.map(
            (patch, i) =>
              patch.shared && (
                <g key={i} transform={`translate(${width / 2} ${high / 2}) scale(${scale})`}>
                  <PatchDrawn
                    patch={{ ...patch, x: -patch.width / 2, y: -patch.height / 2, outline: [] }}
                  />
                </g>
              ),
          )}
          <Measures
            box={box(all[0], all[1])}
            across={bareLength(all[0], units)}
            down={bareLength(all[1], units)}
          />
        </svg>
      )}
    </div>
  );
}

/** Where the middles of several lie, from the middle of all. */
function cellsOf(columns: number, rows: number, pitchX: number, pitchY: number) {
  return Array.from({ length: columns * rows }, (_, n) => {
    const [row, column] = [Math.floor(n / columns), n % columns];
    return [(column - (columns - 1) / 2) * pitchX, (row - (rows - 1) / 2) * pitchY] as const;
  });
}

/** A patch as it is cut, and what sews it down. */
export function PatchDrawn({ patch: { x, y, width, height, under, outline } }: { patch: Patch }) {
  const points = Array.from(
    { length: outline.length / 2 },
    (_, i) => `${outline[2 * i]},${outline[2 * i + 1]}`,
  ).join(" ");
  return (
    <g fill="none" stroke="var(--sheet-text)" strokeWidth="1.4">
      <rect
        x={x}
        y={y}
        width={width}
        height={height}
        strokeDasharray={under ? "1 4" : "7 3"}
        vectorEffect="non-scaling-stroke"
      />
      {points && <polygon points={points} vectorEffect="non-scaling-stroke" />}
    </g>
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
  cells: (readonly [number, number])[],
) {
  const ratio = window.devicePixelRatio || 1;
  element.width = width * ratio;
  element.height = height * ratio;
  const pen = element.getContext("2d");
  if (!pen) return;
  const k = scale / UNITS;
  pen.setTransform(ratio, 0, 0, ratio, 0, 0);
  pen.clearRect(0, 0, width, height);
  for (const [x, y] of cells) {
    pen.save();
    pen.translate(width / 2 + x * scale, height / 2 + y * scale);
    pen.rotate((lies.turn * Math.PI) / 180);
    pen.scale(lies.mirror ? -1 : 1, 1);
    pen.translate((-path.width * k) / 2, (-path.height * k) / 2);
    paint(pen, path, scale);
    pen.restore();
  }
}
