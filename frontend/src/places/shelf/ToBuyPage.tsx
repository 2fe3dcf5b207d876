// To buy: by supplier, in whole packs, by when; and what was ordered, until it is on the shelf.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, useRef } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { del, get, keys, post, problemOf, useRenew, type BuyFrom } from "../../api";
import { counted, day, listed, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ListFiles } from "../../lists";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { Uncounted } from "../../parts/Uncounted";
import { useUnits } from "../../parts/useUnits";
import { PlaceHead } from "../workshop";
import { Ordered } from "./Ordered";
import { amountText, itemAt } from "../../parts/stock";
import style from "./Shelf.module.scss";

export function ToBuyPage() {
  usePageTitle("To buy");
  const found = useQuery({ queryKey: keys.toBuy(), queryFn: () => get("/to-buy"), staleTime: 0 });
  const uncounted = [
    ...new Map(
      found.data?.suppliers.flatMap((each) =>
        each.rows.filter((row) => row.unknown).map((row) => [row.item, row] as const),
      ),
    ).values(),
  ];
  return (
    <main className="standards">
      <PlaceHead place="shelf" at="/shelf/to-buy" />
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="What is to buy" />}
      <Uncounted
        items={uncounted.map((row) => ({ ...row, amount: row.short }))}
        next="main h1, main h2"
      />
      {found.data?.suppliers.map((supplier) => (
        <From
          key={supplier.supplier}
          from={supplier}
          currency={found.data.currency}
          sends={found.data.sends}
        />
      ))}
      {found.data?.suppliers.length === 0 && (
        <p className="empty mt-3">
          Nothing is to buy: open orders have what they need, and nothing is below its minimum.
        </p>
      )}
      {found.data && found.data.suppliers.length > 0 && (
        <p className="mt-3 mb-0">
          <ListFiles at="/api/v1/to-buy-lists/to-buy" />
        </p>
      )}
      <Ordered />
    </main>
  );
}

const NAMED = 3;

/** Who it is for: the first few orders, and how many more. */
const forWhom = (orders: string[]) => {
  if (orders.length === 0) return "its minimum";
  const more = orders.length - NAMED;
  return more > 1 ? `${orders.slice(0, NAMED).join(", ")} and ${more} more` : listed(orders);
};

interface FromProps {
  from: BuyFrom;
  currency: string;
  sends: boolean;
}

