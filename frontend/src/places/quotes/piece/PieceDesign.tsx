// A design on the drawn piece, round its centre, in millimetres: its stitches, or its box.
import { useMemo } from "react";
import { useOpen, useHouse, useLinePrice, type DraftPlacement } from "../../../draft";
import { PatchDrawn } from "../../../parts/StitchPicture";
import { stitchImage } from "../../../parts/stitches";
import { usePatches } from "../making/Layers";
import { plainMm } from "../place";
import { usePath } from "../design/usePath";

interface DesignProps {
  n: number;
  scale: number;
  current?: boolean;
}

export function PieceDesign({ n, scale, current = false }: DesignProps) {
  const placement = useOpen((open) => open.line.placements[n]);
  const { line } = useLinePrice();
  const design = line.designs[n];
  const place = line.places[n];
  if (!placement || !design || !place) return null;
  return (
    <>
      {motifs(place.hooping, placement, design).map(([x, y], k) => (
        <g
          key={k}
          transform={`translate(${x} ${y}) rotate(${place.turn + place.tilt_deg})${place.mirror ? " scale(-1 1)" : ""}`}
        >
          <Motif placement={placement} scale={scale} size={design} bold={current} />
          {current && <Patches size={design} />}
        </g>
      ))}
    </>
  );
}

/** The patches of the open place, over the design that holds them. */
function Patches({ size }: { size: { width_mm: number; height_mm: number } }) {
  const patches = usePatches(size.width_mm, size.height_mm);
  return (
    <g transform={`translate(${-size.width_mm / 2} ${-size.height_mm / 2})`}>
      {patches.map((patch, i) => !patch.shared && <PatchDrawn key={i} patch={patch} />)}
    </g>
  );
}

const MOST_DRAWN = 60;

/** Where each motif's centre lies, from the middle of them all. [mm] */
function motifs(
  { kind, copies, gap_mm: gap }: { kind: string; copies: number; gap_mm: number },
  { blocks }: DraftPlacement,
  size: { width_mm: number; height_mm: number },
): [number, number][] {
  const row = (n: number, pitch: number, from = (n - 1) / 2) =>
    Array.from({ length: n }, (_, k) => (k - from) * pitch);
  if (kind === "band")
    return row(Math.min(copies, MOST_DRAWN), size.width_mm + gap).map((x) => [x, 0]);
  if (kind !== "blocks") return [[0, 0]];
  const columns = Math.min(Number(blocks?.columns) || 1, MOST_DRAWN);
  const rows = Math.min(copies / columns, MOST_DRAWN / columns);
  const high = plainMm(blocks?.height_mm) ?? size.height_mm + gap;
  // the drawn block is one of them: of an even number, the next after the middle
  const middle = (n: number) => Math.floor(n / 2);
  return row(Math.ceil(rows), high, middle(rows)).flatMap((y) =>
    row(columns, size.width_mm + gap, middle(columns)).map((x): [number, number] => [x, y]),
  );
}

interface MotifProps {
  placement: DraftPlacement;
  scale: number;
  size: { width_mm: number; height_mm: number };
  bold: boolean;
}

function Motif({ placement, scale, size, bold }: MotifProps) {
  const path = usePath(placement);
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

/** The hoop's opening round a design. */
export function HoopOutline({ n }: { n: number }) {
  const house = useHouse();
  const { line } = useLinePrice();
  const id = line.methods.find((m) => m.key === "hoop" && m.placement === n)?.value;
  const hoop = house.hoops[id ?? ""];
  const design = line.designs[n];
  if (!hoop || !design) return null;
  const opening = [hoop.opening_width_mm, hoop.opening_height_mm] as const;
  const place = line.places[n];
  const diagonal = (house.positions[place?.position ?? ""]?.corner_deg ?? 0) > 0;
  const [w, h] = design.hoop_turned ? [opening[1], opening[0]] : opening;
  return (
    <rect
      x={-w / 2}
      y={-h / 2}
      width={w}
      height={h}
      rx={8}
      transform={diagonal && place ? `rotate(${place.tilt_deg})` : undefined}
      fill="none"
      stroke="var(--brass)"
      strokeDasharray="5 3"
      vectorEffect="non-scaling-stroke"
    />
  );
}
