// The list of quotes: searched, filtered, sorted; opened, copied, deleted with undo.
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, type QuoteRow } from "../../api/client";
import { day, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { ClassThumb } from "./GoodsThumb";
import style from "./QuotesList.module.scss";

const STATES = [
  ["", "all"],
  ["draft", "draft"],
  ["sent", "sent"],
  ["change", "change asked"],
  ["accepted", "accepted"],
  ["declined", "declined"],
  ["expired", "expired"],
  ["deleted", "deleted"],
] as const;
const LISTENS_MS = 10_000;
const SORTS = [
  ["changed", "Last changed"],
  ["number", "Number"],
  ["customer", "Customer"],
  ["due", "Wanted by"],
  ["total", "To pay"],
] as const;

export function QuotesList() {
  usePageTitle("Quotes");
  const [where, setWhere] = useSearchParams();
  const search = where.get("search") ?? "";
  const state = where.get("state") ?? "";
  const sort = where.get("sort") ?? "changed";
  const queries = useQueryClient();
  const navigate = useNavigate();
  const tell = useTell();
  const pages = useInfiniteQuery({
    queryKey: ["quotes", search, state, sort],
    queryFn: ({ pageParam }) => api.quotes({ search, state, sort, cursor: pageParam }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
    refetchInterval: LISTENS_MS, // answers that arrive while it is open
    refetchOnWindowFocus: true,
  });
  const asking = useQuery({
    queryKey: ["quotes", "asking"],
    queryFn: () => api.quotes({ search: "", state: "change", sort: "changed", cursor: "" }),
    refetchInterval: LISTENS_MS,
  });
  const look = (key: string, value: string) => {
    const next = new URLSearchParams(where);
    if (value) next.set(key, value);
    else next.delete(key);
    setWhere(next, { replace: true });
  };
  const renew = () => void queries.invalidateQueries({ queryKey: ["quotes"] });
  const open = (view: { id: number }) => void navigate(`/quotes/${view.id}`);
  const make = useMutation({ mutationFn: () => api.newQuote({}), onSuccess: open });
  const restore = useMutation({ mutationFn: api.restoreQuote, onSuccess: renew });
  const copy = useMutation({
    mutationFn: (id: number) => api.copyQuote(id),
    onSuccess: (view) => {
      tell(`${view.number} is a copy.`, {
        label: "Undo",
        does: () => void api.deleteQuote(view.id).then(() => navigate("/quotes")),
      });
      open(view);
    },
  });
  const remove = useMutation({
    mutationFn: (row: QuoteRow) => api.deleteQuote(row.id),
    onSuccess: (_, row) => {
      tell(`${row.number} is deleted.`, {
        label: "Bring it back",
        does: () => restore.mutate(row.id),
      });
      renew();
    },
  });
  const rows = pages.data?.pages.flatMap((page) => page.items) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  return (
    <main className="standards">
      <div className="d-flex justify-content-between align-items-center">
        <h1>Quotes</h1>
        <span className="d-flex gap-2">
          <Link to="/outbox" className="btn btn-outline-primary">
            Outbox
          </Link>
          <button
            type="button"
            className="btn btn-primary"
            disabled={make.isPending}
            onClick={() => make.mutate()}
          >
            New quote
          </button>
        </span>
      </div>
      <Filter
        count={pages.data ? total : null}
        asking={asking.data?.total ?? 0}
        look={look}
        {...{ search, state, sort }}
      />
      {state === "deleted" && (
        <p className="hint mt-2 mb-0">A deleted quote can be brought back for 30 days.</p>
      )}
      {pages.error && (
        <p role="alert" className="mt-3">
          The shop's server does not answer. Nothing is lost: it is asked again.
        </p>
      )}
      {rows.length > 0 && (
        <table className={style["quotes-table"]}>
          <thead>
            <tr>
              <th scope="col">Number</th>
              <th scope="col">Customer</th>
              <th scope="col">What</th>
              <th scope="col" className={style["number"]}>
                To pay
              </th>
              <th scope="col">Wanted by</th>
              <th scope="col">State</th>
              <th scope="col">
                <span className="visually-hidden">Do</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <Row
                key={row.id}
                row={row}
                onCopy={() => copy.mutate(row.id)}
                onDelete={() => remove.mutate(row)}
                onRestore={() => restore.mutate(row.id)}
              />
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
      {pages.isPending && <Loading what="Quotes" />}
      {pages.data && rows.length === 0 && (
        <NoQuotes plain={!search && !state} onMake={() => make.mutate()} />
      )}
    </main>
  );
}

interface FilterProps {
  search: string;
  state: string;
  sort: string;
  /** How many there are; null while that is not known. */
  count: number | null;
  /** How many ask for a change. */
  asking: number;
  look: (key: string, value: string) => void;
}

function Filter({ search, state, sort, count, asking, look }: FilterProps) {
  const id = useId();
  return (
    <div className="tools">
      <div>
        <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
        <Form.Control
          id={`${id}-s`}
          type="search"
          value={search}
          placeholder="customer, goods, design, amount"
          onChange={(e) => look("search", e.target.value)}
        />
      </div>
      <div className="ways mb-0" role="group" aria-label="State">
        {STATES.map(([key, name]) => (
          <button
            key={key}
            type="button"
            className={`btn btn-sm ${state === key ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={state === key}
            onClick={() => look("state", key)}
          >
            {name}
            {key === "change" && asking > 0 && <span className={style["badge"]}>{asking}</span>}
          </button>
        ))}
      </div>
      <div>
        <Form.Label htmlFor={`${id}-o`}>Order</Form.Label>
        <Form.Select
          id={`${id}-o`}
          value={sort}
          onChange={(e) => look("sort", e.target.value === "changed" ? "" : e.target.value)}
        >
          {SORTS.map(([key, name]) => (
            <option key={key} value={key}>
              {name}
            </option>
          ))}
        </Form.Select>
      </div>
      <span className="hint mb-2" role="status">
        {count !== null && `${count} ${count === 1 ? "quote" : "quotes"}`}
      </span>
    </div>
  );
}

function NoQuotes({ plain, onMake }: { plain: boolean; onMake: () => void }) {
  return (
    <div className="empty">
      {plain && (
        <div aria-hidden="true">
          {["pique-polo", "structured-cap", "terry-towel", "canvas-bag", "stuffed-toy"].map(
            (goods) => (
              <ClassThumb key={goods} goods={goods} size={96} />
            ),
          )}
        </div>
      )}
      <p>
        {plain
          ? "No quotes yet. A new one asks three things: goods, how many, and the design."
          : "No quote is like that. Search for less, or look at all states."}
      </p>
      {plain && (
        <button type="button" className="btn btn-primary" onClick={onMake}>
          Make the first
        </button>
      )}
    </div>
  );
}

interface RowProps {
  row: QuoteRow;
  onCopy: () => void;
  onDelete: () => void;
  onRestore: () => void;
}

function Row({ row, onCopy, onDelete, onRestore }: RowProps) {
  return (
    <tr>
      <th scope="row">
        <Link to={`/quotes/${row.id}`}>{row.number}</Link>
        {row.version > 1 && <span className="hint"> v{row.version}</span>}
      </th>
      <td>{row.customer || <span className="hint">nobody yet</span>}</td>
      <td>{row.summary || <span className="hint">not priced yet</span>}</td>
      <td className={style["number"]}>{row.total && money(row.total, row.currency)}</td>
      <td>{day(row.due_on)}</td>
      <td>
        <span className={`state-tag ${row.state}`}>{row.state}</span>
        {row.heard === "change" && (
          <span className={`d-block ${style["heard"]}`}>asks for a change</span>
        )}
      </td>
      <td className={style["does"]}>
        <button
          type="button"
          className="btn btn-plain"
          aria-label={`Copy ${row.number}`}
          onClick={onCopy}
        >
          Copy
        </button>
        {row.deleted ? (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Bring ${row.number} back`}
            onClick={onRestore}
          >
            Bring back
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Delete ${row.number}`}
            onClick={onDelete}
          >
            Delete
          </button>
        )}
      </td>
    </tr>
  );
}
