// What a draft would need of the shelf, behind all that open orders need; what lacks, by when.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys } from "../../../api";
import { useBench } from "../../../draft";
import { AdviceList } from "../../../parts/AdviceList";
import { day } from "../../../parts/format";
import { useUnits } from "../../../parts/useUnits";
import { amountText, itemAt } from "../../../parts/stock";
import { useRested } from "../useRested";
import style from "./FromShelf.module.scss";

export function FromShelf() {
  const { units } = useUnits();
  const { quote, price } = useBench();
  const revision = useRested(price.view.revision);
  const found = useQuery({
    queryKey: keys.quoteShelf(quote.id, revision),
    queryFn: () => get("/quotes/{quote_id}/shelf", { path: { quote_id: quote.id } }),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  if (!found.data?.kept || found.data.rows.length === 0) return null;
  const lacking = found.data.rows.filter((row) => row.short !== "0").length;
  return (
    <section aria-label="Does the shelf have it?" className={style["shelf-cover"]}>
      <div className="sub-head">
        <h3>Does the shelf have it?</h3>
      </div>
      <AdviceList advice={found.data.advice} onFix={() => undefined} />
      <details open={lacking > 0 && lacking < 4}>
        <summary>
          {lacking === 0
            ? `All ${found.data.rows.length} things it needs lie there`
            : `${lacking} of ${found.data.rows.length} things lack`}
        </summary>
        <ul>
          {found.data.rows.map((row) => (
            <li key={row.item} data-short={row.short === "0" ? undefined : true}>
              <Link to={itemAt(row.item)}>{row.label}</Link>
              <span>
                {amountText(row.needed, row.unit, units)}
                {row.short !== "0" &&
                  `, ${amountText(row.short, row.unit, units)} short${row.by ? `: here by ${day(row.by)}` : ""}`}
              </span>
            </li>
          ))}
        </ul>
      </details>
    </section>
  );
}
