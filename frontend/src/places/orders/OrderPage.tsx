// One order: how far it is, what it needs and what of that lies ready, its pieces, its money.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useParams } from "react-router";
import { api, ProblemError, type OrderDocument, type OrderView } from "../../api/client";
import { counted, day, listed, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { useTell } from "../../parts/toasts";
import { lengthText, longText } from "../../parts/units";
import { useUnits } from "../../parts/useUnits";
import { usePageTitle } from "../../parts/usePageTitle";
import { stateWord, STATES, WAITS } from "./words";
import style from "./Orders.module.scss";

const documentOf = ({ state, waits, promised_on, ready, payments }: OrderView): OrderDocument => ({
  state,
  waits,
  promised_on,
  ready,
  payments,
});

export function OrderPage() {
  const id = Number(useParams()["id"]);
  const found = useQuery({
    queryKey: ["order", id],
    queryFn: () => api.order(id),
    staleTime: 0,
  });
  if (found.error instanceof ProblemError)
    return (
      <main className="standards">
        <h1>Order</h1>
        <p role="alert">
          {found.error.problem.detail} <Link to="/orders">All orders</Link>
        </p>
      </main>
    );
  if (!found.data)
    return (
      <main className="standards">
        <Loading what="The order" />
      </main>
    );
  return <Order key={id} order={found.data} />;
}

type Change = (now: OrderView) => Partial<OrderDocument>;

function useMoving(order: OrderView) {
  const queries = useQueryClient();
  const tell = useTell();
  const save = useMutation({
    scope: { id: `order.${order.id}` }, // one after the other, each upon what the last one left
    mutationFn: (change: Change) => {
      const now = queries.getQueryData<OrderView>(["order", order.id]) ?? order;
      return api.saveOrder(order.id, { ...documentOf(now), ...change(now) }, now.revision);
    },
    onSuccess: (view) => {
      queries.setQueryData(["order", order.id], view);
      void queries.invalidateQueries({ queryKey: ["orders"] });
    },
    onError: (error) => {
      const stale = error instanceof ProblemError && error.problem.status === 412;
      if (stale) void queries.invalidateQueries({ queryKey: ["order", order.id] });
    },
  });
  /** A change that can be taken back. */
  const move = (change: Partial<OrderDocument>, said: string) => {
    const before = documentOf(order);
    save.mutate(() => change, {
      onSuccess: (view) =>
        tell(said, {
          label: "Undo",
          does: () =>
            void api.saveOrder(view.id, before, view.revision).then((back) => {
              queries.setQueryData(["order", order.id], back);
              void queries.invalidateQueries({ queryKey: ["orders"] });
            }),
        }),
    });
  };
  const problem = save.error instanceof ProblemError ? save.error.problem : null;
  return { save, move, problem };
}

function Order({ order }: { order: OrderView }) {
  usePageTitle(`${order.number} ${order.customer}, order`);
  const id = useId();
  const { save, move, problem } = useMoving(order);
  const [choosing, setChoosing] = useState(false); // what it waits for is chosen next
  const state = choosing ? "waiting" : order.state;
  const wait = state === "waiting";
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>
          {order.number} {order.customer}
        </h1>
        <span className="d-flex gap-3">
          <Link to={`/quotes/${order.id}`}>The quote</Link>
          <Link to="/orders">All orders</Link>
        </span>
      </div>
      <p className="hint">
        {order.summary}; accepted {day(order.accepted_on)}, version {order.version}
        {!order.stands && ". Its answer was taken back: it is no order until it is accepted again"}.
      </p>
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-state`}>State</Form.Label>
          <Form.Select
            id={`${id}-state`}
            value={state}
            onChange={(e) => {
              const to = e.target.value as OrderView["state"];
              setChoosing(to === "waiting");
              if (to !== "waiting")
                move(
                  { state: to },
                  `${order.number} is ${stateWord({ state: to, stands: true })}.`,
                );
            }}
          >
            {STATES.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </Form.Select>
        </div>
        {wait && (
          <div>
            <Form.Label htmlFor={`${id}-waits`}>Waits for</Form.Label>
            <Form.Select
              id={`${id}-waits`}
              value={order.waits}
              onChange={(e) => {
                setChoosing(false);
                move(
                  { state: "waiting", waits: e.target.value as OrderView["waits"] },
                  `${order.number} waits.`,
                );
              }}
            >
              {WAITS.map(([key, name]) => (
                <option key={key} value={key} disabled={key === ""}>
                  {key === "" ? "choose" : name}
                </option>
              ))}
            </Form.Select>
          </div>
        )}
        <div>
          <Form.Label htmlFor={`${id}-day`}>Promised for</Form.Label>
          <Form.Control
            id={`${id}-day`}
            type="date"
            value={order.promised_on}
            onChange={(e) => save.mutate(() => ({ promised_on: e.target.value }))}
          />
        </div>
      </div>
      {problem && (
        <p className="invalid-feedback d-block" role="alert">
          {problem.detail} {problem.remedy}
        </p>
      )}
      <div className={style["od-columns"]}>
        <Needs
          order={order}
          onReady={(key, there) =>
            save.mutate(({ ready }) => ({
              ready: there ? [...ready, key] : ready.filter((each) => each !== key),
            }))
          }
        />
        <div>
          <Pieces order={order} />
          <Money order={order} onPaid={(payments, said) => move({ payments }, said)} />
        </div>
      </div>
    </main>
  );
}

/** What is needed, ticked as it lies ready; what else is laid out. */
function Needs({
  order,
  onReady,
}: {
  order: OrderView;
  onReady: (key: string, there: boolean) => void;
}) {
  const id = useId();
  const { units } = useUnits();
  const { needs } = order;
  if (!needs)
    return (
      <section aria-label="Get ready">
        <h2 className="small-caps-head">Get ready</h2>
        <p role="alert">{order.unready}</p>
      </section>
    );
  const there = new Set(order.ready);
  const left = needs.needs.filter((need) => !there.has(need.item)).length;
  const amount = (need: (typeof needs.needs)[number]) =>
    need.unit === "m"
      ? longText(Number(need.amount), units)
      : counted(Number(need.amount), "piece");
  return (
    <section aria-label="Get ready">
      <h2 className="small-caps-head">Get ready</h2>
      <p className="hint" role="status">
        {left === 0
          ? "All of it lies ready."
          : `${left} of ${needs.needs.length} still to lay out.`}{" "}
        Samples and spares are counted in.
      </p>
      <ul className={style["od-needs"]}>
        {needs.needs.map((need, n) => (
          <li key={need.item}>
            <Form.Check
              id={`${id}-${n}`}
              checked={there.has(need.item)}
              onChange={(e) => onReady(need.item, e.target.checked)}
              label={
                <>
                  <b>{need.label}</b> {amount(need)}
                  {need.pieces > 0 &&
                    `, cut as ${counted(need.pieces, "piece")}${
                      need.cut_mm
                        ? ` of ${need.cut_mm.map((side) => lengthText(side, units)).join(" × ")}`
                        : ""
                    }`}
                  {need.buy.some((row) => row.name !== "each") && (
                    <span className="hint">
                      {" "}
                      {listed(need.buy.map((row) => `${row.count} × ${row.name}`))} covers it
                    </span>
                  )}
                </>
              }
            />
          </li>
        ))}
      </ul>
      <dl className={style["od-laid"]}>
        <dt>Files</dt>
        <dd>
          {listed(needs.files.map((file) => `${file.design || "a count"} on ${file.machine}`))}
        </dd>
        <dt>Hoops</dt>
        <dd>{listed(needs.hoops) || "none fits"}</dd>
        <dt>Needles</dt>
        <dd>{listed(needs.needles)}</dd>
        {needs.wind.length > 0 && (
          <>
            <dt>Wind</dt>
            <dd>
              {listed(needs.wind.map((row) => `${counted(row.count, "bobbin")} of ${row.colour}`))}
            </dd>
          </>
        )}
      </dl>
    </section>
  );
}

function Pieces({ order }: { order: OrderView }) {
  return (
    <section aria-label="Pieces">
      <h2 className="small-caps-head">Pieces</h2>
      <ul className={style["od-needs"]}>
        {order.pieces.map((row, n) => (
          <li key={n}>
            <b>
              {row.pieces} × {row.goods}
            </b>{" "}
            {[row.size, row.colour].filter(Boolean).join(" ")}
            {row.names.length > 0 && <span className="hint d-block">{row.names.join(", ")}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

type Payments = OrderView["payments"];

function Money({
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
