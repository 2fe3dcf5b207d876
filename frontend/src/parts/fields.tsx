// The fields of every form: a label, what is typed or chosen, and what is wrong with it beside it.
import { useId, type ReactNode } from "react";
import Form from "react-bootstrap/Form";
import { wordsOf } from "./Told";

/** What a field is told: what is wrong, and what to do. */
export interface Wrong {
  detail: string;
  remedy: string;
}

interface LabelledProps {
  label: string;
  error?: Wrong | null | undefined;
  hint?: ReactNode;
  /** The label is read, not seen. */
  quiet?: boolean;
  className?: string | undefined;
  children: (field: {
    id: string;
    isInvalid: boolean;
    "aria-invalid": boolean;
    "aria-describedby": string | undefined;
  }) => ReactNode;
}

/** A label, its field, and below it what is wrong or what it is for. */
export function Labelled({ label, error, hint, quiet, className, children }: LabelledProps) {
  const id = useId();
  const about = error || hint ? `${id}-about` : undefined;
  return (
    <div className={className}>
      <Form.Label htmlFor={id} visuallyHidden={quiet ?? false}>
        {label}
      </Form.Label>
      {children({
        id,
        isInvalid: !!error,
        "aria-invalid": !!error,
        "aria-describedby": about,
      })}
      {error ? (
        <div id={about} className="invalid-feedback d-block">
          {wordsOf(error)}
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

type Shared = Omit<LabelledProps, "children">;

interface TextProps extends Shared {
  value: string;
  onChange: (value: string) => void;
  type?: "text" | "search" | "date" | "time" | "number" | "password";
  inputMode?: "numeric" | "decimal" | "email" | undefined;
  placeholder?: string | undefined;
  onBlur?: (() => void) | undefined;
  autoFocus?: boolean;
  /** As many lines as it has; one without. */
  rows?: number;
  maxLength?: number;
  min?: string | number;
  max?: string | number;
}

export function TextField(props: TextProps) {
  const { value, onChange, label, error, hint, quiet, className, rows, ...more } = props;
  return (
    <Labelled label={label} error={error} hint={hint} quiet={quiet ?? false} className={className}>
      {(field) => (
        <Form.Control
          {...field}
          {...more}
          {...(rows ? { as: "textarea" as const, rows } : {})}
          value={value}
          autoComplete="off"
          onChange={(e) => onChange(e.target.value)}
        />
      )}
    </Labelled>
  );
}

/** What can be chosen: its key and its name. */
export type Option<Key extends string = string> = readonly [key: Key, name: string];

interface ChooseProps<Key extends string> extends Shared {
  value: Key;
  options: readonly Option<Key>[];
  onChange: (value: Key) => void;
}

export function Choose<Key extends string>(props: ChooseProps<Key>) {
  const { value, options, onChange, ...shared } = props;
  return (
    <Labelled {...shared}>
      {(field) => (
        <Form.Select {...field} value={value} onChange={(e) => onChange(e.target.value as Key)}>
          {options.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
      )}
    </Labelled>
  );
}
