// What was ordered of suppliers: what they answered, what arrives, what a new price does.
import { useMutation, useQuery, useInfiniteQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { del, get, keys, post, problemOf, useRenew, type Arrival, type Purchase } from "../../api";
import { Told } from "../../parts/Told";
import { capital, day, money } from "../../parts/format";
import { useTell } from "../../parts/toasts";
import { packs } from "../../parts/stock";
import style from "./Shelf.module.scss";

const ANSWERS: Record<Purchase["rows"][number]["state"], string> = {
  asked: "asked for",
  confirmed: "confirmed",
  part: "in part",
  late: "late",
  "out-of-stock": "none left",
};

export function Ordered() {
  const [all, setAll] = useState(false);
  const found = useQuery({
    queryKey: keys.purchases("open"),
    queryFn: () => get("/purchases", { query: { state: "open", cursor: "" } }),
    staleTime: 0,
  });
  const every = useInfiniteQuery({
    queryKey: keys.purchases("all"),
    queryFn: ({ pageParam }) => get("/purchases", { query: { state: "", cursor: pageParam } }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    staleTime: 0,
  });
  const open = found.data?.items ?? [];
  const total = every.data?.pages[0]?.total ?? 0;
  const shown = all ? (every.data?.pages.flatMap((page) => page.items) ?? open) : open;
  if (total === 0) return null;
  return (
    <section aria-label="Ordered" className="mt-4">
      <h2 className="small-caps-head">Ordered</h2>
      {open.length === 0 && <p className="hint">Nothing is to come.</p>}
      {shown.map((each) => (
        <One key={each.id} purchase={each} />
      ))}
      {all && every.hasNextPage && (
        <button
          type="button"
          className="btn btn-outline-primary"
          onClick={() => void every.fetchNextPage()}
        >
          More: {total - shown.length} earlier are not shown
        </button>
      )}
      {total > open.length && (
        <button type="button" className="btn btn-plain" onClick={() => setAll(!all)}>
          {all ? "Only what is to come" : `${total - open.length} earlier`}
        </button>
      )}
    </section>
  );
}

function One({ purchase }: { purchase: Purchase }) {
  const id = useId();
  const renew = useRenew("purchases");
  const tell = useTell();
  const [came, setCame] = useState<Record<number, string>>({});
  const changed = (now: Purchase | null, text: string) => {
    void renew();
    setCame({});
    if (text) tell(text);
    return now;
  };
  const act = useMutation({
    mutationFn: ({ does }: { does: () => Promise<Purchase | null>; said: string }) => does(),
    onSuccess: (now, { said }) => changed(now, said),
    onError: (error) => {
      const stale = problemOf(error)?.status === 412;
      if (stale) void renew();
    },
  });
  const problem = problemOf(act.error);
  const { rows, currency, revision } = purchase;
  const open = rows.map((row) => (row.closed ? 0 : Math.max(0, row.confirmed - row.arrived)));
  const some = Object.entries(came).filter(([, typed]) => Math.trunc(Number(typed)) > 0);
  const arrive = (body: Arrival, said: string) =>
    act.mutate({
      does: () =>
        post("/purchases/{purchase_id}/arrivals", {
          path: { purchase_id: purchase.id },
          seen: revision,
          body,
        }),
      said,
    });
  const going = purchase.state === "open" && !purchase.trouble;
  return (
    <section className={style["sh-supplier"]} aria-label={`${purchase.number} ${purchase.name}`}>
      <header>
        <h3>
          {purchase.number} {purchase.name}
        </h3>
        <span className="hint">
          ordered {day(purchase.ordered_on)} {purchase.sent_by === "hand" && "by hand"}
        </span>
        <span className="state-tag">{purchase.late ? "late" : purchase.state}</span>
        <a href={`/api/v1/purchases/${purchase.id}/order.pdf`} target="_blank" rel="noreferrer">
          Order sheet
        </a>
        <a href={`/api/v1/purchase-lists/${purchase.id}.csv`} download>
          CSV
        </a>
      </header>
      {purchase.trouble && (
        <p className="advice warn" role="note">
          {capital(purchase.trouble)}.{" "}
          <button
            type="button"
            className="btn btn-plain"
            onClick={() =>
              act.mutate({
                does: () =>
                  post("/purchases/{purchase_id}/ask", { path: { purchase_id: purchase.id } }),
                said: "",
              })
            }
          >
            Ask again
          </button>
        </p>
      )}
      <div
        className={style["sh-scrolls"]}
        tabIndex={0}
        role="group"
        aria-label={`Rows of ${purchase.number}`}
      >
        <table className={style["sh-table"]}>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Ordered</th>
              <th scope="col">Answer</th>
              <th scope="col">Expected</th>
              <th scope="col">Each</th>
              <th scope="col">Arrived</th>
              {going && <th scope="col">Now came</th>}
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <tr key={n}>
                <th scope="row">
                  {row.label}
                  {row.note && <span className="hint d-block">{row.note}</span>}
                </th>
                <td>{packs(row.count, row.pack)}</td>
                <td>{ANSWERS[row.state]}</td>
                <td>{row.expected_on && row.confirmed > row.arrived && day(row.expected_on)}</td>
                <td>
                  {Number(row.price) > 0 && money(row.price, currency)}
                  {row.offer && (
                    <button
                      type="button"
                      className="btn btn-plain d-block ms-auto"
                      onClick={() =>
                        act.mutate({
                          does: () =>
                            post("/purchases/{purchase_id}/rows/{row}/price", {
                              path: { purchase_id: purchase.id, row: n },
                              seen: revision,
                            }),
                          said: `The shelf has ${row.label} at ${money(row.price, currency)} now.`,
                        })
                      }
                    >
                      was {money(row.asked_price, currency)}: take the new one
                    </button>
                  )}
                </td>
                <td>
                  {row.arrived} of {row.count}
                </td>
                {going && (
                  <td>
                    {open[n] ? (
                      <Form.Control
                        id={`${id}-${n}`}
                        className={style["sh-count"]}
                        size="sm"
                        inputMode="numeric"
                        aria-label={`How many of ${row.label} came`}
                        placeholder={String(open[n])}
                        value={came[n] ?? ""}
                        onChange={(e) => setCame({ ...came, [n]: e.target.value })}
                      />
                    ) : null}
                  </td>
                )}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Told of={problem} />
      <div className={style["sh-acts"]}>
        {going && open.some((n) => n > 0) && (
          <button
            type="button"
            className="btn btn-primary"
            disabled={act.isPending}
            onClick={() =>
              some.length > 0
                ? arrive(
                    {
                      rows: some.map(([n, typed]) => ({
                        row: Number(n),
                        count: Math.trunc(Number(typed)),
                        close: false,
                      })),
                      note: "",
                    },
                    "What came is on the shelf; the rest stays open.",
                  )
                : arrive({ rows: [], note: "" }, "All that was to come is on the shelf.")
            }
          >
            {some.length > 0 ? "Book what came" : "All of it came"}
          </button>
        )}
        {going && (
          <button
            type="button"
            className="btn btn-outline-primary"
            disabled={act.isPending}
            onClick={() =>
              arrive(
                {
                  rows: rows.map((_, row) => ({ row, count: 0, close: true })),
                  note: "",
                },
                "What does not come is closed: the buying list has it again.",
              )
            }
          >
            No more of it comes
          </button>
        )}
        {(purchase.sent_by === "hand" || purchase.trouble) &&
          purchase.state === "open" &&
          rows.every((row) => row.arrived === 0) && (
            <button
              type="button"
              className="btn btn-outline-primary"
              disabled={act.isPending}
              onClick={() =>
                act.mutate({
                  does: () =>
                    del("/purchases/{purchase_id}", { path: { purchase_id: purchase.id } }).then(
                      () => null,
                    ),
                  said: `${purchase.number} is taken back.`,
                })
              }
            >
              Take it back
            </button>
          )}
        {purchase.sent_by === "hand" && (
          <details>
            <summary>The message</summary>
            <pre className={style["sh-message"]}>{purchase.message}</pre>
          </details>
        )}
      </div>
    </section>
  );
}
