// The price, opened: three ways side by side, the curve, what discount is safe, what it comes to.
import { useEffect, useRef } from "react";
import { text, useBench, useDraft, useHouse, useLinePrice } from "../../../draft";
import { money, percent } from "../../../parts/format";
import { Field } from "../Field";
import { shownPercent } from "../../../parts/percent";
import { PercentField } from "./PercentField";
import { PriceCurve } from "./PriceCurve";
import style from "./PriceSheet.module.scss";

const WAYS = [
  ["margin", "Margin", "cost and a margin on it"],
  ["stitch-rate", "Stitch rate", "a rate a thousand stitches, goods marked up"],
  ["hour-rate", "Hour rate", "an hour of machine and of hands, goods marked up"],
] as const;

export function PriceSheet({ onClose }: { onClose: () => void }) {
  const { estimate, line } = useLinePrice();
  const { currency } = estimate;
  const close = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    const from = document.activeElement; // where the work goes on once it is closed
    close.current?.focus();
    return () => (from instanceof HTMLElement ? from.focus() : undefined);
  }, []);
  const share = Number(line.tiers.find((t) => t.quantity === line.quantity)?.set_up ?? 0);
  return (
    <section
      className={`working-sheet ${style["price-sheet"] ?? ""}`}
      aria-label="The price, opened"
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <div className="d-flex justify-content-between align-items-start gap-2">
        <h2 className="small-caps-head">The price</h2>
        <button
          type="button"
          ref={close}
          className="btn btn-outline-primary btn-sm"
          onClick={onClose}
        >
          Close
        </button>
      </div>
      <div className={style["halves"]}>
        <div>
          <ThreeWays />
          <Discount />
        </div>
        <div>
          <div className="sub-head">
            <h3>Price and cost by how many</h3>
            {share > 0 && (
              <span className="hint">
                set-up is {money(share, currency)} of a piece at {line.quantity}
              </span>
            )}
          </div>
          <PriceCurve line={line} currency={currency} />
          <BreakEvens />
          <Sums />
        </div>
      </div>
    </section>
  );
}

function ThreeWays() {
  const house = useHouse();
  const { editable } = useBench();
  const { job, actions } = useDraft();
  const { estimate, line } = useLinePrice();
  const checks = line.price.cross_checks;
  const by = {
    margin: checks.margin,
    "stitch-rate": checks.stitch_rate,
    "hour-rate": checks.hour_rate,
  };
  const cost = Number(line.piece_cost.total);
  const most = Math.max(...Object.values(by).map(Number), cost, 0.01);
  const method = job.price_method ?? house.price.method;
  return (
    <>
      <div className="sub-head">
        <h3>Three ways to it</h3>
        <span className="hint">cost {money(cost, estimate.currency)} a piece</span>
      </div>
      {WAYS.map(([id, name, what]) => (
        <div key={id} className="way">
          <span>
            <b>{name}</b> <span className="hint">{what}</span>
          </span>
          <strong>{money(by[id], estimate.currency)}</strong>
          <svg viewBox="0 0 100 8" preserveAspectRatio="none" aria-hidden="true">
            <rect width={(Number(by[id]) / most) * 100} height="8" className={style["way-price"]} />
            <rect width={(cost / most) * 100} height="8" className={style["way-cost"]} />
          </svg>
          {method === id ? (
            <span className="hint">
              {line.price.method === id && line.price.unit !== by[id]
                ? `the price, rounded ${money(line.price.unit, estimate.currency)}`
                : "the price"}
            </span>
          ) : (
            <button
              type="button"
              className="btn btn-plain"
              disabled={!editable}
              onClick={() => actions.job("price_method", (found) => void (found.price_method = id))}
            >
              price by it
            </button>
          )}
        </div>
      ))}
    </>
  );
}