function From({ from, currency, sends }: FromProps) {
  const queries = useQueryClient();
  const renew = useRenew("purchases");
  const tell = useTell();
  const { units } = useUnits();
  const [counts, setCounts] = useState<Record<string, string>>({});
  const keyOf = (n: number) => `${from.rows[n]?.item ?? ""}|${from.rows[n]?.pack_id ?? ""}`;
  const countOf = (n: number) =>
    counts[keyOf(n)] ?? String(from.rows[n]?.unknown ? 0 : (from.rows[n]?.count ?? 0));
  const rows = from.rows.map((row, n) => ({ ...row, now: Math.trunc(Number(countOf(n))) || 0 }));
  const goods = rows.reduce((sum, row) => sum + row.now * Number(row.price), 0);
  const pressed = useRef(crypto.randomUUID()); // the same press that comes twice orders once
  const order = useMutation({
    mutationFn: (send: boolean) =>
      post("/purchases", {
        body: {
          key: pressed.current,
          supplier: from.supplier,
          send,
          rows: rows
            .filter((row) => row.now > 0)
            .map(({ item, pack_id, now }) => ({ item, pack_id, count: now })),
        },
      }),
    onSuccess: (made) => {
      pressed.current = crypto.randomUUID();
      setCounts({});
      void renew();
      const text = `${made.number} to ${made.name} is ${made.trouble ? "not answered" : "ordered"}.`;
      if (made.sent_by === "service") tell(text);
      else
        tell(text, {
          label: "Undo",
          does: () =>
            void del("/purchases/{purchase_id}", { path: { purchase_id: made.id } }).then(() =>
              queries.invalidateQueries(),
            ),
        });
    },
  });
  const problem = problemOf(order.error);
  const { fill } = from;
  const far = Number(from.delivery) > 0 && goods < Number(from.goods) + Number(from.to_free);
  const priced = rows.some((row) => Number(row.price) > 0);
  return (
    <section className={style["sh-supplier"]} aria-label={from.name}>
      <header>
        <h2>{from.name}</h2>
        {from.order_by && (
          <span className={from.late ? style["sh-late"] : "hint"}>
            {from.late ? "should have been ordered by" : "order by"} {day(from.order_by)}: it takes{" "}
            {counted(from.days, "day")}
          </span>
        )}
      </header>
      <div
        className={style["sh-scrolls"]}
        tabIndex={0}
        role="group"
        aria-label={`To buy from ${from.name}`}
      >
        <table className={style["sh-table"]}>
          <thead>
            <tr>
              <th scope="col">What</th>
              <th scope="col">Lacks</th>
              <th scope="col">For</th>
              <th scope="col">Needed by</th>
              <th scope="col">Pack</th>
              <th scope="col">How many</th>
              <th scope="col">Each</th>
              <th scope="col">Cost</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row, n) => (
              <tr key={keyOf(n)}>
                <th scope="row">
                  <Link to={itemAt(row.item)}>{row.label}</Link>
                </th>
                <td>
                  {amountText(row.wanted, row.unit, units)}
                  {row.unknown && <span className="hint d-block">not counted</span>}
                </td>
                <td>{forWhom(row.orders)}</td>
                <td>{row.needed_by && day(row.needed_by)}</td>
                <td>{row.pack}</td>
                <td>
                  <Form.Control
                    className={style["sh-count"]}
                    size="sm"
                    inputMode="numeric"
                    aria-label={`How many ${row.pack} of ${row.label}`}
                    value={countOf(n)}
                    onChange={(e) => setCounts({ ...counts, [keyOf(n)]: e.target.value })}
                  />
                </td>
                <td>{Number(row.price) > 0 ? money(row.price, currency) : "no price"}</td>
                <td>{Number(row.price) > 0 && money(row.now * Number(row.price), currency)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mb-1 mt-2">
        {priced ? `Together ${money(goods, currency)}` : "No price of it is known"}
        {Number(from.delivery) > 0
          ? `, delivery ${money(from.delivery, currency)}.`
          : ", without a charge for delivery."}{" "}
        {!fill && far && Number(from.to_free) > 0 && (
          <span className="hint">
            It would come free with {money(Number(from.to_free), currency)} more.
          </span>
        )}
        {fill && far && (
          <button
            type="button"
            className="btn btn-plain"
            onClick={() => {
              const n = from.rows.findIndex(
                (row) => row.item === fill.item && row.pack === fill.pack,
              );
              setCounts({ ...counts, [keyOf(n)]: String((rows[n]?.now ?? 0) + fill.more) });
            }}
          >
            {fill.more} more {fill.pack === "each" ? "" : `× ${fill.pack} `}of {fill.label} (
            {money(fill.cost, currency)}) make it free
          </button>
        )}
      </p>
      <Told of={problem} />
      <div className={style["sh-acts"]}>
        {sends && from.supplier !== "any" && (
          <button
            type="button"
            className="btn btn-primary"
            disabled={order.isPending || goods < 0 || rows.every((row) => row.now <= 0)}
            onClick={() => order.mutate(true)}
          >
            Order it
          </button>
        )}
        <button
          type="button"
          className={`btn ${sends && from.supplier !== "any" ? "btn-outline-primary" : "btn-primary"}`}
          disabled={order.isPending || rows.every((row) => row.now <= 0)}
          onClick={() => order.mutate(false)}
        >
          Write it down: I order by hand
        </button>
      </div>
    </section>
  );
}
