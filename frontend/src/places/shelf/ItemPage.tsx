// One item of the shelf: what is there, a move to book, who needs it, and every move so far.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { Link, useSearchParams } from "react-router";
import {
  get,
  keys,
  post,
  problemOf,
  put,
  useKeep,
  useRenew,
  useShopHouse,
  type Booking,
  type StockItem,
} from "../../api";
import { day, money, moment } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { useUnits } from "../../parts/useUnits";
import { PlaceHead } from "../workshop";
import { signedAmount, WHYS } from "./words";
import { amountText } from "../../parts/stock";
import style from "./Shelf.module.scss";

export function ItemPage() {
  const key = useSearchParams()[0].get("item") ?? "";
  const found = useQuery({
    queryKey: keys.stockItem(key),
    queryFn: () => get("/stock/item", { query: { item: key } }),
    staleTime: 0,
  });
  usePageTitle(found.data?.label ?? "Shelf");
  return (
    <main className="standards">
      <PlaceHead place="shelf" at="/shelf" />
      <Told of={found.error} page>
        <Link to="/shelf">All of the shelf</Link>
      </Told>
      {found.isPending && <Loading what="The item" />}
      {found.data && <Item key={key} item={found.data} />}
    </main>
  );
}

function Item({ item }: { item: StockItem }) {
  const { units } = useUnits();
  const house = useShopHouse().data;
  const amount = (value: string) =>
    (value.startsWith("-") ? "−" : "") + amountText(value.replace("-", ""), item.unit, units);
  const figures: [string, string][] = [
    ["On hand", amount(item.on_hand)],
    ["Promised", amount(item.promised)],
    ["Free", amount(item.free)],
    ["Short", amount(item.short)],
    ["Ordered", amount(item.coming)],
    ["Worth", money(item.value, house?.price.currency ?? "GBP")],
  ];
  return (
    <>
      <h2 className={style["sh-name"]} tabIndex={-1}>
        {item.label}
      </h2>
      <dl className={style["sh-figures"]}>
        {figures.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {item.on_hand.startsWith("-") && (
        <p className="advice warn" role="note">
          More was taken than was known to be there. Count it: the ledger then goes on from that.
        </p>
      )}
      <div className={style["sh-columns"]}>
        <div>
          <Book item={item} />
          <Settings item={item} />
          <Needed item={item} />
        </div>
        <Moves item={item} />
      </div>
    </>
  );
}

type Why = Booking["why"];
const BOOKED: [Why, string][] = [
  ["counted", "I counted"],
  ["received", "It came in"],
  ["taken", "I took"],
  ["returned", "It came back"],
  ["wasted", "It is wasted"],
];

function useItemChanged() {
  const keep = useKeep();
  const renew = useRenew("shelf");
  return async (item: StockItem) => {
    await keep(keys.stockItem(item.item), item);
    void renew();
  };
}

const fresh = () => crypto.randomUUID();

function Book({ item }: { item: StockItem }) {
  const id = useId();
  const tell = useTell();
  const changed = useItemChanged();
  const { units } = useUnits();
  const weighs = item.putups.length > 0;
  const [why, setWhy] = useState<Why>("counted");
  const [typed, setTyped] = useState("");
  const [note, setNote] = useState("");
  const [putup, setPutup] = useState(item.putups[0]?.id ?? "");
  const [typedFull, setFull] = useState<string | null>(null);
  const full = typedFull ?? String(item.putups.find((each) => each.id === putup)?.full ?? 0);
  const [key, setKey] = useState(fresh);
  const scale = useMutation({
    mutationFn: () => get("/stock/weight", { query: { item: item.item, putup } }),
    onSuccess: ({ grams }) => setTyped(grams.toFixed(1)),
  });
  const book = useMutation({
    mutationFn: (booking: Booking) => post("/stock/moves", { body: booking }),
    onSuccess: (now, booking) => {
      changed(now);
      setKey(fresh());
      setTyped("");
      setNote("");
      if (booking.note === UNDONE) return;
      const before = item.on_hand;
      const text = `${item.label}: ${WHYS[booking.why]}, now ${amountText(now.on_hand, item.unit, units)}.`;
      if (before.startsWith("-")) tell(text);
      else
        tell(text, {
          label: "Undo",
          does: () =>
            book.mutate({
              key: fresh(),
              item: item.item,
              why: "counted",
              amount: before,
              putup: "",
              full: 0,
              order: 0,
              note: UNDONE,
            }),
        });
    },
  });
  const problem = problemOf(book.error);
  const unit = why === "weighed" ? "g" : item.unit === "m" ? "m" : "pieces";
  return (
    <section aria-label="Book a move">
      <h3 className="small-caps-head">Book a move</h3>
      <form
        className={style["sh-book"]}
        onSubmit={(event) => {
          event.preventDefault();
          if (!typed.trim()) return;
          const beside = why === "weighed" ? Math.max(0, Math.trunc(Number(full)) || 0) : 0;
          book.mutate({
            key,
            item: item.item,
            why,
            amount: typed.trim(),
            putup,
            full: beside,
            order: 0,
            note,
          });
        }}
      >
        <Form.Select
          aria-label="What happened"
          value={why}
          onChange={(e) => setWhy(e.target.value as Why)}
        >
          {BOOKED.map(([value, name]) => (
            <option key={value} value={value}>
              {name}
            </option>
          ))}
          {weighs && <option value="weighed">I weighed</option>}
        </Form.Select>
        {why === "weighed" && (
          <>
            <Form.Select
              aria-label="On which put-up"
              value={putup}
              onChange={(e) => setPutup(e.target.value)}
            >
              {item.putups.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.label}, {each.tare_g} g empty
                </option>
              ))}
            </Form.Select>
            <span className={style["sh-amount"]}>
              <Form.Control
                aria-label="Full ones beside it"
                inputMode="numeric"
                value={full}
                onChange={(e) => setFull(e.target.value)}
              />
              full beside it
            </span>
          </>
        )}
        <span className={style["sh-amount"]}>
          <Form.Control
            id={`${id}-n`}
            aria-label={`How much, in ${unit}`}
            inputMode="decimal"
            autoComplete="off"
            isInvalid={!!problem}
            aria-describedby={problem ? `${id}-wrong` : undefined}
            value={typed}
            onChange={(e) => setTyped(e.target.value)}
          />
          <span aria-hidden="true">{unit}</span>
        </span>
        {why === "weighed" && item.scale && (
          <button
            type="button"
            className="btn btn-outline-primary"
            disabled={scale.isPending}
            onClick={() => scale.mutate()}
          >
            Read the scale
          </button>
        )}
        <Form.Control
          aria-label="Note"
          placeholder="note"
          value={note}
          maxLength={500}
          onChange={(e) => setNote(e.target.value)}
        />
        <button type="submit" className="btn btn-primary" disabled={book.isPending}>
          Book it
        </button>
      </form>
      <Told of={problem} id={`${id}-wrong`} />
      <p className="hint">
        {why === "weighed"
          ? `Weigh the opened one: metres = (shown − empty) × 1000 ÷ ${item.tex ?? 0} tex, and the full ones.`
          : why === "counted"
            ? "What is there now: the difference to the ledger is booked."
            : "Moves are never changed: one that was wrong is put right by a count."}
      </p>
    </section>
  );
}

