// The sample and its wash test, before the rest is sewn; what the customer's enquiry takes.
import { Choose } from "../../../parts/fields";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useBench, useDraft, useHouse } from "../../../draft";
import { Field } from "../Field";

/** How many samples the shop's rule asks for of so many pieces; a repeat needs none. */
function useProposed(): string {
  const { line } = useDraft();
  const { sample } = useHouse();
  const sewn = line.placements.every((p) => p.design.repeat === true);
  return !sewn && Number(line.quantity) >= sample.from_quantity ? String(sample.pieces) : "0";
}

export function Sampled() {
  const id = useId();
  const { job, line, lineAt, actions } = useDraft();
  const { price } = useBench();
  const proposed = useProposed();
  const wash = line.sample?.wash === true;
  const passed = line.sample?.passed === true;
  const set = (change: { pieces?: string; wash?: boolean; passed?: boolean }) =>
    actions.line("sample", (found) => {
      const now = { pieces: text(line.sample?.pieces), wash, passed, ...change };
      if (now.pieces === "" && !now.wash && !now.passed) delete found.sample;
      else found.sample = { ...now, pieces: (now.pieces || proposed) as unknown as number };
    });
  const scrap = price.estimate?.lines[lineAt]?.scrap ?? "";
  const sewn = Number(text(line.sample?.pieces) || proposed) > 0;
  return (
    <fieldset>
      <legend className="form-label">Sample, before the rest is sewn</legend>
      <div className="pair">
        <Field
          label="Samples"
          value={text(line.sample?.pieces)}
          placeholder={proposed}
          inputMode="numeric"
          where={`lines[${lineAt}].sample.pieces`}
          onChange={(pieces) => set({ pieces })}
        />
        <Choose
          label="Enquiry"
          value={job.enquiry ?? "proof"}
          onChange={(typed) => {
            const by = typed;
            actions.job("enquiry", (found) => {
              if (by === "counter") found.enquiry = by;
              else delete found.enquiry;
            });
          }}
          options={[
            ["proof", "Proof"],
            ["counter", "Counter"],
          ]}
        />
      </div>
      <Form.Check
        id={`${id}-wash`}
        label="Wash the sample and press it"
        checked={wash}
        onChange={(e) => set({ wash: e.target.checked })}
      />
      {sewn && (
        <>
          <Form.Check
            id={`${id}-passed`}
            label="It has passed"
            checked={passed}
            onChange={(e) => set({ passed: e.target.checked })}
          />
          {!passed && <div className="hint">The rest waits until it has passed. {scrap}</div>}
        </>
      )}
      <Form.Check
        id={`${id}-once`}
        label="It cannot be bought again"
        checked={line.goods.once_only === true}
        onChange={(e) => {
          const once = e.target.checked;
          actions.line("goods.once_only", ({ goods }) => {
            if (once) goods.once_only = true;
            else delete goods.once_only;
          });
        }}
      />
    </fieldset>
  );
}
