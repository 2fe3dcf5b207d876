// By when: the likely and the safe day, behind all that is promised; and what is too tight.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api } from "../../api/client";
import { useBench, useHead } from "../../draft";
import { AdviceList } from "../../parts/AdviceList";
import { counted, day } from "../../parts/format";
import { useRested } from "./useRested";

export function Promised() {
  const { quote, price, actions } = useBench();
  const due = useHead().due_on;
  const revision = useRested(price.view.revision);
  const found = useQuery({
    queryKey: ["promise", quote.id, revision],
    queryFn: () => api.promise(quote.id),
    placeholderData: keepPreviousData,
    staleTime: 0,
  });
  const promise = found.data;
  if (!promise || (!promise.likely && promise.advice.length === 0)) return null;
  return (
    <section aria-label="By when?">
      <div className="sub-head">
        <h3>By when?</h3>
      </div>
      {promise.likely && (
        <p className="mb-1">
          Likely <b>{day(promise.likely)}</b>, safely <b>{day(promise.safe)}</b>, behind{" "}
          <Link to="/orders/plan">{counted(promise.orders, "open order")}</Link>
          {promise.waits_until && `; what lacks is here by ${day(promise.waits_until)}`}.{" "}
          {due !== promise.safe && promise.safe && (
            <button
              type="button"
              className="btn btn-plain"
              onClick={() => actions.head({ due_on: promise.safe })}
            >
              Promise {day(promise.safe)}
            </button>
          )}
        </p>
      )}
      <AdviceList advice={promise.advice} onFix={() => undefined} />
    </section>
  );
}
