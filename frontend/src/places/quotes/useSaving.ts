import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { api, isOffline, ProblemError, type QuoteView } from "../../api/client";
import { documentOf, draftOf, sameDocument, type Draft } from "./draft";
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
  const [server, setServer] = useState({ revision: start.revision, draft: start.saved });
  const latest = useRef(server);
  const [state, setState] = useState<SavingState>("saved");
  const [refused, setRefused] = useState<{ draft: Draft; why: string } | null>(null);
  const [theirs, setTheirs] = useState<QuoteView | null>(null);
  const running = useRef<Promise<void> | null>(null);
  const [again, setAgain] = useState(0);
  const { draft } = tools;
  const dirty = editable && !sameDocument(draft, server.draft);

  const write = useCallback(
    async (what: Draft, over?: number) => {
      setState("saving");
      try {
        const view = await api.saveQuote(id, documentOf(what), over ?? latest.current.revision);
        latest.current = { revision: view.revision, draft: what };
        setServer(latest.current);
        setState("saved");
        setRefused(null);
        setTheirs(null);
        tabs.postMessage({ id, revision: view.revision } satisfies Saved);
        void queries.invalidateQueries({ queryKey: ["quotes"] });
      } catch (error) {
        if (error instanceof ProblemError && error.problem.status === 412) {
          setTheirs(await api.quote(id).catch(() => null));
          setState("stale");
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
      }
    },
    [id, queries],
  );

  /** Write when no other write is running; else what is then unsaved is written after it. */
  const save = useCallback(
    async (what: Draft, over?: number) => {
      if (running.current) return;
      running.current = write(what, over);
      await running.current;
      running.current = null;
      setAgain((n) => n + 1);
    },
    [write],
  );

  useEffect(() => {
    void keep(id, { state: tools.state, revision: server.revision, unsent: dirty });
  }, [id, tools.state, server.revision, dirty]);

  useEffect(() => {
    if (!dirty || state === "stale" || refused?.draft === draft) return;
    const timer = setTimeout(() => void save(draft), state === "unsent" ? RETRY_MS : WAIT_MS);
    return () => clearTimeout(timer);
  }, [dirty, draft, state, refused, save, again]);

  useEffect(() => {
    const listen = (event: MessageEvent<Saved>) => {
      if (event.data.id !== id || event.data.revision <= latest.current.revision) return;
      void api.quote(id).then(
        (view) => {
          setTheirs(view);
          setState("stale");
        },
        () => undefined, // not reached: the next save will tell
      );
    };
    tabs.addEventListener("message", listen);
    return () => tabs.removeEventListener("message", listen);
  }, [id]);

  const keepMine = () => theirs && void save(draft, theirs.revision);
  const takeTheirs = () => {
    if (!theirs) return;
    const their = draftOf(theirs);
    latest.current = { revision: theirs.revision, draft: their };
    setServer(latest.current);
    setState("saved");
    setTheirs(null);
    tools.set(their);
  };
  /** Save at once what is not yet saved; resolves to the revision then. */
  const flush = async (): Promise<number> => {
    if (running.current) await running.current;
    if (!sameDocument(draft, latest.current.draft)) await save(draft);
    return latest.current.revision;
  };
  const now: SavingState =
    refused?.draft === draft ? "refused" : dirty && state === "saved" ? "saving" : state;
  const { revision } = server;
  return { state: now, revision, why: refused?.why ?? "", theirs, keepMine, takeTheirs, flush };
}
