// What nobody has counted: is it here? Said with one press, of all or of each; until then it is waited for.
import { useMutation } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { post, problemOf, useRenew } from "../api";
import { counted } from "./format";
import { goOnAt } from "./goOnAt";
import { amountText } from "./stock";
import { Told } from "./Told";
import { useTell } from "./toasts";
import { useUnits } from "./useUnits";
import style from "./Uncounted.module.scss";

export interface NotCounted {
  item: string;
  label: string;
  unit: string;
  amount: string;
}

interface Props {
  items: NotCounted[];
  /** A quote whose needs count beside those of the orders. */
  quote?: number;
  /** Where the work goes on once all is said. */
  next: string;
}

type Said = "enough" | "counted" | "none";

export function Uncounted({ items, quote = 0, next }: Props) {
  const { units } = useUnits();
  const tell = useTell();
  const renew = useRenew("shelf");
  const pressed = useRef(crypto.randomUUID());
  const say = useMutation({
    mutationFn: (rows: { item: string; said: Said; amount: string }[]) =>
      post("/stock/said", { body: { key: pressed.current, quote, rows } }),
    onSuccess: (done, rows) => {
      pressed.current = crypto.randomUUID();
      void renew().then(() => goOnAt(next));
      tell(
        `${counted(done.items, "thing")} counted: ${rows[0]?.said === "none" ? "not here" : "here"}.`,
      );
    },
  });
  if (items.length === 0) return null;
  const one = (item: string, said: Said, amount = "0") => say.mutate([{ item, said, amount }]);
  return (
    <section aria-label="Not counted: is it here?" className={style["uncounted"]}>
      <div className={style["uncounted-head"]}>
        <p>
          <b>
            {counted(items.length, "thing")} not counted:{" "}
            {items.length === 1 ? "is it" : "are they"} here?
          </b>
        </p>
        <button
          type="button"
          className="btn btn-outline-primary btn-sm"
          disabled={say.isPending}
          onClick={() =>
            say.mutate(items.map(({ item }) => ({ item, said: "enough", amount: "0" })))
          }
        >
          All of it is here
        </button>
      </div>
      <Told of={problemOf(say.error)} />
      <details open={items.length < 4}>
        <summary>One by one</summary>
        <ul>
          {items.map((row) => (
            <One
              key={row.item}
              row={row}
              amount={amountText(row.amount, row.unit, units)}
              say={one}
            />
          ))}
        </ul>
      </details>
    </section>
  );
}

interface OneProps {
  row: NotCounted;
  amount: string;
  say: (item: string, said: Said, amount?: string) => void;
}

function One({ row, amount, say }: OneProps) {
  const [there, setThere] = useState("");
  return (
    <li>
      <span>
        {row.label} <span className="hint">{amount} wanted</span>
      </span>
      <span className={style["uncounted-says"]}>
        <button
          type="button"
          className="btn btn-outline-primary btn-sm"
          aria-label={`Here, enough: ${row.label}`}
          onClick={() => say(row.item, "enough")}
        >
          Here
        </button>
        <button
          type="button"
          className="btn btn-plain btn-sm"
          aria-label={`Not here: ${row.label}`}
          onClick={() => say(row.item, "none")}
        >
          Not here
        </button>
        <form
          onSubmit={(e) => {
            e.preventDefault();
            if (there.trim()) say(row.item, "counted", there);
          }}
        >
          <input
            className="form-control form-control-sm"
            inputMode="decimal"
            aria-label={`So much of it is here: ${row.label}`}
            placeholder={row.unit === "m" ? "metres" : "pieces"}
            value={there}
            onChange={(e) => setThere(e.target.value)}
          />
        </form>
      </span>
    </li>
  );
}
