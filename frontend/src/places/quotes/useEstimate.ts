import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import {
  api,
  ProblemError,
  type Estimate,
  type FieldProblem,
  type Problem,
  type QuoteView,
} from "../../api/client";
import { jobOf, missing, priceable, type Draft } from "./draft";

const WAIT_MS = 80;
const RETRY_MS = 3000;

/** A value that follows at once, and then at most every so often while it goes on changing. */
function usePaced<T>(value: T, key: string): T {
  const [paced, setPaced] = useState({ key, value, at: 0 });
  useEffect(() => {
    if (key === paced.key) return;
    const wait = Math.max(0, paced.at + WAIT_MS - performance.now());
    const timer = setTimeout(() => setPaced({ key, value, at: performance.now() }), wait);
    return () => clearTimeout(timer);
  }, [key, value, paced]);
  return paced.value;
}

/**
 * The estimate of a draft: follows what is typed, keeps the last good one while something is wrong,
 * and leaves out a last line or place that is only begun.
 */
export function useEstimate(draft: Draft, working: boolean, quote: QuoteView, line: number) {
  const frozen = quote.state === "draft" ? null : quote.estimate;
  const settled = usePaced(draft, JSON.stringify(draft));
  const part = priceable(settled);
  const job = jobOf(part ?? settled);
  const lacks = missing(draft);
  const some = priceable(draft) !== null;
  const query = useQuery({
    queryKey: ["estimate", job, working, line],
    queryFn: ({ signal }) => api.estimate(job, working, line, signal),
    enabled: !frozen && part !== null,
    placeholderData: keepPreviousData,
    refetchInterval: (found) =>
      found.state.error instanceof ProblemError && found.state.error.problem.status === 0
        ? RETRY_MS
        : false,
  });
  const [good, setGood] = useState<Estimate | null>(null);
  if (query.data && query.data !== good) setGood(query.data);
  const problem: Problem | null =
    some && query.error instanceof ProblemError ? query.error.problem : null;
  const errors: FieldProblem[] = problem?.errors ?? [];
  const at = (where: string) => errors.find((error) => error.where === where);
  return { estimate: frozen ?? (some ? good : null), lacks, problem, at };
}

export type FieldError = ReturnType<ReturnType<typeof useEstimate>["at"]>;
