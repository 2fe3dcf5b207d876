// How the order is priced, and at which margin.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useDraft, useHouse, type DraftJob } from "../../draft";
import { PercentField } from "./PercentField";

export function Pricing() {
  const id = useId();
  const { job, actions } = useDraft();
  const { price } = useHouse();
  return (
    <div className="pair">
      <div>
        <Form.Label htmlFor={id}>Priced by</Form.Label>
        <Form.Select
          id={id}
          value={job.price_method ?? price.method}
          onChange={(e) => {
            const way = e.target.value as DraftJob["price_method"];
            actions.job("price_method", (found) => void (found.price_method = way ?? null));
          }}
        >
          <option value="margin">Margin</option>
          <option value="stitch-rate">Stitch rate</option>
          <option value="hour-rate">Hour rate</option>
        </Form.Select>
      </div>
      <PercentField
        label="Margin, %"
        value={text(job.margin)}
        placeholder={String(Number((Number(price.margin) * 100).toFixed(4)))}
        where="margin"
        onChange={(margin) => actions.job("margin", (found) => void (found.margin = margin))}
      />
    </div>
  );
}
