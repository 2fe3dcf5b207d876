// How a piece goes in, seen from the machine's front: where its opening and the rest of it lie.
import style from "./GoesIn.module.scss";

type Side = "head" | "right" | "foot" | "left";

export interface WayIn {
  turned: number;
  opening: Side | null;
  bulk: Side | null;
  arm: boolean;
  words: string;
}

const REST: Record<Side, [number, number, number, number]> = {
  head: [42, 16, 36, 14],
  foot: [42, 78, 36, 18],
  left: [6, 38, 32, 32],
  right: [82, 38, 32, 32],
};
const EDGE: Record<Side, [number, number, number, number]> = {
  head: [38, 31, 82, 31],
  foot: [38, 77, 82, 77],
  left: [37, 32, 37, 76],
  right: [83, 32, 83, 76],
};

export function GoesIn({ way }: { way: WayIn }) {
  const rest = way.bulk && REST[way.bulk];
  const edge = way.opening && EDGE[way.opening];
  return (
    <figure className={style["goes-in"]}>
      <svg viewBox="0 0 120 100" role="img" aria-label={way.words}>
        <rect x="4" y="2" width="112" height="11" rx="2" className={style["gi-machine"]} />
        {way.arm && <rect x="50" y="13" width="20" height="52" className={style["gi-arm"]} />}
        {rest && (
          <rect
            x={rest[0]}
            y={rest[1]}
            width={rest[2]}
            height={rest[3]}
            rx="5"
            className={style["gi-rest"]}
          />
        )}
        <rect x="42" y="36" width="36" height="36" rx="5" className={style["gi-hoop"]} />
        {edge && (
          <line
            x1={edge[0]}
            y1={edge[1]}
            x2={edge[2]}
            y2={edge[3]}
            className={style["gi-opening"]}
          />
        )}
        <text x="60" y="54" transform={`rotate(${way.turned} 60 54)`} className={style["gi-mark"]}>
          R
        </text>
      </svg>
      <figcaption className="hint">{way.words}</figcaption>
    </figure>
  );
}