const UNDONE = "taken back";

function Settings({ item }: { item: StockItem }) {
  const id = useId();
  const changed = useItemChanged();
  const house = useShopHouse().data;
  const [minimum, setMinimum] = useState(item.minimum === "0" ? "" : item.minimum);
  const [place, setPlace] = useState(item.place);
  const [supplier, setSupplier] = useState(item.bought_from);
  const save = useMutation({
    mutationFn: (to: { minimum: string; place: string; supplier: string }) =>
      put("/stock/item", {
        query: { item: item.item },
        body: { ...to, minimum: to.minimum.trim() || "0" },
      }),
    onSuccess: changed,
  });
  const problem = problemOf(save.error);
  const now = { minimum, place, supplier };
  return (
    <section aria-label="Kept of it">
      <h3 className="small-caps-head">Kept of it</h3>
      <div className={style["sh-kept"]}>
        <label htmlFor={`${id}-m`}>Buy more below</label>
        <span className={style["sh-amount"]}>
          <Form.Control
            id={`${id}-m`}
            inputMode="decimal"
            value={minimum}
            isInvalid={!!problem}
            onChange={(e) => setMinimum(e.target.value)}
            onBlur={() => save.mutate(now)}
          />
          <span>{item.unit === "m" ? "m" : "pieces"}</span>
        </span>
        <label htmlFor={`${id}-s`}>Bought from</label>
        <Form.Select
          id={`${id}-s`}
          value={supplier}
          onChange={(e) => {
            setSupplier(e.target.value);
            save.mutate({ ...now, supplier: e.target.value });
          }}
        >
          <option value="">{supplier ? "as usual" : `${item.supplier_name}, as usual`}</option>
          {Object.entries(house?.suppliers ?? {}).map(([key, row]) => (
            <option key={key} value={key}>
              {row.label}
            </option>
          ))}
        </Form.Select>
        <label htmlFor={`${id}-p`}>Lies in</label>
        <Form.Control
          id={`${id}-p`}
          value={place}
          maxLength={80}
          placeholder="drawer, box, hook"
          onChange={(e) => setPlace(e.target.value)}
          onBlur={() => save.mutate(now)}
        />
      </div>
      <Told of={problem} />
    </section>
  );
}

