// On the shelf: what lies there, what open orders need of it, what lacks, what it is worth.
import { Choose } from "../../parts/fields";
import { ListPage, ListTable, useList, useLook, type Column } from "../../lists";
import { Link } from "react-router";
import { get, keys, type StockRow } from "../../api";
import { counted, money } from "../../parts/format";
import { usePageTitle } from "../../parts/usePageTitle";
import { useUnits } from "../../parts/useUnits";
import { PlaceHead } from "../workshop";
import { BookNew } from "./BookNew";
import { TakeDocument } from "../../parts/TakeDocument";
import { KINDS } from "./words";
import { amountText, itemAt } from "../../parts/stock";
import style from "./Shelf.module.scss";

const COLUMNS: Column[] = [
  { head: "What" },
  { head: "On hand" },
  { head: "Promised" },
  { head: "Free" },
  { head: "Short" },
  { head: "Ordered" },
  { head: "At least" },
  { head: "Worth" },
  { head: "Where" },
];
const ALL_KINDS = [["", "all kinds"], ...KINDS] as const;
const ONLY = [
  ["", "all"],
  ["short", "short for open orders"],
  ["below", "below its minimum"],
  ["below-zero", "below zero"],
] as const;

export function ShelfPage() {
  usePageTitle("On the shelf");
  const look = useLook("stock", "");
  const { search } = look;
  const [kind, only] = [look.value("kind"), look.value("only")];
  const asked = { search, kind, only };
  const list = useList({
    key: keys.stock(search, kind, only),
    page: (cursor) => get("/stock", { query: { ...asked, cursor } }),
  });
  const { value = "0", currency = "" } = list.first ?? {};
  return (
    <ListPage
      what="The shelf"
      head={<PlaceHead place="shelf" at="/shelf" />}
      look={look}
      finds="what it is, where it lies"
      filters={
        <>
          <Choose
            label="Kind"
            value={kind}
            options={ALL_KINDS}
            onChange={(to) => look.set("kind", to)}
          />
          <Choose
            label="Which"
            value={only}
            options={ONLY}
            onChange={(to) => look.set("only", to)}
          />
        </>
      }
      list={list}
      told={currency && `${counted(list.total ?? 0, "item")}, worth ${money(value, currency)}`}
      below={<BookNew />}
      files={{ at: "/api/v1/stock-lists/stock", query: asked }}
      beside={
        <>
          <a href="/api/v1/stock-documents/stock.json" download>
            All moves as a document
          </a>
          <TakeDocument />
        </>
      }
      empty={
        <p className="empty mt-3">
          {search || kind || only
            ? "Nothing on the shelf is so."
            : "Nothing was counted yet. Book what lies there: prices, orders and the buying list then know it."}
        </p>
      }
    >
      <ListTable
        scrolls={{ name: "The shelf's items", className: style["sh-scrolls"] }}
        className={style["sh-table"]}
        columns={COLUMNS}
        rows={list.rows}
        row={(row) => <Row key={row.item} row={row} currency={currency} />}
      />
    </ListPage>
  );
}

function Row({ row, currency }: { row: StockRow; currency: string }) {
  const { units } = useUnits();
  const amount = (value: string) => amountText(value, row.unit, units);
  const some = (value: string) => (value === "0" ? "" : amount(value));
  const below = row.on_hand.startsWith("-");
  return (
    <tr>
      <th scope="row">
        <Swatch colour={row.colour} />
        <Link to={itemAt(row.item)}>{row.label}</Link>
      </th>
      <td data-below={below || undefined}>
        {below ? "−" : ""}
        {amount(row.on_hand.replace("-", ""))}
      </td>
      <td>{some(row.promised)}</td>
      <td>{amount(row.free)}</td>
      <td data-short={row.short === "0" ? undefined : true}>{some(row.short)}</td>
      <td>{some(row.coming)}</td>
      <td data-short={row.below || undefined}>{some(row.minimum)}</td>
      <td>{Number(row.value) > 0 && money(row.value, currency)}</td>
      <td>{row.place}</td>
    </tr>
  );
}

/** A thread's colour, wound. */
function Swatch({ colour }: { colour: string }) {
  return colour.startsWith("#") ? (
    <span className={style["sh-swatch"]} style={{ background: colour }} aria-hidden="true" />
  ) : null;
}
