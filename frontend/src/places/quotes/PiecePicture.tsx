// The piece: our drawing of the goods with the designs in place to scale. Drag one, or use arrows.
import { useMemo, useRef, useState } from "react";
import type { EstimateLine, House } from "../../api/client";
import { drawings, extent, spotOn, viewOf, type View } from "../../look/drawings";
import { Goods } from "../../look/drawings/Goods";
import { stitchImage } from "../../parts/stitches";
import { bareLength, lengthText } from "../../parts/units";
import { usePictureHeight } from "../../parts/usePictureHeight";
import { useUnits } from "../../parts/useUnits";
import { useWidth } from "../../parts/useWidth";
import type { DraftPlacement } from "./draft";
import {
  fit,
  lyingHeight,
  measuresAt,
  pointOf,
  snapped,
  usual,
  type Measures,
  type Position,
} from "./piece.geometry";
import { placeOf, withPlace, type DraftPlace } from "./place";
import type { DraftTools } from "./useDraft";
import { usePath } from "./usePath";

const ROOM = 16;
const SNAP_PX = 5;
const NAMES: Record<View["side"], string> = { front: "Front", back: "Back", side: "Side" };

interface Props {
  tools: DraftTools;
  house: House;
  line: EstimateLine;
  editable: boolean;
}

export function PiecePicture({ tools, house, line, editable }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const { units } = useUnits();
  const high = usePictureHeight();
  const drawing = drawings[tools.line.goods.class];
  const positions = line.places.map(({ position }) => house.positions[position] as Position);
  const here = positions[tools.placeAt];
  const proper = drawing && here ? viewOf(drawing, here) : undefined;
  const [turned, setTurned] = useState<{ of: View | undefined; to: View } | null>(null);
  const view = turned && turned.of === proper ? turned.to : (proper ?? drawing?.views[0]);
  const [held, setHeld] = useState<Measures | null>(null);
  const [from, setFrom] = useState<readonly [number, number]>([0, 0]);
  if (!drawing || !view) return null;
  const frame = fit(extent(view), Math.max(width, 100), high, ROOM);
  const shown = line.places.flatMap((place, n) => {
    const position = positions[n];
    const drawnSize = middleSize(house, place.position)?.label;
    const mark = place.marks.find((m) => m.sizes === drawnSize) ?? place.marks[0];
    if (!position || !mark || viewOf(drawing, position) !== view) return [];
    const spot = spotOn(view, position, mark);
    return spot ? [{ n, place, position, spot }] : [];
  });
  const current = shown.find((each) => each.n === tools.placeAt);
  const middle = middleSize(house, line.places[tools.placeAt]?.position ?? "");
  const tint = tintOf(tools.line.cells[0]?.colour ?? "");
  // what is typed shows at once, before the server has answered
  const height = current ? lyingHeight(current.place.corners_mm) : 0;
  const measured = current && measuresAt(current.spot.at, view, current.position, height);
  const now = measured && typedOver(measured, placeOf(tools.placement));
  const at = current && now && pointOf(held ?? now, view, current.position, height);
  const moved = (dx: number, dy: number) =>
    current && at ? measuresAt([at[0] + dx, at[1] + dy], view, current.position, height) : null;
  return (
    <div className="piece-drawing" ref={ref} style={{ height: high }}>
      {drawing.views.length > 1 && (
        <div className="sides" role="group" aria-label="Seen from">
          {drawing.views.map((each) => (
            <button
              key={each.side}
              type="button"
              aria-pressed={each === view}
              onClick={() => setTurned({ of: proper, to: each })}
            >
              {NAMES[each.side]}
            </button>
          ))}
        </div>
      )}
      {width > 0 && (
        <svg width={width} height={high} aria-label="Drawn to scale" role="group">
          <g transform={`translate(${frame.x} ${frame.y}) scale(${frame.scale})`}>
            <Goods view={view} scale={frame.scale} tint={tint} />
            {shown
              .filter((each) => each !== current)
              .map(({ n, place, spot }) => (
                <g
                  key={n}
                  transform={`translate(${spot.at[0]} ${spot.at[1]})`}
                  opacity="0.55"
                  onClick={() => tools.go({ place: n })}
                >
                  <Design line={line} n={n} tools={tools} scale={frame.scale} />
                  <title>{place.label}</title>
                </g>
              ))}
          </g>
          {current && at && (
            <>
              <Dimensions
                from={current.spot.from}
                at={at}
                frame={frame}
                upTo={edgeOf(at, current.place.corners_mm, current.position)}
                under={at[1] + lyingHeight(current.place.corners_mm) / 2}
                text={(mm) => bareLength(mm, units)}
              />
              <Hold
                label={`${current.place.label}: ${
                  held ? lengthText(held.gap_mm, units) : current.place.marks[0]?.words
                }`}
                editable={editable}
                scale={frame.scale}
                onStart={() => setFrom(at)}
                onMove={(dx, dy, free) => {
                  const to = [from[0] + dx, from[1] + dy] as const;
                  const found = measuresAt(to, view, current.position, height);
                  const aim = usual(current.position, view, middle);
                  setHeld(free ? found : snapped(found, aim, SNAP_PX / frame.scale));
                }}
                onStep={(dx, dy) => {
                  const to = moved(dx, dy);
                  if (to) keep(tools, to);
                }}
                onDrop={() => {
                  if (held) keep(tools, held);
                  setHeld(null);
                }}
                onCancel={() => setHeld(null)}
              >
                <g
                  transform={`translate(${frame.x + at[0] * frame.scale} ${frame.y + at[1] * frame.scale}) scale(${frame.scale})`}
                  className={held ? "held" : ""}
                >
                  <rect {...grip(current.place.corners_mm, 44 / frame.scale)} fill="transparent" />
                  <HoopOutline house={house} line={line} n={current.n} />
                  <Design line={line} n={current.n} tools={tools} scale={frame.scale} current />
                </g>
              </Hold>
            </>
          )}
        </svg>
      )}
      {!current && (
        <p className="hint on-drawing">
          {here && !proper
            ? `A ${house.goods[tools.line.goods.class]?.label.toLowerCase()} has no ${here.reference.replace("the ", "")} in our drawing: the measure holds all the same.`
            : "This place is on another side of the piece."}
        </p>
      )}
    </div>
  );
}

