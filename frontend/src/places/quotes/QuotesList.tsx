// The list of quotes: searched, filtered, sorted; opened, copied, deleted with undo.
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";
import { del, get, keys, post, useRenew, type QuoteDocument, type QuoteRow } from "../../api";
import { ListPage, ListTable, useList, useLook, type Column, type Look } from "../../lists";
import { counted, day, money } from "../../parts/format";
import { costsHidden } from "../../parts/money";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { ClassThumb, GoodsThumb } from "../../parts/GoodsThumb";
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
const COLUMNS: Column[] = [
  { head: "Number", sort: "number", falls: true },
  { head: "Customer", sort: "customer" },
  { head: "What", sort: "what" },
  { head: "To pay", sort: "total", falls: true, className: style["number"] },
  { head: "Wanted by", sort: "due" },
  { head: "Changed", sort: "changed", falls: true, className: style["quotes-changed"] },
  { head: "State", sort: "state" },
  { head: "Do", quiet: true },
];
const LISTENS_MS = 10_000; // for answers that arrive while it is open

export function QuotesList() {
  usePageTitle("Quotes");
  const look = useLook("quotes", "changed");
  const state = look.value("state");
  const list = useList({
    key: keys.quotes(look.asked, state),
    page: (cursor) => get("/quotes", { query: { ...look.asked, state, cursor } }),
    listens_ms: LISTENS_MS,
  });
  const does = useDoing();
  return (
    <ListPage
      what="Quotes"
      head={
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
              disabled={does.making}
              onClick={does.make}
            >
              New quote
            </button>
          </span>
        </div>
      }
      look={look}
      finds="customer, goods, design, amount"
      filters={<States look={look} />}
      list={list}
      told={counted(list.total ?? 0, "quote")}
      before={
        state === "deleted" && (
          <p className="hint mt-2 mb-0">A deleted quote can be brought back for 30 days.</p>
        )
      }
      files={{ at: "/api/v1/quote-lists/quotes", query: { ...look.written, state } }}
      empty={<NoQuotes plain={!look.search && !state} onMake={does.make} />}
    >
      <ListTable
        className={style["quotes-table"]}
        columns={COLUMNS}
        look={look}
        rows={list.rows}
        row={(row) => <Row key={row.id} row={row} does={does} />}
      />
    </ListPage>
  );
}

/** What is done with a quote from its row. */
function useDoing() {
  const renew = useRenew("quotes");
  const navigate = useNavigate();
  const tell = useTell();
  const open = (view: { id: number }) => void navigate(`/quotes/${view.id}`);
  const remove = (quote_id: number) => del("/quotes/{quote_id}", { path: { quote_id } });
  const make = useMutation({
    mutationFn: () => post("/quotes", { body: {} as QuoteDocument }),
    onSuccess: open,
  });
  const restore = useMutation({
    mutationFn: (quote_id: number) => post("/quotes/{quote_id}/restore", { path: { quote_id } }),
    onSuccess: renew,
  });
  const copy = useMutation({
    mutationFn: (quote_id: number) => post("/quotes/{quote_id}/copy", { path: { quote_id } }),
    onSuccess: (view) => {
      tell(`${view.number} is a copy.`, {
        label: "Undo",
        does: () => void remove(view.id).then(() => navigate("/quotes")),
      });
      open(view);
    },
  });
  const deleted = useMutation({
    mutationFn: (row: QuoteRow) => remove(row.id),
    onSuccess: (_, row) => {
      tell(`${row.number} is deleted.`, {
        label: "Bring it back",
        does: () => restore.mutate(row.id),
      });
      void renew();
    },
  });
  return {
    making: make.isPending,
    make: () => make.mutate(),
    copy: (row: QuoteRow) => copy.mutate(row.id),
    remove: (row: QuoteRow) => deleted.mutate(row),
    restore: (row: QuoteRow) => restore.mutate(row.id),
  };
}

type Doing = ReturnType<typeof useDoing>;

function States({ look }: { look: Look }) {
  const state = look.value("state");
  const asking = useQuery({
    queryKey: keys.quotes("asking"),
    queryFn: () => get("/quotes", { query: { state: "change" } }),
    refetchInterval: LISTENS_MS,
  });
  const total = asking.data?.total ?? 0;
  return (
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
          {key === "change" && total > 0 && <span className={style["badge"]}>{total}</span>}
        </button>
      ))}
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

function Row({ row, does }: { row: QuoteRow; does: Doing }) {
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
          onClick={() => does.copy(row)}
        >
          Copy
        </button>
        {row.deleted ? (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Bring ${row.number} back`}
            onClick={() => does.restore(row)}
          >
            Bring back
          </button>
        ) : (
          <button
            type="button"
            className="btn btn-plain"
            aria-label={`Delete ${row.number}`}
            onClick={() => does.remove(row)}
          >
            Delete
          </button>
        )}
      </td>
    </tr>
  );
}
