// The one way to the server: a call is typed by its address, what it says no to is a problem.
import { sayMoved, sayNewer, sayReached } from "../parts/connection";
import { costsHidden } from "../parts/money";
import createClient from "openapi-fetch";
import { OFFLINE, ProblemError } from "./problem";
import type { paths } from "./schema";
import type { Problem } from "./types";

const PATIENCE = 8; // tries, each as long after the last as the server says

/** Ask, at once as it is called; again where the server has too much to do: it says when. */
async function patiently(request: Request): Promise<Response> {
  order.set(request, (calls += 1));
  if (pages && request.method !== "GET" && !request.headers.has("X-Shop"))
    request.headers.set("X-Shop", pages);
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

const LAST = "clothyard.shop";
const remembered = () => {
  try {
    return localStorage.getItem(LAST) ?? "";
  } catch {
    return "";
  }
};

let pages = "";
let latest = "";

/**
 * The shop that answered last, and its generation: "id.generation". Where none did yet, since the
 * server is away, that which did before this page was loaded.
 */
export const shopNow = () => latest || remembered();

/** The script that this page runs, as the server names the one that it serves. */
const running = () =>
  document
    .querySelector<HTMLScriptElement>('script[type="module"][src*="/assets/"]')
    ?.src.split("/")
    .pop() ?? "";

function heardFrom(shop: string) {
  if (shop === latest) return;
  latest = shop;
  try {
    localStorage.setItem(LAST, shop);
  } catch {
    // no storage: it is known while the page is open
  }
}

/** Go on with the shop that answered last; until then a write to another is refused. */
export function goOnWithShop() {
  pages = latest;
  sayMoved(false);
}

/** Calls in the order in which they were asked: an answer that was overtaken says nothing new. */
const order = new WeakMap<Request, number>();
let calls = 0;
let heard = 0;

client.use({
  onResponse: ({ request, response }) => {
    const nth = order.get(request) ?? calls;
    if (nth < heard) return;
    heard = nth;
    heardFrom(response.headers.get("X-Shop") ?? latest);
    const served = response.headers.get("X-Build");
    if (served) sayNewer(running() !== "" && served !== running());
    pages ||= latest;
    sayMoved(latest !== pages);
  },
});

type Verb = "get" | "post" | "put" | "delete";
type Root = "/api/v1";

/** The addresses that take a verb, without their root. */
type At<V extends Verb> = {
  [P in keyof paths]: paths[P] extends Record<V, { responses: unknown }>
    ? P extends `${Root}${infer Short}`
      ? Short
      : never
    : never;
}[keyof paths];

type Asked<V extends Verb, P extends At<V>> = `${Root}${P}` extends keyof paths
  ? paths[`${Root}${P}`] extends Record<V, infer Found>
    ? Found
    : never
  : never;

/** As it is written in an address: the server refuses what it does not know. */
type Loose<T> = {
  [K in keyof T]: (T[K] extends string | undefined ? string : T[K]) | undefined;
};
type PathOf<O> = O extends { parameters: { path: infer T extends object } } ? { path: T } : object;
type QueryOf<O> = O extends { parameters: { query?: infer T } }
  ? [Exclude<T, undefined>] extends [never]
    ? object
    : { query?: Loose<Exclude<T, undefined>> }
  : object;
type BodyOf<O> = O extends { requestBody: { content: infer C } }
  ? C extends { "application/json": infer T }
    ? { body: T }
    : { file: File }
  : object;
type SeenOf<O> = O extends { parameters: { header?: infer H } }
  ? [Exclude<H, undefined>] extends [never]
    ? object
    : { /** The revision that was seen. */ seen?: number }
  : object;
type Said<V extends Verb, P extends At<V>> = PathOf<Asked<V, P>> &
  QueryOf<Asked<V, P>> &
  BodyOf<Asked<V, P>> &
  SeenOf<Asked<V, P>> & { signal?: AbortSignal; /** That it is meant for. */ shop?: string };

/** What is said may be left out where nothing of it must be. */
type More<T> = object extends T ? [said?: T] : [said: T];

type Answer<O> = O extends { responses: infer R }
  ? R extends { 200: { content: { "application/json": infer T } } }
    ? T
    : R extends { 201: { content: { "application/json": infer T } } }
      ? T
      : undefined
  : never;

interface AnySaid {
  path?: object;
  query?: object;
  body?: unknown;
  file?: File;
  seen?: number;
  signal?: AbortSignal;
  shop?: string;
}

const formOf = (file: File) => {
  const form = new FormData();
  form.append("file", file);
  return form;
};

interface Options extends AnySaid {
  /** The answer comes a document a line: its stream is handed out. */
  lines?: boolean;
}

async function asked(verb: Verb, at: string, said: Options) {
  const { path, query, body, file, seen, signal, lines, shop } = said;
  const init = {
    params: {
      path,
      query,
      ...(seen === undefined ? {} : { header: { "If-Match": `"r${seen}"` } }),
    },
    ...(body === undefined ? {} : { body }),
    ...(file ? { body: {}, bodySerializer: () => formOf(file) } : {}),
    ...(signal ? { signal } : {}),
    ...(shop ? { headers: { "X-Shop": shop } } : {}),
    ...(lines ? { headers: { Accept: "application/x-ndjson" }, parseAs: "stream" as const } : {}),
  };
  return client.request(verb, `/api/v1${at}` as never, init as never) as unknown as Promise<{
    data?: unknown;
    error?: unknown;
    response: Response;
  }>;
}

async function call(verb: Verb, at: string, said: Options = {}): Promise<unknown> {
  let found;
  try {
    found = await asked(verb, at, said);
    sayReached(true);
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") throw error;
    sayReached(false);
    throw new ProblemError(OFFLINE);
  }
  if (!found.response.ok) throw new ProblemError((found.error || OFFLINE) as Problem);
  return found.data;
}

const verb =
  <V extends Verb>(name: V) =>
  <P extends At<V>>(at: P, ...said: More<Said<V, P>>) =>
    call(name, at, said[0]) as Promise<Answer<Asked<V, P>>>;

/** Read what is at an address: `get("/orders/{order_id}", { path: { order_id } })`. */
export const get = verb("get");
export const post = verb("post");
export const put = verb("put");
export const del = verb("delete");

/** A call whose answer comes a document a line. */
export const linesOf = (name: Verb, at: string, said: AnySaid) =>
  call(name, at, { ...said, lines: true }) as Promise<ReadableStream<Uint8Array>>;

/** After a backup was gone back to by this page: it goes on with what is there now. */
export function goOnAnew() {
  pages = "";
}