function Discount() {
  const house = useHouse();
  const { job, line: asked, lineAt, actions } = useDraft();
  const { estimate, line } = useLinePrice();
  const { currency } = estimate;
  const floor = money(line.price.floor, currency);
  return (
    <>
      <div className="sub-head">
        <h3>Room for a discount</h3>
      </div>
      <p className="mb-1">
        {Number(line.price.safe_discount) > 0
          ? `Up to ${percent(line.price.safe_discount)} can be given before a piece falls to its floor of ${floor}.`
          : `None: the price stands at its floor of ${floor} or below.`}
        {line.next_step &&
          ` For the customer: ${line.next_step.more} more save ${money(line.next_step.saves_each, currency)} each.`}
      </p>
      <div className="pair">
        <PercentField
          label="Discount on this line, %"
          value={text(asked.discount)}
          placeholder="0"
          where={`lines[${lineAt}].discount`}
          onChange={(discount) =>
            actions.line("discount", (found) => void (found.discount = discount))
          }
        />
        <Field
          label="Delivery, charged once"
          value={text(job.delivery)}
          placeholder="0.00"
          inputMode="decimal"
          where="delivery"
          onChange={(typed) => actions.job("delivery", (found) => void (found.delivery = typed))}
        />
        <PercentField
          label="Tax on this line, %"
          value={text(asked.tax_rate)}
          placeholder={shownPercent(String(house.terms.tax_rate))}
          where={`lines[${lineAt}].tax_rate`}
          onChange={(rate) => actions.line("tax_rate", (found) => void (found.tax_rate = rate))}
        />
        <Field
          label="Wanted in, days (a rush)"
          value={text(job.rush_days)}
          placeholder="no rush"
          inputMode="numeric"
          where="rush_days"
          onChange={(typed) =>
            actions.job("rush_days", (found) => void (found.rush_days = typed as never))
          }
        />
        <Field
          label="Agreed for a piece"
          value={text(asked.agreed?.unit_price)}
          placeholder="nothing"
          inputMode="decimal"
          where={`lines[${lineAt}].agreed.unit_price`}
          onChange={(price) =>
            actions.line("agreed.unit_price", (found) => {
              if (price) found.agreed = { until: "", ...found.agreed, unit_price: price };
              else delete found.agreed;
            })
          }
        />
        {asked.agreed && (
          <Field
            label="Agreed until"
            value={text(asked.agreed.until)}
            placeholder="2027-12-31"
            where={`lines[${lineAt}].agreed.until`}
            onChange={(until) =>
              actions.line("agreed.until", (found) => {
                if (found.agreed) found.agreed = { ...found.agreed, until };
              })
            }
          />
        )}
      </div>
    </>
  );
}

function BreakEvens() {
  const { estimate, line } = useLinePrice();
  const { currency } = estimate;
  if (line.break_evens.length === 0) return null;
  return (
    <>
      <div className="sub-head">
        <h3>Where two ways cost the same</h3>
      </div>
      <ul className={style["break-evens"]}>
        {line.break_evens.map((even) => (
          <li key={even.name}>
            {even.name}: {even.one} {money(even.one_amount, currency)}, {even.other}{" "}
            {money(even.other_amount, currency)}
            {even.at && (/^\d/.test(even.at) ? `; the same at ${even.at}` : `; ${even.at}`)}.
          </li>
        ))}
      </ul>
    </>
  );
}

/** What the order comes to: lines, charges, tax, what is to pay. */
function Sums() {
  const { currency, total } = useLinePrice().estimate;
  const rows: [string, string][] = [
    ["Lines", total.lines],
    ...total.charges.map(({ name, amount }): [string, string] => [name, amount]),
    ...total.taxes.map(({ rate, tax }): [string, string] => [`Tax at ${percent(rate)}`, tax]),
    ["To pay", total.to_pay],
    ["Deposit of it", total.deposit],
  ];
  return (
    <>
      <div className="sub-head">
        <h3>What it comes to</h3>
      </div>
      <table>
        <tbody>
          {rows.map(([name, amount]) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td className="number">{money(amount, currency)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
