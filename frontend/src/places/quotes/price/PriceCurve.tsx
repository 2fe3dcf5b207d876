// Price and cost of a piece by how many, with what of it is set-up.
import { type EstimateLine } from "../../../api";
import { money, number } from "../../../parts/format";
import { curveOf } from "./curve.geometry";
import style from "./PriceCurve.module.scss";

const [WIDE, HIGH] = [300, 110];

export function PriceCurve({ line, currency }: { line: EstimateLine; currency: string }) {
  const curve = curveOf(line.tiers, WIDE, HIGH);
  const said = line.tiers.map((t) => `${t.quantity}: ${money(t.unit, currency)}`).join(", ");
  return (
    <svg
      className={style["curve"]}
      viewBox={`-8 -16 ${WIDE + 24} ${HIGH + 36}`}
      role="img"
      aria-label={`Price of a piece by how many: ${said}`}
    >
      <path d={`M0 0V${HIGH}H${WIDE}`} className={style["axis"]} />
      <path d={`${curve.cost}L${WIDE} ${HIGH}L0 ${HIGH}Z`} className={style["set-up"]} />
      <path d={`${curve.setUp}L${WIDE} ${HIGH}L0 ${HIGH}Z`} className={style["other-cost"]} />
      <path d={curve.price} className={style["price"]} />
      {curve.points.map((point, i) => (
        <g key={point.quantity}>
          <circle cx={point.x} cy={curve.y(point.price)} r="2.5" />
          <text x={point.x} y={HIGH + 13} textAnchor="middle">
            {point.quantity}
          </text>
          {(i % 2 === 0 || curve.points.length < 6) && (
            <text x={point.x + 2} y={curve.y(point.price) - 5} textAnchor={i ? "middle" : "start"}>
              {number(point.price, 2, 2)}
            </text>
          )}
        </g>
      ))}
      <text x={WIDE - 4} y={curve.y(curve.top) + 4} textAnchor="end">
        price; cost below it, its set-up in green
      </text>
    </svg>
  );
}
