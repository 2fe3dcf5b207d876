// What pays: earnings an hour of hands as yards side by side, longest first, and why.
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, type PaysRow, type PaysView } from "../../api/client";
import { counted, listed, money, number, percent, signedMoney } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ListFiles } from "../../parts/SortHead";
import { usePageTitle } from "../../parts/usePageTitle";
import { LogHead } from "./LogHead";
import style from "./Log.module.scss";

const BY: [PaysView["by"], string][] = [
  ["order", "order"],
  ["customer", "customer"],
  ["goods", "class of goods"],
  ["place", "place"],
  ["method", "method"],
  ["size", "size of order"],
];
const SHOWN = 30;

export function PaysPage() {
  usePageTitle("What pays");
  const id = useId();
  const [by, setBy] = useState<PaysView["by"]>("order");
  const [all, setAll] = useState(false);
  const found = useQuery({ queryKey: ["pays", by], queryFn: () => api.pays(by), staleTime: 0 });
  const view = found.data;
  const rows = all ? (view?.rows ?? []) : (view?.rows.slice(0, SHOWN) ?? []);
  const most = Math.max(1, ...rows.map((row) => Math.abs(Number(row.an_hour_of_hands))));
  return (
    <main className="standards">
      <LogHead title="What pays" />
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-by`}>By</Form.Label>
          <Form.Select
            id={`${id}-by`}
            value={by}
            onChange={(e) => setBy(e.target.value as PaysView["by"])}
          >
            {BY.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </Form.Select>
        </div>
        <span className="hint mb-2" role="status">
          {view &&
            `${counted(view.rows.length, "row")}${
              view.unlogged > 0
                ? `; ${counted(view.unlogged, "finished order")} not in the log stand as quoted`
                : ""
            }${view.others.length > 0 ? `; orders in ${listed(view.others)} left out` : ""}`}
        </span>
      </div>
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="What pays" />}
      {view && view.rows.length === 0 && (
        <p className="empty">No order is done or logged yet, so nothing has paid.</p>
      )}
      {view && view.changes.length > 0 && (
        <section aria-label="What the price list should change">
          <h2 className="small-caps-head">What the price list should change</h2>
          <ul className={style["lg-loss"]}>
            {view.changes.map((change) => (
              <li key={change.goods + change.size}>{change.said}</li>
            ))}
          </ul>
        </section>
      )}
      {view && rows.length > 0 && (
        <>
          <section aria-label="An hour of hands">
            <h2 className="small-caps-head">Left for an hour of hands, goods and materials paid</h2>
            <ol className={style["lg-yards"]}>
              {rows.map((row) => (
                <li key={row.name}>
                  <Name row={row} />
                  <svg aria-hidden="true" preserveAspectRatio="none">
                    <rect
                      y="3"
                      width={`${(100 * Math.abs(Number(row.an_hour_of_hands))) / most}%`}
                      height="16"
                      fill={Number(row.left) < 0 ? "var(--stop)" : "var(--labour)"}
                      opacity={row.logged > 0 ? 1 : 0.45}
                    />
                  </svg>
                  <b>
                    {row.an_hour_of_hands ? money(row.an_hour_of_hands, view.currency) : "no hours"}
                  </b>
                </li>
              ))}
            </ol>
          </section>
          <div className={style["lg-scroll"]} role="region" aria-label="Figures" tabIndex={0}>
            <Figures view={view} rows={rows} />
          </div>
          {view.rows.length > SHOWN && (
            <button type="button" className="btn btn-plain" onClick={() => setAll(!all)}>
              {all ? "Fewer" : `All ${view.rows.length}`}
            </button>
          )}
          <p>
            <ListFiles at="/api/v1/pays-lists/what-pays" query={{ by }} />
          </p>
        </>
      )}
    </main>
  );
}

const Name = ({ row }: { row: PaysRow }) =>
  row.order_id > 0 ? (
    <Link to={`/orders/${row.order_id}`}>{row.name}</Link>
  ) : (
    <span>{row.name}</span>
  );

function Figures({ view, rows }: { view: PaysView; rows: PaysRow[] }) {
  const { currency } = view;
  return (
    <table className={style["lg-pays"]}>
      <thead>
        <tr>
          <th scope="col">{BY.find(([key]) => key === view.by)?.[1]}</th>
          <th scope="col">Orders, pieces</th>
          <th scope="col">Price</th>
          <th scope="col">Cost quoted</th>
          <th scope="col">Cost</th>
          <th scope="col">Left</th>
          <th scope="col">Hands, machine</th>
          <th scope="col">An hour of machine</th>
          <th scope="col">Why</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.name}>
            <td>
              <Name row={row} />
              {row.logged === 0 && <span className="hint d-block">not in the log</span>}
            </td>
            <td>
              {number(row.orders)}, {number(row.pieces)}
            </td>
            <td>{money(row.price, currency)}</td>
            <td>{money(row.quoted_cost, currency)}</td>
            <td>{money(row.cost, currency)}</td>
            <td>
              {money(row.left, currency)}
              <span className="hint d-block">
                {percent(row.margin)}, quoted {percent(row.quoted_margin)}
              </span>
            </td>
            <td>
              {number(row.hand_h, 1)} h, {number(row.machine_h, 1)} h
            </td>
            <td>{row.an_hour_of_machine && money(row.an_hour_of_machine, currency)}</td>
            <td>
              {row.reasons.map((r) => (
                <span key={r.reason} className="d-block text-nowrap">
                  {r.reason} {signedMoney(r.amount, currency)}
                </span>
              ))}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
