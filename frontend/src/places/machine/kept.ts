// What this browser keeps of a pass: each press by itself, and the pass as it was last seen. Both
// belong to the shop, and the generation of it, that they were made in.
import type { PassView, RunEvent } from "../../api";

/** A press that the server has not, or would not take: then `why` says so. */
export interface Kept {
  event: RunEvent;
  /** When it was pressed, to keep their order. */
  n: number;
  /** The order's version that was on the screen. */
  version?: number;
  /** The shop, of that generation, that it was pressed in. */
  shop: string;
  why?: string;
}

/** The pass as it was last seen, and when. */
export interface Seen {
  at: string;
  view: PassView;
}

/** Where presses wait: the browser's own storage, or what a test puts there. */
export interface Keeping {
  /** Those of this pass, in their order: of this shop, whichever generation. */
  list: () => Kept[];
  /** Keep one; false where there is no room, or no storage. */
  put: (kept: Kept) => boolean;
  drop: (kept: Kept) => void;
  /** Say when another tab keeps or drops one. */
  listen: (tell: () => void) => () => void;
  /** Which presses a tab of this browser is sending just now. */
  sending: () => string[];
  send: (ids: string[]) => void;
}

const LONGEST_SEND_MS = 10_000;
const PRESS = "clothyard.press";

const idOf = (shop: string) => shop.split(".")[0] ?? "";

function read<T>(name: string): T | null {
  try {
    return JSON.parse(localStorage.getItem(name) ?? "null") as T | null;
  } catch {
    return null;
  }
}

function write(name: string, value: unknown): boolean {
  try {
    localStorage.setItem(name, JSON.stringify(value));
    return true;
  } catch {
    return false; // no room, or no storage
  }
}

function remove(name: string) {
  try {
    localStorage.removeItem(name);
  } catch {
    // no storage
  }
}

function names(): string[] {
  try {
    return Object.keys(localStorage);
  } catch {
    return [];
  }
}

const isKept = (found: Kept | null): found is Kept =>
  typeof found?.event?.id === "string" && typeof found.n === "number";

/** The presses of a pass in this browser, each under a name of its own, so that tabs never clash. */
export function keepingOf(shop: string, order: number, pass: string): Keeping {
  const of = `${order}.${pass}`;
  const nameOf = (k: Kept) => `${PRESS}.${k.shop}.${of}.${k.event.id}`;
  const mine = (name: string) =>
    name.startsWith(`${PRESS}.${idOf(shop)}.`) && name.includes(`.${of}.`);
  const sending = `clothyard.sending.${shop}.${of}`;
  return {
    list: () =>
      names()
        .filter(mine)
        .map((name) => read<Kept>(name))
        .filter(isKept)
        .sort((a, b) => a.n - b.n || a.event.id.localeCompare(b.event.id)),
    put: (k) => write(nameOf(k), k),
    drop: (k) => remove(nameOf(k)),
    listen: (tell) => {
      const heard = (event: StorageEvent) => {
        if (event.key === null || mine(event.key)) tell();
      };
      window.addEventListener("storage", heard);
      return () => window.removeEventListener("storage", heard);
    },
    sending: () => {
      const now = read<{ ids: string[]; until: number }>(sending);
      return now && now.until > Date.now() ? now.ids : [];
    },
    send: (ids) => {
      if (ids.length) write(sending, { ids, until: Date.now() + LONGEST_SEND_MS });
      else remove(sending);
    },
  };
}

const OLD = "It was kept by an earlier release: is it of this shop?";

/** Take over what an earlier release kept, which did not say of which shop: to be asked about. */
export function bringOld(shop: string, order: number, pass: string) {
  const name = `clothyard.events.${order}.${pass}`;
  const found = read<RunEvent[]>(name);
  const keeping = keepingOf(shop, order, pass);
  if (!Array.isArray(found)) return;
  const kept = found
    .filter((event) => typeof event?.id === "string")
    .every((event, n) => keeping.put({ event, n, shop, why: OLD }));
  if (kept) remove(name);
}

const viewName = (shop: string, order: number, pass: string) =>
  `clothyard.view.${shop}.${order}.${pass}`;

/** Keep a pass as it is now: a reload goes on from it with the server away. */
export function keepView(shop: string, view: PassView) {
  write(viewName(shop, view.order_id, view.pass_id), { at: new Date().toISOString(), view });
}

/** The pass as it was last seen here, null where it was not. */
export const viewKept = (shop: string, order: number, pass: string) =>
  read<Seen>(viewName(shop, order, pass));

/** Say when another tab has seen a newer view of a pass. */
export function onView(
  shop: string,
  order: number,
  pass: string,
  tell: (view: PassView) => void,
): () => void {
  const heard = (event: StorageEvent) => {
    const seen = event.key === viewName(shop, order, pass) ? viewKept(shop, order, pass) : null;
    if (seen) tell(seen.view);
  };
  window.addEventListener("storage", heard);
  return () => window.removeEventListener("storage", heard);
}

/** Views of passes that were last seen over a month ago are let go. */
export function letOldViewsGo(now = Date.now()) {
  for (const name of names().filter((each) => each.startsWith("clothyard.view."))) {
    const seen = read<Seen>(name);
    if (!seen || now - Date.parse(seen.at) > 30 * 24 * 3600 * 1000) remove(name);
  }
}
