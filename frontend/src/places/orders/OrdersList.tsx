// Orders: what was accepted, by promise; searched, filtered, sorted.
import { keepPreviousData, useInfiniteQuery } from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api } from "../../api/client";
import { counted, day, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ListFiles, SortHead } from "../../parts/SortHead";
import { useLook } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import { piecesWord, stateWord, STATES, waitsWord } from "./words";
import style from "./Orders.module.scss";

export function OrdersList() {
  usePageTitle("Orders");
  const id = useId();
  const look = useLook("orders", "promise");
  const { search, sort, down } = look;
  const state = look.value("state");
  const asked = { search, sort, state, ...(down === undefined ? {} : { down: String(down) }) };
  const pages = useInfiniteQuery({
    queryKey: ["orders", search, sort, down, state],
    queryFn: ({ pageParam }) => api.orders({ search, sort, down, state, cursor: pageParam }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const rows = pages.data?.pages.flatMap((page) => page.items) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-baseline flex-wrap gap-2">
        <h1 tabIndex={-1}>Orders</h1>
        <Link to="/orders/plan">Plan</Link>
      </div>
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
          <Form.Control
            id={`${id}-s`}
            type="search"
            value={search}
            placeholder="number, customer, goods"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        <div>
          <Form.Label htmlFor={`${id}-st`}>State</Form.Label>
          <Form.Select
            id={`${id}-st`}
            value={state}
            onChange={(e) => look.set("state", e.target.value)}
          >
            <option value="">open</option>
            {STATES.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
            <option value="all">all</option>
          </Form.Select>
        </div>
        <span className="hint mb-2" role="status">
          {pages.data && counted(total, "order")}
        </span>
      </div>
      {pages.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {rows.length > 0 && (
        <table className={style["od-table"]}>
          <thead>
            <tr>
              <SortHead look={look} name="promise">
                Promised
              </SortHead>
              <SortHead look={look} name="number" falls>
                Number
              </SortHead>
              <SortHead look={look} name="customer">
                Customer
              </SortHead>
              <th scope="col">What</th>
              <th scope="col">To pay</th>
              <SortHead look={look} name="state">
                State
              </SortHead>
              <SortHead look={look} name="waits">
                Waits for
              </SortHead>
              <th scope="col">Pieces</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <tr key={row.id}>
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
                <td>
                  {[
                    row.waits && waitsWord(row.waits),
                    row.lacks ? `${counted(row.lacks, "item")} short` : "",
                  ]
                    .filter(Boolean)
                    .join(", ")}
                </td>
                <td>{piecesWord(row)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {pages.hasNextPage && (
        <button
          type="button"
          className="btn btn-outline-primary mt-3"
          onClick={() => void pages.fetchNextPage()}
        >
          {total - rows.length} more
        </button>
      )}
      {rows.length > 0 && (
        <p className="mt-3 mb-0">
          <ListFiles at="/api/v1/order-lists/orders" query={asked} />
          {!state && (
            <>
              {" · "}
              <a
                href={`/api/v1/get-ready.pdf?${rows
                  .slice(0, 50)
                  .map((row) => `orders=${row.id}`)
                  .join("&")}`}
                target="_blank"
                rel="noreferrer"
              >
                What they need together
              </a>
            </>
          )}
        </p>
      )}
      {pages.isPending && <Loading what="Orders" />}
      {pages.data && rows.length === 0 && (
        <p className="empty mt-3">
          {search || state
            ? "No order is so."
            : "No order is open. A quote that is accepted, by you or on the customer's page, becomes one."}
        </p>
      )}
    </main>
  );
}
