// Customers: searched, sorted, added, taken from a list, joined where two are one.
import { ListPage, ListTable, Switch, useList, useLook, type Column } from "../../lists";
import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import {
  get,
  keys,
  post,
  problemOf,
  useRenew,
  type CustomerDocument,
  type CustomerRow,
} from "../../api";
import { counted, day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { TakeList } from "./TakeList";
import style from "./Customers.module.scss";

const COLUMNS: Column[] = [
  { head: "Name", sort: "name" },
  { head: "E-mail" },
  { head: "Phone" },
  { head: "Quotes", sort: "quotes", falls: true },
  { head: "Last", sort: "last", falls: true },
];

export function CustomersList() {
  usePageTitle("Customers");
  const look = useLook("customers", "name");
  const past = look.value("past") === "true";
  const list = useList({
    key: keys.customers(look.asked, past),
    page: (cursor) => get("/customers", { query: { ...look.asked, past, cursor } }),
  });
  const over = useQuery({
    queryKey: keys.customers("past"),
    queryFn: () => get("/customers", { query: { past: true, limit: 1 } }),
  });
  const overdue = over.data?.total ?? 0;
  return (
    <ListPage
      what="Customers"
      head={<Head />}
      look={look}
      finds="name, e-mail, phone, notes"
      filters={
        (overdue > 0 || past) && (
          <Switch on={past} onTurn={(on) => look.set("past", on ? "true" : "")}>
            past their day ({overdue})
          </Switch>
        )
      }
      list={list}
      told={counted(list.total ?? 0, "customer")}
      before={<Pairs />}
      files={{ at: "/api/v1/customer-lists/customers" }}
      empty={
        <p className="empty">
          {look.search || past
            ? "Nobody is like that. Search for less."
            : "Nobody yet. Who is sent a quote is kept here; a list from elsewhere can be taken over."}
        </p>
      }
    >
      <ListTable
        className={`${style["cu-customers-table"] ?? ""} ${style["cu-of-people"] ?? ""}`}
        columns={COLUMNS}
        look={look}
        rows={list.rows}
        row={(row) => (
          <tr key={row.id}>
            <th scope="row">
              <Link to={`/customers/${row.id}`}>{row.name}</Link>
              {row.past && (
                <span className={style["cu-past"]}>
                  {row.keep_until && ` keep until ${day(row.keep_until)}`}
                  {row.names_until && ` name lists until ${day(row.names_until)}`}
                </span>
              )}
            </th>
            <td>{row.email || <span className="hint">none</span>}</td>
            <td>{row.phone}</td>
            <td>{row.quotes}</td>
            <td>{day(row.last_on)}</td>
          </tr>
        )}
      />
    </ListPage>
  );
}

/** The title, and the two ways to add: one, or a list from elsewhere. */
function Head() {
  const [adding, setAdding] = useState<"one" | "list" | null>(null);
  const close = () => {
    setAdding(null);
    goOnAt(`[data-begin=${adding ?? "one"}]`);
  };
  return (
    <>
      <div className="d-flex justify-content-between align-items-center flex-wrap gap-2">
        <h1 tabIndex={-1}>Customers</h1>
        <span className="d-flex gap-2">
          <button
            type="button"
            className="btn btn-outline-primary"
            data-begin="list"
            onClick={() => setAdding("list")}
          >
            Take over a list
          </button>
          <button
            type="button"
            className="btn btn-primary"
            data-begin="one"
            onClick={() => setAdding("one")}
          >
            New customer
          </button>
        </span>
      </div>
      {adding === "one" && <NewCustomer onClose={close} />}
      {adding === "list" && <TakeList onClose={close} />}
    </>
  );
}

function NewCustomer({ onClose }: { onClose: () => void }) {
  const id = useId();
  const navigate = useNavigate();
  const renew = useRenew("customers");
  const [name, setName] = useState("");
  const make = useMutation({
    mutationFn: () => post("/customers", { body: { name } as CustomerDocument }),
    onSuccess: (made) => {
      void renew();
      void navigate(`/customers/${made.id}`);
    },
  });
  const problem = problemOf(make.error);
  return (
    <form
      className={style["cu-new"]}
      aria-label="New customer"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate();
      }}
      onKeyDown={(e) => e.key === "Escape" && onClose()}
    >
      <div>
        <Form.Label htmlFor={id}>What they are called</Form.Label>
        <Form.Control
          id={id}
          autoFocus
          value={name}
          isInvalid={!!problem}
          aria-invalid={!!problem}
          aria-describedby={problem ? `${id}-wrong` : undefined}
          onChange={(e) => {
            setName(e.target.value);
            make.reset();
          }}
        />
        <Told of={problem} id={`${id}-wrong`} />
      </div>
      <button type="submit" className="btn btn-primary" disabled={make.isPending}>
        Keep
      </button>
      <button type="button" className="btn btn-plain" onClick={onClose}>
        Leave it
      </button>
    </form>
  );
}

const TWO = "customers.two";
const knownTwo = (): string[] => JSON.parse(localStorage.getItem(TWO) ?? "[]") as string[];
const pairOf = (a: CustomerRow, b: CustomerRow) => [a.id, b.id].sort((x, y) => x - y).join("-");

/** Pairs that may be one customer: joined by one press, or said to be two. */
function Pairs() {
  const renew = useRenew("customers");
  const tell = useTell();
  const [two, setTwo] = useState(knownTwo);
  const pairs = useQuery({
    queryKey: keys.customers("pairs"),
    queryFn: () => get("/customer-pairs"),
  });
  const join = useMutation({
    mutationFn: ([one, other]: [CustomerRow, CustomerRow]) =>
      post("/customers/{customer_id}/join", {
        path: { customer_id: one.id },
        body: { other: other.id },
      }),
    onSuccess: (found) => {
      tell(`They are one: ${found.name}, ${counted(found.quotes, "quote")}.`);
      void renew();
      goOnAt("main h1");
    },
  });
  const { items = [], total = 0 } = pairs.data ?? {};
  const shown = items.filter((p) => !two.includes(pairOf(p.customer, p.other)));
  const more = total - (items.length - shown.length) - 5;
  if (shown.length === 0) return null;
  return (
    <section aria-label="May be one customer" className={style["cu-pairs"]}>
      {shown.slice(0, 5).map(({ customer, other, why }) => (
        <p key={pairOf(customer, other)} className="mb-1">
          <b>{customer.name}</b> and <b>{other.name}</b> may be one: {why}.{" "}
          <button
            type="button"
            className="btn btn-plain"
            disabled={join.isPending}
            onClick={() => join.mutate([customer, other])}
          >
            {`Join them as ${customer.name}`}
          </button>{" "}
          <button
            type="button"
            className="btn btn-plain ms-2"
            aria-label={`They are two: ${customer.name}, ${other.name}`}
            onClick={() => {
              const next = [...two, pairOf(customer, other)];
              localStorage.setItem(TWO, JSON.stringify(next));
              setTwo(next);
              goOnAt("main h1");
            }}
          >
            They are two
          </button>
        </p>
      ))}
      {more > 0 && (
        <p className="hint">{`And ${counted(more, "pair")} more, once these are settled.`}</p>
      )}
    </section>
  );
}
