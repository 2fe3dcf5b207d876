// What one costs from each number on, drawn as a stair; the step that holds is thick.
import { money } from "./format";
import { treads, type Step } from "./priceSteps.geometry";
import { useWidth } from "./useWidth";
import style from "./PriceSteps.module.scss";

const [TOP, RISE, FOOT] = [18, 16, 18];

interface Props {
  steps: Step[];
  /** How many are bought; null when nothing is asked. */
  quantity: number | null;
  currency: string;
}

export function PriceSteps({ steps, quantity, currency }: Props) {
  const [ref, width] = useWidth<HTMLDivElement>();
  const laid = treads(steps, quantity, width, RISE);
  const said = laid
    .map((t) => `from ${t.from} ${money(t.each, currency)}${t.here ? ", which holds now" : ""}`)
    .join("; ");
  return (
    <div ref={ref} className={style["price-steps"]}>
      <svg width="100%" height={TOP + RISE + FOOT} role="img" aria-label={`Each: ${said}`}>
        {laid.map((tread, n) => {
          const y = TOP + tread.y;
          const next = laid[n + 1];
          return (
            <g key={tread.from} className={tread.here ? "here" : undefined}>
              <line
                x1={tread.x}
                y1={y}
                x2={tread.x + tread.width}
                y2={y}
                className={style["tread"]}
              />
              {next && (
                <line
                  x1={tread.x + tread.width}
                  y1={y}
                  x2={tread.x + tread.width}
                  y2={TOP + next.y}
                  className={style["riser"]}
                />
              )}
              <text x={tread.x + 2} y={y - 5}>
                {money(tread.each, currency)}
              </text>
              <text x={tread.x + 2} y={TOP + RISE + 15} className={style["from"]}>
                {tread.from === 1 ? "one" : `from ${tread.from}`}
              </text>
            </g>
          );
        })}
      </svg>
    </div>
  );
}
