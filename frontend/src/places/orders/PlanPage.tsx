// The plan: open orders as strips over the coming days, promises as notches, what is late in words.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, type PlanDocument } from "../../api/client";
import { counted, day, listed } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { usePageTitle } from "../../parts/usePageTitle";
import { daysOf, stripsOf } from "./plan.geometry";
import style from "./Plan.module.scss";

export function PlanPage() {
  usePageTitle("Plan");
  const found = useQuery({ queryKey: ["plan"], queryFn: api.plan, staleTime: 0 });
  const plan = found.data;
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>Plan</h1>
        <Link to="/orders">All orders</Link>
      </div>
      <p className="hint">
        Open orders over the coming days, by what time is left to each: from the shelf, what was
        ordered, and the hours of <Link to="/workshop/standards?search=week">the week</Link>.
      </p>
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="The plan" />}
      {plan && plan.orders.length === 0 && <p className="empty">No order is open.</p>}
      {plan && plan.orders.length > 0 && <Strips plan={plan} />}
      {plan && plan.over.length > 0 && (
        <p role="alert">
          {listed(plan.over)} {plan.over.length === 1 ? "does" : "do"} not end within four months,
          as the week stands.
        </p>
      )}
    </main>
  );
}

function Strips({ plan }: { plan: PlanDocument }) {
  const days = daysOf(plan);
  const late = plan.orders.filter((order) => order.late_days > 0);
  return (
    <>
      <p role="status">
        {late.length === 0
          ? "All promises are kept by it."
          : `${counted(late.length, "order")} of ${plan.orders.length} late.`}
      </p>
      <div className={style["pl-scrolls"]} tabIndex={0} role="group" aria-label="The coming days">
        <table className={style["pl-table"]}>
          <thead>
            <tr>
              <th scope="col">Order</th>
              <th scope="col">Ends</th>
              {days.map((each) => (
                <th key={each.iso} scope="col" data-rest={each.rest || undefined}>
                  {each.short}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {plan.orders.map((order) => (
              <tr key={order.id} data-late={order.late_days > 0 || undefined}>
                <th scope="row">
                  <Link to={`/orders/${order.id}`}>{order.number}</Link> {order.customer}
                  <span className="hint d-block">{order.why || order.summary}</span>
                </th>
                <td>{day(order.end_day)}</td>
                {days.map((each) => (
                  <td
                    key={each.iso}
                    className={style["pl-day"]}
                    data-promised={order.promised_on === each.iso || undefined}
                    data-rest={each.rest || undefined}
                  >
                    {stripsOf(plan, order.id, each.iso).map((strip) => (
                      <span
                        key={strip.unit}
                        data-kind={strip.kind}
                        style={{ left: `${strip.from}%`, width: `${strip.wide}%` }}
                        title={`${strip.label}, ${strip.hours}`}
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
      </ul>
    </>
  );
}
