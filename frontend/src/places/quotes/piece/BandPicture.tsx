// A border straightened out, to scale: motifs by hooping, joints, corners, what is over; a quilt's
// blocks in the order that they are sewn.
import { type Place } from "../../../api";
import { counted } from "../../../parts/format";
import { lengthText } from "../../../parts/units";
import { useUnits } from "../../../parts/useUnits";
import style from "./BandPicture.module.scss";

const HIGH = 34;
const MOST_BLOCKS = 400;

export function BandPicture({ band }: { band: NonNullable<Place["band"]> }) {
  const { units } = useUnits();
  const {
    length_mm: long,
    motif_mm: motif,
    starts_mm: starts,
    hoopings,
    corners_mm: corners,
  } = band;
  const low = Math.min(0, ...starts);
  const thick = Math.max(long / 18, motif * 0.3);
  const joints = starts.filter((_, i) => i > 0 && hoopings[i] !== hoopings[i - 1]);
  const told = [
    counted(starts.length, "motif"),
    counted((hoopings.at(-1) ?? 0) + 1, "hooping"),
    band.joints > 0 && counted(band.joints, "joint"),
    corners.length > 0 && counted(corners.length, "corner"),
    band.left_mm > 0 && `${lengthText(band.left_mm, units)} over`,
  ]
    .filter(Boolean)
    .join(", ");
  return (
    <figure className={style["bd-band"]}>
      <svg
        role="img"
        aria-label={`The border, straightened out: ${told}`}
        viewBox={`${low} 0 ${long - low} ${thick * 1.7}`}
        style={{ maxHeight: HIGH * 2 }}
        preserveAspectRatio="xMidYMid meet"
      >
        <rect x={0} y={thick * 0.35} width={long} height={thick} className={style["bd-cloth"]} />
        {starts.map((start, i) => (
          <rect
            key={i}
            x={start}
            y={thick * 0.35}
            width={motif}
            height={thick}
            className={style[(hoopings[i] ?? 0) % 2 === 0 ? "bd-even" : "bd-odd"]}
          />
        ))}
        {joints.map((at) => (
          <path
            key={at}
            d={`M${at} ${thick * 0.15}V${thick * 1.55}`}
            className={style["bd-joint"]}
          />
        ))}
        {corners.map((at) => (
          <path
            key={at}
            d={`M${at} ${thick * 0.35}l${-thick * 0.2} ${-thick * 0.3}h${thick * 0.4}z`}
            className={style["bd-corner"]}
          />
        ))}
      </svg>
      <figcaption className="hint">
        {told}. Each shade is a hooping; a line between them is one to line up
        {corners.length > 0 && ", a mark above a corner"}.
      </figcaption>
    </figure>
  );
}

export function BlocksPicture({ order }: { order: number[][] }) {
  const columns = Math.max(...order.map(([column]) => column ?? 0)) + 1;
  const rows = Math.max(...order.map(([, row]) => row ?? 0)) + 1;
  if (order.length > MOST_BLOCKS) return null;
  return (
    <figure className={style["bd-blocks"]}>
      <svg
        role="img"
        aria-label={`The blocks in the order they are sewn: ${columns} by ${rows}`}
        viewBox={`0 0 ${columns * 30} ${rows * 24}`}
        style={{ maxHeight: Math.min(220, rows * 28) }}
      >
        {order.map(([column = 0, row = 0], n) => (
          <g key={n} transform={`translate(${column * 30} ${row * 24})`}>
            <rect width={28} height={22} className={style["bd-cloth"]} />
            <text x={14} y={15.5} textAnchor="middle" fontSize={12}>
              {n + 1}
            </text>
          </g>
        ))}
      </svg>
      <figcaption className="hint">The blocks, numbered as they are sewn.</figcaption>
    </figure>
  );
}
