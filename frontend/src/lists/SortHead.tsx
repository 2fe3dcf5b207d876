// A table's head that sorts by its column; pressed again it turns round.
import type { Look } from "./useLook";
import style from "./SortHead.module.scss";

interface Props {
  look: Look;
  name: string;
  /** Whether this column usually falls: the newest, the largest first. */
  falls?: boolean;
  className?: string | undefined;
  children: string;
}

export function SortHead({ look, name, falls = false, className, children }: Props) {
  const here = look.sort === name;
  const down = look.down ?? falls;
  return (
    <th
      scope="col"
      className={className}
      aria-sort={here ? (down ? "descending" : "ascending") : undefined}
    >
      <button
        type="button"
        className={`btn btn-plain ${style["sort-head"] ?? ""}`}
        onClick={() => look.sortBy(name, falls)}
      >
        {children}
        <svg viewBox="0 0 8 12" aria-hidden="true" data-way={here ? (down ? "down" : "up") : "no"}>
          <path d={down && here ? "M1 4.5 4 9l3-4.5" : "M1 7.5 4 3l3 4.5"} />
        </svg>
      </button>
    </th>
  );
}
