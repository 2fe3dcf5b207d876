// The plan: open orders as strips over the coming days, pinned by dragging; or machine by machine.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import {
  get,
  keys,
  put,
  useKeep,
  type PlanDocument,
  type PlanOrder,
  type PlanPin,
} from "../../api";
import { counted, day, listed } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { useTell } from "../../parts/toasts";
import { useLook } from "../../lists";
import { usePageTitle } from "../../parts/usePageTitle";
import { DayHeads } from "./DayHeads";
import { PlanFiles } from "./PlanFiles";
import { PlanLanes } from "./PlanLanes";
import { PlanPins } from "./PlanPins";
import { daysOf, stripsOf } from "./plan.geometry";
import style from "./Plan.module.scss";

const NO_PIN: PlanPin = { first: false, day: "", machine: "", before: 0 };

export function PlanPage() {
  usePageTitle("Plan");
  const look = useLook("plan", "");
  const queries = useQueryClient();
  const keep = useKeep();
  const tell = useTell();
  const found = useQuery({ queryKey: keys.plan(), queryFn: () => get("/plan"), staleTime: 0 });
  const plan = found.data;
  const pin = useMutation({
    mutationFn: ({ order, to }: { order: PlanOrder; to: PlanPin }) =>
      put("/orders/{order_id}/pin", { path: { order_id: order.id }, body: to }),
    onSuccess: async (now, { order, to }) => {
      await keep(keys.plan(), now);
      void queries.invalidateQueries({ queryKey: keys.today() });
      const row = now.orders.find((each) => each.id === order.id);
      const kept = row?.unpinned ? `: ${row.unpinned}` : "";
      const was = order.pin;
      tell(`${order.number} ${saidOf(to, now)}${kept}.`, {
        label: "Undo",
        does: () => pin.mutate({ order: { ...order, pin: to }, to: was }),
      });
    },
  });
  const seen = useMutation({
    mutationFn: () => put("/plan/seen"),
    onSuccess: () => void queries.invalidateQueries({ queryKey: keys.plan() }),
  });
  const lanes = look.value("by") === "machine";
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>Plan</h1>
        <span className="d-flex gap-3 flex-wrap">
          <Link to="/orders">All orders</Link>
          <Link to="/workshop/days">People and days</Link>
        </span>
      </div>
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="The plan" />}
      {plan && plan.orders.length === 0 && plan.over.length === 0 && (
        <p className="empty">No order is open.</p>
      )}
      {plan && plan.orders.length > 0 && (
        <>
          <Changes plan={plan} />
          <Moved plan={plan} busy={seen.isPending} onSeen={() => seen.mutate()} />
          <div className="btn-group mb-2" role="group" aria-label="Shown by">
            {(["", "machine"] as const).map((by) => (
              <button
                key={by}
                type="button"
                className={`btn btn-outline-primary btn-sm${lanes === (by === "machine") ? " active" : ""}`}
                aria-pressed={lanes === (by === "machine")}
                onClick={() => look.set("by", by)}
              >
                {by === "machine" ? "Machines and hands" : "Orders"}
              </button>
            ))}
          </div>
          {lanes ? (
            <PlanLanes plan={plan} />
          ) : (
            <Strips
              plan={plan}
              open={Number(look.value("order")) || 0}
              onOpen={(order) => look.set("order", order ? String(order) : "")}
              onPin={(order, to) => pin.mutate({ order, to })}
            />
          )}
        </>
      )}
      {plan && plan.over.length > 0 && (
        <p role="alert">
          {listed(plan.over)} {plan.over.length === 1 ? "does" : "do"} not end within four months,
          as the week stands.
        </p>
      )}
      {plan && <PlanFiles />}
    </main>
  );
}

function saidOf(to: PlanPin, plan: PlanDocument): string {
  const said: string[] = [];
  if (to.first) said.push("goes first");
  if (to.day) said.push(`begins on ${day(to.day)}`);
  if (to.before)
    said.push(`goes before ${plan.orders.find((o) => o.id === to.before)?.number ?? "another"}`);
  if (to.machine)
    said.push(`is sewn on ${plan.machines.find((m) => m.id === to.machine)?.label ?? to.machine}`);
  return said.length > 0 ? said.join(", ") : "lies where it lies best";
}

function Changes({ plan }: { plan: PlanDocument }) {
  const late = plan.orders.filter((order) => order.late_days > 0);
  return (
    <p role="status" className="mb-2">
      {late.length === 0
        ? "All promises are kept by it."
        : `${counted(late.length, "order")} of ${plan.orders.length} late: ${listed(late.map((o) => o.number))}.`}{" "}
      {plan.change_over_min >= 1 &&
        `Changing over takes ${counted(Math.round(plan.change_over_min), "minute")} in all.`}
    </p>
  );
}