/** Measures with those that are typed as plain numbers in their stead. */
function typedOver(measures: Measures, { gap_mm, side_mm }: DraftPlace): Measures {
  const plain = (held: string) => (/^-?\d+(\.\d+)?$/.test(held.trim()) ? Number(held) : null);
  return {
    gap_mm: plain(gap_mm) ?? measures.gap_mm,
    side_mm: plain(side_mm) ?? measures.side_mm,
  };
}

function keep(tools: DraftTools, { gap_mm, side_mm }: Measures) {
  const change: Partial<DraftPlacement> = withPlace(tools.placement, {
    gap_mm: String(gap_mm),
    side_mm: String(side_mm),
  });
  tools.setPlacement(change);
}

/** What a finger can take hold of: the design, at least so large. [mm] */
function grip(corners: number[][], least: number) {
  const width = Math.max(least, 2 * Math.max(...corners.map(([x]) => x ?? 0)));
  const height = Math.max(least, lyingHeight(corners));
  return { x: -width / 2, y: -height / 2, width, height };
}

/** The measures of the size that a piece is drawn at: those for all sizes named nowhere. */
function middleSize(house: House, position: string) {
  return Object.values(house.place_sizes).find(
    (row) => row.position === position && row.sizes.includes("*"),
  );
}

/** A soft wash of the goods' own colour, where its name is one the browser knows. */
function tintOf(name: string): string | undefined {
  const plain = name.trim().toLowerCase().replace(/\s+/g, "");
  if (!plain || !CSS.supports("color", plain)) return undefined;
  return `color-mix(in srgb, ${plain} 38%, var(--cloth))`;
}

/** The design's edge that the measure is taken to, when that is not its centre. */
function edgeOf(at: readonly [number, number], corners: number[][], position: Position) {
  const half = lyingHeight(corners) / 2;
  if (position.anchor === "top") return at[1] - half;
  return position.anchor === "bottom" ? at[1] + half : at[1];
}

interface DesignProps {
  line: EstimateLine;
  n: number;
  tools: DraftTools;
  scale: number;
  current?: boolean;
}

/** A design round its centre, in millimetres: its stitches, or its box. */
function Design({ line, n, tools, scale, current = false }: DesignProps) {
  const placement = tools.line.placements[n];
  const design = line.designs[n];
  const place = line.places[n];
  if (!placement || !design || !place) return null;
  const { kind, copies, gap_mm: gap } = place.hooping;
  const motifs = kind === "band" ? Math.min(copies, 60) : 1;
  const pitch = design.width_mm + gap;
  return (
    <>
      {Array.from({ length: motifs }, (_, k) => (
        <g
          key={k}
          transform={`translate(${(k - (motifs - 1) / 2) * pitch} 0) rotate(${place.turn + place.tilt_deg})${place.mirror ? " scale(-1 1)" : ""}`}
        >
          <Motif tools={tools} placement={placement} scale={scale} size={design} bold={current} />
        </g>
      ))}
    </>
  );
}

interface MotifProps {
  tools: DraftTools;
  placement: DraftPlacement;
  scale: number;
  size: { width_mm: number; height_mm: number };
  bold: boolean;
}

