// The log: finished passes, estimated beside actual with the difference in words.
import { ListPage, ListTable, useList, useLook, type Column } from "../../lists";
import { useMutation } from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { get, keys, post, problemOf, useRenew, type LogView } from "../../api";
import { capital, counted, day } from "../../parts/format";
import { Told } from "../../parts/Told";
import { useTell } from "../../parts/toasts";
import { usePageTitle } from "../../parts/usePageTitle";
import { useFaults } from "../../parts/useFaults";
import { LogHead } from "./LogHead";
import style from "./Log.module.scss";

const COLUMNS: Column[] = [
  { head: "Finished" },
  { head: "Order" },
  { head: "What" },
  { head: "Sewn" },
  { head: "What was different" },
];

export function LogPage() {
  usePageTitle("Log");
  const look = useLook("log", "finished");
  const { search } = look;
  const list = useList({
    key: keys.log(search),
    page: (cursor) => get("/log", { query: { search, cursor } }),
  });
  return (
    <ListPage
      what="The log"
      head={
        <LogHead title="Log">
          <Link className="btn btn-outline-primary" to="/log/new">
            Write a row
          </Link>
        </LogHead>
      }
      look={look}
      finds="customer, design, goods"
      filters={<ReadIn />}
      list={list}
      told={counted(list.total ?? 0, "row")}
      files={{ at: "/api/v1/log-lists/log", query: { search } }}
      beside={
        list.rows.length > 0 && (
          <span className="hint">
            or as a{" "}
            <a href="/api/v1/log-documents/log.json" download>
              document
            </a>
          </span>
        )
      }
      empty={
        <p className="empty">
          {search ? (
            "No row is so."
          ) : (
            <>
              Nothing is logged yet. Sew an order <i>at the machine</i> and press what happens, or
              write a row by hand: after a few jobs the shop's own figures correct its prices.
            </>
          )}
        </p>
      }
    >
      <ListTable
        className={style["lg-table"]}
        columns={COLUMNS}
        rows={list.rows}
        row={(row) => <Row key={row.id} view={row} />}
      />
    </ListPage>
  );
}

function Row({ view }: { view: LogView }) {
  const { row } = view;
  const { word } = useFaults();
  const reasons = Object.entries(row.reasons).map(([key, n]) =>
    n > 1 ? `${word(key)} × ${n}` : word(key),
  );
  return (
    <tr data-out={row.excluded || undefined}>
      <td>{day(row.finished_on)}</td>
      <td>
        <Link to={`/log/${view.id}`} aria-label={`Row of ${row.order || row.goods}, open`}>
          {row.order || "no order"}
        </Link>
        <span className="hint d-block">{row.customer}</span>
      </td>
      <td>
        {row.design || "no design"}
        <span className="hint d-block">
          {[row.goods, row.place].filter(Boolean).join(", ").replaceAll("-", " ")}
        </span>
      </td>
      <td>
        {row.sewn}
        {row.spoiled > 0 && `, ${row.spoiled} spoiled`}
        {row.mended > 0 && `, ${row.mended} mended`}
        {reasons.length > 0 && <span className="hint d-block">{reasons.join(", ")}</span>}
      </td>
      <td>
        {row.excluded ? "left out; " : ""}
        {capital(view.said.slice(0, 2).join("; ")) || "as estimated"}
        {view.wild.length > 0 && (
          <Link className={style["lg-ask"]} to={`/log/${view.id}`}>
            Was it so? It is left out until you say.
          </Link>
        )}
      </td>
    </tr>
  );
}

/** A log from elsewhere: a document, or a table as it is written here. */
function ReadIn() {
  const id = useId();
  const renew = useRenew("log");
  const tell = useTell();
  const read = useMutation({
    mutationFn: (file: File) => post("/log-documents", { file }),
    onSuccess: (found) => {
      tell(`${counted(found.added, "row")} added, ${found.there} were there.`);
      void renew();
    },
  });
  const problem = problemOf(read.error);
  return (
    <div>
      <Form.Label htmlFor={id}>Read a log in</Form.Label>
      <Form.Control
        id={id}
        type="file"
        accept=".csv,.xlsx,.json"
        isInvalid={problem !== null}
        onChange={(e) => {
          const input = e.target as HTMLInputElement;
          const file = input.files?.[0];
          if (file) read.mutate(file, { onSettled: () => (input.value = "") });
        }}
      />
      <Told of={problem} placed />
    </div>
  );
}
