// One method: what is taken, why, and what another would add or save.
import Form from "react-bootstrap/Form";
import { type Method } from "../../../api";
import { number, signedMoney } from "../../../parts/format";
import style from "./MethodRow.module.scss";

interface Props {
  name: string;
  method: Method;
  /** Further values that may be taken; what they would change is told once they are. */
  more: string[];
  text: (value: string) => string;
  currency: string;
  onChoose: (value: string | null) => void;
}

/** What another value would add or save, over the line. */
function differs(amount: string | null, minutes: number | null, currency: string): string {
  if (amount === null || minutes === null) return "";
  const time = minutes ? `, ${minutes > 0 ? "+" : "−"}${number(Math.abs(minutes), 1)} min` : "";
  return ` (${signedMoney(amount, currency)}${time})`;
}

export function MethodRow({ name, method, more, text, currency, onChoose }: Props) {
  const id = `method-${method.key}`;
  const chosen = method.source === "chosen";
  const told = [method.value, ...method.others.map((other) => other.value)];
  const rest = more.filter((value) => !told.includes(value));
  return (
    <div className={`method${chosen ? " chosen" : ""}`}>
      <label className="form-label" htmlFor={id}>
        {name}
      </label>
      <Form.Select
        id={id}
        value={method.value}
        aria-describedby={`${id}-why`}
        onChange={(e) => onChoose(e.target.value)}
      >
        <option value={method.value}>{text(method.value)}</option>
        {method.others.map((other) => (
          <option key={other.value} value={other.value} title={other.reason}>
            {text(other.value) + differs(other.cost_difference, other.minutes_difference, currency)}
          </option>
        ))}
        {rest.map((value) => (
          <option key={value} value={value}>
            {text(value)}
          </option>
        ))}
      </Form.Select>
      <span className={`${style["why"]} hint`} id={`${id}-why`}>
        {method.reason}
        {chosen && (
          <>
            {" "}
            <button type="button" className="btn btn-plain" onClick={() => onChoose(null)}>
              Back to proposed
            </button>
          </>
        )}
      </span>
    </div>
  );
}
