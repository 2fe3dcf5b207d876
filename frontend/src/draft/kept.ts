// What this browser keeps of a quote: the draft as typed, its undo, and what is not yet sent.
import { get, update } from "idb-keyval";
import { shopNow } from "../api/client";
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
}

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
      return others && !kept.unsent ? there : { ...kept, tab };
    });
  } catch {
    // as above
  }
}

export interface Saved {
  id: number;
  revision: number;
}

/** Tabs tell each other what they saved. */
export const tabs = new BroadcastChannel("clothyard.quotes");
