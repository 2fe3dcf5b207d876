// The one way to the server: typed calls, and problems in the server's own words.
import { sayMoved, sayReached } from "../parts/connection";
import { setLocale } from "../parts/format";
import { costsHidden } from "../parts/money";
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Estimate = Schemas["Estimate"];
export type EstimateLine = Schemas["EstimateLine"];
export type PieceCost = Schemas["PieceCost"];
export type Minute = Schemas["Minute"];
export type Advice = Schemas["Advice"];
export type Method = Schemas["Method"];
export type Working = Schemas["Working"];
export type Tier = Schemas["Tier"];
export type OrderRow = Schemas["OrderRow"];
export type OrderView = Schemas["OrderView"];
export type OrderDocument = Schemas["OrderDocument"];
export type PieceRow = Schemas["PieceRow"];
export type PiecesChange = Schemas["PiecesChange"];
export type RunSheet = Schemas["RunSheet"];
export type PlanDocument = Schemas["PlanDocument"];
export type PlanOrder = Schemas["PlanOrder"];
export type PlanPin = Schemas["PlanPin"];
export type WayOut = Schemas["WayOut"];
export type TodayRow = Schemas["TodayRow"];
export type TodayPress = Schemas["TodayPress"];
export type RunDocument = Schemas["RunDocument"];
export type RunSpread = Schemas["SpreadStep"];
export type PassView = Schemas["PassView"];
export type PassPiece = Schemas["PassPiece"];
export type RunEvent = Schemas["EventIn"];
export type MachineNow = Schemas["MachineNow"];
export type MachineState = Schemas["MachineState"];
export type LogRow = Schemas["LogRow-Output"];
export type LogView = Schemas["LogView"];
export type Factor = Schemas["FactorView"];
export type PaysView = Schemas["PaysView"];
export type PaysRow = Schemas["PaysRow"];
export type StockRow = Schemas["StockRow"];
export type StockItem = Schemas["ItemView"];
export type Booking = Schemas["Booking"];
export type BuyFrom = Schemas["BuyFrom"];
export type Purchase = Schemas["PurchaseView"];
export type Trial = Schemas["TrialView"];
export type House = Schemas["House"];
export type KeptDesign = Schemas["KeptDesign"];
export type Supplied = Schemas["Supplied"];
export type Place = Schemas["WherePlaced"];
export type DesignPath = Schemas["DesignPath"];
export type Standard = Schemas["StandardView"];
export type QuoteView = Schemas["QuoteView"];
export type QuoteRow = Schemas["QuoteRow"];
export type QuotePage = Schemas["QuotePage"];
export type QuoteDocument = Schemas["QuoteDocument"];
export type VersionView = Schemas["VersionView"];
export type CustomerRow = Schemas["CustomerRow"];
export type CustomerView = Schemas["CustomerView"];
export type CustomerDocument = Schemas["CustomerDocument"];
export type AgreedPrice = Schemas["AgreedPrice"];
export type Contact = Schemas["Contact"];
export type Problem = Schemas["Problem"];
export type FieldProblem = Schemas["FieldTold"];

/** What a quote's estimate shows: what else could be done of one line, and workings. */
export interface Wanted {
  line: number;
  working: boolean;
}

const query = ({ line, working }: Wanted) => ({
  others: line,
  working: working ? ("full" as const) : ("none" as const),
});
const FIRST: Wanted = { line: 0, working: false };

const PATIENCE = 8; // tries, each as long after the last as the server says

/** Ask again where the server has too much to do at once: it says when. */
async function patiently(request: Request): Promise<Response> {
  for (let tried = 1; ; tried += 1) {
    const answer = await fetch(request.clone());
    if (answer.status !== 429 || tried === PATIENCE) return answer;
    const after = Number(answer.headers.get("Retry-After") ?? 1);
    await new Promise((go) => window.setTimeout(go, after * 1000));
  }
}

const client = createClient<paths>({
  fetch: patiently,
  baseUrl: window.location.origin,
  ...(costsHidden ? { headers: { "X-Costs": "hidden" } } : {}),
});

let pages = "";
let latest = "";

/** The shop that answered last, and its generation: "id.generation". */
export const shopNow = () => latest;

