import { useCallback, useMemo, useRef, useState } from "react";
import { post, problemOf, useRenew } from "../../../api";
import type { Actions, DraftStore } from "../../../draft";
import { openIn } from "../../../draft";
import { wordsOf } from "../../../parts/Told";

/** Reads a stitch file on the server; it belongs where it was dropped, whatever is typed since. */
export function useUpload(store: DraftStore, actions: Actions) {
  const renew = useRenew("designs");
  const [busy, setBusy] = useState<string | null>(null);
  const [error, setError] = useState<string | null>(null);
  const stop = useRef<AbortController | null>(null);
  const read = useCallback(
    async (file: File) => {
      stop.current?.abort();
      const control = new AbortController();
      stop.current = control;
      setBusy(file.name);
      setError(null);
      const { line, placement } = openIn(store.getState());
      try {
        const kept = await post("/designs", { file, signal: control.signal });
        await renew();
        actions.lineById(line.id, `${placement.id}.design.sha256`, (found) => {
          const here = found.placements.find((each) => each.id === placement.id);
          const { repeat } = here?.design ?? {};
          if (here) here.design = { sha256: kept.sha256, ...(repeat ? { repeat } : {}) };
        });
      } catch (failed) {
        const problem = problemOf(failed);
        if (problem) setError(wordsOf(problem, true));
      } finally {
        if (stop.current === control) setBusy(null);
      }
    },
    [store, actions, renew],
  );
  return useMemo(
    () => ({
      busy,
      error,
      send: (file: File) => void read(file),
      cancel: () => stop.current?.abort(),
    }),
    [busy, error, read],
  );
}
