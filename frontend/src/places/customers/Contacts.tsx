// People at a customer's: a row each.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { goOnAt } from "../../parts/goOnAt";
import { type Contact, type Problem } from "../../api";
import { Told } from "../../parts/Told";
import style from "./Customers.module.scss";

const PARTS = [
  ["name", "Who"],
  ["role", "What for"],
  ["email", "E-mail"],
  ["phone", "Phone"],
] as const;

interface Props {
  rows: Contact[];
  problem: Problem | null;
  onChange: (rows: Contact[]) => void;
}

export function Contacts({ rows, problem, onChange }: Props) {
  const id = useId();
  const set = (n: number, key: keyof Contact, value: string) =>
    onChange(rows.map((row, k) => (k === n ? { ...row, [key]: value } : row)));
  return (
    <fieldset>
      <legend className="form-label">People there</legend>
      {rows.map((row, n) => {
        const wrong = problem?.where === `contacts[${n}].email`;
        return (
          <div key={n} className={style["cu-contact"]}>
            {PARTS.map(([key, label]) => (
              <Form.Control
                key={key}
                size="sm"
                placeholder={label}
                aria-label={`${label}, person ${n + 1}`}
                value={row[key]}
                isInvalid={wrong && key === "email"}
                aria-invalid={wrong && key === "email"}
                aria-describedby={wrong && key === "email" ? `${id}-${n}` : undefined}
                onChange={(e) => set(n, key, e.target.value)}
              />
            ))}
            <button
              type="button"
              className="btn btn-plain"
              aria-label={`Remove person ${n + 1}`}
              onClick={() => {
                onChange(rows.filter((_, k) => k !== n));
                goOnAt("[data-begin=person]");
              }}
            >
              ×
            </button>
            <Told of={wrong && problem} id={`${id}-${n}`} />
          </div>
        );
      })}
      <button
        type="button"
        className="btn btn-sm btn-outline-primary"
        data-begin="person"
        onClick={() => {
          onChange([...rows, { name: "", role: "", email: "", phone: "" }]);
          goOnAt(`[aria-label='Who, person ${rows.length + 1}']`);
        }}
      >
        + person
      </button>
    </fieldset>
  );
}
