// What happens at the machine, kept in this browser until the server has it: in order, once each.
import { isOffline, post, problemOf, type PassView, type RunEvent } from "../../api";
import { wordsOf } from "../../parts/Told";

const AGAIN_MS = 2000;
const MOST_AT_ONCE = 200;

/** Where events wait: the browser's own storage, or what a test puts there. */
export interface Keeping {
  read: () => string | null;
  write: (text: string) => void;
}

/** Storage of a pass in this browser; in a private window they wait in the page alone. */
export function keepingOf(order: number, pass: string): Keeping {
  const name = `clothyard.events.${order}.${pass}`;
  return {
    read: () => {
      try {
        return localStorage.getItem(name);
      } catch {
        return null;
      }
    },
    write: (text) => {
      try {
        if (text === "[]") localStorage.removeItem(name);
        else localStorage.setItem(name, text);
      } catch {
        // no storage: what waits is in the page
      }
    },
  };
}

interface Told {
  /** What waits for the server, oldest first. */
  waiting: RunEvent[];
  /** What the server would not take, and why. */
  refused: { event: RunEvent; why: string }[];
}

type Send = (events: RunEvent[]) => Promise<PassView>;

/** Events of one pass on their way to the server. */
export class EventQueue {
  told: Told;
  private sending = false;
  private timer = 0;
  private listeners = new Set<() => void>();
  private over = false;
  private keeping: Keeping;
  private send: Send;
  private onView: (view: PassView) => void;

  constructor(keeping: Keeping, send: Send, onView: (view: PassView) => void) {
    this.keeping = keeping;
    this.send = send;
    this.onView = onView;
    this.told = { waiting: kept(keeping), refused: [] };
  }

  listen = (tell: () => void) => {
    this.listeners.add(tell);
    return () => void this.listeners.delete(tell);
  };

  now = () => this.told;

  /** Write events down; they are sent as soon as they can be. */
  add(events: RunEvent[]) {
    const fresh = events.filter((e) => !this.told.waiting.some((w) => w.id === e.id));
    if (fresh.length === 0) return;
    // another tablet or tab of this browser may have written to the same pass
    const there = kept(this.keeping).filter((k) => !this.told.waiting.some((w) => w.id === k.id));
    this.change({ ...this.told, waiting: [...this.told.waiting, ...there, ...fresh] });
    void this.flush();
  }

  /** Take back what waits still; false where the server has it already. */
  drop(id: string): boolean {
    if (this.sending || !this.told.waiting.some((event) => event.id === id)) return false;
    this.change({ ...this.told, waiting: this.told.waiting.filter((event) => event.id !== id) });
    return true;
  }

  forget(id: string) {
    this.change({ ...this.told, refused: this.told.refused.filter((r) => r.event.id !== id) });
  }

  /** Send what waits, oldest first; one that the server will not take is set aside and told. */
  async flush() {
    if (this.sending || this.over || this.told.waiting.length === 0) return;
    this.sending = true;
    window.clearTimeout(this.timer);
    const batch = this.told.waiting.slice(0, MOST_AT_ONCE);
    try {
      this.onView(await this.send(batch));
      this.sent(batch);
    } catch (error) {
      const problem = problemOf(error);
      if (problem && !isOffline(error) && problem.status < 500) await this.oneByOne(batch);
    }
    this.sending = false;
    if (this.told.waiting.length > 0)
      this.timer = window.setTimeout(() => void this.flush(), AGAIN_MS);
  }

  end() {
    this.over = true;
    window.clearTimeout(this.timer);
  }

  private async oneByOne(batch: RunEvent[]) {
    for (const event of batch)
      try {
        this.onView(await this.send([event]));
        this.sent([event]);
      } catch (error) {
        const problem = problemOf(error);
        if (!problem || isOffline(error)) return;
        const why = wordsOf(problem);
        this.sent([event]);
        this.change({ ...this.told, refused: [...this.told.refused, { event, why }] });
      }
  }

  private sent(batch: RunEvent[]) {
    const ids = new Set(batch.map((event) => event.id));
    this.change({ ...this.told, waiting: this.told.waiting.filter((e) => !ids.has(e.id)) });
  }

  private change(to: Told) {
    this.told = to;
    this.keeping.write(JSON.stringify(to.waiting));
    this.listeners.forEach((tell) => tell());
  }
}

function kept(keeping: Keeping): RunEvent[] {
  try {
    const found: unknown = JSON.parse(keeping.read() ?? "[]");
    return Array.isArray(found) ? (found as RunEvent[]) : [];
  } catch {
    return [];
  }
}

export const queueOf = (order: number, pass: string, onView: (view: PassView) => void) =>
  new EventQueue(
    keepingOf(order, pass),
    (events) =>
      post("/orders/{order_id}/passes/{pass_id}/events", {
        path: { order_id: order, pass_id: pass },
        body: { events },
      }),
    onView,
  );

let counted = 0;

/** An id that no other event has: this browser's, this moment's, this one's. */
export function eventId(): string {
  counted += 1;
  const random = Math.random().toString(36).slice(2, 10).padEnd(8, "0");
  return `b:${Date.now().toString(36)}:${random}:${counted}`;
}

/** A view with what waits laid over it: the page goes on with the server away. */
export function withWaiting(view: PassView, waiting: RunEvent[]): PassView {
  const gone = new Set(waiting.filter((e) => e.kind === "undo").map((e) => e.of));
  let now = view;
  for (const event of waiting) {
    if (event.kind === "undo") now = without(now, event.of ?? "");
    else if (!gone.has(event.id)) now = over(now, event);
  }
  const last = [...waiting].reverse().find((e) => e.kind !== "undo" && !gone.has(e.id));
  return last
    ? { ...now, last: { id: last.id, kind: last.kind, piece: last.piece ?? "", at: last.at } }
    : now;
}

/** A view without its last event, where that is what is taken back. */
function without(view: PassView, of: string): PassView {
  const last = view.last;
  if (!last || last.id !== of) return view;
  const back = { ...view, last: null };
  if (last.kind === "broke") return { ...back, breaks: view.breaks - 1 };
  if (last.kind === "bobbin") return { ...back, bobbins: view.bobbins - 1 };
  if (last.kind === "paused") return { ...back, paused: null };
  const pieces = view.pieces.map((p) =>
    p.id === last.piece ? { ...p, state: "waiting" as const, reason: "" } : p,
  );
  return { ...back, pieces };
}

function over(view: PassView, event: RunEvent): PassView {
  const state = (to: PassView["pieces"][number]["state"]) => ({
    ...view,
    pieces: view.pieces.map((p) =>
      p.id === event.piece ? { ...p, state: to, reason: event.reason ?? p.reason } : p,
    ),
  });
  switch (event.kind) {
    case "done":
      return state("done");
    case "spoiled":
      return state("spoiled");
    case "mended":
      return state("mended");
    case "begun": // of a piece that came off already it says nothing
      return view.pieces.some((p) => p.id === event.piece && p.state === "waiting")
        ? state("sewing")
        : view;
    case "broke":
      return { ...view, breaks: view.breaks + 1 };
    case "bobbin":
      return { ...view, bobbins: view.bobbins + 1 };
    case "paused":
      return { ...view, paused: event.reason ?? "" };
    case "on":
      return { ...view, paused: null };
    case "prepare":
      return { ...view, preparing: true };
    case "prepared":
      return { ...view, preparing: false };
    case "finish":
      return { ...view, finishing: true };
    case "finished":
      return { ...view, finishing: false };
    case "note":
      return { ...view, notes: [...view.notes, event.text ?? ""] };
    default:
      return view;
  }
}