function Moved({ plan, busy, onSeen }: { plan: PlanDocument; busy: boolean; onSeen: () => void }) {
  if (plan.moved.length === 0) return null;
  return (
    <p className={style["pl-moved"]}>
      Since you last looked:{" "}
      {listed(plan.moved.slice(0, 6).map((m) => `${m.number} ${day(m.was)} → ${day(m.now)}`))}
      {plan.moved.length > 6 && ` and ${plan.moved.length - 6} more`}.{" "}
      <button type="button" className="btn btn-plain" disabled={busy} onClick={onSeen}>
        Seen
      </button>
    </p>
  );
}

interface StripsProps {
  plan: PlanDocument;
  open: number;
  onOpen: (order: number) => void;
  onPin: (order: PlanOrder, to: PlanPin) => void;
}

function Strips({ plan, open, onOpen, onPin }: StripsProps) {
  const days = daysOf(plan);
  const [drag, setDrag] = useState<{ order: number; to: string } | null>(null);
  const dayAt = (e: React.PointerEvent) =>
    document
      .elementFromPoint(e.clientX, e.clientY)
      ?.closest<HTMLElement>("[data-day]")
      ?.getAttribute("data-day") ?? "";
  return (
    <>
      <div className={style["pl-scrolls"]} tabIndex={0} role="group" aria-label="The coming days">
        <table className={style["pl-table"]}>
          <thead>
            <tr>
              <th scope="col">Order</th>
              <th scope="col">Ends</th>
              <DayHeads days={days} />
            </tr>
          </thead>
          <tbody>
            {plan.orders.map((order) => (
              <tr key={order.id} data-late={order.late_days > 0 || undefined}>
                <th scope="row">
                  <span className="d-flex gap-2 align-items-baseline justify-content-between">
                    <span>
                      <Link to={`/orders/${order.id}`}>{order.number}</Link> {order.customer}
                    </span>
                    <button
                      type="button"
                      className="btn btn-plain"
                      aria-expanded={open === order.id}
                      aria-label={`${pinned(order) ? "Pinned" : "Pin"} ${order.number}`}
                      onClick={() => onOpen(open === order.id ? 0 : order.id)}
                    >
                      {pinned(order) ? "Pinned" : "Pin"}
                    </button>
                  </span>
                  <span className={`hint ${style["pl-why"]}`}>{order.why || order.summary}</span>
                  {order.unpinned && <span className={style["pl-unpinned"]}>{order.unpinned}</span>}
                  {open === order.id && (
                    <PlanPins plan={plan} order={order} onPin={(to) => onPin(order, to)} />
                  )}
                </th>
                <td>{day(order.end_day)}</td>
                {days.map((each) => (
                  <td
                    key={each.iso}
                    className={style["pl-day"]}
                    data-day={each.iso}
                    data-promised={order.promised_on === each.iso || undefined}
                    data-rest={each.rest || undefined}
                    data-target={(drag?.order === order.id && drag.to === each.iso) || undefined}
                  >
                    {stripsOf(plan, order.id, each.iso).map((strip) => (
                      <span
                        key={strip.unit}
                        data-kind={strip.kind}
                        data-strip={order.number}
                        style={{ left: `${strip.from}%`, width: `${strip.wide}%` }}
                        title={`${strip.label}, ${strip.hours}`}
                        onPointerDown={(e) => {
                          e.preventDefault();
                          e.currentTarget.setPointerCapture(e.pointerId);
                          setDrag({ order: order.id, to: each.iso });
                        }}
                        onPointerMove={(e) => {
                          if (drag?.order !== order.id) return;
                          const to = dayAt(e);
                          if (to && to !== drag.to) setDrag({ order: order.id, to });
                        }}
                        onPointerUp={() => {
                          if (drag && drag.to !== each.iso)
                            onPin(order, { ...NO_PIN, ...order.pin, day: drag.to });
                          setDrag(null);
                        }}
                        onPointerCancel={() => setDrag(null)}
                      />
                    ))}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <ul className={style["pl-key"]}>
        {[
          ["sample", "sample"],
          ["prepare", "prepare"],
          ["sew", "sew"],
          ["finish", "finish, pack"],
          ["dry", "dries"],
        ].map(([kind, name]) => (
          <li key={kind}>
            <span data-kind={kind} aria-hidden="true" /> {name}
          </li>
        ))}
        <li>
          <span data-notch="" aria-hidden="true" /> promised
        </li>
        <li>A strip is dragged to the day on which its order is to begin.</li>
      </ul>
    </>
  );
}

const pinned = ({ pin }: PlanOrder) =>
  pin.first || pin.day !== "" || pin.machine !== "" || pin.before !== 0;
