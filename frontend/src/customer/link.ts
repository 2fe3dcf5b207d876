// The customer's calls: the link's token is all there is.
import { setLocale } from "../parts/format";
import type { Schemas } from "../api";

export type QuoteForCustomer = Schemas["QuoteForCustomer"];
export type CustomerLine = Schemas["CustomerLine"];
export type CustomerPlace = Schemas["CustomerPlace"];
export type Answer = Schemas["CustomerAnswer"];
export type Proof = Schemas["ProofView"];
export type ProofSaid = Schemas["ProofSaid"];
export type Problem = Pick<Schemas["Problem"], "detail" | "remedy" | "where" | "errors" | "code">;

const AWAY: Problem = {
  detail: "The shop does not answer.",
  where: "",
  errors: [],
  code: "away",
  remedy: "Try again in a little while; nothing you typed is lost.",
};

/** In a shop's own look ahead the draft stands for what was sent: nothing can be answered. */
export const ahead = window.location.pathname.startsWith("/preview/");
/** Figures and dates are written as the shop has them. */
const inItsLocale = (view: QuoteForCustomer) => {
  setLocale(view.locale);
  return view;
};
const BASE = ahead ? "/api/v1/quotes" : "/api/v1/customer";
const of = (token: string) => (ahead ? `${token}/preview` : token);
export const paperOf = (token: string) => `${BASE}/${of(token)}/quote.pdf`;

async function call<T>(path: string, body?: unknown): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(`${BASE}/${path}`, {
      ...(body
        ? {
            method: "POST",
            body: JSON.stringify(body),
            headers: { "content-type": "application/json" },
          }
        : {}),
    });
  } catch {
    throw AWAY as unknown as Error;
  }
  const found: unknown = await answer.json();
  if (!answer.ok) throw found as Error;
  return found as T;
}

export const problemOf = (error: unknown): Problem =>
  error && typeof error === "object" && "detail" in error ? (error as Problem) : AWAY;

export const link = {
  read: (token: string) => call<QuoteForCustomer>(of(token)).then(inItsLocale),
  answer: (token: string, answer: Answer) => call<QuoteForCustomer>(`${token}/answer`, answer),
  proof: (token: string, said: ProofSaid) => call<QuoteForCustomer>(`${token}/proof`, said),
  path: (token: string, line: number, place: number) =>
    call<Schemas["DesignPath"]>(`${of(token)}/lines/${line}/places/${place}/path`),
};
