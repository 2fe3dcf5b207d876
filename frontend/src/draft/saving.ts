// Saving: the draft goes to the server as it changes, one write after the other, and each answer
// holds the new revision and the price. Another tab that was quicker is noticed.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { useStore } from "zustand";
import {
  FIRST,
  get,
  goOnWithShop,
  isOffline,
  keys,
  ProblemError,
  saveQuote,
  shownWith,
  type QuoteView,
  type Wanted,
} from "../api";
import { turnsNow } from "../parts/useUnits";
import { Details } from "./details";
import { keep, tabs, type Saved } from "./kept";
import { documentOf, draftOf, textOf, type Draft, type DraftStore } from "./store";

const APART_MS = 80;
const RETRY_MS = 3000;

export interface Answer {
  view: QuoteView;
  wanted: Wanted;
  /** How often the units had been turned when it was asked for. */
  turns: number;
}

export type SavingState = "saved" | "saving" | "unsent" | "stale" | "refused";

export interface Saving {
  state: SavingState;
  revision: number;
  why: string;
  theirs: QuoteView | null;
  dirty: boolean;
  /** What was told last of lines that an answer tells in short. */
  details: Details;
  /** The newest answer, priced; `answer` holds what else could be done, too, and comes after it. */
  first: QuoteView;
  answer: Answer;
  keepMine: () => void;
  takeTheirs: () => void;
  /** Save at once what is not yet saved; resolves to the revision then. */
  flush: () => Promise<number>;
}

interface Sent {
  /** The draft as it was sent. */
  sent: string;
  answered: Promise<QuoteView>;
}

interface Start {
  quote: QuoteView;
  /** The revision that the draft began from, and what the server had then. */
  revision: number;
  saved: Draft;
  /** What was on its way when this page was left; it may arrive yet. */
  sending?: string | undefined;
  /** What this browser's draft began from where that is not the server's: one is to be chosen. */
  apart?: string | undefined;
}

const why = (error: unknown) => (error instanceof Error ? error.message : String(error));
/** A backup was gone back to while this page was open, or another shop is served here. */
const isMoved = (error: unknown) =>
  error instanceof ProblemError && error.problem.code === "another-shop";
/** Another was quicker, or the shop is another. */
const isStale = (error: unknown) =>
  isMoved(error) || (error instanceof ProblemError && error.problem.status === 412);

