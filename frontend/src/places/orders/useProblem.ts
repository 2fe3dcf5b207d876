// What is wrong with a change, as long as the order is as it was then: mended, it is said no more.
import { useState } from "react";
import { ProblemError, type Problem } from "../../api/client";

export function useProblem(error: unknown, revision: number): Problem | null {
  const [seen, setSeen] = useState({ error, revision });
  if (seen.error !== error) setSeen({ error, revision });
  return error instanceof ProblemError && seen.revision === revision ? error.problem : null;
}
