// The price of the draft: the save's own answer; asked for again only when another line is opened
// or a working is, or the units are turned, which changes nothing of the draft.
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import {
  get,
  keys,
  shownWith,
  type Estimate,
  type FieldProblem,
  type QuoteView,
  type Wanted,
} from "../api";
import { useTurns } from "../parts/useUnits";
import type { Saving } from "./saving";

export interface Price {
  /** The answer it is read from. */
  view: QuoteView;
  /** The last good one; null when nothing can be priced. */
  estimate: Estimate | null;
  lacks: string[];
  /** The pieces of each line as they were read; 0 where they could not be. */
  counted: number[];
  problems: FieldProblem[];
  /** What is wrong at a place of the job. */
  at: (where: string) => FieldProblem | undefined;
}

const same = (a: Wanted, b: Wanted) => a.line === b.line && (a.working || !b.working);

/** The price that an answer tells; while something is wrong the last good one stays in sight. */
function usePriceOf(view: QuoteView, good: Estimate | null): Price {
  const estimate = view.estimate ?? (view.problems.length > 0 ? good : null);
  return useMemo(() => {
    const { lacks, counted, problems } = view;
    const at = (where: string) => problems.find((problem) => problem.where === where);
    return { view, estimate, lacks, counted, problems, at };
  }, [view, estimate]);
}

/** The whole price, and the newest, which comes before what else could be done is known. */
export function usePrice(
  quote: QuoteView,
  saving: Saving,
  wanted: Wanted,
): { whole: Price; newest: Price } {
  const { answer, first, details, dirty, revision } = saving;
  const frozen = quote.state !== "draft";
  const turns = useTurns();
  const covers = answer.turns === turns && same(answer.wanted, wanted);
  const priced = useQuery({
    queryKey: keys.price(quote.id, answer.view.revision, wanted, turns),
    queryFn: () =>
      get("/quotes/{quote_id}", { path: { quote_id: quote.id }, query: shownWith(wanted) }).then(
        details.fill,
      ),
    enabled:
      !frozen && !dirty && answer.view.revision === revision && answer.view.estimate !== null,
    initialData: covers ? answer.view : undefined,
    staleTime: Infinity,
    gcTime: 0,
  });
  const view = priced.data?.revision === answer.view.revision ? priced.data : answer.view;
  const fresher = !frozen && first.revision > view.revision;
  const last = frozen ? quote : fresher ? first : view;
  const [good, setGood] = useState(last.estimate);
  const keep = last.estimate ?? (last.problems.length > 0 ? good : null);
  if (keep !== good) setGood(keep);
  const whole = usePriceOf(frozen ? quote : view, keep);
  const newest = usePriceOf(last, keep);
  return { whole, newest: fresher ? newest : whole };
}
