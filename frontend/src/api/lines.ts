// Answers that come a document a line: a save and its price, a sending's steps, a run's spread.
import { linesOf } from "./call";
import { OFFLINE, ProblemError } from "./problem";
import type { Problem, QuoteDocument, QuoteView, RunSpread } from "./types";

/** What a quote's estimate shows: what else could be done of one line, and workings. */
export interface Wanted {
  line: number;
  working: boolean;
}

export const FIRST: Wanted = { line: 0, working: false };
export const shownWith = ({ line, working }: Wanted) => ({
  others: line,
  working: working ? "full" : "none",
});

/** What reads a stream's documents, one a call; null at its end. */
function documentsOf<T>(stream: ReadableStream<Uint8Array>) {
  const reader = stream.pipeThrough(new TextDecoderStream() as never).getReader();
  let text = "";
  return async () => {
    while (!text.includes("\n")) {
      const { done, value } = (await reader.read()) as { done: boolean; value?: string };
      if (done) return null;
      text += value ?? "";
    }
    const end = text.indexOf("\n");
    const found = JSON.parse(text.slice(0, end)) as T;
    text = text.slice(end + 1);
    return found;
  };
}

type Whole = (view: QuoteView, all: boolean) => void;

/** Resolves as soon as it is kept and priced; `whole` hears what else could be done, too. */
export async function saveQuote(
  quote_id: number,
  document: QuoteDocument,
  revision: number,
  wanted: Wanted,
  whole: Whole,
) {
  const line = documentsOf<QuoteView>(
    await linesOf("put", "/quotes/{quote_id}", {
      path: { quote_id },
      seen: revision,
      query: shownWith(wanted),
      body: document,
    }),
  );
  const first = await line().catch(() => null);
  if (!first) throw new ProblemError(OFFLINE);
  void line().then(
    (more) => whole(more ?? first, more !== null || first.estimate === null),
    () => whole(first, false),
  );
  return first;
}

/** How far a sending is: what is done next, and how many of its steps are done. */
export interface SendStep {
  next: string;
  done: number;
  of: number;
}

interface SendLine {
  step?: SendStep;
  quote?: QuoteView;
  problem?: Problem;
}

/** Tells each step; stopped before the last, nothing was sent. What is wrong is its last line. */
export async function sendQuote(
  quote_id: number,
  revision: number,
  onStep: (step: SendStep) => void,
  signal: AbortSignal,
) {
  const line = documentsOf<SendLine>(
    await linesOf("post", "/quotes/{quote_id}/send", {
      path: { quote_id },
      seen: revision,
      signal,
    }),
  );
  for (;;) {
    const found = await line();
    if (found?.step) onStep(found.step);
    else if (found?.quote) return found.quote;
    else throw new ProblemError(found?.problem ?? OFFLINE);
  }
}

/** Simulate a run many times; told how far it is, stopped by the signal. */
export async function runSpread(
  of: "orders" | "quotes",
  id: number,
  onStep: (step: RunSpread) => void,
  signal: AbortSignal,
) {
  const line = documentsOf<RunSpread>(await linesOf("get", `/${of}/${id}/run/spread`, { signal }));
  for (let step = await line(); step; step = await line()) onStep(step);
}
