// What pays: earnings an hour of hands as yards side by side, longest first, and why.
import { Choose } from "../../parts/fields";
import { ListPage, useWhole } from "../../lists";
import { useState } from "react";
import { Link } from "react-router";
import { get, keys, type PaysRow, type PaysView } from "../../api";
import { counted, listed, money, number, percent, signedMoney } from "../../parts/format";
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
  const [by, setBy] = useState<PaysView["by"]>("order");
  const [all, setAll] = useState(false);
  const list = useWhole(
    keys.pays(by),
    () => get("/pays", { query: { by } }),
    (found) => found.rows,
  );
  const { view } = list;
  const rows = all ? list.rows : list.rows.slice(0, SHOWN);
  return (
    <ListPage
      what="What pays"
      head={<LogHead title="What pays" />}
      filters={<Choose label="By" value={by} options={BY} onChange={setBy} />}
      list={list}
      told={view && toldOf(view)}
      before={view && <Changes view={view} />}
      files={{ at: "/api/v1/pays-lists/what-pays", query: { by } }}
      empty={<p className="empty">No order is done or logged yet, so nothing has paid.</p>}
    >
      {view && rows.length > 0 && (
        <>
          <Yards rows={rows} currency={view.currency} />
          <div className={style["lg-scroll"]} role="region" aria-label="Figures" tabIndex={0}>
            <Figures view={view} rows={rows} />
          </div>
          {list.rows.length > SHOWN && (
            <button type="button" className="btn btn-plain" onClick={() => setAll(!all)}>
              {all ? "Fewer" : `All ${list.rows.length}`}
            </button>
          )}
        </>
      )}
    </ListPage>
  );
}

function toldOf({ rows, unlogged, others }: PaysView) {
  const finished = counted(unlogged, "finished order");
  return [
    counted(rows.length, "row"),
    unlogged > 0 ? `${finished} not in the log stand as quoted` : "",
    others.length > 0 ? `orders in ${listed(others)} left out` : "",
  ]
    .filter(Boolean)
    .join("; ");
}

function Changes({ view }: { view: PaysView }) {
  if (view.changes.length === 0) return null;
  return (
    <section aria-label="What the price list should change">
      <h2 className="small-caps-head">What the price list should change</h2>
      <ul className={style["lg-loss"]}>
        {view.changes.map((change) => (
          <li key={change.goods + change.size}>{change.said}</li>
        ))}
      </ul>
    </section>
  );
}

/** Earnings an hour of hands, as yards side by side. */
function Yards({ rows, currency }: { rows: PaysRow[]; currency: string }) {
  const earned = (row: PaysRow) => Math.abs(Number(row.an_hour_of_hands));
  const most = Math.max(1, ...rows.map(earned));
  return (
    <section aria-label="An hour of hands">
      <h2 className="small-caps-head">
        Left for an hour of hands once goods, materials, machine and overhead are paid
      </h2>
      <ol className={style["lg-yards"]}>
        {rows.map((row) => (
          <li key={row.name}>
            <Name row={row} />
            <svg aria-hidden="true" preserveAspectRatio="none">
              <rect
                y="3"
                width={`${(100 * earned(row)) / most}%`}
                height="16"
                fill={Number(row.left) < 0 ? "var(--stop)" : "var(--labour)"}
                opacity={row.logged > 0 ? 1 : 0.45}
              />
            </svg>
            <b>{row.an_hour_of_hands ? money(row.an_hour_of_hands, currency) : "no hours"}</b>
          </li>
        ))}
      </ol>
    </section>
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
          <th scope="col">
            An hour of machine <span className="hint d-block">hands and overhead paid</span>
          </th>
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
