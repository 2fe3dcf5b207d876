import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { api, ProblemError } from "../../api/client";
import type { Actions, DraftStore } from "../../draft";
import { openIn } from "../../draft";

/** Reads a stitch file on the server; it belongs where it was dropped, whatever is typed since. */
export function useUpload(store: DraftStore, actions: Actions) {
  const queries = useQueryClient();
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
        const kept = await api.keepDesign(file, control.signal);
        await queries.invalidateQueries({ queryKey: ["designs"] });
        actions.lineById(line.id, `${placement.id}.design.sha256`, (found) => {
          const here = found.placements.find((each) => each.id === placement.id);
          const { repeat } = here?.design ?? {};
          if (here) here.design = { sha256: kept.sha256, ...(repeat ? { repeat } : {}) };
        });
      } catch (problem) {
        if (problem instanceof ProblemError) {
          const { where, detail, remedy } = problem.problem;
          setError(`${where ? `${where}: ` : ""}${detail} ${remedy}`);
        }
      } finally {
        if (stop.current === control) setBusy(null);
      }
    },
    [store, actions, queries],
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
