// Where a design comes from: what it cost, over how many orders, and on which terms.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { text, useDraft, wayOf } from "../../../draft";
import { symbol } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";
import { useDesign } from "./DesignCount";
import { Field } from "../Field";

const KINDS = [
  ["", "Made for this order, here"],
  ["digitised", "Digitised for it by someone else"],
  ["bought", "Bought ready-made"],
  ["built-in", "Built into the machine"],
  ["customer", "The customer's own"],
  ["before", "Sewn before"],
] as const;
type Kind = "digitised" | "bought" | "built-in" | "customer";

export function DesignOrigin() {
  const id = useId();
  const { job } = useDraft();
  const { design, base, set } = useDesign();
  const origin = design.origin ?? null;
  const kind = design.repeat === true ? "before" : (origin?.kind ?? "");
  const choose = (to: string) => {
    const kept = to === "" || to === "before" ? undefined : { ...origin, kind: to as Kind };
    set({ repeat: to === "before", origin: kept as typeof design.origin });
  };
  const field = (key: "price" | "orders" | "pieces_most" | "terms", label: string, hint = "") => (
    <Field
      label={label}
      value={text(origin?.[key])}
      placeholder={hint}
      inputMode={key === "terms" ? undefined : key === "price" ? "decimal" : "numeric"}
      where={`${base}.origin.${key}`}
      onChange={(typed) =>
        set({ origin: { ...origin, [key]: typed || undefined } as typeof design.origin })
      }
    />
  );
  const paid = kind === "bought" || (kind === "digitised" && wayOf(design) !== "words");
  return (
    <div className="ask-fields mt-2">
      <div>
        <Form.Label htmlFor={id}>Where it comes from</Form.Label>
        <Form.Select id={id} value={kind} onChange={(e) => choose(e.target.value)}>
          {KINDS.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
        {kind === "before" && <div className="hint">No digitising, no sample.</div>}
      </div>
      {paid && !costsHidden && (
        <div className="pair">
          {field(
            "price",
            `Its price, ${symbol(job.currency ?? "")}`,
            kind === "bought" ? "" : "by the stitch",
          )}
          {kind === "bought" && field("orders", "Shared over orders", "1")}
        </div>
      )}
      {(kind === "bought" || kind === "customer") && (
        <div className="pair">
          {field("pieces_most", "Pieces allowed", "any")}
          {field("terms", "Its terms")}
        </div>
      )}
    </div>
  );
}
