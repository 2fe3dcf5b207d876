// One piece's minutes as a strip: handwork, sewing, the machine's other time, who stands by.
import { type Minute } from "../api";
import { number } from "./format";
import { layMinutes, type Stretch } from "./minutesStrip.geometry";
import style from "./MinutesStrip.module.scss";

const FILL: Record<Stretch["kind"], string> = {
  hand: "var(--labour)",
  sew: "var(--machine)",
  machine: "var(--overhead)",
};
const WORDS: Record<Stretch["kind"], string> = {
  hand: "handwork",
  sew: "sewing",
  machine: "machine, not sewing",
};

export function MinutesStrip({ minutes }: { minutes: Minute[] }) {
  const { stretches, whole, attend } = layMinutes(minutes);
  if (whole <= 0) return null;
  const said = stretches.map((s) => `${s.label} ${number(s.seconds / 60, 1)} min`).join(", ");
  return (
    <figure className={style["minutes"]} aria-label="One piece's minutes">
      <svg
        role="img"
        aria-label={`${said}. Somebody stands by ${number(attend / 60, 1)} min of it.`}
        viewBox="0 0 100 24"
        preserveAspectRatio="none"
      >
        {stretches.map((s) => (
          <g key={s.key}>
            <rect x={s.from} width={s.width} height={18} fill={FILL[s.kind]}>
              <title>{`${s.label}: ${number(s.seconds, 0)} s`}</title>
            </rect>
            {s.attendWidth > 0 && (
              <rect x={s.from} y={20} width={s.attendWidth} height={4} fill={FILL.hand} />
            )}
          </g>
        ))}
      </svg>
      <figcaption>
        {(Object.keys(WORDS) as Stretch["kind"][]).map((kind) => {
          const seconds = stretches
            .filter((s) => s.kind === kind)
            .reduce((sum, s) => sum + s.seconds, 0);
          return (
            <span key={kind}>
              <i className={style["swatch"]} style={{ background: FILL[kind] }} />
              {WORDS[kind]} {number(seconds / 60, 1)} min
            </span>
          );
        })}
        <span>
          <i className={`${style["swatch"]} ${style["line"]}`} style={{ background: FILL.hand }} />
          standing by {number(attend / 60, 1)} min
        </span>
      </figcaption>
    </figure>
  );
}
