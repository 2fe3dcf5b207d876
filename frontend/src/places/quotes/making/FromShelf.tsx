// What a draft would need of the shelf, behind all that open orders need; what lacks, by when.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { get, keys } from "../../../api";
import { useBench } from "../../../draft";
import { AdviceList } from "../../../parts/AdviceList";
import { counted, day } from "../../../parts/format";
import { Uncounted } from "../../../parts/Uncounted";
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
  if (!found.data || found.data.rows.length === 0) return null;
  const uncounted = found.data.rows.filter((row) => row.unknown);
  const known = found.data.rows.filter((row) => !row.unknown);
  const lacking = known.filter((row) => row.short !== "0").length;
  return (
    <section aria-label="Does the shelf have it?" className={style["shelf-cover"]}>
      <div className="sub-head">
        <h3 tabIndex={-1}>Does the shelf have it?</h3>
      </div>
      <Uncounted
        items={uncounted.map((row) => ({ ...row, amount: row.needed }))}
        quote={quote.id}
        next="[aria-label='Does the shelf have it?'] h3"
      />
      <AdviceList advice={found.data.advice} onFix={() => undefined} />
      <details open={lacking > 0 && lacking < 4} hidden={known.length === 0}>
        <summary>
          {lacking === 0
            ? `${uncounted.length > 0 ? "" : "All "}${counted(known.length, "thing")} it needs ${known.length === 1 ? "lies" : "lie"} there`
            : `${lacking} of ${known.length} things lack`}
        </summary>
        <ul>
          {known.map((row) => (
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
