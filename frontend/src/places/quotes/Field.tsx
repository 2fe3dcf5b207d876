// A labelled text field with its error, or how it was read, beside it; Enter moves on.
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { type FieldProblem } from "../../api";
import { number } from "../../parts/format";
import { useBench } from "../../draft";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Its place in the job: what is wrong with it, and how it was read, is told by that. */
  where?: string;
  error?: FieldProblem | undefined;
  hint?: string;
  inputMode?: "numeric" | "decimal";
  placeholder?: string | undefined;
  onBlur?: () => void;
}

/** What is told of a place: the problem there, or how what was typed was read. */
export function useTold(where: string | undefined, value: string) {
  const { price } = useBench();
  const error = where === undefined ? undefined : price.at(where);
  const read = price.estimate?.read.find((each) => each.where === where);
  const shown = read && read.typed === value.trim() ? read : undefined;
  return { error, read: shown };
}

export function Field(props: Props) {
  const { label, value, onChange, where, hint, inputMode, placeholder } = props;
  const id = useId();
  const told = useTold(where, value);
  const error = props.error ?? told.error;
  const read = told.read ? `read as ${number(told.read.value, 6)}` : undefined;
  const about = error || hint || read ? `${id}-about` : undefined;
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
        aria-invalid={!!error}
        aria-describedby={about}
        onChange={(e) => onChange(e.target.value)}
        onBlur={props.onBlur}
      />
      {error ? (
        <div id={about} className="invalid-feedback d-block">
          {`${error.detail} ${error.remedy}`}
        </div>
      ) : (
        (hint ?? read) && (
          <div id={about} className="hint">
            {hint ?? read}
          </div>
        )
      )}
    </div>
  );
}
