// What was sent: each version, its papers, what changed since the one before, what came back.
import { useInfiniteQuery } from "@tanstack/react-query";
import { get, keys, type QuoteView } from "../../../api";
import { Dialog } from "../../../parts/Dialog";
import { day, money } from "../../../parts/format";
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
  const versions = useInfiniteQuery({
    queryKey: keys.versions(quote.id, quote.version),
    queryFn: ({ pageParam }) =>
      get("/quotes/{quote_id}/versions", {
        path: { quote_id: quote.id },
        query: { cursor: pageParam },
      }),
    initialPageParam: "",
    getNextPageParam: (page) => page.next,
  });
  const rows = versions.data?.pages.flatMap((page) => page.items) ?? [];
  return (
    <Dialog title={`What was sent of ${quote.number}`} size="lg" onClose={onClose}>
      {rows.map((row) => (
        <section key={row.version} aria-label={`Version ${row.version}`} className="mb-4">
          <h3 className="small-caps-head">
            v{row.version}, {day(row.sent_on)}
            {!row.unreadable &&
              `: ${money(row.unit, row.currency)} a piece, ${money(row.to_pay, row.currency)} to pay`}
          </h3>
          {row.unreadable && (
            <p className="mb-1" role="alert">
              What is kept of it is damaged; its papers may be whole. Go back to a backup.
            </p>
          )}
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
            {Object.entries(PAPERS).map(([kind, name]) => {
              const paper = row.documents.find((d) => d.kind === kind);
              if (!paper) return null;
              return (
                <li key={kind}>
                  {paper.trouble ? (
                    <span role="alert">
                      {name}: the file is {paper.trouble}. Take it out of a backup: clothyard check
                      --mend.
                    </span>
                  ) : (
                    <a href={`/api/v1/quotes/${quote.id}/versions/${row.version}/${kind}`} download>
                      {name}
                    </a>
                  )}
                </li>
              );
            })}
          </ul>
        </section>
      ))}
      {versions.hasNextPage && (
        <button
          type="button"
          className="btn btn-outline-primary"
          onClick={() => void versions.fetchNextPage()}
        >
          Earlier ones
        </button>
      )}
    </Dialog>
  );
}
