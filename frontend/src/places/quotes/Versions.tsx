// What was sent: each version, its papers, what changed since the one before, what came back.
import { useQuery } from "@tanstack/react-query";
import { api, type QuoteView } from "../../api/client";
import { Dialog } from "../../parts/Dialog";
import { day, money } from "../../parts/format";
import style from "./Versions.module.scss";

const PAPERS: Record<string, string> = {
  quote: "Customer's quote (PDF)",
  message: "As a message (text)",
  costing: "Costing sheet (PDF, internal)",
  tiers: "Price table (CSV)",
  job: "Job (JSON)",
  estimate: "Estimate (JSON)",
};

export function Versions({ quote, onClose }: { quote: QuoteView; onClose: () => void }) {
  const versions = useQuery({
    queryKey: ["versions", quote.id, quote.version],
    queryFn: () => api.versions(quote.id),
  });
  const rows = [...(versions.data ?? [])].reverse();
  return (
    <Dialog title={`What was sent of ${quote.number}`} size="lg" onClose={onClose}>
      {rows.map((row) => (
        <section key={row.version} aria-label={`Version ${row.version}`} className="mb-4">
          <h3 className="small-caps-head">
            v{row.version}, {day(row.sent_on)}: {money(row.unit, row.currency)} a piece,{" "}
            {money(row.to_pay, row.currency)} to pay
          </h3>
          {row.answer && (
            <p className="mb-1">
              {row.answer} on {day(row.answered_on)}
            </p>
          )}
          {row.changes.length > 0 && (
            <>
              <p className="mb-0 hint">Since v{row.version - 1}:</p>
              <ul className="mb-1">
                {row.changes.map((change) => (
                  <li key={change}>{change}</li>
                ))}
              </ul>
            </>
          )}
          <ul className={style["papers"]}>
            {Object.entries(PAPERS).map(
              ([kind, name]) =>
                row.documents.some((d) => d["kind"] === kind) && (
                  <li key={kind}>
                    <a href={`/api/v1/quotes/${quote.id}/versions/${row.version}/${kind}`} download>
                      {name}
                    </a>
                  </li>
                ),
            )}
          </ul>
        </section>
      ))}
    </Dialog>
  );
}
