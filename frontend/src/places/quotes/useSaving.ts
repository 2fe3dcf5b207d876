import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, isOffline, ProblemError, type QuoteView } from "../../api/client";
import { documentOf, draftOf, type Draft } from "./draft";
import { keep, tabs, type Saved } from "./kept";
import type { DraftTools } from "./useDraft";

const WAIT_MS = 400;
const RETRY_MS = 3000;

export type SavingState = "saved" | "saving" | "unsent" | "stale" | "refused";

interface Start {
  id: number;
  revision: number;
  saved: Draft;
  editable: boolean;
}

/** Saves the draft as it changes, one write at a time; notices when another tab was quicker. */
export function useSaving(start: Start, tools: DraftTools) {
  const { id, editable } = start;
  const queries = useQueryClient();
  const [revision, setRevision] = useState(start.revision);
  const [saved, setSaved] = useState(start.saved);
  const [state, setState] = useState<SavingState>("saved");
  const [refused, setRefused] = useState<{ draft: Draft; why: string } | null>(null);
  const [theirs, setTheirs] = useState<QuoteView | null>(null);
  const busy = useRef(false);
  const [again, setAgain] = useState(0);
  const { draft } = tools;
  const dirty = editable && JSON.stringify(documentOf(draft)) !== JSON.stringify(documentOf(saved));

  const save = useCallback(
    async (what: Draft, over: number) => {
      if (busy.current) return;
      busy.current = true;
      setState("saving");
      try {
        const view = await api.saveQuote(id, documentOf(what), over);
        setRevision(view.revision);
        setSaved(what);
        setState("saved");
        setRefused(null);
        setTheirs(null);
        tabs.postMessage({ id, revision: view.revision } satisfies Saved);
        queries.setQueryData(["quote", id], view);
        void queries.invalidateQueries({ queryKey: ["quotes"] });
      } catch (error) {
        if (error instanceof ProblemError && error.problem.status === 412) {
          setState("stale");
          setTheirs(await api.quote(id).catch(() => null));
        } else if (isOffline(error)) {
          setState("unsent");
          setTimeout(() => setAgain((n) => n + 1), RETRY_MS);
        } else {
          setState("saved"); // what is typed next is tried again
          setRefused({
            draft: what,
            why: error instanceof ProblemError ? error.message : String(error),
          });
        }
      } finally {
        busy.current = false;
        setAgain((n) => n + 1);
      }
    },
    [id, queries],
  );

  useEffect(() => {
    void keep(id, { state: tools.state, revision, unsent: dirty });
  }, [id, tools.state, revision, dirty]);

  useEffect(() => {
    if (!dirty || state === "stale" || refused?.draft === draft) return;
    const timer = setTimeout(() => void save(draft, revision), WAIT_MS);
    return () => clearTimeout(timer);
  }, [dirty, draft, revision, state, refused, save, again]);

  useEffect(() => {
    const listen = (event: MessageEvent<Saved>) => {
      if (event.data.id !== id || event.data.revision <= revision) return;
      void api.quote(id).then((view) => {
        setTheirs(view);
        setState("stale");
      });
    };
    tabs.addEventListener("message", listen);
    return () => tabs.removeEventListener("message", listen);
  }, [id, revision]);

  const keepMine = () => theirs && void save(draft, theirs.revision);
  const takeTheirs = () => {
    if (!theirs) return;
    const their = draftOf(theirs);
    setRevision(theirs.revision);
    setSaved(their);
    setState("saved");
    setTheirs(null);
    tools.set(their);
  };
  /** Save at once what is not yet saved; resolves to the revision then. */
  const flush = async (): Promise<number> => {
    if (!dirty) return revision;
    const view = await api.saveQuote(id, documentOf(draft), revision);
    setRevision(view.revision);
    setSaved(draft);
    return view.revision;
  };
  const now: SavingState =
    refused?.draft === draft ? "refused" : dirty && state === "saved" ? "saving" : state;
  return { state: now, why: refused?.why ?? "", theirs, keepMine, takeTheirs, flush };
}
