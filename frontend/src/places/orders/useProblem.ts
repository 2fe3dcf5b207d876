// What is wrong with a change, as long as the order is as it was then: mended, it is said no more.
import { useState } from "react";
import { problemOf, type Problem } from "../../api";

export function useProblem(error: unknown, revision: number): Problem | null {
  const [seen, setSeen] = useState({ error, revision });
  if (seen.error !== error) setSeen({ error, revision });
  return seen.revision === revision ? problemOf(error) : null;
}