/** Go on with the shop that answered last; until then a write to another is refused. */
export function goOnWithShop() {
  pages = latest;
  sayMoved(false);
}

client.use({
  onRequest: ({ request }) => {
    if (pages && request.method !== "GET") request.headers.set("X-Shop", pages);
    return request;
  },
  onResponse: ({ response }) => {
    latest = response.headers.get("X-Shop") ?? latest;
    pages ||= latest;
    sayMoved(latest !== pages);
  },
});

/** An answer that says no: what happened, where, and what to do. */
export class ProblemError extends Error {
  problem: Problem;
  constructor(problem: Problem) {
    super(problem.detail);
    this.problem = problem;
  }
}

export const isOffline = (error: unknown) =>
  error instanceof ProblemError && error.problem.status === 0;

const OFFLINE: Problem = {
  type: "about:blank",
  title: "Not reached",
  status: 0,
  code: "offline",
  detail: "The shop's server does not answer.",
  where: "",
  remedy: "What you typed is kept here; it is sent again as soon as the server is back.",
  kept: "",
  errors: [],
  documents: {},
};

interface Answered<T> {
  data?: T;
  error?: unknown;
}

/** What the server answers, or that it is not reached. */
async function reached<T>(call: Promise<Answered<T>>): Promise<Answered<T>> {
  try {
    const found = await call;
    sayReached(true);
    return found;
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    sayReached(false);
    throw new ProblemError(OFFLINE);
  }
}

/** A call that is answered with nothing but that it is done. */
async function done(call: Promise<Answered<unknown>>): Promise<void> {
  const { error } = await reached(call);
  if (error !== undefined) throw new ProblemError(error as Problem);
}

async function unpack<T>(call: Promise<Answered<T>>): Promise<T> {
  const found = await reached(call);
  if (found.data === undefined) throw new ProblemError((found.error as Problem) ?? OFFLINE);
  return found.data;
}

type Whole = (view: QuoteView, all: boolean) => void;

