// How blanks are bought, typed for this line: a cheaper price from a number on, packs, delivery.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useDraft, type DraftGoods } from "../../../draft";
import { Field } from "../Field";
import { PercentField } from "../price/PercentField";
import { goOnAt } from "../../../parts/goOnAt";
import style from "./SupplyTyped.module.scss";

type Break = NonNullable<DraftGoods["price_breaks"]>[number];

export function SupplyTyped() {
  const id = useId();
  const at = useAt();
  const { line, lineAt, actions } = useDraft();
  const { goods } = line;
  const base = `lines[${lineAt}].goods`;
  const set = (place: string, change: DraftGoods) =>
    actions.line(`goods.${place}`, (found) => void Object.assign(found.goods, change));
  const breaks = goods.price_breaks ?? [];
  const change = (n: number, key: keyof Break, value: string) =>
    set(`price_breaks[${n}].${key}`, {
      price_breaks: breaks.map((row, k) => (k === n ? { ...row, [key]: value } : row)),
    });
  const cell = (n: number, row: Break, key: keyof Break, label: string) => (
    <Form.Control
      size="sm"
      inputMode={key === "quantity" ? "numeric" : "decimal"}
      aria-label={`${label}, row ${n + 1}`}
      value={text(row[key])}
      isInvalid={!!at(`${base}.price_breaks[${n}].${key}`)}
      aria-invalid={!!at(`${base}.price_breaks[${n}].${key}`)}
      onChange={(e) => change(n, key, e.target.value)}
    />
  );
  return (
    <>
      {breaks.map((row, n) => (
        <div className={style["break-row"]} key={n}>
          <span>from</span>
          {cell(n, row, "quantity", "Cheaper from")}
          <span>each</span>
          {cell(n, row, "unit_cost", "Costs then")}
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Remove row ${n + 1} of the supplier's prices`}
            onClick={() => {
              set("price_breaks", { price_breaks: breaks.filter((_, k) => k !== n) });
              goOnAt("[data-begin=cheaper]");
            }}
          >
            ×
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-plain"
        data-begin="cheaper"
        onClick={() => {
          set("price_breaks", {
            price_breaks: [...breaks, { quantity: 25, unit_cost: text(goods.unit_cost) || "0" }],
          });
          goOnAt(`[aria-label='Cheaper from, row ${breaks.length + 1}']`);
        }}
      >
        + a cheaper price
      </button>
      <div className="pair">
        <Field
          label="Packs of"
          value={text(goods.pack)}
          placeholder="1"
          inputMode="numeric"
          where={`${base}.pack`}
          onChange={(pack) => set("pack", { pack })}
        />
        <Field
          label="Delivery to us"
          value={text(goods.delivery)}
          placeholder="0.00"
          inputMode="decimal"
          where={`${base}.delivery`}
          onChange={(delivery) => set("delivery", { delivery })}
        />
      </div>
      <div className="pair">
        <PercentField
          label="Spoiled of it, %"
          value={text(goods.spoil)}
          placeholder="as its class"
          where={`${base}.spoil`}
          onChange={(spoil) => set("spoil", { spoil })}
        />
        <Field
          label="A piece takes, min"
          value={text(goods.minutes)}
          placeholder="as reckoned"
          inputMode="decimal"
          where={`${base}.minutes`}
          onChange={(minutes) => set("minutes", { minutes: minutes as unknown as number })}
        />
      </div>
      <Form.Check
        id={id}
        label="What is left over cannot be sold"
        checked={goods.spares_unsaleable === true}
        onChange={(e) => set("spares_unsaleable", { spares_unsaleable: e.target.checked })}
      />
    </>
  );
}
