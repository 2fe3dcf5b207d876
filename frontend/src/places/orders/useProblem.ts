// What is wrong with a change, as long as the order is as it was then: mended, it is said no more.
import { useState } from "react";
import { problemOf, type Problem } from "../../api";

const ASKED = new Set(["goods-short", "not-sewn", "piece-spoiled"]);

/** Whether it is only asked: the seller may say that it is so all the same. */
export const isAsked = (problem: Problem | null) => ASKED.has(problem?.code ?? "");

export function useProblem(error: unknown, revision: number): Problem | null {
  const [seen, setSeen] = useState({ error, revision });
  if (seen.error !== error) setSeen({ error, revision });
  return seen.revision === revision ? problemOf(error) : null;
}
