// Prices that were agreed with a customer: for which goods, from how many on, until when.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { useShopHouse, type AgreedPrice, type Problem } from "../../api";
import { goOnAt } from "../../parts/goOnAt";
import { symbol } from "../../parts/format";
import style from "./Customers.module.scss";

interface Props {
  rows: AgreedPrice[];
  problem: Problem | null;
  onChange: (rows: AgreedPrice[]) => void;
}

export function AgreedPrices({ rows, problem, onChange }: Props) {
  const id = useId();
  const house = useShopHouse();
  const classes = Object.entries(house.data?.goods ?? {});
  const set = (n: number, change: Partial<AgreedPrice>) =>
    onChange(rows.map((row, k) => (k === n ? { ...row, ...change } : row)));
  return (
    <section aria-labelledby={id}>
      <h2 id={id} className="small-caps-head">
        Agreed prices
      </h2>
      {rows.length === 0 && (
        <p className="hint">None. One that is agreed is offered on their quotes while it holds.</p>
      )}
      {rows.map((row, n) => {
        const at = (key: string) => problem?.where === `agreed[${n}].${key}`;
        const wrong = problem?.where.startsWith(`agreed[${n}]`);
        return (
          <div key={n} className={style["cu-agreed"]}>
            <Form.Select
              size="sm"
              aria-label={`Goods, price ${n + 1}`}
              value={row.goods}
              isInvalid={at("goods")}
              onChange={(e) => set(n, { goods: e.target.value })}
            >
              <option value="">any goods</option>
              {classes.map(([key, goods]) => (
                <option key={key} value={key}>
                  {goods.label}
                </option>
              ))}
            </Form.Select>
            <label>
              {symbol(house.data?.price.currency ?? "GBP")}
              <Form.Control
                size="sm"
                inputMode="decimal"
                aria-label={`A piece, price ${n + 1}`}
                value={row.unit_price}
                isInvalid={at("unit_price")}
                aria-invalid={at("unit_price")}
                onChange={(e) => set(n, { unit_price: e.target.value })}
              />
            </label>
            <label>
              from
              <Form.Control
                size="sm"
                inputMode="numeric"
                aria-label={`From how many, price ${n + 1}`}
                value={String(row.from_quantity)}
                onChange={(e) =>
                  set(n, {
                    from_quantity: Math.max(1, Number(e.target.value.replace(/\D/g, "")) || 1),
                  })
                }
              />
            </label>
            <label>
              until
              <Form.Control
                size="sm"
                type="date"
                aria-label={`Until, price ${n + 1}`}
                value={row.until}
                isInvalid={at("until")}
                onChange={(e) => set(n, { until: e.target.value })}
              />
            </label>
            <button
              type="button"
              className="btn btn-plain"
              aria-label={`Remove price ${n + 1}`}
              onClick={() => {
                onChange(rows.filter((_, k) => k !== n));
                goOnAt("[data-begin=agreed]");
              }}
            >
              ×
            </button>
            {wrong && (
              <div role="alert" className="invalid-feedback d-block">
                {problem?.detail} {problem?.remedy}
              </div>
            )}
          </div>
        );
      })}
      <button
        type="button"
        className="btn btn-sm btn-outline-primary"
        data-begin="agreed"
        onClick={() => {
          onChange([...rows, { goods: "", unit_price: "", from_quantity: 1, until: "", note: "" }]);
          goOnAt(`[aria-label='Goods, price ${rows.length + 1}']`);
        }}
      >
        + price
      </button>
    </section>
  );
}
