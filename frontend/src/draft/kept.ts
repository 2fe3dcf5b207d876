// What this browser keeps of a quote: the draft as typed, its undo, and what is not yet sent.
import { delMany, entries, get, update } from "idb-keyval";
import { shopNow } from "../api";
import { costsHidden } from "../parts/money";
import type { Draft, History } from "./store";

export interface Kept {
  draft: Draft;
  history: History;
  /** The document that the draft began from, as one text. */
  base: string;
  unsent: boolean;
  /** What was on its way to the server: where the server has that, the last write was ours. */
  sending?: string | undefined;
  tab?: string;
  /** When it was last kept here, ms since 1970. */
  at?: number;
}

const DAY_MS = 24 * 3600 * 1000;
/** What the server has, too, is kept to reopen quickly; what it may not have, far longer. */
const GRACE_DAYS = { sent: 30, unsent: 180 };

const tab = crypto.randomUUID();
/**
 * A draft belongs to the shop that it was opened in, whatever the address; one that is worked on
 * without its costs is kept apart from the whole one.
 */
const name = (id: number) => `draft3.${shopNow().split(".")[0]}.${id}${costsHidden ? ".bare" : ""}`;

export async function keptOf(id: number): Promise<Kept | undefined> {
  try {
    return await get<Kept>(name(id));
  } catch {
    return undefined; // a private window: the draft lives on this page only
  }
}

export async function keep(id: number, kept: Kept): Promise<void> {
  try {
    await update<Kept>(name(id), (there) => {
      // what another tab could not send yet is not written over by what is sent
      const others = there?.unsent === true && there.tab !== tab;
      return others && !kept.unsent ? there : { ...kept, tab, at: Date.now() };
    });
  } catch {
    // as above
  }
}

/** Clear the drafts that this browser has kept for long, of any shop; how many went. */
export async function clearOldDrafts(now = Date.now()): Promise<number> {
  try {
    const all = await entries<string, Kept>();
    const old = all.filter(([key, kept]) => {
      if (!String(key).startsWith("draft")) return false;
      const days = kept.unsent ? GRACE_DAYS.unsent : GRACE_DAYS.sent;
      const since = kept.at ?? (kept.unsent ? now : 0); // an older release said no date
      return now - since > days * DAY_MS;
    });
    await delMany(old.map(([key]) => key));
    return old.length;
  } catch {
    return 0; // a private window keeps nothing
  }
}

export interface Saved {
  id: number;
  revision: number;
}

/** Tabs tell each other what they saved. */
export const tabs = new BroadcastChannel("clothyard.quotes");
