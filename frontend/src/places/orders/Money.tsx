// What an order comes to, what was paid of it and what is due; a payment noted with its day.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { type OrderView } from "../../api";
import { day, money } from "../../parts/format";
import style from "./Orders.module.scss";

type Payments = OrderView["payments"];

export function Money({
  order,
  onPaid,
}: {
  order: OrderView;
  onPaid: (payments: Payments, said: string) => void;
}) {
  const id = useId();
  const [amount, setAmount] = useState("");
  const [kind, setKind] = useState<Payments[number]["kind"]>("payment");
  const { currency, money: due } = order;
  const rows: [string, string][] = [
    ["To pay", due.to_pay],
    ["Deposit of it", due.deposit],
    ["Paid", due.paid],
    ["Due", due.due],
  ];
  return (
    <section aria-label="Money">
      <h2 className="small-caps-head">Money</h2>
      <dl className={style["od-laid"]}>
        {rows.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{money(value, currency)}</dd>
          </div>
        ))}
      </dl>
      <ul className={style["od-needs"]}>
        {order.payments.map((row, n) => (
          <li key={n}>
            {day(row.on)}: {row.kind} {money(row.amount, currency)}{" "}
            <button
              type="button"
              className="btn btn-plain"
              aria-label={`Remove the ${row.kind} of ${money(row.amount, currency)}`}
              onClick={() =>
                onPaid(
                  order.payments.filter((_, i) => i !== n),
                  `The ${row.kind} is taken out.`,
                )
              }
            >
              ×
            </button>
          </li>
        ))}
      </ul>
      <form
        className={style["od-note"]}
        onSubmit={(event) => {
          event.preventDefault();
          if (!amount.trim()) return;
          const on = new Date().toISOString().slice(0, 10);
          onPaid([...order.payments, { on, amount: amount.trim(), kind }], "It is noted.");
          setAmount("");
        }}
      >
        <label htmlFor={`${id}-kind`}>Note a</label>
        <Form.Select
          id={`${id}-kind`}
          style={{ width: "auto" }}
          value={kind}
          onChange={(e) => setKind(e.target.value as typeof kind)}
        >
          <option value="payment">payment</option>
          <option value="deposit">deposit</option>
          <option value="refund">refund</option>
        </Form.Select>
        <label htmlFor={`${id}-amount`}>of</label>
        <Form.Control
          id={`${id}-amount`}
          style={{ width: 110 }}
          inputMode="decimal"
          autoComplete="off"
          value={amount}
          onChange={(e) => setAmount(e.target.value)}
        />
        <button type="submit" className="btn btn-outline-primary btn-sm">
          Note it
        </button>
      </form>
    </section>
  );
}
