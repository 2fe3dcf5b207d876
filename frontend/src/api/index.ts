export * from "./asks";
export { del, get, goOnWithShop, post, put, shopNow } from "./call";
export { keys, useKeep, useRenew } from "./keys";
export { FIRST, runSpread, saveQuote, sendQuote, shownWith } from "./lines";
export type { SendStep, Wanted } from "./lines";
export { isOffline, problemOf, ProblemError } from "./problem";
export type * from "./types";
export { useBeginning } from "./useBeginning";
