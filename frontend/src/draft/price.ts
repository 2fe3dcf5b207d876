// The price of the draft: the save's own answer; asked for again only when another line is opened
// or a working is, or the units are turned, which changes nothing of the draft.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Estimate, type FieldProblem, type QuoteView, type Wanted } from "../api/client";
import { useTurns } from "../parts/useUnits";
import type { Saving } from "./saving";

export interface Price {
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

export function usePrice(quote: QuoteView, saving: Saving, wanted: Wanted): Price {
  const { answer, dirty, revision } = saving;
  const frozen = quote.state !== "draft";
  const turns = useTurns();
  const covers = answer.turns === turns && same(answer.wanted, wanted);
  const priced = useQuery({
    queryKey: ["price", quote.id, revision, wanted, turns],
    queryFn: () => api.quote(quote.id, wanted),
    enabled: !frozen && !dirty && answer.view.estimate !== null,
    initialData: covers ? answer.view : undefined,
    staleTime: Infinity,
    gcTime: 0,
  });
  const view = priced.data?.revision === answer.view.revision ? priced.data : answer.view;
  const [good, setGood] = useState<Estimate | null>(view.estimate);
  const wrong = view.problems.length > 0;
  // while something is wrong the last good price stays in sight
  const estimate = view.estimate ?? (wrong ? good : null);
  if (estimate !== good) setGood(estimate);
  if (frozen)
    return {
      estimate: quote.estimate,
      lacks: [],
      counted: quote.counted,
      problems: [],
      at: () => undefined,
    };
  return {
    estimate,
    lacks: view.lacks,
    counted: view.counted,
    problems: view.problems,
    at: (where) => view.problems.find((problem) => problem.where === where),
  };
}
