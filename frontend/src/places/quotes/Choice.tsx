// A labelled list to choose from.
import { useId } from "react";
import Form from "react-bootstrap/Form";

interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  choices: readonly (readonly [string, string])[];
}

export function Choice({ label, value, onChange, choices }: Props) {
  const id = useId();
  return (
    <div>
      <Form.Label htmlFor={id}>{label}</Form.Label>
      <Form.Select id={id} value={value} onChange={(e) => onChange(e.target.value)}>
        {choices.map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </Form.Select>
    </div>
  );
}