/** What reads an answer that comes a document a line; null at its end. */
function linesOf<T>(stream: ReadableStream<Uint8Array>) {
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

/** Follow a sending to its end; what is wrong on the way is its last line. */
async function sentBy(stream: ReadableStream<Uint8Array>, onStep: (step: SendStep) => void) {
  const line = linesOf<SendLine>(stream);
  for (;;) {
    const found = await line();
    if (found?.step) onStep(found.step);
    else if (found?.quote) return found.quote;
    else throw new ProblemError(found?.problem ?? OFFLINE);
  }
}

/** The first of the quotes that come a line each; `whole` hears the last, or that it broke off. */
async function firstOf(stream: ReadableStream<Uint8Array>, whole: Whole) {
  const line = linesOf<QuoteView>(stream);
  const first = await line().catch(() => null);
  if (!first) throw new ProblemError(OFFLINE);
  void line().then(
    (more) => whole(more ?? first, more !== null || first.estimate === null),
    () => whole(first, false),
  );
  return first;
}

/** Which quotes are listed; `down` turns a sort round. */
export interface QuotesAsked {
  search?: string;
  state?: string;
  sort?: string;
  down?: boolean | undefined;
  customer?: number;
  cursor?: string;
}

const passAt = (order_id: number, pass_id: string) => ({ params: { path: { order_id, pass_id } } });
const keyed = (key: string) => ({ params: { query: { key } } });
const formOf = (file: File) => () => {
  const form = new FormData();
  form.append("file", file);
  return form;
};
const customerAt = (customer_id: number) => ({ params: { path: { customer_id } } });

export const api = {
  about: () => unpack(client.GET("/api/v1/about")),
  house: () =>
    unpack(client.GET("/api/v1/house")).then((house) => {
      setLocale(house.shop.locale ?? "en-GB");
      return house;
    }),
  designs: (search: string) =>
    unpack(client.GET("/api/v1/designs", { params: { query: { search } } })),
  design: (sha256: string) =>
    unpack(client.GET("/api/v1/designs/{sha256}", { params: { path: { sha256 } } })),
  designOutlines: (sha256: string) =>
    unpack(client.GET("/api/v1/designs/{sha256}/outlines", { params: { path: { sha256 } } })),
  orders: (query: {
    search: string;
    sort: string;
    down: boolean | undefined;
    state: string;
    cursor: string;
  }) => unpack(client.GET("/api/v1/orders", { params: { query: query as never } })),
  order: (order_id: number) =>
    unpack(client.GET("/api/v1/orders/{order_id}", { params: { path: { order_id } } })),
  changePieces: (order_id: number, change: PiecesChange) =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/pieces", {
        params: { path: { order_id } },
        body: change,
      }),
    ),
  tickProof: (order_id: number, by: string) =>
    unpack(
      client.PUT("/api/v1/orders/{order_id}/proof", {
        params: { path: { order_id } },
        body: { by },
      }),
    ),
  untickProof: (order_id: number) =>
    unpack(client.DELETE("/api/v1/orders/{order_id}/proof", { params: { path: { order_id } } })),
  corrections: (order_id: number) =>
    unpack(client.GET("/api/v1/orders/{order_id}/corrections", { params: { path: { order_id } } })),
  takeCorrections: (order_id: number, price: "agreed" | "new") =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/corrections", {
        params: { path: { order_id } },
        body: { price },
      }),
    ),
  preview: (quote_id: number) =>
    unpack(client.GET("/api/v1/quotes/{quote_id}/preview", { params: { path: { quote_id } } })),
  previewPath: (quote_id: number, line: number, place: number) =>
    unpack(
      client.GET("/api/v1/quotes/{quote_id}/preview/lines/{line}/places/{place}/path", {
        params: { path: { quote_id, line, place } },
      }),
    ),
  runSheet: (order_id: number) =>
    unpack(client.GET("/api/v1/orders/{order_id}/run-sheet", { params: { path: { order_id } } })),
  plan: () => unpack(client.GET("/api/v1/plan")),
  planSeen: () => done(client.PUT("/api/v1/plan/seen")),
  pinOrder: (order_id: number, pin: PlanPin) =>
    unpack(
      client.PUT("/api/v1/orders/{order_id}/pin", { params: { path: { order_id } }, body: pin }),
    ),
  planLink: () => unpack(client.GET("/api/v1/plan/link")),
  makePlanLink: () => unpack(client.POST("/api/v1/plan/link")),
  withdrawPlanLink: () => done(client.DELETE("/api/v1/plan/link")),
  calendarDays: (file: File) =>
    unpack(
      client.POST("/api/v1/calendar-days", {
        body: { file: file as unknown as string },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  closeDays: (days: string[]) => unpack(client.POST("/api/v1/closed-days", { body: { days } })),
  today: () => unpack(client.GET("/api/v1/today")),
  pressToday: (pressed: Schemas["Pressed"]) =>
    unpack(client.POST("/api/v1/today", { body: pressed })),
  promise: (quote_id: number) =>
    unpack(client.GET("/api/v1/quotes/{quote_id}/promise", { params: { path: { quote_id } } })),
  run: (of: "orders" | "quotes", id: number) =>
    of === "orders"
      ? unpack(client.GET("/api/v1/orders/{order_id}/run", { params: { path: { order_id: id } } }))
      : unpack(client.GET("/api/v1/quotes/{quote_id}/run", { params: { path: { quote_id: id } } })),
  /** Simulate a run many times; told how far it is, stopped by the signal. */
  runSpread: async (
    of: "orders" | "quotes",
    id: number,
    onStep: (step: RunSpread) => void,
    signal: AbortSignal,
  ) => {
    const answer = await fetch(`/api/v1/${of}/${id}/run/spread`, { signal });
    const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
    let rest = "";
    for (;;) {
      const part = await reader?.read();
      if (!part || part.done) return;
      const lines = (rest + part.value).split("\n");
      rest = lines.pop() ?? "";
      for (const line of lines) if (line) onStep(JSON.parse(line) as RunSpread);
    }
  },
  quoteShelf: (quote_id: number) =>
    unpack(client.GET("/api/v1/quotes/{quote_id}/shelf", { params: { path: { quote_id } } })),
  takeDocument: (file: File) =>
    unpack(
      client.POST("/api/v1/documents", {
        body: { file: file as unknown as string },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  faults: () => unpack(client.GET("/api/v1/faults")),
  passes: (order_id: number) =>
    unpack(client.GET("/api/v1/orders/{order_id}/passes", { params: { path: { order_id } } })),
  pass: (order_id: number, pass_id: string) =>
    unpack(client.GET("/api/v1/orders/{order_id}/passes/{pass_id}", passAt(order_id, pass_id))),
  writeEvents: (order_id: number, pass_id: string, events: RunEvent[]) =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/passes/{pass_id}/events", {
        ...passAt(order_id, pass_id),
        body: { events },
      }),
    ),
  machine: (order_id: number, pass_id: string) =>
    unpack(
      client.GET("/api/v1/orders/{order_id}/passes/{pass_id}/machine", passAt(order_id, pass_id)),
    ),
  sendDesign: (order_id: number, pass_id: string) =>
    unpack(
      client.POST(
        "/api/v1/orders/{order_id}/passes/{pass_id}/machine/design",
        passAt(order_id, pass_id),
      ),
    ),
  startPiece: (order_id: number, pass_id: string, piece: string, attempt: number) =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/passes/{pass_id}/machine/start", {
        ...passAt(order_id, pass_id),
        body: { piece, attempt },
      }),
    ),
  pressMachine: (order_id: number, pass_id: string, what: "go" | "stop" | "bobbin" | "clear") =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/passes/{pass_id}/machine/press/{what}", {
        params: { path: { order_id, pass_id, what } },
      }),
    ),
  weighCone: (needle: number | null) =>
    unpack(client.POST("/api/v1/scale/weigh", { body: { needle } })),
  keepPhoto: (order_id: number, file: File) =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/photos", {
        params: { path: { order_id } },
        body: { file: file as unknown as string },
        bodySerializer: formOf(file),
      }),
    ),
  passLog: (order_id: number, pass_id: string) =>
    unpack(client.GET("/api/v1/orders/{order_id}/passes/{pass_id}/log", passAt(order_id, pass_id))),
  logPass: (order_id: number, pass_id: string, row: LogRow) =>
    unpack(
      client.POST("/api/v1/orders/{order_id}/passes/{pass_id}/log", {
        ...passAt(order_id, pass_id),
        body: row,
      }),
    ),
  toLog: (order_id: number) =>
    unpack(client.GET("/api/v1/orders/{order_id}/to-log", { params: { path: { order_id } } })),
  log: (search: string, cursor: string) =>
    unpack(client.GET("/api/v1/log", { params: { query: { search, cursor } } })),
  logRow: (row_id: number) =>
    unpack(client.GET("/api/v1/log/{row_id}", { params: { path: { row_id } } })),
  logHistory: (row_id: number) =>
    unpack(client.GET("/api/v1/log/{row_id}/history", { params: { path: { row_id } } })),
  writeLog: (order_id: number, row: LogRow) =>
    unpack(client.POST("/api/v1/log", { body: { order_id, row } })),
  changeLog: (row_id: number, row: LogRow, revision: number) =>
    unpack(
      client.PUT("/api/v1/log/{row_id}", {
        params: { path: { row_id }, header: { "If-Match": `"r${revision}"` } },
        body: row,
      }),
    ),
  removeLog: (row_id: number) =>
    done(client.DELETE("/api/v1/log/{row_id}", { params: { path: { row_id } } })),
  readLog: (file: File) =>
    unpack(
      client.POST("/api/v1/log-documents", {
        body: { file: file as unknown as string },
        bodySerializer: formOf(file),
      }),
    ),
  learning: () => unpack(client.GET("/api/v1/learning")),
  effects: (key: string, value: number | undefined) =>
    unpack(client.GET("/api/v1/learning/effects", { params: { query: { key, value } } })),
  takeFactor: (key: string) => unpack(client.POST("/api/v1/learning/taken", keyed(key))),
  undoFactor: (key: string) => unpack(client.DELETE("/api/v1/learning/taken", keyed(key))),
  moveByItself: (key: string, on: boolean) =>
    unpack(client.PUT("/api/v1/learning/by-itself", { ...keyed(key), body: { on } })),
  pays: (by: PaysView["by"]) => unpack(client.GET("/api/v1/pays", { params: { query: { by } } })),
  lastTime: (query: { customer: string; design: string; goods: string; place: string }) =>
    unpack(client.GET("/api/v1/last-time", { params: { query } })),
  stock: (query: { search: string; kind: string; only: string; cursor: string }) =>
    unpack(client.GET("/api/v1/stock", { params: { query: query as never } })),
  stockItem: (item: string) =>
    unpack(client.GET("/api/v1/stock/item", { params: { query: { item } } })),
  settleItem: (item: string, settings: Schemas["ItemSettings"]) =>
    unpack(client.PUT("/api/v1/stock/item", { params: { query: { item } }, body: settings })),
  bookMove: (booking: Booking) => unpack(client.POST("/api/v1/stock/moves", { body: booking })),
  weigh: (item: string, putup: string) =>
    unpack(client.GET("/api/v1/stock/weight", { params: { query: { item, putup } } })),
  toBuy: () => unpack(client.GET("/api/v1/to-buy")),
  purchases: (state: "" | "open", cursor = "") =>
    unpack(client.GET("/api/v1/purchases", { params: { query: { state, cursor } } })),
  makePurchase: (body: Schemas["NewPurchase"]) =>
    unpack(client.POST("/api/v1/purchases", { body })),
  takeBackPurchase: (purchase_id: number) =>
    done(client.DELETE("/api/v1/purchases/{purchase_id}", { params: { path: { purchase_id } } })),
  askAgain: (purchase_id: number) =>
    unpack(
      client.POST("/api/v1/purchases/{purchase_id}/ask", { params: { path: { purchase_id } } }),
    ),
  arrive: (purchase_id: number, body: Schemas["Arrival"], revision: number) =>
    unpack(
      client.POST("/api/v1/purchases/{purchase_id}/arrivals", {
        params: { path: { purchase_id }, header: { "If-Match": `"r${revision}"` } },
        body,
      }),
    ),
  takePrice: (purchase_id: number, row: number, revision: number) =>
    unpack(
      client.POST("/api/v1/purchases/{purchase_id}/rows/{row}/price", {
        params: { path: { purchase_id, row }, header: { "If-Match": `"r${revision}"` } },
      }),
    ),
  saveOrder: (order_id: number, document: OrderDocument, revision: number) =>
    unpack(
      client.PUT("/api/v1/orders/{order_id}", {
        params: { path: { order_id }, header: { "If-Match": `"r${revision}"` } },
        body: document,
      }),
    ),
  trials: () => unpack(client.GET("/api/v1/trials")),
  addTrial: (trial: Schemas["Trial"]) => unpack(client.POST("/api/v1/trials", { body: trial })),
  removeTrial: (trial_id: string) =>
    unpack(client.DELETE("/api/v1/trials/{trial_id}", { params: { path: { trial_id } } })),
  starts: () => unpack(client.GET("/api/v1/starts")),
  startLine: (start_id: string, asked: Partial<Schemas["StartAsked"]>) =>
    unpack(
      client.POST("/api/v1/starts/{start_id}", {
        params: { path: { start_id } },
        body: asked as Schemas["StartAsked"],
      }),
    ),
  designPath: (sha256: string) =>
    unpack(client.GET("/api/v1/designs/{sha256}/path", { params: { path: { sha256 } } })),
  words: (text: string, height_mm?: string) =>
    unpack(client.GET("/api/v1/words", { params: { query: { text, height_mm } } })),
  keepDesign: (file: File, signal: AbortSignal) =>
    unpack(
      client.POST("/api/v1/designs", {
        body: { file: file as unknown as string },
        signal,
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  // the job is sent as typed: the server says what is wrong with it, field by field
  // what a screen without costs does not know of it is taken from the quote
  estimate: (job: unknown, others: number, quote?: number) =>
    unpack(
      client.POST("/api/v1/estimates", {
        params: { query: { others, ...(quote ? { quote } : {}) } },
        body: job as never,
      }),
    ),
  quotes: (query: QuotesAsked) =>
    unpack(client.GET("/api/v1/quotes", { params: { query: query as never } })),
  quote: (quote_id: number, wanted = FIRST) =>
    unpack(
      client.GET("/api/v1/quotes/{quote_id}", {
        params: { path: { quote_id }, query: query(wanted) },
      }),
    ),
  newQuote: (document: Partial<QuoteDocument>) =>
    unpack(client.POST("/api/v1/quotes", { body: document as QuoteDocument })),
  /** Resolves as soon as it is kept and priced; `whole` hears what else could be done, too. */
  saveQuote: async (
    quote_id: number,
    document: QuoteDocument,
    revision: number,
    wanted: Wanted,
    whole: Whole,
  ) => {
    const stream = await unpack<unknown>(
      client.PUT("/api/v1/quotes/{quote_id}", {
        params: {
          path: { quote_id },
          header: { "If-Match": `"r${revision}"` },
          query: query(wanted),
        },
        headers: { Accept: "application/x-ndjson" },
        body: document,
        parseAs: "stream",
      }),
    );
    return firstOf(stream as ReadableStream<Uint8Array>, whole);
  },
  copyQuote: (quote_id: number, pieces?: number) =>
    unpack(
      client.POST("/api/v1/quotes/{quote_id}/copy", {
        params: { path: { quote_id }, query: { pieces } },
      }),
    ),
  deleteQuote: (quote_id: number) =>
    unpack(client.DELETE("/api/v1/quotes/{quote_id}", { params: { path: { quote_id } } })),
  restoreQuote: (quote_id: number) =>
    unpack(client.POST("/api/v1/quotes/{quote_id}/restore", { params: { path: { quote_id } } })),
  /** Tells each step; stopped before the last, nothing was sent. */
  sendQuote: async (
    quote_id: number,
    revision: number,
    onStep: (step: SendStep) => void,
    signal: AbortSignal,
  ) => {
    const stream = await unpack<unknown>(
      client.POST("/api/v1/quotes/{quote_id}/send", {
        params: { path: { quote_id }, header: { "If-Match": `"r${revision}"` } },
        headers: { Accept: "application/x-ndjson" },
        parseAs: "stream",
        signal,
      }),
    );
    return sentBy(stream as ReadableStream<Uint8Array>, onStep);
  },
  answerQuote: (quote_id: number, revision: number, answer: "accepted" | "declined") =>
    unpack(
      client.POST("/api/v1/quotes/{quote_id}/answer", {
        params: { path: { quote_id }, header: { "If-Match": `"r${revision}"` } },
        body: { answer },
      }),
    ),
  takeAnswerBack: (quote_id: number, revision: number) =>
    unpack(
      client.DELETE("/api/v1/quotes/{quote_id}/answer", {
        params: { path: { quote_id }, header: { "If-Match": `"r${revision}"` } },
      }),
    ),
  beforeSending: (quote_id: number) =>
    unpack(client.GET("/api/v1/quotes/{quote_id}/sending", { params: { path: { quote_id } } })),
  reviseQuote: (quote_id: number, revision: number) =>
    unpack(
      client.POST("/api/v1/quotes/{quote_id}/revise", {
        params: { path: { quote_id }, header: { "If-Match": `"r${revision}"` } },
      }),
    ),
  makeLink: (quote_id: number) =>
    unpack(client.POST("/api/v1/quotes/{quote_id}/link", { params: { path: { quote_id } } })),
  takeLinkBack: (quote_id: number) =>
    done(client.DELETE("/api/v1/quotes/{quote_id}/link", { params: { path: { quote_id } } })),
  versions: (quote_id: number, cursor: string) =>
    unpack(
      client.GET("/api/v1/quotes/{quote_id}/versions", {
        params: { path: { quote_id }, query: { cursor } },
      }),
    ),
  versionEstimate: (quote_id: number, version: number) =>
    unpack(
      client.GET("/api/v1/quotes/{quote_id}/versions/{version}/estimate", {
        params: { path: { quote_id, version } },
      }),
    ),
  rates: (year: Schemas["Year"]) => unpack(client.POST("/api/v1/rates", { body: year })),
  customers: (query: {
    search?: string;
    sort?: string;
    down?: boolean | undefined;
    past?: boolean;
    cursor?: string;
    limit?: number;
  }) => unpack(client.GET("/api/v1/customers", { params: { query: query as never } })),
  customer: (id: number) => unpack(client.GET("/api/v1/customers/{customer_id}", customerAt(id))),
  newCustomer: (document: Partial<CustomerDocument> & { name: string }) =>
    unpack(client.POST("/api/v1/customers", { body: document as CustomerDocument })),
  saveCustomer: (customer_id: number, document: CustomerDocument, revision: number) =>
    unpack(
      client.PUT("/api/v1/customers/{customer_id}", {
        params: { path: { customer_id }, header: { "If-Match": `"r${revision}"` } },
        body: document,
      }),
    ),
  eraseCustomer: (id: number) =>
    unpack(client.DELETE("/api/v1/customers/{customer_id}", customerAt(id))),
  eraseNames: (id: number) =>
    unpack(client.DELETE("/api/v1/customers/{customer_id}/names", customerAt(id))),
  joinCustomers: (id: number, other: number) =>
    unpack(
      client.POST("/api/v1/customers/{customer_id}/join", { ...customerAt(id), body: { other } }),
    ),
  customerPairs: () => unpack(client.GET("/api/v1/customer-pairs")),
  customerList: (text: string, keep: boolean) =>
    unpack(client.POST("/api/v1/customer-lists", { body: { text, keep } })),
  nameList: (text: string, colours: string[]) =>
    unpack(client.POST("/api/v1/name-lists", { body: { text, colours } })),
  /** A dropped table, .csv or .xlsx, as text. */
  sheetText: (file: File) =>
    unpack(
      client.POST("/api/v1/sheets", {
        body: { file: file as unknown as string },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ).then(({ text }) => text),
  outbox: (query: {
    search: string;
    sort: string;
    down: boolean | undefined;
    waits: boolean;
    cursor: string;
  }) => unpack(client.GET("/api/v1/outbox", { params: { query: query as never } })),
  postMail: (mail_id: string) =>
    unpack(client.POST("/api/v1/outbox/{mail_id}/post", { params: { path: { mail_id } } })),
  mail: (mail_id: string) =>
    unpack(client.GET("/api/v1/outbox/{mail_id}", { params: { path: { mail_id } } })),
  backups: () => unpack(client.GET("/api/v1/backups")),
  makeBackup: () => unpack(client.POST("/api/v1/backups")),
  beginning: () => unpack(client.GET("/api/v1/beginning")),
  changeBeginning: (now: Schemas["Beginning"]) =>
    unpack(client.PUT("/api/v1/beginning", { body: now })),
  backupPlan: () => unpack(client.GET("/api/v1/backup-plan")),
  changeBackupPlan: (plan: Schemas["BackupPlan"]) =>
    unpack(client.PUT("/api/v1/backup-plan", { body: plan })),
  takeBackup: (file: File) =>
    unpack(
      client.POST("/api/v1/backups/taken", {
        body: { file: file as unknown as string },
        bodySerializer: () => {
          const form = new FormData();
          form.append("file", file);
          return form;
        },
      }),
    ),
  restoreBackup: (name: string) =>
    unpack(client.POST("/api/v1/backups/{name}/restore", { params: { path: { name } } })).then(
      (backup) => {
        pages = ""; // this page asked for it: it goes on with what is there now
        return backup;
      },
    ),
  standards: async () => {
    const found: Standard[] = [];
    for (let cursor: string | null = ""; cursor !== null;) {
      const page: Schemas["StandardsPage"] = await unpack(
        client.GET("/api/v1/standards", { params: { query: { cursor } } }),
      );
      found.push(...page.items);
      cursor = page.next;
    }
    return found;
  },
  changeStandard: (key: string, value: unknown) =>
    unpack(client.PUT("/api/v1/standards/{key}", { params: { path: { key } }, body: { value } })),
  resetStandard: (key: string) =>
    unpack(client.DELETE("/api/v1/standards/{key}", { params: { path: { key } } })),
  addRow: (section: string, like: string, label: string, values: Record<string, unknown> = {}) =>
    unpack(client.POST("/api/v1/standard-rows", { body: { section, like, label, values } })),
  removeRow: (section: string, row: string) =>
    unpack(
      client.DELETE("/api/v1/standard-rows/{section}/{row}", {
        params: { path: { section, row } },
      }),
    ),
  priceList: (text: string, keep: boolean) =>
    unpack(client.POST("/api/v1/price-lists", { body: { text, keep } })),
  resetStandards: () => unpack(client.DELETE("/api/v1/standards")),
};
