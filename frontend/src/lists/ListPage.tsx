// A list's page: its head, how it is looked at, its rows, more of them, and the same as a file.
import type { ReactNode } from "react";
import { Loading } from "../parts/Loading";
import { TextField } from "../parts/fields";
import { ListFiles } from "./ListFiles";
import type { List } from "./useList";
import type { Look } from "./useLook";

interface Props<Row> {
  /** What the rows are, as the loading says it: "Orders". */
  what: string;
  head: ReactNode;
  list: List<Row>;
  look?: Look;
  /** What a search finds: "number, customer, goods". */
  finds?: string;
  /** Other ways to look at it. */
  filters?: ReactNode;
  /** How many there are, in words. */
  told: ReactNode;
  /** What stands between the filters and the rows. */
  before?: ReactNode;
  /** What is said of none. */
  empty: ReactNode;
  /** Where the same list is as a file, and what it is asked by. */
  files?: { at: string; query?: Record<string, string | undefined> };
  /** What stands beside the files. */
  beside?: ReactNode;
  /** What stands below the rows, above the files. */
  below?: ReactNode;
  /** The rows: drawn for none, too, so that what stands beside them stays. */
  children: ReactNode;
}

export function ListPage<Row>(props: Props<Row>) {
  const { what, head, list, look, finds, filters, told, before, empty, files, beside } = props;
  const { rows, total, pending, error, more } = list;
  return (
    <main className="standards">
      {head}
      <div className="tools">
        {look && finds && (
          <TextField
            label="Search"
            type="search"
            value={look.search}
            placeholder={finds}
            onChange={(text) => look.set("search", text)}
          />
        )}
        {filters}
        <span className="hint mb-2" role="status">
          {total !== null && told}
        </span>
      </div>
      {before}
      {error ? <p role="alert">The shop's server does not answer. It is asked again.</p> : null}
      {pending && <Loading what={what} />}
      {total !== null && props.children}
      {more && (
        <button type="button" className="btn btn-outline-primary mt-3" onClick={more}>
          {total === null ? "More" : `${total - rows.length} more`}
        </button>
      )}
      {total !== null && rows.length === 0 && empty}
      {props.below}
      {(rows.length > 0 || beside) && (
        <p className="mt-3 mb-0 d-flex gap-3 flex-wrap">
          {rows.length > 0 && files && <ListFiles {...files} />}
          {beside}
        </p>
      )}
    </main>
  );
}
