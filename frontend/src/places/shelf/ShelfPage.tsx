// On the shelf: what lies there, what open orders need of it, what lacks, what it is worth.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, type StockRow } from "../../api/client";
import { counted, money } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ListFiles } from "../../parts/SortHead";
import { useLook } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import { useUnits } from "../../parts/useUnits";
import { PlaceHead } from "../workshop";
import { BookNew } from "./BookNew";
import { TakeDocument } from "./TakeDocument";
import { amountText, itemAt, KINDS } from "./words";
import style from "./Shelf.module.scss";

export function ShelfPage() {
  usePageTitle("On the shelf");
  const id = useId();
  const { units } = useUnits();
  const look = useLook("stock", "");
  const { search } = look;
  const [kind, only] = [look.value("kind"), look.value("only")];
  const found = useQuery({
    queryKey: ["stock", search, kind, only],
    queryFn: () => api.stock({ search, kind, only, cursor: "" }),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const rows = found.data?.items ?? [];
  const amount = (row: StockRow, value: string) => amountText(value, row.unit, units);
  return (
    <main className="standards">
      <PlaceHead place="shelf" at="/shelf" />
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
          <Form.Control
            id={`${id}-s`}
            type="search"
            value={search}
            placeholder="what it is, where it lies"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        <div>
          <Form.Label htmlFor={`${id}-k`}>Kind</Form.Label>
          <Form.Select
            id={`${id}-k`}
            value={kind}
            onChange={(e) => look.set("kind", e.target.value)}
          >
            <option value="">all kinds</option>
            {KINDS.map(([key, name]) => (
              <option key={key} value={key}>
                {name}
              </option>
            ))}
          </Form.Select>
        </div>
        <div>
          <Form.Label htmlFor={`${id}-o`}>Which</Form.Label>
          <Form.Select
            id={`${id}-o`}
            value={only}
            onChange={(e) => look.set("only", e.target.value)}
          >
            <option value="">all</option>
            <option value="short">short for open orders</option>
            <option value="below">below its minimum</option>
            <option value="below-zero">below zero</option>
          </Form.Select>
        </div>
        <span className="hint mb-2" role="status">
          {found.data &&
            `${counted(found.data.total, "item")}, worth ${money(found.data.value, found.data.currency)}`}
        </span>
      </div>
      {found.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {found.isPending && <Loading what="The shelf" />}
      {rows.length > 0 && (
        <div
          className={style["sh-scrolls"]}
          tabIndex={0}
          role="group"
          aria-label="The shelf's items"
        >
          <table className={style["sh-table"]}>
            <thead>
              <tr>
                <th scope="col">What</th>
                <th scope="col">On hand</th>
                <th scope="col">Promised</th>
                <th scope="col">Free</th>
                <th scope="col">Short</th>
                <th scope="col">Ordered</th>
                <th scope="col">At least</th>
                <th scope="col">Worth</th>
                <th scope="col">Where</th>
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.item}>
                  <th scope="row">
                    <Swatch colour={row.colour} />
                    <Link to={itemAt(row.item)}>{row.label}</Link>
                  </th>
                  <td data-below={row.on_hand.startsWith("-") || undefined}>
                    {row.on_hand.startsWith("-") ? "−" : ""}
                    {amount(row, row.on_hand.replace("-", ""))}
                  </td>
                  <td>{row.promised === "0" ? "" : amount(row, row.promised)}</td>
                  <td>{amount(row, row.free)}</td>
                  <td data-short={row.short === "0" ? undefined : true}>
                    {row.short === "0" ? "" : amount(row, row.short)}
                  </td>
                  <td>{row.coming === "0" ? "" : amount(row, row.coming)}</td>
                  <td data-short={row.below || undefined}>
                    {row.minimum === "0" ? "" : amount(row, row.minimum)}
                  </td>
                  <td>{Number(row.value) > 0 && money(row.value, found.data?.currency ?? "")}</td>
                  <td>{row.place}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      {found.data && found.data.total > rows.length && (
        <p className="hint mt-2">
          The first {rows.length} of {found.data.total}: search for the others.
        </p>
      )}
      {found.data && rows.length === 0 && (
        <p className="empty mt-3">
          {search || kind || only
            ? "Nothing on the shelf is so."
            : "Nothing was counted yet. Book what lies there: prices, orders and the buying list then know it."}
        </p>
      )}
      <BookNew />
      <p className="mt-3 mb-0 d-flex gap-3 flex-wrap">
        {rows.length > 0 && (
          <ListFiles at="/api/v1/stock-lists/stock" query={{ search, kind, only }} />
        )}
        <a href="/api/v1/stock-documents/stock.json" download>
          All moves as a document
        </a>
        <TakeDocument />
      </p>
    </main>
  );
}

/** A thread's colour, wound. */
function Swatch({ colour }: { colour: string }) {
  return colour.startsWith("#") ? (
    <span className={style["sh-swatch"]} style={{ background: colour }} aria-hidden="true" />
  ) : null;
}
