// Snaps, rings, ribbon: fixed to each piece after sewing.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useAt, useDraft, useHouse } from "../../../draft";
import { goOnAt } from "../../../parts/goOnAt";
import { MeasureField } from "../../../parts/MeasureField";
import { Field } from "../Field";
import style from "./StepStrip.module.scss";

type Part = { item: string; count?: unknown; length_mm?: unknown };

export function PartsFixed() {
  const id = useId();
  const at = useAt();
  const house = useHouse();
  const { line, lineAt, actions } = useDraft();
  const parts = (line.hardware ?? []) as Part[];
  const keep = (where: string, to: Part[]) =>
    actions.line(`hardware${where}`, (found) => {
      if (to.length > 0) found.hardware = to as never;
      else delete found.hardware;
    });
  const set = (n: number, change: Partial<Part>) =>
    keep(
      `[${n}]`,
      parts.map((part, i) => (i === n ? { ...part, ...change } : part)),
    );
  return (
    <div role="group" aria-label="Fixed to each piece">
      {parts.map((part, n) => {
        const unit = house.hardware[part.item]?.unit;
        return (
          <div key={n} className={style["sp-part"]} data-part={n}>
            <div>
              <Form.Label htmlFor={`${id}-${n}`}>{`Part ${n + 1}`}</Form.Label>
              <Form.Select
                id={`${id}-${n}`}
                value={part.item}
                onChange={(e) => set(n, { item: e.target.value })}
              >
                {Object.entries(house.hardware).map(([key, row]) => (
                  <option key={key} value={key}>
                    {row.label}
                  </option>
                ))}
              </Form.Select>
            </div>
            <Field
              label="On each piece"
              value={text(part.count)}
              placeholder="1"
              inputMode="numeric"
              where={`lines[${lineAt}].hardware[${n}].count`}
              onChange={(count) => set(n, { count })}
            />
            {unit === "m" && (
              <MeasureField
                label="Length of each"
                value={text(part.length_mm)}
                error={at(`lines[${lineAt}].hardware[${n}].length_mm`)}
                onChange={(length_mm) => set(n, { length_mm })}
              />
            )}
            <button
              type="button"
              className="btn btn-plain"
              aria-label={`Remove part ${n + 1}`}
              onClick={() => {
                keep(
                  "-",
                  parts.filter((_, i) => i !== n),
                );
                goOnAt(parts.length > 1 ? "[data-part='0'] select" : "[data-part-add]");
              }}
            >
              ×
            </button>
          </div>
        );
      })}
      <button
        type="button"
        data-part-add
        className="btn btn-plain"
        onClick={() => {
          keep("+", [...parts, { item: Object.keys(house.hardware)[0] ?? "" }]);
          goOnAt(`[data-part='${parts.length}'] select`);
        }}
      >
        + snap, ring, ribbon … on each piece
      </button>
    </div>
  );
}
