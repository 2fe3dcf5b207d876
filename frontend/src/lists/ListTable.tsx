// A list's table: heads that sort, a row each.
import type { ReactNode } from "react";
import { SortHead } from "./SortHead";
import type { Look } from "./useLook";

export interface Column {
  head: string;
  /** What it is sorted by. */
  sort?: string;
  /** Whether it usually falls: the newest, the largest first. */
  falls?: boolean;
  className?: string | undefined;
  /** Said, not shown. */
  quiet?: boolean;
}

interface Props<Row> {
  columns: readonly Column[];
  rows: Row[];
  row: (row: Row) => ReactNode;
  look?: Look;
  className?: string | undefined;
  /** What it is called, where it scrolls sideways by itself. */
  scrolls?: { name: string; className: string | undefined };
}

export function ListTable<Row>({ columns, rows, row, look, className, scrolls }: Props<Row>) {
  if (rows.length === 0) return null;
  const table = (
    <table className={className}>
      <thead>
        <tr>
          {columns.map(({ head, sort, falls, className: of, quiet }) =>
            sort && look ? (
              <SortHead key={head} look={look} name={sort} falls={falls ?? false} className={of}>
                {head}
              </SortHead>
            ) : (
              <th key={head} scope="col" className={of}>
                {quiet ? <span className="visually-hidden">{head}</span> : head}
              </th>
            ),
          )}
        </tr>
      </thead>
      <tbody>{rows.map(row)}</tbody>
    </table>
  );
  if (!scrolls) return table;
  return (
    <div className={scrolls.className} tabIndex={0} role="group" aria-label={scrolls.name}>
      {table}
    </div>
  );
}