export function useSaving(store: DraftStore, start: Start, wanted: Wanted): Saving {
  const { quote } = start;
  const editable = quote.state === "draft";
  const queries = useQueryClient();
  const head = useStore(store, (state) => state.head);
  const job = useStore(store, (state) => state.job);
  const draft = textOf({ head, job });
  const [details] = useState(() => {
    const begun = new Details();
    begun.fill(quote);
    return begun;
  });
  const [answer, setAnswer] = useState<Answer>({
    view: quote,
    wanted: { line: 0, working: false },
    turns: turnsNow(),
  });
  const [first, setFirst] = useState(quote);
  const [server, setServer] = useState({ revision: start.revision, text: textOf(start.saved) });
  const latest = useRef(server);
  const apart = useRef(start.apart);
  const sending = useRef<string | undefined>(undefined);
  /** What this browser has sent, whether or not an answer came: it may arrive yet. */
  const ours = useRef(new Set(start.sending === undefined ? [] : [start.sending]));
  /** How often it was looked what the server has, or chosen: an answer of before is dropped. */
  const looks = useRef(0);
  const [forgiven, setForgiven] = useState<unknown>();
  const want = useRef(wanted);
  const begun = useRef(-Infinity);
  const going = useRef<Promise<unknown> | null>(null);
  const [theirs, setTheirs] = useState(start.apart === undefined ? null : quote);
  const [refused, setRefused] = useState<{ text: string; why: string } | null>(null);
  const known = useCallback(
    (found: QuoteView) => {
      const view = details.fill(found);
      setFirst(view);
      setAnswer({ view, wanted: { line: 0, working: false }, turns: turnsNow() });
    },
    [details],
  );
  const settled = useCallback((to: { revision: number; text: string }) => {
    latest.current = to;
    apart.current = undefined;
    setServer(to);
  }, []);
  /** Look whose later write the server has: ours from before, then go on upon it; else another's. */
  const lookAt = useCallback(
    async (error?: unknown) => {
      const turn = ++looks.current;
      const found = await get("/quotes/{quote_id}", {
        path: { quote_id: quote.id },
        query: shownWith(FIRST),
      }).catch(() => null);
      if (turn !== looks.current) return; // looked again since, or one was chosen meanwhile
      const text = found && textOf(draftOf(found));
      if (isMoved(error)) ours.current.clear(); // what was sent before is not what is there now
      if (found && text !== null && ours.current.has(text)) {
        settled({ revision: found.revision, text });
        known(found);
        setForgiven(error);
      } else setTheirs(found);
    },
    [quote.id, settled, known],
  );
  useEffect(() => {
    want.current = wanted;
  });

  const keepHere = useCallback(
    (unsent: boolean) => {
      const { head: draftHead, job: draftJob } = store.getState();
      const { pastStates: past, futureStates: future } = store.temporal.getState();
      return keep(quote.id, {
        draft: { head: draftHead, job: draftJob },
        history: { past: past as Draft[], future: future as Draft[] },
        base: apart.current ?? latest.current.text,
        unsent,
        sending: sending.current ?? start.sending,
      });
    },
    [store, quote.id, start.sending],
  );

  /** Send the draft as it is now. */
  const send = useCallback((): Sent => {
    const now = store.getState();
    const [sent, asked, turns] = [textOf(now), want.current, turnsNow()];
    begun.current = performance.now();
    sending.current = sent;
    ours.current.add(sent);
    const whole = (view: QuoteView, all: boolean) => {
      // broken off: what else could be done is asked for as if another line was opened
      const told = all ? asked : { ...asked, line: -1 };
      if (latest.current.revision <= view.revision)
        setAnswer({ view: details.fill(view), wanted: told, turns });
    };
    const { revision } = latest.current;
    const answered = saveQuote(quote.id, documentOf(now), revision, asked, whole);
    answered.catch(() => undefined); // what waits for it tells
    return { sent, answered };
  }, [store, quote.id, details]);

  const save = useMutation({
    mutationKey: ["save", quote.id],
    scope: { id: `quote.${quote.id}` }, // one after the other, in order
    networkMode: "always",
    retry: (_, error) => isOffline(error),
    retryDelay: RETRY_MS,
    mutationFn: async (begun: { first: Sent | null }) => {
      const { sent, answered } = begun.first ?? send();
      begun.first = null; // tried again, it is sent again
      try {
        void keepHere(true); // a page that is left before the answer knows its own write again
        return { view: details.fill(await answered), sent };
      } catch (error) {
        if (!isOffline(error) && !isStale(error)) setRefused({ text: sent, why: why(error) });
        throw error;
      }
    },
    onSuccess: ({ view, sent }) => {
      sending.current = undefined;
      settled({ revision: view.revision, text: sent });
      setFirst(view);
      setRefused(null);
      setTheirs(null);
      tabs.postMessage({ id: quote.id, revision: view.revision } satisfies Saved);
      void queries.invalidateQueries({ queryKey: keys.quotes(), refetchType: "none" });
    },
    onError: (error) => {
      if (isStale(error)) void lookAt(error);
    },
  });
  const { mutateAsync, isPending, failureCount } = save;
  /** What is on its way, or a save begun now where there is something to save: never two at once. */
  const saved = useCallback((): Promise<unknown> => {
    if (!going.current && textOf(store.getState()) !== latest.current.text)
      // it is on its way before the screen is drawn again
      going.current = mutateAsync({ first: send() }).finally(() => {
        going.current = null;
      });
    return going.current ?? Promise.resolve();
  }, [store, mutateAsync, send]);
  const begin = useCallback(() => void saved().catch(() => undefined), [saved]); // the state tells
  const stale = (isStale(save.error) && save.error !== forgiven) || theirs !== null;
  const dirty = editable && draft !== server.text;

  const held = !editable || stale || refused !== null;
  // the first change after a pause is sent as it is made, before the screen is drawn again
  useEffect(() => {
    if (held) return;
    return store.subscribe(() => {
      if (begun.current + APART_MS > performance.now()) return;
      begin();
    });
  }, [held, store, begin]);

  useEffect(() => {
    if (!dirty || isPending || stale || refused?.text === draft) return;
    const wait = Math.max(0, begun.current + APART_MS - performance.now());
    const timer = setTimeout(begin, wait);
    return () => clearTimeout(timer);
  }, [dirty, draft, server, isPending, stale, refused, begin]);

  useEffect(() => {
    void keepHere(dirty);
  }, [keepHere, draft, server, dirty]);

  useEffect(() => {
    const listen = (event: MessageEvent<Saved>) => {
      if (event.data.id === quote.id && event.data.revision > latest.current.revision)
        void lookAt();
    };
    tabs.addEventListener("message", listen);
    return () => tabs.removeEventListener("message", listen);
  }, [quote.id, lookAt]);

  const state: SavingState = stale
    ? "stale"
    : refused?.text === draft
      ? "refused"
      : isPending && failureCount > 0
        ? "unsent"
        : dirty
          ? "saving"
          : "saved";
  /** One is chosen: the draft begins from what the server has, and older answers are dropped. */
  const choose = (there: QuoteView) => {
    looks.current += 1;
    goOnWithShop();
    save.reset();
    settled({ revision: there.revision, text: textOf(draftOf(there)) });
  };
  /** Only once the choice is kept here: a page that is left at once does not ask again. */
  const closed = (there: QuoteView) => setTheirs((now) => (now === there ? null : now));
  return {
    state,
    revision: server.revision,
    why: refused?.why ?? "",
    theirs,
    dirty,
    first,
    answer,
    details,
    keepMine: () => {
      if (!theirs) return;
      choose(theirs);
      void keepHere(true).then(() => closed(theirs));
    },
    takeTheirs: () => {
      if (!theirs) return;
      choose(theirs);
      known(theirs);
      store.getState().replace(draftOf(theirs));
      void keepHere(false).then(() => closed(theirs));
    },
    flush: async () => {
      await going.current?.catch(() => undefined); // it may be of before what was typed last
      while (textOf(store.getState()) !== latest.current.text) await saved();
      return latest.current.revision;
    },
  };
}
