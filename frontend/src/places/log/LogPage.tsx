// The log: finished passes, estimated beside actual with the difference in words.
import {
  keepPreviousData,
  useInfiniteQuery,
  useMutation,
  useQueryClient,
} from "@tanstack/react-query";
import { useId } from "react";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, ProblemError, type LogView } from "../../api/client";
import { capital, counted, day } from "../../parts/format";
import { Loading } from "../../parts/Loading";
import { ListFiles } from "../../parts/SortHead";
import { useTell } from "../../parts/toasts";
import { useLook } from "../../parts/useLook";
import { usePageTitle } from "../../parts/usePageTitle";
import { useFaults } from "../machine";
import { LogHead } from "./LogHead";
import style from "./Log.module.scss";

export function LogPage() {
  usePageTitle("Log");
  const id = useId();
  const look = useLook("log", "finished");
  const { search } = look;
  const pages = useInfiniteQuery({
    queryKey: ["log", search],
    queryFn: ({ pageParam }) => api.log(search, pageParam),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const rows = pages.data?.pages.flatMap((page) => page.items) ?? [];
  const total = pages.data?.pages[0]?.total ?? 0;
  return (
    <main className="standards">
      <LogHead title="Log">
        <Link className="btn btn-outline-primary" to="/log/new">
          Write a row
        </Link>
      </LogHead>
      <div className="tools">
        <div>
          <Form.Label htmlFor={`${id}-s`}>Search</Form.Label>
          <Form.Control
            id={`${id}-s`}
            type="search"
            value={search}
            placeholder="customer, design, goods"
            onChange={(e) => look.set("search", e.target.value)}
          />
        </div>
        <ReadIn />
        <span className="hint mb-2" role="status">
          {pages.data && counted(total, "row")}
        </span>
      </div>
      {pages.error && <p role="alert">The shop's server does not answer. It is asked again.</p>}
      {pages.isPending && <Loading what="The log" />}
      {pages.data && total === 0 && (
        <p className="empty">
          Nothing is logged yet. Sew an order <i>at the machine</i> and press what happens, or write
          a row by hand: after a few jobs the shop's own figures correct its prices.
        </p>
      )}
      {rows.length > 0 && (
        <table className={style["lg-table"]}>
          <thead>
            <tr>
              <th scope="col">Finished</th>
              <th scope="col">Order</th>
              <th scope="col">What</th>
              <th scope="col">Sewn</th>
              <th scope="col">What was different</th>
            </tr>
          </thead>
          <tbody>
            {rows.map((row) => (
              <Row key={row.id} view={row} />
            ))}
          </tbody>
        </table>
      )}
      {pages.hasNextPage && (
        <button
          type="button"
          className="btn btn-outline-primary mt-2"
          onClick={() => void pages.fetchNextPage()}
        >
          More
        </button>
      )}
      {total > 0 && (
        <p className="mt-2">
          <ListFiles at="/api/v1/log-lists/log" query={{ search }} />{" "}
          <span className="hint">
            or as a{" "}
            <a href="/api/v1/log-documents/log.json" download>
              document
            </a>
          </span>
        </p>
      )}
    </main>
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
  const queries = useQueryClient();
  const tell = useTell();
  const read = useMutation({
    mutationFn: (file: File) => api.readLog(file),
    onSuccess: (found) => {
      tell(`${counted(found.added, "row")} added, ${found.there} were there.`);
      for (const key of ["log", "learning", "pays"])
        void queries.invalidateQueries({ queryKey: [key] });
    },
  });
  const problem = read.error instanceof ProblemError ? read.error.problem : null;
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
      {problem && (
        <p role="alert" className="invalid-feedback d-block">
          {capital(problem.detail)} {problem.where && `(${problem.where})`} {problem.remedy}
        </p>
      )}
    </div>
  );
}
