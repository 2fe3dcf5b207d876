// A labelled text field with its error, or how it was read, beside it; Enter moves on.
import { type FieldProblem } from "../../api";
import { TextField } from "../../parts/fields";
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

export function Field({ where, error, hint, ...field }: Props) {
  const told = useTold(where, field.value);
  const read = told.read ? `read as ${number(told.read.value, 6)}` : undefined;
  return <TextField {...field} error={error ?? told.error} hint={hint ?? read} />;
}
