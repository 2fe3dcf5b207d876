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
import { Link, useNavigate } from "react-router";
import { api, type QuoteRow } from "../../api/client";
import { day, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { costsHidden } from "../../parts/money";
import { ListFiles, SortHead } from "../../parts/SortHead";
import { useTell } from "../../parts/toasts";
import { useLook, type Look } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import { ClassThumb, GoodsThumb } from "./GoodsThumb";
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

export function QuotesList() {
  usePageTitle("Quotes");
  const look = useLook("quotes", "changed");
  const { search, sort, down } = look;
  const state = look.value("state");
  const queries = useQueryClient();
  const navigate = useNavigate();
  const tell = useTell();
  const pages = useInfiniteQuery({
    queryKey: ["quotes", search, state, sort, down],
    queryFn: ({ pageParam }) => api.quotes({ search, state, sort, down, cursor: pageParam }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
    refetchInterval: LISTENS_MS, // answers that arrive while it is open
    refetchOnWindowFocus: true,
  });
  const asking = useQuery({
    queryKey: ["quotes", "asking"],
    queryFn: () => api.quotes({ state: "change" }),
    refetchInterval: LISTENS_MS,
  });
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
      <div className="d-flex justify-content-between align-items-center flex-wrap">
        <h1>Quotes</h1>
        <span className="d-flex gap-2 flex-wrap">
          {!costsHidden && (
            <Link to="/customers" className="btn btn-outline-primary">
              Customers
            </Link>
          )}
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
      <Filter count={pages.data ? total : null} asking={asking.data?.total ?? 0} look={look} />
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
              <SortHead look={look} name="number" falls>
                Number
              </SortHead>
              <SortHead look={look} name="customer">
                Customer
              </SortHead>
              <SortHead look={look} name="what">
                What
              </SortHead>
              <SortHead look={look} name="total" falls className={style["number"]}>
                To pay
              </SortHead>
              <SortHead look={look} name="due">
                Wanted by
              </SortHead>
              <SortHead look={look} name="changed" falls className={style["quotes-changed"]}>
                Changed
              </SortHead>
              <SortHead look={look} name="state">
                State
              </SortHead>
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
      {rows.length > 0 && (
        <p className="mt-3 mb-0">
          <ListFiles
            at="/api/v1/quote-lists/quotes"
            query={{ search, state, sort, ...(down === undefined ? {} : { down: String(down) }) }}
          />
        </p>
      )}
      {pages.isPending && <Loading what="Quotes" />}
      {pages.data && rows.length === 0 && (
        <NoQuotes plain={!search && !state} onMake={() => make.mutate()} />
      )}
    </main>
  );
}

interface FilterProps {
  /** How many there are; null while that is not known. */
  count: number | null;
  /** How many ask for a change. */
  asking: number;
  look: Look;
}

function Filter({ count, asking, look }: FilterProps) {
  const id = useId();
  const state = look.value("state");
  return (
    <div className="tools">
      <div>
        <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
        <Form.Control
          id={`${id}-s`}
          type="search"
          value={look.search}
          placeholder="customer, goods, design, amount"
          onChange={(e) => look.set("search", e.target.value)}
        />
      </div>
      <div className="ways mb-0" role="group" aria-label="State">
        {STATES.map(([key, name]) => (
          <button
            key={key}
            type="button"
            className={`btn btn-sm ${state === key ? "btn-primary" : "btn-outline-primary"}`}
            aria-pressed={state === key}
            onClick={() => look.set("state", key)}
          >
            {name}
            {key === "change" && asking > 0 && <span className={style["badge"]}>{asking}</span>}
          </button>
        ))}
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
      <td>
        {row.customer_id && !costsHidden ? (
          <Link to={`/customers/${row.customer_id}`} className={style["quotes-whose"]}>
            {row.customer}
          </Link>
        ) : (
          row.customer || <span className="hint">nobody yet</span>
        )}
      </td>
      <td>
        {row.drawn ? (
          <span className={style["drawn"]}>
            <span aria-hidden="true" className={style["drawn-goods"]}>
              <GoodsThumb goods={row.drawn.drawing} size={30} cloth={row.drawn.cloth} />
              <i>
                {(row.drawn.threads ?? []).map((colour) => (
                  <b key={colour} style={{ background: colour }} />
                ))}
              </i>
            </span>
            {row.summary || <span className="hint">only begun</span>}
          </span>
        ) : (
          row.summary || <span className="hint">not priced yet</span>
        )}
      </td>
      <td className={style["number"]}>{row.total && money(row.total, row.currency)}</td>
      <td>{day(row.due_on)}</td>
      <td className={style["quotes-changed"]}>{day(row.changed_on)}</td>
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
