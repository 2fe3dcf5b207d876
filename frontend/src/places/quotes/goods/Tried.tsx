// What trials said of blanks of these goods: the best first.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys } from "../../../api";
import { useDraft, useHouse } from "../../../draft";
import { money } from "../../../parts/format";
import { costsHidden } from "../../../parts/money";

const MOST = 3;

export function Tried() {
  const house = useHouse();
  const { line } = useDraft();
  const trials = useQuery({
    queryKey: keys.trials(),
    queryFn: () => get("/trials"),
    enabled: !costsHidden,
  });
  const here = (trials.data ?? []).filter((row) => row.goods === line.goods.class);
  if (costsHidden || here.length === 0) return null;
  return (
    <p className="hint mb-1">
      By trial:{" "}
      {here
        .slice(0, MOST)
        .map(
          (row) =>
            `${row.blank} ${row.took ? `${row.took}, ` : ""}${row.good_cost ? `${money(row.good_cost, house.price.currency)} a good one` : "none was good"} (${row.spoiled} of ${row.tried} spoiled)`,
        )
        .join("; ")}
      . <Link to="/shelf/blanks">All trials</Link>
    </p>
  );
}