function Motif({ tools, placement, scale, size, bold }: MotifProps) {
  const path = usePath(placement, tools.line);
  const image = useMemo(() => (path ? stitchImage(path, scale) : null), [path, scale]);
  const [x, y] = [-size.width_mm / 2, -size.height_mm / 2];
  const box = { x, y, width: size.width_mm, height: size.height_mm };
  return (
    <>
      {image && <image href={image} {...box} preserveAspectRatio="none" />}
      <rect
        {...box}
        fill={image ? "transparent" : "url(#design-hatch)"}
        stroke={bold ? "var(--focus)" : "var(--ink-soft)"}
        strokeDasharray={bold ? undefined : "3 2"}
        vectorEffect="non-scaling-stroke"
      />
    </>
  );
}

function HoopOutline({ house, line, n }: { house: House; line: EstimateLine; n: number }) {
  const id = line.methods.find((m) => m.key === "hoop" && m.placement === n)?.value;
  const hoop = house.hoops[id ?? ""];
  const design = line.designs[n];
  if (!hoop || !design) return null;
  const opening = [hoop.opening_width_mm, hoop.opening_height_mm] as const;
  const [w, h] = design.hoop_turned ? [opening[1], opening[0]] : opening;
  return (
    <rect
      x={-w / 2}
      y={-h / 2}
      width={w}
      height={h}
      rx={8}
      fill="none"
      stroke="var(--brass)"
      strokeDasharray="5 3"
      vectorEffect="non-scaling-stroke"
    />
  );
}

interface DimensionProps {
  from: readonly [number, number];
  at: readonly [number, number];
  upTo: number;
  /** The design's lower edge: no figure stands under it. */
  under: number;
  frame: { scale: number; x: number; y: number };
  text: (mm: number) => string;
}

/** The measures from the reference and from the centre line. */
function Dimensions({ from, at, upTo, under, frame, text }: DimensionProps) {
  const px = ([x, y]: readonly [number, number]) =>
    [frame.x + x * frame.scale, frame.y + y * frame.scale] as const;
  const [fx, fy] = px(from);
  const [ax] = px(at);
  const [, ty] = px([at[0], upTo]);
  const [, low] = px([at[0], under]);
  const [down, side] = [Math.abs(upTo - from[1]), Math.abs(at[0] - from[0])];
  return (
    <g className="dimension">
      <path d={`M${fx} ${fy - 6}V${Math.max(fy, ty) + 12}`} className="centre-line" />
      {Math.abs(ty - fy) > 3 && (
        <>
          <path d={`M${Math.min(fx, ax) - 4} ${fy}H${Math.max(fx, ax) + 4}`} className="from" />
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

interface HoldProps {
  label: string;
  editable: boolean;
  scale: number;
  onStart: () => void;
  onMove: (dx_mm: number, dy_mm: number, free: boolean) => void;
  onStep: (dx_mm: number, dy_mm: number) => void;
  onDrop: () => void;
  onCancel: () => void;
  children: React.ReactNode;
}

/** What is dragged or moved by arrow keys: one millimetre, with Shift ten. */
function Hold({
  label,
  editable,
  scale,
  onStart,
  onMove,
  onStep,
  onDrop,
  onCancel,
  children,
}: HoldProps) {
  const from = useRef<{ x: number; y: number } | null>(null);
  const leave = () => {
    from.current = null;
    onCancel();
  };
  if (!editable)
    return (
      <g role="img" aria-label={label}>
        {children}
      </g>
    );
  return (
    <g
      className="holds"
      tabIndex={0}
      role="button"
      aria-label={label}
      aria-roledescription="design: arrow keys move it, Shift ten millimetres"
      onPointerDown={(e) => {
        e.currentTarget.setPointerCapture(e.pointerId);
        from.current = { x: e.clientX, y: e.clientY };
        onStart();
      }}
      onPointerMove={(e) => {
        if (!from.current) return;
        onMove(
          (e.clientX - from.current.x) / scale,
          (e.clientY - from.current.y) / scale,
          e.altKey,
        );
      }}
      onPointerUp={() => {
        from.current = null;
        onDrop();
      }}
      onPointerCancel={leave}
      onLostPointerCapture={() => {
        if (from.current) leave();
      }}
      onKeyDown={(e) => {
        const way = { ArrowUp: [0, -1], ArrowDown: [0, 1], ArrowLeft: [-1, 0], ArrowRight: [1, 0] }[
          e.key
        ];
        if (e.key === "Escape") leave();
        if (!way) return;
        e.preventDefault();
        const step = e.shiftKey ? 10 : 1;
        onStep((way[0] ?? 0) * step, (way[1] ?? 0) * step);
      }}
    >
      {children}
    </g>
  );
}
