// Orders: what was accepted, by promise; searched, filtered, sorted.
import { Link } from "react-router";
import { get, keys, type OrderRow } from "../../api";
import { ListPage, ListTable, useList, useLook, type Column } from "../../lists";
import { Choose } from "../../parts/fields";
import { counted, day, money } from "../../parts/format";
import { usePageTitle } from "../../parts/usePageTitle";
import { piecesWord, stateWord, STATES, waitsWord } from "./words";
import style from "./Orders.module.scss";

const COLUMNS: Column[] = [
  { head: "Promised", sort: "promise" },
  { head: "Number", sort: "number", falls: true },
  { head: "Customer", sort: "customer" },
  { head: "What" },
  { head: "To pay" },
  { head: "State", sort: "state" },
  { head: "Waits for", sort: "waits" },
  { head: "Pieces" },
];
const LOOKED = [["", "open"], ...STATES, ["all", "all"]] as const;
const TOGETHER = 50; // of them, on one paper

export function OrdersList() {
  usePageTitle("Orders");
  const look = useLook("orders", "promise");
  const state = look.value("state");
  const list = useList({
    key: keys.orders(look.asked, state),
    page: (cursor) => get("/orders", { query: { ...look.asked, state, cursor } }),
  });
  return (
    <ListPage
      what="Orders"
      head={
        <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
          <h1 tabIndex={-1}>Orders</h1>
          <Link to="/orders/plan">Plan</Link>
        </div>
      }
      look={look}
      finds="number, customer, goods"
      filters={
        <Choose
          label="State"
          value={state}
          options={LOOKED}
          onChange={(to) => look.set("state", to)}
        />
      }
      list={list}
      told={counted(list.total ?? 0, "order")}
      files={{ at: "/api/v1/order-lists/orders", query: { ...look.written, state } }}
      beside={!state && list.rows.length > 0 && <Together ids={list.rows.map((row) => row.id)} />}
      empty={
        <p className="empty mt-3">
          {look.search || state
            ? "No order is so."
            : "No order is open. A quote that is accepted, by you or on the customer's page, becomes one."}
        </p>
      }
    >
      <ListTable
        className={style["od-table"]}
        columns={COLUMNS}
        look={look}
        rows={list.rows}
        row={(row) => <Row key={row.id} row={row} />}
      />
    </ListPage>
  );
}

function Row({ row }: { row: OrderRow }) {
  const short = row.lacks ? `${counted(row.lacks, "item")} short` : "";
  return (
    <tr>
      <td>{row.promised_on ? day(row.promised_on) : "no day"}</td>
      <td>
        <Link to={`/orders/${row.id}`}>{row.number}</Link>
      </td>
      <td>{row.customer}</td>
      <td>{row.summary}</td>
      <td>{row.total && money(row.total, row.currency)}</td>
      <td>
        <span className="state-tag">{stateWord(row)}</span>
      </td>
      <td>{[row.waits && waitsWord(row.waits), short].filter(Boolean).join(", ")}</td>
      <td>{piecesWord(row)}</td>
    </tr>
  );
}

function Together({ ids }: { ids: number[] }) {
  const asked = ids.slice(0, TOGETHER).map((id) => `orders=${id}`);
  return (
    <a href={`/api/v1/get-ready.pdf?${asked.join("&")}`} target="_blank" rel="noreferrer">
      What they need together
    </a>
  );
}
