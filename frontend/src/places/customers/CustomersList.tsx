// Customers: searched, sorted, added, taken from a list, joined where two are one.
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { api, ProblemError, type CustomerRow } from "../../api/client";
import { counted, day } from "../../parts/format";
import { goOnAt } from "../../parts/goOnAt";
import { Loading } from "../../parts/Loading";
import { ListFiles, SortHead } from "../../parts/SortHead";
import { useTell } from "../../parts/toasts";
import { useLook } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import { TakeList } from "./TakeList";
import style from "./Customers.module.scss";

export function CustomersList() {
  usePageTitle("Customers");
  const id = useId();
  const look = useLook("customers", "name");
  const { search, sort, down } = look;
  const past = look.value("past") === "true";
  const [adding, setAdding] = useState<"one" | "list" | null>(null);
  const close = () => {
    setAdding(null);
    goOnAt(`[data-begin=${adding ?? "one"}]`);
  };
  const pages = useInfiniteQuery({
    queryKey: ["customers", search, sort, down, past],
    queryFn: ({ pageParam }) => api.customers({ search, sort, down, past, cursor: pageParam }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const over = useQuery({
    queryKey: ["customers", "past"],
    queryFn: () => api.customers({ past: true, limit: 1 }),
  });
  const rows = pages.data?.pages.flatMap((page) => page.items) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  const overdue = over.data?.total ?? 0;
  return (
    <main className="standards">
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
      <div className="tools">
        <div>
          <Form.Label htmlFor={id}>Search</Form.Label>
          <Form.Control
            id={id}
            type="search"
            value={search}
            placeholder="name, e-mail, phone, notes"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        {(overdue > 0 || past) && (
          <button
            type="button"
            className={`btn btn-sm mb-1 ${past ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={past}
            onClick={() => look.set("past", past ? "" : "true")}
          >
            past their day ({overdue})
          </button>
        )}
        <span className="hint mb-2" role="status">
          {pages.data && counted(total, "customer")}
        </span>
      </div>
      <Pairs />
      {pages.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {rows.length > 0 && (
        <table className={`${style["cu-customers-table"] ?? ""} ${style["cu-of-people"] ?? ""}`}>
          <thead>
            <tr>
              <SortHead look={look} name="name">
                Name
              </SortHead>
              <th scope="col">E-mail</th>
              <th scope="col">Phone</th>
              <SortHead look={look} name="quotes" falls>
                Quotes
              </SortHead>
              <SortHead look={look} name="last" falls>
                Last
              </SortHead>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
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
          <ListFiles at="/api/v1/customer-lists/customers" />
        </p>
      )}
      {pages.isPending && <Loading what="Customers" />}
      {pages.data && rows.length === 0 && (
        <p className="empty">
          {search || past
            ? "Nobody is like that. Search for less."
            : "Nobody yet. Who is sent a quote is kept here; a list from elsewhere can be taken over."}
        </p>
      )}
    </main>
  );
}

function NewCustomer({ onClose }: { onClose: () => void }) {
  const id = useId();
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const make = useMutation({
    mutationFn: () => api.newCustomer({ name }),
    onSuccess: (made) => {
      void queries.invalidateQueries({ queryKey: ["customers"] });
      void navigate(`/customers/${made.id}`);
    },
  });
  const problem = make.error instanceof ProblemError ? make.error.problem : null;
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
        {problem && (
          <div id={`${id}-wrong`} role="alert" className="invalid-feedback d-block">
            {problem.detail} {problem.remedy}
          </div>
        )}
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
  const queries = useQueryClient();
  const tell = useTell();
  const [two, setTwo] = useState(knownTwo);
  const pairs = useQuery({ queryKey: ["customers", "pairs"], queryFn: api.customerPairs });
  const join = useMutation({
    mutationFn: ([one, other]: [CustomerRow, CustomerRow]) => api.joinCustomers(one.id, other.id),
    onSuccess: (found) => {
      tell(`They are one: ${found.name}, ${counted(found.quotes, "quote")}.`);
      void queries.invalidateQueries({ queryKey: ["customers"] });
      void queries.invalidateQueries({ queryKey: ["quotes"] });
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
