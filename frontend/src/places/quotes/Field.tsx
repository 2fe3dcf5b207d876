// A labelled text field with its error beside it; Enter moves on.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import type { FieldError } from "./useEstimate";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  error?: FieldError;
  hint?: string;
  inputMode?: "numeric" | "decimal";
  placeholder?: string;
}

export function Field({ label, value, onChange, error, hint, inputMode, placeholder }: Props) {
  const id = useId();
  const about = error || hint ? `${id}-about` : undefined;
  return (
    <div>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      <Form.Control
        id={id}
        value={value}
        inputMode={inputMode}
        placeholder={placeholder}
        autoComplete="off"
        isInvalid={!!error}
        aria-describedby={about}
        onChange={(e) => onChange(e.target.value)}
      />
      {error ? (
        <div id={about} className="invalid-feedback d-block">
          {`${error.detail} ${error.remedy}`}
        </div>
      ) : (
        hint && (
          <div id={about} className="hint">
            {hint}
          </div>
        )
      )}
    </div>
  );
}

/** On to the next field, in the order of the work. */
export function moveOn(event: React.KeyboardEvent<HTMLElement>) {
  const from = event.target as HTMLElement;
  if (event.key !== "Enter" || !from.matches("input:not([type=checkbox]), select")) return;
  event.preventDefault();
  const fields = [...event.currentTarget.querySelectorAll<HTMLElement>("input, select, button")];
  const next = fields.slice(fields.indexOf(from) + 1).find((f) => f.offsetParent !== null);
  next?.focus();
}