function Needed({ item }: { item: StockItem }) {
  const { units } = useUnits();
  if (item.needs.length === 0) return null;
  return (
    <section aria-label="Who needs it">
      <h3 className="small-caps-head">Who needs it, earlier promises first</h3>
      <table className={style["sh-table"]}>
        <thead>
          <tr>
            <th scope="col">Order</th>
            <th scope="col">Promised</th>
            <th scope="col">Needs</th>
            <th scope="col">Short</th>
          </tr>
        </thead>
        <tbody>
          {item.needs.map((row) => (
            <tr key={row.order}>
              <th scope="row">
                <Link to={`/orders/${row.order}`}>{row.number}</Link>
              </th>
              <td>{row.promised_on ? day(row.promised_on) : "no day"}</td>
              <td>{amountText(row.needed, item.unit, units)}</td>
              <td data-short={row.short === "0" ? undefined : true}>
                {row.short === "0" ? "" : amountText(row.short, item.unit, units)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function Moves({ item }: { item: StockItem }) {
  const { units } = useUnits();
  return (
    <section aria-label="Moves">
      <h3 className="small-caps-head">Moves, the last first</h3>
      {item.moves.length === 0 && <p className="empty">Nothing was booked yet.</p>}
      <ol className={style["sh-moves"]}>
        {item.moves.map((move) => (
          <li key={move.id}>
            <span className={style["sh-change"]}>
              {signedAmount(move.amount, item.unit, units)}
            </span>
            <span>
              {WHYS[move.why]}
              {move.number && (
                <>
                  {" "}
                  for <Link to={`/orders/${move.order}`}>{move.number}</Link>
                </>
              )}
              <span className="hint d-block">
                {moment(move.made_on)}
                {move.note && `: ${move.note}`}
              </span>
            </span>
          </li>
        ))}
      </ol>
      {item.more && (
        <p className="hint">
          Older ones are in the{" "}
          <a href="/api/v1/stock-documents/stock.json" download>
            document of all moves
          </a>
          .
        </p>
      )}
    </section>
  );
}
