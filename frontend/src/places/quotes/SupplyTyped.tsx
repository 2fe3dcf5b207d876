// How blanks are bought, typed for this line: a cheaper price from a number on, packs, delivery.
import Form from "react-bootstrap/Form";
import { Field } from "./Field";
import type { DraftTools } from "./useDraft";
import type { FieldError } from "./useEstimate";

type Kept = Record<string, unknown>;
interface Break {
  quantity: unknown;
  unit_cost: unknown;
}

const shown = (value: unknown) => (value === undefined || value === null ? "" : String(value));

interface Props {
  tools: DraftTools;
  at: (where: string) => FieldError;
}

export function SupplyTyped({ tools, at }: Props) {
  const { line, setLine, lineAt } = tools;
  const goods = (line.rest["goods"] ?? {}) as Kept;
  const base = `lines[${lineAt}].goods`;
  const set = (change: Kept) => setLine({ rest: { ...line.rest, goods: { ...goods, ...change } } });
  const breaks = (goods["price_breaks"] ?? []) as Break[];
  const change = (n: number, to: Partial<Break>) =>
    set({ price_breaks: breaks.map((row, k) => (k === n ? { ...row, ...to } : row)) });
  return (
    <>
      {breaks.map((row, n) => (
        <div className="break-row" key={n}>
          <span>from</span>
          <Form.Control
            size="sm"
            inputMode="numeric"
            aria-label={`Cheaper from, row ${n + 1}`}
            value={shown(row.quantity)}
            isInvalid={!!at(`${base}.price_breaks[${n}].quantity`)}
            onChange={(e) => change(n, { quantity: e.target.value })}
          />
          <span>each</span>
          <Form.Control
            size="sm"
            inputMode="decimal"
            aria-label={`Costs then, row ${n + 1}`}
            value={shown(row.unit_cost)}
            isInvalid={!!at(`${base}.price_breaks[${n}].unit_cost`)}
            onChange={(e) => change(n, { unit_cost: e.target.value })}
          />
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Remove row ${n + 1} of the supplier's prices`}
            onClick={() => set({ price_breaks: breaks.filter((_, k) => k !== n) })}
          >
            ×
          </button>
        </div>
      ))}
      <button
        type="button"
        className="btn btn-plain"
        onClick={() =>
          set({
            price_breaks: [...breaks, { quantity: 25, unit_cost: line.goods.unit_cost || "0" }],
          })
        }
      >
        + a cheaper price
      </button>
      <div className="pair">
        <Field
          label="Packs of"
          value={shown(goods["pack"])}
          placeholder="1"
          inputMode="numeric"
          error={at(`${base}.pack`)}
          onChange={(text) => set({ pack: text || undefined })}
        />
        <Field
          label="Delivery to us"
          value={shown(goods["delivery"])}
          placeholder="0.00"
          inputMode="decimal"
          error={at(`${base}.delivery`)}
          onChange={(text) => set({ delivery: text || undefined })}
        />
      </div>
    </>
  );
}
