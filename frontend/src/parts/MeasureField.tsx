// A length, in the seller's units or with its own: "90", "9cm", "3 1/2 in". The unit turns in place.
import { useState } from "react";
import Form from "react-bootstrap/Form";
import { Labelled, type Wrong } from "./fields";
import { heldLength, shownLength } from "./units";
import { useUnits } from "./useUnits";
import style from "./MeasureField.module.scss";

interface Props {
  label: string;
  /** Held: a bare number is millimetres. */
  value: string;
  onChange: (held: string) => void;
  error?: Wrong | undefined;
  placeholder?: string | undefined;
}

export function MeasureField({ label, value, onChange, error, placeholder }: Props) {
  const { units, turn } = useUnits();
  const [typing, setTyping] = useState<string | null>(null);
  const unit = units === "metric" ? "mm" : "in";
  return (
    <Labelled label={label} error={error}>
      {(field) => (
        <div className={style["measure-field"]}>
          <Form.Control
            {...field}
            value={typing ?? shownLength(value, units)}
            placeholder={placeholder === undefined ? undefined : shownLength(placeholder, units)}
            autoComplete="off"
            onChange={(e) => {
              setTyping(e.target.value);
              onChange(heldLength(e.target.value, units));
            }}
            onBlur={() => setTyping(null)}
          />
          <button
            type="button"
            data-aside
            className={style["unit"]}
            tabIndex={-1}
            title={`Lengths in ${units === "metric" ? "inches" : "millimetres"}`}
            aria-label={`${unit}: show lengths in ${units === "metric" ? "inches" : "millimetres"}`}
            onClick={turn}
          >
            {unit}
          </button>
        </div>
      )}
    </Labelled>
  );
}
