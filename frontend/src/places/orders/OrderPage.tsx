// One order: how far it is, what it waits for, its pieces, needs, proof, papers, work and money.
import { Asks } from "../../parts/Asks";
import { Choose, TextField } from "../../parts/fields";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useParams } from "react-router";
import {
  get,
  keys,
  problemOf,
  put,
  useKeep,
  useRenew,
  type OrderDocument,
  type OrderView,
} from "../../api";
import { day, listed, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { RunLanes } from "../../parts/RunLanes";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { DrawnPieces } from "./DrawnPieces";
import { HowHeld } from "./HowHeld";
import { Money } from "./Money";
import { Needs } from "./Needs";
import { Papers } from "./Papers";
import { Pieces } from "./Pieces";
import { ProofPart } from "./ProofPart";
import { Units } from "./Units";
import { AllTheSame } from "./AllTheSame";
import { isAsked, useProblem } from "./useProblem";
import { stateWord, STATES, WAITS } from "./words";
import style from "./Orders.module.scss";

const documentOf = ({ state, waits, promised_on, ready, payments }: OrderView): OrderDocument => ({
  state,
  waits,
  promised_on,
  ready,
  payments,
  anyway: false,
});

export function OrderPage() {
  const id = Number(useParams()["id"]);
  const found = useQuery({
    queryKey: keys.order(id),
    queryFn: () => get("/orders/{order_id}", { path: { order_id: id } }),
    staleTime: 0,
  });
  if (problemOf(found.error))
    return (
      <main className="standards">
        <h1>Order</h1>
        <Told of={found.error} page>
          <Link to="/orders">All orders</Link>
        </Told>
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

/** How far another version of it is. */
const CHANGING: Record<Exclude<NonNullable<OrderView["changing"]>, "">, string> = {
  draft: "A change of it is being drafted",
  sent: "A change of it is with the customer",
  accepted: "A change of it was accepted",
  declined: "A change of it was declined",
};

type Change = (now: OrderView) => Partial<OrderDocument>;

function useMoving(order: OrderView) {
  const queries = useQueryClient();
  const keep = useKeep();
  const tell = useTell();
  const renew = useRenew("order");
  const save = useMutation({
    scope: { id: `order.${order.id}` }, // one after the other, each upon what the last one left
    mutationFn: (change: Change) => {
      const now = queries.getQueryData<OrderView>(keys.order(order.id)) ?? order;
      return put("/orders/{order_id}", {
        path: { order_id: order.id },
        seen: now.revision,
        body: { ...documentOf(now), ...change(now) },
      });
    },
    onSuccess: async (view) => {
      await keep(keys.order(order.id), view);
      void renew();
    },
    onError: (error) => {
      const stale = problemOf(error)?.status === 412;
      if (stale) void queries.invalidateQueries({ queryKey: keys.order(order.id) });
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
            void put("/orders/{order_id}", {
              path: { order_id: view.id },
              seen: view.revision,
              body: before,
            }).then(async (back) => {
              await keep(keys.order(order.id), back);
              void renew();
            }),
        }),
    });
  };
  const problem = useProblem(save.error, order.revision);
  /** What was asked is answered: it is so all the same. */
  const again = () => {
    const change = save.variables;
    if (change) save.mutate((now) => ({ ...change(now), anyway: true }));
  };
  return { save, move, problem, again };
}

function Order({ order }: { order: OrderView }) {
  usePageTitle(`${order.number} ${order.customer}, order`);
  const { save, move, problem, again } = useMoving(order);
  const held = order.waiting_for;
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>
          {order.number} {order.customer}
        </h1>
        <span className="d-flex gap-3">
          <Link to={`/orders/${order.id}/run`}>At the machine</Link>
          <Link to={`/log/new?order=${order.id}`}>Log it</Link>
          <Link to={`/quotes/${order.id}`}>The quote</Link>
          <Link to="/orders">All orders</Link>
        </span>
      </div>
      <p className="hint">
        {order.summary}; accepted {day(order.accepted_on)}, version {order.version}
        {!order.stands && ". Its answer was taken back: it is no order until it is accepted again"}.
        {order.changing && (
          <>
            {" "}
            <Link to={`/quotes/${order.id}`}>{CHANGING[order.changing]}</Link>
            {order.changing !== "declined" && ": until that is accepted this version is made"}.
          </>
        )}
      </p>
      <HowFar
        order={order}
        onMove={move}
        onDay={(promised_on) => save.mutate(() => ({ promised_on }))}
      />
      <Told of={problem}>{isAsked(problem) && <AllTheSame onPress={again} />}</Told>
      <Asks quote={order.id} but={order.proof.state === "corrected" ? ["name", "words"] : []} />
      <ByPlan order={order} />
      {held.length > 0 && (
        <section aria-label="It waits for" className={style["od-held"]}>
          <h2 className="small-caps-head">It waits for</h2>
          <ul>
            {held.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          {order.lacks > 0 && <Link to="/shelf/to-buy">To the buying list</Link>}
        </section>
      )}
      <Changed order={order} />
      <div className={style["od-columns"]}>
        <div>
          <DrawnPieces id={order.id} />
          <Pieces order={order} />
          <Needs
            order={order}
            onReady={(key, there) =>
              save.mutate(({ ready }) => ({
                ready: there ? [...ready, key] : ready.filter((each) => each !== key),
              }))
            }
          />
        </div>
        <div>
          <ProofPart order={order} />
          <Samples
            order={order}
            onPassed={(key, passed) =>
              save.mutate(({ ready }) => ({
                ready: passed ? [...ready, key] : ready.filter((each) => each !== key),
              }))
            }
          />
          <HowHeld id={order.id} />
          <Papers order={order} />
          <Units order={order} />
          <Money order={order} onPaid={(payments, said) => move({ payments }, said)} />
        </div>
      </div>
      <RunLanes of="orders" id={order.id} revision={order.version} />
    </main>
  );
}

/** When it ends by the plan, and whether what was promised still holds. */
function ByPlan({ order }: { order: OrderView }) {
  const open = ["accepted", "waiting", "ready", "in-work"].includes(order.state);
  const plan = useQuery({
    queryKey: keys.plan(),
    queryFn: () => get("/plan"),
    staleTime: 0,
    enabled: open,
  });
  const row = plan.data?.orders.find((each) => each.id === order.id);
  const over = plan.data?.over.includes(order.number);
  if (!open || (!row && !over)) return null;
  return (
    <p className={row && row.late_days === 0 ? "hint" : style["od-late"]}>
      {row
        ? `By the plan ready ${day(row.end_day)}${row.why ? `: ${row.why}` : ""}. `
        : "It does not end within four months by the plan. "}
      <Link to={`/orders/plan?order=${order.id}`}>Plan</Link>
    </p>
  );
}

interface HowFarProps {
  order: OrderView;
  onMove: (change: Partial<OrderDocument>, said: string) => void;
  onDay: (day: string) => void;
}

/** How far it is, what it waits for by the seller's word, and the day promised. */
function HowFar({ order, onMove, onDay }: HowFarProps) {
  const id = useId();
  const [choosing, setChoosing] = useState(false); // what it waits for is chosen next
  const state = choosing ? "waiting" : order.state;
  return (
    <div className="tools">
      <Choose
        label="State"
        value={state}
        onChange={(typed) => {
          const to = typed;
          setChoosing(to === "waiting");
          if (to !== "waiting")
            onMove({ state: to }, `${order.number} is ${stateWord({ state: to, stands: true })}.`);
        }}
        options={STATES}
      />
      {state === "waiting" && (
        <div>
          <Form.Label htmlFor={`${id}-waits`}>Waits for</Form.Label>
          <Form.Select
            id={`${id}-waits`}
            value={choosing ? "" : order.waits}
            onChange={(e) => {
              setChoosing(false);
              onMove(
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
      <TextField
        label="Promised for"
        type="date"
        value={order.promised_on}
        onChange={(typed) => onDay(typed)}
      />
      {order.begin_by && !["done", "handed-over", "cancelled"].includes(order.state) && (
        <span className="hint mb-2">to be begun by {day(order.begin_by)}</span>
      )}
    </div>
  );
}

interface SamplesProps {
  order: OrderView;
  onPassed: (key: string, passed: boolean) => void;
}

/** The samples: a batch is held back until its own has passed. */
function Samples({ order, onPassed }: SamplesProps) {
  const id = useId();
  if (order.samples.length === 0) return null;
  return (
    <section aria-label="Samples">
      <h2 className="small-caps-head">Samples</h2>
      {order.samples.map((sample) => (
        <Form.Check
          key={sample.key}
          id={`${id}-${sample.key}`}
          label={`${sample.label}: sewn, looked at, passed`}
          checked={sample.passed}
          onChange={(e) => onPassed(sample.key, e.target.checked)}
        />
      ))}
    </section>
  );
}

/** What is different since the first yes, and what of it is sewn already; what a cancelled one cost. */
function Changed({ order }: { order: OrderView }) {
  const { cost_so_far: cost, currency } = order;
  return (
    <>
      {order.changed.length > 0 && (
        <section aria-label="Changed since yes">
          <h2 className="small-caps-head">Changed since “yes”</h2>
          <ul>
            {order.changed.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      )}
      {order.sewn_before.length > 0 && (
        <p className="advice warn" role="note">
          Sewn, and not wanted any more: {listed(order.sewn_before)}.
        </p>
      )}
      {order.settlement.length > 0 && (
        <section aria-label="Settled">
          <h2 className="small-caps-head">Settled</h2>
          <ul>
            {order.settlement.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      )}
      {!order.stands && order.state !== "cancelled" && (
        <p role="status">
          It has cost {money(cost.total, currency)} so far: {money(cost.materials, currency)} taken
          of the shelf, {money(cost.work, currency)} of machine and hands for what is sewn.
        </p>
      )}
    </>
  );
}
