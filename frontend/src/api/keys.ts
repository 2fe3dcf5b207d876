// What the browser keeps of the server's answers: its names, and what a change makes old.
import { useQueryClient, type QueryClient } from "@tanstack/react-query";
import { useCallback } from "react";

const named =
  (name: string) =>
  (...of: unknown[]) => [name, ...of];

export const keys = {
  about: named("about"),
  aside: named("aside"),
  asks: named("asks"),
  backupPlan: named("backup-plan"),
  backups: named("backups"),
  beginning: named("beginning"),
  beside: named("beside"),
  corrections: named("corrections"),
  customer: named("customer"),
  customers: named("customers"),
  design: named("design"),
  designs: named("designs"),
  effects: named("effects"),
  faults: named("faults"),
  house: named("house"),
  lastTime: named("last-time"),
  lastVersions: named("last versions"),
  learning: named("learning"),
  log: named("log"),
  logHistory: named("log-history"),
  logRow: named("log-row"),
  machine: named("machine"),
  mail: named("mail"),
  order: named("order"),
  orders: named("orders"),
  outbox: named("outbox"),
  outlines: named("outlines"),
  pass: named("pass"),
  passes: named("passes"),
  passLog: named("pass-log"),
  path: named("path"),
  pays: named("pays"),
  plan: named("plan"),
  planLink: named("plan-link"),
  preview: named("preview"),
  price: named("price"),
  promise: named("promise"),
  purchases: named("purchases"),
  quote: named("quote"),
  quotes: named("quotes"),
  quoteShelf: named("quote-shelf"),
  run: named("run"),
  runSheet: named("run-sheet"),
  sample: named("sample"),
  sending: named("sending"),
  standards: named("standards"),
  starts: named("starts"),
  stock: named("stock"),
  stockItem: named("stock-item"),
  threaded: named("threaded"),
  toBuy: named("to-buy"),
  toLog: named("to-log"),
  today: named("today"),
  trials: named("trials"),
  versions: named("versions"),
  words: named("words"),
};

type Name = keyof typeof keys;

/** What each change makes old: asked for again where it is on the screen, else when it comes there. */
const OLD: Record<Changed, Name[]> = {
  aside: ["aside", "today"],
  asks: ["asks", "today"],
  backups: ["backups", "backupPlan"],
  customers: ["customers", "customer", "quotes"],
  designs: ["designs"],
  log: ["log", "learning", "pays", "stock", "today", "pass", "standards", "lastTime"],
  learning: ["effects", "standards", "house", "quote", "quotes", "pays"],
  order: ["orders", "plan", "today", "stock", "toBuy"],
  outbox: ["outbox", "mail"],
  plan: ["plan", "today"],
  pieces: ["order", "orders", "today"],
  planLink: ["planLink"],
  purchases: ["purchases", "toBuy", "stock", "stockItem", "orders", "order", "house"],
  quotes: ["quotes"],
  threaded: ["threaded", "pass", "runSheet", "plan", "machine", "today"],
  shelf: ["stock", "toBuy", "order", "orders", "plan", "today", "promise", "quoteShelf"],
  standards: ["standards", "house", "quote", "price", "sample", "plan", "promise", "today"],
  today: ["orders", "order"],
};

export type Changed =
  | "aside"
  | "asks"
  | "backups"
  | "customers"
  | "designs"
  | "learning"
  | "log"
  | "order"
  | "outbox"
  | "pieces"
  | "plan"
  | "planLink"
  | "purchases"
  | "quotes"
  | "shelf"
  | "standards"
  | "threaded"
  | "today";

/** A first answer that is on its way is of how it was: it is not waited for. */
async function askAgain(queries: QueryClient, queryKey: readonly unknown[]) {
  await queries.cancelQueries({
    queryKey,
    type: "active",
    fetchStatus: "fetching",
    predicate: (query) => query.state.data === undefined,
  });
  await queries.invalidateQueries({ queryKey });
}

/** What is called once something was changed: what it makes old is asked for again. */
export function useRenew(changed: Changed) {
  const queries = useQueryClient();
  return useCallback(
    () =>
      Promise.all(OLD[changed].map((name) => askAgain(queries, keys[name]()))).then(
        () => undefined,
      ),
    [queries, changed],
  );
}

/**
 * Keep what a change answered as what there is now. An answer that was asked for before, and is on
 * its way still, is of how it was: it is left aside, or it would come over this.
 */
export async function keepIn<T>(queries: QueryClient, queryKey: readonly unknown[], now: T) {
  await queries.cancelQueries({ queryKey, exact: true });
  queries.setQueryData(queryKey, now);
}

export function useKeep() {
  const queries = useQueryClient();
  return useCallback(
    <T>(queryKey: readonly unknown[], now: T) => keepIn(queries, queryKey, now),
    [queries],
  );
}
