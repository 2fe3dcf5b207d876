// The price, opened: three ways side by side, the curve, what discount is safe, what it comes to.
import type { Estimate, EstimateLine, House } from "../../api/client";
import { money, number, percent } from "../../parts/format";
import { curveOf } from "./curve.geometry";
import { Field } from "./Field";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";

const WAYS = [
  ["margin", "Margin", "cost and a margin on it"],
  ["stitch-rate", "Stitch rate", "a rate a thousand stitches, goods marked up"],
  ["hour-rate", "Hour rate", "an hour of machine and of hands, goods marked up"],
] as const;
const [WIDE, HIGH] = [300, 110];

interface Props {
  tools: DraftTools;
  house: House;
  estimate: Estimate;
  line: EstimateLine;
  at: (where: string) => FieldError;
  editable: boolean;
  onClose: () => void;
}

export function PriceSheet({ tools, house, estimate, line, at, editable, onClose }: Props) {
  const { currency, total } = estimate;
  const checks = line.price.cross_checks;
  const by = {
    margin: checks.margin,
    "stitch-rate": checks.stitch_rate,
    "hour-rate": checks.hour_rate,
  };
  const most = Math.max(...Object.values(by).map(Number), Number(line.piece_cost.total), 0.01);
  const method = tools.draft.price_method || house.price.method;
  const share = Number(line.tiers.find((t) => t.quantity === line.quantity)?.set_up ?? 0);
  return (
    <section
      className="working-sheet price-sheet"
      aria-label="The price, opened"
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <div className="d-flex justify-content-between align-items-start gap-2">
        <h2 className="small-caps-head">The price</h2>
        <button type="button" className="btn btn-outline-primary btn-sm" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="sub-head">
        <h3>Three ways to it</h3>
        <span className="hint">cost {money(line.piece_cost.total, currency)} a piece</span>
      </div>
      {WAYS.map(([id, name, what]) => (
        <div key={id} className="way">
          <span>
            <b>{name}</b> <span className="hint">{what}</span>
          </span>
          <strong>{money(by[id], currency)}</strong>
          <svg viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
            <rect width={(Number(by[id]) / most) * 100} height="8" className="way-price" />
            <rect
              width={(Number(line.piece_cost.total) / most) * 100}
              height="8"
              className="way-cost"
            />
          </svg>
          {method === id ? (
            <span className="hint">the price</span>
          ) : (
            <button
              type="button"
              className="btn btn-plain"
              disabled={!editable}
              onClick={() => tools.set({ ...tools.draft, price_method: id })}
            >
              price by it
            </button>
          )}
        </div>
      ))}
      <div className="sub-head">
        <h3>Price and cost by how many</h3>
        {share > 0 && (
          <span className="hint">
            set-up is {money(share, currency)} of a piece at {line.quantity}
          </span>
        )}
      </div>
      <PriceCurve line={line} currency={currency} />
      <div className="sub-head">
        <h3>Room for a discount</h3>
      </div>
      <p className="mb-1">
        {Number(line.price.safe_discount) > 0
          ? `Up to ${percent(line.price.safe_discount)} can be given before a piece falls to its floor of ${money(line.price.floor, currency)}.`
          : `None: the price stands at its floor of ${money(line.price.floor, currency)} or below.`}
        {line.next_step &&
          ` For the customer: ${line.next_step.more} more save ${money(line.next_step.saves_each, currency)} each.`}
      </p>
      <div className="pair">
        <Field
          label="Discount on this line, %"
          value={tools.line.discount}
          placeholder="0"
          inputMode="decimal"
          error={at(`lines[${tools.lineAt}].discount`)}
          onChange={(discount) => tools.setLine({ discount })}
        />
        <Field
          label="Delivery, charged once"
          value={String((tools.draft.rest["delivery"] as string | undefined) ?? "")}
          placeholder="0.00"
          inputMode="decimal"
          error={at("delivery")}
          onChange={(text) =>
            tools.set({
              ...tools.draft,
              rest: { ...tools.draft.rest, delivery: text || undefined },
            })
          }
        />
      </div>
      {line.break_evens.length > 0 && (
        <>
          <div className="sub-head">
            <h3>Where two ways cost the same</h3>
          </div>
          <ul className="break-evens">
            {line.break_evens.map((even) => (
              <li key={even.name}>
                {even.name}: {even.one} {money(even.one_amount, currency)}, {even.other}{" "}
                {money(even.other_amount, currency)}
                {even.at && `; the same at ${even.at}`}.
              </li>
            ))}
          </ul>
        </>
      )}
      <div className="sub-head">
        <h3>What it comes to</h3>
      </div>
      <table>
        <tbody>
          <Sum name="Lines" amount={total.lines} currency={currency} />
          {total.charges.map((charge) => (
            <Sum key={charge.name} name={charge.name} amount={charge.amount} currency={currency} />
          ))}
          {total.taxes.map((tax) => (
            <Sum
              key={tax.rate}
              name={`Tax at ${percent(tax.rate)}`}
              amount={tax.tax}
              currency={currency}
            />
          ))}
          <Sum name="To pay" amount={total.to_pay} currency={currency} />
          <Sum name="Deposit of it" amount={total.deposit} currency={currency} />
        </tbody>
      </table>
    </section>
  );
}

/** A kept share as a percentage; what is no number stays as typed. */
function Sum({ name, amount, currency }: { name: string; amount: string; currency: string }) {
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className="number">{money(amount, currency)}</td>
    </tr>
  );
}

function PriceCurve({ line, currency }: { line: EstimateLine; currency: string }) {
  const curve = curveOf(line.tiers, WIDE, HIGH);
  const said = line.tiers.map((t) => `${t.quantity}: ${money(t.unit, currency)}`).join(", ");
  return (
    <svg
      className="curve"
      viewBox={`-8 -16 ${WIDE + 24} ${HIGH + 36}`}
      role="img"
      aria-label={`Price of a piece by how many: ${said}`}
    >
      <path d={`M0 0V${HIGH}H${WIDE}`} className="axis" />
      <path d={`${curve.cost}L${WIDE} ${HIGH}L0 ${HIGH}Z`} className="set-up" />
      <path d={`${curve.setUp}L${WIDE} ${HIGH}L0 ${HIGH}Z`} className="other-cost" />
      <path d={curve.price} className="price" />
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
