// A revision that has stood for a little while: what is typed is not asked about letter by letter.
import { useEffect, useState } from "react";

const REST_MS = 900;

export function useRested(revision: number): number {
  const [rested, setRested] = useState(revision);
  useEffect(() => {
    const waiting = window.setTimeout(() => setRested(revision), REST_MS);
    return () => window.clearTimeout(waiting);
  }, [revision]);
  return rested;
}
